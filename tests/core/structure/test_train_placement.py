"""Placements checked by geometry of the tests' own, not the search's."""

from itertools import combinations
from math import hypot

import pytest
from hypothesis import given, settings

from examples import example_vehicle
from mild_badger.core.ratios.propose import joined
from mild_badger.core.structure.train import Placement, place_train
from mild_badger.core.vehicle.box import GearPair
from strategies import brick, slots_of, trains


def is_sound(placed: Placement, train: tuple[GearPair, ...]) -> None:
    """Every mesh at its distance, no two parts of one layer collide."""
    expected = [z for p in train for z in (p.driver, *p.idlers, p.driven)]
    assert [gear.teeth for gear in placed.gears] == expected
    assert len(set(placed.shafts_u)) == len(placed.shafts_u)
    mates = {frozenset((mesh.first, mesh.second)) for mesh in placed.meshes}

    def apart(one: int, other: int) -> float:
        (ax, ay), (bx, by) = placed.shafts_u[one], placed.shafts_u[other]
        return 8 * hypot(ax - bx, ay - by)

    for one, other in combinations(range(len(placed.gears)), 2):
        a, b = placed.gears[one], placed.gears[other]
        distance = apart(a.shaft, b.shaft)
        if frozenset((one, other)) in mates:
            assert abs(distance - (a.teeth + b.teeth) / 2) < 0.7
            assert a.layer == b.layer
        elif a.layer == b.layer:
            assert distance > (a.teeth + b.teeth) / 2 + 2  # tip circles stay clear
    for gear in placed.gears:
        for shaft in range(len(placed.shafts_u)):
            layers = {g.layer for g in placed.gears if g.shaft == shaft}
            ends = shaft in (0, len(placed.shafts_u) - 1)
            passes = gear.layer in layers or (placed.through and ends)
            if shaft != gear.shaft and passes:
                assert apart(gear.shaft, shaft) > gear.teeth / 2 + 1 + 2.4


@given(trains)
@settings(max_examples=60, deadline=None)
def test_every_placement_is_sound(plain: tuple[GearPair, ...]) -> None:
    bus = example_vehicle()
    train = joined(bus, plain, 0) or joined(bus, plain, 1)
    assert train is not None
    placed = place_train(brick(), train)
    if placed.problem:
        assert placed.shafts_u == ()
    else:
        is_sound(placed, train)


def test_every_gear_of_the_bus_finds_its_place() -> None:
    for slot in slots_of(example_vehicle()):
        placed = place_train(brick(), slot.train)
        assert not placed.problem
        is_sound(placed, slot.train)
        assert all(mesh.seat.verdict.runs for mesh in placed.meshes)


def test_the_best_seat_is_taken() -> None:
    # 12 with 20 sits exactly at 2 u; 28 with 16 only loosely at 2 × 2
    placed = place_train(brick(), (GearPair(driver=12, driven=20),))
    assert [m.seat.engagement.seat_error_mm for m in placed.meshes] == [0]
    assert (placed.width_u, placed.height_u) == (2, 0)
    loose = place_train(brick(), (GearPair(driver=28, driven=16),))
    assert loose.meshes[0].seat.engagement.seat_error_mm == pytest.approx(0.6274, abs=1e-4)


@pytest.mark.parametrize(
    ("pair", "word"),
    [
        (GearPair(driver=8, driven=12), "8 with 12 do not mesh on the grid"),
        (GearPair(driver=9, driven=12), "no gear of 9 teeth"),
    ],
)
def test_what_cannot_be_placed_says_why(pair: GearPair, word: str) -> None:
    assert word in place_train(brick(), (pair,)).problem
