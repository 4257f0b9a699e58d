"""The file format: every vehicle survives it, and every damaged file is named for what it is."""

import json
from collections.abc import Callable
from typing import Any

import jsonschema
import pytest
from hypothesis import given, settings

from examples import example_vehicle
from mild_badger.core.errors import DocumentError
from mild_badger.core.vehicle.codec import decode, encode, schema
from mild_badger.core.vehicle.model import Vehicle
from strategies import vehicles
from telling import Told, refuses, told


@given(vehicles())
@settings(max_examples=40, deadline=None)
def test_every_vehicle_survives_the_file(vehicle: Vehicle) -> None:
    assert decode(encode(vehicle)) == vehicle


def test_the_published_schema_accepts_what_is_written_and_refuses_what_is_not() -> None:
    # Checked by the jsonschema library against JSON Schema draft 2020-12.
    validator = jsonschema.Draft202012Validator(schema())
    data = json.loads(encode(example_vehicle()))
    validator.validate(data)
    data["vehicle"]["real"]["gears"][0]["ratio"] = -1
    assert not validator.is_valid(data)


def _put(path: str, value: Any) -> Callable[[dict[str, Any]], None]:
    def change(data: dict[str, Any]) -> None:
        here: Any = data
        *steps, last = path.split(".")
        for step in steps:
            here = here[int(step)] if step.isdigit() else here[step]
        here[int(last) if last.isdigit() else last] = value

    return change


def _drop(data: dict[str, Any]) -> None:
    del data["vehicle"]["motor"]["no_load_rpm"]


@pytest.mark.parametrize(
    ("damage", "words"),
    [
        (_put("vehicle.real.gears.2.ratio", 0), ["Ratio of gear 3", "0.01 or more"]),
        (_put("vehicle.real.gears.0.ratio", float("nan")), ["Ratio of gear 1", "type a number"]),
        (_put("vehicle.real.gears.0.ratio", 1e300), ["Ratio of gear 1", "1000 or less"]),
        (_put("vehicle.real.gears.1.name", "1"), ["Two gears are called 1"]),
        (_put("vehicle.scale.denominator", "thirteen"), ["of the scale", "thirteen", "number"]),
        (_put("vehicle.box.architecture", "orrery"), ["Architecture of the gearbox", "slot"]),
        (_put("vehicle.box.architecture", "layshaft"), ["Feed of the gearbox is not a field"]),
        (_put("vehicle.box.slots.0.gear", "9"), ["slot serves gear 9"]),
        (_put("vehicle.box.slots.1.face", "front"), ["share the front of column 1"]),
        (
            _put("vehicle.box.slots.0.train", [{"driver": 1, "driven": 8}]),
            ["Driver teeth of pair 1 of gear 1: 1"],
        ),
        (_put("vehicle.kit.gears.0.stock", -4), ["Stock of the 8-tooth gear: −4", "0 or more"]),
        (_put("vehicle.motor.turns", 0), ["Way of the motor: 0", "1 or −1"]),
        (_put("vehicle.wheels.spokes", 5), ["Spokes of the wheels is not a field"]),
        (_put("vehicle", None), ["nothing cannot be used"]),
        (_put("version", 99), ["version", "newer program"]),
        (_put("version", "1"), ["version"]),
        (_put("format", "something else"), ["format"]),
        (_drop, ["No-load speed of one motor is missing"]),
    ],
)
def test_damage_is_named_by_its_field(
    damage: Callable[[dict[str, Any]], None], words: list[str]
) -> None:
    data = json.loads(encode(example_vehicle()))
    damage(data)
    with pytest.raises(DocumentError) as caught:
        decode(json.dumps(data))
    for word in words:
        assert word in str(caught.value)
    assert "\nTraceback" not in str(caught.value)
    assert "pydantic" not in str(caught.value)


@pytest.mark.parametrize(
    ("text", "word"),
    [
        ("", told("json-text.the-file-is-not-complete-json-at-line-column")),
        ("[1, 2]", told("vehicle.this-is-not-a-vehicle-file-its-format-should")),
        (b"\xff\xfe\x00", told("json-text.the-file-is-not-utf-8-text-byte-it-is-no")),
        ("[" * 100_000, told("json-text.the-file-holds-nested-lists-or-numbers")),
        (
            '{"format": 1' + "0" * 6000 + "}",
            told("json-text.the-file-holds-nested-lists-or-numbers"),
        ),
    ],
)
def test_what_is_no_file_at_all_is_refused(text: str | bytes, word: Told) -> None:
    with refuses(DocumentError, word):
        decode(text)


def test_a_truncated_file_says_where_it_ends() -> None:
    text = encode(example_vehicle())
    for length in (len(text) // 3, len(text) - 3):
        with refuses(DocumentError, "json-text.the-file-is-not-complete-json-at-line-column"):
            decode(text[:length])


def test_a_file_of_version_one_still_opens() -> None:
    # as version 1 wrote it: no search limits, no kinds of kit, no change gear
    data = json.loads(encode(example_vehicle()))
    data["version"] = 1
    vehicle = data["vehicle"]
    del vehicle["change_gear"]
    for field in ("within_stock", "seated", "max_gears", "max_centre_mm", "hull_mm"):
        del vehicle["search"][field]
    for field in ("made", "barred", "bearings", "cutter_mm"):
        del vehicle["kit"][field]
    for slot in vehicle["box"]["slots"]:
        del slot["second"], slot["direct"]
    assert decode(json.dumps(data)) == example_vehicle()
