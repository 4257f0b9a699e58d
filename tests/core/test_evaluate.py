"""The whole composition: figures by hand, findings that are there when they should be, mends."""

import json
from fractions import Fraction
from math import pi

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from examples import example_vehicle
from mild_badger.core.axle.road_state import HeldWheel, LiftedWheel, Road, Straight, Turn
from mild_badger.core.evaluate import evaluate
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.message import say
from mild_badger.core.performance.motor import torque_at
from mild_badger.core.publish.report import report
from mild_badger.core.ratios.final_drive import final_drive_offer
from mild_badger.core.ratios.lanes import SetMatch
from mild_badger.core.ratios.propose import apply_set
from mild_badger.core.results import GearState
from mild_badger.core.situation import Situation
from mild_badger.core.vehicle.blank import blank_vehicle
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.edit.slots import set_train
from mild_badger.core.vehicle.model import Motor, Vehicle
from strategies import brick, slot_set, vehicle_of, vehicles


def finding(vehicle: Vehicle, code: str) -> Finding:
    return next(f for f in evaluate(vehicle).findings if f.code == code)


def codes(vehicle: Vehicle) -> list[str]:
    return [f.code for f in evaluate(vehicle).findings]


def with_train(gear: str, *pairs: tuple[int, int]) -> Vehicle:
    train = tuple(GearPair(driver=a, driven=b) for a, b in pairs)
    return apply_edit(example_vehicle(), set_train(example_vehicle(), gear, train))


def test_third_gear_of_the_bus_by_hand() -> None:
    found = evaluate(example_vehicle(), Situation(gear="3"))
    gear = found.engaged
    assert gear is not None
    # 12:20 · 16:20 = 25/12; 8:36 · 20:28 = 6.3; motor at 3200 rpm, wheels of 68 mm
    assert gear.ratio == Fraction(25, 12)
    assert gear.error_percent == pytest.approx(100 * (25 / 12 / 2.1 - 1))
    rpm = 3200 / (25 / 12) / 6.3
    assert gear.wheel_rpm == pytest.approx(rpm)
    assert gear.speed_mm_s == pytest.approx(rpm / 60 * pi * 68)
    # one rail mesh, two in the train, one tie, then two spur meshes and the bevel: 7 at 4 % each
    assert gear.box_efficiency == pytest.approx(0.96**4)
    assert gear.efficiency == pytest.approx(0.96**7)
    torque = 120 * (1 - 3200 / 4200)
    strip = {station.key: station for station in found.stations}
    assert strip["motor"].torque_n_mm == pytest.approx(torque)
    assert strip["box"].torque_n_mm == pytest.approx(torque * 25 / 12 * 0.96**4)
    assert strip["wheels"].torque_n_mm == pytest.approx(torque * 25 / 12 * 6.3 * 0.96**7)
    assert strip["final drive"].rpm == pytest.approx(rpm)
    assert strip["wheels"].direction == 1


def test_the_worst_error_weighs_short_and_long_alike() -> None:
    # domain: worst is 100·(e^max|d| − 1): a ratio at 20/21 of its target counts as 5 %, not 4.76 %
    bus = with_train("3", (8, 16), (20, 20))
    found = evaluate(bus)
    gear = found.gear("3")
    assert gear is not None
    assert gear.error_percent == pytest.approx(-100 / 21)
    assert found.worst_error_percent == pytest.approx(5)


def test_reverse_goes_backwards_and_neutral_stands() -> None:
    back = evaluate(example_vehicle(), Situation(gear="R"))
    assert back.engaged is not None
    assert back.engaged.direction == -1
    assert (back.engaged.speed_mm_s or 0) < 0
    assert back.stations[-1].details[1] == "backwards −"
    neutral = evaluate(example_vehicle())
    assert [s.figure for s in neutral.stations[1:]] == ["not driven"] * 4
    assert evaluate(example_vehicle(), Situation(gear="no such gear")).situation.gear is None


def test_the_motors_line() -> None:
    motor = Motor(no_load_rpm=4000, stall_torque_n_mm=100, working_rpm=1000)
    assert [torque_at(motor, rpm) for rpm in (0, 1000, 4000, 5000)] == [100, 75, 0, 0]


def test_the_bus_as_shipped_has_no_error_and_no_warning() -> None:
    assert {f.severity for f in evaluate(example_vehicle()).findings} <= {Severity.NOTE}


@pytest.mark.parametrize(
    ("vehicle", "code", "where"),
    [
        (with_train("3", (12, 20)), "wrong-direction", "3"),
        (with_train("3", (8, 12), (20, 20)), "no-seat", "3"),
    ],
)
def test_a_mend_mends(vehicle: Vehicle, code: str, where: str) -> None:
    found = finding(vehicle, code)
    assert found.severity is Severity.ERROR
    assert found.where == (where,)
    assert found.mend is not None
    mended = apply_edit(vehicle, found.mend)
    assert code not in codes(mended)
    before, after = evaluate(vehicle).gear(where), evaluate(mended).gear(where)
    assert before is not None
    assert after is not None
    assert abs(after.ratio or 0) == abs(before.ratio or 0)
    assert after.direction == 1


@pytest.mark.parametrize(
    ("edit", "code"),
    [
        (Edit.one("x", ("final_drive", "crown_side"), "right"), "crown-wheel-side"),
        (Edit.one("x", ("final_drive", "pairs"), []), "final-drive-error"),
        (Edit.one("x", ("box", "tie_teeth"), 20), "row-does-not-seat"),
        (Edit.one("x", ("box", "rail_teeth"), 16), "rail-and-tie-differ"),
        (Edit.one("x", ("wheels", "diameter_mm"), 43), "wheel-size"),
    ],
)
def test_mends_of_the_whole_vehicle(edit: Edit, code: str) -> None:
    vehicle = apply_edit(example_vehicle(), edit)
    found = finding(vehicle, code)
    assert found.mend is not None
    assert code not in codes(apply_edit(vehicle, found.mend))


@pytest.mark.parametrize(
    ("vehicle", "code", "words"),
    [
        (with_train("2", (12, 20), (8, 24)), "no-dog-faces", "24 teeth"),
        (with_train("2", (9, 20), (8, 20)), "not-in-kit", "9 teeth"),
        (with_train("2", (8, 40), (8, 20)), "ratio-error", "too high"),
        (with_train("2"), "no-train", "tab Ratios"),
        (
            apply_edit(example_vehicle(), Edit.one("x", ("kit", "gears", 0, "stock"), 0)),
            "stock-short",
            "the kit has 0",
        ),
        (
            apply_edit(example_vehicle(), Edit.one("x", ("final_drive", "crown"), 24)),
            "not-stocked",
            "1 needed",
        ),
    ],
)
def test_findings_say_what_and_how_much(vehicle: Vehicle, code: str, words: str) -> None:
    found = finding(vehicle, code)
    assert words in found.title + found.text
    assert found.as_json()["code"] == code


def test_a_gear_without_train_is_empty_not_broken() -> None:
    new = evaluate(blank_vehicle(brick()), Situation(gear="1"))
    assert {gear.state for gear in new.gears} == {GearState.EMPTY}
    assert new.worst_error_percent is None
    assert new.stations[1].figure == say("stations.not-driven")


def test_from_blank_to_a_box_without_errors() -> None:
    vehicle = blank_vehicle(brick())
    found = slot_set(vehicle, best="size")
    assert isinstance(found, SetMatch)
    vehicle = apply_edit(vehicle, apply_set(vehicle, found))
    offer = final_drive_offer(vehicle)
    assert offer is not None
    vehicle = apply_edit(vehicle, offer.edit())
    after = evaluate(vehicle)
    assert not [f for f in after.findings if f.severity is Severity.ERROR]
    assert [gear.direction for gear in after.gears] == [1, 1, 1, 1, -1]


def test_spacing_fit_hands_its_factor_to_the_final_drive() -> None:
    vehicle = vehicle_of(4.0, 2.0, 1.0)
    vehicle = apply_edit(vehicle, Edit.one("x", ("search", "fit"), "spacing"))
    for gear, teeth in (
        ("1", ((8, 24), (20, 20))),
        ("2", ((8, 12), (20, 20))),
        ("3", ((16, 20), (20, 12))),
    ):
        pairs = tuple(GearPair(driver=a, driven=b) for a, b in teeth)
        vehicle = apply_edit(vehicle, set_train(vehicle, gear, pairs))
    found = evaluate(vehicle)
    # ratios 3, 1.5, 0.75: all three a quarter below their targets, so k = 3/4 and no error left
    assert found.factor == pytest.approx(0.75)
    assert found.worst_error_percent == pytest.approx(0, abs=1e-9)
    assert found.final_wanted == pytest.approx(vehicle.real.final_drive / 0.75)


sides = st.sampled_from(["left", "right"])
roads = st.one_of(
    st.just(Straight()),
    st.builds(Turn, st.one_of(st.floats(0.01, 5000), st.integers(1, 400)), sides),
    st.builds(HeldWheel, sides),
    st.builds(LiftedWheel, sides),
)


@given(vehicles(), roads, st.booleans(), st.sampled_from(["open", "locked"]))
@settings(max_examples=25, deadline=None)
def test_anything_that_can_be_drawn_up_can_be_evaluated(
    vehicle: Vehicle, road: Road, locked: bool, kind: str
) -> None:
    differential = vehicle.differential.model_copy(update={"kind": kind})
    vehicle = vehicle.model_copy(update={"differential": differential})
    for gear in (None, "1", "R"):
        found = evaluate(vehicle, Situation(gear=gear, road=road, locked=locked))
        assert json.loads(json.dumps(report(found), allow_nan=False))
        assert len(found.stations) == 5
        for item in found.findings:
            assert item.title
            assert item.text
            if item.mend is not None:
                apply_edit(vehicle, item.mend)
