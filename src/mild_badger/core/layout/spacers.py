"""Spacers on the shafts of a placed box: how thick they may be.

Lengths mm.
"""

from mild_badger.core.kit.part_sizes import BUSH_ROOM_MM
from mild_badger.core.layout.shaft_lengths import StackPart
from mild_badger.core.layout.stack import Rod, Stack

__all__ = ["spacer_room_mm"]


def spacer_room_mm(stack: Stack, rod: Rod, part: StackPart) -> float:
    """Give how far a spacer may reach from its shaft's middle before it meets a neighbour."""
    room = float("inf")
    for disc in stack.discs:
        apart = stack.apart_mm(rod.name, disc.shaft)
        start, end = stack.edges_mm[disc.slab], stack.edges_mm[disc.slab + 1]
        if disc.shaft != rod.name and apart and start < part.to_mm and part.from_mm < end:
            room = min(room, apart - disc.radius_mm - BUSH_ROOM_MM)
    return room
