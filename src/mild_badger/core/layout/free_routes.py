"""Every way to lay one train between two shafts in wood or print, where any distance will do.

Coordinates are whole numbers of :data:`STEP_MM`, so that places compare exactly. The last two
distances close the row by the crossing of two circles; whatever comes before them goes straight in
one of two dozen directions. Idlers are put in where the distances do not reach, and where the
output would turn the wrong way. Along the shafts the rules are those of a grid (see routes).
"""

from collections.abc import Iterator, Mapping
from itertools import combinations, pairwise, product
from math import cos, hypot, pi, sin

from mild_badger.core.kit.part_sizes import tip_mm
from mild_badger.core.layout.routes import (
    Bounds,
    Half,
    Joiner,
    PairWay,
    TrainRoute,
    clearance_mm,
    gear_cost,
    idler_counts,
    in_layers,
)
from mild_badger.core.mesh.shift import least_sound_teeth
from mild_badger.core.structure.train import crossings
from mild_badger.core.vehicle.kit import Kit

__all__ = ["MOST_IDLERS", "SAME_MM", "STEP_MM", "free_ways_between"]

STEP_MM = 1e-5
"""What one step of a coordinate is; teeth do not notice as much."""
IDLER_TEETH = (12, 16, 20, 24, 30, 36, 42, 48)
"""Sizes tried for idlers, all those of a pair alike."""
QUICK_TEETH = (12, 20, 30)
MOST_IDLERS = 3
DIRECTIONS, QUICK_DIRECTIONS = 24, 12
ENOUGH = 48
"""Ways of one train after which no more idlers are tried, and most that are kept."""
UNDERCUT_COST = 1.0
"""What a gear with undercut teeth costs more: as much as another gear."""
SAME_MM = 0.02
"""By so much may the only distance of a train miss its end: less than the play of any teeth."""
Point = tuple[float, float]


def free_ways_between(
    kit: Kit,
    pairs: tuple[tuple[int, int], ...],
    end: Half,
    *,
    parity: int,
    layers: int,
    bounds: Bounds,
    inputs: tuple[Half, ...] = (),
    selectors: tuple[Half, ...] = (),
    most_idlers: int = MOST_IDLERS,
    quick: bool = False,
    holes_mm: float | None = None,
    through: Mapping[int, Point] | None = None,
) -> tuple[TrainRoute, ...]:
    """Lay pairs in a row from a shaft at (0, 0) to one at ``end``, the cheapest first.

    Parameters
    ----------
    kit, pairs
        The kit, and driver and driven teeth of each pair.
    end, bounds, inputs, selectors
        Where the last shaft stands, the space, and the other columns' shafts, in steps.
    parity
        0 for an even number of meshes, 1 for an odd one.
    layers, most_idlers
        How many layers there are, and how many idlers all pairs together may take.
    quick
        Try fewer sizes of idlers, in fewer directions.
    holes_mm
        How far apart two shafts are at least; their thickness and the usual room where not given.
    through
        Where the shaft behind a pair is held, in steps, by the pair's number.
    """
    joiner = Joiner(kit, end, bounds, inputs, selectors, step_mm=STEP_MM, holes_mm=holes_mm)
    routes: list[TrainRoute] = []
    for count in idler_counts(len(pairs), parity, each=most_idlers, in_all=most_idlers):
        for size in (QUICK_TEETH if quick else IDLER_TEETH) if sum(count) else (0,):
            if size and kit.size(size) is None:
                continue
            rows = [(a, *(size,) * k, b) for (a, b), k in zip(pairs, count, strict=True)]
            directions = QUICK_DIRECTIONS if quick else DIRECTIONS
            for ways in _joined(kit, rows, end, directions, through or {}):
                if joiner.clear(ways):
                    routes += in_layers(joiner, ways, layers)
        if len(routes) >= ENOUGH:
            break
    routes.sort(key=lambda way: way.cost)
    return tuple(routes[:ENOUGH])


def _joined(
    kit: Kit,
    rows: list[tuple[int, ...]],
    end: Half,
    directions: int,
    through: Mapping[int, Point],
) -> Iterator[tuple[PairWay, ...]]:
    """Place the shafts of rows of meshing gears, and cut them into pairs again."""
    sound = least_sound_teeth(kit.pressure_angle_deg)
    for points in _past(kit, rows, end, directions, through):
        places = [(round(x / STEP_MM), round(y / STEP_MM)) for x, y in points[:-1]]
        places.append(end)
        ways, first = [], 0
        for row in rows:
            x, y = places[first]
            own = places[first + 1 : first + len(row)]
            if not _apart(kit, row, [(x, y), *own]):
                break
            cost = sum(gear_cost(teeth) + UNDERCUT_COST * (teeth < sound) for teeth in row)
            ways.append(PairWay(tuple((v - x, w - y) for v, w in own), row, 0.0, cost))
            first += len(row) - 1
        else:
            yield tuple(ways)


def _past(
    kit: Kit,
    rows: list[tuple[int, ...]],
    end: Half,
    directions: int,
    through: Mapping[int, Point],
) -> Iterator[list[Point]]:
    """Give places of all shafts, in mm, so that those that are held stand where they are held."""
    last = len(rows) - 1
    held = {**{n: place for n, place in through.items() if n < last}, last: end}
    parts: list[list[list[Point]]] = []
    begin, here = 0, (0.0, 0.0)
    for number, (x, y) in sorted(held.items()):
        there = (x * STEP_MM, y * STEP_MM)
        reaches = [
            (a + b) * kit.module_mm / 2
            for row in rows[begin : number + 1]
            for a, b in pairwise(row)
        ]
        goal = (there[0] - here[0], there[1] - here[1])
        found = _rows_of_shafts(reaches, goal, directions)
        parts.append([[(a + here[0], b + here[1]) for a, b in points] for points in found])
        begin, here = number + 1, there
    for chosen in product(*parts):
        first, *others = chosen
        yield [*first, *(point for points in others for point in points[1:])]


def _apart(kit: Kit, row: tuple[int, ...], places: list[Half]) -> bool:
    """Whether the gears of one pair with its idlers touch only those that they mesh with."""
    return all(
        hypot(places[n][0] - places[m][0], places[n][1] - places[m][1]) * STEP_MM
        >= tip_mm(kit, row[n]) + tip_mm(kit, row[m]) + clearance_mm(kit)
        for n, m in combinations(range(len(row)), 2)
        if m - n > 1
    )


def _rows_of_shafts(reaches: list[float], end: Point, directions: int) -> Iterator[list[Point]]:
    """Give places of the shafts so that each stands at its distance from the one before, in mm."""
    if len(reaches) == 1:
        if abs(hypot(*end) - reaches[0]) <= SAME_MM:
            yield [(0.0, 0.0), end]
        return
    *straight, one, other = reaches
    for step in range(directions if straight else 1):
        turn = 2 * pi * step / directions
        points = [(0.0, 0.0)]
        for reach in straight:
            x, y = points[-1]
            points.append((x + reach * cos(turn), y + reach * sin(turn)))
        for middle in crossings(points[-1], one, end, other):
            yield [*points, middle, end]
