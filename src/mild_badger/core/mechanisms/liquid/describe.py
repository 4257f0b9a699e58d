"""Saying in words how liquid lines work out."""

from mild_badger.core.figures import bare, in_mm, in_n, in_n_mm
from mild_badger.core.mechanisms.clutch.grip import clutch_figures
from mild_badger.core.mechanisms.liquid.model import LiquidLine
from mild_badger.core.mechanisms.liquid.needs import grip_torque_n_mm, needed_mm
from mild_badger.core.mechanisms.liquid.pressure import liquid_figures
from mild_badger.core.message import say
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["describe_liquid"]


def describe_liquid(vehicle: Vehicle, line: LiquidLine) -> str:
    """Say what a line does."""
    figures, needed = liquid_figures(line), needed_mm(vehicle, line)
    sentence = say(
        "liquid.at-the-pedal-are-n-mm-bar-in-the-line-and-at",
        hand_n=in_n(line.hand_n),
        pressure=figures.pressure,
        pressure_2=10 * figures.pressure,
        slave_n=in_n(figures.slave_n, 1),
        slaves=line.slaves,
        travel=in_mm(figures.travel, 2),
        needed=in_mm(needed, 2),
        pedal_at=bare(in_mm(figures.pedal_at(needed), 1)),
        pedal_mm=in_mm(line.pedal_mm),
        pedal_lost=in_mm(figures.pedal_lost, 1),
    )
    if line.works == "clutch":
        if vehicle.clutch is None:
            return say("liquid.there-is-no-clutch-to-work", sentence=sentence)
        return say(
            "liquid.the-clutchs-lever-wants",
            sentence=sentence,
            pedal_n=in_n(clutch_figures(vehicle.clutch).pedal_n, 1),
        )
    grip = grip_torque_n_mm(vehicle, line)
    return say(
        "liquid.the-brakes-hold-together-the-tyres-grip-to",
        sentence=sentence,
        torque=in_n_mm(figures.torque, 0),
        grip=in_n_mm(grip, 0),
        hand_n=in_n(line.hand_n * grip / figures.torque, 1),
    )
