"""Templates of flat pieces: gate levers and catches as they are put together, sensor discs."""

from collections.abc import Iterator
from functools import partial
from typing import TYPE_CHECKING

from mild_badger.core.components.component import Component, Outline, Prism
from mild_badger.core.components.describe import describe_component
from mild_badger.core.components.sensor_disc_parts import sensor_disc_parts
from mild_badger.core.components.shift_lever_parts import (
    cradle_body,
    cradle_cheek,
    shift_lever_parts,
)
from mild_badger.core.components.vehicle_parts import levers_of
from mild_badger.core.message import say
from mild_badger.core.structure.forks import forks_of
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.templates.drawing import Drawing
from mild_badger.core.templates.template import Template
from mild_badger.core.vehicle.model import Vehicle

if TYPE_CHECKING:
    from shapely.geometry.base import BaseGeometry

__all__ = ["flat_pieces"]

MARGIN_MM, WIDEST_MM = 6.0, 60.0
BOUGHT = frozenset({"catch rail"})
"""What is taken from stock."""


def flat_pieces(vehicle: Vehicle) -> Iterator[Template]:
    """List the pieces: of levers arms and bars, cradles, stands, levers or catches; discs."""
    stack = stack_for(vehicle)
    if stack is None:
        return
    for part in (
        *shift_lever_parts(vehicle, levers_of(vehicle)),
        *sensor_disc_parts(vehicle, stack, forks_of(vehicle, stack)),
    ):
        if part.kind in BOUGHT:
            continue
        words = describe_component(vehicle, part)
        plate = cradle_body(part) if part.kind == "cradle" else part.solid[0]
        yield _piece(part.id, words, plate.to_mm - plate.from_mm, (plate,))
        if part.kind == "shift arm":
            wide = _wide_mm(part.solid[1])
            bar = say("workshop.bar-of", part=words)
            yield _piece(f"bar of {part.id}", bar, wide, _from_the_side(part))
        if part.kind == "cradle":
            cheek = cradle_cheek(part)
            said = say("workshop.cheek-of", part=words)
            thick = cheek.to_mm - cheek.from_mm
            yield _piece(f"cheek of {part.id}", said, thick, (cheek,), count=2)


def _piece(
    key: str, words: str, thick_mm: float, flat: tuple[Prism, ...], count: int = 1
) -> Template:
    return Template(key, words, count, thick_mm, partial(_draw, words=words, flat=flat))


def _wide_mm(bar: Prism) -> float:
    xs = [x for x, _ in bar.outlines[0]]
    return max(xs) - min(xs)


def _from_the_side(arm: Component) -> tuple[Prism, ...]:
    """Give a bar with its jaw as it is cut: seen from the right, the input end at the left."""

    def side(prism: Prism) -> Prism:
        ys = [y for _, y in prism.outlines[0]]
        low, high, a, b = min(ys), max(ys), prism.from_mm, prism.to_mm
        outline: Outline = ((a, low), (b, low), (b, high), (a, high))
        return Prism((outline,), 0.0, 1.0)

    return tuple(map(side, arm.solid[1:]))


def _draw(vehicle: Vehicle, *, words: str, flat: tuple[Prism, ...]) -> Drawing:
    """Draw the outline of flat shapes that are one piece, with its holes."""
    del vehicle
    shape = _union(flat)
    left, low, right, high = shape.bounds
    foot = 2 * MARGIN_MM
    dx, dy = MARGIN_MM - left, foot - low
    sheet = Drawing(
        words, max(right - left, WIDEST_MM) + 2 * MARGIN_MM, high - low + foot + MARGIN_MM
    )
    for ring in (shape.exterior, *shape.interiors):
        sheet.outline("cut", [(x + dx, y + dy) for x, y in ring.coords[:-1]])
    sheet.words("mark", (MARGIN_MM, 4.0), words, height_mm=2.6)
    return sheet


def _union(flat: tuple[Prism, ...]) -> "BaseGeometry":
    from shapely import union_all  # noqa: PLC0415 - when a template is drawn
    from shapely.geometry import Polygon  # noqa: PLC0415

    near = 1e-6  # pieces that only touch are one
    whole = union_all([Polygon(o).buffer(near) for prism in flat for o in prism.outlines])
    holes = [Polygon(hole) for prism in flat for hole in prism.holes]
    return whole.difference(union_all(holes)).simplify(1e-5) if holes else whole.simplify(1e-5)
