"""Parts as a builder shops: prices and packs of every line are kept, packs are whole."""

import pytest

from mild_badger.core.vehicle.demo import demo_vehicle
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.workshop.parts import set_pack, set_price
from mild_badger.core.workshop.shopping import shopping

NAMES = ["larkholm-mail-bus", "larkholm-timber-tractor"]


@pytest.mark.parametrize("name", NAMES)
def test_what_is_typed_of_any_line_is_kept(name: str) -> None:
    vehicle = demo_vehicle(name)
    kinds = {line.part.key[0]: line.part for line in shopping(vehicle)}
    assert {"shaft", "wheel", "fork"} <= kinds.keys()
    for part in kinds.values():
        priced = apply_edit(vehicle, set_price(vehicle, part, 2.5))
        now = {line.part.key: line.part for line in shopping(priced)}[part.key]
        packed = apply_edit(priced, set_pack(priced, now, 10))
        seen = {line.part.key: line.part for line in shopping(packed)}[part.key]
        assert (seen.price, seen.pack, seen.needed) == (2.5, 10, part.needed)


def test_ten_are_bought_where_eight_are_needed() -> None:
    vehicle = demo_vehicle(NAMES[1])
    wheel = next(line.part for line in shopping(vehicle) if line.part.key[0] == "wheel")
    assert wheel.needed == 4
    vehicle = apply_edit(vehicle, set_price(vehicle, wheel, 2.0))
    priced = next(line.part for line in shopping(vehicle) if line.part.key == wheel.key)
    vehicle = apply_edit(vehicle, set_pack(vehicle, priced, 3))
    seen = next(line.part for line in shopping(vehicle) if line.part.key == wheel.key)
    assert (seen.packs, seen.to_buy, seen.cost) == (2, 12.0, 8.0)
