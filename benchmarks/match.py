"""Whole-set matching against a plain search and against CP-SAT, side by side in one run.

Run by hand: ``.venv/bin/python benchmarks/match.py``. Figures to quote are the ratios. All three
get the same deduplicated pool, the same objective (least worst error in the spacing fit, the
factor from 1/2 to 2) and have to prove it; the baselines run at a size that they finish.
"""

import statistics
import subprocess
import sys
import time
from collections.abc import Callable
from fractions import Fraction
from itertools import product
from math import log

from ortools.sat.python import cp_model

from mild_badger.core.kit.catalogue import shipped_kit
from mild_badger.core.ratios.deep import best_deep, build_deep, is_deep
from mild_badger.core.ratios.lanes import GearGoal, SetMatch
from mild_badger.core.ratios.match import best_set, smallest_set
from mild_badger.core.ratios.pool import EVEN, RatioTable, build_pool, make_pool
from mild_badger.core.ratios.rules import any_rules, slot_rules

TARGETS = ("6.113", "4.027", "2.881", "2.109", "1.563", "1.214", "1.000", "0.782")
HALF, TWO = Fraction(1, 2), Fraction(2)
SCALE = 10**8
"""CP-SAT counts in whole numbers: hundredths of a millionth of ln."""


def goals_of(count: int) -> tuple[GearGoal, ...]:
    return tuple(GearGoal(str(n), Fraction(t), EVEN) for n, t in enumerate(TARGETS[:count]))


def seconds(work: Callable[[], object], runs: int = 5) -> float:
    times = []
    for _ in range(runs):
        start = time.perf_counter()
        work()
        times.append(time.perf_counter() - start)
    return statistics.median(times)


def plain_best(pool: RatioTable, goals: tuple[GearGoal, ...]) -> float:
    """For every left end, scan every gear's whole pool for the next x (plain itertools)."""
    rows = [[float(x) - log(goal.target) for x in pool.log_ratio] for goal in goals]
    low, high = log(HALF), log(TWO)
    best = float("inf")
    for left in (x for row in rows for x in row):
        if left > high:
            continue
        right = max(min((x for x in row if x >= left), default=float("inf")) for row in rows)
        if low <= (left + right) / 2 <= high:
            best = min(best, (right - left) / 2)
    return best


def cp_sat_best(pool: RatioTable, goals: tuple[GearGoal, ...]) -> float:
    """Choose one ratio a gear; minimise the width of the interval that holds all x."""
    model = cp_model.CpModel()
    low, high = round(log(HALF) * SCALE), round(log(TWO) * SCALE)
    reach = 40 * SCALE
    least, most = (model.new_int_var(-reach, reach, name) for name in ("least", "most"))
    for number, goal in enumerate(goals):
        xs = [round((float(x) - log(goal.target)) * SCALE) for x in pool.log_ratio]
        chosen = model.new_int_var_from_domain(cp_model.Domain.FromValues(xs), f"x{number}")
        model.add(least <= chosen)
        model.add(most >= chosen)
    model.add(least + most >= 2 * low)
    model.add(least + most <= 2 * high)
    model.minimize(most - least)
    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 2
    status = solver.solve(model)
    if status != cp_model.OPTIMAL:
        sys.exit("CP-SAT has not proven its optimum")
    return float(solver.objective_value) / SCALE / 2


def against_baselines(sizes: tuple[int, ...], gears: int) -> None:
    pool = build_pool(any_rules(sizes, 2), cheapest_only=True)
    goals = goals_of(gears)
    found = best_set(pool, goals, low=HALF, high=TWO)
    if not isinstance(found, SetMatch):
        sys.exit("nothing found")
    ours = seconds(lambda: best_set(pool, goals, low=HALF, high=TWO))
    start = time.perf_counter()
    plain = plain_best(pool, goals)
    plainly = time.perf_counter() - start
    start = time.perf_counter()
    solved = cp_sat_best(pool, goals)
    solving = time.perf_counter() - start
    mine = log(1 + found.worst_error_percent / 100)
    if abs(mine - plain) > 1e-9 or abs(mine - solved) > 4 / SCALE:
        sys.exit(f"the searches disagree: {mine} {plain} {solved}")
    print(
        f"wood {sizes[0]}–{sizes[-1]} teeth ({len(pool.log_ratio):,} ratios), {gears} targets, 2 "
        f"pairs, spacing: plain / ours = {plainly / ours:,.0f}, CP-SAT / ours = "
        f"{solving / ours:,.0f} (same optimum)"
    )


def growth() -> None:
    print("time of the least worst error, spacing fit, in ms (pool built before, and its building)")
    for last, pairs, gears in product((20, 40, 80), (1, 2, 3), (2, 4, 8)):
        rules = any_rules(tuple(range(8, last + 1)), pairs)
        goals = goals_of(gears)
        start = time.perf_counter()
        if is_deep(rules):
            deep = build_deep(rules)
            built = time.perf_counter() - start
            spent = seconds(lambda: best_deep(deep, goals, low=HALF, high=TWO), 3)  # noqa: B023
            kind = "met in the middle"
        else:
            pool = make_pool(rules, cheapest_only=True)
            built = time.perf_counter() - start
            spent = seconds(lambda: best_set(pool, goals, low=HALF, high=TWO), 3)  # noqa: B023
            kind = f"{len(pool.log_ratio):,} ratios"
        print(
            f"  8–{last} teeth, {pairs} pair{'s' * (pairs > 1)}, {gears} gears: "
            f"{1000 * spent:8.1f}  (+ {1000 * built:.0f}; {kind})"
        )


MEMORY = """
import resource
from fractions import Fraction
from benchmarks.match import goals_of
from mild_badger.core.ratios.match import best_set
from mild_badger.core.ratios.pool import build_pool
from mild_badger.core.ratios.rules import any_rules
before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
pool = build_pool(any_rules(tuple(range(8, 81)), 2), cheapest_only=True)
best_set(pool, goals_of(8), low=Fraction(1, 2), high=Fraction(2))
peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
print(f"wood 8–80 teeth, 8 targets, 2 pairs, pool and search: peak {peak / 1024:.0f} MB "
      f"({before / 1024:.0f} MB before; limit 500)")
"""


def bricks() -> None:
    kit = shipped_kit("brick-grid")
    goals = goals_of(8)
    start = time.perf_counter()
    pool = build_pool(any_rules(kit.sizes, 3))
    build_pool(slot_rules(kit, 3))
    built = time.perf_counter() - start
    match = seconds(lambda: best_set(pool, goals, low=HALF, high=TWO))
    small = seconds(
        lambda: smallest_set(pool, goals, low=HALF, high=TWO, tolerance=Fraction(3, 100))
    )
    print(f"brick pools of 3 pairs, built once: {1000 * built:.0f} ms")
    print(f"8 targets, 3 pairs, spacing, least worst error: {1000 * match:.1f} ms (limit 100 ms)")
    print(f"8 targets, 3 pairs, spacing, fewest within 3 %: {1000 * small:.1f} ms (limit 100 ms)")


def main() -> None:
    bricks()
    against_baselines(tuple(range(8, 17)), 8)
    against_baselines(tuple(range(8, 21)), 8)
    subprocess.run([sys.executable, "-c", MEMORY], check=True)
    growth()


if __name__ == "__main__":
    main()
