"""Two parallel layshafts within the stock, with reverse and kept gears, against every box."""

from collections import Counter
from collections.abc import Iterator
from fractions import Fraction
from itertools import product
from math import exp, log

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mild_badger.core.ratios.lanes import GearGoal, Impossible
from mild_badger.core.ratios.pool import EVEN, ODD
from mild_badger.core.ratios.standings import standings_of_sizes
from mild_badger.core.ratios.twin import match_twin
from mild_badger.core.vehicle.box import GearPair
from strategies import targets

ONE = Fraction(1)
FITS = [(ONE, ONE), (Fraction(1, 2), Fraction(2))]
SIZES = [(8, 12, 16), (8, 16, 24), (9, 18, 27), (10, 15, 20)]


def every_box(
    sizes: tuple[int, ...],
    goals: tuple[GearGoal, ...],
    bounds: tuple[Fraction, Fraction],
    have: Counter[int],
) -> Iterator[tuple[float, int]]:
    """Worst error (as a logarithm) and teeth of every box within the stock."""
    low, high = (log(end) for end in bounds)
    sums = sorted({a + b for a in sizes for b in sizes})
    ahead = {t: [(a, t - a) for a in sizes if t - a in sizes] for t in sums}
    back = {
        t: [(a, b, z) for a, b, z in product(sizes, repeat=3) if a + b + 5 <= t <= a + b + 2 * z]
        for t in sums
    }
    for one, other in product(sums, repeat=2):
        for wheel, first, second in product(sizes, repeat=3):
            ways = []
            for goal in goals:
                pairs = back if goal.parity == ODD else ahead
                kept = (goal.kept[0].driver, goal.kept[0].driven) if goal.kept else None
                ways.append(
                    [
                        (log(Fraction(pair[1] * wheel, pair[0] * pinion) / goal.target), pair)
                        for total, pinion in ((one, first), (other, second))
                        for pair in pairs[total]
                        if kept in (None, pair)
                    ]
                )
            for chosen in product(*ways):
                parts = [*(pair for _, pair in chosen), (wheel, first, second)]
                used = Counter(teeth for part in parts for teeth in part)
                if all(used[z] <= have[z] for z in used):
                    xs = [x for x, _ in chosen]
                    k = min(max((min(xs) + max(xs)) / 2, low), high)
                    yield max(abs(x - k) for x in xs), sum(map(sum, parts))


@given(
    sizes=st.sampled_from(SIZES),
    ratios=st.lists(targets, min_size=1, max_size=2, unique=True),
    reverse=st.none() | targets,
    bounds=st.sampled_from(FITS),
    stock=st.none() | st.lists(st.integers(1, 5), min_size=3, max_size=3),
    keep=st.booleans(),
    limit=st.sampled_from(["1/10", "1/3", "1"]).map(Fraction),
)
@settings(max_examples=10)
def test_no_box_within_the_stock_is_better(
    sizes: tuple[int, ...],
    ratios: list[Fraction],
    reverse: Fraction | None,
    bounds: tuple[Fraction, Fraction],
    stock: list[int] | None,
    keep: bool,
    limit: Fraction,
) -> None:
    kept = (GearPair(driver=sizes[0], driven=sizes[1]),) if keep else ()
    goals = [GearGoal(str(n), ratio, EVEN) for n, ratio in enumerate(ratios)]
    goals[0] = GearGoal("0", ratios[0], EVEN, kept)
    if reverse is not None:
        goals.append(GearGoal("R", reverse, ODD))
    counts = stock or [99, 99, 99]
    have = Counter(dict(zip(sizes, counts, strict=True)))
    parts = None if stock is None else {(z, "any"): have[z] for z in sizes}
    every = list(every_box(sizes, tuple(goals), bounds, have))
    low, high = bounds
    standings = standings_of_sizes(sizes)

    best = match_twin(standings, sizes, tuple(goals), low=low, high=high, have=parts)
    small = match_twin(
        standings, sizes, tuple(goals), low=low, high=high, have=parts, tolerance=limit
    )

    assert isinstance(best, Impossible) == (not every)
    if not isinstance(best, Impossible):
        least = 100 * (exp(min(way[0] for way in every)) - 1)
        assert best.found.worst_error_percent == pytest.approx(least, abs=1e-6)
        assert best.proven
        used = Counter([best.output_pairs[0].driven, *(p.driver for p in best.output_pairs)])
        for number, gear in enumerate(best.found.gears):
            own, out = gear.train
            used.update((own.driver, own.driven, *own.idlers))
            assert out == best.output_pairs[best.layshafts[number]]
            assert not gear.goal.kept or gear.goal.kept == (own,)
        assert used <= have
    inside = [teeth for error, teeth in every if error <= log(1 + limit) + 1e-12]
    assert isinstance(small, Impossible) == (not inside)
    if not isinstance(small, Impossible):
        assert small.found.cost.teeth == min(inside)


def test_a_free_factor_is_no_worse_than_the_best_of_many_given_ones() -> None:
    sizes = tuple(range(8, 21))
    standings = standings_of_sizes(sizes)
    goals = tuple(
        GearGoal(str(n), Fraction(r), EVEN) for n, r in enumerate(("4.1", "2.7", "1.9", "1.3"))
    )
    free = match_twin(standings, sizes, goals, low=Fraction(3, 4), high=Fraction(4, 3))
    assert not isinstance(free, Impossible)
    for n in range(75, 134, 4):
        k = Fraction(n, 100)
        given_one = match_twin(standings, sizes, goals, low=k, high=k)
        assert not isinstance(given_one, Impossible)
        assert free.found.worst_error_percent <= given_one.found.worst_error_percent + 1e-9
    at_its_own = match_twin(
        standings, sizes, goals, low=Fraction(free.found.factor), high=Fraction(free.found.factor)
    )
    assert not isinstance(at_its_own, Impossible)
    assert at_its_own.found.worst_error_percent == pytest.approx(
        free.found.worst_error_percent, abs=1e-6
    )


def test_more_gears_than_are_tabled_together_are_searched_as_well() -> None:
    sizes = (8, 12, 16, 20, 24)
    ratios = [Fraction(12, 10) ** n for n in range(10)]
    goals = tuple(GearGoal(str(n), ratio, EVEN) for n, ratio in enumerate(ratios))
    best = match_twin(standings_of_sizes(sizes), sizes, goals, low=ONE, high=ONE)
    assert not isinstance(best, Impossible)
    least = min(
        max(min(abs(log(r / goal.target)) for r in ways) for goal in goals)
        for one, other in product({a + b for a in sizes for b in sizes}, repeat=2)
        for wheel, first, second in product(sizes, repeat=3)
        if (
            ways := [
                Fraction((total - a) * wheel, a * pinion)
                for total, pinion in ((one, first), (other, second))
                for a in sizes
                if total - a in sizes
            ]
        )
    )
    assert best.found.worst_error_percent == pytest.approx(100 * (exp(least) - 1), abs=1e-6)
