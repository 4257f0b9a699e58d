"""Six small boxes of the committed sets go the whole way: trains, a place, the proof, stall."""

import json

import pytest
from benchmarks.places import SETS, Count, boxed, look

ROWS = {row["title"]: row for row in json.loads(SETS.read_text())["boxes"]}
SIX = (
    "slot, bricks, 4 speeds",
    "layshaft, wood",
    "layshaft sliding, wood",
    "two-shaft, wood",
    "twin layshaft, wood",
    "range x splitter, wood",
)


@pytest.mark.parametrize("title", SIX)
def test_a_small_box_is_placed_proven_and_holds_at_stall(title: str) -> None:
    row, count = ROWS[title], Count()
    vehicle = boxed(row["demo"], row["architecture"], row["sets"][0][:3], seconds=2.0)
    assert vehicle is not None
    look(count, vehicle)
    assert (count.placed, count.clear, count.held) == (1, 1, 1), count.why
