"""Spacers on the shafts of a placed box: how thick they may be.

Lengths mm.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

from mild_badger.core.kit.part_sizes import BUSH_ROOM_MM, TUBE_MM
from mild_badger.core.structure.brackets import Post, posts_of
from mild_badger.core.structure.forks import Fork, forks_of
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.structure.shaft_lengths import StackPart, shaft_cuts
from mild_badger.core.structure.stack import Rod, Stack
from mild_badger.core.vehicle.model import Vehicle

if TYPE_CHECKING:
    from shapely.geometry import Polygon

__all__ = ["Neighbour", "beside_shafts", "neighbours_of", "spacer_room_mm", "tight_spacers"]


@dataclass(frozen=True)
class Neighbour:
    """A post, or a fork with what it travels: its shaft, where it reaches along, its shape."""

    shaft: str
    span_mm: tuple[float, float]
    shape: "Polygon"


def neighbours_of(
    stack: Stack, posts: Sequence[Post], forks: Sequence[Fork], fork_reach_mm: float
) -> tuple[Neighbour, ...]:
    """Collect what a spacer must give way to; a fork reaches so far either way from its middle."""
    from shapely.geometry import Polygon  # noqa: PLC0415 - loaded when a box is placed

    made = [Neighbour(post.shaft, post.span_mm, Polygon(post.outline)) for post in posts]
    for fork in forks:
        middle = stack.middle_mm(fork.slab)
        span = (middle - fork_reach_mm, middle + fork_reach_mm)
        made.append(Neighbour(fork.shaft, span, Polygon(fork.outline)))
    return tuple(made)


def beside_shafts(vehicle: Vehicle, stack: Stack, forks: tuple[Fork, ...]) -> tuple[Neighbour, ...]:
    """Collect the posts and forks of a placed box."""
    reach = vehicle.frame.fork_mm / 2 + vehicle.lever.fork_travel_mm
    return neighbours_of(stack, posts_of(vehicle, stack, forks), forks, reach)


def spacer_room_mm(stack: Stack, rod: Rod, part: StackPart, beside: Sequence[Neighbour]) -> float:
    """Give how far a spacer may reach from its shaft's middle before it meets a neighbour."""
    from shapely.geometry import Point  # noqa: PLC0415 - loaded when a box is placed

    room = float("inf")
    for disc in stack.discs:
        apart = stack.apart_mm(rod.name, disc.shaft)
        start, end = stack.edges_mm[disc.slab], stack.edges_mm[disc.slab + 1]
        if disc.shaft != rod.name and apart and start < part.to_mm and part.from_mm < end:
            room = min(room, apart - disc.radius_mm - BUSH_ROOM_MM)
    for other in beside:
        start, end = other.span_mm
        if other.shaft != rod.name and start < part.to_mm and part.from_mm < end:
            near = other.shape.distance(Point(rod.x_mm, rod.y_mm))
            room = min(room, near - BUSH_ROOM_MM)
    return room


def tight_spacers(vehicle: Vehicle) -> tuple[str, ...]:
    """Name the shafts that have a gap where not even a thin tube goes in as a spacer."""
    stack = stack_for(vehicle)
    if stack is None:
        return ()
    beside = beside_shafts(vehicle, stack, forks_of(vehicle, stack))
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
