"""How much contact undercut leaves: a rack that cuts into a flank's foot takes involute away.

Lengths mm.
"""

from functools import lru_cache
from math import acos, cos, pi, radians, sin, sqrt

from mild_badger.core.templates.gear_shape import GearForm, flank_start_mm

__all__ = ["contact_left"]


@lru_cache(maxsize=1024)
def contact_left(one: GearForm, other: GearForm, centre_mm: float) -> float:
    """Give the contact ratio of two gears where their undercut flanks end early.

    The contact ratio of ISO 21771, each tip's path along the line of action cut off where the
    mate's flank begins; 0 where the gears stand closer than their base circles allow.
    """
    cosine = (one.base_mm + other.base_mm) / centre_mm
    if cosine > 1:
        return 0.0
    line = centre_mm * sin(acos(cosine))
    paths = [
        min(_path_mm(gear, gear.tip_mm), line - _path_mm(mate, flank_start_mm(mate)))
        for gear, mate in ((one, other), (other, one))
    ]
    pitch = pi * one.module_mm * cos(radians(one.pressure_angle_deg))
    return max(sum(paths) - line, 0.0) / pitch


def _path_mm(gear: GearForm, radius_mm: float) -> float:
    """How far from its base circle a gear's flank at a radius touches the line of action."""
    return sqrt(max(radius_mm**2 - gear.base_mm**2, 0.0))
