"""Saying in words how the clutch works out."""

from mild_badger.core.figures import in_mm, in_n, in_n_mm
from mild_badger.core.mechanisms.clutch.grip import clutch_figures
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["describe_clutch"]


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
