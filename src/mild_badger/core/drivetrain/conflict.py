"""Which parts fight where a drivetrain is locked: the smallest set that cannot turn together.

Couplings of two bodies form a graph with a gain on each edge; what locks it is a cycle whose gains
do not multiply up to one, and the shortest such cycle is found by a breadth-first walk from every
body (cycles with a gain of one obey the three-path property). Where a coupling of three bodies
takes part, couplings are left out one after the other for as long as the rest still locks.
"""

from collections import deque
from fractions import Fraction

from mild_badger.core.drivetrain.graph import Drivetrain, Equation
from mild_badger.core.drivetrain.solve import Motion, solve

__all__ = ["conflict"]


def conflict(
    train: Drivetrain,
    sleeves: dict[str, str],
    conditions: tuple[Equation, ...] = (),
    *,
    source: str | None = None,
) -> tuple[Equation, ...]:
    """Name the smallest set of couplings that locks the source; empty if nothing does.

    Where the source turns but a loop elsewhere stands, the couplings of that loop.

    Parameters
    ----------
    train, sleeves, conditions, source
        As for ``solve``.

    Returns
    -------
    tuple of Equation
        In a cycle of two-body couplings in the order of the cycle; the smallest possible. With
        couplings of three bodies no coupling can be left out of it, though another set might be
        smaller.
    """
    driver = source or train.source
    every = [e for e in (*train.equations, *conditions) if e.holds(sleeves)]
    state = solve(train, sleeves, conditions, source=driver)
    stands = {b for b, motion in state.motions.items() if motion is Motion.LOCKED}
    if not stands:
        return ()
    reach = _reached(every, driver) if state.locked else stands
    inside = [e for e in every if all(body in reach for body in e.bodies)]
    cycle = _shortest_cycle([e for e in inside if len(e.terms) == 2], stands)
    return cycle or _irreducible(train, inside, driver if state.locked else min(stands))


def _reached(every: list[Equation], start: str) -> set[str]:
    """Find the bodies that couplings join to a body."""
    touching: dict[str, list[Equation]] = {}
    for equation in every:
        for body in equation.bodies:
            touching.setdefault(body, []).append(equation)
    found, queue = {start}, deque([start])
    while queue:
        for equation in touching.get(queue.popleft(), ()):
            for body in equation.bodies:
                if body not in found:
                    found.add(body)
                    queue.append(body)
    return found


def _shortest_cycle(edges: list[Equation], stands: set[str]) -> tuple[Equation, ...]:
    touching: dict[str, list[tuple[str, Fraction, Equation]]] = {}
    for edge in edges:
        one, other = edge.bodies
        gain = Fraction(*edge.step)
        touching.setdefault(one, []).append((other, gain, edge))
        touching.setdefault(other, []).append((one, 1 / gain, edge))
    best: tuple[Equation, ...] = ()
    for start in sorted(stands & set(touching)):
        came: dict[str, tuple[str, Equation] | None] = {start: None}
        weight, depth = {start: Fraction(1)}, {start: 0}
        queue = deque([start])
        while queue:
            here = queue.popleft()
            if best and 2 * depth[here] >= len(best):
                break
            for there, gain, edge in touching[here]:
                if there not in came:
                    came[there] = (here, edge)
                    weight[there], depth[there] = weight[here] * gain, depth[here] + 1
                    queue.append(there)
                elif weight[there] != weight[here] * gain:
                    ring = _ring(came, here, there, edge)
                    if not best or len(ring) < len(best):
                        best = ring
    return best


def _ring(
    came: dict[str, tuple[str, Equation] | None], here: str, there: str, edge: Equation
) -> tuple[Equation, ...]:
    """Close two ways from the root to a cycle; what both have in common drops out."""

    def way(body: str) -> list[Equation]:
        found = []
        step = came[body]
        while step is not None:
            found.append(step[1])
            step = came[step[0]]
        return found[::-1]

    one, other = way(here), way(there)
    while one and other and one[0] is other[0]:
        one, other = one[1:], other[1:]
    return (*one, edge, *other[::-1])


def _irreducible(train: Drivetrain, equations: list[Equation], driver: str) -> tuple[Equation, ...]:
    """Leave out one coupling after the other for as long as the rest still locks the driver."""
    kept = list(equations)
    for equation in equations:
        fewer = [e for e in kept if e is not equation]
        rest = Drivetrain(train.bodies, (), driver)
        if solve(
            rest, {e.sleeve: e.position or "" for e in fewer if e.sleeve}, tuple(fewer)
        ).locked:
            kept = fewer
    return tuple(kept)
