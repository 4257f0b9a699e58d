"""Drivetrains with one-way clutches: which of them carry, for either direction of the motor.

A clutch either carries (its bodies turn alike) or is overrun. Of all ways to share that out the one
is sought in which every clutch that is open is overrun, and every one that carries would otherwise
be run behind. What nothing drives is taken to stand: its load drags.
"""

from dataclasses import dataclass, replace
from fractions import Fraction
from itertools import combinations

from mild_badger.core.drivetrain.graph import Drivetrain, Equation, OneWay
from mild_badger.core.drivetrain.solve import Solution, solve
from mild_badger.core.errors import GraphError
from mild_badger.core.message import say

__all__ = ["MOST_ONE_WAYS", "OneWaySolution", "solve_one_way"]

MOST_ONE_WAYS = 12
"""More are refused: every subset may have to be looked at."""


@dataclass(frozen=True)
class OneWaySolution:
    """Speeds for one turn of the source in a direction.

    Attributes
    ----------
    solution : the speeds, signed for a source that turns by ``direction``; where it is locked the
        clutches that carry and hold it are in ``carrying``
    direction : +1 or −1, the way the source turns or is kept from turning
    carrying : ids of the clutches that carry
    """

    solution: Solution
    direction: int
    carrying: tuple[str, ...]

    def speed(self, body: str) -> Fraction | None:
        """Return a body's speed, None where it is free."""
        speed = self.solution.speed(body)
        return None if speed is None else speed * self.direction


def solve_one_way(
    train: Drivetrain,
    sleeves: dict[str, str],
    conditions: tuple[Equation, ...] = (),
    *,
    direction: int = 1,
    source: str | None = None,
) -> OneWaySolution:
    """Solve a drivetrain whose one-way clutches carry or are overrun as the motor's way has it.

    Parameters
    ----------
    train, sleeves, conditions, source
        As for ``solve``.
    direction
        +1 or −1: the way the source is driven.

    Raises
    ------
    GraphError
        There are more one-way clutches than can be gone through.
    """
    clutches = train.one_ways
    if len(clutches) > MOST_ONE_WAYS:
        raise GraphError(
            say(
                "drivetrain.one-way-clutches-are-more-than-the-that-are",
                count_of_clutches=len(clutches),
                most_one_ways=MOST_ONE_WAYS,
            )
        )
    known: dict[frozenset[str], Solution] = {}

    def solved(carrying: frozenset[str]) -> Solution:
        if carrying not in known:
            closed = tuple(c.closed for c in clutches if c.id in carrying)
            whole = replace(train, equations=(*train.equations, *closed))
            known[carrying] = solve(whole, sleeves, conditions, source=source)
        return known[carrying]

    def lag(clutch: OneWay, carrying: frozenset[str]) -> Fraction:
        """How far the driven body would be behind; what is free stands."""
        solution = solved(carrying)
        driver, driven = (solution.speed(b) or Fraction(0) for b in (clutch.driver, clutch.driven))
        return clutch.sense * direction * (driver - driven)

    stuck: tuple[frozenset[str], Solution] | None = None
    for count in range(len(clutches) + 1):
        for chosen in combinations(clutches, count):
            carrying = frozenset(c.id for c in chosen)
            solution = solved(carrying)
            if solution.locked:
                needed = all(lag(c, carrying - {c.id}) > 0 for c in chosen)
                if stuck is None and needed:
                    stuck = carrying, solution
                continue
            overrun = all(lag(c, carrying) <= 0 for c in clutches if c.id not in carrying)
            if overrun and all(lag(c, carrying - {c.id}) > 0 for c in chosen):
                return OneWaySolution(solution, direction, tuple(sorted(carrying)))
    every = frozenset(c.id for c in clutches)
    carrying, solution = stuck or (every, solved(every))
    return OneWaySolution(solution, direction, tuple(sorted(carrying)))
