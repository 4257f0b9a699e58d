"""Boxes whose pairs all sit between the same two shafts: two-shaft and layshaft boxes.

With one module all pairs of such a box have the same tooth sum, or one off with profile shift.
Every standing (and for the layshaft box every input pair) gives a small pool of its own; the best
set is the best over all of them, each found exactly.
"""

from collections import Counter
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from fractions import Fraction
from functools import partial
from math import inf, log
from typing import Literal

import numpy as np

from mild_badger.core.message import say
from mild_badger.core.ratios.fewest import smallest_lanes
from mild_badger.core.ratios.lanes import CandidateList, GearGoal, Impossible, SetMatch
from mild_badger.core.ratios.least import best_lanes, least_error_bound
from mild_badger.core.ratios.pool import ODD, Cost, train_cost, unpack
from mild_badger.core.ratios.standings import CentreOption, Pairs
from mild_badger.core.ratios.stocked import (
    Have,
    Part,
    TrainsAt,
    Usage,
    best_stocked,
    smallest_stocked,
    used_by,
)
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.watch import UNWATCHED, Watch

__all__ = ["ROUNDING", "Direct", "ShaftKind", "SharedCentreMatch", "match_shared_centre"]

ShaftKind = Literal["layshaft", "two-shaft"]
Direct = Literal["may", "must", "no"]

ROUNDING = 1e-9
"""Far above rounding in the quick bound, so that nothing that could win is passed over."""


@dataclass(frozen=True)
class SharedCentreMatch:
    """A set, and the standing of all its pairs.

    In a layshaft box ``input_pair`` is in constant mesh ahead of every gear's own pair; a train
    lists it first, and an empty train is the direct drive. The set's cost leaves the input pair
    out, since every box of the kind has it once.
    """

    found: SetMatch
    tooth_sum: int
    distance_mm: float
    input_pair: GearPair | None


def match_shared_centre(
    box: ShaftKind,
    standings: tuple[CentreOption, ...],
    goals: tuple[GearGoal, ...],
    *,
    low: Fraction,
    high: Fraction,
    tolerance: Fraction | None = None,
    tooth_sum: int | None = None,
    direct: Direct = "may",
    have: Have | None = None,
    together: tuple[int, int] | None = None,
    watch: Watch = UNWATCHED,
) -> SharedCentreMatch | Impossible:
    """Find the best set of a two-shaft or a layshaft box.

    Parameters
    ----------
    box
        Which of the two.
    standings
        The distances there are, with their pairs.
    goals
        The gears; odd parity marks reverse, which goes over an idler in either box.
    low, high
        Bounds of the factor k; both 1 for the absolute fit.
    tolerance
        Where given, the fewest pairs, then gears, then teeth within it; else the least worst error.
    tooth_sum
        Where given, only this tooth sum (a chosen centre distance); else every one there is.
    direct
        Whether a layshaft box's direct drive may, must or must not serve a forward gear.
    have
        How many gears of each size and bore there are, where the set must keep within that.
    together
        The numbers of a forward gear and a reverse that have one driven gear, which counts once.

    Returns
    -------
    SharedCentreMatch or Impossible
        Among equals the smallest tooth sum.
    """
    best: tuple[tuple[float, ...], SharedCentreMatch] | None = None
    out_of_reach, least = False, inf
    asked = [s for s in standings if tooth_sum is None or s.tooth_sum == tooth_sum]
    for number, standing in enumerate(asked):
        watch.tick(number / len(asked), None if best is None else best[1].found)
        for sides, input_pair in _ways(box, standing, goals, have, together):
            if best is not None and tolerance is not None:
                cheapest = _least_cost(box, standing, sides, direct)
                if cheapest >= best[0][:3]:
                    continue
            limit = log(1 + tolerance) if tolerance is not None else least
            bound = sides.least
            for among in (sides.together, range(len(goals))):
                if among and bound <= limit + ROUNDING:
                    bound = _bound(box, sides, input_pair, direct, among, low=low, high=high)
            if bound > limit + ROUNDING:
                out_of_reach |= bound < inf
                continue
            given = _cases(box, goals, direct, together)
            while given:
                lanes = _lanes(sides, input_pair, given.pop())
                if lanes is None:
                    continue
                left = _left(have, input_pair, sides.spare)
                if left is None:
                    matched = _one(lanes, low=low, high=high, tolerance=tolerance)
                else:
                    trains = partial(_trains_alike, standing, sides, lanes)
                    count = used_by(free=standing.shafts.couples, any_bore=_any_bore(left))
                    matched = _stocked(
                        lanes, trains, count, left, low=low, high=high, tolerance=tolerance
                    )
                if isinstance(matched, Impossible):
                    out_of_reach = True
                    continue
                if sum(1 for gear in matched.gears if not gear.train) > 1:
                    given += [
                        _SharedCentre(frozenset({n}))
                        for n in range(len(goals))
                        if n not in sides.together
                    ]  # only one can be
                    continue
                cost = _whole_cost(matched.cost, input_pair, sides.spare)
                error = matched.worst_error_percent
                least = min(least, log(1 + error / 100))
                key = (error, *cost) if tolerance is None else (*cost, error)
                if best is None or key < best[0]:
                    match = SharedCentreMatch(
                        matched, standing.tooth_sum, standing.distance_mm, input_pair
                    )
                    best = (key, match)
    if best is not None:
        return best[1]
    if together is not None:
        return Impossible(say("ratios.no-tooth-sum-has-one-driven-gear-for-both"))
    if out_of_reach:
        return Impossible(say("ratios.no-tooth-sum-keeps-every-gear-within-the"))
    where = (
        say("ratios.with-a-tooth-sum-of", tooth_sum=tooth_sum)
        if tooth_sum is not None
        else say("ratios.with-these-sizes")
    )
    return Impossible(say("ratios.not-every-gear-has-a-pair-choose-another", where=where))


@dataclass(frozen=True)
class _Sides:
    """What each gear's own pair may be, in the goals' order, at one standing.

    ``spare`` is the driven gear that the two ``together`` have for both, 0 where none share;
    ``least`` is a lower bound of the worst error that these two have behind any input pair.
    """

    goals: tuple[GearGoal, ...]
    pairs: tuple[Pairs, ...]
    together: tuple[int, ...] = ()
    spare: int = 0
    least: float = 0.0


def _ways(
    box: ShaftKind,
    standing: CentreOption,
    goals: tuple[GearGoal, ...],
    have: Have | None,
    together: tuple[int, int] | None,
) -> Iterator[tuple[_Sides, GearPair | None]]:
    """List what the gears' pairs may be, with every input pair."""
    usual = tuple(standing.back if goal.parity == ODD else standing.ahead for goal in goals)
    every = [_Sides(goals, usual)]
    if together is not None:
        every = []
        for teeth in standing.stands.sizes:
            ahead, back = standing.with_driven(teeth)
            if len(ahead) and len(back):
                own = dict(zip(together, (ahead, back), strict=True))
                pairs = tuple(own.get(n, side) for n, side in enumerate(usual))
                one, other = (
                    side.log_ratio - log(goals[n].target)
                    for n, side in zip(together, (ahead, back), strict=True)
                )
                # one factor and one input pair shift both alike: half their distance stays
                apart = float(np.abs(one[:, None] - other).min()) / 2
                every.append(_Sides(goals, pairs, together, teeth, apart))
    for input_pair in _input_pairs(box, standing, have):
        for sides in every:
            yield sides, input_pair


def _left(have: Have | None, input_pair: GearPair | None, spare: int) -> Have | None:
    """Take the input pair off; the trains that list it do not count it again.

    The gear that two trains share is there once more for the second.
    """
    if have is None or (input_pair is None and not spare):
        return have
    left = dict(have)
    for part in ((spare, "fixed"), (spare, "any")):
        if part in left:
            left[part] += 1
    for teeth in (input_pair.driver, input_pair.driven) if input_pair is not None else ():
        for part in ((teeth, "fixed"), (teeth, "any")):
            if part in left:
                left[part] -= 1
    return left


def _any_bore(have: Have) -> bool:
    return any(bore == "any" for _, bore in have)


def _trains_alike(
    standing: CentreOption,
    sides: _Sides,
    lanes: tuple[CandidateList, ...],
    number: int,
    position: int,
) -> list[tuple[GearPair, ...]]:
    """List every train of a lane at a position: the own pair may be any of its ratio."""
    train = lanes[number].train(position)
    if not train or lanes[number].goal.kept:
        return [train]
    return [
        (*train[:-1], pair)
        for pair in standing.alike(train[-1], coupled=True)
        if number not in sides.together or pair.driven == sides.spare
    ]


def _stocked(
    lanes: tuple[CandidateList, ...],
    trains: TrainsAt,
    count: Usage,
    have: Have,
    *,
    low: Fraction,
    high: Fraction,
    tolerance: Fraction | None,
) -> SetMatch | Impossible:
    if min(have.values(), default=0) < 0:
        return Impossible(say("ratios.the-stock-does-not-hold-the-input-pair"))

    def own(train: tuple[GearPair, ...]) -> Counter[Part]:
        return count(train[-1:])

    def price(train: tuple[GearPair, ...]) -> int:
        return train_cost(train[-1:])

    if tolerance is None:
        return best_stocked(lanes, trains, own, have, low=low, high=high, price=price)
    return smallest_stocked(
        lanes, trains, own, have, low=low, high=high, tolerance=tolerance, price=price
    )


def _one(
    lanes: tuple[CandidateList, ...], *, low: Fraction, high: Fraction, tolerance: Fraction | None
) -> SetMatch | Impossible:
    if tolerance is None:
        return best_lanes(lanes, low=low, high=high)
    return smallest_lanes(lanes, low=low, high=high, tolerance=tolerance)


def _whole_cost(own: Cost, input_pair: GearPair | None, spare: int) -> tuple[int, int, int]:
    """Count the input pair, and a gear that two trains share, once."""
    gears, teeth = own.gears - bool(spare), own.teeth - spare
    if input_pair is None:
        return own.pairs, gears, teeth
    return own.pairs + 1, gears + 2, teeth + input_pair.driver + input_pair.driven


def _least_cost(
    box: ShaftKind, standing: CentreOption, sides: _Sides, direct: Direct
) -> tuple[int, int, int]:
    """Give what no set of a standing can cost less than: one gear direct, the rest its cheapest."""
    least = []
    for goal, side in zip(sides.goals, sides.pairs, strict=True):
        cost = unpack(int(side.cost.min())) if len(side) else Cost(0, 0, 0)
        least.append((goal.parity, cost.pairs, cost.gears, cost.teeth))
    ahead = [row for row in least if row[0] != ODD]
    if box == "layshaft" and direct != "no" and ahead:
        least.remove(max(ahead))
    pairs, gears, teeth = (sum(row[n] for row in least) for n in (1, 2, 3))
    gears, teeth = gears - bool(sides.spare), teeth - sides.spare
    if box == "layshaft" and len(standing.fixed):
        shared = unpack(int(standing.fixed.cost.min()))
        return pairs + shared.pairs, gears + shared.gears, teeth + shared.teeth
    return pairs, gears, teeth


def _bound(
    box: ShaftKind,
    sides: _Sides,
    input_pair: GearPair | None,
    direct: Direct,
    among: Iterable[int],
    *,
    low: Fraction,
    high: Fraction,
) -> float:
    """Give a lower bound of the worst error of some gears behind an input pair.

    Infinite where one has no pair. Trains that are kept, and the gear that must be direct, are
    left out of account.
    """
    ahead = 0.0 if input_pair is None else log(input_pair.driven / input_pair.driver)
    may = box == "layshaft" and direct != "no"
    rows = []
    for number in among:
        goal, side = sides.goals[number], sides.pairs[number]
        row = side.log_ratio + ahead
        if may and goal.parity != ODD and number not in sides.together:
            row = np.insert(row, int(np.searchsorted(row, 0.0)), 0.0)
        if not len(row):
            return inf
        rows.append(row - log(goal.target))
    return least_error_bound(rows, low=low, high=high)


def _input_pairs(
    box: ShaftKind, standing: CentreOption, have: Have | None
) -> tuple[GearPair | None, ...]:
    if box == "two-shaft":
        return (None,)
    every = standing.fixed.every()
    if have is None:
        return every
    return tuple(pair for one in every for pair in standing.alike(one, coupled=False))


@dataclass(frozen=True)
class _SharedCentre:
    """Which gears may be the direct drive, by number, and whether they must."""

    may: frozenset[int]
    must: bool = False


def _cases(
    box: ShaftKind,
    goals: tuple[GearGoal, ...],
    direct: Direct,
    together: tuple[int, int] | None,
) -> list[_SharedCentre]:
    """List the cases that cover what is asked of the direct drive."""
    free = frozenset(
        n
        for n, goal in enumerate(goals)
        if goal.parity != ODD and not goal.kept and n not in (together or ())
    )
    if box == "two-shaft" or direct == "no":
        return [_SharedCentre(frozenset())]
    if direct == "must":
        return [_SharedCentre(frozenset({n}), must=True) for n in free]
    return [_SharedCentre(free)]


def _lanes(
    sides: _Sides, input_pair: GearPair | None, case: _SharedCentre
) -> tuple[CandidateList, ...] | None:
    """Give the lanes of all gears; None where one has no option."""
    before = () if input_pair is None else (input_pair,)
    lanes = []
    for number, (goal, side) in enumerate(zip(sides.goals, sides.pairs, strict=True)):
        direct = number in case.may and goal.parity != ODD
        lane = side.lane(goal, before, direct=direct)
        if lane is not None and direct and case.must:
            lane = lane.only(lambda train: train == ())
        if lane is None:
            return None
        lanes.append(lane)
    return tuple(lanes)
