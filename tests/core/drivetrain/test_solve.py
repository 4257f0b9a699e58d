"""The solver against sympy's null spaces, the Willis equation and plain reasoning."""

from dataclasses import replace
from fractions import Fraction

import networkx
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from sympy import Matrix, Rational

from mild_badger.core.driveline.efficiency import efficiency
from mild_badger.core.drivetrain.graph import (
    Body,
    Coupling,
    Drivetrain,
    Equation,
    bevel_differential,
    bevel_pair,
    dog,
    external_mesh,
    fixed,
    held,
    same_speed,
)
from mild_badger.core.drivetrain.path import power_path
from mild_badger.core.drivetrain.solve import Motion, solve
from mild_badger.core.errors import GraphError
from telling import refuses


def graph(*equations: Equation, source: str = "a") -> Drivetrain:
    names = sorted({body for equation in equations for body in equation.bodies} | {source})
    return Drivetrain(tuple(Body(n, n, "shaft") for n in names), equations, source)


def test_a_train_by_hand() -> None:
    train = graph(
        external_mesh("a", "b", (12, 36)), fixed("b", "c"), external_mesh("c", "d", (8, 24))
    )
    solved = solve(train, {})
    assert solved.speed("d") == Fraction(1, 9)
    assert solved.speed("b") == Fraction(-1, 3)
    assert not solved.locked


def test_three_gears_in_a_ring_lock_and_four_do_not() -> None:
    # networkx: external meshes must two-colour
    for count in (3, 4):
        names = "abcd"[:count]
        ring = [external_mesh(x, y, (20, 20)) for x, y in zip(names, names[1:] + "a", strict=True)]
        solved = solve(graph(*ring), {})
        assert solved.locked is not networkx.is_bipartite(networkx.cycle_graph(count))
        if solved.locked:
            assert set(solved.motions.values()) == {Motion.LOCKED}


def test_two_dogs_at_once_lock() -> None:
    box = graph(
        external_mesh("a", "b", (12, 24)),
        external_mesh("a", "c", (12, 36)),
        dog("b", "out", sleeve="1", position="front"),
        dog("c", "out", sleeve="2", position="front"),
    )
    assert solve(box, {"1": "front"}).speed("out") == Fraction(-1, 2)
    assert solve(box, {"2": "front"}).speed("out") == Fraction(-1, 3)
    assert solve(box, {}).motions["out"] is Motion.FREE
    both = solve(box, {"1": "front", "2": "front"})
    assert both.locked


def test_a_loop_that_fights_by_itself_leaves_the_input_free() -> None:
    # b–c–d lock one another behind an open dog; the input turns on
    train = graph(
        external_mesh("b", "c", (8, 8)),
        external_mesh("c", "d", (8, 8)),
        fixed("d", "b"),
        external_mesh("a", "e", (8, 16)),
    )
    odd = graph(*train.equations, external_mesh("b", "d", (8, 8)))
    solved = solve(odd, {})
    assert not solved.locked
    assert solved.motions["c"] is Motion.LOCKED
    assert solved.speed("e") == Fraction(-1, 2)


@pytest.mark.parametrize(
    ("sun", "ring", "held_body", "source", "out", "speed"),
    [
        (20, 80, "ring", "sun", "carrier", "1/5"),  # Shigley Ex. 13-6: sun −100 gives arm −20
        (24, 56, "ring", "sun", "carrier", "3/10"),  # S24 R56: sun to carrier 10/3
        (24, 56, "sun", "ring", "carrier", "7/10"),  # ring to carrier 10/7
        (24, 56, "carrier", "sun", "ring", "-3/7"),  # sun to ring −7/3
    ],
)
def test_willis(sun: int, ring: int, held_body: str, source: str, out: str, speed: str) -> None:
    terms = (("sun", Fraction(sun)), ("ring", Fraction(ring)), ("carrier", Fraction(-sun - ring)))
    set_ = graph(Equation("willis", Coupling.DIFFERENTIAL, terms), source=source)
    assert solve(set_, {}, (held(held_body),)).speed(out) == Fraction(speed)


def test_the_open_differential() -> None:
    axle = graph(bevel_differential("housing", "left", "right"), source="housing")
    assert solve(axle, {}).motions["left"] is Motion.FREE
    straight = same_speed("left", "right", kind=Coupling.ROAD)
    assert solve(axle, {}, (straight,)).speed("left") == 1
    one_held = solve(axle, {}, (held("left"),))
    assert one_held.speed("right") == 2  # one wheel held: the other runs at twice the housing
    assert one_held.motions["left"] is Motion.HELD
    locked = (held("left"), same_speed("left", "housing", kind=Coupling.LOCK))
    assert solve(axle, {}, locked).locked


@pytest.mark.parametrize(("side", "sign"), [("left", 1), ("right", -1)])
def test_the_crown_wheels_side_gives_the_sign(side: str, sign: int) -> None:
    # ω × r at the point of contact: pinion on −x ahead of the axle, crown on +y, see graph.py
    pair = bevel_pair("a", "crown", (12, 28), crown_side=side)  # type: ignore[arg-type]
    assert solve(graph(pair), {}).speed("crown") == sign * Fraction(12, 28)


@st.composite
def random_graphs(draw: st.DrawFn) -> tuple[Drivetrain, tuple[Equation, ...]]:
    """Graphs with meshes, joints and differentials in any arrangement, sound or not."""
    names = [f"b{n}" for n in range(draw(st.integers(2, 9)))]
    body = st.sampled_from(names)
    equations: list[Equation] = []
    for number in range(draw(st.integers(1, 11))):
        kind = draw(st.sampled_from(["mesh", "fixed", "differential"]))
        chosen = (
            draw(st.lists(body, min_size=3, max_size=3, unique=True)) if len(names) > 2 else names
        )
        if kind == "mesh":
            made = external_mesh(
                chosen[0], chosen[1], (draw(st.integers(4, 9)), draw(st.integers(4, 9)))
            )
        elif kind == "fixed" or len(chosen) < 3:
            made = fixed(chosen[0], chosen[1])
        else:
            made = bevel_differential(*chosen)
        equations.append(replace(made, id=f"{made.id}#{number}"))
    conditions = tuple(held(b) for b in draw(st.lists(body, max_size=1)))
    return Drivetrain(tuple(Body(n, n, "shaft") for n in names), tuple(equations), "b0"), conditions


@given(random_graphs())
@settings(max_examples=150, deadline=None)
def test_any_graph_against_sympy(question: tuple[Drivetrain, tuple[Equation, ...]]) -> None:
    train, conditions = question
    names = [body.id for body in train.bodies]
    rows = [
        [
            sum((Rational(c.numerator, c.denominator) for b, c in e.terms if b == n), Rational(0))
            for n in names
        ]
        for e in (*train.equations, *conditions)
    ]
    null = Matrix(rows).nullspace()
    solved = solve(train, {}, conditions)
    source = names.index(train.source)
    assert solved.locked == all(v[source] == 0 for v in null)
    with_input = Matrix([*rows, [int(n == train.source) for n in names]]).nullspace()
    for place, name in enumerate(names):
        if all(v[place] == 0 for v in null):
            assert solved.motions[name] in (Motion.LOCKED, Motion.HELD)
        elif solved.locked or any(v[place] != 0 for v in with_input):
            assert solved.motions[name] is Motion.FREE
        else:
            vector = next(v for v in null if v[source] != 0)
            value = vector[place] / vector[source]
            assert solved.speed(name) == Fraction(int(value.p), int(value.q))


def test_reversing_the_input_reverses_all_speeds() -> None:
    # speeds are linear in the input: per turn of the source both ways by construction
    train = graph(external_mesh("a", "b", (12, 20)), bevel_differential("b", "l", "r"))
    turn = (same_speed("l", "r", kind=Coupling.ROAD),)
    from_a = solve(train, {}, turn)
    back = solve(replace(train, source="l"), {}, turn)
    assert from_a.speed("l") == -Fraction(12, 20)
    assert back.speed("a") == 1 / from_a.speed("l")  # type: ignore[operator]


def test_loose_ends_are_named() -> None:
    bodies = (Body("a", "a", "shaft"),)
    with refuses(GraphError, "drivetrain.couples-which-is-not-there-2", body="b"):
        Drivetrain(bodies, (fixed("a", "b"),), "a")
    with refuses(GraphError, "drivetrain.the-motor-drives-which-is-not-there-2", source="z"):
        Drivetrain(bodies, (), "z")
    with refuses(GraphError, "drivetrain.two-bodies-of-the-drivetrain-share-a-name"):
        Drivetrain(bodies * 2, (), "a")


def test_the_powers_way_and_its_losses() -> None:
    train = graph(
        external_mesh("a", "b", (8, 16)), fixed("b", "c"), external_mesh("c", "d", (8, 16))
    )
    path = power_path(train, {}, "a", "d")
    assert path is not None
    assert (path.bodies, path.meshes) == (("a", "b", "c", "d"), 2)
    assert efficiency(train, {}, solve(train, {}), {"d": 1.0}, 0.1) == pytest.approx(0.81)
    assert power_path(graph(fixed("x", "y")), {}, "a", "x") is None
