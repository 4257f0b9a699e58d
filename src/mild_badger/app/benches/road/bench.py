"""The Road bench: speeds, pull and hills, losses, motors, a test drive, versions."""

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


class RoadBench(PagedBench):
    """A page for each question; only the one in view is refreshed."""

    title = "Road"

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, PAGES)
        self.speed_page = SpeedPage(session, theme)
        self.pull_page = PullPage(session, theme)
        self.losses_page = LossesPage(session, theme)
        self.motors_page = MotorsPage(session, theme)
        self.drive_page = DrivePage(session, theme)
        self.drive_page.save_wanted.connect(self.save_wanted)
        self.versions_page = VersionsPage(session, theme)
        self.further = (
            self.pull_page, self.losses_page, self.motors_page, self.drive_page, self.versions_page,
        )  # fmt: skip
        for page in (self.speed_page, *self.further):
            self.pictures.addWidget(page)
        theme.changed.connect(lambda: self.bring_up_to_date(again=True))

    def refresh(self, evaluation: Evaluation) -> None:
        """Show an evaluation on the page in view."""
        number = self.turn_to_page()
        if number == SPEED:
            self.speed_page.refresh(evaluation)
            self.heading.setText(self.speed_page.heading(evaluation))
            self.facts.setText(self.speed_page.facts(evaluation))
            return
        page = self.further[number - 1]
        page.refresh(evaluation)
        self.heading.setText(HEADS[number])
        self.facts.setText(page.facts())
