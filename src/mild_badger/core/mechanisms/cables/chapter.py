"""The chapter on the cables."""

from mild_badger.core.mechanisms.cables.result import cables_words
from mild_badger.core.mechanisms.cables.travel import run_figures
from mild_badger.core.mechanisms.chapter import Chapter, Sentences, Table
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["cables_chapter"]


def cables_chapter(vehicle: Vehicle, gear: str | None) -> Chapter | None:
    """Write every cable's holes and travels; None where there is none."""
    cables = vehicle.cables
    if cables is None:
        return None
    rows = []
    for run in cables.runs:
        holes = [f"hand lever {run.from_hole}", *(f"{lv.takes} to {lv.gives}" for lv in run.levers)]
        travel = run_figures(cables, run).travel
        rows.append(
            (run.name, ", ".join(holes), f"{travel:.1f}", f"{run.wanted_mm:g}", f"{run.slack_mm:g}")
        )
    columns = (
        ("cable", 0.0, "left"),
        ("holes", 56.0, "left"),
        ("travel mm", 118.0, "right"),
        ("required mm", 146.0, "right"),
        ("slack mm", 168.0, "right"),
    )
    drilled = ", ".join(f"{mm:g}" for mm in cables.holes_mm)
    drilling = (
        f"Hand lever: holes {drilled} mm from the pivot; travel {cables.stroke_mm:g} mm at the "
        f"handle, {cables.hand_mm:g} mm from the pivot."
    )
    for run in cables.runs:
        for number, lever in enumerate(run.levers, start=1):
            holes_at = ", ".join(f"{mm:g}" for mm in lever.holes_mm)
            drilling += f" Lever {number} of {run.name}: holes {holes_at} mm from the pivot."
    summary = Sentences(cables_words(vehicle))
    return Chapter("Cables", (summary, Table(columns, tuple(rows)), Sentences(drilling)))
