"""By which way parts come in: along the shafts or straight from the side, none into another."""

import numpy as np
import pytest

from mild_badger.core.components.solids import solid_of
from mild_badger.core.vehicle.demo import demo_vehicle
from mild_badger.core.workshop.assembly import assembly_plan
from mild_badger.core.workshop.ways_in import apart_moves, coming_moves, spans_of
from mild_badger.core.workshop.ways_out import BACK, FRONT, SIDE

SWEEPER, TRACTOR = "larkholm-street-sweeper", "larkholm-timber-tractor"


@pytest.mark.parametrize("demo", [SWEEPER, TRACTOR])
def test_what_comes_along_the_shafts_comes_from_its_own_end(demo: str) -> None:
    plan = assembly_plan(demo_vehicle(demo))
    ways = set()
    for step in plan.steps:
        for key, (x, y, z) in coming_moves(plan, step.keys, step.way).items():
            part = plan.part(key)
            length, middle = spans_of(plan, part.box)
            assert np.hypot(np.hypot(x, y), z) == pytest.approx(min(0.45 * length, 60.0))
            ways.add(step.way)
            if step.way == SIDE:
                left, low, right, high = part.reach_mm
                out = ((left + right) / 2 - middle[0]) * x + ((low + high) / 2 - middle[1]) * y
                assert z == 0
                assert out >= 0  # away from the middle
            else:  # the output end lies towards -z
                assert (x, y) == (0, 0)
                assert np.sign(z) == {BACK: -1, FRONT: 1}[step.way]
    assert ways >= {BACK, SIDE}


def test_parts_drawn_apart_are_clear_of_one_another() -> None:
    plan = assembly_plan(demo_vehicle(TRACTOR))
    moves = apart_moves(plan, plan.parts, 6.0)
    placed = []
    for part, move in zip(plan.parts, moves, strict=True):
        placed.append(solid_of(part).translate(tuple(move)))
    number = {key: step.number for step in plan.steps for key in step.keys}
    way = {key: step.way for step in plan.steps for key in step.keys}
    for n, one in enumerate(plan.parts):
        for m in range(n):
            other = plan.parts[m]
            if way[one.key] == way[other.key] and number[one.key] != number[other.key]:
                assert (placed[n] ^ placed[m]).volume() < 0.5, (one.key, other.key)


def test_together_nothing_is_moved_and_other_parts_stay() -> None:
    plan = assembly_plan(demo_vehicle(TRACTOR))
    assert not apart_moves(plan, plan.parts, 0.0).any()
    assert not apart_moves(assembly_plan(demo_vehicle(SWEEPER)), plan.parts[:0], 2.0).any()
