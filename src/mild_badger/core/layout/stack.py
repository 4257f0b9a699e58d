"""A placed box as slabs along its shafts, from the input end, and what is in them."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import accumulate
from math import ceil, hypot
from typing import Literal

from mild_badger.core.architectures.places import Columns
from mild_badger.core.architectures.registry import architecture_of
from mild_badger.core.vehicle.bodies import column_shaft
from mild_badger.core.vehicle.frame import SleeveKind
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.layout import BoxLayout
from mild_badger.core.vehicle.model import Vehicle

__all__ = [
    "GROOVE_DEPTH_MM",
    "Disc",
    "Rod",
    "SlabKind",
    "Stack",
    "groove_mm",
    "sleeve_radius_mm",
    "sleeve_room_mm",
    "stack_of",
    "tip_mm",
    "walls_in",
]

GROOVE_DEPTH_MM, GROOVE_PLAY_MM = 1.5, 0.4
"""How deep a fork's groove is, and how much wider than the fork (estimates, no source)."""
CLEAR_MM = 0.2
"""Room that a shaft keeps to the gears it passes (an estimate, no source)."""
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


SlabKind = Literal["wall", "gears", "row", "sleeve", "slider", "way", "post"]


@dataclass(frozen=True)
class Stack:
    """The box as slabs along its shafts, from the input end, and what is in them.

    Slab names in order, and what each is: a slider's gears stand there in neutral, a way is open
    for them, a post holds an idler's shaft; ``walls`` are the numbers of those that carry shafts;
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


def stack_of(vehicle: Vehicle, layout: BoxLayout) -> Stack:
    """Lay the box out along its shafts."""
    count = layout.layers
    named: tuple[tuple[str, SlabKind], ...] = (
        ("front outer wall", "wall"),
        *((f"front {n}", "gears") for n in range(count, 1, -1)),
        ("front inner wall", "wall"),
        ("tie", "row"),
        ("front 1", "gears"),
        ("sleeves", "sleeve"),
        ("back 1", "gears"),
        ("back inner wall", "wall"),
        *((f"back {n}", "gears") for n in range(2, count + 1)),
        ("back outer wall", "wall"),
    )
    slabs, kinds = tuple(name for name, _ in named), tuple(kind for _, kind in named)
    number = {name: n for n, name in enumerate(slabs)}
    walls = walls_in(kinds)
    unit = vehicle.kit.grid_unit_mm
    at_one = {g.shaft for g in layout.gears if g.layer == 1}
    rods = {}
    for shaft in layout.shafts:
        of_column = column_shaft(shaft.name)
        if of_column is not None and of_column.kind == "input":
            ends = (number["front outer wall"], number["back outer wall"])
        elif of_column is not None:
            ends = (number["front inner wall"], number["back inner wall"])
        elif shaft.side == "front":
            inner = "front 1" if shaft.name in at_one else "front inner wall"
            ends = (number["front outer wall"], number[inner])
        else:
            inner = "back 1" if shaft.name in at_one else "back inner wall"
            ends = (number[inner], number["back outer wall"])
        carried = tuple(w for w in walls if ends[0] <= w <= ends[1])
        rods[shaft.name] = Rod(shaft.name, shaft.x_u * unit, shaft.y_u * unit, *ends, carried)
    discs = [
        Disc(g.body, g.shaft, number[f"{g.side} {g.layer}"], tip_mm(vehicle.kit, g.teeth), g.teeth)
        for g in layout.gears
    ]
    places = architecture_of(vehicle.box).places(vehicle.box)
    rows = {gear.shaft: gear for gear in places.gears()} if isinstance(places, Columns) else {}
    for name in rods:
        of_column = column_shaft(name)
        if of_column is not None and of_column.kind == "selector":
            sleeve = vehicle.box.sleeve_at(of_column.column)
            discs.append(Disc(sleeve, name, number["sleeves"], sleeve_radius_mm(vehicle)))
        if (gear := rows.get(name)) is not None:
            layer = number["tie" if gear.tie else "sleeves"]
            discs.append(Disc(gear.body, name, layer, tip_mm(vehicle.kit, gear.teeth), gear.teeth))
    _lead_out(vehicle, rods, discs, number["back outer wall"], walls)
    sleeves = sleeve_room_mm(vehicle)
    widths = (sleeves if name == "sleeves" else unit for name in slabs)
    return Stack(slabs, kinds, walls, rods, tuple(discs), (0.0, *accumulate(widths)))


def _lead_out(
    vehicle: Vehicle, rods: dict[str, Rod], discs: list[Disc], last: int, walls: tuple[int, ...]
) -> None:
    """Let a selector shaft leave the box at the output end, so that something can be coupled to it.

    Tied shafts turn alike in every other column: the output's own is taken, or the nearest such one
    that passes all gears and shafts of the outer layers.
    """
    own = column_shaft(vehicle.box.output)
    if own is None:
        return
    radius, unit = vehicle.kit.shaft_diameter_mm / 2, vehicle.kit.grid_unit_mm
    columns = sorted(
        (abs(column.column - own.column), name)
        for name in rods
        if (column := column_shaft(name)) is not None
        and column.kind == "selector"
        and (column.column - own.column) % 2 == 0
    )
    for _, name in columns:
        rod = rods[name]

        def apart(other: Rod, rod: Rod = rod) -> float:
            return hypot(rod.x_mm - other.x_mm, rod.y_mm - other.y_mm)

        passed = range(rod.last + 1, last + 1)
        gears = all(
            disc.slab not in passed or apart(rods[disc.shaft]) > disc.radius_mm + radius + CLEAR_MM
            for disc in discs
        )
        shafts = all(
            other.name == name or other.last <= rod.last or apart(other) > unit - CLEAR_MM
            for other in rods.values()
        )
        if gears and shafts:
            carried = tuple(w for w in walls if rod.first <= w <= last)
            rods[name] = replace(rod, last=last, walls=carried)
            return


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
