"""The two schools of writing a ratio down, and how ratios are read and shown.

The document and every computation hold turns in per turn out.
"""

import re
from enum import StrEnum
from fractions import Fraction

from mild_badger.core.errors import InputError
from mild_badger.core.message import say
from mild_badger.core.words import signed

__all__ = [
    "RatioConvention",
    "format_ratio",
    "parse_exact",
    "parse_number",
    "parse_ratio",
    "parse_signed_ratio",
]

_NUMBER = re.compile(r"[-+]?(\d+(\.\d*)?|\.\d+)(/(\d+(\.\d*)?|\.\d+))?", re.ASCII)


_MIXED = re.compile(
    r"(?P<sign>[-+−]?)(?P<whole>\d{1,9})[ \u00a0\u202f]+(?P<over>\d{1,9})/(?P<under>\d{1,9})",
    re.ASCII,
)
"""1 1/2 is one and a half, not eleven halves."""
_GROUPED = re.compile(r"[-+−]?[1-9]\d{0,2},\d{3}", re.ASCII)
"""7,200 is seven thousand two hundred in one country, seven and a fifth in another."""


class RatioConvention(StrEnum):
    """How a ratio is written: 4.00 for a low gear, or 0.25."""

    TURNS_IN = say("targets.turns-in-per-turn-out")
    TURNS_OUT = say("targets.turns-out-per-turn-in")

    def convert(self, ratio: float | Fraction) -> float:
        """Convert a ratio between this school's writing and turns in per turn out, either way."""
        return float(ratio) if self is RatioConvention.TURNS_IN else 1.0 / float(ratio)

    def error_percent(self, percent: float) -> float:
        """Convert an error of a ratio of turns in per turn out to one of the ratio as written.

        Where turns out per turn in are written, a ratio that is too high reads too low:
        0.320 against 0.312 is +2.6 %, though the turns in are 2.5 % too few.
        """
        if self is RatioConvention.TURNS_IN or percent <= -100:
            return percent
        return 100 * (1 / (1 + percent / 100) - 1)


def parse_exact(text: str, *, what: str) -> Fraction:
    """Read a number with a decimal point or comma, or a fraction such as 12/5 or 12:5, exactly.

    Raises
    ------
    InputError
        The text is no number.
    """
    grouped = _GROUPED.fullmatch(text.strip())
    if grouped:
        plain, decimal = text.strip().replace(",", ""), text.strip().replace(",", ".")
        raise InputError(
            say(
                "targets.can-be-read-in-two-ways-type-or",
                what=what,
                strip=text.strip()[:40],
                plain=plain,
                rstrip=decimal.rstrip("0").rstrip("."),
            )
        )
    mixed = _MIXED.fullmatch(text.strip())
    if mixed and int(mixed["under"]) > int(mixed["over"]):
        value = int(mixed["whole"]) + Fraction(int(mixed["over"]), int(mixed["under"]))
        return -value if mixed["sign"] in ("-", "−") else value
    cleaned = text.strip().replace("−", "-").replace(",", ".").replace(":", "/")
    cleaned = re.sub(r"[ \u00a0\u202f]", "", cleaned)
    if len(cleaned) > 40 or not _NUMBER.fullmatch(cleaned):
        raise InputError(
            say("targets.is-not-a-number-type-one-such-as-3-45", what=what, strip=text.strip()[:40])
        )
    top, _, bottom = cleaned.partition("/")
    try:
        return Fraction(top) / Fraction(bottom or "1")
    except ZeroDivisionError:
        raise InputError(say("targets.divides-by-zero", what=what, strip=text.strip())) from None


def parse_number(text: str, *, what: str) -> float:
    """Read a number as :func:`parse_exact` does, and round it to a float."""
    return float(parse_exact(text, what=what))


def parse_ratio(text: str, school: RatioConvention, *, what: str = "Ratio") -> float:
    """Read a positive ratio written in a school and return it as turns in per turn out.

    Raises
    ------
    InputError
        Not a number, or not a positive one.
    """
    value = parse_number(text, what=what)
    if value <= 0:
        raise InputError(
            say("targets.must-be-greater-than-zero-direction-is-set", what=what, strip=text.strip())
        )
    return school.convert(value)


def parse_signed_ratio(
    text: str, school: RatioConvention, *, what: str = "Ratio"
) -> tuple[float, bool]:
    """Read a ratio with or without a sign: turns in per turn out, and whether it is negative.

    A negative ratio is that of a reverse gear.

    Raises
    ------
    InputError
        Not a number, or zero.
    """
    bare = text.strip()
    negative = bare.startswith(("-", "−"))
    return parse_ratio(bare[1:] if negative else bare, school, what=what), negative


def format_ratio(ratio: float | Fraction, school: RatioConvention) -> str:
    """Write a ratio with three decimals, with a true minus sign."""
    return signed(school.convert(ratio), ".3f")
