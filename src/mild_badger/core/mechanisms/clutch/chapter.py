"""The chapter on the clutch."""

from mild_badger.core.figures import in_mm, in_n
from mild_badger.core.mechanisms.chapter import Chapter, Sentences
from mild_badger.core.mechanisms.clutch.describe import describe_clutch
from mild_badger.core.message import say
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["clutch_chapter"]


def clutch_chapter(vehicle: Vehicle, gear: str | None) -> Chapter | None:
    """Write the clutch's figures and sizes; None where there is none."""
    clutch = vehicle.clutch
    if clutch is None:
        return None
    sizes = say(
        "clutch.friction-faces-of-outside-diameter-inside",
        faces=clutch.faces,
        lining=clutch.lining,
        outer_mm=in_mm(clutch.outer_mm),
        inner_mm=in_mm(clutch.inner_mm),
        spring_n=in_n(clutch.spring_n),
        spring_n_per_mm=clutch.spring_n_per_mm,
        gap_mm=in_mm(clutch.gap_mm),
        lever_ratio=clutch.lever_ratio,
        pedal_mm=in_mm(clutch.pedal_mm),
    )
    return Chapter(say("clutch.clutch"), (Sentences(describe_clutch(vehicle)), Sentences(sizes)))
