"""The best set of trains for a list of targets, exactly.

With x = ratio / target for each gear and a common factor k, the error of a gear is ln(x / k).
Floating point finds candidates, exact fractions decide between them: every comparison that
matters is of squares of rationals, so three-decimal targets hold no surprises.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from fractions import Fraction
from math import exp, log, sqrt

import numpy as np
from numpy.typing import NDArray

from mild_badger.core.ratios.pool import Cost, Floats, Ints, Pool, train_cost, unpack
from mild_badger.core.ratios.train import train_ratio
from mild_badger.core.targets.speeds import signed_error_percent
from mild_badger.core.vehicle.model import GearPair

__all__ = [
    "GearGoal",
    "GearMatch",
    "Impossible",
    "Lane",
    "SetMatch",
    "best_lanes",
    "best_set",
    "kept_lane",
    "least_error_bound",
    "smallest_lanes",
    "smallest_set",
]

_SLACK = 1e-11
"""Far above rounding in a sum of logarithms, far below the gap between two distinct ratios."""
_EQUALS_LOOKED_AT = 400
_FEW = 2000
"""Up to this many ratios a lane is searched as it is."""


@dataclass(frozen=True)
class GearGoal:
    """What is wanted of one gear: its target, positive, and the parity of its meshes.

    ``kept`` is a train that the builder keeps; the gear then has no other choice.
    """

    name: str
    target: Fraction
    parity: int
    kept: tuple[GearPair, ...] = ()


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
class Lane:
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


def lanes_of(pool: Pool, goals: tuple[GearGoal, ...]) -> tuple[Lane, ...] | Impossible:
    """Give each goal its lane through a pool."""
    lanes = []
    costs: dict[int, Ints] = {}
    for goal in goals:
        if goal.kept:
            lanes.append(kept_lane(goal, train_cost(goal.kept)))
            continue
        index = pool.usable(goal.parity)
        if not len(index):
            return Impossible(
                f"No train at all can drive gear {goal.name}: the kit has no gear that may stand "
                "last in a train. Add a free-running size with dog faces to the kit."
            )
        choices = pool.ratio_choice[goal.parity][index]
        lanes.append(
            Lane(
                goal=goal,
                numerator=pool.numerator[index],
                denominator=pool.denominator[index],
                log_x=pool.log_ratio[index] - log(goal.target),
                cost=costs.setdefault(goal.parity, pool.ratio_cost[goal.parity][index]),
                train=_TrainOf(pool, choices, goal.parity),
            )
        )
    return tuple(lanes)


def kept_lane(goal: GearGoal, cost: int) -> Lane:
    """Give the lane of a gear whose train is kept: that train and nothing else."""
    ratio = train_ratio(goal.kept)
    return Lane(
        goal=goal,
        numerator=np.array([ratio.numerator], dtype=np.int64),
        denominator=np.array([ratio.denominator], dtype=np.int64),
        log_x=np.array([log(ratio) - log(goal.target)]),
        cost=np.array([cost], dtype=np.int64),
        train=lambda _position: goal.kept,
    )


@dataclass(frozen=True)
class _TrainOf:
    """Makes a lane's trains from its pool."""

    pool: Pool
    choices: Ints
    parity: int

    def __call__(self, position: int) -> tuple[GearPair, ...]:
        return self.pool.train(int(self.choices[position]), self.parity)


def best_set(
    pool: Pool, goals: tuple[GearGoal, ...], *, low: Fraction, high: Fraction
) -> SetMatch | Impossible:
    """Find the set of a pool's trains whose worst error is the least possible; see best_lanes."""
    lanes = lanes_of(pool, goals)
    return lanes if isinstance(lanes, Impossible) else best_lanes(lanes, low=low, high=high)


def smallest_set(
    pool: Pool,
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


def best_lanes(lanes: tuple[Lane, ...], *, low: Fraction, high: Fraction) -> SetMatch:
    """Find the set whose worst error is the least possible with k in [low, high].

    The smallest interval that holds one x of every gear, with its middle in the range, or the best
    at an end of the range (domain.md §4); low = high = 1 is the absolute fit.
    """
    at_ends = [(_worst_at(lanes, end), end * end) for end in (low, high)]
    best_square, factor_square = min(at_ends)
    for square, middle in _intervals(lanes, low, high, bound=log(best_square) / 2):
        if square < best_square:
            best_square, factor_square = square, middle
    picks = [_nearest(lane, factor_square) for lane in lanes]
    return _assemble(lanes, picks, factor_square, best_square)


def smallest_lanes(
    lanes: tuple[Lane, ...], *, low: Fraction, high: Fraction, tolerance: Fraction
) -> SetMatch | Impossible:
    """Find the set with the fewest pairs, then gears, then teeth, every gear within a tolerance.

    ``tolerance`` is a share (3 % is 3/100). What is in reach changes only where k passes
    x / (1 + tolerance) or x · (1 + tolerance), so those k and the range's ends are all there is to
    look at. Among equals found, the least worst error wins.
    """
    grow = 1 + tolerance
    kept: dict[int, NDArray[np.intp]] = {}  # lanes of one pool share their costs
    for lane in lanes:
        if len(lane.log_x) > _FEW and id(lane.cost) not in kept:
            kept[id(lane.cost)] = _worth_looking_at(lane, 2 * log(grow))
    lanes = tuple(_part(lane, kept.get(id(lane.cost))) for lane in lanes)
    spots = _spots(lanes, low, high, grow)
    totals = np.zeros(len(spots.log_k), dtype=np.int64)
    possible = np.ones(len(spots.log_k), dtype=bool)
    for lane in lanes:
        first, last = _window(lane, spots.log_k, grow)
        possible &= first < last
        totals += _range_minimum(lane.cost, first, np.maximum(last, first + 1))
    order = np.flatnonzero(possible)
    order = order[np.argsort(totals[order], kind="stable")]
    best: tuple[int, Fraction, list[int], Fraction] | None = None
    looked = 0
    for spot in order:
        if best is not None and (
            totals[spot] > best[0] or (totals[spot] == best[0] and looked >= _EQUALS_LOOKED_AT)
        ):
            break
        looked += 1
        picked = _cheapest_at(lanes, spots.exact(int(spot)), grow)
        if picked is None:
            continue
        cost = sum(int(lane.cost[i]) for lane, i in zip(lanes, picked, strict=True))
        square, middle = _recentred(lanes, picked, low, high)
        if best is None or (cost, square) < best[:2]:
            best = (cost, square, picked, middle)
    if best is None:
        worst = best_lanes(lanes, low=low, high=high).worst_error_percent
        return Impossible(
            f"No set keeps every gear within {100 * float(tolerance):g} %: the least worst error "
            f"possible is {worst:.2f} %. Raise the tolerance to that, allow more pairs, or give "
            "the factor a wider range (spacing fit)."
        )
    return _assemble(lanes, best[2], best[3], best[1])


@dataclass(frozen=True)
class _PartOf:
    """Makes the trains of a lane of which only some positions were kept."""

    train: Callable[[int], tuple[GearPair, ...]]
    kept: NDArray[np.intp]

    def __call__(self, position: int) -> tuple[GearPair, ...]:
        return self.train(int(self.kept[position]))


def _part(lane: Lane, kept: NDArray[np.intp] | None) -> Lane:
    if kept is None:
        return lane
    return Lane(
        goal=lane.goal,
        numerator=lane.numerator[kept],
        denominator=lane.denominator[kept],
        log_x=lane.log_x[kept],
        cost=lane.cost[kept],
        train=_PartOf(lane.train, kept),
    )


def _worth_looking_at(lane: Lane, width: float) -> NDArray[np.intp]:
    """Find what is the cheapest of some window of that width; the rest is never taken.

    An x that has something cheaper to its left and to its right, closer together than a window is
    wide, cannot be the cheapest of any window that holds it.
    """
    cost, xs = lane.cost.tolist(), lane.log_x
    cheaper = _nearest_cheaper(cost)
    before = np.where(cheaper >= 0, xs[cheaper], -np.inf)
    later = len(cost) - 1 - _nearest_cheaper(cost[::-1])[::-1]
    after = np.where(later < len(cost), xs[np.minimum(later, len(cost) - 1)], np.inf)
    return np.flatnonzero(after - before >= width - 4 * _SLACK)


def _nearest_cheaper(cost: list[int]) -> Ints:
    """Position of the nearest strictly cheaper entry before each, −1 where there is none."""
    found = np.full(len(cost), -1, dtype=np.int64)
    stack: list[int] = []
    for position, value in enumerate(cost):
        while stack and cost[stack[-1]] >= value:
            stack.pop()
        if stack:
            found[position] = stack[-1]
        stack.append(position)
    return found


def least_error_bound(lanes: tuple[Lane, ...], *, low: Fraction, high: Fraction) -> float:
    """Give a quick lower bound of the least worst |ln(x/k)|, right but for rounding.

    For passing over lanes that cannot win before they are searched exactly.
    """
    best = min(
        max(float(np.abs(lane.log_x - log(end)).min()) for lane in lanes) for end in (low, high)
    )
    width, _, _, _ = _windows(lanes, low, high, bound=best)
    return min(best, float(width.min(initial=2 * best)) / 2) - _SLACK


def _intervals(
    lanes: tuple[Lane, ...], low: Fraction, high: Fraction, *, bound: float
) -> Iterator[tuple[Fraction, Fraction]]:
    """Yield (x_right/x_left, x_left·x_right) of the narrowest intervals, exact, best first.

    For every possible left end, the least right end that takes in one x of every gear; only those
    not wider than twice ``bound`` whose middle lies in the range. Stops once no later one can win.
    """
    width, starts, owner, place = _windows(lanes, low, high, bound=bound)
    best = np.inf
    for hit in np.argsort(width, kind="stable"):
        if width[hit] > best + _SLACK:
            return
        left = lanes[owner[hit]].x(int(place[hit]))
        found = [_least_from(lane, left, float(starts[hit])) for lane in lanes]
        right = max((x for x in found if x is not None), default=left)
        if None not in found and low * low <= left * right <= high * high:
            best = min(best, log(right / left))
            yield right / left, left * right


def _windows(
    lanes: tuple[Lane, ...], low: Fraction, high: Fraction, *, bound: float
) -> tuple[Floats, Floats, Ints, Ints]:
    """Width, left end, and whose left end it is, of every interval that could be the best one."""
    starts = np.concatenate([lane.log_x for lane in lanes])
    owner = np.repeat(np.arange(len(lanes)), [len(lane.log_x) for lane in lanes])
    place = np.concatenate([np.arange(len(lane.log_x)) for lane in lanes])
    keep = (starts >= log(low) - bound - _SLACK) & (starts <= log(high) + _SLACK)
    starts, owner, place = starts[keep], owner[keep], place[keep]
    ends, late = starts.copy(), starts.copy()  # rounding leaves the right end between these two
    complete = np.ones(len(starts), dtype=bool)
    for lane in lanes:
        after = np.searchsorted(lane.log_x, starts - _SLACK)
        complete &= after < len(lane.log_x)
        ends = np.maximum(ends, lane.log_x[np.minimum(after, len(lane.log_x) - 1)])
        after = np.searchsorted(lane.log_x, starts + _SLACK)
        late = np.maximum(late, lane.log_x[np.minimum(after, len(lane.log_x) - 1)])
    width = ends - starts
    complete &= (late + starts) / 2 >= log(low) - _SLACK
    complete &= (ends + starts) / 2 <= log(high) + _SLACK
    hits = np.flatnonzero(complete & (width <= 2 * bound + _SLACK))
    return width[hits], starts[hits], owner[hits], place[hits]


def _least_from(lane: Lane, left: Fraction, log_left: float) -> Fraction | None:
    """Least x of a gear that is not below ``left``, decided exactly; None past the last."""
    for position in range(int(np.searchsorted(lane.log_x, log_left - _SLACK)), len(lane.log_x)):
        if lane.x(position) >= left:
            return lane.x(position)
    return None


def _worst_at(lanes: tuple[Lane, ...], factor: Fraction) -> Fraction:
    """Square of the worst error (as a ratio ≥ 1) when every gear takes its x nearest to k."""
    worst = Fraction(1)
    for lane in lanes:
        x = lane.x(_nearest(lane, factor * factor))
        worst = max(worst, x / factor, factor / x)
    return worst * worst


def _nearest(lane: Lane, factor_square: Fraction) -> int:
    """Position of the x nearest to k = √factor_square in ratio; the cheaper of two equals."""
    log_k = log(factor_square) / 2
    at = int(np.searchsorted(lane.log_x, log_k))
    around = range(max(at - 2, 0), min(at + 2, len(lane.log_x)))

    def distance(position: int) -> tuple[Fraction, int]:
        square = lane.x(position) ** 2 / factor_square
        return max(square, 1 / square), int(lane.cost[position])

    return min(around, key=distance)


@dataclass(frozen=True)
class _Spots:
    """The values of k worth looking at, each exact on demand."""

    lanes: tuple[Lane, ...]
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


def _spots(lanes: tuple[Lane, ...], low: Fraction, high: Fraction, grow: Fraction) -> _Spots:
    log_k, owner, place, power = (
        [np.array([log(low), log(high)])],
        [np.array([-1, -1])],
        [np.array([0, 1])],
        [np.array([0, 0])],
    )
    for number, lane in enumerate(lanes):
        for sign in (1, -1):
            k = lane.log_x + sign * log(grow)
            keep = np.flatnonzero((k >= log(low) - _SLACK) & (k <= log(high) + _SLACK))
            log_k.append(k[keep])
            owner.append(np.full(len(keep), number))
            place.append(keep)
            power.append(np.full(len(keep), sign))
    joined = [np.concatenate(parts) for parts in (owner, place, power)]
    return _Spots(lanes, (low, high), grow, np.concatenate(log_k), *joined)


def _window(lane: Lane, log_k: Floats, grow: Fraction) -> tuple[Ints, Ints]:
    """Find positions [first, last) within the tolerance of each k, a hair too wide if anything."""
    reach = log(grow) + 2 * _SLACK
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


def _cheapest_at(lanes: tuple[Lane, ...], k: Fraction, grow: Fraction) -> list[int] | None:
    """Each gear's cheapest x within the tolerance of k, decided exactly; None if one has none."""
    picks = []
    for lane in lanes:
        first, last = _window(lane, np.array([log(k)]), grow)
        inside = list(range(int(first[0]), int(last[0])))
        while inside and lane.x(inside[0]) * grow < k:
            inside.pop(0)
        while inside and lane.x(inside[-1]) > k * grow:
            inside.pop()
        if not inside:
            return None
        log_k = log(k)
        picks.append(
            min(inside, key=lambda i: (int(lane.cost[i]), abs(float(lane.log_x[i]) - log_k)))
        )
    return picks


def _recentred(
    lanes: tuple[Lane, ...], picks: list[int], low: Fraction, high: Fraction
) -> tuple[Fraction, Fraction]:
    """Square of the worst error with the best k for these trains, and that k squared."""
    xs = [lane.x(i) for lane, i in zip(lanes, picks, strict=True)]
    square = min(max(min(xs) * max(xs), low * low), high * high)
    return max(max(xs) ** 2 / square, square / min(xs) ** 2), square


def _assemble(
    lanes: tuple[Lane, ...], picks: list[int], factor_square: Fraction, error_square: Fraction
) -> SetMatch:
    factor = sqrt(factor_square)
    gears = []
    packed = 0
    for lane, position in zip(lanes, picks, strict=True):
        ratio = lane.ratio(position)
        packed += int(lane.cost[position])
        error = signed_error_percent(float(ratio), float(lane.goal.target), factor)
        gears.append(GearMatch(lane.goal, ratio, error, lane.train(position)))
    return SetMatch(
        factor=factor,
        worst_error_percent=100 * (exp(log(error_square) / 2) - 1),
        gears=tuple(gears),
        cost=unpack(packed),
    )
