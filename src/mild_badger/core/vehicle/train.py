"""A train of gears as the document holds it: pairs in a row, idlers between."""

from collections.abc import Collection, Iterator, Sequence
from difflib import SequenceMatcher
from itertools import count
from typing import Annotated, Literal

from pydantic import Field

from mild_badger.core.ids import ID_PATTERN, MAX_ID
from mild_badger.core.vehicle.base import DocumentNode, Teeth

__all__ = [
    "MAX_PAIRS",
    "GearPair",
    "Role",
    "Train",
    "identified_train",
    "pair_id",
    "pair_ids",
    "plain_train",
]

MAX_PAIRS = 4
Role = Literal["driver", "driven"]
"""Which gear of a pair."""


class GearPair(DocumentNode):
    """Two gears in mesh, or joined by idlers in a line between them.

    A pair that stands where it was put first is known by its place in the train and has no ``id``
    of its own; one that was moved there, or came later, has.
    """

    driver: Teeth
    driven: Teeth
    idlers: Annotated[tuple[Teeth, ...], Field(max_length=4)] = ()
    id: Annotated[str, Field(max_length=MAX_ID, pattern=ID_PATTERN)] = ""


Train = Annotated[tuple[GearPair, ...], Field(max_length=MAX_PAIRS)]


def pair_id(pair: GearPair, number: int) -> str:
    """Give the id of a pair that stands at a place of its train, counted from 0."""
    return pair.id or str(number)


def pair_ids(train: Sequence[GearPair]) -> tuple[str, ...]:
    """Give the id of every pair of a train."""
    return tuple(pair_id(pair, number) for number, pair in enumerate(train))


def plain_train(train: Sequence[GearPair]) -> tuple[GearPair, ...]:
    """Give a train without its pairs' ids, to be compared with what a search found."""
    return tuple(pair.model_copy(update={"id": ""}) if pair.id else pair for pair in train)


def identified_train(
    old: Sequence[GearPair], new: Sequence[GearPair], retired: Collection[str] = ()
) -> tuple[GearPair, ...]:
    """Give the pairs of a train the ids that they had before it was changed.

    A pair that is there still, wherever it stands now, keeps its id; so does one whose sizes were
    typed over. The others get ids that no pair of this train had.

    Parameters
    ----------
    old, new
        The train before and after.
    retired
        Ids of pairs that this train had once.
    """
    before = pair_ids(old)
    ids: list[str | None] = [pair.id if pair.id in before else None for pair in new]
    if len(set(ids) - {None}) < sum(given is not None for given in ids):
        ids = [None] * len(new)  # two of them claim one id
    left = [n for n, identity in enumerate(before) if identity not in ids]
    free = [n for n, identity in enumerate(ids) if identity is None]
    sizes = [(old[n].driver, old[n].driven) for n in left]
    wanted = [(new[n].driver, new[n].driven) for n in free]
    for here, there in _aligned(sizes, wanted):
        ids[free[there]] = before[left[here]]
    taken = {*before, *retired}
    made = []
    for number, (pair, kept) in enumerate(zip(new, ids, strict=True)):
        own = kept or next(str(n) for n in count(number) if str(n) not in taken)
        taken.add(own)
        shown = "" if own == str(number) else own
        made.append(pair if pair.id == shown else pair.model_copy(update={"id": shown}))
    return tuple(made)


def _aligned(old: list[tuple[int, int]], new: list[tuple[int, int]]) -> Iterator[tuple[int, int]]:
    """Match what was with what is: alike from both ends first, so that one put in is found."""
    most = min(len(old), len(new))
    head = next((n for n in range(most) if old[n] != new[n]), most)
    tail = next((n for n in range(most - head) if old[-1 - n] != new[-1 - n]), most - head)
    yield from ((n, n) for n in range(head))
    yield from ((len(old) - 1 - n, len(new) - 1 - n) for n in range(tail))
    here, there = old[head : len(old) - tail], new[head : len(new) - tail]
    for kind, start, end, first, last in SequenceMatcher(
        None, here, there, autojunk=False
    ).get_opcodes():
        if kind in ("equal", "replace"):
            for one, other in zip(range(start, end), range(first, last), strict=False):
                yield head + one, head + other
