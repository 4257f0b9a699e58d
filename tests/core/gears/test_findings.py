"""Findings stand at the limit the builder set, on neither side of it."""

import pytest

from examples import example_vehicle
from mild_badger.core.evaluate import Evaluation, evaluate
from mild_badger.core.findings.finding import Finding
from mild_badger.core.targets.speeds import deviation_percent
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.vehicle.demo import DEMOS
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.edit.slots import set_train
from mild_badger.core.vehicle.model import Vehicle
from strategies import slot_of


def too_far(evaluation: Evaluation) -> set[str]:
    """The gears that are said to be off, by id."""
    return {f.where[0] for f in evaluation.findings if f.code == "ratio-error"}


@pytest.mark.parametrize("name", DEMOS)
def test_a_ratio_is_off_from_the_tolerance_on(name: str) -> None:
    vehicle = example_vehicle(name)
    off = {
        gear.id: deviation_percent(gear.error_percent)
        for gear in evaluate(vehicle).gears
        if gear.error_percent is not None
    }
    for gear, deviation in off.items():
        if deviation < 0.01:
            continue
        for factor, said in ((0.98, True), (1.02, False)):
            tolerance = Edit.one("", ("search", "tolerance_percent"), deviation * factor)
            assert (gear in too_far(evaluate(apply_edit(vehicle, tolerance)))) is said


def test_the_size_of_the_error_and_its_limit_are_told() -> None:
    vehicle = apply_edit(example_vehicle(), Edit.one("", ("search", "tolerance_percent"), 0.5))
    for finding in evaluate(vehicle).findings:
        if finding.code == "ratio-error":
            gear = evaluate(vehicle).gear(finding.where[0])
            assert gear is not None
            assert (finding.figure, finding.limit, finding.unit) == (gear.error_percent, 0.5, "%")


def with_train(vehicle: Vehicle, gear: str, *pairs: tuple[int, int]) -> Vehicle:
    train = tuple(GearPair(driver=a, driven=b) for a, b in pairs)
    return apply_edit(vehicle, set_train(vehicle, gear, train))


def told(vehicle: Vehicle, code: str) -> list[Finding]:
    return [f for f in evaluate(vehicle).findings if f.code == code]


def test_what_is_wrong_with_a_gear_is_told_of_that_gear() -> None:
    bus, tractor = example_vehicle(), example_vehicle("larkholm-timber-tractor")
    barred = apply_edit(bus, Edit.one("", ("kit", "barred"), [slot_of(bus, "3").train[0].driver]))
    off = slot_of(tractor, "2").train[0]
    apart = with_train(tractor, "2", (off.driver, off.driven + 9))
    near = with_train(tractor, "2", (off.driver, off.driven + 1))
    for vehicle, code, gear in (
        (with_train(bus, "3", (12, 20)), "wrong-direction", "3"),
        (with_train(bus, "3", (8, 12), (20, 20)), "no-seat", "3"),
        (with_train(bus, "2", (12, 20), (8, 24)), "no-dog-faces", "2"),
        (with_train(bus, "2", (9, 20), (8, 20)), "not-in-kit", "2"),
        (with_train(bus, "2", (8, 40), (8, 20)), "ratio-error", "2"),
        (with_train(bus, "2"), "no-train", "2"),
        (barred, "barred", "3"),
        (apart, "centre-distance", "2"),
        (near, "profile-shift", "2"),
    ):
        assert [f.where for f in told(vehicle, code)].count((gear,)) >= 1, code


def test_the_crown_wheel_is_moved_only_where_most_gears_go_wrong() -> None:
    bus = example_vehicle()
    turned = apply_edit(bus, Edit.one("", ("final_drive", "crown_side"), "right"))
    (fault,) = told(turned, "crown-wheel-side")
    driving = [gear for gear in evaluate(bus).gears if gear.direction]
    assert fault.figure == len(driving)
    assert told(turned, "wrong-direction") == []
    assert fault.mend is not None
    assert told(apply_edit(turned, fault.mend), "crown-wheel-side") == []
    one = with_train(turned, "3", (12, 20))  # now right, and all others wrong
    (rest,) = told(one, "crown-wheel-side")
    assert rest.figure == len(driving) - 1
    assert [f.where for f in told(one, "wrong-direction")] == [("3",)]


def test_a_lever_box_that_gains_no_tooth_says_it_stands() -> None:
    trolley = example_vehicle("larkholm-sawmill-trolley")
    gear = trolley.real.gears[0].id
    stuck = apply_edit(
        trolley,
        Edit(
            "",
            (
                Change(("box", "drive", "throw_mm"), 0.5),
                Change(("box", "drive", "teeth"), 6),
            ),
        ),
    )
    assert (gear,) in [f.where for f in told(stuck, "locked")]
