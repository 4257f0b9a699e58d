"""Shafts drawn bent: as the separation of their meshes says, held in walls, larger than true."""

import numpy as np
import pytest

from mild_badger.core.components.vehicle_parts import main_components
from mild_badger.core.layout.shaft_deflection import separations, shaft_bends
from mild_badger.core.scene.bend import bending_of, bent_corners
from mild_badger.core.scene.mesh import placed_corners, scene_of
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.vehicle.demo import demo_vehicle

SWEEPER, TRACTOR = "larkholm-street-sweeper", "larkholm-timber-tractor"


@pytest.mark.parametrize("demo", [SWEEPER, TRACTOR])
def test_shafts_bend_as_far_as_their_meshes_are_pushed_apart(demo: str) -> None:
    vehicle = demo_vehicle(demo)
    stack = stack_for(vehicle)
    assert stack is not None
    checked = 0
    for row in separations(vehicle, stack):
        middle = stack.middle_mm(stack.slabs.index(row.slab))
        places = dict.fromkeys(stack.rods, (middle,))
        bends = shaft_bends(vehicle, stack, row.gear, places)
        discs = [
            d
            for d in stack.discs
            if stack.slabs[d.slab] == row.slab and d.teeth in row.teeth and d.shaft in bends
        ]
        pairs = [
            (a, b)
            for a in discs
            for b in discs
            if (a.teeth, b.teeth) == row.teeth
            and np.allclose(
                (
                    stack.rods[b.shaft].x_mm - stack.rods[a.shaft].x_mm,
                    stack.rods[b.shaft].y_mm - stack.rods[a.shaft].y_mm,
                ),
                row.line_mm,
            )
        ]
        shifts = [bends[b.shaft][0] - bends[a.shaft][0] for a, b in pairs]
        if shifts:  # of pairs that look alike the one on the way of the power
            assert any(np.allclose(shift, row.shift_mm, atol=1e-9) for shift in shifts)
            checked += 1
    assert checked >= 5


@pytest.mark.parametrize("demo", [SWEEPER, TRACTOR])
def test_what_is_drawn_stays_in_its_walls_and_moves_by_the_factor(demo: str) -> None:
    vehicle = demo_vehicle(demo)
    box = main_components(vehicle)
    stack = stack_for(vehicle)
    assert box is not None
    assert stack is not None
    parts = box.components
    gear = vehicle.real.gears[0].id
    bending = bending_of(vehicle, gear, parts)
    assert bending is not None
    assert bending.factor >= 1
    scene = scene_of(parts, bendable=True)
    still = np.zeros(len(parts))
    straight = placed_corners(scene, parts, still, still)
    moved = bent_corners(straight, scene, parts, bending) - straight
    assert not moved[:, 2].any()
    most = np.hypot(moved[:, 0], moved[:, 1]).max()
    assert most == pytest.approx(bending.factor * bending.most_mm, rel=0.1)
    for number, part in enumerate(parts):
        own = slice(scene.starts[number], scene.starts[number + 1])
        if part.kind == "wall":
            assert not moved[own].any()
        if part.kind == "shaft" and part.shaft in bending.shafts:
            for wall in stack.rods[part.shaft].walls:  # it bends between them, not in them
                near = np.abs(-straight[own, 2] - stack.middle_mm(wall)) < 1.5
                if near.any():
                    held = np.hypot(*moved[own][near, :2].T).max()
                    assert held < 0.35 * most + 0.2
    assert bending_of(vehicle, None, parts) is None
