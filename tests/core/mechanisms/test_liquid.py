"""Liquid lines against section 6 of our reference values, and work in against work out."""

import json
from math import pi

import pytest
from hypothesis import given
from hypothesis import strategies as st

from examples import example_vehicle
from mild_badger.core.errors import DocumentError
from mild_badger.core.evaluate import evaluate
from mild_badger.core.figures import plain
from mild_badger.core.kit.cautions import caution_of, cautions_for
from mild_badger.core.mechanisms.clutch.edits import add_clutch
from mild_badger.core.mechanisms.clutch.grip import clutch_figures
from mild_badger.core.mechanisms.liquid.describe import describe_liquid
from mild_badger.core.mechanisms.liquid.edits import add_line, remove_line
from mild_badger.core.mechanisms.liquid.findings import liquid_findings
from mild_badger.core.mechanisms.liquid.model import LiquidLine
from mild_badger.core.mechanisms.liquid.needs import grip_torque_n_mm, needed_mm
from mild_badger.core.mechanisms.liquid.pressure import liquid_figures
from mild_badger.core.vehicle.codec import decode, encode
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.parts import parts_needed
from telling import refuses, tells


def test_two_cylinders_of_ten_and_sixteen() -> None:
    """Force × 2.56, stroke × 0.390625: (d2/d1)²."""
    line = LiquidLine(master_mm=10, slave_mm=16, slaves=1, lost_mm3=0, pedal_ratio=1, pedal_mm=20)
    found = liquid_figures(line)
    assert found.slave_n / line.hand_n == pytest.approx(2.56)
    assert found.travel / 20 == pytest.approx(0.390625)
    assert found.pressure == pytest.approx(5 / (pi * 25))
    assert liquid_figures(LiquidLine(hand_n=4, pedal_ratio=2.5)).master_n == pytest.approx(10)


def test_two_slaves_move_half_as_far_with_the_same_force() -> None:
    one = liquid_figures(LiquidLine(slaves=1, lost_mm3=0))
    two = liquid_figures(LiquidLine(slaves=2, lost_mm3=0))
    assert two.travel == pytest.approx(one.travel / 2)
    assert two.slave_n == pytest.approx(one.slave_n)
    assert two.torque == pytest.approx(2 * one.torque)


@given(st.floats(3, 40), st.floats(3, 40), st.integers(1, 8), st.floats(0.5, 10), st.floats(0, 500))
def test_work_in_is_work_out_and_what_the_air_takes(
    master: float, slave: float, slaves: int, ratio: float, lost: float
) -> None:
    line = LiquidLine(
        master_mm=master,
        slave_mm=slave,
        slaves=slaves,
        pedal_ratio=ratio,
        pedal_mm=20,
        lost_mm3=lost,
    )
    found = liquid_figures(line)
    put_in = line.hand_n * line.pedal_mm
    out = slaves * found.slave_n * found.travel
    taken = found.pressure * min(lost, found.volume_mm3)
    assert out + taken == pytest.approx(put_in, rel=1e-9)
    if found.travel:
        assert found.pedal_at(found.travel) == pytest.approx(20)


def test_a_floating_caliper_pinches_on_both_sides() -> None:
    """Two pads with μ 0.35 at 12 mm: T = 2 · 0.35 · F · 12 for each slave, twice one side's."""
    floats, fixed = LiquidLine(slaves=1), LiquidLine(slaves=1, floating=False)
    force = liquid_figures(floats).slave_n
    assert liquid_figures(floats).torque == pytest.approx(2 * 0.35 * force * 12)
    assert liquid_figures(fixed).torque == pytest.approx(0.35 * force * 12)


@pytest.fixture
def lined() -> Vehicle:
    edit = add_line(example_vehicle())
    assert edit is not None
    return apply_edit(example_vehicle(), edit)


def with_line(vehicle: Vehicle, **changes: object) -> Vehicle:
    for name, value in changes.items():
        vehicle = apply_edit(vehicle, Edit.one(name, ("hydraulic_lines", 0, name), value))
    return vehicle


def test_what_runs_out_locks_or_bursts_is_a_finding(lined: Vehicle) -> None:
    assert needed_mm(lined, lined.hydraulic_lines[0]) == pytest.approx(1.6)
    assert not {f.code for f in liquid_findings(lined)} & {"line-runs-out", "line-pressure"}
    (short,) = [
        f for f in liquid_findings(with_line(lined, lost_mm3=900.0)) if f.code == "line-runs-out"
    ]
    # π/4 · 10² · 12 less 900 mm³ over two areas of π/4 · 10²
    assert short.figure == pytest.approx((12 - 900 / (25 * pi)) / 2)
    assert short.limit == pytest.approx(1.6)
    assert "line-pressure" in {f.code for f in liquid_findings(with_line(lined, hand_n=40.0))}
    locks = with_line(lined, hand_n=400.0)
    assert "wheels-lock" in {f.code for f in evaluate(locks).findings}
    line = lined.hydraulic_lines[0]
    at = grip_torque_n_mm(lined, line)
    just = liquid_figures(
        line.model_copy(update={"hand_n": line.hand_n * at / liquid_figures(line).torque})
    )
    assert just.torque == pytest.approx(at)
    assert tells(describe_liquid(lined, line), "liquid.the-brakes-hold-together-the-tyres-grip-to")
    assert apply_edit(lined, remove_line(lined, 0)).hydraulic_lines == ()


def test_it_works_the_clutch_that_there_is(lined: Vehicle) -> None:
    line = with_line(lined, works="clutch", slaves=1)
    assert [f.code for f in liquid_findings(line)] == ["line-no-clutch"]
    assert tells(
        describe_liquid(line, line.hydraulic_lines[0]), "liquid.there-is-no-clutch-to-work"
    )
    both = apply_edit(line, add_clutch(line))
    assert both.clutch is not None
    assert needed_mm(both, both.hydraulic_lines[0]) == pytest.approx(
        clutch_figures(both.clutch).pedal_needed
    )
    assert list(liquid_findings(both)) == []
    assert tells(describe_liquid(both, both.hydraulic_lines[0]), "liquid.the-clutchs-lever-wants")
    weak = with_line(both, hand_n=0.5)
    assert [f.code for f in liquid_findings(weak)] == ["line-weak"]


def test_cylinders_are_parts_and_liquid_has_its_caution(lined: Vehicle) -> None:
    named = {plain(p.name): p.needed for p in parts_needed(lined)}
    assert named["master cylinder, 10 mm bore"] == 1
    assert named["slave cylinder, 10 mm bore"] == 2
    assert tells(caution_of("liquid"), "caution.6")
    assert caution_of("liquid") not in cautions_for(lined.kit)


def test_brakes_and_clutch_have_a_line_each() -> None:
    vehicle = apply_edit(example_vehicle(), add_clutch(example_vehicle()))
    for wanted in (
        ("brakes", "brake"),
        ("clutch", "clutch"),
        ("line 1", "brake"),
        ("line 2", "brake"),
    ):
        edit = add_line(vehicle)
        assert edit is not None
        vehicle = apply_edit(vehicle, edit)
        assert (vehicle.hydraulic_lines[-1].name, vehicle.hydraulic_lines[-1].works) == wanted
    assert add_line(vehicle) is None
    for fault in liquid_findings(with_line(vehicle, lost_mm3=900.0)):
        assert fault.where[1] in {line.id for line in vehicle.hydraulic_lines}
    with refuses(DocumentError, "vehicle.two-liquid-lines-share-a-name"):
        with_line(vehicle, name="clutch")


def test_a_file_with_one_line_is_read() -> None:
    data = json.loads(encode(example_vehicle()))
    line = LiquidLine(master_mm=7.0).model_dump(exclude={"name"})
    old = {**data, "version": 2, "vehicle": {**data["vehicle"], "liquid": line}}
    del old["vehicle"]["hydraulic_lines"]
    assert [kept.master_mm for kept in decode(json.dumps(old).encode()).hydraulic_lines] == [7.0]
    old["vehicle"]["liquid"] = None
    assert decode(json.dumps(old).encode()).hydraulic_lines == ()
