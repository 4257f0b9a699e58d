"""What was noted of a sleeve, its fork or its rail goes with it when it couples other gears."""

from collections.abc import Callable
from typing import TypeVar

from mild_badger.core.vehicle.assembly import Joint, PartState
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.sleeves import SleeveId, fork_id, fork_rail_id
from mild_badger.core.vehicle.trial import Measured

__all__ = ["with_sleeve_marks"]

Mark = TypeVar("Mark", PartState, Joint, Measured)


def with_sleeve_marks(old: Vehicle, new: Vehicle) -> Vehicle:
    """Move marks of parts from the sleeves that were to those that took over their gears."""
    marked = (*new.assembly.states, *new.assembly.joints, *new.trial.measured)
    if not marked and not new.assembly.ticks:
        return new
    before, after = _sleeves(old), _sleeves(new)
    renamed: dict[str, str] = {}
    for sleeve in before - after:
        heir = max(sorted(after - before), key=lambda s: _shared(sleeve, s), default=None)
        if heir is not None and _shared(sleeve, heir)[0]:
            for part in (str, fork_id, fork_rail_id):
                renamed[part(sleeve)] = part(heir)
    if not renamed:
        return new

    def moved(key: str) -> str:
        return renamed.get(key, key)

    assembly = new.assembly.model_copy(
        update={
            "states": _moved(new.assembly.states, moved),
            "joints": _moved(new.assembly.joints, moved),
            "ticks": tuple(dict.fromkeys(map(moved, new.assembly.ticks))),
        }
    )
    trial = new.trial.model_copy(update={"measured": _moved(new.trial.measured, moved)})
    return new.model_copy(update={"assembly": assembly, "trial": trial})


def _sleeves(vehicle: Vehicle) -> set[SleeveId]:
    box = vehicle.box
    return {box.sleeve_at(column) for column in range(1, box.columns + 1)}


def _shared(one: SleeveId, other: SleeveId) -> tuple[int, bool]:
    """How many gears two sleeves both couple, and whether they stand at the same place."""
    return len(set(one.couples) & set(other.couples)), one.number == other.number


def _moved(marks: tuple[Mark, ...], moved: Callable[[str], str]) -> tuple[Mark, ...]:
    """Put marks on their new keys; where two sleeves became one, the first mark of a part stays."""
    kept: dict[str, Mark] = {}
    for mark in marks:
        key = moved(mark.key)
        kept.setdefault(key, mark.model_copy(update={"key": key}))
    return tuple(kept.values())
