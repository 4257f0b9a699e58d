"""The chapter on the clutch."""

from mild_badger.core.figures import in_mm, in_n
from mild_badger.core.mechanisms.chapter import Chapter, Sentences
from mild_badger.core.mechanisms.clutch.describe import describe_clutch
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["clutch_chapter"]


def clutch_chapter(vehicle: Vehicle, gear: str | None) -> Chapter | None:
    """Write the clutch's figures and sizes; None where there is none."""
    clutch = vehicle.clutch
    if clutch is None:
        return None
    sizes = (
        f"{clutch.faces} friction faces of {clutch.lining}, outside diameter "
        f"{in_mm(clutch.outer_mm)}, inside diameter {in_mm(clutch.inner_mm)}. Spring force "
        f"{in_n(clutch.spring_n)} new, "
        f"spring rate {clutch.spring_n_per_mm:g} N/mm. Release gap {in_mm(clutch.gap_mm)} a face; "
        f"release lever ratio {clutch.lever_ratio:g}, pedal travel {in_mm(clutch.pedal_mm)}."
    )
    return Chapter("Clutch", (Sentences(describe_clutch(vehicle)), Sentences(sizes)))
