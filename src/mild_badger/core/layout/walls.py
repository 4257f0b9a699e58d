"""Walls of a brick box: rows of beams with holes on the grid, tied to one another.

Lengths and places in grid units.
"""

from dataclasses import dataclass
from math import ceil, floor

from mild_badger.core.layout.drum_place import PlacedDrum, drum_place
from mild_badger.core.layout.forks import Fork
from mild_badger.core.layout.stack import Stack
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["Beam", "Wall", "long_ties", "placed_drums", "top_of", "walls_of"]


@dataclass(frozen=True)
class Beam:
    """A row of holes in a wall: from hole to hole, and the beam to take, None if none reaches.

    ``upright`` ones tie the rows of a wall to one another at its ends.
    """

    along_u: float
    start_u: float
    end_u: float
    length_u: int | None
    upright: bool = False

    def outline_mm(self, unit_mm: float) -> tuple[tuple[float, float], ...]:
        """Outline it as seen from the end, half a unit round its first and last holes."""
        a, b = (self.start_u - 0.5) * unit_mm, (self.end_u + 0.5) * unit_mm
        c, d = (self.along_u - 0.5) * unit_mm, (self.along_u + 0.5) * unit_mm
        if self.upright:
            a, b, c, d = c, d, a, b
        return (a, c), (b, c), (b, d), (a, d)

    @property
    def overhang_u(self) -> float:
        """How many holes stand over beyond what is needed."""
        return 0.0 if self.length_u is None else self.length_u - (self.end_u - self.start_u + 1)


@dataclass(frozen=True)
class Wall:
    """A wall as beams; ``between`` names shafts whose holes are not on the grid's points."""

    name: str
    beams: tuple[Beam, ...]
    between: tuple[str, ...]


def _fitting(kit: Kit, needed: float) -> int | None:
    return next((n for n in sorted(kit.beam_lengths_u) if n >= needed - 1e-9), None)


def walls_of(vehicle: Vehicle, stack: Stack, forks: tuple[Fork, ...] = ()) -> tuple[Wall, ...]:
    """Build every wall of beams with holes on the grid: a row for each height, tied at its ends.

    All rows of a wall reach over its whole width, so that the two uprights hold each of them.
    """
    unit = vehicle.kit.grid_unit_mm
    walls = []
    outer = stack.walls[0], stack.walls[-1]
    drums = placed_drums(vehicle, stack, forks)
    for wall in stack.walls:
        rods = [*stack.rods.values(), *(fork.rail for fork in forks)]
        places = {r.name: (r.x_mm / unit, r.y_mm / unit) for r in rods if wall in r.walls}
        for drum in drums if wall in outer else ():
            places[f"drum shaft {drum.number + 1}"] = (drum.x_mm / unit, drum.y_mm / unit)
        between = tuple(
            name for name, place in places.items() if any(abs(c - round(c)) > 1e-6 for c in place)
        )
        rows = sorted({round(y) for _, y in places.values()})
        across = [x for x, _ in places.values()]
        left, right = floor(min(across, default=0)), ceil(max(across, default=0))
        beams = [Beam(y, left, right, _fitting(vehicle.kit, right - left + 1)) for y in rows]
        if len(rows) > 1:
            low, high = rows[0], rows[-1]
            beams += [
                Beam(x, low, high, _fitting(vehicle.kit, high - low + 1), upright=True)
                for x in sorted({left, right})
            ]
        walls.append(Wall(stack.slabs[wall], tuple(beams), between))
    return tuple(walls)


def top_of(vehicle: Vehicle, stack: Stack, forks: tuple[Fork, ...]) -> float:
    """Give the height under which gears, forks and beams of a brick box stay, in mm."""
    unit = vehicle.kit.grid_unit_mm
    rods = (*stack.rods.values(), *(fork.rail for fork in forks))
    beams = max((rod.y_mm + unit / 2 for rod in rods), default=0.0)
    gears = max((stack.rods[d.shaft].y_mm + d.radius_mm for d in stack.discs), default=0.0)
    return max(beams, gears)


def placed_drums(vehicle: Vehicle, stack: Stack, forks: tuple[Fork, ...]) -> tuple[PlacedDrum, ...]:
    """Give the drums over a brick box; none where something else moves the sleeves."""
    place = drum_place(vehicle, stack, forks, top_of(vehicle, stack, forks))
    return () if place is None else place.drums


def long_ties(vehicle: Vehicle, stack: Stack) -> tuple[int | None, ...]:
    """Give the beams that tie the walls to one another along the box, one at each of four corners.

    None for each that would have to be joined of several.
    """
    taken = _fitting(vehicle.kit, stack.length_mm / vehicle.kit.grid_unit_mm)
    return (taken,) * 4 if len(stack.walls) > 1 else ()
