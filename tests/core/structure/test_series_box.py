"""Two layshafts, and splitter and range, find their place and touch nothing in any gear."""

from functools import cache
from itertools import pairwise
from math import hypot

import pytest

from examples import example_vehicle
from mild_badger.core.architectures.match import match_box
from mild_badger.core.architectures.places import Series
from mild_badger.core.architectures.registry import architecture_of
from mild_badger.core.components.collide import collide
from mild_badger.core.evaluate import evaluate
from mild_badger.core.findings.finding import Severity
from mild_badger.core.mesh.centres import centre_of
from mild_badger.core.ratios.lanes import Impossible
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.structure.stack import Stack
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.model import Vehicle

TRACTOR, CRANE, BUS = "larkholm-timber-tractor", "larkholm-crane-truck", "larkholm-mail-bus"
PLACED = [
    (TRACTOR, "twin-layshaft"),
    (TRACTOR, "range-splitter"),
    (CRANE, "range-splitter"),
    (BUS, "range-splitter"),
]


@cache
def boxed(name: str, kind: str) -> Vehicle:
    """A demo's targets with the best set of another architecture."""
    vehicle = example_vehicle(name)
    match = match_box(vehicle, kind, best="error")
    assert not isinstance(match, Impossible)
    return apply_edit(vehicle, match.edit(vehicle))


def stack_in(vehicle: Vehicle) -> Stack:
    stack = stack_for(vehicle)
    assert stack is not None
    return stack


def series_in(vehicle: Vehicle) -> Series:
    places = architecture_of(vehicle.box).places(vehicle.box)
    assert isinstance(places, Series)
    return places


@pytest.mark.parametrize(("name", "kind"), PLACED)
def test_every_stage_stands_at_its_own_distance(name: str, kind: str) -> None:
    """The centre distance of a stage is that of its pairs, m (z₁ + z₂) / 2 or its grid offset."""
    vehicle = boxed(name, kind)
    stack = stack_in(vehicle)
    for stage in (stage for bay in series_in(vehicle).bays for stage in bay):
        centre = centre_of(vehicle.kit, [pair.link.pair for pair in stage.pairs])
        assert centre is not None
        assert stack.apart_mm(stage.driving, stage.driven) == pytest.approx(centre.distance_mm)
    if not vehicle.kit.any_seat:
        for rod in stack.rods.values():
            if "idler" not in rod.name:
                for at in (rod.x_mm, rod.y_mm):
                    assert at / vehicle.kit.grid_unit_mm == pytest.approx(
                        round(at / vehicle.kit.grid_unit_mm)
                    )


@pytest.mark.parametrize(("name", "kind"), PLACED)
def test_input_and_output_end_at_the_middle_wall_in_line_or_clear_of_one_another(
    name: str, kind: str
) -> None:
    vehicle = boxed(name, kind)
    stack = stack_in(vehicle)
    end = stack.rods[vehicle.box.output]
    apart = hypot(end.x_mm, end.y_mm)
    hole = vehicle.kit.shaft_diameter_mm
    assert apart < 0.01 or apart > hole
    middle = stack.slabs.index("middle wall")
    assert stack.rods["input.1"].last == middle
    assert end.last == stack.walls[-1]
    assert all(a < b for a, b in pairwise(stack.edges_mm))


@pytest.mark.parametrize(("name", "kind"), PLACED)
def test_nothing_touches_in_any_gear_and_nothing_is_wrong_with_the_layout(
    name: str, kind: str
) -> None:
    vehicle = boxed(name, kind)
    collision = collide(vehicle)
    assert collision.proof.overlaps == ()
    assert collision.clear
    assert collision.proof.states >= len([g for g in vehicle.real.gears if not g.reverse])
    wrong = {f.code for f in evaluate(vehicle).findings if f.severity is Severity.ERROR}
    # eight pairs and four sleeves side by side are longer than a brick kit's longest shaft
    assert wrong == ({"shaft-too-long"} if name == BUS else set())


def test_a_gear_of_the_input_that_reaches_a_layshaft_gets_it_started_behind_a_wall() -> None:
    vehicle = boxed(TRACTOR, "twin-layshaft")
    stack = stack_in(vehicle)
    starts = {name: rod.first for name, rod in stack.rods.items() if name.startswith("layshaft")}
    late = max(starts, key=lambda name: starts[name])
    assert stack.kinds[starts[late]] == "wall"
    assert starts[late] > stack.walls[0]
    for disc in stack.discs:
        if disc.shaft == "input.1" and stack.rods[late].first <= disc.slab:
            room = stack.apart_mm("input.1", late) - disc.radius_mm
            assert room > vehicle.kit.shaft_diameter_mm / 2


def test_shafts_that_find_no_place_together_are_told() -> None:
    """On whole units the bus's two output pairs of 24 and 40 mm do not meet."""
    vehicle = boxed(BUS, "twin-layshaft")
    assert stack_for(vehicle) is None
    codes = [finding.code for finding in evaluate(vehicle).findings]
    assert "shafts-find-no-place" in codes
