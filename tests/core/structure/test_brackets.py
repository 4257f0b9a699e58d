"""What holds an idler and a direct gear's input: brackets to tie rods, hubs, nuts on every wall."""

import itertools
from dataclasses import replace

import pytest
from shapely.geometry import Point, Polygon

from examples import example_vehicle
from mild_badger.core.components.box import box_components
from mild_badger.core.components.collide import collide
from mild_badger.core.components.proof import prove_solids
from mild_badger.core.kit.part_sizes import BUSH_ROOM_MM
from mild_badger.core.layout.findings import layout_findings
from mild_badger.core.layout.shaft_deflection import separations
from mild_badger.core.structure.brackets import Post, brackets_of, tie_nuts
from mild_badger.core.structure.forks import forks_of
from mild_badger.core.structure.plates import nut_spans
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.structure.shaft_lengths import shaft_cuts
from mild_badger.core.structure.spacers import neighbours_of, spacer_room_mm
from mild_badger.core.structure.stack import HUB, Stack
from mild_badger.core.vehicle.bodies import column_shaft
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.parts import parts_needed
from mild_badger.core.workshop.templates import templates_of
from strategies import placed_demo

TRACTOR, TRUCK = "larkholm-timber-tractor", "larkholm-crane-truck"


def stack_in(vehicle: Vehicle) -> Stack:
    stack = stack_for(vehicle)
    assert stack is not None
    return stack


@pytest.mark.parametrize("name", [TRACTOR, TRUCK])
def test_an_idlers_shaft_stands_in_a_wall_and_in_a_bracket_that_hangs_on_a_tie_rod(
    name: str,
) -> None:
    vehicle = example_vehicle(name)
    stack = stack_in(vehicle)
    (bracket,) = brackets_of(vehicle, stack, forks_of(vehicle, stack))
    rod, shape = stack.rods[bracket.shaft], Polygon(bracket.outline)
    assert shape.contains(Point(rod.x_mm, rod.y_mm).buffer(vehicle.kit.shaft_diameter_mm / 2))
    tie = Point(bracket.tie.x_mm, bracket.tie.y_mm)
    assert shape.contains(tie.buffer(vehicle.frame.post_mm / 2))
    assert set(rod.walls) & set(stack.walls)
    assert collide(vehicle).clear
    assert [t.count for t in templates_of(vehicle) if t.key.startswith("bracket")] == [1]


def test_a_direct_gears_sleeve_has_the_inputs_hub_to_couple_to() -> None:
    vehicle = example_vehicle(TRACTOR)
    stack, box = stack_in(vehicle), box_components(vehicle)
    assert box is not None
    hub, sleeve = box.of(HUB), box.of("sleeve.5+R")
    assert hub.bodies == ("input.1",)
    ends = (hub.along_mm + max(p.to_mm for p in hub.solid), sleeve.along_mm)
    assert ends[0] < ends[1]  # the dogs stop short of the sleeve in neutral
    travel = vehicle.lever.fork_travel_mm
    reach = sleeve.along_mm + min(p.from_mm for p in sleeve.solid) - travel
    assert reach < ends[0]  # and are within it when it is in
    rods = stack.rods
    hub_slab = stack.slabs.index(HUB)
    assert hub_slab not in rods["input.1"].walls  # the input carries it, it does not hold the input
    assert rods["output"].walls[0] == hub_slab
    assert rods["output"].first == rods["input.1"].last + 1  # the output's end runs in the hub
    assert HUB not in stack_in(example_vehicle(TRUCK)).slabs  # no gear of it is direct


@pytest.mark.parametrize("name", [TRACTOR, TRUCK])
def test_nuts_are_counted_as_they_are_drawn_and_touch_nothing(name: str) -> None:
    vehicle = example_vehicle(name)
    box = box_components(vehicle)
    assert box is not None
    ties = [part for part in box.components if part.kind == "tie rod"]
    drawn = sum(len(part.solid) - 1 for part in ties)
    needed = {part.key: part.needed for part in parts_needed(vehicle)}
    assert needed["nut", 0] == drawn
    stack = stack_in(vehicle)
    spans = nut_spans(vehicle, stack)
    (bracket,) = brackets_of(vehicle, stack, forks_of(vehicle, stack))
    rods = tie_nuts(vehicle, stack, forks_of(vehicle, stack))
    held = {name for name, nuts in rods.items() if len(nuts) > len(spans)}
    assert held == {bracket.tie.name}  # the one that carries it has its nuts besides
    assert collide(vehicle).clear
    assert all(b > a for (_, a), (b, _) in itertools.pairwise(spans))


def test_a_bracket_turned_into_the_gears_is_found_by_the_proof() -> None:
    vehicle = example_vehicle(TRACTOR)
    box = box_components(vehicle)
    assert box is not None
    post = next(part for part in box.components if part.kind == "post")
    off = replace(post, x_mm=0.0, y_mm=0.0)
    moved = tuple(off if part is post else part for part in box.components)
    module = vehicle.kit.module_mm
    assert prove_solids(replace(box, components=moved), [()], 8.0, module).overlaps


def test_shafts_that_end_beside_the_sleeves_reach_on_to_a_wall_and_are_stiffer() -> None:
    bus = placed_demo("larkholm-mail-bus")
    stack = stack_in(bus)
    inner = [stack.slabs.index(f"{side} inner wall") for side in ("front", "back")]
    both = [
        name
        for name, rod in stack.rods.items()
        if set(inner) <= set(rod.walls) and column_shaft(name) is None
    ]
    assert both
    shorter = dict(stack.rods)
    for name in both:
        rod, side = stack.rods[name], bus.layout and bus.layout.shaft(name)
        assert side
        number = {"front": "front 1", "back": "back 1"}[side.side]
        slab = stack.slabs.index(number)
        if side.side == "front":
            shorter[name] = replace(rod, last=slab, walls=rod.walls[:-1])
        else:
            shorter[name] = replace(rod, first=slab, walls=rod.walls[1:])
    before = separations(bus, replace(stack, rods=shorter))
    after = separations(bus, stack)
    assert max(row.apart_mm for row in after) < max(row.apart_mm for row in before)
    assert not {"clash", "fork-missing"} & {f.code for f in layout_findings(bus)}


def test_spacers_give_way_to_posts_and_to_forks_that_travel() -> None:
    vehicle = example_vehicle("larkholm-timber-tractor")
    stack = stack_for(vehicle)
    assert stack is not None
    cut = next(cut for cut in shaft_cuts(vehicle, stack) if cut.name == "layshaft.1")
    middle = stack.middle_mm(forks_of(vehicle, stack)[0].slab)
    spacer = next(
        part
        for part in cut.parts
        if part.kind == "spacer" and not part.from_mm - 1 < middle < part.to_mm + 1
    )
    rod = stack.rods[cut.name]
    alone = spacer_room_mm(stack, rod, spacer, ())
    near = ((rod.x_mm + 4.0, -99.0), (rod.x_mm + 9.0, -99.0), (rod.x_mm + 9.0, 99.0))
    outline = (*near, (rod.x_mm + 4.0, 99.0))
    post = Post("other", 0, outline, (spacer.from_mm - 1, spacer.from_mm + 1), hangs=False)
    assert alone > 4.0
    room = spacer_room_mm(stack, rod, spacer, neighbours_of(stack, (post,), (), 0.0))
    assert room == pytest.approx(4.0 - BUSH_ROOM_MM)
    fork = replace(forks_of(vehicle, stack)[0], outline=outline, shaft="other")
    for reach, wanted in ((0.1, alone), (abs(middle - spacer.middle_mm) + 1, room)):
        beside = neighbours_of(stack, (), (fork,), reach)
        assert spacer_room_mm(stack, rod, spacer, beside) == pytest.approx(wanted)
