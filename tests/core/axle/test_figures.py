"""Axle, steering, joints and the lesson on differentials, as audited, for states of all kinds."""

import pytest

from examples import example_vehicle
from mild_badger.core.axle.clearance import clearance, clearance_findings, hub_rise_mm
from mild_badger.core.axle.findings import running_findings
from mild_badger.core.axle.joint import double_ripple, joint_speed, single_ripple
from mild_badger.core.axle.lesson import (
    STEPS,
    Lesson,
    contact_distance_mm,
    let_go_deg,
    show_step,
    star_unevenness_percent,
)
from mild_badger.core.axle.road_state import (
    HeldWheel,
    LiftedWheel,
    Road,
    Straight,
    Turn,
    conditions,
    tyre_paths,
    wheel_path,
    wheel_ways,
)
from mild_badger.core.axle.rows import axle_rows, describe_torque
from mild_badger.core.axle.running import add_axle, plan_running, running_of, usual_running
from mild_badger.core.axle.shaft_line import line_choices, line_findings, shaft_line
from mild_badger.core.axle.steering import (
    arm_to,
    improve_arms,
    steer_at,
    steering_findings,
    steering_result,
    tyre_corners,
)
from mild_badger.core.axle.strength import (
    describe_strength,
    planet_limit_n,
    planet_loads,
    strength_findings,
)
from mild_badger.core.axle.suspension import ride, sag, suspension_findings
from mild_badger.core.driveline.assemble import assemble, shifter_state_for
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.errors import InputError
from mild_badger.core.vehicle.demo import DEMOS
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from pinned import hold

LESSONS = {
    "as it begins": Lesson(),
    "differing": Lesson(turn_deg=75, differ_deg=24, planets=3, arms=6),
    "behind": Lesson(turn_deg=200, differ_deg=-31, held=True, arms=3),
    "turning": Lesson(turn_deg=330, radius_mm=400, bar_mm=22, planets=4),
    "turning the other way": Lesson(turn_deg=15, radius_mm=-260, arms=2, gap_mm=12),
    "out of reach": Lesson(turn_deg=10, differ_deg=120, bar_mm=9, spoke_mm=11),
    "short": Lesson(turn_deg=45, differ_deg=60, bar_mm=30, arm_mm=16, spoke_mm=17, torque_n_mm=35),
}
ROADS: dict[str, Road] = {
    "straight": Straight(),
    "left": Turn(700, "left"),
    "right": Turn(450, "right"),
    "held": HeldWheel("right"),
    "lifted": LiftedWheel("left"),
}


@pytest.mark.parametrize("name", LESSONS)
def test_the_lesson_is_as_audited(name: str) -> None:
    lesson = LESSONS[name]
    figures = {
        "lets go": let_go_deg(lesson),
        "star": star_unevenness_percent(lesson),
        "steps": [show_step(step, lesson) for step in range(len(STEPS))],
        "contact": [contact_distance_mm(lesson, deg) for deg in (0, 7, 20, 33)],
    }
    hold(__file__, f"lesson-{name.replace(' ', '-')}", figures)


def planned(name: str, *, axles: int = 0) -> Vehicle:
    vehicle = example_vehicle(name)
    if vehicle.running is None:
        vehicle = apply_edit(vehicle, plan_running(vehicle))
    for _ in range(axles):
        vehicle = apply_edit(vehicle, add_axle(vehicle))
    return vehicle


@pytest.mark.parametrize("name", DEMOS)
def test_the_running_gear_of_every_demo_is_as_audited(name: str) -> None:
    vehicle = planned(name)
    shape = running_of(vehicle).shape
    raised = shape.model_copy(update={"hub": "raised", "rise_mm": 6.0})
    geared = shape.model_copy(update={"hub": "geared"})
    overall = {gear.id: 12.0 + 3 * n for n, gear in enumerate(vehicle.real.gears)}
    figures = {
        "usual": usual_running(vehicle),
        "clearance": clearance(vehicle),
        "sagging": clearance(vehicle, sag_mm=4.0),
        "raised": clearance(vehicle, raised),
        "geared": clearance(vehicle, geared),
        "rise": [hub_rise_mm(vehicle, s) for s in (shape, raised, geared)],
        "sag": sag(vehicle),
        "ride": ride(vehicle),
        "line": shaft_line(vehicle),
        "choices": line_choices(vehicle),
        "limit": planet_limit_n(vehicle),
        "loads": planet_loads(vehicle, overall),
        "shares": [load.share_percent(7.0) for load in planet_loads(vehicle, overall)],
        "strength": describe_strength(vehicle, overall),
        "faults": [
            fault
            for faults in (
                running_findings(vehicle, overall),
                strength_findings(vehicle, overall),
                clearance_findings(vehicle),
                suspension_findings(vehicle),
                line_findings(vehicle),
                steering_findings(vehicle),
            )
            for fault in faults
        ],
    }
    hold(__file__, f"running-{name}", figures)


@pytest.mark.parametrize("name", ["larkholm-mail-bus", "larkholm-crane-truck"])
def test_steering_is_as_audited(name: str) -> None:
    vehicle = planned(name)
    steering = running_of(vehicle).steering
    states = {
        f"{rack} {drop}": steer_at(vehicle, rack, drop_mm=drop)
        for rack in (-8.0, -3.0, 0.0, 2.0, 6.0, 40.0)
        for drop in (0.0, 3.0)
    }
    better = apply_edit(vehicle, improve_arms(vehicle))
    figures = {
        "result": steering_result(vehicle),
        "states": states,
        "corners": [tyre_corners(vehicle, steering, side, 17.0) for side in (1, -1)],
        "arm": arm_to(vehicle, steering, (-20.0, 30.0)),
        "improved": [running_of(better).steering, steering_result(better)],
    }
    hold(__file__, f"steering-{name}", figures)


@pytest.mark.parametrize("axles", [0, 1, 2])
@pytest.mark.parametrize("kind", ["open", "locked", "none", "planetary"])
def test_axles_on_the_road_are_as_audited(kind: str, axles: int) -> None:
    vehicle = planned("larkholm-mail-bus", axles=axles)
    vehicle = apply_edit(vehicle, Edit.one("", ("differential", "kind"), kind))
    if axles:
        vehicle = apply_edit(vehicle, Edit.one("", ("additional_axles", 0, "centre"), "open"))
    figures: dict[str, object] = {}
    train, sleeves = assemble(vehicle), shifter_state_for(vehicle, "3")
    for road_name, road in ROADS.items():
        for locked in (False, True):
            try:
                solution = solve(train, sleeves, conditions(vehicle, road, locked=locked))
            except InputError as error:
                figures[f"{road_name} {locked}"] = str(error)
                continue
            figures[f"{road_name} {locked}"] = {
                "rows": axle_rows(vehicle, solution, road, 900.0),
                "neutral": axle_rows(vehicle, solution, road, None)[0],
                "words": describe_torque(vehicle, road, locked=locked),
                "ways": wheel_ways(vehicle, road),
                "paths": [wheel_path(vehicle, road, side) for side in ("left", "right")],
                "tyres": tyre_paths(vehicle, road, locked=locked)
                if isinstance(road, Turn)
                else None,
            }
    hold(__file__, f"road-{kind}-{axles}", figures)


def test_joints_are_as_audited() -> None:
    figures = {
        "speeds": [[joint_speed(b, t) for t in (0.0, 0.4, 1.1, 1.57, 3.0)] for b in (5, 20, 45)],
        "single": [single_ripple(b) for b in (0, 12, 30)],
        "percent": [single_ripple(b).percent for b in (0, 12, 30)],
        "double": [double_ripple(a, b, p) for a, b, p in ((20, 20, 0), (20, 20, 90), (25, 10, 30))],
    }
    hold(__file__, "joints", figures)


def test_a_turn_outlasts_the_bar_as_its_radius_says() -> None:
    """The wheels drift apart by track / radius of their turning: it lets go after 2 φ R / t."""
    lesson = LESSONS["turning"]
    lasts = dict(show_step(1, lesson).figures)["which lasts for"]
    degrees_turned = 2 * let_go_deg(lesson) * (lesson.radius_mm or 0) / lesson.track_mm
    assert lasts.startswith(f"{degrees_turned:.0f}°")
