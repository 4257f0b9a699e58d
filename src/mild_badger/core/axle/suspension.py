"""Springs: how far the body sags, and what travel does to clearance, joints and steering.

Lengths mm, angles degrees. A rigid axle (no spring rate) neither sags nor moves.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from math import asin, degrees

from mild_badger.core.axle.clearance import clearance
from mild_badger.core.axle.running import running_of
from mild_badger.core.axle.steering import steer_at
from mild_badger.core.figures import in_mm
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.message import say
from mild_badger.core.units import GRAVITY_M_S2
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["RideState", "Sag", "ride", "sag", "suspension_findings"]

STEPS = 8


@dataclass(frozen=True)
class Sag:
    """How far the springs give under the vehicle's own weight, front and rear."""

    front_mm: float
    rear_mm: float

    @property
    def body_mm(self) -> float:
        """What the middle of the body sinks."""
        return (self.front_mm + self.rear_mm) / 2


@dataclass(frozen=True)
class RideState:
    """One place of the travel: wheels ``up_mm`` above where they stand loaded.

    ``toe_deg`` is what the front wheels turn by themselves, ``error_deg`` the steering's error at
    half its travel, both None where a rod no longer reaches.
    """

    up_mm: float
    clearance_mm: float
    joint_deg: float | None
    toe_deg: float | None
    error_deg: float | None


def sag(vehicle: Vehicle) -> Sag:
    """Weight on a wheel over the rate of its spring, two wheels an axle (Hooke)."""
    rate = running_of(vehicle).suspension.rate_n_mm
    if rate is None:
        return Sag(0.0, 0.0)
    weight = running_of(vehicle).chassis.mass_kg * GRAVITY_M_S2
    front = running_of(vehicle).suspension.front_share
    return Sag(weight * front / 2 / rate, weight * (1 - front) / 2 / rate)


def ride(vehicle: Vehicle) -> tuple[RideState, ...]:
    """Go through the travel from full droop to full bump."""
    springs = running_of(vehicle).suspension
    if springs.rate_n_mm is None:
        return (_state(vehicle, 0.0),)
    span = springs.up_mm + springs.down_mm
    places = sorted({0.0, *(n * span / STEPS - springs.down_mm for n in range(STEPS + 1))})
    return tuple(_state(vehicle, up) for up in places)


def _state(vehicle: Vehicle, up: float) -> RideState:
    body = sag(vehicle).body_mm + up  # the chassis comes down as its wheels go up
    joint = None
    if abs(up) < running_of(vehicle).suspension.link_mm:
        joint = degrees(asin(up / running_of(vehicle).suspension.link_mm))
    straight = steer_at(vehicle, 0.0, drop_mm=up)
    half = steer_at(vehicle, running_of(vehicle).steering.travel_mm / 2, drop_mm=up)
    return RideState(
        up,
        clearance(vehicle, sag_mm=body).ground_mm,
        joint,
        None if straight is None else straight.left_deg - straight.right_deg,
        None if half is None else half.error_deg,
    )


def suspension_findings(vehicle: Vehicle) -> Iterator[Finding]:
    """Find springs that give more than their travel, and links too short for it."""
    springs = running_of(vehicle).suspension
    if springs.rate_n_mm is None:
        return
    most = max(sag(vehicle).front_mm, sag(vehicle).rear_mm)
    if most > springs.up_mm + springs.down_mm:
        yield Finding(
            Severity.WARNING,
            "springs-soft",
            ("suspension",),
            say("axle.the-springs-are-too-soft"),
            say(
                "axle.the-springs-give-way-under-the-vehicles-own",
                most=in_mm(most, 1),
                up_mm=in_mm(springs.up_mm + springs.down_mm),
            ),
            figure=most,
            limit=springs.up_mm + springs.down_mm,
            unit="mm",
        )
    reach = max(springs.up_mm, springs.down_mm)
    if reach >= springs.link_mm:
        yield Finding(
            Severity.ERROR,
            "link-short",
            ("suspension",),
            say("axle.the-swing-arm-is-too-short-for-the-spring"),
            say(
                "axle.a-swing-arm-of-cannot-swing-up-or-down",
                link_mm=in_mm(springs.link_mm),
                reach=in_mm(reach),
            ),
            figure=springs.link_mm,
            limit=reach,
            unit="mm",
        )
    lowest = min(state.clearance_mm for state in ride(vehicle))
    if lowest <= 0:
        yield Finding(
            Severity.WARNING,
            "bottoms-out",
            ("suspension",),
            say("axle.at-full-spring-travel-the-chassis-touches"),
            say("axle.the-lowest-point-would-be-above-the-ground-2", lowest=in_mm(lowest, 1)),
            figure=lowest,
            limit=0.0,
            unit="mm",
        )
