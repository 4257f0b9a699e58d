"""Torques, powers, one-way clutches and what fights, against the laws and against brute force."""

from dataclasses import replace
from fractions import Fraction

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from mild_badger.core.drivetrain.graph import (
    Body,
    Coupling,
    Drivetrain,
    Equation,
    OneWay,
    belt,
    bevel_differential,
    clutch,
    external_mesh,
    fixed,
    held,
    internal_mesh,
    planet,
    planetary,
    same_speed,
    worm_pair,
)
from mild_badger.core.drivetrain.one_way import solve_one_way
from mild_badger.core.drivetrain.outputs import travel_per_turn
from mild_badger.core.drivetrain.power import power_flow
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.errors import GraphError
from mild_badger.core.vehicle.functions import OutputKind
from telling import refuses

STRAIGHT = (same_speed("l", "r", kind=Coupling.ROAD),)


def graph(*parts: Equation | OneWay, source: str = "a") -> Drivetrain:
    equations = tuple(part for part in parts if isinstance(part, Equation))
    one_ways = tuple(part for part in parts if isinstance(part, OneWay))
    names = {body for equation in equations for body in equation.bodies} | {source}
    names |= {body for one in one_ways for body in (one.driver, one.driven)}
    bodies = tuple(Body(n, n, "shaft") for n in sorted(names))
    return Drivetrain(bodies, equations, source, one_ways)


def test_couplings_that_keep_the_direction_and_a_clutch() -> None:
    train = graph(
        internal_mesh("a", "ring", (12, 36)),
        belt("ring", "b", (20, 10)),
        worm_pair("b", "wheel", starts=2, teeth=24, sign=-1, back_drivable=False),
        clutch("wheel", "out", lever="pedal"),
    )
    closed = solve(train, {"pedal": "closed"})
    assert closed.speed("b") == Fraction(2, 3)
    assert closed.speed("out") == -Fraction(2, 3) / 12
    assert solve(train, {}).speed("out") is None


def test_shigleys_planetary_with_its_planet() -> None:
    # Shigley Ex. 13-6: S20 P30 R80, ring fixed, sun −100: arm −20, planet +33⅓
    train = graph(planetary("a", "ring", "arm", (20, 80)), planet("a", "planet", "arm", (20, 30)))
    solved = solve(train, {}, (held("ring"),))
    assert (solved.speed("arm"), solved.speed("planet")) == (Fraction(1, 5), Fraction(-1, 3))


def test_norton_s_planetary_driven_twice() -> None:
    # Norton, Design of Machinery, Ex. 9-5: S40 R80, arm −200, sun −100: ring −250
    train = graph(planetary("a", "ring", "arm", (40, 80)), belt("a", "arm", (2, 1)))
    assert solve(train, {}).speed("ring") == Fraction(250, 100)


@pytest.mark.parametrize("loss", [0.0, 0.04, 0.2])
def test_a_row_of_meshes_loses_its_share_in_each(loss: float) -> None:
    train = graph(
        external_mesh("a", "b", (12, 36)), fixed("b", "c"), external_mesh("c", "d", (8, 24))
    )
    solved = solve(train, {})
    flow = power_flow(train, {}, solved, {"d": -9.0}, mesh_loss=loss)
    assert flow is not None
    assert flow.source_torque == pytest.approx(9 / 9 / (1 - loss) ** 2)
    assert flow.power_in == pytest.approx(flow.power_out + flow.lost)
    assert flow.determinate
    assert flow.circulating == ()


def test_torques_of_a_planetary_are_as_its_teeth() -> None:
    # Ts : Tr : Tc = S : R : −(S + R) (Willis and virtual work)
    train = graph(planetary("a", "ring", "arm", (20, 80)))
    solved = solve(train, {}, (held("ring"),))
    flow = power_flow(train, {}, solved, {"arm": -50.0}, carrying=(held("ring"),))
    assert flow is not None
    torques = dict(flow.at("planetary:arm").torques)
    assert flow.source_torque == pytest.approx(10)
    assert torques == pytest.approx({"a": -10, "ring": -40, "arm": 50})


def test_an_open_differential_shares_torque_and_no_more() -> None:
    axle = graph(bevel_differential("a", "l", "r"))
    solved = solve(axle, {}, STRAIGHT)
    even = power_flow(axle, {}, solved, {"l": -3.0, "r": -3.0})
    assert even is not None
    assert even.source_torque == pytest.approx(6)
    assert power_flow(axle, {}, solved, {"l": -4.0, "r": -2.0}) is None  # nothing balances that
    lock = (same_speed("l", "r", kind=Coupling.LOCK),)
    locked = power_flow(axle, {}, solved, {"l": -4.0, "r": -2.0}, carrying=lock)
    assert locked is not None
    assert locked.source_torque == pytest.approx(6)


def test_power_circulates_where_two_branches_turn_against_one_another() -> None:
    # summing +1/2 and −1/4: the slower branch is driven back and feeds the input
    train = graph(
        belt("a", "l", (10, 20)),
        external_mesh("a", "r", (10, 40)),
        bevel_differential("out", "l", "r"),
    )
    solved = solve(train, {})
    assert solved.speed("out") == Fraction(1, 8)
    flow = power_flow(train, {}, solved, {"out": -8.0})
    assert flow is not None
    assert [flow.power_in, flow.power_out] == pytest.approx([1, 1])
    assert set(flow.circulating) == {"a", "l", "r"}
    assert dict(flow.at("differential:out").powers)["l"] == pytest.approx(-2)  # twice what comes in
    alike = graph(
        belt("a", "l", (10, 20)), belt("a", "r", (10, 40)), bevel_differential("out", "l", "r")
    )
    calm = power_flow(alike, {}, solve(alike, {}), {"out": -8.0})
    assert calm is not None
    assert calm.circulating == ()


def test_two_ways_of_one_ratio_leave_the_share_open() -> None:
    train = graph(
        external_mesh("a", "b", (10, 20)),
        replace(belt("a", "c", (10, 20)), id="x"),
        external_mesh("c", "d", (10, 10)),
        fixed("d", "b"),
    )
    solved = solve(train, {})
    assert not solved.locked
    flow = power_flow(train, {}, solved, {"b": -2.0})
    assert flow is not None
    assert not flow.determinate
    assert flow.power_in == pytest.approx(flow.power_out)


def test_a_self_locking_worm_is_not_driven_back() -> None:
    worm = worm_pair("w", "a", starts=1, teeth=24, sign=1, back_drivable=False)
    train = graph(worm, source="a")
    flow = power_flow(train, {}, solve(train, {}), {"w": -1.0})
    assert flow is not None
    assert flow.driven_back == (worm.id,)
    forwards = replace(train, source="w")
    assert power_flow(forwards, {}, solve(forwards, {}), {"a": -1.0}).driven_back == ()  # type: ignore[union-attr]


@st.composite
def trees(draw: st.DrawFn) -> tuple[Drivetrain, dict[str, float], float]:
    """Branching trains of meshes and joints with loads at their ends."""
    equations = []
    for number in range(1, draw(st.integers(2, 8))):
        parent = f"b{draw(st.integers(0, number - 1))}"
        teeth = (draw(st.integers(8, 40)), draw(st.integers(8, 40)))
        make = draw(st.sampled_from([external_mesh, internal_mesh, belt]))
        equations.append(make(parent, f"b{number}", teeth))
    train = graph(*equations, source="b0")
    speeds = solve(train, {}).speeds
    loads = {}
    for body in speeds:
        if body != "b0" and draw(st.booleans()):
            speed = float(speeds[body] or 0)
            loads[body] = -draw(st.floats(0.5, 20)) * (1 if speed > 0 else -1)
    return train, loads, draw(st.floats(0, 0.2))


@given(trees())
@settings(max_examples=60)
def test_power_in_is_power_out_and_losses(
    question: tuple[Drivetrain, dict[str, float], float],
) -> None:
    train, loads, loss = question
    assume(loads)
    flow = power_flow(train, {}, solve(train, {}), loads, mesh_loss=loss)
    assert flow is not None
    assert flow.power_in == pytest.approx(flow.power_out + flow.lost)
    assert flow.lost >= -1e-9
    for body in train.index:  # every body is in balance
        torque = sum(t for one in flow.through for b, t in one.torques if b == body)
        torque += loads.get(body, 0.0) + (flow.source_torque if body == "b0" else 0.0)
        assert torque == pytest.approx(0, abs=1e-6)


def rectifier() -> Drivetrain:
    """Two one-way clutches, one of them behind a reversing mesh: the output turns one way."""
    return graph(
        external_mesh("a", "b", (20, 20)),
        OneWay("plain", "a", "out"),
        OneWay("turned", "b", "out"),
        external_mesh("out", "brush", (10, 20)),
    )


@pytest.mark.parametrize("direction", [1, -1])
def test_two_one_way_clutches_make_one_way_of_both(direction: int) -> None:
    # domain fact of the function box: one of them behind a reversing mesh
    found = solve_one_way(rectifier(), {}, direction=direction)
    assert not found.solution.locked
    assert found.speed("a") == direction
    assert found.speed("out") == 1
    assert found.speed("brush") == -Fraction(1, 2)
    assert found.carrying == (("plain",) if direction == 1 else ("turned",))


def test_the_faster_of_two_drives_and_overruns_the_slower() -> None:
    train = graph(
        belt("a", "slow", (10, 20)),
        belt("a", "fast", (20, 10)),
        OneWay("one", "slow", "out"),
        OneWay("two", "fast", "out"),
    )
    forwards = solve_one_way(train, {})
    assert forwards.speed("out") == 2
    assert forwards.carrying == ("two",)
    backwards = solve_one_way(train, {}, direction=-1)
    assert (backwards.speed("out"), backwards.carrying) == (None, ())


def test_a_backstop_blocks_one_way_only() -> None:
    train = graph(OneWay("stop", "a", "frame"), held("frame"))
    assert solve_one_way(train, {}).solution.locked
    assert solve_one_way(train, {}).carrying == ("stop",)
    assert not solve_one_way(train, {}, direction=-1).solution.locked


def test_without_one_way_clutches_both_directions_mirror() -> None:
    train = graph(external_mesh("a", "b", (12, 20)), bevel_differential("b", "l", "r"))
    one, other = (solve_one_way(train, {}, STRAIGHT, direction=d) for d in (1, -1))
    for body in train.index:
        assert one.speed(body) == -(other.speed(body) or 0)


def test_too_many_one_way_clutches_are_refused() -> None:
    with refuses(
        GraphError, "drivetrain.one-way-clutches-are-more-than-the-that-are", count_of_clutches="13"
    ):
        solve_one_way(graph(*(OneWay(str(n), "a", f"o{n}") for n in range(13))), {})
    with refuses(GraphError, "drivetrain.couples-which-is-not-there-2", body="z"):
        Drivetrain((Body("a", "a", "shaft"),), (), "a", (OneWay("x", "a", "z"),))


@pytest.mark.parametrize(
    ("kind", "measure", "travel", "unit"),
    [
        ("rotation", 3.0, 1.0, "turns"),
        ("ring", 5.0, 0.2, "turns"),
        ("screw", 4.0, 4.0, "mm"),
        ("spool", 20.0, 62.8318531, "mm"),
        ("rack", 16.0, 50.2654825, "mm"),
    ],
)
def test_what_an_end_travels_in_a_turn(
    kind: OutputKind, measure: float, travel: float, unit: str
) -> None:
    """A lead, a circumference π d, or the share that a ring's ratio leaves."""
    found, said = travel_per_turn(kind, measure)
    assert found == pytest.approx(travel)
    assert said == unit
