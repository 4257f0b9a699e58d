"""What cuts the searches short is itself exact: it leaves out what it may, and no less."""

from dataclasses import replace
from fractions import Fraction
from itertools import product
from math import inf, log

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from mild_badger.core.ratios.fewest import worth_looking_at
from mild_badger.core.ratios.lanes import CandidateList, GearGoal, SetMatch
from mild_badger.core.ratios.least import _intervals
from mild_badger.core.ratios.pool import EVEN, ODD, Cost
from mild_badger.core.ratios.range_fill import Asked, Boxes, Filled, Kept
from mild_badger.core.ratios.range_tables import splits_of
from mild_badger.core.ratios.ranges import _RangeSearch, match_ranges
from mild_badger.core.ratios.shafts import _least_cost, _ways
from mild_badger.core.ratios.standings import CentreOption, standings_of_sizes
from mild_badger.core.ratios.stocked import Have
from mild_badger.core.ratios.twin import _NONE, _Asked, _Served
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.watch import Watch

ONE = Fraction(1)
SIZES = (8, 12, 16, 20, 24)


def lane(costs: list[int], steps: list[int]) -> CandidateList:
    """A lane whose places lie so many hundredths apart."""
    places = np.cumsum(steps) / 100
    count = np.arange(len(costs))
    goal = GearGoal("1", Fraction(1), EVEN)
    return CandidateList(goal, count, count, places, np.array(costs), lambda _n: ())


def at_sum(total: int) -> CentreOption:
    """The one standing of that tooth sum."""
    return next(s for s in standings_of_sizes(SIZES) if s.tooth_sum == total)


@given(st.lists(st.tuples(st.integers(1, 4), st.integers(1, 30)), min_size=1, max_size=25))
def test_a_lane_is_thinned_to_what_is_cheapest_in_some_window(rows: list[tuple[int, int]]) -> None:
    costs, steps = map(list, zip(*rows, strict=True))
    thin = lane(costs, steps)
    width = 0.495  # no distance between two places: they are whole hundredths
    kept = []
    for n, x in enumerate(thin.log_x):
        cheaper = [at for at, cost in zip(thin.log_x, costs, strict=True) if cost < costs[n]]
        left = max((at for at in cheaper if at < x), default=-inf)
        right = min((at for at in cheaper if at > x), default=inf)
        if right - left >= width:
            kept.append(n)
    assert worth_looking_at(thin, width).tolist() == kept


def test_the_least_cost_counts_pairs_gears_and_teeth_of_each_box() -> None:
    standing = at_sum(32)  # 8/24, 12/20, 16/16 and back
    goals = tuple(GearGoal(str(n), Fraction(n), EVEN) for n in (1, 2, 3))
    (ahead, _), *_ = _ways("two-shaft", standing, goals, None, None)
    assert _least_cost("two-shaft", standing, ahead, "no") == (3, 6, 96)
    # the layshaft's constant pair is one pair more, and one gear may be direct
    assert _least_cost("layshaft", standing, ahead, "no") == (4, 8, 128)
    assert _least_cost("layshaft", standing, ahead, "may") == (3, 6, 96)
    over = min(
        a + b + z for a, b, z in product(SIZES, repeat=3) if a + b + 5 <= 32 <= a + b + 2 * z
    )
    back = (*goals, GearGoal("R", Fraction(3), ODD))
    (both, _), *_ = _ways("two-shaft", standing, back, None, None)
    assert _least_cost("two-shaft", standing, both, "no") == (4, 9, 96 + over)


def test_distances_at_which_a_kept_pair_cannot_stand_are_passed_over() -> None:
    kept_train = (GearPair(driver=8, driven=24), GearPair(driver=12, driven=24))
    goals = (
        GearGoal("1", Fraction(6), EVEN, kept=kept_train),
        GearGoal("2", Fraction(3), EVEN),
        GearGoal("3", Fraction(2), EVEN),
        GearGoal("4", Fraction(1), EVEN),
    )
    standings = standings_of_sizes(SIZES)
    asked = Asked(goals, Fraction(1), Fraction(1), None, None)
    order, table = (0, 1, 2, 3), ((0, 0), (1, 0), (0, 1), (1, 1))
    kept = Kept.of(order, table, asked)
    assert kept is not None
    splitter, ranges = at_sum(32), at_sum(36)
    assert kept.places(0, splitter) == {0: splitter.ahead.driven.tolist().index(24)}
    assert kept.places(0, ranges) is None
    assert kept.places(1, ranges) == {0: ranges.ahead.driven.tolist().index(24)}
    assert kept.places(1, splitter) is None
    search = _RangeSearch(standings, asked)
    sums = [s.tooth_sum for s in standings]
    # beside a listed range (axis 1) stand splitters, beside a listed splitter ranges
    assert [sums[n] for n in search._beside(2, 2, ranges, 1, kept)] == [32]
    assert [sums[n] for n in search._beside(2, 2, splitter, 0, kept)] == [36]
    # two kept gears in one row must have the row's pair in common
    other = (GearPair(driver=12, driven=20), GearPair(driver=16, driven=20))
    both = (goals[0], goals[1], GearGoal("3", Fraction(2), EVEN, kept=other), goals[3])
    assert Kept.of(order, table, Asked(both, Fraction(1), Fraction(1), None, None)) is None


def test_a_box_of_known_distances_costs_its_least_pairs_gears_and_teeth() -> None:
    goals = tuple(GearGoal(str(n), Fraction(n), EVEN) for n in (1, 2, 3, 4))
    asked = Asked((*goals, GearGoal("R", Fraction(3), ODD)), ONE, ONE, None, None)
    assert asked.least_cost(2, 2) == (5, 11)
    over = min(
        a + b + z for a, b, z in product(SIZES, repeat=3) if a + b + 5 <= 36 <= a + b + 2 * z
    )
    boxes = Boxes(at_sum(32), at_sum(36))
    assert asked.least_cost(2, 2, boxes) == (5, 11, 2 * 32 + 2 * 36 + over)


def test_nothing_is_filled_in_that_cannot_be_smaller_than_the_best() -> None:
    goals = tuple(GearGoal(str(n), Fraction(n), EVEN) for n in (4, 3, 2, 1))
    asked = Asked(goals, ONE, ONE, Fraction(1, 2), None)
    order, table = (0, 1, 2, 3), ((0, 0), (1, 0), (0, 1), (1, 1))

    def fills(best: tuple[int, ...] | None, have: Have | None = None) -> int:
        search = _RangeSearch(standings_of_sizes(SIZES), replace(asked, have=have))
        search.limit = log(1.5)
        if best is not None:
            pair = (GearPair(driver=8, driven=8),)
            none = SetMatch(1.0, 0.0, (), Cost(*best))
            search.best = Filled(none, pair, pair, (), Boxes(at_sum(32), at_sum(32)), 0.0, best)
        search._table(2, 2, order, table, lambda: None)
        return search.fills

    every = fills(None)
    assert fills((4, 8, 150)) == every > 0
    assert fills((4, 8, 4 * 16 - 1)) == 0
    # nor where the stock has no gears for any such box
    assert fills(None, dict.fromkeys(product(SIZES, ("fixed", "free")), 4)) == every
    assert fills(None, dict.fromkeys(product(SIZES, ("fixed", "free")), 0)) == 0


def test_a_range_search_reports_how_far_it_is() -> None:
    goals = tuple(GearGoal(str(n), Fraction(5, 4) ** n, EVEN) for n in range(8, 0, -1))
    shares: list[float] = []
    watch = Watch(report=lambda share, _best: shares.append(share))
    match_ranges(
        standings_of_sizes(SIZES), goals, low=ONE, high=ONE, tolerance=Fraction(1, 10), watch=watch
    )
    assert shares == sorted(shares)
    assert all(0 <= share <= 1 for share in shares)
    splits = len(splits_of(len(goals)))
    rounded = {Fraction(share).limit_denominator(400) for share in shares}
    assert {Fraction(n, splits) for n in range(splits)} <= rounded
    assert len(set(shares)) > 10


@given(
    st.lists(
        st.lists(st.integers(0, 200), min_size=1, max_size=6, unique=True), min_size=2, max_size=3
    )
)
def test_only_the_narrowest_intervals_are_handed_on(rows: list[list[int]]) -> None:
    lanes = []
    for row in rows:
        tops = np.array(sorted(100 + n for n in row))
        ones = np.full(len(tops), 100)
        goal = GearGoal("1", ONE, EVEN)
        lanes.append(CandidateList(goal, tops, ones, np.log(tops / 100), ones, lambda _n: ()))
    low, high = ONE, Fraction(3)
    widths = [
        Fraction(max(xs), min(xs))
        for xs in product(*[[Fraction(100 + n, 100) for n in row] for row in rows])
        if low**2 <= max(xs) * min(xs) <= high**2
    ]
    handed = list(_intervals(tuple(lanes), low, high, block=(0.0, log(3)), bound=5.0))
    # rounding may let equals through, nothing wider
    assert {ratio for ratio, _ in handed} == ({min(widths)} if widths else set())


@given(
    st.lists(st.sampled_from([EVEN, EVEN, ODD]), min_size=2, max_size=4),
    st.integers(0, 3),
    st.integers(1, 9),
)
def test_two_layshafts_serve_with_the_least_teeth(kinds: list[int], apart: int, at: int) -> None:
    goals = tuple(
        GearGoal(str(n), Fraction(5 - n, 2), parity) for n, parity in enumerate(kinds, start=1)
    )
    standings = standings_of_sizes((8, 12, 16, 24))
    asked = _Asked(standings, goals, ONE, ONE, None, None)
    served = _Served(asked, -0.6, 0.6, 0.3, teeth=True)
    shift = 7 * apart
    bounds = served.bounds(shift * served.step)
    node = at * len(bounds) // 10
    best = int(_NONE)
    for one, other in product(range(len(standings)), repeat=2):
        spent = 0
        for number, goal in enumerate(goals):
            able = [
                place
                for place, where in ((one, node), (other, node + shift))
                if served.masks[where, place] >> number & 1
            ]
            cheapest = min((int(served.teeth[place]) for place in able), default=None)
            spent = int(_NONE) if cheapest is None else spent + cheapest * (goal.parity != ODD)
            if cheapest is None:
                break
        best = min(best, int(spent))
    assert bounds[node] == best
