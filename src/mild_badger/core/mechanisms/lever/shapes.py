"""Shapes of a lever drive's made parts, in mm about their own pins; templates and solids are these.

Throws are eccentrics, so that their shaft runs through: a disc round the shaft, its middle one
throw away, in the ring of a rod or in the window of a yoke. What the drive does not give is an
estimate, no source.
"""

from dataclasses import dataclass
from math import cos, hypot, pi, sin

from mild_badger.core.mechanisms.lever.model import LeverDrive
from mild_badger.core.templates.bars import EYE_MM, bar

__all__ = [
    "PIN_PLAY_MM",
    "LeverShapes",
    "Ring",
    "lever_shapes",
    "saw_outline",
    "swing_mm",
    "tooth_mm",
]

PIN_PLAY_MM = 0.1
"""Room between an eccentric and what runs on it, and round pins."""
RIM_MM = 2.0
"""Least material of an eccentric round its shaft."""
STRAP_MM = 3.0
"""How wide the ring of a rod is, and the frame of a yoke."""
BETWEEN_MM = 0.5
"""Room between what moves and what guides it."""
DEPTH = 0.6
"""A ratchet tooth's depth to its pitch (common practice, no source)."""
BOW = 0.3
"""How far a pawl bows round its wheel, to the wheel's radius (an estimate, no source)."""
CORNERS = 64
Point = tuple[float, float]
Ring = tuple[Point, ...]


@dataclass(frozen=True)
class LeverShapes:
    """Outlines, and the lengths that join them.

    ``eccentric`` stands about its own middle with the shaft ``throw_mm`` below it. ``rod`` (or the
    yoke) stands about the eccentric's middle with ``window`` for it and its eye ``reach_mm`` above.
    ``lever`` lies along x from its input pin, with a ``slot`` for the fulcrum. ``pawl`` stands on
    its pin with its nose at ``nose``; ``hook`` pulls where the other one pushes, with its nose at
    ``hook_nose``. ``wheel``'s steep faces look anticlockwise. ``guides`` are the middles of the two
    rods that guide a yoke's stem, from the lever's input pin in the middle of its stroke; none of a
    crank's rod.
    """

    eccentric_mm: float
    reach_mm: float
    eye_mm: float
    eccentric: Ring
    rod: tuple[Ring, ...]
    window: Ring
    lever: Ring
    slot: Ring
    pawl: Ring
    nose: Point
    hook: Ring
    hook_nose: Point
    wheel: Ring
    guides: tuple[Point, ...]


def lever_shapes(drive: LeverDrive, shaft_mm: float, hole_mm: float) -> LeverShapes:
    """Shape the parts of a drive.

    Parameters
    ----------
    drive
        The lever drive.
    shaft_mm
        Diameter of the throws' shaft.
    hole_mm
        Diameter of the holes for its pins, which turn in them.
    """
    throw, pin = drive.throw_mm, hole_mm / 2
    eye = pin + EYE_MM
    disc = throw + shaft_mm / 2 + RIM_MM
    # the lever's lower edge, then the guides, then the yoke at its highest
    guide_y = -(throw + eye + BETWEEN_MM + pin)
    if drive.motion == "yoke":
        reach = throw + disc + PIN_PLAY_MM + STRAP_MM + BETWEEN_MM + pin - guide_y
        rod, window = _yoke(disc, throw, eye, reach)
        side = eye + PIN_PLAY_MM + drive.pin_mm / 2
        guides: tuple[Point, ...] = ((-side, guide_y), (side, guide_y))
    else:
        reach, guides = drive.rod_mm, ()
        window = _circle(disc + PIN_PLAY_MM)
        rod = (_circle(disc + PIN_PLAY_MM + STRAP_MM), tuple(bar(eye, eye, reach)))
    end = hypot(drive.stop_high_mm, throw)
    hook, hook_nose = _hook(drive, eye)
    return LeverShapes(
        disc,
        reach,
        eye,
        _circle(disc),
        rod,
        window,
        _along_x(bar(eye, eye, drive.lever_mm)),
        tuple(
            (x + drive.stop_low_mm, y) for x, y in _along_x(bar(pin, pin, end - drive.stop_low_mm))
        ),
        _pawl(drive, eye),
        (eye, drive.pawl_mm),
        hook,
        hook_nose,
        saw_outline(drive.wheel_mm, drive.wheel_mm - tooth_mm(drive), drive.teeth),
        guides,
    )


def tooth_mm(drive: LeverDrive) -> float:
    """Give the depth of a ratchet wheel's teeth."""
    return DEPTH * 2 * pi * drive.wheel_mm / drive.teeth


def swing_mm(drive: LeverDrive) -> float:
    """Give how far the levers' output pins swing from the middle, the fulcrum at its low stop."""
    return drive.throw_mm * (drive.lever_mm - drive.stop_low_mm) / drive.stop_low_mm


def saw_outline(tip_mm: float, root_mm: float, teeth: int) -> Ring:
    """Outline a ratchet wheel whose steep faces look anticlockwise; the backs fall straight."""
    points: list[Point] = []
    for number in range(teeth):
        turn = 2 * pi * number / teeth
        points += [(radius * cos(turn), radius * sin(turn)) for radius in (tip_mm, root_mm)]
    return tuple(points)


def _circle(radius: float) -> Ring:
    turns = (2 * pi * n / CORNERS for n in range(CORNERS))
    return tuple((radius * cos(t), radius * sin(t)) for t in turns)


def _along_x(points: list[Point]) -> Ring:
    """Lay a bar that stands on its first eye along x."""
    return tuple((y, -x) for x, y in points)


def _box(left: float, low: float, right: float, high: float) -> Ring:
    return (left, low), (right, low), (right, high), (left, high)


def _yoke(disc: float, throw: float, eye: float, reach: float) -> tuple[tuple[Ring, ...], Ring]:
    """Make the frame with its stem, and the window in which the eccentric moves aside."""
    wide, high = throw + disc + PIN_PLAY_MM, disc + PIN_PLAY_MM
    frame = _box(-wide - STRAP_MM, -high - STRAP_MM, wide + STRAP_MM, high + STRAP_MM)
    stem = tuple((x, y + high) for x, y in bar(eye, eye, reach - high))
    return (frame, stem), _box(-wide, -high, wide, high)


def _pawl(drive: LeverDrive, eye: float) -> Ring:
    """Stand a pawl on its pin, bowed round the wheel, its nose over the side that it pushes."""
    long, bow = drive.pawl_mm, BOW * drive.wheel_mm
    lower = [(eye * cos(pi + pi * step / 24), eye * sin(pi + pi * step / 24)) for step in range(25)]
    shares = [step / 12 for step in range(1, 12)]
    inside = [(eye - 4 * bow * t * (1 - t), long * t) for t in shares]
    outside = [(-eye * (1 - t) - 4 * bow * t * (1 - t), long * t) for t in shares]
    return (*lower, (eye, 0.0), *inside, (eye, long), (0.0, long), *outside[::-1])


def _hook(drive: LeverDrive, eye: float) -> tuple[Ring, Point]:
    """Lead a second pawl below and round the wheel: it pulls the far side down."""
    swing = swing_mm(drive)
    half = eye * 0.8
    across = 2 * drive.wheel_mm
    deep = max(swing + half - (drive.pawl_mm - drive.wheel_mm) + 2 * BETWEEN_MM, 2 * eye)
    out = across + half + BOW * drive.wheel_mm
    nose = (across, drive.pawl_mm)
    return (
        (-half, half),
        (-half, -deep - half),
        (out + half, -deep - half),
        (out + half, nose[1] + half),
        (out - half, nose[1] + half),
        nose,
        (out - half, nose[1] - half),
        (out - half, -deep + half),
        (half, -deep + half),
        (half, half),
    ), nose
