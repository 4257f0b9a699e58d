"""A placed box as slabs along its shafts, from the input end, and what is in them."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import hypot
from typing import Literal

from mild_badger.core.drivetrain.graph import Drivetrain

__all__ = [
    "HUB",
    "ClutchFit",
    "Disc",
    "OwnTrain",
    "Rod",
    "SlabKind",
    "Stack",
    "walls_in",
]

HUB = "hub"
"""The part on the input's end that a direct gear's sleeve couples."""


@dataclass(frozen=True)
class Disc:
    """A gear or a sleeve: a circle in one slab of the stack; ``body`` is its name in the graph."""

    body: str
    shaft: str
    slab: int
    radius_mm: float
    teeth: int = 0


@dataclass(frozen=True)
class Rod:
    """A shaft from one slab to another, both passed, with the walls that carry it."""

    name: str
    x_mm: float
    y_mm: float
    first: int
    last: int
    walls: tuple[int, ...]


SlabKind = Literal["wall", "gears", "row", "sleeve", "slider", "way", "post", "hub", "clutch"]


@dataclass(frozen=True)
class ClutchFit:
    """A one-way clutch: a ring of pawls on a gear, about a ratchet wheel on the gear's shaft.

    It stands ``behind`` the gear or before it; ``faces`` is the way in which the wheel's steep
    faces look: +1 clockwise as seen from the input end, as the motor turns forwards.
    """

    gear: str
    behind: bool
    faces: int


@dataclass(frozen=True, eq=False)
class OwnTrain:
    """What a box beside the vehicle's own turns by.

    ``rides`` gives the body that a gear turns with where it runs free on its shaft; ``front`` and
    ``back`` are the shafts that stand out of the box there by a stub; ``clutches`` are the one-way
    clutches by their ids.
    """

    drivetrain: Drivetrain
    rides: Mapping[str, str]
    front: frozenset[str]
    back: frozenset[str]
    clutches: Mapping[str, ClutchFit]


@dataclass(frozen=True)
class Stack:
    """The box as slabs along its shafts, from the input end, and what is in them.

    Slab names in order, and what each is: a slider's gears stand there in neutral, a way is open
    for them, a post holds an idler's shaft, a hub with dogs ends the input of a box in line, a
    clutch carries one way;
    ``walls`` are the numbers of those that carry shafts;
    ``edges_mm`` where each slab begins, and last where the box ends; ``lefts_mm`` how far from
    there its gears begin, empty where gears stand in the middle of their slab, on a grid. ``own``
    is what it turns by where that is not the vehicle's own drivetrain.
    """

    slabs: tuple[str, ...]
    kinds: tuple[SlabKind, ...]
    walls: tuple[int, ...]
    rods: dict[str, Rod]
    discs: tuple[Disc, ...]
    edges_mm: tuple[float, ...]
    lefts_mm: tuple[float, ...] = ()
    own: OwnTrain | None = None

    @property
    def length_mm(self) -> float:
        """Length over the outer walls."""
        return self.edges_mm[-1]

    def middle_mm(self, slab: int) -> float:
        """Where the middle of a slab is."""
        return (self.edges_mm[slab] + self.edges_mm[slab + 1]) / 2

    def apart_mm(self, one: str, other: str) -> float:
        """Distance between two shafts' axes."""
        a, b = self.rods[one], self.rods[other]
        return hypot(a.x_mm - b.x_mm, a.y_mm - b.y_mm)


def walls_in(kinds: Sequence[SlabKind]) -> tuple[int, ...]:
    """Give the numbers of the slabs that are walls."""
    return tuple(n for n, kind in enumerate(kinds) if kind == "wall")
