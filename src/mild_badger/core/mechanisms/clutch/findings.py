"""What may be wrong with the clutch."""

from collections.abc import Iterator
from math import ceil

from mild_badger.core.figures import in_mm, in_n, in_n_mm
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.mechanisms.clutch.grip import clutch_figures
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
            "The clutch slips" if slips else "The clutch has too little torque reserve",
            f"Torque capacity run-in {in_n_mm(figures.wear, 0)}, worn by {in_mm(clutch.wear_mm)} "
            f"{in_n_mm(figures.worn, 0)}. The motor stalls at {in_n_mm(stall, 0)}; {RESERVE:g} "
            "times "
            f"that is required. A spring of {in_n(needed, 1)} is enough.",
            figures.worn,
            wanted,
            "N·mm",
            Edit.one("Use a stronger spring", ("clutch", "spring_n"), needed),
        )
    if figures.pedal_left < 0:
        yield Finding(
            Severity.ERROR,
            "clutch-drags",
            where,
            "The clutch does not release",
            f"Release needs {in_mm(figures.pedal_needed, 1)} of pedal travel; the pedal has "
            f"{in_mm(clutch.pedal_mm)}. Use a smaller lever ratio, fewer faces or less free play.",
            figures.pedal_needed,
            clutch.pedal_mm,
            "mm",
        )
