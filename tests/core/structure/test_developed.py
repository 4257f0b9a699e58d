"""The developed section: true distances of shafts in mesh, the power's order, nothing overlaps."""

from itertools import combinations

import pytest

from mild_badger.core.driveline.assemble import assemble
from mild_badger.core.drivetrain.graph import Coupling
from mild_badger.core.layout.turning import power_bodies
from mild_badger.core.structure.developed import DevelopedSection, SectionPart, developed_section
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.structure.stack import Stack
from mild_badger.core.vehicle.demo import DEMOS
from mild_badger.core.vehicle.model import Vehicle
from strategies import placed_demo

SHAFTED = [name for name in DEMOS if stack_for(placed_demo(name)) is not None]


def boxed(name: str) -> tuple[Vehicle, Stack]:
    vehicle = placed_demo(name)
    stack = stack_for(vehicle)
    assert stack is not None
    return vehicle, stack


def apart(one: SectionPart, other: SectionPart) -> bool:
    """Whether two parts do not overlap in the drawing; teeth in mesh may by their height."""
    along = one.to_mm <= other.from_mm + 1e-6 or other.to_mm <= one.from_mm + 1e-6
    low = one.pitch_mm if one.teeth else one.outer_mm
    high = other.pitch_mm if other.teeth else other.outer_mm
    return along or abs(one.across_mm - other.across_mm) >= low + high - 0.7


def sections(name: str) -> list[tuple[Vehicle, Stack, DevelopedSection, tuple[str, ...]]]:
    vehicle, stack = boxed(name)
    made = []
    for gear in vehicle.real.gears:
        path = power_bodies(vehicle, gear.id)
        made.append((vehicle, stack, developed_section(vehicle, stack, path), path))
    made.append((vehicle, stack, developed_section(vehicle, stack, (), whole=True), ()))
    return made


@pytest.mark.parametrize("name", SHAFTED)
def test_shafts_lie_in_the_order_of_the_power_at_their_true_distances(name: str) -> None:
    for vehicle, stack, section, path in sections(name):
        shaft_of = {disc.body: disc.shaft for disc in stack.discs}
        order = [shaft.name for shaft in section.shafts]
        if path:
            taken = [b if b in stack.rods else shaft_of.get(b) for b in path]
            wanted = list(dict.fromkeys(s for s in taken if s is not None))
            assert order == wanted
            assert order[0] == path[0] or order[0] in stack.rods
        else:
            assert set(order) == set(stack.rods)
        across = {shaft.name: shaft.across_mm for shaft in section.shafts}
        meshing = {
            frozenset(shaft_of[b] for b in equation.bodies)
            for equation in assemble(vehicle).equations
            if equation.kind is Coupling.MESH and all(b in shaft_of for b in equation.bodies)
        }
        for row in section.distances:
            assert frozenset((row.one, row.other)) in meshing
            true = stack.apart_mm(row.one, row.other)
            assert across[row.other] - across[row.one] == pytest.approx(true)
        if len(section.shafts) > 2:
            assert len(section.distances) >= 1


@pytest.mark.parametrize("name", SHAFTED)
def test_nothing_overlaps_and_all_is_within_the_walls(name: str) -> None:
    for _, stack, section, _ in sections(name):
        parts = [p for p in section.parts if p.kind != "wall"]
        for one, other in combinations(parts, 2):
            if one.shaft != other.shaft:
                assert apart(one, other), (one.key, other.key)
        for part in parts:
            assert -0.01 <= part.from_mm < part.to_mm <= stack.length_mm + 0.01
            assert part.inner_mm <= part.root_mm <= part.outer_mm + 1e-9
            if part.teeth:
                assert part.root_mm < part.pitch_mm < part.outer_mm
        assert section.top_mm < min(s.across_mm for s in section.shafts)
        assert section.low_mm > max(s.across_mm for s in section.shafts)


@pytest.mark.parametrize("name", SHAFTED)
def test_every_gear_is_drawn_at_its_diameter_and_what_carries_power_is_told(name: str) -> None:
    vehicle, stack = boxed(name)
    module = vehicle.kit.module_mm
    whole = developed_section(vehicle, stack, (), whole=True)
    drawn = {part.body for part in whole.parts if part.teeth}
    assert drawn == {disc.body for disc in stack.discs if disc.teeth}
    for part in whole.parts:
        assert not part.teeth or part.pitch_mm == part.teeth * module / 2
    gear = vehicle.real.gears[0].id
    path = power_bodies(vehicle, gear)
    section = developed_section(vehicle, stack, path)
    live = {part.body for part in section.parts if part.live}
    assert live == {disc.body for disc in stack.discs if disc.body in path}
