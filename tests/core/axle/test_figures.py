"""Axle, steering and joints, as audited, for states of all kinds."""

import pytest

from examples import example_vehicle
from mild_badger.core.axle.clearance import clearance, clearance_findings, hub_rise_mm
from mild_badger.core.axle.findings import running_findings
from mild_badger.core.axle.joint import double_ripple, joint_speed, single_ripple
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

ROADS: dict[str, Road] = {
    "straight": Straight(),
    "left": Turn(700, "left"),
    "right": Turn(450, "right"),
    "held": HeldWheel("right"),
    "lifted": LiftedWheel("left"),
}


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
