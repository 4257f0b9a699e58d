"""Whatever is typed into the running gear: findings, never a crash, nothing that is no number."""

import json
from math import isfinite
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from examples import example_vehicle
from mild_badger.core.axle.clearance import clearance
from mild_badger.core.axle.road_state import HeldWheel, LiftedWheel, Straight, Turn
from mild_badger.core.axle.shaft_line import line_choices, shaft_line
from mild_badger.core.axle.steering import steer_at, steering_result
from mild_badger.core.axle.suspension import ride
from mild_badger.core.evaluate import evaluate
from mild_badger.core.publish.report import report
from mild_badger.core.situation import Situation
from mild_badger.core.vehicle.chassis import RunningGear

LENGTH = st.floats(0.1, 300)
ANY = st.fixed_dictionaries(
    {
        "shape": st.fixed_dictionaries(
            {
                "housing_mm": LENGTH,
                "arm_mm": LENGTH,
                "rise_mm": st.floats(0, 100),
                "hub": st.sampled_from(["straight", "raised", "geared"]),
                "hub_driver": st.integers(8, 40),
                "hub_driven": st.integers(8, 60),
            }
        ),
        "chassis": st.fixed_dictionaries(
            {
                "tyre_width_mm": LENGTH,
                "front_overhang_mm": LENGTH,
                "front_low_mm": LENGTH,
                "belly_mm": LENGTH,
                "half_width_mm": LENGTH,
                "mass_kg": st.floats(0.01, 50),
            }
        ),
        "steering": st.fixed_dictionaries(
            {
                "kingpin_mm": st.floats(0, 150),
                "arm_mm": LENGTH,
                "arm_angle_deg": st.floats(-59, 59),
                "rack_mm": LENGTH,
                "rack_offset_mm": st.floats(-200, 200),
                "travel_mm": LENGTH,
                "rod_mm": st.none() | LENGTH,
                "pinion_block_mm": st.floats(0, 100),
                "stop_deg": st.none() | st.floats(1, 89),
                "driven": st.booleans(),
            }
        ),
        "suspension": st.fixed_dictionaries(
            {
                "rate_n_mm": st.none() | st.floats(0.01, 100),
                "up_mm": st.floats(0, 80),
                "down_mm": st.floats(0, 80),
                "link_mm": LENGTH,
            }
        ),
        "line": st.fixed_dictionaries(
            {"offset_mm": st.floats(-100, 100), "floor_mm": st.none() | LENGTH}
        ),
    }
)
ROADS = st.one_of(
    st.just(Straight()),
    st.builds(Turn, st.floats(1, 5000), st.sampled_from(["left", "right"])),
    st.builds(HeldWheel, st.sampled_from(["left", "right"])),
    st.builds(LiftedWheel, st.sampled_from(["left", "right"])),
)


def numbers(data: Any) -> list[float]:
    if isinstance(data, dict):
        return [n for value in data.values() for n in numbers(value)]
    if isinstance(data, list):
        return [n for value in data for n in numbers(value)]
    return [data] if isinstance(data, float) else []


@settings(max_examples=40, deadline=None)
@given(ANY, ROADS, st.sampled_from(["open", "locked", "none", "planetary"]), st.booleans())
def test_any_running_gear_is_worked_out(
    data: dict[str, Any], road: Any, kind: str, locked: bool
) -> None:
    try:
        running = RunningGear.model_validate(data)
    except ValidationError:
        return
    bus = example_vehicle()
    differential = bus.differential.model_copy(update={"kind": kind})
    vehicle = bus.model_copy(update={"running": running, "differential": differential})
    evaluation = evaluate(vehicle, Situation(gear="3", road=road, locked=locked))
    told = json.loads(json.dumps(report(evaluation)))
    assert all(isfinite(number) for number in numbers(told))
    found = steering_result(vehicle)
    assert found.problem or len(found.states) > 1
    for state in found.states:
        assert isfinite(state.error_deg)
        assert steer_at(vehicle, state.rack_mm) is not None
    if found.problem:
        assert "steering-stuck" in {f.code for f in evaluation.findings}
    room = clearance(vehicle)
    assert all(0 <= angle <= 180 for angle in (room.approach_deg, room.breakover_deg))
    if room.ground_mm <= 0:
        assert "drags" in {f.code for f in evaluation.findings}
    assert all(isfinite(state.clearance_mm) for state in ride(vehicle))
    assert isfinite(shaft_line(vehicle).roof_mm)
    assert line_choices(vehicle)
    for row in evaluation.axle.rows:
        for value in (row.left_rpm, row.right_rpm, row.planet_rpm, *(row.slip_percent or ())):
            assert value is None or isfinite(value)
