"""Edits of the clutch."""

from mild_badger.core.mechanisms.clutch.grip import clutch_figures
from mild_badger.core.mechanisms.clutch.model import Clutch
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["add_clutch", "remove_clutch"]


START = 1.5


def add_clutch(vehicle: Vehicle) -> Edit:
    """Put a clutch on the shaft that enters the box, its spring strong enough for the motor."""
    plain = Clutch()
    wanted = START * vehicle.motor.shaft_stall_n_mm / clutch_figures(plain).worn * plain.spring_n
    made = plain.model_copy(update={"spring_n": round(min(max(wanted, 0.5), 100_000.0), 1)})
    return Edit.one(say("clutch.plan-a-clutch"), ("clutch",), made)


def remove_clutch() -> Edit:
    """Take the clutch away."""
    return Edit.one(say("clutch.take-the-clutch-away"), ("clutch",), None)
