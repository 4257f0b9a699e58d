"""Steering in motion: wheels about kingpins, rods that reach, joints as uneven as they are."""

from dataclasses import replace
from functools import cache
from math import cos, degrees, hypot, pi, radians, sin

import numpy as np
import pytest

from mild_badger.core.axle.joint import double_ripple, joint_speed
from mild_badger.core.axle.road_state import Straight, Turn
from mild_badger.core.axle.running import add_axle, running_of
from mild_badger.core.axle.steering import rack_for, road_at, steer_at, steer_share, steering_result
from mild_badger.core.components.component import Component
from mild_badger.core.components.equipment import line_touching
from mild_badger.core.components.solids import solid_of
from mild_badger.core.components.steering_parts import kingpin_mm
from mild_badger.core.scene.mesh import pose_of
from mild_badger.core.scene.stage import Stage, stage_of
from mild_badger.core.scene.steered import Steered, steered
from mild_badger.core.vehicle.demo import demo_vehicle
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.model import Vehicle

TRACTOR, BUS = "larkholm-timber-tractor", "larkholm-mail-bus"
SAMPLES = 720


@cache
def driven(faces: str = "rear") -> Vehicle:
    """A tractor whose front axle is driven too."""
    vehicle = demo_vehicle(TRACTOR)
    vehicle = apply_edit(vehicle, add_axle(vehicle))
    shifting = vehicle.shifting.model_copy(update={"box_faces": faces})
    return vehicle.model_copy(update={"shifting": shifting})


@cache
def staged(faces: str = "rear") -> Stage:
    vehicle = driven(faces)
    stage = stage_of(vehicle, vehicle.real.gears[1].id, whole=True)
    assert stage is not None
    return stage


def at(vehicle: Vehicle, stage: Stage, rack_mm: float) -> Steered:
    found = steered(vehicle, stage.parts, rack_mm)
    assert found is not None
    return found


def row(stage: Stage, kind: str, knuckle: str) -> int:
    return next(
        n for n, part in enumerate(stage.parts) if part.kind == kind and part.knuckle == knuckle
    )


def turned(found: Steered, stage: Stage, motor: float) -> tuple[tuple[Component, ...], np.ndarray]:
    return found.turned(found.shown(stage.parts), stage.turns * motor)


@pytest.mark.parametrize("side", ["left", "right"])
@pytest.mark.parametrize("rack_mm", [-8.0, 5.0])
def test_a_steered_driven_wheel_is_as_uneven_as_its_joint(side: str, rack_mm: float) -> None:
    vehicle, stage = driven(), staged()
    found = at(vehicle, stage, rack_mm)
    wheel = row(stage, "wheel", side)
    bend = abs(found.state.left_deg if side == "left" else found.state.right_deg)
    assert bend > 5
    per_turn = 2 * pi / abs(stage.turns[wheel])  # turns of the motor for one of the wheel
    steps = np.arange(SAMPLES + 1) * per_turn / SAMPLES
    angles = np.array([turned(found, stage, step)[1][wheel] for step in steps])
    even = steps * stage.turns[wheel]
    # over a whole turn it is the solver's speed
    assert abs(angles[-1] - angles[0]) == pytest.approx(2 * pi, abs=1e-9)
    # unturned the driving fork lies in the plane of the two shafts: there the speed is greatest
    speeds = np.diff(angles) / np.diff(even)
    middle = (even[:-1] + even[1:]) / 2
    known = np.array([joint_speed(bend, turn) for turn in middle])
    assert speeds == pytest.approx(known, abs=1e-4)
    assert speeds.max() > 1.003


def test_with_wheels_straight_all_turn_evenly() -> None:
    vehicle, stage = driven(), staged()
    parts, angles = turned(at(vehicle, stage, 0.0), stage, 0.37)
    for number, part in enumerate(parts):
        if part.kind == "wheel":
            assert angles[number] == pytest.approx(0.37 * stage.turns[number], abs=1e-9)


@pytest.mark.parametrize(
    ("first", "second", "phase"), [(20.0, 20.0, 0.0), (30.0, 15.0, 0.0), (25.0, 25.0, 90.0)]
)
def test_the_column_wavers_as_its_two_joints_do(first: float, second: float, phase: float) -> None:
    vehicle = demo_vehicle(TRACTOR)
    assert vehicle.running is not None
    steering = vehicle.running.steering.model_copy(
        update={"column_deg": first, "column_second_deg": second, "column_phase_deg": phase}
    )
    vehicle = vehicle.model_copy(
        update={"running": vehicle.running.model_copy(update={"steering": steering})}
    )
    stage = stage_of(vehicle, None, whole=True)
    assert stage is not None
    found = at(vehicle, stage, 0.0)
    lower = next(n for n, p in enumerate(stage.parts) if p.id == "steering column lower")
    wheel = next(n for n, p in enumerate(stage.parts) if p.kind == "steering wheel")
    steps = np.arange(SAMPLES + 1) * 2 * pi / SAMPLES
    angles = []
    for step in steps:  # turned on by the pinion, whatever the rack
        turns = np.zeros(len(stage.parts))
        turns[lower] = step
        angles.append(found.turned(found.shown(stage.parts), turns)[1][wheel])
    speeds = np.diff(angles) / np.diff(steps)
    known = double_ripple(first, second, phase)
    assert speeds.max() == pytest.approx(known.most, abs=2e-4)
    assert speeds.min() == pytest.approx(known.least, abs=2e-4)


def ends(part: Component) -> tuple[np.ndarray, np.ndarray]:
    """The middles of a bar's eyes, in the frame, seen from above."""
    long = max(x for prism in part.solid for x, _ in prism.outlines[0])
    place = np.array((part.x_mm, part.y_mm, -part.along_mm))
    return place[[0, 2]], (place + pose_of(part) @ np.array((long, 0.0, 0.0)))[[0, 2]]


@pytest.mark.parametrize("faces", ["rear", "front"])
@pytest.mark.parametrize("share", [-1.0, -0.4, 0.7])
def test_rods_reach_from_the_rack_to_arms_that_turn_with_the_wheels(
    faces: str, share: float
) -> None:
    vehicle, stage = driven(faces), staged(faces)
    rack = share * steering_result(vehicle).rack_travel_mm
    found, straight = at(vehicle, stage, rack), at(vehicle, stage, 0.0)
    known = {str(part.id): part for part in found.shown(stage.parts)}
    before = {str(part.id): part for part in straight.shown(stage.parts)}
    bar = known["steering rack"]
    # ahead and to the driver's left, in the frame
    left = 1.0 if faces == "rear" else -1.0
    assert (bar.x_mm - before["steering rack"].x_mm) * -left == pytest.approx(rack)
    for side, sign in (("left", -1.0), ("right", 1.0)):
        rod, arm = known[f"steering rod {side}"], known[f"steering arm {side}"]
        assert ends(rod)[1] == pytest.approx(ends(arm)[1], abs=1e-9)
        far = np.array((-left * sign * running_of(vehicle).steering.rack_mm / 2, 0.0))
        assert ends(rod)[0] == pytest.approx(np.array((bar.x_mm, -bar.along_mm)) + far, abs=1e-9)
        turned_by = degrees(arm.yaw_rad - before[str(arm.id)].yaw_rad)
        state = found.state
        angle = state.left_deg if side == "left" else state.right_deg
        assert (turned_by + 180) % 360 - 180 == pytest.approx(angle, abs=1e-9)
        # the wheel goes round its kingpin by as much, as far off it as it was
        wheel = next(p for p in known.values() if p.kind == "wheel" and p.knuckle == side)
        flat = next(p for p in before.values() if p.id == wheel.id)
        assert degrees(wheel.yaw_rad - flat.yaw_rad) == pytest.approx(angle, abs=1e-9)
        kingpin = known[f"kingpin {side}"]
        off = hypot(wheel.x_mm - kingpin.x_mm, wheel.along_mm - kingpin.along_mm)
        assert off == pytest.approx(running_of(vehicle).steering.kingpin_mm, abs=1e-9)
        # pointed to the left (positive) its front comes to the left
        ahead = np.array((sin(radians(angle)) * left, cos(radians(angle)) * left))
        axis = pose_of(wheel) @ np.array((0.0, 0.0, 1.0))
        assert abs(float(ahead @ axis[[0, 2]])) < 1e-9


def overlap_mm3(one: Component, other: Component) -> float:
    return float((solid_of(one) ^ solid_of(other)).volume())


@pytest.mark.parametrize("rack_mm", [-9.0, 3.0, 9.0])
def test_forks_and_crosses_turn_clear_of_one_another(rack_mm: float) -> None:
    vehicle, stage = driven(), staged()
    state = steer_at(vehicle, rack_mm)
    assert state is not None
    found = at(vehicle, stage, rack_mm)
    kinds = ("joint yoke", "joint cross", "steering column", "wheel", "half shaft")
    for motor in (0.0, 0.31, 1.7, 4.9):
        parts, angles = turned(found, stage, motor)
        there = [
            replace(part, turn_rad=part.turn_rad + angle)
            for part, angle in zip(parts, angles, strict=True)
            if part.kind in kinds and (part.knuckle or part.joint or "yoke" in part.id)
        ]
        assert sum(part.kind == "joint cross" for part in there) == 4
        for n, one in enumerate(there):
            for other in there[n + 1 :]:
                if one.joint == other.joint and one.kind == other.kind == "steering column":
                    continue
                assert overlap_mm3(one, other) < 0.5, (one.id, other.id, motor)


@pytest.mark.parametrize("name", [TRACTOR, BUS])
def test_the_pinion_meshes_with_the_rack_wherever_it_is(name: str) -> None:
    vehicle = demo_vehicle(name)
    stage = stage_of(vehicle, None, whole=True)
    assert stage is not None
    for rack_mm in (0.0, 1.3, -4.1, 6.0):
        known = {str(part.id): part for part in at(vehicle, stage, rack_mm).shown(stage.parts)}
        rack, pinion = known["steering rack"], known["steering pinion"]
        assert overlap_mm3(rack, pinion) < 0.5
        # they are in mesh: half a tooth farther round the pinion runs into the rack
        half = replace(
            pinion, turn_rad=pinion.turn_rad + pi / running_of(vehicle).steering.pinion_teeth
        )
        assert overlap_mm3(rack, half) > 3.0


def test_joints_in_the_wheels_touch_nothing_of_the_way_to_them() -> None:
    touching = {name for pair in line_touching(driven()) for name in pair[:2]}
    assert not {name for name in touching if "yoke" in name or "cross" in name or "outer" in name}


def test_where_no_running_gear_is_planned_nothing_is_steered() -> None:
    vehicle = demo_vehicle(TRACTOR).model_copy(update={"running": None})
    stage = stage_of(vehicle, None, whole=True)
    assert stage is not None
    assert steered(vehicle, stage.parts) is None
    box = stage_of(demo_vehicle(TRACTOR), None)
    assert box is not None
    assert steered(demo_vehicle(TRACTOR), box.parts) is None


@pytest.mark.parametrize("share", [-1.0, -0.3, 0.5, 1.0])
def test_the_rack_stands_where_the_driven_turn_has_it(share: float) -> None:
    vehicle = demo_vehicle(TRACTOR)
    road, travel = road_at(vehicle, share), steering_result(vehicle).rack_travel_mm
    assert isinstance(road, Turn)
    assert steer_share(vehicle, road) == pytest.approx(share, abs=0.005)
    rack = rack_for(vehicle, road)
    assert abs(rack) == pytest.approx(abs(share) * travel, abs=0.02)
    state = steer_at(vehicle, np.copysign(share * travel, rack))
    assert state is not None
    assert road.towards == ("right" if share > 0 else "left")
    # the outer wheel's way, told by the steering itself, goes round the same centre
    base, half = vehicle.axle.wheelbase_mm, kingpin_mm(vehicle)
    assert state.outer_radius_mm is not None
    outer = state.outer_radius_mm - running_of(vehicle).steering.kingpin_mm
    assert hypot(base, road.radius_mm + half) == pytest.approx(outer, rel=1e-9)
    assert (road.towards == "left") == (state.left_deg > 0)
    assert rack_for(vehicle, Straight()) == 0.0
    assert road_at(vehicle, 0.0) == Straight()


@pytest.mark.parametrize("kingpin_mm", [0.0, 60.0, 400.0])
@pytest.mark.parametrize("rack_mm", [1.0, 90.0])
def test_odd_sizes_still_make_solids(kingpin_mm: float, rack_mm: float) -> None:
    vehicle = driven()
    assert vehicle.running is not None
    changed = {"kingpin_mm": kingpin_mm, "rack_mm": rack_mm, "travel_mm": 900.0}
    steering = vehicle.running.steering.model_copy(update=changed)
    running = vehicle.running.model_copy(update={"steering": steering})
    stage = stage_of(vehicle.model_copy(update={"running": running}), None, whole=True)
    assert stage is not None
    for part in stage.parts:
        if part.knuckle or "steering" in part.id or part.kind.startswith("joint"):
            assert solid_of(part).volume() > 0, part.id
