"""What shafts are called: told apart, by the builder's gear names, and never by an id."""

import pytest

from examples import example_vehicle
from mild_badger.core.evaluate import evaluate
from mild_badger.core.situation import Situation
from mild_badger.core.structure.names import (
    describe_shaft,
    names_of_placed,
    shaft_after_gear,
    shaft_label,
    shaft_letter,
)
from mild_badger.core.vehicle.box import Slot
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.gears import rename_gear
from mild_badger.core.vehicle.edit.slots import set_train
from mild_badger.core.vehicle.train import GearPair
from strategies import placed_demo
from telling import tells


def test_shafts_of_a_train_are_counted_in_the_powers_order() -> None:
    plain = placed_demo("larkholm-mail-bus")
    assert plain.layout is not None
    vehicle = apply_edit(plain, rename_gear(plain, "1", "lo"))
    assert vehicle.layout is not None
    words = [describe_shaft(vehicle, shaft.name) for shaft in vehicle.layout.shafts]
    assert len(set(words)) == len(words)
    pairs = (
        GearPair(driver=8, driven=24, idlers=(8, 16)),
        GearPair(driver=12, driven=20),
        GearPair(driver=12, driven=20, idlers=(16,)),
    )
    longer = apply_edit(vehicle, set_train(vehicle, "1", pairs))
    own = [f"gear 1/idler shaft {n}" for n in ("0.0", "0.1", "2.0")] + ["gear 1/shaft 2"]
    letters = [shaft_letter(longer, shaft) for shaft in own]
    assert len(set(letters)) == len(own)
    assert [describe_shaft(longer, shaft) for shaft in own] == [f"shaft {x}" for x in letters]
    assert shaft_label(longer, own[0]) == f"{letters[0]}, gear lo, idler"
    bare = apply_edit(vehicle, set_train(vehicle, "1", (GearPair(driver=8, driven=40),)))
    assert tells(describe_shaft(bare, own[0]), "layout.gone", title="lo", word="idler")
    assert shaft_letter(bare, own[0]) == ""


def test_the_shaft_a_gear_s_train_ends_on() -> None:
    bus = example_vehicle()
    ends = {gear.name: shaft_after_gear(bus, gear.id) for gear in bus.real.gears}
    columns = {slot.gear: slot.column for slot in bus.box.slots if isinstance(slot, Slot)}
    assert ends == {gear.name: f"selector.{columns[gear.id]}" for gear in bus.real.gears}
    tractor = example_vehicle("larkholm-timber-tractor")
    assert {shaft_after_gear(tractor, gear.id) for gear in tractor.real.gears} == {"output"}


@pytest.mark.parametrize(
    ("demo", "gear", "shafts"),
    [
        ("larkholm-mail-bus", "R", ("gear R/idler shaft 0.0", "gear R/shaft 1")),
        ("larkholm-timber-tractor", "R", ("layshaft.1", "gear R/idler shaft 0.0")),
    ],
)
def test_shafts_of_a_placed_train_are_named_from_the_input_on(
    demo: str, gear: str, shafts: tuple[str, ...]
) -> None:
    at = evaluate(example_vehicle(demo), Situation(gear=gear))
    result = next(made for made in at.gears if made.id == gear)
    slot = at.vehicle.box.slot(gear)
    column = slot.column if demo == "larkholm-mail-bus" and isinstance(slot, Slot) else 1
    first, last = (
        shaft_letter(at.vehicle, shaft)
        for shaft in (f"input.{column}", shaft_after_gear(at.vehicle, gear))
    )
    between = [shaft_letter(at.vehicle, shaft) for shaft in shafts]
    named = names_of_placed(at.vehicle, result.id, result.placement, result.bodies)
    assert named == (f"{first} input", *between, f"{last} output")
    assert "" not in between
