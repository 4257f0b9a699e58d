"""A summing differential for a target that gears alone miss: n_out = (n_a + n_b) / 2.

The ratio of two trains that both turn the same way is i = 2 / (1/i_a + 1/i_b), so for every first
train the second is the one whose speed comes nearest to what is left (domain.md §4). Trains that
turn against one another are left out: power would circulate between them.
"""

from dataclasses import dataclass
from fractions import Fraction
from math import inf, log

import numpy as np

from mild_badger.core.ratios.pool import IMPOSSIBLE, Cost, Floats, Ints, Pool, unpack
from mild_badger.core.targets.speeds import signed_error_percent
from mild_badger.core.vehicle.box import GearPair, summed

__all__ = ["Sum", "best_sum", "smallest_sum"]


@dataclass(frozen=True)
class Sum:
    """Two trains into a differential; the ratio is positive, the cost that of both trains."""

    ratio: Fraction
    error_percent: float
    first: tuple[GearPair, ...]
    second: tuple[GearPair, ...]
    cost: Cost


def best_sum(
    pool: Pool, target: float | Fraction, *, parity: int, factor: float = 1.0
) -> Sum | None:
    """Find the two trains whose sum comes nearest to factor × target; None if there is no train.

    Among equals the cheapest pair; ``parity`` is that of either train's meshes.
    """
    row = _Speeds.of(pool, parity)
    wanted = 2 / (float(target) * factor)
    if not len(row.speed):
        return None
    best: tuple[float, int, int, int] = (inf, 0, 0, 0)
    at = np.searchsorted(row.speed, wanted - row.speed)
    for shift in (-1, 0):
        other = np.clip(at + shift, 0, len(row.speed) - 1)
        error = np.abs(np.log((row.speed + row.speed[other]) / wanted))
        for place in np.flatnonzero(error <= error.min() + 1e-12):
            cost = int(row.cost[place] + row.cost[other[place]])
            best = min(best, (round(float(error[place]), 12), cost, int(place), int(other[place])))
    return _sum(pool, row, (best[2], best[3]), _Wanted(parity, target, factor))


def smallest_sum(
    pool: Pool,
    target: float | Fraction,
    *,
    parity: int,
    tolerance: float,
    factor: float = 1.0,
) -> Sum | None:
    """Find the two cheapest trains whose sum lies within a tolerance (a share); None if none do."""
    row = _Speeds.of(pool, parity)
    wanted = 2 / (float(target) * factor)
    reach = 1 + tolerance
    first = np.searchsorted(row.speed, wanted / reach - row.speed - 1e-12)
    last = np.searchsorted(row.speed, wanted * reach - row.speed + 1e-12, side="right")
    best: tuple[int, float, int, int] | None = None
    least = int(row.cost.min(initial=int(IMPOSSIBLE)))
    for place in np.argsort(row.cost, kind="stable"):
        paid = int(row.cost[place])
        if best is not None and paid + least > best[0]:
            break
        window = row.cost[first[place] : last[place]]
        if not len(window):
            continue
        cheapest = window.min()
        for within in np.flatnonzero(window == cheapest):
            other = int(first[place] + within)
            error = abs(log((row.speed[place] + row.speed[other]) / wanted))
            found = (paid + int(cheapest), error, int(place), other)
            best = found if best is None else min(best, found)
    return None if best is None else _sum(pool, row, best[2:], _Wanted(parity, target, factor))


@dataclass(frozen=True)
class _Speeds:
    """Turns out per turn in of everything a pool reaches, ascending."""

    speed: Floats
    cost: Ints
    index: Ints

    @classmethod
    def of(cls, pool: Pool, parity: int) -> "_Speeds":
        usable = pool.usable(parity)[::-1]
        return cls(
            pool.denominator[usable] / pool.numerator[usable],
            pool.ratio_cost[parity][usable],
            usable.astype(np.int64),
        )


@dataclass(frozen=True)
class _Wanted:
    parity: int
    target: float | Fraction
    factor: float


def _sum(
    pool: Pool,
    row: _Speeds,
    places: tuple[int, int],
    wanted: _Wanted,
) -> Sum:
    one, other = (int(row.index[place]) for place in places)
    ratio = summed(pool.ratio(one), pool.ratio(other))
    first, second = (
        pool.train(int(pool.ratio_choice[wanted.parity, index]), wanted.parity)
        for index in (one, other)
    )
    cost = unpack(int(row.cost[places[0]] + row.cost[places[1]]))
    error = signed_error_percent(float(ratio), float(wanted.target), wanted.factor)
    return Sum(ratio, error, first, second, cost)
