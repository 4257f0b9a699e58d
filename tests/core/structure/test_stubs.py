"""Shafts have ends that something can be coupled to, and hold as far as is said."""

import pytest

from mild_badger.core.layout.findings import layout_findings
from mild_badger.core.layout.shaft_deflection import separations, tooth_skip_torque_n_mm
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.structure.shaft_lengths import ShaftCut, output_rod, shaft_cuts, stub_mm
from mild_badger.core.vehicle.bodies import column_shaft
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from strategies import placed_demo
from telling import tells

TRACTOR, BUS, SWEEPER = "larkholm-timber-tractor", "larkholm-mail-bus", "larkholm-street-sweeper"


def cuts_of(vehicle: Vehicle) -> dict[str, ShaftCut]:
    stack = stack_for(vehicle)
    assert stack is not None
    return {cut.name: cut for cut in shaft_cuts(vehicle, stack)}


def codes(vehicle: Vehicle) -> list[str]:
    return [finding.code for finding in layout_findings(vehicle)]


def test_input_and_output_stand_out_by_one_and_a_half_diameters() -> None:
    tractor = placed_demo(TRACTOR)
    stack, cuts = stack_for(tractor), cuts_of(tractor)
    assert stack is not None
    stub = 1.5 * tractor.kit.shaft_diameter_mm
    assert stub_mm(tractor) == stub
    assert cuts["input.1"].from_mm == pytest.approx(-stub)
    end = cuts["output"].from_mm + cuts["output"].needed_mm
    assert end == pytest.approx(stack.length_mm + stub)
    assert cuts["layshaft.1"].from_mm == 0.0
    assert "nothing-to-couple-to" not in codes(tractor)


def test_a_stub_as_typed_is_kept_and_none_is_a_warning_with_its_mend() -> None:
    tractor = placed_demo(TRACTOR)
    longer = apply_edit(tractor, Edit.one("stub", ("frame", "stub_mm"), 25.0))
    assert cuts_of(longer)["input.1"].from_mm == pytest.approx(-25.0)
    flush = apply_edit(tractor, Edit.one("stub", ("frame", "stub_mm"), 0.0))
    finding = next(f for f in layout_findings(flush) if f.code == "nothing-to-couple-to")
    assert finding.mend is not None
    assert codes(apply_edit(flush, finding.mend)) == codes(tractor)


@pytest.mark.parametrize("name", [BUS, SWEEPER])
def test_a_tied_shaft_that_turns_as_the_output_leaves_a_slot_box(name: str) -> None:
    """Equal tie gears turn every other selector shaft the same way."""
    vehicle = placed_demo(name)
    stack = stack_for(vehicle)
    assert stack is not None
    leaving = output_rod(vehicle, stack)
    if leaving is None:
        assert "nothing-to-couple-to" in codes(vehicle)
        return
    own, taken = column_shaft(vehicle.box.output), column_shaft(leaving)
    assert own is not None
    assert taken is not None
    assert (own.column - taken.column) % 2 == 0
    rod = stack.rods[leaving]
    assert rod.last == stack.walls[-1]
    assert rod.walls[-1] == stack.walls[-1]
    for disc in stack.discs:
        if disc.shaft != leaving and rod.first <= disc.slab <= rod.last:
            apart = stack.apart_mm(leaving, disc.shaft)
            if disc.slab > stack.slabs.index("back inner wall"):
                assert apart > disc.radius_mm + vehicle.kit.shaft_diameter_mm / 2


def test_a_gear_that_lets_go_names_the_torque_up_to_which_it_holds() -> None:
    """A motor just below that torque leaves the gear in mesh, one just above does not."""
    bus = placed_demo(BUS)
    findings = [f for f in layout_findings(bus) if f.code == "skips-at-stall"]
    assert findings
    stack = stack_for(bus)
    assert stack is not None
    limits = tooth_skip_torque_n_mm(bus, stack)
    for finding in findings:
        torque = limits[finding.where[0]][0]
        assert tells(finding.text, "layout.it-holds-up-to-a-torque", torque=f"{torque:.0f} N·mm")
        for share, skips in ((0.99, False), (1.01, True)):
            stall = share * torque / bus.motor.shaft_stall_n_mm * bus.motor.stall_torque_n_mm
            weaker = apply_edit(
                bus,
                Edit.one(
                    "",
                    ("motor",),
                    bus.motor.model_copy(
                        update={"stall_torque_n_mm": stall, "limit_a": None}
                    ).model_dump(),
                ),
            )
            rows = [r for r in separations(weaker, stack) if r.gear == finding.where[0]]
            assert any(row.skips for row in rows) == skips
