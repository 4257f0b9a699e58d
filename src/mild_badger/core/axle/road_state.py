"""What the road asks of the two driven wheels, as equations for the solver (domain.md §9)."""

from dataclasses import dataclass
from fractions import Fraction
from math import atan2, cos, degrees, hypot, pi, radians, sin, tan

from mild_badger.core.driveline.assemble import HOUSING, WHEELS, axle_body
from mild_badger.core.drivetrain.graph import Coupling, Equation, held, same_speed, speed_ratio
from mild_badger.core.errors import InputError
from mild_badger.core.figures import in_mm
from mild_badger.core.message import say
from mild_badger.core.units import exact
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.shifting import Side

__all__ = [
    "HeldWheel",
    "LiftedWheel",
    "Road",
    "Straight",
    "Turn",
    "TyrePaths",
    "conditions",
    "radius_of_steer",
    "steer_of_radius",
    "tyre_paths",
    "wheel_path",
    "wheel_ways",
]


@dataclass(frozen=True)
class Straight:
    """Both wheels roll alike."""


@dataclass(frozen=True)
class Turn:
    """A turn of a radius in mm, from its centre to the middle of the driven axle."""

    radius_mm: float
    towards: Side = "left"

    def __post_init__(self) -> None:
        if not 0 < self.radius_mm <= 1_000_000:
            raise InputError(
                say(
                    "axle.turn-radius-cannot-be-driven-choose-more", radius_mm=in_mm(self.radius_mm)
                )
            )


@dataclass(frozen=True)
class HeldWheel:
    """One wheel is held still."""

    side: Side


@dataclass(frozen=True)
class LiftedWheel:
    """One wheel has no grip; the other stands on the road and does not move."""

    side: Side


Road = Straight | Turn | HeldWheel | LiftedWheel


def conditions(vehicle: Vehicle, road: Road, *, locked: bool) -> tuple[Equation, ...]:
    """Give the equations that a road state adds to the drivetrain.

    Parameters
    ----------
    vehicle
        For the track, the axles and the kinds of their differentials.
    road
        The road state.
    locked
        Whether the builder has closed the first axle's lock.
    """
    extra: tuple[Equation, ...] = ()
    if locked and vehicle.differential.kind in ("open", "planetary"):
        half = _halves(vehicle)["left"]
        extra = (same_speed(half, HOUSING, kind=Coupling.LOCK),)
    solid = locked or vehicle.differential.kind == "locked"
    match road:
        case HeldWheel(side):
            return (*extra, held(WHEELS[side]), *_rolling_on(vehicle, Straight()))
        case LiftedWheel(side):
            return (*extra, *_lifted(vehicle, side, solid=solid))
        case _:
            return (*extra, *_first(vehicle, road, solid=solid), *_rolling_on(vehicle, road))


def _halves(vehicle: Vehicle) -> dict[Side, str]:
    """Name what leaves the first differential on either side: half shafts, or the wheels."""
    running = vehicle.running
    if running is not None and running.shape.hub == "geared":
        return {"left": say("axle.half-shaft-left"), "right": say("axle.half-shaft-right")}
    return {"left": WHEELS["left"], "right": WHEELS["right"]}


def _first(vehicle: Vehicle, road: Road, *, solid: bool) -> tuple[Equation, ...]:
    """Say what the ground makes of the first axle's wheels, unless a solid axle forces them."""
    if solid:
        return ()
    ways = wheel_ways(vehicle, road)[0]
    return (speed_ratio(WHEELS["left"], WHEELS["right"], *ways, kind=Coupling.ROAD),)


def _rolling_on(vehicle: Vehicle, road: Road) -> tuple[Equation, ...]:
    """Say what the ground makes of the wheels of further axles."""
    equations = []
    ways = wheel_ways(vehicle, road)
    first = Fraction(sum(ways[0])) / 2 if vehicle.differential.kind == "locked" else ways[0][0]
    for number, axle in enumerate(vehicle.additional_axles, start=1):
        left, right = (axle_body(axle.id, wheel) for wheel in WHEELS.values())
        own = ways[number][0]
        if axle.differential.kind == "locked":
            own = Fraction(sum(ways[number])) / 2
        else:
            equations.append(speed_ratio(left, right, *ways[number], kind=Coupling.ROAD))
        if axle.centre == "open" and not isinstance(road, HeldWheel) and first:
            equations.append(speed_ratio(WHEELS["left"], left, first, own, kind=Coupling.ROAD))
    return tuple(equations)


def _lifted(vehicle: Vehicle, side: Side, *, solid: bool) -> tuple[Equation, ...]:
    """Say how the wheels on the ground move while one has no grip.

    They stand where all the torque can run off at the lifted wheel; they roll alike where a solid
    axle or another axle that is coupled still pushes.
    """
    grounded = [WHEELS["right" if side == "left" else "left"]]
    for axle in vehicle.additional_axles:
        grounded += [axle_body(axle.id, wheel) for wheel in WHEELS.values()]
    kind = vehicle.differential.kind
    only = kind == "none" and vehicle.differential.driven_side != side
    pushes = solid or only or any(axle.centre == "locked" for axle in vehicle.additional_axles)
    if not pushes:
        return tuple(held(wheel) for wheel in grounded)
    ties = []
    for number, axle in enumerate(vehicle.additional_axles, start=1):
        left, right = (axle_body(axle.id, wheel) for wheel in WHEELS.values())
        if axle.differential.kind != "locked":
            ties.append(same_speed(left, right, kind=Coupling.ROAD))
        loose = not solid and not only
        if axle.centre == "open" or (loose and number == 1):
            ties.append(same_speed(grounded[0], left, kind=Coupling.ROAD))
    return tuple(ties)


def wheel_ways(vehicle: Vehicle, road: Road) -> tuple[tuple[Fraction, Fraction], ...]:
    """Give the radii of every wheel's way, axle by axle, left and right; ones straight ahead.

    A wheel ahead of or behind the first axle's line runs on hypot(R ∓ t/2, distance).
    """
    axles = 1 + len(vehicle.additional_axles)
    if not isinstance(road, Turn):
        return ((Fraction(1), Fraction(1)),) * axles
    half = exact(vehicle.axle.track_mm) / 2
    inner, outer = exact(road.radius_mm) - half, exact(road.radius_mm) + half
    radii = [(inner, outer)]
    for axle in vehicle.additional_axles:
        ways = tuple(exact(round(hypot(way, axle.ahead_mm), 6)) for way in (inner, outer))
        radii.append((ways[0], ways[1]))
    if road.towards == "right":
        radii = [(right, left) for left, right in radii]
    return tuple(radii)


def radius_of_steer(vehicle: Vehicle, steer_deg: float) -> float:
    """Turn radius at the first axle's middle for a mean steering angle, L / tan δ (Jazar).

    Raises
    ------
    InputError
        The angle is no angle that steers.
    """
    if not 0 < abs(steer_deg) < 80:
        raise InputError(say("axle.steering-angle-does-not-steer-choose-more", steer_deg=steer_deg))
    return vehicle.axle.wheelbase_mm / tan(radians(abs(steer_deg)))


def steer_of_radius(vehicle: Vehicle, radius_mm: float) -> float:
    """Give the mean steering angle of a turn in degrees, atan(L / R)."""
    return degrees(atan2(vehicle.axle.wheelbase_mm, radius_mm))


@dataclass(frozen=True)
class TyrePaths:
    """The two tyres' ways in a turn, and how far a solid axle makes them slide.

    ``difference_percent`` is t/R of the distance of the axle's middle; each tyre of a solid axle
    slides half of it when both grip alike. ``per_circle_mm`` is the difference over a full circle,
    2π t.
    """

    inner_radius_mm: float
    outer_radius_mm: float
    difference_percent: float
    slide_each_percent: float
    per_circle_mm: float


def tyre_paths(vehicle: Vehicle, turn: Turn, *, locked: bool) -> TyrePaths:
    """Work out the tyres' paths in a turn (domain.md §9)."""
    track = vehicle.axle.track_mm
    difference = 100 * track / turn.radius_mm
    solid = locked or vehicle.differential.kind == "locked"
    return TyrePaths(
        inner_radius_mm=turn.radius_mm - track / 2,
        outer_radius_mm=turn.radius_mm + track / 2,
        difference_percent=difference,
        slide_each_percent=difference / 2 if solid else 0.0,
        per_circle_mm=2 * pi * track,
    )


def wheel_path(vehicle: Vehicle, road: Road, side: Side) -> tuple[tuple[float, float], ...]:
    """Give the way of a driven wheel ahead of the axle as points (x right, y forward) in mm.

    The middle of the axle starts at (0, 0) and goes two tracks far, at most a quarter turn;
    straight where there is no turn. A held wheel stays where it is and the axle pivots about it; a
    lifted wheel goes nowhere.
    """
    track = vehicle.axle.track_mm
    start = -track / 2 if side == "left" else track / 2
    length = 2 * track
    match road:
        case Turn(radius, towards):
            centre = -radius if towards == "left" else radius
        case HeldWheel(held_side):
            centre = -track / 2 if held_side == "left" else track / 2
        case LiftedWheel():
            return ((start, 0.0),)
        case _:
            return ((start, 0.0), (start, length))
    arm = start - centre
    swing = min(length / abs(centre), pi / 2) * (1 if centre < 0 else -1)
    steps = 40
    return tuple(
        (
            centre + arm * cos(swing * step / steps),
            arm * sin(swing * step / steps),
        )
        for step in range(steps + 1)
    )
