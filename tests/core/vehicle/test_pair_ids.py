"""A gear wheel is its pair's id and its part in it: what is put before it changes nothing of it."""

from fractions import Fraction

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from mild_badger.core.driveline.assemble import assemble
from mild_badger.core.evaluate import evaluate
from mild_badger.core.gear_alternatives import change_gear_swaps
from mild_badger.core.vehicle.bodies import gear_body
from mild_badger.core.vehicle.box import Slot, gear_key
from mild_badger.core.vehicle.codec import decode, encode
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.edit.slots import set_train
from mild_badger.core.vehicle.edit.trains import train_at
from mild_badger.core.vehicle.model import ChangeGear, Vehicle
from mild_badger.core.vehicle.train import GearPair, identified_train, pair_ids, plain_train
from mild_badger.core.vehicle.trial import Reading
from strategies import placed_demo

SIZES = st.sampled_from((8, 12, 16, 20, 24))
PAIRS = st.builds(GearPair, driver=SIZES, driven=SIZES)


@given(st.lists(PAIRS, max_size=3), PAIRS, st.data())
def test_a_pair_put_in_leaves_the_others_their_ids(
    old: list[GearPair], new: GearPair, data: st.DataObject
) -> None:
    assume(new not in old)  # of two alike the first counts as the one that was there
    before = identified_train((), old)
    at = data.draw(st.integers(0, len(before)))
    longer = identified_train(before, (*before[:at], new, *before[at:]))
    ids = pair_ids(longer)
    assert len(set(ids)) == len(ids)
    assert ids[:at] + ids[at + 1 :] == pair_ids(before)
    assert plain_train(longer) == plain_train((*before[:at], new, *before[at:]))
    shorter = identified_train(longer, longer[:at] + longer[at + 1 :])
    assert pair_ids(shorter) == pair_ids(before)


@given(st.lists(st.tuples(st.integers(0, 3), st.booleans(), PAIRS), max_size=12))
def test_ids_are_not_used_again(steps: list[tuple[int, bool, GearPair]]) -> None:
    train: tuple[GearPair, ...] = ()
    gone: set[str] = set()
    for at, take_out, pair in steps:
        had = set(pair_ids(train))
        put_in = () if take_out else (pair,)
        changed = (*train[:at], *put_in, *train[at + take_out :])
        train = identified_train(train, changed[:4], gone)
        gone |= had - set(pair_ids(train))
        assert not gone & set(pair_ids(train))


def test_sizes_typed_over_stay_the_same_wheel() -> None:
    one, two = GearPair(driver=8, driven=24), GearPair(driver=12, driven=20)
    before = identified_train((one,), (two, one))
    other = (before[0].model_copy(update={"driven": 16}), before[1])
    assert pair_ids(identified_train(before, other)) == pair_ids(before) == ("1", "0")
    # and so where a search gives the train, without ids
    assert pair_ids(identified_train(before, plain_train(other))) == ("1", "0")


@pytest.mark.parametrize("name", ["larkholm-mail-bus", "larkholm-street-sweeper"])
def test_a_pair_put_in_front_leaves_layout_change_gear_and_reading_on_their_wheels(
    name: str,
) -> None:
    placed = placed_demo(name)
    slot = next(
        s for s in placed.box.slots if isinstance(s, Slot) and 0 < len(s.train) < 3 and not s.second
    )
    key, own = gear_key(slot.gear), slot.train
    body = gear_body(key, pair_ids(own)[-1], "driven")
    marked = apply_edit(
        placed,
        Edit(
            "Mark",
            (
                Change(
                    ("change_gear",),
                    ChangeGear(train=key, pair=pair_ids(own)[-1], role="driven").model_dump(),
                ),
                Change(
                    ("trial", "readings"),
                    [Reading(position=slot.gear, body=body, turns=1.0, way=1).model_dump()],
                ),
            ),
        ),
    )
    first = GearPair(driver=12, driven=12)
    longer = apply_edit(marked, set_train(marked, slot.gear, (first, *own)))
    assert plain_train(train_at(longer, key)) == plain_train((first, *own))
    assert teeth_of(longer)[body] == teeth_of(marked)[body] == own[-1].driven
    assert longer.layout is not None
    here = teeth_of(longer)
    assert all(here[gear.body] == gear.teeth for gear in longer.layout.gears)
    assert [r.body for r in longer.trial.readings] == [body]
    assert "readings-lost" not in [f.code for f in evaluate(longer).findings]
    now, found = change_gear_swaps(longer, evaluate(longer).situation)
    assert now is not None
    assert now.ratio is not None
    assert found
    for swap in found:
        ratio = Fraction(swap.teeth, own[-1].driven) * now.ratio
        assert swap.ratio == ratio
    # taken out again, all is as it was, and a pair that comes next is another
    shorter = apply_edit(longer, set_train(longer, slot.gear, train_at(longer, key)[1:]))
    assert shorter.model_copy(update={"retired_pairs": ()}) == marked
    once_more = apply_edit(shorter, set_train(shorter, slot.gear, (first, *own)))
    assert set(pair_ids(train_at(once_more, key))) & set(pair_ids(train_at(longer, key))) == set(
        pair_ids(own)
    )
    assert decode(encode(once_more)) == once_more


def teeth_of(vehicle: Vehicle) -> dict[str, int]:
    return {b.id: b.teeth for b in assemble(vehicle).bodies if b.teeth is not None}
