"""The box in space as a picture for paper, 300 dots to the inch."""

import zlib
from dataclasses import dataclass

import numpy as np
from PIL import Image

from mild_badger.core.errors import InputError
from mild_badger.core.performance.power import body_torques
from mild_badger.core.scene.camera import VIEWS, Camera
from mild_badger.core.scene.mesh import placed_corners, scene_of
from mild_badger.core.scene.motion import alongs_of, drum_turns, shifted
from mild_badger.core.scene.picture import Bytes, Paints, picture_of
from mild_badger.core.scene.stage import stage_of
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["DPI", "PRINTED", "PackedPicture", "packed", "space_picture"]

DPI = 300
PACKING = 4
"""Of 9: smaller takes longer."""
PRINTED = Paints(
    paper=(255, 255, 255),
    tint=(238, 236, 230),
    ink=(43, 42, 40),
    run_tint=(234, 199, 188),
    run_ink=(184, 67, 28),
    back_tint=(193, 206, 222),
    back_ink=(47, 93, 138),
)
"""Ink and tints on white paper."""
HIDDEN = frozenset({"wall", "tie rod", "tie beam"})


@dataclass(frozen=True)
class PackedPicture:
    """A picture of so many dots, its colours packed as a page's file holds them (RGB, deflate)."""

    size: tuple[int, int]
    data: bytes

    def opened(self) -> Image.Image:
        """Give it as an image."""
        return Image.frombytes("RGB", self.size, zlib.decompress(self.data))


def space_picture(
    vehicle: Vehicle, gear: str | None, size_mm: tuple[float, float]
) -> PackedPicture | None:
    """Draw the box in a gear from a corner, its walls left out; None without a place."""
    torques = body_torques(vehicle, gear, vehicle.motor.working_rpm)
    try:
        stage = stage_of(vehicle, gear, None, torques)
    except InputError:
        return None
    if stage is None:
        return None
    wide, high = (max(round(mm / 25.4 * DPI), 2) for mm in size_mm)
    parts = shifted(stage.parts, stage.shift, stage.levers)
    scene = scene_of(stage.parts)
    turns = drum_turns(stage.parts, stage.shift)
    corners = placed_corners(scene, parts, turns, alongs_of(stage.parts, stage.shift))
    roles = [
        "hidden" if part.kind in HIDDEN else role
        for part, role in zip(stage.parts, stage.roles, strict=True)
    ]
    shown = np.array([role != "hidden" for role in roles])
    seen = corners[np.repeat(shown, np.diff(scene.starts))]
    eye = Camera(*VIEWS["corner"]).fitted(seen, (wide, high), 0.98)
    drawn = picture_of(scene, corners, eye, (wide, high), paints=PRINTED, roles=roles)
    return packed(drawn.pixels)


def packed(pixels: Bytes) -> PackedPicture:
    """Pack pixels (high, wide, 4) for paper; other threads go on meanwhile."""
    high, wide = pixels.shape[:2]
    data = np.ascontiguousarray(pixels[:, :, :3]).tobytes()
    return PackedPicture((wide, high), zlib.compress(data, PACKING))
