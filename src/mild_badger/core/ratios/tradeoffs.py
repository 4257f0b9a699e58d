"""Trade-offs: how the worst error falls as more gears are spent."""

from collections.abc import Callable
from dataclasses import replace
from fractions import Fraction

import numpy as np

from mild_badger.core.ratios.fewest import smallest_lanes
from mild_badger.core.ratios.lanes import GearGoal, Impossible, Lane, SetMatch, kept_lane
from mild_badger.core.ratios.pool import IMPOSSIBLE, Ints, Pool, pack, train_cost, unpack
from mild_badger.core.vehicle.box import GearPair

__all__ = ["trade_offs"]

WIDEST_TOLERANCE = Fraction(1, 4)
"""Sets worse than this are of no use to a builder."""
_NEXT = Fraction(999_999_999, 1_000_000_000)
_MOST_STEPS = 400


def trade_offs(
    pool: Pool,
    goals: tuple[GearGoal, ...],
    *,
    low: Fraction,
    high: Fraction,
    stop: Callable[[], bool] = lambda: False,
) -> tuple[SetMatch, ...]:
    """List the sets of which none has both fewer gears and a smaller worst error.

    From the fewest gears within a quarter to the least worst error, each step found exactly: the
    fewest gears with a worst error below the one before (by a billionth at least).

    Parameters
    ----------
    pool
        The trains there are.
    goals
        What is wanted of each gear.
    low, high
        Bounds of the factor k.
    stop
        Asked before each step; the points found until then are returned.

    Returns
    -------
    tuple of SetMatch
        Fewest gears first.
    """
    lanes = _lanes_by_gears(pool, goals)
    front: list[SetMatch] = []
    tolerance = WIDEST_TOLERANCE
    for _ in range(_MOST_STEPS):
        if lanes is None or stop():
            break
        found = smallest_lanes(lanes, low=low, high=high, tolerance=tolerance)
        if isinstance(found, Impossible):
            break
        # costs were packed gears first: put them back into their own order
        cost = replace(found.cost, pairs=found.cost.gears, gears=found.cost.pairs)
        found = replace(found, cost=cost)
        if front and front[-1].cost.gears == cost.gears:
            front.pop()
        front.append(found)
        if found.worst_error_percent < 1e-7:
            break
        tolerance = Fraction(found.worst_error_percent) / 100 * _NEXT
    return tuple(front)


def _lanes_by_gears(pool: Pool, goals: tuple[GearGoal, ...]) -> tuple[Lane, ...] | None:
    """Give lanes whose costs compare gears before pairs, each ratio by the train cheapest so."""
    by_parity: dict[int, tuple[Ints, Ints, Ints]] = {}
    lanes = []
    for goal in goals:
        if goal.kept:
            kept = unpack(train_cost(goal.kept))
            lanes.append(kept_lane(goal, pack(kept.gears, kept.pairs, kept.teeth)))
            continue
        if goal.parity not in by_parity:
            by_parity[goal.parity] = _cheapest_by_gears(pool, goal.parity)
        index, choices, cost = by_parity[goal.parity]
        if not len(index):
            return None
        lanes.append(
            Lane(
                goal=goal,
                numerator=pool.numerator[index],
                denominator=pool.denominator[index],
                log_x=pool.log_ratio[index] - np.log(float(goal.target)),
                cost=cost,
                train=_train_maker(pool, choices, goal.parity),
            )
        )
    return tuple(lanes)


def _cheapest_by_gears(pool: Pool, parity: int) -> tuple[Ints, Ints, Ints]:
    allowed = np.flatnonzero(pool.choice_cost[parity] < IMPOSSIBLE)
    packed = [unpack(int(cost)) for cost in pool.choice_cost[parity][allowed]]
    cost = np.array([pack(c.gears, c.pairs, c.teeth) for c in packed], dtype=np.int64)
    owner = pool.choice_ratio[allowed].astype(np.int64)
    order = np.lexsort((cost, owner))
    firsts = order[np.flatnonzero(np.diff(owner[order], prepend=-1))]
    return owner[firsts], allowed[firsts].astype(np.int64), cost[firsts]


def _train_maker(pool: Pool, choices: Ints, parity: int) -> Callable[[int], tuple[GearPair, ...]]:
    return lambda position: pool.train(int(choices[position]), parity)
