"""Sleeves and sliders: which one it is follows from what it couples, never from where it stands.

A sleeve keeps its id, and so what was noted of it, when columns come, go or change places. Its rail
and its number along that rail come with the id, for order and for show. This is the one place that
makes such an id.
"""

from collections.abc import Iterable
from functools import lru_cache
from typing import Literal, cast

from mild_badger.core.message import say
from mild_badger.core.words import word

__all__ = [
    "Rail",
    "SleeveId",
    "column_of",
    "describe_place",
    "describe_sleeve",
    "fork_id",
    "fork_rail_id",
    "is_sleeve",
    "rail_of",
    "rail_title",
]

Rail = Literal[
    "sleeve",
    "splitter sleeve",
    "range sleeve",
    "fork rail",
    "splitter fork rail",
    "range fork rail",
]
TITLES: dict[str, str] = {"splitter sleeve": "splitter", "range sleeve": "range"}


class SleeveId(str):
    """The id of a sleeve on a rail: made of what it couples, in an order of its own.

    Parameters
    ----------
    rail
        What moves it.
    number
        Its place along the rail, from 1; no part of the id but where it couples nothing yet.
    couples
        Ids of what its faces couple.
    """

    rail: Rail
    number: int
    couples: tuple[str, ...]

    @staticmethod
    @lru_cache(maxsize=256)
    def of(rail: Rail, number: int, couples: tuple[str, ...]) -> "SleeveId":
        """Give the id; it is asked for at every turn."""
        return SleeveId(rail, number, couples)

    def __new__(cls, rail: Rail, number: int, couples: Iterable[str]) -> "SleeveId":
        """Make the id."""
        coupled = tuple(sorted(couples))
        self = super().__new__(cls, f"{rail}.{'+'.join(coupled) or f'empty {number}'}")
        self.rail, self.number, self.couples = rail, number, coupled
        return self

    def __getnewargs__(self) -> tuple[Rail, int, tuple[str, ...]]:  # type: ignore[override]
        """Give what a copy is made of."""
        return self.rail, self.number, self.couples


def rail_of(sleeve: str) -> Rail:
    """Tell which rail a sleeve belongs to; of a graph file's sleeve, what stands before the dot."""
    if isinstance(sleeve, SleeveId):
        return sleeve.rail
    return cast(Rail, sleeve.partition(".")[0])


def is_sleeve(body: str) -> bool:
    """Tell whether a part is a sleeve or slider, whichever rail it belongs to."""
    return rail_of(body).endswith("sleeve")


def column_of(sleeve: str) -> int:
    """Give a sleeve's number along its rail; 0 for what slides alone."""
    return sleeve.number if isinstance(sleeve, SleeveId) else 0


def describe_sleeve(sleeve: str) -> str:
    """Say what a sleeve is called: sleeve 1, range sleeve 2; of a graph file, by its own name."""
    if isinstance(sleeve, SleeveId):
        return say("vehicle.sleeve-number", rail=word(sleeve.rail), number=sleeve.number)
    return sleeve.replace(".", " ", 1)


def fork_rail_id(sleeve: str) -> str:
    """Give the id of the rod that carries a sleeve's fork."""
    if isinstance(sleeve, SleeveId):
        rail = cast(Rail, sleeve.rail.replace("sleeve", "fork rail"))
        return SleeveId.of(rail, sleeve.number, sleeve.couples)
    return f"fork rail.{sleeve}"


def fork_id(sleeve: str) -> str:
    """Give the id of a sleeve's fork."""
    return f"fork of {sleeve}"


def describe_place(sleeve: str, place: str) -> str:
    """Say where a sleeve stands: sleeve 1 front, sleeve 2 3."""
    return say("vehicle.sleeve-place", sleeve=describe_sleeve(sleeve), place=word(place))


def rail_title(rail: str, what: str) -> str:
    """Say what belongs to a rail: gate, splitter gate, range gate."""
    if rail not in TITLES:
        return word(what)
    return say("vehicle.of-a-rail", rail=word(TITLES[rail]), what=word(what))
