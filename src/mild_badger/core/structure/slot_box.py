"""A slot box in space: the layers of either side between their walls, sleeves and rows between.

Places come from the document's layout. On a grid every layer is one unit wide; in wood and print
a layer is as wide as its gears, with the gaps of a made box beside them.
"""

from collections.abc import Iterable, Sequence
from dataclasses import replace
from functools import lru_cache
from itertools import pairwise
from math import hypot

from mild_badger.core.architectures.places import Columns
from mild_badger.core.architectures.registry import architecture_of
from mild_badger.core.kit.part_sizes import (
    sleeve_radius_mm,
    sleeve_room_mm,
    spacer_radius_mm,
    tip_mm,
)
from mild_badger.core.structure.forks import forks_of
from mild_badger.core.structure.plane import Point, to_segment
from mild_badger.core.structure.slabs import SlabBuilder
from mild_badger.core.structure.stack import Disc, Rod, SlabKind, Stack, walls_in
from mild_badger.core.vehicle.bodies import column_shaft
from mild_badger.core.vehicle.layout import BoxLayout
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["stack_of"]

RAIL_MM = 1.0
"""Room between a rail's end and the wall beyond (an estimate, no source)."""
CLEAR_MM = 0.2
"""Room that a shaft keeps to the gears it passes (an estimate, no source)."""


@lru_cache(maxsize=8)
def stack_of(vehicle: Vehicle, layout: BoxLayout) -> Stack:
    """Lay the box out along its shafts."""
    front, back = (_layers(vehicle, layout, side) for side in ("front", "back"))
    places = architecture_of(vehicle.box).places(vehicle.box)
    rows = {gear.shaft: gear for gear in places.gears()} if isinstance(places, Columns) else {}
    named: tuple[tuple[str, SlabKind], ...] = (
        ("front outer wall", "wall"),
        *((f"front {n}", "gears") for n in range(front, 1, -1)),
        ("front inner wall", "wall"),
        ("tie", "row"),
        ("front 1", "gears"),
        ("sleeves", "sleeve"),
        ("back 1", "gears"),
        ("back inner wall", "wall"),
        *((f"back {n}", "gears") for n in range(2, back + 1)),
        ("back outer wall", "wall"),
    )
    builder = SlabBuilder(vehicle)
    faces = _faces(vehicle, layout)
    for name, kind in named:
        builder.add(name, _width_mm(vehicle, kind, faces.get(name, 0.0)), kind)
    slabs, kinds = tuple(name for name, _ in named), builder.kinds
    number = {name: n for n, name in enumerate(slabs)}
    walls = walls_in(kinds)
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
        rods[shaft.name] = Rod(shaft.name, shaft.x_mm, shaft.y_mm, *ends, carried)
    discs = [
        Disc(g.body, g.shaft, number[f"{g.side} {g.layer}"], tip_mm(vehicle.kit, g.teeth), g.teeth)
        for g in layout.gears
    ]
    for name in rods:
        of_column = column_shaft(name)
        if of_column is not None and of_column.kind == "selector":
            sleeve = vehicle.box.sleeve_at(of_column.column)
            discs.append(Disc(sleeve, name, number["sleeves"], sleeve_radius_mm(vehicle)))
        if (gear := rows.get(name)) is not None:
            layer = number["tie" if gear.tie else "sleeves"]
            discs.append(Disc(gear.body, name, layer, tip_mm(vehicle.kit, gear.teeth), gear.teeth))
    _lead_out(vehicle, rods, discs, number["back outer wall"], walls)
    edges, lefts = builder.spaced()
    if lefts:
        # the drive row stands about the middle of the sleeves, clear of the layers beside it
        middle = number["sleeves"]
        free = edges[middle + 1] - edges[middle] - _row_face_mm(vehicle, tie=False)
        lefts = tuple(free / 2 if n == middle else left for n, left in enumerate(lefts))
    stack = Stack(slabs, kinds, walls, rods, tuple(discs), edges, lefts)
    return _carried_on(vehicle, stack, (number["front inner wall"], number["back inner wall"]))


def _layers(vehicle: Vehicle, layout: BoxLayout, side: str) -> int:
    """Count a side's layers: in wood and print as many as it needs, one of them beyond its wall."""
    if not vehicle.kit.any_seat:
        return layout.layers
    return max([2, *(gear.layer for gear in layout.gears if gear.side == side)])


def _faces(vehicle: Vehicle, layout: BoxLayout) -> dict[str, float]:
    """Give how wide each layer's gears are; beyond an inner wall its rails have their room too."""
    faces = {f"{side} 2": vehicle.lever.fork_travel_mm + RAIL_MM for side in ("front", "back")}
    for gear in layout.gears:
        name = f"{gear.side} {gear.layer}"
        faces[name] = max(faces.get(name, 0.0), _face_mm(vehicle, (gear.teeth,)))
    return faces


def _width_mm(vehicle: Vehicle, kind: SlabKind, face_mm: float) -> float:
    """Give the width of a slab without the gaps beside it; ``face_mm`` is a layer's."""
    room = sleeve_room_mm(vehicle)
    if not vehicle.kit.any_seat:
        return room if kind == "sleeve" else vehicle.kit.grid_unit_mm
    match kind:
        case "wall":
            return vehicle.frame.wall_mm
        case "sleeve":
            return max(room, _row_face_mm(vehicle, tie=False) + 2 * vehicle.frame.gap_mm)
        case "row":
            return _row_face_mm(vehicle, tie=True)
    return face_mm


def _row_face_mm(vehicle: Vehicle, *, tie: bool) -> float:
    """Give how wide the gears of drive row or tie are; 0 where there are none."""
    places = architecture_of(vehicle.box).places(vehicle.box)
    gears = places.gears() if isinstance(places, Columns) else ()
    return _face_mm(vehicle, (gear.teeth for gear in gears if gear.tie == tie))


def _face_mm(vehicle: Vehicle, teeth: Iterable[int]) -> float:
    sizes = (vehicle.kit.size(one) for one in teeth)
    return max((size.face_width_mm for size in sizes if size is not None), default=0.0)


def _carried_on(vehicle: Vehicle, stack: Stack, inner: tuple[int, int]) -> Stack:
    """Let shafts that end in a gear beside the sleeves reach on to the other inner wall.

    A gear on the end of a shaft bends it far; where nothing is in the way, and every fork keeps
    its room, a wall holds that end.
    """
    front, back = inner
    without = len(forks_of(vehicle, stack))
    for name, rod in sorted(stack.rods.items()):
        if column_shaft(name) is not None or not (
            front < rod.last < back or front < rod.first < back
        ):
            continue
        if rod.first < front:
            passed, wall = range(rod.last + 1, back + 1), back
            longer = replace(rod, last=back, walls=(*rod.walls, wall))
        else:
            passed, wall = range(front, rod.first), front
            longer = replace(rod, first=front, walls=(wall, *rod.walls))
        if _passes(vehicle, longer, passed, stack.rods, stack.discs):
            held = replace(stack, rods={**stack.rods, name: longer})
            forks = forks_of(vehicle, held)
            around = spacer_radius_mm(vehicle) + CLEAR_MM
            clear = all(_from_outline(fork.outline, longer) > around for fork in forks)
            if clear and len(forks) == without:
                stack = held
    return stack


def _from_outline(outline: Sequence[Point], rod: Rod) -> float:
    """Give how far a shaft's axis is from a fork's outline; it is never inside of one."""
    sides = pairwise((*outline, outline[0]))
    return min(to_segment(side, (rod.x_mm, rod.y_mm)) for side in sides)


def _passes(
    vehicle: Vehicle,
    rod: Rod,
    passed: range,
    rods: dict[str, Rod],
    discs: Sequence[Disc],
) -> bool:
    """Whether a shaft keeps clear of all gears, sleeves and shafts in the slabs it would pass."""
    radius = vehicle.kit.shaft_diameter_mm / 2

    def apart(other: Rod) -> float:
        return hypot(rod.x_mm - other.x_mm, rod.y_mm - other.y_mm)

    return all(
        disc.slab not in passed or apart(rods[disc.shaft]) > disc.radius_mm + radius + CLEAR_MM
        for disc in discs
        if disc.shaft in rods
    ) and all(
        other.name == rod.name
        or not (other.first <= passed[-1] and passed[0] <= other.last)
        or apart(other) > _holes_mm(vehicle) - CLEAR_MM
        for other in rods.values()
    )


def _holes_mm(vehicle: Vehicle) -> float:
    """Give how far apart the holes of two shafts in one wall are at least."""
    kit = vehicle.kit
    made = vehicle.hole_mm(kit.shaft_diameter_mm, "running") + vehicle.frame.edge_mm + CLEAR_MM
    return made if kit.any_seat else kit.grid_unit_mm


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
    columns = sorted(
        (abs(column.column - own.column), name)
        for name in rods
        if (column := column_shaft(name)) is not None
        and column.kind == "selector"
        and (column.column - own.column) % 2 == 0
    )
    for _, name in columns:
        rod = rods[name]

        if _passes(vehicle, rod, range(rod.last + 1, last + 1), rods, discs):
            carried = tuple(w for w in walls if rod.first <= w <= last)
            rods[name] = replace(rod, last=last, walls=carried)
            return
