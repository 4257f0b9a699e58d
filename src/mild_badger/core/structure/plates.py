"""Walls of wood or printed boxes: one outline for all, bores, posts that tie them, access holes.

Places in mm, as the shafts stand: x to the right and y upwards, seen from the input end.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from itertools import combinations, pairwise
from math import hypot, sqrt
from typing import Literal

from mild_badger.core.figures import in_mm
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.message import say
from mild_badger.core.structure.drum_place import drum_place
from mild_badger.core.structure.forks import Fork
from mild_badger.core.structure.stack import Stack
from mild_badger.core.vehicle.cache_key import Same, ThisVehicle
from mild_badger.core.vehicle.model import Vehicle

__all__ = [
    "Hole",
    "Plate",
    "nut_high_mm",
    "nut_radius_mm",
    "nut_spans",
    "plate_findings",
    "plate_outline",
    "plates_of",
    "tie_rounds",
]

ACCESS_MM = 1.0
"""By how much an access hole is wider than the shaft that is driven out through it."""
CLEAR_MM = 1.0
FARTHEST_MM = 400


@dataclass(frozen=True)
class Hole:
    """A hole in a wall: for a shaft, a fork's rail, a post, or to reach something."""

    kind: Literal["bore", "rail", "post", "access"]
    name: str
    x_mm: float
    y_mm: float
    diameter_mm: float


@dataclass(frozen=True)
class Plate:
    """A wall: its outline as left, low, right, high, its thickness, and its holes."""

    name: str
    outline_mm: tuple[float, float, float, float]
    thick_mm: float
    holes: tuple[Hole, ...]

    @property
    def size_mm(self) -> tuple[float, float]:
        """Width and height."""
        left, low, right, high = self.outline_mm
        return right - left, high - low


def plates_of(vehicle: Vehicle, stack: Stack, forks: tuple[Fork, ...]) -> tuple[Plate, ...]:
    """Draw every wall, all of one outline, tied by four posts that clear everything between."""
    return _plates(ThisVehicle(vehicle), Same(stack), Same(forks))


def plate_outline(
    vehicle: Vehicle, stack: Stack, forks: tuple[Fork, ...]
) -> tuple[float, float, float, float] | None:
    """Give what all walls cover, drums left out: left, low, right, high; None for an empty box."""
    return _outline(ThisVehicle(vehicle), Same(stack), Same(forks))


@lru_cache(maxsize=4)
def _outline(
    this: ThisVehicle, same: Same[Stack], same_forks: Same[tuple[Fork, ...]]
) -> tuple[float, float, float, float] | None:
    vehicle, stack, forks = this.vehicle, same.it, same_forks.it
    frame = vehicle.frame
    posts = tuple(_posts(vehicle, stack, forks))
    reach = vehicle.hole_mm(frame.post_mm, "running") / 2 + frame.edge_mm
    reach = max(reach, nut_radius_mm(vehicle))
    discs = [(stack.rods[d.shaft].x_mm, stack.rods[d.shaft].y_mm, d.radius_mm) for d in stack.discs]
    rounds = discs + [(x, y, reach) for x, y in posts]
    hole = vehicle.hole_mm(vehicle.kit.shaft_diameter_mm, "running") / 2 + frame.edge_mm
    rounds += [(fork.rail.x_mm, fork.rail.y_mm, hole) for fork in forks]
    if not rounds:
        return None
    return (
        min(x - r for x, _, r in rounds),
        min(y - r for _, y, r in rounds),
        max(x + r for x, _, r in rounds),
        max(y + r for _, y, r in rounds),
    )


@lru_cache(maxsize=4)
def _plates(
    this: ThisVehicle, same: Same[Stack], same_forks: Same[tuple[Fork, ...]]
) -> tuple[Plate, ...]:
    vehicle, stack, forks = this.vehicle, same.it, same_forks.it
    outline = plate_outline(vehicle, stack, forks)
    if outline is None:
        return ()
    posts = tuple(_posts(vehicle, stack, forks))
    drums = _drum_bores(vehicle, stack, forks, outline[3])
    raised = max([outline[3], *(bore.y_mm + _edge(vehicle, bore) for bore in drums)])
    outer = stack.walls[0], stack.walls[-1]
    return tuple(
        Plate(
            stack.slabs[wall],
            (*outline[:3], raised if wall in outer else outline[3]),
            stack.edges_mm[wall + 1] - stack.edges_mm[wall],
            (
                *_holes(vehicle, stack, forks, wall=wall, posts=posts),
                *(drums if wall in outer else ()),
            ),
        )
        for wall in stack.walls
    )


def _edge(vehicle: Vehicle, bore: Hole) -> float:
    """Give how far a wall reaches round the middle of a bore."""
    return bore.diameter_mm / 2 + vehicle.frame.edge_mm


def tie_rounds(
    vehicle: Vehicle, stack: Stack, forks: tuple[Fork, ...]
) -> tuple[tuple[float, float, float], ...]:
    """Give where the tie rods of made walls stand, and their nuts' radius."""
    radius = nut_radius_mm(vehicle)
    return tuple((x, y, radius) for x, y in _posts(vehicle, stack, forks))


def _drum_bores(
    vehicle: Vehicle, stack: Stack, forks: tuple[Fork, ...], top_mm: float
) -> tuple[Hole, ...]:
    """Give the bores of the drums' shafts in the outer walls; none where no drum is placed."""
    placed = drum_place(vehicle, stack, forks, top_mm, tie_rounds(vehicle, stack, forks))
    plain = vehicle.hole_mm(vehicle.kit.shaft_diameter_mm, "running")
    return tuple(
        Hole("bore", f"drum shaft {drum.number + 1}", drum.x_mm, drum.y_mm, plain)
        for drum in (placed.drums if placed is not None else ())
    )


def nut_radius_mm(vehicle: Vehicle) -> float:
    """Give a nut's radius over its corners: about 1.6 d across flats (ISO 4032)."""
    return 1.6 * vehicle.frame.post_mm / sqrt(3)


def nut_high_mm(vehicle: Vehicle) -> float:
    """Give how high a nut is: 0.8 d (ISO 4032)."""
    return 0.8 * vehicle.frame.post_mm


def nut_spans(vehicle: Vehicle, stack: Stack) -> tuple[tuple[float, float], ...]:
    """Say where along a tie rod its nuts are: on either side of every wall, 0.8 d high (ISO 4032).

    Between two walls with room for one nut there is one, with room for none there is none.
    """
    high = nut_high_mm(vehicle)
    faces = [(stack.edges_mm[wall], stack.edges_mm[wall + 1]) for wall in stack.walls]
    spans = [(faces[0][0] - high, faces[0][0])]
    for (_, before), (after, _) in pairwise(faces):
        if after - before >= 2 * high:
            spans += [(before, before + high), (after - high, after)]
        elif after - before >= high:
            spans.append((before, before + high))
    spans.append((faces[-1][1], faces[-1][1] + high))
    return tuple(spans)


def _posts(
    vehicle: Vehicle, stack: Stack, forks: tuple[Fork, ...]
) -> Iterator[tuple[float, float]]:
    """Stand a post in each corner, as near as it keeps clear of gears, shafts, forks and rails."""
    half, nut = vehicle.frame.post_mm / 2, nut_radius_mm(vehicle)
    rods = [*stack.rods.values(), *(fork.rail for fork in forks)]
    rounds = [(r.x_mm, r.y_mm, vehicle.kit.shaft_diameter_mm / 2) for r in rods]
    rounds += [
        (stack.rods[d.shaft].x_mm, stack.rods[d.shaft].y_mm, d.radius_mm) for d in stack.discs
    ]
    rounds += [(x, y, 0.0) for fork in forks for x, y in fork.outline]
    if not rounds:
        return
    left, right = min(x - r for x, _, r in rounds), max(x + r for x, _, r in rounds)
    low, high = min(y - r for _, y, r in rounds), max(y + r for _, y, r in rounds)
    for sideways, x in ((-1, left + half), (1, right - half)):
        for upwards, y in ((-1, low + half), (1, high - half)):
            for step in range(FARTHEST_MM):
                place = (x + sideways * step / 2, y + upwards * step / 2)
                if all(
                    hypot(place[0] - a, place[1] - b) >= r + nut + CLEAR_MM for a, b, r in rounds
                ):
                    yield place
                    break


def _holes(
    vehicle: Vehicle,
    stack: Stack,
    forks: tuple[Fork, ...],
    *,
    wall: int,
    posts: tuple[tuple[float, float], ...],
) -> Iterator[Hole]:
    frame, shaft = vehicle.frame, vehicle.kit.shaft_diameter_mm
    outer = {b.name: vehicle.hole_mm(b.outer_mm, "press") for b in vehicle.kit.bearings}
    plain = vehicle.hole_mm(shaft, "running")
    name = stack.slabs[wall]
    holes: list[Hole] = []
    for rod in stack.rods.values():
        if wall in rod.walls:
            bearing = frame.bearing_at(rod.name, name)
            diameter = outer.get(bearing, plain) if bearing else plain
            same = next(
                (
                    n
                    for n, h in enumerate(holes)
                    if (h.x_mm, h.y_mm) == (rod.x_mm, rod.y_mm) and h.kind == "bore"
                ),
                None,
            )
            if same is not None:  # two shafts in one line share the bore, the wider one counts
                old = holes[same]
                holes[same] = Hole(
                    "bore",
                    f"{old.name}, {rod.name}",
                    rod.x_mm,
                    rod.y_mm,
                    max(old.diameter_mm, diameter),
                )
            else:
                holes.append(Hole("bore", rod.name, rod.x_mm, rod.y_mm, diameter))
    for fork in forks:
        if wall in fork.rail.walls:
            holes.append(Hole("rail", fork.rail.name, fork.rail.x_mm, fork.rail.y_mm, plain))
    holes += [
        Hole("post", f"post {n}", x, y, vehicle.hole_mm(frame.post_mm, "running"))
        for n, (x, y) in enumerate(posts, start=1)
    ]
    yield from holes
    if frame.access_holes and wall in (stack.walls[0], stack.walls[-1]):
        yield from _access(vehicle, stack, wall, holes)


def _access(vehicle: Vehicle, stack: Stack, wall: int, holes: list[Hole]) -> Iterator[Hole]:
    """Find the shafts that end inside and can be driven out straight through an outer wall."""
    front = wall == stack.walls[0]
    diameter = vehicle.kit.shaft_diameter_mm + ACCESS_MM
    nearest_is_front = {
        rod.name: rod.first - stack.walls[0] <= stack.walls[-1] - rod.last
        for rod in stack.rods.values()
    }
    for rod in stack.rods.values():
        if wall in rod.walls or nearest_is_front[rod.name] != front:
            continue
        between = range(wall + 1, rod.first) if front else range(rod.last + 1, wall)
        barred = any(
            disc.slab in between
            and stack.apart_mm(rod.name, disc.shaft) < disc.radius_mm + diameter
            for disc in stack.discs
        ) or any(
            set(range(other.first, other.last + 1)) & set(between)
            and other.name != rod.name
            and stack.apart_mm(rod.name, other.name) < diameter
            for other in stack.rods.values()
        )
        left = min(
            (
                hypot(h.x_mm - rod.x_mm, h.y_mm - rod.y_mm) - (h.diameter_mm + diameter) / 2
                for h in holes
            ),
            default=float("inf"),
        )
        if not barred and left >= vehicle.frame.edge_mm:
            yield Hole("access", rod.name, rod.x_mm, rod.y_mm, diameter)


def plate_findings(vehicle: Vehicle, plates: tuple[Plate, ...]) -> Iterator[Finding]:
    """Find holes with too little wood or plastic between them, or between one and the edge."""
    least = vehicle.frame.edge_mm
    seen = set()
    for plate in plates:
        left, low, right, high = plate.outline_mm
        for one, other in combinations(plate.holes, 2):
            apart = hypot(one.x_mm - other.x_mm, one.y_mm - other.y_mm)
            room = apart - (one.diameter_mm + other.diameter_mm) / 2
            if room < least - 1e-6 and (one.name, other.name) not in seen:
                seen.add((one.name, other.name))
                yield _thin(
                    plate, say("layout.between-and", name=one.name, name_2=other.name), room, least
                )
        for hole in plate.holes:
            edge = min(hole.x_mm - left, right - hole.x_mm, hole.y_mm - low, high - hole.y_mm)
            room = edge - hole.diameter_mm / 2
            if room < least - 1e-6 and (hole.name, "") not in seen:
                seen.add((hole.name, ""))
                yield _thin(plate, say("layout.between-and-the-edge", name=hole.name), room, least)


def _thin(plate: Plate, where: str, room: float, least: float) -> Finding:
    return Finding(
        Severity.WARNING,
        "thin-wall",
        ("layout",),
        say("layout.the-is-thin", name=plate.name, where=where),
        say(
            "layout.of-material-are-left-are-wanted-take-a",
            room=in_mm(max(room, 0), 1),
            least=in_mm(least),
        ),
        figure=room,
        limit=least,
        unit="mm",
    )
