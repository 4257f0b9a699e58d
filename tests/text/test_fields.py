"""Fields take their quantity in any unit, and give it in their own."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from examples import example_vehicle
from mild_badger.core.errors import InputError
from mild_badger.core.figures import METRIC, UnitChoice
from mild_badger.core.kit.catalogue import shipped_kit
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.units import LengthUnit, UnitSettings
from mild_badger.text.fields import (
    field_text,
    field_unit,
    lengths_text,
    parse_field,
    parse_length,
    parse_lengths,
    parse_speed,
    remembered,
    typed_fraction,
)
from telling import refuses

BRICK, WOOD = shipped_kit("brick-grid"), shipped_kit("wood-shop")


@pytest.mark.parametrize(
    ("field", "text", "value"),
    [
        ("shaft_diameter_mm", "3/8 in", 9.525),
        ("shaft_diameter_mm", "6", 6.0),
        ("length_m", "6 ft", 1.8288),
        ("length_m", "2", 2.0),
        ("mass_kg", "500 g", 0.5),
        ("mass_kg", "1 lb", 0.45359237),
        ("stall_torque_n_mm", "2 kg·cm", 196.133),
        ("hand_n", "1 lbf", 4.4482216152605),
        ("bank_deg", "90°", 90.0),
        ("rated_v", "9", 9.0),
        ("planets", "2", 2.0),
        ("wide_u", "64 mm", 8.0),
        ("wide_u", "8", 8.0),
        ("diameter_mm", "5 u", 40.0),
    ],
)
def test_a_field_takes_any_unit_of_its_kind(field: str, text: str, value: float) -> None:
    assert parse_field(text, field, what="x", kit=BRICK) == pytest.approx(value, rel=1e-12)


@pytest.mark.parametrize(
    ("field", "text"),
    [
        ("shaft_diameter_mm", "3/8"),
        ("shaft_diameter_mm", "6 kg"),
        ("rated_v", "9 V"),
        ("mass_kg", ""),
    ],
)
def test_what_does_not_fit_is_refused(field: str, text: str) -> None:
    with refuses(InputError, "vehicle.shaft"):
        parse_field(text, field, what="Shaft", kit=WOOD)


def test_grid_units_are_for_kits_with_a_grid() -> None:
    assert parse_length("2 u", what="x", kit=BRICK) == 16.0
    assert parse_length("2", what="x", kit=BRICK, shown="u") == 16.0
    assert parse_length("1 in", what="x", kit=BRICK, shown="u") == pytest.approx(25.4)
    with refuses(InputError, "text.is-no-unit-of-here-use", kind="length"):
        parse_length("2 u", what="x", kit=WOOD)


@pytest.mark.parametrize(
    ("typed", "module"),
    # domain: 6, 8, 10, 12, 16, 24 DP are 4.233, 3.175, 2.54, 2.117, 1.588, 1.058 mm
    [("6 DP", 4.233), ("8dp", 3.175), ("10 DP", 2.54), ("12 DP", 2.117), ("24 DP", 1.058)],
)
def test_a_module_may_be_typed_as_a_diametral_pitch(typed: str, module: float) -> None:
    kit = shipped_kit("wood-shop-inch")
    value = parse_field(typed, "module_mm", what="Module", kit=kit)
    assert value == pytest.approx(module, abs=5e-4)
    with pytest.raises(InputError):
        parse_field(typed, "face_width_mm", what="Face width", kit=kit)
    with refuses(InputError, "text.a-diametral-pitch-is-more-than-0-type-one"):
        parse_field("0 DP", "module_mm", what="Module", kit=kit)


def test_the_inch_shop_s_sizes_are_whole_fractions_of_an_inch() -> None:
    kit = shipped_kit("wood-shop-inch")
    assert kit.made is not None
    for mm in (kit.shaft_diameter_mm, kit.made.face_width_mm, kit.grid_unit_mm):
        assert (mm / 25.4 * 16) == pytest.approx(round(mm / 25.4 * 16))
    assert 25.4 / kit.module_mm == pytest.approx(10)


INCH = UnitChoice("in", mass="lb", force="lbf", torque="oz·in", speed="mph")
CHOICES = [METRIC, INCH, UnitChoice("u", grid_unit_mm=8.0)]
CHOICES += [UnitChoice("in", parts) for parts in (16, 32, 64)]


@pytest.mark.parametrize(
    ("value", "field", "choice", "text", "unit"),
    [
        (9.525, "shaft_mm", UnitChoice("in", 16), "3/8", "in"),
        (9.525, "shaft_mm", INCH, "0.375", "in"),
        (120.0, "wheel_mm", INCH, "4.724", "in"),
        (26.9875, "wheel_mm", INCH, "1.0625", "in"),  # typed so: all its decimals stay
        (12.0, "shaft_mm", UnitChoice("u", grid_unit_mm=8.0), "1.5", "u"),
        (0.45359237, "mass_kg", INCH, "1", "lb"),
        (100.0, "stall_n_mm", INCH, "14.161", "oz·in"),
        (1.8288, "length_m", INCH, "6", "ft"),
        (2.5, "length_m", METRIC, "2.5", "m"),
        (9.0, "rated_v", INCH, "9", "V"),
        (8.0, "wide_u", INCH, "8", "grid units"),
        (-30.0, "ahead_mm", METRIC, "−30", "mm"),
    ],
)
def test_a_field_is_shown_in_the_unit_chosen(
    value: float, field: str, choice: UnitChoice, text: str, unit: str
) -> None:
    assert field_text(value, field, choice) == text
    assert field_unit(field, choice) == unit


@given(st.floats(0.001, 90_000), st.sampled_from(CHOICES))
@pytest.mark.parametrize("field", ["wheel_mm", "mass_kg", "hand_n", "stall_n_mm", "length_m"])
def test_what_is_shown_reads_back_as_it_is_shown(
    field: str, value: float, choice: UnitChoice
) -> None:
    text = field_text(value, field, choice)
    again = parse_field(text, field, what="x", kit=BRICK, choice=choice)
    assert field_text(again, field, choice) == text


@pytest.mark.parametrize("text", ["3/8", "1 1/2", "5 31/64", '3/8"', "3/8 in"])
def test_a_typed_fraction_is_shown_as_that_fraction(text: str) -> None:
    bus = example_vehicle("larkholm-mail-bus")
    path = ("wheels", "diameter_mm")
    value = parse_field(text, "diameter_mm", what="x", kit=WOOD, choice=INCH)
    change = remembered(bus, path, text)
    assert change is not None
    kept = apply_edit(bus, Edit("", (change, Change(path, value))))
    typed = typed_fraction(kept, path)
    shown = text.rstrip('" in')
    assert field_text(value, "diameter_mm", INCH, typed=typed) == shown
    assert field_text(value + 1, "diameter_mm", INCH, typed=typed) != shown
    forgotten = remembered(kept, path, "2.5")
    assert forgotten is not None
    assert typed_fraction(apply_edit(kept, Edit("", (forgotten,))), path) is None
    assert remembered(bus, path, "2.5") is None


@pytest.mark.parametrize(
    ("text", "units", "lengths"),
    [
        ("8, 16, 24", "mm", (8, 16, 24)),
        ("8 16 24", "mm", (8, 16, 24)),
        ("8,5; 16", "mm", (8.5, 16)),
        ("3/8, 1/2", "in/16", (9.525, 12.7)),
        ("3/8 in, 10 mm", "mm", (9.525, 10)),
        ("1 1/2", "in", (38.1,)),
    ],
)
def test_rows_of_lengths_take_any_unit(
    text: str, units: LengthUnit, lengths: tuple[float, ...]
) -> None:
    bus = example_vehicle("larkholm-mail-bus")
    bus = bus.model_copy(update={"units": UnitSettings(length=units)})
    assert parse_lengths(text, what="Holes", vehicle=bus) == pytest.approx(lengths)
    assert parse_lengths(lengths_text(lengths, bus), what="Holes", vehicle=bus) == pytest.approx(
        lengths, rel=1e-3
    )


def test_speeds_are_typed_in_the_unit_chosen_or_any_other() -> None:
    bus = example_vehicle("larkholm-mail-bus")
    assert parse_speed("50", what="x", vehicle=bus) == pytest.approx(50)
    assert parse_speed("10 m/s", what="x", vehicle=bus) == pytest.approx(36)
    miles = bus.model_copy(update={"units": UnitSettings(speed="mph")})
    assert parse_speed("50", what="x", vehicle=miles) == pytest.approx(80.4672)
