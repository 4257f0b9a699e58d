"""A placed box as slabs along its shafts, from the input end, and what is in them."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil, hypot
from typing import Literal

from mild_badger.core.vehicle.frame import SleeveKind
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.model import Vehicle

__all__ = [
    "GROOVE_DEPTH_MM",
    "HUB",
    "Disc",
    "Rod",
    "SlabKind",
    "Stack",
    "groove_mm",
    "sleeve_radius_mm",
    "sleeve_room_mm",
    "tip_mm",
    "walls_in",
]

HUB = "hub"
"""The part on the input's end that a direct gear's sleeve couples."""
GROOVE_DEPTH_MM, GROOVE_PLAY_MM = 1.5, 0.4
"""How deep a fork's groove is, and how much wider than the fork (estimates, no source)."""
LEAST_SLEEVE_MM, ROUND_SHAFT_MM = 9.0, 4.5
"""Outer radius of a sleeve with its fork's groove, and what it has round a thick shaft's bore.

Estimates, no source: material round the bore, dogs, and material outside them.
"""


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


SlabKind = Literal["wall", "gears", "row", "sleeve", "slider", "way", "post", "hub"]


@dataclass(frozen=True)
class Stack:
    """The box as slabs along its shafts, from the input end, and what is in them.

    Slab names in order, and what each is: a slider's gears stand there in neutral, a way is open
    for them, a post holds an idler's shaft, a hub with dogs ends the input of a box in line;
    ``walls`` are the numbers of those that carry shafts;
    ``edges_mm`` where each slab begins, and last where the box ends; ``lefts_mm`` how far from
    there its gears begin, empty where gears stand in the middle of their slab, on a grid.
    """

    slabs: tuple[str, ...]
    kinds: tuple[SlabKind, ...]
    walls: tuple[int, ...]
    rods: dict[str, Rod]
    discs: tuple[Disc, ...]
    edges_mm: tuple[float, ...]
    lefts_mm: tuple[float, ...] = ()

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


def sleeve_room_mm(vehicle: Vehicle, kind: SleeveKind | None = None) -> float:
    """Length kept between the gears for a sleeve and its travel either way.

    Over a thin sleeve the gears reach from either side; on a grid the next whole unit is taken.
    """
    frame, travel = vehicle.frame, vehicle.lever.fork_travel_mm
    if (kind or frame.sleeve) == "thin":
        room = frame.thin_mm + 2 * travel - 2 * frame.recess_mm
    else:
        room = frame.grooved_mm + 2 * travel
    unit = vehicle.kit.grid_unit_mm
    return room if vehicle.kit.any_seat else ceil(room / unit - 1e-9) * unit


def groove_mm(vehicle: Vehicle) -> float:
    """Width of the groove in which a fork lies."""
    return vehicle.frame.fork_mm + GROOVE_PLAY_MM


def sleeve_radius_mm(vehicle: Vehicle) -> float:
    """Outer radius of a dog sleeve: what its shaft, dogs and groove need, on a grid at least 9."""
    bore = vehicle.hole_mm(vehicle.kit.shaft_diameter_mm, "running") / 2
    return max(LEAST_SLEEVE_MM, bore + ROUND_SHAFT_MM)


def tip_mm(kit: Kit, teeth: int) -> float:
    """Tip radius of a gear, full-depth teeth where the kit has not the size."""
    size = kit.size(teeth)
    return size.tip_diameter_mm / 2 if size else kit.module_mm * (teeth + 2) / 2
