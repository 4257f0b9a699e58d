"""The motor's linear curve."""

from mild_badger.core.vehicle.model import Motor

__all__ = ["torque_at"]


def torque_at(motor: Motor, rpm: float) -> float:
    """Torque in N·mm at a speed of the shaft that enters the box."""
    return motor.shaft_torque_n_mm(rpm)
