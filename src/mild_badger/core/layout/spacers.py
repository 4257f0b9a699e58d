"""Spacers on the shafts of a placed box: how thick they may be.

Lengths mm.
"""

from mild_badger.core.layout.shaft_lengths import StackPart
from mild_badger.core.layout.stack import Rod, Stack
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["TUBE_MM", "spacer_radius_mm", "spacer_room_mm"]

SPACER_MM = 2.5
"""How thick a spacer's ring is (an estimate, no source)."""
TUBE_MM = 0.8
"""The thinnest wall of a spacer (an estimate, no source)."""
BUSH_ROOM_MM = 0.2
"""How far a brick's bush stays within its unit, so that two lie side by side (no source)."""


def spacer_radius_mm(vehicle: Vehicle) -> float:
    """Give a spacer's outer radius; on a grid no more than leaves room for one beside it."""
    kit = vehicle.kit
    radius = vehicle.hole_mm(kit.shaft_diameter_mm, "running") / 2 + SPACER_MM
    return radius if kit.any_seat else min(radius, kit.grid_unit_mm / 2 - BUSH_ROOM_MM)


def spacer_room_mm(stack: Stack, rod: Rod, part: StackPart) -> float:
    """Give how far a spacer may reach from its shaft's middle before it meets a neighbour."""
    room = float("inf")
    for disc in stack.discs:
        apart = stack.apart_mm(rod.name, disc.shaft)
        start, end = stack.edges_mm[disc.slab], stack.edges_mm[disc.slab + 1]
        if disc.shaft != rod.name and apart and start < part.to_mm and part.from_mm < end:
            room = min(room, apart - disc.radius_mm - BUSH_ROOM_MM)
    return room
