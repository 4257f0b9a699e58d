"""The best sets against brute force: every choice, every factor that could matter."""

from fractions import Fraction
from itertools import product
from math import exp, log, prod

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from ortools.sat.python import cp_model

from mild_badger.core.architectures.match import trade_offs_for
from mild_badger.core.ratios import fewest
from mild_badger.core.ratios.lanes import GearGoal, Impossible, SetMatch
from mild_badger.core.ratios.match import best_set, smallest_set
from mild_badger.core.ratios.pool import EVEN, ODD, build_pool
from mild_badger.core.ratios.propose import apply_set
from mild_badger.core.ratios.rules import any_rules
from mild_badger.core.ratios.train import parse_train, train_ratio
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.slots import keep_train, set_train
from mild_badger.core.vehicle.model import SearchSettings
from strategies import size_sets, slot_set, slots_of, targets, vehicle_of
from telling import tells

Table = dict[Fraction, tuple[int, int]]


def reachable(sizes: tuple[int, ...], pairs: int, parity: int) -> Table:
    """Every ratio with its least (pairs, gears), by plain enumeration."""
    table: Table = {}
    for number in range(1, pairs + 1):
        for drivers in product(sizes, repeat=number):
            for driven in product(sizes, repeat=number):
                ratio = Fraction(prod(driven), prod(drivers))
                cost = (number, 2 * number + (number + parity) % 2)
                table[ratio] = min(cost, table.get(ratio, cost))
    return table


def oracle_worst(
    goals: tuple[GearGoal, ...], tables: list[Table], low: Fraction, high: Fraction
) -> float:
    """Least worst |ln(x/k)|: the optimum has k at an end or midway between two x."""
    xs = [[r / goal.target for r in table] for goal, table in zip(goals, tables, strict=True)]
    every = [log(x) for row in xs for x in row]
    candidates = {log(low), log(high)}
    candidates |= {(a + b) / 2 for a in every for b in every}
    inside = [k for k in candidates if log(low) - 1e-15 <= k <= log(high) + 1e-15]
    return min(max(min(abs(log(x) - k) for x in row) for row in xs) for k in inside)


def oracle_cost(
    goals: tuple[GearGoal, ...],
    tables: list[Table],
    bounds: tuple[Fraction, Fraction],
    tolerance: Fraction,
) -> tuple[int, int] | None:
    """Fewest pairs, then gears: exact, over every k at which something comes into reach."""
    low, high = bounds
    grow = 1 + tolerance
    spots = {low, high}
    for goal, table in zip(goals, tables, strict=True):
        for ratio in table:
            x = ratio / goal.target
            spots |= {k for k in (x * grow, x / grow) if low <= k <= high}
    best = None
    for k in spots:
        costs = []
        for goal, table in zip(goals, tables, strict=True):
            near = [c for r, c in table.items() if k / grow <= r / goal.target <= k * grow]
            if not near:
                break
            costs.append(min(near))
        else:
            total = (sum(c[0] for c in costs), sum(c[1] for c in costs))
            best = total if best is None else min(best, total)
    return best


Question = tuple[tuple[int, ...], int, tuple[GearGoal, ...], tuple[Fraction, Fraction]]


@st.composite
def questions(draw: st.DrawFn) -> Question:
    sizes = draw(size_sets)
    pairs = 2 if len(sizes) <= 3 else 1
    count = draw(st.integers(1, 3))
    goals = tuple(
        GearGoal(str(n), draw(targets), draw(st.sampled_from([EVEN, ODD]))) for n in range(count)
    )
    low = draw(st.sampled_from([Fraction(1), Fraction(1, 2), Fraction(9, 10)]))
    high = draw(st.sampled_from([Fraction(1), Fraction(2), Fraction(11, 10)]))
    return sizes, pairs, goals, (low, high)


@given(questions())
@settings(max_examples=80, deadline=None)
def test_no_set_has_a_smaller_worst_error(question: Question) -> None:
    sizes, pairs, goals, (low, high) = question
    found = best_set(build_pool(any_rules(sizes, pairs)), goals, low=low, high=high)
    assert isinstance(found, SetMatch)
    tables = [reachable(sizes, pairs, goal.parity) for goal in goals]
    assert log(1 + found.worst_error_percent / 100) == pytest.approx(
        oracle_worst(goals, tables, low, high), abs=1e-12
    )
    _is_what_it_says(found, goals, low, high)


@pytest.mark.parametrize("few", [0, 10_000])  # large lanes are thinned out first
@given(
    question=questions(),
    tolerance=st.sampled_from(["0.01", "0.03", "0.1", "0.4"]).map(Fraction),
)
@settings(max_examples=60, deadline=None)
def test_no_set_within_the_tolerance_is_smaller(
    few: int, question: Question, tolerance: Fraction
) -> None:
    sizes, pairs, goals, (low, high) = question
    pool = build_pool(any_rules(sizes, pairs), cheapest_only=few == 0)
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(fewest, "_FEW", few)
        found = smallest_set(pool, goals, low=low, high=high, tolerance=tolerance)
    tables = [reachable(sizes, pairs, goal.parity) for goal in goals]
    best = oracle_cost(goals, tables, (low, high), tolerance)
    if best is None:
        assert isinstance(found, Impossible)
        assert "tolerance" in found.reason
        return
    assert isinstance(found, SetMatch)
    assert (found.cost.pairs, found.cost.gears) == best
    assert found.worst_error_percent <= 100 * float(tolerance) + 1e-9
    _is_what_it_says(found, goals, low, high)


def _is_what_it_says(
    found: SetMatch, goals: tuple[GearGoal, ...], low: Fraction, high: Fraction
) -> None:
    assert float(low) - 1e-12 <= found.factor <= float(high) + 1e-12
    errors = []
    for gear, goal in zip(found.gears, goals, strict=True):
        assert gear.goal == goal
        assert train_ratio(gear.train) == gear.ratio
        meshes = sum(1 + len(pair.idlers) for pair in gear.train)
        assert meshes % 2 == goal.parity
        error = log(float(gear.ratio) / (found.factor * float(goal.target)))
        assert gear.error_percent == pytest.approx(100 * (exp(error) - 1), abs=1e-9)
        errors.append(abs(error))
    assert 100 * (exp(max(errors)) - 1) == pytest.approx(found.worst_error_percent, abs=1e-9)


def test_a_tolerance_met_exactly_counts_as_met() -> None:
    # 8:12 = 1.5 against 1.2: the error is exactly 25 %
    pool = build_pool(any_rules((8, 12), 1))
    goals = (GearGoal("1", Fraction("1.2"), ODD),)
    one = Fraction(1)
    at = smallest_set(pool, goals, low=one, high=one, tolerance=Fraction(1, 4))
    below = smallest_set(pool, goals, low=one, high=one, tolerance=Fraction("0.1999"))
    assert isinstance(at, SetMatch)
    assert isinstance(below, Impossible)


def test_the_bus_in_both_fits() -> None:
    bus = vehicle_of(6.1, 3.4, 2.1, 1.4, 1.0, 0.78, reverse=5.4)
    absolute = slot_set(bus, best="size")
    spacing_bus = bus.model_copy(update={"search": SearchSettings(fit="spacing")})
    spacing = slot_set(spacing_bus, best="size")
    exact_set = slot_set(spacing_bus, best="error")
    assert isinstance(absolute, SetMatch)
    assert isinstance(spacing, SetMatch)
    assert isinstance(exact_set, SetMatch)
    assert absolute.factor == 1.0
    assert spacing.cost < absolute.cost  # one factor free is easier to meet
    assert exact_set.worst_error_percent < absolute.worst_error_percent
    taken = apply_edit(bus, apply_set(bus, absolute))
    assert all(slot.train for slot in slots_of(taken))
    assert all(slot.train[-1].driven in taken.kit.dog_sizes for slot in slots_of(taken))


def test_a_kept_train_stays_and_the_rest_is_searched_round_it() -> None:
    bus = vehicle_of(4.0, 2.0, 1.0)
    train = parse_train("8:16 · 12:20")  # 10/3 against 4: 20 % long
    bus = apply_edit(bus, set_train(bus, "1", train))
    bus = apply_edit(bus, keep_train(bus, "1", True))
    found = slot_set(bus, best="error")
    assert isinstance(found, SetMatch)
    assert found.gears[0].train == train
    assert found.worst_error_percent == pytest.approx(20)  # 4 / (10/3) is 1.2
    assert [gear.ratio for gear in found.gears[1:]] == [2, 1]
    spacing = bus.model_copy(update={"search": SearchSettings(fit="spacing")})
    round_it = slot_set(spacing, best="error")
    assert isinstance(round_it, SetMatch)
    assert round_it.gears[0].train == train
    assert round_it.worst_error_percent < 2  # the factor takes it up
    assert all(point.gears[0].train == train for point in trade_offs_for(spacing))
    narrow = slot_set(bus, best="size")
    assert isinstance(narrow, Impossible)
    assert "20.00 %" in narrow.reason


def test_a_kit_without_dog_faces_can_drive_nothing() -> None:
    bus = vehicle_of(2.0)
    gears = tuple(g for g in bus.kit.gears if not g.dog_faces)
    bare = bus.model_copy(update={"kit": bus.kit.model_copy(update={"gears": gears})})
    found = slot_set(bare, best="error")
    assert isinstance(found, Impossible)
    assert tells(found.reason, "ratios.no-train-at-all-can-drive-gear-the-kit-has")


@given(questions(), st.integers(6, 48))
@settings(max_examples=40, deadline=None)
def test_one_size_more_never_worsens_the_optimum(question: Question, more: int) -> None:
    sizes, pairs, goals, (low, high) = question
    larger = tuple(sorted({*sizes, more}))
    one = best_set(build_pool(any_rules(sizes, pairs)), goals, low=low, high=high)
    other = best_set(build_pool(any_rules(larger, pairs)), goals, low=low, high=high)
    assert isinstance(one, SetMatch)
    assert isinstance(other, SetMatch)
    assert other.worst_error_percent <= one.worst_error_percent + 1e-9


@given(questions(), st.fractions(min_value=Fraction(1, 9), max_value=9, max_denominator=50))
@settings(max_examples=40, deadline=None)
def test_scaling_targets_against_the_factor_changes_nothing(
    question: Question, scale: Fraction
) -> None:
    sizes, pairs, goals, (low, high) = question
    pool = build_pool(any_rules(sizes, pairs))
    scaled = tuple(GearGoal(g.name, g.target * scale, g.parity) for g in goals)
    one = best_set(pool, goals, low=low, high=high)
    other = best_set(pool, scaled, low=low / scale, high=high / scale)
    assert isinstance(one, SetMatch)
    assert isinstance(other, SetMatch)
    assert other.worst_error_percent == pytest.approx(one.worst_error_percent, abs=1e-9)


@given(questions())
@settings(max_examples=40, deadline=None)
def test_inverted_targets_take_inverted_trains(question: Question) -> None:
    # free pairs are closed under swapping driver and driven
    sizes, pairs, goals, (low, high) = question
    pool = build_pool(any_rules(sizes, pairs))
    turned = tuple(GearGoal(g.name, 1 / g.target, g.parity) for g in goals)
    one = best_set(pool, goals, low=low, high=high)
    other = best_set(pool, turned, low=1 / high, high=1 / low)
    assert isinstance(one, SetMatch)
    assert isinstance(other, SetMatch)
    assert other.worst_error_percent == pytest.approx(one.worst_error_percent, abs=1e-9)
    inverse = [1 / gear.ratio / goal.target for gear, goal in zip(one.gears, turned, strict=True)]
    spread = max(inverse) / min(inverse)
    k = min(max(log(min(inverse) * max(inverse)) / 2, -log(high)), -log(low))
    assert max(abs(log(x) - k) for x in inverse) == pytest.approx(
        log(1 + other.worst_error_percent / 100), abs=1e-9
    )
    assert spread >= 1


@pytest.mark.parametrize("targets_text", ["4.1,2.6,1.7,1.2,0.8", "6.113,4.027,2.881,2.109,1.563"])
def test_a_mid_sized_set_against_cp_sat(targets_text: str) -> None:
    # OR-Tools CP-SAT on the same question, in whole hundredths of a millionth of ln
    scale = 10**8
    goals = tuple(GearGoal(t, Fraction(t), EVEN) for t in targets_text.split(","))
    pool = build_pool(any_rules((8, 12, 16, 20, 24, 28, 36, 40), 2))
    found = best_set(pool, goals, low=Fraction(1, 2), high=Fraction(2))
    assert isinstance(found, SetMatch)
    model = cp_model.CpModel()
    least, most = (model.new_int_var(-9 * scale, 9 * scale, name) for name in ("least", "most"))
    for goal in goals:
        xs = [round((float(x) - log(goal.target)) * scale) for x in pool.log_ratio]
        chosen = model.new_int_var_from_domain(cp_model.Domain.FromValues(xs), goal.name)
        model.add(least <= chosen)
        model.add(most >= chosen)
    model.add(least + most >= round(-2 * log(2) * scale))
    model.add(least + most <= round(2 * log(2) * scale))
    model.minimize(most - least)
    solver = cp_model.CpSolver()
    assert solver.solve(model) == cp_model.OPTIMAL
    assert log(1 + found.worst_error_percent / 100) == pytest.approx(
        solver.objective_value / scale / 2, abs=4 / scale
    )
