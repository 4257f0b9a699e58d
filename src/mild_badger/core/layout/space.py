"""The outer size that a placement keeps to, in units of the kit and in mm."""

from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["length_mm", "length_u", "set_space"]


def length_u(vehicle: Vehicle, mm: float) -> float:
    """Give a length in units of the kit, as the document holds places."""
    return mm / vehicle.kit.grid_unit_mm


def length_mm(vehicle: Vehicle, units: float) -> float:
    """Give a length of the document in mm."""
    return units * vehicle.kit.grid_unit_mm


def set_space(vehicle: Vehicle, name: str, units: float | None) -> Edit:
    """Limit the clear width (``wide_u``) or height (``high_u``); None for no limit."""
    words = {"wide_u": say("layout.clear-width"), "high_u": say("layout.clear-height")}[name]
    return Edit.one(say("layout.set", what=words), ("placing", name), units)
