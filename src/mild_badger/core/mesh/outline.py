"""The outline of a spur gear, for drawings to true size."""

from functools import cache
from math import acos, cos, pi, sin

from mild_badger.core.mesh.involute import involute

__all__ = ["gear_outline", "meshing_turn"]

FLANK_POINTS = 5


@cache
def gear_outline(
    teeth: int, module_mm: float, tip_diameter_mm: float, pressure_angle_rad: float
) -> tuple[tuple[float, float], ...]:
    """Return a gear's outline as points (x, y) in mm about its centre, a tooth at angle zero.

    Involute flanks down to the base circle (ISO 21771), straight below it to the root 1.25 m under
    the pitch circle; the fillet is left out, since the outline is for looking at.
    """
    pitch = teeth * module_mm / 2
    base = pitch * cos(pressure_angle_rad)
    root = pitch - 1.25 * module_mm
    tip = tip_diameter_mm / 2
    half_tooth = pi / (2 * teeth) + involute(pressure_angle_rad)
    start = max(base, root)
    flank = [(root, half_tooth)] if root < base else []
    for step in range(FLANK_POINTS):
        radius = start + (tip - start) * step / (FLANK_POINTS - 1)
        angle = acos(min(base / radius, 1.0))
        flank.append((radius, max(half_tooth - involute(angle), 0.0)))
    points = []
    for tooth in range(teeth):
        centre = 2 * pi * tooth / teeth
        for radius, half in flank:
            points.append((radius * cos(centre - half), radius * sin(centre - half)))
        for radius, half in reversed(flank):
            points.append((radius * cos(centre + half), radius * sin(centre + half)))
    return tuple(points)


def meshing_turn(teeth: tuple[int, int], turn: float, towards: float) -> float:
    """Turn of a second gear so that its gaps take the first one's teeth, in radians.

    ``turn`` is the first gear's own turn, ``towards`` the direction from its centre to the second
    one's. An outline has a tooth at its own angle zero.
    """
    first, second = teeth
    phase = (towards - turn) * first / (2 * pi)
    return towards + pi - (0.5 - phase) * 2 * pi / second
