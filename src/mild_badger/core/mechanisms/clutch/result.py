"""A clutch against its motor: words, findings, edits."""

from collections.abc import Iterator
from math import ceil

from mild_badger.core.figures import in_mm, in_n, in_n_mm
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.mechanisms.clutch.grip import clutch_figures
from mild_badger.core.mechanisms.clutch.model import Clutch
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.log import WearItem
from mild_badger.core.vehicle.model import Vehicle

__all__ = [
    "LINING_WEAR",
    "add_clutch",
    "clutch_faults",
    "describe_clutch",
    "remove_clutch",
]

RESERVE = 1.25
"""Capacity over the motor's stall torque that a clutch should keep (common practice, no source)."""
START = 1.5
LINING_WEAR = WearItem(part="clutch lining", every_hours=5.0, what="measure and renew")
"""What the log can remind of; the hours are an estimate until the builder says otherwise."""


def add_clutch(vehicle: Vehicle) -> Edit:
    """Put a clutch on the shaft that enters the box, its spring strong enough for the motor."""
    plain = Clutch()
    wanted = START * vehicle.motor.shaft_stall_n_mm / clutch_figures(plain).worn * plain.spring_n
    made = plain.model_copy(update={"spring_n": round(min(max(wanted, 0.5), 100_000.0), 1)})
    return Edit.one("Plan a clutch", ("clutch",), made)


def remove_clutch() -> Edit:
    """Take the clutch away."""
    return Edit.one("Take the clutch away", ("clutch",), None)


def describe_clutch(vehicle: Vehicle) -> str:
    """Say what the vehicle's clutch holds against its motor; "" where it has none."""
    clutch = vehicle.clutch
    if clutch is None:
        return ""
    figures, stall = clutch_figures(clutch), vehicle.motor.shaft_stall_n_mm
    return (
        f"Torque capacity: run-in {in_n_mm(figures.wear, 0)}, new "
        f"{in_n_mm(figures.pressure, 0)}, worn "
        f"by {in_mm(clutch.wear_mm)} {in_n_mm(figures.worn, 0)}. Motor stall "
        f"{in_n_mm(stall, 0)}, safety "
        f"factor {figures.margin(stall):.2f}. Release: {in_mm(figures.lift, 2)} and "
        f"{in_n(figures.release_n, 1)} at the plates, {in_mm(figures.pedal_needed, 1)} and "
        f"{in_n(figures.pedal_n, 1)} at the pedal. Highest lining pressure "
        f"{figures.pressure_n_mm2:.3f} N/mm²."
    )


def clutch_faults(vehicle: Vehicle) -> Iterator[Finding]:
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
