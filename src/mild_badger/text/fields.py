"""Fields of the document as they are typed: a length field takes any unit of length, and so on."""

from mild_badger.core.targets.schools import parse_number
from mild_badger.core.vehicle.field_texts import unit_of
from mild_badger.core.vehicle.kit import Kit
from mild_badger.text.quantities import KINDS, Kind, parse_quantity

__all__ = ["parse_field", "parse_length"]

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

    Raises
    ------
    InputError
        It cannot be used; the message names ``what``.
    """
    unit = unit_of(field)
    if unit not in UNITS:
        return parse_number(text, what=what)
    kind, symbol = UNITS[unit]
    value = parse_quantity(text, kind, what=what, shown=symbol, grid_unit_mm=_grid(kit, symbol))
    size = next(unit.size for unit in KINDS[kind] if unit.symbol == symbol)
    return float(value) / kit.grid_unit_mm if size is None else float(value / size)


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
