"""Two parallel layshafts between a common input and a common output.

A gear's own pair leads from the input to one of the layshafts, whose output pair leads on to the
one output wheel. Each layshaft has its own distance from the input; the wheel is common.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from fractions import Fraction
from math import inf, log

import numpy as np
from numpy.typing import NDArray

from mild_badger.core.mesh.centres import MOST_SUM_APART
from mild_badger.core.ratios.fewest import smallest_lanes
from mild_badger.core.ratios.lanes import GearGoal, Impossible, Lane, SetMatch, joined_lane
from mild_badger.core.ratios.least import best_lanes, least_error_bound
from mild_badger.core.ratios.pool import ODD, Floats, Ints
from mild_badger.core.ratios.shafts import ROUNDING
from mild_badger.core.ratios.standings import Pairs, Standing
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.watch import UNWATCHED, Watch

__all__ = ["MOST_FREE", "TwinMatch", "match_twin"]

MOST_FREE = 400_000
"""Pairs of layshafts looked at one by one when the factor is free; more are refused."""


@dataclass(frozen=True)
class TwinMatch:
    """A set, and the output pair of either layshaft; a train lists its own pair, then that."""

    found: SetMatch
    output_pairs: tuple[GearPair, GearPair]
    tooth_sums: tuple[int, int]

    def layshaft(self, gear: int) -> int:
        """Which layshaft, 0 or 1, serves a gear by its number."""
        train = self.found.gears[gear].train
        if self.output_pairs[0] == self.output_pairs[1]:
            return 0 if _sum(train[0]) == self.tooth_sums[0] else 1
        return 0 if train[1] == self.output_pairs[0] else 1


def _sum(pair: GearPair) -> int:
    return pair.driver + pair.driven


@dataclass(frozen=True)
class _Layshaft:
    """One way to build a layshaft: where it stands, and its output pair."""

    standing: Standing
    output: GearPair

    def side(self, goal: GearGoal) -> Pairs:
        return self.standing.back if goal.parity == ODD else self.standing.ahead

    def row(self, goal: GearGoal) -> Floats:
        """Give ln(ratio / target) of everything it offers a gear."""
        beyond = log(self.output.driven / self.output.driver) - log(goal.target)
        return self.side(goal).log_ratio + beyond

    def lane(self, goal: GearGoal) -> Lane | None:
        return self.side(goal).lane(goal, after=(self.output,))


def match_twin(
    standings: tuple[Standing, ...],
    sizes: tuple[int, ...],
    goals: tuple[GearGoal, ...],
    *,
    low: Fraction,
    high: Fraction,
    tolerance: Fraction | None = None,
    meshes: Callable[[int, int], bool] = lambda _pinion, _wheel: True,
    watch: Watch = UNWATCHED,
) -> TwinMatch | Impossible:
    """Find the best set of a box with two parallel layshafts.

    Parameters
    ----------
    standings
        The distances between the input and a layshaft there are, with their pairs.
    sizes
        Tooth counts of the output pairs.
    goals
        The gears; odd parity marks reverse, which goes over an idler.
    low, high
        Bounds of the factor k; both 1 for the absolute fit.
    tolerance
        Where given, the fewest pairs, then gears, then teeth within it; else the least worst error.
    meshes
        Whether an output pair's two sizes can mesh.

    Returns
    -------
    TwinMatch or Impossible
        The cost counts every gear's own pair; the two output pairs are there in any case.
    """
    limit = inf if tolerance is None else log(1 + tolerance)
    outputs = _Outputs.of(sizes, meshes)
    cases = _absolute(standings, outputs, goals, factor=low, limit=limit, watch=watch)
    if low != high:
        count = len(standings) ** 2 * len(sizes) ** 2 * (len(sizes) + 1) // 4
        if count > MOST_FREE:
            return Impossible(
                f"Two parallel layshafts of {len(sizes)} sizes with a free factor make {count:,} "
                f"cases, more than the {MOST_FREE:,} this search proves. Fit the ratios "
                "themselves instead of their spacing, or use fewer sizes."
            )
        cases = _free(standings, outputs, goals, watch)
    best: tuple[tuple[float, ...], TwinMatch] | None = None
    for coming, teeth, one, other in cases:
        if best is not None and tolerance is not None:
            if coming >= best[0][2]:
                break
            if teeth >= best[0][2]:
                continue
        least = limit if best is None or tolerance is not None else log(1 + best[0][0] / 100)
        rows = [np.sort(np.concatenate([one.row(goal), other.row(goal)])) for goal in goals]
        if not all(len(row) for row in rows):
            continue
        if least_error_bound(rows, low=low, high=high) > least + ROUNDING:
            continue
        match = _searched(one, other, goals, low=low, high=high, tolerance=tolerance)
        if match is None:
            continue
        cost = (match.found.cost.pairs, match.found.cost.gears, match.found.cost.teeth)
        error = match.found.worst_error_percent
        key = (error, *cost) if tolerance is None else (*cost, error)
        if best is None or key < best[0]:
            best = (key, match)
    if best is None:
        return Impossible(
            "No two layshafts serve every gear within the tolerance. Raise it, add sizes, or give "
            "the factor a wider range (spacing fit)."
        )
    return best[1]


def _searched(
    one: _Layshaft,
    other: _Layshaft,
    goals: tuple[GearGoal, ...],
    *,
    low: Fraction,
    high: Fraction,
    tolerance: Fraction | None,
) -> TwinMatch | None:
    lanes = []
    for goal in goals:
        parts = [lane for side in (one, other) if (lane := side.lane(goal)) is not None]
        if not parts:
            return None
        lanes.append(joined_lane(parts))
    found: SetMatch | Impossible
    if tolerance is None:
        found = best_lanes(tuple(lanes), low=low, high=high)
    else:
        found = smallest_lanes(tuple(lanes), low=low, high=high, tolerance=tolerance)
    if isinstance(found, Impossible):
        return None
    extra = one.output.driver + other.output.driver + one.output.driven
    cost = replace(found.cost, teeth=found.cost.teeth + extra)
    sums = (one.standing.tooth_sum, other.standing.tooth_sum)
    return TwinMatch(replace(found, cost=cost), (one.output, other.output), sums)


Case = tuple[float, float, _Layshaft, _Layshaft]
"""Teeth that this and all later boxes have at the least, that this one has, its two layshafts."""


@dataclass(frozen=True)
class _Outputs:
    """Which output pairs there may be."""

    sizes: tuple[int, ...]
    table: dict[int, tuple[int, ...]]

    @classmethod
    def of(cls, sizes: tuple[int, ...], meshes: Callable[[int, int], bool]) -> "_Outputs":
        table = {wheel: tuple(z for z in sizes if meshes(z, wheel)) for wheel in sizes}
        return cls(sizes, table)

    def pinions(self, wheel: int) -> tuple[int, ...]:
        return self.table[wheel]


def _free(
    standings: tuple[Standing, ...],
    outputs: _Outputs,
    goals: tuple[GearGoal, ...],
    watch: Watch,
) -> Iterator[Case]:
    """List every pair of layshafts, small wheels first; mirror images once."""
    forward = sum(1 for goal in goals if goal.parity != ODD)
    sizes = outputs.sizes
    for number, wheel in enumerate(sizes):
        ways = [
            _Layshaft(standing, GearPair(driver=pinion, driven=wheel))
            for pinion in outputs.pinions(wheel)
            for standing in standings
        ]
        for place, one in enumerate(ways):
            watch.tick((number + place / len(ways)) / len(sizes))
            for other in ways[place + 1 :]:
                least = min(one.standing.tooth_sum, other.standing.tooth_sum) - MOST_SUM_APART
                teeth = forward * least + one.output.driver + other.output.driver + wheel
                yield 0.0, teeth, one, other


def _absolute(
    standings: tuple[Standing, ...],
    outputs: _Outputs,
    goals: tuple[GearGoal, ...],
    *,
    factor: Fraction,
    limit: float,
    watch: Watch,
) -> Iterator[Case]:
    """List the pairs of layshafts that could hold the best set at a given factor.

    At a factor that is given a layshaft is as good for a gear as its nearest ratio. What it serves
    within an error is a set of gears; two layshafts do where their sets cover all. The least error
    at which some two do is found by halving, then only those two kinds are looked at.
    """
    tables = []
    for number, wheel in enumerate(outputs.sizes):
        watch.tick(number / len(outputs.sizes) / 2)
        pinions = outputs.pinions(wheel)
        if pinions:
            tables.append((wheel, _errors(standings, pinions, goals, wheel, log(factor))))
    if not tables:
        return
    every = np.concatenate([errors.reshape(-1) for _, errors in tables])
    ladder = np.unique(every[np.isfinite(every) & (every <= limit + ROUNDING)])
    if not len(ladder):
        return
    if limit < inf:
        least = limit
    else:
        first, last = 0, len(ladder) - 1
        while first < last:
            middle = (first + last) // 2
            if any(_covers(errors <= ladder[middle]) for _, errors in tables):
                last = middle
            else:
                first = middle + 1
        least = float(ladder[first])
    kinds = [
        kind
        for wheel, errors in tables
        for kind in _covering(
            errors <= least + ROUNDING, wheel, standings, outputs.pinions(wheel), goals
        )
    ]
    kinds.sort(key=lambda kind: kind.least)
    for number, kind in enumerate(kinds):
        watch.tick(0.5 + number / len(kinds) / 2)
        for teeth, one, other in kind.boxes():
            ways = [
                _Layshaft(
                    standings[place % len(standings)],
                    GearPair(
                        driver=outputs.pinions(kind.wheel)[place // len(standings)],
                        driven=kind.wheel,
                    ),
                )
                for place in (one, other)
            ]
            yield kind.least, teeth, ways[0], ways[1]


@dataclass(frozen=True)
class _Kind:
    """Boxes with one wheel whose layshafts serve the same gears; places are of the error table."""

    wheel: int
    places: tuple[Ints, Ints]
    teeth: Floats

    @property
    def least(self) -> float:
        return float(self.teeth.min())

    def boxes(self) -> Iterator[tuple[float, int, int]]:
        for flat in np.argsort(self.teeth, axis=None):
            one, other = np.unravel_index(flat, self.teeth.shape)
            if self.places[0][one] != self.places[1][other]:
                yield (
                    float(self.teeth[one, other]),
                    int(self.places[0][one]),
                    int(self.places[1][other]),
                )


def _covering(
    inside: NDArray[np.bool_],
    wheel: int,
    standings: tuple[Standing, ...],
    sizes: tuple[int, ...],
    goals: tuple[GearGoal, ...],
) -> Iterator[_Kind]:
    """List the pairs of kinds of layshafts that cover every gear, with their least teeth."""
    weights = 1 << np.arange(len(goals), dtype=np.int64)
    masks = inside @ weights
    full = int(weights.sum())
    forward = int(weights[[goal.parity != ODD for goal in goals]].sum())
    sums = np.tile([s.tooth_sum - MOST_SUM_APART for s in standings], len(sizes))
    pinions = np.repeat(np.array(sizes), len(standings))
    kinds = {
        int(mask): _worth_keeping(np.flatnonzero(masks == mask), sums, pinions)
        for mask in np.unique(masks)
    }
    for one, ones in kinds.items():
        for other, others in kinds.items():
            if one > other or one | other != full:
                continue
            alone, beside = (one & ~other & forward), (other & ~one & forward)
            both = one & other & forward
            teeth = (
                alone.bit_count() * sums[ones][:, None]
                + beside.bit_count() * sums[others][None, :]
                + both.bit_count() * np.minimum(sums[ones][:, None], sums[others][None, :])
                + pinions[ones][:, None]
                + pinions[others][None, :]
                + wheel
            )
            yield _Kind(wheel, (ones, others), teeth.astype(np.float64))


def _worth_keeping(places: Ints, sums: Ints, pinions: Ints) -> Ints:
    """Leave out layshafts that have neither the smaller tooth sum nor the smaller pinion."""
    kept: list[int] = []
    least = inf
    for place in places[np.lexsort((pinions[places], sums[places]))].tolist():
        if pinions[place] < least:
            least = pinions[place]
            kept.append(place)
    if len(kept) == 1 and len(places) > 1:  # two alike may stand side by side
        kept += [int(p) for p in places if p != kept[0]][:1]
    return np.array(kept, dtype=np.int64)


def _errors(
    standings: tuple[Standing, ...],
    sizes: tuple[int, ...],
    goals: tuple[GearGoal, ...],
    wheel: int,
    log_k: float,
) -> Floats:
    """(pinions × standings, gears): how near each layshaft comes to each gear."""
    out = np.log(wheel / np.array(sizes, dtype=np.float64))
    errors = np.full((len(sizes), len(standings), len(goals)), inf)
    for place, standing in enumerate(standings):
        for number, goal in enumerate(goals):
            row = (standing.back if goal.parity == ODD else standing.ahead).log_ratio
            if goal.kept:
                row = np.array([log(goal.kept[0].driven / goal.kept[0].driver)])
            if not len(row):
                continue
            wanted = log(goal.target) + log_k - out
            at = np.clip(np.searchsorted(row, wanted), 1, max(len(row) - 1, 1))
            near = np.minimum(
                np.abs(row[np.minimum(at, len(row) - 1)] - wanted), np.abs(row[at - 1] - wanted)
            )
            errors[:, place, number] = near
    return errors.reshape(-1, len(goals))


def _covers(inside: NDArray[np.bool_]) -> bool:
    """Whether some two layshafts together serve every gear."""
    weights = 1 << np.arange(inside.shape[1], dtype=np.int64)
    masks = np.unique(inside @ weights)
    return bool(np.any((masks[:, None] | masks[None, :]) == weights.sum()))
