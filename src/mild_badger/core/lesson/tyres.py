"""Lines that tyres leave on the ground, seen from above, with the smear of their real slip."""

from dataclasses import dataclass
from math import cos, pi, sin
from typing import Literal

from mild_badger.core.lesson.state import Doing, Setting

__all__ = ["Mark", "TyreLines", "tyre_lines"]

Point = tuple[float, float]
Drive = Literal["solid", "one", "both", "planetary"]
"""How an axle is driven: rigidly, its left wheel alone, or by a differential."""
PRINT_MM, SHARE, BENDS = 20.0, 0.45, 4
"""How far apart prints of the tread are, how much of that is tread, points of one print."""
LONGEST_MM = 6000.0


@dataclass(frozen=True)
class Mark:
    """One print of a tyre's tread: rolled cleanly, or ``smeared``."""

    side: Literal["left", "right"]
    points: tuple[Point, ...]
    smeared: bool


@dataclass(frozen=True)
class TyreLines:
    """The prints, where the axle's middle is and whither it drives (rad from upwards, clockwise).

    ``slip`` is by which share each tyre slides, left and right, ``path_mm`` how far each has gone.
    """

    marks: tuple[Mark, ...]
    at: Point
    heading: float
    slip: tuple[float, float]
    path_mm: tuple[float, float]


def slips(drive: Drive, doing: Doing, setting: Setting) -> tuple[float, float]:
    """Give by which share of its way each tyre slides in a corner to the left.

    A rigid axle turns both wheels alike while their ways differ by t/R: each slides by half of
    that, one forwards and one back.
    """
    rigid = drive == "solid" or doing.locked
    if not doing.corner or not rigid:
        return 0.0, 0.0
    share = setting.track_mm / (2 * setting.radius_mm)
    return share, -share


def _place(way: float, setting: Setting, *, corner: bool) -> tuple[Point, float]:
    if not corner:
        return (0.0, way), 0.0
    turned = way / setting.radius_mm
    # a corner to the left about a middle at the left
    x = -setting.radius_mm + setting.radius_mm * cos(turned)
    return (x, setting.radius_mm * sin(turned)), -turned


def tyre_lines(drive: Drive, way_mm: float, doing: Doing, setting: Setting) -> TyreLines:
    """Draw what the tyres of an axle have left behind over a way of its middle.

    The last circle, or the last six metres, are drawn.
    """
    corner = doing.corner
    at, heading = _place(way_mm, setting, corner=corner)
    slip = slips(drive, doing, setting)
    longest = 2 * pi * setting.radius_mm if corner else LONGEST_MM
    first = max(way_mm - longest, 0.0)
    marks: list[Mark] = []
    ways = []
    for side, share in (("left", slip[0]), ("right", slip[1])):
        off = -setting.track_mm / 2 if side == "left" else setting.track_mm / 2
        scale = 1 + (off / setting.radius_mm if corner else 0.0)
        ways.append(way_mm * scale)
        if side == "left" and doing.lifted:
            continue
        count = int(way_mm / PRINT_MM)
        for number in range(int(first / PRINT_MM), count):
            start = number * PRINT_MM
            for length, smeared in ((SHARE, False), (SHARE + abs(share), True)):
                if smeared and not share:
                    continue
                span = (start, start + length * PRINT_MM)
                if smeared:
                    span = (start + SHARE * PRINT_MM, start + (SHARE + abs(share)) * PRINT_MM)
                points = []
                for n in range(BENDS):
                    way = span[0] + (span[1] - span[0]) * n / (BENDS - 1)
                    (x, y), turn = _place(way, setting, corner=corner)
                    points.append((x + off * cos(turn), y - off * sin(turn)))
                marks.append(Mark("left" if side == "left" else "right", tuple(points), smeared))
    return TyreLines(tuple(marks), at, heading, slip, (ways[0], ways[1]))
