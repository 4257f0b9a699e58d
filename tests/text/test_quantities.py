"""Quantities read and shown; factors against NIST SP 811 and SciPy's constants."""

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import constants

from mild_badger.core.errors import InputError
from mild_badger.core.units import KINDS, Kind
from mild_badger.text.quantities import (
    parse_quantity,
    quantity_text,
    unit_called,
    units_of,
)
from telling import refuses


def length(text: str, shown: str = "", grid: float | None = 8.0) -> Fraction:
    return parse_quantity(text, "length", what="Shaft", shown=shown, grid_unit_mm=grid)


@pytest.mark.parametrize(
    ("text", "mm"),
    [
        ('3/8"', "9.525"),
        ("3/8 in", "9.525"),
        ("1 1/2 in", "38.1"),
        ("1-1/2in", "38.1"),
        ("1½ in", "38.1"),
        ("2.375in", "60.325"),
        ("2 3/8in", "60.325"),
        ("60 mm", "60"),
        ("6 cm", "60"),
        ("7.5 u", "60"),
        ("1 ft 2 in", "355.6"),
        ("1' 2 1/2\"", "368.3"),
        ("0,5 m", "500"),
        ("60", "60"),
        ("6,5", "6.5"),
        ("0,375", "0.375"),
        (".5", "0.5"),
        ("4.", "4"),
        ("1 200", "1200"),
        ("−3/4 in", "-19.05"),
        ("60 Millimeters", "60"),
        ("3 Inches", "76.2"),
    ],
)
def test_lengths_are_read_in_any_unit(text: str, mm: str) -> None:
    assert length(text) == Fraction(mm)


def test_a_bare_number_is_in_the_unit_that_is_shown() -> None:
    assert length("1 1/2", "in") == Fraction("38.1")
    assert length("3/8", "in") == Fraction("9.525")
    assert length("2", "cm") == 20
    assert length("7.5", "u") == 60
    assert length("60 mm", "in") == 60


@pytest.mark.parametrize("text", ["3/8", "1 1/2", "½"])
def test_a_bare_fraction_in_a_metric_field_is_asked_about(text: str) -> None:
    for shown in ("mm", "cm", "m"):
        with refuses(InputError, "text.of-an-inch-type-in-if-you-mean-type"):
            length(text, shown)


@pytest.mark.parametrize(
    "text",
    [
        "",
        "four",
        "1/0 in",
        "3 kg",
        "60 mmm",
        "1 in in",
        "1 ft 2",
        "1,200",
        "1,200 mm",
        "9" * 70,
        "٣ mm",
        "+",
        "in",
    ],
)
def test_what_is_no_length_is_refused(text: str) -> None:
    with refuses(InputError, "vehicle.shaft"):
        length(text)


def test_units_of_the_grid_need_a_grid() -> None:
    with refuses(InputError, "text.is-no-unit-of-here-use", known="mm, cm, m, in or ft"):
        length("7.5 u", grid=None)
    assert [u.symbol for u in units_of("length")] == ["mm", "cm", "m", "in", "ft"]
    assert units_of("length", grid=True)[-1].symbol == "u"


@pytest.mark.parametrize(
    ("kind", "unit", "in_base"),
    [
        # NIST SP 811, appendix B.8 (from memory, seven digits), in mm, kg, N, N·mm and m/s
        ("length", "in", 25.4),
        ("length", "ft", 304.8),
        ("mass", "lb", 0.45359237),
        ("mass", "oz", 0.02834952),
        ("force", "kgf", 9.80665),
        ("force", "lbf", 4.448222),
        ("torque", "kg·cm", 98.0665),
        ("torque", "in·lb", 112.9848),
        ("torque", "oz·in", 7.061552),
        ("speed", "mph", 0.44704),
        ("speed", "km/h", 0.2777778),
        # and against SciPy's constants
        ("length", "in", constants.inch * 1000),
        ("length", "ft", constants.foot * 1000),
        ("mass", "lb", constants.pound),
        ("mass", "oz", constants.oz),
        ("force", "lbf", constants.lbf),
        ("force", "kgf", constants.kgf),
        ("speed", "mph", constants.mph),
        ("speed", "km/h", constants.kmh),
    ],
)
def test_factors_are_those_of_the_published_tables(kind: Kind, unit: str, in_base: float) -> None:
    assert float(parse_quantity(f"1 {unit}", kind, what="x")) == pytest.approx(in_base, rel=5e-7)


def test_torques_are_typed_as_data_sheets_write_them() -> None:
    for text in ("2 N·cm", "2 Ncm", "20 N mm", "0.02 Nm"):
        assert parse_quantity(text, "torque", what="x") == 20
    with refuses(InputError, "text.is-no-unit-of-here-use", kind="torque"):
        parse_quantity("3 mm", "torque", what="x")


@pytest.mark.parametrize("kind", KINDS)
def test_every_unit_is_found_by_every_way_to_type_it(kind: Kind) -> None:
    for unit in KINDS[kind]:
        for word in (unit.symbol, *unit.also):
            assert unit_called(kind, word) == unit
            if unit.size is not None:
                assert parse_quantity(f"2 {word}", kind, what="x") == 2 * unit.size
    assert unit_called(kind, "nothing") is None


ALL = [(kind, unit.symbol) for kind, units in KINDS.items() for unit in units]


@given(
    st.sampled_from(ALL),
    st.fractions(min_value=-10_000, max_value=10_000, max_denominator=10_000),
    st.sampled_from([0, 16, 32, 64]),
)
def test_what_is_shown_is_read_as_what_is_shown(
    named: tuple[Kind, str], value: Fraction, parts: int
) -> None:
    kind, unit = named
    text = quantity_text(float(value), kind, unit=unit, parts=parts, grid_unit_mm=8.0)
    read = parse_quantity(f"{text} {unit}", kind, what="x", grid_unit_mm=8.0)
    assert quantity_text(read, kind, unit=unit, parts=parts, grid_unit_mm=8.0) == text


@given(st.integers(0, 400), st.integers(1, 63), st.sampled_from([2, 4, 8, 16, 32, 64]))
def test_fractions_of_an_inch_come_back_as_they_were_typed(
    whole: int, top: int, bottom: int
) -> None:
    typed = Fraction(top, bottom)
    over = typed - typed.numerator // typed.denominator
    text = f"{whole} {over}" if whole and over else str(whole or over or 0)
    read = parse_quantity(f"{text} in", "length", what="x")
    assert quantity_text(read, "length", unit="in", parts=64) == text
