"""Both schools of ratios, and speeds checked by hand."""

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from examples import example_vehicle
from mild_badger.core.errors import InputError
from mild_badger.core.performance.chart import speed_lines
from mild_badger.core.targets.schools import (
    RatioConvention,
    format_ratio,
    parse_exact,
    parse_ratio,
)
from mild_badger.core.targets.speeds import (
    deviation_percent,
    full_size_speed_mm_s,
    real_speed_mm_s,
    scaled_diameter_mm,
    signed_error_percent,
    spread,
    steps,
)
from mild_badger.core.units import exact, km_per_hour, rim_speed_mm_s
from mild_badger.core.vehicle.model import Scale
from telling import refuses


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("3.45", "3.45"),
        (" 3,45 ", "3.45"),
        ("12/5", "2.4"),
        ("12:5", "2.4"),
        (".5", "0.5"),
        ("4.", "4"),
        ("1 200", "1200"),
        ("−2", "-2"),
        ("1 1/2", "1.5"),
        ("−2 3/4", "-2.75"),
    ],
)
def test_numbers_are_read_exactly(text: str, value: str) -> None:
    assert parse_exact(text, what="x") == Fraction(value)


@pytest.mark.parametrize("text", ["", "four", "1e9", "nan", "inf", "3..4", "1/0", "9" * 50, "٣"])
def test_what_is_no_number_is_refused(text: str) -> None:
    with refuses(InputError, "drivetrain.gear", gear="3"):
        parse_exact(text, what="Gear 3")


def test_the_two_schools_write_the_same_gear() -> None:
    assert parse_ratio("4", RatioConvention.TURNS_IN) == 4.0
    assert parse_ratio("0.25", RatioConvention.TURNS_OUT) == 4.0
    assert format_ratio(Fraction(25, 12), RatioConvention.TURNS_IN) == "2.083"
    assert format_ratio(Fraction(-25, 12), RatioConvention.TURNS_OUT) == "−0.480"
    for bad in ("0", "-3"):
        with refuses(InputError, "targets.must-be-greater-than-zero-direction-is-set"):
            parse_ratio(bad, RatioConvention.TURNS_IN)


@given(st.floats(0.05, 50))
def test_changing_school_twice_changes_nothing(ratio: float) -> None:
    school = RatioConvention.TURNS_OUT
    assert school.convert(school.convert(ratio)) == pytest.approx(ratio)


def test_a_typed_decimal_is_meant_exactly() -> None:
    assert exact(0.1) == Fraction(1, 10)
    assert exact(1.4) == Fraction(7, 5)


@pytest.mark.parametrize(
    ("n", "geometric", "froude"),
    [(10, 10.0, 31.6228), (14, 7.1429, 26.7261), (24, 4.1667, 20.4124)],
)
def test_scale_speeds(n: float, geometric: float, froude: float) -> None:
    # similarity mechanics (Froude; Buckingham): what 100 km/h is at 1:n
    for school, value in (("geometric", geometric), ("froude", froude)):
        scale = Scale.model_validate({"denominator": n, "speed_school": school})
        assert km_per_hour(full_size_speed_mm_s(value / 0.0036, scale)) == pytest.approx(
            100, rel=1e-5
        )


def test_a_wheel_by_hand() -> None:
    # wheel 60 mm at 300 rpm: 0.942478 m/s; at 1:14 looks like 47.5009 or 12.6951 km/h
    speed = rim_speed_mm_s(rpm=300, diameter_mm=60)
    assert speed == pytest.approx(942.478, abs=5e-4)
    assert km_per_hour(full_size_speed_mm_s(speed, Scale(denominator=14))) == pytest.approx(
        47.5009, abs=5e-5
    )
    froude = Scale(denominator=14, speed_school="froude")
    assert km_per_hour(full_size_speed_mm_s(speed, froude)) == pytest.approx(12.6951, abs=5e-5)


def test_the_bus_by_hand() -> None:
    bus = example_vehicle().real
    # sixth at the limit: π · 0.92 m · 2900/60 / (0.78 · 6.2) = 28.89 m/s = 104.0 km/h
    assert km_per_hour(real_speed_mm_s(bus, 0.78, 2900)) == pytest.approx(103.99, abs=0.01)
    assert spread(bus) == pytest.approx(6.1 / 0.78)
    assert steps(bus) == pytest.approx([6.1 / 3.4, 3.4 / 2.1, 1.5, 1.4, 1 / 0.78])


def test_the_wanted_line_of_the_chart_by_hand() -> None:
    bus = example_vehicle()
    line = speed_lines(bus, {"6": 0.2, "R": None})[5]
    # 4200 rpm over 0.78 · 6.2 on wheels of 68 mm: 868.486 rpm, 3.0922 m/s
    assert line.wanted_m_s == pytest.approx(3.0922, abs=1e-4)
    assert line.model_m_s == pytest.approx(4200 * 0.2 / 60 * 3.14159265 * 0.068, rel=1e-8)
    assert speed_lines(bus, {"R": None})[6].model_m_s is None


def test_errors_weigh_short_and_long_alike() -> None:
    # domain: 100·(r/(k·t) − 1); its size by e^|ln|, so +25 % and −20 % are alike
    assert signed_error_percent(-2.5, 2.0) == pytest.approx(25.0)
    assert signed_error_percent(2.2, 2.0, 1.1) == pytest.approx(0.0)
    assert deviation_percent(25.0) == pytest.approx(25.0)
    assert deviation_percent(-20.0) == pytest.approx(25.0)
    assert deviation_percent(0.0) == 0.0
    bus = example_vehicle()
    assert scaled_diameter_mm(bus.real, Scale(denominator=10)) == pytest.approx(92.0)


def test_an_error_follows_the_way_ratios_are_written() -> None:
    """Twelve to thirty-nine against 0.312: exact by hand."""
    turns_in = 100 * ((1 / 0.320) / (1 / 0.312) - 1)
    assert RatioConvention.TURNS_IN.error_percent(turns_in) == turns_in
    shown = RatioConvention.TURNS_OUT.error_percent(turns_in)
    assert shown == pytest.approx(100 * (0.320 / 0.312 - 1))
    assert round(turns_in, 2) == -2.5
    assert round(shown, 2) == 2.56
    for percent in (-40.0, -2.5, 0.0, 2.5, 80.0):
        there = RatioConvention.TURNS_OUT.error_percent(percent)
        assert RatioConvention.TURNS_OUT.error_percent(there) == pytest.approx(percent)
        assert percent * there <= 0
    assert RatioConvention.TURNS_OUT.error_percent(-100) == -100
