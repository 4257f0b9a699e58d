"""The depth buffer: against a plain search of every pixel through every triangle.

The oracle solves each pixel's middle in each triangle by barycentric weights (Foley and others,
Computer Graphics, 2nd ed., ch. 3, from memory), one by one.
"""

import numpy as np
import pytest

from mild_badger.core.scene.raster import rastered

SIZE = (48, 36)


def plainly(corners: np.ndarray, faces: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Nearest face and how near, pixel by pixel."""
    wide, high = SIZE
    face = np.full((high, wide), -1)
    near = np.full((high, wide), -np.inf)
    for row in range(high):
        for column in range(wide):
            at = np.array((column + 0.5, row + 0.5))
            for number, (a, b, c) in enumerate(corners[faces]):
                matrix = np.column_stack((b[:2] - a[:2], c[:2] - a[:2]))
                area = np.linalg.det(matrix)
                if area >= 0:  # looks away: y runs down
                    continue
                u, v = np.linalg.solve(matrix, at - a[:2])
                if min(u, v, 1 - u - v) < 0:
                    continue
                depth = a[2] + u * (b[2] - a[2]) + v * (c[2] - a[2])
                if depth > near[row, column]:
                    face[row, column], near[row, column] = number, depth
    return face, near


@pytest.mark.parametrize("seed", range(4))
def test_random_triangles_through_one_another_are_seen_as_by_plain_search(seed: int) -> None:
    rng = np.random.default_rng(seed)
    corners = rng.uniform((-10, -10, 0), (58, 46, 50), (36, 3))
    faces = np.arange(36).reshape(12, 3)
    found = rastered(corners, faces, SIZE)
    face, near = plainly(corners, faces)
    assert (found.face == face).mean() > 0.999  # a pixel's middle may lie on an edge
    same = (found.face == face) & (face >= 0)
    assert np.allclose(found.near[same], near[same])


def box(low: tuple[float, ...], high: tuple[float, ...]) -> tuple[np.ndarray, np.ndarray]:
    """A block in the picture's own frame: pixels right and down, and nearness."""
    (a, b, c), (d, e, f) = low, high
    corners = np.array([(x, y, z) for z in (c, f) for y in (b, e) for x in (a, d)], dtype=float)
    quads = [(4, 6, 7, 5), (0, 1, 3, 2), (0, 2, 6, 4), (1, 5, 7, 3), (0, 4, 5, 1), (2, 3, 7, 6)]
    faces = [t for q in quads for t in ((q[0], q[1], q[2]), (q[0], q[2], q[3]))]
    return corners, np.array(faces)


def test_a_block_covers_as_many_pixels_as_it_is_wide_and_high() -> None:
    corners, faces = box((10, 5, 0), (30, 25, 9))
    found = rastered(corners, faces, SIZE)
    assert (found.face >= 0).sum() == 20 * 20
    assert np.unique(found.near[found.face >= 0]) == pytest.approx([9.0])


def test_what_lies_beyond_a_section_is_left_out_and_the_cut_is_told() -> None:
    corners, faces = box((10, 5, 0), (30, 25, 9))
    found = rastered(corners, faces, SIZE, corners[:, 2] - 4.0)
    assert (found.face >= 0).sum() == 20 * 20
    assert found.inside.sum() == 20 * 20  # everywhere the solid is cut
    beside = rastered(corners, faces, SIZE, corners[:, 0] - 20.0)
    assert (beside.face >= 0).sum() == 10 * 20
    assert not beside.inside.any()  # its cut face is seen edge on


def test_nothing_is_seen_of_nothing_and_of_what_is_out_of_the_picture() -> None:
    none = np.zeros((0, 3), dtype=np.int64)
    assert (rastered(np.zeros((0, 3)), none, SIZE).face == -1).all()
    corners, faces = box((100, 100, 0), (130, 125, 9))
    assert (rastered(corners, faces, SIZE).face == -1).all()
