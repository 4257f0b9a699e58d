"""What is wrong with axles, steering, springs and shaft line, as findings."""

from collections.abc import Iterator
from fractions import Fraction

from mild_badger.core.axle.clearance import clearance_faults
from mild_badger.core.axle.shaft_line import line_faults
from mild_badger.core.axle.steering import steering_faults
from mild_badger.core.axle.strength import strength_faults
from mild_badger.core.axle.suspension import suspension_faults
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.shifting import Side

__all__ = ["running_faults"]

SAME_PERCENT = 0.05


def running_faults(vehicle: Vehicle, overall: dict[str, float]) -> Iterator[Finding]:
    """Collect the findings; those of the running gear only once it is planned.

    ``overall`` holds, per gear, motor turns for one of the first axle's housing.
    """
    yield from _further_axles(vehicle)
    yield from strength_faults(vehicle, overall)
    if vehicle.running is not None:
        yield from clearance_faults(vehicle)
        yield from steering_faults(vehicle)
        yield from suspension_faults(vehicle)
        yield from line_faults(vehicle)


def _further_axles(vehicle: Vehicle) -> Iterator[Finding]:
    """Hold every further axle against the first one: way round, and ratio."""
    final = vehicle.final_drive
    ratio = Fraction(final.crown, final.pinion)
    for number, axle in enumerate(vehicle.more_axles):
        # a pinion from behind meets its crown wheel beyond the axis, which turns it over
        same = (axle.crown_side == final.crown_side) == (axle.pinion_from == "front")
        if not same:
            side: Side = "right" if axle.crown_side == "left" else "left"
            yield Finding(
                Severity.ERROR,
                "axle-direction",
                ("final drive", axle.id),
                f"{axle.name} turns against the first axle",
                f"Its pinion comes from the {axle.pinion_from} and its crown wheel sits on the "
                f"{axle.crown_side}; put it on the {side}.",
                mend=Edit.one(
                    f"Put the crown wheel of {axle.name} on the {side}",
                    ("more_axles", number, "crown_side"),
                    side,
                ),
            )
        off = 100 * (float(ratio / Fraction(axle.crown, axle.pinion)) - 1)
        if abs(off) > SAME_PERCENT and axle.centre == "locked":
            yield Finding(
                Severity.ERROR,
                "axles-fight",
                ("final drive", axle.id),
                f"{axle.name} runs {abs(off):.1f} % {'faster' if off > 0 else 'slower'}",
                f"{axle.pinion}:{axle.crown} against {final.pinion}:{final.crown} on one shaft: "
                "the tyres must slide all the time. Give both the same ratio, or a differential "
                "between them.",
                figure=off,
                limit=0.0,
                unit="%",
            )
