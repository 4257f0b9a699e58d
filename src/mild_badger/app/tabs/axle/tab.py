"""The tab Axle: turns, differentials, how they work, steering, clearance, shaft line."""

from functools import cached_property

from mild_badger.app.session import Session
from mild_badger.app.tabs.axle.drive_page import AxleDrivePage
from mild_badger.app.tabs.axle.lesson_page import LessonPage
from mild_badger.app.tabs.axle.line_page import LinePage
from mild_badger.app.tabs.axle.room_page import RoomPage
from mild_badger.app.tabs.axle.steering_page import SteeringPage
from mild_badger.app.tabs.axle.turn_page import TurnPage
from mild_badger.app.tabs.tab import PagedTab
from mild_badger.app.theme.style import Theme
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.message import say
from mild_badger.core.words import capitalized
from mild_badger.text.pages import PAGES as TAB_PAGES

__all__ = ["AxleTab"]

PAGES = TAB_PAGES["Axle"]
HEADS = {
    "drive": say("tab-axle.differentials-and-driven-axles"),
    "lesson": say("lesson.lessons"),
    "steering": say("tab-axle.steering"),
    "room": say("tab-axle.clearance-and-springs"),
    "line": say("tab-axle.the-shaft-line"),
}


class AxleTab(PagedTab):
    """A page for each question; only the one in view is refreshed."""

    title = "Axle"

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, PAGES)

    @cached_property
    def turn_page(self) -> TurnPage:
        return self.added(TurnPage(self.session, self.theme))

    @cached_property
    def drive_page(self) -> AxleDrivePage:
        return self.added(AxleDrivePage(self.session, self.theme))

    @cached_property
    def lesson_page(self) -> LessonPage:
        return self.added(LessonPage(self.theme))

    @cached_property
    def steering_page(self) -> SteeringPage:
        return self.added(SteeringPage(self.session, self.theme))

    @cached_property
    def room_page(self) -> RoomPage:
        return self.added(RoomPage(self.session, self.theme))

    @cached_property
    def line_page(self) -> LinePage:
        return self.added(LinePage(self.session, self.theme))

    def refresh(self, evaluation: Evaluation) -> None:
        """Show an evaluation on the page in view."""
        key = self.turn_to_page()
        page = self.page_in_view
        page.refresh(evaluation)
        summary = evaluation.axle.summary
        self.heading.setText(HEADS.get(key, capitalized(summary)))
        facts = page.facts()
        self.facts.setText(facts)
        self.facts.setVisible(bool(facts))
