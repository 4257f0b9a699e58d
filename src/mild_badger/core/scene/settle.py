"""What turns on when another gear goes in: dogs fall into the next gaps, and no part jumps.

In any gear every body's angle is its turns for one of the motor times the motor's, but for what it
was ahead when the gear went in. All that the newly engaged sleeve drives is ahead by one and the
same motion, so it is moved by a share of that motion until the sleeve's dogs stand in gaps; meshes
stay in mesh all the while.
"""

from collections.abc import Mapping, Sequence
from math import tau

import numpy as np

from mild_badger.core.components.component import Component
from mild_badger.core.scene.mesh import Floats

__all__ = ["settled"]

NONE_RAD = 1e-9
SAME = 1e-12


def settled(
    parts: Sequence[Component],
    ahead: Floats,
    turns: Floats,
    travel: Mapping[str, float],
    dogs: int,
) -> Floats:
    """Give by how much each part is ahead once the sleeves' dogs have fallen in, rad.

    Parameters
    ----------
    parts
        The parts.
    ahead
        By how much each is ahead of what its turns give when the gear goes in, rad.
    turns
        By how much each turns for one turn of the motor in that gear, rad.
    travel
        How far the sleeves stand from neutral, mm.
    dogs
        Dogs of a sleeve. With two sleeves on the way all fall back to where nothing is ahead.
    """
    engaged = [sleeve for sleeve, by in travel.items() if by]
    if not engaged or not np.any(np.abs(ahead) > NONE_RAD):
        return ahead
    if len(engaged) > 1:
        return np.zeros(len(parts))
    lead = next((ahead[n] for n in _joined(parts, turns, engaged[0]) if _is(ahead[n])), 0.0)
    if not lead:
        return ahead
    pitch = tau / dogs
    share = round(float(lead) / pitch) * pitch / float(lead)
    return ahead * share


def _is(angle: float) -> bool:
    return abs(float(angle)) > NONE_RAD


def _joined(parts: Sequence[Component], turns: Floats, sleeve: str) -> list[int]:
    """List the sleeve, and the free gears on its shaft that turn as it does."""
    own = [n for n, p in enumerate(parts) if p.kind == "sleeve" and p.member == sleeve]
    shafts = {parts[n].shaft for n in own}
    return own + [
        n
        for n, p in enumerate(parts)
        if p.free
        and p.shaft in shafts
        and own
        and abs(float(turns[n]) - float(turns[own[0]])) < SAME
    ]
