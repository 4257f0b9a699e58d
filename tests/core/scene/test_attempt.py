"""Sleeves pushed by hand, the torque's way, and the film: as the shifter, the power, the file."""

import io
from itertools import pairwise
from math import radians, tau

import numpy as np
import pytest
from PIL import Image

from mild_badger.core.components.vehicle_parts import main_components
from mild_badger.core.driveline.assemble import assemble, shifter_state_for
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.evaluate import evaluate
from mild_badger.core.performance.power import body_torques
from mild_badger.core.scene.attempt import attempt
from mild_badger.core.scene.film import Film
from mild_badger.core.scene.flow import torque_flow
from mild_badger.core.vehicle.demo import demo_vehicle
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit

SWEEPER, TRACTOR = "larkholm-street-sweeper", "larkholm-timber-tractor"


def other_sleeve(demo: str) -> tuple[str, str, str]:
    """A gear, and another gear's sleeve with the face it goes to."""
    vehicle = demo_vehicle(demo)
    first = vehicle.real.gears[0].id
    mine = vehicle.box.engaged(first)
    for gear in vehicle.real.gears:
        for sleeve, face in vehicle.box.engaged(gear.id).items():
            if sleeve not in mine:
                return first, sleeve, face
    raise AssertionError(demo)


@pytest.mark.parametrize("demo", [SWEEPER, TRACTOR])
def test_the_interlock_stops_a_second_sleeve_and_lets_the_first_out(demo: str) -> None:
    vehicle = demo_vehicle(demo)
    states = evaluate(vehicle).proof.states
    gear, sleeve, face = other_sleeve(demo)
    now = dict(shifter_state_for(vehicle, gear))
    stopped = attempt(vehicle, states, now, sleeve, face)
    assert stopped.stopped
    assert 0 < stopped.share < 0.5
    assert dict(stopped.sleeves) == now
    out = attempt(vehicle, states, now, next(iter(now)), None)
    assert (out.stopped, out.locked, dict(out.sleeves)) == (False, False, {})
    into = attempt(vehicle, states, {}, sleeve, face)
    assert (into.stopped, into.locked) == (False, False)
    assert dict(into.sleeves) == {sleeve: face}


@pytest.mark.parametrize("demo", [SWEEPER, TRACTOR])
def test_without_plungers_two_sleeves_lock_within_the_play_of_their_dogs(demo: str) -> None:
    vehicle = demo_vehicle(demo)
    vehicle = apply_edit(vehicle, Edit.one("", ("lever", "plungers"), False))
    states = evaluate(vehicle).proof.states
    gear, sleeve, face = other_sleeve(demo)
    now = dict(shifter_state_for(vehicle, gear))
    found = attempt(vehicle, states, now, sleeve, face)
    assert not found.stopped
    assert found.locked
    assert solve(assemble(vehicle), dict(found.sleeves)).locked
    assert len(found.fighting) > 2
    # by then the dogs that went in have turned by their play against each other
    train = assemble(vehicle)
    speeds = solve(train, now).speeds
    dog = next(e for e in train.equations if e.sleeve == sleeve and e.position == face)
    one, other = (float(speeds[body] or 0) for body in dog.bodies[:2])
    slip = abs(one - other) * found.play_turns * tau
    assert slip <= radians(vehicle.making.dog_play_deg) + 1e-9


@pytest.mark.parametrize("demo", [SWEEPER, TRACTOR])
def test_the_torques_way_is_one_line_as_wide_as_the_power_table_says(demo: str) -> None:
    vehicle = demo_vehicle(demo)
    box = main_components(vehicle)
    assert box is not None
    for gear in vehicle.real.gears:
        torques = body_torques(vehicle, gear.id, vehicle.motor.working_rpm)
        lines = torque_flow(vehicle, gear.id, box.components, torques)
        assert lines
        for one, other in pairwise(lines):
            assert one.end == other.start
        assert {line.torque_n_mm for line in lines} <= set(torques.values())
        for line in lines:  # along a shaft, or across in one plane
            along = line.start[2] != line.end[2]
            across = line.start[:2] != line.end[:2]
            assert along != across
    assert torque_flow(vehicle, None, box.components, {}) == ()


def test_a_film_is_a_gif_of_all_its_frames() -> None:
    film = Film(60)
    with pytest.raises(ValueError, match="without frames"):
        film.written()
    for number in range(5):
        frame = np.full((40, 60, 4), 250, dtype=np.uint8)
        frame[:, 10 * number : 10 * number + 8, :3] = (184, 67, 28)
        film.add(frame)
    with Image.open(io.BytesIO(film.written())) as image:
        assert (image.format, image.size) == ("GIF", (60, 40))
        assert getattr(image, "n_frames", 1) == 5
        assert image.info["duration"] == 60
        assert image.info["loop"] == 0
        for number in range(5):
            image.seek(number)
            pixels = np.asarray(image.convert("RGB")).astype(int)
            red = np.abs(pixels - (184, 67, 28)).sum(axis=2) < 30
            assert red[:, 10 * number : 10 * number + 8].all()
            assert red.sum() == 40 * 8
