"""Edits of what serves a gear: its place, its trains, whether it is kept."""

from typing import Any

from mild_badger.core.errors import DocumentError
from mild_badger.core.message import say
from mild_badger.core.vehicle.box import Slot, Train
from mild_badger.core.vehicle.boxes import (
    SlottedBox,
    free_place,
)
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle

__all__ = [
    "SLOTS",
    "keep_train",
    "keepable",
    "move_slot",
    "set_direct",
    "set_second",
    "set_train",
    "set_trains",
    "with_places",
]


SLOTS = ("box", "slots")


def with_places(slots: list[Slot], gears: list[str]) -> list[Slot]:
    """Give every gear that has none a slot in the first free place."""
    placed = list(slots)
    for gear in gears:
        if all(slot.gear != gear for slot in placed):
            column, face = free_place(tuple(placed))
            placed.append(Slot.model_construct(gear=gear, column=column, face=face))
    return placed


def set_train(vehicle: Vehicle, gear: str, train: Train) -> Edit:
    """Give one gear a train."""
    edit = set_trains(vehicle, {gear: train})
    return Edit(say("vehicle.change-the-train-of", gear_name=vehicle.gear_name(gear)), edit.changes)


def set_trains(
    vehicle: Vehicle,
    trains: dict[str, Train],
    label: str = say("vehicle.take-the-set"),
    *,
    seconds: dict[str, Train] | None = None,
) -> Edit:
    """Give several gears their trains; gears without a slot get the first free place.

    ``seconds`` are the other branches of gears with a summing differential; a gear without one
    has a plain train.

    Raises
    ------
    DocumentError
        The box is one whose gears have no trains of their own.
    """
    slots = []
    for slot in with_places(list(_slotted(vehicle).slots), list(trains)):
        update: dict[str, Any] = {}
        if slot.gear in trains:
            second = (seconds or {}).get(slot.gear, ())
            update = {"train": trains[slot.gear], "second": second, "direct": False}
        slots.append(slot.model_copy(update=update))
    return Edit.one(label, SLOTS, slots)


def set_direct(vehicle: Vehicle, gear: str, direct: bool) -> Edit:
    """Make a gear the direct drive, or no longer."""
    slots = [
        slot.model_copy(update={"direct": direct, "train": ()}) if slot.gear == gear else slot
        for slot in with_places(list(_slotted(vehicle).slots), [gear])
    ]
    name = vehicle.gear_name(gear)
    label = (
        say("vehicle.drive-directly", name=name)
        if direct
        else say("vehicle.no-longer-drive-directly", name=name)
    )
    return Edit.one(label, SLOTS, slots)


def set_second(vehicle: Vehicle, gear: str, train: Train) -> Edit:
    """Give a gear the second branch of a summing differential; an empty one takes it away."""
    slots = [
        slot.model_copy(update={"second": train}) if slot.gear == gear else slot
        for slot in _slotted(vehicle).slots
    ]
    return Edit.one(
        say("vehicle.change-the-second-train-of", gear_name=vehicle.gear_name(gear)), SLOTS, slots
    )


def keepable(vehicle: Vehicle, gear: str) -> bool:
    """Tell whether a gear has something to keep: a train of its own, or its two shared pairs."""
    slot = vehicle.box.slot(gear)
    return bool(slot.train) if isinstance(slot, Slot) else vehicle.box.ready(gear)


def keep_train(vehicle: Vehicle, gear: str, kept: bool) -> Edit:
    """Keep a gear's train when the set is searched, or let it go."""
    slots = [
        slot.model_copy(update={"kept": kept}) if slot.gear == gear else slot
        for slot in vehicle.box.slots
    ]
    return Edit.one(
        say(
            "vehicle.gear-2",
            word=say("vehicle.keep") if kept else say("vehicle.let-go-of"),
            gear_name=vehicle.gear_name(gear),
        ),
        SLOTS,
        slots,
    )


def move_slot(vehicle: Vehicle, gear: str, column: int, face: str) -> Edit:
    """Move a gear to another place; a gear that is there already changes places with it."""
    box = _slotted(vehicle)
    moving = box.slot(gear)
    slots = []
    for slot in box.slots:
        update: dict[str, Any] = {}
        if slot.gear == gear:
            update = {"column": column, "face": face}
        elif moving and (slot.column, slot.face) == (column, face):
            update = {"column": moving.column, "face": moving.face}
        slots.append(slot.model_copy(update=update))
    return Edit.one(say("vehicle.move-gear-2", gear_name=vehicle.gear_name(gear)), SLOTS, slots)


def _slotted(vehicle: Vehicle) -> SlottedBox:
    box = SlottedBox.of(vehicle.box)
    if box is not None:
        return box
    if not vehicle.box.geared:
        raise DocumentError(say("vehicle.there-is-no-box-lay-one-out-on-the-tab"))
    if vehicle.box.lever is None:
        raise DocumentError(say("vehicle.in-a-range-splitter-box-a-gear-has-no-train"))
    raise DocumentError(say("vehicle.in-a-lever-drive-a-gear-is-a-place-of-the"))
