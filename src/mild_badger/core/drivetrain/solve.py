"""The exact speeds of a drivetrain in one state.

Couplings of two bodies are ratios: a union-find with rational weights takes them in near-linear
time. What couples three bodies (differentials) is eliminated afterwards over what is left. All
arithmetic is in fractions; nothing is rounded.
"""

from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction

from mild_badger.core.drivetrain.graph import Drivetrain, Equation

__all__ = ["Motion", "Solution", "solve"]

Row = dict[str, Fraction]


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
    fighting : ids of the couplings found to contradict the others
    """

    speeds: dict[str, Fraction | None]
    motions: dict[str, Motion]
    locked: bool
    fighting: tuple[str, ...]

    def speed(self, body: str) -> Fraction | None:
        """Return a body's speed per turn of the source, None where it is free."""
        return self.speeds[body]


class _Ratios:
    """Bodies whose speeds are multiples of one another: n_body = weight × n_root."""

    def __init__(self, bodies: list[str]) -> None:
        self.parent = {body: body for body in bodies}
        self.weight = dict.fromkeys(bodies, Fraction(1))
        self.still: set[str] = set()

    def root(self, body: str) -> tuple[str, Fraction]:
        path = []
        while self.parent[body] != body:
            path.append(body)
            body = self.parent[body]
        weight = Fraction(1)
        for step in reversed(path):
            weight = self.weight[step] * weight
            self.parent[step], self.weight[step] = body, weight
        return body, (self.weight[path[0]] if path else Fraction(1))

    def stop(self, body: str) -> None:
        self.still.add(self.root(body)[0])

    def stands(self, body: str) -> bool:
        return self.root(body)[0] in self.still

    def join(self, a: str, b: str, ratio: Fraction) -> bool:
        """Set n_a = ratio × n_b; False where that contradicts what is known already."""
        root_a, weight_a = self.root(a)
        root_b, weight_b = self.root(b)
        if root_a == root_b:
            if weight_a == ratio * weight_b:
                return True
            agrees = root_a in self.still
            self.still.add(root_a)
            return agrees
        # weight_a n_root_a = ratio weight_b n_root_b
        self.parent[root_a] = root_b
        self.weight[root_a] = ratio * weight_b / weight_a
        if root_a in self.still:
            self.still.add(root_b)
        return True


def solve(
    train: Drivetrain, sleeves: dict[str, str], conditions: tuple[Equation, ...] = ()
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

    Returns
    -------
    Solution
        Speeds for one turn of the source. Where the source cannot turn, ``locked`` is set and
        every body that hangs on it is locked; a loop that fights by itself is locked while the
        source turns on.
    """
    equations = (*train.active(sleeves), *conditions)
    ratios = _Ratios([body.id for body in train.bodies])
    fighting: list[str] = []
    wide: list[Equation] = []
    for equation in equations:
        match equation.terms:
            case ((body, _),):
                ratios.stop(body)
            case ((a, x), (b, y)):
                if not ratios.join(a, b, -y / x):
                    fighting.append(equation.id)
            case _:
                wide.append(equation)
    rows = _eliminate(ratios, wide)
    return _read(train, ratios, rows, conditions, fighting)


def _eliminate(ratios: _Ratios, wide: list[Equation]) -> dict[str, Row]:
    """Reduce the wide equations over the roots: pivot root → its row, n_pivot = Σ row × n."""
    rows: dict[str, Row] = {}
    for equation in wide:
        row: Row = {}
        for body, coefficient in equation.terms:
            root, weight = ratios.root(body)
            if root not in ratios.still:
                row[root] = row.get(root, Fraction(0)) + coefficient * weight
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
    ratios: _Ratios,
    rows: dict[str, Row],
    conditions: tuple[Equation, ...],
    fighting: list[str],
) -> Solution:
    """Drive the source at one turn and say what every body does."""

    def over_roots(body: str) -> Row:
        root, weight = ratios.root(body)
        if root in ratios.still:
            return {}
        if root in rows:
            return {r: weight * v for r, v in rows[root].items() if v}
        return {root: weight}

    source = over_roots(train.source)
    locked = not source
    drive: Row = {}
    pivot = None
    if source:
        # n_source = 1 fixes one root by the others: root = (1 − Σ rest) / coefficient
        pivot = min(source)
        drive = {root: -value / source[pivot] for root, value in source.items() if root != pivot}
    held_roots = {ratios.root(e.terms[0][0])[0] for e in conditions if len(e.terms) == 1}
    speeds: dict[str, Fraction | None] = {}
    motions: dict[str, Motion] = {}
    for body in train.bodies:
        row = over_roots(body.id)
        if not row:
            speeds[body.id] = Fraction(0)
            held = ratios.root(body.id)[0] in held_roots
            motions[body.id] = Motion.HELD if held else Motion.LOCKED
            continue
        constant = Fraction(0)
        if pivot is not None and pivot in row:
            share = row.pop(pivot)
            constant = share / source[pivot]
            _add(row, drive, share)
        if any(row.values()):
            speeds[body.id], motions[body.id] = None, Motion.FREE
        else:
            speeds[body.id], motions[body.id] = constant, Motion.TURNS
    return Solution(speeds, motions, locked, tuple(fighting))
