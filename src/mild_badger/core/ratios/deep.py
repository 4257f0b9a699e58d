"""Three and four pairs of a large kit, met in the middle: all products are never built.

Where any two sizes mesh, a train of three pairs is one pair times two, one of four is two times
two. For a window of ratios each first part asks the sorted second parts for what is left, so only
what lies in the window is ever made.
"""

from dataclasses import dataclass, replace
from fractions import Fraction
from functools import lru_cache
from math import inf, log

import numpy as np

from mild_badger.core.ratios.fewest import smallest_lanes, thinned, worth_looking_at
from mild_badger.core.ratios.lanes import (
    CandidateList,
    GearGoal,
    Impossible,
    SetMatch,
    joined_lane,
    lanes_of,
)
from mild_badger.core.ratios.least import best_lanes
from mild_badger.core.ratios.pool import (
    EVEN,
    MOST_CHOICES,
    ODD,
    Ints,
    RatioTable,
    build_pool,
    choice_count,
    unpack,
)
from mild_badger.core.ratios.rules import Rules
from mild_badger.core.ratios.single import Candidate
from mild_badger.core.targets.speeds import signed_error_percent
from mild_badger.core.units import exact
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.watch import UNWATCHED, Watch

__all__ = [
    "NEGLIGIBLE_PERCENT",
    "DeepPool",
    "best_deep",
    "build_deep",
    "deep_candidates",
    "is_deep",
    "smallest_deep",
]

NEGLIGIBLE_PERCENT = 1e-4
"""In the spacing fit a worst error below this counts as none: nobody can measure it."""
_BARRED = 1 << 60
_POINTS = 400_000
"""Points of all lanes handled at once."""


def is_deep(rules: Rules) -> bool:
    """Tell whether a pool would not fit into memory, and any two sizes mesh so that it need not."""
    return rules.any_meshes and rules.max_pairs > 2 and choice_count(rules) > MOST_CHOICES


@dataclass(frozen=True)
class DeepPool:
    """Trains of up to two pairs as a pool, and longer ones as products of a part and it."""

    rules: Rules
    shallow: RatioTable
    parts: RatioTable

    def between(self, parity: int, low: float, high: float) -> "_Products":
        """Make every product whose ln ratio lies in [low, high], the cheapest for each ratio."""
        rest = self.shallow.log_ratio
        first = np.searchsorted(rest, low - self.parts.log_ratio)
        last = np.searchsorted(rest, high - self.parts.log_ratio, side="right")
        held = last - first
        one = np.repeat(np.arange(len(first)), held)
        two = np.arange(len(one)) + np.repeat(first - (np.cumsum(held) - held), held)
        head, tail = (np.minimum(p.ratio_cost, _BARRED) for p in (self.parts, self.shallow))
        cost = np.minimum(
            head[EVEN][one] + tail[parity][two], head[ODD][one] + tail[1 - parity][two]
        )
        most = self.rules.max_gears
        keep = cost < _BARRED
        if most is not None:
            keep &= (cost >> 32) & 0xFFFF <= most
        return _Products.of(self, one[keep], two[keep], cost[keep], parity)

    def count(self, low: float, high: float) -> int:
        """How many products lie in a window, equal ratios counted again."""
        rest = self.shallow.log_ratio
        first = np.searchsorted(rest, low - self.parts.log_ratio)
        last = np.searchsorted(rest, high - self.parts.log_ratio, side="right")
        return int((last - first).sum())

    def nearest(self, wanted: Fraction) -> tuple[float, float]:
        """Give the ln ratios of the products next below and next above a ratio."""
        left = log(wanted) - self.parts.log_ratio
        rest = self.shallow.log_ratio
        at = np.searchsorted(rest, left)
        below = np.where(at > 0, rest[np.maximum(at - 1, 0)] - left, -inf)
        above = np.where(at < len(rest), rest[np.minimum(at, len(rest) - 1)] - left, inf)
        return float(below.max()), float(above.min())

    def train(self, one: int, two: int, parity: int) -> tuple[GearPair, ...]:
        """Put a product's train together."""
        costs = [
            (int(self.parts.ratio_cost[p, one] + self.shallow.ratio_cost[(parity + p) % 2, two]), p)
            for p in (EVEN, ODD)
        ]
        _, kind = min(costs)
        rest = (parity + kind) % 2
        pairs = (
            *self.parts.train(int(self.parts.ratio_choice[kind, one]), kind),
            *self.shallow.train(int(self.shallow.ratio_choice[rest, two]), rest),
        )
        return tuple(sorted(pairs, key=lambda pair: -pair.driven / pair.driver))


@dataclass(frozen=True)
class _Products:
    """Products of a window, ascending and distinct."""

    pool: DeepPool
    one: Ints
    two: Ints
    numerator: Ints
    denominator: Ints
    cost: Ints
    parity: int

    @classmethod
    def of(cls, pool: DeepPool, one: Ints, two: Ints, cost: Ints, parity: int) -> "_Products":
        top = pool.parts.numerator[one] * pool.shallow.numerator[two]
        bottom = pool.parts.denominator[one] * pool.shallow.denominator[two]
        common = np.gcd(top, bottom)
        top, bottom = top // common, bottom // common
        order = np.lexsort((cost, bottom, top / bottom))
        new = np.diff(top[order], prepend=-1) != 0
        new |= np.diff(bottom[order], prepend=-1) != 0
        kept = order[np.flatnonzero(new)]
        return cls(pool, one[kept], two[kept], top[kept], bottom[kept], cost[kept], parity)

    def lane(self, goal: GearGoal) -> CandidateList:
        return CandidateList(
            goal=goal,
            numerator=self.numerator,
            denominator=self.denominator,
            log_x=np.log(self.numerator / self.denominator) - log(goal.target),
            cost=self.cost,
            train=lambda n: self.pool.train(int(self.one[n]), int(self.two[n]), self.parity),
        )


@lru_cache(maxsize=4)
def build_deep(rules: Rules) -> DeepPool:
    """Build the two pools that longer trains are multiplied from; kept once built."""
    short = replace(rules, max_pairs=2)
    shallow = build_pool(short, cheapest_only=True)
    if rules.max_pairs > 3:
        return DeepPool(rules, shallow, shallow)
    single = replace(rules, max_pairs=1)
    return DeepPool(rules, shallow, build_pool(single, cheapest_only=True))


def best_deep(
    pool: DeepPool,
    goals: tuple[GearGoal, ...],
    *,
    low: Fraction,
    high: Fraction,
    watch: Watch = UNWATCHED,
) -> SetMatch | Impossible:
    """Find the set with the least worst error, exactly for a given factor.

    With a free factor every worst error below NEGLIGIBLE_PERCENT counts as none, and the search
    ends at the first such set, one with short trains if there is one.
    """
    lanes = lanes_of(pool.shallow, goals)
    if isinstance(lanes, Impossible):
        return lanes
    best = best_lanes(lanes, low=low, high=high, watch=watch)
    if low == high:
        return best_lanes(
            tuple(_round(pool, lane, log(low), log(low)) for lane in lanes), low=low, high=high
        )
    start, end = log(low), log(high)
    while start < end and best.worst_error_percent > NEGLIGIBLE_PERCENT:
        watch.tick((start - log(low)) / (end - log(low)), best)
        bound = log(1 + best.worst_error_percent / 100)
        stop = _block_end(pool, goals, start, end, bound)
        first = low if start == log(low) else exact(repr(float(np.exp(start))))
        last = high if stop >= end else exact(repr(float(np.exp(stop))))
        block = tuple(_round(pool, lane, start - bound, stop + bound) for lane in lanes)
        nearest = best_lanes(block, low=first, high=last)
        if nearest.worst_error_percent < best.worst_error_percent:
            best = nearest
        start = stop
    return best


def _block_end(
    pool: DeepPool, goals: tuple[GearGoal, ...], start: float, end: float, bound: float
) -> float:
    """How far a block of ln k may reach so that its lanes together stay small enough."""
    stop = end
    while stop - start > 1e-9:
        points = sum(
            pool.count(start - bound + log(goal.target), stop + bound + log(goal.target))
            for goal in goals
            if not goal.kept
        )
        if points <= _POINTS:
            break
        stop = start + (stop - start) / 2
    return stop


def _round(pool: DeepPool, lane: CandidateList, low: float, high: float) -> CandidateList:
    """Give a lane with the products of a window of ln x beside its own trains.

    For a single point, the products next to it.
    """
    goal = lane.goal
    if goal.kept:
        return lane
    shift = log(goal.target)
    if low == high:
        below, above = pool.nearest(Fraction(float(np.exp(low + shift))))
        low += (below if below > -inf else 0.0) - 1e-9
        high += (above if above < inf else 0.0) + 1e-9
    first = int(np.searchsorted(lane.log_x, low))
    last = int(np.searchsorted(lane.log_x, high, side="right"))
    near = lane.part(np.arange(first, last))
    deep = pool.between(goal.parity, low + shift, high + shift).lane(goal)
    return joined_lane([near, deep]) if len(deep.cost) else lane


def smallest_deep(
    pool: DeepPool,
    goals: tuple[GearGoal, ...],
    *,
    low: Fraction,
    high: Fraction,
    tolerance: Fraction,
    watch: Watch = UNWATCHED,
) -> SetMatch | Impossible:
    """Find the smallest set within a tolerance; exact.

    A longer train is only ever taken where no shorter one is within the tolerance, so products are
    made only for gaps of the short trains that are wider than that.
    """
    lanes = lanes_of(pool.shallow, goals)
    if isinstance(lanes, Impossible):
        return lanes
    width, reach = 2 * log(1 + tolerance), log(1 + tolerance)
    first, last = log(low) - reach, log(high) + reach
    filled = []
    few = thinned(lanes, 1 + tolerance)
    for number, (lane, short) in enumerate(zip(lanes, few, strict=True)):
        watch.tick(number / len(lanes))
        if lane.goal.kept:
            filled.append(short)
            continue
        inside = lane.log_x[(lane.log_x >= first) & (lane.log_x <= last)]
        edges = np.concatenate([[first], inside, [last]])
        wide = np.flatnonzero(np.diff(edges) >= width).tolist()
        parts = [short]
        for gap in wide:
            parts += _gap(pool, lane.goal, float(edges[gap]), float(edges[gap + 1]), width)
        filled.append(joined_lane(parts) if len(parts) > 1 else short)
    return smallest_lanes(tuple(filled), low=low, high=high, tolerance=tolerance)


def _gap(
    pool: DeepPool, goal: GearGoal, low: float, high: float, width: float
) -> list[CandidateList]:
    """Make the products in a gap of ln x, in pieces, without those that are never the cheapest."""
    made: list[CandidateList] = []
    shift = log(goal.target)
    pieces = max(1, -(-pool.count(low + shift, high + shift) // _POINTS))
    ends = np.linspace(low, high, pieces + 1)
    for start, stop in zip(ends[:-1].tolist(), ends[1:].tolist(), strict=True):
        lane = pool.between(goal.parity, start + shift, stop + shift).lane(goal)
        if len(lane.cost):
            made.append(lane.part(worth_looking_at(lane, width)))
    return made


def deep_candidates(
    pool: DeepPool,
    target: float | Fraction,
    *,
    parity: int,
    tolerance_percent: float,
    factor: float = 1.0,
    limit: int = 20,
) -> tuple[Candidate, ...]:
    """List the longer trains nearest to factor × target, the nearest first."""
    wanted = log(float(target)) + log(factor)
    reach = log(1 + tolerance_percent / 100)
    while reach > 1e-12 and pool.count(wanted - reach, wanted + reach) > 4000:
        reach /= 2
    trains = pool.between(parity, wanted - reach, wanted + reach)
    away = np.abs(np.log(trains.numerator / trains.denominator) - wanted)
    order = np.lexsort((trains.cost, np.round(away, 13)))[:limit]
    return tuple(
        Candidate(
            ratio=(ratio := Fraction(int(trains.numerator[n]), int(trains.denominator[n]))),
            error_percent=signed_error_percent(float(ratio), float(target), factor),
            train=pool.train(int(trains.one[n]), int(trains.two[n]), parity),
            cost=unpack(int(trains.cost[n])),
        )
        for n in order
    )
