"""Friction clutches against section 6 of our reference values: Shigley 16-5, Khurmi and Gupta."""

from math import pi

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import quad

from examples import example_vehicle
from mild_badger.core.driveline.assemble import BOX_INPUT, assemble
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.errors import DocumentError, InputError
from mild_badger.core.evaluate import evaluate
from mild_badger.core.mechanisms.clutch.describe import describe_clutch
from mild_badger.core.mechanisms.clutch.edits import add_clutch, remove_clutch
from mild_badger.core.mechanisms.clutch.findings import clutch_findings
from mild_badger.core.mechanisms.clutch.grip import (
    LININGS,
    STANDS,
    clutch_figures,
    friction,
    holding,
    lining_limit,
)
from mild_badger.core.mechanisms.clutch.model import Clutch, Lining
from mild_badger.core.mechanisms.clutch.wear import LINING_WEAR
from mild_badger.core.message import say
from mild_badger.core.situation import Situation
from mild_badger.core.templates.kerf import cut_shapes
from mild_badger.core.trial.expected import expected, places
from mild_badger.core.trial.log import watch_wear
from mild_badger.core.vehicle.bodies import CLUTCH, MOTOR
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.parts import parts_needed
from mild_badger.core.workshop.templates import template_of, templates_of
from telling import refuses, tells

BOOK = Clutch(outer_mm=300, inner_mm=200, faces=2, lining="own", own_mu=0.3)


def test_the_worked_example_of_khurmi_and_gupta() -> None:
    """Example 10.23: pa 0.1 N/mm² at the inner edge is W 3141.6 N, T 235.62 N·m, 61.685 kW."""
    found = clutch_figures(BOOK.model_copy(update={"spring_n": 1000 * pi}))
    assert found.pressure_n_mm2 == pytest.approx(0.1, rel=1e-6)
    assert found.wear == pytest.approx(235_620, rel=1e-5)
    assert found.wear / 1e6 * 2500 * 2 * pi / 60 == pytest.approx(61.685, rel=1e-4)


def test_uniform_pressure_with_the_same_lining() -> None:
    """The same lining at 0.1 N/mm² all over takes W 3927.0 N and holds 298.45 N·m."""
    force = pi * 0.1 * (150**2 - 100**2)
    assert force == pytest.approx(3927.0, abs=0.05)
    found = clutch_figures(BOOK.model_copy(update={"spring_n": force}))
    assert found.pressure == pytest.approx(298_450, rel=1e-4)


def test_greatest_pressure_and_a_disc_without_a_hole() -> None:
    """Example 10.22: 4 kN on 50/100 mm radii, greatest 0.2546 N/mm²; at ri → 0 4/3 between both."""
    found = clutch_figures(
        BOOK.model_copy(update={"outer_mm": 200.0, "inner_mm": 100.0, "spring_n": 4000.0})
    )
    assert found.pressure_n_mm2 == pytest.approx(0.2546, abs=5e-5)
    full = clutch_figures(BOOK.model_copy(update={"inner_mm": 1e-6}))
    assert full.pressure / full.wear == pytest.approx(4 / 3, rel=1e-6)


@given(st.floats(10, 60), st.floats(0.1, 0.9), st.integers(1, 8), st.sampled_from([*LININGS]))
def test_both_theories_are_the_integrals_over_the_lining(
    outer: float, share: float, faces: int, lining: str
) -> None:
    clutch = Clutch(outer_mm=outer, inner_mm=outer * share, faces=faces, spring_n=50).model_copy(
        update={"lining": lining}
    )
    found, ro, ri = clutch_figures(clutch), outer / 2, outer * share / 2
    worn_p = 50 / (2 * pi * (ro - ri))  # p·r is the same all over
    even_p = 50 / (pi * (ro**2 - ri**2))
    for got, moment in (
        (found.wear, lambda r: worn_p / r * 2 * pi * r * r),
        (found.pressure, lambda r: even_p * 2 * pi * r * r),
    ):
        whole, _ = quad(moment, ri, ro)
        assert got == pytest.approx(faces * friction(clutch) * whole, rel=1e-9)
    assert found.pressure >= found.wear >= found.worn


def test_release_and_wear() -> None:
    """Two gaps of 0.3 mm at 4 to 1 with 1 mm of play: 3.4 mm; 10.6 N there are 2.65 N."""
    found = clutch_figures(Clutch())
    assert found.lift == pytest.approx(0.6)
    assert found.pedal_needed == pytest.approx(3.4)
    assert (found.release_n, found.pedal_n) == pytest.approx((10.6, 2.65))
    assert found.worn / found.wear == pytest.approx(0.95)
    assert found.margin(0) == float("inf")
    gone = clutch_figures(Clutch(spring_n_per_mm=100))
    assert gone.worn == 0


@pytest.fixture
def clutched() -> Vehicle:
    return apply_edit(example_vehicle(), add_clutch(example_vehicle()))


def test_the_clutch_is_a_body_between_motor_and_box(clutched: Vehicle) -> None:
    assert expected(clutched, "3", CLUTCH) == 1
    assert CLUTCH in [place.body for place in places(clutched)]
    plain, with_it = evaluate(example_vehicle()), evaluate(clutched)
    assert [g.ratio for g in with_it.gears] == [g.ratio for g in plain.gears]
    assert not {f.code for f in with_it.findings} & {"clutch-slips", "clutch-drags"}
    assert tells(describe_clutch(clutched), "clutch.torque-capacity-run-in-new-worn-by-motor")
    assert describe_clutch(example_vehicle()) == ""
    assert apply_edit(clutched, remove_clutch()).clutch is None
    watched = apply_edit(clutched, watch_wear(clutched, LINING_WEAR))
    assert [w.part for w in watched.log.wear] == ["clutch lining"]


def test_slipping_and_dragging_are_findings_and_the_mend_mends(clutched: Vehicle) -> None:
    weak = apply_edit(clutched, Edit.one("weak", ("clutch", "spring_n"), 1.0))
    (found,) = clutch_findings(weak)
    assert (found.code, found.title) == ("clutch-slips", say("clutch.the-clutch-slips"))
    assert found.mend is not None
    mended = apply_edit(weak, found.mend)
    assert list(clutch_findings(mended)) == []
    assert mended.clutch is not None
    kept = clutch_figures(mended.clutch).worn / mended.motor.shaft_stall_n_mm
    assert kept == pytest.approx(1.25, abs=0.03)
    between = mended.clutch.spring_n * 0.9
    (near,) = clutch_findings(apply_edit(mended, Edit.one("n", ("clutch", "spring_n"), between)))
    assert near.title == say("clutch.the-clutch-has-too-little-torque-reserve")
    stiff = apply_edit(clutched, Edit.one("long", ("clutch", "lever_ratio"), 30.0))
    assert [f.code for f in clutch_findings(stiff)] == ["clutch-drags"]
    assert clutched.clutch is not None
    outer = clutched.clutch.outer_mm
    with refuses(DocumentError, "clutch.inside-and-outside-of-the-lining-both"):
        apply_edit(clutched, Edit.one("wide", ("clutch", "inner_mm"), outer))


def test_a_lining_is_not_pressed_harder_than_it_stands(clutched: Vehicle) -> None:
    """Cork dry on iron stands 55 to 95 kPa by Shigley's table of friction materials."""
    clutch = clutched.clutch
    assert clutch is not None
    most = lining_limit(clutch)
    assert most == 0.095
    assert clutch_figures(clutch).pressure_n_mm2 <= most
    # a spring that would hold the motor by itself: 59 times what cork stands
    hard = apply_edit(clutched, Edit.one("hard", ("clutch", "spring_n"), 2250.0))
    (found,) = clutch_findings(hard)
    assert found.code == "lining-pressed"
    assert found.figure == pytest.approx(5.6, abs=0.05)
    assert found.mend is not None
    assert list(clutch_findings(apply_edit(hard, found.mend))) == []
    measured = apply_edit(hard, Edit.one("own", ("clutch", "limit_mpa"), 6.0))
    assert list(clutch_findings(measured)) == []
    own = apply_edit(hard, Edit.one("own", ("clutch", "lining"), "own"))
    assert list(clutch_findings(own)) == []  # of that nothing is known


@given(st.floats(0, 5000), st.sampled_from([*STANDS]), st.floats(0, 5))
def test_what_is_proposed_holds_within_what_the_lining_stands(
    torque: float, lining: Lining, rate: float
) -> None:
    held = holding(Clutch(lining=lining, spring_n_per_mm=rate), torque)
    assert held is None or Clutch.model_validate(held.model_dump()) == held
    if held is None:  # not within the sizes and faces that are tried
        assert torque > 200
        return
    found = clutch_figures(held)
    assert found.worn >= torque * (1 - 1e-9) - 1e-9  # N·mm, what rounding may take
    assert found.pressure_n_mm2 <= STANDS[lining]
    assert found.pedal_left >= 0


def test_plates_and_linings_are_parts_and_the_lining_a_template(clutched: Vehicle) -> None:
    counts = {p.key[0]: p.needed for p in parts_needed(clutched)}
    assert (counts["lining"], counts["clutch plate"]) == (2, 3)
    assert {t.key: t.count for t in templates_of(clutched)}["clutch lining"] == 2
    ((ring, (hole,)),) = cut_shapes(template_of(clutched, "clutch lining", kerf=False))
    wide = max(x for x, _ in ring) - min(x for x, _ in ring)
    open_mm = max(x for x, _ in hole) - min(x for x, _ in hole)
    assert (wide, open_mm) == pytest.approx((32, 16), abs=0.05)
    with refuses(InputError, "workshop.this-vehicle-takes-no-template-see-the-list"):
        template_of(example_vehicle(), "clutch lining")


def test_a_released_clutch_leaves_the_box_free() -> None:
    vehicle = apply_edit(example_vehicle(), add_clutch(example_vehicle()))
    closed, released = (solve(assemble(vehicle, released=r), {}) for r in (False, True))
    assert [closed.speed(body) for body in (CLUTCH, BOX_INPUT)] == [1, 1]
    assert [released.speed(body) for body in (MOTOR, BOX_INPUT)] == [1, None]
    driving = evaluate(vehicle, Situation(gear="3"))
    parted = evaluate(vehicle, Situation(gear="3", released=True))
    assert [s.key for s in driving.stations][:3] == ["motor", "clutch", "box"]
    assert driving.axle.housing_rpm
    assert parted.axle.housing_rpm is None
    assert {s.figure for s in parted.stations[2:]} == {"not driven"}
    assert parted.gears == driving.gears  # what the gears are does not change
