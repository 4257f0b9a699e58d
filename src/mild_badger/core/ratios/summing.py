"""Summing differentials for targets that gears alone miss: n_out = (n_a + n_b) / 2.

The ratio of two trains that both turn the same way is i = 2 / (1/i_a + 1/i_b) (domain.md §4).
Trains that turn against one another are left out: power would circulate between them. A gear's lane
here holds its plain trains and its sums, so that a set is chosen from both at once; a differential
counts for more than any number of pairs, so that it stands only where gears alone do not do.
"""

from collections import Counter
from dataclasses import dataclass
from math import log

import numpy as np

from mild_badger.core.message import say
from mild_badger.core.ratios.lanes import CandidateList, GearGoal, Impossible, kept_lane
from mild_badger.core.ratios.pool import Cost, Floats, Ints, RatioTable, pack, train_cost
from mild_badger.core.ratios.stocked import Part, TrainsAt, Usage, every_train, used_by
from mild_badger.core.vehicle.box import GearPair, chain_ratio, summed

__all__ = [
    "MOST_SUMMED",
    "Branches",
    "Near",
    "SumLanes",
    "price_of",
    "sum_lanes",
    "sums_used_by",
    "without_differentials",
]

MOST_SUMMED = 2000
"""Ratios of which every sum of two is listed; with more only those near one factor are."""

_DIFFERENTIAL = 500
"""Pairs that a differential counts for: more than any set has."""


class Branches(tuple[GearPair, ...]):
    """The pairs of both trains into a differential, those of the first one first."""

    _first: int

    @classmethod
    def of(cls, first: tuple[GearPair, ...], second: tuple[GearPair, ...]) -> "Branches":
        """Join two trains."""
        made = cls((*first, *second))
        made._first = len(first)
        return made

    @property
    def both(self) -> tuple[tuple[GearPair, ...], tuple[GearPair, ...]]:
        """Give the two trains."""
        every = tuple(self)
        return every[: self._first], every[self._first :]


def price_of(train: tuple[GearPair, ...]) -> int:
    """Pack what a train or two branches with their differential cost."""
    extra = pack(_DIFFERENTIAL, 0, 0) if isinstance(train, Branches) else 0
    return train_cost(train) + extra


def sums_used_by(plain: Usage) -> Usage:
    """Make the function that counts parts; no gear of a branch runs free."""
    fixed = used_by(free=None, any_bore=False)

    def count(train: tuple[GearPair, ...]) -> Counter[Part]:
        if not isinstance(train, Branches):
            return plain(train)
        used = fixed(train.both[0])
        used.update(fixed(train.both[1]))
        return used

    return count


def without_differentials(cost: Cost) -> Cost:
    """Give a set's cost as pairs, gears and teeth alone."""
    return Cost(cost.pairs % _DIFFERENTIAL, cost.gears, cost.teeth)


@dataclass(frozen=True)
class Near:
    """Only sums near a factor, within a reach in ln: every first train's nearest and cheapest."""

    factor: float
    reach: float


@dataclass(frozen=True)
class SumLanes:
    """The lanes of a set, and the trains of a place that the stock is shared out among."""

    lanes: tuple[CandidateList, ...]
    trains: TrainsAt


def sum_lanes(
    pool: RatioTable,
    branches: RatioTable,
    goals: tuple[GearGoal, ...],
    *,
    near: Near | None = None,
    stock: bool = False,
) -> SumLanes | Impossible:
    """Give each goal its lane of plain trains and sums.

    Parameters
    ----------
    pool, branches
        What plain trains, and the trains into a differential, reach.
    goals
        The gears; a kept one has its train, or its two branches, and nothing else.
    near
        Where given, only sums near a factor.
    stock
        Whether every train of a ratio counts, and every sum, as the stock may want another than
        the cheapest; of sums near a factor their cheapest trains alone.
    """
    lanes: list[CandidateList] = []
    shared: dict[int, _Both] = {}
    sources: list[_Both | None] = []
    for goal in goals:
        if goal.kept:
            lanes.append(_kept(goal))
            sources.append(None)
            continue
        both = shared.get(goal.parity)
        if both is None or near is not None:
            target = float(goal.target) if near is not None else None
            both = _Both.of(pool, branches, goal.parity, near, target, every=stock)
            shared[goal.parity] = both
        if not len(both.cost):
            return Impossible(
                say("ratios.no-train-at-all-can-drive-gear-add-sizes-to", name=goal.name)
            )
        sources.append(both)
        log_x = both.log_ratio - log(goal.target)
        lanes.append(
            CandidateList(goal, both.numerator, both.denominator, log_x, both.cost, both.train)
        )

    def trains(number: int, position: int) -> list[tuple[GearPair, ...]]:
        source = sources[number]
        if source is None or (near is not None and source.second[position] >= 0):
            return [lanes[number].train(position)]
        return source.every_train(position)

    return SumLanes(tuple(lanes), trains)


def _kept(goal: GearGoal) -> CandidateList:
    if not goal.second:
        return kept_lane(goal, train_cost(goal.kept))
    train = Branches.of(goal.kept, goal.second)
    ratio = summed(chain_ratio(goal.kept), chain_ratio(goal.second))
    return CandidateList(
        goal=goal,
        numerator=np.array([ratio.numerator], dtype=np.int64),
        denominator=np.array([ratio.denominator], dtype=np.int64),
        log_x=np.array([log(ratio) - log(goal.target)]),
        cost=np.array([price_of(train)], dtype=np.int64),
        train=lambda _position: train,
    )


@dataclass(frozen=True)
class _Both:
    """Plain trains and sums of one parity, ascending by ratio.

    ``first`` and ``second`` are the indices of a sum's ratios among the branches'; a plain train
    has its own in ``first`` and −1 in ``second``.
    """

    pool: RatioTable
    branches: RatioTable
    parity: int
    numerator: Ints
    denominator: Ints
    log_ratio: Floats
    cost: Ints
    first: Ints
    second: Ints

    @classmethod
    def of(
        cls,
        pool: RatioTable,
        branches: RatioTable,
        parity: int,
        near: Near | None,
        target: float | None,
        *,
        every: bool,
    ) -> "_Both":
        plain, usable = pool.usable(parity), branches.usable(parity)
        if near is None or target is None:
            one, other = np.triu_indices(len(usable))
        else:
            one, other = _near_sums(branches, usable, parity, near.factor * target, near.reach)
        one, other = usable[one], usable[other]
        top, bottom = branches.numerator, branches.denominator
        sum_top = 2 * top[one] * top[other]
        sum_bottom = bottom[one] * top[other] + bottom[other] * top[one]
        common = np.gcd(sum_top, sum_bottom)
        costs = branches.ratio_cost[parity]
        joined = [
            np.concatenate(parts)
            for parts in (
                (pool.numerator[plain], sum_top // common),
                (pool.denominator[plain], sum_bottom // common),
                (
                    pool.ratio_cost[parity][plain],
                    costs[one] + costs[other] + pack(_DIFFERENTIAL, 0, 0),
                ),
                (plain.astype(np.int64), one.astype(np.int64)),
                (np.full(len(plain), -1, dtype=np.int64), other.astype(np.int64)),
            )
        ]
        ratio = joined[0] / joined[1]  # quotients of equal reduced fractions are equal floats
        order = np.lexsort((joined[2], ratio))
        if not every:
            order = order[np.flatnonzero(np.diff(ratio[order], prepend=-1.0))]
        top, bottom, cost, first, second = (part[order] for part in joined)
        return cls(pool, branches, parity, top, bottom, np.log(ratio[order]), cost, first, second)

    def train(self, position: int) -> tuple[GearPair, ...]:
        """Make the cheapest train, or the two branches, at a place."""
        first, second = int(self.first[position]), int(self.second[position])
        if second < 0:
            return self.pool.train(int(self.pool.ratio_choice[self.parity, first]), self.parity)
        choice = self.branches.ratio_choice[self.parity]
        one, other = (self.branches.train(int(choice[n]), self.parity) for n in (first, second))
        return Branches.of(one, other)

    def every_train(self, position: int) -> list[tuple[GearPair, ...]]:
        """Make all trains, or all pairs of branches, at a place."""
        first, second = int(self.first[position]), int(self.second[position])
        if second < 0:
            return every_train(self.pool, first, self.parity)
        ones = every_train(self.branches, first, self.parity)
        others = every_train(self.branches, second, self.parity)
        return [Branches.of(one, other) for one in ones for other in others]


def _near_sums(
    branches: RatioTable, usable: Ints, parity: int, wanted: float, reach: float
) -> tuple[Ints, Ints]:
    """For every first train the seconds whose sum is nearest, and the cheapest within a reach."""
    speed = (branches.denominator[usable] / branches.numerator[usable])[::-1]  # ascending
    cost = branches.ratio_cost[parity][usable][::-1]
    left = 2 / wanted - speed
    count = len(speed)
    at = np.searchsorted(speed, left)
    seconds = [np.clip(at + shift, 0, count - 1) for shift in (-1, 0)]
    first = np.searchsorted(speed, 2 / wanted / np.exp(reach) - speed - 1e-12)
    last = np.searchsorted(speed, 2 / wanted * np.exp(reach) - speed + 1e-12, side="right")
    cheapest = seconds[0].copy()
    for place in np.flatnonzero(last > first):
        cheapest[place] = first[place] + int(cost[first[place] : last[place]].argmin())
    one = np.tile(np.arange(count), 3)
    other = np.concatenate([*seconds, cheapest])
    return count - 1 - one, count - 1 - other
