"""The tab Shift: sleeves and their places, what moves them, the table, the played run."""

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QMenu, QWidget

from mild_badger.app.drawing.box_view import BoxView
from mild_badger.app.drawing.fields import DocumentChoice, field_of
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
from mild_badger.core.shift.assign import place_reason, propose_places
from mild_badger.core.shift.mirror import mirror_hand, mirror_pattern, turn_box
from mild_badger.core.shift.slide import describe_slide
from mild_badger.core.vehicle.edit.slots import move_slot
from mild_badger.core.words import counted
from mild_badger.text.pages import PAGES as TAB_PAGES

__all__ = ["ShiftTab"]

PAGES = TAB_PAGES["Shift"]
SHORT = 560
"""Height in px below which the picture needs the hint's room."""
ACTUATORS = {"gate": "a gate lever", "catch": "a catch on a rail", "drum": "a drum"}
ENGAGED = {"dog": "dog sleeves", "slide": "sliding gears"}
ACTUATOR_FACTS = {
    "gate": "A lever on a pivot: its finger pushes one rail at a time, with the knob or "
    "against it, as the pivot lies. Press a gear to engage it.",
    "catch": "A catch slides along its rail to a column and tilts there, front or back. Press a "
    "gear to engage it.",
    "drum": "A drum turns and its tracks push the forks. Press near a position to engage its gear.",
}
TABLE_FACTS = {
    "gate": "How many moves take you from every gear to every gear; | is one pull through neutral. "
    "All sleeves that leave go before any enters.",
    "catch": "Slides and tilts from every gear to every gear; | is one pull through neutral.",
    "drum": "How many positions the drum turns from every gear to every gear.",
}
NO_SLEEVES = (
    "A lever drive has no sleeves and nothing to shift: its fulcrum slides from gear to gear while "
    "the machine runs. Drag it on the tab Machine, page Lever drive (Ctrl+9)."
)
NO_BOX = (
    "This vehicle has no box: the motor drives on as it turns, and nothing is shifted. Lay a box "
    "out on the tab Ratios, page Whole box (Ctrl+2)."
)
FACTS = {
    "layshaft": "The input pair turns the layshaft in every gear; a sleeve couples one pair's "
    "driven gear to the output, or input and output directly. Two at once lock the box.",
    "two-shaft": "All pairs stand between input and output; one mesh turns the output against the "
    "input, and the final drive's crown wheel makes up for it.",
    "twin-layshaft": "Odd columns sit on the first layshaft, even ones on the second; both drive "
    "the one output wheel.",
    "range-splitter": "One splitter pair and one range pair are in at a time; their ratios "
    "multiply.",
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
        self.play_page = PlayPage(theme)
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
        self.proof = caption("", wrap=True)
        self.proof.setAccessibleName("Proof that nothing locks")
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
        self.actuator = DocumentChoice(session, ("shifting", "actuation"), "Selected by", ACTUATORS)
        self.engaged_by = DocumentChoice(session, ("box", "engagement"), "Engaged by", ENGAGED)
        self.engaged_words = caption("engaged by")
        self.places = button("Arrange gears for this shifter", self._place)
        self.turn = button("Mirror", lambda: None)
        menu = QMenu(self.turn)
        for words, edit in (
            ("The box, end for end", turn_box),
            ("The shift pattern", mirror_pattern),
            ("The hand: rails, crown wheel and motor", mirror_hand),
        ):
            action = menu.addAction(shown(words))
            if action is not None:
                action.triggered.connect(
                    lambda _on=False, make=edit: session.do(make(session.vehicle))
                )
        self.turn.setMenu(menu)
        self.choices = QWidget()
        row = row_of(
            "Selected by",
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
        feeds = {"rail": "a drive row", "shaft": "one input shaft"}
        self.feed = DocumentChoice(session, ("box", "feed"), "Columns are driven by", feeds)
        self.rail_words = caption("drive row gears")
        self.rail = field_of(session, ("box", "rail_teeth"), "Drive row gears", width=48)
        self.tie = field_of(session, ("box", "tie_teeth"), "Tie gears", width=48)
        made = QWidget()
        row = row_of(
            "Columns are driven by", self.feed, self.rail_words, self.rail, "tie gears", self.tie
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
        what = "slider" if box.slides else "sleeve"
        on = counted(count, what) if box.sleeved else "one fulcrum"
        engaged = f", gear {gear.name} in" if gear else ", neutral"
        self.heading.setText(
            f"{len(box.slots)} speeds on {on}{engaged}" if box.geared else "No box"
        )
        self.proof.setText(evaluation.proof.summary)
        self.proof.setVisible(box.geared and self.key != "functions")
        self.pages.setTabText(self.keys.index("actuator"), shifting.actuation.capitalize())
        page = self.key
        self.choices.setVisible(page in ("sleeves", "actuator"))
        self.actuator.show_value(shifting.actuation)
        self.engaged_by.setVisible(engagement is not None)
        self.engaged_words.setVisible(engagement is not None)
        if engagement is not None:
            self.engaged_by.show_value(engagement)
        self.places.setToolTip(shown(place_reason(evaluation.vehicle)))
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
            self.facts.setText(
                "The run from neutral through all gears and back, as the hand, the forks and the "
                "sleeves make it; heavy is what carries the power."
            )
            self.pictures.setCurrentWidget(self.play_page)
            self.play_page.refresh(evaluation)
        elif page == "losses":
            self.facts.setText(
                "The motor's power in the engaged gear, mesh by mesh, straight ahead: how much "
                "arrives, and where it is lost."
            )
            self.pictures.setCurrentWidget(self.power_page)
            self.power_page.refresh(evaluation)
        elif page == "functions":
            functions = evaluation.vehicle.functions
            if functions is not None:
                self.heading.setText(
                    f"{len(functions.outputs)} outputs in {len(functions.positions)} positions"
                )
            self.facts.setText(
                "A second motor drives what each position says. Choose a position to see it run."
            )
            self.pictures.setCurrentWidget(self.function_page)
            self.function_page.refresh(evaluation)
        else:
            self._sleeves(evaluation)

    def _sleeves(self, evaluation: Evaluation) -> None:
        box = evaluation.vehicle.box
        movable = box.has_places
        self.hint.setText(
            "Click a gear to engage it; drag it, or press Alt with an arrow key in a slot box, to "
            "change places with another."
            if movable
            else "Click a pair or a sleeve's side to engage its gear. Two pairs share a sleeve in "
            "the order in which they stand; change them on the tab Ratios, page Whole box."
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
            "Tied selector shafts turn opposite ways side by side. "
            + (
                "The drive row does the same below, so every forward train takes an even number of "
                "meshes and reverse one more or less."
                if places.by_row
                else "One input shaft does not, so forward trains take an even number of meshes in "
                "odd columns and an odd number in even ones."
            )
        )
        self.feed.show_value("rail" if places.by_row else "shaft")
        self.rail.show_value(str(places.row_teeth))
        self.tie.show_value(str(places.tie_teeth))
        self.rail.setVisible(places.by_row)
        self.rail_words.setVisible(places.by_row)
        self.diagram.write_in(self.session.school)
        self.diagram.show_evaluation(evaluation)
