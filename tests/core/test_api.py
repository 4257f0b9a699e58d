"""The public names: their examples, the walk in the docs, short reprs."""

import doctest
import re
import subprocess
import sys
from pathlib import Path

import pytest

import mild_badger
from examples import example_vehicle
from mild_badger import api
from mild_badger.core.vehicle.demo import DEMOS

WALK = Path(__file__).parents[2] / "docs" / "walk.md"


@pytest.mark.parametrize("module", [mild_badger, api])
def test_the_examples_of_the_docstrings_hold(module: object) -> None:
    result = doctest.testmod(module)  # type: ignore[arg-type]
    assert result.attempted > 2
    assert result.failed == 0


def test_the_walk_of_the_docs_can_be_walked() -> None:
    result = doctest.testfile(str(WALK), module_relative=False, encoding="utf-8")
    assert result.attempted > 15
    assert result.failed == 0


def test_what_is_offered_is_there_and_nothing_else() -> None:
    assert set(api.__all__) <= set(dir(mild_badger))
    for name in api.__all__:
        assert getattr(mild_badger, name) is getattr(api, name)
    with pytest.raises(AttributeError, match="offers no gearstick"):
        _ = mild_badger.gearstick


@pytest.mark.parametrize("name", DEMOS)
def test_reprs_are_a_line(name: str) -> None:
    vehicle = example_vehicle(name)
    for thing in (vehicle, vehicle.kit, mild_badger.evaluate(vehicle)):
        assert len(repr(thing)) < 120


def test_importing_it_loads_no_window_and_no_numbers_yet() -> None:
    program = (
        "import sys, mild_badger; "
        "assert not {'numpy', 'PyQt6', 'pydantic'} & set(sys.modules); "
        "mild_badger.demo(); assert 'PyQt6' not in sys.modules"
    )
    subprocess.run([sys.executable, "-c", program], check=True)


def test_every_colour_stands_once() -> None:
    source = Path(mild_badger.__file__).parent
    named = [
        path.name
        for path in source.rglob("*.py")
        if path.name != "palette.py" and re.search(r"#[0-9A-Fa-f]{6}\b", path.read_text("utf-8"))
    ]
    assert named == []
