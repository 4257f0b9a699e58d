"""Solids that lessons are built of, in mm: rods, blocks, wheels, spur and bevel gears, racks.

The axle lies along x, to the right as seen from behind; y is upwards and z towards the eye, so that
the vehicle drives towards −z.
"""

from collections.abc import Sequence
from functools import lru_cache
from math import acos, atan2, cos, degrees, hypot, pi, sin
from typing import TYPE_CHECKING

import numpy as np

from mild_badger.core.mesh.involute import involute
from mild_badger.core.mesh.outline import gear_outline
from mild_badger.core.scene.mesh import Mesh
from mild_badger.core.templates.gear_shape import GearForm, ring_shape

if TYPE_CHECKING:
    from manifold3d import Manifold

__all__ = [
    "bevel",
    "block",
    "cone_mm",
    "internal_ring",
    "mesh_from",
    "rack",
    "rod",
    "spur",
    "tube",
    "wheel",
]

Point3 = tuple[float, float, float]
ALPHA = 20.0 * pi / 180.0
"""Pressure angle (ISO 53)."""
SEGMENTS, FLANK = 40, 5
CLEAR = 0.25
"""How much deeper a gap is than a tooth is high, in modules (ISO 53)."""
PLAY = 0.04
"""By how much teeth are thinner than half the pitch, in modules: they do not bind."""


def mesh_from(solids: Sequence["Manifold"]) -> Mesh:
    """Join solids to one shape."""
    from manifold3d import Manifold, OpType  # noqa: PLC0415 - when a lesson is opened

    whole = Manifold.batch_boolean(list(solids), OpType.Add) if len(solids) > 1 else solids[0]
    raw = whole.to_mesh()
    corners = np.asarray(raw.vert_properties)[:, :3].astype(np.float64)
    return Mesh(corners, np.asarray(raw.tri_verts).astype(np.int64))


def rod(start: Point3, end: Point3, radius: float) -> "Manifold":
    """Give a round rod between two points."""
    from manifold3d import Manifold  # noqa: PLC0415

    way = np.subtract(end, start)
    long = float(np.linalg.norm(way))
    made = Manifold.cylinder(long, radius, circular_segments=SEGMENTS // 2)
    lean = degrees(acos(max(min(way[2] / long, 1.0), -1.0)))
    turn = degrees(atan2(way[1], way[0]))
    return made.rotate((0.0, lean, turn)).translate(start)


def block(low: Point3, high: Point3) -> "Manifold":
    """Give a block between two corners."""
    from manifold3d import Manifold  # noqa: PLC0415

    return Manifold.cube(tuple(float(b - a) for a, b in zip(low, high, strict=True))).translate(low)


def tube(outer: float, inner: float, from_x: float, to_x: float) -> "Manifold":
    """Give a ring about the axle."""
    from manifold3d import Manifold  # noqa: PLC0415

    long = to_x - from_x
    made = Manifold.cylinder(long, outer, circular_segments=2 * SEGMENTS)
    if inner:
        hole = Manifold.cylinder(long + 2, inner, circular_segments=2 * SEGMENTS)
        made -= hole.translate((0.0, 0.0, -1.0))
    return made.rotate((0.0, 90.0, 0.0)).translate((from_x, 0.0, 0.0))


def wheel(radius: float, from_x: float, to_x: float, holes: int = 5) -> "Manifold":
    """Give a road wheel about the axle; its holes show how it turns."""
    from manifold3d import Manifold  # noqa: PLC0415

    made = tube(radius, 0.0, from_x, to_x)
    for number in range(holes):
        turn = 2 * pi * number / holes
        hole = Manifold.cylinder(to_x - from_x + 2, 0.2 * radius, circular_segments=20)
        at = (from_x - 1, 0.6 * radius * cos(turn), 0.6 * radius * sin(turn))
        made -= hole.rotate((0.0, 90.0, 0.0)).translate(at)
    return made


def _extruded(outline: Sequence[tuple[float, float]], wide: float, bore: float) -> "Manifold":
    from manifold3d import CrossSection, FillRule, Manifold  # noqa: PLC0415

    flat = CrossSection([np.asarray(outline)], FillRule.EvenOdd)
    made = Manifold.extrude(flat, wide).translate((0.0, 0.0, -wide / 2))
    if bore:
        hole = Manifold.cylinder(wide + 2, bore, circular_segments=SEGMENTS)
        made -= hole.translate((0.0, 0.0, -wide / 2 - 1))
    return made


@lru_cache(maxsize=64)
def spur(teeth: int, module: float, wide: float, bore: float = 0.0) -> "Manifold":
    """Give a spur gear about the z axis, its middle at the origin, a tooth towards +x."""
    tip = (teeth + 2 - PLAY) * module
    thin = 1.0 - PLAY / 4
    outline = [
        (r * cos(t), r * sin(t))
        for r, t in (
            (hypot(x, y), _thinned(atan2(y, x), teeth, thin))
            for x, y in gear_outline(teeth, module, tip, ALPHA)
        )
    ]
    return _extruded(outline, wide, bore)


def _thinned(turn: float, teeth: int, share: float) -> float:
    """Draw a point of a tooth nearer to that tooth's middle."""
    middle = round(turn / (2 * pi / teeth)) * 2 * pi / teeth
    return middle + (turn - middle) * share


@lru_cache(maxsize=16)
def internal_ring(teeth: int, module: float, wide: float, rim: float) -> "Manifold":
    """Give a ring with teeth inside about the z axis, a gap towards +x."""
    inside = ring_shape(GearForm(teeth, module, degrees(ALPHA), 0.0))
    outer = [(rim * cos(2 * pi * n / 96), rim * sin(2 * pi * n / 96)) for n in range(96)]
    from manifold3d import CrossSection, FillRule, Manifold  # noqa: PLC0415

    flat = CrossSection([np.asarray(outer)], FillRule.EvenOdd)
    flat -= CrossSection([np.asarray(inside)], FillRule.EvenOdd)
    return Manifold.extrude(flat, wide).translate((0.0, 0.0, -wide / 2))


def rack(teeth: int, module: float, wide: float, back: float) -> "Manifold":
    """Give a rack along z with teeth towards +x and its pitch line at x = 0, a gap at z = 0.

    ``back`` is how far it reaches behind the pitch line; it lies level, ``wide`` along y.
    """
    step, lean = pi * module, module * sin(ALPHA) / cos(ALPHA)
    half = step / 4 - PLAY * module / 2
    points = [(-back, -teeth * step / 2)]
    for number in range(teeth):
        middle = (number - teeth / 2 + 0.5) * step
        for x, off in ((-1.2, -1.0), (1.0, -1.0), (1.0, 1.0), (-1.2, 1.0)):
            points.append((x * module, middle + off * (half - x * lean)))
    points.append((-back, teeth * step / 2))
    # drawn in x and z, made solid along y
    made = _extruded([(x, -z) for x, z in points], wide, 0.0)
    return made.rotate((90.0, 0.0, 0.0))


def cone_mm(teeth: int, mate: int, module: float) -> tuple[float, float, float]:
    """Give a bevel gear's pitch radius, its distance from the apex, and its cone's length, mm.

    The distance is along the axis; the shafts stand at a right angle.
    """
    radius, along = module * teeth / 2, module * mate / 2
    return radius, along, hypot(radius, along)


@lru_cache(maxsize=32)
def bevel(teeth: int, mate: int, module: float, face: float) -> "Manifold":
    """Give a straight bevel gear for shafts at a right angle.

    Its apex is at the origin, its axis the x axis, its body towards −x, a tooth towards +y. Teeth
    are those of Tredgold's virtual gear on the back cone, all edges towards the apex. ``face`` is
    the length of a tooth along the cone.
    """
    from manifold3d import Manifold  # noqa: PLC0415
    from manifold3d import Mesh as Raw  # noqa: PLC0415

    radius, along, long = cone_mm(teeth, mate, module)
    cosine, sine = along / long, radius / long
    virtual = radius / cosine
    base = virtual * cos(ALPHA)
    half = pi * module / 4 / virtual + involute(ALPHA) - PLAY * module / 2 / virtual
    low, high = virtual - (1 + CLEAR) * module, virtual + module * (1 - PLAY)
    start = max(low, base)
    flank = [(low, half)] if low < base else []
    for number in range(FLANK):
        r = start + (high - start) * number / (FLANK - 1)
        flank.append((r, max(half - involute(acos(min(base / r, 1.0))), 0.1 * half)))
    ring = []
    for tooth in range(teeth):
        middle = 2 * pi * tooth / teeth
        for sign, points in ((-1.0, flank), (1.0, flank[::-1])):
            for r, t in points:
                # what lies t round the back cone lies t / cosine round the axis
                turn, out = middle + sign * t / cosine, r - virtual
                across = radius + out * cosine
                ring.append((-along + out * sine, across * cos(turn), across * sin(turn)))
    large = np.array(ring)
    small = large * (1 - face / long)
    count = len(ring)
    ends = np.array(((large[:, 0].min(), 0.0, 0.0), (small[:, 0].mean(), 0.0, 0.0)))
    corners = np.vstack((large, small, ends)).astype(np.float32)
    following = (np.arange(count) + 1) % count
    here = np.arange(count)
    faces = np.vstack(
        (
            np.column_stack((here, following, here + count)),
            np.column_stack((following, following + count, here + count)),
            np.column_stack((following, here, np.full(count, 2 * count))),
            np.column_stack((here + count, following + count, np.full(count, 2 * count + 1))),
        )
    ).astype(np.uint32)
    made = Manifold(Raw(vert_properties=corners, tri_verts=faces))
    if made.volume() < 0:
        made = Manifold(Raw(vert_properties=corners, tri_verts=faces[:, ::-1].copy()))
    # a flat face in front, a flat back as wide as the teeth's roots
    root = (low - virtual) * sine - along
    front = root * (1 - face / long)
    made = made.trim_by_plane((-1.0, 0.0, 0.0), -front)
    return made + tube(radius + (low - virtual) * cosine, 0.0, root - 0.12 * radius, root + 0.01)
