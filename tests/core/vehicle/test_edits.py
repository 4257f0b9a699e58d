"""Edits make new vehicles, keep gears and slots in step, and refuse what cannot be."""

import pytest

from examples import example_vehicle
from mild_badger.core.errors import DocumentError
from mild_badger.core.ids import kept_ids
from mild_badger.core.vehicle.box import MAX_GEARS, GearPair
from mild_badger.core.vehicle.demo import DEMOS
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.edit.gears import (
    add_gear,
    move_gear,
    new_gear,
    remove_gear,
    rename_gear,
)
from mild_badger.core.vehicle.edit.slots import move_slot, set_train
from mild_badger.core.vehicle.model import GearTarget, Vehicle
from strategies import placed_demo, slot_of, slots_of
from telling import Told, refuses, told


def test_an_edit_leaves_the_old_vehicle_alone() -> None:
    bus = example_vehicle()
    after = apply_edit(bus, Edit.one("Rename", ("name",), "Other"))
    assert (bus.name, after.name) == ("Larkholm Vale mail bus", "Other")
    assert after.model_copy(update={"name": bus.name}) == bus


@pytest.mark.parametrize(
    ("path", "value", "word"),
    [
        (("motor", "colour"), 1, told("vehicle.this-part-is-no-longer-there")),
        (("real", "gears", 40, "ratio"), 1, told("vehicle.this-part-is-no-longer-there")),
        (("name", "first"), "x", told("vehicle.this-part-is-no-longer-there")),
        (
            ("wheels", "diameter_mm"),
            float("inf"),
            told("vehicle.cannot-be-used", label="Tyre diameter of the wheels", shown_value="inf"),
        ),
        (
            ("box", "rail_teeth"),
            24.5,
            told(
                "vehicle.cannot-be-used", label="Drive row teeth of the gearbox", shown_value="24.5"
            ),
        ),
    ],
)
def test_what_cannot_be_is_refused(path: tuple[str | int, ...], value: object, word: Told) -> None:
    with refuses(DocumentError, word):
        apply_edit(example_vehicle(), Edit.one("Try", path, value))


def test_gears_and_slots_stay_in_step() -> None:
    bus = apply_edit(example_vehicle(), rename_gear(example_vehicle(), "3", "third"))
    assert bus.box == example_vehicle().box
    assert bus.gear_name("3") == "third"
    with refuses(DocumentError, "vehicle.two-gears-are-called", name="4"):
        apply_edit(bus, rename_gear(bus, "3", "4"))
    bus = apply_edit(bus, remove_gear(bus, "R"))
    assert bus.box.slot("R") is None
    bus = apply_edit(bus, add_gear(bus, new_gear(bus)))
    new = bus.real.gears[-1]
    assert (new.name, new.id) == ("3", "3-2")  # the name is free, the id is not
    slot = slot_of(bus, new.id)
    assert (slot.column, slot.face, slot.train) == (4, "front", ())


def test_an_id_that_is_gone_is_not_given_again() -> None:
    bus = example_vehicle()
    less = apply_edit(bus, remove_gear(bus, "R"))
    assert less.retired_gears == ("R",)
    again = apply_edit(less, add_gear(less, GearTarget(name="R", ratio=5.0, reverse=True)))
    assert [gear.id for gear in again.real.gears][-1] == "R-2"
    assert again.box.slot("R") is None


@pytest.mark.parametrize("name", DEMOS)
def test_removing_and_undoing_and_reordering_leave_the_rest_alone(name: str) -> None:
    vehicle = placed_demo(name) if name != "larkholm-mail-bus" else example_vehicle(name)
    for gear in vehicle.real.gears:
        moved = move_gear(vehicle, 0, 1)
        assert moved is not None
        after = apply_edit(vehicle, moved)
        assert (after.box, after.layout, after.frame) == (
            vehicle.box,
            vehicle.layout,
            vehicle.frame,
        )
        gone = apply_edit(vehicle, remove_gear(vehicle, gear.id))
        assert gone.gear(gear.id) is None


def test_pasting_over_a_table_keeps_ids_by_position_or_by_name_where_rows_moved() -> None:
    old = [("a", "1"), ("b", "2"), ("c", "3")]
    assert kept_ids(old, ["1", "2", "3"]) == ("a", "b", "c")
    assert kept_ids(old, ["3", "1", "2"]) == ("c", "a", "b")
    assert kept_ids(old, ["first", "2", "third"]) == ("a", "b", "c")
    assert kept_ids(old, ["2", "3", "4"]) == ("a", "b", "c")
    assert kept_ids(old, ["0", "1", "2", "3"]) == ("0", "a", "b", "c")
    assert kept_ids(old, ["1", "2", "3", "4"]) == ("a", "b", "c", "4")
    assert kept_ids(old, ["1"], ("4",)) == ("a",)
    assert kept_ids(old, ["1", "2", "3", "a", "4"], ("4",)) == ("a", "b", "c", "a-2", "4-2")
    assert kept_ids([], ["lo/3", "lo 3", "1ö"]) == ("lo-3", "lo-3-2", "1")


def test_moving_onto_a_taken_place_changes_places() -> None:
    bus = apply_edit(example_vehicle(), move_slot(example_vehicle(), "1", 4, "front"))
    places = {slot.gear: (slot.column, slot.face) for slot in slots_of(bus)}
    assert places["1"] == (4, "front")
    assert places["R"] == (1, "front")
    assert len(set(places.values())) == len(places)


def test_there_is_an_end_to_gears_and_pairs() -> None:
    bus = example_vehicle()
    while len(bus.real.gears) < MAX_GEARS:
        bus = apply_edit(bus, add_gear(bus, new_gear(bus)))
    with pytest.raises(DocumentError, match=str(MAX_GEARS)):
        add_gear(bus, new_gear(bus))
    with refuses(DocumentError, "vehicle.cannot-be-used"):
        apply_edit(bus, set_train(bus, "1", (GearPair(driver=8, driven=8),) * 5))


def test_a_vehicles_hash_is_that_of_what_it_is_now() -> None:
    """It is worked out once a vehicle; a copy with other fields must not keep the old one."""
    bus = example_vehicle()
    before = hash(bus)
    other = apply_edit(bus, Edit.one("", ("wheels", "diameter_mm"), 51.0))
    copied = bus.model_copy(update={"wheels": other.wheels})
    assert hash(copied) == hash(other) != before
    assert copied == other
    read = bus.model_copy(update={"versions": ()})
    assert (read == bus) == (not bus.versions)
    logged = apply_edit(bus, Edit.one("", ("log", "entries"), [{"date": "2026-11-01"}]))
    assert hash(logged) == before  # history is told apart by comparing
    assert logged != bus
    assert hash(Vehicle.model_validate(bus.model_dump(mode="json"))) == before
