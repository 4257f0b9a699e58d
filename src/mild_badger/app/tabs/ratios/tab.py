"""The tab Ratios: one gear's train, the whole box by counted teeth, architectures compared."""

from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QVBoxLayout, QWidget

from mild_badger.app.drawing.pictures import train_picture
from mild_badger.app.drawing.train_view import TrainView
from mild_badger.app.drawing.widgets import PageStack, scrolled
from mild_badger.app.scene.part_menu import part_menu
from mild_badger.app.scene.space_view import SpaceView
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.tabs.ratios.box_page import BoxPage
from mild_badger.app.tabs.ratios.compare_page import ComparePage
from mild_badger.app.tabs.ratios.set_panel import SetPanel
from mild_badger.app.tabs.ratios.train_choice import TrainChoice
from mild_badger.app.tabs.tab import PagedTab
from mild_badger.app.theme.style import Theme
from mild_badger.core.driveline.describe import describe_passing
from mild_badger.core.errors import InputError
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.gears.advice import hunts, turns_to_repeat
from mild_badger.core.layout.reason import why_no_place
from mild_badger.core.message import say, say_count
from mild_badger.core.performance.power import body_torques
from mild_badger.core.ratios.train import train_fractions
from mild_badger.core.results import GearResult, GearState
from mild_badger.core.scene.stage import Stage, path_stage, stage_of
from mild_badger.core.targets.schools import format_ratio
from mild_badger.core.words import signed
from mild_badger.text.pages import PAGES as TAB_PAGES

__all__ = ["RatiosTab"]

COUNT = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine")
PAGES = TAB_PAGES["Ratios"]


LEAST_TRAIN_PX, SCROLL_PX = 230, 10
"""Height in px that the picture of the train keeps; width of a scroll bar."""


class RatiosTab(PagedTab):
    """The engaged gear with the set, the box by counted teeth, the comparison."""

    title = "Ratios"

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, PAGES)
        self.view = TrainView(theme)
        self.space = SpaceView(theme)
        self.space.setMinimumSize(240, 160)
        self.space.chosen.connect(session.choose)
        session.part_chosen.connect(self.space.choose)
        self.space.asked.connect(lambda part, place: part_menu(session, part).popup(place))
        self.in_space = QCheckBox(shown(say("tab-ratios.the-train-in-space")))
        self.in_space.toggled.connect(lambda _on: self.bring_up_to_date(again=True))
        self.train_pictures = PageStack()
        self.train_pictures.addWidget(self.view)
        self.train_pictures.addWidget(self.space)
        self.set_panel = SetPanel(session, theme)
        self.choice = TrainChoice(session)
        self.box_page = BoxPage(session, theme)
        self.compare_page = ComparePage(session, theme)
        self.view.pressed.connect(self.choice.offer_sizes)
        for part in (self.set_panel, self.compare_page):
            part.search_wanted.connect(self.search_wanted)
        self.compare_page.changed.connect(lambda: self.bring_up_to_date(again=True))
        self.choice.prepare_wanted.connect(self.prepare_wanted)
        self.gear_page = self._gear_page()
        for page in (self.gear_page, self.box_page, self.compare_page):
            self.added(page)

    def _gear_page(self) -> QWidget:
        page = QWidget()
        row = QHBoxLayout(page)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(16)
        left = QVBoxLayout()
        left.setSpacing(0)
        left.addWidget(self.train_pictures, 3)
        left.addWidget(self.in_space)
        self._set_area = scrolled(self.set_panel)
        left.addWidget(self._set_area, 2)
        row.addLayout(left, 10)
        row.addWidget(self.choice, 9)
        return page

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._share_room()

    def _share_room(self) -> None:
        """Show the set whole where the train beside it keeps room enough to teach."""
        layout, width = self.set_panel.layout(), max(self._set_area.width() - SCROLL_PX, 1)
        if layout is not None:
            whole = layout.minimumHeightForWidth(width)
            room = self.gear_page.height() - LEAST_TRAIN_PX
            self._set_area.setMinimumHeight(max(min(whole, room), 0))

    def refresh(self, evaluation: Evaluation) -> None:
        """Show an evaluation in the page in view."""
        gear = evaluation.engaged
        page = self.turn_to_page()
        if page == "gear":
            self._head(gear, evaluation.vehicle.kit.any_seat)
            self.view.show_picture(train_picture(evaluation, gear))
            self._show_train(evaluation)
            self.set_panel.refresh(evaluation)
            self._share_room()
            self.choice.refresh(evaluation)
        elif page == "box":
            self.heading.setText(say("tab-ratios.the-whole-box-by-counted-teeth"))
            self.facts.setText(say("tab-ratios.type-what-stands-in-a-box-that-exists-driver"))
            self.box_page.refresh(evaluation)
        else:
            self.heading.setText(say("tab-ratios.architectures-on-the-same-targets"))
            self.facts.setText(self.compare_page.words())
            self.compare_page.refresh(evaluation)

    def _show_train(self, evaluation: Evaluation) -> None:
        """Show the train flat, or in space as it stands in the box, where that has its place."""
        in_space = self.in_space.isChecked()
        self.train_pictures.setCurrentWidget(self.space if in_space else self.view)
        if not in_space:
            return
        vehicle, gear = evaluation.vehicle, evaluation.situation.gear
        self.space.empty = say("tab-ratios.engage-a-gear-to-see-its-train")
        rpm = evaluation.motor_rpm
        stage: Stage | None = None
        try:
            whole = stage_of(vehicle, gear, rpm, body_torques(vehicle, gear, rpm))
            if whole is None:
                self.space.empty = why_no_place(vehicle)
            else:
                stage = path_stage(whole)
        except InputError as error:
            self.space.empty = str(error)
        self.space.show_stage(evaluation, stage)

    def search(self) -> None:
        """Look for the set."""
        self.show_page("gear")
        self.set_panel.search()

    def stopped(self) -> None:
        """Say that a search was cancelled."""
        self.set_panel.stopped()
        self.compare_page.stopped()

    def _head(self, gear: GearResult | None, made: bool) -> None:
        if gear is None:
            self.heading.setText(say("tab-ratios.neutral"))
            self.facts.setText(say("tab-ratios.engage-a-gear-with-1-9-or-r-to-see-its-train"))
            return
        if gear.ratio is None:
            words = say("tab-ratios.no-train-yet") if gear.state is GearState.EMPTY else "locks"
            self.heading.setText(say("tab-ratios.gear-3", name=gear.name, words=words))
            self.facts.setText(
                say("tab-ratios.wants", format_ratio=format_ratio(gear.wanted, self.session.school))
            )
            return
        shown = format_ratio(gear.ratio, self.session.school)
        self.heading.setText(
            say(
                "tab-ratios.gear-4",
                name=gear.name,
                shown=shown,
                value=self.session.school.value,
            )
        )
        error = self.session.school.error_percent(gear.error_percent or 0.0)
        exact = "exact" if error == 0 else f"{signed(error, '+.2f')} %"
        passes = f"{describe_passing(gear.box_efficiency)}."
        if gear.direct:
            self.facts.setText(
                say("tab-ratios.direct-drive-input-and-output-coupled", exact=exact, passes=passes)
            )
            return
        words = train_fractions(gear.train)
        if self.session.vehicle.box.lever is not None:
            words = say("tab-ratios.before-the-throws-the-lever-does-the-rest", words=words)
        if gear.second:
            words = say(
                "tab-ratios.half-of-and-in-turns-out",
                ratio=gear.ratio,
                words=words,
                train_fractions=train_fractions(gear.second),
            )
        self.facts.setText(
            say(
                "tab-ratios.mesh-gears",
                words=words,
                exact=exact,
                number=_count(gear.meshes).capitalize(),
                meshes=say_count("noun.mesh", gear.meshes),
                count=_count(gear.gears),
                passes=passes,
            )
            + (_repeats(gear) if made else "")
        )


def _repeats(gear: GearResult) -> str:
    """Say how often the same teeth meet, pair by pair."""
    words = [
        say("tab-ratios.hunts", driver=p.driver, driven=p.driven)
        if hunts(p)
        else say(
            "tab-ratios.repeats-every-turns",
            driver=p.driver,
            driven=p.driven,
            turns_to_repeat=turns_to_repeat(p),
        )
        for p in gear.train[:2]
    ]
    return " " + ", ".join(words) + "." if words else ""


def _count(number: int) -> str:
    return COUNT[number] if number < len(COUNT) else str(number)
