"""What moves in the picture: the drivetrain's exact speeds, teeth in mesh, the shifter's ways."""

from dataclasses import replace
from math import pi, radians

import numpy as np
import pytest

from mild_badger.core.axle.road_state import Straight, conditions
from mild_badger.core.components.box import box_components
from mild_badger.core.components.proof import allowed_mm, overlap_of
from mild_badger.core.components.solids import solid_of
from mild_badger.core.components.vehicle_parts import levers_of, main_components
from mild_badger.core.driveline.assemble import assemble, box_output, shifter_state_for
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.performance.motor import torque_at
from mild_badger.core.performance.power import body_torques, power_table
from mild_badger.core.scene.mesh import placed_corners, scene_of
from mild_badger.core.scene.motion import (
    alongs_of,
    between,
    drum_turns,
    shift_to,
    shifted,
    turns_of,
)
from mild_badger.core.scene.stage import stage_of
from mild_badger.core.shift.drum import drum_layout
from mild_badger.core.vehicle.demo import demo_vehicle

SWEEPER, TRACTOR = "larkholm-street-sweeper", "larkholm-timber-tractor"


@pytest.mark.parametrize("demo", [SWEEPER, TRACTOR])
def test_every_part_turns_as_the_drivetrain_is_solved(demo: str) -> None:
    vehicle = demo_vehicle(demo)
    box = box_components(vehicle)
    assert box is not None
    for gear in [gear.id for gear in vehicle.real.gears]:
        speeds = solve(assemble(vehicle), shifter_state_for(vehicle, gear)).speeds
        turns = turns_of(vehicle, box.components, gear)
        for part, turn in zip(box.components, turns, strict=True):
            known = [speeds[body] for body in part.bodies if speeds.get(body) is not None]
            # forwards is clockwise from the input end, angles count the other way
            expected = -2 * pi * float(known[0] or 0) if known and not part.across else 0.0
            assert turn == pytest.approx(expected)


@pytest.mark.parametrize(("demo", "motor_turns"), [(SWEEPER, 0.137), (TRACTOR, 1.618)])
def test_teeth_in_mesh_interlock_at_any_angle(demo: str, motor_turns: float) -> None:
    vehicle = demo_vehicle(demo)
    box = box_components(vehicle)
    assert box is not None
    gear = vehicle.real.gears[1].id
    turns = turns_of(vehicle, box.components, gear)
    posed = {
        str(part.id): replace(part, turn_rad=part.turn_rad + turn * motor_turns)
        for part, turn in zip(box.components, turns, strict=True)
    }
    moving = {part.id for part, turn in zip(box.components, turns, strict=True) if turn}
    seen = 0
    for mesh in box.meshes:
        if {mesh.one, mesh.other} <= moving:
            found = overlap_of(solid_of(posed[mesh.one]), solid_of(posed[mesh.other]))
            assert found is None or found[1] <= allowed_mm(vehicle.kit.module_mm, meshing=True)
            seen += 1
    assert seen >= 2


@pytest.mark.parametrize("demo", [SWEEPER, TRACTOR])
def test_sleeves_and_levers_arrive_where_the_gear_has_them(demo: str) -> None:
    vehicle = demo_vehicle(demo)
    levers, box = levers_of(vehicle), main_components(vehicle)
    assert box is not None
    gears = [gear.id for gear in vehicle.real.gears]
    one, other = (shift_to(vehicle, gear, levers) for gear in (gears[0], gears[2]))
    assert between(one, other, 0.0) == one
    assert between(one, other, 1.0) == other
    middle = between(one, other, 0.5)
    assert middle.travel == {}  # across in neutral only
    there = main_components(vehicle, gears[2])
    assert there is not None
    for mine, posed in zip(shifted(box.components, other, levers), there.components, strict=True):
        assert (mine.turn_rad, mine.lean_rad, mine.x_mm) == pytest.approx(
            (posed.turn_rad, posed.lean_rad, posed.x_mm)
        )
    moved = alongs_of(box.components, other)
    far = vehicle.lever.fork_travel_mm
    assert set(np.abs(moved[moved != 0])) == {far}


def test_a_stage_tells_path_and_speeds_and_neutral_has_no_path() -> None:
    vehicle = demo_vehicle(SWEEPER)
    stage = stage_of(vehicle, vehicle.real.gears[0].id, 100.0)
    assert stage is not None
    run = [part for part, role in zip(stage.parts, stage.roles, strict=True) if role == "run"]
    assert {"gear", "sleeve", "fork", "shift arm"} <= {part.kind for part in run}
    shaft = next(part for part in stage.parts if part.id == "input.1")
    assert stage.rpm_of(shaft) == pytest.approx(100.0)
    neutral = stage_of(vehicle, None)
    assert neutral is not None
    assert set(neutral.roles) == {"idle"}


@pytest.mark.parametrize("demo", [SWEEPER, TRACTOR])
def test_the_path_is_where_the_power_goes_and_torques_are_those_of_the_table(demo: str) -> None:
    vehicle = demo_vehicle(demo)
    for gear in [gear.id for gear in vehicle.real.gears]:
        rpm = vehicle.motor.working_rpm
        torques = body_torques(vehicle, gear, rpm)
        table = power_table(vehicle, gear, rpm)
        assert table is not None
        stage = stage_of(vehicle, gear, rpm, torques)
        assert stage is not None
        on = [p for p, role in zip(stage.parts, stage.roles, strict=True) if role != "idle"]
        # every gear on the way turns, and the last of them carries what the table's last mesh gives
        assert all(stage.rpm_of(part) for part in on if part.kind == "gear")
        assert torques["input.1"] == pytest.approx(
            torque_at(vehicle.motor, rpm) * vehicle.motor.count, rel=1e-6
        )
        out = torques[box_output(vehicle)]
        sizes = [line.torque_in_n_mm for line in table.lines] + [
            line.torque_out_n_mm for line in table.lines
        ]
        assert any(size == pytest.approx(out, rel=1e-6) for size in sizes)
        off = [p for p in stage.parts if p.kind == "gear" and p not in on]
        assert not any(stage.torque_of(part) for part in off)


@pytest.mark.parametrize("faces", ["rear", "front"])
def test_wheels_roll_forwards_in_a_forward_gear(faces: str) -> None:
    tractor = demo_vehicle(TRACTOR)
    vehicle = tractor.model_copy(
        update={"shifting": tractor.shifting.model_copy(update={"box_faces": faces})}
    )
    gear = vehicle.real.gears[0].id
    road = conditions(vehicle, Straight(), locked=False)
    speeds = solve(assemble(vehicle), shifter_state_for(vehicle, gear), road)
    stage = stage_of(vehicle, gear, whole=True)
    assert stage is not None
    wheels = [n for n, part in enumerate(stage.parts) if part.kind == "wheel" and part.bodies]
    assert len(wheels) == 2
    scene = scene_of(stage.parts)
    still = np.zeros(len(stage.parts))
    before = placed_corners(scene, stage.parts, still, still)
    after = placed_corners(scene, stage.parts, 0.001 * stage.turns, still)
    forward = 1.0 if faces == "rear" else -1.0  # towards the input end, or away from it
    for n in wheels:
        turns = speeds.speeds[stage.parts[n].bodies[0]]
        assert turns
        own = slice(scene.starts[n], scene.starts[n + 1])
        top = before[own, 1].argmax()
        way = (after[own] - before[own])[top, 2]
        assert way * forward * float(turns) > 0  # over the axle it goes the way the vehicle does


def test_a_drum_turns_from_gear_to_gear_and_its_tracks_move_the_followers() -> None:
    tractor = demo_vehicle(TRACTOR)
    shifting = tractor.shifting.model_copy(update={"actuation": "drum"})
    vehicle = tractor.model_copy(update={"shifting": shifting})
    box = box_components(vehicle)
    assert box is not None
    layout = drum_layout(vehicle)
    first, last = layout.positions[0], layout.positions[-1]
    one, other = (shift_to(vehicle, p.gear, ()) for p in (first, last))
    assert (one.drum_deg, other.drum_deg) == (first.angle_deg, last.angle_deg)
    drum = next(n for n, part in enumerate(box.components) if part.kind == "drum")
    for share in (0.0, 0.31, 0.5, 0.77, 1.0):
        now = between(one, other, share)
        angle = first.angle_deg + share * (last.angle_deg - first.angle_deg)
        for track in layout.tracks:
            assert now.travel.get(track.sleeve, 0.0) == pytest.approx(track.travel_at(angle))
        part = box.components[drum]
        turned = part.turn_rad + drum_turns(box.components, now)[drum]
        assert turned == pytest.approx(radians(angle))
        for follower in (p for p in box.components if p.kind == "follower"):
            moved = solid_of(follower, now.travel)
            found = overlap_of(solid_of(replace(part, turn_rad=turned)), moved)
            assert found is None or found[1] <= 0.02
