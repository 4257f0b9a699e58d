"""From document to graph: ratios, directions, the crown wheel's side."""

from fractions import Fraction
from itertools import pairwise

import pytest
from hypothesis import given, settings

from examples import example_vehicle
from mild_badger.core.axle.road_state import Straight, conditions
from mild_badger.core.driveline.assemble import (
    WHEELS,
    assemble,
    box_output,
    shifter_state_for,
)
from mild_badger.core.drivetrain.builder import chain_bodies
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.evaluate import evaluate
from mild_badger.core.ratios.train import mesh_count, train_ratio
from mild_badger.core.vehicle.model import Vehicle
from strategies import slot_box, slots_of, vehicles


@given(vehicles())
@settings(max_examples=40, deadline=None)
def test_the_graph_gives_the_products_of_the_pairs(vehicle: Vehicle) -> None:
    graph = assemble(vehicle)
    road = conditions(vehicle, Straight(), locked=False)
    final = train_ratio(vehicle.final_drive.pairs) * Fraction(
        vehicle.final_drive.crown, vehicle.final_drive.pinion
    )
    for slot in slots_of(vehicle):
        if not slot.train:
            continue
        solved = solve(graph, shifter_state_for(vehicle, slot.gear), road)
        output = solved.speed(box_output(vehicle))
        wheel = solved.speed(WHEELS["left"])
        assert output is not None
        assert wheel is not None
        assert abs(output) == 1 / train_ratio(slot.train)
        # sign: one turn over a mesh, one a column where the input does not alternate as well
        turns = mesh_count(slot.train)
        if slot_box(vehicle).feed == "shaft":
            turns += slot.column - 1
        assert (output > 0) == (turns % 2 == 0)
        axle = mesh_count(vehicle.final_drive.pairs) + (vehicle.final_drive.crown_side == "right")
        assert wheel == output / final * (-1) ** axle
        bodies = chain_bodies(vehicle.box.chain(slot.gear))
        assert all(body in graph.index for body in bodies)


def test_neutral_leaves_the_box_open() -> None:
    bus = example_vehicle()
    solved = solve(assemble(bus), {}, conditions(bus, Straight(), locked=False))
    assert solved.speed(box_output(bus)) is None
    assert not solved.locked


def test_rail_and_selectors_turn_opposite_ways_side_by_side() -> None:
    columns = evaluate(example_vehicle()).columns
    assert [column.input_sign for column in columns] == [1, -1, 1, -1]
    assert all(a.selector_sign == -b.selector_sign for a, b in pairwise(columns))
    one_shaft = example_vehicle().model_copy(
        update={"box": example_vehicle().box.model_copy(update={"feed": "shaft"})}
    )
    assert [c.input_sign for c in evaluate(one_shaft).columns] == [1, 1, 1, 1]


@pytest.mark.parametrize("turns", [1, -1])
@pytest.mark.parametrize("side", ["left", "right"])
def test_a_crown_wheel_on_the_wrong_side_gives_one_speed_forward(side: str, turns: int) -> None:
    bus = example_vehicle()
    final = bus.final_drive.model_copy(update={"crown_side": side})
    motor = bus.motor.model_copy(update={"turns": turns})
    found = evaluate(bus.model_copy(update={"final_drive": final, "motor": motor}))
    ways = [gear.direction for gear in found.gears]
    right = (side == "left") == (turns == 1)
    assert ways.count(1) == (6 if right else 1)
    assert [f.code for f in found.findings if f.severity.value == "error"] == (
        [] if right else ["crown-wheel-side"]
    )
