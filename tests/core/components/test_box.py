"""The components of placed boxes: laws, the one frame, and what files say of them."""

import io
import json
import struct
from dataclasses import replace
from math import pi

import numpy as np
import pytest
import trimesh

from examples import example_vehicle
from mild_badger.core.components import box as box_module
from mild_badger.core.components.box import BoxComponents, box_components
from mild_badger.core.components.collide import collide
from mild_badger.core.components.component import Component
from mild_badger.core.components.gear_ring import gear_ring
from mild_badger.core.components.model import box_model, component_data, travel_in
from mild_badger.core.components.solids import solid_of
from mild_badger.core.driveline.assemble import assemble
from mild_badger.core.errors import InputError
from mild_badger.core.kit.part_sizes import sleeve_form
from mild_badger.core.message import say
from mild_badger.core.structure.names import shaft_letter
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.vehicle.model import Vehicle
from strategies import placed_demo
from telling import refuses

TRACTOR, BUS, CRANE = "larkholm-timber-tractor", "larkholm-mail-bus", "larkholm-crane-truck"


def components_of(vehicle: Vehicle) -> BoxComponents:
    box = box_components(vehicle)
    assert box is not None
    return box


@pytest.fixture(params=[TRACTOR, BUS, CRANE])
def vehicle(request: pytest.FixtureRequest) -> Vehicle:
    return placed_demo(request.param)


def test_every_gear_of_the_box_is_one_component_and_no_body_is_made_up(vehicle: Vehicle) -> None:
    box, stack, graph = components_of(vehicle), stack_for(vehicle), assemble(vehicle)
    assert stack is not None
    gears = [part for part in box.components if part.kind == "gear"]
    bodies = [body for part in gears for body in part.bodies]
    assert sorted(bodies) == sorted(d.body for d in stack.discs if d.teeth)
    assert len(set(bodies)) == len(bodies)
    known = set(graph.index)
    assert {b for part in box.components for b in part.bodies} <= known
    ids = [part.id for part in box.components]
    assert len(set(ids)) == len(ids)
    assert box.phases.astray == ()


def test_every_sleeve_has_a_fork_and_a_rail_that_move_with_it(vehicle: Vehicle) -> None:
    box = components_of(vehicle)
    for sleeve in (part for part in box.components if part.kind == "sleeve"):
        moved = {part.kind for part in box.components if part.member == sleeve.member}
        assert moved == {"sleeve", "fork", "rail", "shift arm"}


def test_neutral_and_travel_make_the_place_in_gear(vehicle: Vehicle) -> None:
    box = components_of(vehicle)
    for gear in vehicle.real.gears:
        travel = travel_in(vehicle, gear.id)
        assert set(map(abs, travel.values())) <= {vehicle.lever.fork_travel_mm}
        for part in box.components:
            moved = solid_of(part, travel).bounding_box()
            rest = solid_of(part).bounding_box()
            # z runs against the way along the box
            assert moved[5] - rest[5] == pytest.approx(-travel.get(part.member, 0.0), abs=1e-9)


def test_a_name_holds_no_count_of_its_like() -> None:
    """Swapping two trains leaves every spacer that keeps its neighbours on its name."""
    tractor = placed_demo(TRACTOR)
    spacers = {p.id for p in components_of(tractor).components if p.kind == "spacer"}
    assert spacers
    for name in spacers:
        assert " between " in name
    ties = {p.id for p in components_of(tractor).components if p.kind == "tie rod"}
    assert ties == {f"tie rod {a} {b}" for a in ("low", "high") for b in ("left", "right")}


def test_volumes_and_centres_follow_closed_forms() -> None:
    """Cylinder π r² l, and a cylinder with a bore; the polygon of 64 corners lies within 0.2 %."""
    tractor = placed_demo(TRACTOR)
    box, radius = components_of(tractor), tractor.kit.shaft_diameter_mm / 2
    shaft = next(part for part in box.components if part.kind == "shaft")
    solid, long = solid_of(shaft), shaft.to_mm - shaft.from_mm
    assert solid.volume() == pytest.approx(pi * radius**2 * long, rel=2e-3)
    edges = solid.bounding_box()
    middle = [(edges[n] + edges[n + 3]) / 2 for n in range(3)]
    at = [shaft.x_mm, shaft.y_mm, -(shaft.from_mm + shaft.to_mm) / 2]
    assert middle == pytest.approx(at, abs=1e-6)
    spacer = next(part for part in box.components if part.kind == "spacer")
    outer = max(x for x, _ in spacer.solid[0].outlines[0])
    ring = pi * (outer**2 - (radius + 0.05) ** 2) * (spacer.to_mm - spacer.from_mm)
    assert solid_of(spacer).volume() == pytest.approx(ring, rel=1e-2)


def test_a_sleeve_is_cut_and_a_free_gear_carries_dogs() -> None:
    tractor = placed_demo(TRACTOR)
    box, form = components_of(tractor), sleeve_form(tractor)
    sleeve = next(part for part in box.components if part.kind == "sleeve")
    whole = pi * form.outer_mm**2 * form.length_mm
    assert solid_of(sleeve).volume() < 0.75 * whole
    free = next(part for part in box.components if part.free)
    assert free.to_mm - free.from_mm > min(p.to_mm for p in free.solid) + 0.5
    assert form.dog_mm < form.cup_mm
    assert form.groove_radius_mm < form.outer_mm - 1.5


def test_sleeves_grow_with_their_shafts() -> None:
    """A 10 mm and a 16 mm dowel take bigger sleeves than a 5 mm axle; none is refused."""
    tractor = placed_demo(TRACTOR)

    def outer(shaft: float) -> float:
        kit = tractor.kit.model_copy(update={"shaft_diameter_mm": shaft})
        return sleeve_form(tractor.model_copy(update={"kit": kit})).outer_mm

    assert outer(5.0) == 9.0
    assert 9.0 < outer(10.0) < outer(16.0)
    assert outer(16.0) > 8.0 + 3.0


def nodes(data: bytes) -> dict[str, dict[str, object]]:
    length = struct.unpack_from("<I", data, 12)[0]
    tree = json.loads(data[20 : 20 + length])
    return {node["name"]: node for node in tree["nodes"] if "mesh" in node}


def test_end_view_holes_and_file_show_one_right_handed_frame() -> None:
    """x to the right and y up as seen from the input end, z towards the eye: x × y = z.

    The crane truck's box is not symmetrical. Its walls' holes, its shafts' places as drawn from
    the end, and its file in metres must agree, and a gear nearer to the input stand at a greater z.
    """
    crane = placed_demo(CRANE)
    stack, box = stack_for(crane), components_of(crane)
    assert stack is not None
    loaded = trimesh.load(io.BytesIO(box_model(crane, "glb")), file_type="glb")
    assert loaded.units in (None, "meters", "metres", "m")
    xs = set()
    for name, rod in stack.rods.items():
        low, high = loaded.geometry[name].bounds * 1000
        assert (low + high)[:2] / 2 == pytest.approx((rod.x_mm, rod.y_mm), abs=1e-3)
        xs.add((round(rod.x_mm, 3), round(rod.y_mm, 3)))
        for wall in (w for w in box.components if w.kind == "wall" and w.id in named(stack, rod)):
            rings = [np.asarray(hole).mean(axis=0) for hole in wall.solid[0].holes]
            near = min(np.hypot(*(ring - (rod.x_mm, rod.y_mm))) for ring in rings)
            assert near < 1e-6
    assert len({x for x, _ in xs}) > 1  # not symmetrical, so that a mirror image would show
    order = sorted(stack.discs, key=lambda disc: disc.slab)
    first, last = (loaded.geometry[owner(box, d.body)] for d in (order[0], order[-1]))
    assert first.bounds[1][2] > last.bounds[1][2]
    for mesh in loaded.geometry.values():
        assert mesh.volume > 0  # corners follow anticlockwise from outside, as right-handed


def named(stack: object, rod: object) -> set[str]:
    return {stack.slabs[w] for w in rod.walls}  # type: ignore[attr-defined]


def owner(box: BoxComponents, body: str) -> str:
    return next(p.id for p in box.components if p.id == body or body in p.bodies)


@pytest.mark.parametrize("form", ["glb", "stl", "3mf"])
def test_the_box_is_one_model_that_reads_back(form: str) -> None:
    tractor = placed_demo(TRACTOR)
    box = components_of(tractor)
    data = box_model(tractor, form)
    loaded = trimesh.load(io.BytesIO(data), file_type=form)
    size = 1000.0 if form == "glb" else 1.0
    low, high = loaded.bounds * size
    # stubs and nuts stand out of the front wall's outer face, where z is 0
    assert high[2] == pytest.approx(-min(p.from_mm for p in box.components), abs=0.01)
    assert low[2] == pytest.approx(-max(p.to_mm for p in box.components), abs=0.01)
    if form == "stl":
        return
    assert len(loaded.geometry) == len(box.components)
    assert all(mesh.is_watertight for mesh in loaded.geometry.values())


def test_nodes_tell_what_they_are_and_stand_as_the_gear_has_them() -> None:
    tractor = placed_demo(TRACTOR)
    gear = tractor.real.gears[0]
    box = components_of(tractor)
    told = nodes(box_model(tractor, "glb", gear=gear.id))
    assert set(told) == {part.id for part in box.components}
    for part in box.components:
        assert told[part.id]["extras"] == component_data(tractor, part)
    extras = told["sleeve.1+2"]["extras"]
    assert isinstance(extras, dict)
    assert (extras["kind"], extras["letter"]) == ("sleeve", shaft_letter(tractor, "output"))
    neutral = trimesh.load(io.BytesIO(box_model(tractor, "glb")), file_type="glb")
    in_gear = trimesh.load(io.BytesIO(box_model(tractor, "glb", gear=gear.id)), file_type="glb")

    def moved(name: str) -> float:
        one, other = (scene.geometry[name].bounds[1][2] for scene in (neutral, in_gear))
        return float(other - one) * 1000

    assert moved("sleeve.1+2") == pytest.approx(tractor.lever.fork_travel_mm, abs=1e-3)
    assert moved("fork of sleeve.1+2") == pytest.approx(moved("sleeve.1+2"), abs=1e-3)
    assert moved("sleeve.3+4") == 0
    apart = trimesh.load(io.BytesIO(box_model(tractor, "glb", apart=True)), file_type="glb")
    assert apart.extents[2] > 2 * neutral.extents[2]


def test_no_place_no_model() -> None:
    with refuses(InputError, "components.the-box-has-no-place-in-space-yet-place-it"):
        box_model(example_vehicle(), "glb")
    with refuses(InputError, "components.a-model-is-written-as-glb-stl-or-3mf-not-as"):
        box_model(placed_demo(TRACTOR), "obj")


def test_a_component_that_is_not_there_is_no_component() -> None:
    box = components_of(placed_demo(TRACTOR))
    part: Component = box.of("sleeve.1+2")
    assert part.kind == "sleeve"
    with pytest.raises(KeyError):
        box.of("sleeve.9+9")


def test_gears_let_in_deeper_than_they_are_wide_stay_gears_and_the_proof_tells() -> None:
    tractor = placed_demo(TRACTOR)
    frame = tractor.frame.model_copy(update={"sleeve": "thin", "thin_mm": 25.0, "recess_mm": 12.0})
    deep = tractor.model_copy(update={"frame": frame})
    for part in components_of(deep).components:
        assert solid_of(part).volume() > 0, part.id
        assert all(prism.to_mm > prism.from_mm for prism in part.solid), part.id
    assert not collide(deep).clear


def test_teeth_that_cannot_be_made_are_refused_with_their_reason(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    def pointed(_form: object) -> None:
        raise ValueError(say("templates.the-racks-teeth-come-to-a-point"))

    monkeypatch.setattr("mild_badger.core.components.gear_ring.gear_shape", pointed)
    gear_ring.cache_clear()
    tractor = placed_demo(TRACTOR).model_copy(update={"name": "pointed"})
    box_module._components.cache_clear()
    with refuses(InputError, "templates.the-racks-teeth-come-to-a-point"):
        box_components(tractor)
    box_module._components.cache_clear()


@pytest.mark.parametrize("demo", ["larkholm-mail-bus", "larkholm-street-sweeper"])
def test_four_beams_along_a_brick_box_touch_every_wall(demo: str) -> None:
    vehicle = placed_demo(demo)
    box = components_of(vehicle)
    ties = [part for part in box.components if part.kind == "tie beam"]
    walls = [part for part in box.components if part.kind == "wall"]
    assert len(ties) == 4
    half = vehicle.kit.grid_unit_mm / 2
    for tie in ties:
        ends = [wall.along_mm + wall.solid[0].to_mm for wall in walls]
        assert (tie.from_mm, tie.to_mm) == (0.0, max(ends))
        for wall in walls:
            shared = solid_of(replace(tie, x_mm=tie.x_mm + 0.1)) ^ solid_of(wall)
            other = solid_of(replace(tie, x_mm=tie.x_mm - 0.1)) ^ solid_of(wall)
            # a tenth of a millimetre nearer, it would be in the wall over its whole height
            found = max((shared, other), key=lambda solid: solid.volume())
            low, high = found.bounding_box()[1], found.bounding_box()[4]
            assert high - low == pytest.approx(2 * half, abs=1e-6)
