"""Distances in the plane of a wall."""

from math import hypot

__all__ = ["Point", "Segment", "along", "to_segment"]

Point = tuple[float, float]
Segment = tuple[Point, Point]


def along(segment: Segment, share: float) -> Point:
    """Give the point that lies at a share of the way along a segment."""
    (a, b), (c, d) = segment
    return a + share * (c - a), b + share * (d - b)


def to_segment(segment: Segment, place: Point) -> float:
    """Give the distance of a point from a segment, in the unit of the coordinates."""
    (a, b), (c, d) = segment
    long = (c - a) ** 2 + (d - b) ** 2
    share = ((place[0] - a) * (c - a) + (place[1] - b) * (d - b)) / long if long else 0.0
    x, y = along(segment, min(max(share, 0.0), 1.0))
    return hypot(place[0] - x, place[1] - y)
