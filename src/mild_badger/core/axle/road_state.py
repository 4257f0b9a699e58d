"""What the road asks of the two driven wheels, as equations for the solver (domain.md §9)."""

from dataclasses import dataclass
from math import cos, pi, sin

from mild_badger.core.drivetrain.assemble import HOUSING, WHEELS
from mild_badger.core.drivetrain.graph import Coupling, Equation, held, same_speed, speed_ratio
from mild_badger.core.errors import InputError
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
    "tyre_paths",
    "wheel_path",
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
                f"Turn radius: {self.radius_mm:g} mm cannot be driven; "
                "choose more than 0 and at most 1 000 000 mm."
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
        For the track and the kind of differential.
    road
        The road state.
    locked
        Whether the builder has closed the differential's lock.
    """
    left, right = WHEELS["left"], WHEELS["right"]
    solid = locked or vehicle.differential.kind == "locked"
    extra: tuple[Equation, ...] = ()
    if locked and vehicle.differential.kind == "open":
        extra = (same_speed(left, HOUSING, kind=Coupling.LOCK),)
    match road:
        case HeldWheel(side):
            return (*extra, held(WHEELS[side]))
        case LiftedWheel(side) if not solid:
            return (held(WHEELS["right" if side == "left" else "left"]),)
        case Turn(radius, towards) if not solid:
            half = exact(vehicle.axle.track_mm) / 2
            inner, outer = exact(radius) - half, exact(radius) + half
            shares = (inner, outer) if towards == "left" else (outer, inner)
            return (speed_ratio(left, right, *shares, kind=Coupling.ROAD),)
        case _ if solid:
            return extra
        case _:
            return (same_speed(left, right, kind=Coupling.ROAD),)


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
