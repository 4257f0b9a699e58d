"""What to try at each mechanism: its steps of the trial list, with what should be seen."""

from dataclasses import dataclass
from functools import lru_cache

from mild_badger.core.mechanisms.registry import MECHANISMS
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["TrialStep", "mechanism_steps"]


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
        TrialStep(f"{s.kind} {s.id}".strip(), s.name or s.kind, s.words)
        for mechanism in MECHANISMS
        for s in mechanism.steps(vehicle)
    )
