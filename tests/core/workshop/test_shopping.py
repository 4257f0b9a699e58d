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
    price_of = {part.key: 2.5 + number for number, part in enumerate(kinds.values())}
    for part in kinds.values():
        vehicle = apply_edit(vehicle, set_price(vehicle, part, price_of[part.key]))
    priced = {line.part.key: line.part for line in shopping(vehicle)}
    for key in price_of:
        vehicle = apply_edit(vehicle, set_pack(vehicle, priced[key], 10))
    seen = {line.part.key: line.part for line in shopping(vehicle)}
    for part in kinds.values():
        now = seen[part.key]
        assert (now.price, now.pack, now.needed) == (price_of[part.key], 10, part.needed)


def test_ten_are_bought_where_eight_are_needed() -> None:
    vehicle = demo_vehicle(NAMES[1])
    wheel = next(line.part for line in shopping(vehicle) if line.part.key[0] == "wheel")
    assert wheel.needed == 4
    vehicle = apply_edit(vehicle, set_price(vehicle, wheel, 2.0))
    priced = next(line.part for line in shopping(vehicle) if line.part.key == wheel.key)
    vehicle = apply_edit(vehicle, set_pack(vehicle, priced, 3))
    seen = next(line.part for line in shopping(vehicle) if line.part.key == wheel.key)
    assert (seen.packs, seen.to_buy, seen.cost) == (2, 12.0, 8.0)
