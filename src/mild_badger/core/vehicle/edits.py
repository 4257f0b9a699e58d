"""Applying edits, and the edits that touch more than one field at once."""

from typing import Any

from pydantic import BaseModel, ValidationError

from mild_badger.core.changes import Change, Edit, Path
from mild_badger.core.errors import DocumentError
from mild_badger.core.vehicle.codec import explain, field_name
from mild_badger.core.vehicle.model import (
    MAX_GEARS,
    GearTarget,
    Slot,
    Train,
    Vehicle,
)

__all__ = [
    "add_gear",
    "apply_edit",
    "free_place",
    "keep_train",
    "move_slot",
    "new_gear",
    "remove_gear",
    "rename_gear",
    "set_gears",
    "set_train",
    "set_trains",
]


def apply_edit(vehicle: Vehicle, edit: Edit) -> Vehicle:
    """Make the vehicle that an edit leads to; the old one stays as it is.

    Raises
    ------
    DocumentError
        The edit names a field that is not there, or a value that cannot be used.
    """
    data = vehicle.model_dump(mode="json")
    for change in edit.changes:
        _put(data, change.path, _plain(change.value))
    try:
        return Vehicle.model_validate(data)
    except ValidationError as error:
        raise DocumentError(explain(error)) from error


def rename_gear(vehicle: Vehicle, old: str, new: str) -> Edit:
    """Rename a gear in its target and in its slot."""
    gears = [
        gear.model_copy(update={"name": new}) if gear.name == old else gear
        for gear in vehicle.real.gears
    ]
    slots = [
        slot.model_copy(update={"gear": new}) if slot.gear == old else slot
        for slot in vehicle.box.slots
    ]
    return Edit(
        f"Rename gear {old}",
        (Change(("real", "gears"), gears), Change(("box", "slots"), slots)),
    )


def add_gear(vehicle: Vehicle, gear: GearTarget) -> Edit:
    """Add a target, and an empty slot for it in the first free place.

    Raises
    ------
    DocumentError
        The vehicle has as many gears as it can have.
    """
    if len(vehicle.real.gears) >= MAX_GEARS:
        raise DocumentError(f"A vehicle has at most {MAX_GEARS} gears; remove one first.")
    column, face = free_place(vehicle.box.slots)
    slot = Slot.model_construct(gear=gear.name, column=column, face=face, train=())
    return Edit(
        f"Add gear {gear.name}",
        (
            Change(("real", "gears"), [*vehicle.real.gears, gear]),
            Change(("box", "slots"), [*vehicle.box.slots, slot]),
        ),
    )


def remove_gear(vehicle: Vehicle, name: str) -> Edit:
    """Remove a target and its slot."""
    return Edit(
        f"Remove gear {name}",
        (
            Change(("real", "gears"), [g for g in vehicle.real.gears if g.name != name]),
            Change(("box", "slots"), [s for s in vehicle.box.slots if s.gear != name]),
        ),
    )


def set_gears(vehicle: Vehicle, gears: list[GearTarget]) -> Edit:
    """Replace the whole list of targets; gears that stay keep their slots, new ones get one."""
    names = {gear.name for gear in gears}
    slots = [slot for slot in vehicle.box.slots if slot.gear in names]
    for gear in gears:
        if all(slot.gear != gear.name for slot in slots):
            column, face = free_place(tuple(slots))
            slots.append(Slot(gear=gear.name, column=column, face=face))
    return Edit(
        "Replace the targets", (Change(("real", "gears"), gears), Change(("box", "slots"), slots))
    )


def set_train(vehicle: Vehicle, gear: str, train: Train) -> Edit:
    """Give one gear a train."""
    edit = set_trains(vehicle, {gear: train})
    return Edit(f"Change the train of {gear}", edit.changes)


def set_trains(vehicle: Vehicle, trains: dict[str, Train], label: str = "Take the set") -> Edit:
    """Give several gears their trains; gears without a slot get the first free place."""
    slots = []
    left = dict(trains)
    for slot in vehicle.box.slots:
        train = left.pop(slot.gear, slot.train)
        slots.append(slot.model_copy(update={"train": train}))
    for gear, train in left.items():
        column, face = free_place(tuple(slots))
        slots.append(Slot(gear=gear, column=column, face=face, train=train))
    return Edit.one(label, ("box", "slots"), slots)


def keep_train(vehicle: Vehicle, gear: str, kept: bool) -> Edit:
    """Keep a gear's train when the set is searched, or let it go."""
    slots = [
        slot.model_copy(update={"kept": kept}) if slot.gear == gear else slot
        for slot in vehicle.box.slots
    ]
    return Edit.one(f"{'Keep' if kept else 'Let go of'} gear {gear}", ("box", "slots"), slots)


def move_slot(vehicle: Vehicle, gear: str, column: int, face: str) -> Edit:
    """Move a gear to another place; a gear that is there already changes places with it."""
    moving = vehicle.box.slot(gear)
    slots = []
    for slot in vehicle.box.slots:
        update: dict[str, Any] = {}
        if slot.gear == gear:
            update = {"column": column, "face": face}
        elif moving and (slot.column, slot.face) == (column, face):
            update = {"column": moving.column, "face": moving.face}
        slots.append(slot.model_copy(update=update))
    return Edit.one(f"Move gear {gear}", ("box", "slots"), slots)


def free_place(slots: tuple[Slot, ...]) -> tuple[int, Any]:
    """Find the first place no slot takes, front before back, column by column."""
    taken = {(slot.column, slot.face) for slot in slots}
    column = 1
    while True:
        for face in ("front", "back"):
            if (column, face) not in taken:
                return column, face
        column += 1


def _plain(value: Any) -> Any:
    if isinstance(value, BaseModel):
        return value.model_dump(mode="json", warnings=False)
    if isinstance(value, list | tuple):
        return [_plain(item) for item in value]
    return value


def _put(data: Any, path: Path, value: Any) -> None:
    here = data
    for step in path[:-1]:
        try:
            here = here[step]
        except (KeyError, IndexError, TypeError):
            raise DocumentError(f"{field_name(path)}: there is no such field.") from None
    last = path[-1]
    known = last in here if isinstance(here, dict) else isinstance(last, int) and last < len(here)
    if not known:
        raise DocumentError(f"{field_name(path)}: there is no such field.")
    here[last] = value


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
