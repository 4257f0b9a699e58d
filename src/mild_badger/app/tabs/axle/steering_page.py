"""Steering: the mechanism over its travel, its figures, its joints."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QSlider, QVBoxLayout, QWidget

from mild_badger.app.drawing.fields import FieldForm, FieldSpec
from mild_badger.app.drawing.flow import Flow
from mild_badger.app.drawing.tables import Cell, Table
from mild_badger.app.drawing.widgets import button, caption, scrolled
from mild_badger.app.session import Session
from mild_badger.app.tabs.axle.steering_view import SteeringView
from mild_badger.app.theme.style import Theme
from mild_badger.core.axle.joint import double_ripple
from mild_badger.core.axle.running import plan_running, running_of
from mild_badger.core.axle.steering import (
    SteeringResult,
    improve_arms,
    steer_at,
    steering_result,
)
from mild_badger.core.errors import BadgerError
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import in_mm
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.words import signed

__all__ = ["SteeringPage"]

STEER = ("running", "steering")
FIELDS = (
    FieldSpec((*STEER, "kingpin_mm")),
    FieldSpec((*STEER, "arm_mm")),
    FieldSpec((*STEER, "arm_angle_deg")),
    FieldSpec((*STEER, "rack_mm")),
    FieldSpec((*STEER, "rack_offset_mm")),
    FieldSpec((*STEER, "rod_mm"), optional=True, empty=say("tab-axle.fits")),
    FieldSpec((*STEER, "travel_mm")),
    FieldSpec((*STEER, "pinion_teeth")),
    FieldSpec((*STEER, "pinion_block_mm")),
    FieldSpec((*STEER, "wheel_ratio")),
    FieldSpec((*STEER, "stop_deg"), optional=True),
    FieldSpec(("running", "chassis", "half_width_mm")),
    FieldSpec(("running", "chassis", "tyre_width_mm")),
    FieldSpec(
        (*STEER, "driven"),
        choices=(("false", say("tab-axle.not-driven")), ("true", say("tab-axle.driven"))),
    ),
    FieldSpec((*STEER, "joint_limit_deg")),
    FieldSpec((*STEER, "column_deg")),
    FieldSpec((*STEER, "column_second_deg")),
    FieldSpec((*STEER, "column_phase_deg")),
)
STEPS = 100


class SteeringPage(QWidget):
    """Picture and slider left, fields and figures right."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session = session
        self._result: SteeringResult | None = None
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(12)
        left = QVBoxLayout()
        left.setSpacing(6)
        self.view = SteeringView(theme)
        self.view.arm_moved.connect(self._arm)
        self.view.rack_moved.connect(self._rack)
        left.addWidget(self.view, 1)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setAccessibleName(say("tab-axle.place-of-the-rack"))
        self.slider.setRange(-STEPS, STEPS)
        self.slider.valueChanged.connect(lambda _n: self._show_place())
        self.improve = button(say("tab-axle.improve-steering-arms"), self._improve)
        self.improve.setToolTip(say("tab-axle.angle-and-length-of-the-arms-for-the-least"))
        self.plan = button(say("tab-axle.plan-axle-and-steering"), self._plan, "main")
        line = Flow()
        for thing in (
            caption(say("tab-axle.right")),
            self.slider,
            caption(say("tab-axle.left")),
            self.improve,
            self.plan,
        ):
            line.addWidget(thing, 1 if thing is self.slider else 0)
        left.addLayout(line)
        row.addLayout(left, 1)
        side = QVBoxLayout()
        side.setSpacing(6)
        self.fields = FieldForm(session, FIELDS)
        side.addWidget(scrolled(self.fields, 312), 1)
        self.figures = Table(("", ""), say("tab-axle.figures-of-the-steering"))
        self.figures.header_right(1)
        self.figures.stretch(0)
        self.figures.setFixedSize(312, 236)
        header = self.figures.horizontalHeader()
        if header is not None:
            header.hide()
        side.addWidget(self.figures)
        row.addLayout(side)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show the steering of a vehicle."""
        vehicle = evaluation.vehicle
        planned = vehicle.running is not None
        self.plan.setVisible(not planned)
        self.improve.setVisible(planned)
        self.fields.setEnabled(planned)
        running = running_of(vehicle)
        data = {**running.steering.model_dump(), **running.chassis.model_dump()}
        self.fields.show_values(vehicle, data)
        self._result = steering_result(vehicle)
        self._show_place()
        self._fill(evaluation, self._result)

    def facts(self) -> str:
        """Say what the steering comes to."""
        result = self._result
        if result is None or result.problem:
            return result.problem if result is not None else ""
        return say(
            "tab-axle.lock-stopped-by-the-outer-wheel-is-off-by-at",
            lock_deg=result.lock_deg,
            stop=result.stop,
            worst_error_deg=result.worst_error_deg,
        )

    def _show_place(self) -> None:
        result = self._result
        if result is None:
            return
        place = -self.slider.value() / STEPS * -result.rack_travel_mm
        state = steer_at(self.session.vehicle, place) if not result.problem else None
        self.view.show_state(self.session.evaluation, result, state)

    def _fill(self, evaluation: Evaluation, result: SteeringResult) -> None:
        vehicle = evaluation.vehicle
        steering = running_of(vehicle).steering
        unit = vehicle.kit.grid_unit_mm
        column = double_ripple(
            steering.column_deg, steering.column_second_deg, steering.column_phase_deg
        )
        radius = result.least_radius_mm
        inward, ahead, behind = (length / unit for length in result.sweep_mm)
        rows = [
            (say("tab-axle.lock-of-the-inner-wheel"), f"{signed(result.lock_deg, '.1f')}°"),
            (
                say("tab-axle.turning-radius-outer-tyre"),
                "–" if radius is None else in_mm(radius, 0),
            ),
            (say("tab-axle.rack-travel-used"), f"± {in_mm(result.rack_travel_mm, 1)}"),
            (
                say("tab-axle.pinion-wheel-turns"),
                f"{signed(result.pinion_turns, '.2f')} / {signed(result.wheel_turns, '.2f')}",
            ),
            (say("tab-axle.tie-rod"), in_mm(result.rod_mm, 1)),
            (say("tab-axle.a-tyre-sweeps-inwards"), f"{signed(inward, '.1f')} u"),
            (say("tab-axle.ahead-behind"), f"{signed(ahead, '.1f')} / {signed(behind, '.1f')} u"),
            (say("tab-axle.column-speed-fluctuation"), f"{signed(column.percent, '.1f')} %"),
        ]
        if steering.driven:
            rows.append(
                (
                    say("tab-axle.driven-wheel-at-full-lock"),
                    f"{signed(result.wheel_ripple.percent, '.1f')} %",
                )
            )
        self.figures.show_cells([(Cell(name), Cell(value, right=True)) for name, value in rows])

    def _plan(self) -> None:
        self.session.do(plan_running(self.session.vehicle))

    def _improve(self) -> None:
        try:
            self.session.do(improve_arms(self.session.vehicle))
        except BadgerError as error:
            self.session.refused.emit(str(error))

    def _arm(self, length: float, lean: float) -> None:
        self._set(say("tab-axle.move-the-arms-end"), arm_mm=length, arm_angle_deg=lean, rod_mm=None)

    def _rack(self, width: float, offset: float) -> None:
        self._set(
            say("tab-axle.move-the-racks-joint"), rack_mm=width, rack_offset_mm=offset, rod_mm=None
        )

    def _set(self, words: str, **values: float | None) -> None:
        if self.session.vehicle.running is None:
            self._plan()
        changes = tuple(Change((*STEER, name), value) for name, value in values.items())
        self.session.do(Edit(words, changes))
