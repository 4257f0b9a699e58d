"""Fields take their quantity in any unit, and give it in their own."""

import pytest

from mild_badger.core.errors import InputError
from mild_badger.core.kit.catalogue import shipped_kit
from mild_badger.text.fields import parse_field, parse_length

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
    with pytest.raises(InputError, match="Shaft"):
        parse_field(text, field, what="Shaft", kit=WOOD)


def test_grid_units_are_for_kits_with_a_grid() -> None:
    assert parse_length("2 u", what="x", kit=BRICK) == 16.0
    assert parse_length("2", what="x", kit=BRICK, shown="u") == 16.0
    assert parse_length("1 in", what="x", kit=BRICK, shown="u") == pytest.approx(25.4)
    with pytest.raises(InputError, match="no unit of length"):
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
    with pytest.raises(InputError, match="more than 0"):
        parse_field("0 DP", "module_mm", what="Module", kit=kit)


def test_the_inch_shop_s_sizes_are_whole_fractions_of_an_inch() -> None:
    kit = shipped_kit("wood-shop-inch")
    assert kit.made is not None
    for mm in (kit.shaft_diameter_mm, kit.made.face_width_mm, kit.grid_unit_mm):
        assert (mm / 25.4 * 16) == pytest.approx(round(mm / 25.4 * 16))
    assert 25.4 / kit.module_mm == pytest.approx(10)
