"""Measured lengths, spacers to trim and end play, against sums done by hand."""

import pytest

from examples import example_vehicle
from mild_badger.core.figures import plain
from mild_badger.core.trial.built import Bay, bays, measure
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.model import Vehicle
from telling import tells


@pytest.fixture
def tractor() -> Vehicle:
    return example_vehicle("larkholm-timber-tractor")


def bay(vehicle: Vehicle, shaft: str, number: int = 0) -> Bay:
    return [b for b in bays(vehicle) if b.shaft == shaft][number]


def test_as_planned_every_bay_has_the_end_play_that_was_asked_for(tractor: Vehicle) -> None:
    for each in bays(tractor):
        lengths = sum(part.planned_mm for part in each.parts)
        assert each.gap.planned_mm - lengths == pytest.approx(tractor.frame.end_play_mm)
        assert each.trim is None
        assert tells(each.words, "trial.of-end-play-as-it-should-be")


def test_gears_that_came_out_thick_ask_for_a_shorter_spacer(tractor: Vehicle) -> None:
    before = bay(tractor, "layshaft.1", 1)
    thick = [part for part in before.parts if part.kind == "gear"][:2]
    built = tractor
    for part in thick:
        built = apply_edit(built, measure(built, part.key, part.planned_mm + 0.4))
    after = bay(built, "layshaft.1", 1)
    assert after.play_mm == pytest.approx(before.play_mm - 0.8)
    assert after.trim is not None
    key, by = after.trim
    assert by == pytest.approx(0.8)
    trimmed = apply_edit(
        built, measure(built, key, next(p.mm for p in after.parts if p.key == key) - by)
    )
    done = bay(trimmed, "layshaft.1", 1)
    assert done.play_mm == pytest.approx(before.wanted_mm)
    assert done.trim is None
    # the spacer right behind the thick gears: those after it come back to their places
    order = [p.key for p in after.parts]
    assert order.index(key) > order.index(thick[0].key)


def test_a_gap_too_narrow_without_a_spacer_to_trim_says_so(tractor: Vehicle) -> None:
    first = bay(tractor, "input.1")
    narrow = apply_edit(tractor, measure(tractor, first.gap.key, first.gap.mm - 2))
    found = bay(narrow, "input.1")
    assert found.trim is None
    assert tells(found.words, "trial.and-no-spacer-long-enough-to-trim-set-the")
    # the same gap belongs to the other shaft between these walls
    assert bay(narrow, "layshaft.1").gap.measured


def test_much_end_play_asks_for_a_washer_and_a_measure_can_be_taken_back(tractor: Vehicle) -> None:
    first = bay(tractor, "output")
    wide = apply_edit(tractor, measure(tractor, first.gap.key, first.gap.mm + 2))
    assert tells(bay(wide, "output").words, "trial.of-end-play-more-than-is-wanted-put-a-washer")
    again = apply_edit(wide, measure(wide, first.gap.key, None))
    assert again == tractor


def test_a_shaft_that_came_out_short_is_told(tractor: Vehicle) -> None:
    rod = bay(tractor, "output").rod
    assert (rod.key, rod.measured) == ("shaft output", False)
    short = apply_edit(tractor, measure(tractor, rod.key, rod.planned_mm - 1.5))
    assert tells(
        plain(bay(short, "output").words),
        "trial.the-shaft-is-short-of-its-walls-cut-it-anew",
        lack="1.50 mm",
    )
    long = apply_edit(tractor, measure(tractor, rod.key, rod.planned_mm + 3.0))
    assert tells(plain(bay(long, "output").words), "trial.the-shaft-stands-out-by", lack="3.00 mm")


def test_a_box_without_a_place_has_no_bays() -> None:
    assert (
        bays(example_vehicle("larkholm-street-sweeper").model_copy(update={"layout": None})) == ()
    )
