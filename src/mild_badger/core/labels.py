"""Where labels of a drawing stand: near what they name, clear of one another.

Places are to the right and downwards, in whatever unit the drawing is measured in.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import cos, hypot, pi, sin

import numpy as np

__all__ = ["Box", "LabelAsk", "PlacedLabel", "place_labels"]

ANGLES = 16
STEP, FARTHEST, ASIDE = 0.5, 16.0, 0.9
"""How far a label goes off at a time and at most, and from where on it needs a line to what it
names: in heights of a line of 16 pixels."""
LINE = 16.0
Place = tuple[float, float]


@dataclass(frozen=True)
class Box:
    """A rectangle by its edges."""

    left: float
    top: float
    right: float
    bottom: float

    @classmethod
    def about(cls, middle: Place, size: Place) -> "Box":
        """Give the rectangle of a size about its middle."""
        (x, y), (wide, high) = middle, size
        return cls(x - wide / 2, y - high / 2, x + wide / 2, y + high / 2)

    @property
    def middle(self) -> Place:
        """Its middle."""
        return (self.left + self.right) / 2, (self.top + self.bottom) / 2

    def holds(self, other: "Box") -> bool:
        """Whether another lies within it."""
        return (
            self.left <= other.left
            and self.top <= other.top
            and self.right >= other.right
            and self.bottom >= other.bottom
        )

    def meets(self, other: "Box") -> bool:
        """Whether it and another overlap."""
        return (
            self.left < other.right
            and other.left < self.right
            and self.top < other.bottom
            and other.top < self.bottom
        )


@dataclass(frozen=True)
class LabelAsk:
    """A label that is to be placed: what it names, how large it is, how near it may stand.

    ``first`` is where it would stand; without one it stands beside the anchor.
    """

    anchor: Place
    size: Place
    near: float = 4.0
    first: Place | None = None


@dataclass(frozen=True)
class PlacedLabel:
    """Where a label stands, and whether a line leads to what it names."""

    box: Box
    led: bool


def place_labels(
    asks: Sequence[LabelAsk], room: Box, obstacles: Sequence[Box] = (), *, line: float = LINE
) -> list[PlacedLabel | None]:
    """Place labels in their order, each where none before it stands.

    Parameters
    ----------
    asks
        The labels.
    room
        Where they may stand.
    obstacles
        What is kept clear where there is room for that.
    line
        The height of a line, by which distances go.

    Returns
    -------
    list
        A place for each; None for one that finds no free place in the room at all.
    """
    taken: list[Box] = []
    made: list[PlacedLabel | None] = []
    for ask in asks:
        box = _placed(ask, room, (*taken, *obstacles), line) or _placed(ask, room, taken, line)
        if box is None:
            made.append(None)
            continue
        taken.append(box)
        (x, y), (x0, y0) = box.middle, ask.first or ask.anchor
        reach = ASIDE * line + (0.0 if ask.first else ask.near + ask.size[0] / 2)
        made.append(PlacedLabel(box, hypot(x - x0, y - y0) > reach))
    return made


def _placed(ask: LabelAsk, room: Box, taken: Sequence[Box], line: float) -> Box | None:
    if ask.first is not None:
        box = Box.about(ask.first, ask.size)
        if room.holds(box) and not any(box.meets(other) for other in taken):
            return box
    (x, y), (wide, high) = ask.anchor, ask.size
    far = FARTHEST * line
    reach = Box(x - far - wide, y - far - high, x + far + wide, y + far + high)
    met = [(o.left, o.top, o.right, o.bottom) for o in taken if o.meets(reach)]
    left, top, right, bottom = np.array(met, dtype=float).reshape(-1, 4).T
    away = ask.near
    while away < far:
        # all round at once; the first that is free, in the order of the turns
        xs, ys = x + COSINES * (away + wide / 2), y + SINES * (away + high / 2)
        w, n, e, s = xs - wide / 2, ys - high / 2, xs + wide / 2, ys + high / 2
        free = (w >= room.left) & (n >= room.top) & (e <= room.right) & (s <= room.bottom)
        if free.any():
            beside = (w[:, None] < right) & (left < e[:, None])
            free &= ~(beside & (n[:, None] < bottom) & (top < s[:, None])).any(axis=1)
            if free.any():
                at = int(np.argmax(free))
                return Box(float(w[at]), float(n[at]), float(e[at]), float(s[at]))
        away += STEP * line
    return None


TURNS = [(n + 1) // 2 * (2 * pi / ANGLES) * (-1 if n % 2 else 1) for n in range(ANGLES)]
"""To the right first, then round by turns up and down."""
COSINES, SINES = np.array([cos(t) for t in TURNS]), np.array([sin(t) for t in TURNS])
