"""Shift forks as bodies: an arm from each sleeve to a rail of its own, clear of everything.

Seen from the end a fork is half a ring round its sleeve with an arm to its rail; along the box it
stays with its sleeve, travel and all. Its rail runs between the two nearest walls.
"""

from dataclasses import dataclass
from functools import lru_cache
from math import atan2, cos, hypot, pi, sin

from mild_badger.core.kit.part_sizes import (
    GROOVE_DEPTH_MM,
    arm_mm,
    fork_radius_mm,
    sleeve_radius_mm,
)
from mild_badger.core.structure.plane import Point, along, to_segment
from mild_badger.core.structure.stack import Disc, Rod, Stack
from mild_badger.core.vehicle.cache_key import Same, ThisVehicle
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.sleeves import fork_rail_id, is_sleeve

__all__ = ["Fork", "forks_of", "missing_forks"]

ROOM_MM = 0.2
FARTHEST_U = 14
DOWN_COST_U = 6.0
"""How much farther up a rail may stand rather than down among the other shafts."""


@dataclass(frozen=True)
class Fork:
    """A fork: its sleeve, the slab it moves in, its rail, and its outline from the end in mm."""

    column: str
    shaft: str
    slab: int
    rail: Rod
    outline: tuple[Point, ...]


def forks_of(vehicle: Vehicle, stack: Stack) -> tuple[Fork, ...]:
    """Give every sleeve a fork, its rail as near as it can stand; none where no place is free."""
    return _forks(ThisVehicle(vehicle), Same(stack))


@lru_cache(maxsize=8)
def _forks(this: ThisVehicle, same: Same[Stack]) -> tuple[Fork, ...]:
    vehicle, stack = this.vehicle, same.it
    made: list[Fork] = []
    for disc in _sleeves(stack):
        fork = _placed(vehicle, stack, disc, made)
        if fork is not None:
            made.append(fork)
    return tuple(made)


def missing_forks(stack: Stack, forks: tuple[Fork, ...]) -> tuple[str, ...]:
    """Name the sleeves for whose fork there is no room."""
    have = {fork.column for fork in forks}
    return tuple(d.body for d in _sleeves(stack) if d.body not in have)


def _sleeves(stack: Stack) -> list[Disc]:
    return [disc for disc in stack.discs if is_sleeve(disc.body)]


def _placed(vehicle: Vehicle, stack: Stack, disc: Disc, made: list[Fork]) -> Fork | None:
    around = (
        [w for w in stack.walls if w < disc.slab][-1:],
        [w for w in stack.walls if w > disc.slab][:1],
    )
    if not around[0] or not around[1]:
        return None
    ends = (around[0][0], around[1][0])
    walls = _walls_reached(vehicle, stack, *ends)
    unit = vehicle.kit.grid_unit_mm
    centre = stack.rods[disc.shaft]
    # what moves the forks of a vehicle's box stands over it
    below = stack.own is None or any(rod.y_mm < centre.y_mm - 1 for rod in stack.rods.values())
    rail_id = fork_rail_id(disc.body)
    for dx, dy in _places(below):
        rail = Rod(
            rail_id,
            centre.x_mm + dx * unit,
            centre.y_mm + dy * unit,
            *ends,
            walls,
        )
        if _rail_clear(vehicle, stack, rail, made) and _arm_clear(vehicle, stack, disc, rail, made):
            return Fork(disc.body, disc.shaft, disc.slab, rail, _outline(vehicle, centre, rail))
    return None


def _walls_reached(vehicle: Vehicle, stack: Stack, first: int, last: int) -> tuple[int, ...]:
    """List the walls that a rail between two walls runs into as it slides, these two among them."""
    travel = vehicle.lever.fork_travel_mm
    start, end = stack.edges_mm[first] - travel, stack.edges_mm[last + 1] + travel
    return tuple(
        w for w in stack.walls if stack.edges_mm[w] < end and start < stack.edges_mm[w + 1]
    )


@lru_cache(maxsize=2)
def _places(below: bool) -> tuple[tuple[int, int], ...]:
    """List places for a rail by distance: straight ones first, down among shafts last."""
    span = range(-FARTHEST_U, FARTHEST_U + 1)
    every = [(x, y) for x in span for y in span if hypot(x, y) <= FARTHEST_U and (x or y)]
    down = DOWN_COST_U if below else 0.0
    rank = {p: hypot(*p) + 0.6 * abs(p[0]) + down * (p[1] < 0) for p in every}
    return tuple(sorted(every, key=lambda p: (rank[p], p)))


def _rail_clear(vehicle: Vehicle, stack: Stack, rail: Rod, made: list[Fork]) -> bool:
    """Whether a rail keeps clear of all it passes, and its holes of other holes.

    It slides with its fork, and then stands out of its walls by the travel.
    """
    kit, travel = vehicle.kit, vehicle.lever.fork_travel_mm
    start, end = stack.edges_mm[rail.first] - travel, stack.edges_mm[rail.last + 1] + travel
    radius = kit.shaft_diameter_mm / 2
    holes = kit.grid_unit_mm if not kit.any_seat else 2 * radius + vehicle.frame.edge_mm
    for disc in stack.discs:
        if stack.edges_mm[disc.slab] < end and start < stack.edges_mm[disc.slab + 1]:
            at = stack.rods[disc.shaft]
            if _apart(rail, at) < disc.radius_mm + radius + ROOM_MM:
                return False
    for rod in (*stack.rods.values(), *(fork.rail for fork in made)):
        if rod.first <= rail.last and rail.first <= rod.last:
            least = holes if set(rod.walls) & set(rail.walls) else 2 * radius + ROOM_MM
            if _apart(rail, rod) < least - 1e-6:
                return False
    return all(
        not rail.first <= fork.slab <= rail.last
        or to_segment(fork_line(stack, fork), (rail.x_mm, rail.y_mm)) > radius + arm_mm(vehicle) / 2
        for fork in made
    )


def fork_line(stack: Stack, fork: Fork) -> tuple[Point, Point]:
    """Give the line along which a fork's arm runs, from its sleeve's shaft to its rail."""
    rod = stack.rods[fork.shaft]
    return (rod.x_mm, rod.y_mm), (fork.rail.x_mm, fork.rail.y_mm)


def _arm_clear(vehicle: Vehicle, stack: Stack, sleeve: Disc, rail: Rod, made: list[Fork]) -> bool:
    """Whether a fork's ring and arm keep clear of all else in their slab."""
    at = stack.rods[sleeve.shaft]
    line = ((at.x_mm, at.y_mm), (rail.x_mm, rail.y_mm))
    radius = vehicle.kit.shaft_diameter_mm / 2
    half = arm_mm(vehicle) / 2

    def clear(place: Point, reach: float) -> bool:
        ring = hypot(place[0] - at.x_mm, place[1] - at.y_mm)
        behind = (place[0] - at.x_mm) * (rail.x_mm - at.x_mm) + (place[1] - at.y_mm) * (
            rail.y_mm - at.y_mm
        ) < 0
        near_ring = fork_radius_mm(vehicle) if not behind else sleeve_radius_mm(vehicle)
        return ring > near_ring + reach and to_segment(line, place) > half + reach

    for disc in stack.discs:
        rod = stack.rods[disc.shaft]
        same = disc.slab == sleeve.slab and disc.shaft != sleeve.shaft
        # round another sleeve lies the half ring of its own fork
        ringed = is_sleeve(disc.body) and not disc.teeth
        reach = max(disc.radius_mm, fork_radius_mm(vehicle) if ringed else 0.0)
        if same and not clear((rod.x_mm, rod.y_mm), reach + ROOM_MM):
            return False
    for rod in (*stack.rods.values(), *(fork.rail for fork in made)):
        if rod.name != sleeve.shaft and rod.first <= sleeve.slab <= rod.last:
            if _apart(rod, at) < 1e-6:
                continue  # in one line with it
            if not clear((rod.x_mm, rod.y_mm), radius + ROOM_MM):
                return False
    for fork in made:
        if fork.slab == sleeve.slab:
            other = fork_line(stack, fork)
            points = [along(other, n / 12) for n in range(13)]
            if not all(clear(p, half + ROOM_MM) for p in points):
                return False
            if hypot(other[0][0] - at.x_mm, other[0][1] - at.y_mm) < 2 * fork_radius_mm(vehicle):
                return False
    return True


def _apart(one: Rod, other: Rod) -> float:
    return hypot(one.x_mm - other.x_mm, one.y_mm - other.y_mm)


def _outline(vehicle: Vehicle, centre: Rod, rail: Rod) -> tuple[Point, ...]:
    """Draw a fork: half a ring open away from its rail, and the arm with an eye for the rail."""
    towards = atan2(rail.y_mm - centre.y_mm, rail.x_mm - centre.x_mm)
    inner = sleeve_radius_mm(vehicle) - GROOVE_DEPTH_MM
    outer, side = fork_radius_mm(vehicle), arm_mm(vehicle) / 2

    def at(radius: float, turn: float) -> Point:
        return centre.x_mm + radius * cos(turn), centre.y_mm + radius * sin(turn)

    step = pi / 24
    last = int((pi / 2 - side / outer) / step) + 1
    right = [at(outer, towards - pi / 2 + n * step) for n in range(last)]
    eye = [
        (rail.x_mm + side * cos(towards + t), rail.y_mm + side * sin(towards + t))
        for t in (-pi / 2 + n * pi / 8 for n in range(9))
    ]
    left = [at(outer, towards + pi / 2 - n * step) for n in range(last)]
    inside = [at(inner, towards + pi / 2 - n * step) for n in range(25)]
    return (*right, *eye, *reversed(left), *inside)
