"""Range × splitter: two small two-shaft boxes in series, m × n speeds from m + n pairs.

For a table of which speed serves which gear, the ratios of the smaller box are listed; for each
choice of them every ratio of the other box stands by itself, but for the common factor, the stock
and reverse. An error is asked for in growing bounds, so that the few near boxes are met first.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from fractions import Fraction
from functools import partial
from math import inf, log

import numpy as np

from mild_badger.core.message import say
from mild_badger.core.ratios.lanes import GearGoal, Impossible, SetMatch
from mild_badger.core.ratios.pool import ODD, Floats, Ints
from mild_badger.core.ratios.range_fill import (
    Asked,
    Boxes,
    Case,
    Fill,
    Filled,
    Kept,
    Order,
    can_supply,
    orders_of,
)
from mild_badger.core.ratios.range_tables import (
    ROUNDING,
    Gaps,
    Table,
    TooMany,
    splits_of,
    tables_of,
)
from mild_badger.core.ratios.standings import CentreOption
from mild_badger.core.ratios.stocked import Have
from mild_badger.core.ratios.train import train_ratio
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.watch import UNWATCHED, Watch

__all__ = ["RangeMatch", "Speed", "match_ranges", "speeds_of"]

_MOST_FILLS = 400_000
"""Choices filled in full; with more the best so far is given, but not as proven."""
_FAR = 100.0
"""More than any two ratios of gears can be apart in ln."""
_FIRST_BOUND = 0.0025
_LAST_BOUND = 3.0
"""Errors in ln asked for first and last; beyond the last there is no bound at all."""


@dataclass(frozen=True)
class Speed:
    """One of the m × n speeds: its pairs by number from 1, its ratio, the gear it serves if any.

    ``near`` says that the next higher speed lies within the tolerance of it.
    """

    splitter: int
    range: int
    ratio: Fraction
    gear: str | None
    near: bool = False


@dataclass(frozen=True)
class RangeMatch:
    """A set, the two small boxes' pairs, and for each gear its splitter and range, from 0.

    ``proven`` is False where there were too many ways to go through them all.
    """

    found: SetMatch
    splitter: tuple[GearPair, ...]
    ranges: tuple[GearPair, ...]
    places: tuple[tuple[int, int], ...]
    tooth_sums: tuple[int, int]
    proven: bool = True


def match_ranges(
    standings: tuple[CentreOption, ...],
    goals: tuple[GearGoal, ...],
    *,
    low: Fraction,
    high: Fraction,
    tolerance: Fraction | None = None,
    split: tuple[int, int] | None = None,
    have: Have | None = None,
    watch: Watch = UNWATCHED,
) -> RangeMatch | Impossible:
    """Find the best set of a range × splitter box.

    Parameters
    ----------
    standings
        The distances either small box may have, with their pairs.
    goals
        The gears; odd parity marks reverse, which takes a range pair over an idler. A kept train
        is a splitter pair and a range pair.
    low, high
        Bounds of the factor k; both 1 for the absolute fit.
    tolerance
        Where given, the fewest pairs, then gears, then teeth within it; else the least worst error.
    split
        Where given, only so many splitter and range pairs; else every split that has the speeds.
    have
        How many gears of each size and bore there are, where the set must keep within that.

    Returns
    -------
    RangeMatch or Impossible
        Trains list the splitter pair, then the range pair; the cost counts every pair once.
    """
    forward = [goal for goal in goals if goal.parity != ODD]
    if len(forward) < 2:
        return Impossible(say("ratios.a-range-splitter-box-takes-at-least-two"))
    splits = [split] if split is not None else splits_of(len(forward))
    for m, n in splits:
        if m * n < len(forward):
            return Impossible(
                say(
                    "ratios.pairs-make-too-few-speeds-for-gears",
                    m=m,
                    n=n,
                    count_of_forward=len(forward),
                )
            )
    search = _RangeSearch(standings, Asked(goals, low, high, tolerance, have))
    best = search.run(splits, watch)
    if best is not None:
        return RangeMatch(
            best.found,
            best.splitter,
            best.ranges,
            best.places,
            (best.boxes.splitter.tooth_sum, best.boxes.range.tooth_sum),
            proven=not search.too_many,
        )
    if search.too_many:
        return Impossible(say("ratios.there-are-so-many-ways-to-build-a-range"))
    stock = say("ratios.within-the-stock") if have is not None else ""
    kept = say("ratios.and-with-the-trains-kept") if any(goal.kept for goal in goals) else ""
    return Impossible(say("ratios.no-range-splitter-box-keeps-every-gear", stock=stock, kept=kept))


def speeds_of(match: RangeMatch, tolerance: float) -> tuple[Speed, ...]:
    """List all speeds of a box from the lowest gear up: the shift order that results.

    Speeds closer together than the tolerance are marked: they are doubled, or nearly so.
    """
    served = {
        place: gear.goal.name
        for gear, place in zip(match.found.gears, match.places, strict=True)
        if gear.goal.parity != ODD
    }
    plain = [(n, pair) for n, pair in enumerate(match.ranges) if not pair.idlers]
    every = [
        Speed(i + 1, j + 1, train_ratio((first, then)), served.get((i, j)))
        for i, first in enumerate(match.splitter)
        for j, then in plain
    ]
    every.sort(key=lambda speed: -speed.ratio)
    marked = []
    for number, speed in enumerate(every):
        following = every[number + 1].ratio if number + 1 < len(every) else None
        near = following is not None and float(speed.ratio / following) <= 1 + tolerance
        marked.append(Speed(speed.splitter, speed.range, speed.ratio, speed.gear, near))
    return tuple(marked)


class _RangeSearch:
    """Holds the best box found so far while splits and tables are gone through."""

    def __init__(self, standings: tuple[CentreOption, ...], asked: Asked) -> None:
        self.standings, self.asked = standings, asked
        self.low, self.high = log(asked.low), log(asked.high)
        self.rows = _Rows(standings)
        self.best: Filled | None = None
        self.supplied: dict[tuple[int, int, int, int], bool] = {}
        self.fills = 0
        self.limit = inf
        self.too_many = False

    @property
    def bound(self) -> float:
        """Greatest error in ln that is still of interest."""
        if self.asked.tolerance is None and self.best is not None:
            return min(self.limit, self.best.error) + ROUNDING
        return self.limit + ROUNDING

    def run(self, splits: list[tuple[int, int]], watch: Watch) -> Filled | None:
        """Go through all splits; without a tolerance again with larger bounds until one is met."""
        tolerance = self.asked.tolerance
        bounds = [log(1 + tolerance)] if tolerance is not None else list(_bounds())
        for step, self.limit in enumerate(bounds):
            self.too_many = False
            for number, (m, n) in enumerate(splits):
                share = 1 / len(splits) / len(bounds)
                start = step / len(bounds) + number * share
                try:
                    self._split(m, n, watch, start, share)
                except TooMany:
                    self.too_many = True
            if self.best is not None:
                return self.best
        return None

    def _split(self, m: int, n: int, watch: Watch, start: float, share: float) -> None:
        if self._hopeless(self.asked.least_cost(m, n)):
            return
        tables = [
            (order, table)
            for order in orders_of(self.asked, self.bound)
            for table in tables_of(m, n, self.asked.logs(order), self.bound)
        ]
        for number, (order, table) in enumerate(tables):
            done = start + share * number / len(tables)
            watch.tick(done, self.best and self.best.found)
            self._table(m, n, order, table, partial(watch.tick, done))

    def _hopeless(self, least: tuple[int, ...]) -> bool:
        """Whether nothing that costs at least so much is of interest."""
        if self.asked.tolerance is None or self.best is None:
            return False
        return least > self.best.cost[: len(least)]

    def _table(self, m: int, n: int, order: Order, table: Table, tick: Callable[[], None]) -> None:
        kept = Kept.of(order, table, self.asked)
        if kept is None:
            return
        listed_is_range = n <= m
        axis = 1 if listed_is_range else 0
        lines, members = (m, n) if listed_is_range else (n, m)
        gaps = Gaps.of(table, self.asked.logs(order), lines=lines, members=members, axis=axis)
        for standing in self.standings:
            tick()
            row = standing.ahead.log_ratio
            only = kept.places(axis, standing)
            beside = self._beside(m, n, standing, axis, kept)
            if only is None or not len(beside):
                continue
            chosen = gaps.choices(row, self.bound, only)
            middles, halves = gaps.wanted(row[chosen])
            for place, number in self._promising(beside, middles, halves):
                other = self.standings[number]
                boxes = Boxes(other, standing) if listed_is_range else Boxes(standing, other)
                hopeless = self._hopeless(self.asked.least_cost(m, n, boxes))
                if not hopeless and self._supplied(boxes, m, n):
                    self.fills += 1
                    if self.fills > _MOST_FILLS:
                        raise TooMany
                    case = Case(order, table, boxes, axis, (m, n), kept, gaps)
                    fill = Fill(self.asked, case, chosen[place], bound=self.bound, best=self.best)
                    self.best = fill.run()

    def _beside(self, m: int, n: int, standing: CentreOption, axis: int, kept: Kept) -> Ints:
        """List by number what the other box's distance may be beside one of the listed box."""
        beside = []
        for number, other in enumerate(self.standings):
            boxes = Boxes(other, standing) if axis else Boxes(standing, other)
            if (
                len(other.ahead)
                and not self._hopeless(self.asked.least_cost(m, n, boxes))
                and kept.places(1 - axis, other) is not None
            ):
                beside.append(number)
        return np.array(beside, dtype=np.int64)

    def _supplied(self, boxes: Boxes, m: int, n: int) -> bool:
        """Whether the stock has the gears for any box at all of such distances."""
        if self.asked.have is None:
            return True
        key = (id(boxes.splitter), id(boxes.range), m, n)
        if key not in self.supplied:
            self.supplied[key] = can_supply(self.asked, boxes, m, n)
        return self.supplied[key]

    def _promising(
        self, beside: Ints, middles: Floats, halves: Floats
    ) -> Iterator[tuple[int, int]]:
        """Yield choices of the listed box with distances of the other that could suit, by number.

        The best first where the factor is given.
        """
        rows = self.rows
        if self.low == self.high:
            errors = rows.errors(beside, middles + self.low, halves)
            for hit in np.argsort(errors, axis=None, kind="stable").tolist():
                place, column = divmod(hit, len(beside))
                if errors[place, column] > self.bound:
                    return
                yield place, int(beside[column])
            return
        for place in np.argsort(halves.max(axis=1), kind="stable").tolist():
            if halves[place].max() > self.bound:
                return
            busy = np.isfinite(halves[place])
            middle, half = middles[place][busy], halves[place][busy]
            for number in rows.near(beside, middle, half, self.bound).tolist():
                row = self.standings[number].ahead.log_ratio
                if _least_error(row, middle, half, self.low, self.high) <= self.bound:
                    yield place, number


class _Rows:
    """The ratios of all distances in one row, those of each far from those of the next."""

    def __init__(self, standings: tuple[CentreOption, ...]) -> None:
        rows = [standing.ahead.log_ratio for standing in standings]
        self.owner = np.repeat(np.arange(len(rows)), [len(row) for row in rows])
        self.ratio = np.concatenate(rows)
        self.placed = self.ratio + _FAR * self.owner

    def _away(self, number: Ints, wanted: Floats) -> Floats:
        """Distance from each wanted to the nearest ratio of a distance."""
        return _away(self.placed, wanted + _FAR * number)

    def errors(self, numbers: Ints, wanted: Floats, halves: Floats) -> Floats:
        """(choices, numbers): worst error of a choice's lines with each distance."""
        away = self._away(numbers[None, :, None], wanted[:, None, :])
        return np.asarray((away + halves[:, None, :]).max(axis=2))

    def near(self, numbers: Ints, middles: Floats, halves: Floats, bound: float) -> Ints:
        """Numbers at which every line has something near enough to one option of the first."""
        use = np.isin(self.owner, numbers)
        owner, first = self.owner[use], self.ratio[use] - middles[0]
        for middle, half in zip(middles[1:], halves[1:], strict=True):
            fits = self._away(owner, first + middle) <= 2 * bound - half - halves[0]
            owner, first = owner[fits], first[fits]
        return np.unique(owner)


def _bounds() -> Iterator[float]:
    bound = _FIRST_BOUND
    while bound < _LAST_BOUND:
        yield bound
        bound *= 2
    yield inf


def _away(row: Floats, wanted: Floats) -> Floats:
    """Distance from each wanted to the nearest of a row."""
    at = np.searchsorted(row, wanted)
    below, above = np.maximum(at - 1, 0), np.minimum(at, len(row) - 1)
    return np.minimum(np.abs(row[below] - wanted), np.abs(row[above] - wanted))


def _least_error(row: Floats, middles: Floats, halves: Floats, low: float, high: float) -> float:
    """Least worst error over a common shift ln k in [low, high].

    Each line has its choices x = row − middle, good to within its half: the smallest interval that
    holds an [x − half, x + half] of every line, with its middle in the range.
    """
    least = min(float((_away(row, middles + shift) + halves).max()) for shift in (low, high))
    starts = row[None, :] - middles[:, None] - halves[:, None]
    left = np.sort(starts.reshape(-1))
    right = np.full(len(left), -inf)
    for line in range(len(middles)):
        at = np.searchsorted(starts[line], left - ROUNDING)
        inside = at < len(row)
        stop = np.where(inside, starts[line][np.minimum(at, len(row) - 1)], inf)
        right = np.maximum(right, stop + 2 * halves[line])
    centre = (left + right) / 2
    good = np.isfinite(right) & (centre >= low) & (centre <= high)
    return min(least, float((right - left)[good].min(initial=inf)) / 2)
