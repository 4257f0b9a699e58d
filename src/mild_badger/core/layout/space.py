"""The outer size that a placement keeps to."""

from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["length_u", "set_space"]


def length_u(vehicle: Vehicle, mm: float) -> float:
    """Give a length in units of the kit."""
    return mm / vehicle.kit.grid_unit_mm


def set_space(name: str, size_mm: float | None) -> Edit:
    """Limit the clear width (``wide_mm``) or height (``high_mm``); None for no limit."""
    words = {"wide_mm": say("layout.clear-width"), "high_mm": say("layout.clear-height")}[name]
    return Edit.one(say("layout.set", what=words), ("placing", name), size_mm)
