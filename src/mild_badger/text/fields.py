"""Fields of the document as they are typed: a length field takes any unit of length, and so on."""

import re

from mild_badger.core.errors import InputError
from mild_badger.core.targets.schools import parse_number
from mild_badger.core.vehicle.field_texts import unit_of
from mild_badger.core.vehicle.kit import Kit
from mild_badger.text.quantities import KINDS, Kind, parse_quantity

__all__ = ["parse_field", "parse_length"]

PITCH = re.compile(r"\s*(?P<value>[\d.,/ ]+?)\s*DP\s*", re.IGNORECASE)
MM_PER_INCH = 25.4
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


def parse_field(text: str, field: str, *, what: str, kit: Kit) -> float:
    """Read what was typed into a field, in any unit; give it in the field's own.

    A bare number is in the field's unit. A field whose name ends in no unit takes a plain number.
    A module may be typed as a diametral pitch: 10 DP is 25.4 / 10 mm (ISO 1122-1).

    Raises
    ------
    InputError
        It cannot be used; the message names ``what``.
    """
    unit = unit_of(field)
    if field == "module_mm" and (pitch := PITCH.fullmatch(text)):
        return MM_PER_INCH / _pitch(pitch["value"], what)
    if unit not in UNITS:
        return parse_number(text, what=what)
    kind, symbol = UNITS[unit]
    value = parse_quantity(text, kind, what=what, shown=symbol, grid_unit_mm=_grid(kit, symbol))
    size = next(unit.size for unit in KINDS[kind] if unit.symbol == symbol)
    return float(value) / kit.grid_unit_mm if size is None else float(value / size)


def _pitch(text: str, what: str) -> float:
    pitch = parse_number(text, what=what)
    if pitch <= 0:
        raise InputError(f"{what}: a diametral pitch is more than 0. Type one such as 10 DP.")
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
