"""Where the picture in space is looked at from: without perspective, so that lengths compare."""

from dataclasses import dataclass, replace
from math import atan2, cos, hypot, pi, radians, sin
from typing import Literal

import numpy as np

from mild_badger.core.scene.mesh import Floats

__all__ = ["VIEWS", "Camera", "ViewName"]

ViewName = Literal["corner", "input", "side", "above", "output", "seat"]
VIEWS: dict[ViewName, tuple[float, float]] = {
    "corner": (32.0, 24.0),
    "input": (0.0, 0.0),
    "side": (90.0, 0.0),
    "above": (0.0, 90.0),
    "output": (180.0, 0.0),
    "seat": (180.0, 38.0),
}
"""Round the upright axis and up from level, degrees, of views that have a name."""
MOST_UP = 90.0
END_ON = 0.35
"""An axis that points to the eye by more than this is turned about, not pulled across."""


@dataclass(frozen=True)
class Camera:
    """An eye far off.

    ``round_deg`` is how far it has gone round the box from its input end to the right, ``up_deg``
    how high it stands; ``scale`` in pixels per mm; ``middle`` the point of the frame in the middle
    of the picture, mm.
    """

    round_deg: float = 32.0
    up_deg: float = 24.0
    scale: float = 3.0
    middle: tuple[float, float, float] = (0.0, 0.0, 0.0)

    @property
    def axes(self) -> Floats:
        """Give the picture's axes in the frame, as rows: to the right, upwards, towards the eye."""
        turn, up = radians(self.round_deg), radians(self.up_deg)
        right = (cos(turn), 0.0, -sin(turn))
        high = (-sin(turn) * sin(up), cos(up), -cos(turn) * sin(up))
        near = (sin(turn) * cos(up), sin(up), cos(turn) * cos(up))
        return np.array((right, high, near))

    def seen(self, corners: Floats, size: tuple[int, int]) -> Floats:
        """Give corners (n, 3) as pixels to the right and down, and how near they are, mm."""
        off = (corners - np.array(self.middle)) @ self.axes.T
        wide, high = size
        return np.column_stack(
            (wide / 2 + off[:, 0] * self.scale, high / 2 - off[:, 1] * self.scale, off[:, 2])
        )

    def dragged_rad(
        self,
        axis: tuple[Floats, Floats],
        radius_mm: float,
        drag: tuple[tuple[float, float], tuple[float, float]],
        size: tuple[int, int],
    ) -> float:
        """Give by how much a drag turns a part about its axis, rad.

        Parameters
        ----------
        axis
            A point of the axis, and its direction of length 1; turns count anticlockwise as seen
            from where that points to.
        radius_mm
            How far from its axis the part is taken hold of where it is seen from the side.
        drag
            From where to where, pixels.
        size
            Width and height of the picture, pixels.
        """
        right, high, near = self.axes @ axis[1]
        (x, y, _), (from_px, to_px) = self.seen(axis[0][None, :], size)[0], drag
        if abs(near) > END_ON:
            angles = [atan2(y - py, px - x) for px, py in (from_px, to_px)]
            by = (angles[1] - angles[0] + pi) % (2 * pi) - pi
            return by if near > 0 else -by
        # its near side goes across the axis as it is seen
        long = max(hypot(right, high), 1e-9)
        over, up = to_px[0] - from_px[0], from_px[1] - to_px[1]
        gone = (over * high - up * right) / long / self.scale
        return float(gone / max(radius_mm, 1e-6))

    def turned(self, round_deg: float, up_deg: float) -> "Camera":
        """Go round and up by so much; never over the top."""
        up = min(max(self.up_deg + up_deg, -MOST_UP), MOST_UP)
        return replace(self, round_deg=(self.round_deg + round_deg) % 360.0, up_deg=up)

    def moved(self, right_px: float, down_px: float) -> "Camera":
        """Move what is seen by so many pixels."""
        by = self.axes[0] * (-right_px / self.scale) + self.axes[1] * (down_px / self.scale)
        x, y, z = np.array(self.middle) + by
        return replace(self, middle=(float(x), float(y), float(z)))

    def nearer(self, times: float, at_px: tuple[float, float], size: tuple[int, int]) -> "Camera":
        """Magnify about a point of the picture, which stays where it is."""
        off = (at_px[0] - size[0] / 2, at_px[1] - size[1] / 2)
        moved = self.moved(-off[0], -off[1])
        return replace(moved, scale=self.scale * times).moved(off[0], off[1])

    def on_the_way(self, goal: "Camera", share: float) -> "Camera":
        """Give the eye on its way to another look, the short way round."""
        turn = (goal.round_deg - self.round_deg + 180.0) % 360.0 - 180.0
        x, y, z = (a + (b - a) * share for a, b in zip(self.middle, goal.middle, strict=True))
        return Camera(
            (self.round_deg + turn * share) % 360.0,
            self.up_deg + (goal.up_deg - self.up_deg) * share,
            self.scale * (goal.scale / self.scale) ** share,
            (x, y, z),
        )

    def fitted(self, corners: Floats, size: tuple[int, int], room: float = 0.92) -> "Camera":
        """Look at all corners at once."""
        if not len(corners):
            return self
        off = corners @ self.axes.T
        low, high = off.min(axis=0), off.max(axis=0)
        span = np.maximum(high - low, 1e-6)
        middle = ((low + high) / 2) @ self.axes
        scale = room * min(size[0] / span[0], size[1] / span[1])
        x, y, z = (float(c) for c in middle)
        return replace(self, scale=float(scale), middle=(x, y, z))
