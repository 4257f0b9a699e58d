"""A vehicle without a box: the motor drives the axle straight, and nothing is asked of gears."""

from fractions import Fraction

import pytest

from examples import example_vehicle
from mild_badger.core.architectures.length import box_length_mm
from mild_badger.core.architectures.registry import blank_box
from mild_badger.core.errors import DocumentError
from mild_badger.core.evaluate import evaluate
from mild_badger.core.find_set import find_set
from mild_badger.core.performance.losses import drag_lines
from mild_badger.core.performance.power import power_table
from mild_badger.core.publish.book import plan_book
from mild_badger.core.ratios.final_drive import overall_final_ratio
from mild_badger.core.results import GearState
from mild_badger.core.situation import Situation
from mild_badger.core.vehicle.blank import blank_vehicle
from mild_badger.core.vehicle.codec import decode, encode
from mild_badger.core.vehicle.demo import DEMOS
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.box import apply_box
from mild_badger.core.vehicle.edit.gears import add_gear, new_gear
from mild_badger.core.vehicle.edit.slots import set_train
from mild_badger.core.vehicle.model import Vehicle
from strategies import brick


def boxless(vehicle: Vehicle) -> Vehicle:
    return apply_edit(vehicle, apply_box(vehicle, blank_box("none", [])))


@pytest.mark.parametrize("name", DEMOS)
@pytest.mark.parametrize("fit", ["absolute", "spacing"])
def test_the_motor_drives_the_axle_straight(name: str, fit: str) -> None:
    vehicle = boxless(example_vehicle(name))
    search = vehicle.search.model_copy(update={"fit": fit})
    vehicle = decode(encode(vehicle.model_copy(update={"search": search})))
    evaluation = evaluate(vehicle, Situation(gear=vehicle.real.gears[0].id))
    for gear in evaluation.gears:
        assert gear.state is GearState.DRIVES
        assert gear.ratio == Fraction(1)
        assert gear.error_percent is None
        assert gear.box_efficiency == pytest.approx(1.0)
        assert gear.wheel_turns is not None
        assert abs(gear.wheel_turns) * overall_final_ratio(vehicle) == 1
    assert evaluation.worst_error_percent is None
    table = power_table(vehicle, vehicle.real.gears[0].id, vehicle.motor.working_rpm)
    assert table is not None
    assert table.out_w == pytest.approx(table.in_w * evaluation.gears[0].efficiency)
    assert drag_lines(vehicle, vehicle.real.gears[0].id)
    assert {state.verdict.value for state in evaluation.proof.states} == {"drives"}
    assert box_length_mm(vehicle.box, vehicle.kit) == 0
    assert plan_book(vehicle).startswith(b"%PDF")


def test_nothing_is_missed_of_a_box_that_is_not_there() -> None:
    """A new vehicle warns that its gears have no trains; without a box nothing is asked of them."""
    new = blank_vehicle(brick())
    asked = {finding.code for finding in evaluate(new).findings}
    vehicle = boxless(new)
    vehicle = apply_edit(vehicle, add_gear(vehicle, new_gear(vehicle)))
    evaluation = evaluate(vehicle)
    codes = {finding.code for finding in evaluation.findings}
    assert "no-train" in asked
    assert "no-train" not in codes
    assert not [f for f in evaluation.findings if f.severity.value == "error"]
    users = {user for part in evaluation.parts for user in part.users}
    assert not users & {"box", "input", "selector", "drive row", "selector tie"}


def test_a_set_or_a_train_has_no_place_in_it() -> None:
    vehicle = boxless(example_vehicle())
    with pytest.raises(DocumentError):
        find_set(vehicle)
    with pytest.raises(DocumentError):
        set_train(vehicle, "1", ())
