"""What stands in whose way when parts are drawn out straight along the shafts.

Seen along the box every part is a flat shape; one whose shape another covers farther on cannot
pass it. Gears that mesh overlap at their tips: that is no hindrance where they lie side by side.
"""

from collections.abc import Iterable
from dataclasses import dataclass, field
from functools import lru_cache
from itertools import combinations

from mild_badger.core.components.component import Component
from mild_badger.core.components.silhouette import SLACK_MM, Silhouettes
from mild_badger.core.vehicle.cache_key import Same

__all__ = ["BACK", "FRONT", "SIDE", "Obstacles", "obstacles", "way_of"]

BACK, FRONT, SIDE = 1, -1, 0
"""The ways out: towards the output end, towards the input end, and straight away from the box."""
FROM_THE_SIDE = frozenset({"follower", "detent arm"})
"""What is set on from the side once all else stands: nothing bars its way."""


@dataclass(frozen=True)
class Obstacles:
    """For each part and way out, the parts that stand in it as long as they are there."""

    parts: tuple[Component, ...]
    barred: dict[tuple[str, int], frozenset[str]] = field(repr=False)

    def in_way(self, key: str, way: int, there: Iterable[str]) -> frozenset[str]:
        """Name what bars a part's way out among the parts that are still there."""
        return self.barred[key, way] & frozenset(there)


def way_of(part: Component) -> int:
    """Say whether a part comes out along the shafts or from the side."""
    return SIDE if part.kind in FROM_THE_SIDE else BACK


def obstacles(parts: tuple[Component, ...]) -> Obstacles:
    """Find for every two parts whether one bars the other's way."""
    return _obstacles(Same(parts))


@lru_cache(maxsize=4)
def _obstacles(same: Same[tuple[Component, ...]]) -> Obstacles:
    parts = same.it
    shapes = Silhouettes()
    barred: dict[tuple[str, int], set[str]] = {
        (part.key, way): set() for part in parts for way in (BACK, FRONT)
    }
    for one, other in combinations(parts, 2):
        beside = one.from_mm < other.to_mm - SLACK_MM and other.from_mm < one.to_mm - SLACK_MM
        if beside and {one.kind, other.kind} == {"fork", "sleeve"}:
            if one.member == other.member:  # a fork lies in its sleeve's groove
                for way in (BACK, FRONT):
                    barred[one.key, way].add(other.key)
                    barred[other.key, way].add(one.key)
            continue
        if beside and _mesh(one, other):
            continue
        if not shapes.meet(one, other):
            continue
        for moving, there in ((one, other), (other, one)):
            for way in (BACK, FRONT):
                if shapes.bars(moving, there, way):
                    barred[moving.key, way].add(there.key)
    for part in parts:
        if part.kind in FROM_THE_SIDE:
            for way in (BACK, FRONT):
                barred[part.key, way].clear()
    return Obstacles(parts, {key: frozenset(others) for key, others in barred.items()})


def _mesh(one: Component, other: Component) -> bool:
    return bool(one.teeth and other.teeth and one.shaft != other.shaft)
