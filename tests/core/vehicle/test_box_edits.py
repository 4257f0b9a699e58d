"""Edits of boxes other than the slot box, and what each refuses."""

from fractions import Fraction

import pytest

from examples import example_vehicle
from mild_badger.core.architectures.registry import blank_box
from mild_badger.core.errors import DocumentError
from mild_badger.core.evaluate import evaluate
from mild_badger.core.ratios.train import parse_train
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.vehicle.boxes import BOXES, RangeBox
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.box import add_range_pair, apply_box, set_range_place
from mild_badger.core.vehicle.edit.slots import set_second, set_train
from mild_badger.core.vehicle.model import Vehicle
from strategies import slot_of, vehicle_of
from telling import refuses


def ranged() -> Vehicle:
    """2 × 2 pairs counted from an imaginary box: 1, 2 and 3 use three of the four speeds."""
    vehicle = vehicle_of(4, 2, 1)
    pairs = [(GearPair(driver=a, driven=b),) for a, b in ((20, 20), (16, 24), (16, 32), (12, 36))]
    box = RangeBox(splitter=(pairs[0], pairs[1]), ranges=(pairs[2], pairs[3]))
    return apply_edit(vehicle, apply_box(vehicle, box))


@pytest.mark.parametrize("architecture", BOXES)
def test_a_blank_box_of_each_architecture_can_be_evaluated(architecture: str) -> None:
    vehicle = vehicle_of(3, 2, 1)
    names = [gear.name for gear in vehicle.real.gears]
    box = blank_box(architecture, names)
    assert box.architecture == architecture
    if box.has_places:
        assert [slot.gear for slot in box.slots] == names
    shown = evaluate(apply_edit(vehicle, apply_box(vehicle, box)))
    assert [gear.name for gear in shown.gears] == names
    assert all(gear.ratio is None for gear in shown.gears) == box.geared


def test_there_is_no_other_architecture() -> None:
    with refuses(DocumentError, "architectures.there-is-no-architecture-called", box="sideways"):
        blank_box("sideways", [])


def test_places_of_a_range_box_give_products() -> None:
    vehicle = ranged()
    for gear, splitter, range_ in (("1", 2, 2), ("2", 1, 2), ("3", 1, 1)):
        edit = set_range_place(vehicle, gear, splitter=splitter, range_=range_)
        vehicle = apply_edit(vehicle, edit)
    ratios = [gear.ratio for gear in evaluate(vehicle).gears]
    # by hand: 24/16 × 36/12, 20/20 × 36/12, 20/20 × 32/16
    assert ratios == [Fraction(9, 2), Fraction(3), Fraction(2)]
    moved = apply_edit(vehicle, set_range_place(vehicle, "1", splitter=2, range_=1))
    assert next(gear.ratio for gear in evaluate(moved).gears) == Fraction(3)
    assert len(moved.box.slots) == len(vehicle.box.slots)


@pytest.mark.parametrize("field", ["splitter", "ranges"])
def test_a_pair_more_of_a_range_box(field: str) -> None:
    vehicle = ranged()
    edit = add_range_pair(vehicle, field)
    assert field.removesuffix("s") in edit.label
    longer = apply_edit(vehicle, edit).box
    assert isinstance(longer, RangeBox)
    assert getattr(longer, field)[-1] == ()
    assert len(longer.splitter) + len(longer.ranges) == 5
    gear = apply_edit(vehicle, set_range_place(vehicle, "1", splitter=1, range_=1))
    assert evaluate(gear).gears[0].ratio == Fraction(2)


def test_only_a_range_box_has_such_pairs() -> None:
    bus = example_vehicle()
    with refuses(DocumentError, "vehicle.range-splitter"):
        set_range_place(bus, "1", splitter=1, range_=1)
    with refuses(DocumentError, "vehicle.range-splitter"):
        add_range_pair(bus, "ranges")
    with pytest.raises(DocumentError):
        set_second(ranged(), "1", ())


def test_a_second_train_is_summed_and_taken_away_again() -> None:
    vehicle = vehicle_of(2.5)
    for text, edit in (("12:24", set_train), ("8:24", set_second)):
        vehicle = apply_edit(vehicle, edit(vehicle, "1", parse_train(text)))
    # Willis: the case of a differential turns at the mean of its sides, (1/2 + 1/3) / 2 = 5/12
    summed = evaluate(vehicle).gears[0].ratio
    assert summed is not None
    assert abs(summed) == Fraction(12, 5)
    plain = apply_edit(vehicle, set_second(vehicle, "1", ()))
    assert slot_of(plain, "1").second == ()
    alone = evaluate(plain).gears[0].ratio
    assert alone is not None
    assert abs(alone) == 2
