"""A lever drive in motion: posed as its parts are, its wheel as uneven as the solved motion."""

from math import pi

import numpy as np
import pytest

from mild_badger.core.architectures.lever import LEVER_WHEEL
from mild_badger.core.components.lever_parts import lever_parts
from mild_badger.core.drivetrain.lever_motion import motion_of
from mild_badger.core.scene.stage import stage_of
from mild_badger.core.vehicle.demo import demo_vehicle

TROLLEY, BUS = "larkholm-sawmill-trolley", "larkholm-mail-bus"


@pytest.mark.parametrize("turned", [0.0, 0.4, 3.7])
def test_throws_rods_and_pawls_are_posed_as_the_drive_has_them(turned: float) -> None:
    vehicle = demo_vehicle(TROLLEY)
    gear = vehicle.real.gears[1].id
    stage = stage_of(vehicle, gear)
    assert stage is not None
    ratchets = stage.ratchets
    assert ratchets is not None
    posed = lever_parts(vehicle, ratchets.fulcrum_mm, 360 * ratchets.throws * turned)
    assert posed is not None
    there = {part.key: part for part in posed.components}
    moved = 0
    for number, part in enumerate(ratchets.shown(stage.parts, turned)):
        if ratchets.posed[number]:
            known = there[part.key]
            assert (part.x_mm, part.y_mm, part.turn_rad) == (
                known.x_mm,
                known.y_mm,
                known.turn_rad,
            )
            assert ratchets.turned(turned)[number] == 0
            moved += 1
    assert moved > 8


def test_the_wheel_is_as_uneven_as_the_motion_and_never_goes_back() -> None:
    vehicle = demo_vehicle(TROLLEY)
    drive = vehicle.stepless
    stage = stage_of(vehicle, vehicle.real.gears[1].id)
    assert drive is not None
    assert stage is not None
    ratchets = stage.ratchets
    assert ratchets is not None
    motion = motion_of(drive, ratchets.fulcrum_mm)
    count = len(motion.speeds)
    wheel = next(n for n, p in enumerate(stage.parts) if LEVER_WHEEL in p.bodies)
    assert ratchets.behind[wheel]
    turn = 1 / abs(ratchets.throws)  # of the motor, for one of the throws
    angles = [
        float(stage.turns[wheel] * ratchets.turned(turn * n / count)[wheel])
        for n in range(count + 1)
    ]
    steps = np.diff(angles)
    assert (steps * np.sign(angles[-1]) >= -1e-12).all()
    # speeds over a turn, by their mean, are the solved ones
    mean = sum(motion.speeds) / count
    assert np.allclose(steps / steps.mean(), np.array(motion.speeds) / mean, atol=1e-6)
    # a whole turn of the throws is the mean that the drivetrain is solved with
    assert abs(angles[-1]) == pytest.approx(2 * pi * motion.mean, rel=1e-3)


def test_a_box_of_gears_has_no_ratchets() -> None:
    vehicle = demo_vehicle(BUS)
    stage = stage_of(vehicle, vehicle.real.gears[0].id)
    assert stage is not None
    assert stage.ratchets is None
