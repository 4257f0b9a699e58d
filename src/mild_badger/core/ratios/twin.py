"""Two parallel layshafts between a common input and a common output.

A gear's own pair leads from the input to one of the layshafts, whose output pair leads on to the
one output wheel. Each layshaft has its own distance from the input; the wheel is common.

With u = ln k + ln pinion − ln wheel a layshaft at a distance serves a gear within an error where it
has a pair with ln ratio within that of ln target + u: what it serves depends on u alone. So a row
of u, fine against the error, is gone through once; two layshafts lie ln(pinion / pinion) apart on
it. What together serves every gear is then searched exactly.
"""

from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, replace
from fractions import Fraction
from itertools import pairwise
from math import ceil, exp, floor, inf, log
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mild_badger.core.message import say
from mild_badger.core.ratios.fewest import smallest_lanes
from mild_badger.core.ratios.lanes import CandidateList, GearGoal, Impossible, SetMatch, joined_lane
from mild_badger.core.ratios.least import best_lanes, least_error_bound
from mild_badger.core.ratios.pool import ODD, Cost, Floats, Ints, train_cost
from mild_badger.core.ratios.shafts import ROUNDING
from mild_badger.core.ratios.standings import CentreOption, Pairs
from mild_badger.core.ratios.stocked import Have, Part, best_stocked, smallest_stocked, used_by
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.watch import UNWATCHED, Watch

__all__ = ["TwinMatch", "match_twin"]

_FIRST_LIMIT = 0.004
_LEAST_LIMIT = 0.0005
_LAST_LIMIT = 3.0
"""Errors in ln asked for first, at the finest and at the most."""
_FINENESS = 6
"""Steps of the row of u in the error asked for."""
_MARGIN = 4
"""Nodes beyond either end of the row, so that none looked for is missing."""
_GROUP = 8
"""Gears whose subsets are tabled together."""
_MOST_CASES = 60_000
"""Pairs of layshafts searched exactly; with more the best so far is given, but not as proven."""
_NONE = np.int32(1 << 24)
"""Stands for the teeth of what cannot be."""


@dataclass(frozen=True)
class TwinMatch:
    """A set, and the output pair of either layshaft; a train lists its own pair, then that.

    ``layshafts`` says which one, 0 or 1, serves each gear. Where not ``proven`` there were more
    ways than could be gone through.
    """

    found: SetMatch
    output_pairs: tuple[GearPair, GearPair]
    tooth_sums: tuple[int, int]
    layshafts: tuple[int, ...]
    proven: bool = True


@dataclass(frozen=True)
class _Layshaft:
    """One way to build a layshaft: where it stands, and its output pair."""

    standing: CentreOption
    output: GearPair

    def side(self, goal: GearGoal) -> Pairs:
        return self.standing.back if goal.parity == ODD else self.standing.ahead

    def row(self, goal: GearGoal) -> Floats:
        """Give ln(ratio / target) of everything it offers a gear."""
        beyond = log(self.output.driven / self.output.driver) - log(goal.target)
        return self.side(goal).log_ratio + beyond

    def lane(self, goal: GearGoal) -> CandidateList | None:
        return self.side(goal).lane(goal, after=(self.output,))

    def holds(self, train: tuple[GearPair, ...]) -> bool:
        return train[1] == self.output and self.standing.stands(train[0])


def match_twin(
    standings: tuple[CentreOption, ...],
    sizes: tuple[int, ...],
    goals: tuple[GearGoal, ...],
    *,
    low: Fraction,
    high: Fraction,
    tolerance: Fraction | None = None,
    meshes: Callable[[int, int], bool] = lambda _pinion, _wheel: True,
    have: Have | None = None,
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
        The gears; odd parity marks reverse, which goes over an idler. A gear keeps its own pair.
    low, high
        Bounds of the factor k; both 1 for the absolute fit.
    tolerance
        Where given, the fewest pairs, then gears, then teeth within it; else the least worst error.
    meshes
        Whether an output pair's two sizes can mesh.
    have
        How many gears of each size and bore there are, where the set must keep within that.

    Returns
    -------
    TwinMatch or Impossible
        The cost counts every gear's own pair; the two output pairs are there in any case.
    """
    usable = tuple(standing for standing in standings if len(standing.ahead))
    asked = _Asked(usable, goals, low, high, tolerance, have)
    search = _TwinSearch(asked, _outputs(sizes, meshes, have), watch)
    best = search.run()
    if best is not None:
        return replace(best.match, proven=not search.too_many)
    if search.too_many:
        return Impossible(say("ratios.there-are-so-many-ways-to-build-two-parallel"))
    stock = say("ratios.and-within-the-stock") if have is not None else ""
    return Impossible(say("ratios.no-two-layshafts-serve-every-gear-within-the", stock=stock))


Teeth = NDArray[np.int32]
Output = tuple[int, int, int]
"""Pinion, pinion, wheel; the first pinion is not the larger one."""


def _outputs(
    sizes: tuple[int, ...], meshes: Callable[[int, int], bool], have: Have | None
) -> dict[tuple[int, int], list[int]]:
    """List the wheels that two pinions can both drive, within the stock; pinions ascending."""
    table = {wheel: {z for z in sizes if meshes(z, wheel)} for wheel in sizes}
    by_ends: dict[tuple[int, int], list[int]] = {}
    for number, one in enumerate(sizes):
        for other in sizes[number:]:
            wheels = [
                wheel
                for wheel in sizes
                if {one, other} <= table[wheel] and _left(have, (one, other, wheel)) != "short"
            ]
            if wheels:
                by_ends[one, other] = wheels
    return by_ends


def _left(have: Have | None, output: Output) -> "Have | str | None":
    """Take the gears of the output pairs off; "short" where they are not there."""
    if have is None:
        return None
    left = Counter(dict(have))
    for teeth in output:
        for part in ((teeth, "fixed"), (teeth, "any")):
            if part in left:
                left[part] -= 1
                if left[part] < 0:
                    return "short"
    return left


@dataclass(frozen=True)
class _Asked:
    standings: tuple[CentreOption, ...]
    goals: tuple[GearGoal, ...]
    low: Fraction
    high: Fraction
    tolerance: Fraction | None
    have: Have | None


@dataclass(frozen=True)
class _Best:
    """The best box so far; ``error`` is the worst as a logarithm."""

    match: TwinMatch
    error: float
    size: tuple[int, int, int]

    def key(self, *, by_size: bool) -> tuple[float, ...]:
        return (*self.size, self.error) if by_size else (self.error, *self.size)


class _Served:
    """What every distance serves along the row of u, within a limit.

    ``masks`` is (nodes, distances), a bit a gear. ``groups`` hold for some gears each (nodes,
    subsets) the least teeth of their forward pairs at a distance that serves the subset; where
    teeth do not matter, bits that say whether one does, and the same for the rest of a subset.
    """

    def __init__(
        self, asked: _Asked, first: float, last: float, limit: float, *, teeth: bool
    ) -> None:
        self.step = limit / _FINENESS
        self.first = first - _MARGIN * self.step
        nodes = ceil((last - first) / self.step) + 1 + 2 * _MARGIN
        self.nodes: Floats = self.first + self.step * np.arange(nodes, dtype=np.float64)
        reach = limit + self.step + ROUNDING
        goals, standings = asked.goals, asked.standings
        self.full = (1 << len(goals)) - 1
        self.masks = np.zeros((nodes, len(standings)), dtype=np.int32)
        for place, standing in enumerate(standings):
            for number, goal in enumerate(goals):
                row = _row_of(standing, goal)
                if len(row):
                    inside = _away(row, self.nodes + log(goal.target)) <= reach
                    self.masks[:, place] |= np.where(inside, np.int32(1 << number), np.int32(0))
        self.teeth = np.array(
            [int((s.ahead.driver + s.ahead.driven).min()) for s in standings], dtype=np.int32
        )
        forward = [goal.parity != ODD for goal in goals]
        self.forward = sum(1 << n for n, ahead in enumerate(forward) if ahead)
        self.counts_teeth = teeth
        starts = range(0, len(goals), _GROUP)
        tables = [self._group(start, min(_GROUP, len(goals) - start)) for start in starts]
        self.groups = tables if teeth else [(_bits(one), _bits(two)) for one, two in tables]

    def _group(self, start: int, count: int) -> tuple[Teeth, Teeth]:
        """Table the least teeth of each subset, and of the rest of it."""
        part = (self.masks >> start) & ((1 << count) - 1)
        table = np.full((len(part), 1 << count), _NONE, dtype=np.int32)
        every = np.arange(len(part))
        for place in np.argsort(-self.teeth, kind="stable").tolist():
            table[every, part[:, place]] = self.teeth[place]
        for bit in range(count):
            halves = table.reshape(len(part), -1, 2, 1 << bit)
            np.minimum(halves[:, :, 0], halves[:, :, 1], out=halves[:, :, 0])
        ahead = (self.forward >> start) & ((1 << count) - 1)
        counts = np.array([(n & ahead).bit_count() for n in range(1 << count)], dtype=np.int32)
        spent = np.where(table >= _NONE, _NONE, table * counts)
        return spent, np.ascontiguousarray(spent[:, ::-1])

    def bounds(self, apart: float, nodes: Ints | None = None) -> Teeth:
        """Least teeth of the forward gears' pairs with the first layshaft at each node.

        The second lies ``apart`` to its right; ``_NONE`` or more where they do not serve all.
        """
        shift = round(apart / self.step)
        count = max(len(self.nodes) - shift, 0)
        one_at: Ints | slice = slice(0, count)
        other_at: Ints | slice = slice(shift, shift + count)
        if nodes is not None:
            one_at, other_at = nodes, nodes + shift
            count = len(nodes)
        total = np.zeros(count, dtype=np.int32)
        for table, rest in self.groups:
            if self.counts_teeth:
                total += (table[one_at] + rest[other_at]).min(axis=1)
            else:
                served = (table[one_at] & rest[other_at]).any(axis=1)
                total += np.where(served, np.int32(0), _NONE)
        return np.minimum(total, _NONE)

    def places(self, low: float, high: float) -> tuple[int, int]:
        """Nodes [first, last) near which u may lie between two ends."""
        first = floor((low - self.first) / self.step - 0.5)
        last = ceil((high - self.first) / self.step + 0.5) + 1
        return max(first, 0), min(last, len(self.nodes))

    def cases(self, nodes: Ints, apart: float, most: float) -> dict[tuple[int, int], int]:
        """List the distances that serve all together at some node, with their least teeth."""
        shift = round(apart / self.step)
        count_of: dict[tuple[int, int], int] = {}
        for node in nodes.tolist():
            one, other = self.masks[node], self.masks[node + shift]
            covers = (one[:, None] | other[None, :]) == self.full
            for a, b in np.argwhere(covers).tolist():
                mine, its = int(one[a]) & self.forward, int(other[b]) & self.forward
                both = (mine & its).bit_count()
                teeth = int(
                    (mine & ~its).bit_count() * self.teeth[a]
                    + (its & ~mine).bit_count() * self.teeth[b]
                    + both * min(self.teeth[a], self.teeth[b])
                )
                if teeth <= most:
                    count_of[a, b] = min(count_of.get((a, b), teeth), teeth)
        return count_of


def _bits(table: Teeth) -> NDArray[Any]:
    """Pack which subsets can be served into words."""
    packed = np.packbits(table < _NONE, axis=1)
    width = packed.shape[1]
    return packed.view(np.uint64) if width % 8 == 0 else packed


def _row_of(standing: CentreOption, goal: GearGoal) -> Floats:
    """Give ln of the ratios a distance offers a gear, ascending."""
    if goal.kept:
        pair = goal.kept[-1]
        stands = standing.stands(pair)
        return np.array([log(pair.driven / pair.driver)] if stands else [])
    return (standing.back if goal.parity == ODD else standing.ahead).log_ratio


def _away(row: Floats, wanted: Floats) -> Floats:
    at = np.searchsorted(row, wanted)
    below, above = np.maximum(at - 1, 0), np.minimum(at, len(row) - 1)
    return np.minimum(np.abs(row[below] - wanted), np.abs(row[above] - wanted))


class _TwinSearch:
    """Holds the best box found so far."""

    def __init__(
        self, asked: _Asked, outputs: dict[tuple[int, int], list[int]], watch: Watch
    ) -> None:
        self.asked, self.outputs, self.watch = asked, outputs, watch
        self.by_size = asked.tolerance is not None
        self.best: _Best | None = None
        self.limit = inf
        self.too_many = False
        self.cases = 0

    def run(self) -> _Best | None:
        """Go through all boxes; without a tolerance with larger limits until one is met.

        Where what is met is far within the limit, again with a limit and a row of u that are as
        fine as that.
        """
        if not self.outputs or not self.asked.standings:
            return None
        if self.asked.tolerance is not None:
            self._pass(log(1 + self.asked.tolerance))
            return self.best
        limit = _FIRST_LIMIT
        while limit < _LAST_LIMIT and not self.too_many:
            done = self._pass(limit)
            if self.best is None:
                limit *= 2
            elif done:
                break
            else:
                limit = max(self.best.error, _LEAST_LIMIT)
        return self.best

    def _pass(self, limit: float) -> bool:
        """Go through all boxes within a limit; False if broken off for a much finer one."""
        self.limit = limit
        asked = self.asked
        low, high = log(asked.low), log(asked.high)
        ends = [
            (low + log(one / wheels[-1]), high + log(other / wheels[0]))
            for (one, other), wheels in self.outputs.items()
        ]
        served = _Served(
            asked, min(e[0] for e in ends), max(e[1] for e in ends), limit, teeth=self.by_size
        )
        rows = self._rows(served, low, high)
        rows.sort()
        for number, (teeth, output) in enumerate(rows):
            so_far = None if self.best is None else self.best.match.found
            self.watch.tick(0.5 + number / len(rows) / 2, so_far)
            if self.too_many or (self.by_size and teeth > self._most):
                break
            self._output(served, output)
            finer = not self.by_size and self.best is not None and limit > _LEAST_LIMIT
            if finer and self.best is not None and self.best.error < limit / 2:
                return False
        return True

    def _rows(self, served: _Served, low: float, high: float) -> list[tuple[int, Output]]:
        """List the output pairs that could do, with the least teeth a box has with them."""
        rows: list[tuple[int, Output]] = []
        known: dict[float, Teeth] = {}
        back = self._least_back()
        for number, ((one, other), wheels) in enumerate(self.outputs.items()):
            if number % 64 == 0:
                self.watch.tick(number / len(self.outputs) / 2)
            apart = log(other / one)
            spans = [served.places(low + log(one / w), high + log(one / w)) for w in wheels]
            if low == high:  # few nodes matter
                nodes = np.concatenate([np.arange(*span) for span in spans])
                bounds = served.bounds(apart, nodes)
                ends = np.cumsum([0, *(last - first for first, last in spans)]).tolist()
                spans = list(pairwise(ends))
            else:
                key = round(apart, 12)
                if key not in known:
                    known[key] = served.bounds(apart)
                bounds = known[key]
            for wheel, (first, last) in zip(wheels, spans, strict=True):
                teeth = int(bounds[first:last].min(initial=int(_NONE)))
                if teeth < _NONE:
                    rows.append((teeth + one + other + wheel + back, (one, other, wheel)))
        return rows

    @property
    def _most(self) -> float:
        """Greatest teeth of a box that could still be better."""
        return inf if self.best is None or not self.by_size else self.best.size[2]

    def _least_back(self) -> int:
        backs = [
            int((s.back.driver + s.back.driven + s.back.idler).min())
            for s in self.asked.standings
            if len(s.back)
        ]
        turned = sum(1 for goal in self.asked.goals if goal.parity == ODD)
        return turned * min(backs, default=0)

    def _output(self, served: _Served, output: Output) -> None:
        """Search the boxes of two output pairs, those with few teeth first."""
        one, other, wheel = output
        low, high = (log(end) + log(one / wheel) for end in (self.asked.low, self.asked.high))
        nodes = np.arange(*served.places(low, high))
        outer = sum(output) + self._least_back()
        most = min(self._most - outer, float(_NONE - 1))
        nodes = nodes[served.bounds(log(other / one), nodes) <= most]
        cases = served.cases(nodes, log(other / one), self._most - outer)
        for (a, b), teeth in sorted(cases.items(), key=lambda case: (case[1], case[0])):
            if teeth + outer > self._most:
                break
            if one == other and (b, a) in cases and b < a:
                continue  # the mirror image
            self._case(a, b, output)

    def _case(self, a: int, b: int, output: Output) -> None:
        asked = self.asked
        ways = tuple(
            _Layshaft(asked.standings[n], GearPair(driver=pinion, driven=output[2]))
            for n, pinion in ((a, output[0]), (b, output[1]))
        )
        limit = self.limit
        if not self.by_size and self.best is not None:
            limit = min(limit, self.best.error)
        rows = [np.sort(np.concatenate([way.row(goal) for way in ways])) for goal in asked.goals]
        if not all(len(row) for row in rows):
            return
        if least_error_bound(rows, low=asked.low, high=asked.high) > limit + ROUNDING:
            return
        self.cases += 1
        if self.cases > _MOST_CASES:
            self.too_many = True
            return
        matched = _searched(asked, ways, output, limit)
        if matched is not None and (
            self.best is None
            or matched.key(by_size=self.by_size) < self.best.key(by_size=self.by_size)
        ):
            self.best = matched


def _searched(
    asked: _Asked, ways: tuple[_Layshaft, ...], output: Output, limit: float
) -> _Best | None:
    lanes = []
    for goal in asked.goals:
        parts = [lane for way in ways if (lane := way.lane(goal)) is not None]
        if not parts:
            return None
        lanes.append(joined_lane(parts))
    matched = _set_of(asked, tuple(lanes), ways, output, limit)
    if isinstance(matched, Impossible):
        return None
    teeth = matched.cost.teeth + sum(output)
    cost = Cost(matched.cost.pairs, matched.cost.gears, teeth)
    error = log(1 + matched.worst_error_percent / 100)
    if error > limit + ROUNDING:
        return None
    match = TwinMatch(
        replace(matched, cost=cost),
        (ways[0].output, ways[1].output),
        (ways[0].standing.tooth_sum, ways[1].standing.tooth_sum),
        tuple(0 if ways[0].holds(gear.train) else 1 for gear in matched.gears),
    )
    return _Best(match, error, (cost.pairs, cost.gears, cost.teeth))


def _set_of(
    asked: _Asked,
    lanes: tuple[CandidateList, ...],
    ways: tuple[_Layshaft, ...],
    output: Output,
    limit: float,
) -> SetMatch | Impossible:
    low, high, tolerance = asked.low, asked.high, asked.tolerance
    if asked.have is None:
        if tolerance is None:
            return best_lanes(lanes, low=low, high=high)
        return smallest_lanes(lanes, low=low, high=high, tolerance=tolerance)
    left = _left(asked.have, output)
    if left is None or isinstance(left, str):
        return Impossible(say("ratios.the-stock-does-not-hold-the-output-pairs"))
    count = used_by(free="driven", any_bore=any(bore == "any" for _, bore in left))

    def own(train: tuple[GearPair, ...]) -> Counter[Part]:
        return count(train[:1])

    def price(train: tuple[GearPair, ...]) -> int:
        return train_cost(train[:1])

    def trains(number: int, position: int) -> list[tuple[GearPair, ...]]:
        train = lanes[number].train(position)
        if lanes[number].goal.kept:
            return [train]
        alike = {
            pair: None
            for way in ways
            if way.holds(train)
            for pair in way.standing.alike(train[0], coupled=True)
        }
        return [(pair, train[1]) for pair in alike]

    within = Fraction(exp(limit) - 1) + Fraction(1, 10**9) if tolerance is None else tolerance
    small = smallest_stocked(
        lanes, trains, own, left, low=low, high=high, tolerance=within, price=price
    )
    if tolerance is not None or isinstance(small, Impossible):
        return small
    return best_stocked(lanes, trains, own, left, low=low, high=high, price=price)
