"""The chapter on the liquid lines."""

from mild_badger.core.figures import in_mm
from mild_badger.core.kit.cautions import caution_of
from mild_badger.core.mechanisms.chapter import Chapter, Sentences
from mild_badger.core.mechanisms.liquid.describe import describe_liquid
from mild_badger.core.message import say, say_count
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import capitalized

__all__ = ["liquid_chapter"]


def liquid_chapter(vehicle: Vehicle, gear: str | None) -> Chapter | None:
    """Write every liquid line's figures and sizes, and the caution; None where there is none."""
    if not vehicle.hydraulic_lines:
        return None
    blocks = []
    for line in vehicle.hydraulic_lines:
        name = capitalized(line.name)
        slaves = say_count("count.slave", line.slaves)
        sizes = say(
            "liquid.master-bore-bore-pedal-ratio-pedal-travel",
            master_mm=in_mm(line.master_mm),
            slaves=slaves,
            slave_mm=in_mm(line.slave_mm),
            value=say("liquid.floating-calipers") if line.floating else say("liquid.one-sided"),
            pedal_ratio=line.pedal_ratio,
            pedal_mm=in_mm(line.pedal_mm),
            radius_mm=in_mm(line.radius_mm),
            pad_mu=line.pad_mu,
        )
        blocks += [Sentences(f"{name}: {describe_liquid(vehicle, line)}"), Sentences(sizes)]
    return Chapter(say("liquid.liquid-lines"), (*blocks, Sentences(caution_of("liquid"))))
