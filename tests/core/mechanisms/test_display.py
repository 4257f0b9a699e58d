"""The display engine against firing intervals and the slider-crank row of our reference values.

Orders and throws are as remembered from engine handbooks; the intervals follow by arithmetic.
"""

from fractions import Fraction
from math import sqrt

import pytest
from hypothesis import given
from hypothesis import strategies as st

from examples import example_vehicle
from mild_badger.core.driveline.assemble import CRANK, assemble, shifter_state_for
from mild_badger.core.drivetrain.path import power_path
from mild_badger.core.drivetrain.power import power_flow
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.errors import DocumentError, InputError
from mild_badger.core.evaluate import evaluate
from mild_badger.core.mechanisms.display.edits import add_engine, use_order, with_throws
from mild_badger.core.mechanisms.display.engine import (
    evenest,
    firing,
    free_force,
    piston_mm,
    poses,
    preset,
    presets,
    top_deg,
    wrong_throws,
)
from mild_badger.core.mechanisms.display.model import DisplayEngine
from mild_badger.core.mechanisms.display.result import (
    crank_turns,
    display_result,
    parse_angles,
    parse_order,
)
from mild_badger.core.templates.kerf import cut_shapes
from mild_badger.core.trial.expected import expected, places
from mild_badger.core.vehicle.bodies import MOTOR
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.parts import parts_needed
from mild_badger.core.workshop.templates import template_of, templates_of
from telling import refuses, tells


def engine(name: str, **changes: object) -> DisplayEngine:
    return preset(DisplayEngine(), name).model_copy(update=changes)


def v(bank: float, throws: tuple[float, ...]) -> DisplayEngine:
    count = len(throws)
    return DisplayEngine(
        layout="V",
        bank_deg=bank,
        cylinders=count,
        throws_deg=throws,
        order=tuple(range(1, count + 1)),
    )


@pytest.mark.parametrize(("angle", "height"), [(0, 104), (45, 95.1498), (90, 76.3151), (180, 56)])
def test_the_slider_crank_of_the_reference_values(angle: float, height: float) -> None:
    assert piston_mm(24, 80, angle) == pytest.approx(height, abs=5e-5)
    with refuses(ValueError, "display.a-rod-of-cannot-follow-a-throw-of-it-must-be"):
        piston_mm(24, 20, angle)


@pytest.mark.parametrize(
    ("name", "interval"),
    [
        ("three in line", 240),
        ("four in line", 180),
        ("five in line", 144),
        ("six in line", 120),
        ("flat twin", 360),
        ("flat four", 180),
        ("V8, cross-plane", 90),
        ("V8, flat-plane", 90),
        ("V12", 60),
    ],
)
def test_known_engines_fire_evenly(name: str, interval: float) -> None:
    made = engine(name)
    fires = firing(made)
    assert fires.possible
    assert fires.even
    assert fires.intervals_deg == pytest.approx([interval] * made.cylinders)
    assert evenest(made).even


@pytest.mark.parametrize(
    ("order", "name"),
    [
        ((1, 3, 4, 2), "four in line"),
        ((1, 2, 4, 3), "four in line"),
        ((1, 5, 3, 6, 2, 4), "six in line"),
        ((1, 2, 4, 5, 3), "five in line"),
    ],
)
def test_the_orders_of_the_reference_values_are_even(order: tuple[int, ...], name: str) -> None:
    assert firing(engine(name), order=order).even


@pytest.mark.parametrize(
    ("made", "intervals"),
    [
        (v(90, (0, 0)), (270, 450)),
        (v(60, (0, 0)), (300, 420)),
        (v(45, (0, 0)), (315, 405)),
    ],
)
def test_a_v_twin_on_one_pin(made: DisplayEngine, intervals: tuple[float, float]) -> None:
    assert sorted(evenest(made).intervals_deg) == pytest.approx(sorted(intervals))


def test_uneven_ones_are_uneven_as_they_should_be() -> None:
    cross = evenest(engine("four in line, cross-plane"))
    assert {round(i) for i in cross.intervals_deg} == {90, 180, 270}
    sixty = evenest(v(60, (0, 0, 90, 90, 270, 270, 180, 180)))
    assert (round(min(sixty.intervals_deg)), round(max(sixty.intervals_deg))) == (60, 120)
    split = evenest(v(90, (0, 30, 120, 150, 240, 270)))  # a V6's pins split by 30° make it even
    assert split.intervals_deg == pytest.approx([120] * 6)
    wrong = evenest(v(90, (0, -30, 120, 90, 240, 210)))  # the other way about they do not
    assert (round(min(wrong.intervals_deg)), round(max(wrong.intervals_deg))) == (60, 180)
    common = evenest(v(90, (0, 0, 120, 120, 240, 240)))
    assert (round(min(common.intervals_deg)), round(max(common.intervals_deg))) == (90, 150)


def test_free_forces_of_the_second_order() -> None:
    """Four in line 4 × one cylinder's, first 0; flat-plane V8 4√2; six in line none at all."""
    assert free_force(engine("four in line"), 1) == pytest.approx(0, abs=1e-6)
    assert free_force(engine("four in line"), 2) == pytest.approx(4)
    assert free_force(engine("V8, flat-plane"), 2) == pytest.approx(4 * sqrt(2), rel=1e-4)
    for harmonic in (1, 2):
        assert free_force(engine("six in line"), harmonic) == pytest.approx(0, abs=1e-6)


@given(st.integers(1, 12), st.data())
def test_any_crank_fires_each_cylinder_once_in_two_turns(count: int, data: st.DataObject) -> None:
    throws = tuple(
        data.draw(st.sampled_from((0, 45, 60, 90, 120, 180, 240, 270, 300))) for _ in range(count)
    )
    made = DisplayEngine(cylinders=count, throws_deg=throws, order=tuple(range(1, count + 1)))
    best = evenest(made)
    assert sorted(best.order) == list(range(1, count + 1))
    assert sum(best.intervals_deg) >= 720 - 1e-6
    fires = firing(made)
    if fires.possible:
        spread = max(fires.intervals_deg) - min(fires.intervals_deg)
        least = max(best.intervals_deg) - min(best.intervals_deg)
        assert not best.possible or least <= spread + 1e-6


def test_a_cylinder_is_at_its_top_when_it_fires() -> None:
    made = engine("V8, cross-plane")
    fires = firing(made)
    for cylinder, at in zip(fires.order, fires.angles_deg, strict=True):
        pose = poses(made, fires.start_deg + at)[cylinder - 1]
        assert pose.share == pytest.approx(0, abs=1e-9)
        assert top_deg(made, cylinder) == pytest.approx((fires.start_deg + at) % 360)
        assert fires.fires_at(fires.start_deg + at + 1) == cylinder


@pytest.mark.parametrize("turned", [0.0, 33.0, 180.0])
def test_the_throw_that_was_glued_wrong_is_named_however_the_crank_lies(turned: float) -> None:
    made = engine("four in line")
    glued = [angle + turned for angle in made.throws_deg]
    glued[2] = glued[2] - 90
    found = wrong_throws(made.model_copy(update={"made_deg": tuple(glued)}))
    assert [(w.cylinder, round(w.off_deg)) for w in found] == [(3, -90)]
    assert tells(found[0].words, "display.throw-stands-at-instead-of-out-cylinder", meant="180")
    assert wrong_throws(made.model_copy(update={"made_deg": made.throws_deg})) == ()
    # the first throw itself may be the wrong one
    glued = [90 + turned, *(angle + turned for angle in made.throws_deg[1:])]
    found = wrong_throws(made.model_copy(update={"made_deg": tuple(glued)}))
    assert [w.cylinder for w in found] == [1]


@pytest.fixture
def shown() -> Vehicle:
    vehicle = apply_edit(example_vehicle(), add_engine(example_vehicle()))
    pairs = (GearPair(driver=8, driven=40), GearPair(driver=8, driven=24))
    return apply_edit(vehicle, Edit.one("gear", ("display_engine", "pairs"), pairs))


def test_the_crank_is_a_body_of_the_one_graph(shown: Vehicle) -> None:
    assert crank_turns(shown, None) == Fraction(8 * 8, 40 * 24)
    boxed = apply_edit(shown, Edit.one("from box", ("display_engine", "drive"), "box output"))
    for gear in evaluate(boxed).gears:
        assert gear.ratio is not None
        assert crank_turns(boxed, gear.name) == Fraction(1, 15) / gear.ratio
    assert crank_turns(boxed, None) is None
    assert CRANK in [place.body for place in places(shown)]
    assert expected(shown, "3", CRANK) == Fraction(1, 15)
    # the same ratios as without it, and its gears among the parts
    before = [gear.ratio for gear in evaluate(example_vehicle()).gears]
    assert [gear.ratio for gear in evaluate(shown).gears] == before
    counted = {part.key: part.needed for part in parts_needed(shown)}
    plain = {part.key: part.needed for part in parts_needed(example_vehicle())}
    assert counted["fixed", 8] == plain["fixed", 8] + 2
    result = display_result(shown, "3", 3200.0)
    assert result is not None
    assert result.rpm == pytest.approx(3200 / 15)


def test_what_cannot_be_is_a_finding_and_its_mend_mends(shown: Vehicle) -> None:
    codes = {f.code for f in evaluate(shown).findings}
    assert not codes & {"rod-too-short", "firing-order", "uneven-firing", "wrong-throw"}
    short = apply_edit(shown, Edit.one("short", ("display_engine", "rod_mm"), 5.0))
    assert "rod-too-short" in {f.code for f in evaluate(short).findings}
    odd = apply_edit(shown, use_order(shown.display_engine or DisplayEngine(), (1, 2, 3, 4)))
    found = next(f for f in evaluate(odd).findings if f.code in ("firing-order", "uneven-firing"))
    assert found.mend is not None
    mended = apply_edit(odd, found.mend)
    assert not {f.code for f in evaluate(mended).findings} & {"firing-order", "uneven-firing"}
    fast = apply_edit(shown, Edit.one("direct", ("display_engine", "pairs"), ()))
    assert "crank-fast" in {f.code for f in evaluate(fast).findings}


def test_angles_and_orders_are_read_or_refused() -> None:
    made = engine("four in line")
    assert parse_angles("0, 180; 180° 0", what="Throws") == (0, 180, 180, 0)
    assert parse_order("1 – 3, 4-2", made) == (1, 3, 4, 2)
    with refuses(InputError, "display.the-firing-order-must-name-each-of-the-2", cylinders="4"):
        parse_order("1-3-3-2", made)
    with refuses(InputError, "targets.is-not-a-number-type-one-such-as-3-45"):
        parse_angles("0, up", what="Throws")
    with refuses(
        InputError, "display.give-one-throw-a-cylinder-1-to-of-them-such", count_of_throws="13"
    ):
        with_throws(made, (0.0,) * 13)
    vehicle = apply_edit(example_vehicle(), add_engine(example_vehicle()))
    six = apply_edit(vehicle, with_throws(made, (0, 240, 120, 120, 240, 0)))
    assert six.display_engine is not None
    assert firing(six.display_engine).even
    with refuses(DocumentError, "display.throws-were-made-are-measured"):
        apply_edit(vehicle, Edit.one("m", ("display_engine", "made_deg"), [0, 90]))


def test_rods_webs_and_the_jig_are_templates(shown: Vehicle) -> None:
    counts = {t.key: t.count for t in templates_of(shown) if t.key.startswith("engine")}
    assert counts == {"engine rod": 4, "engine web": 8, "engine jig": 1}
    ((_, holes),) = cut_shapes(template_of(shown, "engine rod"))
    middles = [(min(y for _, y in h) + max(y for _, y in h)) / 2 for h in holes]
    assert abs(middles[0] - middles[1]) == pytest.approx(28.0)
    ((_, holes),) = cut_shapes(template_of(shown, "engine jig"))
    assert len(holes) == 3  # the shaft's, and one for each of two angles
    thin = apply_edit(shown, Edit.one("short", ("display_engine", "throw_mm"), 3.0))
    with refuses(InputError, "display.crank-web-with-a-throw-of-the-holes-of-and"):
        template_of(thin, "engine web")
    assert len(presets()) >= 12


@pytest.mark.parametrize("drive", ["motor", "box output"])
def test_a_crank_that_rubs_takes_its_power_and_what_teeth_lose(shown: Vehicle, drive: str) -> None:
    engine = (shown.display_engine or DisplayEngine()).model_copy(
        update={
            "drive": drive,
            "pairs": (GearPair(driver=8, driven=40), GearPair(driver=12, driven=24)),
        }
    )
    vehicle = shown.model_copy(update={"display_engine": engine})
    train, sleeves = assemble(vehicle), shifter_state_for(vehicle, "3")
    solution = solve(train, sleeves)
    turns = solution.speed(CRANK)
    assert turns
    load = -3.0 if turns > 0 else 3.0
    flow = power_flow(train, sleeves, solution, {CRANK: load}, mesh_loss=0.04)
    assert flow is not None
    assert flow.power_out == pytest.approx(3.0 * abs(float(turns)))
    assert flow.power_in == pytest.approx(flow.power_out + flow.lost)
    path = power_path(train, sleeves, MOTOR, CRANK)
    assert path is not None
    assert flow.power_out / flow.power_in == pytest.approx(0.96**path.meshes)
    third = next(g for g in evaluate(vehicle).gears if g.name == "3")
    assert path.meshes >= (2 if drive == "motor" else 2 + third.meshes)
