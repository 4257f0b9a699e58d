"""Shafts bent by the motor's stall torque, drawn larger than they are.

A shaft's corners go as far as the shaft bends where they are; what sits on it goes along whole.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import floor, log10

import numpy as np

from mild_badger.core.components.component import Component, along_to_z
from mild_badger.core.layout.shaft_deflection import shaft_bends
from mild_badger.core.scene.mesh import Floats, Scene
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["Bending", "bending_of", "bent_corners"]

SAMPLE_MM = 4.0
DRAWN_MM = 7.0
"""How far the most bent shaft is drawn from where it lies."""
LEAST_MM = 1e-4
CARRIED = frozenset({"gear", "sleeve", "hub", "spacer", "fork", "ratchet wheel", "pawl ring"})


@dataclass(frozen=True, eq=False)
class Bending:
    """For every loaded shaft where it is looked at, mm, and how far it bends there, mm (n, 2).

    ``most_mm`` is the largest of all, of the ``shaft``; it is drawn ``factor`` times as large.
    """

    shafts: Mapping[str, tuple[Floats, Floats]]
    most_mm: float
    shaft: str
    factor: float


def bending_of(vehicle: Vehicle, gear: str | None, parts: Sequence[Component]) -> Bending | None:
    """Bend the shafts of a gear's way; None in neutral, or where nothing bends."""
    stack = stack_for(vehicle)
    if gear is None or stack is None:
        return None
    places = {
        part.shaft: tuple(
            float(at)
            for at in np.linspace(part.from_mm, part.to_mm, max(int(part.length_mm / SAMPLE_MM), 2))
        )
        for part in parts
        if part.kind == "shaft" and not part.box and part.shaft in stack.rods
    }
    shafts = {
        shaft: (np.array(places[shaft]), bends)
        for shaft, bends in shaft_bends(vehicle, stack, gear, places).items()
    }
    most = {s: float(np.hypot(b[:, 0], b[:, 1]).max()) for s, (_, b) in shafts.items()}
    worst = max(most, key=lambda shaft: most[shaft], default="")
    if not worst or most[worst] < LEAST_MM:
        return None
    return Bending(shafts, most[worst], worst, _round(DRAWN_MM / most[worst]))


def _round(factor: float) -> float:
    """Round a factor down to 1, 2 or 5 times a power of ten; never less than true."""
    power = 10.0 ** floor(log10(factor)) if factor > 0 else 1.0
    step = max(n for n in (1.0, 2.0, 5.0) if n * power <= factor * (1 + 1e-9))
    return max(step * power, 1.0)


def bent_corners(
    corners: Floats, scene: Scene, parts: Sequence[Component], bending: Bending
) -> Floats:
    """Move the corners of shafts that bend, and of what they carry, by the drawn bending."""
    moved = corners.copy()
    for number, part in enumerate(parts):
        bend = bending.shafts.get(part.shaft)
        if bend is None or part.box or (part.kind != "shaft" and part.kind not in CARRIED):
            continue
        places, shifts = bend
        start, end = scene.starts[number], scene.starts[number + 1]
        own = corners[start:end]
        if part.kind == "shaft":
            along = own[:, 2] / along_to_z(1.0)
        else:
            middle = own[:, 2].mean() / along_to_z(1.0)
            along = np.full(len(own), middle)
        for axis in (0, 1):
            moved[start:end, axis] += bending.factor * np.interp(along, places, shifts[:, axis])
    return moved
