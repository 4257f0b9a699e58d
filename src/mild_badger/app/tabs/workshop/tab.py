"""The tab Workshop: parts and the sheet, templates at true scale."""

from functools import cached_property
from typing import TYPE_CHECKING

from mild_badger.app.session import Session
from mild_badger.app.tabs.tab import PagedTab
from mild_badger.app.tabs.workshop.apart_page import ApartPage
from mild_badger.app.tabs.workshop.assembly_page import AssemblyPage
from mild_badger.app.tabs.workshop.cut_page import CutPage
from mild_badger.app.tabs.workshop.parts_page import PartsPage
from mild_badger.app.tabs.workshop.templates_page import TemplatesPage
from mild_badger.app.theme.style import Theme
from mild_badger.core.evaluate import Evaluation

if TYPE_CHECKING:
    from mild_badger.app.tabs.workshop.book_page import BookPage
from mild_badger.text.pages import PAGES as TAB_PAGES

__all__ = ["WorkshopTab"]

PAGES = TAB_PAGES["Workshop"]


class WorkshopTab(PagedTab):
    """A page for each thing that leaves the program; only the one in view is refreshed."""

    title = "Workshop"

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, PAGES)
        self.facts.hide()  # the pages say theirs themselves

    @cached_property
    def parts_page(self) -> PartsPage:
        page = self.added(PartsPage(self.session, self.theme))
        page.export_wanted.connect(self.export_wanted)
        return page

    @cached_property
    def templates_page(self) -> TemplatesPage:
        page = self.added(TemplatesPage(self.session, self.theme))
        page.export_wanted.connect(self.export_wanted)
        page.search_wanted.connect(self.search_wanted)
        page.files_wanted.connect(self.files_wanted)
        return page

    @cached_property
    def cut_page(self) -> CutPage:
        page = self.added(CutPage(self.session, self.theme))
        page.export_wanted.connect(self.export_wanted)
        return page

    @cached_property
    def assembly_page(self) -> AssemblyPage:
        return self.added(AssemblyPage(self.session, self.theme))

    @cached_property
    def apart_page(self) -> ApartPage:
        page = self.added(ApartPage(self.session, self.theme))
        page.search_wanted.connect(self.search_wanted)
        page.bytes_wanted.connect(self.bytes_wanted)
        return page

    @cached_property
    def book_page(self) -> "BookPage":
        # The PDF libraries take as long to load as all the rest of the tab.
        from mild_badger.app.tabs.workshop.book_page import BookPage  # noqa: PLC0415

        page = self.added(BookPage(self.session, self.theme))
        page.search_wanted.connect(self.search_wanted)
        page.save_wanted.connect(self.bytes_wanted)
        return page

    def refresh(self, evaluation: Evaluation) -> None:
        """Show an evaluation on the page in view."""
        self.turn_to_page()
        page = self.page_in_view
        page.refresh(evaluation)
        self.heading.setText(page.heading())
