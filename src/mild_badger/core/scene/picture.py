"""Faces seen, as a drawing: paper, flat tints, ink where parts, edges or depths part.

The engaged path is tinted and inked in the accent; a marked part is darker. What a section cuts is
hatched, so that it is told apart without colour.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mild_badger.core.scene.camera import Camera
from mild_badger.core.scene.mesh import Floats, Ints, Scene
from mild_badger.core.scene.raster import Seen, rastered

__all__ = ["Bytes", "Drawn", "Paints", "Section", "picture_of"]

Rgb = tuple[int, int, int]
Bytes = NDArray[np.uint8]
LIGHT = np.array((-0.35, 0.6, 0.72))
"""Where the light comes from, in the picture's axes: from the left above, in front."""
SHADE = 0.16
"""How much darker a face is that looks away from the light."""
EDGE = 0.8
"""Faces whose normals' product is less meet in an inked edge."""
STEP_MM = 1.2
"""A part's faces that are farther apart in depth are parted by ink."""
HATCH_PX, LEAST_LEVEL = 6, 0.02


@dataclass(frozen=True)
class Paints:
    """Colours of the picture, each red, green and blue from 0 to 255."""

    paper: Rgb
    tint: Rgb
    ink: Rgb
    run_tint: Rgb
    run_ink: Rgb
    back_tint: Rgb
    back_ink: Rgb
    fight_tint: Rgb = (222, 178, 182)
    fight_ink: Rgb = (155, 28, 49)


@dataclass(frozen=True)
class Section:
    """A plane that cuts the box open: what lies beyond ``at_mm`` along ``axis`` is left out.

    ``axis`` is 0 to the right, 1 upwards, 2 towards the input end; ``sign`` −1 leaves out what lies
    below it instead.
    """

    axis: int
    at_mm: float
    sign: int = 1


@dataclass(frozen=True, eq=False)
class Drawn:
    """The picture (high, wide, 4): red, green, blue and 255; and whose part is in each pixel.

    Of a part its number, −1 for none.
    """

    pixels: Bytes
    part: Ints


def picture_of(
    scene: Scene,
    corners: Floats,
    camera: Camera,
    size: tuple[int, int],
    *,
    paints: Paints,
    roles: Sequence[str],
    section: Section | None = None,
    fine: int = 1,
) -> Drawn:
    """Draw parts.

    Parameters
    ----------
    scene, corners
        The parts' faces, and where their corners stand.
    camera
        From where they are seen.
    size
        Width and height of the picture, pixels.
    paints
        The colours.
    roles
        Of each part: "idle", "run", "back", "marked", "fight" where it locks, or "hidden".
    section
        A plane that cuts the box open.
    fine
        Into so many parts each pixel is divided either way, for smooth lines.
    """
    wide, high = size[0] * fine, size[1] * fine
    shown = np.array([role != "hidden" for role in roles], dtype=bool)
    rows = np.flatnonzero(shown[scene.owner]) if len(scene.owner) else scene.owner
    faces = scene.faces[rows]
    eye = Camera(camera.round_deg, camera.up_deg, camera.scale * fine, camera.middle)
    seen_at = eye.seen(corners, (wide, high))
    cut = None
    if section is not None:
        cut = section.sign * (corners[:, section.axis] - section.at_mm)
    seen = rastered(seen_at, faces, (wide, high), cut)
    # of all faces only those that are seen matter from here on
    hit = np.zeros(len(faces) + 1, dtype=bool)
    hit[seen.face] = True  # no face, −1, marks the last one
    visible = np.flatnonzero(hit[:-1])
    place = np.full(len(faces) + 1, len(visible), dtype=np.int32)
    place[visible] = np.arange(len(visible), dtype=np.int32)
    seen = Seen(place[seen.face], seen.near, seen.inside)
    # the last row stands for no face
    parts = np.append(scene.owner[rows][visible], -1)
    normals = _normals(corners, faces[visible], eye)
    pixels = _painted(seen, parts, normals, paints, roles)
    if section is not None:
        _hatched(pixels, seen, paints, fine)
    _inked(pixels, seen, parts, normals, (paints, roles, eye.scale))
    part = parts[seen.face]
    if fine > 1:
        shape = (size[1], fine, size[0], fine, 4)
        pixels = pixels.reshape(shape).mean(axis=(1, 3), dtype=np.float32).astype(np.uint8)
        part = part[::fine, ::fine]
    return Drawn(np.ascontiguousarray(pixels), part)


def _normals(corners: Floats, faces: Ints, eye: Camera) -> NDArray[np.float32]:
    """Give every face's outward normal in the picture's axes, and a last one for no face."""
    a, b, c = (corners[faces[:, n]] for n in range(3))
    crossed = np.cross(b - a, c - a) @ eye.axes.T
    long = np.sqrt(np.einsum("ij,ij->i", crossed, crossed))[:, None]
    whole = np.vstack((crossed / np.maximum(long, 1e-12), np.zeros(3)))
    return whole.astype(np.float32)


def _painted(
    seen: Seen, parts: Ints, normals: NDArray[np.float32], paints: Paints, roles: Sequence[str]
) -> Bytes:
    """Tint every face by its part's role and by how it stands to the light."""
    tints = {
        "run": paints.run_tint,
        "back": paints.back_tint,
        "marked": paints.run_tint,
        "fight": paints.fight_tint,
    }
    fills = np.array([tints.get(role, paints.tint) for role in roles] + [paints.paper], dtype=float)
    light = LIGHT / np.linalg.norm(LIGHT)
    bright = 1.0 - SHADE * (1.0 - np.clip(normals @ light.astype(np.float32), 0.0, 1.0))
    bright[-1] = 1.0
    colours = np.full((len(parts), 4), 255, dtype=np.uint8)
    colours[:, :3] = fills[parts] * bright[:, None]
    # four bytes are looked up as one number
    pixels: Bytes = colours.view(np.uint32)[:, 0][seen.face].view(np.uint8)
    return pixels.reshape(*seen.face.shape, 4)


def _hatched(pixels: Bytes, seen: Seen, paints: Paints, fine: int) -> None:
    """Hatch what the section cuts: there a solid is seen from within."""
    down, across = np.nonzero(seen.inside)
    pixels[down, across, :3] = paints.tint
    lines = (down + across) % (HATCH_PX * fine) < fine
    mixed = 0.55 * np.array(paints.ink) + 0.45 * np.array(paints.tint)
    pixels[down[lines], across[lines], :3] = mixed.astype(np.uint8)


def _inked(
    pixels: Bytes,
    seen: Seen,
    parts: Ints,
    normals: NDArray[np.float32],
    paint: tuple[Paints, Sequence[str], float],
) -> None:
    """Ink pixels where parts, edges or depths part, in the ink of the nearer part."""
    paints, roles, scale = paint
    none = len(parts) - 1
    inks = {
        "run": paints.run_ink,
        "marked": paints.run_ink,
        "back": paints.back_ink,
        "fight": paints.fight_ink,
    }
    ink_of = np.array([inks.get(role, paints.ink) for role in roles] + [paints.ink], dtype=np.uint8)
    face, near, inside = seen.face.ravel(), seen.near.ravel(), seen.inside.ravel()
    flat = pixels.reshape(-1, 4)
    wide = seen.face.shape[1]
    for step, one, other in (
        (wide, seen.face[:-1], seen.face[1:]),
        (1, seen.face[:, :-1], seen.face[:, 1:]),
    ):
        down, across = np.nonzero(one != other)
        first = down * wide + across
        second = first + step
        a, b = face[first], face[second]
        apart = parts[a] != parts[b]
        angle = np.einsum("ij,ij->i", normals[a], normals[b])
        jump = np.zeros(len(a))
        both = (a < none) & (b < none)
        jump[both] = np.abs(near[first[both]] - near[second[both]])
        cut = inside[first] & inside[second]  # one flat cut, whatever lies behind it
        # what a face seen at a slant goes back from pixel to pixel is no step
        level = np.minimum(normals[a, 2], normals[b, 2])
        slant = 2.0 / np.maximum(level, LEAST_LEVEL) / scale
        drawn = apart | (~cut & both & ((angle < EDGE) | (jump > STEP_MM + slant)))
        first, second, a, b = first[drawn], second[drawn], a[drawn], b[drawn]
        nearer = near[first] >= near[second]
        flat[first, :3] = ink_of[np.where(nearer, parts[a], parts[b])]
