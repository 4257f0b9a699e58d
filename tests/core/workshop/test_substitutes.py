"""Prices, totals and substitutes: the same ratios by plain multiplication, and nothing short."""

from math import prod

import pytest

from examples import example_vehicle
from mild_badger.core.evaluate import evaluate
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.edit.trains import train_at
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.parts import (
    PartLine,
    describe_cost,
    parts_needed,
    set_price,
    stock_path,
)
from mild_badger.core.workshop.substitutes import substitutes
from telling import tells


def line(vehicle: Vehicle, kind: str, teeth: int) -> PartLine:
    return next(part for part in parts_needed(vehicle) if part.key == (kind, teeth))


def one_short(kind: str, teeth: int) -> Vehicle:
    vehicle = example_vehicle()
    part = line(vehicle, kind, teeth)
    path = stock_path(vehicle, part)
    assert path is not None
    return apply_edit(vehicle, Edit.one("own fewer", path, part.needed - 1))


@pytest.mark.parametrize(
    ("kind", "teeth"), [("fixed", 12), ("fixed", 20), ("fixed", 24), ("free", 20), ("fixed", 40)]
)
def test_substitutes_keep_every_ratio_and_leave_nothing_short(kind: str, teeth: int) -> None:
    vehicle = one_short(kind, teeth)
    before = {gear.name: gear.ratio for gear in evaluate(vehicle).gears}
    assert line(vehicle, kind, teeth).short == 1
    found = substitutes(vehicle, line(vehicle, kind, teeth))
    assert found
    for other in found:
        after = apply_edit(vehicle, other.edit)
        train = train_at(after, other.train)
        old = train_at(vehicle, other.train)
        assert prod(p.driven for p in train) * prod(p.driver for p in old) == prod(
            p.driver for p in train
        ) * prod(p.driven for p in old)
        assert {gear.name: gear.ratio for gear in evaluate(after).gears} == before
        assert sum(part.short for part in parts_needed(after)) == other.short
    assert found[0].short == 0


def test_what_is_not_short_or_is_made_needs_no_substitute() -> None:
    vehicle = example_vehicle()
    assert substitutes(vehicle, line(vehicle, "fixed", 12)) == ()
    tractor = example_vehicle("larkholm-timber-tractor")
    made = next(part for part in parts_needed(tractor) if part.made and part.key[0] == "fixed")
    assert substitutes(tractor, made) == ()


def test_pairs_of_a_box_with_one_centre_distance_keep_their_sum() -> None:
    tractor = example_vehicle("larkholm-timber-tractor")
    sums = {
        link.pair.driver + link.pair.driven
        for group in tractor.box.between()
        for link in group.links
    }
    for part in parts_needed(tractor):
        for other in substitutes(tractor, part):
            after = train_at(apply_edit(tractor, other.edit), other.train)
            assert {p.driver + p.driven for p in after} <= sums


def test_prices_add_up_and_a_bearing_keeps_its_own() -> None:
    vehicle = one_short("fixed", 12)
    assert describe_cost(parts_needed(vehicle)) == ""
    for kind, teeth, price in (("fixed", 12, 0.4), ("fixed", 8, 0.25)):
        vehicle = apply_edit(vehicle, set_price(vehicle, line(vehicle, kind, teeth), price))
    twelve, eight = line(vehicle, "fixed", 12), line(vehicle, "fixed", 8)
    assert twelve.cost == pytest.approx(0.4 * twelve.needed)
    assert twelve.to_buy == pytest.approx(0.4)
    total = 0.4 * twelve.needed + 0.25 * eight.needed
    assert tells(
        describe_cost(parts_needed(vehicle)),
        "workshop.all-parts-of-which-to-buy-or-make",
        total=f"{total:.2f}",
        buy="0.40",
    )
    assert apply_edit(vehicle, set_price(vehicle, twelve, None)).kit.prices[0].part == "fixed 8"
