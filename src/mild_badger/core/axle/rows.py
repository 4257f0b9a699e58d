"""Every driven axle in a road state: wheels, housing, planets, and what slides."""

from dataclasses import dataclass
from fractions import Fraction
from math import pi

from mild_badger.core.axle.road_state import HeldWheel, LiftedWheel, Road, Turn, wheel_ways
from mild_badger.core.driveline.assemble import HOUSING, WHEELS, axle_body, axle_ids
from mild_badger.core.drivetrain.solve import Solution
from mild_badger.core.ids import AxleId
from mild_badger.core.message import say
from mild_badger.core.vehicle.model import Differential, Vehicle

__all__ = ["AxleRow", "axle_names", "axle_rows", "describe_torque"]


@dataclass(frozen=True)
class AxleRow:
    """One driven axle; speeds in rpm, signed, None where they are open.

    ``planet_rpm`` is how fast a planet spins on its pin. ``slip_percent`` is how much faster a
    tyre's rim goes than its way asks, of the vehicle's own distance; ``slide_mm`` the same over a
    full circle; both only in a turn. ``way_mm`` are the radii of the wheels' ways.
    """

    name: str
    housing_rpm: float | None
    left_rpm: float | None
    right_rpm: float | None
    planet_rpm: float | None
    slip_percent: tuple[float, float] | None
    slide_mm: tuple[float, float] | None
    way_mm: tuple[float, float] | None


def axle_names(vehicle: Vehicle) -> tuple[str, ...]:
    """Name the driven axles, the first one as what it is."""
    return (say("axle.driven-axle"), *(axle.name for axle in vehicle.additional_axles))


def axle_rows(
    vehicle: Vehicle, solution: Solution, road: Road, rpm: float | None
) -> tuple[AxleRow, ...]:
    """Read every axle's speeds off a solved state at a motor speed; all None for None.

    Where tyres must slide, the vehicle goes as fast as all driven rims together ask, which is what
    happens when all of them grip alike.
    """
    ways = wheel_ways(vehicle, road)
    kinds = (vehicle.differential, *(axle.differential for axle in vehicle.additional_axles))
    turning = isinstance(road, Turn)
    axles = axle_ids(vehicle)
    rims = [_pair(solution, axle) for axle in axles]
    yaw = None
    known = [
        (n, w)
        for speeds, way in zip(rims, ways, strict=True)
        for n, w in zip(speeds, way, strict=True)
        if n is not None
    ]
    if turning and known and sum(w for _, w in known):
        yaw = sum((n for n, _ in known), Fraction(0)) / sum((w for _, w in known), Fraction(0))
    rows = []
    for number, (name, kind) in enumerate(zip(axle_names(vehicle), kinds, strict=True)):
        speeds, way = rims[number], ways[number]
        housing = solution.speed(axle_body(axles[number], HOUSING))
        slip = None
        if yaw and all(n is not None for n in speeds) and isinstance(road, Turn):
            asked = [float((n or 0) / yaw - w) for n, w in zip(speeds, way, strict=True)]
            slip = (100 * asked[0] / road.radius_mm, 100 * asked[1] / road.radius_mm)
        rows.append(
            AxleRow(
                name,
                _rpm(housing, rpm),
                _rpm(speeds[0], rpm),
                _rpm(speeds[1], rpm),
                _planet(solution, axles[number], kind, rpm),
                slip,
                None
                if slip is None or not isinstance(road, Turn)
                else (
                    2 * pi * slip[0] * road.radius_mm / 100,
                    2 * pi * slip[1] * road.radius_mm / 100,
                ),
                (float(way[0]), float(way[1])) if turning else None,
            )
        )
    return tuple(rows)


def _pair(solution: Solution, axle: AxleId) -> tuple[Fraction | None, Fraction | None]:
    left, right = (solution.speed(axle_body(axle, wheel)) for wheel in WHEELS.values())
    return left, right


def _rpm(speed: Fraction | None, rpm: float | None) -> float | None:
    return None if speed is None or rpm is None else float(speed) * rpm


def _planet(
    solution: Solution, axle: AxleId, kind: Differential, rpm: float | None
) -> float | None:
    """How fast a planet spins: half the wheels' difference, by the teeth."""
    if kind.kind != "open" or rpm is None:
        return None
    sides = []
    for side, wheel in WHEELS.items():
        half, own = axle_body(axle, f"half shaft.{side}"), axle_body(axle, wheel)
        sides.append(solution.speeds.get(half if half in solution.speeds else own))
    left, right = sides
    if left is None or right is None:
        return None
    return abs(float(left - right)) / 2 * kind.side_teeth / kind.planet_teeth * rpm


def describe_torque(vehicle: Vehicle, road: Road, *, locked: bool) -> str:
    """Say who gets the torque."""
    kind = vehicle.differential.kind
    solid = locked or kind == "locked"
    match road:
        case LiftedWheel(side):
            other = "right" if side == "left" else "left"
            if solid:
                return say("axle.all-the-torque-goes-to-the-wheel-as-both", other=other)
            if kind == "none":
                drives = vehicle.differential.driven_side
                return (
                    say("axle.the-driven-wheel-is-in-the-air-nothing")
                    if drives == side
                    else say("axle.the-wheel-alone-is-driven-and-pushes-as-ever", other=other)
                )
            if any(axle.centre == "locked" for axle in vehicle.additional_axles):
                return say("axle.this-axle-pushes-nothing-the-axles-coupled")
            return say("axle.the-wheel-spins-and-takes-no-torque-so-the", side=side, other=other)
        case HeldWheel(side):
            if solid:
                return say("axle.both-wheels-are-coupled-so-the-held-one")
            return say("axle.the-wheels-torque-only-pushes-against-what", side=side)
        case _:
            if kind == "none":
                return say(
                    "axle.the-wheel-alone-gets-all-the-torque",
                    driven_side=vehicle.differential.driven_side,
                )
            if kind == "planetary":
                sun, ring = vehicle.differential.sun_teeth, vehicle.differential.ring_teeth
                share = 100 * sun / (sun + ring)
                return say("axle.left-gets-of-the-torque-right", share=share, share_2=100 - share)
            if solid:
                return say("axle.the-torque-goes-to-the-wheel-that-grips")
            return say("axle.both-wheels-get-the-same-torque")
