"""Sets within the stock against every combination of every train, and against HiGHS."""

from collections import Counter
from fractions import Fraction
from itertools import product
from math import exp, log, prod

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import Bounds, LinearConstraint, milp

from mild_badger.core.ratios.lanes import GearGoal, Impossible, SetMatch, lanes_of
from mild_badger.core.ratios.pool import EVEN, ODD, RatioTable, build_pool
from mild_badger.core.ratios.rules import any_rules, slot_rules
from mild_badger.core.ratios.stocked import (
    Have,
    Usage,
    best_stocked,
    pool_trains,
    smallest_stocked,
    used_by,
)
from mild_badger.core.ratios.train import gear_count, train_ratio
from mild_badger.core.vehicle.box import GearPair
from strategies import BRICK_SIZES, brick, targets

ONE = Fraction(1)


def every_train(sizes: tuple[int, ...], parity: int) -> list[tuple[GearPair, ...]]:
    """One pair, with one idler of any size where the direction asks for it."""
    between: list[tuple[int, ...]] = [()] if parity == ODD else [(z,) for z in sizes]
    return [
        (GearPair(driver=a, driven=b, idlers=z),)
        for a, b in product(sizes, repeat=2)
        for z in between
    ]


def teeth(train: tuple[GearPair, ...]) -> int:
    return sum(p.driver + p.driven + sum(p.idlers) for p in train)


def ask(
    pool: RatioTable,
    goals: tuple[GearGoal, ...],
    usage: Usage,
    have: Have,
    tolerance: Fraction | None,
    low: Fraction = ONE,
    high: Fraction = ONE,
) -> SetMatch | Impossible:
    lanes = lanes_of(pool, goals)
    assert not isinstance(lanes, Impossible)
    trains = pool_trains(pool, lanes)
    if tolerance is None:
        return best_stocked(lanes, trains, usage, have, low=low, high=high)
    return smallest_stocked(lanes, trains, usage, have, low=low, high=high, tolerance=tolerance)


@given(
    sizes=st.sampled_from([(8, 12), (9, 14, 20), (8, 10, 15)]),
    gears=st.lists(st.tuples(targets, st.sampled_from([EVEN, ODD])), min_size=1, max_size=3),
    stock=st.lists(st.integers(0, 3), min_size=3, max_size=3),
    bounds=st.sampled_from([(ONE, ONE), (Fraction(1, 2), Fraction(2))]),
)
@settings(max_examples=30, deadline=None)
def test_no_set_within_the_stock_is_better(
    sizes: tuple[int, ...],
    gears: list[tuple[Fraction, int]],
    stock: list[int],
    bounds: tuple[Fraction, Fraction],
) -> None:
    goals = tuple(GearGoal(str(n), target, parity) for n, (target, parity) in enumerate(gears))
    have = {(z, "any"): stock[n] for n, z in enumerate(sizes)}
    usage = used_by(free=None, any_bore=True)
    low, high = bounds
    tolerance = Fraction(1, 10)
    least: float | None = None
    cheapest: tuple[int, int, int] | None = None
    for combination in product(*(every_train(sizes, goal.parity) for goal in goals)):
        used: Counter[tuple[int, str]] = Counter()
        for train in combination:
            used += usage(train)
        if any(have[part] < count for part, count in used.items()):
            continue
        xs = [log(train_ratio(t) / g.target) for t, g in zip(combination, goals, strict=True)]
        k = min(max((min(xs) + max(xs)) / 2, log(low)), log(high))
        worst = max(abs(x - k) for x in xs)
        least = worst if least is None else min(least, worst)
        if worst <= log(1 + tolerance) + 1e-12:
            cost = (
                len(combination),
                sum(gear_count(t) for t in combination),
                sum(teeth(t) for t in combination),
            )
            cheapest = cost if cheapest is None else min(cheapest, cost)
    pool = build_pool(any_rules(sizes, 1))
    best = ask(pool, goals, usage, have, None, low, high)
    if least is None:
        assert isinstance(best, Impossible)
        assert "stock" in best.reason
    else:
        assert isinstance(best, SetMatch)
        assert best.worst_error_percent == pytest.approx(100 * (exp(least) - 1), rel=1e-5, abs=1e-7)
    small = ask(pool, goals, usage, have, tolerance, low, high)
    assert isinstance(small, Impossible) == (cheapest is None)
    if isinstance(small, SetMatch):
        assert (small.cost.pairs, small.cost.gears, small.cost.teeth) == cheapest
        assert small.worst_error_percent <= 10 + 1e-9


def test_a_mid_sized_set_against_highs() -> None:
    # scipy.optimize.milp (HiGHS) on the same question: 2 pairs of the brick grid, 5 gears, 5 %
    goals = tuple(
        GearGoal(str(n), Fraction(t), EVEN)
        for n, t in enumerate(("4.1", "2.6", "1.7", "1.2", "0.8"))
    )
    have = {(z, "any"): n for z, n in zip(BRICK_SIZES, (3, 2, 2, 3, 3, 2, 1, 2), strict=True)}
    usage = used_by(free=None, any_bore=True)
    found = ask(build_pool(any_rules(BRICK_SIZES, 2)), goals, usage, have, Fraction(1, 20))
    assert isinstance(found, SetMatch)
    plain = ask(build_pool(any_rules(BRICK_SIZES, 2)), goals, usage, {}, Fraction(1, 20))
    assert isinstance(plain, SetMatch)
    assert found.cost > plain.cost  # the stock really binds
    trains = [((a,), (b,), (z,)) for a in BRICK_SIZES for b in BRICK_SIZES for z in BRICK_SIZES] + [
        ((a, c), (b, d), ())
        for a in BRICK_SIZES
        for c in BRICK_SIZES
        if a <= c
        for b in BRICK_SIZES
        for d in BRICK_SIZES
        if b <= d
    ]
    rows, columns, cost = [], [], []
    for number, goal in enumerate(goals):
        for drivers, driven, idlers in trains:
            if abs(log(prod(driven) / prod(drivers) / goal.target)) <= log(1.05):
                columns.append(Counter((*drivers, *driven, *idlers)))
                rows.append(number)
                size = sum(columns[-1].values())
                cost.append(len(drivers) * 10**8 + size * 10**5 + sum(columns[-1].elements()))
    one_each = np.array([[float(r == n) for r in rows] for n in range(len(goals))])
    used = np.array([[float(c[z]) for c in columns] for z in BRICK_SIZES])
    stock = [have[z, "any"] for z in BRICK_SIZES]
    solved = milp(
        np.array(cost, dtype=float),
        constraints=[LinearConstraint(one_each, 1, 1), LinearConstraint(used, -np.inf, stock)],
        integrality=np.ones(len(cost)),
        bounds=Bounds(0, 1),
    )
    assert round(solved.fun) == (
        found.cost.pairs * 10**8 + found.cost.gears * 10**5 + found.cost.teeth
    )


def test_free_running_gears_are_counted_by_themselves() -> None:
    # the slot box ends every train on a free gear; two of 16 and none of 20 make three gears fail
    goals = tuple(GearGoal(str(n), Fraction(t), EVEN) for n, t in enumerate(("2", "1.5", "1")))
    pool = build_pool(slot_rules(brick(), 2))
    usage = used_by(free="driven", any_bore=False)
    have = {(16, "free"): 2, (20, "free"): 0}
    assert isinstance(ask(pool, goals, usage, have, None), Impossible)
    enough = ask(pool, goals, usage, {(16, "free"): 3, (20, "free"): 0}, None)
    assert isinstance(enough, SetMatch)
    assert [gear.train[-1].driven for gear in enough.gears] == [16, 16, 16]
    two = ask(pool, goals, usage, {(16, "free"): 2, (20, "free"): 1, (16, "fixed"): 2}, None)
    assert isinstance(two, SetMatch)
    used: Counter[tuple[int, str]] = Counter()
    for gear in two.gears:
        used += usage(gear.train)
    assert used[16, "free"] == 2
    assert used[16, "fixed"] <= 2
