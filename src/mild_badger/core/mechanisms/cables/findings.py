"""What may be wrong with cables."""

from collections.abc import Iterator
from itertools import combinations

from mild_badger.core.figures import in_mm
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.mechanisms.cables.edits import apply_best_holes
from mild_badger.core.mechanisms.cables.strokes import apart_percent, shares_of_way
from mild_badger.core.mechanisms.cables.travel import (
    run_figures,
)
from mild_badger.core.message import say
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import capitalized, listed

__all__ = ["cables_findings"]


WITHIN_PERCENT = 5.0
"""A travel this near to what is wanted will do (common practice, no source)."""


def cables_findings(vehicle: Vehicle) -> Iterator[Finding]:
    """Say what jams, what pulls too far or too short, what shares a hole, what is out of step."""
    cables = vehicle.cables
    if cables is None:
        return
    mend = apply_best_holes(cables)
    for run in cables.runs:
        figures, where = run_figures(cables, run), ("cables", run.id)
        if figures.jams:
            yield Finding(
                Severity.ERROR,
                "cable-jams",
                where,
                say("cables.the-cable-of-jams", name=run.name),
                say(
                    "cables.would-have-to-swing-farther-than-it-may-take",
                    jams=capitalized(figures.jams),
                ),
                mend=mend,
            )
        elif abs(figures.error_percent) > WITHIN_PERCENT:
            more = say("cables.too-far") if figures.error_percent > 0 else say("cables.too-little")
            yield Finding(
                Severity.WARNING,
                "cable-travel",
                where,
                say("cables.the-cable-of-pulls", name=run.name, more=more),
                say(
                    "cables.cable-travel-is-required",
                    travel=in_mm(figures.travel, 1),
                    wanted_mm=in_mm(run.wanted_mm),
                ),
                figures.travel,
                run.wanted_mm,
                "mm",
                mend,
            )
    taken = [run.from_hole for run in cables.runs]
    twice = sorted({hole for hole in taken if taken.count(hole) > 1})
    if cables.apart and twice:
        names = listed([run.name for run in cables.runs if run.from_hole == twice[0]])
        yield Finding(
            Severity.WARNING,
            "hole-shared",
            ("cables",),
            say("cables.two-cables-share-a-hole"),
            say("cables.both-use-hole-of-the-hand-lever", names=names, twice=twice[0]),
            mend=mend,
        )
    shares = shares_of_way(vehicle, cables)
    for a, b in combinations(range(len(shares)), 2):
        apart = apart_percent(shares[a], shares[b])
        if apart > cables.step_percent:
            one, other = cables.runs[a].name, cables.runs[b].name
            yield Finding(
                Severity.WARNING,
                "cables-apart",
                ("cables", one, other),
                say("cables.not-in-step-and", one=one, other=other),
                say(
                    "cables.they-come-of-their-ways-apart-are-allowed",
                    apart=apart,
                    step_percent=cables.step_percent,
                ),
                apart,
                cables.step_percent,
                "%",
                mend,
            )
