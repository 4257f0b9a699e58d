"""Edits of the clutch."""

from mild_badger.core.mechanisms.clutch.grip import holding
from mild_badger.core.mechanisms.clutch.model import Clutch
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["add_clutch", "remove_clutch"]


START = 1.5


def add_clutch(vehicle: Vehicle) -> Edit:
    """Put a clutch on the shaft that enters the box, strong enough for the motor."""
    made = holding(Clutch(), START * vehicle.motor.shaft_stall_n_mm) or Clutch()
    return Edit.one(say("clutch.plan-a-clutch"), ("clutch",), made)


def remove_clutch() -> Edit:
    """Take the clutch away."""
    return Edit.one(say("clutch.take-the-clutch-away"), ("clutch",), None)
