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
KINDS = {
    *("back", "front", "back wall", "front wall", "middle wall", "middle"),
    *("Back wall", "Front wall", "Middle wall", "fork", "fork rail", "post", "sleeve", "spacer"),
    *("input", "input pair", "lever drive", "balance", "box", "drum", "gate", "good", "bevel"),
    *("free", "lost", "pawl", "one-way clutch", "screw", "rope", "wall", "wheels", "out", "open"),
    *("chassis", "fulcrum", "slewing ring", "tie", "ratchet"),
}
"""Kinds that core still uses as their own words in places; see docs/architecture.md."""


@pytest.mark.parametrize("demo", ["larkholm-timber-tractor", "larkholm-street-sweeper"])
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
    kinds = {words for words in past if set(words.split(", ")) <= KINDS}
    assert set(past) - kinds - UNITS - KIT_NAMES == set(), run.stdout


def test_words_outside_the_marks_are_seen() -> None:
    assert list(outside("⟪all of ⟪it⟫⟫")) == []
    assert list(outside("⟪Shaft⟫ input, ⟪A⟫ 12 mm")) == ["input"]
    assert list(outside("<b>⟪x⟫</b> made by hand")) == ["made by hand"]
