"""What is offered for one gear: taken, it does what was promised."""

from fractions import Fraction

import pytest

from examples import example_vehicle
from mild_badger.core.architectures.match import match_box
from mild_badger.core.evaluate import evaluate
from mild_badger.core.kit.catalogue import shipped_kit
from mild_badger.core.ratios.box_question import Kind
from mild_badger.core.ratios.lanes import Impossible
from mild_badger.core.ratios.pool import EVEN, ODD
from mild_badger.core.ratios.propose import (
    goals_of,
    ladder_for_gear,
    pairs_for_gear,
    search_places,
    trains_are_quick,
    trains_for_gear,
    wanted_parity,
)
from mild_badger.core.vehicle.boxes import TwoShaftBox
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.edit.slots import keep_train, move_slot, set_train
from mild_badger.core.vehicle.model import Vehicle
from strategies import vehicle_of, with_search


def boxed(kind: Kind) -> Vehicle:
    """The timber tractor with the best box of a kind."""
    tractor = example_vehicle("larkholm-timber-tractor")
    found = match_box(tractor, kind, best="error")
    assert not isinstance(found, Impossible)
    return apply_edit(tractor, found.edit(tractor))


@pytest.mark.parametrize("feed", ["rail", "shaft"])
def test_the_first_train_offered_drives_the_right_way(feed: str) -> None:
    # domain: behind a single input shaft the directions alternate from column to column
    bus = apply_edit(example_vehicle(), Edit.one("Feed", ("box", "feed"), feed))
    for gear in bus.real.gears:
        (first, *_) = trains_for_gear(bus, gear.name)
        bus = apply_edit(bus, set_train(bus, gear.name, first.train))
        got = evaluate(bus).gear(gear.name)
        assert got is not None
        assert got.ratio is not None
        assert (got.ratio < 0) == gear.reverse
        assert abs(got.ratio) == first.ratio
    assert not [f for f in evaluate(bus).findings if f.code == "wrong-direction"]


def test_parity_of_a_column_and_of_a_two_shaft_box() -> None:
    bus = example_vehicle()
    shaft = apply_edit(bus, Edit.one("Feed", ("box", "feed"), "shaft"))
    for gear in bus.real.gears:
        slot = next(s for s in shaft.box.slots if s.gear == gear.name)
        plain = ODD if gear.reverse else EVEN
        assert wanted_parity(bus, gear.name) == plain
        column = getattr(slot, "column")  # noqa: B009
        assert wanted_parity(shaft, gear.name) == (plain if column % 2 else 1 - plain)
    two = bus.model_copy(update={"box": TwoShaftBox()})
    assert wanted_parity(two, "1") == ODD
    assert wanted_parity(two, "R") == EVEN


@pytest.mark.parametrize("kind", ["layshaft", "two-shaft", "twin-layshaft"])
def test_every_own_pair_offered_stands_at_the_distance_and_gives_its_ratio(kind: Kind) -> None:
    vehicle = boxed(kind)
    before = {f.code for f in evaluate(vehicle).findings if f.severity == "error"}
    for gear in ("1", "R"):
        offers = pairs_for_gear(vehicle, gear, limit=4)
        assert len(offers) > 1
        errors = [abs(offer.error_percent) for offer in offers]
        assert errors == sorted(errors) or max(errors) < 100
        for offer in offers:
            taken = evaluate(apply_edit(vehicle, set_train(vehicle, gear, offer.train)))
            got = taken.gear(gear)
            assert got is not None
            assert got.ratio is not None
            assert abs(got.ratio) == offer.ratio
            assert {f.code for f in taken.findings if f.severity == "error"} <= before


def test_no_own_pairs_where_pairs_are_shared_or_nothing_stands_yet() -> None:
    assert pairs_for_gear(boxed("range-splitter"), "1") == ()
    assert pairs_for_gear(example_vehicle().model_copy(update={"box": TwoShaftBox()}), "1") == ()
    assert pairs_for_gear(boxed("two-shaft"), "no such gear") == ()


def test_beyond_the_tolerance_the_nearest_there_is() -> None:
    vehicle = with_search(vehicle_of(37.0), max_pairs=1, tolerance_percent=1.0)
    offers = trains_for_gear(vehicle, "1")
    assert offers
    # by hand: of the shipped bricks 16 and 20 have dog faces, so 20 : 8 is the largest reduction
    assert offers[0].ratio == Fraction(5, 2)
    assert offers[0].error_percent == pytest.approx(100 * (2.5 / 37 - 1))
    assert trains_for_gear(vehicle, "9") == ()
    assert ladder_for_gear(vehicle, "9") == ()


def test_trains_of_a_large_kit_up_to_three_pairs() -> None:
    vehicle = vehicle_of(23.7)
    wood = shipped_kit("wood-shop")
    vehicle = with_search(vehicle.model_copy(update={"kit": wood}), max_pairs=3)
    offers = trains_for_gear(vehicle, "1", limit=40)
    assert {len(offer.train) for offer in offers} >= {2, 3}
    for offer in offers:
        made = Fraction(1)
        for pair in offer.train:
            made *= Fraction(pair.driven, pair.driver)
            assert {pair.driver, pair.driven} <= set(wood.sizes)
        assert made == offer.ratio
        assert abs(offer.error_percent) <= vehicle.search.tolerance_percent + 1e-9
    assert not trains_are_quick(vehicle)  # so the window asks for them in the background


def test_what_of_the_box_makes_an_answer_stale() -> None:
    bus = example_vehicle()
    places = search_places(bus)
    train = bus.box.slots[0].gear
    assert search_places(apply_edit(bus, Edit.one("Rename", ("name",), "Other"))) == places
    kept = apply_edit(bus, keep_train(bus, train, kept=True))
    assert search_places(kept) != places
    moved = apply_edit(bus, move_slot(bus, train, column=6, face="back"))
    assert search_places(moved) != places
    goal = next(g for g in goals_of(kept) if g.name == train)
    assert goal.kept == kept.box.slots[0].train  # type: ignore[union-attr]
    assert not any(g.kept for g in goals_of(bus))
