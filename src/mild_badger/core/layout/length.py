"""How long a box comes out along its shafts: an estimate before anything is placed."""

from mild_badger.core.vehicle.box import Box, LeverBox, RangeBox, SlotBox, TwinLayshaftBox
from mild_badger.core.vehicle.kit import Kit

__all__ = ["box_length_mm"]


def box_length_mm(box: Box, kit: Kit) -> float:
    """Length of the stack in mm: a face width for each layer of gears and for each sleeve.

    Walls, spacers and end play are left out; the greatest face width of the kit counts.
    """
    widths = [gear.face_width_mm for gear in kit.gears]
    widths += [kit.made.face_width_mm] if kit.made is not None else []
    return max(widths, default=0.0) * _layers(box)


def _layers(box: Box) -> int:
    if isinstance(box, RangeBox):
        return len(box.splitter) + len(box.ranges) + box.sleeves
    if isinstance(box, SlotBox):
        sides = [
            max((max(len(s.train), len(s.second)) for s in box.slots if s.face == face), default=0)
            for face in ("front", "back")
        ]
        rows = 0 if box.columns < 2 else 1 + (box.feed == "rail")
        return sum(sides) + 1 + rows
    if isinstance(box, TwinLayshaftBox):
        longest = 0
        for layshaft in (0, 1):
            own = [slot for slot in box.slots if box.layshaft(slot.column) == layshaft]
            longest = max(longest, len(own) + len({slot.column for slot in own}))
        return longest + 1
    if isinstance(box, LeverBox):
        return len(box.drive.pairs) + box.drive.wheels
    paired = sum(1 for slot in box.slots if not slot.direct)
    return paired + box.sleeves + len(box.shared())
