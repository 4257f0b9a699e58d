"""Pictures of the box going together, and of all its parts drawn apart.

The box is seen from its output end, where parts come in; what is nearer lies lower to the right.
Circles stay circles, so that gears can be told by their size.
"""

from bisect import bisect_left, bisect_right
from collections.abc import Iterable
from itertools import pairwise
from math import atan2, cos, hypot, pi, sin

from mild_badger.core.components.component import Component, Prism
from mild_badger.core.components.silhouette import ROUND
from mild_badger.core.components.solids import CORNERS as CIRCLE
from mild_badger.core.message import say
from mild_badger.core.workshop.assembly import AssemblyPlan, Build
from mild_badger.core.workshop.figure import Figure, Role
from mild_badger.core.workshop.ways_out import SIDE

__all__ = ["exploded_figure", "step_figure"]

ASIDE, DOWN = 0.62, -0.34
"""How far a millimetre along the box goes to the right, and up, in the picture."""
LIFT = 0.45
"""How far parts that come now are held off, as a share of the box's length."""
Point = tuple[float, float]
LONG = ("shaft", "rail", "tie rod")
CORNERS, FEW_CORNERS, SMALL_MM = 14, 6, 7.0
"""Corners of half a circle; small ones do with few."""
TOOTH_CORNERS, FEW_TEETH = 6, 12
SHORTEST_MM = 3.0
"""Shafts are drawn in lengths no shorter than this."""


def _seen(at: Point, z: float) -> Point:
    return -at[0] + ASIDE * z, at[1] + DOWN * z


def step_figure(plan: AssemblyPlan, step: Build) -> Figure:
    """Draw what is there before a step in soft lines, and what comes now before its way in."""
    there = plan.there_before(step.number)
    now = set(step.keys)
    parts = plan.box(step.box)
    length = max((part.to_mm for part in parts), default=0.0)
    lift = 0.0 if step.way == SIDE else LIFT * max(length, 40.0) * step.way
    figure = Figure(
        say("workshop.step-told", number=step.number, title=step.title, words=step.words)
    )
    _paint(figure, [(p, 0.0, "there") for p in parts if p.key in there])
    coming = [part for part in parts if part.key in now]
    for part in coming:
        middle = _middle(part)
        figure.line(
            "run", _seen(middle, part.from_mm + lift), _seen(middle, part.to_mm), dashed=True
        )
    _paint(figure, [(part, lift, "now") for part in coming])
    return figure


def exploded_figure(
    plan: AssemblyPlan, spread: float, marked: frozenset[str] = frozenset(), box: str = ""
) -> Figure:
    """Draw every part of one box, drawn apart along it by a share of its length; some marked.

    ``spread`` 0 leaves the box together; each step of the order goes as far again.
    """
    figure = Figure(say("workshop.all-parts-of-the-box-drawn-apart-along-its"))
    order = {key: step.number for step in plan.steps for key in step.keys}
    own = plan.box(box)
    length = max((part.to_mm for part in own), default=0.0)
    numbers = [order[part.key] for part in own if part.key in order]
    first, last = min(numbers, default=0) - 1, max(numbers, default=1)
    parts: list[tuple[Component, float, Role]] = []
    for part in own:
        off = spread * length * (order.get(part.key, last) - first) / max(last - first, 1)
        parts.append((part, off, "now" if part.key in marked else "there"))
    _paint(figure, parts)
    for part, off, role in parts:
        if role == "now":  # seen through what hides it
            if part.kind in ROUND:
                at = _seen((part.x_mm, part.y_mm), part.to_mm + off)
                figure.circle("run", at, part.radius_mm, heavy=True)
                continue
            for outline in map(part.placed, part.solid[0].outlines):
                points = [_seen(point, part.to_mm + off) for point in outline]
                figure.line("run", *points, points[0], heavy=True)
    return figure


def _middle(part: Component) -> Point:
    if part.kind in ROUND:
        return part.x_mm, part.y_mm
    left, low, right, high = part.reach_mm
    return (left + right) / 2, (low + high) / 2


def _paint(figure: Figure, shown: Iterable[tuple[Component, float, Role]]) -> None:
    """Draw parts from far to near; long ones in lengths, so that what sits on them covers them."""
    parts = list(shown)
    cuts: list[float] = []
    for edge in sorted({edge for p, off, _ in parts if not off for edge in (p.from_mm, p.to_mm)}):
        if not cuts or edge - cuts[-1] >= SHORTEST_MM:
            cuts.append(edge)
    items: list[tuple[float, float, Component, Prism, tuple[float, float, bool], Role]] = []
    for part, off, role in parts:
        for prism in _drawn(part):
            start, end = part.along_mm + prism.from_mm, part.along_mm + prism.to_mm
            edges = [start, end]
            if part.kind in LONG and not off:
                edges[1:1] = cuts[bisect_right(cuts, start) : bisect_left(cuts, end)]
            items += [
                (a + off, -part.radius_mm, part, prism, (a + off, b + off, b == end), role)
                for a, b in pairwise(edges)
            ]
    items.sort(key=lambda item: item[:2])
    for _, _, part, prism, (start, end, last), role in items:
        if part.kind in ROUND or part.kind == "tie rod":
            reach = min if part.teeth else max  # teeth stand out of the body that carries them
            radius = reach(hypot(x, y) for outline in prism.outlines for x, y in outline)
            at = part.x_mm, part.y_mm
            _round(figure, (at, radius), (start, end), role, bare=part.kind in LONG)
            if last:
                _face(figure, part, prism, end, role)
        else:
            _slab(figure, part, prism, (start, end), role)


def _drawn(part: Component) -> Iterable[Prism]:
    """Leave out what is too fine for the picture: the slices of a round pin."""
    return part.solid[:2] if part.kind == "follower" else part.solid


def _slab(
    figure: Figure, part: Component, prism: Prism, span: tuple[float, float], role: Role
) -> None:
    start, end = span
    for outline in map(part.placed, prism.outlines):
        for (x0, y0), (x1, y1) in zip(outline, (*outline[1:], outline[0]), strict=True):
            figure.polygon(
                role,
                _seen((x0, y0), start),
                _seen((x1, y1), start),
                _seen((x1, y1), end),
                _seen((x0, y0), end),
                bare=len(outline) > FEW_CORNERS,
            )
    for outline in prism.outlines:
        figure.polygon(role, *(_seen(at, end) for at in part.placed(_thinned(outline, part.teeth))))
    _holes(figure, part, prism, end)


def _holes(figure: Figure, part: Component, prism: Prism, end: float) -> None:
    for hole in prism.holes:
        _closed(figure, "lower", part, hole, end)


def _closed(figure: Figure, role: Role, part: Component, line: tuple[Point, ...], z: float) -> None:
    """Draw a closed line: round ones as circles, others by their corners."""
    if len(line) != CIRCLE:
        thin = _thinned(line, part.teeth or FEW_TEETH)
        figure.polygon(role, *(_seen(at, z) for at in part.placed(thin)))
        return
    (x0, y0), (x1, y1) = part.placed((line[0], line[CIRCLE // 2]))
    radius = hypot(x1 - x0, y1 - y0) / 2
    figure.circle(role, _seen(((x0 + x1) / 2, (y0 + y1) / 2), z), radius)


def _thinned(outline: tuple[Point, ...], teeth: int) -> tuple[Point, ...]:
    """Leave so many corners of an outline as a small picture shows, a few for each tooth."""
    return outline[:: max(len(outline) // (TOOTH_CORNERS * teeth), 1)] if teeth else outline


def _round(
    figure: Figure,
    ring: tuple[Point, float],
    span: tuple[float, float],
    role: Role,
    *,
    bare: bool,
) -> None:
    """Draw the side of a round part."""
    at, radius = ring
    near, far = _seen(at, span[1]), _seen(at, span[0])
    hull = _hull(near, far, radius)
    figure.polygon(role, *hull, bare=bare)
    if bare:
        half = len(hull) // 2
        figure.line(role, hull[0], hull[-1])
        figure.line(role, hull[half - 1], hull[half])


def _face(figure: Figure, part: Component, prism: Prism, end: float, role: Role) -> None:
    """Draw the end of a round part: a gear's with its teeth."""
    for outline in prism.outlines:
        _closed(figure, role, part, outline, end)
    _holes(figure, part, prism, end)


def _hull(near: Point, far: Point, radius: float) -> list[Point]:
    """Give the outline of a cylinder's side: of each circle the half that looks away."""
    dx, dy = near[0] - far[0], near[1] - far[1]
    turn = atan2(dy, dx)
    corners = CORNERS if radius > SMALL_MM else FEW_CORNERS
    steps = [turn - pi / 2 + n * pi / corners for n in range(corners + 1)]
    ahead = [(near[0] + radius * cos(t), near[1] + radius * sin(t)) for t in steps]
    behind = [(far[0] - radius * cos(t), far[1] - radius * sin(t)) for t in steps]
    return [*ahead, *behind]
