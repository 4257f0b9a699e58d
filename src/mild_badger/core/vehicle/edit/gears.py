"""Edits of the list of target gears; their places in the box go with them."""

from collections.abc import Sequence

from mild_badger.core.errors import DocumentError
from mild_badger.core.ids import RESERVED, kept_ids
from mild_badger.core.message import say
from mild_badger.core.vehicle.box import MAX_GEARS, LeverPlace, RangeSlot, Slot, gear_key
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.edit.slots import SLOTS, with_places
from mild_badger.core.vehicle.model import GearTarget, Vehicle

__all__ = [
    "add_gear",
    "move_gear",
    "new_gear",
    "place_of_new",
    "remove_gear",
    "rename_gear",
    "set_gears",
    "set_ratio",
]


def rename_gear(vehicle: Vehicle, gear: str, name: str) -> Edit:
    """Call a gear something else; all that concerns it means it by its id."""
    row = next((n for n, g in enumerate(vehicle.real.gears) if g.id == gear), None)
    if row is None:
        raise DocumentError(say("vehicle.this-gear-is-no-longer-there"))
    label = say("vehicle.rename-gear", gear_name=vehicle.gear_name(gear))
    return Edit.one(label, ("real", "gears", row, "name"), name)


def add_gear(vehicle: Vehicle, gear: GearTarget) -> Edit:
    """Add a target, and an empty slot for it in the first free place where the box has places.

    Raises
    ------
    DocumentError
        The vehicle has as many gears as it can have.
    """
    if len(vehicle.real.gears) >= MAX_GEARS:
        raise DocumentError(
            say("vehicle.a-vehicle-has-at-most-gears-remove-one-first", max_gears=MAX_GEARS)
        )
    gears = list(vehicle.real.gears)
    gears.insert(place_of_new(vehicle, reverse=gear.reverse), gear)
    return Edit(say("vehicle.add-gear", name=gear.name), set_gears(vehicle, gears).changes)


def place_of_new(vehicle: Vehicle, *, reverse: bool) -> int:
    """Where a new gear goes in the list: a forward one behind the last forward one."""
    gears = vehicle.real.gears
    return next((n for n in range(len(gears), 0, -1) if reverse or not gears[n - 1].reverse), 0)


def move_gear(vehicle: Vehicle, row: int, by: int) -> Edit | None:
    """Move a gear up (negative) or down the list of targets; None where it is at the end."""
    gears = list(vehicle.real.gears)
    if not (0 <= row < len(gears) and 0 <= row + by < len(gears)):
        return None
    gear = gears.pop(row)
    gears.insert(row + by, gear)
    return Edit(say("vehicle.move-gear", name=gear.name), set_gears(vehicle, gears).changes)


def set_ratio(vehicle: Vehicle, row: int, ratio: float, *, reverse: bool) -> Edit:
    """Set a target's ratio, given as turns in per turn out; ``reverse`` makes it a reverse gear."""
    path = ("real", "gears", row)
    changes = [Change((*path, "ratio"), ratio)]
    if reverse:
        changes.append(Change((*path, "reverse"), True))
    return Edit(say("vehicle.set-the-ratio-of", name=vehicle.real.gears[row].name), tuple(changes))


def remove_gear(vehicle: Vehicle, gear: str) -> Edit:
    """Remove a target and its slot."""
    edit = set_gears(vehicle, [g for g in vehicle.real.gears if g.id != gear])
    return Edit(say("vehicle.remove-gear", gear_name=vehicle.gear_name(gear)), edit.changes)


def set_gears(vehicle: Vehicle, gears: list[GearTarget]) -> Edit:
    """Replace the whole list of targets; gears that stay keep their slots, new ones get one.

    Gears without an id are told apart as :func:`kept_ids` does: by position, or by name
    where rows came, went or moved.
    """
    gears = _identified(vehicle, gears)
    ids = {gear.id for gear in gears}
    box = vehicle.box
    slots: list[Slot] | list[Slot | RangeSlot | LeverPlace]
    slots = [slot for slot in box.slots if slot.gear in ids]
    if box.has_places:
        slots = with_places([s for s in slots if isinstance(s, Slot)], [g.id for g in gears])
    changes = [Change(("real", "gears"), gears), Change(SLOTS, slots)]
    gone = [gear.id for gear in vehicle.real.gears if gear.id not in ids]
    if gone:
        changes.append(Change(("retired_gears",), [*vehicle.retired_gears, *gone]))
        order = vehicle.shifting.drum.order
        if set(gone).intersection(order):
            kept = [gear for gear in order if gear not in gone]
            changes.append(Change(("shifting", "drum", "order"), kept))
    mark = vehicle.change_gear
    if mark is not None and mark.train in {gear_key(gear) for gear in gone}:
        changes.append(Change(("change_gear",), None))
    return Edit(say("vehicle.replace-the-targets"), tuple(changes))


def _identified(vehicle: Vehicle, gears: Sequence[GearTarget]) -> list[GearTarget]:
    """Give an id to the gears that have none yet."""
    given = {gear.id for gear in gears if gear.id}
    old = [("", "") if g.id in given else (g.id, g.name) for g in vehicle.real.gears]
    names = ["" if gear.id else gear.name for gear in gears]
    ids = kept_ids(old, names, {*RESERVED, *vehicle.retired_gears, *given})
    return [
        gear if gear.id else gear.model_copy(update={"id": made})
        for gear, made in zip(gears, ids, strict=True)
    ]


def new_gear(vehicle: Vehicle) -> GearTarget:
    """Make a target for one gear more: the next number, one step faster than the last."""
    names = {gear.name for gear in vehicle.real.gears}
    number = 1
    while str(number) in names:
        number += 1
    forward = [gear.ratio for gear in vehicle.real.gears if not gear.reverse]
    step = forward[-2] / forward[-1] if len(forward) > 1 else 1.3
    ratio = forward[-1] / step if forward else 1.0
    return GearTarget(name=str(number), ratio=min(max(round(ratio, 3), 0.01), 1000.0))
