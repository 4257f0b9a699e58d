"""Clearance and springs: the vehicle from behind and from the side, before and after an edit."""

from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from mild_badger.app.drawing.fields import FieldForm, FieldSpec
from mild_badger.app.drawing.tables import Cell, Table
from mild_badger.app.drawing.widgets import button, caption, scrolled
from mild_badger.app.session import Session
from mild_badger.app.tabs.axle.room_view import RoomView
from mild_badger.app.theme.style import Theme
from mild_badger.core.axle.clearance import Clearance, clearance
from mild_badger.core.axle.running import plan_running, running_of
from mild_badger.core.axle.suspension import ride, sag
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import MM, bare, in_mm, in_unit
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.words import signed

__all__ = ["RoomPage"]

SHAPE, CHASSIS, SPRING = (("running", part) for part in ("shape", "chassis", "suspension"))
FIELDS = (
    FieldSpec(("axle", "track_mm")),
    FieldSpec(("axle", "wheelbase_mm")),
    FieldSpec(("wheels", "diameter_mm")),
    FieldSpec((*SHAPE, "housing_mm")),
    FieldSpec((*SHAPE, "arm_mm")),
    FieldSpec((*SHAPE, "case_mm")),
    FieldSpec(
        (*SHAPE, "hub"),
        choices=(
            ("straight", say("tab-axle.straight")),
            ("raised", say("tab-axle.raised")),
            ("geared", say("tab-axle.geared")),
        ),
    ),
    FieldSpec((*SHAPE, "rise_mm")),
    FieldSpec((*SHAPE, "hub_driver")),
    FieldSpec((*SHAPE, "hub_driven")),
    FieldSpec((*CHASSIS, "front_overhang_mm")),
    FieldSpec((*CHASSIS, "front_low_mm")),
    FieldSpec((*CHASSIS, "rear_overhang_mm")),
    FieldSpec((*CHASSIS, "rear_low_mm")),
    FieldSpec((*CHASSIS, "belly_mm")),
    FieldSpec((*CHASSIS, "mass_kg")),
    FieldSpec((*SPRING, "rate_n_mm"), optional=True),
    FieldSpec((*SPRING, "up_mm")),
    FieldSpec((*SPRING, "down_mm")),
    FieldSpec((*SPRING, "link_mm")),
    FieldSpec((*SPRING, "front_share")),
)


LOW_PX = 204
"""How high what stands below the picture may be: the picture is the page."""


class RoomPage(QWidget):
    """The picture large, tables and fields below it."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session = session
        self._before: Clearance | None = None
        self._now: Clearance | None = None
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(6)
        self.view = RoomView(theme)
        self.view.dragged.connect(self._dragged)
        outer.addWidget(self.view, 3)
        self.lows = Table(
            (say("tab-axle.lowest-points"), say("tab-axle.before"), say("tab-axle.now")),
            say("tab-axle.lowest-points-before-and-now"),
        )
        self.lows.header_right(1, 2)
        self.lows.stretch(0)
        self.travel = Table(
            (
                say("tab-axle.wheel-up", mm=MM),
                say("tab-axle.clearance", mm=MM),
                say("tab-axle.joint-angle-degrees"),
                say("tab-axle.toe-degrees"),
                say("tab-axle.steering-error"),
            ),
            say("tab-axle.over-the-travel"),
        )
        self.travel.header_right(0, 1, 2, 3, 4)
        self.travel.stretch(4)
        low = QWidget()
        low.setMaximumHeight(LOW_PX)
        below = QHBoxLayout(low)
        below.setContentsMargins(0, 0, 0, 0)
        below.setSpacing(8)
        below.addWidget(self.lows, 3)
        below.addWidget(self.travel, 3)
        side = QVBoxLayout()
        self.plan = button(say("tab-axle.plan-axle-and-steering"), self._plan, "main")
        side.addWidget(self.plan)
        self.fields = FieldForm(session, FIELDS)
        side.addWidget(scrolled(self.fields, 300), 1)
        self.sagged = caption("", "soft", wrap=True)
        self.sagged.setFixedWidth(300)
        side.addWidget(self.sagged)
        below.addLayout(side)
        outer.addWidget(low, 2)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show the clearances of a vehicle, and what they were before the last edit."""
        vehicle = evaluation.vehicle
        planned = vehicle.running is not None
        self.plan.setVisible(not planned)
        self.fields.setEnabled(planned)
        running = running_of(vehicle)
        data = {
            **running.shape.model_dump(),
            **running.chassis.model_dump(),
            **running.suspension.model_dump(),
            **vehicle.axle.model_dump(),
            **vehicle.wheels.model_dump(),
        }
        self.fields.show_values(vehicle, data)
        springs = sag(vehicle)
        room = clearance(vehicle, sag_mm=springs.body_mm)
        if room != self._now:
            self._before, self._now = self._now, room
        self.view.show_room(evaluation, room)
        self._fill(room, self._before or room)
        self.travel.show_cells(
            [
                [
                    Cell(words, right=True)
                    for words in (
                        bare(in_mm(s.up_mm, 1)),
                        bare(in_mm(s.clearance_mm, 1)),
                        *map(_number, (s.joint_deg, s.toe_deg, s.error_deg)),
                    )
                ]
                for s in ride(vehicle)
            ]
        )
        self.sagged.setText(
            say(
                "tab-axle.the-springs-give-in-front-behind",
                front_mm=in_mm(springs.front_mm, 1),
                rear_mm=in_mm(springs.rear_mm, 1),
            )
            if running.suspension.rate_n_mm is not None
            else say("tab-axle.no-springs-the-axles-are-rigid")
        )

    def facts(self) -> str:
        """Say what limits the clearance."""
        room = self._now
        if room is None:
            return ""
        return say(
            "tab-axle.ground-clearance-set-by-the-approach",
            ground_mm=in_mm(room.ground_mm, 1),
            limited_by=room.limited_by,
            approach_deg=room.approach_deg,
            departure_deg=room.departure_deg,
            breakover_deg=room.breakover_deg,
        )

    def _fill(self, now: Clearance, before: Clearance) -> None:
        earlier = {low.name: low.height_mm for low in before.lows}
        rows = [(low.name, earlier.get(low.name), low.height_mm, "mm") for low in now.lows]
        rows += [
            (say("tab-axle.approach"), before.approach_deg, now.approach_deg, "°"),
            (say("tab-axle.departure"), before.departure_deg, now.departure_deg, "°"),
            (say("tab-axle.breakover"), before.breakover_deg, now.breakover_deg, "°"),
        ]
        self.lows.show_cells(
            [
                [
                    Cell(name),
                    Cell("–" if then is None else in_unit(then, unit, 1), right=True),
                    Cell(
                        "–" if value is None else in_unit(value, unit, 1),
                        right=True,
                        bold=then != value,
                    ),
                ]
                for name, then, value, unit in rows
            ]
        )

    def _plan(self) -> None:
        self.session.do(plan_running(self.session.vehicle))

    def _dragged(self, name: str, length: float) -> None:
        if name == "belly_mm":
            if self.session.vehicle.running is None:
                self._plan()
            self.session.do(Edit.one(say("tab-axle.move-the-belly"), (*CHASSIS, name), length))
        else:
            words = (
                say("tab-axle.move-the-track")
                if name == "track_mm"
                else say("tab-axle.move-the-wheelbase")
            )
            self.session.do(Edit.one(words, ("axle", name), length))


def _number(value: float | None) -> str:
    return "–" if value is None else signed(value, ".1f")
