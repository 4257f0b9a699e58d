"""The tab Shift: sleeves and their places, what moves them, the table, the played run."""

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QMenu, QWidget

from mild_badger.app.drawing.box_view import BoxView
from mild_badger.app.drawing.fields import DocumentCheckBox, DocumentChoice, field_of
from mild_badger.app.drawing.widgets import button, caption, row_of
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.tabs.shift.catch_page import CatchPage
from mild_badger.app.tabs.shift.diagram import SlotDiagram
from mild_badger.app.tabs.shift.drum_page import DrumPage
from mild_badger.app.tabs.shift.function_page import FunctionPage
from mild_badger.app.tabs.shift.gate_page import GatePage
from mild_badger.app.tabs.shift.play_page import PlayPage
from mild_badger.app.tabs.shift.power_page import PowerPage
from mild_badger.app.tabs.shift.table_page import TablePage
from mild_badger.app.tabs.tab import PagedTab
from mild_badger.app.theme.style import Theme
from mild_badger.core.architectures.places import Columns
from mild_badger.core.architectures.registry import architecture_of
from mild_badger.core.errors import BadgerError
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.message import say, say_count
from mild_badger.core.shift.assign import place_reason, propose_places
from mild_badger.core.shift.mirror import mirror_hand, mirror_pattern, turn_box
from mild_badger.core.shift.slide import describe_slide
from mild_badger.core.vehicle.boxes import EitherSideBox, LayshaftBox
from mild_badger.core.vehicle.edit.slots import move_slot
from mild_badger.core.words import capitalized, word
from mild_badger.text.pages import PAGES as TAB_PAGES

__all__ = ["ShiftTab"]

PAGES = TAB_PAGES["Shift"]
SHORT = 560
"""Height in px below which the picture needs the hint's room."""
ACTUATORS = {
    "gate": say("tab-shift.a-gate-lever"),
    "catch": say("tab-shift.a-catch-on-a-rail"),
    "drum": say("tab-shift.a-drum"),
}
OTHER_SHAFT = {True: say("tab-shift.the-layshaft"), False: say("tab-shift.the-input-shaft")}
DIRECT_BY = {
    "dogs": say("tab-shift.dogs-2"),
    "ring": say("tab-shift.a-ring-that-the-slider-enters"),
}
ENGAGED = {"dog": say("tab-shift.dog-sleeves"), "slide": say("tab-shift.sliding-gears")}
ACTUATOR_FACTS = {
    "gate": say("tab-shift.a-lever-on-a-pivot-its-finger-pushes-one"),
    "catch": say("tab-shift.a-catch-slides-along-its-rail-to-a-column"),
    "drum": say("tab-shift.a-drum-turns-and-its-tracks-push-the-forks"),
}
TABLE_FACTS = {
    "gate": say("tab-shift.how-many-moves-take-you-from-every-gear-to"),
    "catch": say("tab-shift.slides-and-tilts-from-every-gear-to-every"),
    "drum": say("tab-shift.how-many-positions-the-drum-turns-from-every"),
}
NO_SLEEVES = say("tab-shift.a-lever-drive-has-no-sleeves-and-nothing-to")
NO_BOX = say("tab-shift.this-vehicle-has-no-box-the-motor-drives-on")
FACTS = {
    "layshaft": say("tab-shift.the-input-pair-turns-the-layshaft-in-every"),
    "two-shaft": say("tab-shift.all-pairs-stand-between-input-and-output-one"),
    "twin-layshaft": say("tab-shift.odd-columns-sit-on-the-first-layshaft-even"),
    "range-splitter": say("tab-shift.one-splitter-pair-and-one-range-pair-are-in"),
}


class ShiftTab(PagedTab):
    """Pages: the sleeves and how they are fed and tied, the actuator, the table, the run."""

    title = "Shift"

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, PAGES)
        outer = self.below
        outer.insertWidget(outer.indexOf(self.pictures), self._choices())
        self.diagram = SlotDiagram(theme)
        self.lines = BoxView(theme)
        for picture in (self.diagram, self.lines):
            picture.engage.connect(session.engage)
            picture.move_gear.connect(
                lambda gear, column, face: session.do(
                    move_slot(session.vehicle, gear, column, face)
                )
            )
        self.gate_page = GatePage(session, theme)
        self.catch_page = CatchPage(session, theme)
        self.drum_page = DrumPage(session, theme)
        self._actuator_pages: dict[str, GatePage | CatchPage | DrumPage] = {
            "gate": self.gate_page,
            "catch": self.catch_page,
            "drum": self.drum_page,
        }
        self.table_page = TablePage()
        self.play_page = PlayPage(session, theme)
        self.power_page = PowerPage(theme)
        self.function_page = FunctionPage(session, theme)
        self.no_sleeves = caption(NO_SLEEVES, "soft", wrap=True)
        self.no_sleeves.setAlignment(Qt.AlignmentFlag.AlignCenter)
        for page in (
            self.no_sleeves,
            self.diagram,
            self.lines,
            self.gate_page,
            self.catch_page,
            self.drum_page,
            self.table_page,
            self.play_page,
            self.power_page,
            self.function_page,
        ):
            self.pictures.addWidget(page)
        self.gate_page.export_wanted.connect(self.export_wanted)
        self.drum_page.export_wanted.connect(self.export_wanted)
        self.feeding = self._feeding()
        outer.addWidget(self.feeding)
        self.sides = self._sides()
        outer.addWidget(self.sides)
        self.proof = caption("", wrap=True)
        self.proof.setAccessibleName(say("tab-shift.proof-that-nothing-locks"))
        outer.addWidget(self.proof)
        self.hint = caption("", "soft", wrap=True)
        outer.addWidget(self.hint)

    @property
    def page_in_view(self) -> QWidget:
        """The page in view; how the gears are engaged has one for each way."""
        actuator = self._actuator_pages[self.session.vehicle.shifting.actuation]
        return {
            "sleeves": self.diagram,
            "actuator": actuator,
            "table": self.table_page,
            "play": self.play_page,
            "losses": self.power_page,
            "functions": self.function_page,
        }[self.key]

    def _choices(self) -> QWidget:
        """Make the row that says what selects the gears and what engages them."""
        session = self.session
        self.actuator = DocumentChoice(
            session, ("shifting", "actuation"), say("tab-shift.selected-by"), ACTUATORS
        )
        self.engaged_by = DocumentChoice(
            session, ("box", "engagement"), say("tab-shift.engaged-by"), ENGAGED
        )
        self.engaged_words = caption(say("tab-shift.engaged-by-2"))
        self.places = button(say("tab-shift.arrange-gears-for-this-shifter"), self._place)
        self.turn = button(say("tab-shift.mirror"), lambda: None)
        menu = QMenu(self.turn)
        for words, edit in (
            (say("tab-shift.the-box-end-for-end"), turn_box),
            (say("tab-shift.the-shift-pattern"), mirror_pattern),
            (say("tab-shift.the-hand-rails-crown-wheel-and-motor"), mirror_hand),
        ):
            action = menu.addAction(shown(words))
            if action is not None:
                action.triggered.connect(
                    lambda _on=False, make=edit: session.do(make(session.vehicle))
                )
        self.turn.setMenu(menu)
        self.choices = QWidget()
        row = row_of(
            say("tab-shift.selected-by"),
            self.actuator,
            self.engaged_words,
            self.engaged_by,
            self.places,
            self.turn,
        )
        row.setContentsMargins(0, 0, 0, 0)
        self.choices.setLayout(row)
        return self.choices

    def _feeding(self) -> QWidget:
        """Make the row that says how the columns of a slot box are fed and tied."""
        session = self.session
        feeds = {"rail": say("tab-shift.a-drive-row"), "shaft": say("tab-shift.one-input-shaft-2")}
        self.feed = DocumentChoice(
            session, ("box", "feed"), say("tab-shift.columns-are-driven-by"), feeds
        )
        self.rail_words = caption(say("tab-shift.drive-row-gears"))
        self.rail = field_of(
            session, ("box", "rail_teeth"), say("tab-shift.drive-row-gears-2"), width=48
        )
        self.tie = field_of(session, ("box", "tie_teeth"), say("tab-shift.tie-gears"), width=48)
        made = QWidget()
        row = row_of(
            say("tab-shift.columns-are-driven-by"),
            self.feed,
            self.rail_words,
            self.rail,
            say("tab-shift.tie-gears-2"),
            self.tie,
        )
        row.setContentsMargins(0, 0, 0, 0)
        made.setLayout(row)
        return made

    def _sides(self) -> QWidget:
        """Make the row that says where the sleeves or sliders of a box of two rows sit."""
        on = {"driven": say("tab-shift.the-output-shaft"), "driving": OTHER_SHAFT[True]}
        words = say("tab-shift.sleeves-sit-on")
        self.sleeves_on = DocumentChoice(self.session, ("box", "sleeves_on"), words, on)
        self.sleeves_words = caption(words)
        self.shared_slider = DocumentCheckBox(
            self.session,
            ("box", "shared_slider"),
            say("tab-shift.one-gear-slides-for-reverse-and-the-gear-beside-it"),
        )
        self.direct_words = caption(say("tab-shift.direct-drive-by"))
        self.direct_by = DocumentChoice(
            self.session, ("box", "direct_by"), say("tab-shift.direct-drive-by"), DIRECT_BY
        )
        made = QWidget()
        row = row_of(
            self.sleeves_words,
            self.sleeves_on,
            self.shared_slider,
            self.direct_words,
            self.direct_by,
        )
        row.setContentsMargins(0, 0, 0, 0)
        made.setLayout(row)
        return made

    def _place(self) -> None:
        try:
            self.session.do(propose_places(self.session.vehicle))
        except BadgerError as error:
            self.session.refused.emit(str(error))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.hint.setVisible(self.key == "sleeves" and self.height() > SHORT)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show an evaluation."""
        box, shifting = evaluation.vehicle.box, evaluation.vehicle.shifting
        gear = evaluation.engaged
        count = evaluation.sleeves
        engagement = box.engaged_by
        if not box.sleeved:
            on = say("tab-shift.one-fulcrum")
        elif box.slides:
            on = say_count("count.slider", count)
        else:
            on = say_count("count.sleeve", count)
        engaged = say("tab-shift.gear-in", name=gear.name) if gear else say("tab-shift.in-neutral")
        said = "" if self.key == "play" else engaged  # the run itself says what is in
        self.heading.setText(
            say("tab-shift.speeds-on", count_of_slots=len(box.slots), on=on, engaged=said)
            if box.geared
            else say("tab-shift.no-box")
        )
        self.proof.setText(evaluation.proof.summary)
        self.proof.setVisible(box.geared and self.key not in ("functions", "play"))
        self.pages.setTabText(self.keys.index("actuator"), capitalized(word(shifting.actuation)))
        page = self.key
        self.choices.setVisible(page in ("sleeves", "actuator"))
        self.actuator.show_value(shifting.actuation)
        self.engaged_by.setVisible(engagement is not None)
        self.engaged_words.setVisible(engagement is not None)
        if engagement is not None:
            self.engaged_by.show_value(engagement)
        self.places.setToolTip(shown(place_reason(evaluation.vehicle)))
        either = EitherSideBox.of(box)
        self.sides.setVisible(either is not None and page == "sleeves")
        if either is not None:
            for widget in (self.sleeves_words, self.sleeves_on):
                widget.setVisible(not box.slides)
            self.shared_slider.setVisible(box.slides)
            self.shared_slider.show_value(either.shared_slider)
            layshaft = LayshaftBox.of(box)
            for widget in (self.direct_words, self.direct_by):
                widget.setVisible(box.slides and layshaft is not None)
            if layshaft is not None:
                self.direct_by.show_value(layshaft.direct_by)
            other = OTHER_SHAFT[box.coaxial]
            self.sleeves_on.setItemText(1, shown(other))
            self.sleeves_on.show_value(either.sleeves_on)
        slot = box.free_trains
        self.feeding.setVisible(slot and page == "sleeves")
        self.hint.setVisible(page == "sleeves" and self.height() > SHORT)
        if not box.sleeved and page in ("sleeves", "actuator", "table", "play"):
            self.choices.hide()
            self.hint.hide()
            self.facts.setText("")
            self.no_sleeves.setText(NO_SLEEVES if box.geared else NO_BOX)
            self.pictures.setCurrentWidget(self.no_sleeves)
        elif page == "actuator":
            page_shown = self._actuator_pages[shifting.actuation]
            self.facts.setText(ACTUATOR_FACTS[shifting.actuation])
            self.pictures.setCurrentWidget(page_shown)
            page_shown.refresh(evaluation)
        elif page == "table":
            self.facts.setText(TABLE_FACTS[shifting.actuation])
            self.pictures.setCurrentWidget(self.table_page)
            self.table_page.refresh(evaluation)
        elif page == "play":
            self.facts.setText(say("tab-shift.the-run-from-neutral-through-all-gears-and"))
            self.pictures.setCurrentWidget(self.play_page)
            self.play_page.refresh(evaluation)
        elif page == "losses":
            self.facts.setText(say("tab-shift.the-motors-power-in-the-engaged-gear-mesh-by"))
            self.pictures.setCurrentWidget(self.power_page)
            self.power_page.refresh(evaluation)
        elif page == "functions":
            functions = evaluation.vehicle.functions
            if functions is not None:
                self.heading.setText(
                    say(
                        "tab-shift.outputs-in-positions",
                        count_of_outputs=len(functions.outputs),
                        count_of_positions=len(functions.positions),
                    )
                )
            self.facts.setText(say("tab-shift.a-second-motor-drives-what-each-position"))
            self.pictures.setCurrentWidget(self.function_page)
            self.function_page.refresh(evaluation)
        else:
            self._sleeves(evaluation)

    def _sleeves(self, evaluation: Evaluation) -> None:
        box = evaluation.vehicle.box
        movable = box.has_places
        self.hint.setText(
            say("tab-shift.click-a-gear-to-engage-it-drag-it-or-press")
            if movable
            else say("tab-shift.click-a-pair-or-a-sleeves-side-to-engage-its")
        )
        places = architecture_of(box).places(box)
        if not isinstance(places, Columns):
            self.pictures.setCurrentWidget(self.lines)
            room = describe_slide(evaluation.vehicle)
            self.facts.setText(f"{FACTS.get(box.architecture, '')} {room}".rstrip())
            self.lines.show_evaluation(evaluation)
            return
        self.pictures.setCurrentWidget(self.diagram)
        self.facts.setText(
            say("tab-shift.tied-selector-shafts-turn-opposite-ways-side")
            + (
                say("tab-shift.the-drive-row-does-the-same-below-so-every")
                if places.by_row
                else say("tab-shift.one-input-shaft-does-not-so-forward-trains")
            )
        )
        self.feed.show_value("rail" if places.by_row else "shaft")
        self.rail.show_value(str(places.row_teeth))
        self.tie.show_value(str(places.tie_teeth))
        self.rail.setVisible(places.by_row)
        self.rail_words.setVisible(places.by_row)
        self.diagram.write_in(self.session.school)
        self.diagram.show_evaluation(evaluation)
