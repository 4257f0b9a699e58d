"""What wrong readings mean: each is what the faulty drivetrain, built and solved, shows."""

from fractions import Fraction

import pytest

from mild_badger.core.axle.road_state import Straight, conditions
from mild_badger.core.driveline.assemble import WHEELS, assemble, shifter_state_for
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.trial.diagnosis import wrong_readings
from mild_badger.core.trial.expected import expected
from mild_badger.core.trial.faults import suspects
from mild_badger.core.vehicle.demo import demo_vehicle
from mild_badger.core.vehicle.trial import NEUTRAL

DEMOS = ["larkholm-timber-tractor", "larkholm-mail-bus"]


@pytest.mark.parametrize("name", DEMOS)
def test_every_cause_named_shows_what_it_is_said_to(name: str) -> None:
    vehicle = demo_vehicle(name)
    train = assemble(vehicle)
    ahead = conditions(vehicle, Straight(), locked=False)
    by_words = {suspect.words: suspect for suspect in suspects(vehicle, train)}
    readings = wrong_readings(vehicle)
    assert readings
    for reading in readings:
        planned = expected(vehicle, reading.position, WHEELS["left"])
        assert reading.seen != planned
        suspect = by_words[reading.causes[0]]
        assert suspect.kind not in ("size", "slip")
        position = suspect.position(reading.position)
        gear = None if position == NEUTRAL else position
        solution = solve(suspect.built(train), shifter_state_for(vehicle, gear), ahead)
        if reading.seen == "jams":
            assert solution.locked
        elif reading.seen is not None:
            speed = solution.speed(WHEELS["left"])
            assert isinstance(reading.seen, Fraction)
            assert speed is not None
            assert speed * vehicle.motor.turns == reading.seen


def test_a_crown_on_the_wrong_side_is_among_the_causes_of_driving_backwards() -> None:
    vehicle = demo_vehicle(DEMOS[0])
    first = vehicle.real.gears[0].id
    planned = expected(vehicle, first, WHEELS["left"])
    assert planned is not None
    back = [
        r for r in wrong_readings(vehicle, most=40) if r.position == first and r.seen == -planned
    ]
    crowns = {s.words for s in suspects(vehicle) if s.kind == "crown"}
    assert crowns & {look for reading in back for look in reading.causes}


def test_no_more_are_told_than_asked_for() -> None:
    vehicle = demo_vehicle(DEMOS[1])
    one = wrong_readings(vehicle, most=1)
    assert len({r.position for r in one}) == len(one)
