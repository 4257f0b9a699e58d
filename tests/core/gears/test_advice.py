"""Advice on the gears of a box: hunting teeth, undercut, size, steps, cheaper trains."""

from math import radians, sin

import pytest

from examples import example_vehicle
from mild_badger.core.evaluate import evaluate
from mild_badger.core.findings.finding import Severity
from mild_badger.core.gears.advice import hunts, turns_to_repeat
from mild_badger.core.ratios.train import parse_train
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.slots import set_train
from mild_badger.core.vehicle.model import Vehicle
from strategies import finding_of, with_search
from telling import tells


def tractor() -> Vehicle:
    return example_vehicle("larkholm-timber-tractor")


@pytest.mark.parametrize(("pair", "hunting", "turns"), [((17, 40), True, 40), ((12, 20), False, 5)])
def test_hunting_teeth(pair: tuple[int, int], hunting: bool, turns: int) -> None:
    # Merritt, Gear Trains: with coprime counts every tooth meets every other before it repeats
    driver, driven = pair
    mesh = GearPair(driver=driver, driven=driven)
    assert hunts(mesh) is hunting
    assert turns_to_repeat(mesh) == turns
    met = {
        (t * driver) % driven for t in range(driven)
    }  # where driver's tooth 0 lands, turn by turn
    assert len(met) == turns


def test_undercut_is_warned_of_where_teeth_are_cut() -> None:
    warned = finding_of(tractor(), "undercut")
    assert warned is not None
    limit = 2 / sin(radians(20)) ** 2  # ISO 21771, rack, full depth
    assert warned.limit == int(limit)
    assert tells(
        warned.text, "gears.at-teeth-of-a-gear-with-fewer-than-are-cut", least="10", shift="0.42"
    )  # 1 − 10/17.1
    assert finding_of(example_vehicle(), "undercut") is None  # moulded bricks
    assert warned.severity is Severity.WARNING  # 10 with 10 teeth: less than one pair in contact
    steep = tractor().kit.model_copy(update={"pressure_angle_deg": 25.0})
    mild = finding_of(tractor().model_copy(update={"kit": steep}), "undercut")
    assert mild is not None
    assert mild.severity is Severity.NOTE


def test_too_big_too_fine_and_uneven() -> None:
    bus = with_search(example_vehicle(), hull_mm=40.0)
    big = finding_of(bus, "too-big-for-hull")
    assert big is not None
    assert (big.figure, big.limit) == (42, 40)
    fine = tractor().kit.model_copy(update={"cutter_mm": 2.0})
    note = finding_of(tractor().model_copy(update={"kit": fine}), "teeth-too-fine")
    assert note is not None
    assert note.limit == 6
    uneven = finding_of(with_search(example_vehicle(), step_unevenness_percent=5.0), "uneven-steps")
    assert uneven is not None
    # got steps 15/8, 8/5, 3/2 …: 15/8 over 8/5 is 1.171875
    assert uneven.figure == pytest.approx(17.1875)
    even = with_search(example_vehicle(), step_unevenness_percent=30.0)
    assert finding_of(even, "uneven-steps") is None


def test_a_cheaper_train_of_the_same_ratio_is_pointed_out() -> None:
    bus = apply_edit(
        example_vehicle(), set_train(example_vehicle(), "3", parse_train("24:40 · 16:20"))
    )
    note = finding_of(bus, "smaller-gears")
    assert note is not None
    assert note.mend is not None
    mended = apply_edit(bus, note.mend)
    one, other = (evaluate(v).gear("3") for v in (bus, mended))
    assert one is not None
    assert other is not None
    assert one.ratio == other.ratio
    assert sum(p.driver + p.driven for p in other.own) < sum(p.driver + p.driven for p in one.own)
    assert finding_of(mended, "smaller-gears") is None
