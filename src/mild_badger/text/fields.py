"""Fields of the document as they are shown and typed, in the units that a builder has chosen."""

import re
from collections.abc import Sequence
from fractions import Fraction
from math import floor, isclose, log10

from mild_badger.core.errors import InputError
from mild_badger.core.figures import METRIC, UnitChoice, fraction_text
from mild_badger.core.layout.space import length_u
from mild_badger.core.message import say
from mild_badger.core.targets.schools import parse_number
from mild_badger.core.units import KINDS, MM_PER_INCH, Kind, Unit
from mild_badger.core.vehicle.edit.change import Change, Path
from mild_badger.core.vehicle.field_texts import unit_of
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.model import MAX_TYPED, TypedFigure, Vehicle
from mild_badger.text.quantities import number_text, parse_quantity, quantity_text, unit_called

__all__ = [
    "field_text",
    "field_unit",
    "lengths_text",
    "parse_field",
    "parse_length",
    "parse_lengths",
    "parse_pitch",
    "parse_place",
    "parse_speed",
    "place_unit",
    "remembered",
    "typed_fraction",
    "typed_length",
]

PITCH = re.compile(r"\s*(?P<value>[\d.,/ ]+?)\s*DP\s*", re.IGNORECASE)
BROKEN = re.compile(r"[\d\s/\-]+")
UNITS: dict[str, tuple[Kind, str]] = {
    "mm": ("length", "mm"),
    "m": ("length", "m"),
    "grid units": ("length", "u"),
    "kg": ("mass", "kg"),
    "N": ("force", "N"),
    "N·mm": ("torque", "N·mm"),
    "°": ("angle", "°"),
}
"""Kind and symbol of the units in which fields stand."""
ONE_LENGTH = re.compile(r"[A-Za-z\"″′'/]")
CHOSEN = ("mm", "kg", "N", "N·mm")
"""Those that give way to the unit a builder has chosen; m gives way to ft."""
FIGURES, DECIMALS, LITTLE = 6, 3, 0.1
"""Decimals of a figure that is shown in another unit; below a tenth it has three figures."""


def field_unit(field: str, choice: UnitChoice = METRIC, own: str | None = None) -> str:
    """Name the unit that stands behind a field, "" for none.

    ``own`` is the field's own unit, where its name alone does not tell it.
    """
    own = unit_of(field) if own is None else own
    known = UNITS.get(own)
    if own in CHOSEN and known is not None:
        return choice.of(known[0])
    if own == "m" and choice.length == "in":
        return "ft"
    return own


def _unit(symbol: str) -> Unit:
    return next(unit for units in KINDS.values() for unit in units if unit.symbol == symbol)


def _size(symbol: str, grid_unit_mm: float | None) -> Fraction:
    size = _unit(symbol).size
    return Fraction(str(grid_unit_mm or 1)) if size is None else size


def field_text(
    value: float,
    field: str,
    choice: UnitChoice = METRIC,
    *,
    typed: str | None = None,
    own: str | None = None,
) -> str:
    """Write a field's value in the unit that is chosen, without the unit.

    ``typed`` is the fraction that was typed: it is shown as long as it says the same.
    """
    own = unit_of(field) if own is None else own
    if own not in UNITS or own == "grid units":
        return number_text(value).replace("-", "−")
    kind, symbol = UNITS[own]
    shown = field_unit(field, choice, own)
    base = Fraction(str(value)) * _size(symbol, choice.grid_unit_mm)
    if typed is not None and _unit(shown).halved:
        said = parse_quantity(typed, kind, what=field, shown=shown)
        if isclose(said, base, rel_tol=1e-9):
            return typed
    if shown != symbol:
        text = _shortest(float(base / _size(shown, choice.grid_unit_mm)))
        steps = Fraction(text) * choice.parts
        if steps and _unit(shown).halved and steps.denominator == 1:
            text = fraction_text(steps / choice.parts)
        return text.replace("-", "−")
    return quantity_text(base, kind, unit=shown, grid_unit_mm=choice.grid_unit_mm)


def _shortest(value: float) -> str:
    """Write what was typed with all its decimals, what was converted with as many as matter."""
    places = DECIMALS if abs(value) >= LITTLE else DECIMALS - 1 - floor(log10(abs(value) or 1))
    exact = (n for n in range(FIGURES) if isclose(round(value, n), value, rel_tol=1e-12))
    text = f"{value:.{next(exact, places)}f}"
    return text.rstrip("0").rstrip(".") if "." in text else text


def parse_field(
    text: str,
    field: str,
    *,
    what: str,
    kit: Kit,
    choice: UnitChoice = METRIC,
    own: str | None = None,
) -> float:
    """Read what was typed into a field, in any unit; give it in the field's own.

    A bare number is in the unit in which the field is shown. A field whose name ends in no unit
    takes a plain number. A module may be typed as a diametral pitch: 10 DP is 25.4 / 10 mm
    (ISO 1122-1).

    Raises
    ------
    InputError
        It cannot be used; the message names ``what``.
    """
    own = unit_of(field) if own is None else own
    if field == "module_mm" and (pitch := parse_pitch(text, what=what)) is not None:
        return MM_PER_INCH / pitch
    if own not in UNITS:
        return parse_number(text, what=what)
    kind, symbol = UNITS[own]
    shown = symbol if own == "grid units" else field_unit(field, choice, own)
    value = parse_quantity(text, kind, what=what, shown=shown, grid_unit_mm=_grid(kit, shown))
    return float(value / _size(symbol, kit.grid_unit_mm))


def parse_pitch(text: str, *, what: str) -> float | None:
    """Read a diametral pitch, such as 10 DP; None for what is none.

    Raises
    ------
    InputError
        It is not more than 0.
    """
    pitch = PITCH.fullmatch(text)
    return None if pitch is None else _pitch(pitch["value"], what)


def _pitch(text: str, what: str) -> float:
    pitch = parse_number(text, what=what)
    if pitch <= 0:
        raise InputError(say("text.a-diametral-pitch-is-more-than-0-type-one", what=what))
    return pitch


def parse_length(text: str, *, what: str, kit: Kit, shown: str = "mm") -> float:
    """Read a length in any unit; give it in mm. A bare number is in the unit that is shown.

    Raises
    ------
    InputError
        It cannot be used; the message names ``what``.
    """
    grid = _grid(kit, shown)
    return float(parse_quantity(text, "length", what=what, shown=shown, grid_unit_mm=grid))


def _grid(kit: Kit, shown: str) -> float | None:
    """Give the grid unit where the kit has a grid, or the field is shown in it."""
    return kit.grid_unit_mm if shown == "u" or not kit.any_seat else None


def typed_fraction(vehicle: Vehicle, path: Path) -> str | None:
    """Give the fraction that was typed into a field; None where none was."""
    name = _name(path)
    return next((kept.text for kept in vehicle.typed if kept.field == name), None)


def remembered(vehicle: Vehicle, path: Path, text: str) -> Change | None:
    """Give the change that remembers a typed fraction, or forgets one; None where none is due."""
    name, fraction = _name(path), _without_unit(text)
    others = tuple(kept for kept in vehicle.typed if kept.field != name)
    if "/" in fraction:
        fresh = TypedFigure(field=name, text=fraction)
        return Change(("typed",), (*others, fresh)[-MAX_TYPED:])
    return Change(("typed",), others) if len(others) < len(vehicle.typed) else None


def _name(path: Path) -> str:
    return ".".join(map(str, path))


def _without_unit(text: str) -> str:
    """Leave the inch of a typed fraction out; the field says it."""
    head = text.strip()
    while head and not head[-1].isdigit():
        head = head[:-1]
    tail = text.strip()[len(head) :].strip()
    unit = unit_called("length", tail) if tail else None
    inches = not tail or (unit is not None and unit.symbol == "in")
    return head.strip() if inches and BROKEN.fullmatch(head) else ""


def parse_lengths(
    text: str, *, what: str, vehicle: Vehicle, shown: str | None = None
) -> tuple[float, ...]:
    """Read a row of lengths, each in any unit, apart by semicolons or commas, bare ones by blanks.

    Bare numbers are in the unit that is shown, where none is named in the vehicle's own.

    Raises
    ------
    InputError
        One of them cannot be used.
    """
    if ";" in text or "," in text:
        apart = text.split(";" if ";" in text else ",")
    else:
        apart = [text] if ONE_LENGTH.search(text) else text.split()
    unit = vehicle.shown_in.length if shown is None else shown
    return tuple(
        parse_length(part, what=what, kit=vehicle.kit, shown=unit) for part in apart if part.strip()
    )


def place_unit(vehicle: Vehicle) -> str:
    """Name the unit in which places in a box are shown: that of a grid, else the vehicle's own."""
    return vehicle.shown_in.length if vehicle.kit.any_seat else "u"


def parse_place(text: str, *, what: str, vehicle: Vehicle) -> tuple[float, float]:
    """Read two lengths, apart by a semicolon or a comma, bare ones in units on a grid; in mm.

    Raises
    ------
    InputError
        They cannot be used, or are not two.
    """
    lengths = parse_lengths(text, what=what, vehicle=vehicle, shown=place_unit(vehicle))
    if len(lengths) != 2:
        raise InputError(say("text.write-two-lengths-apart-by-a-comma", what=what))
    return lengths[0], lengths[1]


def place_text(x_mm: float, y_mm: float, vehicle: Vehicle) -> str:
    """Write a place as it is typed: in units on a grid, else as lengths."""
    if place_unit(vehicle) == "u":
        return ", ".join(number_text(length_u(vehicle, mm)) for mm in (x_mm, y_mm))
    return lengths_text((x_mm, y_mm), vehicle)


def lengths_text(lengths: Sequence[float], vehicle: Vehicle) -> str:
    """Write a row of lengths as they are typed."""
    return ", ".join(field_text(mm, "length_mm", vehicle.shown_in) for mm in lengths)


def typed_length(text: str, what: str, vehicle: Vehicle) -> float:
    """Read a length in any unit; a bare number is in the vehicle's own unit of length. In mm.

    Raises
    ------
    InputError
        It cannot be used; the message names ``what``.
    """
    return parse_length(text, what=what, kit=vehicle.kit, shown=vehicle.shown_in.length)


def parse_speed(text: str, *, what: str, vehicle: Vehicle, own: str = "km/h") -> float:
    """Read a speed in any unit; give it in ``own``, which a bare number means too as a rule.

    Raises
    ------
    InputError
        It cannot be used; the message names ``what``.
    """
    shown = vehicle.units.speed or own
    return float(parse_quantity(text, "speed", what=what, shown=shown) / _size(own, None))
