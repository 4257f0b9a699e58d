"""Components as solids of manifold3d: cached by shape, posed in the one right-handed frame."""

from collections.abc import Iterator, Mapping
from functools import lru_cache
from itertools import pairwise
from math import cos, degrees, pi, sin
from typing import TYPE_CHECKING

import numpy as np

from mild_badger.core.components.component import (
    Component,
    Outline,
    Point,
    Prism,
    Travel,
    along_to_z,
)

if TYPE_CHECKING:
    from manifold3d import Manifold

__all__ = [
    "circle",
    "joined",
    "rotated",
    "round_hole",
    "round_pin",
    "slot_outlines",
    "solid_of",
    "solids_of",
    "strip_outline",
    "widened",
]

CORNERS = 64
PIN_SLICES, LEAST_MM = 10, 0.05


def circle(radius: float, at: Point = (0.0, 0.0), corners: int = CORNERS) -> Outline:
    """Give a circle as corners on it: no point of the solid stands outside the true one."""
    turns = (2 * pi * n / corners for n in range(corners))
    return tuple((at[0] + radius * cos(t), at[1] + radius * sin(t)) for t in turns)


def round_hole(radius: float, at: Point = (0.0, 0.0), corners: int = CORNERS) -> Outline:
    """Give a hole as corners round it: what is left lies nowhere inside the true one."""
    return circle(radius / cos(pi / corners), at, corners)


def rotated(outline: Outline, turn_rad: float) -> Outline:
    """Turn an outline about the origin."""
    c, s = cos(turn_rad), sin(turn_rad)
    return tuple((x * c - y * s, x * s + y * c) for x, y in outline)


def widened(outline: Outline, by_mm: float) -> Outline:
    """Give an outline that stands off from another by so much all round, outside it."""
    import shapely  # noqa: PLC0415 - loaded with the first question, not at every start

    wide = shapely.Polygon(outline).buffer(by_mm, join_style="mitre")
    return tuple((float(x), float(y)) for x, y in wide.exterior.coords[:-1])


def slot_outlines(shaft_mm: float, radius_mm: float, slots: int) -> Iterator[Outline]:
    """Give a disc's slots: open outwards, evenly spaced, as wide as what is left between them."""
    inner = (shaft_mm + radius_mm) / 2
    half = pi / (2 * slots)
    for number in range(slots):
        turn = 2 * pi * number / slots
        spots = ((inner, -half), (2 * radius_mm, -half), (2 * radius_mm, half), (inner, half))
        yield tuple((r * cos(turn + t), r * sin(turn + t)) for r, t in spots)


def strip_outline(
    start: Point, end: Point, half: float, *, round_end: bool = True, corners: int = 12
) -> Outline:
    """Outline a strip between two points, with round ends where it is to have eyes."""
    dx, dy = end[0] - start[0], end[1] - start[1]
    long = (dx * dx + dy * dy) ** 0.5 or 1.0
    straight: Outline = ((0.0, -half), (long, -half), (long, half), (0.0, half))
    if round_end:
        turns = [pi * step / corners for step in range(corners + 1)]
        right = [(long + half * sin(t), -half * cos(t)) for t in turns]
        left = [(-half * sin(t), half * cos(t)) for t in turns]
        straight = (*right, *left)
    c, s = dx / long, dy / long
    return tuple((start[0] + x * c - y * s, start[1] + x * s + y * c) for x, y in straight)


def round_pin(tip: Point, radius: float, along: float) -> Iterator[Prism]:
    """Make a round pin that lies across the box of slices along it, none outside the true pin."""
    edges = [radius * (2 * number / PIN_SLICES - 1) for number in range(PIN_SLICES + 1)]
    for start, end in pairwise(edges):
        half = max(radius**2 - max(abs(start), abs(end)) ** 2, 0.0) ** 0.5
        if half > LEAST_MM:
            yield Prism(
                (strip_outline((0.0, 0.0), tip, half, round_end=False),), along + start, along + end
            )


@lru_cache(maxsize=512)
def _shape(solid: tuple[Prism, ...], cuts: tuple[Prism, ...]) -> "Manifold":
    """Make a shape about its own place, with z as the frame has it."""
    whole = joined(solid)
    return whole - joined(cuts) if cuts else whole


def joined(solid: tuple[Prism, ...], thin_mm: float = 0.0) -> "Manifold":
    """Join prisms about their own place; outlines thinned by so much where it is asked for."""
    from manifold3d import CrossSection, FillRule, Manifold, OpType  # noqa: PLC0415 - when needed

    made = []
    for prism in solid:
        flat = CrossSection.batch_boolean(
            [
                CrossSection([np.asarray(outline)], FillRule.NonZero)
                if _area(outline) > 0
                else CrossSection([np.asarray(outline[::-1])], FillRule.NonZero)
                for outline in prism.outlines
            ],
            OpType.Add,
        )
        for hole in prism.holes:
            ring = hole if _area(hole) > 0 else hole[::-1]
            flat -= CrossSection([np.asarray(ring)], FillRule.NonZero)
        if thin_mm:
            flat = flat.simplify(thin_mm)
        solid_part = Manifold.extrude(flat, prism.to_mm - prism.from_mm)
        made.append(solid_part.translate((0.0, 0.0, along_to_z(prism.to_mm))))
    return Manifold.batch_boolean(made, OpType.Add) if len(made) > 1 else made[0]


def _area(outline: Outline) -> float:
    x, y = np.asarray(outline).T
    return float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))) / 2


def solid_of(component: Component, travel: Travel | None = None) -> "Manifold":
    """Give a component's solid where it stands; in neutral without a travel."""
    along = component.along_mm + component.moved_mm(travel or {})
    shape = _shape(component.solid, component.cuts)
    if component.turn_rad:
        shape = shape.rotate((0.0, 0.0, degrees(component.turn_rad)))
    if component.across:  # what ran along the box runs to the right
        shape = shape.rotate((0.0, -90.0, 0.0))
    if component.lean_rad:
        shape = shape.rotate((0.0, 0.0, degrees(component.lean_rad)))
    if component.yaw_rad:
        shape = shape.rotate((0.0, degrees(component.yaw_rad), 0.0))
    return shape.translate((component.x_mm, component.y_mm, along_to_z(along)))


def solids_of(
    components: tuple[Component, ...], travel: Travel | None = None
) -> Mapping[str, "Manifold"]:
    """Give all components' solids by their ids."""
    return {component.id: solid_of(component, travel) for component in components}
