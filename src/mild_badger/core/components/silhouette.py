"""What parts cover seen along the box, slice by slice: what may pass another, and what may not.

Lengths mm, x to the right and y upwards as seen from the input end.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache
from math import cos, hypot, pi
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mild_badger.core.components.component import Component, ComponentKind, Outline
from mild_badger.core.components.solids import CORNERS

__all__ = ["ROUND", "SLACK_MM", "Slice", "overlapping", "rings_barred"]

ROUND: frozenset[ComponentKind] = frozenset(
    {
        "shaft",
        "rail",
        "sensor disc",
        "gear",
        "sleeve",
        "hub",
        "spacer",
        "bearing",
        "pin",
        "drum",
        "star",
        "guide",
    }
)
"""Kinds that are turned about their own axis: as they may stand at any angle, they are taken for
rings; a gear for one as large as its tips."""
CLAMPED = ("tie rod", "fulcrum")
SLACK_MM = 0.02
"""Parts that cover one another by less only touch."""


@dataclass(frozen=True)
class Slice:
    """A piece of a part with one shape, from where to where along the box."""

    part: Component
    from_mm: float
    to_mm: float


def rings_barred(parts: Sequence[Component]) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
    """Tell for every two round parts whether the first, drawn straight out, meets the second.

    Both are square over ``parts``: towards the back and towards the front.
    """
    x, y, radius, bore, start, end = np.array(
        [(p.x_mm, p.y_mm, p.radius_mm, _bore_mm(p), p.from_mm, p.to_mm) for p in parts]
    ).T
    apart = np.hypot(x[:, None] - x, y[:, None] - y)
    cover = apart < radius[:, None] + radius - SLACK_MM
    cover &= apart + radius > bore[:, None] + SLACK_MM  # it does not pass within
    cover &= apart + radius[:, None] > bore + SLACK_MM
    np.fill_diagonal(cover, val=False)
    back = cover & (end > start[:, None] + SLACK_MM)
    front = cover & (start < end[:, None] - SLACK_MM)
    return back, front


def overlapping(parts: Sequence[Component]) -> Iterator[tuple[Slice, Slice]]:
    """List pairs of slices that cover one another, the second of a part that is not round.

    Two parts that are both other than round are listed once.
    """
    import shapely  # noqa: PLC0415 - loaded with the first question, not at every start

    flat = [
        (piece, shape) for part in parts if part.kind not in ROUND for piece, shape in _cut(part)
    ]
    if not flat:
        return
    round_ = [part for part in parts if part.kind in ROUND]
    within = [shapely.buffer(shape, -SLACK_MM) for _, shape in flat]
    for part in round_:
        disc, bore = shapely.Point(part.x_mm, part.y_mm), _bore_mm(part)
        ring = disc.buffer(part.radius_mm - SLACK_MM)
        within.append(ring.difference(disc.buffer(bore + SLACK_MM)) if bore else ring)
    slices = [piece for piece, _ in flat]
    slices += [Slice(part, part.from_mm, part.to_mm) for part in round_]
    tree = shapely.STRtree([shape for _, shape in flat])
    for one, other in tree.query(within, predicate="intersects").T:
        if one >= len(flat) or (one < other and slices[one].part is not slices[other].part):
            yield slices[one], slices[other]


def _bore_mm(part: Component) -> float:
    """Give the radius of what goes right through a round part; 0 for none."""
    bores = [_inner_mm(prism.holes) for prism in part.solid]
    return min(bores) * cos(pi / CORNERS)


@lru_cache(maxsize=64)
def _inner_mm(holes: tuple[Outline, ...]) -> float:
    return min((hypot(x, y) for hole in holes for x, y in hole), default=0.0)


def _cut(part: Component) -> Iterator[tuple[Slice, Any]]:
    # nuts come on as a tie rod goes in, wall by wall: the rod alone has to pass
    for prism in part.solid[:1] if part.kind in CLAMPED else part.solid:
        whole = _joined(part, prism.outlines)
        if prism.holes:
            whole = whole.difference(_joined(part, prism.holes))
        yield Slice(part, part.along_mm + prism.from_mm, part.along_mm + prism.to_mm), whole


def _joined(part: Component, outlines: tuple[Outline, ...]) -> Any:
    import shapely  # noqa: PLC0415 - see overlapping

    flats = [shapely.Polygon(np.asarray(part.placed(outline))) for outline in outlines]
    return shapely.union_all([flat if flat.is_valid else flat.buffer(0) for flat in flats])
