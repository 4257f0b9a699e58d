"""Letters of shafts: given in the order of the power, and kept when shafts come and go."""

from collections.abc import Iterable, Iterator
from itertools import count, product
from typing import Annotated

from pydantic import Field

from mild_badger.core.vehicle.base import DocumentNode

__all__ = ["LETTERS", "MAX_SHAFTS", "ShaftLetter", "letters", "with_letters"]

LETTERS = "ABCDEFGHJKLMPQSTUVWXYZ"
"""Without I, N, O and R, which read as one, neutral, nought and reverse."""
MAX_SHAFTS = 400


class ShaftLetter(DocumentNode):
    """Which letter a shaft has."""

    shaft: Annotated[str, Field(min_length=1, max_length=120)]
    letter: Annotated[str, Field(pattern=r"^[A-HJ-MP-QS-Z]{1,3}$")]


def letters() -> Iterator[str]:
    """Count on: A, B … Z, then AA, AB and so on."""
    for length in count(1):
        for word in product(LETTERS, repeat=length):
            yield "".join(word)


def with_letters(known: tuple[ShaftLetter, ...], shafts: Iterable[str]) -> tuple[ShaftLetter, ...]:
    """Give a letter to each shaft that has none yet; those of shafts that are gone stay theirs.

    Where there are more than :data:`MAX_SHAFTS`, the shafts longest gone lose theirs first.
    """
    there = tuple(shafts)
    of = {entry.shaft: entry.letter for entry in known}
    taken = set(of.values())
    free = (letter for letter in letters() if letter not in taken)
    new = [ShaftLetter(shaft=shaft, letter=next(free)) for shaft in there if shaft not in of]
    if not new:
        return known
    gone = [entry.shaft for entry in known if entry.shaft not in there]
    lost = set(gone[: max(len(known) + len(new) - MAX_SHAFTS, 0)])
    return tuple(entry for entry in (*known, *new) if entry.shaft not in lost)[:MAX_SHAFTS]
