"""Edits of cables."""

from mild_badger.core.ids import CableId
from mild_badger.core.mechanisms.cables.model import MAX_RUNS, CableRun, Cables
from mild_badger.core.mechanisms.cables.travel import HoleChoice, best_holes, with_holes
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle

__all__ = [
    "add_cables",
    "add_run",
    "apply_best_holes",
    "apply_holes",
    "remove_cables",
    "remove_run",
    "set_levers",
]


def add_cables() -> Edit:
    """Plan cables: a flap and the motor's speed from one lever."""
    flap = CableRun(name="flap", from_hole=2, wanted_mm=9.0)
    speed = CableRun(name="motor speed", from_hole=3, works="motor speed", wanted_mm=14.0)
    return Edit.one(say("cables.plan-cables"), ("cables",), Cables(runs=(flap, speed)))


def remove_cables() -> Edit:
    """Take the cables away."""
    return Edit.one(say("cables.take-the-cables-away"), ("cables",), None)


def add_run(vehicle: Vehicle) -> Edit | None:
    """Add a cable; None where there are as many as there may be."""
    cables = vehicle.cables or Cables()
    if len(cables.runs) >= MAX_RUNS:
        return None
    names = {run.name for run in cables.runs}
    name = next(
        say("cables.cable", n=n) for n in range(1, MAX_RUNS + 2) if f"cable {n}" not in names
    )
    identity = CableId(vehicle.new_id(name, (run.id for run in cables.runs)))
    made = CableRun(id=identity, name=name)
    return Edit.one(say("cables.add-a-cable"), ("cables", "runs"), [*cables.runs, made])


def remove_run(cables: Cables, number: int) -> Edit:
    """Take a cable away."""
    kept = [run for n, run in enumerate(cables.runs) if n != number]
    return Edit.one(
        say("cables.take-away", name=cables.runs[number].name), ("cables", "runs"), kept
    )


def set_levers(cables: Cables, number: int, count: int) -> Edit:
    """Let a cable pass so many levers, the first ones kept."""
    run = cables.runs[number]
    fresh = CableRun(name="fresh").levers
    levers = [*run.levers[:count], *(fresh[0] for _ in range(count - len(run.levers)))]
    return Edit.one(
        say("cables.lead-over-levers", name=run.name, count=count),
        ("cables", "runs", number, "levers"),
        levers,
    )


def apply_holes(cables: Cables, number: int, choice: HoleChoice) -> Edit:
    """Hang a cable into other holes."""
    run = cables.runs[number]
    return Edit.one(
        say("cables.hang-into-other-holes", name=run.name),
        ("cables", "runs", number),
        with_holes(run, choice),
    )


def apply_best_holes(cables: Cables) -> Edit | None:
    """Hang every cable where all together do best; None where some find no hole."""
    best = best_holes(cables)
    if best is None:
        return None
    runs = [with_holes(run, choice) for run, choice in zip(cables.runs, best, strict=True)]
    return Edit.one(say("cables.take-the-best-holes"), ("cables", "runs"), runs)
