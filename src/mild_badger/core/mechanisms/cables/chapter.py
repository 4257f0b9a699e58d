"""The chapter on the cables."""

from mild_badger.core.figures import MM, bare, in_a_row, in_mm
from mild_badger.core.mechanisms.cables.describe import describe_cables
from mild_badger.core.mechanisms.cables.travel import run_figures
from mild_badger.core.mechanisms.chapter import Chapter, Sentences, Table
from mild_badger.core.message import say
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["cables_chapter"]


def cables_chapter(vehicle: Vehicle, gear: str | None) -> Chapter | None:
    """Write every cable's holes and travels; None where there is none."""
    cables = vehicle.cables
    if cables is None:
        return None
    rows = []
    for run in cables.runs:
        holes = [
            say("cables.hand-lever", from_hole=run.from_hole),
            *(say("cables.to", takes=lv.takes, gives=lv.gives) for lv in run.levers),
        ]
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
        (say("cables.travel", mm=MM), 118.0, "right"),
        (say("cables.required", mm=MM), 146.0, "right"),
        (say("cables.slack", mm=MM), 168.0, "right"),
    )
    drilled = in_a_row(in_mm(mm) for mm in cables.holes_mm)
    drilling: str = say(
        "cables.hand-lever-holes-from-the-pivot-travel-at",
        drilled=drilled,
        stroke_mm=in_mm(cables.stroke_mm),
        hand_mm=in_mm(cables.hand_mm),
    )
    for run in cables.runs:
        for number, lever in enumerate(run.levers, start=1):
            holes_at = in_a_row(in_mm(mm) for mm in lever.holes_mm)
            drilling += say(
                "cables.lever-of-holes-from-the-pivot",
                number=number,
                name=run.name,
                holes_at=holes_at,
            )
    summary = Sentences(describe_cables(vehicle))
    return Chapter(
        say("cables.cables"), (summary, Table(columns, tuple(rows)), Sentences(drilling))
    )
