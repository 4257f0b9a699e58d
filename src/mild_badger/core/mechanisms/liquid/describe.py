"""Saying in words how liquid lines work out."""

from mild_badger.core.figures import bare, in_mm, in_n, in_n_mm
from mild_badger.core.mechanisms.clutch.grip import clutch_figures
from mild_badger.core.mechanisms.liquid.model import LiquidLine
from mild_badger.core.mechanisms.liquid.needs import grip_torque_n_mm, needed_mm
from mild_badger.core.mechanisms.liquid.pressure import liquid_figures
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["describe_liquid"]


def describe_liquid(vehicle: Vehicle, line: LiquidLine) -> str:
    """Say what a line does."""
    figures, needed = liquid_figures(line), needed_mm(vehicle, line)
    sentence = (
        f"{in_n(line.hand_n)} at the pedal are {figures.pressure:.3f} N/mm² ("
        f"{10 * figures.pressure:.2f} bar) in the line and {in_n(figures.slave_n, 1)} at each of "
        f"{line.slaves}, which move up to {in_mm(figures.travel, 2)}; {in_mm(needed, 2)} are "
        "needed, "
        f"there the pedal has gone {bare(in_mm(figures.pedal_at(needed), 1))} of "
        f"{in_mm(line.pedal_mm)}, "
        f"{in_mm(figures.pedal_lost, 1)} of it into air and tubes. "
    )
    if line.works == "clutch":
        if vehicle.clutch is None:
            return f"{sentence}There is no clutch to work."
        return (
            f"{sentence}The clutch's lever wants {in_n(clutch_figures(vehicle.clutch).pedal_n, 1)}."
        )
    grip = grip_torque_n_mm(vehicle, line)
    return (
        f"{sentence}The brakes hold {in_n_mm(figures.torque, 0)} together, the tyres grip to "
        f"{in_n_mm(grip, 0)}: {in_n(line.hand_n * grip / figures.torque, 1)} at the pedal lock the "
        "wheels."
    )
