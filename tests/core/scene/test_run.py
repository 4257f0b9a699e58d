"""The played run in space: shifter and sleeves as the run has them, nothing jumps, dogs meet."""

from itertools import pairwise
from math import tau

import numpy as np
import pytest

from mild_badger.core.components.component import Component
from mild_badger.core.components.vehicle_parts import levers_of, main_components
from mild_badger.core.driveline.assemble import assemble
from mild_badger.core.drivetrain.graph import Coupling
from mild_badger.core.evaluate import evaluate
from mild_badger.core.scene.mesh import Floats
from mild_badger.core.scene.motion import shift_to, turns_of
from mild_badger.core.scene.run import output_spans, shift_at
from mild_badger.core.scene.settle import settled
from mild_badger.core.shift.sequence import play, usual_run
from mild_badger.core.vehicle.demo import demo_vehicle
from mild_badger.core.vehicle.model import Vehicle

BUS, SWEEPER, TRACTOR = "larkholm-mail-bus", "larkholm-street-sweeper", "larkholm-timber-tractor"


def parts_of(vehicle: Vehicle) -> tuple[Component, ...]:
    box = main_components(vehicle)
    assert box is not None
    return box.components


@pytest.mark.parametrize("demo", [BUS, SWEEPER, TRACTOR])
def test_with_a_gear_in_the_run_stands_as_the_engaged_gear_does(demo: str) -> None:
    vehicle = demo_vehicle(demo)
    levers = levers_of(vehicle)
    played = play(vehicle, usual_run(vehicle))
    seen = set()
    for frame in played.frames:
        if len(frame.gears) == 1:
            at, there = shift_at(vehicle, frame, levers), shift_to(vehicle, frame.gears[0], levers)
            if all(abs(by) in (0.0, 1.0) for by in frame.sleeves.values()):
                assert at.travel == pytest.approx(there.travel)
                assert at.tips == pytest.approx(there.tips)
                seen.add(frame.gears[0])
    assert seen >= {gear.id for gear in vehicle.real.gears if not gear.reverse}


@pytest.mark.parametrize("demo", [BUS, SWEEPER])
def test_the_lever_goes_over_its_rails_without_a_jump(demo: str) -> None:
    vehicle = demo_vehicle(demo)
    levers = levers_of(vehicle)
    played = play(vehicle, usual_run(vehicle))
    shifts = [shift_at(vehicle, played.at(played.seconds * n / 2000), levers) for n in range(2001)]
    for one, other in pairwise(shifts):
        assert len(other.travel) <= 1
        for rail, x in one.tips.items():
            assert abs(other.tips[rail] - x) < 3.0
            assert not (abs(other.tips[rail] - x) > 1e-9 and one.travel and other.travel)


@pytest.mark.parametrize("demo", [BUS, SWEEPER, TRACTOR])
def test_meshes_stay_in_mesh_through_a_run_and_dogs_fall_into_gaps(demo: str) -> None:
    vehicle = demo_vehicle(demo)
    parts = parts_of(vehicle)
    dogs = vehicle.making.dog_count
    place = {body: n for n, part in enumerate(parts) if part.teeth for body in part.bodies}
    meshes = [
        (place[one], place[other])
        for equation in assemble(vehicle).equations
        if equation.kind is Coupling.MESH and len(equation.bodies) == 2
        for one, other in (equation.bodies,)
        if one in place and other in place
    ]
    assert len(meshes) > 4
    levers = levers_of(vehicle)
    ahead: Floats = np.zeros(len(parts))
    turned, turns = 0.0, turns_of(vehicle, parts, None)
    for gear in (g.id for g in vehicle.real.gears):
        turned += 0.731
        raw = turns * turned + ahead - turns_of(vehicle, parts, gear) * turned
        turns = turns_of(vehicle, parts, gear)
        travel = shift_to(vehicle, gear, levers).travel
        ahead = settled(parts, raw, turns, travel, dogs)
        angles = turns * turned + ahead
        for one, other in meshes:
            slip = parts[one].teeth * angles[one] + parts[other].teeth * angles[other]
            assert abs((slip + np.pi) % tau - np.pi) < 1e-6
        for sleeve in travel:
            own = next(n for n, p in enumerate(parts) if p.kind == "sleeve" and p.member == sleeve)
            free = [
                n
                for n, p in enumerate(parts)
                if p.free and p.shaft == parts[own].shaft and turns[n] == turns[own]
            ]
            if not free:  # straight through: the sleeve couples the input itself
                free = [n for n, p in enumerate(parts) if turns[n] == turns[own] and p.teeth][:1]
            assert free
            off = [(angles[n] - angles[own]) / (tau / dogs) for n in free]
            assert any(abs(by - round(by)) < 1e-6 for by in off)


def test_nothing_is_ahead_where_nothing_was() -> None:
    parts = parts_of(demo_vehicle(TRACTOR))
    still = np.zeros(len(parts))
    assert np.array_equal(settled(parts, still, still + 1.0, {"sleeve.1+2": 3.0}, 6), still)


@pytest.mark.parametrize("demo", [BUS, TRACTOR])
def test_the_outputs_speed_over_the_run_is_the_gears_own(demo: str) -> None:
    vehicle = demo_vehicle(demo)
    results = {gear.id: gear for gear in evaluate(vehicle).gears}
    rpm = vehicle.motor.working_rpm
    played = play(vehicle, usual_run(vehicle))
    spans = output_spans(vehicle, played, rpm)
    assert spans[0].from_s == 0.0
    assert spans[-1].to_s == played.seconds
    told = set()
    for one, other in pairwise(spans):
        assert one.to_s == other.from_s
    for span in spans:
        if len(span.gears) == 1 and span.rpm is not None:
            box_rpm = results[span.gears[0]].box_rpm
            assert box_rpm is not None
            assert abs(span.rpm) == pytest.approx(abs(box_rpm))
            told.add(span.gears[0])
        if not span.gears:
            assert span.rpm is None
    assert len(told) >= 3
