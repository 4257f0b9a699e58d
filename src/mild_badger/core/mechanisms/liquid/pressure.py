"""What a liquid line passes on: force by the areas, travel by the volume. Lossless seals.

From d1 to d2 the force is (d2/d1)² times and the stroke (d1/d2)² times; slaves side by side share
the volume and all have the whole pressure (Pascal).
"""

from dataclasses import dataclass
from math import pi

from mild_badger.core.mechanisms.liquid.model import LiquidLine

__all__ = ["LiquidFigures", "liquid_figures"]


@dataclass(frozen=True)
class LiquidFigures:
    """Pressure N/mm², forces N, travels mm, torque N·mm.

    ``travel`` is each slave's with the pedal down, what is lost taken off; ``torque`` that of all
    brakes together.
    """

    pressure: float
    master_n: float
    master_stroke: float
    volume_mm3: float
    slave_n: float
    travel: float
    torque: float
    pedal_for: float
    """Pedal travel for each mm of the slaves', beyond ``pedal_lost``."""
    pedal_lost: float

    def pedal_at(self, travel: float) -> float:
        """Give the pedal's travel at which the slaves have moved so far."""
        return self.pedal_lost + self.pedal_for * travel


def _area(bore: float) -> float:
    return pi * bore**2 / 4


def liquid_figures(line: LiquidLine) -> LiquidFigures:
    """Work a line out."""
    master, slave = _area(line.master_mm), _area(line.slave_mm)
    push = line.hand_n * line.pedal_ratio
    pressure = push / master
    stroke = line.pedal_mm / line.pedal_ratio
    volume = master * stroke
    together = line.slaves * slave
    force = pressure * slave
    pads = 2 if line.floating else 1  # a floating caliper pinches both sides alike
    return LiquidFigures(
        pressure=pressure,
        master_n=push,
        master_stroke=stroke,
        volume_mm3=volume,
        slave_n=force,
        travel=max(volume - line.lost_mm3, 0.0) / together,
        torque=line.slaves * pads * line.pad_mu * force * line.radius_mm,
        pedal_for=line.pedal_ratio * together / master,
        pedal_lost=line.pedal_ratio * line.lost_mm3 / master,
    )
