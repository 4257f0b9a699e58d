"""The trial list against ratios worked out by hand, and readings against it."""

from fractions import Fraction

import pytest

from examples import example_vehicle
from mild_badger.core.driveline.assemble import WHEELS
from mild_badger.core.errors import DocumentError
from mild_badger.core.evaluate import evaluate
from mild_badger.core.figures import plain
from mild_badger.core.ids import OutputId
from mild_badger.core.mechanisms.cables.edits import add_cables
from mild_badger.core.mechanisms.clutch.edits import add_clutch
from mild_badger.core.mechanisms.crane.edits import remove_output
from mild_badger.core.mechanisms.display.edits import add_engine
from mild_badger.core.mechanisms.lever.edits import add_lever
from mild_badger.core.mechanisms.liquid.edits import add_line
from mild_badger.core.performance.losses import calibrate_readings, drag_at_motor_n_mm
from mild_badger.core.ratios.train import gear_ratio
from mild_badger.core.trial.expected import (
    agrees,
    describe_reading,
    expected,
    function_steps,
    further_rows,
    places,
    trial_steps,
)
from mild_badger.core.trial.readings import tick
from mild_badger.core.vehicle.box import chain_ratio
from mild_badger.core.vehicle.demo import DEMOS
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.trial import Reading
from telling import tells


@pytest.mark.parametrize("name", DEMOS)
def test_every_position_says_what_teeth_say(name: str) -> None:
    vehicle = example_vehicle(name)
    final = vehicle.final_drive
    below = chain_ratio(final.pairs) * Fraction(final.crown, final.pinion)
    for step in trial_steps(vehicle)[1:]:
        chain = tuple(link.pair for link in vehicle.box.chain(step.position))
        ratio = chain_ratio(chain) if chain else Fraction(1)
        if vehicle.stepless is not None:  # a lever drive's mean comes on top
            found = gear_ratio(vehicle.box, step.position)
            assert found is not None
            ratio = found
        assert step.turns is not None
        assert abs(step.turns) == 1 / ratio
        assert step.wheel_turns is not None
        assert abs(step.wheel_turns) == 1 / ratio / below
        gear = vehicle.gear(step.position)
        assert gear is not None
        assert (step.wheel_turns < 0) == gear.reverse
        assert ("backwards" if gear.reverse else "forwards") in step.words
    assert trial_steps(vehicle)[0].turns is None


def test_a_function_box_has_its_own_steps() -> None:
    steps = function_steps(example_vehicle("larkholm-street-sweeper"))
    assert any(step.startswith("Position ") for step in steps)
    assert function_steps(example_vehicle()) == ()


@pytest.mark.parametrize(
    ("reading", "fits"),
    [
        ({"turns": 0.48, "spread": 0.002}, True),
        ({"turns": 0.483, "spread": 0.0021}, True),
        ({"turns": 0.49, "spread": 0.002}, False),
        ({"turns": 0.48, "spread": 0.002, "way": 1}, True),
        ({"turns": 0.48, "spread": 0.002, "way": -1}, False),
        ({}, False),
        ({"jams": True}, False),
        ({"turns": 0.3, "position": "no such gear"}, None),
        ({"turns": 0.3, "body": "no such shaft"}, None),
    ],
)
def test_a_reading_agrees_within_what_it_is_uncertain_by(
    reading: dict[str, object], fits: bool | None
) -> None:
    vehicle = example_vehicle()
    given = Reading.model_validate({"position": "3", "body": "selector.1"} | reading)
    assert expected(vehicle, "3", "selector.1") == Fraction(12, 25)
    assert agrees(vehicle, given) is fits
    assert describe_reading(vehicle, given).startswith(given.position)


def test_wheels_are_seen_forwards_whichever_way_the_motor_turns() -> None:
    vehicle = example_vehicle()
    other = apply_edit(vehicle, Edit.one("turn", ("motor", "turns"), -vehicle.motor.turns))
    one = expected(vehicle, "3", WHEELS["left"])
    assert one is not None
    assert expected(other, "3", WHEELS["left"]) == -one
    assert places(vehicle)[1].wheel


def test_a_reading_says_one_thing_only() -> None:
    vehicle = example_vehicle()
    for wrong in ({"jams": True, "turns": 0.2}, {"turns": 0.0, "way": 1}):
        data = {"position": "3", "body": "selector.1"} | wrong
        with pytest.raises(DocumentError):
            apply_edit(vehicle, Edit.one("read", ("trial", "readings"), [data]))


def test_readings_fit_the_drag_as_the_motor_s_line_has_it() -> None:
    """On the line T = T0 (1 − n/n0) a factor of 2.5 on the drag gives these very speeds."""
    vehicle = example_vehicle()
    motor = vehicle.motor
    readings = []
    for gear in ("1", "4", "6"):
        drag = 2.5 * drag_at_motor_n_mm(vehicle, gear)
        rpm = motor.shaft_no_load_rpm * (1 - drag / motor.shaft_stall_n_mm)
        readings.append(Reading(position=gear, body="selector.1", turns=1.0, input_rpm=rpm))
    read = apply_edit(vehicle, Edit.one("read", ("trial", "readings"), readings))
    edit, words = calibrate_readings(read)
    fitted = apply_edit(read, edit)
    assert fitted.losses.drag_factor == pytest.approx(2.5 * vehicle.losses.drag_factor, rel=1e-3)
    assert "3 readings" in words


def test_what_wears_is_a_finding_when_its_hours_are_over() -> None:
    vehicle = example_vehicle()
    log = {
        "entries": [{"date": "2026-05-17", "seen": "ran well", "ran_hours": 12.0}],
        "wear": [
            {"part": "Gear 1, driver", "every_hours": 10.0},
            {"part": "Tie gear 1", "every_hours": 20.0},
        ],
    }
    worn = apply_edit(vehicle, Edit.one("log", ("log",), log))
    found = [f for f in evaluate(worn).findings if f.code == "wear-due"]
    assert [f.title for f in found] == ["Renew Gear 1, driver"]
    assert "12 h" in found[0].text


def test_every_mechanism_has_a_step_that_is_ticked_and_forgotten_with_it() -> None:
    truck = example_vehicle("larkholm-crane-truck")
    for edit in (
        add_engine(truck),
        add_clutch(truck),
        add_line(truck),
        add_cables(),
        add_lever(),
    ):
        assert edit is not None
        truck = apply_edit(truck, edit)
    steps = {step.key: step for step in further_rows(truck)}
    assert list(steps) == [
        "clutch",
        "liquid brakes",
        "display engine",
        "lever drive",
        "cable flap",
        "cable motor-speed",
        "output slewing",
        "output carriage",
        "output counterweight",
        "output hoist",
        "output legs",
        "output rear-winch",
        "balance",
    ]
    assert tells(steps["display engine"].words, "display.for-one-turn-of-the-motor", turns="1")
    # ten turns of the throws: three ratchets gain four of 144 teeth each at 65 mm
    assert "at 65 mm 0.83 times" in plain(steps["lever drive"].words)
    assert tells(steps["output rear-winch"].words, "crane.per-turn-of", turns="89.6")
    ticked = apply_edit(truck, tick(truck, "output hoist", True))
    assert ticked.trial.ticks == ("output hoist",)
    assert ticked.crane is not None
    gone = apply_edit(ticked, remove_output(ticked, OutputId("hoist")))
    again = apply_edit(gone, tick(gone, "1", True))
    assert again.trial.ticks == ("1",)
