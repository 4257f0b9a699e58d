"""Involute gears in mesh at a given centre distance.

Formulas after ISO 21771 for unshifted external spur gears; angles in radians, lengths in mm.
"""

from dataclasses import dataclass
from math import acos, cos, inf, pi, sin, sqrt, tan

__all__ = ["Engagement", "engagement", "involute"]


def involute(angle: float) -> float:
    """Return inv(angle) = tan(angle) − angle, both in radians."""
    return tan(angle) - angle


@dataclass(frozen=True)
class Engagement:
    """How two gears mesh at a centre distance.

    ``contact_ratio`` is the formula's value; ``contact_ratio_clipped`` leaves out contact beyond
    the base circles (an upper bound where ``interference``); ``added_backlash_mm`` is measured on
    the working pitch circle and negative where the teeth are too tight.
    """

    centre_distance_mm: float
    seat_error_mm: float
    working_angle_rad: float
    contact_ratio: float
    contact_ratio_clipped: float
    interference: bool
    added_backlash_mm: float


def engagement(
    teeth: tuple[int, int],
    *,
    centre_distance_mm: float,
    tip_diameters_mm: tuple[float, float],
    module_mm: float,
    pressure_angle_rad: float,
) -> Engagement:
    """Work out how two gears mesh.

    ε = [√(ra1²−rb1²) + √(ra2²−rb2²) − a' sin α'] / (π m cos α) with cos α' = a cos α / a', and
    backlash j = 2 a' (inv α' − inv α) (ISO 21771). Closer than the base circles allow, α' is taken
    as zero and the backlash as minus infinity.
    """
    nominal = (teeth[0] + teeth[1]) * module_mm / 2
    cosine = nominal * cos(pressure_angle_rad) / centre_distance_mm
    fits = cosine <= 1.0
    working = acos(cosine) if fits else 0.0
    line = centre_distance_mm * sin(working)
    roots = [
        sqrt(max((tip / 2) ** 2 - (z * module_mm * cos(pressure_angle_rad) / 2) ** 2, 0.0))
        for z, tip in zip(teeth, tip_diameters_mm, strict=True)
    ]
    base_pitch = pi * module_mm * cos(pressure_angle_rad)
    backlash = 2 * centre_distance_mm * (involute(working) - involute(pressure_angle_rad))
    return Engagement(
        centre_distance_mm=centre_distance_mm,
        seat_error_mm=centre_distance_mm - nominal,
        working_angle_rad=working,
        contact_ratio=(sum(roots) - line) / base_pitch,
        contact_ratio_clipped=(sum(min(root, line) for root in roots) - line) / base_pitch,
        interference=any(root > line for root in roots),
        added_backlash_mm=backlash if fits else -inf,
    )
