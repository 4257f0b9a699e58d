"""The architectures there are; whoever needs one asks here and knows no other by name."""

from typing import Any

from mild_badger.core.architectures.base import Architecture, SetSearch
from mild_badger.core.architectures.layshaft import LayshaftArchitecture
from mild_badger.core.architectures.lever import LeverArchitecture
from mild_badger.core.architectures.no_box import NoArchitecture
from mild_badger.core.architectures.range_splitter import RangeArchitecture
from mild_badger.core.architectures.slot import SlotArchitecture
from mild_badger.core.architectures.twin_layshaft import TwinLayshaftArchitecture
from mild_badger.core.architectures.two_shaft import TwoShaftArchitecture
from mild_badger.core.errors import DocumentError, InputError
from mild_badger.core.message import say
from mild_badger.core.ratios.box_question import Kind
from mild_badger.core.vehicle.box import BoxBase
from mild_badger.core.vehicle.boxes import Box

__all__ = ["ARCHITECTURES", "architecture_of", "blank_box", "search_of", "searches"]

ARCHITECTURES: list[Architecture[Any]] = [
    SlotArchitecture(),
    LayshaftArchitecture(),
    TwoShaftArchitecture(),
    TwinLayshaftArchitecture(),
    RangeArchitecture(),
    LeverArchitecture(),
    NoArchitecture(),
]
"""In the order in which they are offered."""


def architecture_of(box: BoxBase | str) -> Architecture[Any]:
    """Give the architecture of a box, or by what files call it.

    Raises
    ------
    DocumentError
        There is no such architecture.
    """
    for architecture in ARCHITECTURES:
        if architecture.key == box or type(box) is architecture.model:
            return architecture
    raise DocumentError(say("architectures.there-is-no-architecture-called", box=box))


def blank_box(key: str, gears: list[str]) -> Box:
    """Make a box of an architecture without any pair, a place for each gear where it has places.

    Raises
    ------
    DocumentError
        There is no such architecture.
    """
    box: Box = architecture_of(key).blank(gears)
    return box


def searches() -> dict[Kind, SetSearch]:
    """List every way to look for a set, by what it is called in files and on the command line."""
    return {
        search.kind: search for architecture in ARCHITECTURES for search in architecture.searches
    }


def search_of(kind: Kind) -> tuple[Architecture[Any], SetSearch]:
    """Find a way to look for a set, and whose it is.

    Raises
    ------
    InputError
        There is none of that name.
    """
    for architecture in ARCHITECTURES:
        for search in architecture.searches:
            if search.kind == kind:
                return architecture, search
    raise InputError(
        say(
            "architectures.no-set-can-be-looked-for-in-there-are",
            kind=kind,
            listed=", ".join(searches()),
        )
    )
