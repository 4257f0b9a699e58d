"""Whole-set matching against a plain search, side by side in one run.

Run by hand: ``.venv/bin/python benchmarks/match.py``. Figures to quote are the ratios.
"""

import statistics
import sys
import time
from collections.abc import Callable
from fractions import Fraction
from itertools import combinations_with_replacement
from math import log, prod

from mild_badger.core.kit.catalogue import shipped_kit
from mild_badger.core.ratios.lanes import GearGoal, SetMatch
from mild_badger.core.ratios.match import best_set, smallest_set
from mild_badger.core.ratios.pool import EVEN, build_pool
from mild_badger.core.ratios.rules import any_rules, slot_rules

TARGETS = ("6.113", "4.027", "2.881", "2.109", "1.563", "1.214", "1.000", "0.782")


def median_seconds(work: Callable[[], object], runs: int = 7) -> float:
    times = []
    for _ in range(runs):
        start = time.perf_counter()
        work()
        times.append(time.perf_counter() - start)
    return statistics.median(times)


def plain_best(sizes: tuple[int, ...], pairs: int, goals: tuple[GearGoal, ...]) -> float:
    """Least worst error in the spacing fit: for every left end, scan every gear's whole pool."""
    ratios = set()
    for number in range(1, pairs + 1):
        groups = list(combinations_with_replacement(sizes, number))
        ratios |= {Fraction(prod(b), prod(a)) for a in groups for b in groups}
    rows = [sorted(log(r / goal.target) for r in ratios) for goal in goals]
    low, high = log(0.5), log(2)
    best = float("inf")
    for row in rows:
        for left in row:
            right = max(
                min((x for x in other if x >= left), default=float("inf")) for other in rows
            )
            if low <= (left + right) / 2 <= high:
                best = min(best, (right - left) / 2)
    return best


def main() -> None:
    kit = shipped_kit("brick-grid")
    goals = tuple(GearGoal(str(n), Fraction(t), EVEN) for n, t in enumerate(TARGETS))
    half, two = Fraction(1, 2), Fraction(2)
    start = time.perf_counter()
    pool = build_pool(any_rules(kit.sizes, 3))
    build_pool(slot_rules(kit, 3))
    built = time.perf_counter() - start
    match = median_seconds(lambda: best_set(pool, goals, low=half, high=two))
    small = median_seconds(
        lambda: smallest_set(pool, goals, low=half, high=two, tolerance=Fraction(3, 100))
    )
    print(f"pools of 3 pairs, built once: {1000 * built:.0f} ms")
    print(f"8 targets, 3 pairs, spacing, least worst error: {1000 * match:.1f} ms (limit 100 ms)")
    print(f"8 targets, 3 pairs, spacing, fewest within 3 %: {1000 * small:.1f} ms (limit 100 ms)")
    two_pairs = build_pool(any_rules(kit.sizes, 2))
    mine = median_seconds(lambda: best_set(two_pairs, goals, low=half, high=two))
    found = best_set(two_pairs, goals, low=half, high=two)
    start = time.perf_counter()
    plain = plain_best(kit.sizes, 2, goals)
    baseline = time.perf_counter() - start
    if (
        not isinstance(found, SetMatch)
        or abs(log(1 + found.worst_error_percent / 100) - plain) > 1e-9
    ):
        sys.exit("the two searches disagree")
    print(f"2 pairs: plain search / ours = {baseline / mine:.0f} (same optimum)")


if __name__ == "__main__":
    main()
