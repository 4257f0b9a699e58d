"""Figures in sentences: written in the units that are chosen, and taken apart by nobody else.

Factors are those of NIST SP 811, appendix B, by way of SciPy's constants.
"""

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import constants

from mild_badger.core.figures import (
    METRIC,
    MM,
    UnitChoice,
    bare,
    in_a_row,
    in_kg,
    in_km_h,
    in_m,
    in_m_s,
    in_mm,
    in_mm_s,
    in_module,
    in_n,
    in_n_mm,
    in_units,
    plain,
    ruler_mm,
    symbol_of,
    write,
)

INCH = UnitChoice("in", mass="lb", force="lbf", torque="oz·in", speed="mph")
PARTS = UnitChoice("in", 32)
GRID = UnitChoice("u", grid_unit_mm=8.0)


@pytest.mark.parametrize(
    ("figure", "metric", "inch"),
    [
        (in_mm(12.3, 1), "12.3 mm", "0.484 in"),
        (in_mm(9.525), "9.525 mm", "0.375 in"),
        (in_mm(-0.04, 2), "−0.04 mm", "−0.0016 in"),
        (in_mm(-0.001, 2), "0.00 mm", "0.0000 in"),
        (in_mm(0.5, 2, sign=True), "+0.50 mm", "+0.0197 in"),
        (in_mm(1234.5, significant=3), "1230 mm", "48.43 in"),
        (in_m(2.0, 2), "2.00 m", "6.56 ft"),
        (in_kg(1.5), "1.5 kg", "3.31 lb"),
        (in_n(10, 1), "10.0 N", "2.25 lbf"),
        (in_n_mm(100, 0), "100 N·mm", "14.2 oz·in"),
        (in_km_h(50, 0), "50 km/h", "31.1 mph"),
        (in_m_s(0.5, 2), "0.50 m/s", "1.12 mph"),
        (in_mm_s(50.8, 1), "50.8 mm/s", "2.000 in/s"),
        (in_module(2.54), "2.54 mm module", "10 DP"),
    ],
)
def test_a_figure_is_written_in_the_units_chosen(figure: str, metric: str, inch: str) -> None:
    sentence = f"It is {figure} long."
    assert plain(sentence) == write(sentence, METRIC) == f"It is {metric} long."
    assert write(sentence, INCH) == f"It is {inch} long."


@pytest.mark.parametrize(
    ("mm", "digits", "words"),
    [
        (9.525, None, "3/8 in"),
        (38.1, 1, "1 1/2 in"),
        (100.0, 0, "3 15/16 in"),
        (25.4, 2, "1 in"),
        (0.3, 2, "0.0118 in"),  # a clearance is no thirty-second
        (9.0, None, "0.354 in"),  # what was typed is not made rounder than it is
    ],
)
def test_lengths_are_written_as_fractions_where_they_are_near_some(
    mm: float, digits: int | None, words: str
) -> None:
    assert write(in_mm(mm, digits), PARTS) == words


def test_units_stand_once_where_a_column_or_a_row_names_them() -> None:
    assert write(f"face {MM}", INCH) == "face in"
    assert write(bare(in_mm(25.4, 1)), INCH) == "1.000"
    assert plain(bare(in_mm(25.4, 1))) == "25.4"
    row = in_a_row(in_mm(mm) for mm in (8.0, 16.0))
    assert plain(row) == "8, 16 mm"
    assert write(row, GRID) == "1, 2 u"
    assert in_a_row([]) == ""
    assert symbol_of("mm", INCH) == "in"
    assert symbol_of("m", INCH) == "ft"
    assert symbol_of("rpm", INCH) == "rpm"


def test_a_scale_is_converted_as_a_figure_is() -> None:
    assert in_units(1.0, "m/s", INCH) == pytest.approx(1 / constants.mph)
    assert in_units(1.0, "N·mm", INCH) == pytest.approx(
        1e-3 / (constants.lbf / 16 * constants.inch)
    )
    assert in_units(3.0, "rpm", INCH) == 3.0


@given(st.floats(0.01, 5000), st.integers(0, 3), st.sampled_from([0, 16, 32, 64]))
def test_what_is_written_is_the_value_to_its_last_figure(
    mm: float, digits: int, parts: int
) -> None:
    words = write(in_mm(mm, digits), UnitChoice("in", parts))  # type: ignore[arg-type]
    number = words.removesuffix(" in")
    inches = sum(Fraction(part) for part in number.split())
    error = abs(float(inches) * 25.4 - mm)
    # rounded in millimetres first; then a fraction may be off by 2 % or by half the last digit
    half = 0.5 * 10**-digits
    room = max(0.02 * (mm + half), half) if "/" in number or parts else 0.6 * half
    assert error <= half + room + 1e-9
    assert "\u2063" not in words


@given(st.text(max_size=40))
def test_a_text_without_figures_stays_as_it_is(text: str) -> None:
    clean = "".join(c for c in text if c not in "\u2061\u2062\u2063\u2064")
    assert plain(clean) == clean
    assert write(clean, INCH).replace("−", "-") == clean.replace("−", "-")


@pytest.mark.parametrize(
    ("room_mm", "millimetres", "inches"),
    [(300.0, 100.0, 4.0), (101.0, 100.0, 2.0), (25.5, 20.0, 1.0), (4.0, 2.0, 0.125), (1, 2, 0.125)],
)
def test_rulers_are_round_in_the_units_they_are_read_in(
    room_mm: float, millimetres: float, inches: float
) -> None:
    assert ruler_mm(room_mm, METRIC) == millimetres
    assert ruler_mm(room_mm, UnitChoice(length="in")) == pytest.approx(
        1000 * constants.inch * inches
    )
