"""By which way parts come in, and how far off they stand when a box is drawn apart.

Directions are of length 1 in the components' frame: x to the right, y upwards, z towards the input
end. What comes from the side comes straight from where it stands off the box's middle.
"""

from collections.abc import Collection, Mapping, Sequence
from math import hypot

import numpy as np
from numpy.typing import NDArray

from mild_badger.core.components.component import Component, along_to_z
from mild_badger.core.workshop.assembly import AssemblyPlan
from mild_badger.core.workshop.ways_out import SIDE

__all__ = ["apart_moves", "coming_moves", "spans_of"]

LIFT, LEAST_MM, FARTHEST_MM = 0.45, 40.0, 60.0
"""How far what comes now is held off: as a share of the box's length, at the least, at the most."""
ASIDE = 0.5
"""How much less far parts are drawn off to the side than along the box."""
Floats = NDArray[np.float64]


def _way(part: Component, way: int, middle: tuple[float, float]) -> tuple[float, float, float]:
    if way != SIDE:
        return 0.0, 0.0, along_to_z(1.0) * way
    left, low, right, high = part.reach_mm
    x, y = (left + right) / 2 - middle[0], (low + high) / 2 - middle[1]
    long = hypot(x, y)
    return (x / long, y / long, 0.0) if long > 1.0 else (0.0, 1.0, 0.0)


def spans_of(plan: AssemblyPlan, box: str) -> tuple[float, tuple[float, float]]:
    """Give how long a box is, mm, and where its middle is as seen from the input end."""
    parts = plan.box(box)
    if not parts:
        return LEAST_MM, (0.0, 0.0)
    length = max(part.to_mm for part in parts) - min(part.from_mm for part in parts)
    reach = np.array([part.reach_mm for part in parts])
    low, high = reach[:, :2].min(axis=0), reach[:, 2:].max(axis=0)
    middle = (low + high) / 2
    return max(length, LEAST_MM), (float(middle[0]), float(middle[1]))


def coming_moves(
    plan: AssemblyPlan, keys: Collection[str], way: int
) -> dict[str, tuple[float, float, float]]:
    """Give for parts that come in by a way how far off they stand before, mm in the frame."""
    moves: dict[str, tuple[float, float, float]] = {}
    for key in keys:
        part = plan.part(key)
        length, middle = spans_of(plan, part.box)
        x, y, z = _way(part, way, middle)
        far = min(LIFT * length, FARTHEST_MM)
        moves[key] = far * x, far * y, far * z
    return moves


def apart_moves(plan: AssemblyPlan, parts: Sequence[Component], spread: float) -> Floats:
    """Give how far parts (n, 3) are drawn off, mm: each along its way, later ones farther.

    ``spread`` is by how many of its lengths the last part of a box is drawn off; parts without a
    way stay.
    """
    ways: Mapping[str, tuple[int, float]] = {  # what comes on a shaft is drawn off it, too
        key: (step.way, step.number + number / len(step.keys))
        for step in plan.steps
        for number, key in enumerate(step.keys)
    }
    moves = np.zeros((len(parts), 3))
    for box in {part.box for part in parts}:
        own = [n for n, part in enumerate(parts) if part.box == box and part.key in ways]
        length, middle = spans_of(plan, box)
        numbers = [ways[parts[n].key][1] for n in own]
        first, last = min(numbers, default=0), max(numbers, default=1)
        for n in own:
            way, number = ways[parts[n].key]
            share = (number - first) / max(last - first, 1)
            far = spread * length * (share if way != SIDE else ASIDE)
            moves[n] = far * np.array(_way(parts[n], way, middle))
    return moves
