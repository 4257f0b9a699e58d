"""Boxes whose shafts stand in line: distances by hand, the idler by two circles, what touches."""

import pytest

from examples import example_vehicle
from mild_badger.core.evaluate import evaluate
from mild_badger.core.layout.findings import layout_findings
from mild_badger.core.layout.verify import verify_stack
from mild_badger.core.ratios.train import parse_train
from mild_badger.core.structure.shaft_box import shaft_stack, stack_for
from mild_badger.core.vehicle.box import Slot
from mild_badger.core.vehicle.boxes import LayshaftBox, TwoShaftBox
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.box import apply_box
from mild_badger.core.vehicle.model import Vehicle
from strategies import vehicle_of

TRACTOR = "larkholm-timber-tractor"


def two_shaft(reverse: str) -> Vehicle:
    """A two-shaft box of the tractor's wood: sums of 60, reverse over an idler."""
    box = TwoShaftBox(
        slots=(
            Slot(gear="1", column=1, face="front", train=parse_train("15:45")),
            Slot(gear="2", column=1, face="back", train=parse_train("24:36")),
            Slot(gear="R", column=2, face="front", train=parse_train(reverse)),
        )
    )
    vehicle = vehicle_of(3.0, 1.5, reverse=2.5)
    vehicle = vehicle.model_copy(update={"kit": example_vehicle(TRACTOR).kit})
    return apply_edit(vehicle, apply_box(vehicle, box))


def test_the_tractor_stands_clear_with_its_idler_in_mesh_with_both() -> None:
    vehicle = example_vehicle(TRACTOR)
    stack = shaft_stack(vehicle)
    assert stack is not None
    box = vehicle.box
    assert isinstance(box, LayshaftBox)
    module = vehicle.kit.module_mm
    pair = box.slots[[s.gear for s in box.slots].index("R")].train[0]
    idler = "gear R/idler shaft 0.0"
    # the idler's distances are half the tooth sums, as for any pair in mesh
    assert stack.apart_mm(idler, "layshaft.1") == pytest.approx(
        (pair.driver + pair.idlers[0]) * module / 2
    )
    assert stack.apart_mm(idler, "output") == pytest.approx(
        (pair.idlers[0] + pair.driven) * module / 2
    )
    first = box.input_pair[0]
    assert stack.apart_mm("input.1", "layshaft.1") == pytest.approx(
        (first.driver + first.driven) * module / 2
    )
    assert stack.apart_mm("input.1", "output") == 0  # in line
    assert stack.rods["input.1"].last < stack.rods["output"].first
    assert verify_stack(vehicle, stack) == ()
    # the second gear's pair sits in the middle of a long span; nothing else is to be said
    assert [f.code for f in layout_findings(vehicle)] == ["far-from-support"]
    names = [name for name in stack.slabs if name.startswith("gear ")]
    assert sorted(names) == ["gear 1", "gear 2", "gear 3", "gear 4", "gear R"]


def test_an_idler_that_runs_into_something_is_found() -> None:
    clear = two_shaft("12:(20):30")
    stack = stack_for(clear)
    assert stack is not None
    assert verify_stack(clear, stack) == ()
    # 25 and 34 teeth stand so near one another that their tips meet beside the idler
    tight = two_shaft("25:(8):34")
    found = [f for f in evaluate(tight).findings if "layout" in f.where]
    assert found
    assert {f.code for f in found} == {"clash"}
    assert any("R" in f.where for f in found)


def test_what_has_no_shafts_in_line_has_no_such_stack() -> None:
    assert shaft_stack(example_vehicle()) is None
    assert stack_for(example_vehicle()) is None
    bare = vehicle_of(3.0)
    assert shaft_stack(apply_edit(bare, apply_box(bare, LayshaftBox()))) is None
