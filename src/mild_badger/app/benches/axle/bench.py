"""The Axle bench: turns, differentials, how they work, steering, clearance, shaft line."""

from PyQt6.QtWidgets import QCheckBox

from mild_badger.app.benches.axle.drive_page import DrivePage
from mild_badger.app.benches.axle.lesson_page import LessonPage
from mild_badger.app.benches.axle.line_page import LinePage
from mild_badger.app.benches.axle.room_page import RoomPage
from mild_badger.app.benches.axle.steering_page import SteeringPage
from mild_badger.app.benches.axle.turn_page import TurnPage
from mild_badger.app.benches.bench import PagedBench
from mild_badger.app.session import Session
from mild_badger.app.theme.style import Theme
from mild_badger.core.evaluate import Evaluation

__all__ = ["AxleBench"]

PAGES = ("Turn", "Axles", "How it works", "Steering", "Clearance", "Shaft line")
TURN, AXLES, LESSON, STEERING, ROOM, LINE = range(6)


class AxleBench(PagedBench):
    """A page for each question; only the one in view is refreshed."""

    title = "Axle"

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, PAGES)
        self.in_units = QCheckBox("lengths in grid units")
        self.in_units.toggled.connect(lambda _on: self.bring_up_to_date(again=True))
        self.turn_page = TurnPage(session, theme)
        self.drive_page = DrivePage(session, theme, self.in_units)
        self.lesson_page = LessonPage(theme)
        self.steering_page = SteeringPage(session, theme, self.in_units)
        self.room_page = RoomPage(session, theme, self.in_units)
        self.line_page = LinePage(session, theme, self.in_units)
        for page in (
            self.turn_page, self.drive_page, self.lesson_page, self.steering_page, self.room_page,
            self.line_page,
        ):  # fmt: skip
            self.pictures.addWidget(page)
        self.below.addWidget(self.in_units)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show an evaluation on the page in view."""
        page = self.turn_to_page()
        self.in_units.setVisible(page in (STEERING, ROOM, LINE))
        if page == TURN:
            self.turn_page.refresh(evaluation)
            summary = evaluation.axle.summary
            self.heading.setText(summary[:1].upper() + summary[1:])
            self.facts.setText(self.turn_page.facts(evaluation))
        elif page == AXLES:
            self.drive_page.refresh(evaluation)
            self.heading.setText("Differentials and driven axles")
            self.facts.setText(self.drive_page.facts())
        elif page == LESSON:
            self.lesson_page.refresh(evaluation)
            self.heading.setText("How a differential works")
            self.facts.setText(
                "Red is the left half-axle, dashed blue the right one. Turn it, hold it, choose a "
                "turn on the page Turn."
            )
        elif page == STEERING:
            self.steering_page.refresh(evaluation)
            self.heading.setText("Steering")
            self.facts.setText(self.steering_page.facts())
        elif page == ROOM:
            self.room_page.refresh(evaluation)
            self.heading.setText("Clearance and springs")
            self.facts.setText(self.room_page.facts())
        else:
            self.line_page.refresh(evaluation)
            self.heading.setText("The shaft line")
            self.facts.setText(self.line_page.facts())
