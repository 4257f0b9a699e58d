"""Twin layshafts and range × splitter against every way to build them."""

from fractions import Fraction
from itertools import combinations, pairwise, product
from math import exp, log

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mild_badger.core.ratios.lanes import GearGoal, Impossible
from mild_badger.core.ratios.pool import EVEN, ODD
from mild_badger.core.ratios.ranges import match_ranges, speeds_of
from mild_badger.core.ratios.shafts import match_shared_centre
from mild_badger.core.ratios.standings import Shafts, standings, standings_of_sizes
from mild_badger.core.ratios.train import train_ratio
from mild_badger.core.ratios.twin import match_twin
from strategies import brick, targets

ONE = Fraction(1)
FITS = [(ONE, ONE), (Fraction(1, 2), Fraction(2))]
forward = st.lists(targets, min_size=2, max_size=4, unique=True)


def goals_of(ratios: list[Fraction], reverse: Fraction | None = None) -> tuple[GearGoal, ...]:
    goals = [GearGoal(str(n), ratio, EVEN) for n, ratio in enumerate(ratios)]
    return (*goals, *([GearGoal("R", reverse, ODD)] if reverse is not None else []))


def least_over_k(rows: list[list[float]], low: Fraction, high: Fraction) -> float:
    """Least worst distance from a common ln k: at an end of its range or midway between two x."""
    if not all(rows):
        return float("inf")
    every = sorted({x for row in rows for x in row})
    spots = {log(low), log(high)} | {(a + b) / 2 for a in every for b in every}
    inside = [k for k in spots if log(low) - 1e-12 <= k <= log(high) + 1e-12]
    return min(max(min(abs(x - k) for x in row) for row in rows) for k in inside)


def pairs_by_sum(sizes: tuple[int, ...]) -> dict[int, list[Fraction]]:
    table: dict[int, list[Fraction]] = {}
    for a, b in product(sizes, repeat=2):
        table.setdefault(a + b, []).append(Fraction(b, a))
    return table


@given(
    st.sampled_from([(8, 12, 16), (9, 14, 20), (8, 10, 15), (11, 12, 24)]),
    forward,
    st.sampled_from(FITS),
)
@settings(max_examples=25, deadline=None)
def test_no_twin_layshafts_are_nearer(
    sizes: tuple[int, ...], ratios: list[Fraction], bounds: tuple[Fraction, Fraction]
) -> None:
    goals = goals_of(ratios)
    low, high = bounds
    found = match_twin(standings_of_sizes(sizes), sizes, goals, low=low, high=high)
    table = pairs_by_sum(sizes)
    best = float("inf")
    for one, other in product(table, repeat=2):
        for wheel, first, second in product(sizes, repeat=3):
            ways = [r * Fraction(wheel, first) for r in table[one]]
            ways += [r * Fraction(wheel, second) for r in table[other]]
            rows = [[log(r / goal.target) for r in ways] for goal in goals]
            best = min(best, least_over_k(rows, low, high))
    assert not isinstance(found, Impossible)
    assert found.found.worst_error_percent == pytest.approx(100 * (exp(best) - 1), abs=1e-7)
    for number, gear in enumerate(found.found.gears):
        own, out = gear.train
        layshaft = found.layshafts[number]
        assert train_ratio(gear.train) == gear.ratio
        assert out == found.output_pairs[layshaft]
        assert own.driver + own.driven == found.tooth_sums[layshaft]
    assert found.output_pairs[0].driven == found.output_pairs[1].driven


@given(
    st.sampled_from([(8, 12, 16), (9, 14, 20), (8, 10, 15), (11, 12, 24)]),
    forward,
    st.sampled_from(FITS),
)
@settings(max_examples=25, deadline=None)
def test_no_range_box_is_nearer(
    sizes: tuple[int, ...], ratios: list[Fraction], bounds: tuple[Fraction, Fraction]
) -> None:
    goals = goals_of(ratios)
    low, high = bounds
    table = pairs_by_sum(sizes)
    best = float("inf")
    for one, other in product(table, repeat=2):
        for a in product(table[one], repeat=2):
            for b in product(table[other], repeat=2):
                # any speed may serve any gear, but no two gears the same one
                speeds = sorted((x * y for x in a for y in b), reverse=True)
                wanted = sorted((g.target for g in goals), reverse=True)
                for kept in combinations(speeds, len(goals)):
                    xs = [log(s / t) for s, t in zip(kept, wanted, strict=True)]
                    k = min(max((min(xs) + max(xs)) / 2, log(low)), log(high))
                    best = min(best, max(abs(x - k) for x in xs))
    found = match_ranges(standings_of_sizes(sizes), goals, low=low, high=high, split=(2, 2))
    assert not isinstance(found, Impossible)
    assert found.found.worst_error_percent == pytest.approx(100 * (exp(best) - 1), abs=1e-7)
    for gear, (i, j) in zip(found.found.gears, found.places, strict=True):
        assert gear.train == (found.splitter[i], found.ranges[j])
        assert train_ratio(gear.train) == gear.ratio
    assert len(set(found.places)) == len(goals)


@pytest.mark.parametrize(
    ("ratios", "split"),
    [
        ("5.2,4.1,3.3,2.6,2.05,1.6", (2, 3)),
        ("5.2,4.1,3.3,2.6,2.05,1.6", (3, 2)),
        ("9,4.5,3,1.5,1,0.5", (3, 2)),
    ],
)
def test_larger_splits_against_every_choice(ratios: str, split: tuple[int, int]) -> None:
    sizes = (8, 12, 16, 20, 24)
    goals = goals_of([Fraction(r) for r in ratios.split(",")])
    table = pairs_by_sum(sizes)
    best = float("inf")
    logs = sorted((log(g.target) for g in goals), reverse=True)
    for one, other in product(table, repeat=2):
        for a in product([log(r) for r in table[one]], repeat=split[0]):
            for b in product([log(r) for r in table[other]], repeat=split[1]):
                speeds = sorted((x + y for x in a for y in b), reverse=True)
                best = min(best, max(abs(s - t) for s, t in zip(speeds, logs, strict=True)))
    found = match_ranges(standings_of_sizes(sizes), goals, low=ONE, high=ONE, split=split)
    assert not isinstance(found, Impossible)
    assert found.found.worst_error_percent == pytest.approx(100 * (exp(best) - 1), abs=1e-7)


def test_speeds_are_listed_in_their_order_and_doubles_are_marked() -> None:
    goals = goals_of([Fraction(4), Fraction("2.05"), Fraction(2), Fraction(1)], Fraction(3))
    found = match_ranges(standings_of_sizes(tuple(range(8, 33))), goals, low=ONE, high=ONE)
    assert not isinstance(found, Impossible)
    speeds = speeds_of(found, 0.05)
    assert len(speeds) == 4
    assert [s.ratio for s in speeds] == sorted((s.ratio for s in speeds), reverse=True)
    near = [a.ratio / b.ratio <= Fraction(21, 20) for a, b in pairwise(speeds)]
    assert [s.near for s in speeds] == [*near, False]
    assert any(near)  # the second and the third, all but doubled
    assert [s.gear for s in speeds] == ["0", "1", "2", "3"]
    reverse = found.found.gears[-1]
    assert reverse.train[1].idlers
    assert len(found.ranges) == 3


def test_the_smallest_range_box_is_the_one_with_the_fewest_teeth() -> None:
    sizes = (8, 12, 16, 20, 24)
    goals = goals_of([Fraction(r) for r in ("4.4", "2.9", "2.0", "1.3")])
    tolerance = Fraction(1, 4)
    table = pairs_by_sum(sizes)
    logs = [log(g.target) for g in goals]
    teeth = min(
        2 * one + 2 * other
        for one, other in product(table, repeat=2)
        for a in product([log(r) for r in table[one]], repeat=2)
        for b in product([log(r) for r in table[other]], repeat=2)
        if max(
            abs(s - t)
            for s, t in zip(sorted((x + y for x in a for y in b), reverse=True), logs, strict=True)
        )
        <= log(1 + tolerance)
    )
    found = match_ranges(standings_of_sizes(sizes), goals, low=ONE, high=ONE, tolerance=tolerance)
    assert not isinstance(found, Impossible)
    assert (found.found.cost.pairs, found.found.cost.teeth) == (4, teeth)


def test_shafts_on_the_grid_stand_on_whole_units() -> None:
    # reference table: exact centre distances of the brick grid; 2 × 1 takes 36 teeth snugly
    found = {s.tooth_sum: s for s in standings(brick())}
    assert {16, 32, 48, 64, 80} <= set(found)
    assert 36 in found
    assert found[36].distance_mm == pytest.approx(8 * 5**0.5)
    dogs = standings(brick(), shafts=Shafts(coupled=brick().dog_sizes))
    for standing in dogs:
        assert {p.driven for p in standing.ahead.every()} <= set(brick().dog_sizes)
        for pair in standing.back.every():
            assert pair.driver + pair.driven + 5 <= standing.tooth_sum


def test_a_tooth_sum_one_off_helps_and_only_where_allowed() -> None:
    sizes = tuple(range(12, 31))
    goals = goals_of([Fraction("2.31"), Fraction("1.57"), Fraction("1.13")])
    plain = match_shared_centre("two-shaft", standings_of_sizes(sizes), goals, low=ONE, high=ONE)
    shafts = Shafts(profile_shift=True)
    shifted = match_shared_centre(
        "two-shaft", standings_of_sizes(sizes, shafts=shafts), goals, low=ONE, high=ONE
    )
    assert not isinstance(plain, Impossible)
    assert not isinstance(shifted, Impossible)
    assert shifted.found.worst_error_percent < plain.found.worst_error_percent
    sums = {g.train[0].driver + g.train[0].driven for g in shifted.found.gears}
    assert sums <= {shifted.tooth_sum + off for off in (-1, 0, 1)}
    assert len(sums) > 1


def test_only_one_gear_is_direct() -> None:
    goals = goals_of([Fraction("1.03"), Fraction(1), Fraction("0.98")])
    found = match_shared_centre(
        "layshaft",
        standings_of_sizes(tuple(range(12, 41))),
        goals,
        low=ONE,
        high=ONE,
        tolerance=Fraction(1, 20),
    )
    assert not isinstance(found, Impossible)
    assert [bool(g.train) for g in found.found.gears].count(False) == 1
    must = match_shared_centre(
        "layshaft",
        standings_of_sizes(tuple(range(12, 41))),
        goals_of([Fraction(3)]),
        low=ONE,
        high=ONE,
        direct="must",
    )
    assert not isinstance(must, Impossible)
    assert must.found.gears[0].train == ()
