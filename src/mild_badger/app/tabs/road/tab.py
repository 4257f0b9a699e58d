"""The tab Road: speeds, pull and hills, losses, motors, a test drive, versions."""

from functools import cached_property

from mild_badger.app.session import Session
from mild_badger.app.tabs.road.drive_page import TestDrivePage
from mild_badger.app.tabs.road.losses_page import LossesPage
from mild_badger.app.tabs.road.motors_page import MotorsPage
from mild_badger.app.tabs.road.pull_page import PullPage
from mild_badger.app.tabs.road.speed_page import SpeedPage
from mild_badger.app.tabs.road.versions_page import VersionsPage
from mild_badger.app.tabs.tab import PagedTab
from mild_badger.app.theme.style import Theme
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.message import say
from mild_badger.text.pages import PAGES as TAB_PAGES

__all__ = ["RoadTab"]

PAGES = TAB_PAGES["Road"]
HEADS = {
    "pull": say("tab-road.what-every-gear-pulls"),
    "losses": say("tab-road.where-the-power-goes"),
    "motors": say("tab-road.motors"),
    "drive": say("tab-road.test-drive"),
    "versions": say("tab-road.versions"),
}


class RoadTab(PagedTab):
    """A page for each question; only the one in view is refreshed."""

    title = "Road"

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, PAGES)
        theme.changed.connect(self._show_in_other_colors)

    @cached_property
    def speed_page(self) -> SpeedPage:
        return self.added(SpeedPage(self.session, self.theme))

    @cached_property
    def pull_page(self) -> PullPage:
        return self.added(PullPage(self.session, self.theme))

    @cached_property
    def losses_page(self) -> LossesPage:
        return self.added(LossesPage(self.session, self.theme))

    @cached_property
    def motors_page(self) -> MotorsPage:
        return self.added(MotorsPage(self.session, self.theme))

    @cached_property
    def drive_page(self) -> TestDrivePage:
        page = self.added(TestDrivePage(self.session, self.theme))
        page.save_wanted.connect(self.save_wanted)
        return page

    @cached_property
    def versions_page(self) -> VersionsPage:
        return self.added(VersionsPage(self.session, self.theme))

    def _show_in_other_colors(self) -> None:
        self.bring_up_to_date(again=True)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show an evaluation on the page in view."""
        key = self.turn_to_page()
        page = self.page_in_view
        page.refresh(evaluation)
        self.heading.setText(HEADS[key] if key in HEADS else self.speed_page.heading())
        self.facts.setText(page.facts())
