"""Range × splitter: two small two-shaft boxes in series, m × n speeds from m + n pairs.

With a_i = ln of the splitter's and b_j = ln of the range's ratios every speed is a_i + b_j. Which
speed serves which gear follows their order, so the ways to fill the m × n table are few; for a
given table and given ratios of the smaller box, every ratio of the other is best chosen by itself.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction
from math import exp, inf, log, sqrt

import numpy as np

from mild_badger.core.ratios.lanes import GearGoal, GearMatch, Impossible, SetMatch
from mild_badger.core.ratios.pool import ODD, Cost, Floats, Ints
from mild_badger.core.ratios.shafts import ROUNDING
from mild_badger.core.ratios.standings import Pairs, Standing
from mild_badger.core.ratios.train import train_ratio
from mild_badger.core.targets.speeds import signed_error_percent
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.watch import UNWATCHED, Watch

__all__ = ["MOST_SPEEDS", "RangeMatch", "Speed", "match_ranges", "speeds_of"]

MOST_SPEEDS = 12
"""More forward gears than this are refused: the ways to fill the table grow too many."""
MOST_CASES = 2_000_000
"""Choices of the smaller box looked at for one table; more are refused, not passed over."""


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
    """A set, the two small boxes' pairs, and for each gear its splitter and range, from 0."""

    found: SetMatch
    splitter: tuple[GearPair, ...]
    ranges: tuple[GearPair, ...]
    places: tuple[tuple[int, int], ...]
    tooth_sums: tuple[int, int]


def match_ranges(
    standings: tuple[Standing, ...],
    goals: tuple[GearGoal, ...],
    *,
    low: Fraction,
    high: Fraction,
    tolerance: Fraction | None = None,
    split: tuple[int, int] | None = None,
    watch: Watch = UNWATCHED,
) -> RangeMatch | Impossible:
    """Find the best set of a range × splitter box.

    Parameters
    ----------
    standings
        The distances either small box may have, with their pairs.
    goals
        The gears; odd parity marks reverse, which takes a range pair over an idler.
    low, high
        Bounds of the factor k; both 1 for the absolute fit.
    tolerance
        Where given, the fewest pairs, then gears, then teeth within it; else the least worst error.
    split
        Where given, only so many splitter and range pairs; else every split that has the speeds.

    Returns
    -------
    RangeMatch or Impossible
        Trains list the splitter pair, then the range pair; the cost counts every pair once. A free
        factor is chosen for the forward gears; reverse then takes the nearest it can have.
    """
    forward = [goal for goal in goals if goal.parity != ODD]
    if any(goal.kept for goal in goals):
        return Impossible(
            "In a range × splitter box a gear has no train of its own to keep. Let the kept gears "
            "go, or choose another architecture."
        )
    if not 2 <= len(forward) <= MOST_SPEEDS:
        return Impossible(
            f"A range × splitter box is searched for 2 to {MOST_SPEEDS} forward gears; this "
            f"vehicle has {len(forward)}. Choose another architecture."
        )
    search = _Search(standings, goals, low, high, tolerance)
    splits = [split] if split is not None else _splits(len(forward))
    for number, (m, n) in enumerate(splits):
        if m * n < len(forward):
            return Impossible(f"{m} × {n} pairs make too few speeds for {len(forward)} gears.")
        search.run(m, n, watch, number / len(splits), 1 / len(splits))
    if search.best is not None:
        return search.best
    if search.too_many:
        return Impossible(
            "The kit has so many sizes that a range × splitter box cannot be proven the best. Use "
            "fewer sizes or a smaller greatest centre distance."
        )
    return Impossible(
        "No range × splitter box keeps every gear within the tolerance: its speeds are products, "
        "so its steps repeat. Raise the tolerance, even out the steps, or choose another "
        "architecture."
    )


def _splits(gears: int) -> list[tuple[int, int]]:
    """Every m × n that has the speeds and would not with one pair less, fewest pairs first."""
    found = []
    for m in range(2, gears + 1):
        n = max(-(-gears // m), 2)
        if (m == 2 or (m - 1) * n < gears) and m * n >= gears:
            found.append((m, n))
    if gears < 4:
        found = [(2, 2)]
    return sorted(set(found), key=lambda s: (s[0] + s[1], s))


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


Table = tuple[tuple[int, int], ...]
"""For each forward gear, from the lowest, its row and column."""


def _tables(rows: int, columns: int, logs: Floats, bound: float) -> Iterator[Table]:
    """Fill a table with the gears in order, cell after cell that has nothing lower left of it.

    Cells may be left spare. A rectangle a, b / c, d of gears cannot be met better than
    |a − b − c + d| / 4, so fillings that could not come within the bound are dropped as they grow.
    """
    gears = len(logs)
    seen: set[Table] = set()

    def fits(cells: dict[tuple[int, int], int], new: tuple[int, int]) -> bool:
        i, j = new
        for (p, q), gear in cells.items():
            if p == i or q == j:
                continue
            one, other = cells.get((i, q)), cells.get((p, j))
            if one is not None and other is not None:
                bend = logs[cells[new]] + logs[gear] - logs[one] - logs[other]
                if abs(bend) / 4 > bound:
                    return False
        return True

    def grow(
        filled: tuple[int, ...], cells: dict[tuple[int, int], int], spare: int
    ) -> Iterator[Table]:
        if len(cells) == gears:
            table = tuple(place for place, _ in sorted(cells.items(), key=lambda c: c[1]))
            if table not in seen:
                seen.add(table)
                yield table
            return
        for row in range(rows):
            column = filled[row]
            if column == columns or (row and filled[row - 1] <= column):
                continue
            after = (*filled[:row], column + 1, *filled[row + 1 :])
            with_it = {**cells, (row, column): len(cells)}
            if fits(with_it, (row, column)):
                yield from grow(after, with_it, spare)
            if spare:
                yield from grow(after, cells, spare - 1)

    yield from grow((0,) * rows, {}, rows * columns - gears)


class _Search:
    """Holds the best box found so far while splits and tables are gone through."""

    def __init__(
        self,
        standings: tuple[Standing, ...],
        goals: tuple[GearGoal, ...],
        low: Fraction,
        high: Fraction,
        tolerance: Fraction | None,
    ) -> None:
        self.standings, self.goals, self.tolerance = standings, goals, tolerance
        self.ends = (low, high)
        self.low, self.high = log(low), log(high)
        self.forward = [n for n, goal in enumerate(goals) if goal.parity != ODD]
        self.forward.sort(key=lambda n: -goals[n].target)
        self.backward = [n for n, goal in enumerate(goals) if goal.parity == ODD]
        self.logs = np.array([log(goals[n].target) for n in self.forward])
        self.best: RangeMatch | None = None
        self.key: tuple[float, ...] = (inf,)
        self.too_many = False

    @property
    def bound(self) -> float:
        """Greatest error in ln that is still of interest."""
        if self.tolerance is not None:
            return log(1 + self.tolerance) + ROUNDING
        return inf if self.best is None else log(1 + self.key[0] / 100) + ROUNDING

    def run(self, m: int, n: int, watch: Watch, start: float, share: float) -> None:
        """Go through every table of a split; the smaller box's choices are listed."""
        if self.tolerance is not None and (m + n + len(self.backward),) > self.key[:1]:
            return
        tables = list(_tables(m, n, self.logs, self.bound))
        for number, table in enumerate(tables):
            watch.tick(start + share * number / len(tables), self.best and self.best.found)
            self._table(m, n, table)

    def _table(self, m: int, n: int, table: Table) -> None:
        listed_is_range = n <= m
        count = n if listed_is_range else m
        axis = 1 if listed_is_range else 0
        gaps = _Gaps.of(table, self.logs, axis, count)
        for standing in self.standings:
            chosen = gaps.choices(standing.ahead.log_ratio, self.bound)
            if chosen is None:
                self.too_many = True
                continue
            if not len(chosen):
                continue
            middles, halves = gaps.wanted(standing.ahead.log_ratio[chosen])
            worst = halves.max(axis=1)
            order = np.argsort(worst, kind="stable")
            for other in self.standings:
                if not len(other.ahead):
                    continue
                boxes = (other, standing) if listed_is_range else (standing, other)
                if self.tolerance is not None and self._cost(boxes, m, n) >= self.key[:3]:
                    continue
                case = _Case(table, boxes, axis)
                self._pick(case, chosen[order], middles[order], halves[order])

    def _cost(self, boxes: tuple[Standing, Standing], m: int, n: int) -> tuple[float, ...]:
        """Pairs, gears and teeth that a box of these distances has at the least."""
        pairs = m + n + len(self.backward)
        gears = 2 * pairs + len(self.backward)
        least = [int((box.ahead.driver + box.ahead.driven).min()) for box in boxes]
        return pairs, gears, m * least[0] + n * least[1]

    def _pick(self, case: "_Case", chosen: Ints, middles: Floats, halves: Floats) -> None:
        """Try every choice of the listed box with one distance of the other, the best first."""
        row = case.boxes[1 - case.axis].ahead.log_ratio
        if self.low == self.high:
            near, away = _nearest(row, middles + self.low)
            errors = (away + halves).max(axis=1)
            for hit in np.argsort(errors, kind="stable"):
                if errors[hit] > self.bound:
                    break
                kept = self._take(case, chosen[hit], near[hit], self.low)
                if kept and self.tolerance is not None:
                    break  # the same teeth, and nothing nearer comes
            return
        for place in range(len(chosen)):
            if halves[place].max() > self.bound:
                break
            error, shift = _best_shift(row, middles[place], halves[place], self.low, self.high)
            if error <= self.bound:
                near, _ = _nearest(row, middles[place] + shift)
                kept = self._take(case, chosen[place], near, shift)
                if kept and self.tolerance is not None:
                    break

    def _take(self, case: "_Case", listed: Ints, near: Ints, shift: float) -> bool:
        """Put a box together, with its reverse, and keep it if it is better."""
        picks = (near, listed) if case.axis else (listed, near)
        splitter = [case.boxes[0].ahead.pair(int(n)) for n in picks[0]]
        ranges = [case.boxes[1].ahead.pair(int(n)) for n in picks[1]]
        places: dict[int, tuple[int, int]] = dict(zip(self.forward, case.table, strict=True))
        trains = {gear: (splitter[i], ranges[j]) for gear, (i, j) in places.items()}
        for gear in self.backward:
            wanted = log(self.goals[gear].target) + shift
            back = _reverse(splitter, case.boxes[1].back, wanted)
            if back is None:
                return False
            i, pair = back
            ranges.append(pair)
            places[gear], trains[gear] = (i, len(ranges) - 1), (splitter[i], pair)
        return self._keep((splitter, ranges), places, trains, case)

    def _keep(
        self,
        pairs: tuple[list[GearPair], list[GearPair]],
        places: dict[int, tuple[int, int]],
        trains: dict[int, tuple[GearPair, GearPair]],
        case: "_Case",
    ) -> bool:
        ratios = [train_ratio(trains[n]) for n in range(len(self.goals))]
        xs = [ratio / goal.target for ratio, goal in zip(ratios, self.goals, strict=True)]
        low, high = self.ends
        square = min(max(min(xs) * max(xs), low * low), high * high)
        worst_square = max(max(xs) ** 2 / square, square / min(xs) ** 2)
        worst = 100 * (exp(log(worst_square) / 2) - 1)
        every = (*pairs[0], *pairs[1])
        cost = Cost(
            len(every),
            sum(2 + len(pair.idlers) for pair in every),
            sum(pair.driver + pair.driven + sum(pair.idlers) for pair in every),
        )
        size = (cost.pairs, cost.gears, cost.teeth)
        if self.tolerance is not None:
            if worst_square > (1 + self.tolerance) ** 2:
                return False
            key: tuple[float, ...] = (*size, worst)
        else:
            key = (worst, *size)
        if self.best is not None and key >= self.key:
            return False
        factor = sqrt(square)
        gears = tuple(
            GearMatch(
                goal,
                ratio,
                signed_error_percent(float(ratio), float(goal.target), factor),
                trains[n],
            )
            for n, (goal, ratio) in enumerate(zip(self.goals, ratios, strict=True))
        )
        self.key = key
        self.best = RangeMatch(
            SetMatch(factor, worst, gears, cost),
            tuple(pairs[0]),
            tuple(pairs[1]),
            tuple(places[n] for n in range(len(self.goals))),
            (case.boxes[0].tooth_sum, case.boxes[1].tooth_sum),
        )
        return True


@dataclass(frozen=True)
class _Case:
    """A table, the two distances tried, and which box's choices are listed: 1 is the range's."""

    table: Table
    boxes: tuple[Standing, Standing]
    axis: int


@dataclass(frozen=True)
class _Gaps:
    """A table seen from the listed box: for every line of the other box, the gears on it.

    ``wants`` is (lines, members): the gear's ln target where the line and the listed member cross,
    NaN where the cell is spare.
    """

    wants: Floats

    @classmethod
    def of(cls, table: Table, logs: Floats, axis: int, count: int) -> "_Gaps":
        lines = max(place[1 - axis] for place in table) + 1
        wants = np.full((lines, count), np.nan)
        for gear, place in enumerate(table):
            wants[place[1 - axis], place[axis]] = logs[gear]
        return cls(wants)

    def choices(self, row: Floats, bound: float) -> Ints | None:
        """(choices, members): places in a row whose gaps suit the table within the bound.

        None where there are too many to go through.
        """
        members = self.wants.shape[1]
        found: list[tuple[int, ...]] = [(place,) for place in range(len(row))]
        for member in range(1, members):
            longer = []
            for chosen in found:
                least, most = -inf, inf
                for before, place in enumerate(chosen):
                    gaps = self.wants[:, member] - self.wants[:, before]
                    gaps = gaps[np.isfinite(gaps)]
                    if len(gaps):
                        least = max(least, row[place] + gaps.max() - 2 * bound)
                        most = min(most, row[place] + gaps.min() + 2 * bound)
                first = int(np.searchsorted(row, least - ROUNDING))
                last = int(np.searchsorted(row, most + ROUNDING, side="right"))
                longer += [(*chosen, place) for place in range(first, last)]
                if len(longer) > MOST_CASES:
                    return None
            found = longer
        return np.array(found, dtype=np.int64).reshape(-1, members)

    def wanted(self, ratios: Floats) -> tuple[Floats, Floats]:
        """(choices, lines): what each line's ratio should be, and the error that is left then."""
        left = self.wants[None, :, :] - ratios[:, None, :]
        spare = np.isnan(left)
        most = np.where(spare, -inf, left).max(axis=2)
        least = np.where(spare, inf, left).min(axis=2)
        idle = spare.all(axis=2)  # a line that serves no gear takes whatever there is
        most[idle] = least[idle] = 0.0
        return (most + least) / 2, (most - least) / 2


def _nearest(row: Floats, wanted: Floats) -> tuple[Ints, Floats]:
    at = np.searchsorted(row, wanted)
    below, above = np.maximum(at - 1, 0), np.minimum(at, len(row) - 1)
    nearer = np.where(np.abs(row[below] - wanted) <= np.abs(row[above] - wanted), below, above)
    return nearer.astype(np.int64), np.abs(row[nearer] - wanted)


def _best_shift(
    row: Floats, middles: Floats, halves: Floats, low: float, high: float
) -> tuple[float, float]:
    """Least worst error over a common shift ln k in [low, high], and that shift.

    Each line has its choices x = row − middle, good to within its half: the smallest interval that
    holds an [x − half, x + half] of every line, with its middle in the range.
    """
    ends: list[tuple[float, float]] = []
    for shift in (low, high):
        _, away = _nearest(row, middles + shift)
        ends.append((float((away + halves).max()), shift))
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
    if good.any():
        width = np.where(good, right - left, inf)
        place = int(width.argmin())
        ends.append((float(width[place]) / 2, float(centre[place])))
    return min(ends)


def _reverse(splitter: list[GearPair], back: Pairs, wanted: float) -> tuple[int, GearPair] | None:
    """Choose the splitter pair and the reverse pair that come nearest to a ratio."""
    if not len(back):
        return None
    best: tuple[float, int, int] | None = None
    for i, pair in enumerate(splitter):
        near, away = _nearest(back.log_ratio, np.array([wanted - log(pair.driven / pair.driver)]))
        found = (float(away[0]), i, int(near[0]))
        best = found if best is None else min(best, found)
    return None if best is None else (best[1], back.pair(best[2]))
