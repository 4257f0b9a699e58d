"""Unit conversions and the few lengths that the whole program shares."""

from fractions import Fraction
from math import pi

__all__ = ["GRAVITY_M_S2", "GRID_UNIT_MM", "exact", "km_per_hour", "rim_speed_mm_s"]

GRAVITY_M_S2 = 9.80665
"""Standard acceleration of free fall (ISO 80000-3)."""
GRID_UNIT_MM = 8
"""One brick-grid unit u, in mm (domain fact of the brick grid)."""


def exact(value: float | int | str | Fraction) -> Fraction:
    """Turn a number into the fraction that its shortest decimal form names.

    ``0.1`` becomes 1/10, not the nearest binary fraction: what the builder typed is what counts.
    """
    if isinstance(value, Fraction):
        return value
    return Fraction(str(value))


def rim_speed_mm_s(*, rpm: float, diameter_mm: float) -> float:
    """Speed of a wheel's rim in mm/s, signed as ``rpm`` is."""
    return pi * diameter_mm * rpm / 60.0


def km_per_hour(speed_mm_s: float) -> float:
    """Convert mm/s to km/h."""
    return speed_mm_s * 0.0036
