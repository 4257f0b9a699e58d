"""Every field of the file says what it is called, what it means, its unit and its range."""

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from mild_badger.core.message import say
from mild_badger.core.vehicle.codec import VehicleFile, schema
from mild_badger.core.vehicle.field_texts import UNITS, field_texts, title_at, unit_of
from mild_badger.core.vehicle.format_text import format_text
from mild_badger.core.vehicle.model import Vehicle


def fields() -> Iterator[tuple[str, dict[str, Any]]]:
    """Give every field of the schema as pydantic makes it, by model and name."""
    whole = VehicleFile.model_json_schema()
    for name, model in (("VehicleFile", whole), *whole["$defs"].items()):
        for field, described in model.get("properties", {}).items():
            yield f"{name}.{field}", described


def test_every_field_has_its_text_and_no_text_is_left_over() -> None:
    assert {key for key, _ in fields()} == set(field_texts())


def test_no_title_is_one_that_is_generated() -> None:
    """Pydantic makes titles of names: they end in units, and no description is made at all."""
    for key, _ in fields():
        title = field_texts()[key].title
        assert "_" not in title, key
        assert title.split()[-1] not in {end.removeprefix("_") for end in UNITS}, key
        assert field_texts()[key].description.endswith("."), key
    for model in (schema(), *schema()["$defs"].values()):
        for described in model.get("properties", {}).values():
            assert described["title"][0].isupper() or not described["title"][0].isalpha()
            assert len(described["description"]) > 10


def test_every_number_has_a_range_and_every_list_and_text_a_limit() -> None:
    def check(key: str, described: dict[str, Any]) -> None:
        for kind in described.get("anyOf", [described]):
            if "enum" in kind or "const" in kind or "$ref" in kind:
                continue
            if kind.get("type") in ("number", "integer"):
                assert {"minimum", "exclusiveMinimum"} & set(kind), key
                assert {"maximum", "exclusiveMaximum"} & set(kind), key
            if kind.get("type") == "array" and "items" in kind:
                assert "maxItems" in kind, key
                check(key, kind["items"])
            if kind.get("type") == "string":
                assert {"maxLength", "pattern"} & set(kind), key

    for key, described in fields():
        check(key, described)


@pytest.mark.parametrize(
    ("key", "unit"),
    [
        ("Motor.stall_torque_n_mm", "N·mm"),
        ("Clutch.spring_n_per_mm", "N/mm"),
        ("LiquidLine.lost_mm3", "mm³"),
        ("Suspension.rate_n_mm", "N/mm"),
        ("Kit.tooth_strength_mpa", "N/mm²"),
        ("Lever.step_s", "s"),
        ("GearPair.driver", ""),
    ],
)
def test_units_are_those_of_the_names(key: str, unit: str) -> None:
    assert unit_of(key) == unit
    assert (not unit) or unit in _described(key)


def _described(key: str) -> str:
    model, field = key.split(".")
    return str(schema()["$defs"][model]["properties"][field]["description"])


def test_titles_are_found_by_place() -> None:
    assert title_at(Vehicle, ("kit", "gears", 3, "stock")) == "stock"
    assert title_at(Vehicle, ("box", "rail_teeth")) == say("field.SlotBox.rail_teeth")
    assert title_at(Vehicle, ("crane", "outputs", 0, "end", "lead_mm")) is None
    assert title_at(Vehicle, ("nothing",)) is None


def test_the_docs_describe_the_format_as_it_is() -> None:
    docs = Path(__file__).parents[3] / "docs" / "file-format.md"
    assert docs.read_text(encoding="utf-8") == format_text()
