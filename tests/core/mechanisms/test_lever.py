"""The lever drive as a box: its gears are places of the fulcrum, everything else follows."""

import json
from math import pi, sin

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from examples import example_vehicle
from mild_badger.core.architectures.registry import blank_box
from mild_badger.core.driveline.assemble import assemble, box_output, shifter_state_for
from mild_badger.core.driveline.efficiency import efficiency
from mild_badger.core.drivetrain.lever_motion import fulcrum_for, lever_efficiency, motion_of
from mild_badger.core.drivetrain.power import power_flow
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.errors import DocumentError
from mild_badger.core.evaluate import evaluate
from mild_badger.core.mechanisms.lever.edits import move_fulcrum, place_gears, remove_lever
from mild_badger.core.mechanisms.lever.findings import lever_box_findings
from mild_badger.core.mechanisms.lever.model import LeverDrive
from mild_badger.core.mechanisms.lever.reach import lever_seen, reach_of
from mild_badger.core.message import say
from mild_badger.core.ratios.propose import kept_trains
from mild_badger.core.ratios.train import gear_ratio
from mild_badger.core.results import GearState
from mild_badger.core.shift.gate import gates
from mild_badger.core.situation import Situation
from mild_badger.core.trial.expected import trial_steps
from mild_badger.core.vehicle.box import LeverPlace
from mild_badger.core.vehicle.boxes import LeverBox
from mild_badger.core.vehicle.codec import decode, encode
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.box import apply_box, set_fulcrum
from mild_badger.core.vehicle.edit.slots import keep_train, keepable, set_train
from mild_badger.core.vehicle.model import GearTarget, Vehicle
from mild_badger.core.workshop.parts import parts_needed
from telling import refuses

TROLLEY = example_vehicle("larkholm-sawmill-trolley")


def box_of(vehicle: Vehicle) -> LeverBox:
    assert isinstance(vehicle.box, LeverBox)
    return vehicle.box


@settings(max_examples=15, deadline=None)
@given(st.integers(2, 6), st.floats(40, 65))
def test_an_ideal_drive_has_the_closed_form_as_its_ratio(count: int, fulcrum: float) -> None:
    """Mean (N/π) sin(π/N) of the peak e (b/a) / r, behind 17:30."""
    box = box_of(apply_edit(TROLLEY, set_fulcrum(TROLLEY, "2", fulcrum)))
    ideal = {"ratchets": count, "teeth": 1_000_000, "pin_lost_mm": 0.0, "pawl_lost_mm": 0.0}
    drive = box.drive.model_copy(update=ideal)
    peak = drive.throw_mm * (drive.lever_mm - fulcrum) / fulcrum / drive.wheel_mm
    ratio = gear_ratio(box.model_copy(update={"drive": drive}), "2")
    assert ratio is not None
    assert float(ratio) == pytest.approx(30 / 17 / (count / pi * sin(pi / count) * peak), rel=2e-3)


def test_the_trolley_drives_at_its_targets() -> None:
    found = evaluate(TROLLEY, Situation(gear="2"))
    assert found.worst_error_percent is not None
    assert found.worst_error_percent < 3
    assert {gear.direction for gear in found.gears} == {1}
    assert found.findings == ()
    here = found.gear("2")
    assert here is not None
    assert here.box_efficiency == pytest.approx(0.94 * 0.95**3)  # a mesh in wood, then three joints
    assert gates(TROLLEY) == ()


def test_power_in_is_power_out_and_what_joints_and_teeth_take() -> None:
    train, sleeves = assemble(TROLLEY), shifter_state_for(TROLLEY, "3")
    solution, output = solve(train, sleeves), box_output(TROLLEY)
    flow = power_flow(train, sleeves, solution, {output: -500.0}, mesh_loss=0.06)
    assert flow is not None
    assert flow.power_in == pytest.approx(flow.power_out + flow.lost)
    assert flow.power_out / flow.power_in == pytest.approx(
        0.94 * lever_efficiency(box_of(TROLLEY).drive)
    )
    share = efficiency(train, sleeves, solution, {output: 1.0}, 0.06)
    assert share == pytest.approx(flow.power_out / flow.power_in)


def test_ratchets_turn_one_way_whatever_the_motor_does() -> None:
    back = TROLLEY.model_copy(update={"motor": TROLLEY.motor.model_copy(update={"turns": -1})})
    for vehicle in (TROLLEY, back):
        gear = evaluate(vehicle).gear("1")
        assert gear is not None
        assert gear.direction == 1
        assert gear.box_rpm is not None
        assert gear.box_rpm > 0


def test_neutral_and_gears_without_a_place_drive_nothing() -> None:
    bare = TROLLEY.model_copy(update={"box": box_of(TROLLEY).model_copy(update={"slots": ()})})
    assert {gear.state for gear in evaluate(bare).gears} == {GearState.EMPTY}
    assert solve(assemble(TROLLEY), {}).speed(box_output(TROLLEY)) is None
    fault = next(f for f in lever_box_findings(bare) if f.code == "fulcrum-not-placed")
    assert fault.mend is not None
    assert apply_edit(bare, fault.mend).box == TROLLEY.box


@settings(max_examples=12, deadline=None)
@given(st.floats(30, 68))
def test_the_fulcrum_is_found_again(mm: float) -> None:
    drive = box_of(TROLLEY).drive
    turns = motion_of(drive, mm).mean
    found = fulcrum_for(drive, turns)
    assert found is not None
    assert motion_of(drive, found).mean == pytest.approx(turns, rel=0.03)
    assert fulcrum_for(drive, 50.0) is None


def test_the_spacing_fit_brings_all_targets_within_the_stops() -> None:
    targets = [
        GearTarget(id=str(n), name=str(n), ratio=r)
        for n, r in enumerate((28.0, 19.0, 13.0, 9.0), 1)
    ]
    vehicle = TROLLEY.model_copy(
        update={"real": TROLLEY.real.model_copy(update={"gears": tuple(targets)})}
    )
    reach = reach_of(box_of(vehicle).drive)
    assert reach is not None
    assert reach[1] < 28
    edit = place_gears(vehicle)
    assert edit is not None
    assert evaluate(apply_edit(vehicle, edit)).worst_error_percent > 20  # type: ignore[operator]
    loose = vehicle.model_copy(
        update={"search": vehicle.search.model_copy(update={"fit": "spacing"})}
    )
    edit = place_gears(loose)
    assert edit is not None
    worst = evaluate(apply_edit(loose, edit)).worst_error_percent
    assert worst is not None
    assert worst < 4


def test_sliding_the_fulcrum_moves_the_gear_that_is_in() -> None:
    moved = apply_edit(TROLLEY, move_fulcrum(TROLLEY, 60.0, "3"))
    slot = box_of(moved).slot("3")
    assert slot is not None
    assert slot.fulcrum_mm == 60.0
    seen = lever_seen(moved, "3")
    assert seen is not None
    assert seen.fulcrum_mm == 60.0
    assert lever_seen(moved, "1") != seen
    neutral = apply_edit(TROLLEY, move_fulcrum(TROLLEY, 500.0))
    assert box_of(neutral).drive.fulcrum_mm == 70.0
    assert box_of(neutral).slots == box_of(TROLLEY).slots


def test_a_drive_beside_the_box_becomes_the_box_and_is_not_taken_away() -> None:
    bus = example_vehicle().model_copy(update={"lever_drive": LeverDrive(throw_mm=7.0)})
    taken = apply_edit(bus, apply_box(bus, blank_box("lever", ["1"])))
    assert box_of(taken).drive.throw_mm == 7.0
    assert taken.lever_drive is None
    assert taken.stepless == box_of(taken).drive
    with refuses(DocumentError, "lever.this-lever-drive-is-the-vehicles-box-lay-out"):
        remove_lever(taken)
    with refuses(DocumentError, "vehicle.in-a-lever-drive-a-gear-is-a-place-of-the"):
        set_train(taken, "1", ())
    with refuses(DocumentError, "vehicle.only-a-lever-drive-has-a-fulcrum-to-slide"):
        set_fulcrum(bus, "1", 30.0)
    reverse = [f for f in lever_box_findings(taken) if f.code == "lever-no-reverse"]
    assert [f.where for f in reverse] == [("R",)]


@pytest.mark.parametrize(
    ("drive", "why"),
    [
        # a stroke of 2 · 1 · 40 / 60 mm, and a tooth of 2π · 18 / 9 mm
        (LeverDrive(throw_mm=1, lever_mm=100, wheel_mm=18, teeth=9), "too short to advance"),
        # a lean of atan(80 / 60) = 53°
        (LeverDrive(throw_mm=80, rod_mm=200, lever_mm=100), "jams"),
    ],
)
def test_a_gear_whose_ratchets_stand_says_why(drive: LeverDrive, why: str) -> None:
    stops = {"stop_low_mm": 60.0, "stop_high_mm": 90.0, "fulcrum_mm": 60.0}
    drive = drive.model_copy(update=stops)
    box = LeverBox(drive=drive, slots=(LeverPlace(gear="1", fulcrum_mm=60.0),))
    found = evaluate(TROLLEY.model_copy(update={"box": box}))
    said = [f for f in found.findings if f.code == "locked" and f.where == ("1",)]
    assert [f.title for f in said] == [say("gears.gear-stands-still", name="1")]
    assert why in said[0].text
    assert "sleeve" not in said[0].text


def test_a_kept_place_is_left_alone() -> None:
    moved = apply_edit(TROLLEY, set_fulcrum(TROLLEY, "2", 40.0))
    kept = apply_edit(moved, keep_train(moved, "2", True))
    assert keepable(kept, "2")
    edit = place_gears(kept)
    assert edit is not None
    places = {slot.gear: slot.fulcrum_mm for slot in box_of(apply_edit(kept, edit)).slots}
    wanted = {slot.gear: slot.fulcrum_mm for slot in box_of(TROLLEY).slots}
    assert places == {**wanted, "2": 40.0}
    assert kept_trains(kept.box, "2") == ((), ())  # no train of another box is bound by it


def test_there_is_one_lever_drive_at_most() -> None:
    data = json.loads(encode(TROLLEY))
    data["vehicle"]["lever_drive"] = LeverDrive().model_dump()
    with refuses(DocumentError, "vehicle.the-box-is-a-lever-drive-itself-it-takes"):
        decode(json.dumps(data).encode())


def test_its_parts_and_trial_steps_are_those_of_the_drive() -> None:
    needed = {line.key: line.needed for line in parts_needed(TROLLEY)}
    assert (needed["lever", 0], needed["ratchet", 0], needed["pawl", 0]) == (3, 3, 3)
    # a rod each between two pins, a pin a fulcrum and a pin a pawl, two guides; bearings: two
    assert (needed["rod", 0], needed["pin", 0], needed["wood bearing", 80]) == (3, 14, 4)
    assert (needed["fixed", 17], needed["fixed", 30]) == (1, 1)
    assert needed["eccentric", 0] == 3
    assert (needed["fixed", 12], needed["fixed", 24], needed["fixed", 18]) == (2, 1, 1)  # final
    assert "fulcrum 2" in trial_steps(TROLLEY)[2].sleeves
    assert decode(encode(TROLLEY)) == TROLLEY


def test_places_beyond_the_stops_and_twice_are_refused() -> None:
    with refuses(ValidationError, "vehicle.gear-the-fulcrum-at-is-beyond-the-end-of-the"):
        LeverBox.model_validate({"slots": [{"gear": "1", "fulcrum_mm": 800}]})
    twice = (LeverPlace(gear="1", fulcrum_mm=30), LeverPlace(gear="1", fulcrum_mm=40))
    with refuses(ValidationError, "vehicle.gear-has-two-places", gear="1"):
        LeverBox(slots=twice)
