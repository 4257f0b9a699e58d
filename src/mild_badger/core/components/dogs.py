"""Outlines of dogs: the star on a gear's face, and the cup of the sleeve that drops over it.

The star has teeth outwards, the cup as many inwards that fill its gaps but for the play, which is
the turn between both drives; radial flanks carry in both senses.
"""

from math import cos, degrees, pi, radians, sin

from mild_badger.core.errors import InputError
from mild_badger.core.kit.part_sizes import sleeve_radius_mm
from mild_badger.core.message import say
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["cup_outlines", "dog_radii", "star_outline"]

WALL_MM = 1.5
"""Least material round a bore, and of the cup outside its gaps (an estimate, no source)."""
CLEAR_MM = 0.25
"""Radial room between star and cup (an estimate, no source)."""
ARC_RAD = radians(3)
Point = tuple[float, float]


def dog_radii(vehicle: Vehicle) -> tuple[float, float, float, float]:
    """Give bore, root, tip of the star and the cup's outer radius in mm."""
    bore = vehicle.hole_mm(vehicle.kit.shaft_diameter_mm, "running") / 2
    outer = sleeve_radius_mm(vehicle)
    return bore, bore + WALL_MM, outer - WALL_MM, outer


def _arc(radius: float, start: float, end: float) -> list[Point]:
    steps = max(int(abs(end - start) / ARC_RAD), 1)
    turns = (start + (end - start) * n / steps for n in range(steps + 1))
    return [(radius * cos(t), radius * sin(t)) for t in turns]


def star_outline(vehicle: Vehicle) -> tuple[Point, ...]:
    """Outline the star about its middle, a dog at angle zero: dogs and gaps are alike wide.

    Half of the play is taken off each dog.
    """
    _, root, tip, _ = dog_radii(vehicle)
    half, step = _half_angle(vehicle), 2 * pi / vehicle.making.dog_count
    points: list[Point] = []
    for number in range(vehicle.making.dog_count):
        middle = number * step
        points += _arc(tip, middle - half, middle + half)
        points += _arc(root, middle + half, middle + step - half)
    return tuple(points)


def cup_outlines(vehicle: Vehicle) -> tuple[tuple[Point, ...], tuple[Point, ...]]:
    """Outline the cup: its outer circle, and inside it gaps that take the star's dogs."""
    _, root, tip, outer = dog_radii(vehicle)
    half, step = _half_angle(vehicle), 2 * pi / vehicle.making.dog_count
    points: list[Point] = []
    for number in range(vehicle.making.dog_count):
        middle = (number + 0.5) * step
        points += _arc(root + CLEAR_MM, middle - half, middle + half)
        points += _arc(tip + CLEAR_MM, middle + half, middle + step - half)
    return tuple(_arc(outer, 0.0, 2 * pi)[:-1]), tuple(points)


def _half_angle(vehicle: Vehicle) -> float:
    """Half a dog's angle: a quarter of the pitch, less a quarter of the play on each flank.

    Raises
    ------
    InputError
        The play leaves no dog.
    """
    pitch = 2 * pi / vehicle.making.dog_count
    half = pitch / 4 - radians(vehicle.making.dog_play_deg) / 4
    if half < pitch / 20:
        most = degrees(pitch / 4 - pitch / 20) * 4
        raise InputError(
            say(
                "workshop.dog-rings-of-play-leave-nothing-of-dogs-at",
                dog_play_deg=vehicle.making.dog_play_deg,
                dog_count=vehicle.making.dog_count,
                most=most,
            )
        )
    return half
