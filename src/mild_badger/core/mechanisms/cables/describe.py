"""Saying in words how cables work out."""

from itertools import combinations

from mild_badger.core.figures import in_a_row, in_mm, in_n
from mild_badger.core.mechanisms.cables.model import CableRun, Cables
from mild_badger.core.mechanisms.cables.strokes import (
    PARTS,
    apart_percent,
    shares_of_way,
    stroke_rows,
)
from mild_badger.core.mechanisms.cables.travel import pull_n, run_figures
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import signed

__all__ = ["describe_cables", "describe_run"]


def describe_run(cables: Cables, run: CableRun) -> str:
    """Say what one cable does."""
    figures = run_figures(cables, run)
    if figures.jams:
        return f"{run.name} jams: {figures.jams} would have to swing too far."
    ways = in_a_row((in_mm(mm, 1) for mm in figures.travels), " → ")
    off = f"{signed(figures.error_percent, '+.1f')} %"
    return (
        f"{run.name}: {ways}, {in_mm(run.wanted_mm)} wanted ({off}); it starts at "
        f"{figures.starts:.0%} of the stroke and takes {in_n(pull_n(cables, run), 1)} at the hand."
    )


def describe_cables(vehicle: Vehicle) -> str:
    """Say what all cables do together; "" where there are none."""
    cables = vehicle.cables
    if cables is None:
        return ""
    if not cables.runs:
        return "No cable hangs on the lever yet."
    force = sum(pull_n(cables, run) for run in cables.runs)
    sentences = [
        *(describe_run(cables, run) for run in cables.runs),
        f"Together they take {in_n(force, 1)} at the hand.",
    ]
    half = stroke_rows(vehicle)[PARTS // 2]
    if half.motor_rpm is not None:
        ends = ", ".join(
            f"{run.name} {in_mm(mm, 1)}" for run, mm in zip(cables.runs, half.travels, strict=True)
        )
        sentences.append(f"At half the stroke: {ends}, the motor at {half.motor_rpm:.0f} rpm.")
    shares = shares_of_way(vehicle, cables)
    if len(shares) > 1:
        apart, one, other = max(
            (apart_percent(shares[a], shares[b]), a, b)
            for a, b in combinations(range(len(shares)), 2)
        )
        sentences.append(
            f"{cables.runs[one].name} and {cables.runs[other].name} are up to {apart:.0f} % of "
            "their ways apart."
        )
    return " ".join(sentences)
