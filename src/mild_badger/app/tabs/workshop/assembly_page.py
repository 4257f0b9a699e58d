"""The order in which the box goes together, step by step, with a picture and the mistakes."""

from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QHideEvent
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from mild_badger.app.drawing.records import Column, RecordTable
from mild_badger.app.drawing.tables import Cell
from mild_badger.app.drawing.widgets import button, caption, row_of
from mild_badger.app.scene.build_view import BuildView
from mild_badger.app.scene.part_menu import part_menu
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.theme.style import Theme
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.layout.reason import why_no_place
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.assembly import (
    AssemblyPlan,
    Build,
)
from mild_badger.core.workshop.checks import describe_check, meshes_made
from mild_badger.core.workshop.further_steps import vehicle_steps
from mild_badger.core.workshop.states import step_done, tick_step
from mild_badger.core.workshop.ways_in import coming_moves

__all__ = ["AssemblyPage"]

PAUSE_MS = 500
"""Between two steps that are played."""


class AssemblyPage(QWidget):
    """Steps left, the picture of the chosen one and what to do right."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session = session
        self.plan = AssemblyPlan((), (), ())
        outer = QHBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(12)
        self.table = RecordTable(session, self._columns(), say("tab-workshop.steps"))
        self.table.stretch(1)
        self.table.setFixedWidth(250)
        self.table.currentCellChanged.connect(lambda *_: self._show())
        outer.addWidget(self.table)
        right = QVBoxLayout()
        right.setSpacing(6)
        self.view = BuildView(theme, say("tab-workshop.the-box-so-far-and-what-comes-now"))
        self.view.choose(session.part)
        self.view.chosen.connect(session.choose)
        self.view.asked.connect(lambda part, place: part_menu(session, part).popup(place))
        session.part_chosen.connect(self.view.choose)
        right.addWidget(self.view, 1)
        self.words = caption("", wrap=True)
        self.parts = caption("", "soft", wrap=True)
        self.mistakes = caption("", wrap=True)
        self.checks = caption("", wrap=True)
        for label in (self.words, self.parts, self.checks, self.mistakes):
            right.addWidget(label)
        self.before = button(say("tab-workshop.step-before"), lambda: self._go(-1))
        self.after = button(say("tab-workshop.next-step"), lambda: self._go(1), "main")
        self.play = button(say("tab-workshop.play-the-assembly"), self._toggle)
        self._playing = False
        self._pause = QTimer(self)
        self._pause.setSingleShot(True)
        self._pause.setInterval(PAUSE_MS)
        self._pause.timeout.connect(self._play_on)
        right.addLayout(row_of(self.before, self.after, self.play))
        outer.addLayout(right, 1)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show the order of a vehicle's box."""
        vehicle = evaluation.vehicle
        self.plan = vehicle_steps(vehicle)
        self.view.empty = self.plan.trouble or why_no_place(vehicle)
        if self.plan.parts != self.view.parts:
            self._stop()
            self.view.take_parts(self.plan.parts)
        self.table.show_records(self.plan.steps)
        if self.plan.steps and self.table.currentRow() < 0:
            left = (n for n, s in enumerate(self.plan.steps) if not step_done(vehicle, s))
            self.table.setCurrentCell(next(left, 0), 1)
        self._show()

    def heading(self) -> str:
        """Say how far the box is."""
        steps = self.plan.steps
        done = sum(step_done(self.session.vehicle, step) for step in steps)
        return (
            say("tab-workshop.assembly-of-steps-done", done=done, count_of_steps=len(steps))
            if steps
            else say("tab-workshop.assembly")
        )

    @property
    def step(self) -> Build | None:
        """The step that is chosen."""
        row = self.table.currentRow()
        return self.plan.steps[row] if 0 <= row < len(self.plan.steps) else None

    def _show(self) -> None:
        step, evaluation = self.step, self.session.evaluation
        for thing in (self.before, self.after, self.play):
            thing.setEnabled(step is not None)
        if step is None:
            self.view.show_build(evaluation, frozenset(), {})
            for label in (self.words, self.parts, self.checks, self.mistakes):
                label.clear()
            return
        self.view.told = say(
            "workshop.step-told", number=step.number, title=step.title, words=step.words
        )
        coming = coming_moves(self.plan, step.coming, step.way)
        self.view.show_build(evaluation, self.plan.there_before(step.number), coming)
        if self._playing:
            self.view.move_in(0.0, self._pause.start)
        self.words.setText(f"{step.number}. {step.words}")
        self.parts.setText(" · ".join(step.counts))
        self.parts.setVisible(bool(step.counts))
        vehicle = evaluation.vehicle
        checks = describe_check(vehicle, meshes_made(vehicle, self.plan, step))
        self.checks.setText(say("publish.check", listed=" ".join(checks)) if checks else "")
        self.checks.setVisible(bool(checks))
        self.mistakes.setText(say("tab-workshop.often-done-wrong") + " ".join(step.mistakes))
        self.mistakes.setVisible(bool(step.mistakes))

    def _go(self, by: int) -> None:
        row = min(max(self.table.currentRow() + by, 0), self.table.rowCount() - 1)
        self.table.setCurrentCell(row, 1)

    def _toggle(self) -> None:
        """Let the parts come in, step after step from the one that is chosen; or stop."""
        if self._playing:
            self._stop()
            return
        self._playing = True
        self.play.setText(shown(say("tab-workshop.stop-the-assembly")))
        self._show()

    def _stop(self) -> None:
        self._playing = False
        self._pause.stop()
        self.play.setText(shown(say("tab-workshop.play-the-assembly")))

    def _play_on(self) -> None:
        if self.table.currentRow() + 1 < self.table.rowCount():
            self._go(1)
        else:
            self._stop()

    def hideEvent(self, event: QHideEvent | None) -> None:
        self._stop()
        super().hideEvent(event)

    def _columns(self) -> tuple[Column[Build], ...]:
        def ticked(vehicle: Vehicle, row: int, on: bool) -> Edit:
            return tick_step(vehicle, self.plan.steps[row], on)

        return (
            Column(
                "",
                lambda step: Cell(str(step.number), checked=step_done(self.session.vehicle, step)),
                ticked=ticked,
            ),
            Column(say("tab-workshop.step"), lambda step: Cell(step.title, tip=step.words)),
        )
