"""Two-shaft and layshaft boxes within the stock, against every combination of every pair."""

from collections import Counter
from collections.abc import Iterator
from fractions import Fraction
from itertools import product
from math import exp, log

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mild_badger.core.architectures.match import match_box
from mild_badger.core.ratios.box_question import Kind
from mild_badger.core.ratios.lanes import GearGoal, Impossible
from mild_badger.core.ratios.pool import EVEN, ODD
from mild_badger.core.ratios.shafts import ShaftKind, match_shared_centre
from mild_badger.core.ratios.standings import Shafts, standings, standings_of_sizes
from mild_badger.core.ratios.train import train_ratio
from mild_badger.core.vehicle.boxes import LayshaftBox
from mild_badger.core.workshop.parts import parts_needed
from strategies import brick, targets, vehicle_of

ONE = Fraction(1)
Train = tuple[int, ...]
"""Driver, driven and, for reverse, idler; empty for the direct drive."""

few_sizes = st.sampled_from([(8, 12, 16), (8, 10, 20, 24), (8, 12, 16, 24), (9, 15, 18, 30)])
counts = st.lists(st.integers(0, 3), min_size=4, max_size=4)
wanted = st.lists(st.tuples(targets, st.sampled_from([EVEN, EVEN, ODD])), min_size=1, max_size=3)


def every_box(
    box: ShaftKind, sizes: tuple[int, ...], goals: tuple[GearGoal, ...], have: Counter[int]
) -> Iterator[tuple[float, tuple[int, int, int]]]:
    """Worst error (as a logarithm) and pairs, gears and teeth of every box within the stock."""
    for total in {a + b for a in sizes for b in sizes}:
        plain = [(a, total - a) for a in sizes if total - a in sizes]
        back = [
            (a, b, z) for a, b, z in product(sizes, repeat=3) if a + b + 5 <= total <= a + b + 2 * z
        ]
        direct: list[Train] = [()] if box == "layshaft" else []
        ways = [back if goal.parity == ODD else [*plain, *direct] for goal in goals]
        for ahead in plain if box == "layshaft" else [()]:
            first = Fraction(ahead[1], ahead[0]) if ahead else ONE
            for chosen in product(*ways):
                used = Counter(teeth for train in (ahead, *chosen) for teeth in train)
                if chosen.count(()) > 1 or any(used[z] > have[z] for z in used):
                    continue
                ratios = [first * Fraction(t[1], t[0]) if t else ONE for t in chosen]
                errors = [
                    abs(log(ratio / goal.target)) for ratio, goal in zip(ratios, goals, strict=True)
                ]
                trains = [train for train in (ahead, *chosen) if train]
                size = (len(trains), sum(map(len, trains)), sum(map(sum, trains)))
                yield max(errors), size


@pytest.mark.parametrize("box", ["two-shaft", "layshaft"])
@given(
    sizes=few_sizes,
    gears=wanted,
    stock=counts,
    limit=st.sampled_from(["1/5", "1", "4"]).map(Fraction),
)
@settings(max_examples=25)
def test_no_box_within_the_stock_is_better(
    box: ShaftKind,
    sizes: tuple[int, ...],
    gears: list[tuple[Fraction, int]],
    stock: list[int],
    limit: Fraction,
) -> None:
    goals = tuple(GearGoal(str(n), target, parity) for n, (target, parity) in enumerate(gears))
    have = Counter(dict(zip(sizes, stock, strict=False)))
    parts = {(z, "any"): have[z] for z in sizes}
    every = list(every_box(box, sizes, goals, have))

    best = match_shared_centre(box, standings_of_sizes(sizes), goals, low=ONE, high=ONE, have=parts)
    small = match_shared_centre(
        box, standings_of_sizes(sizes), goals, low=ONE, high=ONE, have=parts, tolerance=limit
    )
    if not every:
        assert isinstance(best, Impossible)
        assert isinstance(small, Impossible)
        return
    assert not isinstance(best, Impossible)
    least = 100 * (exp(min(error for error, _ in every)) - 1)
    assert best.found.worst_error_percent == pytest.approx(least, rel=1e-6, abs=1e-6)
    used: Counter[int] = Counter()
    if best.input_pair is not None:
        used += Counter((best.input_pair.driver, best.input_pair.driven))
    for gear in best.found.gears:
        assert train_ratio(gear.train) == gear.ratio
        for pair in gear.train[-1:]:
            used += Counter((pair.driver, pair.driven, *pair.idlers))
    assert all(used[z] <= have[z] for z in used)

    within = [size for error, size in every if error <= log(1 + limit) + 1e-12]
    assert isinstance(small, Impossible) == (not within)
    if not isinstance(small, Impossible):
        own = small.found.cost
        shared = small.input_pair
        once = (1, 2, shared.driver + shared.driven) if shared is not None else (0, 0, 0)
        sizes_of = (own.pairs + once[0], own.gears + once[1], own.teeth + once[2])
        assert sizes_of == min(within)


def test_another_pair_of_the_same_ratio_and_another_idler_stand_in() -> None:
    # at a sum of 48 8:16 and 12:24 both make 2, over any idler that bridges
    sizes = (8, 12, 16, 24)
    goals = (GearGoal("R", Fraction(2), ODD),)
    for missing, train in (((), (8, 16, 12)), ((8,), (12, 24, 12)), ((12,), (8, 16, 16))):
        found = match_shared_centre(
            "two-shaft",
            standings_of_sizes(sizes),
            goals,
            low=ONE,
            high=ONE,
            have={(z, "any"): 0 if z in missing else 5 for z in sizes},
            tooth_sum=48,
        )
        assert not isinstance(found, Impossible)
        (pair,) = found.found.gears[0].train
        assert (pair.driver, pair.driven, *pair.idlers) == train


def test_alike_lists_what_really_stands() -> None:
    for standing in standings_of_sizes((9, 10, 12, 15, 20, 30), shafts=Shafts(profile_shift=True)):
        for pair in (*standing.fixed.every(), *standing.back.every()):
            others = standing.alike(pair, coupled=False)
            assert pair in others
            for other in others:
                assert train_ratio((other,)) == train_ratio((pair,))
                assert len(other.idlers) == len(pair.idlers)
                if not other.idlers:
                    assert abs(other.driver + other.driven - standing.tooth_sum) <= 1
    kit = brick()
    for standing in standings(kit, shafts=Shafts(coupled=kit.dog_sizes)):
        for pair in standing.ahead.every():
            assert pair in standing.alike(pair, coupled=True)
            assert all(p.driven in kit.dog_sizes for p in standing.alike(pair, coupled=True))


@pytest.mark.parametrize("kind", ["layshaft", "two-shaft"])
def test_a_box_of_bricks_keeps_within_what_there_is(kind: str) -> None:
    vehicle = vehicle_of(3, 2, 1, reverse=3)
    search = vehicle.search.model_copy(update={"within_stock": True, "seated": False})
    few = tuple(gear.model_copy(update={"stock": 2}) for gear in vehicle.kit.gears)
    vehicle = vehicle.model_copy(
        update={"search": search, "kit": vehicle.kit.model_copy(update={"gears": few})}
    )
    found = match_box(vehicle, "layshaft" if kind == "layshaft" else "two-shaft", best="error")
    assert not isinstance(found, Impossible)
    fixed: Counter[int] = Counter()
    free: Counter[int] = Counter()
    shared = found.box.input_pair if isinstance(found.box, LayshaftBox) else ()
    for pair in shared:
        fixed += Counter((pair.driver, pair.driven))
    for gear in found.found.gears:
        for pair in gear.train[-1:]:
            fixed += Counter((pair.driver, *pair.idlers))
            free[pair.driven] += 1
    assert max(fixed.values()) <= 2
    assert max(free.values()) <= 2
    assert set(free) <= set(vehicle.kit.dog_sizes)


@pytest.mark.parametrize("kind", ["slot-sum", "twin-layshaft", "range-splitter"])
@pytest.mark.parametrize("stock", [0, 1, 3, 40])
def test_other_boxes_of_bricks_keep_within_what_there_is(kind: Kind, stock: int) -> None:
    vehicle = vehicle_of(3.1, 2.2, 1.4, reverse=3)
    kit = vehicle.kit.model_copy(
        update={
            "gears": tuple(
                gear.model_copy(update={"stock": stock, "dog_faces": gear.bore == "free"})
                for gear in vehicle.kit.gears
            )
        }
    )
    search = vehicle.search.model_copy(update={"within_stock": True})
    poor = vehicle.model_copy(update={"kit": kit, "search": search})
    rich = poor.model_copy(update={"search": vehicle.search})
    within, free = match_box(poor, kind, best="error"), match_box(rich, kind, best="error")
    assert not isinstance(free, Impossible)
    if isinstance(within, Impossible):
        assert stock < 40
        assert "stock" in within.reason
        return
    short = [
        line
        for line in parts_needed(poor.model_copy(update={"box": within.box}))
        if line.key[0] in {"fixed", "free"}
        and line.short
        and set(line.used_by) - {"drive row", "selector tie"}  # of those the set has no choice
    ]
    assert not short
    # stock is one more limit, so it never makes the best box better
    assert within.found.worst_error_percent >= free.found.worst_error_percent - 1e-9
    if stock == 40:
        assert within.box == free.box
