"""A part by itself as a small picture: its outline, or its side where it is longer than wide."""

from mild_badger.core.components.component import Component
from mild_badger.core.workshop.figure import Figure

__all__ = ["part_figure"]

MOST_CORNERS, LONG = 320, 1.5
"""Of an outline: more are not seen; and by how much a part is longer than wide to lie on a side."""


def part_figure(part: Component) -> Figure:
    """Draw a part, in mm of its own axes."""
    figure = Figure()
    xs = [x for prism in part.solid for o in prism.outlines for x, _ in o]
    ys = [y for prism in part.solid for o in prism.outlines for _, y in o]
    start = min((prism.from_mm for prism in part.solid), default=0.0)
    long = max((prism.to_mm for prism in part.solid), default=0.0) - start
    if long > LONG * max(max(xs) - min(xs), max(ys) - min(ys)):
        for prism in part.solid:
            half = max(abs(y) for o in prism.outlines for _, y in o)
            a, b = prism.from_mm - start, prism.to_mm - start
            corners = ((a, -half), (b, -half), (b, half), (a, half))
            figure.line("ink", *corners, corners[0])
        return figure
    for role, rings in (
        ("ink", [ring for prism in part.solid for ring in prism.outlines]),
        ("hair", [ring for prism in part.solid for ring in prism.holes]),
    ):
        for ring in rings:
            points = ring[:: max(len(ring) // MOST_CORNERS, 1)]
            figure.line("ink" if role == "ink" else "hair", *points, points[0])
    return figure
