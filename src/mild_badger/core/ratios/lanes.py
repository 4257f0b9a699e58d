"""What a set search works on: the goals, and each gear's reachable ratios in a row, its lane.

With x = ratio / target for each gear and a common factor k, the error of a gear is ln(x / k).
Floating point finds candidates, exact fractions decide between them: every comparison that
matters is of squares of rationals, so three-decimal targets hold no surprises.
"""

from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction
from math import exp, log, sqrt

import numpy as np
from numpy.typing import NDArray

from mild_badger.core.message import say
from mild_badger.core.ratios.pool import Cost, Floats, Ints, RatioTable, train_cost, unpack
from mild_badger.core.ratios.train import train_ratio
from mild_badger.core.targets.speeds import signed_error_percent
from mild_badger.core.vehicle.box import GearPair

__all__ = [
    "SLACK",
    "CandidateList",
    "GearGoal",
    "GearMatch",
    "Impossible",
    "SetMatch",
    "assembled",
    "joined_lane",
    "kept_lane",
    "lanes_of",
    "nearest",
    "recentred",
    "set_of",
    "worst_at",
]

SLACK = 1e-11
"""Far above rounding in a sum of logarithms, far below the gap between two distinct ratios."""


@dataclass(frozen=True)
class GearGoal:
    """What is wanted of one gear: its target, positive, and the parity of its meshes.

    ``kept`` is a train that the builder keeps; the gear then has no other choice. ``second`` is
    the other branch where what is kept is a summing differential. ``gear`` is the gear's id,
    ``name`` what it is called.
    """

    gear: str
    target: Fraction
    parity: int
    kept: tuple[GearPair, ...] = ()
    second: tuple[GearPair, ...] = ()
    called: str = ""

    @property
    def name(self) -> str:
        """What the gear is called on screen."""
        return self.called or self.gear


@dataclass(frozen=True)
class GearMatch:
    """The train that a set gives to one gear; the ratio is positive."""

    goal: GearGoal
    ratio: Fraction
    error_percent: float
    train: tuple[GearPair, ...]


@dataclass(frozen=True)
class SetMatch:
    """A whole set; ``factor`` is k, 1 for the absolute fit."""

    factor: float
    worst_error_percent: float
    gears: tuple[GearMatch, ...]
    cost: Cost


@dataclass(frozen=True)
class Impossible:
    """Why no set was found, in a sentence that names a way out."""

    reason: str


@dataclass(frozen=True)
class CandidateList:
    """One gear's reachable ratios over its target, ascending, with what each costs.

    ``train`` makes the train at a position; costs are packed as in the pool.
    """

    goal: GearGoal
    numerator: Ints
    denominator: Ints
    log_x: Floats
    cost: Ints
    train: Callable[[int], tuple[GearPair, ...]]

    def ratio(self, position: int) -> Fraction:
        """Give a ratio exactly."""
        return Fraction(int(self.numerator[position]), int(self.denominator[position]))

    def x(self, position: int) -> Fraction:
        """Give ratio over target exactly."""
        return self.ratio(position) / self.goal.target

    def only(self, wanted: Callable[[tuple[GearPair, ...]], bool]) -> "CandidateList | None":
        """Give the lane with nothing but the positions whose trains are wanted; None if none is."""
        kept = np.array([n for n in range(len(self.cost)) if wanted(self.train(n))], dtype=np.intp)
        return self.part(kept) if len(kept) else None

    def part(self, kept: NDArray[np.intp]) -> "CandidateList":
        """Give the lane with only some of its positions, in the same order."""
        return CandidateList(
            goal=self.goal,
            numerator=self.numerator[kept],
            denominator=self.denominator[kept],
            log_x=self.log_x[kept],
            cost=self.cost[kept],
            train=_PartOf(self.train, kept),
        )


@dataclass(frozen=True)
class _PartOf:
    """Makes the trains of a lane of which only some positions were kept."""

    train: Callable[[int], tuple[GearPair, ...]]
    kept: NDArray[np.intp]

    def __call__(self, position: int) -> tuple[GearPair, ...]:
        return self.train(int(self.kept[position]))


def lanes_of(
    pool: RatioTable, goals: tuple[GearGoal, ...]
) -> tuple[CandidateList, ...] | Impossible:
    """Give each goal its lane through a pool."""
    lanes = []
    shared: dict[int, _Reached] = {}
    for goal in goals:
        if goal.kept:
            lanes.append(kept_lane(goal, train_cost(goal.kept)))
            continue
        if goal.parity not in shared:
            shared[goal.parity] = _Reached.of(pool, goal.parity)
        reached = shared[goal.parity]
        if not len(reached.cost):
            return Impossible(
                say("ratios.no-train-at-all-can-drive-gear-the-kit-has", name=goal.name)
            )
        lanes.append(
            CandidateList(
                goal=goal,
                numerator=reached.numerator,
                denominator=reached.denominator,
                log_x=reached.log_ratio - log(goal.target),
                cost=reached.cost,
                train=_TrainFor(pool, reached.choices, goal.parity),
            )
        )
    return tuple(lanes)


@dataclass(frozen=True)
class _Reached:
    """What a pool reaches with one parity of meshes; lanes of that parity share it."""

    numerator: Ints
    denominator: Ints
    log_ratio: Floats
    cost: Ints
    choices: Ints

    @classmethod
    def of(cls, pool: RatioTable, parity: int) -> "_Reached":
        cost, choices = pool.ratio_cost[parity], pool.ratio_choice[parity]
        usable = pool.usable(parity)
        if len(usable) == len(cost):  # nothing to leave out: no copy
            return cls(pool.numerator, pool.denominator, pool.log_ratio, cost, choices)
        return cls(
            pool.numerator[usable],
            pool.denominator[usable],
            pool.log_ratio[usable],
            cost[usable],
            choices[usable],
        )


def kept_lane(goal: GearGoal, cost: int) -> CandidateList:
    """Give the lane of a gear whose train is kept: that train and nothing else."""
    ratio = train_ratio(goal.kept)
    return CandidateList(
        goal=goal,
        numerator=np.array([ratio.numerator], dtype=np.int64),
        denominator=np.array([ratio.denominator], dtype=np.int64),
        log_x=np.array([log(ratio) - log(goal.target)]),
        cost=np.array([cost], dtype=np.int64),
        train=lambda _position: goal.kept,
    )


def joined_lane(lanes: list[CandidateList]) -> CandidateList:
    """Make one lane of several that serve the same gear."""
    log_x = np.concatenate([lane.log_x for lane in lanes])
    order = np.argsort(log_x, kind="stable")
    starts = np.cumsum([0, *(len(lane.log_x) for lane in lanes)])
    owner = np.repeat(np.arange(len(lanes)), np.diff(starts))

    def train(position: int) -> tuple[GearPair, ...]:
        place = int(order[position])
        number = int(owner[place])
        return lanes[number].train(place - int(starts[number]))

    return CandidateList(
        goal=lanes[0].goal,
        numerator=np.concatenate([lane.numerator for lane in lanes])[order],
        denominator=np.concatenate([lane.denominator for lane in lanes])[order],
        log_x=log_x[order],
        cost=np.concatenate([lane.cost for lane in lanes])[order],
        train=train,
    )


@dataclass(frozen=True)
class _TrainFor:
    """Makes a lane's trains from its pool."""

    pool: RatioTable
    choices: Ints
    parity: int

    def __call__(self, position: int) -> tuple[GearPair, ...]:
        return self.pool.train(int(self.choices[position]), self.parity)


def worst_at(lanes: tuple[CandidateList, ...], factor: Fraction) -> Fraction:
    """Square of the worst error (as a ratio ≥ 1) when every gear takes its x nearest to k."""
    worst = Fraction(1)
    for lane in lanes:
        x = lane.x(nearest(lane, factor * factor))
        worst = max(worst, x / factor, factor / x)
    return worst * worst


def nearest(lane: CandidateList, factor_square: Fraction) -> int:
    """Position of the x nearest to k = √factor_square in ratio; the cheaper of two equals."""
    log_k = log(factor_square) / 2
    at = int(np.searchsorted(lane.log_x, log_k))
    around = range(max(at - 2, 0), min(at + 2, len(lane.log_x)))

    def distance(position: int) -> tuple[Fraction, int]:
        square = lane.x(position) ** 2 / factor_square
        return max(square, 1 / square), int(lane.cost[position])

    return min(around, key=distance)


def recentred(
    lanes: tuple[CandidateList, ...], picks: list[int], low: Fraction, high: Fraction
) -> tuple[Fraction, Fraction]:
    """Square of the worst error with the best k for these trains, and that k squared."""
    xs = [lane.x(i) for lane, i in zip(lanes, picks, strict=True)]
    square = min(max(min(xs) * max(xs), low * low), high * high)
    return max(max(xs) ** 2 / square, square / min(xs) ** 2), square


def assembled(
    lanes: tuple[CandidateList, ...],
    picks: list[int],
    factor_square: Fraction,
    error_square: Fraction,
) -> SetMatch:
    """Make the set of one position a lane, with the factor and the worst error found for it."""
    gears = [
        (lane.goal, lane.ratio(n), lane.train(n)) for lane, n in zip(lanes, picks, strict=True)
    ]
    packed = sum(int(lane.cost[n]) for lane, n in zip(lanes, picks, strict=True))
    return set_of(gears, factor_square, error_square, unpack(packed))


def set_of(
    gears: list[tuple[GearGoal, Fraction, tuple[GearPair, ...]]],
    factor_square: Fraction,
    error_square: Fraction,
    cost: Cost,
) -> SetMatch:
    """Make a set of goals with their ratios and trains."""
    factor = sqrt(factor_square)
    return SetMatch(
        factor=factor,
        worst_error_percent=100 * (exp(log(error_square) / 2) - 1),
        gears=tuple(
            GearMatch(
                goal,
                ratio,
                signed_error_percent(float(ratio), float(goal.target), factor),
                train,
            )
            for goal, ratio, train in gears
        ),
        cost=cost,
    )
