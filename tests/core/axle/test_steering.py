"""Steering against Ackermann's worked values, an independent constraint solver, and symmetry."""

from math import cos, hypot, pi, radians, sin

import pytest
from scipy.optimize import fsolve

from examples import example_vehicle
from mild_badger.core.axle.joint import (
    double_ripple,
    fluctuation_percent,
    joint_speed,
    single_ripple,
)
from mild_badger.core.axle.running import plan_running, running_of
from mild_badger.core.axle.steering import (
    ideal_outer_deg,
    improve_arms,
    steer_at,
    steering_result,
)
from mild_badger.core.errors import InputError
from mild_badger.core.evaluate import evaluate
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.model import Vehicle
from telling import refuses, tells


def steered(vehicle: Vehicle | None = None, **changes: object) -> Vehicle:
    made = tuple(Change(("running", "steering", name), value) for name, value in changes.items())
    return apply_edit(vehicle or example_vehicle(), Edit("", made))


@pytest.mark.parametrize(
    ("wheelbase", "width", "inner", "outer"),
    [
        (2.7, 1.2, 26.5651, 22.2490),
        (2.5, 1.5, 30.4655, 23.4986),
        (144, 96, 22.2490, 17.8189),
        (128, 112, 35.0, 23.4699),
    ],
)
def test_ackermanns_worked_values(
    wheelbase: float, width: float, inner: float, outer: float
) -> None:
    """From cot δo − cot δi = w/L (Khurmi & Gupta; Gillespie), in our reference values."""
    assert ideal_outer_deg(inner, width, wheelbase) == pytest.approx(outer, abs=1e-3)


def constrained(vehicle: Vehicle, rack_mm: float) -> tuple[float, float]:
    """Solve both wheels anew: each rod keeps its length, angles by fsolve from straight ahead."""
    s = running_of(vehicle).steering
    half = vehicle.axle.track_mm / 2 - s.kingpin_mm
    tilt, way = radians(s.arm_angle_deg), 1 if s.rack_offset_mm > 0 else -1

    def ends(side: int, turned: float) -> tuple[float, float]:
        # the arm leans to the middle where it trails, away from it where it leads
        x, y = side * way * s.arm_mm * sin(tilt), way * s.arm_mm * cos(tilt)
        return (side * half + x * cos(turned) - y * sin(turned), x * sin(turned) + y * cos(turned))

    found = []
    for side in (-1, 1):
        joint0 = (side * s.rack_mm / 2, s.rack_offset_mm)
        x0, y0 = ends(side, 0.0)
        length = hypot(x0 - joint0[0], y0 - joint0[1])

        def off(a: float, side: int = side, length: float = length) -> float:
            x, y = ends(side, float(a[0]))  # type: ignore[index]
            return hypot(x - side * s.rack_mm / 2 - rack_mm, y - s.rack_offset_mm) - length

        found.append(float(fsolve(off, [rack_mm / s.arm_mm], xtol=1e-12)[0]) * 180 / pi)
    return found[0], found[1]


@pytest.mark.parametrize("rack", [-6.0, -2.5, 0.0, 1.0, 4.0, 8.0])
def test_the_solver_agrees_with_an_independent_one(rack: float) -> None:
    for vehicle in (example_vehicle(), steered(rack_offset_mm=13.0, arm_angle_deg=8.0)):
        state = steer_at(vehicle, rack)
        assert state is not None
        left, right = constrained(vehicle, rack)
        assert state.left_deg == pytest.approx(left, abs=1e-7)
        assert state.right_deg == pytest.approx(right, abs=1e-7)
        for end, joint in state.joints:  # every rod keeps its length
            rod = steering_result(vehicle).rod_mm
            assert hypot(end[0] - joint[0], end[1] - joint[1]) == pytest.approx(rod)


def test_left_is_right_in_a_mirror() -> None:
    found = steering_result(example_vehicle())
    for one, other in zip(found.states, reversed(found.states), strict=True):
        assert one.rack_mm == pytest.approx(-other.rack_mm)
        assert one.left_deg == pytest.approx(-other.right_deg)
        assert one.error_deg == pytest.approx(other.error_deg)
    middle = found.states[len(found.states) // 2]
    assert (middle.left_deg, middle.right_deg) == pytest.approx((0, 0), abs=1e-9)
    assert middle.outer_radius_mm is None


def test_turns_of_the_wheel_and_what_stops_it() -> None:
    bus = example_vehicle()
    found = steering_result(bus)
    steering = running_of(bus).steering
    # the rack moves π m z a turn of its pinion (m = 1 mm, z = 8)
    assert found.pinion_turns == pytest.approx(2 * steering.travel_mm / (pi * 8))
    assert found.stop == say("axle.the-racks-end")
    stopped = steering_result(steered(stop_deg=20.0))
    assert stopped.stop == say("axle.the-stop-at-the-knuckles")
    assert 15 < stopped.lock_deg <= 20
    wide = apply_edit(bus, Edit.one("", ("running", "chassis", "half_width_mm"), 45.0))
    assert steering_result(wide).stop == say("axle.a-tyre-at-the-chassis")
    assert steering_result(wide).lock_deg < found.lock_deg
    block = steering_result(steered(pinion_block_mm=33.0))
    assert block.stop == say("axle.the-racks-joint-at-the-pinion")
    assert block.rack_travel_mm == pytest.approx(steering.rack_mm / 2 - 33.0)
    long = steering_result(steered(travel_mm=40.0))
    assert long.stop in (
        say("axle.a-tie-rod-in-line-with-its-arm"),
        say("axle.a-tyre-at-the-chassis"),
    )


def test_what_cannot_turn_is_a_finding_with_its_figure() -> None:
    short = steered(rod_mm=2.0)
    found = steering_result(short)
    assert tells(found.problem, "axle.the-tie-rods-do-not-reach-no-place-of-the")
    assert [f.title for f in evaluate(short).findings if f.code == "steering-stuck"] == [
        say("axle.the-steering-cannot-turn")
    ]
    with refuses(InputError, "axle.mend-that-first"):
        improve_arms(short)
    small = evaluate(steered(travel_mm=3.0))
    note = next(f for f in small.findings if f.code == "small-lock")
    assert note.figure is not None
    assert note.figure < 25
    driven = evaluate(steered(driven=True, joint_limit_deg=25.0))
    joint = next(f for f in driven.findings if f.code == "joint-angle")
    assert joint.mend is not None
    mended = apply_edit(driven.vehicle, joint.mend)
    assert "joint-angle" not in {f.code for f in evaluate(mended).findings}


def test_arms_are_improved_without_losing_lock() -> None:
    for name in ("larkholm-mail-bus", "larkholm-timber-tractor"):
        vehicle = steered(example_vehicle(name), arm_angle_deg=0.0)
        before = steering_result(vehicle)
        after = steering_result(apply_edit(vehicle, improve_arms(vehicle)))
        assert abs(after.worst_error_deg) < abs(before.worst_error_deg)
        assert after.lock_deg >= 0.89 * before.lock_deg


def test_new_vehicles_get_usual_proportions_that_work() -> None:
    vehicle = example_vehicle("larkholm-street-sweeper")
    assert vehicle.running is None
    assert "small-lock" not in {f.code for f in evaluate(vehicle).findings}
    planned = apply_edit(vehicle, plan_running(vehicle))
    assert planned.running == running_of(vehicle)
    assert steering_result(planned).lock_deg > 30


@pytest.mark.parametrize(
    ("bend", "most", "least", "fluctuation", "at_30", "at_60", "wrong"),
    [
        (10, 1.015427, 0.984808, 3.0619, 1.007595, 0.992288, (1.0311, 0.9698)),
        (20, 1.064178, 0.939693, 12.4485, 1.030064, 0.968001, (1.1325, 0.8830)),
        (30, 1.154701, 0.866025, 28.8675, 1.065877, 0.923760, (1.3333, 0.7500)),
    ],
)
def test_universal_joints_as_in_the_handbook(
    bend: float,
    most: float,
    least: float,
    fluctuation: float,
    at_30: float,
    at_60: float,
    wrong: tuple[float, float],
) -> None:
    """Shigley; Norton: ω2/ω1 = cos β / (1 − sin² β cos² θ); extremes by 3D vectors as well."""
    found = single_ripple(bend)
    assert (found.most, found.least) == pytest.approx((most, least), abs=1e-6)
    assert fluctuation_percent(bend) == pytest.approx(fluctuation, abs=1e-4)
    assert joint_speed(bend, radians(30)) == pytest.approx(at_30, abs=1e-6)
    assert joint_speed(bend, radians(60)) == pytest.approx(at_60, abs=1e-6)
    even = double_ripple(bend, bend)
    assert (even.most, even.least) == pytest.approx((1, 1), abs=1e-9)
    uneven = double_ripple(bend, bend, 90.0)
    assert (uneven.most, uneven.least) == pytest.approx(wrong, abs=2e-4)
