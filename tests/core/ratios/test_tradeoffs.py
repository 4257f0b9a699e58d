"""The trade-off front against every combination of trains of a small kit."""

from fractions import Fraction
from itertools import product
from math import exp, log

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mild_badger.core.ratios.lanes import GearGoal
from mild_badger.core.ratios.pool import EVEN, ODD, build_pool, unpack
from mild_badger.core.ratios.rules import any_rules
from mild_badger.core.ratios.tradeoffs import trade_offs
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
