"""Figures in sentences: quantities that stay quantities until they are written for somebody.

A sentence of core holds its lengths, masses, forces, torques and speeds as figures: readable text
between two marks that nobody sees. `write` puts them into the units that a builder has chosen;
`plain` takes the marks away, for files and programs, in the format's own units. So a sentence is
made once, and no unit is chosen where it is made.
"""

import re
from collections.abc import Iterable
from dataclasses import dataclass
from fractions import Fraction
from math import ceil, log10
from typing import Literal

from mild_badger.core.units import KINDS, MM_PER_INCH, Kind, Unit

__all__ = [
    "KG",
    "KM_H",
    "METRE",
    "METRIC",
    "MM",
    "M_S",
    "NEWTON",
    "N_MM",
    "Figure",
    "Parts",
    "UnitChoice",
    "bare",
    "decimals_in",
    "fraction_text",
    "in_a_row",
    "in_kg",
    "in_km_h",
    "in_m",
    "in_m_s",
    "in_mm",
    "in_mm_s",
    "in_module",
    "in_n",
    "in_n_mm",
    "in_unit",
    "in_units",
    "plain",
    "ruler_mm",
    "symbol_of",
    "true_minus",
    "unit",
    "write",
]

MARK = "\u2063"
"""Invisible separator (Unicode 2063): stands before and behind a figure."""
EXACT = "\u2064"
"""Stands first in a figure that is not rounded, as what the builder typed."""
HIDDEN = {"mm": "\u2061", "N·mm": "\u2062", "N": "\u2061\u2061", "kg": "\u2062\u2062"}
MODULE = "mm module"
HIDDEN |= {
    "m/s": "\u2062\u2062\u2061",
    "km/h": "\u2061\u2062",
    "mm/s": "\u2062\u2061",
    "m": "\u2061\u2061\u2062",
}
"""Stand for the unit of a figure whose column or label names it."""
SHOWN = {code: name for name, code in HIDDEN.items()}
_FIGURE = re.compile(f"{MARK}({EXACT}?)([\u2061\u2062]*)([−+±]?)([\\d.]*) ?([^{MARK}]*){MARK}")
_MINUS = re.compile(r"(?<![\w.)\]])-(?=\.?\d)")
"""A hyphen before a number, where it is no part of a word, a range or a date."""
Parts = Literal[0, 16, 32, 64]
NEAR = Fraction(2, 100)
"""A length is written as a fraction of an inch where that is so near."""
MOST_DECIMALS = 6
SLOW = {"mph": "in/s", "km/h": "mm/s"}


@dataclass(frozen=True)
class UnitChoice:
    """The units that figures are written in, by their symbols.

    ``parts`` is the smallest part of an inch, 0 for decimals; ``grid_unit_mm`` the size of a grid
    unit, where lengths are written in them. An empty ``speed`` leaves speeds as they are.
    """

    length: str = "mm"
    parts: Parts = 0
    mass: str = "kg"
    force: str = "N"
    torque: str = "N·mm"
    speed: str = ""
    grid_unit_mm: float | None = None

    def of(self, kind: Kind) -> str:
        """Give the unit chosen for a kind; "" where its figures are left as they are."""
        chosen: str = getattr(self, kind, "")
        return chosen


METRIC = UnitChoice()


def _unit_of(symbol: str) -> tuple[Kind, Unit] | None:
    for kind, known in KINDS.items():
        for unit_ in known:
            if unit_.symbol == symbol:
                return kind, unit_
    return None


class Figure(str):
    """A figure as it is written, which knows its value and the unit that the value is in."""

    value: float
    unit: str

    @classmethod
    def of(cls, text: str, value: float, unit: str) -> "Figure":
        """Make the figure of a text."""
        figure = cls(text)
        figure.value, figure.unit = value, unit
        return figure


def _figure(
    value: float, symbol: str, digits: int | None, *, significant: int | None, sign: bool
) -> Figure:
    form = f".{digits}f" if digits is not None else f".{significant}g" if significant else "g"
    text = f"{value:+{form}}" if sign else f"{value:{form}}"
    if "e" in text:
        text = f"{float(text):+.0f}" if sign else f"{float(text):.0f}"
    if not any(c in text for c in "123456789"):
        text = text.lstrip("-")
    exact = EXACT if digits is None and not significant else ""
    return Figure.of(f"{MARK}{exact}{text.replace('-', '−')} {symbol}{MARK}", value, symbol)


def in_unit(
    value: float, symbol: str, digits: int | None = None, *, significant: int | None = None
) -> str:
    """Write a figure of any unit, "" for none; one of no known kind stays in its own unit."""
    text = _figure(value, symbol, digits, significant=significant, sign=False)
    return text if _unit_of(symbol) is not None else plain(text)


def in_mm(
    value: float, digits: int | None = None, *, significant: int | None = None, sign: bool = False
) -> str:
    """Write a length of so many mm: with ``digits`` decimals, so many figures, or as it is."""
    return _figure(value, "mm", digits, significant=significant, sign=sign)


def in_m(value: float, digits: int | None = None, *, significant: int | None = None) -> str:
    """Write a length of so many metres."""
    return _figure(value, "m", digits, significant=significant, sign=False)


def in_kg(value: float, digits: int | None = None, *, significant: int | None = None) -> str:
    """Write a mass of so many kilograms."""
    return _figure(value, "kg", digits, significant=significant, sign=False)


def in_n(value: float, digits: int | None = None, *, significant: int | None = None) -> str:
    """Write a force of so many newtons."""
    return _figure(value, "N", digits, significant=significant, sign=False)


def in_n_mm(value: float, digits: int | None = None, *, significant: int | None = None) -> str:
    """Write a torque of so many newton millimetres."""
    return _figure(value, "N·mm", digits, significant=significant, sign=False)


def in_km_h(value: float, digits: int | None = None, *, significant: int | None = None) -> str:
    """Write a speed of so many km/h."""
    return _figure(value, "km/h", digits, significant=significant, sign=False)


def in_m_s(value: float, digits: int | None = None, *, significant: int | None = None) -> str:
    """Write a speed of so many m/s."""
    return _figure(value, "m/s", digits, significant=significant, sign=False)


def in_module(value: float) -> str:
    """Write a module of so many mm; where lengths are inches, as the diametral pitch."""
    return _figure(value, MODULE, None, significant=None, sign=False)


def in_mm_s(value: float, digits: int | None = None, *, significant: int | None = None) -> str:
    """Write a speed of so many mm/s."""
    return _figure(value, "mm/s", digits, significant=significant, sign=False)


def bare(figure: str) -> str:
    """Leave a figure's unit out, where a column or a label names it."""

    def hide(match: re.Match[str]) -> str:
        exact, _, sign, number, symbol = match.groups()
        return f"{MARK}{exact}{HIDDEN[symbol]}{sign}{number}{MARK}"

    hidden = _FIGURE.sub(hide, figure)
    return Figure.of(hidden, figure.value, figure.unit) if isinstance(figure, Figure) else hidden


def in_a_row(figures: Iterable[str], apart: str = ", ") -> str:
    """Write figures of one unit one after another, the unit behind the last: 8, 16, 24 mm."""
    *before, last = tuple(figures) or ("",)
    return apart.join((*map(bare, before), last))


def unit(symbol: str) -> str:
    """Name a unit alone, for a column or a label over bare figures."""
    return f"{MARK}{symbol}{MARK}"


MM, KG, NEWTON, N_MM, METRE = (unit(symbol) for symbol in ("mm", "kg", "N", "N·mm", "m"))
M_S, KM_H = unit("m/s"), unit("km/h")


def plain(text: str) -> str:
    """Take the marks away: figures stay in the format's own units."""
    if MARK not in text:
        return text
    return _FIGURE.sub(lambda match: f"{match[3]}{match[4]} {match[5]}".strip(), text)


def true_minus(text: str) -> str:
    """Write the hyphen before a number as the minus it is; words, ranges and dates keep theirs."""
    return _MINUS.sub("−", text) if "-" in text else text


def write(text: str, choice: UnitChoice) -> str:
    """Write a text's figures in the units that are chosen, and every minus as one."""
    text = true_minus(text)
    if MARK not in text or choice == METRIC:
        return plain(text)

    def written(match: re.Match[str]) -> str:
        exact, hidden, sign, number, symbol = match.groups()
        symbol = symbol or SHOWN.get(hidden, "")
        number, symbol = _in_units(number, symbol, choice, exact=bool(exact))
        return f"{sign}{number} {'' if hidden else symbol}".strip()

    return _FIGURE.sub(written, text)


def in_units(value: float, symbol: str, choice: UnitChoice) -> float:
    """Give a value of one unit as the number it is in the unit chosen, for an axis or a scale."""
    known, target = _unit_of(symbol), _unit_of(symbol_of(symbol, choice))
    if known is None or target is None or target[1].size is None or known[1].size is None:
        return value
    return value * float(known[1].size / target[1].size)


def ruler_mm(room_mm: float, choice: UnitChoice) -> float:
    """Give the longest round length, in mm, that fits a room: 100, 50, 20 … mm or 4, 2, 1 … in."""
    if choice.length == "in":
        steps = [MM_PER_INCH * n for n in (4, 2, 1, 0.5, 0.25, 0.125)]
    else:
        steps = [100.0, 50.0, 20.0, 10.0, 5.0, 2.0]
    return next((step for step in steps if step < room_mm), steps[-1])


def symbol_of(symbol: str, choice: UnitChoice) -> str:
    """Name the unit in which figures of one unit are written: in for mm."""
    return _in_units("", symbol, choice, exact=True)[1]


def _in_units(number: str, symbol: str, choice: UnitChoice, *, exact: bool) -> tuple[str, str]:
    if symbol == MODULE:
        if choice.length != "in" or not number:
            return number, symbol
        return f"{MM_PER_INCH / float(number):.4g}", "DP"
    known = _unit_of(symbol)
    wanted = choice.of(known[0]) if known else ""
    if symbol == "m":
        wanted = "ft" if wanted == "in" else ""
    if symbol == "mm/s":  # what creeps is not told in road speeds
        wanted = SLOW.get(wanted, wanted)
    target = _unit_of(wanted) if wanted else None
    if known is None or target is None or wanted == symbol:
        return number, symbol
    size = target[1].size or (Fraction(str(choice.grid_unit_mm)) if choice.grid_unit_mm else None)
    if size is None or known[1].size is None:
        return number, symbol
    if not number:
        return "", wanted
    step = known[1].size / size
    value = Fraction(number) * step
    places = len(number.partition(".")[2])
    if choice.parts and wanted == "in":
        parted = Fraction(round(value * choice.parts), choice.parts)
        room = max(value * NEAR, Fraction(1, 10**places) * step / 2) if not exact else value / 1000
        if parted and abs(parted - value) <= room:
            return fraction_text(parted), wanted
    return decimals_in(value, places, float(step), exact=exact), wanted


def decimals_in(value: Fraction, places: int, step: float, *, exact: bool) -> str:
    """Write a converted value with as many decimals as tell what the ones before it told."""
    decimals = min(max(0, places + ceil(-log10(step) - 1e-9)), MOST_DECIMALS)
    if exact:
        decimals = min(decimals + 1, MOST_DECIMALS)
    text = f"{float(value):.{decimals}f}"
    return text.rstrip("0").rstrip(".") if exact and "." in text else text


def fraction_text(value: Fraction) -> str:
    """Write a fraction as a whole number and what is over: 1 1/2."""
    sign = "−" if value < 0 else ""
    whole, over = divmod(abs(value), 1)
    if not over:
        return f"{sign}{whole}"
    rest = f"{over.numerator}/{over.denominator}"
    return f"{sign}{whole} {rest}" if whole else f"{sign}{rest}"
