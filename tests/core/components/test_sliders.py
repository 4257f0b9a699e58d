"""Boxes whose gears slide into mesh stand in neutral, and touch nothing on the way into a gear."""

from functools import cache

import pytest

from examples import example_vehicle
from mild_badger.core.components.box import box_components
from mild_badger.core.components.collide import collide
from mild_badger.core.components.model import travel_in
from mild_badger.core.evaluate import evaluate
from mild_badger.core.layout.shaft_box import stack_for
from mild_badger.core.layout.shaft_deflection import separations
from mild_badger.core.layout.shaft_lengths import shaft_cuts
from mild_badger.core.vehicle.box import Slot
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.joints import joint_of

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


def test_the_push_apart_is_where_the_slider_meshes_not_where_it_rests() -> None:
    vehicle = sliding(DEMOS[0])
    stack = stack_for(vehicle)
    assert stack is not None
    rows = [row for row in separations(vehicle, stack) if row.gear == vehicle.real.gears[0].id]
    assert {row.slab.split(" ")[0] for row in rows} <= {"input", "gear"}
