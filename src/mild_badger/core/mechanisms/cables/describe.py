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
from mild_badger.core.message import say
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import signed

__all__ = ["describe_cables", "describe_run"]


def describe_run(cables: Cables, run: CableRun) -> str:
    """Say what one cable does."""
    figures = run_figures(cables, run)
    if figures.jams:
        return say("cables.jams-would-have-to-swing-too-far", name=run.name, jams=figures.jams)
    ways = in_a_row((in_mm(mm, 1) for mm in figures.travels), " → ")
    off = f"{signed(figures.error_percent, '+.1f')} %"
    return say(
        "cables.wanted-it-starts-at-of-the-stroke-and-takes",
        name=run.name,
        ways=ways,
        wanted_mm=in_mm(run.wanted_mm),
        off=off,
        starts=figures.starts,
        pull_n=in_n(pull_n(cables, run), 1),
    )


def describe_cables(vehicle: Vehicle) -> str:
    """Say what all cables do together; "" where there are none."""
    cables = vehicle.cables
    if cables is None:
        return ""
    if not cables.runs:
        return say("cables.no-cable-hangs-on-the-lever-yet")
    force = sum(pull_n(cables, run) for run in cables.runs)
    sentences = [
        *(describe_run(cables, run) for run in cables.runs),
        say("cables.together-they-take-at-the-hand", force=in_n(force, 1)),
    ]
    half = stroke_rows(vehicle)[PARTS // 2]
    if half.motor_rpm is not None:
        ends = ", ".join(
            f"{run.name} {in_mm(mm, 1)}" for run, mm in zip(cables.runs, half.travels, strict=True)
        )
        sentences.append(
            say("cables.at-half-the-stroke-the-motor-at-rpm", ends=ends, motor_rpm=half.motor_rpm)
        )
    shares = shares_of_way(vehicle, cables)
    if len(shares) > 1:
        apart, one, other = max(
            (apart_percent(shares[a], shares[b]), a, b)
            for a, b in combinations(range(len(shares)), 2)
        )
        sentences.append(
            say(
                "cables.and-are-up-to-of-their-ways-apart",
                name=cables.runs[one].name,
                name_2=cables.runs[other].name,
                apart=apart,
            )
        )
    return " ".join(sentences)
