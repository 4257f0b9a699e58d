"""The fraction ladder: from a decimal over small fractions to the pairs that make one.

Builders think in small fractions; the ladder shows which ones come near a ratio, how near, and
which of them the kit's sizes can make.
"""

from dataclasses import dataclass
from fractions import Fraction
from math import log

import numpy as np

from mild_badger.core.ratios.pool import EVEN, IMPOSSIBLE, ODD, RatioTable
from mild_badger.core.targets.speeds import signed_error_percent
from mild_badger.core.units import exact
from mild_badger.core.vehicle.box import GearPair

__all__ = ["Rung", "best_approximations", "ladder"]


@dataclass(frozen=True)
class Rung:
    """One fraction of the ladder; ``train`` is empty where the kit cannot make it."""

    ratio: Fraction
    error_percent: float
    train: tuple[GearPair, ...]


def best_approximations(value: Fraction, *, largest_denominator: int = 100) -> tuple[Fraction, ...]:
    """List the best approximations of a positive number, each nearer than all simpler ones.

    The convergents of its continued fraction and the intermediate fractions between them that come
    nearer than what went before (Khinchin, *Continued Fractions*); found denominator by
    denominator, which for these small ones is quick and plain.
    """
    fractions: list[Fraction] = []
    for denominator in range(1, largest_denominator + 1):
        numerator = max(round(value * denominator), 1)
        candidate = Fraction(numerator, denominator)
        if candidate.denominator != denominator:
            continue
        if not fractions or abs(candidate - value) < abs(fractions[-1] - value):
            fractions.append(candidate)
        if candidate == value:
            break
    return tuple(fractions)


def ladder(
    pool: RatioTable, target: float | Fraction, *, factor: float = 1.0, parity: int | None = None
) -> tuple[Rung, ...]:
    """Climb from the simplest fraction to the nearest one the pool can make.

    Parameters
    ----------
    pool
        The trains there are.
    target
        The ratio wanted, before the factor.
    factor
        The factor k of a spacing fit.
    parity
        Mesh parity of the trains shown; either where it is not given.

    Returns
    -------
    tuple of Rung
        Best approximations by small fractions, then the pool's nearest ratio if it is not among
        them.
    """
    wanted = exact(target) * (Fraction(factor) if factor != 1 else 1)
    small = best_approximations(wanted, largest_denominator=64)
    rungs = [_rung(pool, ratio, wanted, parity) for ratio in small]
    nearest = None
    for usable in (pool.usable(p) for p in (EVEN, ODD) if parity in (None, p)):
        if len(usable):
            away = np.abs(pool.log_ratio[usable] - log(wanted))
            closest = (float(away.min()), int(usable[away.argmin()]))
            nearest = closest if nearest is None else min(nearest, closest)
    if nearest is not None:
        ratio = pool.ratio(nearest[1])
        if all(rung.ratio != ratio for rung in rungs):
            rungs.append(_rung(pool, ratio, wanted, parity))
    return tuple(rungs)


def _rung(pool: RatioTable, ratio: Fraction, wanted: Fraction, parity: int | None) -> Rung:
    error = signed_error_percent(float(ratio), float(wanted))
    index = pool.find(ratio)
    if index is None:
        return Rung(ratio, error, ())
    costs = [
        (int(pool.ratio_cost[p, index]), p)
        for p in (EVEN, ODD)
        if parity in (None, p) and pool.ratio_cost[p, index] < IMPOSSIBLE
    ]
    if not costs:
        return Rung(ratio, error, ())
    _, best = min(costs)
    return Rung(ratio, error, pool.train(int(pool.ratio_choice[best, index]), best))
