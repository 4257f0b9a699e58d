"""The smallest set within a tolerance, exactly: fewest pairs, then gears, then teeth."""

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction
from math import log

import numpy as np
from numpy.typing import NDArray

from mild_badger.core.message import say
from mild_badger.core.ratios.lanes import (
    SLACK,
    CandidateList,
    Impossible,
    SetMatch,
    assembled,
    recentred,
)
from mild_badger.core.ratios.least import best_lanes
from mild_badger.core.ratios.pool import Floats, Ints

__all__ = ["cheapest_spots", "smallest_lanes", "thinned", "worth_looking_at"]

_EQUALS_LOOKED_AT = 400
_LITTLE, _MOST_EXACT = 8, 100_000
_FEW, _FEW_PRICES = 2000, 32
"""Up to so many ratios a lane is searched as it is; up to so many costs each is gone through."""


def smallest_lanes(
    lanes: tuple[CandidateList, ...], *, low: Fraction, high: Fraction, tolerance: Fraction
) -> SetMatch | Impossible:
    """Find the set with the fewest pairs, then gears, then teeth, every gear within a tolerance.

    ``tolerance`` is a share (3 % is 3/100). Among equals found, the least worst error wins.
    """
    grow = 1 + tolerance
    lanes = thinned(_within_reach(lanes, low, high, grow), grow)
    best: tuple[int, Fraction, list[int], Fraction] | None = None
    looked = 0
    for total, k in cheapest_spots(lanes, low=low, high=high, grow=grow):
        if best is not None and (
            total > best[0] or (total == best[0] and looked >= _EQUALS_LOOKED_AT)
        ):
            break
        looked += 1
        picked = _cheapest_at(lanes, k, grow)
        if picked is None:
            continue
        cost = sum(int(lane.cost[i]) for lane, i in zip(lanes, picked, strict=True))
        square, middle = recentred(lanes, picked, low, high)
        if best is None or (cost, square) < best[:2]:
            best = (cost, square, picked, middle)
    if best is None:
        worst = best_lanes(lanes, low=low, high=high).worst_error_percent
        return Impossible(
            say(
                "ratios.no-set-keeps-every-gear-within-the-least",
                tolerance=100 * float(tolerance),
                worst=worst,
            )
        )
    return assembled(lanes, best[2], best[3], best[1])


def _within_reach(
    lanes: tuple[CandidateList, ...], low: Fraction, high: Fraction, grow: Fraction
) -> tuple[CandidateList, ...]:
    """Leave out of large lanes what no factor in the range brings within the tolerance.

    Only where that leaves little: lanes that stay whole are thinned together.
    """
    ends = np.array([log(low) - log(grow) - 2 * SLACK, log(high) + log(grow) + 2 * SLACK])
    made = []
    for lane in lanes:
        first, last = np.searchsorted(lane.log_x, ends)
        little = len(lane.log_x) > _FEW and (last - first) * _LITTLE < len(lane.log_x)
        made.append(lane.part(np.arange(first, last)) if little and first < last else lane)
    return tuple(made)


def thinned(lanes: tuple[CandidateList, ...], grow: Fraction) -> tuple[CandidateList, ...]:
    """Leave out of large lanes what is never taken; lanes of one pool share their costs."""
    kept: dict[int, NDArray[np.intp]] = {}
    for lane in lanes:
        if len(lane.log_x) > _FEW and id(lane.cost) not in kept:
            kept[id(lane.cost)] = worth_looking_at(lane, 2 * log(grow))
    return tuple(
        lane.part(kept[id(lane.cost)]) if id(lane.cost) in kept else lane for lane in lanes
    )


def cheapest_spots(
    lanes: tuple[CandidateList, ...], *, low: Fraction, high: Fraction, grow: Fraction
) -> Iterator[tuple[int, Fraction]]:
    """Yield every factor k at which something comes into reach, the cheapest first.

    With it the packed cost that no set at that k can beat; ``grow`` is 1 + tolerance. What is in
    reach changes only where k passes x / grow or x · grow, so these k and the range's ends are all
    there is to look at.
    """
    spots = _spots(lanes, low, high, grow)
    totals = np.zeros(len(spots.log_k), dtype=np.int64)
    possible = np.ones(len(spots.log_k), dtype=bool)
    for lane in lanes:
        first, last = _window(lane, spots.log_k, grow)
        possible &= first < last
        totals += _range_minimum(lane.cost, first, np.maximum(last, first + 1))
    order = np.flatnonzero(possible)
    for spot in order[np.argsort(totals[order], kind="stable")]:
        yield int(totals[spot]), spots.exact(int(spot))


def worth_looking_at(lane: CandidateList, width: float) -> NDArray[np.intp]:
    """Find what is the cheapest of some window of that width; the rest is never taken.

    An x that has something cheaper to its left and to its right, closer together than a window is
    wide, cannot be the cheapest of any window that holds it.
    """
    least = width - 4 * SLACK
    kept = np.flatnonzero(
        ~(
            _cheaper_near(lane.cost, lane.log_x, least / 2)
            & _cheaper_near(lane.cost[::-1], -lane.log_x[::-1], least / 2)[::-1]
        )
    )
    if len(kept) > _MOST_EXACT:  # windows so narrow that hardly anything has such a neighbour
        return kept
    cost, xs = lane.cost[kept], lane.log_x[kept]
    cheaper = _nearest_cheaper(cost)
    before = np.where(cheaper >= 0, xs[cheaper], -np.inf)
    later = len(cost) - 1 - _nearest_cheaper(cost[::-1])[::-1]
    after = np.where(later < len(cost), xs[np.minimum(later, len(cost) - 1)], np.inf)
    return kept[after - before >= least]


def _cheaper_near(cost: Ints, xs: Floats, within: float) -> NDArray[np.bool_]:
    """Say of which entries a strictly cheaper one is known to stand before, nearer than that.

    Looks back over 1, 2, 4 … entries at once: quick, and right where it says so.
    """
    known = np.zeros(len(cost), dtype=bool)
    least, reach = cost, 1  # least[n] is the minimum of the reach entries that end at n
    while reach < len(cost):
        near = xs[reach:] - xs[:-reach] < within
        if not near.any():
            break
        known[reach:] |= near & (least[:-1][: len(near)] < cost[reach:])
        least = np.minimum(least[reach:], least[:-reach])
        reach *= 2
    return known


def _nearest_cheaper(cost: Ints) -> Ints:
    """Position of the nearest strictly cheaper entry before each, −1 where there is none."""
    cheaper = np.full(len(cost), -1, dtype=np.int64)
    prices = np.unique(cost)
    if len(prices) <= _FEW_PRICES:
        places = np.arange(len(cost))
        for price in prices[1:]:
            before = np.maximum.accumulate(np.where(cost < price, places, -1))
            here = cost == price
            cheaper[here] = before[here]
        return cheaper
    stack: list[int] = []
    held: list[int] = []
    for position, value in enumerate(cost.tolist()):
        while stack and held[-1] >= value:
            stack.pop()
            held.pop()
        if stack:
            cheaper[position] = stack[-1]
        stack.append(position)
        held.append(value)
    return cheaper


@dataclass(frozen=True)
class _Spots:
    """The values of k worth looking at, each exact on demand."""

    lanes: tuple[CandidateList, ...]
    ends: tuple[Fraction, Fraction]
    grow: Fraction
    log_k: Floats
    owner: Ints
    place: Ints
    power: Ints

    def exact(self, spot: int) -> Fraction:
        owner = int(self.owner[spot])
        if owner < 0:
            return self.ends[int(self.place[spot])]
        x = self.lanes[owner].x(int(self.place[spot]))
        k = x * self.grow if self.power[spot] > 0 else x / self.grow
        return min(max(k, self.ends[0]), self.ends[1])


def _spots(
    lanes: tuple[CandidateList, ...], low: Fraction, high: Fraction, grow: Fraction
) -> _Spots:
    log_k, owner, place, power = (
        [np.array([log(low), log(high)])],
        [np.array([-1, -1])],
        [np.array([0, 1])],
        [np.array([0, 0])],
    )
    for number, lane in enumerate(lanes):
        for sign in (1, -1):
            k = lane.log_x + sign * log(grow)
            keep = np.flatnonzero((k >= log(low) - SLACK) & (k <= log(high) + SLACK))
            log_k.append(k[keep])
            owner.append(np.full(len(keep), number))
            place.append(keep)
            power.append(np.full(len(keep), sign))
    joined = [np.concatenate(parts) for parts in (owner, place, power)]
    return _Spots(lanes, (low, high), grow, np.concatenate(log_k), *joined)


def _window(lane: CandidateList, log_k: Floats, grow: Fraction) -> tuple[Ints, Ints]:
    """Find positions [first, last) within the tolerance of each k, a hair too wide if anything."""
    reach = log(grow) + 2 * SLACK
    return (
        np.searchsorted(lane.log_x, log_k - reach).astype(np.int64),
        np.searchsorted(lane.log_x, log_k + reach, side="right").astype(np.int64),
    )


def _range_minimum(values: Ints, first: Ints, last: Ints) -> Ints:
    """Minimum of values[first:last] for many windows at once (sparse table)."""
    table = [values]
    while 2 ** len(table) <= len(values):
        half = 2 ** (len(table) - 1)
        table.append(np.minimum(table[-1][:-half], table[-1][half:]))
    first = np.minimum(first, len(values) - 1)
    last = np.minimum(np.maximum(last, first + 1), len(values))
    level = np.log2(last - first).astype(np.int64)
    result = np.empty(len(first), dtype=np.int64)
    for depth, row in enumerate(table):
        here = level == depth
        result[here] = np.minimum(row[first[here]], row[last[here] - 2**depth])
    return result


def _cheapest_at(lanes: tuple[CandidateList, ...], k: Fraction, grow: Fraction) -> list[int] | None:
    """Each gear's cheapest x within the tolerance of k, decided exactly; None if one has none."""
    picks = []
    for lane in lanes:
        (first,), (last,) = _window(lane, np.array([log(k)]), grow)
        while first < last and lane.x(int(first)) * grow < k:
            first += 1
        while first < last and lane.x(int(last) - 1) > k * grow:
            last -= 1
        if first == last:
            return None
        cost = lane.cost[first:last]
        cheapest = np.flatnonzero(cost == cost.min()) + first
        off = np.abs(lane.log_x[cheapest] - log(k))
        picks.append(int(cheapest[off.argmin()]))
    return picks
