"""Components as triangles for the picture, and where a component stands as a turn and a shift.

Shapes are those of the solids with outlines thinned to what a picture shows; the frame is that of
the components: x to the right, y upwards, z towards the eye at the input end, mm.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from mild_badger.core.components.component import Component, Prism, along_to_z
from mild_badger.core.components.solids import joined

__all__ = [
    "Floats",
    "Ints",
    "Mesh",
    "Scene",
    "bendable_mesh",
    "gathered",
    "mesh_of",
    "placed",
    "placed_corners",
    "pose_of",
    "scene_of",
]

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
FINE_MM = 6.0
"""How far apart corners are along a shaft that bends."""
THIN_MM, ROUGH_MM = 0.08, 0.35
"""By how much a drawn outline may differ from the true one: where it stands, and where it moves."""


@dataclass(frozen=True, eq=False)
class Mesh:
    """A shape about its own place: corners (n, 3), faces (m, 3) as rows of corners."""

    corners: Floats
    faces: Ints


@dataclass(frozen=True, eq=False)
class Scene:
    """All shapes as one list of faces.

    ``starts`` says where each shape's corners begin, and last how many there are; ``faces`` (m, 3)
    are rows of all corners, ``owner`` (m,) the number of each face's shape.
    """

    meshes: tuple[Mesh, ...]
    starts: Ints
    faces: Ints
    owner: Ints


@lru_cache(maxsize=1024)
def _mesh(solid: tuple[Prism, ...], cuts: tuple[Prism, ...], thin_mm: float) -> Mesh:
    raw = joined(solid, thin_mm)
    if cuts:
        raw = raw - joined(cuts, thin_mm)
    found = raw.to_mesh()
    corners = np.asarray(found.vert_properties)[:, :3].astype(np.float64)
    return Mesh(corners, np.asarray(found.tri_verts).astype(np.int64))


def mesh_of(part: Component, *, rough: bool = False) -> Mesh:
    """Give a part's shape about its own place, unturned; a ``rough`` one for what moves."""
    return _mesh(part.solid, part.cuts, ROUGH_MM if rough else THIN_MM)


@lru_cache(maxsize=128)
def _fine_mesh(solid: tuple[Prism, ...], cuts: tuple[Prism, ...]) -> Mesh:
    raw = joined(solid, THIN_MM)
    if cuts:
        raw = raw - joined(cuts, THIN_MM)
    found = raw.refine_to_length(FINE_MM).to_mesh()
    corners = np.asarray(found.vert_properties)[:, :3].astype(np.float64)
    return Mesh(corners, np.asarray(found.tri_verts).astype(np.int64))


def bendable_mesh(part: Component) -> Mesh:
    """Give a shaft's shape with corners along its length, so that it can be drawn bent."""
    return _fine_mesh(part.solid, part.cuts) if part.kind == "shaft" else mesh_of(part)


def gathered(meshes: Sequence[Mesh]) -> Scene:
    """Gather the faces of shapes."""
    counts = [len(mesh.corners) for mesh in meshes]
    starts = np.concatenate(([0], np.cumsum(counts))).astype(np.int64)
    faces = [mesh.faces + start for mesh, start in zip(meshes, starts[:-1], strict=True)]
    owner = np.repeat(np.arange(len(meshes)), [len(mesh.faces) for mesh in meshes])
    whole = np.vstack(faces) if faces else np.zeros((0, 3), dtype=np.int64)
    return Scene(tuple(meshes), starts, whole, owner.astype(np.int64))


def scene_of(parts: Sequence[Component], *, bendable: bool = False, rough: bool = False) -> Scene:
    """Gather the parts' faces; of shafts that are to bend finer ones, for what moves rough ones."""
    if bendable:
        return gathered([bendable_mesh(part) for part in parts])
    return gathered([mesh_of(part, rough=rough) for part in parts])


def placed(scene: Scene, turns: Floats, places: Floats) -> Floats:
    """Stand every shape where it is: all corners (n, 3) in the frame.

    Parameters
    ----------
    scene
        The shapes.
    turns
        How each is turned, as matrices (m, 3, 3).
    places
        Where each stands (m, 3), mm.
    """
    corners = np.empty((int(scene.starts[-1]), 3))
    for number, mesh in enumerate(scene.meshes):
        start, end = scene.starts[number], scene.starts[number + 1]
        corners[start:end] = mesh.corners @ turns[number].T + places[number]
    return corners


def placed_corners(
    scene: Scene, parts: Sequence[Component], turns: Floats, moves: Floats
) -> Floats:
    """Stand every part where it is: all corners (n, 3) in the frame.

    Parameters
    ----------
    scene
        The shapes.
    parts
        Their parts, posed as they stand now.
    turns
        By how much each has turned about its own axis besides, rad, anticlockwise as seen from the
        input end; of one across the box, about its length.
    moves
        How far each has gone along the box besides (n,), or in the frame (n, 3), mm.
    """
    matrices, places = np.empty((len(parts), 3, 3)), np.empty((len(parts), 3))
    for number, part in enumerate(parts):
        matrices[number] = pose_of(part) @ _turned(part.turn_rad + float(turns[number]))
        places[number] = part.x_mm, part.y_mm, along_to_z(part.along_mm)
    if moves.ndim == 1:
        places[:, 2] += along_to_z(1.0) * moves
    else:
        places += moves
    return placed(scene, matrices, places)


def pose_of(part: Component) -> Floats:
    """Give how a part lies, as a matrix (3, 3), before it turns about its own axis."""
    matrix = ACROSS if part.across else np.eye(3)
    if part.lean_rad:
        matrix = _turned(part.lean_rad) @ matrix
    if part.yaw_rad:
        matrix = _yawed(part.yaw_rad) @ matrix
    return matrix


ACROSS = np.array(((0.0, 0.0, -1.0), (0.0, 1.0, 0.0), (1.0, 0.0, 0.0)))
"""What ran along the box runs to the right."""


def _turned(angle: float) -> Floats:
    c, s = np.cos(angle), np.sin(angle)
    return np.array(((c, -s, 0.0), (s, c, 0.0), (0.0, 0.0, 1.0)))


def _yawed(angle: float) -> Floats:
    c, s = np.cos(angle), np.sin(angle)
    return np.array(((c, 0.0, s), (0.0, 1.0, 0.0), (-s, 0.0, c)))
