"""The chapter on the clutch."""

from mild_badger.core.mechanisms.chapter import Chapter, Sentences
from mild_badger.core.mechanisms.clutch.result import clutch_words
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["clutch_chapter"]


def clutch_chapter(vehicle: Vehicle, gear: str | None) -> Chapter | None:
    """Write the clutch's figures and sizes; None where there is none."""
    clutch = vehicle.clutch
    if clutch is None:
        return None
    sizes = (
        f"{clutch.faces} friction faces of {clutch.lining}, outside diameter {clutch.outer_mm:g} "
        f"mm, inside diameter {clutch.inner_mm:g} mm. Spring force {clutch.spring_n:g} N new, "
        f"spring rate {clutch.spring_n_per_mm:g} N/mm. Release gap {clutch.gap_mm:g} mm a face; "
        f"release lever ratio {clutch.lever_ratio:g}, pedal travel {clutch.pedal_mm:g} mm."
    )
    return Chapter("Clutch", (Sentences(clutch_words(vehicle)), Sentences(sizes)))
