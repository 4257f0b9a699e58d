"""Which face is seen in every pixel, by a depth buffer, in NumPy: the same on every machine.

Triangles are cut into rows of pixels, rows into pixels, all at once; of what falls on a pixel the
nearest stays.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mild_badger.core.scene.mesh import Floats, Ints

__all__ = ["Seen", "rastered"]

Small = NDArray[np.int32]
Singles = NDArray[np.float32]
HALF = np.float32(0.5)
LEAST = 1e-9
"""Areas and heights below this, in pixels, are none."""


@dataclass(frozen=True, eq=False)
class Seen:
    """For every pixel (high, wide) the row of the face seen there, −1 for none, and its nearness.

    ``inside`` tells where the face is seen from within: a solid that the section cuts.
    """

    face: NDArray[np.int32]
    near: NDArray[np.float32]
    inside: NDArray[np.bool_]


def rastered(seen: Floats, faces: Ints, size: tuple[int, int], cut: Floats | None = None) -> Seen:
    """Find what is seen.

    Parameters
    ----------
    seen
        Corners (n, 3): pixels to the right and down, nearness in mm.
    faces
        Rows of corners (m, 3), anticlockwise as seen from outside.
    size
        Width and height of the picture, pixels.
    cut
        How far each corner (n,) lies beyond a section, mm; what is beyond it is left out. None
        without a section.
    """
    wide, high = size
    face_at = np.full(wide * high, -1, dtype=np.int32)
    near_at = np.full(wide * high, -np.inf, dtype=np.float32)
    inside_at = np.zeros(wide * high, dtype=bool)
    shape = (high, wide)
    if not len(faces):
        return Seen(face_at.reshape(shape), near_at.reshape(shape), inside_at.reshape(shape))
    area, drawn = _facing(seen, faces, size, both=cut is not None)
    a, b, c = (seen[faces[drawn, n]] for n in range(3))
    own_area = area[drawn]
    depth = _flat(a, b, c, own_area, (a[:, 2], b[:, 2], c[:, 2]))
    beyond = None
    if cut is not None:
        beyond = _flat(a, b, c, own_area, tuple(cut[faces[drawn, n]] for n in range(3)))
    lines = _lines(a, b, c, size)
    owner, row, left, counts = lines
    x, y = left + 0.5, row + 0.5
    near = depth[0][owner] + depth[1][owner] * x + depth[2][owner] * y
    offset = np.arange(int(counts.sum()), dtype=np.int32)
    offset -= np.repeat((np.cumsum(counts) - counts).astype(np.int32), counts)
    pixel = np.repeat(row * wide + left, counts) + offset  # as ufunc.at likes it best
    slope = depth[1][owner].astype(np.float32)
    far = offset.astype(np.float32)
    nears = np.repeat(near.astype(np.float32), counts) + np.repeat(slope, counts) * far
    owners = np.repeat(drawn[owner].astype(np.int32), counts)
    if beyond is not None:
        start = beyond[0][owner] + beyond[1][owner] * x + beyond[2][owner] * y
        past = np.repeat(start, counts) + np.repeat(beyond[1][owner], counts) * offset
        kept = past <= 0.0
        owners, pixel, nears = owners[kept], pixel[kept], nears[kept]
    np.maximum.at(near_at, pixel, nears)
    won = nears >= near_at[pixel]
    face_at[pixel[won]] = owners[won]
    if cut is not None:
        hit = face_at >= 0
        inside_at[hit] = area[face_at[hit]] > 0
    return Seen(face_at.reshape(shape), near_at.reshape(shape), inside_at.reshape(shape))


def _facing(seen: Floats, faces: Ints, size: tuple[int, int], *, both: bool) -> tuple[Floats, Ints]:
    """Give all faces' areas, and the rows of those that look here and cover a pixel's middle."""
    corner = [(seen[faces[:, n], 0], seen[faces[:, n], 1]) for n in range(3)]
    (ax, ay), (bx, by), (cx, cy) = corner
    # y runs down: what is anticlockwise in space has a negative area here
    area = (bx - ax) * (cy - ay) - (cx - ax) * (by - ay)
    rows = np.flatnonzero(np.abs(area) > LEAST if both else area < -LEAST)
    for number, most in ((0, size[0]), (1, size[1])):
        one, two, three = (corner[n][number][rows] for n in range(3))
        low = np.ceil(np.minimum(np.minimum(one, two), three) - 0.5)
        high = np.ceil(np.maximum(np.maximum(one, two), three) - 0.5)
        # a middle lies between them, and within the picture
        rows = rows[(high > low) & (high > 0) & (low < most)]
    return area, rows


def _lines(
    a: Floats, b: Floats, c: Floats, size: tuple[int, int]
) -> tuple[Small, Small, Small, Small]:
    """Cut triangles into rows of pixels: whose they are, which row, first column, how many."""
    wide, high = size
    # single precision places a pixel to a thousandth, and is twice as quick
    x, y = (np.stack((a[:, n], b[:, n], c[:, n]), axis=1).astype(np.float32) for n in (0, 1))
    order = np.argsort(y, axis=1)
    y, x = np.take_along_axis(y, order, axis=1), np.take_along_axis(x, order, axis=1)
    long = _edge(x, y, 0, 2)
    owners, rows, lefts, counts = [], [], [], []
    # above and below its middle corner a triangle lies between its long edge and a short one
    for upper, lower in ((0, 1), (1, 2)):
        short = _edge(x, y, upper, lower)
        top = np.clip(np.ceil(y[:, upper] - HALF), 0, high).astype(np.int32)
        bottom = np.clip(np.ceil(y[:, lower] - HALF), 0, high).astype(np.int32)
        many = bottom - top
        owner = np.repeat(np.arange(len(x), dtype=np.int32), many)
        first = (np.cumsum(many) - many - top).astype(np.int32)
        row = np.arange(len(owner), dtype=np.int32) - first[owner]
        at = row.astype(np.float32) + HALF
        one = long[0][owner] + long[1][owner] * at
        other = short[0][owner] + short[1][owner] * at
        left = np.clip(np.ceil(np.minimum(one, other) - HALF), 0, wide).astype(np.int32)
        right = np.clip(np.ceil(np.maximum(one, other) - HALF), 0, wide).astype(np.int32)
        full = right > left
        owners.append(owner[full])
        rows.append(row[full])
        lefts.append(left[full])
        counts.append((right - left)[full])
    return (
        np.concatenate(owners),
        np.concatenate(rows),
        np.concatenate(lefts),
        np.concatenate(counts),
    )


def _edge(x: Singles, y: Singles, upper: int, lower: int) -> tuple[Singles, Singles]:
    """Give an edge as x = k + m·y; a level one, that no row crosses, as it may be."""
    high = y[:, lower] - y[:, upper]
    level = np.abs(high) <= LEAST
    slope: Singles = (x[:, lower] - x[:, upper]) / (high + level.astype(np.float32))
    start: Singles = x[:, upper] - slope * y[:, upper]
    return start, slope


def _flat(
    a: Floats, b: Floats, c: Floats, area: Floats, values: tuple[Floats, ...]
) -> tuple[Floats, Floats, Floats]:
    """Give a value that is flat over each face as k + p·x + q·y."""
    u, v, w = values
    p = ((v - u) * (c[:, 1] - a[:, 1]) - (w - u) * (b[:, 1] - a[:, 1])) / area
    q = ((w - u) * (b[:, 0] - a[:, 0]) - (v - u) * (c[:, 0] - a[:, 0])) / area
    return u - p * a[:, 0] - q * a[:, 1], p, q
