"""Saying where a lever stands in a gear."""

from mild_badger.core.drivetrain.lever_motion import describe_motion, motion_of
from mild_badger.core.mechanisms.lever.reach import lever_seen
from mild_badger.core.vehicle.box import LeverPlace
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["lever_stands"]


def lever_stands(vehicle: Vehicle, gear: str) -> str:
    """Say why a lever box's wheel stands in a gear; "" where it turns, or the box is another."""
    drive = lever_seen(vehicle, gear)
    if drive is None or not isinstance(vehicle.box.slot(gear), LeverPlace):
        return ""
    motion = motion_of(drive)
    return describe_motion(drive, motion) if motion.jams or motion.mean <= 0 else ""
