"""Simple placement: the shafts of one chain of pairs.

On a grid each mesh takes one of the whole-unit offsets at which its two sizes run
(core.mesh.seats); elsewhere it stands at its own distance in one of two dozen directions. A
depth-first search keeps shafts and gears of one layer clear of one another and looks for the
snuggest, then the most compact arrangement.
"""

from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise
from math import atan2, cos, hypot, pi, sin, sqrt

from mild_badger.core.mesh.seats import Seat, seat_at, seats
from mild_badger.core.mesh.shift import shifted_seat
from mild_badger.core.message import say
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.vehicle.kit import Kit

__all__ = ["OPEN", "Course", "PlacedGear", "PlacedMesh", "Placement", "crossings", "place_train"]

Point = tuple[float, float]

RUNNING_CLEARANCE_MM = 0.2
MOST_STEPS = 60_000
"""Offsets tried before the best arrangement so far is taken."""
DIRECTIONS = 24
"""Directions tried for a pair that may sit at any distance: every 15°."""
SAME_PLACE_U = 1e-6


@dataclass(frozen=True)
class PlacedGear:
    """A gear on its shaft; layers count from the input side."""

    teeth: int
    shaft: int
    layer: int
    role: str
    pair: int


@dataclass(frozen=True)
class PlacedMesh:
    """Two gears in mesh, by their place in ``Placement.gears``, and how they sit."""

    first: int
    second: int
    seat: Seat


@dataclass(frozen=True)
class Placement:
    """Shafts in grid units (x right, y up, seen from the input end), gears and meshes.

    Whole units where the kit sits on a grid.

    ``through`` tells whether the input's and the output's shafts can pass every layer of the
    train; where not, they must end at their own gears. ``problem`` says in a sentence why no
    arrangement was found; the rest is then empty.
    """

    shafts_u: tuple[Point, ...]
    gears: tuple[PlacedGear, ...]
    meshes: tuple[PlacedMesh, ...]
    problem: str = ""
    through: bool = True

    @property
    def width_u(self) -> float:
        """Extent across, between shaft centres."""
        return max((x for x, _ in self.shafts_u), default=0.0)

    @property
    def height_u(self) -> float:
        """Extent up, between shaft centres."""
        return max((y for _, y in self.shafts_u), default=0.0)


@dataclass(frozen=True)
class Course:
    """What binds a chain's shafts beyond its meshes.

    ``distances_mm`` holds, per pair, the distance between its driver's and its driven gear's
    shafts where a box prescribes one (None: nominal); ``coaxial`` says that the last shaft stands
    in line with the first.
    """

    distances_mm: tuple[float | None, ...] = ()
    coaxial: bool = False

    def distance(self, pair: int) -> float | None:
        """Give the distance prescribed for a pair."""
        return self.distances_mm[pair] if pair < len(self.distances_mm) else None


OPEN = Course()


def place_train(kit: Kit, train: tuple[GearPair, ...], course: Course = OPEN) -> Placement:
    """Place one chain of pairs; its first shaft is the input's, its last the output's.

    Arrangements in which the shafts of input and output pass every layer come first; the other
    shafts reach only as far as their gears.
    """
    sizes = sorted({z for p in train for z in (p.driver, p.driven, *p.idlers)})
    missing = [str(z) for z in sizes if kit.size(z) is None]
    if missing:
        return Placement(
            (), (), (), say("layout.the-kit-has-no-gear-of-teeth", listed=", ".join(missing))
        )
    gears, links = _chain(train)
    chain = _Chain(_bare(kit, sizes), gears, links, course)
    for a, b in links:
        if not seats(kit, gears[a].teeth, gears[b].teeth):
            return Placement(
                (),
                (),
                (),
                say(
                    "layout.with-do-not-mesh-on-the-grid-an-idler",
                    teeth=gears[a].teeth,
                    teeth_2=gears[b].teeth,
                ),
            )
    for through in (False,) if course.coaxial else (True, False):
        placed = _search(chain, through)
        if placed is not None:
            return placed
    where = "" if kit.any_seat else say("layout.on-whole-units")
    if course.coaxial or course.distances_mm:
        problem = say("layout.these-pairs-do-not-fit-between-the-shafts-of", where=where)
    else:
        problem = say("layout.no-arrangement-keeps-this-trains-gears-clear", where=where)
    return Placement((), (), (), problem)


def _bare(kit: Kit, sizes: list[int]) -> Kit:
    """Leave out of a kit what has no bearing on places, so that what was found is found again."""
    gears = tuple(
        g.model_copy(update={"stock": 0}) if g.stock else g for g in kit.gears if g.teeth in sizes
    )
    nothing: dict[str, object] = dict.fromkeys(("bevels", "bearings", "others", "barred"), ())
    nothing |= {"gears": gears, "shaft_stock": 0, "sleeve_stock": 0, "name": "", "mesh_loss": 0.0}
    return kit.model_copy(update=nothing)


def _chain(
    train: tuple[GearPair, ...],
) -> tuple[tuple[PlacedGear, ...], tuple[tuple[int, int], ...]]:
    gears: list[PlacedGear] = []
    links: list[tuple[int, int]] = []
    shaft = 0
    for layer, pair in enumerate(train):
        gears.append(PlacedGear(pair.driver, shaft, layer, "driver", layer))
        for teeth, role in [*((z, "idler") for z in pair.idlers), (pair.driven, "driven")]:
            shaft += 1
            gears.append(PlacedGear(teeth, shaft, layer, role, layer))
            links.append((len(gears) - 2, len(gears) - 1))
    return tuple(gears), tuple(links)


@dataclass(frozen=True)
class _Chain:
    """A chain to be placed; link n leads to shaft n + 1."""

    kit: Kit
    gears: tuple[PlacedGear, ...]
    links: tuple[tuple[int, int], ...]
    course: Course

    def driver_shaft(self, link: int) -> int:
        """Shaft of the gear that drives the pair a link belongs to."""
        pair = self.gears[self.links[link][1]].pair
        return next(g.shaft for g in self.gears if g.pair == pair)

    def closes_pair(self, link: int) -> bool:
        """Whether a link leads to its pair's driven gear."""
        return self.gears[self.links[link][1]].role == "driven"

    def reach_u(self, link: int) -> float:
        """Distance of a link's two shafts where it may sit anywhere, in grid units."""
        a, b = (self.gears[n] for n in self.links[link])
        given = self.course.distance(b.pair)
        if given is not None and (a.role, b.role) == ("driver", "driven"):
            return given / self.kit.grid_unit_mm
        return (a.teeth + b.teeth) * self.kit.module_mm / 2 / self.kit.grid_unit_mm

    def seat(self, link: int, offset: Point) -> Seat:
        """Judge a link at an offset; away from its nominal distance a made pair is shifted."""
        a, b = self.links[link]
        one, other = self.kit.size(self.gears[a].teeth), self.kit.size(self.gears[b].teeth)
        if one is None or other is None:
            raise KeyError(link)  # place_train has looked
        if self.kit.any_seat:
            return shifted_seat(self.kit, one, other, (hypot(*offset), 0.0))
        dx, dy = sorted((round(abs(offset[0])), round(abs(offset[1]))), reverse=True)
        return seat_at(self.kit, one, other, (dx, dy))

    def options(self, link: int, positions: list[Point]) -> list[tuple[Point, float]]:
        """List the places for the shaft that a link leads to, and the seat error in mm there."""
        here = positions[-1]
        last = link == len(self.links) - 1
        driver = positions[self.driver_shaft(link)]
        given = self.course.distance(self.gears[self.links[link][1]].pair)
        apart = None if given is None else given / self.kit.grid_unit_mm
        if not self.kit.any_seat:
            choices = seats(self.kit, *(self.gears[n].teeth for n in self.links[link]))
            return [
                (place, abs(seat.engagement.seat_error_mm))
                for seat in choices
                for dx, dy in _turned(round(seat.dx_u), round(seat.dy_u))
                if (place := (here[0] + dx, here[1] + dy)) is not None
                and not (last and self.course.coaxial and place != positions[0])
                and (
                    apart is None
                    or not self.closes_pair(link)
                    or abs(_apart(place, driver) - apart) < SAME_PLACE_U
                )
            ]
        reach = self.reach_u(link)
        if last and self.course.coaxial:
            fits = abs(_apart(here, positions[0]) - reach) < SAME_PLACE_U
            return [(positions[0], 0.0)] if fits else []
        if apart is not None and self.closes_pair(link) and here != driver:
            return [(p, 0.0) for p in crossings(driver, apart, here, reach)]
        if self.course.coaxial and link == len(self.links) - 2 and not self.closes_pair(link):
            further = self.reach_u(link + 1)
            return [(p, 0.0) for p in crossings(here, reach, positions[0], further)]
        angles = (2 * pi * n / DIRECTIONS for n in range(DIRECTIONS))
        return [((here[0] + reach * cos(a), here[1] + reach * sin(a)), 0.0) for a in angles]


def _apart(one: Point, other: Point) -> float:
    return hypot(one[0] - other[0], one[1] - other[1])


def crossings(one: Point, reach_one: float, other: Point, reach_other: float) -> list[Point]:
    """List where two circles cross; nothing where they do not."""
    apart = _apart(one, other)
    if apart < SAME_PLACE_U or not abs(reach_one - reach_other) <= apart <= reach_one + reach_other:
        return []
    along = (apart**2 + reach_one**2 - reach_other**2) / (2 * apart)
    aside = sqrt(max(reach_one**2 - along**2, 0.0))
    angle = atan2(other[1] - one[1], other[0] - one[0])
    return [
        (
            one[0] + along * cos(angle) - side * sin(angle),
            one[1] + along * sin(angle) + side * cos(angle),
        )
        for side in (aside, -aside)
    ]


@lru_cache(maxsize=512)
def _search(chain: _Chain, through: bool) -> Placement | None:
    gears, kit = chain.gears, chain.kit
    unit_mm, shaft_mm = kit.grid_unit_mm, kit.shaft_diameter_mm
    tip = {g.teeth: s.tip_diameter_mm for g in gears if (s := kit.size(g.teeth))}
    on_shaft: dict[int, list[PlacedGear]] = {}
    for gear in gears:
        on_shaft.setdefault(gear.shaft, []).append(gear)
    count = len(on_shaft)
    layers = {
        shaft: set(range(gears[-1].layer + 1))
        if through and shaft in (0, count - 1)
        else {gear.layer for gear in own}
        for shaft, own in on_shaft.items()
    }
    best: tuple[tuple[float, ...], tuple[Point, ...]] | None = None
    steps = 0

    def clear(positions: list[Point], x: float, y: float) -> bool:
        new = len(positions)
        for old, (ox, oy) in enumerate(positions):
            distance = hypot(x - ox, y - oy) * unit_mm
            if distance < SAME_PLACE_U:
                if chain.course.coaxial and (old, new) == (0, count - 1):
                    continue
                return False
            pairs = ((on_shaft[new], old), (on_shaft[old], new))
            for own, other in pairs:
                for gear in own:
                    if gear.layer in layers[other] and (
                        distance < tip[gear.teeth] / 2 + shaft_mm / 2 + RUNNING_CLEARANCE_MM
                    ):
                        return False
            if old == new - 1:
                continue  # neighbours in the chain mesh
            for one in on_shaft[new]:
                for two in on_shaft[old]:
                    reach = (tip[one.teeth] + tip[two.teeth]) / 2 + RUNNING_CLEARANCE_MM
                    if one.layer == two.layer and distance < reach:
                        return False
        return True

    def extend(positions: list[Point], error: float) -> None:
        nonlocal best, steps
        if best is not None and error > best[0][0]:
            return
        if len(positions) == count:
            xs, ys = [p[0] for p in positions], [p[1] for p in positions]
            wide, high = max(xs) - min(xs), max(ys) - min(ys)
            key = (error, round((wide + 1) * (high + 1), 6), round(wide + high, 6), round(high, 6))
            if best is None or key < best[0]:
                shifted = tuple((x - min(xs), y - min(ys)) for x, y in positions)
                best = (key, shifted)
            return
        link = len(positions) - 1
        for (x, y), loss in chain.options(link, positions):
            if link == 0 and (x < -SAME_PLACE_U or y < -SAME_PLACE_U):
                continue  # mirror images
            steps += 1
            if steps > MOST_STEPS:
                return
            if clear(positions, x, y):
                extend([*positions, (x, y)], round(error + loss, 9))

    extend([(0, 0)], 0.0)
    if best is None:
        return None
    places = best[1]
    meshes = []
    for number, ((ax, ay), (bx, by)) in enumerate(pairwise(places)):
        seat = chain.seat(number, (bx - ax, by - ay))
        meshes.append(PlacedMesh(*chain.links[number], seat))
    return Placement(places, gears, tuple(meshes), through=through or chain.course.coaxial)


@lru_cache(maxsize=1024)
def _turned(dx: int, dy: int) -> tuple[tuple[int, int], ...]:
    """Every way to lay an offset on the grid."""
    ways = {(a * s, b * t) for a, b in ((dx, dy), (dy, dx)) for s in (1, -1) for t in (1, -1)}
    return tuple(sorted(ways, reverse=True))
