"""Every way to lay one train between two shafts on the grid, ranked.

Coordinates are whole numbers of half units, so that all arithmetic on places is exact. What joins
ways of pairs serves wood and print too, in finer steps (see free_routes).

Along the shafts a side has layer 1 at the sleeves, then the inner wall, then layers 2 and up to the
outer wall. Walls carry the shafts: an intermediate shaft stands in both and passes all layers
between them, and layer 1 only where it has a gear there; the input's shaft passes all; a selector
shaft is carried by the two inner walls and passes layer 1 alone.

A pair, with up to two idlers of any size between its gears, reaches certain places by certain ways;
these are listed once. Ways of pairs are then joined end to end.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise, product
from math import hypot

from mild_badger.core.kit.part_sizes import tip_mm
from mild_badger.core.mesh.offsets import offsets
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.vehicle.kit import Kit

__all__ = [
    "CLEARANCE_MM",
    "Bounds",
    "Half",
    "Joiner",
    "PairWay",
    "TrainRoute",
    "clearance_mm",
    "gear_cost",
    "idler_counts",
    "in_layers",
    "ways_between",
]

Half = tuple[int, int]
"""A place in half units."""
CLEARANCE_MM, MADE_CLEARANCE_MM = 0.2, 0.5
"""Room between parts that pass one another: of bricks, and in wood and print (estimates)."""
MOST_IDLERS = {2: 2, 1: 1}
"""Idlers put into a pair, by the grid's step: half units reach most places without a second."""
IDLER_TEETH = 40
"""Largest idler put in to reach further."""
REACH = 20
"""Farthest that one pair leads, in half units."""
PER_PLACE = 3
"""Ways of a pair kept for each place it leads to, by idlers."""
MOST_WAYS = 48
"""Ways kept of one train."""


def clearance_mm(kit: Kit) -> float:
    """Give the room that parts of a kit need where they pass one another."""
    return MADE_CLEARANCE_MM if kit.any_seat else CLEARANCE_MM


def gear_cost(teeth: int) -> float:
    """Give what a gear counts in ranking ways: itself, and a little for its size."""
    return 1 + 0.02 * teeth


@dataclass(frozen=True)
class Bounds:
    """The space that shafts may stand in, in half units, about the first shaft."""

    left: int
    right: int
    low: int
    high: int

    def holds(self, place: Half) -> bool:
        """Whether a place is inside."""
        return self.left <= place[0] <= self.right and self.low <= place[1] <= self.high


@dataclass(frozen=True)
class TrainRoute:
    """One train, laid out.

    ``points`` are the places of its shafts in order, the first one's at (0, 0); ``gears`` are
    (teeth, number of the shaft, layer), in the order in which the power meets them; ``cost`` ranks
    ways: seat errors, gears and room.
    """

    train: tuple[GearPair, ...]
    points: tuple[Half, ...]
    gears: tuple[tuple[int, int, int], ...]
    error_mm: float
    cost: float


@dataclass(frozen=True)
class PairWay:
    """One way of a pair from its driver's shaft at (0, 0): the further shafts, and all gears.

    Places in the steps of the one who joins it.
    """

    points: tuple[Half, ...]
    teeth: tuple[int, ...]
    error_mm: float
    cost: float


@lru_cache(maxsize=1024)
def _pair_ways(
    kit: Kit, driver: int, driven: int, idlers: int, step: int
) -> dict[Half, tuple[PairWay, ...]]:
    """List where a pair leads to over so many idlers, and the cheapest ways there."""
    tip = {z: s.tip_diameter_mm / 2 for z in kit.sizes if (s := kit.size(z))}
    unit = kit.grid_unit_mm / 2
    small = [z for z in kit.sizes if z <= IDLER_TEETH]
    by_place: dict[Half, list[PairWay]] = {}

    def clear(teeth: tuple[int, ...], points: list[Half], place: Half) -> bool:
        """Keep a new gear clear of all but the one it meshes with."""
        new = teeth[len(points)]
        return all(
            hypot(place[0] - x, place[1] - y) * unit >= tip[new] + tip[old] + CLEARANCE_MM
            for old, (x, y) in zip(teeth, points[:-1], strict=False)
        )

    def extend(teeth: tuple[int, ...], points: list[Half], error: float) -> None:
        if len(points) == len(teeth):
            cost = 8 * error + sum(gear_cost(z) for z in teeth)
            by_place.setdefault(points[-1], []).append(
                PairWay(tuple(points[1:]), teeth, error, cost)
            )
            return
        here = points[-1]
        for offset in offsets(kit, teeth[len(points) - 1], teeth[len(points)], step):
            place = (here[0] + offset.dx, here[1] + offset.dy)
            if max(abs(place[0]), abs(place[1])) <= REACH and clear(teeth, points, place):
                extend(teeth, [*points, place], error + offset.error_mm)

    for between in product(small, repeat=idlers):
        extend((driver, *between, driven), [(0, 0)], 0.0)
    return {
        place: tuple(sorted(ways, key=lambda way: way.cost)[:PER_PLACE])
        for place, ways in by_place.items()
    }


def ways_between(
    kit: Kit,
    pairs: tuple[tuple[int, int], ...],
    end: Half,
    *,
    parity: int,
    layers: int,
    step: int,
    bounds: Bounds,
    inputs: tuple[Half, ...] = (),
    selectors: tuple[Half, ...] = (),
    wanted: Callable[[TrainRoute], bool] = lambda _way: True,
) -> tuple[TrainRoute, ...]:
    """Lay pairs in a row from a shaft at (0, 0) to one at ``end``, idlers put in as it takes.

    Parameters
    ----------
    kit, pairs
        Driver and driven teeth of each pair, in order.
    end
        Where the last shaft stands.
    parity
        0 for an even number of meshes, 1 for an odd one.
    layers, step, bounds
        How many layers there are, 2 for whole units and 1 for half ones, and the space.
    inputs, selectors
        The other columns' shafts, to be kept clear of.
    wanted
        Says which ways count.

    Returns
    -------
    tuple of Way
        The cheapest first; the last pair is in layer 1, at the sleeve.
    """
    joiner = Joiner(kit, end, bounds, inputs, selectors, step_mm=kit.grid_unit_mm / 2)
    routes: list[TrainRoute] = []
    most = MOST_IDLERS[step]
    for idlers in idler_counts(len(pairs), parity, each=most, in_all=most + 2):
        tables = [_pair_ways(kit, a, b, k, step) for (a, b), k in zip(pairs, idlers, strict=True)]
        for ways in joiner.joined(tables):
            routes += filter(wanted, in_layers(joiner, ways, layers))
            if len(routes) > 4 * MOST_WAYS:
                break
    routes.sort(key=lambda way: way.cost)
    return tuple(routes[:MOST_WAYS])


def idler_counts(pairs: int, parity: int, *, each: int, in_all: int) -> list[tuple[int, ...]]:
    """Share idlers out to the pairs so that the meshes come out even or odd, few first."""
    every = product(range(each + 1), repeat=pairs)
    right = (c for c in every if (sum(c) + pairs) % 2 == parity and sum(c) <= in_all)
    return sorted(right, key=lambda counts: (sum(counts), counts))


class _Tips(dict[int, float]):
    """Tip radii by teeth, worked out when asked for."""

    def __init__(self, kit: Kit) -> None:
        super().__init__()
        self.kit = kit

    def __missing__(self, teeth: int) -> float:
        self[teeth] = tip_mm(self.kit, teeth)
        return self[teeth]


class Joiner:
    """Joins ways of pairs end to end, clear of one another and of all that passes.

    ``step_mm`` is a step of the coordinates, ``holes_mm`` how far apart two shafts are at least.
    """

    def __init__(
        self,
        kit: Kit,
        end: Half,
        bounds: Bounds,
        inputs: tuple[Half, ...],
        selectors: tuple[Half, ...],
        *,
        step_mm: float,
        holes_mm: float | None = None,
    ) -> None:
        self.kit, self.end, self.bounds = kit, end, bounds
        self.inputs = tuple(p for p in inputs if p != (0, 0))
        self.selectors = tuple(p for p in selectors if p != end)
        self.unit = step_mm
        self.room = clearance_mm(kit)
        self.tip = _Tips(kit)
        self.shaft = kit.shaft_diameter_mm / 2
        self.holes = 2 * self.shaft + self.room if holes_mm is None else holes_mm

    def joined(
        self, tables: list[dict[Half, tuple[PairWay, ...]]]
    ) -> Iterator[tuple[PairWay, ...]]:
        """Go through the rows of ways that lead from the start to the end."""
        yield from self._extend(tables, (), (0, 0))

    def _extend(
        self,
        tables: list[dict[Half, tuple[PairWay, ...]]],
        taken: tuple[PairWay, ...],
        here: Half,
    ) -> Iterator[tuple[PairWay, ...]]:
        table = tables[len(taken)]
        if len(taken) == len(tables) - 1:
            need = (self.end[0] - here[0], self.end[1] - here[1])
            for way in table.get(need, ()):
                if self.clear((*taken, way)):
                    yield (*taken, way)
            return
        for place, ways in table.items():
            there = (here[0] + place[0], here[1] + place[1])
            rest = (self.end[0] - there[0], self.end[1] - there[1])
            last = len(taken) == len(tables) - 2
            if last and rest not in tables[-1]:
                continue
            if self.bounds.holds(there):
                for way in ways:
                    yield from self._extend(tables, (*taken, way), there)

    def clear(self, ways: tuple[PairWay, ...]) -> bool:
        """Whether all shafts stand apart and no gear touches one that passes its layer."""
        shafts, gears = self.laid(ways)
        unit, tip = self.unit, self.tip
        last = len(ways) - 1
        inner = {s for _, s, pair in gears if pair == last}  # they pass layer 1
        end = len(shafts) - 1
        others = (*self.inputs, *self.selectors)
        for n, (x, y) in enumerate(shafts):
            if n and n < end and not self.bounds.holds((x, y)):
                return False
            for v, w in (*shafts[n + 1 :], *others):
                if hypot(x - v, y - w) * unit < self.holes:
                    return False
        for teeth, s, pair in gears:
            x, y = shafts[s]
            reach = tip[teeth] + self.shaft + self.room
            if pair == last:
                passing = [p for n, p in enumerate(shafts) if n != s and (n in inner or not n)]
                passing += others
            else:
                passing = [p for n, p in enumerate(shafts) if n not in (s, end)]
                passing += self.inputs
            if any(hypot(x - v, y - w) * unit < reach for v, w in passing):
                return False
        return True

    @staticmethod
    def laid(
        ways: tuple[PairWay, ...],
    ) -> tuple[list[Half], list[tuple[int, int, int]]]:
        """List the shafts, and the gears as (teeth, shaft, pair)."""
        shafts: list[Half] = [(0, 0)]
        gears: list[tuple[int, int, int]] = []
        for pair, way in enumerate(ways):
            x, y = shafts[-1]
            gears.append((way.teeth[0], len(shafts) - 1, pair))
            for teeth, (dx, dy) in zip(way.teeth[1:], way.points, strict=True):
                shafts.append((x + dx, y + dy))
                gears.append((teeth, len(shafts) - 1, pair))
        return shafts, gears


def in_layers(joiner: Joiner, ways: tuple[PairWay, ...], layers: int) -> Iterator[TrainRoute]:
    """Share what was joined out to layers, in every way in which nothing touches."""
    shafts, gears = joiner.laid(ways)
    xs, ys = [x for x, _ in shafts], [y for _, y in shafts]
    half_units = joiner.unit / (joiner.kit.grid_unit_mm / 2)
    room = (max(xs) - min(xs) + max(ys) - min(ys)) * half_units
    error = sum(way.error_mm for way in ways)
    train = tuple(
        GearPair(driver=w.teeth[0], driven=w.teeth[-1], idlers=w.teeth[1:-1]) for w in ways
    )
    for levels in _levels(joiner, shafts, gears, layers):
        yield TrainRoute(
            train,
            tuple(shafts),
            tuple((teeth, shaft, levels[pair]) for teeth, shaft, pair in gears),
            error,
            sum(way.cost for way in ways) + 0.15 * room + 0.1 * max(levels),
        )


def _levels(
    joiner: Joiner, shafts: list[Half], gears: list[tuple[int, int, int]], layers: int
) -> Iterator[tuple[int, ...]]:
    """Share the pairs out to layers: the last in layer 1, those before it apart further out."""
    pairs = gears[-1][2] + 1
    for some in product(range(2, layers + 1), repeat=pairs - 1):
        levels = (*some, 1)
        if any(a == b for a, b in pairwise(levels)):
            continue
        touching = any(
            levels[pair] == levels[other]
            and pair != other
            and hypot(shafts[s][0] - shafts[r][0], shafts[s][1] - shafts[r][1]) * joiner.unit
            < joiner.tip[t] + joiner.tip[u] + joiner.room
            for n, (t, s, pair) in enumerate(gears)
            for u, r, other in gears[n + 1 :]
        )
        if not touching:
            yield levels
