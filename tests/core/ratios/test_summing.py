"""Sets with summing differentials, against every train and every sum of two."""

from collections import Counter
from fractions import Fraction
from itertools import combinations_with_replacement, product
from math import exp, log

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mild_badger.core.architectures.match import match_box
from mild_badger.core.architectures.registry import architecture_of
from mild_badger.core.ratios.box_question import BoxQuestion
from mild_badger.core.ratios.lanes import GearGoal, Impossible
from mild_badger.core.ratios.match_slots import match_slots_and_sums
from mild_badger.core.ratios.pool import EVEN, ODD, build_pool
from mild_badger.core.ratios.rules import any_rules
from mild_badger.core.ratios.summing import Branches, Near, sum_lanes
from mild_badger.core.ratios.train import gear_ratio
from mild_badger.core.vehicle.box import GearPair, Slot, chain_ratio, summed
from mild_badger.core.vehicle.boxes import SlotBox
from mild_badger.core.vehicle.kit import Bore, GearSize, Kit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.tally import Tally
from mild_badger.core.watch import UNWATCHED
from strategies import brick, targets, vehicle_of
from telling import tells

FITS = [("absolute", 1, 1), ("spacing", 0.5, 2)]
BORES: tuple[Bore, ...] = ("fixed", "free")
SIZES = [(8, 12, 20), (8, 16, 24), (9, 12, 15)]


def kit_of(sizes: tuple[int, ...], stock: dict[int, int] | None = None) -> Kit:
    """A kit that meshes anything, every size fixed and free with dog faces."""
    gears = tuple(
        GearSize(
            teeth=teeth,
            bore=bore,
            dog_faces=bore == "free",
            face_width_mm=6,
            tip_diameter_mm=teeth + 2,
            stock=None if stock is None else stock[teeth],
        )
        for teeth in sizes
        for bore in BORES
    )
    return brick().model_copy(
        update={"gears": gears, "kind": "wood", "module_mm": 1.0, "made": None}
    )


def question(
    sizes: tuple[int, ...],
    goals: tuple[GearGoal, ...],
    fit: tuple[str, float, float],
    *,
    tolerance: Fraction | None = None,
    stock: dict[int, int] | None = None,
) -> BoxQuestion:
    vehicle = vehicle_of(1)
    search = vehicle.search.model_copy(
        update={
            "max_pairs": 1,
            "fit": fit[0],
            "factor_low": fit[1],
            "factor_high": fit[2],
            "within_stock": stock is not None,
        }
    )
    vehicle = vehicle.model_copy(
        update={"kit": kit_of(sizes, stock), "search": search, "box": SlotBox()}
    )
    return BoxQuestion(vehicle, goals, tolerance, UNWATCHED, alone=True)


def ways_of(sizes: tuple[int, ...]) -> list[tuple[Fraction, int, int, Counter[tuple[int, str]]]]:
    """Ratio, differentials, teeth and parts of every pair and every sum of two pairs."""
    pairs = list(product(sizes, repeat=2))
    ways = [
        (Fraction(b, a), 0, a + b, Counter({(a, "fixed"): 1, (b, "free"): 1})) for a, b in pairs
    ]
    for (a, b), (c, d) in combinations_with_replacement(pairs, 2):
        used = Counter([(z, "fixed") for z in (a, b, c, d)])
        ways.append((summed(Fraction(b, a), Fraction(d, c)), 1, a + b + c + d, used))
    return ways


def worst_of(xs: list[float], fit: tuple[str, float, float]) -> float:
    k = min(max((min(xs) + max(xs)) / 2, log(fit[1])), log(fit[2]))
    return max(abs(x - k) for x in xs)


@given(
    sizes=st.sampled_from(SIZES),
    ratios=st.lists(targets, min_size=1, max_size=2),
    fit=st.sampled_from(FITS),
    stock=st.none() | st.lists(st.integers(0, 2), min_size=3, max_size=3),
    limit=st.sampled_from(["1/50", "1/10", "1"]).map(Fraction),
)
@settings(max_examples=40)
def test_no_set_with_sums_is_better(
    sizes: tuple[int, ...],
    ratios: list[Fraction],
    fit: tuple[str, float, float],
    stock: list[int] | None,
    limit: Fraction,
) -> None:
    goals = tuple(GearGoal(str(n), ratio, ODD) for n, ratio in enumerate(ratios))
    owned = None if stock is None else dict(zip(sizes, stock, strict=True))
    every = []
    for chosen in product(ways_of(sizes), repeat=len(goals)):
        used: Counter[tuple[int, str]] = sum((way[3] for way in chosen), Counter())
        if owned is not None and any(count > owned[part[0]] for part, count in used.items()):
            continue
        xs = [log(way[0] / goal.target) for way, goal in zip(chosen, goals, strict=True)]
        every.append((worst_of(xs, fit), sum(w[1] for w in chosen), sum(w[2] for w in chosen)))

    best = match_slots_and_sums(question(sizes, goals, fit, stock=owned))
    small = match_slots_and_sums(question(sizes, goals, fit, stock=owned, tolerance=limit))

    assert isinstance(best, Impossible) == (not every)
    if not isinstance(best, Impossible):
        least = 100 * (exp(min(way[0] for way in every)) - 1)
        assert best.found.worst_error_percent == pytest.approx(least, abs=1e-6)
        assert best.proven
        for goal, gear in zip(goals, best.found.gears, strict=True):
            assert gear_ratio(best.box, goal.name) == gear.ratio
    inside = [way[1:] for way in every if way[0] <= log(1 + limit) + 1e-12]
    assert isinstance(small, Impossible) == (not inside)
    if not isinstance(small, Impossible):
        assert isinstance(small.box, SlotBox)
        sums = sum(1 for slot in small.box.slots if slot.second)
        assert (sums, small.found.cost.teeth) == min(inside)
        tally = Tally()
        architecture_of(small.box).count(tally, small.box, kit_of(sizes))
        for teeth in sizes if owned is not None else ():
            for bore in ("fixed", "free"):
                tied = small.box.columns if teeth == 24 and small.box.columns > 1 else 0
                assert tally.count[bore, teeth] - tied <= (owned or {})[teeth]


def test_a_sum_reaches_what_gears_alone_miss() -> None:
    # 12/11 has the prime 11, which no brick size has; half of 1/2 + 4/3 turns is 11/12 of one
    pool = build_pool(any_rules((8, 12, 16, 20, 24, 28, 36, 40), 2))
    assert pool.find(Fraction(12, 11)) is None
    found = sum_lanes(pool, pool, (GearGoal("1", Fraction(12, 11), EVEN),))
    assert not isinstance(found, Impossible)
    lane = found.lanes[0]
    place = int(abs(lane.log_x).argmin())
    assert lane.ratio(place) == Fraction(12, 11)
    train = lane.train(place)
    assert isinstance(train, Branches)
    one, other = train.both
    assert summed(chain_ratio(one), chain_ratio(other)) == Fraction(12, 11)


@given(targets, st.sampled_from([EVEN, ODD]))
@settings(max_examples=30)
def test_sums_near_a_factor_hold_the_nearest_and_the_cheapest(
    target: Fraction, parity: int
) -> None:
    pool = build_pool(any_rules((8, 12, 16, 20, 24), 2))
    goals = (GearGoal("1", target, parity),)
    every = sum_lanes(pool, pool, goals)
    near = sum_lanes(pool, pool, goals, near=Near(1.0, log(1.02)))
    assert not isinstance(every, Impossible)
    assert not isinstance(near, Impossible)
    assert abs(near.lanes[0].log_x).min() == pytest.approx(abs(every.lanes[0].log_x).min())
    costs = []
    for lane in (every.lanes[0], near.lanes[0]):
        inside = lane.cost[abs(lane.log_x) <= log(1.02)]
        costs.append(int(inside.min(initial=0)))
    assert costs[0] == costs[1]


def kept_sum_vehicle() -> Vehicle:
    vehicle = vehicle_of(2.31, 1.37)
    slot = Slot(
        gear="1",
        column=1,
        face="front",
        kept=True,
        train=(GearPair(driver=8, driven=24), GearPair(driver=8, driven=8)),
        second=(GearPair(driver=8, driven=16), GearPair(driver=8, driven=8)),
    )
    return vehicle.model_copy(update={"box": SlotBox(slots=(slot,))})


def test_a_kept_differential_stays_as_it_is() -> None:
    vehicle = kept_sum_vehicle()
    found = match_box(vehicle, "slot-sum", best="error")
    assert not isinstance(found, Impossible)
    assert found.box.slots[0] == vehicle.box.slots[0]
    assert found.found.gears[0].ratio == Fraction(12, 5)
    plain = match_box(vehicle, "slot", best="error")
    assert isinstance(plain, Impossible)
    assert tells(plain.reason, "ratios.gear-keeps-its-summing-differential-search")
