"""Rack and pinion steering over its travel, seen from above.

Lengths mm, angles degrees unless named; x to the right, y ahead, the front axle's line at y = 0.
A wheel's angle is positive when it points to the left. Every state is the crossing of two circles:
that of the arm's end about the kingpin, and of the tie rod's about the rack's joint; no step of it
is iterated. Ideal: cot outer − cot inner = kingpin distance / wheelbase (Ackermann; domain.md §9).
"""

from collections.abc import Iterator
from dataclasses import dataclass
from math import atan2, cos, degrees, hypot, pi, radians, sin, sqrt, tan

import numpy as np

from mild_badger.core.axle.joint import Ripple, single_ripple
from mild_badger.core.axle.road_state import Road, Straight, Turn
from mild_badger.core.axle.running import running_of
from mild_badger.core.errors import InputError
from mild_badger.core.figures import in_mm
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.message import say
from mild_badger.core.vehicle.chassis import Steering
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import capitalized

__all__ = [
    "SteerState",
    "SteeringResult",
    "arm_to",
    "ideal_outer_deg",
    "improve_arms",
    "rack_for",
    "road_at",
    "steer_at",
    "steer_share",
    "steering_findings",
    "steering_result",
    "tyre_corners",
]

STEPS = 40
"""Steps of the travel to either side."""
TOO_SMALL_LOCK_DEG = 25.0
"""Locks below this are worth designing anew (domain.md §9: 20° is what first tries reach)."""
DEAD_CENTRE = say("axle.a-tie-rod-in-line-with-its-arm")
SMALL, LEAST_BEND = 1e-9, 1e-6
"""Angles in degrees, curvatures per mm that are none."""
Point = tuple[float, float]


@dataclass(frozen=True)
class SteerState:
    """The steering at one place of the rack, ``rack_mm`` to the right.

    ``left_deg`` and ``right_deg`` are the wheels' angles; ``joints`` are, for left and right, arm
    end and rack joint; ``error_deg`` is the outer wheel's angle beyond the ideal one; the radius is
    that of the outer front wheel's middle, None straight ahead.
    """

    rack_mm: float
    left_deg: float
    right_deg: float
    joints: tuple[tuple[Point, Point], tuple[Point, Point]]
    error_deg: float
    outer_radius_mm: float | None

    @property
    def inner_deg(self) -> float:
        """The angle of the wheel that turns more."""
        return max(abs(self.left_deg), abs(self.right_deg))


@dataclass(frozen=True)
class SteeringResult:
    """The steering over its travel, from full right to full left, as far as it goes.

    ``stop`` says what ends the travel; ``rack_travel_mm`` is what is used to either side;
    ``sweep_mm`` is how far a tyre reaches inward of, ahead of and behind its kingpin;
    ``problem`` says in a sentence why there is no travel, empty where there is.
    """

    states: tuple[SteerState, ...]
    stop: str
    rod_mm: float
    rack_travel_mm: float
    lock_deg: float
    worst_error_deg: float
    least_radius_mm: float | None
    pinion_turns: float
    wheel_turns: float
    sweep_mm: tuple[float, float, float]
    problem: str = ""

    @property
    def wheel_ripple(self) -> Ripple:
        """How the speed of a driven wheel wavers at full lock, by its one joint."""
        return single_ripple(min(self.lock_deg, 89.0))


def arm_to(vehicle: Vehicle, steering: Steering, place: Point) -> tuple[float, float]:
    """Give length in mm and lean in degrees of an arm whose ball joint is moved to a place.

    The place is to the right of the axle's middle and ahead of it, in mm.
    """
    out = place[0] - (vehicle.axle.track_mm / 2 - steering.kingpin_mm)
    ahead = 1 if steering.rack_offset_mm > 0 else -1
    return hypot(out, place[1]), degrees(atan2(out * ahead, abs(place[1])))


@dataclass(frozen=True)
class _Frame:
    """The fixed points of the right-hand side, mirrored for the left."""

    kingpin: Point
    arm: Point
    rack: Point
    rod_mm: float
    turns_left: bool

    @classmethod
    def of(cls, vehicle: Vehicle, steering: Steering, *, drop_mm: float = 0.0) -> "_Frame":
        """Measure the right-hand side; ``drop_mm`` is how far a wheel is off its height."""
        half = vehicle.axle.track_mm / 2 - steering.kingpin_mm
        ahead = steering.rack_offset_mm > 0
        tilt = radians(steering.arm_angle_deg)
        # a trailing arm leans inwards, a leading one outwards by the same angle
        arm = (
            steering.arm_mm * sin(tilt) * (1 if ahead else -1),
            steering.arm_mm * cos(tilt) * (1 if ahead else -1),
        )
        rack = (steering.rack_mm / 2, steering.rack_offset_mm)
        end = (half + arm[0], arm[1])
        straight = hypot(end[0] - rack[0], end[1] - rack[1])
        rod = straight if steering.rod_mm is None else steering.rod_mm
        seen = sqrt(max(rod**2 - drop_mm**2, 0.0))
        cross = (rack[0] - half) * arm[1] - rack[1] * arm[0]
        return cls((half, 0.0), arm, rack, seen, cross > 0)


def ideal_outer_deg(inner_deg: float, width_mm: float, wheelbase_mm: float) -> float:
    """Angle of the outer wheel that rolls about the same centre as the inner one (Ackermann)."""
    if abs(inner_deg) < SMALL:
        return 0.0
    cot = 1 / tan(radians(abs(inner_deg))) + width_mm / wheelbase_mm
    return degrees(atan2(1, cot)) * (1 if inner_deg > 0 else -1)


def steer_at(
    vehicle: Vehicle, rack_mm: float, *, steering: Steering | None = None, drop_mm: float = 0.0
) -> SteerState | None:
    """Solve the steering with the rack moved to the right; None where a rod cannot reach.

    ``drop_mm`` lifts or lowers both wheels against the rack, as their springs do.
    """
    steering = steering or running_of(vehicle).steering
    frame = _Frame.of(vehicle, steering, drop_mm=drop_mm)
    right = _wheel(frame, rack_mm)
    left = _wheel(frame, -rack_mm)  # the left side is the right one seen in a mirror
    if right is None or left is None:
        return None
    right_deg, right_end = right
    left_deg, left_end = -left[0], (-left[1][0], left[1][1])
    rack_right = (frame.rack[0] + rack_mm, frame.rack[1])
    rack_left = (-frame.rack[0] + rack_mm, frame.rack[1])
    width = 2 * frame.kingpin[0]
    error, radius = _compare(left_deg, right_deg, width, vehicle.axle.wheelbase_mm)
    if radius is not None:
        radius += steering.kingpin_mm
    return SteerState(
        rack_mm,
        left_deg,
        right_deg,
        ((left_end, rack_left), (right_end, rack_right)),
        error,
        radius,
    )


def _wheel(frame: _Frame, rack_mm: float) -> tuple[float, Point] | None:
    """Turn the right wheel: its angle in degrees and its arm's end; None out of reach."""
    px, py = frame.kingpin
    ex, ey = frame.rack[0] + rack_mm, frame.rack[1]
    arm = hypot(*frame.arm)
    apart = hypot(ex - px, ey - py)
    if apart < SMALL or not abs(arm - frame.rod_mm) <= apart <= arm + frame.rod_mm:
        return None
    along = (apart**2 + arm**2 - frame.rod_mm**2) / (2 * apart)
    aside = sqrt(max(arm**2 - along**2, 0.0)) * (1 if frame.turns_left else -1)
    ux, uy = (ex - px) / apart, (ey - py) / apart
    end = (along * ux - aside * uy, along * uy + aside * ux)
    turned = atan2(
        frame.arm[0] * end[1] - frame.arm[1] * end[0], frame.arm[0] * end[0] + frame.arm[1] * end[1]
    )
    return degrees(turned), (px + end[0], py + end[1])


def _compare(
    left: float, right: float, width: float, wheelbase: float
) -> tuple[float, float | None]:
    """Give the outer wheel's error, and the radius of the outer kingpin's way."""
    if left + right == 0 or abs(left) < SMALL or abs(right) < SMALL or left * right < 0:
        return abs(abs(left) - abs(right)), None
    inner, outer = (left, right) if left > 0 else (right, left)
    error = abs(outer) - abs(ideal_outer_deg(inner, width, wheelbase))
    # the wheels agree on no one centre: their mean is where a bicycle of them would turn
    cots = (1 / tan(radians(abs(inner))) + 1 / tan(radians(abs(outer)))) / 2
    return error, hypot(wheelbase, wheelbase * cots + width / 2)


def steering_result(vehicle: Vehicle, steering: Steering | None = None) -> SteeringResult:
    """Go through the travel from the middle to either side until something stops it."""
    steering = steering or running_of(vehicle).steering
    frame = _Frame.of(vehicle, steering)
    straight = steer_at(vehicle, 0.0, steering=steering)
    if straight is None:
        return _stuck(
            frame,
            say(
                "axle.the-tie-rods-do-not-reach-no-place-of-the",
                arm_mm=in_mm(steering.arm_mm),
                rod_mm=in_mm(frame.rod_mm, 1),
                apart=in_mm(_apart(frame), 1),
            ),
        )
    limit = steering.travel_mm
    stop: str = say("axle.the-racks-end")
    block = steering.rack_mm / 2 - steering.pinion_block_mm
    if block < limit:
        limit, stop = max(block, 0.0), say("axle.the-racks-joint-at-the-pinion")
    sweep = [straight]
    for way in (1, -1):
        row = []
        for step in range(1, STEPS + 1):
            state = steer_at(vehicle, way * limit * step / STEPS, steering=steering)
            reason = _stopped(vehicle, steering, state)
            if state is None or reason:
                stop = reason or DEAD_CENTRE
                break
            row.append(state)
        sweep = [*sweep, *row] if way > 0 else [*reversed(row), *sweep]
    if len(sweep) == 1:
        return _stuck(frame, say("axle.the-wheels-cannot-turn-at-all-is-in-the-way", stop=stop))
    states = tuple(sweep)
    travel = max(abs(state.rack_mm) for state in states)
    per_turn = pi * vehicle.kit.module_mm * steering.pinion_teeth
    radii = [s.outer_radius_mm for s in states if s.outer_radius_mm is not None]
    return SteeringResult(
        states=states,
        stop=stop,
        rod_mm=frame.rod_mm,
        rack_travel_mm=travel,
        lock_deg=max(state.inner_deg for state in states),
        worst_error_deg=max((s.error_deg for s in states), key=abs),
        least_radius_mm=min(radii, default=None),
        pinion_turns=2 * travel / per_turn,
        wheel_turns=2 * travel / per_turn * steering.wheel_ratio,
        sweep_mm=_sweep(vehicle, steering, states),
    )


def _bend(vehicle: Vehicle, state: SteerState) -> float:
    """Give the curvature of the way of the rear axle's middle, to the left positive, per mm."""
    left, right = state.left_deg, state.right_deg
    if abs(left) < SMALL or abs(right) < SMALL or left * right < 0:
        return 0.0
    cots = (1 / tan(radians(left)) + 1 / tan(radians(right))) / 2
    return 1 / (vehicle.axle.wheelbase_mm * cots)


def road_at(vehicle: Vehicle, share: float) -> Road:
    """Say what road is driven at a share of the rack's travel, −1 full left to 1 full right.

    Straight where the steering cannot turn.
    """
    result = steering_result(vehicle)
    rack = share * _rightwards(vehicle, result) * result.rack_travel_mm
    state = steer_at(vehicle, rack) if not result.problem else None
    bend = 0.0 if state is None else _bend(vehicle, state)
    if abs(bend) < LEAST_BEND:
        return Straight()
    return Turn(1 / abs(bend), "left" if bend > 0 else "right")


def steer_share(vehicle: Vehicle, road: Road) -> float:
    """Give the share of the rack's travel on a road, −1 full left to 1 full right."""
    result = steering_result(vehicle)
    if not result.rack_travel_mm:
        return 0.0
    return rack_for(vehicle, road) / result.rack_travel_mm * _rightwards(vehicle, result)


def _rightwards(vehicle: Vehicle, result: SteeringResult) -> float:
    """Say which way the rack goes for a turn to the right: +1 to the right, −1 to the left."""
    if not result.states:
        return 1.0
    return 1.0 if _bend(vehicle, result.states[-1]) < _bend(vehicle, result.states[0]) else -1.0


def rack_for(vehicle: Vehicle, road: Road) -> float:
    """Give where the rack stands on a road, mm to the right; at its end where it turns too little.

    In the middle where the road is no turn, and where the steering cannot turn.
    """
    result = steering_result(vehicle) if isinstance(road, Turn) else None
    if not isinstance(road, Turn) or result is None or result.problem:
        return 0.0
    rows = np.array(sorted((_bend(vehicle, state), state.rack_mm) for state in result.states)).T
    bend = (1 if road.towards == "left" else -1) / road.radius_mm
    return float(np.interp(bend, rows[0], rows[1]))


def _stuck(frame: _Frame, problem: str) -> SteeringResult:
    none = (0.0, 0.0, 0.0)
    return SteeringResult((), "", frame.rod_mm, 0.0, 0.0, 0.0, None, 0.0, 0.0, none, problem)


def _apart(frame: _Frame) -> float:
    return hypot(frame.rack[0] - frame.kingpin[0], frame.rack[1] - frame.kingpin[1])


def _stopped(vehicle: Vehicle, steering: Steering, state: SteerState | None) -> str:
    """Say what forbids a state; empty for nothing."""
    if state is None:
        return ""
    if steering.stop_deg is not None and state.inner_deg > steering.stop_deg + SMALL:
        return say("axle.the-stop-at-the-knuckles")
    half = vehicle.axle.track_mm / 2 - steering.kingpin_mm
    for turned in (state.right_deg, -state.left_deg):  # either as a right-hand wheel
        if half + min(x for x, _ in _tyre(vehicle, steering, turned)) < (
            running_of(vehicle).chassis.half_width_mm
        ):
            return say("axle.a-tyre-at-the-chassis")
    return ""


def _tyre(vehicle: Vehicle, steering: Steering, turned_deg: float) -> list[Point]:
    """Give the corners of the right-hand tyre about its kingpin."""
    c, s = cos(radians(turned_deg)), sin(radians(turned_deg))
    half, radius = running_of(vehicle).chassis.tyre_width_mm / 2, vehicle.wheels.diameter_mm / 2
    corners = [(steering.kingpin_mm + a * half, b * radius) for a in (-1, 1) for b in (-1, 1)]
    return [(x * c - y * s, x * s + y * c) for x, y in corners]


def tyre_corners(vehicle: Vehicle, steering: Steering, side: int, turned_deg: float) -> list[Point]:
    """Give a turned tyre's corners about its kingpin, in order; ``side`` −1 left, +1 right."""
    mirrored = _tyre(vehicle, steering, side * turned_deg)
    around = [mirrored[0], mirrored[1], mirrored[3], mirrored[2]]
    return [(side * x, y) for x, y in around]


def _sweep(
    vehicle: Vehicle, steering: Steering, states: tuple[SteerState, ...]
) -> tuple[float, float, float]:
    corners = [p for state in states for p in _tyre(vehicle, steering, state.right_deg)]
    return (
        max(-min(x for x, _ in corners), 0.0),
        max(y for _, y in corners),
        -min(y for _, y in corners),
    )


def improve_arms(vehicle: Vehicle) -> Edit:
    """Choose the arms' angle and length for the least error over the travel that is there now.

    Bounded search (Nelder-Mead, SciPy) for the least mean square of the error over the travel; at
    least nine tenths of the lock are kept.

    Raises
    ------
    InputError
        The steering cannot turn as it stands.
    """
    now = steering_result(vehicle)
    if now.problem:
        raise InputError(say("axle.mend-that-first", problem=now.problem))
    steering, lock = running_of(vehicle).steering, now.lock_deg

    def tried(at: np.ndarray) -> Steering:
        angle, arm = float(at[0]), float(at[1])
        return steering.model_copy(update={"arm_angle_deg": angle, "arm_mm": arm, "rod_mm": None})

    def loss(at: np.ndarray) -> float:
        if not (-45 <= at[0] <= 45 and 0.5 * steering.arm_mm <= at[1] <= 2 * steering.arm_mm):
            return 1e6
        result = steering_result(vehicle, tried(at))
        if result.problem or result.lock_deg < 0.9 * lock or result.stop == DEAD_CENTRE:
            return 1e5 - result.lock_deg
        worse = abs(result.worst_error_deg) - abs(now.worst_error_deg)
        if worse > 0:
            return 1e3 + worse
        errors = [s.error_deg for s in result.states]
        return float(np.mean(np.square(errors)))

    start = np.array([steering.arm_angle_deg, steering.arm_mm])
    from scipy.optimize import minimize  # noqa: PLC0415 - slow to load, wanted here only

    best = minimize(
        loss, start, method="Nelder-Mead", options={"xatol": 0.02, "fatol": 1e-6, "maxiter": 120}
    )
    angle, arm = float(best.x[0]), float(best.x[1])
    if loss(best.x) >= loss(start):
        raise InputError(say("axle.no-other-angle-or-length-of-the-arms-does"))
    return Edit(
        say("axle.improve-the-steering-arms"),
        (
            Change(("running", "steering", "arm_angle_deg"), round(angle, 2)),
            Change(("running", "steering", "arm_mm"), round(arm, 2)),
            Change(("running", "steering", "rod_mm"), None),
        ),
    )


def steering_findings(vehicle: Vehicle) -> Iterator[Finding]:
    """Find steering that cannot turn, turns too little, or bends its joints too far."""
    result = steering_result(vehicle)
    if result.problem:
        yield Finding(
            Severity.ERROR,
            "steering-stuck",
            ("steering",),
            say("axle.the-steering-cannot-turn"),
            result.problem,
            figure=0.0,
            limit=TOO_SMALL_LOCK_DEG,
            unit="°",
        )
        return
    if result.lock_deg < TOO_SMALL_LOCK_DEG:
        yield Finding(
            Severity.NOTE,
            "small-lock",
            ("steering",),
            say("axle.the-wheels-steer-only", lock_deg=result.lock_deg),
            say("axle.stops-them-30-and-more-is-worth-designing", stop=capitalized(result.stop)),
            figure=result.lock_deg,
            limit=TOO_SMALL_LOCK_DEG,
            unit="°",
        )
    steering = running_of(vehicle).steering
    limit = steering.joint_limit_deg
    if steering.driven and result.lock_deg > limit:
        yield Finding(
            Severity.WARNING,
            "joint-angle",
            ("steering",),
            say("axle.the-front-joints-bend-too-far"),
            say(
                "axle.at-full-lock-the-joint-in-the-driven-front",
                lock_deg=result.lock_deg,
                limit=limit,
            ),
            figure=result.lock_deg,
            limit=limit,
            unit="°",
            mend=Edit.one(
                say("axle.stop-the-knuckles-in-time"), ("running", "steering", "stop_deg"), limit
            ),
        )
