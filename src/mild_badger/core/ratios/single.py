"""Trains for one target: the best, and every one within a tolerance, ranked."""

from dataclasses import dataclass
from fractions import Fraction
from math import log
from typing import Literal

import numpy as np

from mild_badger.core.ratios.pool import IMPOSSIBLE, Cost, RatioTable, unpack
from mild_badger.core.targets.speeds import signed_error_percent
from mild_badger.core.units import exact
from mild_badger.core.vehicle.box import GearPair

__all__ = ["Candidate", "best_train", "ranked_trains"]


@dataclass(frozen=True)
class Candidate:
    """A train offered for a target."""

    ratio: Fraction
    error_percent: float
    train: tuple[GearPair, ...]
    cost: Cost


def ranked_trains(
    pool: RatioTable,
    target: float | Fraction,
    *,
    parity: int,
    tolerance_percent: float,
    factor: float = 1.0,
    by: Literal["size", "error", "teeth"] = "size",
    limit: int | None = None,
    least_teeth: int = 0,
) -> tuple[Candidate, ...]:
    """List every train within a tolerance of factor × target.

    By size: fewest pairs, then gears, then least error, then smallest gears; by error: least error
    first, then the cheapest; by teeth: fewest teeth in all first. ``least_teeth`` leaves out trains
    whose pairs have a smaller gear.
    """
    wanted = log(float(target)) + log(factor)
    reach = log(1 + tolerance_percent / 100) + 1e-12
    error = pool.log_ratio[pool.choice_ratio] - wanted
    hits = np.flatnonzero((np.abs(error) <= reach) & (pool.choice_cost[parity] < IMPOSSIBLE))
    if least_teeth:
        hits = hits[pool.smallest(hits) >= least_teeth]
    cost = pool.choice_cost[parity][hits]
    size, teeth = cost >> 32, cost & 0xFFFFFFFF
    distance = np.round(np.abs(error[hits]), 13)
    keys = {
        "size": (teeth, distance, size),
        "error": (teeth, size, distance),
        "teeth": (distance, size, teeth),
    }[by]
    order = hits[np.lexsort(keys)][:limit]
    return tuple(_candidate(pool, int(choice), parity, target, factor) for choice in order)


def best_train(pool: RatioTable, target: float | Fraction, *, parity: int) -> Candidate | None:
    """Find the train nearest to a target, the cheapest among equals; None if there is none."""
    usable = pool.usable(parity)
    if not len(usable):
        return None
    wanted = exact(target)
    nearest = np.argsort(np.abs(pool.log_ratio[usable] - log(float(target))), kind="stable")[:2]
    index = min(
        (int(usable[i]) for i in nearest),
        key=lambda i: max(pool.ratio(i) / wanted, wanted / pool.ratio(i)),
    )
    return _candidate(pool, int(pool.ratio_choice[parity, index]), parity, target, 1.0)


def _candidate(
    pool: RatioTable, choice: int, parity: int, target: float | Fraction, factor: float
) -> Candidate:
    ratio = pool.ratio(int(pool.choice_ratio[choice]))
    return Candidate(
        ratio=ratio,
        error_percent=signed_error_percent(float(ratio), float(target), factor),
        train=pool.train(choice, parity),
        cost=unpack(int(pool.choice_cost[parity, choice])),
    )
