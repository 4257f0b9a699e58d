"""Units of every kind, conversions, and the few lengths that the whole program shares.

Factors are exact (NIST SP 811, appendix B: the inch, the pound and standard gravity are defined).
"""

from dataclasses import dataclass
from fractions import Fraction
from math import pi
from typing import Literal

__all__ = [
    "GRAVITY_M_S2",
    "GRID_UNIT_MM",
    "KINDS",
    "MM_PER_INCH",
    "Kind",
    "Unit",
    "exact",
    "km_per_hour",
    "rim_speed_mm_s",
]

GRAVITY_M_S2 = 9.80665
"""Standard acceleration of free fall (ISO 80000-3)."""
GRID_UNIT_MM = 8
"""One brick-grid unit u, in mm (domain fact of the brick grid)."""


Kind = Literal["length", "mass", "force", "torque", "speed", "angle"]
INCH_MM = Fraction(254, 10)
MM_PER_INCH = float(INCH_MM)
POUND_KG = Fraction(45_359_237, 100_000_000)
GRAVITY = Fraction(980_665, 100_000)


@dataclass(frozen=True)
class Unit:
    """A unit of a kind: its symbol, other ways to type it, and its size in the kind's base unit.

    ``halved`` ones are written in fractions: halves, quarters, eighths …. A size of None is the
    kit's own, as that of a grid unit.
    """

    symbol: str
    also: tuple[str, ...]
    size: Fraction | None
    halved: bool = False


KINDS: dict[Kind, tuple[Unit, ...]] = {
    "length": (
        Unit("mm", ("millimetre", "millimetres", "millimeter", "millimeters"), Fraction(1)),
        Unit("cm", ("centimetre", "centimetres", "centimeter", "centimeters"), Fraction(10)),
        Unit("m", ("metre", "metres", "meter", "meters"), Fraction(1000)),
        Unit("in", ('"', "″", "''", "inch", "inches"), INCH_MM, halved=True),
        Unit("ft", ("'", "′", "foot", "feet"), 12 * INCH_MM, halved=True),
        Unit("u", ("unit", "units"), None),
    ),
    "mass": (
        Unit("kg", ("kilogram", "kilograms"), Fraction(1)),
        Unit("g", ("gram", "grams"), Fraction(1, 1000)),
        Unit("lb", ("lbs", "pound", "pounds"), POUND_KG, halved=True),
        Unit("oz", ("ounce", "ounces"), POUND_KG / 16, halved=True),
    ),
    "force": (
        Unit("N", ("newton", "newtons"), Fraction(1)),
        Unit("kgf", ("kp",), GRAVITY),
        Unit("lbf", (), POUND_KG * GRAVITY),
    ),
    "torque": (
        Unit("N·mm", ("Nmm", "N mm", "N*mm"), Fraction(1)),
        Unit("N·cm", ("Ncm", "N cm", "N*cm"), Fraction(10)),
        Unit("N·m", ("Nm", "N m", "N*m"), Fraction(1000)),
        Unit("kg·cm", ("kgcm", "kg cm", "kg*cm", "kgf·cm", "kgf cm"), 10 * GRAVITY),
        Unit("in·lb", ("in lb", "inlb", "lb·in", "lb in", "lbf·in"), POUND_KG * GRAVITY * INCH_MM),
        Unit("oz·in", ("oz in", "ozin", "in·oz", "ozf·in"), POUND_KG * GRAVITY * INCH_MM / 16),
    ),
    "speed": (
        Unit("m/s", (), Fraction(1)),
        Unit("cm/s", (), Fraction(1, 100)),
        Unit("mm/s", (), Fraction(1, 1000)),
        Unit("km/h", ("kmh", "kph"), Fraction(1000, 3600)),
        Unit("mph", ("mi/h",), Fraction(44_704, 100_000)),
        Unit("in/s", ("ips",), INCH_MM / 1000),
    ),
    "angle": (Unit("°", ("deg", "degree", "degrees"), Fraction(1)),),
}
"""Units of every kind, the base unit first."""


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
