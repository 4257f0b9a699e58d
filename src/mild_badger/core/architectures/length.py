"""How long a box comes out along its shafts: an estimate before anything is placed."""

from mild_badger.core.architectures.registry import architecture_of
from mild_badger.core.vehicle.box import BoxBase
from mild_badger.core.vehicle.kit import Kit

__all__ = ["box_length_mm"]


def box_length_mm(box: BoxBase, kit: Kit) -> float:
    """Length of the stack in mm: a face width for each layer of gears and for each sleeve.

    Walls, spacers and end play are left out; the greatest face width of the kit counts.
    """
    widths = [gear.face_width_mm for gear in kit.gears]
    widths += [kit.made.face_width_mm] if kit.made is not None else []
    return max(widths, default=0.0) * architecture_of(box).layers(box)
