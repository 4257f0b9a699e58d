"""The cables' page: a line for each in the picture, a table of its holes below, sizes right."""

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QGridLayout, QSlider, QVBoxLayout

from mild_badger.app.drawing.fields import DocumentLineEdit, FieldForm, FieldSpec
from mild_badger.app.drawing.tables import Cell, Table
from mild_badger.app.drawing.widgets import button, caption, row_of
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.tabs.machine.cables_view import CablesView
from mild_badger.app.tabs.machine.mechanism_page import MechanismPage
from mild_badger.app.theme.style import Theme
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import MM, bare, in_mm
from mild_badger.core.mechanisms.cables.describe import describe_cables
from mild_badger.core.mechanisms.cables.edits import (
    add_run,
    apply_best_holes,
    apply_holes,
    remove_run,
    set_levers,
)
from mild_badger.core.mechanisms.cables.model import CableRun, Cables
from mild_badger.core.mechanisms.cables.strokes import hole_rows
from mild_badger.core.mechanisms.registry import mechanism_on
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.change import Edit, Path
from mild_badger.core.words import signed
from mild_badger.text.fields import lengths_text, parse_lengths

__all__ = ["CablesPage"]

CABLES = ("cables",)
FIELDS = (
    FieldSpec((*CABLES, "hand_mm")),
    FieldSpec((*CABLES, "stroke_mm")),
    FieldSpec((*CABLES, "swing_deg")),
    FieldSpec(
        (*CABLES, "apart"),
        choices=(("true", say("tab-machine.one-per-cable")), ("false", say("tab-machine.shared"))),
    ),
    FieldSpec((*CABLES, "step_percent")),
)


class CablesPage(MechanismPage):
    """A cable is chosen in the picture, its holes in the table."""

    def __init__(self, session: Session, theme: Theme) -> None:
        self.view = CablesView(theme)
        super().__init__(session, mechanism_on("cables"), self.view, FIELDS, scrolls=True)
        self.selected = 0
        self.view.chosen.connect(self._choose)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setRange(0, 100)
        self.slider.setValue(100)
        self.slider.setAccessibleName(say("tab-machine.hand-travel-shown"))
        self.slider.valueChanged.connect(lambda value: self.view.throw(value / 100))
        self.left.insertWidget(1, self.slider)
        self.table = Table(
            ("holes", say("tab-machine.travel", mm=MM), "off, %"),
            say("tab-machine.holes-of-the-chosen-cable"),
        )
        self.table.header_right(1, 2)
        self.table.stretch(0)
        self.table.setFixedHeight(120)
        self.table.cellDoubleClicked.connect(lambda row, _c: self._take(row))
        self.left.insertWidget(2, self.table)
        self.best = button(say("tab-machine.use-the-best-holes"), self._best)
        self.take = button(
            say("tab-machine.use-the-selected-holes"), lambda: self._take(self.table.currentRow())
        )
        self.left.insertLayout(3, row_of(self.take, self.best))
        grid = QGridLayout()
        grid.setVerticalSpacing(4)
        self.lines: dict[str, DocumentLineEdit] = {}
        rows: tuple[tuple[str, str, Callable[[str], bool]], ...] = (
            ("hand", shown(say("tab-machine.holes-of-the-hand-lever", mm=MM)), self._hand_holes),
            ("name", say("tab-machine.cable-name"), self._rename),
            (
                say("tab-machine.first"),
                shown(say("tab-machine.holes-of-lever-1", mm=MM)),
                lambda text: self._lever_holes(0, text),
            ),
            (
                say("tab-machine.second"),
                shown(say("tab-machine.holes-of-lever-2", mm=MM)),
                lambda text: self._lever_holes(1, text),
            ),
        )
        for number, (key, words, commit) in enumerate(rows):
            self.lines[key] = DocumentLineEdit(session, commit, words)
            grid.addWidget(caption(words), number, 0)
            grid.addWidget(self.lines[key], number, 1)
        self.count = QComboBox()
        self.count.setAccessibleName(say("tab-machine.levers-on-the-way"))
        for number, words in enumerate(
            (
                say("tab-machine.no-lever"),
                say("tab-machine.one-lever"),
                say("tab-machine.two-levers"),
            )
        ):
            self.count.addItem(shown(words), number)
        self.count.activated.connect(lambda _n: self._levers())
        grid.addWidget(caption(say("tab-machine.levers-on-the-way")), len(rows), 0)
        grid.addWidget(self.count, len(rows), 1)
        self.right.addLayout(grid)
        self._own_place = QVBoxLayout()
        self.right.addLayout(self._own_place)
        self.own: FieldForm | None = None
        self._own_key: object = None
        self.more = button(say("tab-machine.add-a-cable"), self._add)
        self.less = button(say("tab-machine.remove-this-cable"), self._less)
        self.right.addLayout(row_of(self.more, self.less))

    def refresh(self, evaluation: Evaluation) -> None:
        """Show a vehicle's cables."""
        cables = evaluation.vehicle.cables
        count = len(cables.runs) if cables is not None else 0
        self.selected = min(self.selected, max(count - 1, 0))
        words = describe_cables(evaluation.vehicle)
        self.show_planned(evaluation, words, planned=cables is not None)
        run = cables.runs[self.selected] if cables is not None and cables.runs else None
        for thing in (
            *self.lines.values(),
            self.count,
            self.table,
            self.take,
            self.best,
            self.slider,
            self.less,
        ):
            thing.setEnabled(run is not None)
        self.lines["hand"].setEnabled(cables is not None)
        self.more.setEnabled(cables is not None)
        self.table.setVisible(cables is not None)
        if cables is not None:
            self.lines["hand"].show_value(lengths_text(cables.holes_mm, evaluation.vehicle))
        if cables is not None and run is not None:
            self._show_run(evaluation, cables, run)
        else:
            self.table.show_cells([])
        if self.own is not None:
            self.own.setVisible(run is not None)
        self.view.show_cables(evaluation, self.selected)

    def _show_run(self, evaluation: Evaluation, cables: Cables, run: CableRun) -> None:
        self.lines["name"].show_value(run.name)
        for number, key in enumerate(("first", "second")):
            there = number < len(run.levers)
            self.lines[key].setEnabled(there)
            self.lines[key].show_value(
                lengths_text(run.levers[number].holes_mm, evaluation.vehicle) if there else ""
            )
        self.count.setCurrentIndex(len(run.levers))
        self.table.show_cells(
            [
                [
                    Cell(words),
                    Cell(bare(in_mm(choice.travel, 2)), right=True),
                    Cell(signed(choice.error_percent, "+.1f"), right=True),
                ]
                for choice, words in hole_rows(cables, self.selected)
            ]
        )
        path: Path = (*CABLES, "runs", self.selected)
        if self._own_key != path:
            self._own_key = path
            if self.own is not None:
                self._own_place.removeWidget(self.own)
                self.own.deleteLater()
            self.own = FieldForm(
                self.session,
                (
                    FieldSpec((*path, "from_hole")),
                    FieldSpec((*path, "wanted_mm")),
                    FieldSpec(
                        (*path, "works"),
                        choices=(
                            ("something", say("tab-machine.another-part")),
                            ("motor speed", "motor speed"),
                        ),
                    ),
                    FieldSpec((*path, "slack_mm")),
                    FieldSpec((*path, "loss")),
                    FieldSpec((*path, "push_n")),
                ),
            )
            self._own_place.addWidget(self.own)
        if self.own is not None:
            self.own.show_values(evaluation.vehicle)

    def facts(self) -> str:
        """Say what the page does."""
        return say("tab-machine.from-the-holes-of-one-lever-to-several")

    def _cables(self) -> Cables:
        return self.session.vehicle.cables or Cables(runs=())

    def _choose(self, number: int) -> None:
        self.selected = number
        self.refresh(self.session.evaluation)

    def _hand_holes(self, text: str) -> bool:
        holes = parse_lengths(
            text, what=say("tab-machine.holes-of-the-hand-lever-2"), vehicle=self.session.vehicle
        )
        return self.session.do(
            Edit.one(say("tab-machine.drill-the-hand-lever"), (*CABLES, "holes_mm"), holes)
        )

    def _lever_holes(self, number: int, text: str) -> bool:
        holes = parse_lengths(
            text,
            what=say("tab-machine.holes-of-lever", number=number + 1),
            vehicle=self.session.vehicle,
        )
        path = (*CABLES, "runs", self.selected, "levers", number, "holes_mm")
        return self.session.do(
            Edit.one(say("tab-machine.drill-lever", number=number + 1), path, holes)
        )

    def _rename(self, text: str) -> bool:
        path = (*CABLES, "runs", self.selected, "name")
        return self.session.do(Edit.one(say("tab-machine.name-the-cable"), path, text.strip()))

    def _levers(self) -> None:
        self.session.do(set_levers(self._cables(), self.selected, self.count.currentIndex()))

    def _take(self, row: int) -> None:
        rows = hole_rows(self._cables(), self.selected)
        if 0 <= row < len(rows):
            self.session.do(apply_holes(self._cables(), self.selected, rows[row][0]))

    def _best(self) -> None:
        edit = apply_best_holes(self._cables())
        if edit is None:
            self.session.refused.emit(
                say("tab-machine.some-cable-finds-no-hole-drill-more-holes-or")
            )
        else:
            self.session.do(edit)

    def _add(self) -> None:
        edit = add_run(self.session.vehicle)
        if edit is not None and self.session.do(edit):
            self._choose(len(self._cables().runs) - 1)

    def _less(self) -> None:
        self.session.do(remove_run(self._cables(), self.selected))
