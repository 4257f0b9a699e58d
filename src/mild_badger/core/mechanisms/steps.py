"""What to try at each mechanism: its steps of the trial list, with what should be seen."""

from dataclasses import dataclass
from functools import lru_cache

from mild_badger.core.mechanisms.registry import MECHANISMS
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["TrialStep", "mechanism_steps", "rename_with_ticks"]

KEY_LONG = 24


@dataclass(frozen=True)
class TrialStep:
    """A step by the key that it is ticked by, what it is called in a list, and what to see."""

    key: str
    name: str
    words: str


@lru_cache(maxsize=8)
def mechanism_steps(vehicle: Vehicle) -> tuple[TrialStep, ...]:
    """List the steps of every mechanism that is planned."""
    return tuple(
        TrialStep(f"{s.kind} {s.name}".strip()[:KEY_LONG].strip(), s.name or s.kind, s.words)
        for mechanism in MECHANISMS
        for s in mechanism.steps(vehicle)
    )


def rename_with_ticks(vehicle: Vehicle, edit: Edit) -> Edit:
    """Add to an edit that renames something that the steps which were ticked stay ticked."""
    before, after = mechanism_steps(vehicle), mechanism_steps(apply_edit(vehicle, edit))
    keys = {old.key: new.key for old, new in zip(before, after, strict=True)}
    ticks = [keys.get(tick, tick) for tick in vehicle.trial.ticks]
    if ticks == list(vehicle.trial.ticks):
        return edit
    return Edit(edit.label, (*edit.changes, Change(("trial", "ticks"), ticks)))
