"""What the sheets of a box tell: each layer of gears, each wall with its holes, from one corner.

Places are told from the lower left corner of the walls as seen from the input end, mm: to the
right and up. Where a box has walls of beams, holes are told by row and number as well.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import hypot

from mild_badger.core.components.component import Component
from mild_badger.core.structure.forks import forks_of
from mild_badger.core.structure.plates import plates_of
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.structure.walls import Wall, walls_of
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.checks import MeshCheck, meshes_of

__all__ = ["Layer", "WallHole", "WallSheet", "datum_mm", "layers_of", "wall_sheets"]

ROW_MM = 0.6
"""A hole this near to a beam's row is in it."""


@dataclass(frozen=True)
class Layer:
    """Gears that lie side by side, from where to where along the box, and what they mesh.

    ``shafts`` pass through it; ``before`` and ``behind`` are the gears of the layers next to it.
    """

    number: int
    from_mm: float
    to_mm: float
    gears: tuple[Component, ...]
    shafts: tuple[Component, ...]
    meshes: tuple[MeshCheck, ...]
    before: tuple[Component, ...]
    behind: tuple[Component, ...]


@dataclass(frozen=True)
class WallHole:
    """A hole of a wall: for what, where, how wide, and the row and number in a wall of beams.

    ``kind`` is "bore", "rail", "post" or "access", ``name`` the shaft's; ``x_mm`` and ``y_mm`` are
    from the corner; ``row`` counts from below and ``number`` from the left, 0 in a plate.
    ``nearest`` is the hole that is next to it, and how far their middles are apart.
    """

    kind: str
    name: str
    x_mm: float
    y_mm: float
    diameter_mm: float
    row: int
    number: int
    nearest: tuple[str, float] | None


@dataclass(frozen=True)
class WallSheet:
    """A wall: its part, its size and its holes, those of shafts first, from left to right."""

    wall: Component
    size_mm: tuple[float, float]
    thick_mm: float
    holes: tuple[WallHole, ...]


def datum_mm(parts: Sequence[Component]) -> tuple[float, float]:
    """Give the lower left corner of the walls of a box, in its own axes; of all where none are."""
    walls = [part for part in parts if part.kind == "wall"] or list(parts)
    reaches = [part.reach_mm for part in walls]
    return min(reach[0] for reach in reaches), min(reach[1] for reach in reaches)


def layers_of(vehicle: Vehicle, parts: Sequence[Component]) -> tuple[Layer, ...]:
    """Group the gears of a box by where they lie along it, from the input end on."""
    gears = sorted((p for p in parts if p.kind == "gear" and not p.across), key=_middle)
    rows: list[list[Component]] = []
    for gear in gears:
        if rows and _middle(gear) < rows[-1][0].to_mm:
            rows[-1].append(gear)
        else:
            rows.append([gear])
    rods = [p for p in parts if p.kind in ("shaft", "rail") and not p.across]
    meshes = meshes_of(vehicle, parts)
    made = []
    for number, row in enumerate(rows):
        start, end = min(g.from_mm for g in row), max(g.to_mm for g in row)
        middle = (start + end) / 2
        keys = {gear.key for gear in row}
        made.append(
            Layer(
                number + 1,
                start,
                end,
                tuple(sorted(row, key=lambda g: (g.x_mm, g.y_mm))),
                tuple(rod for rod in rods if rod.from_mm < middle < rod.to_mm),
                tuple(mesh for mesh in meshes if keys & {mesh.one.key, mesh.other.key}),
                tuple(rows[number - 1]) if number else (),
                tuple(rows[number + 1]) if number + 1 < len(rows) else (),
            )
        )
    return tuple(made)


def _middle(part: Component) -> float:
    return (part.from_mm + part.to_mm) / 2


def wall_sheets(vehicle: Vehicle, parts: Sequence[Component]) -> tuple[WallSheet, ...]:
    """Tell every wall of the main box, from the input end on; none where it has no place.

    A wall of a lever drive or a function box has the shafts that run in it.
    """
    walls = sorted((p for p in parts if p.kind == "wall"), key=lambda p: p.from_mm)
    corner = datum_mm(parts) if walls else (0.0, 0.0)
    stack = stack_for(vehicle) if walls and not walls[0].box else None
    forks = forks_of(vehicle, stack) if stack is not None else ()
    plates = plates_of(vehicle, stack, forks) if stack and vehicle.kit.any_seat else ()
    beams = walls_of(vehicle, stack, forks) if stack and not vehicle.kit.any_seat else ()
    made = []
    for number, wall in enumerate(walls):
        left, low, right, high = wall.reach_mm
        if number < len(plates):
            found: list[tuple[str, str, float, float, float]] = [
                (hole.kind, hole.name, hole.x_mm, hole.y_mm, hole.diameter_mm)
                for hole in plates[number].holes
            ]
        else:
            found = _runs_in(parts, wall)
        rows = _rows(beams[number] if number < len(beams) else None, vehicle.kit.grid_unit_mm)
        holes = []
        for kind, name, x, y, wide in found:
            row = next((n for n, (at, _) in enumerate(rows, 1) if abs(at - y) < ROW_MM), 0)
            place = round((x - rows[row - 1][1]) / vehicle.kit.grid_unit_mm) + 1 if row else 0
            others = [(n, hypot(x - a, y - b)) for k, n, a, b, _ in found if (a, b) != (x, y)]
            nearest = min(others, key=lambda other: other[1], default=None)
            holes.append(
                WallHole(kind, name, x - corner[0], y - corner[1], wide, row, place, nearest)
            )
        order = {"bore": 0, "rail": 1, "post": 2, "access": 3}
        holes.sort(key=lambda hole: (order.get(hole.kind, 4), hole.x_mm, hole.y_mm))
        made.append(WallSheet(wall, (right - left, high - low), min(_thick(wall)), tuple(holes)))
    return tuple(made)


def _rows(wall: Wall | None, unit_mm: float) -> list[tuple[float, float]]:
    """Give the height of each row of beams from below, and where its first hole is, mm."""
    starts: dict[float, float] = {}
    for beam in wall.beams if wall is not None else ():
        if not beam.upright and not beam.face:
            at, start = beam.along_u * unit_mm, beam.start_u * unit_mm
            starts[at] = min(start, starts.get(at, start))
    return sorted(starts.items())


def _thick(wall: Component) -> list[float]:
    return [prism.to_mm - prism.from_mm for prism in wall.solid]


def _runs_in(
    parts: Sequence[Component], wall: Component
) -> list[tuple[str, str, float, float, float]]:
    """List what runs in a wall: its shafts and rails, as wide as they are."""
    middle = wall.along_mm + (wall.solid[0].from_mm + wall.solid[0].to_mm) / 2
    return [
        (
            "rail" if part.kind == "rail" else "bore",
            part.shaft,
            part.x_mm,
            part.y_mm,
            2 * part.radius_mm,
        )
        for part in parts
        if part.kind in ("shaft", "rail") and not part.across and part.from_mm < middle < part.to_mm
    ]
