"""The chapter on the liquid lines."""

from mild_badger.core.figures import in_mm
from mild_badger.core.kit.cautions import caution_of
from mild_badger.core.mechanisms.chapter import Chapter, Sentences
from mild_badger.core.mechanisms.liquid.describe import describe_liquid
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import capitalized, counted

__all__ = ["liquid_chapter"]


def liquid_chapter(vehicle: Vehicle, gear: str | None) -> Chapter | None:
    """Write every liquid line's figures and sizes, and the caution; None where there is none."""
    if not vehicle.hydraulic_lines:
        return None
    blocks = []
    for line in vehicle.hydraulic_lines:
        name = capitalized(line.name)
        slaves = f"{counted(line.slaves, 'slave')}"
        sizes = (
            f"Master bore {in_mm(line.master_mm)}; {slaves}, bore {in_mm(line.slave_mm)}, "
            f"{'floating calipers' if line.floating else 'one-sided'}. Pedal ratio "
            f"{line.pedal_ratio:g}, pedal travel {in_mm(line.pedal_mm)}. Effective brake radius "
            f"{in_mm(line.radius_mm)}, friction coefficient {line.pad_mu:g}."
        )
        blocks += [Sentences(f"{name}: {describe_liquid(vehicle, line)}"), Sentences(sizes)]
    return Chapter("Liquid lines", (*blocks, Sentences(caution_of("liquid"))))
