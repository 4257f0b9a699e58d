"""Views of a box for paper: from the side, and the shift pattern, in millimetres."""

from mild_badger.core.components.component import Component
from mild_badger.core.components.silhouette import ROUND
from mild_badger.core.figures import in_mm
from mild_badger.core.message import say
from mild_badger.core.shift.gate import Gate
from mild_badger.core.workshop.figure import Figure, Role

__all__ = ["gate_figure", "side_figure"]

LINE_MM = 9.0
"""How far apart lines of words under a view are, in the view's own millimetres."""


def side_figure(parts: tuple[Component, ...]) -> Figure:
    """Draw the box from its right side, input at the left; what is nearer covers what is behind."""
    figure = Figure(say("workshop.the-box-from-its-side-input-end-at-the-left"))
    for part in sorted(parts, key=lambda p: (p.x_mm, p.kind == "wall")):
        _, low, _, high = part.reach_mm
        if part.kind in ROUND:  # to its true radius, of which the corners of its solid fall short
            low, high = part.y_mm - part.radius_mm, part.y_mm + part.radius_mm
        role: Role = "now" if part.free else "there"
        a, b = part.from_mm, part.to_mm
        for start, end in _spans(part) if part.kind == "wall" else [(a, b)]:
            figure.polygon(role, (start, low), (end, low), (end, high), (start, high))
        if part.teeth and b - a > 3:
            figure.text(((a + b) / 2, high - 3), str(part.teeth), align="centre", size=4.5)
    walls = sorted({_spans(p)[0] for p in parts if p.kind == "wall"})
    if walls:
        low = figure.box()[1] - 6
        for (a, b), (c, _) in zip(walls, (*walls[1:], (walls[-1][1], 0.0)), strict=True):
            figure.line("hair", (a, low + 4), (a, low - 3))
            figure.text(((a + b) / 2, low - 2), f"{b - a:.4g}", role="soft", align="centre", size=5)
            if c > b:
                figure.text(((b + c) / 2, low - 2), f"{c - b:.5g}", align="centre", size=6)
        figure.line("hair", (walls[-1][1], low + 4), (walls[-1][1], low - 3))
        figure.text(
            ((walls[0][0] + walls[-1][1]) / 2, low - LINE_MM),
            say(
                "workshop.over-the-outer-walls",
                walls=in_mm(walls[-1][1] - walls[0][0], significant=5),
            ),
            align="centre",
            size=7,
        )
    return figure


def _spans(wall: Component) -> list[tuple[float, float]]:
    """From where to where a wall's rows reach, then its uprights."""
    along = wall.along_mm
    return [(along + prism.from_mm, along + prism.to_mm) for prism in wall.solid]


def gate_figure(gate: Gate) -> Figure:
    """Draw a lever's gate: rails, neutral, and where each gear lies."""
    figure = Figure(say("workshop.shift-pattern") + ", ".join(place.label for place in gate.places))
    for start, end in zip(gate.neutral, gate.neutral[1:], strict=False):
        figure.line("ink", start, end, heavy=True)
    for place in gate.places:
        figure.line("ink", gate.neutral[place.rail], (place.x_mm, place.y_mm), heavy=True)
        up = 1 if (place.x_mm, place.y_mm) >= gate.neutral[place.rail] else -1
        along = (0.0, up * 4.0 - 2.0) if gate.along == "vertical" else (up * 4.0 - 1.5, -1.5)
        at = (place.x_mm + along[0], place.y_mm + along[1])
        figure.text(
            at, place.label, role="back" if place.reverse else "ink", align="centre", size=14
        )
    return figure
