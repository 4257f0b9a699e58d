"""The whole order: every part in one step of few kinds, every mesh checked once, by its teeth."""

from collections import Counter
from functools import cache

import pytest

from mild_badger.core.components.chassis_parts import chassis_parts
from mild_badger.core.components.drive_line import LINE
from mild_badger.core.components.equipment import add_equipment, whole_vehicle
from mild_badger.core.driveline.assemble import assemble
from mild_badger.core.drivetrain.graph import Coupling
from mild_badger.core.mechanisms.registry import mechanism_on
from mild_badger.core.vehicle.demo import demo_vehicle
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.equipment import EquipmentKind
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.assembly import AssemblyPlan, assembly_plan
from mild_badger.core.workshop.checks import meshes_made
from mild_badger.core.workshop.further_steps import CHASSIS, MOTORS, vehicle_steps
from mild_badger.core.workshop.states import step_done, tick_step
from mild_badger.core.workshop.step_words import part_name, part_tag

BUS, TRACTOR, TRUCK = "larkholm-mail-bus", "larkholm-timber-tractor", "larkholm-crane-truck"
SWEEPER = "larkholm-street-sweeper"


@cache
def planned(name: str) -> tuple[Vehicle, AssemblyPlan]:
    vehicle = demo_vehicle(name)
    for mechanism in ("clutch", "engine") if name == TRACTOR else ():
        edit = mechanism_on(mechanism).add(vehicle)
        assert edit is not None
        vehicle = apply_edit(vehicle, edit)
    bodies: tuple[EquipmentKind, ...] = ("battery", "switch") if name == BUS else ()
    for kind in bodies:
        vehicle = apply_edit(vehicle, add_equipment(vehicle, kind))
    return vehicle, vehicle_steps(vehicle)


@pytest.mark.parametrize("name", [BUS, TRACTOR, TRUCK, SWEEPER])
def test_every_part_of_the_vehicle_comes_in_one_step_of_few_kinds(name: str) -> None:
    vehicle, plan = planned(name)
    keys = [key for step in plan.steps for key in step.keys]
    assert len(keys) == len(set(keys))
    assert set(keys) == {part.key for part in plan.parts}
    whole = whole_vehicle(vehicle).components
    chassis = chassis_parts(vehicle, [part for part in whole if part.kind == "wheel"])
    assert bool(chassis) == (vehicle.running is not None)
    everything = Counter(str(part.id) for part in (*whole, *chassis))
    assert Counter(str(part.id) for part in plan.parts) == everything
    assert [step.number for step in plan.steps] == list(range(1, len(plan.steps) + 1))
    for step in plan.steps:
        kinds = {part_name(vehicle, plan.part(key)) for key in step.keys}
        assert len(kinds) <= 3 or len({plan.part(k).member for k in step.keys}) == 1, step.title
        assert len({plan.part(key).box for key in step.keys}) <= 1


@pytest.mark.parametrize("name", [BUS, TRACTOR, TRUCK])
def test_every_mesh_is_checked_once_by_its_teeth(name: str) -> None:
    vehicle, plan = planned(name)
    made = [check for step in plan.steps for check in meshes_made(vehicle, plan, step)]
    pairs = Counter(frozenset((c.one.key, c.other.key)) for c in made)
    assert pairs
    assert set(pairs.values()) == {1}
    for check in made:
        assert abs(check.turns) * check.other.teeth == check.one.teeth
        assert check.turns < 0  # outside each other
    teeth = {body for part in plan.parts if part.teeth for body in part.bodies}
    wanted = {
        frozenset(equation.bodies)
        for equation in assemble(vehicle).equations
        if equation.kind is Coupling.MESH and not equation.sleeve and teeth >= set(equation.bodies)
    }
    told = {
        frozenset((a, b)) for check in made for a in check.one.bodies for b in check.other.bodies
    }
    assert wanted <= told


def test_motor_clutch_drive_line_and_mechanisms_follow_the_boxes() -> None:
    vehicle, plan = planned(TRACTOR)
    boxes = [step.box for step in plan.steps]
    assert boxes[: len(assembly_plan(vehicle).steps)] == [
        step.box for step in assembly_plan(vehicle).steps
    ]
    order = list(dict.fromkeys(boxes))
    assert order[:4] == ["", MOTORS, LINE, CHASSIS]
    assert len(order) == 5
    assert set(order[1:]) == plan.titles.keys()
    kinds = [plan.part(key).kind for step in plan.steps if step.box == LINE for key in step.keys]
    assert kinds.index("pinion") < kinds.index("crown") < kinds.index("half shaft")
    assert kinds.index("half shaft") < kinds.index("wheel")


def test_a_step_of_the_drive_line_is_ticked_and_taken_back() -> None:
    vehicle, plan = planned(BUS)
    step = next(step for step in plan.steps if step.box == LINE)
    assert not step_done(vehicle, step)
    done = apply_edit(vehicle, tick_step(vehicle, step, done=True))
    assert step_done(done, step)
    assert vehicle_steps(done).steps == plan.steps
    assert not step_done(apply_edit(done, tick_step(done, step, done=False)), step)


def test_tags_name_letter_and_teeth() -> None:
    vehicle, plan = planned(BUS)
    gear = next(part for part in plan.parts if part.kind == "gear" and not part.box)
    letter, _, teeth = part_tag(vehicle, gear).partition(" · ")
    assert teeth == str(gear.teeth)
    shaft = next(part for part in plan.parts if part.kind == "shaft" and part.shaft == gear.shaft)
    assert part_tag(vehicle, shaft) == letter
    assert part_tag(vehicle, next(part for part in plan.parts if part.kind == "fork")) == ""
