"""What stands in whose way when parts are drawn out straight along the shafts.

Seen along the box every part is a flat shape; one whose shape another covers farther on cannot
pass it. Gears that mesh overlap at their tips: that is no hindrance where they lie side by side.
"""

from dataclasses import dataclass, field
from functools import lru_cache

import numpy as np

from mild_badger.core.components.component import Component
from mild_badger.core.components.silhouette import ROUND, SLACK_MM, overlapping, rings_barred
from mild_badger.core.vehicle.cache_key import Same

__all__ = ["BACK", "FROM_THE_SIDE", "FRONT", "SIDE", "Obstacles", "obstacles", "way_of"]

BACK, FRONT, SIDE = 1, -1, 0
"""The ways out: towards the output end, towards the input end, and straight away from the box."""
FROM_THE_SIDE = (
    "tie beam",
    "follower",
    "detent arm",
    "lever stand",
    "cradle",
    "gate lever",
    "catch",
    "catch rail",
)
"""What is set on from the side once all else stands, in this order: nothing bars its way."""


@dataclass(frozen=True)
class Obstacles:
    """For each part and way out, the parts that stand in it as long as they are there."""

    parts: tuple[Component, ...]
    barred: dict[tuple[str, int], frozenset[str]] = field(repr=False)


def way_of(part: Component) -> int:
    """Say whether a part comes out along the shafts or from the side."""
    return SIDE if part.kind in FROM_THE_SIDE else BACK


def obstacles(parts: tuple[Component, ...]) -> Obstacles:
    """Find for every two parts whether one bars the other's way."""
    return _obstacles(Same(parts))


@lru_cache(maxsize=4)
def _obstacles(same: Same[tuple[Component, ...]]) -> Obstacles:
    parts = same.it
    barred: dict[tuple[str, int], set[str]] = {
        (part.key, way): set() for part in parts for way in (BACK, FRONT)
    }
    round_ = [part for part in parts if part.kind in ROUND]
    for way, bars in zip((BACK, FRONT), rings_barred(round_) if round_ else (), strict=False):
        for moving, there in np.argwhere(bars):
            one, other = round_[moving], round_[there]
            if not (_mesh(one, other) and _beside(one, other)):
                barred[one.key, way].add(other.key)
    for first, second in overlapping(parts):
        one, other = first.part, second.part
        if {one.kind, other.kind} == {"fork", "sleeve"} and _beside(one, other):
            if one.member == other.member:  # a fork lies in its sleeve's groove
                for way in (BACK, FRONT):
                    barred[one.key, way].add(other.key)
                    barred[other.key, way].add(one.key)
            continue
        for moves, stays in ((first, second), (second, first)):
            if stays.to_mm > moves.from_mm + SLACK_MM:
                barred[moves.part.key, BACK].add(stays.part.key)
            if stays.from_mm < moves.to_mm - SLACK_MM:
                barred[moves.part.key, FRONT].add(stays.part.key)
    for part in parts:
        if part.kind in FROM_THE_SIDE:
            for way in (BACK, FRONT):
                barred[part.key, way].clear()
    return Obstacles(parts, {key: frozenset(others) for key, others in barred.items()})


def _beside(one: Component, other: Component) -> bool:
    return one.from_mm < other.to_mm - SLACK_MM and other.from_mm < one.to_mm - SLACK_MM


def _mesh(one: Component, other: Component) -> bool:
    return bool(one.teeth and other.teeth and one.shaft != other.shaft)
