"""All parts of a vehicle's boxes in space: the box, a lever drive, and what stands beside it."""

from dataclasses import replace

from mild_badger.core.components.box import BoxComponents, box_components, function_components
from mild_badger.core.components.component import Component
from mild_badger.core.components.lever_parts import lever_parts
from mild_badger.core.components.shift_lever_parts import with_gear
from mild_badger.core.mechanisms.lever.reach import lever_seen
from mild_badger.core.structure.forks import forks_of
from mild_badger.core.structure.lever_place import LeverPlace, lever_places
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.vehicle.model import Vehicle

__all__ = [
    "BESIDE",
    "FUNCTIONS",
    "LEVER",
    "has_place",
    "levers_of",
    "main_components",
    "vehicle_boxes",
    "vehicle_components",
]

FUNCTIONS, LEVER = "functions", "lever"
BESIDE = {FUNCTIONS: "function box", LEVER: "lever drive"}
"""What boxes beside the main one are called, by the name that their parts bear."""
BESIDE_MM = 20.0
"""How far boxes stand apart in a model (an estimate, no source)."""


def has_place(vehicle: Vehicle) -> bool:
    """Tell whether the box has a place in space."""
    return vehicle.box.lever is not None or stack_for(vehicle) is not None


def main_components(vehicle: Vehicle, gear: str | None = None) -> BoxComponents | None:
    """List the parts of the box; levers and a lever drive's fulcrum as a gear has them.

    None where it has no place in space yet.

    Raises
    ------
    InputError
        A gear or its dogs cannot be made.
    """
    if vehicle.box.lever is None:
        box = box_components(vehicle)
        if box is None or gear is None:
            return box
        parts = with_gear(vehicle, levers_of(vehicle), box.components, gear)
        return replace(box, components=parts)
    seen = lever_seen(vehicle, gear)
    return lever_parts(vehicle, None if seen is None else seen.fulcrum_mm)


def levers_of(vehicle: Vehicle) -> tuple[LeverPlace, ...]:
    """Place the box's gate levers or catches; none where it has no place or a drum shifts it."""
    stack = stack_for(vehicle)
    return () if stack is None else lever_places(vehicle, stack, forks_of(vehicle, stack))


def vehicle_boxes(vehicle: Vehicle, gear: str | None = None) -> tuple[tuple[Component, ...], ...]:
    """List the parts of each box: the main one, a lever drive and a function box beside it.

    Each stands to the right of the one before. Without those that have no place.

    Raises
    ------
    InputError
        A gear or its dogs cannot be made.
    """
    found = [("", main_components(vehicle, gear))]
    if vehicle.stepless is not None and vehicle.box.lever is None:
        found.append((LEVER, lever_parts(vehicle)))
    found.append((FUNCTIONS, function_components(vehicle)))
    boxes: list[tuple[Component, ...]] = []
    for name, box in found:
        if box is None:
            continue
        if name:
            edge = max((_edge(parts, right=True) for parts in boxes), default=0.0)
            aside = edge + BESIDE_MM - _edge(box.components, right=False)
            boxes.append(
                tuple(replace(part, box=name, x_mm=part.x_mm + aside) for part in box.components)
            )
        else:
            boxes.append(box.components)
    return tuple(boxes)


def vehicle_components(vehicle: Vehicle, gear: str | None = None) -> tuple[Component, ...]:
    """List the parts of all boxes, as :func:`vehicle_boxes` has them.

    Raises
    ------
    InputError
        A gear or its dogs cannot be made.
    """
    return tuple(part for parts in vehicle_boxes(vehicle, gear) for part in parts)


def _edge(parts: tuple[Component, ...], *, right: bool) -> float:
    """Find how far parts reach to the right or to the left, as seen from the input end."""
    reaches = [part.reach_mm for part in parts]
    if right:
        return max((reach[2] for reach in reaches), default=0.0)
    return min((reach[0] for reach in reaches), default=0.0)
