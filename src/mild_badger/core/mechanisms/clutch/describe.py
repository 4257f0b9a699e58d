"""Saying in words how the clutch works out."""

from mild_badger.core.figures import in_mm, in_n, in_n_mm
from mild_badger.core.mechanisms.clutch.grip import clutch_figures, lining_limit
from mild_badger.core.message import say
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["describe_clutch"]


def describe_clutch(vehicle: Vehicle) -> str:
    """Say what the vehicle's clutch holds against its motor; "" where it has none."""
    clutch = vehicle.clutch
    if clutch is None:
        return ""
    most = lining_limit(clutch)
    figures, stall = clutch_figures(clutch), vehicle.motor.shaft_stall_n_mm
    said = say(
        "clutch.torque-capacity-run-in-new-worn-by-motor",
        wear=in_n_mm(figures.wear, 0),
        pressure=in_n_mm(figures.pressure, 0),
        wear_mm=in_mm(clutch.wear_mm),
        worn=in_n_mm(figures.worn, 0),
        stall=in_n_mm(stall, 0),
        margin=figures.margin(stall),
        lift=in_mm(figures.lift, 2),
        release_n=in_n(figures.release_n, 1),
        pedal_needed=in_mm(figures.pedal_needed, 1),
        pedal_n=in_n(figures.pedal_n, 1),
        pressure_n_mm2=figures.pressure_n_mm2,
    )
    if most is None:
        return said
    return " ".join((said, say("clutch.the-lining-stands", most=most)))
