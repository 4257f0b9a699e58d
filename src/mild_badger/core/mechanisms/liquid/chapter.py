"""The chapter on the liquid lines."""

from mild_badger.core.kit.cautions import caution_of
from mild_badger.core.mechanisms.chapter import Chapter, Sentences
from mild_badger.core.mechanisms.liquid.result import liquid_words
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["liquid_chapter"]


def liquid_chapter(vehicle: Vehicle, gear: str | None) -> Chapter | None:
    """Write every liquid line's figures and sizes, and the caution; None where there is none."""
    if not vehicle.hydraulic_lines:
        return None
    blocks = []
    for line in vehicle.hydraulic_lines:
        name = line.name[:1].upper() + line.name[1:]
        slaves = f"{line.slaves} slave{'s' * (line.slaves != 1)}"
        sizes = (
            f"Master bore {line.master_mm:g} mm; {slaves}, bore {line.slave_mm:g} mm, "
            f"{'floating calipers' if line.floating else 'one-sided'}. Pedal ratio "
            f"{line.pedal_ratio:g}, pedal travel {line.pedal_mm:g} mm. Effective brake radius "
            f"{line.radius_mm:g} mm, friction coefficient {line.pad_mu:g}."
        )
        blocks += [Sentences(f"{name}: {liquid_words(vehicle, line)}"), Sentences(sizes)]
    return Chapter("Liquid lines", (*blocks, Sentences(caution_of("liquid"))))
