"""Demos with everything that they can take planned."""

from functools import cache

from examples import example_vehicle
from mild_badger.core.mechanisms.balance.edits import add_balance
from mild_badger.core.mechanisms.cables.edits import add_cables
from mild_badger.core.mechanisms.clutch.edits import add_clutch
from mild_badger.core.mechanisms.crane.edits import add_crane
from mild_badger.core.mechanisms.display.edits import add_engine
from mild_badger.core.mechanisms.lever.edits import add_lever
from mild_badger.core.mechanisms.liquid.edits import add_line
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["furnished"]


@cache
def furnished(name: str) -> Vehicle:
    """A demo with everything that it can take planned."""
    vehicle = example_vehicle(name)
    if vehicle.crane is None:
        vehicle = apply_edit(vehicle, add_crane(vehicle))
    if vehicle.cables is None:
        vehicle = apply_edit(vehicle, add_cables())
    for add in (add_clutch, add_line, add_line, add_engine, add_balance):
        edit = add(vehicle)
        if edit is not None:
            vehicle = apply_edit(vehicle, edit)
    if vehicle.stepless is None:
        vehicle = apply_edit(vehicle, add_lever())
    return vehicle
