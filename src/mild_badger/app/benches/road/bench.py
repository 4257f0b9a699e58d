"""The Road bench: speeds, pull and hills, losses, motors, a test drive, versions."""

from PyQt6.QtWidgets import QWidget

from mild_badger.app.benches.bench import PagedBench
from mild_badger.app.benches.road.drive_page import DrivePage
from mild_badger.app.benches.road.losses_page import LossesPage
from mild_badger.app.benches.road.motors_page import MotorsPage
from mild_badger.app.benches.road.pull_page import PullPage
from mild_badger.app.benches.road.speed_page import SpeedPage
from mild_badger.app.benches.road.versions_page import VersionsPage
from mild_badger.app.session import Session
from mild_badger.app.theme.style import Theme
from mild_badger.core.evaluate import Evaluation

__all__ = ["RoadBench"]

PAGES = ("Speed", "Pull", "Losses", "Motors", "Test drive", "Versions")
SPEED = 0
HEADS = (
    "", "What every gear pulls", "Where the power goes", "Motors", "Test drive", "Versions",
)  # fmt: skip


MAKERS = (SpeedPage, PullPage, LossesPage, MotorsPage, DrivePage, VersionsPage)


class RoadBench(PagedBench):
    """A page for each question; only the one in view is refreshed."""

    title = "Road"

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, PAGES, MAKERS)
        theme.changed.connect(lambda: self.bring_up_to_date(again=True))

    @property
    def speed_page(self) -> SpeedPage:
        return self.page_of(SpeedPage)

    @property
    def pull_page(self) -> PullPage:
        return self.page_of(PullPage)

    @property
    def losses_page(self) -> LossesPage:
        return self.page_of(LossesPage)

    @property
    def motors_page(self) -> MotorsPage:
        return self.page_of(MotorsPage)

    @property
    def drive_page(self) -> DrivePage:
        return self.page_of(DrivePage)

    @property
    def versions_page(self) -> VersionsPage:
        return self.page_of(VersionsPage)

    def page(self, number: int) -> QWidget:
        """Give a page by its number; what the test drive wants saved goes to the window."""
        fresh = number not in self._made
        page = super().page(number)
        if fresh and isinstance(page, DrivePage):
            page.save_wanted.connect(self.save_wanted)
        return page

    def refresh(self, evaluation: Evaluation) -> None:
        """Show an evaluation on the page in view."""
        number = self.turn_to_page()
        if number == SPEED:
            self.speed_page.refresh(evaluation)
            self.heading.setText(self.speed_page.heading(evaluation))
            self.facts.setText(self.speed_page.facts(evaluation))
            return
        page = self.page(number)
        assert isinstance(page, MAKERS[1:])
        page.refresh(evaluation)
        self.heading.setText(HEADS[number])
        self.facts.setText(page.facts())
