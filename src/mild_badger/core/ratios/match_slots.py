"""Slot boxes: the best set of gears alone, and with summing differentials where those miss."""

from collections import Counter
from dataclasses import replace
from fractions import Fraction

from mild_badger.core.message import say
from mild_badger.core.ratios.box_question import BoxMatch, BoxQuestion
from mild_badger.core.ratios.deep import best_deep, build_deep, is_deep, smallest_deep
from mild_badger.core.ratios.fewest import smallest_lanes
from mild_badger.core.ratios.lanes import Impossible, SetMatch, lanes_of
from mild_badger.core.ratios.least import best_lanes
from mild_badger.core.ratios.match import best_set, smallest_set
from mild_badger.core.ratios.pool import RatioTable, build_pool
from mild_badger.core.ratios.propose import slot_pool, slot_search_rules
from mild_badger.core.ratios.stocked import (
    Have,
    Part,
    best_stocked,
    pool_trains,
    smallest_stocked,
    used_by,
)
from mild_badger.core.ratios.summing import (
    MOST_SUMMED,
    Branches,
    Near,
    SumLanes,
    price_of,
    sum_lanes,
    sums_used_by,
    without_differentials,
)
from mild_badger.core.vehicle.box import Train
from mild_badger.core.vehicle.boxes import SlotBox
from mild_badger.core.vehicle.edit.slots import with_places
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["match_slots", "match_slots_and_sums"]

_MOST_SUMMED_IN_STOCK = 60
"""Ratios of which every sum with every train of it is shared out; with more those near a factor."""
_USAGE = sums_used_by(used_by(free="driven", any_bore=False))
_HAIR = Fraction(1_000_000_001, 1_000_000_000)
_NEAR_REACH = 0.5


def match_slots(asked: BoxQuestion) -> BoxMatch | Impossible:
    """Find the best set of a slot box with gears alone."""
    matched = _slot_set(asked)
    if isinstance(matched, Impossible):
        return matched
    return BoxMatch("slot", matched, _slots_filled(asked.vehicle, matched, {}))


def _slot_set(asked: BoxQuestion) -> SetMatch | Impossible:
    held = next((goal.name for goal in asked.goals if goal.second), None)
    if held is not None:
        return Impossible(say("ratios.gear-keeps-its-summing-differential-search", held=held))
    low, high = asked.bounds
    rules, goals = slot_search_rules(asked.vehicle), asked.goals
    have = asked.have()
    if is_deep(rules) and not have:
        deep = build_deep(rules)
        if asked.tolerance is None:
            return best_deep(deep, goals, low=low, high=high, watch=asked.watch)
        return smallest_deep(
            deep, goals, low=low, high=high, tolerance=asked.tolerance, watch=asked.watch
        )
    pool = slot_pool(asked.vehicle) if not have else build_pool(rules)
    if not have:
        if asked.tolerance is None:
            return best_set(pool, goals, low=low, high=high, watch=asked.watch)
        return smallest_set(pool, goals, low=low, high=high, tolerance=asked.tolerance)
    lanes = lanes_of(pool, goals)
    if isinstance(lanes, Impossible):
        return lanes
    trains, usage = pool_trains(pool, lanes), used_by(free="driven", any_bore=False)
    if asked.tolerance is None:
        return best_stocked(lanes, trains, usage, have, low=low, high=high, watch=asked.watch)
    return smallest_stocked(
        lanes,
        trains,
        usage,
        have,
        low=low,
        high=high,
        tolerance=asked.tolerance,
        watch=asked.watch,
    )


def _slots_filled(
    vehicle: Vehicle, matched: SetMatch, sums: dict[str, tuple[Train, Train]]
) -> SlotBox:
    box = SlotBox.of(vehicle.box) or SlotBox()
    trains: dict[str, tuple[Train, Train]] = {g.goal.gear: (g.train, ()) for g in matched.gears}
    trains |= sums
    placed = with_places(list(box.slots), list(trains))
    slots = tuple(
        slot.model_copy(update={"train": trains[slot.gear][0], "second": trains[slot.gear][1]})
        if slot.gear in trains
        else slot
        for slot in placed
    )
    return box.model_copy(update={"slots": slots})


def match_slots_and_sums(asked: BoxQuestion) -> BoxMatch | Impossible:
    """Find the best set of a slot box in which a gear may have a summing differential.

    The fewest differentials come before the fewest pairs; without a tolerance only where they
    lower the worst error. Where there are too many sums to list, those near the factor of the set
    of gears alone are tried, and the match is not said to be proven.
    """
    have = asked.have()
    matched: tuple[SetMatch, bool] | Impossible | None = None
    if have is not None:  # a set found without regard to the stock that keeps within it is the best
        matched = _set_and_sums(asked.without_stock())
        if isinstance(matched, Impossible) or not _fits(matched[0], have):
            matched = None
    if matched is None:
        matched = _set_and_sums(asked)
    if isinstance(matched, Impossible):
        return matched
    chosen, proven = matched
    sums = {g.goal.gear: g.train.both for g in chosen.gears if isinstance(g.train, Branches)}
    gears = tuple(
        replace(g, train=g.train.both[0]) if isinstance(g.train, Branches) else g
        for g in chosen.gears
    )
    whole = replace(chosen, gears=gears, cost=without_differentials(chosen.cost))
    return BoxMatch("slot-sum", whole, _slots_filled(asked.vehicle, whole, sums), proven=proven)


def _fits(matched: SetMatch, have: Have) -> bool:
    used: Counter[Part] = Counter()
    for gear in matched.gears:
        used += _USAGE(gear.train)
    return all(have.get(part, count) >= count for part, count in used.items())


def _set_and_sums(asked: BoxQuestion) -> tuple[SetMatch, bool] | Impossible:
    """Find the set, its sums as branches, and tell whether it is proven."""
    held = any(goal.second for goal in asked.goals)
    plain: SetMatch | Impossible = Impossible("") if held else _slot_set(asked)
    if isinstance(plain, SetMatch) and (asked.tolerance is not None or not _misses(plain)):
        return plain, True
    rules = slot_search_rules(asked.vehicle)
    if is_deep(rules):
        rules = replace(rules, max_pairs=2)
    pool = slot_pool(asked.vehicle) if asked.have() is None else build_pool(rules)
    search = _SumSearch(asked, pool, build_pool(replace(rules, last_driven=None)), plain)
    matched = search.run()
    if isinstance(matched, Impossible):
        return (plain, search.complete) if isinstance(plain, SetMatch) else matched
    return matched, search.complete


def _misses(matched: SetMatch) -> bool:
    return matched.worst_error_percent > 1e-9


class _SumSearch:
    """Chooses plain trains and sums together."""

    def __init__(
        self,
        asked: BoxQuestion,
        pool: RatioTable,
        branches: RatioTable,
        plain: SetMatch | Impossible,
    ) -> None:
        self.asked, self.pool, self.branches = asked, pool, branches
        self.have = asked.have()
        most = MOST_SUMMED if self.have is None else _MOST_SUMMED_IN_STOCK
        self.lists_all = max(len(branches.usable(parity)) for parity in (0, 1)) <= most
        low, high = self.bounds = asked.bounds
        if not self.lists_all:
            factor = self._plain_factor(plain) if low < high else low
            self.bounds = (factor, factor)
        # at a given factor and without stock each gear stands by itself
        self.complete = self.lists_all or (low == high and self.have is None)

    def _plain_factor(self, plain: SetMatch | Impossible) -> Fraction:
        """Give the factor at which the set of gears alone is nearest."""
        if isinstance(plain, Impossible):
            goals = tuple(
                replace(g, kept=(), second=()) if g.second else g for g in self.asked.goals
            )
            free = replace(self.asked.without_stock(), goals=goals, tolerance=None)
            plain = _slot_set(free)
        low, high = self.asked.bounds
        factor = Fraction(1) if isinstance(plain, Impossible) else Fraction(plain.factor)
        return min(max(factor, low), high)

    def run(self) -> SetMatch | Impossible:
        """Find the least worst error, then the fewest differentials and pairs that keep it."""
        if self.asked.tolerance is not None:
            return self._smallest(self.asked.tolerance)
        best = self._best()
        if isinstance(best, Impossible):
            return best
        least = Fraction(best.worst_error_percent) / 100 * _HAIR + Fraction(1, 10**12)
        smaller = self._smallest(least)
        return best if isinstance(smaller, Impossible) else smaller

    def _lanes(self, reach: float) -> SumLanes | Impossible:
        near = None if self.lists_all else Near(float(self.bounds[0]), reach)
        return sum_lanes(
            self.pool, self.branches, self.asked.goals, near=near, stock=self.have is not None
        )

    def _best(self) -> SetMatch | Impossible:
        matched = self._lanes(_NEAR_REACH if self.have else 0.0)
        if isinstance(matched, Impossible):
            return matched
        low, high = self.bounds
        if self.have is None:
            return best_lanes(matched.lanes, low=low, high=high, watch=self.asked.watch)
        return best_stocked(
            matched.lanes,
            matched.trains,
            _USAGE,
            self.have,
            low=low,
            high=high,
            price=price_of,
            watch=self.asked.watch,
        )

    def _smallest(self, tolerance: Fraction) -> SetMatch | Impossible:
        matched = self._lanes(float(tolerance))
        if isinstance(matched, Impossible):
            return matched
        low, high = self.bounds
        if self.have is None:
            return smallest_lanes(matched.lanes, low=low, high=high, tolerance=tolerance)
        return smallest_stocked(
            matched.lanes,
            matched.trains,
            _USAGE,
            self.have,
            low=low,
            high=high,
            tolerance=tolerance,
            price=price_of,
            watch=self.asked.watch,
        )
