"""Two-shaft and layshaft boxes against brute force over every tooth sum and input pair."""

from fractions import Fraction
from itertools import product
from math import exp, log

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mild_badger.core.ratios.lanes import GearGoal, Impossible
from mild_badger.core.ratios.pool import EVEN, ODD
from mild_badger.core.ratios.shafts import ShaftKind, SharedCentreMatch, match_shared_centre
from mild_badger.core.ratios.standings import standings_of_sizes as of_sizes
from mild_badger.core.ratios.train import train_ratio
from strategies import targets
from telling import tells

ONE = Fraction(1)
kits = st.lists(st.integers(8, 30), min_size=3, max_size=6, unique=True).map(
    lambda sizes: tuple(sorted(sizes))
)
wanted = st.lists(st.tuples(targets, st.sampled_from([EVEN, EVEN, ODD])), min_size=1, max_size=4)


def worst_by_force(
    box: ShaftKind, sizes: tuple[int, ...], goals: tuple[GearGoal, ...]
) -> float | None:
    """Absolute fit: each gear by itself, for every tooth sum, input pair and direct gear."""
    best = None
    for total in {a + b for a in sizes for b in sizes}:
        pairs = [(a, total - a) for a in sizes if total - a in sizes]
        back = [
            Fraction(b, a)
            for a in sizes
            for b in sizes
            if a + b + 5 <= total and a + b + 2 * max(sizes) >= total
        ]
        for input_pair in pairs if box == "layshaft" else [(1, 1)]:
            ahead = Fraction(input_pair[1], input_pair[0])
            errors = []
            direct = []
            for goal in goals:
                ways = back if goal.parity == ODD else [Fraction(b, a) for a, b in pairs]
                errors.append(
                    min((abs(log(ahead * r / goal.target)) for r in ways), default=float("inf"))
                )
                direct.append(float("inf") if goal.parity == ODD else abs(log(goal.target)))
            cases = [errors]
            if box == "layshaft":  # at most one gear can be the direct drive
                cases += [
                    [*errors[:n], min(errors[n], direct[n]), *errors[n + 1 :]]
                    for n in range(len(goals))
                ]
            worst = min(max(case) for case in cases)
            if worst < float("inf"):
                best = worst if best is None else min(best, worst)
    return best


@pytest.mark.parametrize("box", ["two-shaft", "layshaft"])
@given(sizes=kits, gears=wanted)
@settings(max_examples=40, deadline=None)
def test_no_box_has_a_smaller_worst_error(
    box: ShaftKind, sizes: tuple[int, ...], gears: list[tuple[Fraction, int]]
) -> None:
    goals = tuple(GearGoal(str(n), target, parity) for n, (target, parity) in enumerate(gears))
    found = match_shared_centre(box, of_sizes(sizes), goals, low=ONE, high=ONE)
    best = worst_by_force(box, sizes, goals)
    if best is None:
        assert isinstance(found, Impossible)
        return
    assert not isinstance(found, Impossible)
    assert found.found.worst_error_percent == pytest.approx(100 * (exp(best) - 1), abs=1e-9)
    for gear in found.found.gears:
        assert train_ratio(gear.train) == gear.ratio
        for pair in gear.train:
            if pair.idlers:
                assert pair.driver + pair.driven + 5 <= found.tooth_sum
                assert pair.driver + pair.driven + 2 * pair.idlers[0] >= found.tooth_sum
            else:
                assert pair.driver + pair.driven == found.tooth_sum
        if found.input_pair is not None and gear.train:
            assert gear.train[0] == found.input_pair


def worst_sharing(
    box: ShaftKind, sizes: tuple[int, ...], goals: tuple[GearGoal, ...]
) -> float | None:
    """The same with one driven gear for the first goal and the last, which goes over an idler."""
    worst = []
    for total in {a + b for a in sizes for b in sizes}:
        pairs = [(a, total - a) for a in sizes if total - a in sizes]
        bridged = [
            (a, b) for a in sizes for b in sizes if a + b + 5 <= total <= a + b + 2 * max(sizes)
        ]
        for (x, y), driven in product(pairs if box == "layshaft" else [(1, 1)], sizes):
            ways = dict.fromkeys(range(1, len(goals) - 1), pairs)
            ways[0] = [pair for pair in pairs if pair[1] == driven]
            ways[len(goals) - 1] = [pair for pair in bridged if pair[1] == driven]
            if all(ways.values()):
                worst.append(
                    max(
                        min(abs(log(Fraction(y * b, x * a) / goal.target)) for a, b in ways[n])
                        for n, goal in enumerate(goals)
                    )
                )
    return min(worst, default=None)


@pytest.mark.parametrize("box", ["two-shaft", "layshaft"])
@given(sizes=kits, gears=st.lists(targets, min_size=2, max_size=3))
@settings(max_examples=30, deadline=None)
def test_no_box_with_one_gear_for_two_speeds_has_a_smaller_worst_error(
    box: ShaftKind, sizes: tuple[int, ...], gears: list[Fraction]
) -> None:
    parities = [*([EVEN] * (len(gears) - 1)), ODD]
    goals = tuple(
        GearGoal(str(n), target, parity)
        for n, (target, parity) in enumerate(zip(gears, parities, strict=True))
    )
    found = match_shared_centre(
        box,
        of_sizes(sizes),
        goals,
        low=ONE,
        high=ONE,
        direct="no",
        together=(0, len(goals) - 1),
    )
    best = worst_sharing(box, sizes, goals)
    if best is None:
        assert isinstance(found, Impossible)
        return
    assert not isinstance(found, Impossible)
    assert found.found.worst_error_percent == pytest.approx(100 * (exp(best) - 1), abs=1e-9)
    first, last = found.found.gears[0], found.found.gears[-1]
    assert first.train[-1].driven == last.train[-1].driven


def test_one_gear_for_two_speeds_is_taken_from_the_stock_once() -> None:
    # at a sum of 49: 17 drives 32 forwards; 12 drives 32 over an idler of 16
    standings = of_sizes((12, 16, 17, 32))
    goals = (GearGoal("1", Fraction(32, 17), EVEN), GearGoal("R", Fraction(32, 12), ODD))
    have = {(12, "any"): 1, (16, "any"): 1, (17, "any"): 1, (32, "any"): 1}

    def matched(together: tuple[int, int] | None) -> SharedCentreMatch | Impossible:
        return match_shared_centre(
            "two-shaft",
            standings,
            goals,
            low=ONE,
            high=ONE,
            have=have,
            tooth_sum=49,
            together=together,
        )

    alone, shared = matched(None), matched((0, 1))
    assert isinstance(alone, Impossible) or alone.found.worst_error_percent > 10
    assert not isinstance(shared, Impossible)
    assert shared.found.worst_error_percent == 0
    assert [gear.train[-1].driven for gear in shared.found.gears] == [32, 32]


def test_a_reverted_train_of_exactly_thirty() -> None:
    # Shigley Ex. 13-5: 108/18 × 105/21 = 30, both sums 126
    goals = (GearGoal("1", Fraction(30), EVEN),)
    found = match_shared_centre("layshaft", of_sizes((18, 21, 105, 108)), goals, low=ONE, high=ONE)
    assert not isinstance(found, Impossible)
    assert (found.tooth_sum, found.found.worst_error_percent) == (126, 0)
    pairs = {(pair.driver, pair.driven) for pair in found.found.gears[0].train}
    assert pairs == {(18, 108), (21, 105)}


def test_direct_drive_costs_nothing_and_a_chosen_distance_is_kept() -> None:
    goals = tuple(GearGoal(n, Fraction(t), EVEN) for n, t in (("1", "3"), ("2", "1")))
    sizes = tuple(range(12, 49))
    found = match_shared_centre(
        "layshaft", of_sizes(sizes), goals, low=ONE, high=ONE, tolerance=Fraction(1, 100)
    )
    assert not isinstance(found, Impossible)
    assert [len(gear.train) for gear in found.found.gears] == [2, 0]
    fixed = match_shared_centre(
        "two-shaft", of_sizes(sizes), goals, low=ONE, high=ONE, tooth_sum=64
    )
    assert not isinstance(fixed, Impossible)
    assert fixed.tooth_sum == 64
    assert fixed.found.worst_error_percent == 0


def test_what_cannot_be_says_which_limit() -> None:
    goals = (GearGoal("1", Fraction(3), EVEN),)
    none = match_shared_centre(
        "two-shaft", of_sizes((8, 12)), goals, low=ONE, high=ONE, tooth_sum=99
    )
    assert isinstance(none, Impossible)
    assert tells(none.reason, "ratios.with-a-tooth-sum-of", tooth_sum="99")
    far = match_shared_centre(
        "two-shaft",
        of_sizes((8, 12)),
        goals,
        low=ONE,
        high=ONE,
        tolerance=Fraction(1, 100),
    )
    assert isinstance(far, Impossible)
    assert "tolerance" in far.reason


@given(kits, wanted, st.sampled_from(["1/2", "2", "3/4"]).map(Fraction))
@settings(max_examples=30, deadline=None)
def test_scaling_targets_and_factor_together_changes_nothing(
    sizes: tuple[int, ...], gears: list[tuple[Fraction, int]], scale: Fraction
) -> None:
    goals = tuple(GearGoal(str(n), t, p) for n, (t, p) in enumerate(gears))
    other = tuple(GearGoal(g.name, g.target * scale, g.parity) for g in goals)
    low, high = Fraction(1, 2), Fraction(2)
    one = match_shared_centre("two-shaft", of_sizes(sizes), goals, low=low, high=high)
    two = match_shared_centre(
        "two-shaft", of_sizes(sizes), other, low=low / scale, high=high / scale
    )
    assert isinstance(one, Impossible) == isinstance(two, Impossible)
    if not isinstance(one, Impossible) and not isinstance(two, Impossible):
        assert one.found.worst_error_percent == pytest.approx(two.found.worst_error_percent)


@given(sizes=kits, gears=st.lists(targets, min_size=1, max_size=3))
@settings(max_examples=30, deadline=None)
def test_a_slider_couples_directly_in_one_gear(
    sizes: tuple[int, ...], gears: list[Fraction]
) -> None:
    # every tooth sum, input pair and gear that is the direct one, by force
    goals = tuple(GearGoal(str(n), target, EVEN) for n, target in enumerate(gears))
    found = match_shared_centre(
        "layshaft", of_sizes(sizes), goals, low=ONE, high=ONE, direct="must"
    )
    best = float("inf")
    for total in {a + b for a in sizes for b in sizes}:
        pairs = [Fraction(total - a, a) for a in sizes if total - a in sizes]
        for ahead in pairs:
            errors = [min(abs(log(ahead * r / g.target)) for r in pairs) for g in goals]
            for number, goal in enumerate(goals):
                case = [*errors[:number], abs(log(goal.target)), *errors[number + 1 :]]
                best = min(best, max(case))
    assert not isinstance(found, Impossible)
    assert found.found.worst_error_percent == pytest.approx(100 * (exp(best) - 1), abs=1e-9)
    assert [gear.train for gear in found.found.gears].count(()) == 1
