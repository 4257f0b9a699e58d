"""A vehicle's cables: how far they pull, whether functions keep in step; findings and edits."""

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import combinations

from mild_badger.core.figures import in_a_row, in_mm, in_n
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.ids import CableId
from mild_badger.core.mechanisms.cables.model import MAX_RUNS, CableRun, Cables
from mild_badger.core.mechanisms.cables.travel import (
    HoleChoice,
    best_holes,
    choices,
    pull_n,
    run_figures,
    with_holes,
)
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import capitalized, signed

__all__ = [
    "StrokeRow",
    "add_cables",
    "add_run",
    "apply_best_holes",
    "apply_holes",
    "cables_faults",
    "describe_cables",
    "describe_run",
    "hole_rows",
    "remove_cables",
    "remove_run",
    "set_levers",
    "stroke_rows",
]

WITHIN_PERCENT = 5.0
"""A travel this near to what is wanted will do (common practice, no source)."""
PARTS = 10


@dataclass(frozen=True)
class StrokeRow:
    """The hand at a share of its stroke: every end's travel, the motor's speed if one sets it."""

    share: float
    travels: tuple[float, ...]
    motor_rpm: float | None


def add_cables() -> Edit:
    """Plan cables: a flap and the motor's speed from one lever."""
    flap = CableRun(name="flap", from_hole=2, wanted_mm=9.0)
    speed = CableRun(name="motor speed", from_hole=3, works="motor speed", wanted_mm=14.0)
    return Edit.one("Plan cables", ("cables",), Cables(runs=(flap, speed)))


def remove_cables() -> Edit:
    """Take the cables away."""
    return Edit.one("Take the cables away", ("cables",), None)


def add_run(vehicle: Vehicle) -> Edit | None:
    """Add a cable; None where there are as many as there may be."""
    cables = vehicle.cables or Cables()
    if len(cables.runs) >= MAX_RUNS:
        return None
    names = {run.name for run in cables.runs}
    name = next(f"cable {n}" for n in range(1, MAX_RUNS + 2) if f"cable {n}" not in names)
    identity = CableId(vehicle.new_id(name, (run.id for run in cables.runs)))
    made = CableRun(id=identity, name=name)
    return Edit.one("Add a cable", ("cables", "runs"), [*cables.runs, made])


def remove_run(cables: Cables, number: int) -> Edit:
    """Take a cable away."""
    kept = [run for n, run in enumerate(cables.runs) if n != number]
    return Edit.one(f"Take {cables.runs[number].name} away", ("cables", "runs"), kept)


def set_levers(cables: Cables, number: int, count: int) -> Edit:
    """Let a cable pass so many levers, the first ones kept."""
    run = cables.runs[number]
    fresh = CableRun(name="fresh").levers
    levers = [*run.levers[:count], *(fresh[0] for _ in range(count - len(run.levers)))]
    return Edit.one(
        f"Lead {run.name} over {count} levers", ("cables", "runs", number, "levers"), levers
    )


def apply_holes(cables: Cables, number: int, choice: HoleChoice) -> Edit:
    """Hang a cable into other holes."""
    run = cables.runs[number]
    return Edit.one(
        f"Hang {run.name} into other holes", ("cables", "runs", number), with_holes(run, choice)
    )


def apply_best_holes(cables: Cables) -> Edit | None:
    """Hang every cable where all together do best; None where some find no hole."""
    best = best_holes(cables)
    if best is None:
        return None
    runs = [with_holes(run, choice) for run, choice in zip(cables.runs, best, strict=True)]
    return Edit.one("Take the best holes", ("cables", "runs"), runs)


def hole_rows(cables: Cables, number: int) -> tuple[tuple[HoleChoice, str], ...]:
    """List the best holes of one cable with their words."""
    return tuple(
        (
            choice,
            ", ".join(
                [
                    f"hand {choice.from_hole}",
                    *(f"lever {n}: {a} → {b}" for n, (a, b) in enumerate(choice.levers, start=1)),
                ]
            ),
        )
        for choice in choices(cables, cables.runs[number], 24)
    )


def stroke_rows(vehicle: Vehicle) -> tuple[StrokeRow, ...]:
    """Follow all cables over the hand's stroke."""
    cables = vehicle.cables
    if cables is None:
        return ()
    rows = []
    for n in range(PARTS + 1):
        share = n / PARTS
        ends = tuple(run_figures(cables, r, share).travel for r in cables.runs)
        speeds = [
            min(mm / run.wanted_mm, 1.0)
            for mm, run in zip(ends, cables.runs, strict=True)
            if run.works == "motor speed"
        ]
        rpm = vehicle.motor.working_rpm * speeds[0] if speeds else None
        rows.append(StrokeRow(share, ends, rpm))
    return tuple(rows)


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


def _apart_percent(one: tuple[float, ...], other: tuple[float, ...]) -> float:
    """Give how far two shares of the way differ at the worst place of the stroke."""
    return 100 * max(abs(a - b) for a, b in zip(one, other, strict=True))


def _shares_of_way(vehicle: Vehicle, cables: Cables) -> list[tuple[float, ...]]:
    rows = stroke_rows(vehicle)
    return [
        tuple(row.travels[n] / run.wanted_mm for row in rows) for n, run in enumerate(cables.runs)
    ]


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
    shares = _shares_of_way(vehicle, cables)
    if len(shares) > 1:
        apart, one, other = max(
            (_apart_percent(shares[a], shares[b]), a, b)
            for a, b in combinations(range(len(shares)), 2)
        )
        sentences.append(
            f"{cables.runs[one].name} and {cables.runs[other].name} are up to {apart:.0f} % of "
            "their ways apart."
        )
    return " ".join(sentences)


def cables_faults(vehicle: Vehicle) -> Iterator[Finding]:
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
                f"The cable of {run.name} jams",
                f"{capitalized(figures.jams)} would have to swing farther than it "
                "may. Take an outer hole, a shorter stroke, or let it swing farther.",
                mend=mend,
            )
        elif abs(figures.error_percent) > WITHIN_PERCENT:
            more = "too far" if figures.error_percent > 0 else "too little"
            yield Finding(
                Severity.WARNING,
                "cable-travel",
                where,
                f"The cable of {run.name} pulls {more}",
                f"Cable travel {in_mm(figures.travel, 1)}; {in_mm(run.wanted_mm)} is required.",
                figures.travel,
                run.wanted_mm,
                "mm",
                mend,
            )
    taken = [run.from_hole for run in cables.runs]
    twice = sorted({hole for hole in taken if taken.count(hole) > 1})
    if cables.apart and twice:
        names = " and ".join(run.name for run in cables.runs if run.from_hole == twice[0])
        yield Finding(
            Severity.WARNING,
            "hole-shared",
            ("cables",),
            "Two cables share a hole",
            f"{names} both use hole {twice[0]} of the hand lever.",
            mend=mend,
        )
    shares = _shares_of_way(vehicle, cables)
    for a, b in combinations(range(len(shares)), 2):
        apart = _apart_percent(shares[a], shares[b])
        if apart > cables.step_percent:
            one, other = cables.runs[a].name, cables.runs[b].name
            yield Finding(
                Severity.WARNING,
                "cables-apart",
                ("cables", one, other),
                f"Not in step: {one} and {other}",
                f"They come {apart:.0f} % of their ways apart, {cables.step_percent:g} % are "
                "allowed: take other holes, or less slack.",
                apart,
                cables.step_percent,
                "%",
                mend,
            )
