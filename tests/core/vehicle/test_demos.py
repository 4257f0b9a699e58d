"""What ships as a demo is a vehicle that could be built: placed, proven, nothing to warn of."""

import pytest

from mild_badger.core.components.collide import collide
from mild_badger.core.components.vehicle_parts import has_place
from mild_badger.core.evaluate import evaluate
from mild_badger.core.findings.finding import Severity
from mild_badger.core.layout.function_box import function_stack
from mild_badger.core.situation import Situation
from mild_badger.core.vehicle.codec import decode, encode
from mild_badger.core.vehicle.demo import DEMOS, demo_vehicle


@pytest.mark.parametrize("name", DEMOS)
def test_demos_are_placed_and_have_nothing_above_a_note(name: str) -> None:
    vehicle = demo_vehicle(name)
    assert decode(encode(vehicle)) == vehicle
    assert has_place(vehicle)
    assert vehicle.functions is None or function_stack(vehicle) is not None
    for gear in (None, *(gear.id for gear in vehicle.real.gears)):
        found = evaluate(vehicle, Situation(gear=gear)).findings
        assert [f.code for f in found if f.severity is not Severity.NOTE] == []


@pytest.mark.parametrize("name", DEMOS)
def test_nothing_of_a_demo_touches_in_any_position(name: str) -> None:
    collision = collide(demo_vehicle(name))
    assert collision.clear
    assert collision.proof.overlaps == ()
    assert collision.line == ()
