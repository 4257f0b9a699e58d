"""What turns into something else at the end: rope on a spool, a nut on a screw, a rack, a ring."""

from math import pi
from typing import Literal

from mild_badger.core.vehicle.functions import OutputKind

__all__ = ["travel_per_turn"]


def travel_per_turn(kind: OutputKind, measure: float) -> tuple[float, Literal["mm", "turns"]]:
    """Give what one turn of an output's shaft does.

    Parameters
    ----------
    kind, measure
        A spool's diameter to the rope's middle or a pinion's pitch diameter m·z (mm): π d of rope
        or rack; a screw's lead, pitch times starts (mm); a slewing ring's turns in per turn out;
        a plain shaft turns as it is.
    """
    match kind:
        case "spool" | "rack":
            return pi * measure, "mm"
        case "screw":
            return measure, "mm"
        case "ring":
            return 1 / measure, "turns"
        case _:
            return 1.0, "turns"
