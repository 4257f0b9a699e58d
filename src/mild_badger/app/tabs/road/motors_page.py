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
from mild_badger.core.message import say
from mild_badger.core.performance.pull import MotorTrial, motor_trials, weakest_place
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Motor, Vehicle
from mild_badger.core.words import signed
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
        self.speed = QLineEdit(signed(in_units(0.5, "m/s", units_in_force()), ".3g"))
        self.speed.setAccessibleName(say("tab-road.wanted-speed"))
        self.speed.setFixedWidth(56)
        self.speed.editingFinished.connect(lambda: self.refresh(session.evaluation))
        left.addLayout(
            row_of(
                say("tab-road.tried-in-the-engaged-gear-at"),
                self.speed,
                caption(say("tab-road.on-level-ground", m_s=M_S), "soft"),
            )
        )
        self.table = RecordTable(session, self._columns(), say("tab-road.motors-tried-on-this-box"))
        self.table.header_right(1, 2, 4, 5)
        self.table.stretch(6)
        left.addWidget(self.table, 1)
        self.ship = button(say("tab-road.motor-list"), self._ship)
        self.add = button(say("tab-road.add-motor"), self._add)
        self.use = button(say("tab-road.use-motor"), self._use, "main")
        self.remove = button(say("tab-road.remove-motor"), self._remove)
        left.addLayout(row_of(self.ship, self.add, self.use, self.remove))
        self.words = caption("", wrap=True)
        self.words.setAccessibleName(say("tab-road.the-weakest-place"))
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
            speed = parse_speed(text, what=say("tab-road.wanted-speed"), vehicle=vehicle, own="m/s")
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
            say("tab-road.now-the-weakest-place-is", weak=weak)
            if weak
            else say("tab-road.no-parts-limit-is-known-yet-place-the-box-or")
        )

    def facts(self) -> str:
        """Say what the power unit gives."""
        motor = self.session.vehicle.motor
        return say(
            "tab-road.at-the-boxs-input-rpm-without-load-at",
            shaft_no_load_rpm=motor.shaft_no_load_rpm,
            shaft_stall_n_mm=in_n_mm(motor.shaft_stall_n_mm, 0),
            current_a=motor.current_a(motor.shaft_stall_n_mm),
        )

    def _motors(self, words: str, motors: list[Motor]) -> None:
        self.session.do(Edit.one(words, ("motors",), motors))

    def _ship(self) -> None:
        known = {motor.name for motor in self.session.vehicle.motors}
        added = [motor for motor in shipped_motors() if motor.name not in known]
        self._motors(
            say("tab-road.add-the-standard-motors"), [*self.session.vehicle.motors, *added]
        )

    def _add(self) -> None:
        vehicle = self.session.vehicle
        name = vehicle.motor.name or say("tab-road.motor", count_of_motors=len(vehicle.motors) + 1)
        own = vehicle.motor.model_copy(update={"name": name})
        self._motors(say("tab-road.add-a-motor-to-the-list"), [*vehicle.motors, own])

    def _row(self) -> int | None:
        row = self.table.currentRow()
        return row if 0 <= row < len(self.session.vehicle.motors) else None

    def _use(self) -> None:
        row = self._row()
        if row is not None:
            motor = self.session.vehicle.motors[row]
            self.session.do(Edit.one(say("tab-road.use", name=motor.name), ("motor",), motor))

    def _remove(self) -> None:
        row, motors = self._row(), list(self.session.vehicle.motors)
        if row is not None:
            del motors[row]
            self._motors(say("tab-road.remove-a-motor-from-the-list"), motors)

    def _columns(self) -> tuple[Column[_Tried], ...]:
        def color(tried: _Tried) -> QColor | None:
            return None if tried[1] is None or tried[1].turns else self.theme.tokens.bad

        def spare(tried: _Tried) -> Cell:
            trial = tried[1]
            shown = "" if trial is None else signed(min(trial.spare_percent, 999), ".0f")
            return Cell(shown, right=True, color=color(tried))

        def turns(tried: _Tried) -> Cell:
            if tried[1] is None:
                return Cell(say("tab-road.engage-a-gear"))
            return Cell(
                say("tab-road.yes") if tried[1].turns else say("tab-road.no"), color=color(tried)
            )

        def top(tried: _Tried) -> Cell:
            return Cell("" if tried[1] is None else bare(in_m_s(tried[1].top_m_s, 2)), right=True)

        def weakest(tried: _Tried) -> Cell:
            return Cell(
                "" if tried[1] is None else tried[1].weakest or say("tab-road.everything-holds")
            )

        return (
            Column(
                say("tab-road.motor-2"),
                lambda tried: Cell(tried[0].name, tip=_more(tried[0])),
                partial(_typed, "name", say("tab-road.name")),
            ),
            _figure("rpm", "no_load_rpm", say("tab-road.no-load-speed")),
            _figure(N_MM, "stall_torque_n_mm", say("tab-road.stall-torque")),
            Column(say("tab-road.turns-it"), turns),
            Column(say("tab-road.spare"), spare),
            Column(say("tab-road.top", m_s=M_S), top),
            Column(say("tab-road.weakest-part"), weakest),
        )


def _typed(field: str, title: str, vehicle: Vehicle, row: int, text: str) -> Edit:
    called = vehicle.motors[row].name or say("tab-road.motor-3")
    what = f"{called}, {title}"
    value: object = text
    if field != "name":
        value = parse_field(text, field, what=what, kit=vehicle.kit, choice=vehicle.shown_in)
    return Edit.one(say("tab-road.change-a-motor"), ("motors", row, field), value)


def _figure(title: str, field: str, words: str) -> Column[_Tried]:
    def cell(tried: _Tried) -> Cell:
        return number_cell(getattr(tried[0], field), field)

    return Column(title, cell, partial(_typed, field, words), tip=tip_of(Motor, field))


def _more(motor: Motor) -> str:
    """Say the rest of a motor's figures."""
    limit = "" if motor.limit_a is None else say("tab-road.limited-to-a", limit_a=motor.limit_a)
    return say(
        "tab-road.of-them-1-v-of-v-a-at-stall",
        count=motor.count,
        reduction=motor.reduction,
        supply_v=motor.supply_v,
        rated_v=motor.rated_v,
        stall_a=motor.stall_a,
        limit=limit,
    )
