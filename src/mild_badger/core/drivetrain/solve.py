"""The exact speeds of a drivetrain in one state.

Couplings of two bodies are ratios: one walk over the graph takes them all. What couples three
bodies (differentials) is eliminated afterwards over what is left. All arithmetic is in fractions;
nothing is rounded.
"""

from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction
from math import gcd

from mild_badger.core.drivetrain.graph import Drivetrain, Equation

__all__ = ["Motion", "Solution", "solve"]

Row = dict[str, Fraction]
ONE = Fraction(1)


class Motion(StrEnum):
    """What a body does: it turns with the input, its speed is open, or it cannot turn."""

    TURNS = "turns"
    FREE = "free"
    LOCKED = "locked"
    HELD = "held"


@dataclass(frozen=True)
class Solution:
    """Speeds per turn of the source.

    Attributes
    ----------
    speeds : body id → signed speed about its own axis, None where it is free; zero for what is
        locked or held
    motions : body id → what it does
    locked : whether the source itself cannot turn
    """

    speeds: dict[str, Fraction | None]
    motions: dict[str, Motion]
    locked: bool

    def speed(self, body: str) -> Fraction | None:
        """Return a body's speed per turn of the source, None where it is free."""
        return self.speeds[body]


class _Groups:
    """Bodies whose speeds are multiples of one another: n_body = weight × n_root.

    Found by walking the couplings of two bodies, each looked at once; ``still`` holds the roots of
    groups that cannot turn.
    """

    def __init__(
        self, train: Drivetrain, sleeves: dict[str, str], conditions: tuple[Equation, ...]
    ) -> None:
        self.root: dict[str, str] = {}
        self._weight: dict[str, tuple[int, int]] = {}  # plain integers: far quicker here
        self.still: set[str] = set()
        extra: dict[str, list[Equation]] = {}
        for condition in conditions:
            for body, _ in condition.terms:
                extra.setdefault(body, []).append(condition)
        for body in train.index:
            if body not in self.root:
                self._walk(train, sleeves, extra, body)
        for equation in (*train.equations, *conditions):
            if len(equation.terms) == 1 and equation.holds(sleeves):
                self.still.add(self.root[equation.terms[0][0]])

    def _walk(
        self,
        train: Drivetrain,
        sleeves: dict[str, str],
        extra: dict[str, list[Equation]],
        start: str,
    ) -> None:
        self.root[start], self._weight[start] = start, (1, 1)
        queue = [start]
        for here in queue:
            top, bottom = self._weight[here]
            for equation in (*train.touching[here], *extra.get(here, ())):
                terms = equation.terms
                if len(terms) != 2 or not equation.holds(sleeves):
                    continue
                up, down = equation.step
                there = terms[1][0]
                if there == here:
                    there, up, down = terms[0][0], down, up
                if there not in self.root:
                    n, d = top * up, bottom * down
                    common = gcd(n, d) if d > 0 else -gcd(n, d)
                    self.root[there], self._weight[there] = start, (n // common, d // common)
                    queue.append(there)
                else:
                    n, d = self._weight[there]
                    if n * bottom * down != d * top * up:
                        self.still.add(start)

    def weight(self, body: str) -> Fraction:
        """Give a body's speed per turn of its root."""
        return Fraction(*self._weight[body])


def solve(
    train: Drivetrain,
    sleeves: dict[str, str],
    conditions: tuple[Equation, ...] = (),
    *,
    source: str | None = None,
) -> Solution:
    """Solve a drivetrain with its sleeves in given positions.

    Parameters
    ----------
    train
        The graph.
    sleeves
        Position of each sleeve; a sleeve that is not named is in neutral.
    conditions
        What the road or a hand adds: equal wheels, a turn, a held wheel, a closed lock.
    source
        The body that is driven; the drivetrain's own where it is not named.

    Returns
    -------
    Solution
        Speeds for one turn of the source. Where the source cannot turn, ``locked`` is set and
        every body that hangs on it is locked; a loop that fights by itself is locked while the
        source turns on.
    """
    groups = _Groups(train, sleeves, conditions)
    wide = [e for e in (*train.equations, *conditions) if len(e.terms) > 2 and e.holds(sleeves)]
    return _read(train, groups, _eliminate(groups, wide), conditions, source or train.source)


def _eliminate(groups: _Groups, wide: list[Equation]) -> dict[str, Row]:
    """Reduce the wide equations over the roots: pivot root → its row, n_pivot = Σ row × n."""
    rows: dict[str, Row] = {}
    for equation in wide:
        row: Row = {}
        for body, coefficient in equation.terms:
            root = groups.root[body]
            if root not in groups.still:
                row[root] = row.get(root, Fraction(0)) + coefficient * groups.weight(body)
        for pivot in list(row):
            if pivot in rows:
                _add(row, rows[pivot], row.pop(pivot))
        row = {root: value for root, value in row.items() if value}
        if not row:
            continue
        pivot = min(row)
        scale = -row.pop(pivot)
        solved = {root: value / scale for root, value in row.items()}
        for other in rows.values():
            if pivot in other:
                _add(other, solved, other.pop(pivot))
        rows[pivot] = solved
    return rows


def _add(row: Row, extra: Row, factor: Fraction) -> None:
    for root, value in extra.items():
        row[root] = row.get(root, Fraction(0)) + factor * value
        if not row[root]:
            del row[root]


def _read(
    train: Drivetrain,
    groups: _Groups,
    rows: dict[str, Row],
    conditions: tuple[Equation, ...],
    driver: str,
) -> Solution:
    """Drive the source at one turn and say what every body does."""
    over: dict[str, Row] = {}
    for root in set(groups.root.values()):
        if root in groups.still:
            over[root] = {}
        elif root in rows:
            over[root] = {r: value for r, value in rows[root].items() if value}
        else:
            over[root] = {root: ONE}
    source = over[groups.root[driver]]
    speed_of_root = _driven(over, source, groups.weight(driver))
    held_roots = {groups.root[e.terms[0][0]] for e in conditions if len(e.terms) == 1}
    speeds: dict[str, Fraction | None] = {}
    motions: dict[str, Motion] = {}
    for body in train.index:
        root = groups.root[body]
        if not over[root]:
            speeds[body] = Fraction(0)
            motions[body] = Motion.HELD if root in held_roots else Motion.LOCKED
            continue
        speed = speed_of_root[root]
        if speed is None:
            speeds[body], motions[body] = None, Motion.FREE
        else:
            speeds[body], motions[body] = groups.weight(body) * speed, Motion.TURNS
    return Solution(speeds, motions, not source)


def _driven(over: dict[str, Row], source: Row, weight: Fraction) -> dict[str, Fraction | None]:
    """Speed of each root when weight × source = 1; None where that leaves it open."""
    if not source:
        return dict.fromkeys(over)
    # one root is fixed by the others: root = (1/weight − Σ rest) / coefficient
    pivot = min(source)
    lead = source[pivot]
    rest = {root: -value / lead for root, value in source.items() if root != pivot}
    speeds: dict[str, Fraction | None] = {}
    for root, row in over.items():
        left = dict(row)
        constant = Fraction(0)
        if pivot in left:
            share = left.pop(pivot)
            constant = share / lead / weight
            _add(left, rest, share)
        speeds[root] = None if any(left.values()) else constant
    return speeds
