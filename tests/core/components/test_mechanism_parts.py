"""Display engine and other outputs in space: every gear there once, nothing in anything else."""

from itertools import combinations
from math import cos, hypot, radians, sin, sqrt
from typing import Any

import pytest

from examples import example_vehicle
from mild_badger.core.components.component import Component
from mild_badger.core.components.describe import describe_component
from mild_badger.core.components.equipment import equipment_findings, whole_vehicle
from mild_badger.core.components.mechanism_parts import MechanismGroup, mechanism_groups
from mild_badger.core.components.solids import solid_of
from mild_badger.core.driveline.assemble import DISPLAY, assemble
from mild_badger.core.driveline.crane import crane_key
from mild_badger.core.drivetrain.graph import Coupling
from mild_badger.core.mechanisms.crane.model import (
    Carried,
    Crane,
    CraneOutput,
    Plain,
    Rack,
    Ring,
    Screw,
    Spool,
    Worm,
)
from mild_badger.core.mechanisms.display.model import DisplayEngine
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.train import GearPair

TRACTOR = example_vehicle("larkholm-timber-tractor")
TWO_PAIRS = (GearPair(driver=12, driven=36), GearPair(driver=16, driven=32, idlers=(20,)))
V_EIGHT: dict[str, Any] = {
    "layout": "V",
    "cylinders": 8,
    "throws_deg": (0, 0, 90, 90, 270, 270, 180, 180),
    "order": (1, 2, 3, 4, 5, 6, 7, 8),
}


def with_engine(**fields: Any) -> Vehicle:
    return TRACTOR.model_copy(update={"display_engine": DisplayEngine(**fields)})


def with_outputs(*outputs: CraneOutput) -> Vehicle:
    return TRACTOR.model_copy(update={"crane": Crane(outputs=outputs)})


APART = Carried(gear_at_mm=-14.0, span_mm=60.0, load_at_mm=30.0)
EVERY_END = with_outputs(
    CraneOutput(name="slew", carried=APART, pairs=TWO_PAIRS, end=Ring(pinion=12, teeth=48)),
    CraneOutput(
        name="inside", carried=APART, worm=Worm(), pairs=TWO_PAIRS, end=Ring(internal=True)
    ),
    CraneOutput(name="carriage", carried=APART, worm=Worm(), end=Screw(screws=2)),
    CraneOutput(
        name="winch", carried=APART, source="box output", pairs=TWO_PAIRS[:1], end=Spool(ropes=2)
    ),
    CraneOutput(name="slide", carried=APART, source="own input", pairs=TWO_PAIRS[:1], end=Rack()),
    CraneOutput(name="fan", carried=APART, end=Plain()),
)
VEHICLES = {
    "crane truck": example_vehicle("larkholm-crane-truck"),
    "every end": EVERY_END,
    "four in line": with_engine(pairs=TWO_PAIRS),
    "eight in V": with_engine(pairs=TWO_PAIRS[:1], **V_EIGHT),
    "flat": with_engine(layout="flat"),
}


def of(group: MechanismGroup, identity: str) -> Component:
    return next(part for part in group.parts if part.id == identity)


@pytest.mark.parametrize("name", VEHICLES)
def test_every_gear_of_a_mechanism_is_one_part_and_no_body_is_made_up(name: str) -> None:
    vehicle = VEHICLES[name]
    graph, groups = assemble(vehicle), mechanism_groups(vehicle)
    keys = [crane_key(o.id) for o in vehicle.crane.outputs] if vehicle.crane else []
    wanted = {
        body.id
        for body in graph.bodies
        if body.teeth and body.id.partition("/")[0] in (*keys, DISPLAY)
    }
    parts = [part for group in groups for part in group.parts]
    for body in wanted:
        assert len([part for part in parts if part.id == body]) == 1
    assert {body for part in parts for body in part.bodies} <= set(graph.index)
    for group in groups:
        ids = [part.id for part in group.parts]
        assert len(set(ids)) == len(ids)


@pytest.mark.parametrize("name", VEHICLES)
def test_gears_interlock_and_nothing_goes_into_anything(name: str) -> None:
    vehicle = VEHICLES[name]
    graph, module = assemble(vehicle), vehicle.kit.module_mm
    for group in mechanism_groups(vehicle):
        for one, other in combinations(group.parts, 2):
            assert (solid_of(one) ^ solid_of(other)).volume() < 0.5, (one.id, other.id)
        own = {str(part.id): part for part in group.parts if part.kind == "gear"}
        meshes = [
            equation.bodies
            for equation in graph.equations
            if equation.kind is Coupling.MESH and set(equation.bodies) <= set(own)
        ]
        for a, b in meshes:
            one, other = own[a], own[b]
            apart = hypot(one.x_mm - other.x_mm, one.y_mm - other.y_mm)
            if not one.across:
                assert apart == pytest.approx((one.teeth + other.teeth) * module / 2)
            # moved a tenth of a module nearer they bite
            near = solid_of(other).translate((0, (one.y_mm - other.y_mm) / apart * 0.3 * module, 0))
            assert (solid_of(one) ^ near).volume() > 0.5


@pytest.mark.parametrize("layout", ["inline", "V"])
def test_pistons_stand_where_crank_and_rod_put_them(layout: str) -> None:
    # slider-crank: s = r cos θ + √(l² − r² sin² θ), θ from the bank to the throw (handbook)
    fields = V_EIGHT if layout == "V" else {}
    vehicle = with_engine(**fields)
    engine = vehicle.display_engine
    assert engine is not None
    (group,) = mechanism_groups(vehicle)
    for number in range(1, engine.cylinders + 1):
        piston = of(group, f"piston of cylinder {number}")
        turn = radians(engine.throws_deg[number - 1] - engine.bank_of(number))
        aside = engine.throw_mm * sin(turn)
        height = engine.throw_mm * cos(turn) + sqrt(engine.rod_mm**2 - aside**2)
        assert hypot(piston.x_mm, piston.y_mm) == pytest.approx(height)
        lean = radians(engine.bank_of(number))
        assert piston.x_mm == pytest.approx(height * sin(lean))
        # the rod's far eye is the piston's middle
        rod = of(group, f"rod of cylinder {number}")
        far = max(
            (p for prism in rod.solid for o in prism.outlines for p in o),
            key=lambda p: hypot(*p),
        )
        assert hypot(rod.x_mm - piston.x_mm, rod.y_mm - piston.y_mm) == pytest.approx(engine.rod_mm)
        assert hypot(*far) > engine.rod_mm


@pytest.mark.parametrize("name", VEHICLES)
def test_mechanisms_stand_beside_the_box_clear_of_all_and_are_called_by_name(name: str) -> None:
    vehicle = VEHICLES[name]
    whole = whole_vehicle(vehicle)
    assert whole.homeless == ()
    assert not {f.code for f in equipment_findings(vehicle)} & {"body-without-room"}
    groups = mechanism_groups(vehicle)
    named = {group.name: group for group in groups}
    placed = [part for part in whole.components if part.name in named]
    assert len(placed) == sum(len(group.parts) for group in groups)
    for part in placed:
        assert part.name in describe_component(vehicle, part)
    others = [part for part in whole.components if part.name not in named]
    for part in placed:
        block = part.reach_mm
        for other in others:
            beside = other.reach_mm
            apart = (
                block[0] >= beside[2]
                or beside[0] >= block[2]
                or block[1] >= beside[3]
                or beside[1] >= block[3]
                or part.from_mm >= other.to_mm
                or other.from_mm >= part.to_mm
            )
            assert apart, (part.id, other.id)
