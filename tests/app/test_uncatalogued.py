"""Every word in view comes from the catalogue of messages, but for a builder's own names."""

import os
import subprocess
import sys
from pathlib import Path

import pytest

from uncatalogued import outside

TESTS = Path(__file__).parents[1]
UNITS = {"kgf", "lbf", "mph", "module", "rpm"}
KIT_NAMES = {"Brick grid", "Printed gears", "Wood shop", "Wood shop, inch"}
"""Names of kits stand in the vehicles that use them."""
TYPED = {"screw"}
"""Words that a builder types into a cell, shown there as the cell reads them."""


@pytest.mark.parametrize("demo", ["larkholm-street-sweeper"])
def test_no_word_in_view_goes_past_the_catalogue(demo: str) -> None:
    """Messages are made when modules are loaded, too, so this runs in a process of its own."""
    run = subprocess.run(
        [sys.executable, "-m", "uncatalogued", demo],
        cwd=TESTS,
        env=os.environ | {"QT_QPA_PLATFORM": "offscreen", "QT_API": "pyqt6"},
        capture_output=True,
        text=True,
        timeout=120,
        check=True,
    )
    past = dict(line.split(" | ") for line in run.stdout.splitlines())
    assert set(past) - TYPED - UNITS - KIT_NAMES == set(), run.stdout


def test_words_outside_the_marks_are_seen() -> None:
    assert list(outside("⟪all of ⟪it⟫⟫")) == []
    assert list(outside("⟪Shaft⟫ input, ⟪A⟫ 12 mm")) == ["input"]
    assert list(outside("<b>⟪x⟫</b> made by hand")) == ["made by hand"]
