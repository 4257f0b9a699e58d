"""The function box: the table of positions and outputs, what it takes, the list of trials."""

from collections.abc import Callable
from functools import partial

from PyQt6.QtWidgets import (
    QHBoxLayout,
    QMenu,
    QPlainTextEdit,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from mild_badger.app.drawing.fields import DocumentChoice, field_of
from mild_badger.app.drawing.records import Column, RecordTable
from mild_badger.app.drawing.tables import Cell
from mild_badger.app.drawing.widgets import button, caption, row_of
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.tabs.shift.function_view import FunctionView
from mild_badger.app.theme.style import Theme
from mild_badger.core.errors import BadgerError, InputError
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.functions.result import FunctionResult
from mild_badger.core.functions.table import (
    CELL_HELP,
    add_functions,
    add_output,
    add_position,
    cell_text,
    drive_text,
    parse_cell,
    parse_drive,
    parse_motor,
    remove_functions,
    remove_output,
    remove_position,
    rename_output,
    rename_position,
    set_cell,
)
from mild_badger.core.ids import OutputId
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.functions import FunctionBox, FunctionOutput, FunctionPosition
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.text.quantities import number_text

__all__ = ["FunctionPage"]

MOTOR_WORDS = {"both": say("tab-shift.both-ways"), "forward": "forward", "backward": "backward"}


class FunctionPage(QWidget):
    """The picture above; below what each output does in each position, and the outputs."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session, self._theme = session, theme
        self._direction = 1
        self._result: FunctionResult | None = None
        self._names: list[tuple[OutputId, str]] = []
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.view = FunctionView(theme)
        self.trials = QPlainTextEdit()
        self.trials.setReadOnly(True)
        self.trials.setAccessibleName(say("tab-shift.trial-list"))
        self.pictures = QStackedWidget()
        self.pictures.addWidget(self.view)
        self.pictures.addWidget(self.trials)
        column.addWidget(self.pictures, 5)
        self.empty = QWidget()
        start = button(say("tab-shift.start-a-function-box"), self._start, "main")
        self.empty.setLayout(row_of(start))
        column.addWidget(self.empty)
        self.full = QWidget()
        column.addWidget(self.full, 4)
        self._fill(QVBoxLayout(self.full))
        self.words = caption("", wrap=True)
        self.words.setAccessibleName(say("tab-shift.what-the-function-box-takes-and-does"))
        column.addWidget(self.words)

    def _fill(self, column: QVBoxLayout) -> None:
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        session = self.session
        self.motor = button(say("tab-shift.motor-forwards"), self._turn_motor)
        self.list_button = button(say("tab-shift.trial-list"), self._show_trials)
        self.list_button.setCheckable(True)
        self.actuation = DocumentChoice(
            session,
            ("functions", "actuation"),
            say("tab-shift.functions-selected-by"),
            {"drum": say("tab-shift.a-drum"), "one lever": say("tab-shift.one-lever")},
        )
        self.rpm = field_of(
            session, ("functions", "motor_rpm"), say("tab-shift.function-motors-speed"), width=48
        )
        self.stall = field_of(
            session,
            ("functions", "stall_n_mm"),
            say("tab-shift.function-motors-stall-torque"),
            width=48,
            optional=True,
        )
        self.tolerance = field_of(
            session, ("functions", "tolerance_percent"), say("tab-shift.ratio-error"), width=40
        )
        self.change = button(say("tab-shift.table"), lambda: None)
        menu = QMenu(self.change)
        for words, do in (
            (say("tab-shift.add-a-position"), lambda: self._do(add_position)),
            (say("tab-shift.add-an-output"), lambda: self._do(add_output)),
            (say("tab-shift.remove-the-chosen-position"), self._remove_position),
            (say("tab-shift.remove-the-chosen-output"), self._remove_output),
            (
                say("tab-shift.take-the-function-box-out"),
                lambda: self.session.do(remove_functions()),
            ),
        ):
            action = menu.addAction(shown(words))
            if action is not None:
                action.triggered.connect(lambda _on=False, done=do: done())
        self.change.setMenu(menu)
        column.addLayout(
            row_of(
                self.motor,
                self.list_button,
                self.change,
                _kept_together(say("tab-shift.by"), self.actuation),
                _kept_together(say("tab-shift.at-2"), self.rpm, caption("rpm", "soft")),
                _kept_together(say("tab-shift.stall"), self.stall, caption("N·mm", "soft")),
                _kept_together(say("tab-shift.error"), self.tolerance, caption("%", "soft")),
            )
        )
        tables = QHBoxLayout()
        tables.setSpacing(10)
        self.table = RecordTable(
            self.session, self._columns([]), say("tab-shift.what-each-output-does-in-each-position")
        )
        self.table.setToolTip(shown(CELL_HELP))
        self.table.currentCellChanged.connect(lambda *_where: self._show())
        tables.addWidget(self.table, 3)
        self.outputs = RecordTable(self.session, OUTPUTS, say("tab-shift.the-outputs"))
        self.outputs.setToolTip(say("tab-shift.drives-shaft-spool-20-diameter-screw-4-lead"))
        tables.addWidget(self.outputs, 2)
        for table in (self.table, self.outputs):
            table.setMinimumHeight(96)
        column.addLayout(tables, 1)

    def _do(self, make: Callable[[Vehicle], Edit]) -> None:
        try:
            self.session.do(make(self.session.vehicle))
        except BadgerError as error:
            self.session.refused.emit(str(error))

    def _start(self) -> None:
        self.session.do(add_functions())

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
            gone = result.box.outputs[row].id
            self.session.do(remove_output(self.session.vehicle, gone))
        else:
            self.session.refused.emit(say("tab-shift.choose-an-output-in-the-table-of-outputs"))

    def refresh(self, evaluation: Evaluation) -> None:
        """Show the function box of a vehicle."""
        result = self._result = evaluation.functions
        self.view.show_evaluation(evaluation)
        self.pictures.setMinimumHeight(self.view.minimumHeight())
        self.empty.setVisible(result is None)
        self.full.setVisible(result is not None)
        if result is None:
            self.list_button.setChecked(False)
            self.pictures.setCurrentWidget(self.view)
            self.words.setText("")
            return
        box = result.box
        names = [(output.id, output.name) for output in box.outputs]
        if names != self._names:
            self._names = names
            self.table.set_columns(self._columns(names))
        self.table.show_records(box.positions)
        self.outputs.show_records(box.outputs)
        self.actuation.show_value(box.actuation)
        self.rpm.show_value(number_text(box.motor_rpm))
        self.stall.show_value("" if box.stall_n_mm is None else number_text(box.stall_n_mm))
        self.tolerance.show_value(number_text(box.tolerance_percent))
        self.trials.setPlainText(
            shown("\n".join(f"{n}. {s}" for n, s in enumerate(result.trials, 1)))
        )
        self.words.setText(" ".join((result.words, *result.arrangement.problems)))
        self._show()

    def _show(self) -> None:
        ways = {1: say("tab-shift.forwards"), -1: say("tab-shift.backwards")}
        self.motor.setText(say("tab-shift.motor", ways=ways[self._direction]))
        self.view.show_state(self._position(), self._direction)

    def _columns(self, outputs: list[tuple[OutputId, str]]) -> tuple[Column[FunctionPosition], ...]:
        """Describe the table: positions down, what each output does in them across."""

        def typed_name(vehicle: Vehicle, row: int, text: str) -> Edit:
            return rename_position(vehicle, function_box(vehicle).positions[row].name, text)

        def typed_motor(vehicle: Vehicle, row: int, text: str) -> Edit:
            name = function_box(vehicle).positions[row].name
            way = parse_motor(text, position=name)
            return Edit.one(
                say("tab-shift.set-the-motor-in", name=name),
                ("functions", "positions", row, "motor"),
                way,
            )

        def cell(output: OutputId, position: FunctionPosition) -> Cell:
            box = function_box(self.session.vehicle)
            return Cell(cell_text(position.want(output), box, self.session.school) or "–")

        def typed(output: OutputId, vehicle: Vehicle, row: int, text: str) -> Edit:
            box = function_box(vehicle)
            want = parse_cell(text, box=box, output=output, school=self.session.school)
            return set_cell(vehicle, box.positions[row].name, output, want)

        return (
            Column(say("tab-shift.position"), lambda position: Cell(position.name), typed_name),
            Column(
                say("tab-shift.motor-2"),
                lambda position: Cell(MOTOR_WORDS[position.motor]),
                typed_motor,
            ),
            *(
                Column(name, partial(cell, one), partial(typed, one), may_be_empty=True)
                for one, name in outputs
            ),
        )


def function_box(vehicle: Vehicle) -> FunctionBox:
    """Give the function box of a vehicle that has one.

    Raises
    ------
    InputError
        It has none.
    """
    if vehicle.functions is None:
        raise InputError(say("tab-shift.there-is-no-function-box-to-change-plan-one"))
    return vehicle.functions


def _typed_output(vehicle: Vehicle, row: int, text: str) -> Edit:
    return rename_output(vehicle, function_box(vehicle).outputs[row].id, text)


def _typed_drive(vehicle: Vehicle, row: int, text: str) -> Edit:
    output = function_box(vehicle).outputs[row]
    kind, measure = parse_drive(text, output=output.name)
    changed = output.model_copy(update={"kind": kind, "measure": measure})
    return Edit.one(
        say("tab-shift.change-what-drives", name=output.name),
        ("functions", "outputs", row),
        changed,
    )


def _ticked_one_way(vehicle: Vehicle, row: int, on: bool) -> Edit:
    name = function_box(vehicle).outputs[row].name
    return Edit.one(
        say("tab-shift.turn-one-way", name=name), ("functions", "outputs", row, "one_way"), on
    )


OUTPUTS: tuple[Column[FunctionOutput], ...] = (
    Column(say("tab-shift.output"), lambda output: Cell(output.name), _typed_output),
    Column(say("tab-shift.drives"), lambda output: Cell(drive_text(output)), _typed_drive),
    Column(
        say("tab-shift.one-way"),
        lambda output: Cell(
            say("tab-shift.always") if output.one_way else "", checked=output.one_way
        ),
        ticked=_ticked_one_way,
    ),
)


def _kept_together(*things: QWidget | str) -> QWidget:
    """Make one piece of a row of a field with its words and unit, so that no line parts them."""
    made = QWidget()
    row = row_of(*things)
    row.setContentsMargins(0, 0, 0, 0)
    made.setLayout(row)
    return made
