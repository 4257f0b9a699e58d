"""The order in which the box goes together, step by step, with a picture and the mistakes."""

from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from mild_badger.app.drawing.figure_view import FigureView
from mild_badger.app.drawing.records import Column, RecordTable
from mild_badger.app.drawing.tables import Cell
from mild_badger.app.drawing.widgets import button, caption, row_of
from mild_badger.app.session import Session
from mild_badger.app.theme.style import Theme
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.layout.reason import why_no_place
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.assembly import (
    AssemblyPlan,
    Build,
    assembly_plan,
    step_done,
    tick_step,
)
from mild_badger.core.workshop.scene import step_figure

__all__ = ["AssemblyPage"]


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
        self.view = FigureView(theme, say("tab-workshop.the-box-so-far-and-what-comes-now"))
        right.addWidget(self.view, 1)
        self.words = caption("", wrap=True)
        self.parts = caption("", "soft", wrap=True)
        self.mistakes = caption("", wrap=True)
        for label in (self.words, self.parts, self.mistakes):
            right.addWidget(label)
        self.before = button(say("tab-workshop.step-before"), lambda: self._go(-1))
        self.after = button(say("tab-workshop.next-step"), lambda: self._go(1), "main")
        right.addLayout(row_of(self.before, self.after))
        outer.addLayout(right, 1)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show the order of a vehicle's box."""
        vehicle = evaluation.vehicle
        self.plan = assembly_plan(vehicle)
        self.view.empty = self.plan.trouble or why_no_place(vehicle)
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
        step = self.step
        for thing in (self.before, self.after):
            thing.setEnabled(step is not None)
        if step is None:
            self.view.show_figure(self.session.evaluation, None)
            for label in (self.words, self.parts, self.mistakes):
                label.clear()
            return
        self.view.show_figure(self.session.evaluation, step_figure(self.plan, step))
        self.words.setText(f"{step.number}. {step.words}")
        self.parts.setText(" · ".join(step.counts))
        self.parts.setVisible(bool(step.counts))
        self.mistakes.setText(say("tab-workshop.often-done-wrong") + " ".join(step.mistakes))
        self.mistakes.setVisible(bool(step.mistakes))

    def _go(self, by: int) -> None:
        row = min(max(self.table.currentRow() + by, 0), self.table.rowCount() - 1)
        self.table.setCurrentCell(row, 1)

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
