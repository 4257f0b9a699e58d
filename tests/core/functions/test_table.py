"""The function table as it is typed: outputs and positions come, go and are renamed."""

from fractions import Fraction

import pytest

from examples import example_vehicle
from mild_badger.core.errors import InputError
from mild_badger.core.functions.describe import describe_motion, describe_speed, end_speed
from mild_badger.core.functions.prove import OutputSpeed
from mild_badger.core.functions.result import function_findings, function_result
from mild_badger.core.functions.table import (
    add_functions,
    add_output,
    add_position,
    drive_text,
    parse_cell,
    parse_drive,
    remove_functions,
    remove_output,
    remove_position,
    rename_output,
    rename_position,
    set_cell,
)
from mild_badger.core.ids import OutputId
from mild_badger.core.targets.schools import RatioConvention
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.functions import (
    MAX_OUTPUTS,
    MAX_POSITIONS,
    FunctionBox,
    FunctionOutput,
    Want,
)
from mild_badger.core.vehicle.model import Vehicle
from telling import refuses

FAN = OutputId("fan")


def started() -> Vehicle:
    bus = example_vehicle()
    return apply_edit(bus, add_functions())


def test_a_table_begins_with_one_of_each_and_goes_again() -> None:
    vehicle = started()
    assert vehicle.functions is not None
    assert [o.name for o in vehicle.functions.outputs] == ["output 1"]
    assert [p.name for p in vehicle.functions.positions] == ["position 1"]
    assert apply_edit(vehicle, remove_functions()).functions is None
    assert function_result(example_vehicle()) is None
    assert list(function_findings(None)) == []


def test_cells_are_set_and_emptied() -> None:
    vehicle = started()
    one = OutputId("output-1")
    vehicle = apply_edit(vehicle, set_cell(vehicle, "position 1", one, Want(output=one, ratio=4)))
    assert vehicle.functions is not None
    (position,) = vehicle.functions.positions
    want = position.want(one)
    assert want is not None
    assert want.ratio == 4
    again = apply_edit(vehicle, set_cell(vehicle, "position 1", one, Want(output=one, ratio=-2)))
    assert again.functions is not None
    assert [w.ratio for w in again.functions.positions[0].wants] == [-2]
    empty = apply_edit(again, set_cell(again, "position 1", one, None))
    assert empty.functions is not None
    assert empty.functions.positions[0].wants == ()


def test_there_is_an_end_to_outputs_and_positions() -> None:
    vehicle = started()
    for _ in range(MAX_OUTPUTS - 1):
        vehicle = apply_edit(vehicle, add_output(vehicle))
    for _ in range(MAX_POSITIONS - 1):
        vehicle = apply_edit(vehicle, add_position(vehicle))
    assert vehicle.functions is not None
    names = [output.name for output in vehicle.functions.outputs]
    assert len(set(names)) == MAX_OUTPUTS
    with refuses(InputError, "functions.a-function-box-has-at-most-outputs-remove"):
        add_output(vehicle)
    with refuses(InputError, "functions.a-function-box-has-at-most-positions-remove"):
        add_position(vehicle)
    fewer = apply_edit(vehicle, remove_position(vehicle, "position 3"))
    assert fewer.functions is not None
    assert "position 3" not in [p.name for p in fewer.functions.positions]
    assert len(fewer.functions.positions) == MAX_POSITIONS - 1


def test_what_is_named_can_be_renamed_and_what_is_gone_cannot() -> None:
    sweeper = example_vehicle("larkholm-street-sweeper")
    renamed = apply_edit(sweeper, rename_position(sweeper, "hopper", "tip"))
    assert renamed.functions is not None
    assert "tip" in [p.name for p in renamed.functions.positions]
    named = apply_edit(sweeper, rename_output(sweeper, FAN, "blower"))
    assert named.functions is not None
    assert named.functions.called(FAN) == "blower"
    less = apply_edit(sweeper, remove_output(sweeper, FAN))
    with refuses(InputError, "functions.this-output-is-no-longer-there"):
        rename_output(less, FAN, "blower")
    school = RatioConvention.TURNS_IN
    with refuses(InputError, "functions.there-is-no-output-there-are"):
        parse_cell("0.5 of nothing", box=sweeper.functions, output=FAN, school=school)  # type: ignore[arg-type]


def test_drives_are_written_as_they_are_read() -> None:
    for text in ("shaft", "spool 20", "screw 4", "rack 16", "ring 7"):
        kind, measure = parse_drive(text, output="a")
        assert drive_text(FunctionOutput(name="a", kind=kind, measure=measure)) == text


def test_ends_move_as_their_measure_says() -> None:
    """A spool of 20 mm at 30 rpm winds 2π·10·30/60 mm/s; a ring of 5 turns a fifth as fast."""
    box = FunctionBox(
        outputs=(
            FunctionOutput(name="winch", kind="spool", measure=20),
            FunctionOutput(name="ring", kind="ring", measure=5),
            FunctionOutput(name="shaft"),
        ),
        motor_rpm=60,
    )
    slow = Fraction(-1, 2)
    half = {n: OutputSpeed(OutputId(n), slow, 0.0, True) for n in ("winch", "ring", "shaft")}
    for name, value, unit in (("winch", -31.4159, "mm/s"), ("ring", -6.0, "rpm")):
        end = end_speed(box, half[name])
        assert end is not None
        assert end[0] == pytest.approx(value, abs=1e-3)
        assert end[1] == unit
    assert describe_motion(box, half["shaft"]) == "turns −, 30.0 rpm"
    assert describe_speed(box, half["winch"]).startswith("winch turns −")
    still = OutputSpeed(OutputId("shaft"), None, 0.0, True)
    assert end_speed(box, still) is None
    assert describe_speed(box, still) == "shaft stands"


def test_what_a_table_cannot_do_is_a_finding() -> None:
    sweeper = example_vehicle("larkholm-street-sweeper")
    result = function_result(sweeper)
    assert result is not None
    first = result.box.positions[0].name
    state = result.state(first, 1)
    assert state is not None
    assert state.direction == 1
    assert result.state("nowhere", 1) is None
    assert list(function_findings(result)) == []
    box = sweeper.functions
    assert box is not None
    one = box.outputs[0].id
    wild = apply_edit(sweeper, set_cell(sweeper, first, one, Want(output=one, ratio=997.3)))
    found = function_result(wild)
    assert found is not None
    assert {fault.code for fault in function_findings(found)} >= {"function-impossible"}
