"""Other diameters of shafts: stiffness by the fourth power, bearings by the builder's prices."""

import pytest

from examples import example_vehicle
from mild_badger.core.layout.diameters import diameter_choices
from mild_badger.core.layout.shaft_deflection import separations
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.vehicle.kit import Bearing
from mild_badger.core.vehicle.model import Vehicle

TRACTOR = example_vehicle("larkholm-timber-tractor")


def priced() -> Vehicle:
    bearings = (
        Bearing(name="six", bore_mm=6.0, outer_mm=13.0, width_mm=5.0, price=1.5),
        Bearing(name="eight", bore_mm=8.0, outer_mm=16.0, width_mm=5.0, price=2.0),
        Bearing(name="eight dear", bore_mm=8.0, outer_mm=22.0, width_mm=7.0, price=3.0),
        Bearing(name="ten", bore_mm=10.0, outer_mm=19.0, width_mm=5.0),
    )
    return TRACTOR.model_copy(update={"kit": TRACTOR.kit.model_copy(update={"bearings": bearings})})


def test_a_shaft_twice_as_thick_gives_a_sixteenth() -> None:
    """I = π d⁴ / 64: from 8 to 10 mm what is pushed apart falls by (10/8)⁴ = 2.4414."""
    vehicle = priced()
    stack = stack_for(vehicle)
    assert stack is not None
    six, eight, ten = diameter_choices(vehicle, stack)
    assert [c.diameter_mm for c in (six, eight, ten)] == [6.0, 8.0, 10.0]
    assert [c.taken for c in (six, eight, ten)] == [False, True, False]
    worst = max(row.apart_mm for row in separations(vehicle, stack))
    assert eight.apart_mm == pytest.approx(worst)
    assert eight.apart_mm / ten.apart_mm == pytest.approx(2.44140625)
    assert ten.held / eight.held == pytest.approx(2.44140625)
    assert six.held < eight.held
    assert (eight.held < 1) == any(row.skips for row in separations(vehicle, stack))


def test_a_kit_with_that_diameter_gives_what_was_told() -> None:
    """The box on thicker shafts, worked out anew: hub and sleeves grow a little with them."""
    vehicle = priced()
    stack = stack_for(vehicle)
    assert stack is not None
    ten = diameter_choices(vehicle, stack)[2]
    kit = vehicle.kit.model_copy(update={"shaft_diameter_mm": 10.0})
    anew = separations(vehicle.model_copy(update={"kit": kit}), stack)
    assert max(row.apart_mm for row in anew) == pytest.approx(ten.apart_mm, rel=0.05)


def test_bearings_cost_the_cheapest_of_the_bore_for_every_seat() -> None:
    vehicle = priced()
    stack = stack_for(vehicle)
    assert stack is not None
    six, eight, ten = diameter_choices(vehicle, stack)
    assert six.price == pytest.approx(1.5 * six.seats)
    assert eight.price == pytest.approx(2.0 * eight.seats)
    assert ten.price is None
    assert eight.seats == sum(len(set(r.walls) & set(stack.walls)) for r in stack.rods.values())
