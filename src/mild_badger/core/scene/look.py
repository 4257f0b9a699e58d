"""From where something is seen best."""

from collections.abc import Collection, Sequence
from dataclasses import replace

import numpy as np

from mild_badger.core.scene.camera import Camera
from mild_badger.core.scene.mesh import Floats, Scene
from mild_badger.core.scene.raster import rastered

__all__ = ["LOOKS", "best_look"]

LOOKS = ((32.0, 24.0), (148.0, 24.0), (-32.0, 24.0), (-148.0, 24.0))
"""From where a step of the assembly may be looked at, round and up, degrees."""
SMALL = (144, 96)
"""Size of the pictures that are compared, pixels."""


def best_look(
    scene: Scene,
    corners: Floats,
    shown: Collection[int],
    sought: Collection[int],
    looks: Sequence[tuple[float, float]],
) -> tuple[float, float]:
    """Give the look from which most of some shapes is seen.

    Parameters
    ----------
    scene, corners
        The shapes, and where their corners stand.
    shown, sought
        Numbers of the shapes that are there, and of those that are to be seen.
    looks
        Round and up, degrees, to choose from; of alike ones the first is taken.
    """
    there = np.isin(scene.owner, list(shown))
    faces, owner = scene.faces[there], scene.owner[there]
    used = np.unique(faces)
    best, most = looks[0], -1
    for turn, up in looks:
        eye = replace(Camera(), round_deg=turn % 360.0, up_deg=up)
        eye = eye.fitted(corners[used] if len(used) else corners, SMALL)
        seen = rastered(eye.seen(corners, SMALL), faces, SMALL)
        hit = seen.face[seen.face >= 0]
        count = int(np.isin(owner[hit], list(sought)).sum())
        if count > most:
            best, most = (turn, up), count
    return best
