"""Arms that rise from the forks' rails: where they stand, and what is in their way."""

import numpy as np
from numpy.typing import NDArray

from mild_badger.core.structure.forks import Fork
from mild_badger.core.structure.stack import Stack
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["ARM_ROOM_MM", "arm_span", "clear_of", "in_the_way"]

ARM_ROOM_MM = 1.0
"""Room between an arm and all else."""
PLAY_MM = 0.2
LEAST_ARM_MM = 1.0
"""The thinnest arm (an estimate, no source)."""
Floats = NDArray[np.float64]
Point = tuple[float, float]
Round = tuple[float, float, float]


def clear_of(rounds: Floats, start: Point, end: Point, half_mm: float) -> bool:
    """Whether a straight strip keeps off every round thing: rows of x, y and radius, mm.

    ``half_mm`` is half the strip's width, with the room that it keeps.
    """
    begin = np.array(start)
    way = np.array(end) - begin
    share = np.clip((rounds[:, :2] - begin) @ way / max(way @ way, 1e-9), 0.0, 1.0)
    apart = np.hypot(*(rounds[:, :2] - begin - share[:, None] * way).T)
    return bool(np.all(apart >= rounds[:, 2] + half_mm))


def arm_span(vehicle: Vehicle, stack: Stack, fork: Fork) -> tuple[float, float] | None:
    """Say from where to where an arm stands behind its fork; None where its slab has no room."""
    middle, thick = stack.middle_mm(fork.slab), vehicle.frame.fork_mm
    start = middle + thick / 2 + PLAY_MM
    room = stack.edges_mm[fork.slab + 1] - PLAY_MM - vehicle.lever.fork_travel_mm - start
    wide = min(thick, room)
    return (start, start + wide) if wide >= LEAST_ARM_MM else None


def in_the_way(
    vehicle: Vehicle,
    stack: Stack,
    forks: tuple[Fork, ...],
    own: Fork,
    around: tuple[tuple[float, float], tuple[Round, ...]],
) -> Floats:
    """List what an arm passes as it slides: gears, shafts, tie rods, other forks, their rails."""
    (start, end), ties = around
    travel = vehicle.lever.fork_travel_mm
    start, end = start - travel, end + travel
    radius = vehicle.kit.shaft_diameter_mm / 2

    def passes(slab: int, last: int) -> bool:
        return stack.edges_mm[slab] < end and start < stack.edges_mm[last + 1]

    others = [fork for fork in forks if fork is not own]
    rounds = [(stack.rods[d.shaft], d.radius_mm) for d in stack.discs if passes(d.slab, d.slab)]
    rods = (*stack.rods.values(), *(fork.rail for fork in others))
    rounds += [(rod, radius) for rod in rods if passes(rod.first, rod.last)]
    rows = [(rod.x_mm, rod.y_mm, far) for rod, far in rounds]
    rows += list(ties)
    rows += [
        (x, y, 0.0) for fork in others if passes(fork.slab, fork.slab) for x, y in fork.outline
    ]
    return np.array(rows or [(1e9, 1e9, 0.0)])
