"""The trade-off front against every combination of trains of a small kit."""

from collections import Counter
from fractions import Fraction
from itertools import product
from math import exp, log

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mild_badger.core.ratios.lanes import GearGoal
from mild_badger.core.ratios.pool import EVEN, ODD, build_pool, unpack
from mild_badger.core.ratios.rules import any_rules
from mild_badger.core.ratios.stocked import every_train, used_by
from mild_badger.core.ratios.tradeoffs import Stock, trade_offs
from mild_badger.core.ratios.train import gear_count, train_ratio
from strategies import size_sets, targets


def front_by_force(
    sizes: tuple[int, ...], goals: tuple[GearGoal, ...], bounds: tuple[float, float]
) -> list[tuple[int, float]]:
    """Every choice of one train a gear, the best k for each, and what is left undominated."""
    pool = build_pool(any_rules(sizes, 1))
    lanes = []
    for goal in goals:
        row = []
        for i in pool.usable(goal.parity):
            cost = unpack(int(pool.ratio_cost[goal.parity, i]))
            row.append((cost.gears, log(pool.ratio(int(i)) / goal.target)))
        lanes.append(row)
    least: dict[int, float] = {}
    for combination in product(*lanes):
        logs = [x for _, x in combination]
        k = min(max((min(logs) + max(logs)) / 2, log(bounds[0])), log(bounds[1]))
        worst = 100 * (exp(max(abs(x - k) for x in logs)) - 1)
        gears = sum(gears for gears, _ in combination)
        if worst <= 25 + 1e-9:
            least[gears] = min(worst, least.get(gears, worst))
    front: list[tuple[int, float]] = []
    for gears in sorted(least):
        if not front or least[gears] < front[-1][1] - 1e-7:
            front.append((gears, least[gears]))
    return front


@given(
    size_sets,
    st.lists(st.tuples(targets, st.sampled_from([EVEN, ODD])), min_size=1, max_size=3),
    st.sampled_from([(1, 1), (Fraction(1, 2), 2)]),
)
@settings(max_examples=60, deadline=None)
def test_the_front_is_complete(
    sizes: tuple[int, ...],
    gears: list[tuple[Fraction, int]],
    bounds: tuple[Fraction, Fraction],
) -> None:
    goals = tuple(GearGoal(str(n), target, parity) for n, (target, parity) in enumerate(gears))
    low, high = Fraction(bounds[0]), Fraction(bounds[1])
    pool = build_pool(any_rules(sizes, 1))
    found = trade_offs(pool, goals, low=low, high=high)
    force = front_by_force(sizes, goals, (float(low), float(high)))
    assert [point.cost.gears for point in found] == [gears for gears, _ in force]
    assert [point.worst_error_percent for point in found] == pytest.approx(
        [worst for _, worst in force], abs=1e-6
    )
    for point in found:
        assert point.cost.gears == sum(gear_count(gear.train) for gear in point.gears)
        assert all(train_ratio(gear.train) == gear.ratio for gear in point.gears)


def test_it_stops_when_told() -> None:
    pool = build_pool(any_rules((8, 12, 16, 20), 2))
    goals = (GearGoal("1", Fraction("1.9"), EVEN), GearGoal("2", Fraction("1.3"), EVEN))
    one = Fraction(1)
    assert trade_offs(pool, goals, low=one, high=one, stop=lambda: True) == ()
    assert len(trade_offs(pool, goals, low=one, high=one)) > 1


@given(
    st.sampled_from([(8, 12, 20), (8, 16, 24)]),
    st.lists(targets, min_size=1, max_size=2),
    st.lists(st.integers(0, 4), min_size=3, max_size=3),
)
@settings(max_examples=40)
def test_the_front_within_the_stock_is_that_of_every_choice_within_it(
    sizes: tuple[int, ...], wanted: list[Fraction], counts: list[int]
) -> None:
    goals = tuple(GearGoal(str(n), target, EVEN) for n, target in enumerate(wanted))
    pool = build_pool(any_rules(sizes, 2))
    have = dict(zip(((z, "any") for z in sizes), counts, strict=True))
    usage = used_by(free=None, any_bore=True)
    row = [
        (train, usage(train))
        for index in pool.usable(EVEN)
        for train in every_train(pool, int(index), EVEN)
    ]
    least: dict[int, float] = {}
    for chosen in product(row, repeat=len(goals)):
        used = sum((parts for _, parts in chosen), Counter())
        if all(used[part] <= have[part] for part in used):
            errors = [
                abs(log(train_ratio(train) / goal.target))
                for (train, _), goal in zip(chosen, goals, strict=True)
            ]
            worst = 100 * (exp(max(errors)) - 1)
            gears = sum(gear_count(train) for train, _ in chosen)
            if worst <= 25 + 1e-9:
                least[gears] = min(worst, least.get(gears, worst))
    front: list[tuple[int, float]] = []
    for gears in sorted(least):
        if not front or least[gears] < front[-1][1] - 1e-7:
            front.append((gears, least[gears]))
    found = trade_offs(pool, goals, low=Fraction(1), high=Fraction(1), within=Stock(have, usage))
    assert [set_.cost.gears for set_ in found] == [gears for gears, _ in front]
    assert [set_.worst_error_percent for set_ in found] == pytest.approx(
        [worst for _, worst in front], abs=1e-6
    )
