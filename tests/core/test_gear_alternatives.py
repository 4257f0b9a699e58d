"""Changing one gear: only what still seats, and with the figures that really come of it."""

from fractions import Fraction

import pytest

from examples import example_vehicle
from mild_badger.core.evaluate import evaluate, gear_motion
from mild_badger.core.findings.finding import Severity
from mild_badger.core.gear_alternatives import change_gear_swaps, change_places, swaps, swaps_in
from mild_badger.core.mechanisms.display.model import DisplayEngine
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.vehicle.demo import DEMOS
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.slots import keep_train
from mild_badger.core.vehicle.model import ChangeGear
from strategies import slot_of


def test_the_driver_of_third_gear() -> None:
    # third is 12:20 · 16:20; beside a 20 sit 12 (2 u), 16 (2 × 1), 24 (2 × 2, loose) and 28 (3 u)
    found = swaps(example_vehicle(), "3", 0, "driver")
    assert [swap.teeth for swap in found] == [12, 16, 24, 28]
    assert [swap.ratio for swap in found] == [
        Fraction(20, z) * Fraction(20, 16) for z in (12, 16, 24, 28)
    ]
    assert [swap.present for swap in found] == [True, False, False, False]
    assert found[1].error_percent == pytest.approx(100 * (25 / 16 / 2.1 - 1))
    assert found[1].speed_mm_s == pytest.approx((found[0].speed_mm_s or 0) * 16 / 12)


def test_the_last_driven_gear_keeps_its_dog_faces() -> None:
    assert {swap.teeth for swap in swaps(example_vehicle(), "3", 1, "driven")} <= {16, 20}


@pytest.mark.parametrize("gear", ["1", "2", "3", "4", "5", "6", "R"])
def test_no_swap_makes_an_error(gear: str) -> None:
    bus = example_vehicle()
    slot = slot_of(bus, gear)
    for pair in range(len(slot.train)):
        for role in ("driver", "driven"):
            for swap in swaps(bus, gear, pair, role):
                after = evaluate(apply_edit(bus, swap.edit))
                assert not [f for f in after.findings if f.severity is Severity.ERROR]
                result = after.gear(gear)
                assert result is not None
                assert result.ratio == swap.ratio


@pytest.mark.parametrize("name", DEMOS)
@pytest.mark.parametrize("fit", ["absolute", "spacing"])
def test_what_a_size_would_give_is_what_its_edit_gives(name: str, fit: str) -> None:
    """What is scaled from the pair's ratio is what the graph says, in every place of every gear."""
    vehicle = example_vehicle(name)
    search = vehicle.search.model_copy(update={"fit": fit})
    vehicle = vehicle.model_copy(update={"search": search})
    compared = 0
    for gear in vehicle.real.gears:
        places = [(link.key, link.number) for link in vehicle.box.chain(gear.id)]
        places += [("final drive", n) for n in range(len(vehicle.final_drive.pairs))]
        for key, number in places:
            for swap in swaps_in(vehicle, key, number, "driver", gear=gear.id)[:3]:
                solved = gear_motion(apply_edit(vehicle, swap.edit), gear.id)
                assert solved is not None
                assert swap.ratio == solved.ratio
                assert swap.error_percent == solved.error_percent
                assert swap.speed_mm_s == solved.speed_mm_s
                compared += 1
    assert compared


def test_places_that_are_not_there() -> None:
    bus = example_vehicle()
    assert swaps(bus, "9", 0, "driver") == ()
    assert swaps(bus, "3", 5, "driver") == ()
    kept = apply_edit(bus, keep_train(bus, "3", True))
    slot = slot_of(apply_edit(kept, swaps(kept, "3", 0, "driver")[1].edit), "3")
    assert slot is not None
    assert slot.kept  # the mark stays with the gear


def test_a_change_gear_of_the_display_engine_shows_the_cranks_speed() -> None:
    """3200 rpm over 8:40 are 640, with 16 teeth in its place 1280; the road speed stays."""
    bus = example_vehicle()
    engine = DisplayEngine(pairs=(GearPair(driver=8, driven=40),))
    bus = bus.model_copy(
        update={
            "display_engine": engine,
            "change_gear": ChangeGear(train="display engine", pair="0", role="driver"),
        }
    )
    assert any(mark == bus.change_gear for _, mark in change_places(bus))
    gear, found = change_gear_swaps(bus)
    assert gear is not None
    assert gear.name == "6"
    speeds = {swap.teeth: swap.crank_rpm for swap in found}
    assert speeds[8] == pytest.approx(-640)
    assert all(rpm == pytest.approx(-80 * teeth) for teeth, rpm in speeds.items())
    assert len(speeds) > 1
    assert len({swap.speed_mm_s for swap in found}) == 1
    assert change_gear_swaps(example_vehicle()) == (None, ())
