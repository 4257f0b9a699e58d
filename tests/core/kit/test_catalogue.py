"""The brick grid as it ships, and kit files of the builder's own."""

import json
from pathlib import Path

import pytest

from mild_badger.core.errors import FileAccessError, KitError
from mild_badger.core.kit.catalogue import (
    kit_text,
    read_kit,
    shipped_kit,
    shipped_kits,
    shipped_motors,
)
from mild_badger.files.kit_file import load_kit
from strategies import BRICK_SIZES, brick
from telling import refuses


def test_the_brick_grid_is_that_of_the_trade() -> None:
    # common practice, no source: sizes, dog faces and module of the brick grid
    kit = brick()
    assert kit.sizes == BRICK_SIZES
    assert kit.dog_sizes == (16, 20)
    assert (kit.grid_unit_mm, kit.module_mm, kit.pressure_angle_deg) == (8, 1, 20)
    assert sorted(b.teeth for b in kit.bevels if b.role == "bevel") == [12, 20]
    assert all(gear.tip_diameter_mm == gear.teeth + 2 for gear in kit.gears)
    assert {"worm", "slewing ring"} <= {part.name for part in kit.others}


def test_a_kit_file_of_ones_own_is_found_by_its_path(tmp_path: Path) -> None:
    file = tmp_path / "mine.kit.json"
    kit = brick().model_copy(update={"name": "Mine"})
    body = {"format": "mild-badger kit", "version": 1, "kit": kit.model_dump(mode="json")}
    file.write_text(json.dumps(body))
    assert load_kit(str(file)) == kit
    assert load_kit("brick-grid") is brick()


@pytest.mark.parametrize(
    ("text", "word"),
    [
        ("{", "line 1, column 2"),
        ("[]", "not a kit file"),
        ('{"format": "mild-badger kit", "version": 3}', "version 3"),
        (
            '{"format": "mild-badger kit", "version": 1, "kit": {"name": "x"}}',
            "Grid unit is missing",
        ),
    ],
)
def test_bad_kit_files_are_named(text: str, word: str) -> None:
    with pytest.raises(KitError, match=rf"(?s)own\.kit\.json.*{word}"):
        read_kit(text, source="own.kit.json")


def test_a_size_stands_once_a_bore() -> None:
    data = brick().model_dump(mode="json")
    data["gears"].append(data["gears"][0])
    body = json.dumps({"format": "mild-badger kit", "version": 1, "kit": data})
    with refuses(KitError, "vehicle.the-stands-twice", name="8-tooth gear with fixed bore"):
        read_kit(body, source="own.kit.json")


def test_kits_that_are_not_there() -> None:
    with pytest.raises(KitError, match=", ".join(shipped_kits())):
        load_kit("marble")
    with refuses(FileAccessError, "files.cannot-read"):
        load_kit("/nowhere/some.kit.json")


def test_the_shipped_motors_and_kits_are_there() -> None:
    motors = shipped_motors()
    assert len({motor.name for motor in motors}) == len(motors) > 3
    for name in shipped_kits():
        kit = shipped_kit(name)
        assert read_kit(kit_text(kit), source="x") == kit
