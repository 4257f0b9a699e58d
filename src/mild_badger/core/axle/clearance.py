"""Room between the vehicle and the ground: under the axle, and at the three angles.

Heights in mm above level ground, angles in degrees. Angles are those of a line that touches the
tyre from below and the chassis' lowest point there, the tyre a circle.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from math import asin, atan2, degrees, hypot

from mild_badger.core.axle.running import running_of
from mild_badger.core.figures import in_mm
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.message import say
from mild_badger.core.vehicle.chassis import AxleShape
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import word

__all__ = ["Clearance", "LowPoint", "clearance", "clearance_findings", "hub_rise_mm"]


@dataclass(frozen=True)
class LowPoint:
    """A part that hangs down: its name, the height of its lowest point, and how far out it is.

    ``geared`` tells of a gear of the final drive.
    """

    name: str
    height_mm: float
    out_mm: float
    geared: bool = False


@dataclass(frozen=True)
class Clearance:
    """Where the axle lies and what is lowest.

    ``axle_mm`` is the height of the driven axle's middle; ``lows`` are its parts, the lowest first;
    ``ground_mm`` is the ground clearance and ``limited_by`` what sets it.
    """

    axle_mm: float
    lows: tuple[LowPoint, ...]
    ground_mm: float
    limited_by: str
    approach_deg: float
    departure_deg: float
    breakover_deg: float
    housing_radius_mm: float


def hub_rise_mm(vehicle: Vehicle, shape: AxleShape | None = None) -> float:
    """How far the axle's shafts lie above the wheels' middles."""
    shape = shape or running_of(vehicle).shape
    if shape.hub == "straight":
        return 0.0
    if shape.hub == "raised":
        return shape.rise_mm
    return (shape.hub_driver + shape.hub_driven) * vehicle.kit.module_mm / 2


def clearance(
    vehicle: Vehicle, shape: AxleShape | None = None, *, sag_mm: float = 0.0
) -> Clearance:
    """Work out the clearances; ``sag_mm`` is how far the body sits lower on its springs.

    The axle's own parts do not sag, the chassis' points do.
    """
    shape = shape or running_of(vehicle).shape
    radius = vehicle.wheels.diameter_mm / 2
    axle = radius + hub_rise_mm(vehicle, shape)
    crown_tip = vehicle.kit.module_mm * (vehicle.final_drive.crown + 2) / 2
    housing = max(shape.housing_mm / 2, crown_tip + shape.case_mm)
    lows = [
        LowPoint(say("axle.differential-housing"), axle - housing, 0.0),
        LowPoint(say("axle.axle-arm"), axle - shape.arm_mm / 2, vehicle.axle.track_mm / 4),
    ]
    if shape.hub == "geared":
        tip = vehicle.kit.module_mm * (shape.hub_driven + 2) / 2
        lows.append(
            LowPoint(say("axle.hub-case"), radius - tip - shape.case_mm, vehicle.axle.track_mm / 2)
        )
    if vehicle.final_drive.pairs:  # its last gear sits on the pinion's shaft, beside the axle
        last = vehicle.kit.module_mm * (vehicle.final_drive.pairs[-1].driven + 2) / 2
        pinion = axle - running_of(vehicle).line.offset_mm
        lows.append(LowPoint(say("axle.final-drive-gear"), pinion - last, 0.0, geared=True))
    chassis = running_of(vehicle).chassis
    belly = chassis.belly_mm - sag_mm
    lows.append(LowPoint(word("chassis"), belly, 0.0))
    lows.sort(key=lambda low: low.height_mm)
    return Clearance(
        axle_mm=axle,
        lows=tuple(lows),
        ground_mm=lows[0].height_mm,
        limited_by=lows[0].name,
        approach_deg=_ramp(chassis.front_overhang_mm, chassis.front_low_mm - sag_mm, radius),
        departure_deg=_ramp(chassis.rear_overhang_mm, chassis.rear_low_mm - sag_mm, radius),
        breakover_deg=2 * _ramp(vehicle.axle.wheelbase_mm / 2, belly, radius),
        housing_radius_mm=housing,
    )


def _ramp(away: float, height: float, radius: float) -> float:
    """Angle of the line that touches a tyre from below and passes a low point.

    The tyre's middle is ``away`` from the point and ``radius`` up. The line's distance from the
    middle is the radius: away sin θ + (radius − height) cos θ = radius. 0 where the point lies on
    the ground, 90° where it is inside the tyre's own circle.
    """
    if height <= 0:
        return 0.0
    up = radius - height
    reach = hypot(away, up)
    if reach <= radius:
        return 90.0
    return min(max(degrees(asin(radius / reach) - atan2(up, away)), 0.0), 90.0)


def _smaller(low: LowPoint, vehicle: Vehicle) -> str:
    """Say what helps a final drive's gear that is too large: two smaller pairs for one."""
    if not low.geared or len(vehicle.final_drive.pairs) > 1:
        return ""
    return say("axle.two-smaller-pairs-give-the-same-ratio")


def clearance_findings(vehicle: Vehicle) -> Iterator[Finding]:
    """Find what drags on the ground, a housing too small for its crown wheel, arms too thin."""
    room = clearance(vehicle)
    for low in room.lows:
        if low.height_mm <= 0:
            yield Finding(
                Severity.ERROR,
                "drags",
                ("axle",),
                say("axle.the-drags-on-the-ground", name=low.name),
                say(
                    "axle.the-lowest-point-would-be-above-the-ground",
                    height_mm=in_mm(low.height_mm, 1),
                )
                + _smaller(low, vehicle),
                figure=low.height_mm,
                limit=0.0,
                unit="mm",
            )
    shape = running_of(vehicle).shape
    needed = 2 * room.housing_radius_mm
    if shape.housing_mm < needed - 1e-9:
        yield Finding(
            Severity.NOTE,
            "housing-small",
            ("axle",),
            say("axle.the-crown-wheel-fills-the-housing"),
            say(
                "axle.crown-wheel-and-wall-need-the-housing-has",
                needed=in_mm(needed, 1),
                housing_mm=in_mm(shape.housing_mm),
            ),
            figure=shape.housing_mm,
            limit=needed,
            unit="mm",
        )
    if shape.hub == "geared":
        tip = vehicle.kit.module_mm * (shape.hub_driven + 2) / 2 + shape.case_mm
        if tip > vehicle.wheels.diameter_mm / 2 * 0.9:
            yield Finding(
                Severity.WARNING,
                "hub-case",
                ("axle",),
                say("axle.the-hub-case-hardly-fits-into-the-wheel"),
                say(
                    "axle.it-is-across-the-wheel",
                    tip=in_mm(2 * tip, 1),
                    diameter_mm=in_mm(vehicle.wheels.diameter_mm),
                ),
                figure=2 * tip,
                limit=vehicle.wheels.diameter_mm,
                unit="mm",
            )
