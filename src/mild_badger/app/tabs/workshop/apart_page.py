"""Take-apart: all parts drawn apart, how far each is, how it holds, what comes out before it."""

from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QHideEvent
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QSlider, QVBoxLayout, QWidget

from mild_badger.app.drawing.flow import Flow
from mild_badger.app.drawing.tables import Cell, Table
from mild_badger.app.drawing.widgets import button, caption, row_of
from mild_badger.app.scene.build_view import BuildView
from mild_badger.app.scene.part_menu import part_menu
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.theme.style import Theme
from mild_badger.core.components.component import Component
from mild_badger.core.components.describe import describe_part
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.layout.reason import why_no_place
from mild_badger.core.message import say
from mild_badger.core.vehicle.assembly import JOINTS, STATES
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import word
from mild_badger.core.workshop.assembly import (
    AssemblyPlan,
    assembly_plan,
    mark_joint,
)
from mild_badger.core.workshop.joints import couplings_of, joint_of
from mild_badger.core.workshop.states import mark_states, progress_of, state_of, superseded
from mild_badger.core.workshop.taking_apart import Removal, take_apart
from mild_badger.core.workshop.ways_in import apart_moves, coming_moves
from mild_badger.core.workshop.ways_out import SIDE
from mild_badger.jobs.registry import Job

__all__ = ["ApartPage"]

NOT_BEGUN, USUAL = say("tab-workshop.not-begun"), say("tab-workshop.as-usual")


class ApartPage(QWidget):
    """Parts left, the exploded view and what has to come out right."""

    search_wanted = pyqtSignal(object, object, str)
    bytes_wanted = pyqtSignal(str, bytes)

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session = session
        self.plan = AssemblyPlan((), (), ())
        self.removal: Removal | None = None
        self._fitted = -1.0
        self._couplings: dict[str, str] = {}
        self._names: dict[str, str] = {}
        outer = QHBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(12)
        left = QVBoxLayout()
        left.setSpacing(6)
        self.table = Table(
            (say("tab-workshop.part"), say("tab-workshop.state"), say("tab-workshop.holds")),
            say("tab-workshop.parts-of-the-box"),
        )
        self.table.stretch(0)
        self.table.setFixedWidth(330)
        self.table.currentCellChanged.connect(lambda *_: self._row_chosen())
        left.addWidget(self.table, 1)
        self.state, self.joint = QComboBox(), QComboBox()
        self.state.addItem(shown(NOT_BEGUN), None)
        self.joint.addItem(shown(USUAL), None)
        for state in STATES:
            self.state.addItem(shown(word(state)), state)
        for joint in JOINTS:
            self.joint.addItem(shown(word(joint)), joint)
        self.state.setAccessibleName(say("tab-workshop.how-far-the-part-is"))
        self.joint.setAccessibleName(say("tab-workshop.how-the-part-holds"))
        self.state.activated.connect(lambda _n: self._mark_state())
        self.joint.activated.connect(lambda _n: self._mark_joint())
        left.addLayout(
            row_of(say("tab-workshop.it-is"), self.state, say("tab-workshop.and-holds"), self.joint)
        )
        self.models = {
            form: button(words, partial(self._model, form))
            for form, words in (
                ("glb", say("tab-workshop.as-gltf")),
                ("stl", say("tab-workshop.as-stl")),
                ("3mf", say("tab-workshop.as-3mf")),
            )
        }
        files = Flow()
        for made in self.models.values():
            made.setToolTip(say("tab-workshop.the-whole-box-together-as-one-3d-file"))
            files.addWidget(made)
        left.addLayout(files)
        outer.addLayout(left)
        right = QVBoxLayout()
        right.setSpacing(6)
        self.view = BuildView(theme, say("tab-workshop.all-parts-drawn-apart"))
        self.view.chosen.connect(self._choose)
        self.view.asked.connect(lambda part, place: part_menu(session, part).popup(place))
        session.part_chosen.connect(self._choose)
        right.addWidget(self.view, 1)
        self.spread = QSlider(Qt.Orientation.Horizontal)
        self.spread.setRange(0, 40)
        self.spread.setValue(16)
        self.spread.setAccessibleName(say("tab-workshop.how-far-parts-are-drawn-apart"))
        self.spread.valueChanged.connect(lambda _v: self._draw())
        line = Flow()
        line.addWidget(caption(say("tab-workshop.together"), "soft"))
        line.addWidget(self.spread, 1)
        line.addWidget(caption(say("tab-workshop.apart"), "soft"))
        self.play = button(say("tab-workshop.play-taking-out"), self._toggle)
        self._out: list[str] | None = None
        line.addWidget(self.play)
        right.addLayout(line)
        self.words = caption("", wrap=True)
        right.addWidget(self.words)
        self.order = Table(
            ("", say("tab-workshop.comes-out"), say("tab-workshop.first")),
            say("tab-workshop.what-comes-out-in-order"),
        )
        self.order.header_right(0)
        self.order.stretch(1)
        self.order.setMaximumHeight(190)
        right.addWidget(self.order)
        outer.addLayout(right, 1)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show the parts of a vehicle's box."""
        vehicle = evaluation.vehicle
        self.plan = assembly_plan(vehicle)
        self.view.empty = self.plan.trouble or why_no_place(vehicle)
        if self.plan.parts != self.view.parts:
            self.view.take_parts(self.plan.parts)
        marked = {joint.key: joint.kind for joint in vehicle.assembly.joints}
        self._names = {part.key: describe_part(vehicle, part) for part in self.plan.parts}
        rows = [
            [
                Cell(self._names[part.key], tip=self._names[part.key]),
                self._state_cell(vehicle, part.key),
                Cell(word(joint_of(vehicle, part)), bold=part.key in marked),
            ]
            for part in self.plan.parts
        ]
        if rows:
            self._couplings = couplings_of(vehicle)
            rows += [
                [Cell(words), Cell(""), Cell(word(marked.get(f"coupling: {shaft}", "slides")))]
                for shaft, words in self._couplings.items()
            ]
        self.table.show_cells(rows)
        if self.session.part:
            self._choose(self.session.part)
        for made in self.models.values():
            made.setEnabled(bool(rows))
        self._show()

    def _state_cell(self, vehicle: Vehicle, key: str) -> Cell:
        """Say how far a part is, or that it is to be made anew, and which version asks for that."""
        again = superseded(vehicle).get(key)
        if again is None:
            return Cell(word(state_of(vehicle, key) or ""))
        tip = say("tab-workshop.drawn-otherwise-now")
        if again.revision:
            tip = say("tab-workshop.drawn-otherwise-since", revision=again.revision)
        return Cell(say("tab-workshop.to-remake"), color=self.view.theme.tokens.warn, tip=tip)

    def heading(self) -> str:
        """Say how far the parts are."""
        if not self.plan.parts:
            return say("tab-workshop.parts-of-the-box")
        progress = progress_of(self.session.vehicle, [part.key for part in self.plan.parts])
        return say(
            "tab-workshop.parts-made-of-them-fitted",
            count_of_states=len(self.plan.parts),
            made=progress.made + progress.fitted,
            count=progress.fitted,
        )

    @property
    def part(self) -> Component | None:
        """The part that is chosen; None for a coupling."""
        row = self.table.currentRow()
        return self.plan.parts[row] if 0 <= row < len(self.plan.parts) else None

    def _coupling(self) -> str | None:
        row = self.table.currentRow() - len(self.plan.parts)
        if self.plan.parts and 0 <= row < len(self._couplings):
            return say("tab-workshop.coupling", list=list(self._couplings)[row])
        return None

    def _show(self) -> None:
        part, vehicle = self.part, self.session.vehicle
        self.state.setEnabled(part is not None)
        self.joint.setEnabled(part is not None or self._coupling() is not None)
        self.removal = None
        if part is None:
            self.words.setText(
                say("tab-workshop.choose-a-part-what-has-to-come-out-to-reach")
                if self.plan.parts
                else ""
            )
            key = self._coupling()
            joint_kind = next((j.kind for j in vehicle.assembly.joints if j.key == key), None)
            self.joint.setCurrentIndex(self.joint.findData(joint_kind))
        else:
            self.state.setCurrentIndex(self.state.findData(state_of(vehicle, part.key)))
            kind = next((j.kind for j in vehicle.assembly.joints if j.key == part.key), None)
            self.joint.setCurrentIndex(self.joint.findData(kind))
            self.removal = take_apart(vehicle, part.key)
            self.words.setText(self.removal.words)
        taken = self.removal or Removal("", 1, (), (), (), "")
        self.order.show_cells(
            [
                [
                    Cell(str(number), right=True),
                    Cell(self._names[key], tip=self._names[key], bold=key == taken.target),
                    Cell(undo, tip=undo),
                ]
                for number, (key, undo) in enumerate(zip(taken.order, taken.joints, strict=True), 1)
            ]
        )
        self.order.setVisible(bool(taken.order))
        self._draw()

    def _row_chosen(self) -> None:
        self._show()
        if self.part is not None:
            self.session.choose(self.part.key)

    def _choose(self, key: str) -> None:
        """Choose a part in the list that was pressed in a picture."""
        self.session.choose(key)
        row = next((n for n, part in enumerate(self.plan.parts) if part.key == key), -1)
        if row >= 0 and row != self.table.currentRow():
            self.table.setCurrentCell(row, 0)
        self.view.choose(key)

    def _draw(self) -> None:
        """Draw the parts apart; the chosen one is marked."""
        self._stop()
        part, evaluation = self.part, self.session.evaluation
        self.play.setEnabled(self.removal is not None and bool(self.removal.order))
        spread = self.spread.value() / 10
        self.view.choose("" if part is None else part.key)
        self.view.show_build(evaluation, None, {})
        moves = apart_moves(self.plan, self.plan.parts, spread) if spread else None
        self.view.show_apart(evaluation, moves)
        if self._fitted != spread:
            self._fitted = spread
            self.view.fit()

    def _toggle(self) -> None:
        """Take out what stands before the chosen part, one after the other; or stop."""
        if self._out is not None or self.removal is None:
            self._draw()
            return
        self._out = []
        self.play.setText(shown(say("tab-workshop.stop-taking-out")))
        self.view.show_apart(self.session.evaluation, None)
        self._fitted = -1.0
        self._take_next()

    def _take_next(self) -> None:
        out, removal = self._out, self.removal
        if out is None or removal is None:
            return
        if len(out) == len(removal.order):
            self._stop()
            return
        key = removal.order[len(out)]
        there = {part.key for part in self.plan.parts} - set(out) - {key}
        out.append(key)
        own = next((s.way for s in self.plan.steps if key in s.keys), removal.way)
        way = SIDE if own == SIDE else removal.way
        self.view.show_build(
            self.session.evaluation, there, coming_moves(self.plan, [key], way), off=0.0
        )
        self.view.move_in(1.0, self._take_next)

    def _stop(self) -> None:
        self._out = None
        self.play.setText(shown(say("tab-workshop.play-taking-out")))

    def hideEvent(self, event: QHideEvent | None) -> None:
        self._stop()
        super().hideEvent(event)

    def _model(self, form: str) -> None:
        """Write the whole box as one solid model, in the background."""
        job = Job("box model", (self.session.vehicle, form))
        self.search_wanted.emit(
            job,
            lambda data: self.bytes_wanted.emit(f"box.{form}", data),
            say("tab-workshop.making-the-model"),
        )

    def _mark_state(self) -> None:
        if self.part is not None:
            keys = [self.part.key]
            self.session.do(mark_states(self.session.vehicle, keys, self.state.currentData()))

    def _mark_joint(self) -> None:
        key = self.part.key if self.part is not None else self._coupling()
        if key is not None:
            self.session.do(mark_joint(self.session.vehicle, key, self.joint.currentData()))
