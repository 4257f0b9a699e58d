"""Boxes whose gears slide into mesh stand in neutral, and touch nothing on the way into a gear."""

from dataclasses import replace
from functools import cache
from math import pi

import pytest

from examples import example_vehicle
from mild_badger.core.architectures.match import match_box
from mild_badger.core.components.box import box_components
from mild_badger.core.components.collide import collide
from mild_badger.core.components.component import Component
from mild_badger.core.components.model import travel_in
from mild_badger.core.components.proof import _met
from mild_badger.core.components.solids import solid_of
from mild_badger.core.evaluate import evaluate
from mild_badger.core.layout.shaft_deflection import separations
from mild_badger.core.ratios.lanes import Impossible
from mild_badger.core.ratios.propose import pairs_for_gear
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.structure.shaft_lengths import shaft_cuts
from mild_badger.core.vehicle.bodies import gear_body
from mild_badger.core.vehicle.box import Slot, gear_key
from mild_badger.core.vehicle.boxes import LayshaftBox
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.edit.slots import move_slot, set_train
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.train import pair_id
from mild_badger.core.workshop.assembly import assembly_plan
from mild_badger.core.workshop.joints import joint_of
from mild_badger.core.workshop.parts import parts_needed
from strategies import vehicle_of

DEMOS = ("larkholm-timber-tractor", "larkholm-crane-truck")


@cache
def sliding(name: str) -> Vehicle:
    """A demo's box with gears that slide, and forks that travel as far as its finding asks."""
    vehicle = apply_edit(example_vehicle(name), Edit.one("slide", ("box", "engagement"), "slide"))
    for finding in evaluate(vehicle).findings:
        if finding.code == "slider-gap" and finding.mend is not None:
            return apply_edit(vehicle, finding.mend)
    return vehicle


@pytest.mark.parametrize("name", DEMOS)
def test_no_gear_is_in_mesh_in_neutral_and_one_pair_is_in_every_gear(name: str) -> None:
    vehicle = sliding(name)
    box = box_components(vehicle)
    assert box is not None
    sliders = [pair for pair in box.meshes if box.of(pair.other).member]
    slots = [slot for slot in vehicle.box.slots if isinstance(slot, Slot)]
    assert len(sliders) == sum(1 for slot in slots if slot.train)

    def in_mesh(gear: str | None) -> list[str]:
        travel = travel_in(vehicle, gear)
        deep = []
        for pair in sliders:
            one, other = box.of(pair.one), box.of(pair.other)
            moved = other.moved_mm(travel)
            common = min(one.to_mm, other.to_mm + moved) - max(one.from_mm, other.from_mm + moved)
            if common > 0:
                width = min(one.to_mm - one.from_mm, other.to_mm - other.from_mm)
                assert common > 0.85 * width
                deep.append(str(other.id))
        return deep

    assert in_mesh(None) == []
    for gear in vehicle.real.gears:
        slot = next(slot for slot in slots if slot.gear == gear.id)
        assert len(in_mesh(gear.id)) == bool(slot.train)


@pytest.mark.parametrize("name", DEMOS)
def test_nothing_touches_in_any_gear_or_on_the_way(name: str) -> None:
    collision = collide(sliding(name))
    assert collision.proof.overlaps == ()
    assert collision.clear


@pytest.mark.parametrize("name", DEMOS)
def test_sliders_are_fixed_to_no_shaft_and_their_way_is_open(name: str) -> None:
    vehicle = sliding(name)
    stack, box = stack_for(vehicle), box_components(vehicle)
    assert stack is not None
    assert box is not None
    moving = {body for part in box.components if part.member for body in part.bodies}
    for gear in (part for part in box.components if part.kind == "gear"):
        assert (joint_of(vehicle, gear) == "slides") == bool(moving & set(gear.bodies))
    cut = next(cut for cut in shaft_cuts(vehicle, stack) if cut.name == "output")
    assert not any(part.kind == "spacer" for part in cut.parts)
    ways = [n for n, kind in enumerate(stack.kinds) if kind == "way"]
    assert len(ways) == len(vehicle.box.slots)
    assert not any(disc.slab in ways for disc in stack.discs)


@cache
def chosen(name: str, **box: object) -> Vehicle:
    """An example whose sliding box is found anew under choices of its own, from few sizes."""
    example = example_vehicle(name)
    blank = LayshaftBox.model_validate({"engagement": "slide", **box})
    first = max(gear.ratio for gear in example.real.gears if not gear.reverse)
    gears = tuple(  # one gear for both: reverse is the slower one, as its driver is smaller
        gear.model_copy(update={"ratio": 1.3 * first}) if gear.reverse else gear
        for gear in example.real.gears
    )
    real = example.real.model_copy(update={"gears": gears})
    search = example.search.model_copy(update={"tolerance_percent": 12.0})
    made = example.kit.made
    assert made is not None
    few = made.model_copy(update={"most_teeth": made.least_teeth + 34})
    example = example.model_copy(update={"kit": example.kit.model_copy(update={"made": few})})
    vehicle = example.model_copy(update={"box": blank, "search": search, "real": real})
    match = match_box(vehicle, "layshaft-slide", best="size")
    assert not isinstance(match, Impossible)
    vehicle = apply_edit(vehicle, match.edit(vehicle))
    gap = next((f for f in evaluate(vehicle).findings if f.code == "slider-gap"), None)
    return vehicle if gap is None or gap.mend is None else apply_edit(vehicle, gap.mend)


@pytest.mark.parametrize("sleeve", ["grooved", "thin"])
@pytest.mark.parametrize("name", DEMOS)
def test_a_direct_gear_couples_the_inputs_end_by_dogs_or_by_a_ring(name: str, sleeve: str) -> None:
    for by in ("dogs", "ring"):
        vehicle = apply_edit(chosen(name, direct_by=by), Edit.one("", ("frame", "sleeve"), sleeve))
        box = box_components(vehicle)
        assert box is not None
        layshaft = LayshaftBox.of(vehicle.box)
        assert layshaft is not None
        direct = next(slot for slot in layshaft.slots if slot.direct)
        assert direct.face == "front"
        member = layshaft.sleeve_at(direct.column)
        hub = box.of("hub")
        assert collide(vehicle).clear
        # engaged it lies in the hub, or round its dogs; in neutral it is clear of both
        gears = [p for p in box.components if p.kind == "gear" and p.member == member]
        (entering,) = gears if by == "ring" else [box.of(member)]
        travel = travel_in(vehicle, direct.gear)
        assert entering.from_mm >= hub.to_mm
        deep = hub.to_mm - entering.from_mm - entering.moved_mm(travel)
        assert deep >= (0.9 * entering.length_mm if by == "ring" else 0.5)
        # turned by half a tooth, or half a dog, it would not go in
        count = entering.teeth or vehicle.making.dog_count
        turned = replace(hub, turn_rad=hub.turn_rad + pi / count)
        assert (solid_of(turned) ^ solid_of(entering, travel)).volume() > 1.0


@pytest.mark.parametrize("name", DEMOS)
def test_one_gear_serves_first_and_reverse_and_is_one_part(name: str) -> None:
    vehicle = chosen(name, shared_slider=True)
    layshaft, box = LayshaftBox.of(vehicle.box), box_components(vehicle)
    assert layshaft is not None
    assert box is not None
    ((ahead, back),) = layshaft.sharing()
    teeth = ahead.train[-1].driven
    assert back.train[-1].driven == teeth
    bodies = {gear_body(gear_key(s.gear), pair_id(s.train[0], 0), "driven") for s in (ahead, back)}
    (gear,) = (p for p in box.components if bodies & set(p.bodies))
    assert set(gear.bodies) == bodies
    assert collide(vehicle).clear
    # it stands between what it meshes with, and is in mesh with one of them in either gear
    places = []
    for slot, role in ((ahead, "driver"), (back, "idler0")):
        other = box.of(gear_body(gear_key(slot.gear), pair_id(slot.train[0], 0), role))
        moved = gear.moved_mm(travel_in(vehicle, slot.gear))
        assert other.from_mm == pytest.approx(gear.from_mm + moved, abs=0.6)
        places.append(moved)
    assert sorted(map(abs, places)) == [abs(places[0])] * 2
    assert places[0] * places[1] < 0
    two = apply_edit(vehicle, Edit.one("two gears", ("box", "shared_slider"), False))
    counted = [{p.key: p.needed for p in parts_needed(v)}["fixed", teeth] for v in (vehicle, two)]
    assert counted[0] == counted[1] - 1
    assert any(str(gear.id) in step.keys for step in assembly_plan(vehicle).steps)


def test_sizes_that_cannot_be_one_gear_are_told_with_a_pair_that_can() -> None:
    vehicle = chosen(DEMOS[0], shared_slider=True)
    box = LayshaftBox.of(vehicle.box)
    assert box is not None
    ((ahead, back),) = box.sharing()
    teeth = ahead.train[-1].driven
    other = next(
        candidate.train
        for candidate in pairs_for_gear(vehicle, back.gear)
        if candidate.train[-1].driven != teeth
    )
    vehicle = apply_edit(vehicle, set_train(vehicle, back.gear, other))
    finding = next(f for f in evaluate(vehicle).findings if f.code == "slider-not-shared")
    assert finding.figure == abs(other[-1].driven - teeth)
    assert finding.mend is not None
    mended = apply_edit(vehicle, finding.mend)
    assert "slider-not-shared" not in {f.code for f in evaluate(mended).findings}
    # with reverse on a sleeve of its own no gear can be shared
    free = max(slot.column for slot in box.slots) + 1
    alone = apply_edit(mended, move_slot(mended, back.gear, free, "front"))
    finding = next(f for f in evaluate(alone).findings if f.code == "slider-not-shared")
    assert finding.where == ("box",)


def test_sliders_of_bricks_meet_their_partners_by_turning_their_free_shaft() -> None:
    """On keyed bores no phase suits all sliding pairs; none is asked for, each meshes in turn."""
    vehicle = vehicle_of(3.5, 2.1, 1.4, 1.0, reverse=4.2)
    vehicle = vehicle.model_copy(update={"box": LayshaftBox(engagement="slide")})
    match = match_box(vehicle, "layshaft-slide", best="error")
    assert not isinstance(match, Impossible)
    vehicle = apply_edit(vehicle, match.edit(vehicle))
    gap = next(f for f in evaluate(vehicle).findings if f.code == "slider-gap")
    assert gap.mend is not None
    vehicle = apply_edit(vehicle, gap.mend)
    unit = vehicle.kit.grid_unit_mm
    assert vehicle.lever.fork_travel_mm == 2 * unit  # a unit open, and into the partner's
    short = apply_edit(vehicle, Edit.one("short", ("lever", "fork_travel_mm"), 1.6 * unit))
    stops = [f for f in evaluate(short).findings if f.code == "slider-stops-short"]
    assert {f.limit for f in stops} == {2 * unit}
    stack = stack_for(vehicle)
    assert stack is not None
    assert all(edge % unit == pytest.approx(0, abs=1e-9) for edge in stack.edges_mm)
    collision = collide(vehicle)
    assert collision.clear
    assert len(collision.box.sliding) == 4
    for one, other in collision.box.sliding:
        here, there = collision.box.of(one), collision.box.of(other)
        assert there.member
        met = _met(here, there)
        travel = next(
            travel
            for gear in vehicle.real.gears
            if _beside(here, there, there.moved_mm(travel := travel_in(vehicle, gear.id)))
        )
        half = replace(met, turn_rad=met.turn_rad + pi / met.teeth)
        assert (solid_of(here) ^ solid_of(met, travel)).volume() < 1.0
        assert (solid_of(here) ^ solid_of(half, travel)).volume() > 5.0


def _beside(one: Component, other: Component, moved: float) -> bool:
    return one.from_mm < other.to_mm + moved - 1 and other.from_mm + moved < one.to_mm - 1


def test_a_direct_gear_on_the_far_side_is_told_and_turned_round() -> None:
    vehicle = sliding(DEMOS[0])
    box = LayshaftBox.of(vehicle.box)
    assert box is not None
    direct = next(slot for slot in box.slots if slot.direct)
    away = apply_edit(vehicle, move_slot(vehicle, direct.gear, direct.column, "back"))
    finding = next(f for f in evaluate(away).findings if f.code == "direct-away-from-input")
    assert finding.mend is not None
    back = apply_edit(away, finding.mend)
    assert "direct-away-from-input" not in {f.code for f in evaluate(back).findings}


def test_the_push_apart_is_where_the_slider_meshes_not_where_it_rests() -> None:
    vehicle = sliding(DEMOS[0])
    stack = stack_for(vehicle)
    assert stack is not None
    rows = [row for row in separations(vehicle, stack) if row.gear == vehicle.real.gears[0].id]
    assert {row.slab.split(" ")[0] for row in rows} <= {"input", "gear"}
