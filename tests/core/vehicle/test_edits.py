"""Edits make new vehicles, keep gears and slots in step, and refuse what cannot be."""

import pytest

from mild_badger.core.changes import Edit
from mild_badger.core.errors import DocumentError
from mild_badger.core.vehicle.box import MAX_GEARS, GearPair
from mild_badger.core.vehicle.demo import demo_vehicle
from mild_badger.core.vehicle.edits import (
    add_gear,
    apply_edit,
    move_slot,
    new_gear,
    remove_gear,
    rename_gear,
    set_train,
)
from strategies import slot_of, slots_of


def test_an_edit_leaves_the_old_vehicle_alone() -> None:
    bus = demo_vehicle()
    after = apply_edit(bus, Edit.one("Rename", ("name",), "Other"))
    assert (bus.name, after.name) == ("Larkholm Vale mail bus", "Other")
    assert after.model_copy(update={"name": bus.name}) == bus


@pytest.mark.parametrize(
    ("path", "value", "word"),
    [
        (("motor", "colour"), 1, "no longer there"),
        (("real", "gears", 40, "ratio"), 1, "no longer there"),
        (("name", "first"), "x", "no longer there"),
        (("wheels", "diameter_mm"), float("inf"), "Diameter of the wheels: inf"),
        (("box", "rail_teeth"), 24.5, "Rail teeth of the gearbox: 24.5"),
    ],
)
def test_what_cannot_be_is_refused(path: tuple[str | int, ...], value: object, word: str) -> None:
    with pytest.raises(DocumentError, match=word):
        apply_edit(demo_vehicle(), Edit.one("Try", path, value))


def test_gears_and_slots_stay_in_step() -> None:
    bus = apply_edit(demo_vehicle(), rename_gear(demo_vehicle(), "3", "third"))
    assert bus.box.slot("third") is not None
    assert bus.gear("3") is None
    with pytest.raises(DocumentError, match="Two gears are called 4"):
        apply_edit(bus, rename_gear(bus, "third", "4"))
    bus = apply_edit(bus, remove_gear(bus, "R"))
    assert bus.box.slot("R") is None
    bus = apply_edit(bus, add_gear(bus, new_gear(bus)))
    assert bus.real.gears[-1].name == "3"  # the first number that is free
    slot = slot_of(bus, "3")
    assert (slot.column, slot.face, slot.train) == (4, "front", ())


def test_moving_onto_a_taken_place_changes_places() -> None:
    bus = apply_edit(demo_vehicle(), move_slot(demo_vehicle(), "1", 4, "front"))
    places = {slot.gear: (slot.column, slot.face) for slot in slots_of(bus)}
    assert places["1"] == (4, "front")
    assert places["R"] == (1, "front")
    assert len(set(places.values())) == len(places)


def test_there_is_an_end_to_gears_and_pairs() -> None:
    bus = demo_vehicle()
    while len(bus.real.gears) < MAX_GEARS:
        bus = apply_edit(bus, add_gear(bus, new_gear(bus)))
    with pytest.raises(DocumentError, match=str(MAX_GEARS)):
        add_gear(bus, new_gear(bus))
    with pytest.raises(DocumentError, match="entries fit"):
        apply_edit(bus, set_train(bus, "1", (GearPair(driver=8, driven=8),) * 5))
