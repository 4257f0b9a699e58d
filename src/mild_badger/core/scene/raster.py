"""Which face is seen in every pixel, by a depth buffer, in NumPy: the same on every machine.

Triangles are cut into rows of pixels, rows into pixels, all at once; of what falls on a pixel the
nearest stays.
"""

from dataclasses import dataclass

import numpy as np

from mild_badger.core.scene.mesh import Floats, Ints

__all__ = ["Seen", "rastered"]


@dataclass(frozen=True, eq=False)
class Seen:
    """For every pixel (high, wide) the row of the face seen there, −1 for none, and its nearness.

    ``inside`` tells where the face is seen from within: a solid that the section cuts.
    """

    face: Ints
    near: Floats
    inside: np.ndarray


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
    face_at = np.full(wide * high, -1, dtype=np.int64)
    near_at = np.full(wide * high, -np.inf)
    inside_at = np.zeros(wide * high, dtype=bool)
    shape = (high, wide)
    if not len(faces):
        return Seen(face_at.reshape(shape), near_at.reshape(shape), inside_at.reshape(shape))
    corners = seen[faces]  # (m, 3 corners, 3)
    a, b, c = corners[:, 0], corners[:, 1], corners[:, 2]
    # y runs down: what is anticlockwise in space has a negative area here
    area = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (c[:, 0] - a[:, 0]) * (b[:, 1] - a[:, 1])
    drawn = np.abs(area) > 1e-9 if cut is not None else area < -1e-9
    rows = np.flatnonzero(drawn)
    order = np.argsort(corners[rows, :, 1], axis=1)
    y_sorted = np.take_along_axis(corners[rows, :, 1], order, axis=1)
    x_sorted = np.take_along_axis(corners[rows, :, 0], order, axis=1)
    top = np.clip(np.ceil(y_sorted[:, 0] - 0.5), 0, high).astype(np.int64)
    bottom = np.clip(np.floor(y_sorted[:, 2] - 0.5), -1, high - 1).astype(np.int64)
    counts = np.maximum(bottom - top + 1, 0)
    line = np.repeat(np.arange(len(rows)), counts)
    row = np.arange(len(line)) - np.repeat(np.cumsum(counts) - counts, counts) + top[line]
    y = row + 0.5
    ya, yb, yc = (y_sorted[line, n] for n in range(3))
    xa, xb, xc = (x_sorted[line, n] for n in range(3))
    with np.errstate(divide="ignore", invalid="ignore"):
        long = xa + (y - ya) * (xc - xa) / (yc - ya)
        first = xa + (y - ya) * (xb - xa) / (yb - ya)
        second = xb + (y - yb) * (xc - xb) / (yc - yb)
    short = np.where(y < yb, first, second)
    left = np.clip(np.ceil(np.minimum(long, short) - 0.5), 0, wide).astype(np.int64)
    right = np.clip(np.floor(np.maximum(long, short) - 0.5), -1, wide - 1).astype(np.int64)
    widths = np.maximum(right - left + 1, 0)
    span = np.repeat(np.arange(len(line)), widths)
    column = np.arange(len(span)) - np.repeat(np.cumsum(widths) - widths, widths) + left[span]
    own = rows[line[span]]
    pixel = row[span] * wide + column
    near = _flat(a, b, c, area, (a[:, 2], b[:, 2], c[:, 2]))
    x_at, y_at = column + 0.5, row[span] + 0.5
    depth = near[0][own] + near[1][own] * x_at + near[2][own] * y_at
    if cut is not None:
        beyond = cut[faces]
        flat = _flat(a, b, c, area, (beyond[:, 0], beyond[:, 1], beyond[:, 2]))
        kept = flat[0][own] + flat[1][own] * x_at + flat[2][own] * y_at <= 0.0
        own, pixel, depth = own[kept], pixel[kept], depth[kept]
    np.maximum.at(near_at, pixel, depth)
    won = depth >= near_at[pixel]
    face_at[pixel[won]] = own[won]
    if cut is not None:
        hit = face_at >= 0
        inside_at[hit] = area[face_at[hit]] > 0
    return Seen(face_at.reshape(shape), near_at.reshape(shape), inside_at.reshape(shape))


def _flat(
    a: Floats, b: Floats, c: Floats, area: Floats, values: tuple[Floats, Floats, Floats]
) -> tuple[Floats, Floats, Floats]:
    """Give a value that is flat over each face as k + p·x + q·y."""
    whole = np.where(np.abs(area) > 1e-12, area, 1.0)
    u, v, w = values
    p = ((v - u) * (c[:, 1] - a[:, 1]) - (w - u) * (b[:, 1] - a[:, 1])) / whole
    q = ((w - u) * (b[:, 0] - a[:, 0]) - (v - u) * (c[:, 0] - a[:, 0])) / whole
    return u - p * a[:, 0] - q * a[:, 1], p, q
