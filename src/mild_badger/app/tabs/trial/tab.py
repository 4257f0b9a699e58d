"""The tab Trial: the list and its readings, the tachometer, what was built, the log."""

from functools import cached_property

from mild_badger.app.session import Session
from mild_badger.app.tabs.tab import PagedTab
from mild_badger.app.tabs.trial.built_page import BuiltPage
from mild_badger.app.tabs.trial.list_page import ListPage
from mild_badger.app.tabs.trial.log_page import LogPage
from mild_badger.app.tabs.trial.tacho_page import TachoPage
from mild_badger.app.theme.style import Theme
from mild_badger.core.evaluate import Evaluation
from mild_badger.text.pages import PAGES as TAB_PAGES

__all__ = ["TrialTab"]

PAGES = TAB_PAGES["Trial"]


class TrialTab(PagedTab):
    """A page for each step on the tab; only the one in view is refreshed."""

    title = "Trial"

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, PAGES)

    @cached_property
    def list_page(self) -> ListPage:
        return self.added(ListPage(self.session, self.theme))

    @cached_property
    def tacho_page(self) -> TachoPage:
        page = self.added(TachoPage(self.session, self.theme))
        page.pulses_wanted.connect(lambda: self.pulses_wanted.emit(page.use_file))
        return page

    @cached_property
    def built_page(self) -> BuiltPage:
        return self.added(BuiltPage(self.session, self.theme))

    @cached_property
    def log_page(self) -> LogPage:
        page = self.added(LogPage(self.session, self.theme))
        page.save_wanted.connect(self.save_wanted)
        return page

    def refresh(self, evaluation: Evaluation) -> None:
        """Show an evaluation on the page in view."""
        self.turn_to_page()
        page = self.page_in_view
        page.refresh(evaluation)
        self.heading.setText(page.heading())
        self.facts.setText(page.facts())
