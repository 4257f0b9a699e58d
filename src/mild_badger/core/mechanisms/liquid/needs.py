"""What a liquid line must push, and how far."""

from mild_badger.core.axle.running import running_of
from mild_badger.core.mechanisms.clutch.grip import clutch_figures
from mild_badger.core.mechanisms.liquid.model import LiquidLine
from mild_badger.core.units import GRAVITY_M_S2
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["grip_torque_n_mm", "needed_mm"]


def grip_torque_n_mm(vehicle: Vehicle, line: LiquidLine) -> float:
    """Give the brake torque at which the braked wheels lock: grip · weight on them · radius."""
    weight = running_of(vehicle).chassis.mass_kg * GRAVITY_M_S2 * line.weight_share
    return vehicle.ground.grip * weight * vehicle.wheels.diameter_mm / 2


def needed_mm(vehicle: Vehicle, line: LiquidLine) -> float:
    """Give the travel each slave needs: its gap, both of a floating caliper, or the clutch's."""
    if line.works == "clutch":
        return clutch_figures(vehicle.clutch).pedal_needed if vehicle.clutch is not None else 0.0
    return line.gap_mm * (2 if line.floating else 1)
