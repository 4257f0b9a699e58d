"""Parts of files before version 9, which were numbered along their shafts.

Which part the third spacer of a shaft is follows from where all that sits on it stands, so that
keys are put in order when a file is read and not while it is plain data.
"""

from collections.abc import Iterator
from typing import TypeVar

from mild_badger.core.structure.brackets import tie_names
from mild_badger.core.structure.forks import forks_of
from mild_badger.core.structure.plates import plates_of
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.structure.shaft_lengths import shaft_cuts
from mild_badger.core.vehicle.assembly import Joint, PartState
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.trial import Measured

__all__ = ["with_part_ids"]

Mark = TypeVar("Mark", PartState, Joint, Measured)
COUPLING = "coupling: "


def with_part_ids(vehicle: Vehicle) -> Vehicle:
    """Put the ids of parts where a file has them by their numbers; what is gone stays as it is."""
    assembly, trial = vehicle.assembly, vehicle.trial
    marked: tuple[PartState | Joint | Measured, ...]
    marked = (*assembly.states, *assembly.joints, *trial.measured)
    keys = [*assembly.ticks, *(mark.key for mark in marked)]
    if not any(_numbered(key) for key in keys):
        return vehicle
    ids = dict(_ids(vehicle))

    def renamed(marks: tuple[Mark, ...]) -> tuple[Mark, ...]:
        kept: dict[str, Mark] = {}
        for mark in marks:
            key = ids.get(mark.key, mark.key)
            kept.setdefault(key, mark.model_copy(update={"key": key}))
        return tuple(kept.values())

    ticks = tuple(dict.fromkeys(ids.get(tick, tick) for tick in assembly.ticks))
    marks = {"states": renamed(assembly.states), "joints": renamed(assembly.joints)}
    return vehicle.model_copy(
        update={
            "assembly": assembly.model_copy(update={**marks, "ticks": ticks}),
            "trial": trial.model_copy(update={"measured": renamed(trial.measured)}),
        }
    )


def _numbered(key: str) -> bool:
    return (": " in key and not key.startswith(COUPLING)) or key.startswith("post ")


def _ids(vehicle: Vehicle) -> Iterator[tuple[str, str]]:
    """Tell for each key of old which part it was."""
    stack = stack_for(vehicle)
    if stack is None:
        return
    for cut in shaft_cuts(vehicle, stack):
        counts: dict[str, int] = {}
        for part in cut.parts:
            if part.kind == "wall":
                yield f"{cut.name}: bearing in {part.wall}", part.key
                continue
            counts[part.kind] = counts.get(part.kind, 0) + 1
            if part.key:
                yield f"{cut.name}: {part.kind} {counts[part.kind]}", part.key
    if vehicle.kit.any_seat:
        plates = plates_of(vehicle, stack, forks_of(vehicle, stack))
        posts = [hole for hole in plates[0].holes if hole.kind == "post"] if plates else []
        for hole, name in zip(posts, tie_names(posts), strict=True):
            yield hole.name, name
