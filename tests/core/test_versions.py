"""Versions kept in the file, set side by side and gone back to."""

import pytest

from examples import example_vehicle
from mild_badger.core.driveline.assemble import lettered
from mild_badger.core.errors import InputError
from mild_badger.core.vehicle.blank import blank_vehicle
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.vehicle.demo import DEMOS
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.edit.slots import set_train
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.versions import (
    PLACES,
    compare_figures,
    differences,
    remove_version,
    restore_version,
    save_version,
    version_vehicle,
)
from mild_badger.core.workshop.states import mark_states
from telling import refuses, told


def test_versions_are_kept_compared_and_taken_back() -> None:
    bus = example_vehicle()
    kept = apply_edit(bus, save_version(bus, "as built", "2026-11-25", "first"))
    assert version_vehicle(kept, "as built") == bus
    later = apply_edit(kept, Edit.one("", ("wheels", "diameter_mm"), 81.6))
    rows = {figure.name: figure for figure in compare_figures(bus, later)}
    assert rows["ground clearance"].before == 15.0
    assert rows["ground clearance"].after == pytest.approx(15 + 6.8)
    assert rows["ground clearance"].change_percent == pytest.approx(100 * 6.8 / 15)
    assert rows["ratio, gear 3"].change_percent == 0
    assert rows["speed, gear 6"].change_percent == pytest.approx(20, abs=1)
    found = differences(version_vehicle(kept, "as built"), later)
    assert [(d.where, d.before, d.after) for d in found] == [
        ("wheels › diameter mm", "68.0", "81.6")
    ]
    back = apply_edit(later, restore_version(later, "as built"))
    assert back.wheels == bus.wheels
    assert [v.name for v in back.versions] == ["as built"]
    assert apply_edit(back, remove_version(back, "as built")).versions == ()
    for name, words in (
        ("as built", told("versions.there-is-a-version-already-take-another-name")),
        ("  ", told("versions.a-version-needs-a-name-as-before-the-new-box")),
    ):
        with refuses(InputError, words):
            save_version(kept, name, "2026-11-25")
    with refuses(InputError, "versions.there-is-no-version"):
        version_vehicle(bus, "other")
    broken = kept.versions[0].model_copy(update={"data": {"name": "x"}})
    with refuses(InputError, "versions.version-cannot-be-read"):
        version_vehicle(kept.model_copy(update={"versions": (broken,)}), "as built")
    slots = differences(bus, apply_edit(bus, Edit.one("", ("box", "slots", 0, "kept"), True)))
    assert [d.where for d in slots] == [f"box › slots › {bus.box.slots[0].gear} › kept"]


def test_a_version_comes_back_with_its_own_pairs_and_what_is_remembered_stays() -> None:
    bus = lettered(example_vehicle())
    kept = apply_edit(bus, save_version(bus, "as built", "2026-11-25"))
    short = (GearPair(driver=13, driven=23),)
    long = (GearPair(driver=12, driven=20), GearPair(driver=9, driven=23), *short)
    first = bus.real.gears[0].id
    later = lettered(apply_edit(kept, set_train(kept, first, long)))
    later = apply_edit(later, set_train(later, first, short))
    back = apply_edit(later, restore_version(later, "as built"))
    # readings and placings of the version name its pairs by their ids
    assert back.box == bus.box
    assert back.shaft_letters == later.shaft_letters
    assert len(later.shaft_letters) > len(bus.shaft_letters)
    assert set(back.retired_pairs) >= set(later.retired_pairs) > set(bus.retired_pairs)


@pytest.mark.parametrize("name", DEMOS)
def test_a_vehicle_beside_itself_differs_in_nothing(name: str) -> None:
    vehicle = example_vehicle(name)
    assert differences(vehicle, lettered(vehicle)) == ()
    rows = compare_figures(vehicle, vehicle)
    assert len({row.name for row in rows}) == len(rows)
    for row in rows:
        assert row.before == row.after
        assert row.change_percent in (None, 0)


def test_what_only_one_of_two_has_is_told() -> None:
    bus, truck = example_vehicle(), example_vehicle("larkholm-crane-truck")
    rows = {row.name: row for row in compare_figures(truck, bus)}
    assert rows["ratio, gear 6"].before is None
    assert rows["ratio, gear 6"].after == pytest.approx(0.8)
    assert rows["ratio, gear 6"].change_percent is None
    places = differences(bus, truck)
    assert len(places) == PLACES
    kit: Kit = bus.kit
    assert differences(bus, blank_vehicle(kit))[0].where == "name"
    entries = [
        Change(("notes",), "with a horn"),
        Change(("additional_axles",), []),
        Change(("search", "max_centre_mm"), 60.0),
    ]
    noted = apply_edit(bus, Edit("x", tuple(entries)))
    assert [(d.where, d.before, d.after) for d in differences(bus, noted)] == [
        ("notes", bus.notes, "with a horn"),
        ("search › max centre mm", "–", "60.0"),
    ]


def test_of_a_marked_part_its_state_is_told_and_not_the_mark_of_its_shape() -> None:
    bus = example_vehicle()
    made = apply_edit(bus, mark_states(bus, ["front outer wall"], "made"))
    (before,) = made.assembly.states
    again = before.model_copy(update={"shape": "another"})
    drawn = made.model_copy(
        update={"assembly": made.assembly.model_copy(update={"states": (again,)})}
    )
    assert differences(made, drawn) == ()
    fitted = apply_edit(made, mark_states(made, ["front outer wall"], "fitted"))
    assert [(d.where, d.before, d.after) for d in differences(made, fitted)] == [
        ("assembly › states › front outer wall › state", "made", "fitted")
    ]
