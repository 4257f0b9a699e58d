"""The cautions shown where work can hurt someone: advice from a data file, never instruction."""

import json
from functools import cache
from importlib import resources

from mild_badger.core.message import say
from mild_badger.core.vehicle.kit import Kit

__all__ = ["caution_of", "cautions", "cautions_for"]


@cache
def _entries() -> tuple[tuple[str, str], ...]:
    """Give what each caution applies to, and its words by the code ``caution.`` and its number."""
    file = resources.files("mild_badger") / "data" / "cautions.json"
    data = json.loads(file.read_text(encoding="utf-8"))
    codes = [f"caution.{number}" for number in range(1, len(data["cautions"]) + 1)]
    return tuple(
        (entry["applies_to"], say(code))
        for entry, code in zip(data["cautions"], codes, strict=True)
    )


def cautions() -> tuple[str, ...]:
    """Return all sentences in the order in which they are shown."""
    return tuple(text for _, text in _entries())


def caution_of(kind: str) -> str:
    """Return what applies to one kind of work, such as liquid."""
    return " ".join(text for applies, text in _entries() if applies == kind)


def cautions_for(kit: Kit) -> tuple[str, ...]:
    """Return the sentences that apply to work with a kit: those of its own making come first."""
    kinds = {"brick", "wood", "printed", "liquid", "lifting"}
    own = tuple(text for applies, text in _entries() if applies == kit.kind)
    return own + tuple(text for applies, text in _entries() if applies not in kinds)
