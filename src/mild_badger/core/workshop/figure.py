"""A picture as plain shapes, for the screen and for paper alike.

Lengths are millimetres of the thing drawn, x to the right, y upwards; shapes later in the list lie
on top. Roles say what a shape means; who draws it knows the colours.
"""

from dataclasses import dataclass, field
from typing import Literal

__all__ = ["Figure", "Mark", "Role", "Words"]

Role = Literal["there", "now", "lower", "ink", "soft", "hair", "run", "back"]
"""``there`` and ``now`` are filled parts; ``lower`` is a filled part in the background; the rest
are lines, or words, in a colour."""
Point = tuple[float, float]


@dataclass(frozen=True)
class Mark:
    """A line through points, closed and filled where its role is a part's; or a circle.

    A ``bare`` one is filled only.
    """

    role: Role
    points: tuple[Point, ...]
    closed: bool = False
    radius: float = 0.0
    dashed: bool = False
    heavy: bool = False
    bare: bool = False


@dataclass(frozen=True)
class Words:
    """Words at a point, ``size`` in points on paper whatever the picture's scale."""

    at: Point
    text: str
    role: Role = "ink"
    align: Literal["left", "centre", "right"] = "left"
    size: float = 6.0


@dataclass
class Figure:
    """A picture that is filled shape by shape; ``said`` tells in words what it shows."""

    said: str = ""
    marks: list[Mark] = field(default_factory=list)
    words: list[Words] = field(default_factory=list)

    def polygon(self, role: Role, *points: Point, heavy: bool = False, bare: bool = False) -> None:
        """Draw a closed shape."""
        self.marks.append(Mark(role, points, closed=True, heavy=heavy, bare=bare))

    def line(self, role: Role, *points: Point, dashed: bool = False, heavy: bool = False) -> None:
        """Draw an open line."""
        self.marks.append(Mark(role, points, dashed=dashed, heavy=heavy))

    def circle(
        self, role: Role, at: Point, radius: float, *, dashed: bool = False, heavy: bool = False
    ) -> None:
        """Draw a circle."""
        self.marks.append(Mark(role, (at,), True, radius, dashed, heavy))

    def text(
        self,
        at: Point,
        text: str,
        *,
        role: Role = "ink",
        align: Literal["left", "centre", "right"] = "left",
        size: float = 6.0,
    ) -> None:
        """Write words."""
        self.words.append(Words(at, text, role, align, size))

    def box(self) -> tuple[float, float, float, float]:
        """Give left, low, right and high of all shapes; an empty picture is a point."""
        xs = [w.at[0] for w in self.words]
        ys = [w.at[1] for w in self.words]
        for mark in self.marks:
            r = mark.radius
            if r:
                x, y = mark.points[0]
                xs += (x - r, x + r)
                ys += (y - r, y + r)
            else:
                xs += (p[0] for p in mark.points)
                ys += (p[1] for p in mark.points)
        return (min(xs), min(ys), max(xs), max(ys)) if xs else (0.0, 0.0, 0.0, 0.0)
