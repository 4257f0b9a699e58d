"""Gate levers and catches in space: they lead to every fork, shift it, and touch nothing.

The tip of a lever on a pivot moves on a sphere about it: (x, y, z) from the pivot keep
x² + y² + z² = L² (Euclid); everything else is proven by solids.
"""

from dataclasses import replace
from math import cos, hypot, sin, sqrt

import pytest
from manifold3d import Manifold

from mild_badger.core.architectures.match import match_box
from mild_badger.core.components.box import box_components
from mild_badger.core.components.collide import collide
from mild_badger.core.components.component import Component
from mild_badger.core.components.shift_lever_parts import LEVER_KINDS, shift_lever_parts
from mild_badger.core.components.shift_lever_proof import prove_shift_levers
from mild_badger.core.components.solids import solid_of
from mild_badger.core.components.vehicle_parts import levers_of, main_components
from mild_badger.core.evaluate import evaluate
from mild_badger.core.ratios.lanes import Impossible
from mild_badger.core.structure.lever_place import LeverPlace, lean_rad
from mild_badger.core.structure.mirror import mirror_edit
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.structure.shaft_lengths import standing_out
from mild_badger.core.vehicle.demo import demo_vehicle
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.assembly import assembly_plan
from mild_badger.core.workshop.templates import templates_of

BUS, TRACTOR = "larkholm-mail-bus", "larkholm-timber-tractor"
SWEEPER, CRANE = "larkholm-street-sweeper", "larkholm-crane-truck"
BELOW = ("lever", "pivot"), "below"
BETWEEN = ("lever", "pivot"), "between"
CATCH = ("shifting", "actuation"), "catch"


def shifted_by(demo: str, path: tuple[str, str], value: object) -> Vehicle:
    return apply_edit(demo_vehicle(demo), Edit.one("", path, value))


@pytest.mark.parametrize(
    ("demo", "way"),
    [(SWEEPER, BELOW), (BUS, BETWEEN), (SWEEPER, CATCH), (TRACTOR, BETWEEN), (CRANE, BELOW)],
)
def test_every_fork_is_led_to_the_lever_and_nothing_touches(
    demo: str, way: tuple[tuple[str, str], object]
) -> None:
    vehicle = shifted_by(demo, *way)
    (place,) = levers_of(vehicle)
    box = box_components(vehicle)
    assert box is not None
    sleeves = {part.member for part in box.components if part.kind == "fork"}
    assert {arm.fork.column for arm in place.arms} == sleeves
    proof = collide(vehicle).proof
    assert not proof.overlaps
    # each rail is gone along, and the way from jaw to jaw
    assert proof.places >= 2 * len(place.arms)


@pytest.mark.parametrize("way", [BELOW, BETWEEN])
def test_the_tip_keeps_its_distance_from_the_pivot_and_meets_its_jaw(
    way: tuple[tuple[str, str], object],
) -> None:
    vehicle = shifted_by(BUS, *way)
    (place,) = levers_of(vehicle)
    up = -1 if place.hangs else 1
    for arm in place.arms:
        assert hypot(arm.x_mm - place.x_mm, arm.y_mm - place.y_mm) == pytest.approx(place.reach_mm)
        for travel in (-vehicle.lever.fork_travel_mm, vehicle.lever.fork_travel_mm):
            tilt, lean = lean_rad(place, arm.x_mm, travel)
            x = place.x_mm - up * place.reach_mm * cos(tilt) * sin(lean)
            y = place.y_mm + up * place.reach_mm * cos(tilt) * cos(lean)
            z = place.reach_mm * sin(tilt)
            assert x == pytest.approx(arm.x_mm)
            assert z == pytest.approx(travel)
            across = arm.x_mm - place.x_mm
            still = sqrt(place.reach_mm**2 - travel**2 - across**2)
            assert y == pytest.approx(place.y_mm + up * still)
            assert arm.floor_mm < y - place.tip_mm  # it does not strike the bar


@pytest.mark.parametrize("way", [BELOW, BETWEEN, CATCH])
def test_the_solid_of_the_lever_stands_where_its_tip_is_said_to_be(
    way: tuple[tuple[str, str], object],
) -> None:
    vehicle = shifted_by(SWEEPER, *way)
    (place,) = levers_of(vehicle)
    for gear in [gear.id for gear in vehicle.real.gears][:3]:
        box = main_components(vehicle, gear)
        assert box is not None
        lever = next(part for part in box.components if part.kind in ("gate lever", "catch"))
        ((sleeve, face),) = vehicle.box.engaged(gear).items()
        arm = next(arm for arm in place.arms if arm.fork.column == sleeve)
        along = place.jaw_mm + vehicle.lever.fork_travel_mm * (-1 if face == "front" else 1)
        tip = _ball(arm.x_mm, along, place.tip_mm / 3)
        solid = solid_of(lever)
        common = solid ^ tip.translate((0.0, _tip_high(place, arm.x_mm, along), 0.0))
        assert common.volume() == pytest.approx(tip.volume(), rel=1e-6)


def _ball(x: float, along: float, radius: float) -> Manifold:
    return Manifold.sphere(radius, 32).translate((x, 0.0, -along))


def _tip_high(place: LeverPlace, x: float, along: float) -> float:
    across = 0.0 if place.way == "catch" else x - place.x_mm
    still = sqrt(place.reach_mm**2 - (along - place.jaw_mm) ** 2 - across**2)
    return place.y_mm + (-still if place.hangs else still)


def test_two_small_boxes_have_a_lever_each() -> None:
    tractor = demo_vehicle(TRACTOR)
    match = match_box(tractor, "range-splitter", best="error")
    assert not isinstance(match, Impossible)
    vehicle = apply_edit(tractor, match.edit(tractor))
    places = levers_of(vehicle)
    assert [place.rail for place in places] == ["splitter sleeve", "range sleeve"]
    box = box_components(vehicle)
    assert box is not None
    rails = [part.id for part in box.components if part.kind == "rail"]
    assert len(rails) == len(set(rails)) == sum(len(place.arms) for place in places)
    assert not collide(vehicle).proof.overlaps


def test_a_bar_out_of_place_is_rejected_by_the_proof() -> None:
    vehicle = demo_vehicle(SWEEPER)
    places = levers_of(vehicle)
    box = box_components(vehicle)
    assert box is not None
    states = [[(arm.fork.column, "front")] for arm in places[0].arms]

    def overlaps(parts: tuple[Component, ...]) -> set[frozenset[str]]:
        proof = prove_shift_levers(parts, places, states, vehicle.lever.fork_travel_mm)
        return {frozenset((o.one, o.other)) for o in proof.overlaps}

    assert not overlaps(box.components)
    arm = next(part for part in box.components if part.kind == "shift arm")
    for wrong in (replace(arm, along_mm=2.0), replace(arm, y_mm=3.0), replace(arm, x_mm=5.0)):
        moved = tuple(wrong if part is arm else part for part in box.components)
        assert any(arm.id in pair for pair in overlaps(moved))


def test_columns_the_wrong_way_round_are_told_and_mirrored() -> None:
    vehicle = demo_vehicle(SWEEPER)
    other = apply_edit(vehicle, Edit.one("", ("lever", "first_rail"), "right"))
    (finding,) = [f for f in evaluate(other).findings if f.code == "no-way-to-the-lever"]
    assert not levers_of(other)
    assert finding.mend is not None
    mended = apply_edit(other, finding.mend)
    assert levers_of(mended)
    assert not [f for f in evaluate(mended).findings if f.severity.name != "NOTE"]
    assert not collide(mended).proof.overlaps
    twice = mirror_edit(mended)
    assert twice is not None
    assert apply_edit(mended, twice).layout == other.layout


def test_a_lever_too_short_for_its_rails_is_told_and_lengthened() -> None:
    vehicle = shifted_by(SWEEPER, ("lever", "arm_below_mm"), 12.0)
    (finding,) = [f for f in evaluate(vehicle).findings if f.code == "lever-too-short"]
    assert not levers_of(vehicle)
    assert finding.mend is not None
    mended = apply_edit(vehicle, finding.mend)
    # the tip's way to the outermost of three rails and into its gear is shorter than the finger
    pitch, travel = vehicle.lever.rail_pitch_mm, vehicle.lever.fork_travel_mm
    assert hypot(pitch, travel) < mended.lever.arm_below_mm < 20.0
    assert levers_of(mended)
    assert not collide(mended).proof.overlaps


def test_a_lever_is_built_in_order_and_has_its_templates() -> None:
    vehicle = demo_vehicle(TRACTOR)
    steps = {key: step.number for step in assembly_plan(vehicle).steps for key in step.keys}
    parts = list(shift_lever_parts(vehicle, levers_of(vehicle)))
    number = {part.kind: steps[part.key] for part in parts}
    assert number["shift arm"] < number["lever stand"] < number["cradle"] == number["gate lever"]
    keys = {template.key for template in templates_of(vehicle)}
    assert {str(part.id) for part in parts} <= keys
    assert {part.kind for part in parts} & LEVER_KINDS == {"gate lever", "cradle"}


def test_a_drum_leaves_no_lever() -> None:
    vehicle = shifted_by(BUS, ("shifting", "actuation"), "drum")
    box = box_components(vehicle)
    assert box is not None
    assert not levers_of(vehicle)
    assert not {part.kind for part in box.components} & {"gate lever", "shift arm", "catch"}


@pytest.mark.parametrize("demo", [SWEEPER, TRACTOR])
def test_the_tachometers_discs_stand_on_input_and_output(demo: str) -> None:
    vehicle = shifted_by(demo, ("frame", "sensor_discs"), value=True)
    box = box_components(vehicle)
    assert box is not None
    discs = [part for part in box.components if part.kind == "sensor disc"]
    stack = stack_for(vehicle)
    assert stack is not None
    front, back = standing_out(vehicle, stack)
    assert {disc.bodies[0] for disc in discs} == front | back
    ends = {disc.to_mm <= 0 for disc in discs}
    assert ends == {True, False}  # one before the box, one behind it
    assert not collide(vehicle).proof.overlaps
    for disc in discs:
        slots = vehicle.trial.slots_in if disc.to_mm <= 0 else vehicle.trial.slots_out
        assert len(disc.solid[0].holes) == 1 + slots
        assert str(disc.id) in {template.key for template in templates_of(vehicle)}
    short = apply_edit(vehicle, Edit.one("", ("frame", "stub_mm"), 1.0))
    assert [f for f in evaluate(short).findings if f.code == "no-room-for-disc"]
