"""The chapter on the cables."""

from mild_badger.core.figures import MM, bare, in_a_row, in_mm
from mild_badger.core.mechanisms.cables.describe import describe_cables
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
            (
                run.name,
                ", ".join(holes),
                *(bare(in_mm(mm, 1)) for mm in (travel, run.wanted_mm, run.slack_mm)),
            )
        )
    columns = (
        ("cable", 0.0, "left"),
        ("holes", 56.0, "left"),
        (f"travel {MM}", 118.0, "right"),
        (f"required {MM}", 146.0, "right"),
        (f"slack {MM}", 168.0, "right"),
    )
    drilled = in_a_row(in_mm(mm) for mm in cables.holes_mm)
    drilling = (
        f"Hand lever: holes {drilled} from the pivot; travel {in_mm(cables.stroke_mm)} at the "
        f"handle, {in_mm(cables.hand_mm)} from the pivot."
    )
    for run in cables.runs:
        for number, lever in enumerate(run.levers, start=1):
            holes_at = in_a_row(in_mm(mm) for mm in lever.holes_mm)
            drilling += f" Lever {number} of {run.name}: holes {holes_at} from the pivot."
    summary = Sentences(describe_cables(vehicle))
    return Chapter("Cables", (summary, Table(columns, tuple(rows)), Sentences(drilling)))
