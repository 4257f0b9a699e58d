"""Which gear on which sleeve: the places that suit the actuator, as an edit."""

from collections.abc import Sequence

from mild_badger.core.errors import DocumentError
from mild_badger.core.message import say
from mild_badger.core.ratios.propose import joined, wanted_parity
from mild_badger.core.ratios.train import mesh_count
from mild_badger.core.shift.gate import forward_face, left_rail
from mild_badger.core.vehicle.box import Face, Slot
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.edit.slots import SLOTS
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["place_reason", "propose_places"]

Pairing = list[list[str]]


def place_reason(vehicle: Vehicle) -> str:
    """Say what the proposed places go by."""
    if vehicle.shifting.actuation == "drum":
        return say("shift.neighbours-of-the-shift-order-on-different")
    return say("shift.neighbours-of-the-shift-order-on-one-sleeve")


def propose_places(vehicle: Vehicle) -> Edit:
    """Give every gear the place that suits the actuator, trains turned over where they must be.

    On two parallel layshafts every gear stays on its layshaft, as its ratio hangs on it; in a slot
    box with one input shaft sleeves go where most of their trains turn the right way, and the
    others get an idler more or less.

    Raises
    ------
    DocumentError
        The box is one whose gears have no places of their own.
    """
    box = vehicle.box
    if not box.has_places:
        raise DocumentError(say("shift.in-a-range-splitter-box-two-pairs-share-a"))
    apart = vehicle.shifting.actuation == "drum"
    slides = box.slides
    order = [gear.id for gear in vehicle.real.gears if box.slot(gear.id) is not None]
    back = {gear.id for gear in vehicle.real.gears if gear.reverse}
    places: dict[str, tuple[int, Face]] = {}
    if (side_by_side := box.layshafts) > 1:
        for number in range(side_by_side):
            on = [
                gear
                for gear in order
                if isinstance(slot := box.slot(gear), Slot)
                and (slot.column - 1) % side_by_side == number
            ]
            sleeves = _sleeves(on, back, apart=apart, slides=False)
            columns = [side_by_side * n + 1 + number for n in range(len(sleeves))]
            places |= _faces(vehicle, sleeves, columns)
    else:
        sleeves = _sleeves(order, back, apart=apart, slides=slides)
        places = _faces(vehicle, sleeves, _columns(vehicle, sleeves))
    slots = [
        slot.model_copy(update=dict(zip(("column", "face"), places[slot.gear], strict=True)))
        for slot in box.slots
    ]
    moved = apply_edit(vehicle, Edit.one("", SLOTS, slots))
    if moved.box.free_trains:
        slots = [_turned(moved, slot) for slot in moved.box.slots if isinstance(slot, Slot)]
    changes = [Change(SLOTS, slots)]
    if vehicle.shifting.actuation == "gate":
        changes.append(Change(("lever", "first_rail"), left_rail(vehicle)))
    return Edit(say("shift.place-the-gears-for-the-shifter"), tuple(changes))


def _sleeves(order: Sequence[str], back: set[str], *, apart: bool, slides: bool) -> Pairing:
    """Share gears out to sleeves, two each at most."""
    forward = [gear for gear in order if gear not in back]
    behind = [gear for gear in order if gear in back]
    sleeves: Pairing = []
    if slides and not apart and forward and behind:  # one slider serves reverse and first
        rest = forward[1:]
        pairs = [rest[n : n + 2] for n in range(0, len(rest), 2)]
        return [[behind[0], forward[0]], *pairs, *([gear] for gear in behind[1:])]
    if apart:
        for four in (forward[n : n + 4] for n in range(0, len(forward), 4)):
            sleeves += [list(four[0::2]), list(four[1::2])]
        sleeves = [sleeve for sleeve in sleeves if sleeve]
    else:
        sleeves = [forward[n : n + 2] for n in range(0, len(forward), 2)]
    for gear in behind:
        last = sleeves[-1] if sleeves else []
        # next to first gear reverse would be in the way; elsewhere it takes what is free
        if len(last) == 1 and (last[0] in back or last[0] != forward[0]):
            last.append(gear)
        else:
            sleeves.append([gear])
    return sleeves


def _faces(
    vehicle: Vehicle, sleeves: Pairing, columns: Sequence[int]
) -> dict[str, tuple[int, Face]]:
    """Place each sleeve's first gear where the knob goes forwards, the second one behind.

    A direct gear's coupling is next to the input, whichever of the two it is.
    """
    ahead: Face = forward_face(vehicle) if vehicle.shifting.actuation == "gate" else "front"
    faces: tuple[Face, Face] = (ahead, "back" if ahead == "front" else "front")
    fixed: tuple[Face, Face] = ("front", "back")
    return {
        gear: (column, face)
        for sleeve, column in zip(sleeves, columns, strict=True)
        for gear, face in zip(
            sorted(sleeve, key=lambda g: not _direct(vehicle, g)),
            fixed if any(_direct(vehicle, g) for g in sleeve) else faces,
            strict=False,
        )
    }


def _direct(vehicle: Vehicle, gear: str) -> bool:
    slot = vehicle.box.slot(gear)
    return isinstance(slot, Slot) and slot.direct


def _columns(vehicle: Vehicle, sleeves: Pairing) -> list[int]:
    """Choose the columns: in order, but where one input shaft feeds all by the trains' meshes."""
    count = len(sleeves)
    if not vehicle.box.alternates:
        return list(range(1, count + 1))
    left = list(range(1, count + 1))
    columns = []
    for sleeve in sleeves:
        best = min(left, key=lambda column: (_wrong(vehicle, sleeve, column), column))
        columns.append(best)
        left.remove(best)
    return columns


def _wrong(vehicle: Vehicle, sleeve: list[str], column: int) -> int:
    """How many of a sleeve's trains would turn the wrong way in a column."""
    wrong = 0
    for gear in sleeve:
        slot, target = vehicle.box.slot(gear), vehicle.gear(gear)
        if isinstance(slot, Slot) and slot.train and target is not None:
            odd = (mesh_count(slot.train) + (column % 2 == 0) + target.reverse) % 2
            wrong += odd
    return wrong


def _turned(vehicle: Vehicle, slot: Slot) -> Slot:
    parity = wanted_parity(vehicle, slot.gear)
    if slot.second or not slot.train or mesh_count(slot.train) % 2 == parity:
        return slot
    train = joined(vehicle, slot.train, parity)
    return slot.model_copy(update={"train": train}) if train else slot
