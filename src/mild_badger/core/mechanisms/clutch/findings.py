"""What may be wrong with the clutch."""

from collections.abc import Iterator
from math import ceil

from mild_badger.core.figures import in_mm, in_n, in_n_mm
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.mechanisms.clutch.grip import clutch_figures
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["clutch_findings"]


RESERVE = 1.25
"""Capacity over the motor's stall torque that a clutch should keep (common practice, no source)."""


def clutch_findings(vehicle: Vehicle) -> Iterator[Finding]:
    """Say where it slips, new or worn, and where the lever runs out of travel."""
    clutch = vehicle.clutch
    if clutch is None:
        return
    figures, stall, where = clutch_figures(clutch), vehicle.motor.shaft_stall_n_mm, ("clutch",)
    wanted = RESERVE * stall
    if figures.worn < wanted:
        needed = (
            ceil(
                10
                * (
                    wanted * clutch.spring_n / figures.wear
                    + clutch.spring_n_per_mm * clutch.wear_mm
                )
            )
            / 10
        )
        slips = figures.worn < stall
        yield Finding(
            Severity.ERROR if slips else Severity.WARNING,
            "clutch-slips",
            where,
            say("clutch.the-clutch-slips")
            if slips
            else say("clutch.the-clutch-has-too-little-torque-reserve"),
            say(
                "clutch.torque-capacity-run-in-worn-by-the-motor",
                wear=in_n_mm(figures.wear, 0),
                wear_mm=in_mm(clutch.wear_mm),
                worn=in_n_mm(figures.worn, 0),
                stall=in_n_mm(stall, 0),
                reserve=RESERVE,
                needed=in_n(needed, 1),
            ),
            figures.worn,
            wanted,
            "N·mm",
            Edit.one(say("clutch.use-a-stronger-spring"), ("clutch", "spring_n"), needed),
        )
    if figures.pedal_left < 0:
        yield Finding(
            Severity.ERROR,
            "clutch-drags",
            where,
            say("clutch.the-clutch-does-not-release"),
            say(
                "clutch.release-needs-of-pedal-travel-the-pedal-has",
                pedal_needed=in_mm(figures.pedal_needed, 1),
                pedal_mm=in_mm(clutch.pedal_mm),
            ),
            figures.pedal_needed,
            clutch.pedal_mm,
            "mm",
        )
