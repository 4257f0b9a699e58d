"""The Workshop bench: parts and the sheet, templates at true scale."""

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

__all__ = ["WorkshopBench"]

PAGES = ("Parts", "Templates", "Cut list", "Assembly", "Take apart")


class WorkshopBench(PagedBench):
    """A page for each thing that leaves the program; only the one in view is refreshed."""

    title = "Workshop"
    export_wanted = pyqtSignal(str)

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
        for made in (self.cut_page, self.assembly_page, self.apart_page):
            self.pictures.addWidget(made)
        self.facts.hide()  # the pages say theirs themselves

    def refresh(self, evaluation: Evaluation) -> None:
        """Show an evaluation on the page in view."""
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
            self.heading.setText("Rods, posts and tubes to saw")
        else:
            shown = self.assembly_page if page == 3 else self.apart_page
            shown.refresh(evaluation)
            self.heading.setText(shown.heading())
