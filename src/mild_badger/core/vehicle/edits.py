"""Applying edits, and the edits that touch more than one field at once."""

from collections.abc import Sequence
from typing import Any

from pydantic import BaseModel, ValidationError

from mild_badger.core.changes import Change, Edit, Path
from mild_badger.core.errors import DocumentError
from mild_badger.core.ids import RESERVED, kept_ids
from mild_badger.core.vehicle.box import (
    ARCHITECTURES,
    MAX_GEARS,
    Box,
    Face,
    LayshaftBox,
    LeverBox,
    LeverPlace,
    RangeBox,
    RangeSlot,
    Slot,
    SlotBox,
    Train,
    TwinLayshaftBox,
    TwoShaftBox,
    gear_key,
    second_key,
)
from mild_badger.core.vehicle.codec import explain
from mild_badger.core.vehicle.labels import field_label
from mild_badger.core.vehicle.model import ChangeGear, GearTarget, Vehicle
from mild_badger.core.vehicle.train import identified_train, pair_ids

__all__ = [
    "add_gear",
    "add_range_pair",
    "apply_edit",
    "blank_box",
    "free_place",
    "keep_train",
    "keepable",
    "mark_change_gear",
    "move_gear",
    "move_slot",
    "new_gear",
    "place_of_new",
    "remove_gear",
    "rename_gear",
    "set_direct",
    "set_fulcrum",
    "set_fulcrums",
    "set_gears",
    "set_range_place",
    "set_ratio",
    "set_second",
    "set_shared",
    "set_train",
    "set_trains",
    "take_box",
    "train_at",
    "train_path",
    "trains_of",
    "with_places",
]

SLOTS = ("box", "slots")


def apply_edit(vehicle: Vehicle, edit: Edit) -> Vehicle:
    """Make the vehicle that an edit leads to; the old one stays as it is.

    Only the parts that the edit touches are copied and checked anew; the others, kept versions,
    readings and the log among them, are shared with the old vehicle.

    Raises
    ------
    DocumentError
        The edit names a field that is not there, or a value that cannot be used.
    """
    data: dict[str, Any] = {name: getattr(vehicle, name) for name in Vehicle.model_fields}
    inside = {str(change.path[0]) for change in edit.changes if len(change.path) > 1}
    data |= vehicle.model_dump(mode="json", include=inside & set(data))
    for change in edit.changes:
        _put(data, change.path, _plain(change.value))
    try:
        made = Vehicle.model_validate(data)
    except ValidationError as error:
        raise DocumentError(explain(error, data)) from error
    touched = {change.path[0] for change in edit.changes}
    return _with_pair_ids(vehicle, made) if touched & HOLD_TRAINS else made


HOLD_TRAINS = {"box", "final_drive", "display", "lever_drive"}


def trains_of(vehicle: Vehicle) -> dict[str, tuple[Path, Train]]:
    """Give every train of box, final drive and what they drive: its field and its pairs, by key."""
    trains: dict[str, tuple[Path, Train]] = {
        "final drive": (("final_drive", "pairs"), vehicle.final_drive.pairs)
    }
    if vehicle.display is not None:
        trains["display engine"] = (("display", "pairs"), vehicle.display.pairs)
    if vehicle.lever_drive is not None:
        trains["lever drive"] = (("lever_drive", "pairs"), vehicle.lever_drive.pairs)
    for shared in vehicle.box.shared():
        trains[shared.key] = (("box", *shared.path), shared.train)
    for number, slot in enumerate(vehicle.box.slots):
        if isinstance(slot, Slot):
            trains[gear_key(slot.gear)] = ((*SLOTS, number, "train"), slot.train)
            trains[second_key(slot.gear)] = ((*SLOTS, number, "second"), slot.second)
    return trains


def _with_pair_ids(old: Vehicle, new: Vehicle) -> Vehicle:
    """Let the pairs that a train had keep their ids, whatever was put before, between or behind."""
    before, made = trains_of(old), new
    gone = list(new.retired_pairs)
    for key, (path, train) in trains_of(new).items():
        had = before.get(key, ((), ()))[1]
        if had == train:
            continue
        kept = identified_train(had, train, new.retired_of(key))
        lost = set(pair_ids(had)) - set(pair_ids(kept))
        gone += sorted(f"{key}/{identity}" for identity in lost)
        if kept != train:
            made = _replaced(made, path, kept)
    if len(gone) > len(new.retired_pairs):
        made = made.model_copy(update={"retired_pairs": tuple(gone)})
    return made


def _replaced(node: Any, path: Path, value: Any) -> Any:
    """Put a value deep into frozen models and tuples."""
    if not path:
        return value
    step, rest = path[0], path[1:]
    if isinstance(node, tuple):
        number = int(step)
        return (*node[:number], _replaced(node[number], rest, value), *node[number + 1 :])
    return node.model_copy(update={str(step): _replaced(getattr(node, str(step)), rest, value)})


def rename_gear(vehicle: Vehicle, gear: str, name: str) -> Edit:
    """Call a gear something else; all that concerns it means it by its id."""
    row = next((n for n, g in enumerate(vehicle.real.gears) if g.id == gear), None)
    if row is None:
        raise DocumentError("This gear is no longer there.")
    label = f"Rename gear {vehicle.gear_name(gear)}"
    return Edit.one(label, ("real", "gears", row, "name"), name)


def add_gear(vehicle: Vehicle, gear: GearTarget) -> Edit:
    """Add a target, and an empty slot for it in the first free place where the box has places.

    Raises
    ------
    DocumentError
        The vehicle has as many gears as it can have.
    """
    if len(vehicle.real.gears) >= MAX_GEARS:
        raise DocumentError(f"A vehicle has at most {MAX_GEARS} gears; remove one first.")
    gears = list(vehicle.real.gears)
    gears.insert(place_of_new(vehicle, reverse=gear.reverse), gear)
    return Edit(f"Add gear {gear.name}", set_gears(vehicle, gears).changes)


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
    return Edit(f"Move gear {gear.name}", set_gears(vehicle, gears).changes)


def set_ratio(vehicle: Vehicle, row: int, ratio: float, *, reverse: bool) -> Edit:
    """Set a target's ratio, given as turns in per turn out; ``reverse`` makes it a reverse gear."""
    path = ("real", "gears", row)
    changes = [Change((*path, "ratio"), ratio)]
    if reverse:
        changes.append(Change((*path, "reverse"), True))
    return Edit(f"Set the ratio of {vehicle.real.gears[row].name}", tuple(changes))


def remove_gear(vehicle: Vehicle, gear: str) -> Edit:
    """Remove a target and its slot."""
    edit = set_gears(vehicle, [g for g in vehicle.real.gears if g.id != gear])
    return Edit(f"Remove gear {vehicle.gear_name(gear)}", edit.changes)


def set_gears(vehicle: Vehicle, gears: list[GearTarget]) -> Edit:
    """Replace the whole list of targets; gears that stay keep their slots, new ones get one.

    Gears without an id are told apart as :func:`kept_ids` does: by name, then by place.
    """
    gears = _identified(vehicle, gears)
    ids = {gear.id for gear in gears}
    box = vehicle.box
    slots: list[Slot] | list[RangeSlot | LeverPlace]
    if isinstance(box, RangeBox | LeverBox):
        slots = [slot for slot in box.slots if slot.gear in ids]
    else:
        slots = with_places([s for s in box.slots if s.gear in ids], [g.id for g in gears])
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
    return Edit("Replace the targets", tuple(changes))


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
    return Edit(f"Change the train of {vehicle.gear_name(gear)}", edit.changes)


def set_trains(
    vehicle: Vehicle,
    trains: dict[str, Train],
    label: str = "Take the set",
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
    label = f"Drive {name} directly" if direct else f"No longer drive {name} directly"
    return Edit.one(label, SLOTS, slots)


def train_path(vehicle: Vehicle, key: str) -> Path:
    """Find the field that holds a train: a gear's own, a shared one, or the final drive's pairs.

    Raises
    ------
    DocumentError
        There is no train of that name.
    """
    trains = trains_of(vehicle)
    if key not in trains:
        raise DocumentError(f"This vehicle has no train called {vehicle.train_title(key)}.")
    return trains[key][0]


def train_at(vehicle: Vehicle, key: str) -> Train:
    """Give the pairs of a train by its name; empty where there is none."""
    return trains_of(vehicle).get(key, ((), ()))[1]


def set_shared(vehicle: Vehicle, key: str, train: Train) -> Edit:
    """Give any train its pairs by the train's name."""
    return Edit.one(f"Change the {vehicle.train_title(key)}", train_path(vehicle, key), train)


def mark_change_gear(vehicle: Vehicle, mark: ChangeGear | None) -> Edit:
    """Mark a place as the change gear, or take the mark away."""
    if mark is None:
        return Edit.one("Take the change gear's mark away", ("change_gear",), None)
    train_path(vehicle, mark.train)
    return Edit.one(
        f"Mark the change gear in the {vehicle.train_title(mark.train)}", ("change_gear",), mark
    )


def take_box(vehicle: Vehicle, box: Box, label: str = "") -> Edit:
    """Put another box in; a change-gear mark that it has no place for goes."""
    changes = [Change(("box",), box)]
    if isinstance(box, LeverBox) and vehicle.lever_drive is not None:
        if box == LeverBox():  # laid out blank, the one beside the box becomes the box
            box = box.model_copy(update={"drive": vehicle.lever_drive})
        changes = [Change(("box",), box), Change(("lever_drive",), None)]
    mark = vehicle.change_gear
    if mark is not None and mark.train != "final drive":
        after = vehicle.model_copy(update={"box": box})
        if mark.pair not in pair_ids(train_at(after, mark.train)):
            changes.append(Change(("change_gear",), None))
    return Edit(label or f"Take the {ARCHITECTURES[box.architecture]}", tuple(changes))


def blank_box(architecture: str, gears: list[str]) -> Box:
    """Make a box of an architecture without any pair, a place for each gear where it has places.

    Raises
    ------
    DocumentError
        There is no such architecture.
    """
    slots = tuple(with_places([], gears))
    match architecture:
        case "slot":
            return SlotBox(slots=slots)
        case "layshaft":
            return LayshaftBox(slots=slots)
        case "two-shaft":
            return TwoShaftBox(slots=slots)
        case "twin-layshaft":
            return TwinLayshaftBox(slots=slots)
        case "range-splitter":
            return RangeBox(splitter=((), ()), ranges=((), ()))
        case "lever":
            return LeverBox()
        case _:
            raise DocumentError(f"There is no architecture called {architecture}.")


def set_range_place(vehicle: Vehicle, gear: str, *, splitter: int, range_: int) -> Edit:
    """Say which splitter pair and which range pair make a gear.

    Raises
    ------
    DocumentError
        The box is no range × splitter box.
    """
    box = vehicle.box
    if not isinstance(box, RangeBox):
        raise DocumentError("Only a range × splitter box has splitter and range pairs.")
    slot = RangeSlot.model_construct(gear=gear, splitter=splitter, range=range_, kept=False)
    slots = [slot if s.gear == gear else s for s in box.slots]
    if box.slot(gear) is None:
        slots.append(slot)
    return Edit.one(f"Place gear {vehicle.gear_name(gear)}", SLOTS, slots)


def set_fulcrum(vehicle: Vehicle, gear: str, mm: float) -> Edit:
    """Say where the fulcrum stands in a gear.

    Raises
    ------
    DocumentError
        The box is no lever drive.
    """
    box = vehicle.box
    if not isinstance(box, LeverBox):
        raise DocumentError("Only a lever drive has a fulcrum to slide.")
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
        f"Place the fulcrum in {', '.join(map(vehicle.gear_name, places))}", SLOTS, slots
    )


def add_range_pair(vehicle: Vehicle, field: str) -> Edit:
    """Add an empty pair to the splitter or to the ranges.

    Raises
    ------
    DocumentError
        The box is no range × splitter box.
    """
    if not isinstance(vehicle.box, RangeBox):
        raise DocumentError("Only a range × splitter box has splitter and range pairs.")
    trains = vehicle.box.splitter if field == "splitter" else vehicle.box.ranges
    return Edit.one(f"Add a {field.removesuffix('s')} pair", ("box", field), [*trains, ()])


def set_second(vehicle: Vehicle, gear: str, train: Train) -> Edit:
    """Give a gear the second branch of a summing differential; an empty one takes it away."""
    slots = [
        slot.model_copy(update={"second": train}) if slot.gear == gear else slot
        for slot in _slotted(vehicle).slots
    ]
    return Edit.one(f"Change the second train of {vehicle.gear_name(gear)}", SLOTS, slots)


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
        f"{'Keep' if kept else 'Let go of'} gear {vehicle.gear_name(gear)}", SLOTS, slots
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
    return Edit.one(f"Move gear {vehicle.gear_name(gear)}", SLOTS, slots)


def _slotted(vehicle: Vehicle) -> SlotBox | LayshaftBox | TwoShaftBox | TwinLayshaftBox:
    if isinstance(vehicle.box, RangeBox):
        raise DocumentError(
            "In a range × splitter box a gear has no train or place of its own; change a splitter "
            "or a range pair instead."
        )
    if isinstance(vehicle.box, LeverBox):
        raise DocumentError(
            "In a lever drive a gear is a place of the fulcrum, it has no train of its own; slide "
            "the fulcrum or change the gears to the throws instead."
        )
    return vehicle.box


def free_place(slots: tuple[Slot, ...]) -> tuple[int, Face]:
    """Find the first place no slot takes, front before back, column by column."""
    taken = {(slot.column, slot.face) for slot in slots}
    column = 1
    faces: tuple[Face, Face] = ("front", "back")
    while True:
        for face in faces:
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
            raise DocumentError(
                f"{field_label(data, path)}: this part is no longer there."
            ) from None
    last = path[-1]
    known = last in here if isinstance(here, dict) else isinstance(last, int) and last < len(here)
    if not known:
        raise DocumentError(f"{field_label(data, path)}: this part is no longer there.")
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
