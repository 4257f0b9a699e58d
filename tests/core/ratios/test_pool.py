"""Pools against exhaustive enumeration and the reference counts."""

from fractions import Fraction
from itertools import pairwise, product
from math import log, pi, prod, sqrt

import pytest
from sympy import primefactors

from examples import example_vehicle
from mild_badger.core.errors import InputError
from mild_badger.core.mesh.seats import seats_well
from mild_badger.core.ratios.pool import EVEN, ODD, RatioTable, build_pool, unpack
from mild_badger.core.ratios.propose import joined
from mild_badger.core.ratios.rules import any_rules, grid_idlers, slot_rules
from mild_badger.core.ratios.single import best_train, ranked_trains
from mild_badger.core.ratios.train import (
    gear_count,
    mesh_count,
    parse_train,
    train_fractions,
    train_ratio,
    train_text,
)
from mild_badger.core.vehicle.box import GearPair
from strategies import BRICK_SIZES, brick


def free_pool(pairs: int) -> RatioTable:
    return build_pool(any_rules(BRICK_SIZES, pairs))


@pytest.mark.parametrize(("pairs", "count"), [(1, 43), (2, 331), (3, 1297)])
def test_distinct_ratios_of_the_brick_grid(pairs: int, count: int) -> None:
    # reference table, exhaustive enumeration of {8, 12, 16, 20, 24, 28, 36, 40}
    pool = free_pool(pairs)
    assert len(pool.log_ratio) == count
    every = {
        Fraction(prod(driven), prod(drivers))
        for number in range(1, min(pairs, 2) + 1)
        for drivers in product(BRICK_SIZES, repeat=number)
        for driven in product(BRICK_SIZES, repeat=number)
    }
    assert every <= {pool.ratio(i) for i in range(count)}


def test_only_small_primes_can_appear() -> None:
    pool = free_pool(3)
    primes = {p for i in range(len(pool.log_ratio)) for p in primefactors(pool.ratio(i).numerator)}
    assert primes == {2, 3, 5, 7}


@pytest.mark.parametrize(
    ("target", "pairs", "ratio"),
    [
        (pi, 1, "3"),
        (pi, 2, "63/20"),
        (pi, 3, "63/20"),
        (sqrt(2), 2, "7/5"),
        (sqrt(2), 3, "343/243"),
        (11 / 3, 1, "7/2"),
        (11 / 3, 2, "100/27"),
        (11 / 3, 3, "180/49"),
        ((1 + sqrt(5)) / 2, 2, "81/50"),
        (1.27, 3, "80/63"),
    ],
)
def test_best_trains_of_the_reference_table(target: float, pairs: int, ratio: str) -> None:
    found = best_train(free_pool(pairs), target, parity=EVEN)
    assert found is not None
    # 7/5 and 10/7 lie equally far from √2 in ratio: either is best
    assert found.ratio in {Fraction(ratio), Fraction(round(target**2)) / Fraction(ratio)}
    assert train_ratio(found.train) == found.ratio


def test_every_train_within_a_tolerance_is_listed_and_ranked() -> None:
    pool = free_pool(2)
    found = ranked_trains(pool, 2.1, parity=EVEN, tolerance_percent=3)
    bound = log(1.03)
    every = {
        (tuple(sorted(a)), tuple(sorted(b)))
        for n in (1, 2)
        for a in product(BRICK_SIZES, repeat=n)
        for b in product(BRICK_SIZES, repeat=n)
        if abs(log(prod(b) / prod(a) / 2.1)) <= bound
    }
    listed = [
        (tuple(sorted(p.driver for p in c.train)), tuple(sorted(p.driven for p in c.train)))
        for c in found
    ]
    assert len(listed) == len(set(listed))
    assert set(listed) == every
    keys = [(c.cost.pairs, c.cost.gears) for c in found]
    assert keys == sorted(keys)
    errors = [
        c.error_percent
        for c in ranked_trains(pool, 2.1, parity=EVEN, tolerance_percent=3, by="error")
    ]
    distances = [abs(log(1 + e / 100)) for e in errors]
    assert distances == pytest.approx(sorted(distances))


@pytest.mark.parametrize("parity", [EVEN, ODD])
def test_costs_are_those_of_the_trains(parity: int) -> None:
    pool = build_pool(slot_rules(brick(), 2))
    for index in pool.usable(parity)[::7]:
        train = pool.train(int(pool.ratio_choice[parity, index]), parity)
        cost = unpack(int(pool.ratio_cost[parity, index]))
        assert train_ratio(train) == pool.ratio(int(index))
        assert mesh_count(train) % 2 == parity
        assert (cost.pairs, cost.gears) == (len(train), gear_count(train))
        assert cost.teeth == sum(p.driver + p.driven + sum(p.idlers) for p in train)
        assert train[-1].driven in brick().dog_sizes
        for pair in train:
            row = (pair.driver, *pair.idlers, pair.driven)
            assert all(seats_well(brick(), a, b) for a, b in pairwise(row))


def test_eight_and_twelve_are_joined_by_twentyfour() -> None:
    # common practice, no source: 8–24–12
    table = grid_idlers(brick())
    assert table.cost(8, 12, 0) is not None
    assert table.cost(8, 12, 1) == (1, 24, (24,))
    assert table.cost(8, 24, 0) == (0, 0, ())


def test_idlers_mend_a_train_that_does_not_seat_or_turns_over() -> None:
    bus = example_vehicle()
    plain = (GearPair(driver=8, driven=12), GearPair(driver=20, driven=20))
    mended = joined(bus, plain, EVEN)
    assert mended is not None
    assert mesh_count(mended) % 2 == 0
    assert train_ratio(mended) == train_ratio(plain)
    assert joined(bus, (GearPair(driver=9, driven=12),), EVEN) is None


def test_trains_are_read_as_they_are_written() -> None:
    train = (GearPair(driver=8, driven=12, idlers=(24,)), GearPair(driver=16, driven=20))
    assert train_text(train) == "8:(24):12 · 16:20"
    for text in ("8:(24):12 · 16:20", "8:(24):12 * 16/20", " 8 : (24) : 12; 16:20 "):
        assert parse_train(text) == train
    assert parse_train("") == ()
    assert train_fractions(train) == "15/8 = 3/2 × 5/4"


@pytest.mark.parametrize(
    "text", ["8", "8:12:16", "a:b", "8:2", "999:8", "8:12 " * 6, "8:(1):12", "-8:12"]
)
def test_what_is_no_train_is_refused(text: str) -> None:
    with pytest.raises(InputError):
        parse_train(text)


def test_sizes_mesh_up_to_the_greatest_tooth_sum() -> None:
    for most in (20, 24, 28, 32):
        pool = build_pool(any_rules((8, 12, 16, 20), 1, max_tooth_sum=most))
        for one, other in ((8, 12), (8, 16), (12, 16), (8, 20), (12, 20)):
            best = best_train(pool, Fraction(other, one), parity=ODD)
            near = best is not None and best.ratio == Fraction(other, one)
            direct = near and best is not None and not best.train[0].idlers
            assert direct == (one + other <= most), (most, one, other)
