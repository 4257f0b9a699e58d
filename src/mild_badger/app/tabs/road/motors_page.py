"""The power unit, and which motor of a list turns this box at a wanted speed."""

from functools import partial

from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from mild_badger.app.drawing.fields import FieldForm, FieldSpec, number_cell, tip_of
from mild_badger.app.drawing.records import Column, RecordTable
from mild_badger.app.drawing.tables import Cell
from mild_badger.app.drawing.widgets import button, caption, row_of
from mild_badger.app.session import Session
from mild_badger.app.shown import units_in_force
from mild_badger.app.theme.style import Theme
from mild_badger.core.errors import BadgerError
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import M_S, N_MM, bare, in_m_s, in_n_mm, in_units
from mild_badger.core.kit.catalogue import shipped_motors
from mild_badger.core.performance.pull import MotorTrial, motor_trials, weakest_place
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Motor, Vehicle
from mild_badger.text.fields import parse_field, parse_speed

__all__ = ["MotorsPage"]

MOTOR = ("motor",)
FIELDS = (
    FieldSpec((*MOTOR, "count")),
    FieldSpec((*MOTOR, "reduction"), unit=": 1"),
    FieldSpec((*MOTOR, "no_load_rpm")),
    FieldSpec((*MOTOR, "stall_torque_n_mm")),
    FieldSpec((*MOTOR, "rated_v")),
    FieldSpec((*MOTOR, "supply_v")),
    FieldSpec((*MOTOR, "throttle")),
    FieldSpec((*MOTOR, "no_load_a")),
    FieldSpec((*MOTOR, "stall_a")),
    FieldSpec((*MOTOR, "limit_a"), optional=True),
    FieldSpec((*MOTOR, "working_rpm")),
)
_Tried = tuple[Motor, MotorTrial | None]


class MotorsPage(QWidget):
    """The list and its trial left, the present power unit right."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session, self.theme = session, theme
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(12)
        left = QVBoxLayout()
        left.setSpacing(6)
        self.speed = QLineEdit(f"{in_units(0.5, 'm/s', units_in_force()):.3g}")
        self.speed.setAccessibleName("Wanted speed")
        self.speed.setFixedWidth(56)
        self.speed.editingFinished.connect(lambda: self.refresh(session.evaluation))
        left.addLayout(
            row_of(
                "Tried in the engaged gear at",
                self.speed,
                caption(f"{M_S} on level ground", "soft"),
            )
        )
        self.table = RecordTable(session, self._columns(), "Motors tried on this box")
        self.table.header_right(1, 2, 4, 5)
        self.table.stretch(6)
        left.addWidget(self.table, 1)
        self.ship = button("Motor list", self._ship)
        self.add = button("Add motor", self._add)
        self.use = button("Use motor", self._use, "main")
        self.remove = button("Remove motor", self._remove)
        left.addLayout(row_of(self.ship, self.add, self.use, self.remove))
        self.words = caption("", wrap=True)
        self.words.setAccessibleName("The weakest place")
        left.addWidget(self.words)
        row.addLayout(left, 1)
        self.fields = FieldForm(session, FIELDS)
        self.fields.setFixedWidth(250)
        row.addWidget(self.fields)

    def refresh(self, evaluation: Evaluation) -> None:
        """Try the list's motors on the vehicle."""
        vehicle = evaluation.vehicle
        self.fields.show_values(vehicle, vehicle.motor.model_dump())
        try:
            vehicle = self.session.vehicle
            text = self.speed.text()
            speed = parse_speed(text, what="Wanted speed", vehicle=vehicle, own="m/s")
        except BadgerError as error:
            self.words.setText(str(error))
            return
        gear = evaluation.situation.gear or ""
        trials = motor_trials(vehicle, evaluation.gears, gear, speed)
        self.table.show_records(
            [
                (motor, trials[number] if number < len(trials) else None)
                for number, motor in enumerate(vehicle.motors)
            ]
        )
        weak = weakest_place(vehicle, evaluation.gears)
        self.words.setText(
            f"Now the weakest place is {weak}."
            if weak
            else "No part's limit is known yet: place the box, or give the planet tooth force "
            "limit."
        )

    def facts(self) -> str:
        """Say what the power unit gives."""
        motor = self.session.vehicle.motor
        return (
            f"At the box's input: {motor.shaft_no_load_rpm:.0f} rpm without load, "
            f"{in_n_mm(motor.shaft_stall_n_mm, 0)} at standstill, "
            f"{motor.current_a(motor.shaft_stall_n_mm):.1f} A. Batteries and stalled motors get "
            "hot: follow the makers' directions, use a fuse."
        )

    def _motors(self, words: str, motors: list[Motor]) -> None:
        self.session.do(Edit.one(words, ("motors",), motors))

    def _ship(self) -> None:
        known = {motor.name for motor in self.session.vehicle.motors}
        added = [motor for motor in shipped_motors() if motor.name not in known]
        self._motors("Add the standard motors", [*self.session.vehicle.motors, *added])

    def _add(self) -> None:
        vehicle = self.session.vehicle
        name = vehicle.motor.name or f"motor {len(vehicle.motors) + 1}"
        own = vehicle.motor.model_copy(update={"name": name})
        self._motors("Add a motor to the list", [*vehicle.motors, own])

    def _row(self) -> int | None:
        row = self.table.currentRow()
        return row if 0 <= row < len(self.session.vehicle.motors) else None

    def _use(self) -> None:
        row = self._row()
        if row is not None:
            motor = self.session.vehicle.motors[row]
            self.session.do(Edit.one(f"Use {motor.name}", ("motor",), motor))

    def _remove(self) -> None:
        row, motors = self._row(), list(self.session.vehicle.motors)
        if row is not None:
            del motors[row]
            self._motors("Remove a motor from the list", motors)

    def _columns(self) -> tuple[Column[_Tried], ...]:
        def color(tried: _Tried) -> QColor | None:
            return None if tried[1] is None or tried[1].turns else self.theme.tokens.bad

        def spare(tried: _Tried) -> Cell:
            trial = tried[1]
            shown = "" if trial is None else f"{min(trial.spare_percent, 999):.0f}"
            return Cell(shown, right=True, color=color(tried))

        def turns(tried: _Tried) -> Cell:
            if tried[1] is None:
                return Cell("engage a gear")
            return Cell("yes" if tried[1].turns else "no", color=color(tried))

        def top(tried: _Tried) -> Cell:
            return Cell("" if tried[1] is None else bare(in_m_s(tried[1].top_m_s, 2)), right=True)

        def weakest(tried: _Tried) -> Cell:
            return Cell("" if tried[1] is None else tried[1].weakest or "everything holds")

        return (
            Column(
                "motor",
                lambda tried: Cell(tried[0].name, tip=_more(tried[0])),
                partial(_typed, "name", "name"),
            ),
            _figure("rpm", "no_load_rpm", "no-load speed"),
            _figure(N_MM, "stall_torque_n_mm", "stall torque"),
            Column("turns it", turns),
            Column("spare %", spare),
            Column(f"top {M_S}", top),
            Column("weakest part", weakest),
        )


def _typed(field: str, title: str, vehicle: Vehicle, row: int, text: str) -> Edit:
    what = f"{vehicle.motors[row].name or 'Motor'}, {title}"
    value: object = text
    if field != "name":
        value = parse_field(text, field, what=what, kit=vehicle.kit, choice=vehicle.shown_in)
    return Edit.one("Change a motor", ("motors", row, field), value)


def _figure(title: str, field: str, words: str) -> Column[_Tried]:
    def cell(tried: _Tried) -> Cell:
        return number_cell(getattr(tried[0], field), field)

    return Column(title, cell, partial(_typed, field, words), tip=tip_of(Motor, field))


def _more(motor: Motor) -> str:
    """Say the rest of a motor's figures."""
    limit = "" if motor.limit_a is None else f", limited to {motor.limit_a:g} A"
    return (
        f"{motor.count} of them, {motor.reduction:g} : 1, {motor.supply_v:g} V of "
        f"{motor.rated_v:g} V, {motor.stall_a:g} A at stall{limit}"
    )
