"""What a document's parts refuse, and the edits of boxes, slots and trains."""

from typing import Any

import pytest
from pydantic import ValidationError

from examples import example_vehicle
from mild_badger.core.architectures.match import match_box
from mild_badger.core.errors import DocumentError
from mild_badger.core.kit.catalogue import shipped_kit
from mild_badger.core.mechanisms.clutch.model import Clutch
from mild_badger.core.mechanisms.display.model import DisplayEngine
from mild_badger.core.mechanisms.lever.model import LeverDrive
from mild_badger.core.ratios.lanes import Impossible
from mild_badger.core.vehicle.blank import blank_vehicle
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.vehicle.boxes import LeverBox, NoBox
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.box import (
    add_range_pair,
    apply_box,
    set_fulcrum,
    set_fulcrums,
    set_range_place,
)
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.edit.gears import (
    add_gear,
    move_gear,
    new_gear,
    rename_gear,
    set_ratio,
)
from mild_badger.core.vehicle.edit.slots import (
    keep_train,
    keepable,
    move_slot,
    set_direct,
    set_second,
    set_train,
)
from mild_badger.core.vehicle.edit.trains import (
    mark_change_gear,
    set_shared,
    train_at,
    train_path,
)
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.layout import BoxLayout, PlacementSettings
from mild_badger.core.vehicle.model import ChangeGear, Vehicle
from mild_badger.core.vehicle.road import Segment, Version
from strategies import slot_of, vehicle_of
from telling import Told, refuses, told


@pytest.mark.parametrize(
    ("model", "values", "words"),
    [
        (
            Clutch,
            {"outer_mm": 20, "inner_mm": 20},
            told("clutch.inside-and-outside-of-the-lining-both"),
        ),
        (
            DisplayEngine,
            {"cylinders": 3},
            told("display.cylinders-take-throws-are-given", cylinders="3"),
        ),
        (
            DisplayEngine,
            {"order": (1, 2, 3, 3)},
            told("display.the-firing-order-must-name-each-of-the", cylinders="4"),
        ),
        (
            DisplayEngine,
            {"made_deg": (0, 90)},
            told("display.throws-were-made-are-measured", count_of_made_deg="2"),
        ),
        (
            Segment,
            {"kind": "turn", "length_m": 1, "value": 0},
            told("vehicle.a-turn-of-the-course-needs-a-radius-in-m"),
        ),
        (
            Segment,
            {"kind": "rough", "length_m": 1, "value": -1},
            told("vehicle.rough-ground-has-a-factor-of-0-or-more-on"),
        ),
        (
            PlacementSettings,
            {"outline_mm": ((0, 0), (1, 1))},
            told("vehicle.the-hulls-outline-has-corners-it-takes-three"),
        ),
        (
            PlacementSettings,
            {"outline_mm": ((0, 0), (4, 4), (4, 0), (0, 4))},
            told("vehicle.the-hulls-outline-crosses-itself-between", n="1", m="3"),
        ),
        (
            BoxLayout,
            {"layers": 1, "shafts": [{"name": "a", "x_mm": 0, "y_mm": 0}] * 2},
            told("vehicle.two-shafts-of-the-layout-share-a-name"),
        ),
        (
            BoxLayout,
            {
                "layers": 1,
                "gears": [{"body": "g", "teeth": 8, "shaft": "a", "side": "front", "layer": 1}],
            },
            told("vehicle.sits-on-which-is-not-there"),
        ),
        (
            BoxLayout,
            {
                "layers": 1,
                "shafts": [{"name": "a", "x_mm": 0, "y_mm": 0}],
                "gears": [{"body": "g", "teeth": 8, "shaft": "a", "side": "front", "layer": 2}],
            },
            told("vehicle.is-in-layer-of", layer="2", layers="1"),
        ),
    ],
)
def test_what_cannot_be_is_refused(model: Any, values: dict[str, object], words: Told) -> None:
    with refuses(ValidationError, words):
        model.model_validate(values)


def test_outlines_that_only_touch_at_corners_are_taken() -> None:
    for corners in (((0, 0), (6, 0), (6, 5)), ((0, 0), (6, 0), (6, 5), (3, 2), (0, 5))):
        assert PlacementSettings(outline_mm=corners).outline_mm == corners


def test_cylinders_lean_in_turn() -> None:
    vee = DisplayEngine(layout="V", bank_deg=72)
    assert [vee.bank_of(n) for n in (1, 2, 3)] == [36, -36, 36]
    assert DisplayEngine(layout="flat").bank_of(2) == -90
    assert DisplayEngine().bank_of(1) == 0


def test_gears_of_several_trains_that_are_one_part() -> None:
    gear = {"teeth": 8, "shaft": "a", "side": "front", "layer": 1}
    layout = BoxLayout.model_validate(
        {
            "layers": 2,
            "shafts": [{"name": "a", "x_mm": 1, "y_mm": 2}],
            "gears": [
                gear | {"body": "g"},
                gear | {"body": "h"},
                gear | {"body": "i", "teeth": 12},
                gear | {"body": "j", "layer": 2},
            ],
        }
    )
    assert [[g.body for g in group] for group in layout.shared] == [["g", "h"]]
    assert layout.shaft("a") == layout.shafts[0]
    assert layout.shaft("b") is None


def test_versions_are_told_apart_without_their_data() -> None:
    one = Version(name="a", date="2026-01-01", data={"x": 1})
    assert hash(one) == hash(one.model_copy(update={"data": {"x": 2}}))
    assert hash(one) != hash(one.model_copy(update={"name": "b"}))


def ranged() -> Vehicle:
    vehicle = vehicle_of(4.0, 3.0, 2.0, 1.5)
    found = match_box(vehicle, "range-splitter", best="error")
    assert not isinstance(found, Impossible)
    return apply_edit(vehicle, found.edit(vehicle))


def test_places_of_a_range_box_are_set_one_by_one() -> None:
    vehicle = ranged()
    placed = apply_edit(vehicle, set_range_place(vehicle, "2", splitter=1, range_=2))
    slot = placed.box.slot("2")
    assert (slot.splitter, slot.range) == (1, 2)  # type: ignore[union-attr]
    grown = apply_edit(vehicle, add_gear(vehicle, new_gear(vehicle)))
    last = grown.real.gears[-1].id
    placed = apply_edit(grown, set_range_place(grown, last, splitter=2, range_=1))
    assert [s.gear for s in placed.box.slots][-1] == last
    more = apply_edit(vehicle, add_range_pair(vehicle, "ranges"))
    assert len(more.box.shared()) == len(vehicle.box.shared()) + 1
    for edit in (set_train, set_second):
        with refuses(DocumentError, "vehicle.range-splitter"):
            edit(vehicle, "2", ())
    assert keepable(vehicle, "2")
    kept = apply_edit(vehicle, keep_train(vehicle, "2", kept=True))
    assert [s.gear for s in kept.box.slots if s.kept] == ["2"]


def test_fulcrums_are_set_in_the_order_of_the_gears() -> None:
    trolley = example_vehicle("larkholm-sawmill-trolley")
    gears = [gear.id for gear in trolley.real.gears]
    places = {gear: 30.0 + n for n, gear in enumerate(reversed(gears))}
    moved = apply_edit(trolley, set_fulcrums(trolley, places))
    assert [(s.gear, s.fulcrum_mm) for s in moved.box.slots] == [  # type: ignore[union-attr]
        (gear, places[gear]) for gear in gears
    ]
    one = apply_edit(moved, set_fulcrum(moved, gears[0], 44.0))
    assert one.box.slot(gears[0]).fulcrum_mm == 44.0  # type: ignore[union-attr]
    with refuses(DocumentError, "vehicle.lever-drive"):
        set_fulcrum(example_vehicle(), "1", 40.0)
    with refuses(DocumentError, "vehicle.in-a-lever-drive-a-gear-is-a-place-of-the"):
        move_slot(trolley, gears[0], 1, "front")
    none = apply_edit(example_vehicle(), apply_box(example_vehicle(), NoBox()))
    with refuses(DocumentError, "vehicle.no-box"):
        set_train(none, "1", ())


def test_a_lever_beside_the_box_becomes_the_box() -> None:
    bus = example_vehicle()
    lever = LeverDrive(throw_mm=7)
    beside = apply_edit(bus, Edit.one("", ("lever_drive",), lever))
    assert beside.stepless == lever
    made = apply_edit(beside, apply_box(beside, LeverBox()))
    assert (made.box.lever, made.lever_drive) == (lever, None)
    assert made.stepless_path == ("box", "drive")
    other = LeverBox(drive=LeverDrive(throw_mm=9))
    assert apply_edit(beside, apply_box(beside, other)).box.lever == other.drive


def test_a_mark_goes_with_the_pair_it_stood_on() -> None:
    bus = example_vehicle()
    pair = slot_of(bus, "3").train[0]
    mark = ChangeGear(train="gear 3", pair=pair.id or "0", role="driver")
    marked = apply_edit(bus, mark_change_gear(bus, mark))
    assert marked.change_gear == mark
    same = apply_edit(marked, apply_box(marked, marked.box))
    assert same.change_gear == mark
    gone = apply_edit(marked, apply_box(marked, NoBox()))
    assert gone.change_gear is None
    assert apply_edit(marked, mark_change_gear(marked, None)).change_gear is None
    final = mark.model_copy(update={"train": "final drive", "pair": "0"})
    kept = marked.model_copy(update={"change_gear": final})
    assert apply_edit(kept, apply_box(kept, NoBox())).change_gear == final
    with refuses(DocumentError, "vehicle.this-vehicle-has-no-train-called"):
        mark_change_gear(bus, mark.model_copy(update={"train": "gear 99"}))
    assert train_at(bus, "gear 99") == ()


def test_trains_are_found_and_changed_by_their_keys() -> None:
    tractor = example_vehicle("larkholm-timber-tractor")
    pair = GearPair(driver=10, driven=30)
    for key in ("input pair", "final drive", "gear 2"):
        changed = apply_edit(tractor, set_shared(tractor, key, (pair,)))
        assert [(p.driver, p.driven) for p in train_at(changed, key)] == [(10, 30)]
    assert train_path(tractor, "final drive") == ("final_drive", "pairs")
    with_both = tractor.model_copy(
        update={
            "display_engine": DisplayEngine(pairs=(pair,)),
            "lever_drive": LeverDrive(pairs=(pair,)),
        }
    )
    for key in ("display engine", "lever drive"):
        assert train_at(with_both, key) == (pair,)


def test_slots_are_direct_summed_kept_and_moved() -> None:
    tractor = example_vehicle("larkholm-timber-tractor")
    direct = apply_edit(tractor, set_direct(tractor, "2", direct=True))
    assert slot_of(direct, "2").direct
    assert slot_of(direct, "2").train == ()
    assert not slot_of(apply_edit(direct, set_direct(direct, "2", direct=False)), "2").direct
    bus = example_vehicle()
    second = (GearPair(driver=8, driven=24),)
    summed = apply_edit(bus, set_second(bus, "2", second))
    assert [(p.driver, p.driven) for p in slot_of(summed, "2").second] == [(8, 24)]
    assert [s.gear for s in summed.box.slots if getattr(s, "second", ())] == ["2"]
    kept = apply_edit(bus, keep_train(bus, "3", kept=True))
    assert keepable(kept, "3")
    assert [s.gear for s in kept.box.slots if s.kept] == ["3"]
    assert not any(s.kept for s in apply_edit(kept, keep_train(kept, "3", kept=False)).box.slots)
    assert not keepable(apply_edit(bus, set_train(bus, "3", ())), "3")


def test_targets_are_renamed_moved_and_given_ratios() -> None:
    bus = example_vehicle()
    with refuses(DocumentError, "vehicle.this-gear-is-no-longer-there"):
        rename_gear(bus, "gone", "x")
    assert move_gear(bus, 0, -1) is None
    moved = move_gear(bus, 1, -1)
    assert moved is not None
    order = [g.id for g in apply_edit(bus, moved).real.gears]
    assert order[:2] == [bus.real.gears[1].id, bus.real.gears[0].id]
    back = apply_edit(bus, set_ratio(bus, 2, 3.3, reverse=True)).real.gears[2]
    assert (back.ratio, back.reverse) == (3.3, True)
    same = apply_edit(bus, set_ratio(bus, 2, 3.3, reverse=False)).real.gears[2]
    assert not same.reverse
    made = new_gear(bus)
    ratios = [g.ratio for g in bus.real.gears if not g.reverse]
    assert made.ratio == pytest.approx(ratios[-1] * ratios[-1] / ratios[-2], abs=6e-4)
    assert made.name not in {g.name for g in bus.real.gears}
    only = new_gear(vehicle_of(2.0))
    assert only.ratio == pytest.approx(2.0 / 1.3, abs=6e-4)


def test_a_new_vehicle_has_round_figures_in_its_kits_own_measure() -> None:
    inch = blank_vehicle(shipped_kit("wood-shop-inch"))
    assert inch.units.length == "in/32"
    for mm in (inch.wheels.diameter_mm, inch.axle.track_mm, inch.axle.wheelbase_mm):
        assert (mm / 25.4 * 4) == pytest.approx(round(mm / 25.4 * 4))
    assert blank_vehicle(shipped_kit("wood-shop")).wheels.diameter_mm == 70


def test_a_kits_module_follows_its_diametral_pitch() -> None:
    kit = shipped_kit("wood-shop-inch")
    assert kit.module_mm == pytest.approx(25.4 / 10)
    other = Kit.model_validate({**kit.model_dump(), "diametral_pitch": 8.0})
    assert other.module_mm == pytest.approx(3.175)
