"""Sleeves on the shaft that gears are driven from: the same ratios, other gears free."""

from collections import Counter
from fractions import Fraction

import pytest

from examples import example_vehicle
from mild_badger.core.architectures.match import match_box
from mild_badger.core.components.collide import collide
from mild_badger.core.evaluate import evaluate
from mild_badger.core.ratios.lanes import Impossible
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.vehicle.box import Slot
from mild_badger.core.vehicle.boxes import LayshaftBox, TwoShaftBox
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.parts import parts_needed
from strategies import vehicle_of

TRACTOR = "larkholm-timber-tractor"


def on_driving(vehicle: Vehicle) -> Vehicle:
    return apply_edit(vehicle, Edit.one("other side", ("box", "sleeves_on"), "driving"))


def ratios(vehicle: Vehicle) -> list[Fraction | None]:
    return [gear.ratio for gear in evaluate(vehicle).gears]


def free_gears(vehicle: Vehicle) -> Counter[int]:
    return Counter(
        {part.key[1]: part.needed for part in parts_needed(vehicle) if part.key[0] == "free"}
    )


def test_ratios_stay_and_the_drivers_run_free_instead() -> None:
    before = example_vehicle(TRACTOR)
    after = on_driving(before)
    assert ratios(after) == ratios(before)
    box = LayshaftBox.of(after.box)
    assert box is not None
    by_column: dict[int, list[Slot]] = {}
    for slot in box.slots:
        by_column.setdefault(slot.column, []).append(slot)
    expected: Counter[int] = Counter()
    for slots in by_column.values():
        direct = any(slot.direct for slot in slots)
        for slot in slots:
            for pair in slot.train:
                expected[pair.driven if direct else pair.driver] += 1
    assert free_gears(after) == expected != free_gears(before)


def test_each_sleeve_stands_on_its_shaft_and_nothing_touches() -> None:
    vehicle = on_driving(example_vehicle(TRACTOR))
    stack = stack_for(vehicle)
    assert stack is not None
    box = LayshaftBox.of(vehicle.box)
    assert box is not None
    for slot in box.slots:
        (sleeve,) = (disc for disc in stack.discs if disc.body == box.sleeve_at(slot.column))
        beside = [s.direct for s in box.slots if s.column == slot.column]
        assert sleeve.shaft == ("output" if any(beside) else "layshaft.1")
    collision = collide(vehicle)
    assert collision.clear
    assert collision.proof.states > 1


def test_a_search_couples_only_gears_with_dog_faces_and_keeps_a_direct_gear_apart() -> None:
    vehicle = vehicle_of(3.0, 1.7, 1.0, reverse=2.6)
    dogs = vehicle.kit.dog_sizes
    assert set(dogs) < set(vehicle.kit.sizes)
    for kind, model in (("layshaft", LayshaftBox), ("two-shaft", TwoShaftBox)):
        asked = vehicle.model_copy(update={"box": model(sleeves_on="driving")})
        match = match_box(asked, kind, best="error")
        assert not isinstance(match, Impossible)
        box = model.of(match.box)
        assert box is not None
        assert box.sleeves_on == "driving"
        drivers = {pair.driver for slot in box.slots for pair in slot.train}
        assert drivers <= set(dogs)
        for slot in box.slots:
            assert not slot.direct or [s.column for s in box.slots].count(slot.column) == 1
            assert slot.direct or box.couples(slot.gear) == "driver"


@pytest.mark.parametrize("model", [LayshaftBox, TwoShaftBox])
def test_the_stock_is_counted_by_which_gear_runs_free(
    model: type[LayshaftBox] | type[TwoShaftBox],
) -> None:
    vehicle = vehicle_of(3.0, 1.5)
    asked = vehicle.model_copy(
        update={
            "box": model(sleeves_on="driving"),
            "search": vehicle.search.model_copy(update={"within_stock": True}),
        }
    )
    match = match_box(asked, model.model_fields["architecture"].default, best="error")
    assert not isinstance(match, Impossible)
    made = apply_edit(asked, match.edit(asked))
    gears = [part for part in parts_needed(made) if part.key[0] in ("free", "fixed")]
    assert gears
    assert not [part.name for part in gears if part.short]
