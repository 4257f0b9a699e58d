"""Function boxes in space: placed whole, clear by solids, and held where the builder wants them."""

import json
from dataclasses import replace
from math import cos, hypot, radians, sin
from pathlib import Path
from time import monotonic

import pytest
import sympy
import trimesh
from shapely.affinity import rotate
from shapely.geometry import Polygon

from examples import example_vehicle
from mild_badger.cli import run
from mild_badger.core.components.box import function_components
from mild_badger.core.components.clutch_shape import clutch_shape
from mild_badger.core.components.collide import collide_functions
from mild_badger.core.components.component import Component
from mild_badger.core.components.vehicle_parts import vehicle_components
from mild_badger.core.errors import InputError
from mild_badger.core.functions.arrange import arrange
from mild_badger.core.functions.distances import distance_between
from mild_badger.core.functions.prove import COUNTER, INPUT, ONE_WAY, output_body, prove_functions
from mild_badger.core.functions.rectifier import rectifier_for
from mild_badger.core.kit.catalogue import shipped_kit, shipped_kits
from mild_badger.core.layout.findings import layout_findings
from mild_badger.core.layout.function_box import (
    PlacedFunctions,
    function_stack,
    pin_output,
    place_functions,
    take_places,
)
from mild_badger.core.layout.reason import why_no_functions
from mild_badger.core.layout.shaft_deflection import (
    STALL_N_MM,
    function_holds_n_mm,
    separations,
)
from mild_badger.core.layout.turning import seen_functions
from mild_badger.core.vehicle.boxes import NoBox
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.functions import (
    FunctionBox,
    FunctionOutput,
    FunctionPosition,
    MotorWay,
    Want,
)
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.watch import SearchStopped, Watch
from mild_badger.files.vehicle_file import save
from telling import refuses, tells

BRICKS, PRINT, WOOD, INCH = shipped_kits()


def want(output: str, ratio: float, motor: MotorWay = "both") -> Want:
    return Want(output=output, ratio=ratio, motor=motor)


def table(outputs: str, *positions: tuple[Want, ...]) -> FunctionBox:
    """Make a table; outputs are names in a row, those with a ! always turn one way."""
    return FunctionBox(
        outputs=tuple(
            FunctionOutput(name=name.rstrip("!"), one_way=name.endswith("!"))
            for name in outputs.split()
        ),
        positions=tuple(
            FunctionPosition(name=str(n), wants=wants) for n, wants in enumerate(positions, start=1)
        ),
    )


TWO_GEARS = table("fan", (want("fan", 1),), (want("fan", 4),))
ONE_WAY_TABLE = table("brush! fan!", (want("brush", 4), want("fan", -1)), (want("fan", -1),))
CLUTCHED = table("lift tilt", (want("lift", 3, "forward"), want("tilt", 4, "backward")))
ALWAYS = table("light arm", (want("light", 1), want("arm", 5)), (want("light", 1),))
SWEEPER = table(
    "arm brush! hopper pump",
    (want("arm", 6),),
    (want("brush", 2),),
    (want("hopper", 9), want("brush", 4)),
    (want("pump", 1.5), want("brush", 4)),
)


def unplaced(kit: str, box: FunctionBox) -> Vehicle:
    vehicle = example_vehicle()
    return vehicle.model_copy(update={"kit": shipped_kit(kit), "functions": box})


def placed(kit: str, box: FunctionBox) -> Vehicle:
    vehicle = unplaced(kit, box)
    return apply_edit(vehicle, take_places(vehicle, place_functions(vehicle, 20.0)))


@pytest.mark.parametrize(
    ("kit", "box"),
    [
        (BRICKS, ONE_WAY_TABLE),
        (BRICKS, CLUTCHED),
        (BRICKS, SWEEPER),
        (PRINT, SWEEPER),
        (WOOD, ALWAYS),
        (INCH, ONE_WAY_TABLE),
    ],
)
def test_a_function_box_is_placed_whole_and_clear_by_solids(kit: str, box: FunctionBox) -> None:
    vehicle = placed(kit, box)
    arrangement = arrange(vehicle, box)
    assert not arrangement.problems
    assert all(state.right for state in prove_functions(box, arrangement) if not state.passing)
    stack, parts = function_stack(vehicle), function_components(vehicle)
    assert stack is not None
    assert parts is not None
    made = {body for part in parts.components if part.kind == "gear" for body in part.bodies}
    assert stack.own is not None
    gears = {body.id for body in stack.own.drivetrain.bodies if body.teeth}
    assert gears == made
    kinds = [part.kind for part in parts.components]
    assert kinds.count("fork") == kinds.count("rail") == len(arrangement.sleeves)
    assert kinds.count("pawl ring") == kinds.count("ratchet wheel") == arrangement.clutches
    collision = collide_functions(vehicle)
    assert collision.clear
    assert collision.proof.states == len(
        {tuple(arrangement.settings(position.name).items()) for position in box.positions}
    )


def test_shafts_stand_where_two_circles_cross() -> None:
    """Checked by SymPy: the counter-shaft's point lies on circles about input and one-way shaft."""
    vehicle = placed(WOOD, ONE_WAY_TABLE)
    stack, gears = function_stack(vehicle), rectifier_for(vehicle)
    assert stack is not None
    assert gears is not None
    module = vehicle.kit.module_mm
    middle = {name: stack.rods[name] for name in (INPUT, ONE_WAY, COUNTER)}
    leg = sympy.Rational(str((gears.reversing + gears.counter) * module / 2))
    ends = [sympy.Point(rod.x_mm, rod.y_mm) for rod in (middle[INPUT], middle[ONE_WAY])]
    assert float(ends[0].distance(ends[1])) == pytest.approx(gears.direct * module, abs=1e-6)
    crossings = sympy.Circle(ends[0], leg).intersection(sympy.Circle(ends[1], leg))
    counter = middle[COUNTER]
    apart = [hypot(float(p.x) - counter.x_mm, float(p.y) - counter.y_mm) for p in crossings]
    assert min(apart) < 1e-6


@pytest.mark.parametrize("kit", shipped_kits())
def test_the_two_ways_to_the_one_way_shaft_are_even_and_apart(kit: str) -> None:
    """Both ways have a ratio of one; gears that do not mesh have room for a shaft between them."""
    vehicle = unplaced(kit, ONE_WAY_TABLE)
    gears = rectifier_for(vehicle)
    assert gears is not None
    assert len(gears.gears) == 6
    base = distance_between(vehicle, gears.direct, gears.direct)
    leg = distance_between(vehicle, gears.reversing, gears.counter)
    tips = vehicle.kit.module_mm * (max(gears.gears) / 2 + 1)
    assert min(base.mm, leg.mm) > tips + vehicle.kit.shaft_diameter_mm / 2


def test_places_hold_for_their_trains_only() -> None:
    vehicle = placed(WOOD, TWO_GEARS)
    box = vehicle.functions
    assert box is not None
    moved = tuple(
        place.model_copy(update={"x_mm": place.x_mm + 1.0})
        if place.shaft == output_body(box.outputs[0].id)
        else place
        for place in box.places
    )
    off = vehicle.model_copy(update={"functions": box.model_copy(update={"places": moved})})
    assert function_stack(off) is None
    assert tells(why_no_functions(off), "layout.the-function-box-has-changed-place-it-again")
    bare = vehicle.model_copy(update={"functions": box.model_copy(update={"places": ()})})
    assert function_stack(bare) is None
    assert function_components(bare) is None


@pytest.mark.parametrize("kit", [BRICKS, WOOD])
def test_an_output_stands_where_it_is_held(kit: str) -> None:
    free = placed(kit, ALWAYS)
    box, stack = free.functions, function_stack(free)
    assert box is not None
    assert stack is not None
    output = box.outputs[1].id
    rod = stack.rods[output_body(output)]
    goal = (-rod.x_mm, rod.y_mm)  # the mirror image is as good a place
    held = apply_edit(free, pin_output(free, output, goal))
    held = apply_edit(held, take_places(held, place_functions(held, 20.0)))
    again = function_stack(held)
    assert again is not None
    there = again.rods[output_body(output)]
    assert (there.x_mm, there.y_mm) == pytest.approx(goal, abs=1e-9)
    assert collide_functions(held).clear
    let_go = apply_edit(held, pin_output(held, output, None))
    assert let_go.functions is not None
    assert not let_go.functions.pins


def test_what_cannot_be_placed_is_said() -> None:
    vehicle = placed(WOOD, ALWAYS)
    assert vehicle.functions is not None
    output = vehicle.functions.outputs[1].id
    far = apply_edit(vehicle, pin_output(vehicle, output, (2000.0, 0.0)))
    with refuses(InputError, "functions.no-place-with-the-outputs-held-there"):
        place_functions(far, 1.0)
    empty = unplaced(WOOD, table("fan", ()))
    with refuses(InputError, "layout.the-function-table-asks-for-nothing-yet"):
        place_functions(empty)
    none = vehicle.model_copy(update={"functions": None})
    with refuses(InputError, "layout.this-vehicle-has-no-function-box-to-place"):
        place_functions(none)
    with pytest.raises(SearchStopped):
        place_functions(vehicle, watch=Watch(lambda: True))


def test_a_search_tells_the_best_so_far() -> None:
    seen: list[object] = []
    vehicle = unplaced(WOOD, SWEEPER)
    found = place_functions(
        vehicle, 20.0, watch=Watch(report=lambda _share, best: seen.append(best))
    )
    assert seen[0] is None
    areas = [s.size_mm[0] * s.size_mm[1] for s in seen if isinstance(s, PlacedFunctions)]
    assert areas
    assert areas == sorted(areas, reverse=True)
    assert found.size_mm[0] * found.size_mm[1] <= areas[-1]


def test_other_trains_are_taken_where_the_usual_ones_find_no_place() -> None:
    """Both gears of a winch on one shaft: the choice that stands is kept with its places."""
    box = table("winch!", (want("winch", 3),), (want("winch", 1),))
    vehicle = unplaced(BRICKS, box)
    found = place_functions(vehicle, 30.0)
    assert found.variant > 0
    taken = apply_edit(vehicle, take_places(vehicle, found))
    assert taken.functions is not None
    assert taken.functions.variant == found.variant
    assert function_stack(taken) is not None
    states = prove_functions(taken.functions, arrange(taken, taken.functions))
    assert all(state.right for state in states if not state.passing)


def test_the_time_limit_holds() -> None:
    """A table that finds no place in bricks ends when its time is over."""
    impossible = table("a", (want("a", 5),), (want("a", 1.5),), (want("a", -1.5),))
    start = monotonic()
    with pytest.raises(InputError):
        place_functions(unplaced(BRICKS, impossible), 1.0)
    assert monotonic() - start < 3.0  # one choice of trains may be under way


def test_what_carries_power_is_seen() -> None:
    """Backwards the one-way shaft is driven over the counter-shaft, and the fan still turns on."""
    vehicle = placed(WOOD, ONE_WAY_TABLE)
    stack = function_stack(vehicle)
    assert stack is not None
    assert vehicle.functions is not None
    fan = output_body(vehicle.functions.outputs[1].id)
    ahead = seen_functions(vehicle, stack, "2", 1)
    back = seen_functions(vehicle, stack, "2", -1)
    assert ahead.turns[fan] == back.turns[fan] != 0
    assert "one-way/input" in ahead.engaged
    assert "reversing/counter" not in ahead.engaged
    assert "reversing/counter" in back.engaged
    assert "one-way/input" not in back.engaged


@pytest.mark.parametrize("faces", [1, -1])
def test_a_clutch_holds_one_way_and_runs_free_the_other(faces: int) -> None:
    """Turned the way that its steep faces look, the wheel meets the pawls at once."""
    shape = clutch_shape(12.0, 2.5, faces)
    wheel, ring = Polygon(shape.wheel), Polygon(shape.inside)
    pawls = [Polygon(pawl) for pawl in shape.pawls]
    assert wheel.is_valid
    assert ring.contains(wheel)
    assert all(pawl.is_valid and pawl.intersection(wheel).area < 1e-9 for pawl in pawls)

    def bite(degrees: float) -> float:
        turned = rotate(wheel, degrees, origin=(0, 0))
        return float(min(pawl.intersection(turned).area for pawl in pawls))

    holds = -3.0 * faces  # clockwise as seen from the input end is negative here
    assert bite(holds) > 4 * bite(-holds)
    assert bite(-holds) < 0.2


def test_the_saw_teeth_rise_at_the_end_of_each_pitch() -> None:
    shape = clutch_shape(12.0, 2.5, 1)
    radii = [hypot(x, y) for x, y in shape.wheel]
    assert max(radii) == pytest.approx(12.0 - 1.5 - 0.4)
    assert min(radii) == pytest.approx(max(radii) - 2.0)
    first = shape.wheel[0]
    assert first == pytest.approx((max(radii) * cos(radians(0)), max(radii) * sin(radians(0))))


def test_an_arrangement_is_found_again_whatever_stands() -> None:
    vehicle = placed(WOOD, TWO_GEARS)
    assert vehicle.functions is not None
    bare = replace(arrange(vehicle, TWO_GEARS))
    assert arrange(vehicle, vehicle.functions) == bare


def test_the_commands_place_prove_and_write_it(
    capsys: pytest.CaptureFixture[str], tmp_path: Path
) -> None:
    file, out = tmp_path / "sweeper.json", tmp_path / "placed.json"
    vehicle = unplaced(WOOD, ALWAYS).model_copy(update={"box": NoBox()})
    save(vehicle, file)
    assert run(["place", str(file), "--pin", "arm=60 mm,40 mm", "--json", "--save", str(out)]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["complete"] is told["functions"]["complete"] is True
    arm = next(s for s in told["functions"]["shafts"] if (s["x_mm"], s["y_mm"]) == (60.0, 40.0))
    assert arm["letter"]
    assert {part["kind"] for part in told["functions"]["components"]} >= {"gear", "fork", "wall"}
    assert run(["collide", str(out), "--json"]) == 0
    proof = json.loads(capsys.readouterr().out)
    assert proof["clear"] is proof["functions"]["clear"] is True
    run(["export", str(out), "--to", str(tmp_path / "all"), "--model", "glb"])
    capsys.readouterr()
    scene = trimesh.load(tmp_path / "all" / "box.glb")
    names = set(scene.graph.nodes_geometry)
    assert "functions/feed.input" in names


def test_both_boxes_stand_beside_one_another_in_a_model() -> None:
    tractor = example_vehicle("larkholm-timber-tractor").model_copy(update={"functions": ALWAYS})
    tractor = apply_edit(tractor, take_places(tractor, place_functions(tractor, 20.0)))
    parts = vehicle_components(tractor)
    own = [part for part in parts if not part.key.startswith("functions/")]
    beside = [part for part in parts if part.key.startswith("functions/")]

    def reach(of: list[Component]) -> list[float]:
        return [p.x_mm + x for p in of for s in p.solid for o in s.outlines for x, _ in o]

    assert min(reach(beside)) > max(reach(own))


def test_what_a_function_box_holds_at_stall_is_told_by_its_motor() -> None:
    vehicle = placed(BRICKS, SWEEPER)
    stack = function_stack(vehicle)
    assert stack is not None
    rows = separations(vehicle, stack)
    box = vehicle.functions
    assert box is not None
    # each output that turns in a position has meshes that are pushed apart
    states = [s for s in prove_functions(box, arrange(vehicle, box)) if not s.passing]
    speeds = {
        (state.position, output.output): abs(output.speed)
        for state in states
        for output in state.outputs
        if output.speed
    }
    assert len({row.gear for row in rows}) == len(speeds)
    # no tooth is pushed harder than the torque, geared down, pushes at the smallest gear
    module = vehicle.kit.module_mm
    most = STALL_N_MM / float(min(speeds.values())) / (min(vehicle.kit.sizes) * module / 2)
    assert 0 < max(row.force_n for row in rows) <= most
    held = function_holds_n_mm(vehicle, stack)
    assert held is not None
    for stall in (held[0] * 0.99, held[0] * 1.01):
        strong = vehicle.model_copy(
            update={"functions": box.model_copy(update={"stall_n_mm": stall})}
        )
        again = function_holds_n_mm(strong, stack)
        assert again is not None
        assert again[0] == pytest.approx(held[0], rel=1e-6)  # the limit is the box's own
        codes = {finding.code for finding in layout_findings(strong)}
        assert ("function-skips-at-stall" in codes) == (stall > held[0])
