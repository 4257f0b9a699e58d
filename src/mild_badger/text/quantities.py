"""Quantities as they are typed and shown: 3/8 in, 1 1/2", 60 mm, 1 ft 2 in, 7.5 u.

The document holds each kind in one unit, its base: mm, kg, N, N·mm, m/s, degrees. Factors are exact
(NIST SP 811, appendix B: the inch, the pound and standard gravity are defined).
"""

import re
from collections.abc import Iterator
from dataclasses import dataclass
from decimal import Decimal
from fractions import Fraction

from mild_badger.core.errors import InputError
from mild_badger.core.figures import fraction_text
from mild_badger.core.message import say
from mild_badger.core.units import KINDS, Kind, Unit
from mild_badger.core.words import listed

__all__ = [
    "number_text",
    "parse_quantity",
    "quantity_text",
    "unit_called",
    "units_of",
]

VULGAR = {"½": "1/2", "¼": "1/4", "¾": "3/4", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8"}
SPACES = " \u00a0\u202f"
_PLAIN = r"\d+[.,](?!\d)|\d+(?:[.,]\d+)?|[.,]\d+"
_PART = re.compile(
    rf"\s*(?:(?P<whole>\d+)[{SPACES}\-]+(?P<over>\d+)\s*/\s*(?P<under>\d+)"
    rf"|(?P<top>{_PLAIN})\s*/\s*(?P<bottom>{_PLAIN})"
    rf"|(?P<plain>\d{{1,3}}(?:[{SPACES}]\d{{3}})+(?:[.,]\d+)?|{_PLAIN}))"
    r"\s*(?P<unit>[^\s\d.,+\-][^\d,+]*?)?\s*(?=[\d.,]|$)",
    re.ASCII,
)
_GROUPED = re.compile(r"(?<![\d.,])[1-9]\d{0,2}(?:,\d{3})+(?:\.\d+)?(?![\d,])", re.ASCII)
"""7,200 is seven thousand two hundred in one country, seven and a fifth in another."""
LONGEST = 60


@dataclass(frozen=True)
class _Part:
    value: Fraction
    unit: str
    broken: bool


def units_of(kind: Kind, *, grid: bool = False) -> tuple[Unit, ...]:
    """List the units that a quantity can be typed in; the grid unit only where the kit has one."""
    return tuple(unit for unit in KINDS[kind] if unit.size is not None or grid)


def unit_called(kind: Kind, word: str) -> Unit | None:
    """Find a unit by its symbol or another way to type it; None where the kind has none such."""
    word = " ".join(word.split()).rstrip(".")
    for unit in KINDS[kind]:
        if word == unit.symbol or word.casefold() in (w.casefold() for w in unit.also):
            return unit
    same = [u for u in KINDS[kind] if u.symbol.casefold() == word.casefold()]
    return same[0] if len(same) == 1 else None


def parse_quantity(
    text: str,
    kind: Kind,
    *,
    what: str,
    shown: str = "",
    grid_unit_mm: float | None = None,
) -> Fraction:
    """Read a quantity in any unit of its kind; give it in the base unit, exactly.

    Parameters
    ----------
    text
        A number with a unit behind it, several of them (``1 ft 2 in``), or a bare number.
    what
        What is typed, for messages.
    shown
        Symbol of the unit in which the field is shown and a bare number is meant; the base unit
        where it is empty.
    grid_unit_mm
        Size of a grid unit, where the kit has a grid.

    Raises
    ------
    InputError
        It is no number, the unit is of another kind, or a bare fraction stands in a field that is
        shown in decimals of the metric system: it would be taken for a share of a millimetre where
        a share of an inch is meant.
    """
    own = unit_called(kind, shown) if shown else KINDS[kind][0]
    if own is None:
        raise ValueError(f"{kind} is not shown in {shown}")
    sign, parts = _read(text, what)
    total = Fraction(0)
    for part in parts:
        unit = unit_called(kind, part.unit) if part.unit else own
        if unit is None or (unit.size is None and grid_unit_mm is None):
            symbols = [u.symbol for u in units_of(kind, grid=grid_unit_mm is not None)]
            known = listed(symbols, "or")
            raise InputError(
                say(
                    "text.is-no-unit-of-here-use",
                    what=what,
                    unit=part.unit[:12],
                    kind=kind,
                    known=known,
                )
            )
        if part.broken and not part.unit and kind == "length" and not own.halved:
            raise _which_fraction(text, what, part, own)
        if len(parts) > 1 and not part.unit:
            raise InputError(
                say("text.has-a-number-without-a-unit", what=what, strip=text.strip()[:40])
            )
        size = unit.size if unit.size is not None else Fraction(str(grid_unit_mm))
        total += part.value * size
    return sign * total


def _which_fraction(text: str, what: str, part: _Part, own: Unit) -> InputError:
    plain = f"{float(part.value):.6g}"
    bare = text.strip()
    return InputError(
        say(
            "text.of-an-inch-type-in-if-you-mean-type",
            what=what,
            bare=bare,
            plain=plain,
            symbol=own.symbol,
        )
    )


def _read(text: str, what: str) -> tuple[int, list[_Part]]:
    """Take a text apart into numbers with the words behind them."""
    bare = text.strip()
    grouped = _GROUPED.search(bare)
    if grouped:
        plain, decimal = grouped[0].replace(",", ""), grouped[0].replace(",", ".", 1)
        raise InputError(
            say(
                "text.can-be-read-in-two-ways-type-or",
                what=what,
                bare=bare[:40],
                plain=plain,
                rstrip=decimal.rstrip("0").rstrip("."),
            )
        )
    for sign, fraction in VULGAR.items():
        bare = bare.replace(sign, f" {fraction}")
    bare = bare.replace("−", "-").replace("⁄", "/").strip()
    sign_of = -1 if bare.startswith("-") else 1
    bare = bare.lstrip("+-").strip()
    parts = list(_parts(bare)) if bare and len(bare) <= LONGEST else []
    if not parts:
        raise InputError(
            say("text.is-not-a-number-type-one-such-as-3-45", what=what, strip=text.strip()[:40])
        )
    return sign_of, parts


def _parts(bare: str) -> Iterator[_Part]:
    """Give the parts; none where something is left over."""
    parts: list[_Part] = []
    at = 0
    while at < len(bare):
        match = _PART.match(bare, at)
        if match is None:
            return
        try:
            parts.append(_Part(_value(match), (match["unit"] or "").strip(), not match["plain"]))
        except ZeroDivisionError:
            return
        at = match.end()
    yield from parts


def _value(match: re.Match[str]) -> Fraction:
    if match["whole"]:
        return Fraction(match["whole"]) + Fraction(int(match["over"]), int(match["under"]))
    if match["top"]:
        return _decimal(match["top"]) / _decimal(match["bottom"])
    return _decimal(match["plain"])


def _decimal(text: str) -> Fraction:
    tight = re.sub(rf"[{SPACES}]", "", text).replace(",", ".")
    return Fraction(tight.rstrip(".") if tight.endswith(".") else tight)


def quantity_text(
    value: float | Fraction,
    kind: Kind,
    *,
    unit: str = "",
    parts: int = 0,
    grid_unit_mm: float | None = None,
) -> str:
    """Write a quantity in a unit, without the unit itself.

    Parameters
    ----------
    value
        In the base unit.
    parts
        Smallest part of an inch or pound that is written, as 64; 0 for decimals. What falls on no
        such part is written in decimals.
    """
    own = unit_called(kind, unit) if unit else KINDS[kind][0]
    if own is None:
        raise ValueError(f"{kind} is not shown in {unit}")
    size = own.size if own.size is not None else Fraction(str(grid_unit_mm))
    exact = (value if isinstance(value, Fraction) else Fraction(str(value))) / size
    if parts and own.halved:
        steps = exact * parts
        if abs(steps - round(steps)) < Fraction(1, 1000):
            return fraction_text(Fraction(round(steps), parts))
    return number_text(float(exact)).replace("-", "−")


def number_text(value: float) -> str:
    """Write a number so that reading it gives it back, short where six figures do."""
    short = f"{value:.6g}"
    # never with an exponent, which no builder types
    return format(Decimal(short if float(short) == value else f"{value:.10g}"), "f")
