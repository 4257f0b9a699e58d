"""Ids of shafts and gears are made and read in one place, and read as they were made."""

import pytest

from examples import example_vehicle
from mild_badger.core.vehicle.bodies import (
    column_shaft,
    gear_body,
    idler_shaft,
    input_shaft,
    is_driver,
    is_idler_shaft,
    pair_of,
    partner_of,
    row_gear,
    selector_shaft,
    shaft_after,
    tie_gear,
    train_of,
)
from mild_badger.core.vehicle.box import gear_key, second_key
from mild_badger.core.vehicle.cache_key import ThisVehicle


@pytest.mark.parametrize("column", [1, 12])
def test_shafts_of_columns_are_told_from_those_of_trains(column: int) -> None:
    assert column_shaft(input_shaft(column)) == ("input", column)
    assert column_shaft(selector_shaft(column)) == ("selector", column)
    key = gear_key("input")
    for other in (shaft_after(key, "2"), idler_shaft(key, "2", 0), row_gear(1), tie_gear(1)):
        assert column_shaft(other) is None


@pytest.mark.parametrize("gear", ["3", "R", "lo-3", "idler"])
def test_gears_and_shafts_are_known_by_train_and_pair(gear: str) -> None:
    for key in (gear_key(gear), second_key(gear)):
        driver, idler, driven = (gear_body(key, "7", r) for r in ("driver", "idler0", "driven"))
        assert {pair_of(body) for body in (driver, idler, driven)} == {pair_of(driver)}
        assert pair_of(gear_body(key, "17", "driver")) != pair_of(driver)
        assert partner_of(driver) == driven
        assert [is_driver(body) for body in (driver, idler, driven)] == [True, False, False]
        shafts = shaft_after(key, "7"), idler_shaft(key, "7", 1)
        assert [is_idler_shaft(shaft) for shaft in shafts] == [False, True]
        assert {train_of(body) for body in (driver, idler, driven, *shafts)} == {key}
    assert gear_key(gear) != second_key(gear)


def test_a_vehicle_is_known_as_the_very_same_object() -> None:
    one, other = example_vehicle(), example_vehicle().model_copy(update={"notes": "another"})
    assert ThisVehicle(one) == ThisVehicle(one)
    assert len({ThisVehicle(one), ThisVehicle(one), ThisVehicle(other)}) == 2
    assert ThisVehicle(one) != ThisVehicle(one.model_copy())
