"""The units a vehicle is shown in; the file itself keeps the format's own."""

from typing import Literal

from mild_badger.core.figures import Parts, UnitChoice
from mild_badger.core.vehicle.base import DocumentNode

__all__ = ["INCH", "LengthUnit", "UnitSettings", "unit_choice"]

LengthUnit = Literal["mm", "in", "in/16", "in/32", "in/64", "u"]
"""Millimetres, inches in decimals, inches to a smallest fraction, grid units."""

PARTS: dict[LengthUnit, Parts] = {"in/16": 16, "in/32": 32, "in/64": 64}


class UnitSettings(DocumentNode):
    """What lengths, masses, forces, torques and speeds are shown and typed in."""

    length: LengthUnit = "mm"
    mass: Literal["kg", "g", "lb", "oz"] = "kg"
    force: Literal["N", "kgf", "lbf"] = "N"
    torque: Literal["N·mm", "N·cm", "N·m", "kg·cm", "in·lb", "oz·in"] = "N·mm"
    speed: Literal["", "mm/s", "cm/s", "m/s", "km/h", "mph"] = ""
    dxf: Literal["mm", "in"] = "mm"


INCH = UnitSettings(length="in/32", mass="lb", force="lbf", torque="oz·in", speed="mph")
"""What a vehicle of an inch kit begins with."""


def unit_choice(settings: UnitSettings, grid_unit_mm: float | None) -> UnitChoice:
    """Give the units for a kit: one without a grid is shown in mm where grid units are chosen."""
    length = settings.length.partition("/")[0]
    in_units = length == "u" and grid_unit_mm is not None
    return UnitChoice(
        length="mm" if length == "u" and not in_units else length,
        parts=PARTS.get(settings.length, 0),
        mass=settings.mass,
        force=settings.force,
        torque=settings.torque,
        speed=settings.speed,
        grid_unit_mm=grid_unit_mm if in_units else None,
    )
