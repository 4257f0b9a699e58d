"""The function box: the table of positions and outputs, what it takes, the list of trials."""

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QMenu,
    QPlainTextEdit,
    QStackedWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from mild_badger.app.benches.shift.function_view import FunctionView
from mild_badger.app.drawing.widgets import (
    Cell,
    Choice,
    Table,
    button,
    caption,
    field_of,
    row_of,
)
from mild_badger.app.session import Session
from mild_badger.app.theme.style import Theme
from mild_badger.core.changes import Edit
from mild_badger.core.errors import BadgerError
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.functions.result import FunctionResult
from mild_badger.core.functions.table import (
    CELL_HELP,
    add_output,
    add_position,
    cell_text,
    drive_text,
    drop_functions,
    parse_cell,
    parse_drive,
    parse_motor,
    remove_output,
    remove_position,
    rename_output,
    rename_position,
    set_cell,
    start_functions,
)
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["FunctionPage"]

MOTOR_WORDS = {"both": "both ways", "forward": "forward", "backward": "backward"}
NAME, MOTOR, FIRST = 0, 1, 2
"""Columns of the table of positions."""


class FunctionPage(QWidget):
    """The picture above; below what each output does in each position, and the outputs."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session, self._theme = session, theme
        self._direction = 1
        self._result: FunctionResult | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.view = FunctionView(theme)
        self.trials = QPlainTextEdit()
        self.trials.setReadOnly(True)
        self.trials.setAccessibleName("Trial list")
        self.pictures = QStackedWidget()
        self.pictures.addWidget(self.view)
        self.pictures.addWidget(self.trials)
        column.addWidget(self.pictures, 5)
        self.empty = QWidget()
        start = button("Start a function box", self._start, "main")
        self.empty.setLayout(row_of(start))
        column.addWidget(self.empty)
        self.full = QWidget()
        column.addWidget(self.full, 4)
        self._fill(QVBoxLayout(self.full))
        self.words = caption("", wrap=True)
        self.words.setAccessibleName("What the function box takes and does")
        column.addWidget(self.words)

    def _fill(self, column: QVBoxLayout) -> None:
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        session = self.session
        self.motor = button("Motor forwards", self._turn_motor)
        self.list_button = button("Trial list", self._show_trials)
        self.list_button.setCheckable(True)
        self.actuation = Choice(
            session, ("functions", "actuation"), "Functions selected by",
            {"drum": "a drum", "one lever": "one lever"},
        )  # fmt: skip
        self.rpm = field_of(session, ("functions", "motor_rpm"), "Function motor's speed", width=48)
        self.tolerance = field_of(
            session, ("functions", "tolerance_percent"), "Ratio error", width=40
        )  # fmt: skip
        self.change = button("Table", lambda: None)
        menu = QMenu(self.change)
        for words, do in (
            ("Add a position", lambda: self._do(add_position)),
            ("Add an output", lambda: self._do(add_output)),
            ("Remove the chosen position", self._remove_position),
            ("Remove the chosen output", self._remove_output),
            ("Take the function box out", lambda: self.session.do(drop_functions())),
        ):
            action = menu.addAction(words)
            if action is not None:
                action.triggered.connect(lambda _on=False, done=do: done())
        self.change.setMenu(menu)
        column.addLayout(
            row_of(self.motor, self.list_button, self.change, "by", self.actuation, "at", self.rpm,
                   caption("rpm", "soft"), "error", self.tolerance, caption("%", "soft"))
        )  # fmt: skip
        tables = QHBoxLayout()
        tables.setSpacing(10)
        self.table = Table(("position", "motor"), "What each output does in each position")
        self.table.setToolTip(CELL_HELP)
        self.table.itemChanged.connect(self._edited)
        self.table.currentCellChanged.connect(lambda *_where: self._show())
        tables.addWidget(self.table, 3)
        self.outputs = Table(("output", "drives", "one way"), "The outputs")
        self.outputs.setToolTip(
            "Drives: shaft, spool 20 (diameter), screw 4 (lead), rack 16 (pinion's pitch "
            "diameter), ring 7 (turns in per turn)"
        )
        self.outputs.itemChanged.connect(self._output_edited)
        tables.addWidget(self.outputs, 2)
        column.addLayout(tables, 1)

    def _do(self, make: Callable[[Vehicle], Edit]) -> None:
        try:
            self.session.do(make(self.session.vehicle))
        except BadgerError as error:
            self.session.refused.emit(str(error))

    def _start(self) -> None:
        self.session.do(start_functions())

    def _turn_motor(self) -> None:
        self._direction = -self._direction
        self._show()

    def _show_trials(self) -> None:
        self.pictures.setCurrentWidget(self.trials if self.list_button.isChecked() else self.view)

    def _position(self) -> str:
        """Name of the position in the chosen row, the first where none is chosen."""
        result = self._result
        if result is None or not result.box.positions:
            return ""
        row = self.table.currentRow()
        places = result.box.positions
        return places[row if 0 <= row < len(places) else 0].name

    def _remove_position(self) -> None:
        name = self._position()
        if name:
            self.session.do(remove_position(self.session.vehicle, name))

    def _remove_output(self) -> None:
        result = self._result
        row = self.outputs.currentRow()
        if result is not None and 0 <= row < len(result.box.outputs):
            name = result.box.outputs[row].name
            self.session.do(remove_output(self.session.vehicle, name))
        else:
            self.session.refused.emit("Choose an output in the table of outputs first.")

    def refresh(self, evaluation: Evaluation) -> None:
        """Show the function box of a vehicle."""
        result = self._result = evaluation.functions
        self.view.show_evaluation(evaluation)
        self.empty.setVisible(result is None)
        self.full.setVisible(result is not None)
        if result is None:
            self.list_button.setChecked(False)
            self.pictures.setCurrentWidget(self.view)
            self.words.setText("")
            return
        box, school = result.box, self.session.school
        names = [output.name for output in box.outputs]
        if self.table.columnCount() != FIRST + len(names):
            self.table.setColumnCount(FIRST + len(names))
        self.table.setHorizontalHeaderLabels(["position", "motor", *names])
        self.table.show_cells(
            [
                [
                    Cell(position.name, editable=True),
                    Cell(MOTOR_WORDS[position.motor], editable=True),
                    *(
                        Cell(cell_text(position.want(name), school) or "–", editable=True)
                        for name in names
                    ),
                ]
                for position in box.positions
            ]
        )
        self.outputs.show_cells(
            [
                [
                    Cell(output.name, editable=True),
                    Cell(drive_text(output), editable=True),
                    Cell("always" if output.one_way else "", checked=output.one_way),
                ]
                for output in box.outputs
            ]
        )
        self.actuation.show_value(box.actuation)
        self.rpm.show_value(f"{box.motor_rpm:g}")
        self.tolerance.show_value(f"{box.tolerance_percent:g}")
        self.trials.setPlainText("\n".join(f"{n}. {s}" for n, s in enumerate(result.trials, 1)))
        self.words.setText(" ".join((result.words, *result.arrangement.problems)))
        self._show()

    def _show(self) -> None:
        ways = {1: "forwards", -1: "backwards"}
        self.motor.setText(f"Motor {ways[self._direction]}")
        self.view.show_state(self._position(), self._direction)

    def _edited(self, item: QTableWidgetItem) -> None:
        result = self._result
        if result is None:
            return
        position = result.box.positions[item.row()]
        vehicle, text = self.session.vehicle, item.text()
        try:
            if item.column() == NAME:
                taken = self.session.do(rename_position(vehicle, position.name, text.strip()))
            elif item.column() == MOTOR:
                way = parse_motor(text, position=position.name)
                path = ("functions", "positions", item.row(), "motor")
                taken = self.session.do(Edit.one(f"Set the motor in {position.name}", path, way))
            else:
                output = result.box.outputs[item.column() - FIRST].name
                want = parse_cell(text, output=output, school=self.session.school)
                taken = self.session.do(set_cell(vehicle, position.name, output, want))
        except BadgerError as error:
            self.session.refused.emit(str(error))
            taken = False
        if not taken:
            self.refresh(self.session.evaluation)

    def _output_edited(self, item: QTableWidgetItem) -> None:
        result = self._result
        if result is None:
            return
        output = result.box.outputs[item.row()]
        place = ("functions", "outputs", item.row())
        try:
            if item.column() == 0:
                edit = rename_output(self.session.vehicle, output.name, item.text().strip())
            elif item.column() == 1:
                kind, measure = parse_drive(item.text(), output=output.name)
                changed = output.model_copy(update={"kind": kind, "measure": measure})
                edit = Edit.one(f"Change what {output.name} drives", place, changed)
            else:
                on = item.checkState() is Qt.CheckState.Checked
                edit = Edit.one(f"Turn {output.name} one way", (*place, "one_way"), on)
            taken = self.session.do(edit)
        except BadgerError as error:
            self.session.refused.emit(str(error))
            taken = False
        if not taken:
            self.refresh(self.session.evaluation)
