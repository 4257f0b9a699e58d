"""What parts cover seen along the box, slice by slice: what may pass another, and what may not.

Lengths mm, x to the right and y upwards as seen from the input end.
"""

from collections.abc import Iterator
from functools import lru_cache
from math import cos, hypot, pi
from typing import Any

import numpy as np

from mild_badger.core.components.component import Component, ComponentKind, Outline
from mild_badger.core.components.solids import CORNERS

__all__ = ["ROUND", "SLACK_MM", "Silhouettes"]

ROUND: frozenset[ComponentKind] = frozenset(
    {"shaft", "rail", "gear", "sleeve", "hub", "spacer", "bearing", "pin", "drum", "star", "guide"}
)
"""Kinds that are turned about their own axis: as they may stand at any angle, they are taken for
rings; a gear for one as large as its tips."""
CLAMPED = ("tie rod", "fulcrum")
SLACK_MM = 0.02


class Silhouettes:
    """Which parts stand in one another's straight way along the box."""

    def __init__(self) -> None:
        self._known: dict[str, list[tuple[float, float, Any, Any]]] = {}

    def meet(self, one: Component, other: Component) -> bool:
        """Whether two parts may cover one another at all, seen along the box."""
        if one.kind in ROUND and other.kind in ROUND:
            return _rings_cover(one, other)
        return _boxes_meet(one, other)

    def bars(self, moving: Component, there: Component, way: int) -> bool:
        """Whether a part drawn out towards the back (1) or the front (−1) meets another.

        The two must :meth:`meet` seen along the box.
        """
        if not _ahead(moving.from_mm, moving.to_mm, there.from_mm, there.to_mm, way):
            return False
        if moving.kind in ROUND and there.kind in ROUND:
            return True
        return any(
            _ahead(start, end, first, last, way) and shape.intersects(drawn_in)
            for start, end, _, drawn_in in self._flats(moving)
            for first, last, shape, _ in self._flats(there)
        )

    def _flats(self, part: Component) -> list[tuple[float, float, Any, Any]]:
        """Give a part slice by slice: from where to where, its shape, and less what is a touch."""
        if part.key not in self._known:
            import shapely  # noqa: PLC0415 - loaded with the first question, not at every start

            flats = []
            for start, end, shape in _slices(part):
                shapely.prepare(shape)
                flats.append((start, end, shape, shape.buffer(-SLACK_MM)))
            self._known[part.key] = flats
        return self._known[part.key]


def _ahead(start: float, end: float, first: float, last: float, way: int) -> bool:
    """Whether what reaches from first to last lies beside or beyond what moves."""
    return last > start + SLACK_MM if way > 0 else first < end - SLACK_MM


def _rings_cover(one: Component, other: Component) -> bool:
    """Whether two rings overlap; each has at most one hole, about its own middle."""
    apart = hypot(one.x_mm - other.x_mm, one.y_mm - other.y_mm)
    if apart >= one.radius_mm + other.radius_mm - SLACK_MM:
        return False
    within = apart + other.radius_mm <= _bore_mm(one) + SLACK_MM
    about = apart + one.radius_mm <= _bore_mm(other) + SLACK_MM
    return not within and not about


def _bore_mm(part: Component) -> float:
    """Give the radius of what goes right through a round part; 0 for none."""
    bores = [_inner_mm(prism.holes) for prism in part.solid]
    return min(bores) * cos(pi / CORNERS)


@lru_cache(maxsize=64)
def _inner_mm(holes: tuple[Outline, ...]) -> float:
    return min((hypot(x, y) for hole in holes for x, y in hole), default=0.0)


def _boxes_meet(one: Component, other: Component) -> bool:
    left, low, right, high = _box(one)
    own_left, own_low, own_right, own_high = _box(other)
    return left < own_right and own_left < right and low < own_high and own_low < high


def _box(part: Component) -> tuple[float, float, float, float]:
    if part.kind not in ROUND:
        return part.reach_mm
    x, y, radius = part.x_mm, part.y_mm, part.radius_mm
    return x - radius, y - radius, x + radius, y + radius


def _slices(part: Component) -> Iterator[tuple[float, float, Any]]:
    import shapely  # noqa: PLC0415 - see Silhouettes

    if part.kind in ROUND:
        middle, bore = shapely.Point(part.x_mm, part.y_mm), _bore_mm(part)
        disc = middle.buffer(part.radius_mm)
        flat = disc.difference(middle.buffer(bore)) if bore else disc
        yield part.from_mm, part.to_mm, flat
        return
    # nuts come on as a tie rod goes in, wall by wall: the rod alone has to pass
    for prism in part.solid[:1] if part.kind in CLAMPED else part.solid:
        whole = _joined(part, prism.outlines)
        if prism.holes:
            whole = whole.difference(_joined(part, prism.holes))
        yield part.along_mm + prism.from_mm, part.along_mm + prism.to_mm, whole


def _joined(part: Component, outlines: tuple[Outline, ...]) -> Any:
    import shapely  # noqa: PLC0415 - see Silhouettes

    flats = [shapely.Polygon(np.asarray(part.placed(outline))) for outline in outlines]
    return shapely.union_all([flat if flat.is_valid else flat.buffer(0) for flat in flats])
