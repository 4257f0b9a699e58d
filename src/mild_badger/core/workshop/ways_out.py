"""What stands in whose way when parts are drawn out straight along the shafts.

Seen along the box every part is a flat shape; one whose shape another covers farther on cannot
pass it. Gears that mesh overlap at their tips: that is no hindrance where they lie side by side.
"""

from collections.abc import Iterable
from dataclasses import dataclass, field
from functools import lru_cache
from itertools import combinations
from math import hypot
from typing import Any

from mild_badger.core.workshop.pieces import Piece

__all__ = ["BACK", "FRONT", "Obstacles", "obstacles"]

BACK, FRONT = 1, -1
"""The two ways out: towards the output end, or towards the input end."""
SLACK_MM = 0.02


@dataclass(frozen=True)
class Obstacles:
    """For each part and way out, the parts that stand in it as long as they are there."""

    pieces: tuple[Piece, ...]
    barred: dict[tuple[str, int], frozenset[str]] = field(repr=False)

    def in_way(self, key: str, way: int, there: Iterable[str]) -> frozenset[str]:
        """Name what bars a part's way out among the parts that are still there."""
        return self.barred[key, way] & frozenset(there)


@lru_cache(maxsize=4)
def obstacles(pieces: tuple[Piece, ...]) -> Obstacles:
    """Find for every two parts whether one bars the other's way."""
    shapes = _Shapes()
    barred: dict[tuple[str, int], set[str]] = {
        (piece.key, way): set() for piece in pieces for way in (BACK, FRONT)
    }
    for one, other in combinations(pieces, 2):
        first, second = (one, other) if one.from_mm <= other.from_mm else (other, one)
        beside = second.from_mm < first.to_mm - SLACK_MM
        if {first.kind, second.kind} == {"fork", "sleeve"} and beside:
            if first.body == second.body:  # a fork lies in its sleeve's groove
                for way in (BACK, FRONT):
                    barred[first.key, way].add(second.key)
                    barred[second.key, way].add(first.key)
            continue
        if beside and _mesh(first, second):
            continue
        if shapes.cover(first, second):
            barred[first.key, BACK].add(second.key)
            barred[second.key, FRONT].add(first.key)
            if beside:  # one grips the other, or both ask for one place
                barred[first.key, FRONT].add(second.key)
                barred[second.key, BACK].add(first.key)
    return Obstacles(pieces, {key: frozenset(pieces_of) for key, pieces_of in barred.items()})


def _mesh(one: Piece, other: Piece) -> bool:
    return bool(one.teeth and other.teeth and one.shaft != other.shaft)


class _Shapes:
    """Whether two parts cover one another seen along the box; round ones by their circles."""

    def __init__(self) -> None:
        self._known: dict[str, tuple[Any, Any]] = {}

    def cover(self, one: Piece, other: Piece) -> bool:
        """Whether the two overlap by more than a touch."""
        if not one.outlines and not other.outlines:
            return _rings_cover(one, other)
        if _through(one, other) or _through(other, one):
            return False
        wall, passing = (one, other) if one.outlines else (other, one)
        return bool(self._shape(wall)[0].intersects(self._shape(passing)[1]))

    def _shape(self, piece: Piece) -> tuple[Any, Any]:
        """Give a part's shape, and the same drawn in by what counts as a touch."""
        if piece.key not in self._known:
            shape = _shape(piece)
            self._known[piece.key] = (shape, shape.buffer(-SLACK_MM))
        return self._known[piece.key]


def _through(wall: Piece, passing: Piece) -> bool:
    """Whether a round part goes through one of a part's holes; most shafts do."""
    return not passing.outlines and any(
        hypot(at[0] - passing.at[0], at[1] - passing.at[1]) + passing.radius_mm <= radius
        for at, radius in wall.holes
    )


def _rings_cover(one: Piece, other: Piece) -> bool:
    """Whether two rings overlap; each has at most one hole, about its own middle."""
    apart = hypot(one.at[0] - other.at[0], one.at[1] - other.at[1])
    if apart >= one.radius_mm + other.radius_mm - SLACK_MM:
        return False
    inner, outer = (p.holes[0][1] if p.holes else 0.0 for p in (one, other))
    within = apart + other.radius_mm <= inner + SLACK_MM
    about = apart + one.radius_mm <= outer + SLACK_MM
    return not within and not about


def _shape(piece: Piece) -> Any:
    # loaded with the first question, not at every start
    import shapely  # noqa: PLC0415
    from shapely.geometry import Point as Spot  # noqa: PLC0415
    from shapely.geometry import Polygon  # noqa: PLC0415
    from shapely.ops import unary_union  # noqa: PLC0415

    shape = (
        unary_union([Polygon(outline).buffer(0) for outline in piece.outlines])
        if piece.outlines
        else Spot(piece.at).buffer(piece.radius_mm)
    )
    holes = [Spot(at).buffer(radius) for at, radius in piece.holes]
    left = shape.difference(unary_union(holes)) if holes else shape
    shapely.prepare(left)
    return left
