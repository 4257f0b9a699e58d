"""Boxes whose pairs all sit between the same two shafts: two-shaft and layshaft boxes.

With one module all pairs of such a box have the same tooth sum. Every tooth sum (and for the
layshaft box every input pair) gives a small pool of its own; the best set is the best over all of
them, each found exactly.
"""

from dataclasses import dataclass
from fractions import Fraction
from math import inf, log
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from mild_badger.core.ratios.fewest import smallest_lanes
from mild_badger.core.ratios.lanes import GearGoal, Impossible, Lane, SetMatch
from mild_badger.core.ratios.least import best_lanes, least_error_bound
from mild_badger.core.ratios.pool import ODD, Ints, pack
from mild_badger.core.vehicle.box import GearPair

__all__ = ["Box", "SharedCentreMatch", "match_shared_centre"]

Box = Literal["layshaft", "two-shaft"]
IDLER_GAP_TEETH = 4
"""Tooth sum by which a reverse pair must fall short, so that its tips clear one another."""

ROUNDING = 1e-9
"""Far above rounding in the quick bound, so that nothing that could win is passed over."""


@dataclass(frozen=True)
class SharedCentreMatch:
    """A set, and the tooth sum of all its pairs.

    In a layshaft box ``input_pair`` is in constant mesh ahead of every gear's own pair; a train
    lists it first, and an empty train is the direct drive. The set's cost leaves the input pair
    out, since every box of the kind has it once.
    """

    found: SetMatch
    tooth_sum: int
    input_pair: GearPair | None


def match_shared_centre(
    box: Box,
    sizes: tuple[int, ...],
    goals: tuple[GearGoal, ...],
    *,
    low: Fraction,
    high: Fraction,
    tolerance: Fraction | None = None,
    tooth_sum: int | None = None,
) -> SharedCentreMatch | Impossible:
    """Find the best set of a two-shaft or a layshaft box.

    Parameters
    ----------
    box
        Which of the two.
    sizes
        Tooth counts there are.
    goals
        The gears; odd parity marks reverse, which goes over an idler in either box.
    low, high
        Bounds of the factor k; both 1 for the absolute fit.
    tolerance
        Where given, the fewest pairs, then gears, then teeth within it; else the least worst error.
    tooth_sum
        Where given, only this tooth sum (a chosen centre distance); else every one there is.

    Returns
    -------
    SharedCentreMatch or Impossible
        Among equals the smallest tooth sum.
    """
    ordered = tuple(sorted(set(sizes)))
    sums = sorted({a + b for a in ordered for b in ordered})
    best: tuple[tuple[float, ...], SharedCentreMatch] | None = None
    out_of_reach, least = False, inf
    for total in sums if tooth_sum is None else [tooth_sum]:
        ahead, back = (_pairs(ordered, total, reverse=reverse) for reverse in (False, True))
        for input_pair in _input_pairs(box, ordered, total):
            lanes = [
                back.lane(goal, input_pair, direct=False)
                if goal.parity == ODD
                else ahead.lane(goal, input_pair, direct=box == "layshaft")
                for goal in goals
            ]
            complete = [lane for lane in lanes if lane is not None]
            if len(complete) < len(lanes):
                continue
            given = tuple(complete)
            limit = log(1 + tolerance) if tolerance is not None else least
            if least_error_bound(given, low=low, high=high) > limit + ROUNDING:
                out_of_reach = True
                continue
            found: SetMatch | Impossible
            if tolerance is None:
                found = best_lanes(given, low=low, high=high)
            else:
                found = smallest_lanes(given, low=low, high=high, tolerance=tolerance)
            if isinstance(found, Impossible):
                out_of_reach = True
                continue
            cost = (found.cost.pairs, found.cost.gears, found.cost.teeth)
            error = found.worst_error_percent
            least = min(least, log(1 + error / 100))
            key = (error, *cost) if tolerance is None else (*cost, error)
            if best is None or key < best[0]:
                best = (key, SharedCentreMatch(found, total, input_pair))
    if best is not None:
        return best[1]
    if out_of_reach:
        return Impossible(
            "No tooth sum keeps every gear within the tolerance. Raise it, add sizes, or give the "
            "factor a wider range (spacing fit)."
        )
    where = f"With a tooth sum of {tooth_sum}" if tooth_sum is not None else "With these sizes"
    return Impossible(
        f"{where} not every gear has a pair. Choose another centre distance or add sizes."
    )


def _input_pairs(box: Box, sizes: tuple[int, ...], total: int) -> tuple[GearPair | None, ...]:
    if box == "two-shaft":
        return (None,)
    return tuple(GearPair(driver=a, driven=total - a) for a in sizes if total - a in sizes)


@dataclass(frozen=True)
class _Pairs:
    """The pairs between the two shafts at one tooth sum: the cheapest for each ratio, ascending."""

    driver: Ints
    driven: Ints
    cost: Ints
    idlers: tuple[int, ...]

    def lane(self, goal: GearGoal, input_pair: GearPair | None, *, direct: bool) -> Lane | None:
        """Give one gear's options behind an input pair; the direct drive too where it may be."""
        ahead = (1, 1) if input_pair is None else (input_pair.driver, input_pair.driven)
        top, bottom = self.driven * ahead[1], self.driver * ahead[0]
        cost, source = self.cost, np.arange(len(self.cost))
        if direct:
            other = top != bottom  # a pair that gives 1 : 1 as well is never cheaper
            place = int(np.count_nonzero(top[other] < bottom[other]))
            top, bottom = (np.insert(side[other], place, 1) for side in (top, bottom))
            cost = np.insert(cost[other], place, 0)
            source = np.insert(source[other], place, -1)
        if not len(top):
            return None
        common = np.gcd(top, bottom)
        return Lane(
            goal=goal,
            numerator=top // common,
            denominator=bottom // common,
            log_x=np.log(top / bottom) - log(goal.target),
            cost=cost,
            train=_TrainOf(self, source, () if input_pair is None else (input_pair,)),
        )


@dataclass(frozen=True)
class _TrainOf:
    """Makes a lane's trains; source −1 is the direct drive."""

    pairs: _Pairs
    source: NDArray[np.intp]
    first: tuple[GearPair, ...]

    def __call__(self, position: int) -> tuple[GearPair, ...]:
        place = int(self.source[position])
        if place < 0:
            return ()
        pair = GearPair(
            driver=int(self.pairs.driver[place]),
            driven=int(self.pairs.driven[place]),
            idlers=self.pairs.idlers,
        )
        return (*self.first, pair)


def _pairs(sizes: tuple[int, ...], total: int, *, reverse: bool) -> _Pairs:
    """Collect the pairs of a tooth sum, or those that leave room for an idler between them."""
    every = np.array(sizes, dtype=np.int64)
    a, b = (side.reshape(-1) for side in np.meshgrid(every, every))
    fits = a + b <= total - IDLER_GAP_TEETH if reverse else a + b == total
    a, b = a[fits], b[fits]
    idlers = (sizes[0],) if reverse else ()
    teeth = a + b + sum(idlers)
    order = np.lexsort((teeth, b / a))
    ratio = (b / a)[order]  # quotients of equal fractions of small integers are equal floats
    keep = order[np.flatnonzero(np.diff(ratio, prepend=-1.0))]
    base = pack(1, 2 + len(idlers), 0)
    return _Pairs(a[keep], b[keep], base + teeth[keep], idlers)
