"""Shafts have letters in the order of the power, whatever is engaged, and keep them."""

from itertools import islice

import pytest

from examples import example_vehicle
from mild_badger.core.driveline.assemble import assemble, lettered, letters_of
from mild_badger.core.evaluate import evaluate
from mild_badger.core.mechanisms.clutch.edits import add_clutch
from mild_badger.core.message import say
from mild_badger.core.situation import Situation
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.vehicle.demo import DEMOS
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.slots import set_train
from mild_badger.core.vehicle.letters import MAX_SHAFTS, ShaftLetter, letters, with_letters
from mild_badger.core.vehicle.model import Vehicle
from telling import refuses


def of(vehicle: Vehicle) -> dict[str, str]:
    """Letters by shaft."""
    return {entry.shaft: entry.letter for entry in letters_of(vehicle)}


def test_letters_leave_out_what_reads_as_something_else() -> None:
    first = list(islice(letters(), 22 + 21))
    assert "".join(first[:21]) == "ABCDEFGHJKLMPQSTUVWXYZ"[:21]
    assert not set("".join(first)) & set("INOR")
    assert first[first.index("Z") + 1] == "AA"
    assert len(set(first)) == len(first)


@pytest.mark.parametrize("name", DEMOS)
def test_every_shaft_but_the_motor_s_has_a_letter_of_its_own(name: str) -> None:
    vehicle = example_vehicle(name)
    shafts = {body.id for body in assemble(vehicle).bodies if body.kind == "shaft"}
    known = of(vehicle)
    assert set(known) == shafts - {"motor", "clutch"}
    assert len(set(known.values())) == len(known)
    assert known["input.1"] == "A"
    engaged = {
        entry.letter
        for gear in vehicle.real.gears
        for entry in letters_of(evaluate(vehicle, Situation(gear=gear.id)).vehicle)
    }
    assert engaged == set(known.values())


def test_the_power_goes_down_the_alphabet() -> None:
    tractor = of(example_vehicle("larkholm-timber-tractor"))
    order = ["input.1", "layshaft.1", "output", "pinion shaft"]
    assert sorted(order, key=lambda shaft: tractor[shaft]) == order


def test_letters_are_kept_when_shafts_come_and_go() -> None:
    bus = lettered(example_vehicle())
    before = of(bus)
    assert lettered(bus) is bus
    train = (GearPair(driver=8, driven=24, idlers=(16,)), GearPair(driver=12, driven=24))
    longer = lettered(apply_edit(bus, set_train(bus, "1", train)))
    after = of(longer)
    assert {shaft: after[shaft] for shaft in before} == before
    new = set(after) - set(before)
    assert new
    assert not {after[shaft] for shaft in new} & set(before.values())
    # taken out again and put back, it has the letter that it had
    back = lettered(apply_edit(longer, set_train(longer, "1", (GearPair(driver=8, driven=40),))))
    again = lettered(apply_edit(back, set_train(back, "1", train)))
    assert of(again) == of(longer)
    clutched = apply_edit(bus, add_clutch(bus))
    assert {shaft: of(clutched)[shaft] for shaft in before} == before


def test_a_letter_is_not_given_twice() -> None:
    known = (ShaftLetter(shaft="b", letter="B"),)
    given = with_letters(known, ["a", "b", "c"])
    assert {entry.shaft: entry.letter for entry in given} == {"a": "A", "b": "B", "c": "C"}
    assert with_letters(given, ["c", "a"]) is given


def test_shafts_long_gone_lose_their_letters_before_any_that_is_there() -> None:
    shafts = [f"shaft {n}" for n in range(MAX_SHAFTS)]
    full = with_letters((), shafts)
    there = [*shafts[:10], *shafts[12:], "new", "newer"]
    given = {entry.shaft: entry.letter for entry in with_letters(full, there)}
    assert list(given) == there
    assert set(given.items()) >= {(e.shaft, e.letter) for e in full if e.shaft in there}
    assert len(set(given.values())) == len(given)


@pytest.mark.parametrize(
    "given",
    [
        [{"shaft": "input.1", "letter": "A"}, {"shaft": "input.1", "letter": "B"}],
        [{"shaft": "input.1", "letter": "A"}, {"shaft": "output", "letter": "A"}],
    ],
)
def test_a_file_that_gives_a_letter_or_a_shaft_twice_is_refused(given: list[object]) -> None:
    data = example_vehicle().model_dump(mode="json") | {"shaft_letters": given}
    with refuses(ValueError, "vehicle.stands-twice-every-shaft-has-a-letter-of-its"):
        Vehicle.model_validate(data)


def test_bodies_bear_their_letters() -> None:
    bus = example_vehicle()
    names = {body.id: (body.name, body.role) for body in assemble(bus).bodies}
    letter = of(bus)["selector.2"]
    assert names["selector.2"] == (f"Shaft {letter}, selector 2", "selector 2")
    assert assemble(bus).index["motor"].name == say("driveline.motor-shaft")
