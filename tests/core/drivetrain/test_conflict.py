"""What is said to fight locks, and no part of it does: against ranks of another library.

A set of couplings locks a body if and only if adding the equation n_body = 0 to theirs leaves the
rank as it is (linear algebra; ranks by sympy).
"""

from dataclasses import replace
from fractions import Fraction
from itertools import combinations
from random import Random

import pytest
from sympy import QQ
from sympy.polys.matrices import DomainMatrix

from mild_badger.core.drivetrain.conflict import conflict, locks
from mild_badger.core.drivetrain.graph import (
    Body,
    Coupling,
    Drivetrain,
    Equation,
    belt,
    bevel_differential,
    external_mesh,
    fixed,
    held,
    planet,
    planetary,
    same_speed,
)
from mild_badger.core.drivetrain.solve import Motion, solve

GRAPHS = 2000


def graph(*parts: Equation, source: str = "a", others: tuple[str, ...] = ()) -> Drivetrain:
    names = {body for equation in parts for body in equation.bodies} | {source, *others}
    return Drivetrain(tuple(Body(n, n, "shaft") for n in sorted(names)), parts, source)


def rank_locks(equations: tuple[Equation, ...], body: str) -> bool:
    """The oracle: whether n_body = 0 follows from the equations."""
    names = sorted({b for e in equations for b in e.bodies} | {body})

    def row(terms: tuple[tuple[str, Fraction], ...]) -> list[object]:
        values = dict.fromkeys(names, QQ(0))
        for name, value in terms:
            values[name] += QQ(value.numerator, value.denominator)
        return [values[name] for name in names]

    rows = [row(e.terms) for e in equations]
    more = [*rows, row(((body, Fraction(1)),))]
    size = len(names)
    return bool(
        DomainMatrix(rows, (len(rows), size), QQ).rank()
        == DomainMatrix(more, (len(more), size), QQ).rank()
    )


def drawn(random: Random) -> tuple[Drivetrain, tuple[Equation, ...]]:
    """A random graph with couplings of two and three bodies, and bodies held by hand."""
    names = [f"b{n}" for n in range(random.randint(3, 7))]
    parts = []
    for number in range(random.randint(2, 8)):
        kind = random.randrange(6)
        teeth = (random.choice([8, 12, 16]), random.choice([8, 16, 24]))
        one, two, three = random.sample(names, 3)
        made = (
            external_mesh(one, two, teeth),
            belt(one, two, teeth),
            fixed(one, two),
            planetary(one, two, three, (12, 40)),
            bevel_differential(one, two, three),
            planet(one, two, three, teeth),
        )[kind]
        parts.append(replace(made, id=f"e{number}"))
    stops = tuple(held(n) for n in random.sample(names, random.choice([0, 0, 1, 2])))
    return graph(*parts, source="b0", others=tuple(names)), stops


def test_what_is_said_to_fight_locks_and_no_part_of_it_does() -> None:
    locked = 0
    for seed in range(GRAPHS):
        train, stops = drawn(Random(seed))
        state = solve(train, {}, stops)
        standing = [b for b, motion in state.motions.items() if motion is Motion.LOCKED]
        named = conflict(train, {}, stops)
        assert bool(named) == bool(standing or state.locked), seed
        if not named:
            continue
        locked += 1
        assert set(named) <= {*train.equations, *stops}
        for body in ["b0"] if state.locked else standing:
            if rank_locks(named, body):
                break
        else:
            raise AssertionError(seed)
        for left_out in named:
            fewer = tuple(e for e in named if e is not left_out)
            assert not rank_locks(fewer, body), (seed, left_out.id)
    assert locked > GRAPHS / 4


@pytest.mark.parametrize("seed", range(40))
def test_couplings_of_two_bodies_are_named_as_few_as_can_be(seed: int) -> None:
    random = Random(seed)
    names = [f"b{n}" for n in range(random.randint(3, 5))]
    parts = []
    for number in range(random.randint(3, 7)):
        make = random.choice([external_mesh, belt])
        teeth = (random.choice([8, 16]), random.choice([8, 16]))
        one, other = random.sample(names, 2)
        parts.append(replace(make(one, other, teeth), id=f"e{number}"))
    train = graph(*parts, source="b0", others=tuple(names))
    named = conflict(train, {})
    if not solve(train, {}).locked:
        return
    least = next(
        count
        for count in range(1, len(parts) + 1)
        if any(rank_locks(chosen, "b0") for chosen in combinations(parts, count))
    )
    assert len(named) == least
    assert locks(named, "b0")


def test_a_loop_beside_the_input_is_named_with_its_hold() -> None:
    # a planetary whose ends are tied by a mesh and whose third body is held: it stands, while the
    # motor, which hangs on nothing, turns on
    train = graph(
        planetary("a", "b", "h", (12, 40)),
        external_mesh("a", "b", (40, 24)),
        source="motor",
    )
    stops = (held("h"),)
    assert not solve(train, {}, stops).locked
    named = conflict(train, {}, stops)
    assert {e.id for e in named} == {"planetary:h", "a~b", "held:h"}
    assert rank_locks(named, "a")


def test_the_way_from_the_input_to_the_ring_belongs_to_it() -> None:
    train = graph(
        fixed("motor", "in"),
        external_mesh("in", "x", (8, 16)),
        external_mesh("x", "y", (8, 8)),
        belt("x", "y", (8, 8)),
        fixed("y", "spare"),
        source="motor",
    )
    assert {e.id for e in conflict(train, {})} == {"motor=in", "in~x", "x~y", "x∞y"}


def test_a_differential_that_fights_names_no_more_than_it_must() -> None:
    train = graph(
        external_mesh("a", "b", (12, 24)),
        belt("b", "case", (10, 10)),
        bevel_differential("case", "l", "r"),
        fixed("r", "spare"),
        belt("spare", "more", (8, 8)),
    )
    stops = (held("l"), held("r"))
    assert solve(train, {}, stops).locked
    assert {e.id for e in conflict(train, {}, stops)} == {
        "a~b",
        "b∞case",
        "differential:case",
        "held:l",
        "held:r",
    }
    assert conflict(train, {}, (same_speed("l", "r", kind=Coupling.ROAD),)) == ()
