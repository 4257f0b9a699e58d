"""The motor's linear curve."""

from mild_badger.core.vehicle.model import Motor

__all__ = ["torque_at"]


def torque_at(motor: Motor, rpm: float) -> float:
    """Torque in N·mm at a speed: stall torque at rest, falling in a line to zero at no load."""
    return motor.stall_torque_n_mm * max(0.0, 1.0 - abs(rpm) / motor.no_load_rpm)
