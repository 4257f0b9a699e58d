"""Brackets of wood or print: what holds an idler's shaft where no wall stands beside its gear.

A bracket is a plate across the box from the shaft to the nearest tie rod that it reaches clear of
everything in its slab; nuts clamp it on the rod.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache
from math import cos, hypot, pi, sin

from mild_badger.core.kit.part_sizes import BUSH_ROOM_MM, TUBE_MM
from mild_badger.core.structure.forks import Fork
from mild_badger.core.structure.plates import Hole, nut_high_mm, nut_spans, plates_of
from mild_badger.core.structure.shaft_lengths import shaft_cuts
from mild_badger.core.structure.stack import Stack
from mild_badger.core.vehicle.cache_key import Same, ThisVehicle
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["SEAT_MM", "Bracket", "Post", "brackets_of", "posts_of", "tie_names", "tie_nuts"]

SEAT_MM = 4.0
"""How far a bracket reaches round what it holds (an estimate, no source)."""
ROOM_MM = 0.3
CORNERS = 32
Point = tuple[float, float]


@dataclass(frozen=True)
class Bracket:
    """A bracket: the shaft it holds, the slab it stands in, its outline in mm, and its tie rod.

    ``span_mm`` is from where to where it reaches along the box.
    """

    shaft: str
    slab: int
    outline: tuple[Point, ...]
    tie: Hole
    span_mm: tuple[float, float]


@dataclass(frozen=True)
class Post:
    """What holds a shaft beside its gear: its outline in mm, and from where to where it reaches.

    ``hangs`` tells of one that no tie rod is near enough for.
    """

    shaft: str
    slab: int
    outline: tuple[Point, ...]
    span_mm: tuple[float, float]
    hangs: bool


def posts_of(vehicle: Vehicle, stack: Stack, forks: tuple[Fork, ...]) -> tuple[Post, ...]:
    """List what holds the shafts that no wall does: brackets, and blocks where there is none."""
    brackets = {(b.shaft, b.slab): b for b in brackets_of(vehicle, stack, forks)}
    made = []
    for name, slab in _held_by_posts(stack):
        bracket, rod = brackets.get((name, slab)), stack.rods[name]
        reach = vehicle.kit.shaft_diameter_mm / 2 + SEAT_MM
        outline = bracket.outline if bracket else _circle((rod.x_mm, rod.y_mm), reach)
        made.append(Post(name, slab, outline, _span(vehicle, stack, name, slab), bracket is None))
    return tuple(made)


def _held_by_posts(stack: Stack) -> Iterator[tuple[str, int]]:
    """List shafts with the slabs in which a post holds them."""
    for rod in stack.rods.values():
        gears = {disc.slab for disc in stack.discs if disc.shaft == rod.name and disc.teeth}
        for slab in rod.walls:
            if slab not in (*stack.walls, *gears) and stack.kinds[slab] != "hub":
                yield rod.name, slab


def brackets_of(vehicle: Vehicle, stack: Stack, forks: tuple[Fork, ...]) -> tuple[Bracket, ...]:
    """Give every shaft in a post a bracket; none where no tie rod is within clear reach."""
    return _brackets(ThisVehicle(vehicle), Same(stack), Same(forks))


@lru_cache(maxsize=4)
def _brackets(
    this: ThisVehicle, same: Same[Stack], same_forks: Same[tuple[Fork, ...]]
) -> tuple[Bracket, ...]:
    vehicle, stack, forks = this.vehicle, same.it, same_forks.it
    if not vehicle.kit.any_seat:
        return ()
    made = (_bracket(vehicle, stack, forks, *post) for post in _held_by_posts(stack))
    return tuple(bracket for bracket in made if bracket is not None)


def _bracket(
    vehicle: Vehicle, stack: Stack, forks: tuple[Fork, ...], shaft: str, slab: int
) -> Bracket | None:
    # Loaded when a box has such a bracket, not at every start.
    from shapely.geometry import MultiPoint, Polygon  # noqa: PLC0415
    from shapely.geometry import Point as Place  # noqa: PLC0415

    rod, radius = stack.rods[shaft], vehicle.kit.shaft_diameter_mm / 2
    plates = plates_of(vehicle, stack, forks)
    ties = [hole for hole in plates[0].holes if hole.kind == "post"] if plates else []
    ties.sort(key=lambda tie: hypot(tie.x_mm - rod.x_mm, tie.y_mm - rod.y_mm))
    around = [
        (stack.rods[disc.shaft], disc.radius_mm)
        for disc in stack.discs
        if disc.slab == slab and disc.shaft != shaft
    ]
    tube = radius + TUBE_MM + BUSH_ROOM_MM  # what is thicker gives way to the bracket
    passing = [(r, tube) for r in stack.rods.values() if r.name != shaft]
    passing += [(fork.rail, radius) for fork in forks]
    around += [(r, far) for r, far in passing if r.first <= slab <= r.last]
    bodies = [Polygon(fork.outline) for fork in forks if fork.slab == slab]
    for tie in ties:
        ends = (
            *_circle((rod.x_mm, rod.y_mm), radius + SEAT_MM),
            *_circle((tie.x_mm, tie.y_mm), vehicle.frame.post_mm / 2 + SEAT_MM),
        )
        shape = MultiPoint(ends).convex_hull
        clear = all(shape.distance(Place(r.x_mm, r.y_mm)) >= far + ROOM_MM for r, far in around)
        if clear and all(shape.distance(body) >= ROOM_MM for body in bodies):
            outline = tuple((float(x), float(y)) for x, y in shape.exterior.coords[:-1])
            return Bracket(shaft, slab, outline, tie, _span(vehicle, stack, shaft, slab))
    return None


def _span(vehicle: Vehicle, stack: Stack, shaft: str, slab: int) -> tuple[float, float]:
    """Find from where to where a shaft's post reaches."""
    cut = next(cut for cut in shaft_cuts(vehicle, stack) if cut.name == shaft)
    name = stack.slabs[slab]
    part = next(part for part in cut.parts if part.kind == "post" and part.wall == name)
    return part.from_mm, part.to_mm


def tie_names(posts: Sequence[Hole]) -> tuple[str, ...]:
    """Give the ids of tie rods by where they stand in the wall: tie rod low left …."""
    middle_x = sum(hole.x_mm for hole in posts) / max(len(posts), 1)
    middle_y = sum(hole.y_mm for hole in posts) / max(len(posts), 1)
    return tuple(
        f"tie rod {'low' if hole.y_mm < middle_y else 'high'}"
        f" {'left' if hole.x_mm < middle_x else 'right'}"
        for hole in posts
    )


def tie_nuts(
    vehicle: Vehicle, stack: Stack, forks: tuple[Fork, ...]
) -> dict[str, tuple[tuple[float, float], ...]]:
    """Say where the nuts of each tie rod are, by its hole: those of the walls and of its brackets.

    A bracket beside a wall leans on the wall where there is no room for a nut.
    """
    plates = plates_of(vehicle, stack, forks)
    high = nut_high_mm(vehicle)
    walls = [(stack.edges_mm[wall], stack.edges_mm[wall + 1]) for wall in stack.walls]
    nuts = {
        hole.name: list(nut_spans(vehicle, stack))
        for hole in (plates[0].holes if plates else ())
        if hole.kind == "post"
    }
    for bracket in brackets_of(vehicle, stack, forks):
        start, end = bracket.span_mm
        for span in ((start - high, start), (end, end + high)):
            if all(span[1] <= low or up <= span[0] for low, up in walls):
                nuts[bracket.tie.name].append(span)
    return {name: tuple(sorted(spans)) for name, spans in nuts.items()}


def _circle(middle: Point, radius: float) -> tuple[Point, ...]:
    turns = (2 * pi * n / CORNERS for n in range(CORNERS))
    return tuple((middle[0] + radius * cos(t), middle[1] + radius * sin(t)) for t in turns)
