"""Range × splitter boxes with reverse, stock and kept gears, against every box there is."""

from collections import Counter
from collections.abc import Iterator
from fractions import Fraction
from itertools import permutations, product
from math import exp, log

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mild_badger.core.ratios.lanes import GearGoal, Impossible
from mild_badger.core.ratios.pool import EVEN, ODD
from mild_badger.core.ratios.ranges import match_ranges
from mild_badger.core.ratios.standings import standings_of_sizes
from mild_badger.core.ratios.train import train_ratio
from mild_badger.core.vehicle.box import GearPair
from strategies import targets

ONE = Fraction(1)
FITS = [(ONE, ONE), (Fraction(1, 2), Fraction(2))]
SIZES = [(8, 12, 16), (8, 16, 24), (9, 18, 27), (10, 15, 20)]
CELLS = tuple(product(range(2), repeat=2))

Way = tuple[float, int, int, int]
"""Worst error (as a logarithm), pairs, gears, teeth."""


def every_box(
    sizes: tuple[int, ...],
    goals: tuple[GearGoal, ...],
    bounds: tuple[Fraction, Fraction],
    have: Counter[int],
) -> Iterator[Way]:
    """Every 2 × 2 box within the stock and with the kept trains, any gear at any speed."""
    ahead = [g for g in goals if g.parity == EVEN]
    back = [g for g in goals if g.parity == ODD]
    sums = {a + b for a in sizes for b in sizes}
    at = {t: [(a, t - a) for a in sizes if t - a in sizes] for t in sums}
    over = {
        t: [(a, b, z) for a, b, z in product(sizes, repeat=3) if a + b + 5 <= t <= a + b + 2 * z]
        for t in sums
    }
    aim = [log(g.target) for g in ahead]
    for one, other in product(sums, repeat=2):
        ways = [(i, r) for i in (0, 1) for r in over[other]] if back else [None]
        for first in product(at[one], repeat=2):
            for then in product(at[other], repeat=2):
                logs = [log(ratio_of(first[i], then[j])) for i, j in CELLS]
                filled = [
                    [logs[cell] - t for cell, t in zip(cells, aim, strict=True)]
                    for cells in permutations(range(4), len(ahead))
                    if all(
                        keeps(g, first[CELLS[cell][0]], then[CELLS[cell][1]])
                        for g, cell in zip(ahead, cells, strict=True)
                    )
                ]
                for turned in ways:
                    pairs = [*first, *then, *([turned[1]] if turned else [])]
                    used = Counter(z for pair in pairs for z in pair)
                    if any(used[z] > have[z] for z in used):
                        continue
                    size = (len(pairs), sum(map(len, pairs)), sum(map(sum, pairs)))
                    xs = []
                    if turned:
                        xs = [log(ratio_of(first[turned[0]], turned[1]) / back[0].target)]
                    for speeds in filled:
                        yield worst_of(speeds + xs, bounds), *size


def ratio_of(first: tuple[int, ...], then: tuple[int, ...]) -> Fraction:
    return Fraction(first[1] * then[1], first[0] * then[0])


def keeps(goal: GearGoal, *train: tuple[int, ...]) -> bool:
    return not goal.kept or [(p.driver, p.driven) for p in goal.kept] == list(train)


def worst_of(xs: list[float], bounds: tuple[Fraction, Fraction]) -> float:
    k = min(max((min(xs) + max(xs)) / 2, log(bounds[0])), log(bounds[1]))
    return max(abs(x - k) for x in xs)


@given(
    sizes=st.sampled_from(SIZES),
    ratios=st.lists(targets, min_size=2, max_size=3, unique=True),
    reverse=st.none() | targets,
    bounds=st.sampled_from(FITS),
    stock=st.lists(st.integers(1, 6), min_size=3, max_size=3),
    keep=st.booleans(),
    limit=st.sampled_from(["1/5", "1", "4"]).map(Fraction),
)
@settings(max_examples=7)
def test_no_box_within_the_stock_is_better(
    sizes: tuple[int, ...],
    ratios: list[Fraction],
    reverse: Fraction | None,
    bounds: tuple[Fraction, Fraction],
    stock: list[int],
    keep: bool,
    limit: Fraction,
) -> None:
    train = (GearPair(driver=sizes[0], driven=sizes[1]), GearPair(driver=sizes[1], driven=sizes[0]))
    goals = [GearGoal(str(n), ratio, EVEN) for n, ratio in enumerate(ratios)]
    if keep:
        goals[0] = GearGoal("0", ratios[0], EVEN, train)
    if reverse is not None:
        goals.append(GearGoal("R", reverse, ODD))
    have = Counter(dict(zip(sizes, stock, strict=True)))
    parts = {(z, "any"): have[z] for z in sizes}
    every = list(every_box(sizes, tuple(goals), bounds, have))
    low, high = bounds

    best = match_ranges(
        standings_of_sizes(sizes), tuple(goals), low=low, high=high, split=(2, 2), have=parts
    )
    small = match_ranges(
        standings_of_sizes(sizes),
        tuple(goals),
        low=low,
        high=high,
        split=(2, 2),
        have=parts,
        tolerance=limit,
    )

    assert isinstance(best, Impossible) == (not every)
    if not isinstance(best, Impossible):
        least = 100 * (exp(min(way[0] for way in every)) - 1)
        assert best.found.worst_error_percent == pytest.approx(least, abs=1e-6)
        for goal, gear in zip(goals, best.found.gears, strict=True):
            assert not goal.kept or gear.train == goal.kept
            assert train_ratio(gear.train) == gear.ratio
        used = Counter(
            z for p in (*best.splitter, *best.ranges) for z in (p.driver, p.driven, *p.idlers)
        )
        assert used <= have
    inside = [way[1:] for way in every if way[0] <= log(1 + limit) + 1e-12]
    assert isinstance(small, Impossible) == (not inside)
    if not isinstance(small, Impossible):
        cost = small.found.cost
        assert (cost.pairs, cost.gears, cost.teeth) == min(inside)


def test_without_stock_reverse_has_its_say_in_the_factor() -> None:
    # forward alone would be served without error at k = 1; reverse has only far ratios there
    sizes = (8, 16, 24)
    goals = (
        GearGoal("1", Fraction(4), EVEN),
        GearGoal("2", Fraction(2), EVEN),
        GearGoal("R", Fraction(20), ODD),
    )
    low, high = Fraction(1, 2), Fraction(2)
    plenty = Counter(dict.fromkeys(sizes, 99))
    found = match_ranges(standings_of_sizes(sizes), goals, low=low, high=high, split=(2, 2))
    assert not isinstance(found, Impossible)
    least = min(way[0] for way in every_box(sizes, goals, (low, high), plenty))
    assert found.found.worst_error_percent == pytest.approx(100 * (exp(least) - 1))
    assert found.found.factor != pytest.approx(1)


def test_a_kept_gear_may_turn_faster_than_a_neighbour_of_nearly_its_target() -> None:
    sizes = (8, 12, 16, 24)
    kept = (GearPair(driver=8, driven=16), GearPair(driver=16, driven=8))
    goals = (
        GearGoal("1", Fraction("1.05"), EVEN, kept),
        GearGoal("2", Fraction("1.0"), EVEN),
        GearGoal("3", Fraction("0.3"), EVEN),
    )
    plenty = Counter(dict.fromkeys(sizes, 99))
    found = match_ranges(standings_of_sizes(sizes), goals, low=ONE, high=ONE, split=(2, 2))
    assert not isinstance(found, Impossible)
    least = min(way[0] for way in every_box(sizes, goals, (ONE, ONE), plenty))
    assert found.found.worst_error_percent == pytest.approx(100 * (exp(least) - 1))


def test_two_reverse_gears_share_one_range_pair() -> None:
    goals = (
        GearGoal("1", Fraction(4), EVEN),
        GearGoal("2", Fraction(2), EVEN),
        GearGoal("3", Fraction(1), EVEN),
        GearGoal("R1", Fraction(6), ODD),
        GearGoal("R2", Fraction(3), ODD),
    )
    found = match_ranges(
        standings_of_sizes((8, 12, 16, 20, 24, 32, 40)),
        goals,
        low=ONE,
        high=ONE,
        tolerance=Fraction(1, 10),
    )
    assert not isinstance(found, Impossible)
    assert found.found.cost.pairs == 5
    assert found.places[3][1] == found.places[4][1]
    assert found.places[3][0] != found.places[4][0]


def test_sixteen_even_speeds_come_from_eight_pairs() -> None:
    # a geometric row of 16 is a product of two geometric rows of 4
    ratios = [Fraction(12) / Fraction("1.18") ** n for n in range(16)]
    goals = tuple(GearGoal(str(n), ratio, EVEN) for n, ratio in enumerate(ratios))
    found = match_ranges(
        standings_of_sizes(tuple(range(8, 41))),
        goals,
        low=Fraction(1, 2),
        high=Fraction(2),
        tolerance=Fraction(4, 100),
    )
    assert not isinstance(found, Impossible)
    assert found.found.cost.pairs == 8
    assert len(set(found.places)) == 16
    assert all(abs(gear.error_percent) <= 4 for gear in found.found.gears)
