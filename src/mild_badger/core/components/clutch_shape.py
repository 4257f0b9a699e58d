"""Outlines of a one-way clutch: a ratchet wheel, and a ring whose pawls lie in its gaps.

Seen from the input end, angles anticlockwise. Sizes that nothing gives are estimates, no source.
"""

from dataclasses import dataclass
from math import cos, pi, sin

from mild_badger.core.components.component import Outline, Point
from mild_badger.core.components.solids import circle

__all__ = ["ClutchShape", "clutch_shape"]

TEETH, PAWLS = 12, 3
RING_MM, GAP_MM = 1.5, 0.4
"""How thick the ring is, and its room over the wheel's tips."""
DEEP_MM, LEAST_RIM_MM = 2.0, 1.0
"""How deep teeth are, and least material round the bore."""
ROOM_MM = 0.2
"""Room between a pawl and the tooth that it lies in."""
STEPS = 6


@dataclass(frozen=True)
class ClutchShape:
    """The wheel's outline, the ring's inside, and its pawls, from the ring into the gaps."""

    wheel: Outline
    inside: Outline
    pawls: tuple[Outline, ...]


def clutch_shape(outer_mm: float, shaft_mm: float, faces: int) -> ClutchShape:
    """Give the outlines of a clutch.

    Parameters
    ----------
    outer_mm
        Outer radius of the ring.
    shaft_mm
        Radius of the shaft within.
    faces
        The way in which the wheel's steep faces look: +1 clockwise.

    A face rises at the end of every pitch; from there the back falls along a straight radius law.
    """
    inside = outer_mm - RING_MM
    tip = inside - GAP_MM
    root = max(tip - DEEP_MM, shaft_mm + LEAST_RIM_MM)
    pitch = 2 * pi / TEETH

    def at(radius: float, turn: float) -> Point:
        return radius * cos(turn), faces * radius * sin(turn)

    def back(share: float) -> float:
        return tip - (tip - root) * share

    wheel = [
        at(back(step / STEPS), (number + step / STEPS) * pitch)
        for number in range(TEETH)
        for step in range(STEPS + 1)
    ]
    pawls = []
    for number in range(PAWLS):
        face = (number * TEETH // PAWLS + 1) * pitch
        clear = ROOM_MM / root
        start, end = face - pitch * 0.7, face - clear
        nose = [at(back(share) + ROOM_MM, face - pitch * (1 - share)) for share in (0.85, 0.6, 0.3)]
        pawls.append(
            (
                at(root + ROOM_MM, end),
                at(inside + RING_MM / 2, end),
                at(inside + RING_MM / 2, start),
                *nose[::-1],
            )
        )
    return ClutchShape(tuple(wheel), circle(inside), tuple(pawls))
