"""The tachometer's slotted discs on the stubs of input and output."""

from dataclasses import dataclass
from math import hypot

from mild_badger.core.structure.forks import Fork
from mild_badger.core.structure.plates import tie_rounds
from mild_badger.core.structure.shaft_lengths import standing_out, stub_mm
from mild_badger.core.structure.stack import Stack
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["DISC_MM", "DiscPlace", "disc_places"]

DISC_MM, OFF_MM, ROOM_MM = 1.5, 0.5, 1.0
"""How thick a disc is, how far off its wall, and its room to all else (estimates, no source)."""
DIAMETERS, LEAST_RING_MM = 5.0, 5.0
"""A disc's diameter to its shaft's, and the least that its slots need beyond the shaft."""


@dataclass(frozen=True)
class DiscPlace:
    """A disc: its shaft, where it begins along the box, its radius (None without room), slots."""

    shaft: str
    along_mm: float
    radius_mm: float | None
    slots: int


def disc_places(vehicle: Vehicle, stack: Stack, forks: tuple[Fork, ...]) -> tuple[DiscPlace, ...]:
    """Put a disc on each shaft that stands out of the box, as large as its neighbours let it."""
    if not vehicle.frame.sensor_discs or stack.own is not None:
        return ()
    front, back = standing_out(vehicle, stack)
    first, last = stack.walls[0], stack.walls[-1]
    wanted = [
        (rod, first, -OFF_MM - DISC_MM, vehicle.trial.slots_in)
        for rod in stack.rods.values()
        if rod.name in front and rod.first == first
    ]
    wanted += [
        (rod, last, stack.length_mm + OFF_MM, vehicle.trial.slots_out)
        for rod in stack.rods.values()
        if rod.name in back and rod.last == last
    ]
    half = vehicle.kit.shaft_diameter_mm / 2
    ties = tie_rounds(vehicle, stack, forks) if vehicle.kit.any_seat else ()
    made = []
    for rod, wall, along, slots in wanted:
        others = [*stack.rods.values(), *(fork.rail for fork in forks)]
        rounds = [(r.x_mm, r.y_mm, half) for r in others if wall in r.walls and r is not rod]
        room = [hypot(x - rod.x_mm, y - rod.y_mm) - far for x, y, far in (*rounds, *ties)]
        radius = min([DIAMETERS * half, *(gap - ROOM_MM for gap in room)])
        stands = radius >= half + LEAST_RING_MM and stub_mm(vehicle) >= OFF_MM + DISC_MM
        made.append(DiscPlace(rod.name, along, radius if stands else None, slots))
    return tuple(made)
