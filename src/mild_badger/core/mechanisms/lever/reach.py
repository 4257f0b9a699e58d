"""How far a lever drive reaches, and which one is seen in a gear."""

from mild_badger.core.driveline.assemble import LEVER_THROWS
from mild_badger.core.driveline.turns import body_turns
from mild_badger.core.drivetrain.lever_motion import range_of
from mild_badger.core.mechanisms.lever.model import LeverDrive
from mild_badger.core.vehicle.box import LeverPlace, chain_ratio
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["lever_rpm", "lever_seen", "reach_of"]


def lever_seen(vehicle: Vehicle, gear: str | None) -> LeverDrive | None:
    """Give the lever drive as it stands in a gear; None where there is none."""
    drive, slot = vehicle.stepless, vehicle.box.slot(gear) if gear is not None else None
    if drive is None or not isinstance(slot, LeverPlace):
        return drive
    return drive.model_copy(update={"fulcrum_mm": slot.fulcrum_mm})


def reach_of(drive: LeverDrive) -> tuple[float, float] | None:
    """Give the least and the greatest ratio between the stops; None where it jams or stands."""
    means = [m.mean for _, m in range_of(drive) if not m.jams and m.mean > 0]
    if not means:
        return None
    before = float(chain_ratio(drive.pairs))
    return before / max(means), before / min(means)


def lever_rpm(vehicle: Vehicle, gear: str | None, motor_rpm: float) -> float | None:
    """Give the throws' speed in turns a minute, signed; None where there are none or they stand."""
    if vehicle.stepless is None:
        return None
    turns = body_turns(vehicle, gear, LEVER_THROWS)
    return None if turns is None else float(turns) * motor_rpm
