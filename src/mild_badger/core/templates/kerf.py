"""What a drawing's cut lines enclose, and the way of a saw or laser that leaves parts to size."""

from typing import TYPE_CHECKING

from mild_badger.core.errors import InputError
from mild_badger.core.figures import in_mm
from mild_badger.core.message import say
from mild_badger.core.templates.drawing import Drawing, Round, Stroke

if TYPE_CHECKING:
    from shapely.geometry import Polygon

__all__ = ["cut_shapes", "with_kerf"]

Points = tuple[tuple[float, float], ...]
ROUND_SEGMENTS = 48
CORNER = 0.5
"""What a tool may leave in one corner, in squares of its radius."""


def cut_shapes(drawing: Drawing) -> tuple[tuple[Points, tuple[Points, ...]], ...]:
    """Give each part that is cut out: its outline, and its holes' outlines."""
    from shapely.geometry import Polygon  # noqa: PLC0415

    rings = [s.points for s in drawing.strokes if s.layer == "cut" and s.closed]
    rings += [_polygon_of(r) for r in drawing.rounds if r.layer == "cut"]
    shapes = [Polygon(ring) for ring in rings]
    depth = _depths(shapes)
    parts = []
    for number, ring in enumerate(rings):
        if depth[number] % 2 == 0:
            holes = [
                rings[other]
                for other, shape in enumerate(shapes)
                if depth[other] == depth[number] + 1
                and shapes[number].contains(shape.representative_point())
            ]
            parts.append((ring, tuple(holes)))
    return tuple(parts)


def with_kerf(drawing: Drawing, kerf_mm: float) -> Drawing:
    """Move every closed cut line by half the kerf into the waste: outlines out, holes in.

    Raises
    ------
    InputError
        A hole or a slot is narrower than the cut.
    """
    if kerf_mm <= 0:
        return drawing
    from shapely.geometry import Polygon  # noqa: PLC0415

    closed = [s for s in drawing.strokes if s.layer == "cut" and s.closed]
    rounds = [r for r in drawing.rounds if r.layer == "cut"]
    shapes = [Polygon(s.points) for s in closed] + [Polygon(_polygon_of(r)) for r in rounds]
    waste = [1 if depth % 2 == 0 else -1 for depth in _depths(shapes)]
    moved = Drawing(
        drawing.title,
        drawing.width_mm,
        drawing.height_mm,
        [s for s in drawing.strokes if s not in closed],
        [r for r in drawing.rounds if r not in rounds],
        list(drawing.labels),
    )
    for shape, way in zip(shapes[: len(closed)], waste, strict=False):
        grown = shape.buffer(way * kerf_mm / 2, join_style="mitre", mitre_limit=2.0)
        whole = grown.geom_type == "Polygon" and not grown.is_empty and not grown.interiors
        if not whole or _missed(shape, way * kerf_mm / 2):
            raise _narrow(drawing, kerf_mm)
        moved.strokes.append(Stroke("cut", tuple(grown.exterior.coords)[:-1], closed=True))
    for ring, way in zip(rounds, waste[len(closed) :], strict=True):
        radius = ring.radius_mm + way * kerf_mm / 2
        if radius <= 0:
            raise _narrow(drawing, kerf_mm)
        moved.rounds.append(Round("cut", ring.at, radius))
    return moved


def _missed(shape: "Polygon", way_mm: float) -> bool:
    """Whether a round tool on the waste's side leaves more than the corners it rounds anyway.

    In a corner of 70° it leaves 0.47 of its radius squared; in a gap that it cannot enter, more.
    """
    left = shape.buffer(way_mm).buffer(-way_mm).symmetric_difference(shape)
    pieces = getattr(left, "geoms", [left])
    return any(p.area > CORNER * way_mm**2 for p in pieces) or bool(left.area > 0.02 * shape.area)


def _narrow(drawing: Drawing, kerf_mm: float) -> InputError:
    return InputError(
        say(
            "templates.a-hole-or-a-gap-between-teeth-is-narrower",
            title=drawing.title,
            kerf_mm=in_mm(kerf_mm),
        )
    )


def _polygon_of(ring: Round) -> Points:
    from shapely.geometry import Point  # noqa: PLC0415

    disc = Point(ring.at).buffer(ring.radius_mm, ROUND_SEGMENTS)
    return tuple((float(x), float(y)) for x, y in disc.exterior.coords[:-1])


def _depths(shapes: list["Polygon"]) -> list[int]:
    """Count for each shape how many others it lies in."""
    inside = [shape.representative_point() for shape in shapes]
    return [
        sum(
            other is not shape and other.contains(spot) and other.area > shape.area
            for other in shapes
        )
        for shape, spot in zip(shapes, inside, strict=True)
    ]
