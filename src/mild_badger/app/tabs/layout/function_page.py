"""The function box in space: its shafts placed, layer by layer, running in each position."""

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QVBoxLayout, QWidget

from mild_badger.app.drawing.fields import DocumentLineEdit
from mild_badger.app.drawing.widgets import button, caption, row_of
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.tabs.layout.end_view import EndView
from mild_badger.app.tabs.layout.section_view import SectionView
from mild_badger.app.theme.style import Theme
from mild_badger.core.components.collide import (
    Collision,
    collision_findings,
    describe_collision,
    functions_proven_of,
)
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.functions.result import FunctionResult
from mild_badger.core.layout.describe import describe_function_box
from mild_badger.core.layout.function_box import (
    PlacedFunctions,
    function_stack,
    pin_output,
    take_places,
)
from mild_badger.core.layout.reason import why_no_functions
from mild_badger.core.layout.turning import seen_functions
from mild_badger.core.message import say
from mild_badger.core.structure.stack import Stack
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.jobs.registry import Job
from mild_badger.text.fields import parse_place, place_text

__all__ = ["FunctionBoxPage"]


class FunctionBoxPage(QWidget):
    """End view and stack of the function box; a search places it, outputs may be held.

    Signals
    -------
    search_wanted : a job for the search process, what to do with its result, and its words
    """

    search_wanted = pyqtSignal(object, object, str)

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session = session
        self._result: FunctionResult | None = None
        self._asked: tuple[object, ...] | None = None
        self._known: tuple[tuple[object, ...], Collision] | None = None
        self._direction = 1
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.place = button(say("functions.place-the-function-box"), self.search, "main")
        self.prove_now = button(say("tab-layout.prove-by-solids"), self.prove)
        self.holds = self._choice(say("tab-layout.output-to-hold"))
        self.holds.activated.connect(lambda _n: self._show_pin())
        self.point = DocumentLineEdit(session, self._hold, say("tab-layout.where-it-is-held"))
        self.point.setFixedWidth(110)
        self.point.setPlaceholderText(say("tab-layout.x-y"))
        self.point.setToolTip(shown(say("tab-layout.two-lengths-from-the-function-inputs-shaft")))
        column.addLayout(
            row_of(
                self.place,
                self.prove_now,
                caption(say("tab-layout.hold")),
                self.holds,
                say("tab-layout.held-at"),
                self.point,
            )
        )
        self.slabs = self._choice(say("tab-layout.layer"))
        self.slabs.activated.connect(lambda _n: self._draw())
        self.positions = self._choice(say("tab-layout.position-of-the-functions"))
        self.positions.activated.connect(lambda _n: self._draw())
        self.motor = button("", self._turn_motor)
        self.choosing = QWidget()
        choosing = row_of(
            caption(say("tab-layout.layer")),
            self.slabs,
            caption(say("tab-layout.position-2")),
            self.positions,
            self.motor,
        )
        choosing.setContentsMargins(0, 0, 0, 0)
        self.choosing.setLayout(choosing)
        column.addWidget(self.choosing)
        self.end, self.side = EndView(theme), SectionView(theme)
        self.side.whole = True
        self.side.slab_wanted.connect(self._look_at)
        views = QHBoxLayout()
        views.setSpacing(10)
        views.addWidget(self.end, 1)
        views.addWidget(self.side, 1)
        column.addLayout(views, 1)
        self.words = caption("", wrap=True)
        self.words.setAccessibleName(say("tab-layout.result-of-the-placement"))
        column.addWidget(self.words)

    @staticmethod
    def _choice(name: str) -> QComboBox:
        made = QComboBox()
        made.setAccessibleName(shown(name))
        made.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        return made

    def search(self) -> None:
        """Look for places of all shafts, and take the best ones found."""
        asked = self.session.vehicle
        job = Job("place functions", (asked,))

        def found(placed: PlacedFunctions) -> None:
            if functions_proven_of(self.session.vehicle) == functions_proven_of(asked):
                self.session.do(take_places(self.session.vehicle, placed))
                self.prove()
            else:
                self.session.refuse(say("tab-layout.the-vehicle-changed-while-it-was-placed"))

        self.search_wanted.emit(job, found, say("tab-layout.placing-the-function-box"))

    def prove(self) -> None:
        """Prove the function box as it stands now."""
        vehicle = self.session.vehicle
        if function_stack(vehicle) is None:
            return
        self._asked = functions_proven_of(vehicle)
        job = Job("proof of functions", (vehicle,))
        self.search_wanted.emit(job, self._proven, say("tab-layout.proving-by-solids"))

    def _proven(self, collision: Collision) -> None:
        if self._asked is not None:
            self._known = (self._asked, collision)
        self._tell(self.session.vehicle)

    def _hold(self, text: str) -> object:
        """Hold the chosen output at the point typed, or let go of it where the field is empty."""
        vehicle, output = self.session.vehicle, self.holds.currentData()
        place = None
        if text.strip():
            place = parse_place(text, what=self.point.accessibleName(), vehicle=vehicle)
        return self.session.do(pin_output(vehicle, output, place))

    def _show_pin(self) -> None:
        vehicle, output = self.session.vehicle, self.holds.currentData()
        pins = () if vehicle.functions is None else vehicle.functions.pins
        pin = next((pin for pin in pins if pin.output == output), None)
        self.point.show_value("" if pin is None else place_text(pin.x_mm, pin.y_mm, vehicle))

    def _turn_motor(self) -> None:
        self._direction = -self._direction
        self._draw()

    def _look_at(self, slab: str) -> None:
        self.slabs.setCurrentIndex(max(self.slabs.findData(str(slab)), 0))
        self._draw()

    def refresh(self, evaluation: Evaluation) -> None:
        """Show a vehicle's function box."""
        self._result = evaluation.functions
        vehicle = evaluation.vehicle
        stack = function_stack(vehicle)
        asked_for = self._result is not None and bool(self._result.arrangement.branches)
        self.place.setEnabled(asked_for)
        self.prove_now.setEnabled(stack is not None)
        outputs = () if self._result is None else self._result.box.outputs
        positions = () if self._result is None else self._result.box.positions
        self._fill(self.holds, [(output.name, output.id) for output in outputs])
        self._fill(self.positions, [(position.name, position.name) for position in positions])
        slabs = () if stack is None else stack.slabs
        self._fill(self.slabs, [(vehicle.train_title(slab), slab) for slab in slabs])
        for thing in (self.holds, self.point):
            thing.setEnabled(bool(outputs))
        self.choosing.setEnabled(stack is not None)
        self._show_pin()
        self._draw()
        self._tell(vehicle)

    @staticmethod
    def _fill(choice: QComboBox, entries: list[tuple[str, str]]) -> None:
        """List what may be chosen; what was chosen stays so where it is still there."""
        chosen = choice.currentData()
        choice.clear()
        for words, data in entries:
            choice.addItem(shown(words), str(data))
        choice.setCurrentIndex(max(choice.findData(chosen), 0))

    def _draw(self) -> None:
        evaluation, vehicle = self.session.evaluation, self.session.vehicle
        stack: Stack | None = function_stack(vehicle)
        ways = {1: say("tab-layout.motor-forwards"), -1: say("tab-layout.motor-backwards")}
        self.motor.setText(shown(ways[self._direction]))
        if stack is None:
            self.end.empty = why_no_functions(vehicle)
            self.end.show_seen(evaluation, vehicle, None, "")
            self.side.show_stack(evaluation, vehicle, None, "", ())
            return
        slab = self.slabs.currentData() or stack.slabs[0]
        position = self.positions.currentData() or ""
        seen = seen_functions(vehicle, stack, position, self._direction)
        self.end.show_seen(evaluation, vehicle, seen, slab)
        self.side.show_stack(evaluation, vehicle, stack, slab, tuple(sorted(seen.engaged)))

    def _tell(self, vehicle: Vehicle) -> None:
        """Say what is placed, and what the proof says of it."""
        words: list[str] = []
        if function_stack(vehicle) is not None:
            words.append(describe_function_box(vehicle))
        if self._known is not None and self._known[0] == functions_proven_of(vehicle):
            collision = self._known[1]
            if collision.clear:
                words.append(say("tab-layout.nothing-touches"))
            words.append(describe_collision(collision))
            words += [f"{f.title}. {f.text}" for f in collision_findings(vehicle, collision)]
        self.words.setText(shown(" ".join(words)))
