"""Spacers on the shafts of a placed box: how thick they may be.

Lengths mm.
"""

from collections.abc import Sequence
from typing import NamedTuple

from mild_badger.core.kit.part_sizes import BUSH_ROOM_MM, TUBE_MM
from mild_badger.core.layout.brackets import Post, posts_of
from mild_badger.core.layout.forks import Fork, forks_of
from mild_badger.core.layout.shaft_box import stack_for
from mild_badger.core.layout.shaft_lengths import StackPart, shaft_cuts
from mild_badger.core.layout.stack import Rod, Stack
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["Neighbours", "neighbours_of", "spacer_room_mm", "tight_spacers"]


class Neighbours(NamedTuple):
    """What stands beside shafts and is no gear: posts, and forks with what they travel."""

    posts: Sequence[Post]
    forks: Sequence[Fork]
    fork_reach_mm: float


def neighbours_of(vehicle: Vehicle, stack: Stack, forks: tuple[Fork, ...]) -> Neighbours:
    """Collect what a spacer must give way to."""
    reach = vehicle.frame.fork_mm / 2 + vehicle.lever.fork_travel_mm
    return Neighbours(posts_of(vehicle, stack, forks), forks, reach)


def spacer_room_mm(stack: Stack, rod: Rod, part: StackPart, beside: Neighbours) -> float:
    """Give how far a spacer may reach from its shaft's middle before it meets a neighbour."""
    from shapely.geometry import Point, Polygon  # noqa: PLC0415 - when a box has posts

    room = float("inf")
    for disc in stack.discs:
        apart = stack.apart_mm(rod.name, disc.shaft)
        start, end = stack.edges_mm[disc.slab], stack.edges_mm[disc.slab + 1]
        if disc.shaft != rod.name and apart and start < part.to_mm and part.from_mm < end:
            room = min(room, apart - disc.radius_mm - BUSH_ROOM_MM)
    standing = [(post.shaft, post.span_mm, post.outline) for post in beside.posts]
    for fork in beside.forks:
        middle = stack.middle_mm(fork.slab)
        span = (middle - beside.fork_reach_mm, middle + beside.fork_reach_mm)
        standing.append((fork.shaft, span, fork.outline))
    for shaft, (start, end), outline in standing:
        if shaft != rod.name and start < part.to_mm and part.from_mm < end:
            near = Polygon(outline).distance(Point(rod.x_mm, rod.y_mm))
            room = min(room, near - BUSH_ROOM_MM)
    return room


def tight_spacers(vehicle: Vehicle) -> tuple[str, ...]:
    """Name the shafts that have a gap where not even a thin tube goes in as a spacer."""
    stack = stack_for(vehicle)
    if stack is None:
        return ()
    beside = neighbours_of(vehicle, stack, forks_of(vehicle, stack))
    least = vehicle.kit.shaft_diameter_mm / 2 + TUBE_MM
    return tuple(
        dict.fromkeys(
            cut.name
            for cut in shaft_cuts(vehicle, stack)
            for part in cut.parts
            if part.kind == "spacer"
            and spacer_room_mm(stack, stack.rods[cut.name], part, beside) < least
        )
    )
