"""One train between two points in wood or print: every pair at its own distance, no grid.

The last two distances close the row by the crossing of two circles; whatever comes before them
goes straight in some direction. Idlers are put in where the distances do not reach, and two where
one would turn the output over. All lengths in mm.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import combinations, pairwise, product
from math import cos, hypot, pi, sin

from mild_badger.core.layout.stack import tip_mm
from mild_badger.core.layout.train import crossings
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.vehicle.kit import Kit

__all__ = ["MadeWay", "made_ways"]

Point = tuple[float, float]
CLEARANCE_MM = 0.5
MOST_IDLERS = 3
IDLER_TEETH = (12, 16, 20, 24, 30, 36, 42, 48)
"""Sizes tried for idlers, all those of a pair alike."""
DIRECTIONS = 24
MOST_WAYS = 48
SAME_MM = 0.02


@dataclass(frozen=True)
class MadeWay:
    """A train laid out: its pairs with their idlers, its shafts in mm, its gears.

    ``gears`` are (teeth, number of the shaft, layer), the last pair in layer 1.
    """

    train: tuple[GearPair, ...]
    points_mm: tuple[Point, ...]
    gears: tuple[tuple[int, int, int], ...]
    cost: float


def made_ways(
    kit: Kit, pairs: tuple[tuple[int, int], ...], end: Point, *, parity: int
) -> tuple[MadeWay, ...]:
    """Lay pairs from a shaft at (0, 0) to one at ``end``, the cheapest first.

    Parameters
    ----------
    kit, pairs
        The kit, and driver and driven teeth of each pair.
    end
        Where the last shaft stands, in mm.
    parity
        0 for an even number of meshes, 1 for an odd one.
    """
    ways: list[MadeWay] = []
    counts = [
        c
        for c in product(range(MOST_IDLERS + 1), repeat=len(pairs))
        if (sum(c) + len(pairs)) % 2 == parity and sum(c) <= MOST_IDLERS
    ]
    for count in sorted(counts, key=lambda c: (sum(c), c)):
        for size in IDLER_TEETH if sum(count) else (0,):
            if size and kit.size(size) is None:
                continue
            train = tuple(
                GearPair(driver=a, driven=b, idlers=(size,) * k)
                for (a, b), k in zip(pairs, count, strict=True)
            )
            ways += _laid(kit, train, end)
        if len(ways) >= MOST_WAYS:
            break
    return tuple(sorted(ways, key=lambda way: way.cost)[:MOST_WAYS])


def _laid(kit: Kit, train: tuple[GearPair, ...], end: Point) -> Iterator[MadeWay]:
    rows = [(p.driver, *p.idlers, p.driven) for p in train]
    reaches = [(a + b) * kit.module_mm / 2 for row in rows for a, b in pairwise(row)]
    gears = []
    shaft = 0
    for number, row in enumerate(rows):
        for place, teeth in enumerate(row):
            shaft += place > 0
            gears.append((teeth, shaft, len(rows) - number))
    for points in _rows_of_shafts(reaches, end):
        if _clear(kit, points, gears):
            xs, ys = [x for x, _ in points], [y for _, y in points]
            room = max(xs) - min(xs) + max(ys) - min(ys)
            cost = len(gears) + 0.02 * sum(teeth for teeth, _, _ in gears) + 0.02 * room
            yield MadeWay(train, tuple(points), tuple(gears), cost)


def _rows_of_shafts(reaches: list[float], end: Point) -> Iterator[list[Point]]:
    """Give places of the shafts so that each stands at its distance from the one before."""
    if len(reaches) == 1:
        if abs(hypot(*end) - reaches[0]) <= SAME_MM:
            yield [(0.0, 0.0), end]
        return
    *straight, one, other = reaches
    for step in range(DIRECTIONS if straight else 1):
        turn = 2 * pi * step / DIRECTIONS
        points = [(0.0, 0.0)]
        for reach in straight:
            x, y = points[-1]
            points.append((x + reach * cos(turn), y + reach * sin(turn)))
        for middle in crossings(points[-1], one, end, other):
            yield [*points, middle, end]


def _clear(kit: Kit, points: list[Point], gears: list[tuple[int, int, int]]) -> bool:
    """Whether nothing touches that does not mesh; every shaft passes all layers."""
    meshing = {(n, n + 1) for n, (a, b) in enumerate(pairwise(gears)) if a[1] != b[1]}
    radius = kit.shaft_diameter_mm / 2

    def apart(one: int, other: int) -> float:
        return hypot(points[one][0] - points[other][0], points[one][1] - points[other][1])

    for n, m in combinations(range(len(gears)), 2):
        (a, on, layer), (b, at, beside) = gears[n], gears[m]
        if layer != beside or on == at or (n, m) in meshing:
            continue
        if apart(on, at) < tip_mm(kit, a) + tip_mm(kit, b) + CLEARANCE_MM:
            return False
    for teeth, on, _ in gears:
        for shaft in range(len(points)):
            if shaft != on and apart(on, shaft) < tip_mm(kit, teeth) + radius + CLEARANCE_MM:
                return False
    return True
