"""Stability against shapely and rotated vectors, equilibrium of the feet, and hand-made cases."""

from math import inf

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError
from scipy.spatial.transform import Rotation
from shapely import Point, Polygon

from mild_badger.core.mechanisms.balance.model import Balance, Mass
from mild_badger.core.mechanisms.balance.statics import (
    SlopedGround,
    ballast_window,
    ground_under,
    load_chart,
    on_ring,
    standing,
    worst,
)
from mild_badger.core.mechanisms.bearings.loads import BearingLoad, bearing_loads, judge_bearing
from mild_badger.core.mechanisms.crane.model import Carried
from mild_badger.core.units import GRAVITY_M_S2
from telling import Told, refuses, tells, told

small = st.floats(-150, 150)
masses = st.lists(
    st.builds(
        Mass,
        name=st.just("m"),
        mass_kg=st.floats(0.01, 2),
        x_mm=small,
        y_mm=small,
        z_mm=st.floats(0, 300),
        on=st.sampled_from(["chassis", "turntable", "carriage", "counterweight"]),
    ),
    min_size=1,
    max_size=5,
).map(lambda found: tuple(m.model_copy(update={"name": f"m{n}"}) for n, m in enumerate(found)))
balances = st.builds(
    Balance,
    masses=masses,
    load_kg=st.floats(0, 2),
    slope_along_deg=st.floats(-8, 8),
    slope_across_deg=st.floats(-8, 8),
    foot_travel_mm=st.floats(0, 20),
    weight_share=st.floats(-1, 1),
)


def ground(balance: Balance) -> SlopedGround:
    return ground_under(balance, wheelbase_mm=200, track_mm=100)


@settings(max_examples=120, deadline=None)
@given(balances, st.floats(0, 360), st.floats(60, 260), st.booleans())
def test_the_margin_is_the_distance_of_the_fallen_centre_from_the_polygon(
    balance: Balance, slew: float, reach: float, loaded: bool
) -> None:
    on = ground(balance)
    found = standing(
        balance, on, balance.weight_share, slew_deg=slew, reach_mm=reach, loaded=loaded
    )
    turn = Rotation.from_euler("z", slew, degrees=True)
    behind = balance.weight_at_mm + balance.weight_share * (reach - balance.reach_low_mm)
    start = {"chassis": 0.0, "turntable": 0.0, "carriage": reach, "counterweight": -behind}
    points = [
        (m.mass_kg, np.array([m.x_mm + start[m.on], m.y_mm, m.z_mm]), m.on != "chassis")
        for m in balance.masses
    ]
    if loaded:
        points.append((balance.load_kg, np.array([reach, 0.0, balance.boom_mm]), True))
    total = sum(m for m, _, _ in points)
    moved = [m * (turn.apply(p) if rides else p) for m, p, rides in points]
    centre = np.sum(np.array(moved), axis=0) / total
    down = np.array([-on.along, -on.across, -1.0])  # along gravity, as the frame sees it
    foot = centre + down * centre[2]
    corners = [on.corners[n] for n in (0, 1, 3, 2)]
    polygon = Polygon(corners)
    assert list(found.centre) == pytest.approx(list(foot[:2]), abs=1e-6)
    inside = polygon.contains(Point(foot[:2]))
    assert (found.margin_mm > 0) == inside or abs(found.margin_mm) < 1e-6
    if inside:
        assert found.margin_mm == pytest.approx(polygon.exterior.distance(Point(foot[:2])))
        assert found.factor > 1 - 1e-9
    assert found.weight_n == pytest.approx(total * GRAVITY_M_S2)


@settings(max_examples=80, deadline=None)
@given(balances, st.floats(0, 360), st.floats(60, 260))
def test_the_feet_bear_the_weight_in_balance(balance: Balance, slew: float, reach: float) -> None:
    on = ground(balance)
    found = standing(balance, on, 0.5, slew_deg=slew, reach_mm=reach, loaded=True)
    assert min(found.feet_n) >= 0
    if found.margin_mm > 1e-3:
        forces = np.array(found.feet_n)
        assert forces.sum() == pytest.approx(found.weight_n)
        assert forces @ np.array(on.corners) / forces.sum() == pytest.approx(
            np.array(found.centre), abs=1e-6
        )


def simple(**more: object) -> Balance:
    return Balance(
        masses=(Mass(name="all", mass_kg=2.0, z_mm=0),),
        load_kg=0.5,
        feet_ahead_mm=100,
        feet_behind_mm=100,
        feet_apart_mm=200,
        reach_low_mm=50,
        reach_high_mm=300,
        reach_mm=300,
    ).model_copy(update=more)


def test_a_load_at_the_end_of_a_boom_by_the_law_of_the_lever() -> None:
    """2 kg stand 100 mm inside the edge, 0.5 kg hang 200 mm outside: 200 against 100."""
    found = standing(simple(), ground(simple()), 0.0, slew_deg=0, reach_mm=300, loaded=True)
    assert found.factor == pytest.approx(2.0)
    assert found.edge == "front"
    chart = load_chart(simple(), ground(simple()), 0.0)
    assert chart.tips_kg[-1] == pytest.approx(1.0)
    assert chart.allowed_kg[-1] == pytest.approx(1 / 1.4)
    assert chart.tips_kg[0] == inf  # it hangs between the feet all round
    diagonal = standing(simple(), ground(simple()), 0.0, slew_deg=45, reach_mm=300, loaded=True)
    assert diagonal.factor > found.factor


@settings(max_examples=40, deadline=None)
@given(balances)
def test_what_the_chart_allows_stands_and_no_more(balance: Balance) -> None:
    on = ground(balance)
    chart = load_chart(balance, on, 0.5)
    for number, reach in enumerate(chart.reach_mm):
        for allowed, factor in (
            (chart.allowed_kg[number], balance.least_factor),
            (chart.tips_kg[number], 1.0),
        ):
            if not 1e-3 < allowed < 900:
                continue
            looked = [
                standing(
                    balance.model_copy(update={"load_kg": allowed}),
                    on,
                    0.5,
                    slew_deg=5.0 * n,
                    reach_mm=reach,
                    loaded=True,
                ).factor
                for n in range(72)
            ]
            assert min(looked) == pytest.approx(factor, rel=1e-6)
        if number > 2:
            break


def test_ballast_holds_the_load_and_not_more_than_it_stands_without() -> None:
    light = simple(
        masses=(
            Mass(name="all", mass_kg=0.6, z_mm=0),
            Mass(name="weight", mass_kg=0.1, on="counterweight", z_mm=0),
        ),
        weight_at_mm=150.0,
    )
    on = ground(light)
    window = ballast_window(light, on, 0.0)
    assert window is not None
    low, high = window
    for kg, loaded in ((low, True), (high, False)):
        put = light.model_copy(
            update={"masses": (light.masses[0], light.masses[1].model_copy(update={"mass_kg": kg}))}
        )
        assert worst(put, on, 0.0, loaded=loaded).factor == pytest.approx(1.4, rel=1e-6)
    # by hand: (0.6 · 100 + m · 250) / (0.5 · 200) = 1.4; 0.6 · 100 / (m · 50) = 1.4
    assert low == pytest.approx((140 - 60) / 250)
    assert high == pytest.approx(60 / 70)
    assert ballast_window(light.model_copy(update={"load_kg": 50.0}), on, 0.0) is None


@settings(max_examples=60, deadline=None)
@given(balances, st.integers(0, 7), st.integers(0, 3), st.booleans())
def test_no_position_stands_less_well_than_the_worst(
    balance: Balance, way: int, along: int, loaded: bool
) -> None:
    on = ground(balance)
    least = worst(balance, on, balance.weight_share, loaded=loaded)
    reach = balance.reach_low_mm + (balance.reach_high_mm - balance.reach_low_mm) * along / 3
    found = standing(
        balance, on, balance.weight_share, slew_deg=45.0 * way, reach_mm=reach, loaded=loaded
    )
    if least.margin_mm < 0:
        assert found.margin_mm >= least.margin_mm - 1e-6
    else:
        assert found.factor >= least.factor * (1 - 1e-9)


def test_feet_level_as_far_as_they_go_and_wheels_do_not() -> None:
    sloped = simple(slope_along_deg=2.0, foot_travel_mm=20.0)
    level = ground(sloped)
    assert level.tilt_deg == 0
    assert level.let_down == pytest.approx(200 * np.tan(np.radians(2)))
    short = ground(simple(slope_along_deg=2.0, foot_travel_mm=3.0))
    assert short.let_down == 3.0
    assert short.wanted == pytest.approx(level.let_down)
    assert 0 < short.tilt_deg < 2
    wheels = ground(simple(stands="wheels", slope_across_deg=3.0))
    assert wheels.tilt_deg == pytest.approx(3.0)
    assert (wheels.front, wheels.rear, wheels.half) == (140, -60, 50)


def test_a_ring_lifts_where_the_weight_falls_beyond_half_of_it() -> None:
    """The two-point model: W/2 ± M/D, so it lifts where M/W passes D/2."""
    alone = Balance(masses=(), load_kg=1.0, reach_mm=100.0)
    just = on_ring(alone, 0.0, 200.0, loaded=True)
    assert just.lifts_n == pytest.approx(0, abs=1e-9)
    assert just.presses_n == pytest.approx(GRAVITY_M_S2)
    narrow = on_ring(alone, 0.0, 50.0, loaded=True)
    assert narrow.lifts_n == pytest.approx(GRAVITY_M_S2 * 1.5)
    assert on_ring(alone, 0.0, 50.0, loaded=False).presses_n == 0


def test_bearings_of_a_beam_on_two_supports() -> None:
    """Simple beam: a quarter along shares 3 : 1; overhung by half a span 3/2 and 1/2."""
    first, second = bearing_loads(
        Carried(span_mm=40, load_at_mm=10, gear_at_mm=0), load_n=8, gear_n=0, rpm=-60
    )
    assert (first.load_n, second.load_n, first.rpm) == (6, 2, 60)
    first, second = bearing_loads(
        Carried(span_mm=40, load_at_mm=0, gear_at_mm=-20), load_n=0, gear_n=10, rpm=60
    )
    assert (first.load_n, second.load_n) == (15, 5)


def test_a_ball_bearing_rubs_as_its_makers_reckon() -> None:
    """M = 0.5 μ P d with μ = 0.0015 for deep groove balls (bearing makers' handbooks)."""
    load = BearingLoad("here", 100.0, 8.0, 4.0, 300.0)
    assert load.friction_n_mm("metal") == pytest.approx(0.5 * 0.0015 * 100 * 8)
    assert load.pressure == pytest.approx(100 / 32)
    assert tells(judge_bearing(load, "brick", 1e6).why, "bearings.n-mm-on-it-it-stands")
    light = BearingLoad("here", 1.0, 8.0, 4.0, 6000.0)
    assert tells(judge_bearing(light, "wood", 1e6).why, "bearings.it-rubs-at-are-enough")
    slow = BearingLoad("here", 1.0, 8.0, 4.0, 60.0)
    assert tells(judge_bearing(slow, "wood", 2.0).why, "bearings.it-takes-of-the-torque-are-enough")
    assert judge_bearing(slow, "wood", 20.0).serves


@pytest.mark.parametrize(
    ("more", "words"),
    [
        ({"feet_ahead_mm": -90}, told("balance.the-front-feet-must-stand-ahead-of-the-rear")),
        (
            {"masses": [{"name": "a", "mass_kg": 1}, {"name": "a", "mass_kg": 1}]},
            told("balance.two-masses-are-called"),
        ),
    ],
)
def test_what_cannot_stand_is_refused(more: dict[str, object], words: Told) -> None:
    with refuses(ValidationError, words):
        Balance.model_validate(more)
