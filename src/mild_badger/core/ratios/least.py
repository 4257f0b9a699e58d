"""The set whose worst error is the least possible, exactly.

The smallest interval that holds one x of every gear, with its middle in the range of k
(domain.md §4).
"""

from collections.abc import Iterator, Sequence
from fractions import Fraction
from math import log

import numpy as np

from mild_badger.core.ratios.lanes import (
    SLACK,
    CandidateList,
    SetMatch,
    assembled,
    nearest,
    worst_at,
)
from mild_badger.core.ratios.pool import Floats, Ints
from mild_badger.core.watch import UNWATCHED, Watch

__all__ = ["best_lanes", "least_error_bound"]

_BLOCK = 300_000
"""Points handled at once, so that large lanes need little memory."""


def best_lanes(
    lanes: tuple[CandidateList, ...], *, low: Fraction, high: Fraction, watch: Watch = UNWATCHED
) -> SetMatch:
    """Find the set whose worst error is the least possible with k in [low, high].

    The smallest interval that holds one x of every gear, with its middle in the range, or the best
    at an end of the range (domain.md §4); low = high = 1 is the absolute fit.
    """
    at_ends = [(worst_at(lanes, end), end * end) for end in (low, high)]
    best_square, factor_square = min(at_ends)
    rows = [lane.log_x for lane in lanes]
    blocks = [] if low == high else _blocks(rows, low, high)
    for number, block in enumerate(blocks):
        if best_square == 1:
            break
        watch.tick(number / len(blocks))
        bound = log(best_square) / 2
        for square, middle in _intervals(lanes, low, high, block=block, bound=bound):
            if square < best_square:
                best_square, factor_square = square, middle
            if best_square == 1:
                break
    picks = [nearest(lane, factor_square) for lane in lanes]
    return assembled(lanes, picks, factor_square, best_square)


def least_error_bound(rows: Sequence[Floats], *, low: Fraction, high: Fraction) -> float:
    """Give a quick lower bound of the least worst |x − ln k|, right but for rounding.

    For passing over lanes that cannot win before they are searched exactly; ``rows`` holds every
    lane's x = ln(ratio / target), ascending.
    """
    best = min(max(float(np.abs(row - log(end)).min()) for row in rows) for end in (low, high))
    if low == high:
        return best - SLACK
    for block in _blocks(rows, low, high):
        width, _, _, _ = _windows(rows, low, high, block=block, bound=best)
        best = min(best, float(width.min(initial=2 * best)) / 2)
    return best - SLACK


def _blocks(rows: Sequence[Floats], low: Fraction, high: Fraction) -> list[tuple[float, float]]:
    """Cut the range of ln k into pieces that hold no more points than are handled well at once."""
    first, last = log(low), log(high)
    points = sum(int(np.searchsorted(row, last)) - int(np.searchsorted(row, first)) for row in rows)
    ends = np.linspace(first, last, 2 + points // _BLOCK)
    return list(zip(ends[:-1].tolist(), ends[1:].tolist(), strict=True))


def _intervals(
    lanes: tuple[CandidateList, ...],
    low: Fraction,
    high: Fraction,
    *,
    block: tuple[float, float],
    bound: float,
) -> Iterator[tuple[Fraction, Fraction]]:
    """Yield (x_right/x_left, x_left·x_right) of a block's narrowest intervals, exact, best first.

    For every possible left end, the least right end that takes in one x of every gear; only those
    not wider than twice ``bound`` whose middle lies in the range. Stops once no later one can win.
    """
    rows = [lane.log_x for lane in lanes]
    width, starts, owner, place = _windows(rows, low, high, block=block, bound=bound)
    best = np.inf
    for hit in np.argsort(width, kind="stable"):
        if width[hit] > best + SLACK:
            return
        left = lanes[owner[hit]].x(int(place[hit]))
        intervals = [_least_from(lane, left, float(starts[hit])) for lane in lanes]
        right = max((x for x in intervals if x is not None), default=left)
        if None not in intervals and low * low <= left * right <= high * high:
            best = min(best, log(right / left))
            yield right / left, left * right


def _windows(
    rows: Sequence[Floats],
    low: Fraction,
    high: Fraction,
    *,
    block: tuple[float, float],
    bound: float,
) -> tuple[Floats, Floats, Ints, Ints]:
    """Width, left end, and whose left end it is, of every interval that could be the best one.

    Those with their middle in the block. All points are merged in order; the right end of the
    interval that starts at a point is the last of the lanes' next points from there on.
    """
    first, last = block[0] - bound - 2 * SLACK, block[1] + bound + 2 * SLACK
    parts, owners, places = [], [], []
    for number, row in enumerate(rows):
        here = np.searchsorted(row, first)
        there = np.searchsorted(row, last, side="right")
        parts.append(row[here:there])
        owners.append(np.full(there - here, number))
        places.append(np.arange(here, there))
    points = np.concatenate(parts)
    order = np.argsort(points, kind="stable")
    points, owner, place = points[order], np.concatenate(owners)[order], np.concatenate(places)
    place = place[order]
    count = len(points)
    right = np.zeros(count + 1, dtype=np.int64)
    right[count] = count
    for number in range(len(rows)):
        following = np.where(owner == number, np.arange(count), count)
        following = np.minimum.accumulate(following[::-1])[::-1]
        np.maximum(right[:count], following, out=right[:count])
    ends = np.append(points, np.inf)
    # rounding leaves the right end between these two
    soon = ends[right[np.searchsorted(points, points - SLACK)]]
    late = ends[right[np.searchsorted(points, points + SLACK)]]
    soon = np.maximum(soon, points)
    complete = (late + points) / 2 >= log(low) - SLACK
    complete &= (soon + points) / 2 <= log(high) + SLACK
    width = soon - points
    hits = np.flatnonzero(complete & (width <= 2 * bound + SLACK))
    return width[hits], points[hits], owner[hits], place[hits]


def _least_from(lane: CandidateList, left: Fraction, log_left: float) -> Fraction | None:
    """Least x of a gear that is not below ``left``, decided exactly; None past the last."""
    for position in range(int(np.searchsorted(lane.log_x, log_left - SLACK)), len(lane.log_x)):
        if lane.x(position) >= left:
            return lane.x(position)
    return None
