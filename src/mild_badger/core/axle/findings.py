"""What is wrong with axles, steering, springs and shaft line, as findings."""

from collections.abc import Iterator
from fractions import Fraction

from mild_badger.core.axle.clearance import clearance_findings
from mild_badger.core.axle.road_state import Road, Turn, TyrePaths
from mild_badger.core.axle.shaft_line import line_findings
from mild_badger.core.axle.steering import steering_findings
from mild_badger.core.axle.strength import strength_findings
from mild_badger.core.axle.suspension import suspension_findings
from mild_badger.core.figures import in_mm
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.message import say
from mild_badger.core.targets.speeds import scaled_diameter_mm, signed_error_percent
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.shifting import Side

__all__ = ["WHEEL_SIZE_LIMIT_PERCENT", "road_findings", "running_findings", "wheel_findings"]

SAME_PERCENT = 0.05
WHEEL_SIZE_LIMIT_PERCENT = 10.0


def running_findings(vehicle: Vehicle, overall: dict[str, float]) -> Iterator[Finding]:
    """Collect the findings; those of the running gear only once it is planned.

    ``overall`` holds, per gear, motor turns for one of the first axle's housing.
    """
    yield from _further_axles(vehicle)
    yield from strength_findings(vehicle, overall)
    if vehicle.running is not None:
        yield from clearance_findings(vehicle)
        yield from steering_findings(vehicle)
        yield from suspension_findings(vehicle)
        yield from line_findings(vehicle)


def _further_axles(vehicle: Vehicle) -> Iterator[Finding]:
    """Hold every further axle against the first one: way round, and ratio."""
    final = vehicle.final_drive
    ratio = Fraction(final.crown, final.pinion)
    for number, axle in enumerate(vehicle.additional_axles):
        # a pinion from behind meets its crown wheel beyond the axis, which turns it over
        same = (axle.crown_side == final.crown_side) == (axle.pinion_from == "front")
        if not same:
            side: Side = "right" if axle.crown_side == "left" else "left"
            yield Finding(
                Severity.ERROR,
                "axle-direction",
                ("final drive", axle.id),
                say("axle.turns-against-the-first-axle", name=axle.name),
                say(
                    "axle.the-pinion-comes-from-the-and-the-crown",
                    pinion_from=axle.pinion_from,
                    crown_side=axle.crown_side,
                    side=side,
                ),
                mend=Edit.one(
                    say("axle.put-the-crown-wheel-of-on-the", name=axle.name, side=side),
                    ("additional_axles", number, "crown_side"),
                    side,
                ),
            )
        off = 100 * (float(ratio / Fraction(axle.crown, axle.pinion)) - 1)
        if abs(off) > SAME_PERCENT and axle.centre == "locked":
            yield Finding(
                Severity.ERROR,
                "axles-fight",
                ("final drive", axle.id),
                say(
                    "axle.runs",
                    name=axle.name,
                    off=abs(off),
                    word=say("axle.faster") if off > 0 else say("axle.slower"),
                ),
                say(
                    "axle.against-on-one-shaft-the-tyres-must-slide",
                    pinion=axle.pinion,
                    crown=axle.crown,
                    pinion_2=final.pinion,
                    crown_2=final.crown,
                ),
                figure=off,
                limit=0.0,
                unit="%",
            )


def wheel_findings(vehicle: Vehicle) -> Iterator[Finding]:
    """Hold the wheels against the real tyre at the scale."""
    scaled = scaled_diameter_mm(vehicle.real, vehicle.scale)
    error = signed_error_percent(vehicle.wheels.diameter_mm, scaled)
    if abs(error) > WHEEL_SIZE_LIMIT_PERCENT:
        yield Finding(
            Severity.NOTE,
            "wheel-size",
            ("wheels",),
            say(
                "axle.wheels-are-for-the-scale",
                error=abs(error),
                word=say("axle.large") if error > 0 else "small",
            ),
            say(
                "axle.against-at-1",
                diameter_mm=in_mm(vehicle.wheels.diameter_mm),
                scaled=in_mm(scaled, 1),
                denominator=vehicle.scale.denominator,
            ),
            figure=error,
            limit=WHEEL_SIZE_LIMIT_PERCENT,
            unit="%",
            mend=Edit(
                say("axle.use-wheels", scaled=in_mm(scaled, 1)),
                (Change(("wheels", "diameter_mm"), round(scaled, 1)),),
            ),
        )


def road_findings(
    vehicle: Vehicle, road: Road, paths: TyrePaths | None, *, stalls: bool
) -> Iterator[Finding]:
    """Say what of the road that is tried cannot be, or costs tyres."""
    if stalls:
        yield Finding(
            Severity.WARNING,
            "axle-stalls",
            ("differential",),
            say("axle.the-axle-cannot-turn"),
            say("axle.one-wheel-is-held-and-both-are-coupled-so"),
        )
    if isinstance(road, Turn) and paths is not None:
        if paths.inner_radius_mm < 0:
            yield Finding(
                Severity.NOTE,
                "turn-inside-track",
                ("wheels",),
                say("axle.the-turns-centre-lies-between-the-wheels"),
                say(
                    "axle.the-radius-of-is-less-than-half-of-the-track",
                    radius_mm=in_mm(road.radius_mm),
                    track_mm=in_mm(vehicle.axle.track_mm),
                ),
                figure=road.radius_mm,
                limit=vehicle.axle.track_mm / 2,
                unit="mm",
            )
        if paths.slide_each_percent:
            yield Finding(
                Severity.WARNING,
                "tyres-slide",
                ("wheels",),
                say("axle.each-tyre-slides", slide_each_percent=paths.slide_each_percent),
                say(
                    "axle.a-solid-axle-in-a-turn-of-the-tyres-paths",
                    radius_mm=in_mm(road.radius_mm),
                    difference_percent=paths.difference_percent,
                ),
                figure=paths.slide_each_percent,
                limit=0,
                unit="%",
            )
