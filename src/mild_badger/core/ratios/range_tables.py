"""Which speed of a range × splitter box serves which gear: the m × n table, and its gaps.

With a_i = ln of the splitter's and b_j = ln of the range's ratios every speed is a_i + b_j, so
the ways to fill the table in order are few, fewer still within an error.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from math import inf

import numpy as np

from mild_badger.core.ratios.pool import Floats, Ints

__all__ = ["Gaps", "Table", "TooMany", "splits_of", "tables_of"]

ROUNDING = 1e-9
MOST_CASES = 2_000_000
"""Choices of the smaller box looked at for one table; more are refused, not passed over."""
MOST_STEPS = 1_000_000
"""Steps in filling the tables of one split; more are refused, not passed over."""

Table = tuple[tuple[int, int], ...]
"""For each forward gear, from the lowest, its row and column."""


class TooMany(Exception):  # noqa: N818 - caught by the search, which then says so
    """Raised where there are more cases than can be gone through."""


def splits_of(gears: int) -> list[tuple[int, int]]:
    """List every m × n that has the speeds and would not with one pair less, fewest pairs first."""
    splits = []
    for m in range(2, gears + 1):
        n = max(-(-gears // m), 2)
        if (m == 2 or (m - 1) * n < gears) and m * n >= gears:
            splits.append((m, n))
    if gears < 4:
        splits = [(2, 2)]
    return sorted(set(splits), key=lambda s: (s[0] + s[1], s))


def tables_of(rows: int, columns: int, logs: Floats, bound: float) -> Iterator[Table]:
    """Fill a table with the gears in order, cell after cell that has nothing lower left of it.

    Cells may be left spare. A rectangle a, b / c, d of gears cannot be met better than
    |a − b − c + d| / 4, so fillings that could not come within the bound are dropped as they grow.

    Raises
    ------
    TooMany
        The bound leaves too many ways.
    """
    gears = len(logs)
    seen: set[Table] = set()
    steps = 0

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
        nonlocal steps
        steps += 1
        if steps > MOST_STEPS:
            raise TooMany
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


@dataclass(frozen=True)
class Gaps:
    """A table seen from the listed box: for every line of the other box, the gears on it.

    ``wants`` is (lines, members): the gear's ln target where the line and the listed member cross,
    NaN where the cell is spare.
    """

    wants: Floats

    @classmethod
    def of(cls, table: Table, logs: Floats, *, lines: int, members: int, axis: int) -> "Gaps":
        """Lay out a table; ``axis`` is 1 where the listed box is the range, whose are columns."""
        wants = np.full((lines, members), np.nan)
        for gear, place in enumerate(table):
            wants[place[1 - axis], place[axis]] = logs[gear]
        return cls(wants)

    def choices(self, row: Floats, bound: float, only: Mapping[int, int]) -> Ints:
        """(choices, members): places in a row whose gaps suit the table within the bound.

        ``only`` fixes members to places.

        Raises
        ------
        TooMany
            There are too many to go through.
        """
        members = self.wants.shape[1]
        choices: list[tuple[int, ...]] = [()]
        for member in range(members):
            longer = []
            for chosen in choices:
                least, most = -inf, inf
                for before, place in enumerate(chosen):
                    gaps = self.wants[:, member] - self.wants[:, before]
                    gaps = gaps[np.isfinite(gaps)]
                    if len(gaps):
                        least = max(least, row[place] + gaps.max() - 2 * bound)
                        most = min(most, row[place] + gaps.min() + 2 * bound)
                first = int(np.searchsorted(row, least - ROUNDING))
                last = int(np.searchsorted(row, most + ROUNDING, side="right"))
                if member in only:
                    first, last = max(first, only[member]), min(last, only[member] + 1)
                longer += [(*chosen, place) for place in range(first, last)]
                if len(longer) > MOST_CASES:
                    raise TooMany
            choices = longer
        return np.array(choices, dtype=np.int64).reshape(-1, members)

    def wanted(self, ratios: Floats) -> tuple[Floats, Floats]:
        """(choices, lines): what each line's ratio should be, and the error that is left then.

        A line that serves no gear has an error of −inf: it takes whatever there is.
        """
        left = self.wants[None, :, :] - ratios[:, None, :]
        spare = np.isnan(left)
        most = np.where(spare, -inf, left).max(axis=2)
        least = np.where(spare, inf, left).min(axis=2)
        idle = spare.all(axis=2)
        most[idle] = least[idle] = 0.0
        half = (most - least) / 2
        half[idle] = -inf
        return (most + least) / 2, half
