"""Flat shapes made solid, as binary STL in mm."""

import struct
from itertools import pairwise

from mild_badger.core.message import say

__all__ = ["extruded", "extruded_stl"]

Point3 = tuple[float, float, float]
Triangle = tuple[Point3, Point3, Point3]


Outline = tuple[tuple[float, float], ...]


def extruded(
    outline: Outline, thickness_mm: float, holes: tuple[Outline, ...] = ()
) -> list[Triangle]:
    """Give a plate of an outline's shape with holes through it, lying on z = 0, as triangles.

    Corners follow counter-clockwise seen from outside.

    Raises
    ------
    ValueError
        The outline crosses itself or encloses nothing.
    """
    # Loaded when the first solid is written, not at every start.
    import shapely  # noqa: PLC0415
    from shapely.geometry import Polygon  # noqa: PLC0415
    from shapely.geometry.polygon import orient  # noqa: PLC0415

    shape = orient(Polygon(outline, holes))
    if not shape.is_valid or shape.area <= 0:
        raise ValueError(say("workshop.the-outline-crosses-itself-or-encloses"))
    triangles: list[Triangle] = []
    for piece in shapely.constrained_delaunay_triangles(shape).geoms:
        a, b, c = list(orient(piece).exterior.coords)[:3]
        triangles.append(((*c, 0.0), (*b, 0.0), (*a, 0.0)))
        triangles.append(((*a, thickness_mm), (*b, thickness_mm), (*c, thickness_mm)))
    for ring in (shape.exterior, *shape.interiors):
        for (x0, y0), (x1, y1) in pairwise(ring.coords):
            low0, low1 = (x0, y0, 0.0), (x1, y1, 0.0)
            high0, high1 = (x0, y0, thickness_mm), (x1, y1, thickness_mm)
            triangles += [(low0, low1, high1), (low0, high1, high0)]
    return triangles


def extruded_stl(outline: Outline, thickness_mm: float, holes: tuple[Outline, ...] = ()) -> bytes:
    """Give such a plate as binary STL; errors as ``extruded``."""
    triangles = extruded(outline, thickness_mm, holes)
    head = b"Mild Badger, mm".ljust(80, b"\0") + struct.pack("<I", len(triangles))
    # a facet's normal may be left zero: readers take it from the corners' order
    body = b"".join(struct.pack("<12fH", 0.0, 0.0, 0.0, *a, *b, *c, 0) for a, b, c in triangles)
    return head + body
