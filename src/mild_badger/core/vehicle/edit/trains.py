"""Trains by their keys, wherever they stand in the document, and the edits of one."""

from mild_badger.core.errors import DocumentError
from mild_badger.core.message import say
from mild_badger.core.vehicle.box import (
    Slot,
    Train,
    gear_key,
    second_key,
)
from mild_badger.core.vehicle.edit.change import Edit, Path
from mild_badger.core.vehicle.edit.slots import SLOTS
from mild_badger.core.vehicle.model import ChangeGear, Vehicle

__all__ = ["mark_change_gear", "set_shared", "train_at", "train_path", "trains_of"]


def trains_of(vehicle: Vehicle) -> dict[str, tuple[Path, Train]]:
    """Give every train of box, final drive and what they drive: its field and its pairs, by key."""
    trains: dict[str, tuple[Path, Train]] = {
        "final drive": (("final_drive", "pairs"), vehicle.final_drive.pairs)
    }
    if vehicle.display_engine is not None:
        trains["display engine"] = (("display_engine", "pairs"), vehicle.display_engine.pairs)
    if vehicle.lever_drive is not None:
        trains["lever drive"] = (("lever_drive", "pairs"), vehicle.lever_drive.pairs)
    for shared in vehicle.box.shared():
        trains[shared.key] = (("box", *shared.path), shared.train)
    for number, slot in enumerate(vehicle.box.slots):
        if isinstance(slot, Slot):
            trains[gear_key(slot.gear)] = ((*SLOTS, number, "train"), slot.train)
            trains[second_key(slot.gear)] = ((*SLOTS, number, "second"), slot.second)
    return trains


def train_path(vehicle: Vehicle, key: str) -> Path:
    """Find the field that holds a train: a gear's own, a shared one, or the final drive's pairs.

    Raises
    ------
    DocumentError
        There is no train of that name.
    """
    trains = trains_of(vehicle)
    if key not in trains:
        raise DocumentError(
            say("vehicle.this-vehicle-has-no-train-called", train_title=vehicle.train_title(key))
        )
    return trains[key][0]


def train_at(vehicle: Vehicle, key: str) -> Train:
    """Give the pairs of a train by its name; empty where there is none."""
    return trains_of(vehicle).get(key, ((), ()))[1]


def set_shared(vehicle: Vehicle, key: str, train: Train) -> Edit:
    """Give any train its pairs by the train's name."""
    return Edit.one(
        say("vehicle.change-the", train_title=vehicle.train_title(key)),
        train_path(vehicle, key),
        train,
    )


def mark_change_gear(vehicle: Vehicle, mark: ChangeGear | None) -> Edit:
    """Mark a place as the change gear, or take the mark away."""
    if mark is None:
        return Edit.one(say("vehicle.unmark-the-change-gear"), ("change_gear",), None)
    train_path(vehicle, mark.train)
    return Edit.one(
        say("vehicle.mark-the-change-gear-in-the", train_title=vehicle.train_title(mark.train)),
        ("change_gear",),
        mark,
    )
