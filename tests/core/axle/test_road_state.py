"""Turns, held and lifted wheels, the lock: wheel speeds by hand."""

from fractions import Fraction
from math import hypot

import pytest

from examples import example_vehicle
from mild_badger.core.axle.road_state import (
    HeldWheel,
    LiftedWheel,
    Road,
    Straight,
    Turn,
    tyre_paths,
    wheel_path,
)
from mild_badger.core.errors import InputError
from mild_badger.core.evaluate import Evaluation, evaluate
from mild_badger.core.results import AxleResult
from mild_badger.core.situation import Situation
from mild_badger.core.vehicle.model import Vehicle
from telling import refuses


def on(road: Road, *, locked: bool = False, kind: str = "open", gear: str = "3") -> Evaluation:
    bus = example_vehicle()
    differential = bus.differential.model_copy(update={"kind": kind})
    vehicle = bus.model_copy(update={"differential": differential})
    return evaluate(vehicle, Situation(gear=gear, road=road, locked=locked))


def shares(axle: AxleResult) -> tuple[float | None, float | None]:
    left, right = axle.left_share, axle.right_share
    return (None if left is None else float(left), None if right is None else float(right))


def wide_track() -> Vehicle:
    bus = example_vehicle()
    return bus.model_copy(update={"axle": bus.axle.model_copy(update={"track_mm": 1500.0})})


def test_cornering_by_hand() -> None:
    # radius 10 m, track 1.5 m: wheels at 0.925 and 1.075 of the carrier (ω in proportion R ∓ t/2)
    found = evaluate(wide_track(), Situation(road=Turn(10_000, "left"))).axle
    assert (found.left_share, found.right_share) == (Fraction(37, 40), Fraction(43, 40))
    other = evaluate(wide_track(), Situation(road=Turn(10_000, "right"))).axle
    assert (other.left_share, other.right_share) == (Fraction(43, 40), Fraction(37, 40))
    assert found.paths is not None
    assert found.paths.difference_percent == pytest.approx(15)
    assert found.paths.slide_each_percent == 0


def test_straight_ahead_and_held_and_lifted() -> None:
    assert on(Straight()).axle.left_share == 1
    held = on(HeldWheel("left")).axle
    assert shares(held) == (0, 2)
    assert held.right_rpm == pytest.approx(2 * (held.housing_rpm or 0))
    lifted = on(LiftedWheel("right")).axle
    assert shares(lifted) == (0, 2)  # the grounded wheel stands


def test_the_lock_and_the_solid_axle() -> None:
    for found in (on(Turn(720), locked=True), on(Turn(720), kind="locked")):
        assert shares(found.axle) == (1, 1)
        assert found.axle.paths is not None
        # track 144, radius 720: the paths differ by t/R = 20 %, each tyre slides half of it
        assert found.axle.paths.slide_each_percent == pytest.approx(10)
        assert "tyres-slide" in [f.code for f in found.findings]
    lifted = on(LiftedWheel("left"), locked=True).axle
    assert shares(lifted) == (1, 1)
    stalled = on(HeldWheel("right"), locked=True)
    assert stalled.axle.stalls
    assert "axle-stalls" in [f.code for f in stalled.findings]
    assert stalled.stations[-1].figure == "stands"


def test_a_turn_about_one_wheel_leaves_it_standing() -> None:
    # radius of half the track: the inner wheel is the centre of the turn
    for towards, expected in (("left", (0.0, 2.0)), ("right", (2.0, 0.0))):
        found = on(Turn(72, towards))  # type: ignore[arg-type]
        assert shares(found.axle) == expected
        assert not found.axle.stalls


def test_a_turn_inside_the_track_rolls_one_wheel_back() -> None:
    found = on(Turn(36))
    assert found.axle.left_share == -1  # (36 − 72) / 36
    assert "turn-inside-track" in [f.code for f in found.findings]


@pytest.mark.parametrize("radius", [0, -5, float("nan"), 1e9])
def test_a_radius_that_cannot_be_driven(radius: float) -> None:
    with refuses(InputError, "axle.turn-radius-cannot-be-driven-choose-more"):
        Turn(radius)


def test_tyre_paths_over_a_circle() -> None:
    paths = tyre_paths(example_vehicle(), Turn(450), locked=False)
    assert (paths.inner_radius_mm, paths.outer_radius_mm) == (378, 522)
    assert paths.per_circle_mm == pytest.approx(2 * 3.14159265 * 144)


def test_a_wheels_way_keeps_its_distance_from_the_centre() -> None:
    bus = example_vehicle()
    for road, centre in (
        (Turn(450, "left"), -450),
        (Turn(450, "right"), 450),
        (HeldWheel("left"), -72),
    ):
        for side, start in (("left", -72), ("right", 72)):
            points = wheel_path(bus, road, side)  # type: ignore[arg-type]
            assert points[0] == pytest.approx((start, 0))
            assert {round(hypot(x - centre, y), 6) for x, y in points} == {abs(start - centre)}
            assert points[-1][1] >= 0
    assert wheel_path(bus, Straight(), "right") == ((72, 0), (72, 288))
