"""The best set of trains for a list of targets, from a pool of trains."""

from fractions import Fraction

from mild_badger.core.ratios.fewest import smallest_lanes
from mild_badger.core.ratios.lanes import GearGoal, Impossible, SetMatch, lanes_of
from mild_badger.core.ratios.least import best_lanes
from mild_badger.core.ratios.pool import RatioTable
from mild_badger.core.watch import UNWATCHED, Watch

__all__ = ["best_set", "smallest_set"]


def best_set(
    pool: RatioTable,
    goals: tuple[GearGoal, ...],
    *,
    low: Fraction,
    high: Fraction,
    watch: Watch = UNWATCHED,
) -> SetMatch | Impossible:
    """Find the set of a pool's trains whose worst error is the least possible; see best_lanes."""
    lanes = lanes_of(pool, goals)
    if isinstance(lanes, Impossible):
        return lanes
    return best_lanes(lanes, low=low, high=high, watch=watch)


def smallest_set(
    pool: RatioTable,
    goals: tuple[GearGoal, ...],
    *,
    low: Fraction,
    high: Fraction,
    tolerance: Fraction,
) -> SetMatch | Impossible:
    """Find the smallest set of a pool's trains within a tolerance; see smallest_lanes."""
    lanes = lanes_of(pool, goals)
    if isinstance(lanes, Impossible):
        return lanes
    return smallest_lanes(lanes, low=low, high=high, tolerance=tolerance)
