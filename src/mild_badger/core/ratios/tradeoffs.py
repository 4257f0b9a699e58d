"""Trade-offs: how the worst error falls as more gears are spent, or as more power is lost."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import Literal

import numpy as np

from mild_badger.core.ratios.fewest import smallest_lanes
from mild_badger.core.ratios.lanes import CandidateList, GearGoal, Impossible, SetMatch, kept_lane
from mild_badger.core.ratios.pool import IMPOSSIBLE, Ints, RatioTable, train_cost, unpack
from mild_badger.core.ratios.stocked import Have, Usage, pool_trains, smallest_stocked
from mild_badger.core.vehicle.box import GearPair

__all__ = ["Against", "Stock", "trade_offs"]

Against = Literal["gears", "loss"]


@dataclass(frozen=True)
class Stock:
    """What there is, and how a train's parts are counted."""

    have: Have
    usage: Usage


WIDEST_TOLERANCE = Fraction(1, 4)
"""Sets worse than this are of no use to a builder."""
_NEXT = Fraction(999_999_999, 1_000_000_000)
_MOST_STEPS = 400
_LOSS_UNITS = 1000
_SPENT = ~((1 << 48) - 1)
"""What stands first in a packed cost."""


def trade_offs(
    pool: RatioTable,
    goals: tuple[GearGoal, ...],
    *,
    low: Fraction,
    high: Fraction,
    against: Against = "gears",
    mesh_loss: float = 0.04,
    within: Stock | None = None,
    stop: Callable[[], bool] = lambda: False,
) -> tuple[SetMatch, ...]:
    """List the sets of which none has both fewer gears (or less loss) and a smaller worst error.

    From the fewest gears, or the least loss, within a quarter to the least worst error, each step
    found exactly: the least with a worst error below the one before (by a billionth at least).

    Parameters
    ----------
    pool
        The trains there are.
    goals
        What is wanted of each gear.
    low, high
        Bounds of the factor k.
    against
        Gears in all, or the share of power that the gears lose on average, to a tenth of a per
        cent.
    mesh_loss
        Share lost in one loaded mesh.
    within
        What there is, where the sets must keep within that; the pool then holds every train.
    stop
        Asked before each step; the points found until then are returned.

    Returns
    -------
    tuple of SetMatch
        Fewest gears, or least loss, first.
    """
    lanes = _lanes_against(pool, goals, against, mesh_loss, full=within is not None)
    front: list[SetMatch] = []
    first = -1
    tolerance = WIDEST_TOLERANCE
    for _ in range(_MOST_STEPS):
        if lanes is None or stop():
            break
        if within is None:
            matched = smallest_lanes(lanes, low=low, high=high, tolerance=tolerance)
        else:
            matched = smallest_stocked(
                lanes,
                pool_trains(pool, lanes),
                within.usage,
                within.have,
                low=low,
                high=high,
                tolerance=tolerance,
                price=lambda train: _price(train, against, mesh_loss),
            )
        if isinstance(matched, Impossible):
            break
        spent = matched.cost.pairs  # what the lanes were packed by stands first
        if spent == first:
            front.pop()
        front.append(matched)
        first = spent
        if matched.worst_error_percent < 1e-7:
            break
        tolerance = Fraction(matched.worst_error_percent) / 100 * _NEXT
    if within is None and front:
        # of the sets that spend as little with as small an error the one that takes the least else
        whole = _lanes_against(pool, goals, against, mesh_loss, full=True)
        for number, point in enumerate(front):
            if whole is None or stop():
                break
            error = Fraction(point.worst_error_percent) / 100 / _NEXT
            found = smallest_lanes(whole, low=low, high=high, tolerance=error)
            if isinstance(found, SetMatch):
                front[number] = found
    return tuple(
        replace(point, cost=unpack(sum(train_cost(gear.train) for gear in point.gears)))
        for point in front
    )


def _lanes_against(
    pool: RatioTable,
    goals: tuple[GearGoal, ...],
    against: Against,
    mesh_loss: float,
    *,
    full: bool,
) -> tuple[CandidateList, ...] | None:
    """Give lanes whose costs are what is spent, each ratio by the train that is cheapest so.

    In a ``full`` one costs compare what else the trains take where as much is spent.
    """
    by_parity: dict[int, tuple[Ints, Ints, Ints]] = {}
    lanes = []
    for goal in goals:
        if goal.kept:
            price = _price(goal.kept, against, mesh_loss)
            lanes.append(kept_lane(goal, price if full else price & _SPENT))
            continue
        if goal.parity not in by_parity:
            index, choices, cost = _cheapest(pool, goal.parity, against, mesh_loss)
            # what else a train takes must not part sets that spend alike: then every one of those
            # would be a step of its own
            by_parity[goal.parity] = index, choices, cost if full else cost & _SPENT
        index, choices, cost = by_parity[goal.parity]
        if not len(index):
            return None
        lanes.append(
            CandidateList(
                goal=goal,
                numerator=pool.numerator[index],
                denominator=pool.denominator[index],
                log_x=pool.log_ratio[index] - np.log(float(goal.target)),
                cost=cost,
                train=_train_maker(pool, choices, goal.parity),
            )
        )
    return tuple(lanes)


def _price(train: tuple[GearPair, ...], against: Against, mesh_loss: float) -> int:
    return int(_packed(np.array([train_cost(train)], dtype=np.int64), against, mesh_loss)[0])


def _packed(cost: Ints, against: Against, mesh_loss: float) -> Ints:
    """Pack costs anew: gears, pairs, teeth; or loss in tenths of a per cent, gears, teeth."""
    pairs, gears, teeth = cost >> 48, (cost >> 32) & 0xFFFF, cost & 0xFFFFFFFF
    first, second = gears, pairs
    if against == "loss":
        lost = 1 - (1 - mesh_loss) ** (gears - pairs)  # gears less pairs are the meshes
        first, second = np.round(_LOSS_UNITS * lost).astype(np.int64), gears
    packed: Ints = (first << 48) + (second << 32) + teeth
    return packed


def _cheapest(
    pool: RatioTable, parity: int, against: Against, mesh_loss: float
) -> tuple[Ints, Ints, Ints]:
    allowed = np.flatnonzero(pool.choice_cost[parity] < IMPOSSIBLE)
    cost = _packed(pool.choice_cost[parity][allowed], against, mesh_loss)
    owner = pool.choice_ratio[allowed].astype(np.int64)
    least = np.full(len(pool.numerator), IMPOSSIBLE, dtype=np.int64)
    np.minimum.at(least, owner, cost)
    cheapest = np.flatnonzero(cost == least[owner])[::-1]
    first = np.full(len(least), -1, dtype=np.int64)
    first[owner[cheapest]] = cheapest  # backwards: the first of equals stands last
    reached = np.flatnonzero(first >= 0)
    firsts = first[reached]
    return reached, allowed[firsts].astype(np.int64), cost[firsts]


def _train_maker(
    pool: RatioTable, choices: Ints, parity: int
) -> Callable[[int], tuple[GearPair, ...]]:
    return lambda position: pool.train(int(choices[position]), parity)
