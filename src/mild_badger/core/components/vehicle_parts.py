"""All parts of a vehicle's boxes in space: the box, a lever drive, and what stands beside it."""

from dataclasses import replace

from mild_badger.core.components.box import BoxComponents, box_components, function_components
from mild_badger.core.components.component import Component, ComponentId
from mild_badger.core.components.lever_parts import lever_parts
from mild_badger.core.layout.shaft_box import stack_for
from mild_badger.core.mechanisms.lever.reach import lever_seen
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["has_place", "main_components", "vehicle_components"]

FUNCTIONS, LEVER = "functions", "lever"
BESIDE_MM = 20.0
"""How far boxes stand apart in a model (an estimate, no source)."""


def has_place(vehicle: Vehicle) -> bool:
    """Tell whether the box has a place in space."""
    return vehicle.box.lever is not None or stack_for(vehicle) is not None


def main_components(vehicle: Vehicle, gear: str | None = None) -> BoxComponents | None:
    """List the parts of the box; a lever drive's with its fulcrum as a gear has it.

    None where it has no place in space yet.

    Raises
    ------
    InputError
        A gear or its dogs cannot be made.
    """
    if vehicle.box.lever is None:
        return box_components(vehicle)
    seen = lever_seen(vehicle, gear)
    return lever_parts(vehicle, None if seen is None else seen.fulcrum_mm)


def vehicle_components(vehicle: Vehicle, gear: str | None = None) -> tuple[Component, ...]:
    """List the parts of the box, and to its right of a lever drive and a function box beside it.

    Ids of what stands beside it begin with its kind. Empty where nothing has a place.
    """
    own = main_components(vehicle, gear)
    parts = () if own is None else own.components
    if vehicle.stepless is not None and vehicle.box.lever is None:
        parts = _beside(parts, lever_parts(vehicle), LEVER)
    return _beside(parts, function_components(vehicle), FUNCTIONS)


def _beside(
    parts: tuple[Component, ...], box: BoxComponents | None, kind: str
) -> tuple[Component, ...]:
    """Put a box to the right of parts, as seen from the input end."""
    if box is None:
        return parts
    aside = _edge(parts, right=True) + BESIDE_MM - _edge(box.components, right=False)
    moved = (
        replace(
            part,
            id=ComponentId(f"{kind}/{part.id}"),
            member=f"{kind}/{part.member}" if part.member else "",
            x_mm=part.x_mm + aside,
        )
        for part in box.components
    )
    return (*parts, *moved)


def _edge(parts: tuple[Component, ...], *, right: bool) -> float:
    """Find how far parts reach to the right or to the left, as seen from the input end."""
    reaches = [part.reach_mm for part in parts]
    if right:
        return max((reach[2] for reach in reaches), default=0.0)
    return min((reach[0] for reach in reaches), default=0.0)
