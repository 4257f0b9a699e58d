"""A test drive over a course, step by step in time.

The state is distance and speed; fixed steps with the mean of two slopes (Heun). The motor's line
less its drag pushes through the engaged gear; rolling resistance, hills, rough ground and what a
solid axle scrubs in a turn hold back. The tyres pass what they grip; what the motor gives beyond
spins the wheels. While the gear is changed nothing is driven.
"""

from dataclasses import dataclass, field
from math import atan, cos, pi, sin

from mild_badger.core.axle.running import running_of
from mild_badger.core.csv_text import column_in, csv_text
from mild_badger.core.figures import METRIC, UnitChoice, in_units
from mild_badger.core.performance.losses import drag_at_motor_n_mm
from mild_badger.core.results import GearResult, GearState
from mild_badger.core.units import GRAVITY_M_S2
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.road import Segment
from mild_badger.core.words import signed

__all__ = ["USUAL_COURSE", "Drive", "DriveRow", "drive_all", "drive_csv"]

STEP_S = 0.01
SCRUB = 0.7
"""Friction of a tyre that slides sideways in its own way, as the grip (an estimate)."""
UP_SHARE, DOWN_SHARE = 0.85, 0.8
"""Shares of the no-load speed from which it is shifted up, and below which a lower gear must run
to be taken."""
LONGEST_S, STANDS_S = 600.0, 5.0
USUAL_COURSE = (
    Segment(kind="flat", length_m=4.0),
    Segment(kind="hill", length_m=2.0, value=12.0),
    Segment(kind="turn", length_m=3.0, value=0.8),
    Segment(kind="rough", length_m=2.0, value=3.0),
    Segment(kind="flat", length_m=4.0),
)


@dataclass(frozen=True)
class DriveRow:
    """One moment of a drive."""

    time_s: float
    distance_m: float
    speed_m_s: float
    motor_rpm: float
    gear: str
    current_a: float
    slip_percent: float
    segment: int


@dataclass(frozen=True)
class _Gear:
    name: str
    overall: float
    efficiency: float
    drag_n_mm: float


@dataclass
class Drive:
    """A drive that goes on step by step; ``shift_by_rpm`` changes gear by itself.

    ``gear`` is the engaged one, None while none is; ``done`` tells that the course is driven.
    """

    vehicle: Vehicle
    gears: tuple[GearResult, ...]
    shift_by_rpm: bool = True
    time_s: float = 0.0
    distance_m: float = 0.0
    speed_m_s: float = 0.0
    gear: str | None = None
    rows: list[DriveRow] = field(default_factory=list)
    _known: dict[str, _Gear] = field(default_factory=dict)
    _until_s: float = 0.0
    _next: str | None = None

    def __post_init__(self) -> None:
        for gear in self.gears:
            drives = gear.state is GearState.DRIVES and gear.efficiency > 0
            if drives and gear.wheel_turns and not gear.reverse:
                self._known[gear.id] = _Gear(
                    gear.id,
                    1 / abs(float(gear.wheel_turns)),
                    gear.efficiency,
                    drag_at_motor_n_mm(self.vehicle, gear.id),
                )
        self.order = sorted(self._known, key=lambda name: -self._known[name].overall)
        if self.gear is None and self.order:
            self.gear = self.order[0]
        self.course = self.vehicle.course or USUAL_COURSE
        running = running_of(self.vehicle)
        self.mass_kg = running.chassis.mass_kg
        self.grip_n = (
            self.vehicle.ground.grip * running.chassis.driven_share * self.mass_kg * GRAVITY_M_S2
        )

    @property
    def length_m(self) -> float:
        """Length of the whole course."""
        return sum(segment.length_m for segment in self.course)

    @property
    def done(self) -> bool:
        """Whether the course is driven, nothing can drive, or it takes too long."""
        return not self.order or self.distance_m >= self.length_m or self.time_s >= LONGEST_S

    def shift(self, gear: str) -> None:
        """Change to a gear; nothing is driven while the lever moves."""
        if gear in self._known and gear != self.gear:
            self._next = gear
            self.gear = None
            self._until_s = self.time_s + 3 * self.vehicle.lever.step_s

    def shift_by(self, way: int) -> None:
        """Change up (+1) or down (−1) by one gear, from the one that is in or comes in."""
        here = self.gear or self._next
        if here is not None:
            place = self.order.index(here) + way
            if 0 <= place < len(self.order):
                self.shift(self.order[place])

    def finish(self) -> None:
        """Drive on to the end, or until the vehicle has stood for some seconds."""
        stood = 0
        while not self.done and stood <= STANDS_S / STEP_S:
            stood = stood + 1 if self.step().speed_m_s <= 0 else 0

    def step(self) -> DriveRow:
        """Go on by one step and note it."""
        if self._next is not None and self.time_s >= self._until_s:
            self.gear, self._next = self._next, None
        first = self._pull(self.speed_m_s)
        guess = max(self.speed_m_s + STEP_S * first / self.mass_kg, 0.0)
        second = self._pull(guess)
        speed = max(self.speed_m_s + STEP_S * (first + second) / (2 * self.mass_kg), 0.0)
        self.distance_m += STEP_S * (self.speed_m_s + speed) / 2
        self.speed_m_s = speed
        self.time_s += STEP_S
        row = self._row()
        self.rows.append(row)
        if self.shift_by_rpm and self.gear is not None:  # by the road, not by spinning wheels
            self._by_rpm(self._rpm(self.speed_m_s, self._known[self.gear]))
        return row

    def _segment(self) -> int:
        left = self.distance_m
        for number, segment in enumerate(self.course):
            if left < segment.length_m:
                return number
            left -= segment.length_m
        return len(self.course) - 1

    def _held(self) -> tuple[float, float]:
        """Give what holds back in N, rolling and so on, and what the hill adds."""
        segment = self.course[self._segment()]
        weight = self.mass_kg * GRAVITY_M_S2
        rolling = self.vehicle.ground.rolling
        if segment.kind == "hill":
            angle = atan(segment.value / 100)
            return rolling * weight * cos(angle), weight * sin(angle)
        if segment.kind == "rough":
            return rolling * weight * segment.value, 0.0
        if segment.kind == "turn" and self.vehicle.differential.kind == "locked":
            share = self.vehicle.axle.track_mm / (2000 * segment.value)
            driven = running_of(self.vehicle).chassis.driven_share
            return (rolling + SCRUB * min(share, 1.0) * driven) * weight, 0.0
        return rolling * weight, 0.0

    def _thrust(self, speed: float, name: str | None = None) -> float:
        """Give the motor's push at the ground if it all gripped, in N."""
        gear = self._known.get(name or self.gear or "")
        if gear is None:
            return 0.0
        radius = self.vehicle.wheels.diameter_mm / 2
        torque = self.vehicle.motor.shaft_torque_n_mm(self._rpm(speed, gear)) - gear.drag_n_mm
        share = gear.efficiency if torque > 0 else 1 / gear.efficiency
        return torque * gear.overall * share / radius

    def _rpm(self, speed: float, gear: _Gear) -> float:
        return 60_000 * speed / (pi * self.vehicle.wheels.diameter_mm) * gear.overall

    def _pull(self, speed: float) -> float:
        resist, hill = self._held()
        thrust = min(max(self._thrust(speed), -self.grip_n), self.grip_n)
        if speed <= 0 and abs(thrust - hill) <= resist:
            return 0.0  # it stands
        return thrust - hill - (resist if speed > 0 or thrust > hill else 0.0)

    def _row(self) -> DriveRow:
        gear = self._known.get(self.gear or "")
        rpm, slip, torque = 0.0, 0.0, 0.0
        if gear is not None:
            rpm = self._rpm(self.speed_m_s, gear)
            torque = self.vehicle.motor.shaft_torque_n_mm(rpm)
            if self._thrust(self.speed_m_s) > self.grip_n:
                radius = self.vehicle.wheels.diameter_mm / 2
                torque = self.grip_n * radius / (gear.overall * gear.efficiency) + gear.drag_n_mm
                spun = _speed_at(self.vehicle, torque)
                slip = 100 * (1 - rpm / spun) if spun > rpm else 0.0
                rpm = max(spun, rpm)
        current = self.vehicle.motor.current_a(torque) if gear is not None else 0.0
        return DriveRow(
            round(self.time_s, 6),
            self.distance_m,
            self.speed_m_s,
            rpm,
            self.gear or "–",
            current,
            slip,
            self._segment(),
        )

    def _by_rpm(self, rpm: float) -> None:
        """Shift up where the next gear still pulls, down where this one no longer does."""
        place = self.order.index(self.gear or self.order[0])
        top = self.vehicle.motor.shaft_no_load_rpm
        if rpm > UP_SHARE * top and place + 1 < len(self.order):
            if self._net(self.order[place + 1]) > 0:
                self.shift(self.order[place + 1])
        elif place > 0 and self._net(self.order[place]) < 0:
            lower = self._known[self.order[place - 1]]
            if self._rpm(self.speed_m_s, lower) < DOWN_SHARE * top:
                self.shift(self.order[place - 1])

    def _net(self, gear: str) -> float:
        """Give what would be left to speed up with in a gear, in N."""
        resist, hill = self._held()
        thrust = min(self._thrust(self.speed_m_s, gear), self.grip_n)
        return thrust - resist - hill


def _speed_at(vehicle: Vehicle, torque_n_mm: float) -> float:
    """Give the speed at which the motor's line has a torque."""
    motor = vehicle.motor
    line = motor.stall_torque_n_mm * motor.supply_v * motor.throttle / motor.rated_v
    full = line * motor.count * motor.reduction
    return motor.shaft_no_load_rpm * max(0.0, 1 - torque_n_mm / full)


def drive_all(vehicle: Vehicle, gears: tuple[GearResult, ...]) -> tuple[DriveRow, ...]:
    """Drive the whole course, shifting by rpm; ends early where the vehicle stands for good."""
    drive = Drive(vehicle, gears)
    drive.finish()
    return tuple(drive.rows)


def drive_csv(rows: tuple[DriveRow, ...], units: UnitChoice = METRIC) -> str:
    """Write a drive as CSV, its columns named by the units that are chosen."""
    header = (
        "time_s",
        column_in("distance", "m", units),
        column_in("speed", "m/s", units),
        "motor_rpm",
        "gear",
        "current_a",
        "slip_percent",
        "segment",
    )
    return csv_text(
        header,
        [
            (
                signed(row.time_s, ".3f"),
                signed(in_units(row.distance_m, "m", units), ".4f"),
                signed(in_units(row.speed_m_s, "m/s", units), ".4f"),
                signed(row.motor_rpm, ".1f"),
                row.gear,
                signed(row.current_a, ".3f"),
                signed(row.slip_percent, ".1f"),
                row.segment + 1,
            )
            for row in rows
        ],
    )
