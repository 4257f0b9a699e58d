"""Every shift, move by move: it ends in its gear and locks at no point on the way."""

from itertools import product

import pytest

from examples import example_vehicle
from mild_badger.core.architectures.match import match_box
from mild_badger.core.architectures.registry import searches
from mild_badger.core.axle.road_state import Straight, conditions
from mild_badger.core.driveline.assemble import assemble, shifter_state_for
from mild_badger.core.drivetrain.solve import Motion, solve
from mild_badger.core.message import say
from mild_badger.core.ratios.box_question import Kind
from mild_badger.core.ratios.lanes import Impossible
from mild_badger.core.shift.moves import shift_between
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.model import Vehicle
from strategies import vehicle_of
from telling import tells


def boxed(kind: Kind) -> Vehicle:
    vehicle = vehicle_of(3.0, 2.0, 1.0, reverse=3.0)
    found = match_box(vehicle, kind, best="error")
    assert not isinstance(found, Impossible)
    return apply_edit(vehicle, found.edit(vehicle))


@pytest.mark.parametrize("kind", searches())
def test_no_shift_locks_on_its_way(kind: Kind) -> None:
    vehicle = boxed(kind)
    graph, road = assemble(vehicle), conditions(vehicle, Straight(), locked=False)
    every = (None, *(gear.name for gear in vehicle.real.gears))
    for start, end in product(every, repeat=2):
        shift = shift_between(vehicle.box, start, end)
        stays = set(shifter_state_for(vehicle, start).items()) & set(
            shifter_state_for(vehicle, end).items()
        )
        for state in shift.states:
            solved = solve(graph, {**dict(stays), **state}, road)
            assert Motion.LOCKED not in solved.motions.values()
        if shift.moves:
            assert {**dict(stays), **shift.states[-1]} == shifter_state_for(vehicle, end)
        assert bool(shift.moves) == (
            shifter_state_for(vehicle, start) != shifter_state_for(vehicle, end)
        )


def test_the_bus_s_moves_by_hand() -> None:
    box = example_vehicle().box  # 1 and 2 share the first sleeve, 3 and 4 the second
    pull = shift_between(box, "1", "2")
    assert (pull.one_pull, pull.through_neutral, len(pull.moves)) == (True, True, 2)
    assert pull.summary == say(
        "shift.from-through-neutral-to-in-one-pull", name="sleeve 1", start="front", end="back"
    )
    across = shift_between(box, "2", "3")
    assert tells(across.summary, "shift.out-of", name="sleeve 1", start="back")
    assert tells(across.summary, "shift.into", name="sleeve 2", end="front")
    assert not across.one_pull
    assert tells(shift_between(box, None, "1").summary, "shift.into", name="sleeve 1", end="front")
    assert not shift_between(box, None, "1").through_neutral
    assert shift_between(box, "4", "4").summary == say("shift.nothing-moves")


def test_a_range_box_moves_only_the_half_that_changes() -> None:
    vehicle = boxed("range-splitter")
    box = vehicle.box
    for one, other in product("123", repeat=2):
        same = set(shifter_state_for(vehicle, one).items()) & set(
            shifter_state_for(vehicle, other).items()
        )
        moved = {move.sleeve for move in shift_between(box, one, other).moves}
        assert not moved & {sleeve for sleeve, _ in same}
