"""Pictures of the box going together, and of all its parts drawn apart.

The box is seen from its output end, where parts come in; what is nearer lies lower to the right.
Circles stay circles, so that gears can be told by their size.
"""

from bisect import bisect_left, bisect_right
from collections.abc import Iterable
from itertools import pairwise
from math import atan2, cos, pi, sin

from mild_badger.core.message import say
from mild_badger.core.workshop.assembly import AssemblyPlan, Build
from mild_badger.core.workshop.figure import Figure, Role
from mild_badger.core.workshop.pieces import Piece

__all__ = ["exploded_figure", "step_figure"]

ASIDE, DOWN = 0.62, -0.34
"""How far a millimetre along the box goes to the right, and up, in the picture."""
LIFT = 0.45
"""How far parts that come now are held off, as a share of the box's length."""
Point = tuple[float, float]
CORNERS, FEW_CORNERS, SMALL_MM = 14, 6, 7.0
"""Corners of half a circle; small ones do with few."""
SHORTEST_MM = 3.0
"""Shafts are drawn in lengths no shorter than this."""


def _seen(at: Point, z: float) -> Point:
    return -at[0] + ASIDE * z, at[1] + DOWN * z


def step_figure(plan: AssemblyPlan, step: Build) -> Figure:
    """Draw what is there before a step in soft lines, and what comes now before its way in."""
    there = plan.there_before(step.number)
    now = set(step.pieces)
    length = max((piece.to_mm for piece in plan.pieces), default=0.0)
    lift = LIFT * max(length, 40.0) * step.way
    figure = Figure(
        say("workshop.step-told", number=step.number, title=step.title, words=step.words)
    )
    _paint(figure, [(p, 0.0, "there") for p in plan.pieces if p.key in there])
    coming = [piece for piece in plan.pieces if piece.key in now]
    for piece in coming:
        middle = _middle(piece)
        figure.line(
            "run", _seen(middle, piece.from_mm + lift), _seen(middle, piece.to_mm), dashed=True
        )
    _paint(figure, [(piece, lift, "now") for piece in coming])
    return figure


def exploded_figure(
    plan: AssemblyPlan, spread: float, marked: frozenset[str] = frozenset()
) -> Figure:
    """Draw every part, drawn apart along the box by a share of its length; some marked.

    ``spread`` 0 leaves the box together; each step of the order goes as far again.
    """
    figure = Figure(say("workshop.all-parts-of-the-box-drawn-apart-along-its"))
    order = {key: step.number for step in plan.steps for key in step.pieces}
    length = max((piece.to_mm for piece in plan.pieces), default=0.0)
    last = max(order.values(), default=1)
    parts: list[tuple[Piece, float, Role]] = []
    for piece in plan.pieces:
        off = spread * length * order.get(piece.key, last) / last
        parts.append((piece, off, "now" if piece.key in marked else "there"))
    _paint(figure, parts)
    for piece, off, role in parts:
        if role == "now":  # seen through what hides it
            if not piece.outlines:
                figure.circle(
                    "run", _seen(piece.at, piece.to_mm + off), piece.radius_mm, heavy=True
                )
            for outline in piece.outlines:
                points = [_seen(point, piece.to_mm + off) for point in outline]
                figure.line("run", *points, points[0], heavy=True)
    return figure


def _middle(piece: Piece) -> Point:
    if not piece.outlines:
        return piece.at
    xs = [x for outline in piece.outlines for x, _ in outline]
    ys = [y for outline in piece.outlines for _, y in outline]
    return (min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2


def _paint(figure: Figure, shown: Iterable[tuple[Piece, float, Role]]) -> None:
    """Draw parts from far to near; shafts in lengths, so that what sits on them covers them."""
    parts = list(shown)
    cuts: list[float] = []
    for edge in sorted({edge for p, off, _ in parts if not off for edge in (p.from_mm, p.to_mm)}):
        if not cuts or edge - cuts[-1] >= SHORTEST_MM:
            cuts.append(edge)
    items: list[tuple[float, float, Piece, float, float, Role]] = []
    for piece, off, role in parts:
        start, end = piece.from_mm, piece.to_mm
        edges = [start, end]
        if piece.kind in ("shaft", "rail", "tie") and not off:
            edges[1:1] = cuts[bisect_right(cuts, start) : bisect_left(cuts, end)]
        items += [
            (a + off, -piece.radius_mm, piece, a + off, b + off, role) for a, b in pairwise(edges)
        ]
    items.sort(key=lambda item: item[:2])
    ends = {piece.key: piece.to_mm + off for piece, off, _ in parts}
    for _, _, piece, start, end, role in items:
        if piece.outlines:
            _slab(figure, piece, (start, end), role)
        else:
            _round(figure, piece, (start, end), role)
            if end >= ends[piece.key] - 0.01:
                _face(figure, piece, end, role)


def _slab(figure: Figure, piece: Piece, span: tuple[float, float], role: Role) -> None:
    start, end = span
    for outline in piece.outlines:
        for (x0, y0), (x1, y1) in zip(outline, (*outline[1:], outline[0]), strict=True):
            figure.polygon(
                role,
                _seen((x0, y0), start),
                _seen((x1, y1), start),
                _seen((x1, y1), end),
                _seen((x0, y0), end),
                bare=piece.kind == "fork",
            )
    for outline in piece.outlines:
        figure.polygon(role, *(_seen(point, end) for point in outline))
    for at, radius in piece.holes:
        figure.circle("lower", _seen(at, end), radius)


def _round(figure: Figure, piece: Piece, span: tuple[float, float], role: Role) -> None:
    """Draw the side of a round part; its far end only where it begins."""
    near, far = _seen(piece.at, span[1]), _seen(piece.at, span[0])
    hull = _hull(near, far, piece.radius_mm)
    whole = piece.kind not in ("shaft", "rail", "tie")
    figure.polygon(role, *hull, bare=not whole)
    if not whole:
        half = len(hull) // 2
        figure.line(role, hull[0], hull[-1])
        figure.line(role, hull[half - 1], hull[half])


def _face(figure: Figure, piece: Piece, end: float, role: Role) -> None:
    near = _seen(piece.at, end)
    figure.circle(role, near, piece.radius_mm)
    if piece.teeth:
        root = piece.radius_mm * (1 - 4.5 / (piece.teeth + 2))
        figure.circle(role, near, max(root, piece.radius_mm * 0.3))


def _hull(near: Point, far: Point, radius: float) -> list[Point]:
    """Give the outline of a cylinder's side: of each circle the half that looks away."""
    dx, dy = near[0] - far[0], near[1] - far[1]
    turn = atan2(dy, dx)
    corners = CORNERS if radius > SMALL_MM else FEW_CORNERS
    steps = [turn - pi / 2 + n * pi / corners for n in range(corners + 1)]
    ahead = [(near[0] + radius * cos(t), near[1] + radius * sin(t)) for t in steps]
    behind = [(far[0] - radius * cos(t), far[1] - radius * sin(t)) for t in steps]
    return [*ahead, *behind]
