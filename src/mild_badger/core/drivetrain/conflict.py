"""Which parts fight where a drivetrain is locked: a set that locks, no part of which does.

A set of couplings locks a body when, with that set alone in force, the body's speed is zero: when
the equation n_body = 0 is a sum of multiples of theirs. Exact elimination that remembers which
equations it has added up finds such a sum; over independent equations there is only one, so none
of those in it can be left out (the fundamental circuit of linear algebra). Couplings of two bodies
form a graph with a gain on each edge (Zaslavsky); there the smallest set is a cycle whose gains do
not multiply up to one, or a held body, with the way to it.
"""

from collections import deque
from collections.abc import Iterable
from fractions import Fraction
from typing import TypeVar

from mild_badger.core.drivetrain.graph import Drivetrain, Equation
from mild_badger.core.drivetrain.solve import Motion, solve

__all__ = ["conflict", "locks"]

K = TypeVar("K")
Row = dict[str, Fraction]
Sum = dict[int, Fraction]


def conflict(
    train: Drivetrain,
    sleeves: dict[str, str],
    conditions: tuple[Equation, ...] = (),
    *,
    source: str | None = None,
) -> tuple[Equation, ...]:
    """Name couplings that lock the source, none of which can be left out; empty if nothing does.

    Where the source turns but something elsewhere stands, the couplings that lock that.

    Parameters
    ----------
    train, sleeves, conditions, source
        As for ``solve``.

    Returns
    -------
    tuple of Equation
        With couplings of two bodies the smallest possible set, from the body that is locked
        onwards; with couplings of three bodies another set might be smaller.
    """
    driver = source or train.source
    state = solve(train, sleeves, conditions, source=driver)
    standing = [b for b, motion in state.motions.items() if motion is Motion.LOCKED]
    every = [e for e in (*train.equations, *conditions) if e.holds(sleeves)]
    sets = [_locking(every, body) for body in ([driver] if state.locked else standing)]
    return min((s for s in sets if s), key=len, default=())


def locks(equations: Iterable[Equation], body: str) -> bool:
    """Tell whether couplings, with them alone in force, leave a body no speed but zero."""
    return _combined(list(equations), body) is not None


def _locking(every: list[Equation], body: str) -> tuple[Equation, ...]:
    """Find a set that locks a body and of which no part does."""
    near = _by_distance(every, body)
    walked = _shortest_lollipop([e for e in near if len(e.terms) < 3], body)
    if walked:
        return walked
    combined = _combined(near, body)
    return () if combined is None else tuple(near[n] for n in sorted(combined))


def _by_distance(every: list[Equation], start: str) -> list[Equation]:
    """Order the couplings by how far they are from a body; what hangs on it in no way drops out."""
    touching = _touching(every)
    seen, queue = {start}, deque([start])
    order: dict[int, Equation] = {}
    while queue:
        for equation in touching.get(queue.popleft(), ()):
            order.setdefault(id(equation), equation)
            for body in equation.bodies:
                if body not in seen:
                    seen.add(body)
                    queue.append(body)
    return list(order.values())


def _touching(every: list[Equation]) -> dict[str, list[Equation]]:
    touching: dict[str, list[Equation]] = {}
    for equation in every:
        for body in equation.bodies:
            touching.setdefault(body, []).append(equation)
    return touching


def _combined(equations: list[Equation], body: str) -> Sum | None:
    """Add equations up to a multiple of n_body = 0: which, how many times; None if that cannot be.

    A row never holds the pivot of an earlier one, so taking rows off comes to an end.
    """
    rows: dict[str, tuple[Row, Sum]] = {}
    for number, equation in enumerate(equations):
        row: Row = {}
        for name, coefficient in equation.terms:
            _add(row, name, coefficient)
        combined: Sum = {number: Fraction(1)}
        _reduce(row, combined, rows)
        if not row:
            continue  # it says nothing that the ones before do not say
        pivot = next((name for name in row if name != body), body)
        if pivot == body:
            return combined
        scale = row.pop(pivot)
        rows[pivot] = (
            {name: value / scale for name, value in row.items()},
            {n: value / scale for n, value in combined.items()},
        )
    return None


def _reduce(row: Row, combined: Sum, rows: dict[str, tuple[Row, Sum]]) -> None:
    """Take known rows off until none of their pivots is left."""
    while pivot := next((name for name in row if name in rows), None):
        factor = row.pop(pivot)
        rest, of = rows[pivot]
        for name, value in rest.items():
            _add(row, name, -factor * value)
        for number, value in of.items():
            _add(combined, number, -factor * value)


def _add(row: dict[K, Fraction], name: K, value: Fraction) -> None:
    total = row.get(name, Fraction(0)) + value
    if total:
        row[name] = total
    else:
        row.pop(name, None)


def _shortest_lollipop(edges: list[Equation], target: str) -> tuple[Equation, ...]:
    """Find the fewest couplings of one or two bodies that lock a body: a ring and the way to it."""
    touching = _touching(edges)
    depth, came = {target: 0}, dict[str, tuple[str, Equation]]()
    best: tuple[Equation, ...] = ()
    queue = deque([target])
    while queue:
        start = queue.popleft()
        if best and depth[start] >= len(best):
            break
        stick = _way(came, start)
        ring = _ring_at(touching, start, len(best) - len(stick) if best else None)
        if ring:
            whole = tuple(dict.fromkeys((*stick, *ring)))
            if not best or len(whole) < len(best):
                best = whole
        for edge in touching.get(start, ()):
            for body in edge.bodies:
                if body not in depth:
                    depth[body], came[body] = depth[start] + 1, (start, edge)
                    queue.append(body)
    return best if best and locks(best, target) else ()


def _ring_at(
    touching: dict[str, list[Equation]], start: str, shorter_than: int | None
) -> tuple[Equation, ...]:
    """Find the shortest ring through a body whose gains fight, or a hold of the body."""
    came: dict[str, tuple[str, Equation]] = {}
    weight, depth = {start: Fraction(1)}, {start: 0}
    best: tuple[Equation, ...] = ()
    queue = deque([start])
    while queue:
        here = queue.popleft()
        limit = len(best) or shorter_than
        if limit is not None and 2 * depth[here] >= limit:
            break
        for edge in touching.get(here, ()):
            if len(edge.terms) == 1:
                if here == start:
                    return (edge,)
                continue
            one, other = edge.bodies
            there, gain = other, Fraction(*edge.step)
            if there == here:
                there, gain = one, 1 / gain
            if there not in weight:
                weight[there], depth[there] = weight[here] * gain, depth[here] + 1
                came[there] = (here, edge)
                queue.append(there)
            elif weight[there] != weight[here] * gain:
                ring = (*_way(came, here), edge, *reversed(_way(came, there)))
                # one that begins with a common way is a ring elsewhere, and found from there
                if len(set(ring)) == len(ring) and not 0 < len(best) <= len(ring):
                    best = ring
    return best


def _way(came: dict[str, tuple[str, Equation]], body: str) -> tuple[Equation, ...]:
    way = []
    while body in came:
        body, edge = came[body]
        way.append(edge)
    return tuple(reversed(way))
