"""Trains met in the middle against the whole pool of the same kit."""

from fractions import Fraction
from math import log

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mild_badger.core.ratios import deep
from mild_badger.core.ratios.deep import (
    best_deep,
    build_deep,
    deep_candidates,
    is_deep,
    smallest_deep,
)
from mild_badger.core.ratios.lanes import GearGoal, SetMatch
from mild_badger.core.ratios.match import best_set, smallest_set
from mild_badger.core.ratios.pool import EVEN, ODD, build_pool, unpack
from mild_badger.core.ratios.rules import any_rules
from mild_badger.core.ratios.train import gear_count, mesh_count, train_ratio
from strategies import targets

ONE = Fraction(1)
kits = st.lists(st.integers(7, 40), min_size=3, max_size=6, unique=True).map(
    lambda sizes: tuple(sorted(sizes))
)
wide = st.fractions(min_value=Fraction(1, 30), max_value=30, max_denominator=97)
gears = st.lists(
    st.tuples(st.one_of(targets, wide), st.sampled_from([EVEN, ODD])), min_size=1, max_size=3
)


@given(kits, st.sampled_from([3, 3, 4]), gears, st.booleans(), st.sampled_from([3000, 60_000]))
@settings(max_examples=12, deadline=None)
def test_it_finds_what_the_whole_pool_holds(
    sizes: tuple[int, ...],
    pairs: int,
    wanted: list[tuple[Fraction, int]],
    spacing: bool,
    points: int,
) -> None:
    goals = tuple(GearGoal(str(n), target, parity) for n, (target, parity) in enumerate(wanted))
    low, high = (Fraction(4, 5), Fraction(5, 4)) if spacing else (ONE, ONE)
    rules = any_rules(sizes, pairs)
    whole, pool = build_pool(rules, cheapest_only=True), build_deep(rules)
    tolerance = Fraction(1, 20)
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(deep, "_POINTS", points)  # many small blocks
        patch.setattr(deep, "NEGLIGIBLE_PERCENT", 0.0)
        best = best_deep(pool, goals, low=low, high=high)
        small = smallest_deep(pool, goals, low=low, high=high, tolerance=tolerance)
    exact = best_set(whole, goals, low=low, high=high)
    assert isinstance(best, SetMatch)
    assert isinstance(exact, SetMatch)
    assert best.worst_error_percent == pytest.approx(exact.worst_error_percent, abs=1e-9)
    smallest = smallest_set(whole, goals, low=low, high=high, tolerance=tolerance)
    assert isinstance(small, SetMatch) == isinstance(smallest, SetMatch)
    if isinstance(small, SetMatch) and isinstance(smallest, SetMatch):
        assert small.cost == smallest.cost
    for found in (best, *([small] if isinstance(small, SetMatch) else [])):
        for gear in found.gears:
            assert train_ratio(gear.train) == gear.ratio
            assert mesh_count(gear.train) % 2 == gear.goal.parity
            assert len(gear.train) <= pairs


def test_a_large_kit_is_answered_without_its_products() -> None:
    # 73 sizes, 3 pairs: about 4.6 thousand million choices
    rules = any_rules(tuple(range(8, 81)), 3)
    assert is_deep(rules)
    assert not is_deep(any_rules(tuple(range(8, 81)), 2))
    pool = build_deep(rules)
    found = deep_candidates(pool, 3.14159265358979, parity=ODD, tolerance_percent=0.1)
    assert abs(log(found[0].ratio / Fraction("3.14159265358979"))) < 1e-8
    for candidate in found:
        assert train_ratio(candidate.train) == candidate.ratio
        assert candidate.cost.gears == gear_count(candidate.train)
        assert mesh_count(candidate.train) % 2 == 1
    # out of reach of two pairs: (80/8)² = 100, so the least is three
    far = (GearGoal("crawl", Fraction(250), EVEN), GearGoal("1", Fraction(4), EVEN))
    small = smallest_deep(pool, far, low=ONE, high=ONE, tolerance=Fraction(1, 100))
    assert isinstance(small, SetMatch)
    assert [len(gear.train) for gear in small.gears] == [3, 1]
    best = best_deep(pool, far, low=ONE, high=ONE)
    assert isinstance(best, SetMatch)
    assert best.worst_error_percent < 1e-7


def test_gears_in_a_train_are_limited() -> None:
    rules = any_rules((8, 12, 20, 28), 3, max_gears=6)
    pool = build_deep(rules)
    found = pool.between(EVEN, -0.5, 0.5)
    assert len(found.cost)
    assert all(unpack(int(cost)).gears <= 6 for cost in found.cost)
