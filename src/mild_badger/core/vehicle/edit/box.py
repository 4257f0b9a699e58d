"""Edits of the box as a whole, and of what only one architecture has."""

from mild_badger.core.errors import DocumentError
from mild_badger.core.message import say
from mild_badger.core.vehicle.box import LeverPlace, RangeSlot
from mild_badger.core.vehicle.boxes import (
    Box,
    LeverBox,
    RangeBox,
)
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.edit.slots import SLOTS
from mild_badger.core.vehicle.edit.trains import train_at
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.train import pair_ids

__all__ = [
    "add_range_pair",
    "apply_box",
    "set_fulcrum",
    "set_fulcrums",
    "set_range_place",
]


def apply_box(vehicle: Vehicle, box: Box, label: str = "") -> Edit:
    """Put another box in; a change-gear mark that it has no place for goes."""
    changes = [Change(("box",), box)]
    if box.lever is not None and vehicle.lever_drive is not None:
        if box == LeverBox():  # laid out blank, the one beside the box becomes the box
            box = box.model_copy(update={"drive": vehicle.lever_drive})
        changes = [Change(("box",), box), Change(("lever_drive",), None)]
    mark = vehicle.change_gear
    if mark is not None and mark.train != "final drive":
        after = vehicle.model_copy(update={"box": box})
        if mark.pair not in pair_ids(train_at(after, mark.train)):
            changes.append(Change(("change_gear",), None))
    return Edit(label or say("vehicle.take-the", title=box.title), tuple(changes))


def set_range_place(vehicle: Vehicle, gear: str, *, splitter: int, range_: int) -> Edit:
    """Say which splitter pair and which range pair make a gear.

    Raises
    ------
    DocumentError
        The box is no range × splitter box.
    """
    box = RangeBox.of(vehicle.box)
    if box is None:
        raise DocumentError(say("vehicle.only-a-range-splitter-box-has-splitter-and"))
    slot = RangeSlot.model_construct(gear=gear, splitter=splitter, range=range_, kept=False)
    slots = [slot if s.gear == gear else s for s in box.slots]
    if box.slot(gear) is None:
        slots.append(slot)
    return Edit.one(say("vehicle.place-gear", gear_name=vehicle.gear_name(gear)), SLOTS, slots)


def set_fulcrum(vehicle: Vehicle, gear: str, mm: float) -> Edit:
    """Say where the fulcrum stands in a gear.

    Raises
    ------
    DocumentError
        The box is no lever drive.
    """
    if vehicle.box.lever is None:
        raise DocumentError(say("vehicle.only-a-lever-drive-has-a-fulcrum-to-slide"))
    return set_fulcrums(vehicle, {gear: mm})


def set_fulcrums(vehicle: Vehicle, places: dict[str, float]) -> Edit:
    """Say where the fulcrum stands in several gears."""
    old = {slot.gear: slot for slot in vehicle.box.slots if isinstance(slot, LeverPlace)}
    made = {
        gear: LeverPlace.model_construct(
            gear=gear, fulcrum_mm=mm, kept=gear in old and old[gear].kept
        )
        for gear, mm in places.items()
    }
    order: list[str] = [gear.id for gear in vehicle.real.gears]
    slots = sorted((old | made).values(), key=lambda slot: order.index(slot.gear))
    return Edit.one(
        say("vehicle.place-the-fulcrum-in", listed=", ".join(map(vehicle.gear_name, places))),
        SLOTS,
        slots,
    )


def add_range_pair(vehicle: Vehicle, field: str) -> Edit:
    """Add an empty pair to the splitter or to the ranges.

    Raises
    ------
    DocumentError
        The box is no range × splitter box.
    """
    box = RangeBox.of(vehicle.box)
    if box is None:
        raise DocumentError(say("vehicle.only-a-range-splitter-box-has-splitter-and"))
    trains = box.splitter if field == "splitter" else box.ranges
    return Edit.one(
        say("vehicle.add-a-pair", removesuffix=field.removesuffix("s")),
        ("box", field),
        [*trains, ()],
    )
