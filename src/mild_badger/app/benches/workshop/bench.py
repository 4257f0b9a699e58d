"""The Workshop bench: parts and the sheet, templates at true scale."""

from typing import TYPE_CHECKING

from PyQt6.QtCore import pyqtSignal

from mild_badger.app.benches.bench import PagedBench
from mild_badger.app.benches.workshop.apart_page import ApartPage
from mild_badger.app.benches.workshop.assembly_page import AssemblyPage
from mild_badger.app.benches.workshop.cut_page import CutPage
from mild_badger.app.benches.workshop.parts_page import PartsPage
from mild_badger.app.benches.workshop.templates_page import TemplatesPage
from mild_badger.app.session import Session
from mild_badger.app.theme.style import Theme
from mild_badger.core.evaluate import Evaluation

if TYPE_CHECKING:
    from mild_badger.app.benches.workshop.book_page import BookPage

__all__ = ["WorkshopBench"]

PAGES = ("Parts", "Templates", "Cut list", "Assembly", "Take apart", "Plan book")
BOOK = 5


class WorkshopBench(PagedBench):
    """A page for each thing that leaves the program; only the one in view is refreshed."""

    title = "Workshop"
    export_wanted = pyqtSignal(str)
    search_wanted = pyqtSignal(object, object, str)
    bytes_wanted = pyqtSignal(str, bytes)
    files_wanted = pyqtSignal(object)

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, PAGES)
        self.parts_page = PartsPage(session, theme)
        self.templates_page = TemplatesPage(session, theme)
        self.cut_page = CutPage(session, theme)
        for page in (self.parts_page, self.templates_page):
            page.export_wanted.connect(self.export_wanted)
            self.pictures.addWidget(page)
        self.assembly_page = AssemblyPage(session, theme)
        self.apart_page = ApartPage(session, theme)
        self.book_page: BookPage | None = None
        for made in (self.cut_page, self.assembly_page, self.apart_page):
            self.pictures.addWidget(made)
        self.cut_page.export_wanted.connect(self.export_wanted)
        self.templates_page.search_wanted.connect(self.search_wanted)
        self.templates_page.files_wanted.connect(self.files_wanted)
        self.apart_page.search_wanted.connect(self.search_wanted)
        self.apart_page.bytes_wanted.connect(self.bytes_wanted)
        self.facts.hide()  # the pages say theirs themselves

    def refresh(self, evaluation: Evaluation) -> None:
        """Show an evaluation on the page in view."""
        if self.pages.currentIndex() == BOOK:
            self.book()
        page = self.turn_to_page()
        if page == 0:
            short, total = evaluation.kinds_short, evaluation.part_count
            self.heading.setText(
                f"{total} parts, "
                + (f"{short} kind{'s' * (short > 1)} short" if short else "all in stock")
            )
            self.parts_page.refresh(evaluation)
        elif page == 1:
            self.templates_page.refresh(evaluation)
            self.heading.setText("Templates at true scale")
        elif page == 2:
            self.cut_page.refresh(evaluation)
            self.heading.setText("Rods to saw, boards to cut")
        else:
            shown: AssemblyPage | ApartPage | BookPage = (
                self.assembly_page if page == 3 else self.apart_page if page == 4 else self.book()
            )
            shown.refresh(evaluation)
            self.heading.setText(shown.heading())

    def book(self) -> "BookPage":
        """Give the plan book's page; it is made when it is first wanted."""
        if self.book_page is None:
            # The PDF libraries take as long to load as all the rest of the bench.
            from mild_badger.app.benches.workshop.book_page import BookPage  # noqa: PLC0415

            self.book_page = BookPage(self.session, self.theme)
            self.book_page.search_wanted.connect(self.search_wanted)
            self.book_page.save_wanted.connect(self.bytes_wanted)
            self.pictures.addWidget(self.book_page)
        return self.book_page
