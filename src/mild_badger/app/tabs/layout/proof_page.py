"""The proof by solids: whether any two parts of the box touch, in any gear and on the way there."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QSlider, QVBoxLayout, QWidget

from mild_badger.app.drawing.tables import Cell, Table
from mild_badger.app.drawing.widgets import button, caption, row_of
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.tabs.layout.parts_view import PartsView
from mild_badger.app.tabs.layout.section_view import SectionView
from mild_badger.app.theme.style import Theme
from mild_badger.core.components.collide import (
    Collision,
    collision_findings,
    describe_collision,
    proven_of,
)
from mild_badger.core.components.component import Component
from mild_badger.core.components.lever_parts import lever_parts
from mild_badger.core.components.vehicle_parts import has_place
from mild_badger.core.errors import InputError
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import MM, bare, in_mm
from mild_badger.core.findings.finding import Finding
from mild_badger.core.layout.reason import why_no_place
from mild_badger.core.mechanisms.lever.reach import lever_seen
from mild_badger.core.message import say
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.jobs.registry import Job

__all__ = ["ProofPage"]

TOUCHING = (
    say("tab-layout.parts-that-touch"),
    say("tab-layout.depth", mm=MM),
    say("tab-layout.where-and-what-to-do"),
)


class ProofPage(QWidget):
    """Above the box along its shafts, below what touches; the proof runs in the background."""

    search_wanted = pyqtSignal(object, object, str)

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session, self.theme = session, theme
        self._asked: tuple[object, ...] | None = None
        self._known: tuple[tuple[object, ...], Collision] | None = None
        self._findings: tuple[Finding, ...] = ()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.prove_now = button(say("tab-layout.prove-by-solids"), self.prove, "main")
        self.mend = button(say("tab-layout.change-it"), self._mend)
        column.addLayout(row_of(self.prove_now, self.mend))
        self.words = caption("", wrap=True)
        self.words.setAccessibleName(say("tab-layout.result-of-the-proof"))
        column.addWidget(self.words)
        self.side = SectionView(theme)
        self.side.engage.connect(session.engage)
        column.addWidget(self.side, 1)
        self.levers = self._lever_views(theme)
        column.addWidget(self.levers, 2)
        self.table = Table(TOUCHING, say("tab-layout.parts-that-touch"))
        self.table.header_right(1)
        self.table.stretch(2)
        self.table.currentCellChanged.connect(lambda *_at: self._offer())
        column.addWidget(self.table, 1)
        self.told = caption("", wrap=True)
        self.told.setAccessibleName(say("tab-layout.where-and-what-to-do"))
        column.addWidget(self.told)

    def _lever_views(self, theme: Theme) -> QWidget:
        """Make the views of a lever drive, whose throws can be turned."""
        made = QWidget()
        column = QVBoxLayout(made)
        column.setContentsMargins(0, 0, 0, 0)
        self.end_parts, self.side_parts = PartsView(theme, side=False), PartsView(theme, side=True)
        views = QHBoxLayout()
        views.setSpacing(10)
        views.addWidget(self.end_parts, 3)
        views.addWidget(self.side_parts, 2)
        column.addLayout(views, 1)
        self.throws = QSlider(Qt.Orientation.Horizontal)
        self.throws.setRange(0, 359)
        self.throws.setAccessibleName(shown(say("tab-layout.angle-of-the-throws")))
        self.throws.valueChanged.connect(lambda _angle: self._show_levers())
        turning = QHBoxLayout()
        turning.addWidget(caption(say("tab-layout.angle-of-the-throws")))
        turning.addWidget(self.throws, 1)
        column.addLayout(turning)
        return made

    def _show_levers(self) -> None:
        """Draw the lever drive with its fulcrum as the engaged gear has it."""
        evaluation = self.session.evaluation
        seen = lever_seen(evaluation.vehicle, evaluation.situation.gear)
        place = None if seen is None else seen.fulcrum_mm
        parts: tuple[Component, ...] = ()
        empty = ""
        try:
            box = lever_parts(evaluation.vehicle, place, float(self.throws.value()))
            parts = () if box is None else box.components
        except InputError as error:
            empty = str(error)
        for view in (self.end_parts, self.side_parts):
            view.empty = empty
            view.show_parts(evaluation, parts)

    def prove(self) -> None:
        """Prove the box as it stands now."""
        if not has_place(self.session.vehicle):
            return
        self._asked = proven_of(self.session.vehicle)
        job = Job("proof by solids", (self.session.vehicle,))
        self.search_wanted.emit(job, self._proven, say("tab-layout.proving-by-solids"))

    def _proven(self, collision: Collision) -> None:
        if self._asked is not None:
            self._known = (self._asked, collision)
        self._show(self.session.vehicle)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show a vehicle's box and what is known of it."""
        lever = evaluation.vehicle.box.lever is not None
        self.side.setVisible(not lever)
        self.levers.setVisible(lever)
        if lever:
            self._show_levers()
        else:
            self.side.show_box(evaluation, evaluation.vehicle, "")
        self._show(evaluation.vehicle)

    def _show(self, vehicle: Vehicle) -> None:
        placed = has_place(vehicle)
        holds = self._known is not None and self._known[0] == proven_of(vehicle)
        self._findings = ()
        self.prove_now.setEnabled(placed)
        if not placed:
            text: str = why_no_place(vehicle)
        elif self._known is None:
            text = say("tab-layout.not-proven-yet-press-prove-by-solids")
        elif not holds:
            text = say("tab-layout.the-box-has-changed-since-prove-it-again")
        else:
            collision = self._known[1]
            self._findings = tuple(collision_findings(vehicle, collision))
            verdict = say("tab-layout.nothing-touches") if not self._findings else ""
            text = f"{verdict} {describe_collision(collision)}".strip()
        self.words.setText(text)
        bad = self.theme.tokens.bad
        self.table.show_cells(
            [
                [
                    Cell(finding.title, tip=finding.title, color=bad),
                    Cell(bare(in_mm(finding.figure or 0.0, 2)), right=True),
                    Cell(finding.text, tip=finding.text),
                ]
                for finding in self._findings
            ]
        )
        self.table.setVisible(bool(self._findings))
        self._offer()

    def _chosen(self) -> Finding | None:
        row = max(self.table.currentRow(), 0)
        return self._findings[row] if row < len(self._findings) else None

    def _offer(self) -> None:
        finding = self._chosen()
        self.mend.setVisible(finding is not None and finding.mend is not None)
        self.told.setText("" if finding is None else finding.text)
        if finding is not None and finding.mend is not None:
            self.mend.setText(finding.mend.label)

    def _mend(self) -> None:
        finding = self._chosen()
        if finding is not None and finding.mend is not None:
            self.session.do(finding.mend)
