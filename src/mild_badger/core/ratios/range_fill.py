"""Fills a range × splitter box whose smaller half is chosen: the other half, reverse, the stock.

Goes through what is left, nearest or smallest first, and turns back as soon as nothing better than
the best box can come; so what it keeps is the best there is for the choice.
"""

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, field
from fractions import Fraction
from functools import lru_cache
from math import exp, inf, log, sqrt

import numpy as np

from mild_badger.core.ratios.lanes import GearGoal, GearMatch, SetMatch
from mild_badger.core.ratios.pool import ODD, Cost, Floats, Ints
from mild_badger.core.ratios.range_tables import ROUNDING, Gaps, Table
from mild_badger.core.ratios.standings import CentreOption, Pairs
from mild_badger.core.ratios.stocked import Have, Part, Usage, used_by
from mild_badger.core.ratios.train import train_ratio
from mild_badger.core.targets.speeds import signed_error_percent
from mild_badger.core.vehicle.box import GearPair

__all__ = ["Asked", "Boxes", "Case", "Fill", "Filled", "Kept", "Order", "can_supply", "orders_of"]

_MOST_STEPS = 20_000

Order = tuple[int, ...]
"""The forward gears by number, in the order of their speeds, from the lowest gear."""


@dataclass(frozen=True)
class Boxes:
    """The distances of the two small boxes."""

    splitter: CentreOption
    range: CentreOption

    def of(self, axis: int) -> CentreOption:
        """Give one of them; 1 is the range's."""
        return self.range if axis else self.splitter


@dataclass(frozen=True)
class Asked:
    """What is asked of a box; its gears by number, forward ones from the lowest."""

    goals: tuple[GearGoal, ...]
    low: Fraction
    high: Fraction
    tolerance: Fraction | None
    have: Have | None
    forward: tuple[int, ...] = field(init=False)
    backward: tuple[int, ...] = field(init=False)

    def __post_init__(self) -> None:
        ahead = [n for n, goal in enumerate(self.goals) if goal.parity != ODD]
        ahead.sort(key=lambda n: -self.goals[n].target)
        back = tuple(n for n, goal in enumerate(self.goals) if goal.parity == ODD)
        object.__setattr__(self, "forward", tuple(ahead))
        object.__setattr__(self, "backward", back)

    def logs(self, order: Order) -> Floats:
        """Give ln of the targets of gears."""
        return np.array([log(self.goals[n].target) for n in order])

    def least_cost(self, m: int, n: int, boxes: Boxes | None = None) -> tuple[int, ...]:
        """Pairs and gears that a box has at the least; with its distances its teeth as well."""
        turned = -(-len(self.backward) // m)
        pairs = m + n + turned
        if boxes is None:
            return pairs, 2 * pairs + turned
        one, other = (_least_teeth(box.ahead) for box in (boxes.splitter, boxes.range))
        back = _least_teeth(boxes.range.back) if turned else 0
        return pairs, 2 * pairs + turned, m * one + n * other + turned * back


def orders_of(asked: Asked, bound: float) -> Iterator[Order]:
    """List the orders that the speeds of the forward gears may have within an error.

    That of the targets; but a kept gear's speed is given, and may lie on the other side of a
    neighbour whose target is near.
    """
    logs = dict(zip(asked.forward, asked.logs(asked.forward).tolist(), strict=True))

    def grow(taken: Order) -> Iterator[Order]:
        rest = [n for n in asked.forward if n not in taken]
        if not rest:
            yield taken
            return
        plain = [n for n in rest if not asked.goals[n].kept][:1]
        for n in (*plain, *(n for n in rest if asked.goals[n].kept)):
            if logs[n] >= logs[rest[0]] - 2 * bound:
                yield from grow((*taken, n))

    yield from grow(())


def can_supply(asked: Asked, boxes: Boxes, m: int, n: int) -> bool:
    """Tell whether what there is makes any box at all, reverse left out of account.

    True too where that takes long to tell.
    """
    if asked.have is None:
        return True
    left = Counter(dict(asked.have))
    usage = _usage(asked.have)
    rows = []
    for standing, pairs, count in (
        (boxes.splitter, boxes.splitter.ahead, m),
        (boxes.range, boxes.range.ahead, n),
    ):
        ways = [usage((pair,)) for one in pairs.every() for pair in _alike(standing, one)]
        rows += [(ways, count)]
    steps = 0

    def give(row: int, given: int, first: int) -> bool:
        nonlocal steps
        steps += 1
        if row == len(rows) or steps > _MOST_STEPS:
            return True
        ways, count = rows[row]
        if given == count:
            return give(row + 1, 0, 0)
        for place in range(first, len(ways)):
            with _Using(left, ways[place]) as there:
                if there and give(row, given + 1, place):
                    return True
        return False

    return give(0, 0, 0)


def _usage(have: Have) -> Usage:
    return used_by(free="driven", any_bore=any(bore == "any" for _, bore in have))


def _least_teeth(pairs: Pairs) -> int:
    return int((pairs.driver + pairs.driven + pairs.idler).min(initial=1 << 40))


@dataclass(frozen=True)
class Kept:
    """The pairs that kept gears fix in a table, for the splitter's rows and the range's columns."""

    pairs: tuple[dict[int, GearPair], dict[int, GearPair]]

    @classmethod
    def of(cls, order: Order, table: Table, asked: Asked) -> "Kept | None":
        """Find them; None where two kept gears would share a pair and do not."""
        fixed: tuple[dict[int, GearPair], dict[int, GearPair]] = ({}, {})
        for gear, place in zip(order, table, strict=True):
            train = asked.goals[gear].kept
            for axis in (0, 1) if train else ():
                if fixed[axis].setdefault(place[axis], train[axis]) != train[axis]:
                    return None
        return cls(fixed)

    def places(self, axis: int, standing: CentreOption) -> dict[int, int] | None:
        """Give the places in a standing's row of its fixed pairs; None if one does not stand."""
        place_of = {}
        for member, pair in self.pairs[axis].items():
            place = _place(standing, pair)
            if place is None:
                return None
            place_of[member] = place
        return place_of


def _place(standing: CentreOption, pair: GearPair) -> int | None:
    if pair not in _alike(standing, pair):
        return None
    row = standing.ahead.log_ratio
    near = np.flatnonzero(np.abs(row - log(pair.driven / pair.driver)) < ROUNDING)
    return int(near[0]) if len(near) else None


@lru_cache(maxsize=1 << 16)
def _alike(standing: CentreOption, pair: GearPair) -> tuple[GearPair, ...]:
    alike = standing.alike(pair, coupled=True)
    return tuple(sorted(alike, key=lambda p: p.driver + p.driven + sum(p.idlers)))


@dataclass(frozen=True)
class Case:
    """A table, the two distances, which box's choices are listed (1: the range), m × n."""

    order: Order
    table: Table
    boxes: Boxes
    axis: int
    split: tuple[int, int]
    kept: Kept
    gaps: Gaps


@dataclass(frozen=True)
class Filled:
    """A whole box; ``error`` is the worst as a logarithm, ``cost`` pairs, gears and teeth."""

    found: SetMatch
    splitter: tuple[GearPair, ...]
    ranges: tuple[GearPair, ...]
    places: tuple[tuple[int, int], ...]
    boxes: Boxes
    error: float
    cost: tuple[int, ...]

    def key(self, by_size: bool) -> tuple[float, ...]:
        """Give what makes one box better than another: the less the better."""
        return (*self.cost, self.error) if by_size else (self.error, *self.cost)


@dataclass(frozen=True)
class _Span:
    """From the least to the greatest x = ln(ratio / target) of the gears so far."""

    least: float = inf
    most: float = -inf

    def with_(self, starts: Floats, ends: Floats) -> tuple[Floats, Floats]:
        return np.minimum(starts, self.least), np.maximum(ends, self.most)


@dataclass(frozen=True)
class _Line:
    """One pair to be chosen: its box, its number there, its options' x and what they are."""

    axis: int
    number: int
    starts: Floats
    ends: Floats
    options: tuple[tuple[GearPair, ...], ...]
    least: int


class Fill:
    """Completes one choice of the listed box."""

    def __init__(
        self, asked: Asked, case: Case, listed: Ints, *, bound: float, best: Filled | None
    ) -> None:
        self.asked, self.case, self.best = asked, case, best
        self.start = bound
        self.low, self.high = log(asked.low), log(asked.high)
        self.by_size = asked.tolerance is not None
        have = asked.have
        self.left: Counter[Part] | None = None if have is None else Counter(dict(have))
        self.usage = _usage(have or {})
        lines = list(self._lines(listed))
        self.lines = sorted(lines, key=lambda line: len(line.options))
        teeth = [line.least for line in self.lines]
        self.rest = [sum(teeth[n:]) for n in range(len(teeth) + 1)]

    def run(self) -> Filled | None:
        """Give the better of the best so far and the best completion."""
        self._choose(0, _Span(), 0, {})
        return self.best

    @property
    def bound(self) -> float:
        """Greatest error in ln that is still of interest."""
        if self.by_size or self.best is None:
            return self.start
        return min(self.start, self.best.error + ROUNDING)

    def _lines(self, listed: Ints) -> Iterator[_Line]:
        case = self.case
        standing = case.boxes.of(case.axis)
        for member, place in enumerate(listed.tolist()):
            one = (self._pairs(case.axis, member, standing.ahead, place),)
            free = np.array([inf]), np.array([-inf])
            yield _Line(case.axis, member, *free, one, _least(one))
        other = case.boxes.of(1 - case.axis)
        row = other.ahead.log_ratio
        left = case.gaps.wants - standing.ahead.log_ratio[listed][None, :]
        only = case.kept.places(1 - case.axis, other) or {}
        for number, wanted in enumerate(left):
            busy = wanted[np.isfinite(wanted)]
            starts, ends = row - busy.max(initial=-inf), row - busy.min(initial=inf)
            inside = np.flatnonzero(self._error(starts, ends) <= self.start)
            if number in only:
                inside = inside[inside == only[number]]
            places = inside.tolist()
            options = tuple(self._pairs(1 - case.axis, number, other.ahead, p) for p in places)
            yield _Line(
                1 - case.axis, number, starts[inside], ends[inside], options, _least(options)
            )

    def _pairs(self, axis: int, number: int, pairs: Pairs, place: int) -> tuple[GearPair, ...]:
        """Give the pairs that may stand for a place of a row: the stock may want another."""
        fixed = self.case.kept.pairs[axis].get(number)
        if fixed is not None:
            return (fixed,)
        one = pairs.pair(place)
        return (one,) if self.left is None else _alike(self.case.boxes.of(axis), one)

    def _error(self, least: Floats, most: Floats) -> Floats:
        """Worst error of a span with the best factor of the range; 0 for no span at all."""
        with np.errstate(invalid="ignore"):
            middle = np.clip((least + most) / 2, self.low, self.high)
            return np.where(least > most, 0.0, np.maximum(most - middle, middle - least))

    def _error_of(self, span: _Span) -> float:
        return float(self._error(np.array(span.least), np.array(span.most)))

    def _worse(self, error: float, cost: tuple[int, ...]) -> bool:
        """Whether what has come to so much cannot be better than the best."""
        if error > self.bound:
            return True
        if self.best is None:
            return False
        near = round(error, 10)
        mine = (*cost, near) if self.by_size else (near, *cost)
        known = round(self.best.error, 10)
        best = (*self.best.cost, known) if self.by_size else (known, *self.best.cost)
        return mine >= best

    def _choose(
        self, number: int, span: _Span, teeth: int, taken: dict[tuple[int, int], GearPair]
    ) -> None:
        if number == len(self.lines):
            self._turn_back(0, span, taken, [])
            return
        line = self.lines[number]
        least, most = span.with_(line.starts, line.ends)
        errors = self._error(least, most)
        base = self.asked.least_cost(*self.case.split)
        for place in np.argsort(errors, kind="stable").tolist():
            for pair in line.options[place]:
                own = teeth + pair.driver + pair.driven
                if self._worse(float(errors[place]), (*base, own + self.rest[number + 1])):
                    break
                with self._using(pair) as there:
                    if there:
                        after = _Span(float(least[place]), float(most[place]))
                        key = (line.axis, line.number)
                        self._choose(number + 1, after, own, {**taken, key: pair})

    def _using(self, pair: GearPair) -> "_Using":
        return _Using(self.left, self.usage((pair,)) if self.left is not None else Counter())

    def _turn_back(
        self,
        number: int,
        span: _Span,
        taken: dict[tuple[int, int], GearPair],
        turned: list[tuple[int, GearPair]],
    ) -> None:
        """Give the reverse gears their splitter and range pairs; ``turned`` holds those so far."""
        if number == len(self.asked.backward):
            self._keep(taken, turned)
            return
        last = number + 1 == len(self.asked.backward)
        before = self.best
        way = -1
        for hit, place, pair, after in self._ways_back(number, span, taken, turned):
            first, way = hit != way, hit  # of the pairs that may stand for a way, the smallest
            shared = any(pair == other for _, other in turned)
            if self._worse(self._error_of(after), _cost_of(taken, [*turned, (place, pair)])):
                if first:
                    return  # what follows is no better
                continue
            with self._using(pair) if not shared else _Using(None, Counter()) as there:
                if there:
                    self._turn_back(number + 1, after, taken, [*turned, (place, pair)])
            if last and self.left is None and self.best is not before:
                return

    def _ways_back(
        self,
        number: int,
        span: _Span,
        taken: dict[tuple[int, int], GearPair],
        turned: list[tuple[int, GearPair]],
    ) -> Iterator[tuple[int, int, GearPair, _Span]]:
        """List the ways to a reverse gear, the best first; a pair there already costs nothing.

        Each with its number, as several pairs may stand for one.
        """
        goal = self.asked.goals[self.asked.backward[number]]
        back = self.case.boxes.range.back
        places: list[Ints] = []
        which: list[list[GearPair] | range] = []
        starts: list[Floats] = []
        costs: list[Ints] = []
        for i in range(self.case.split[0]):
            first = taken[0, i]
            if goal.kept and first != goal.kept[0]:
                continue
            ahead = log(first.driven / first.driver) - log(goal.target)
            used = {pair for place, pair in turned if place == i}
            for pair in {pair for _, pair in turned} - used:
                starts.append(np.array([log(pair.driven / pair.driver) + ahead]))
                places.append(np.array([i]))
                which.append([pair])
                costs.append(np.array([0]))
            starts.append(back.log_ratio + ahead)
            places.append(np.full(len(back), i))
            which.append(range(len(back)))
            costs.append(back.cost)
        if not starts:
            return
        xs, cost = np.concatenate(starts), np.concatenate(costs)
        splitter = np.concatenate(places)
        options = [option for part in which for option in part]
        least, most = span.with_(xs, xs)
        errors = self._error(least, most)
        near = np.flatnonzero(errors <= self.bound)
        error = np.round(errors[near], 10)
        order = np.lexsort((error, cost[near]) if self.by_size else (cost[near], error))
        for hit in near[order].tolist():
            option = options[hit]
            after = _Span(float(least[hit]), float(most[hit]))
            for pair in self._reversed(option, back, goal):
                yield hit, int(splitter[hit]), pair, after

    def _reversed(
        self, option: "int | GearPair", back: Pairs, goal: GearGoal
    ) -> tuple[GearPair, ...]:
        pair = option if isinstance(option, GearPair) else back.pair(option)
        if not goal.kept:
            if self.left is None or isinstance(option, GearPair):
                return (pair,)
            return _alike(self.case.boxes.range, pair)
        kept = goal.kept[-1]
        stands = kept in _alike(self.case.boxes.range, pair)
        return (kept,) if kept == pair or stands else ()

    def _keep(
        self, taken: dict[tuple[int, int], GearPair], turned: list[tuple[int, GearPair]]
    ) -> None:
        m, n = self.case.split
        splitter = tuple(taken[0, i] for i in range(m))
        ranges = [taken[1, j] for j in range(n)]
        places = dict(zip(self.case.order, self.case.table, strict=True))
        for gear, (i, pair) in zip(self.asked.backward, turned, strict=True):
            if pair not in ranges[n:]:
                ranges.append(pair)
            places[gear] = (i, n + ranges[n:].index(pair))
        every = [places[gear] for gear in range(len(self.asked.goals))]
        trains = [(splitter[i], ranges[j]) for i, j in every]
        matched = _set_of(self.asked, trains, (*splitter, *ranges))
        if matched is None:
            return
        cost = matched.cost
        filled = Filled(
            matched,
            splitter,
            tuple(ranges),
            tuple(every),
            self.case.boxes,
            log(1 + matched.worst_error_percent / 100),
            (cost.pairs, cost.gears, cost.teeth),
        )
        if self.best is None or filled.key(self.by_size) < self.best.key(self.by_size):
            self.best = filled


def _cost_of(
    taken: dict[tuple[int, int], GearPair], turned: list[tuple[int, GearPair]]
) -> tuple[int, int, int]:
    """Count pairs, gears and teeth; a reverse pair that two gears share counts once."""
    return _size((*taken.values(), *{pair for _, pair in turned}))


def _size(every: tuple[GearPair, ...]) -> tuple[int, int, int]:
    return (
        len(every),
        sum(2 + len(pair.idlers) for pair in every),
        sum(pair.driver + pair.driven + sum(pair.idlers) for pair in every),
    )


def _least(options: tuple[tuple[GearPair, ...], ...]) -> int:
    return min((p.driver + p.driven for pairs in options for p in pairs), default=0)


class _Using:
    """Takes parts from what is left for as long as it is entered, if they are there."""

    def __init__(self, left: Counter[Part] | None, used: Counter[Part]) -> None:
        self.left, self.used = left, used
        self.there = False

    def __enter__(self) -> bool:
        left = self.left
        self.there = left is None or all(
            part not in left or left[part] >= count for part, count in self.used.items()
        )
        if self.there and left is not None:
            for part, count in self.used.items():
                if part in left:
                    left[part] -= count
        return self.there

    def __exit__(self, *_: object) -> None:
        if self.there and self.left is not None:
            for part, count in self.used.items():
                if part in self.left:
                    self.left[part] += count


def _set_of(
    asked: Asked, trains: list[tuple[GearPair, GearPair]], every: tuple[GearPair, ...]
) -> SetMatch | None:
    """Judge a box exactly; None where it does not keep the tolerance."""
    ratios = [train_ratio(train) for train in trains]
    xs = [ratio / goal.target for ratio, goal in zip(ratios, asked.goals, strict=True)]
    low, high = asked.low, asked.high
    square = min(max(min(xs) * max(xs), low * low), high * high)
    worst_square = max(max(xs) ** 2 / square, square / min(xs) ** 2)
    if asked.tolerance is not None and worst_square > (1 + asked.tolerance) ** 2:
        return None
    factor = sqrt(square)
    gears = tuple(
        GearMatch(
            goal, ratio, signed_error_percent(float(ratio), float(goal.target), factor), train
        )
        for goal, ratio, train in zip(asked.goals, ratios, trains, strict=True)
    )
    cost = Cost(*_size(every))
    return SetMatch(factor, 100 * (exp(log(worst_square) / 2) - 1), gears, cost)
