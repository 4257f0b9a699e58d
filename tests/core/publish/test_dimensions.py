"""Dimensions round a wall, against the holes of its own sheet."""

from io import BytesIO
from itertools import pairwise

import pytest
from pypdf import PdfReader

from mild_badger.core.publish.book import plan_book
from mild_badger.core.publish.dimensions import chain_of
from mild_badger.core.vehicle.demo import demo_vehicle
from mild_badger.core.workshop.assembly import assembly_plan
from mild_badger.core.workshop.sheets import wall_sheets
from pdf_words import lines_of

SMALL_MM = 1.35
"""Dimensions' words are less high, all others higher."""


def test_a_chain_goes_from_edge_to_edge_over_every_place_once() -> None:
    assert chain_of([30.0, 10.0, 10.01, 30.0], 50.0) == [0.0, 10.0, 30.0, 50.0]
    assert chain_of([], 12.5) == [0.0, 12.5]
    assert chain_of([0.0, 12.5], 12.5) == [0.0, 12.5]


def test_a_chain_on_paper_adds_up_to_the_wall_and_its_places_are_the_tables() -> None:
    vehicle = demo_vehicle("larkholm-timber-tractor")
    sheet = wall_sheets(vehicle, assembly_plan(vehicle).box(""))[1]
    pdf = PdfReader(BytesIO(plan_book(vehicle, chapters=("walls",))))
    page = next(p for p in pdf.pages if lines_of(p)[0].words == "Middle wall")
    lines = lines_of(page)
    wide, high = sheet.size_mm
    # the chain's words stand in one row below the wall, smaller than the table's
    small = [line for line in lines if line.box[3] - line.box[1] < SMALL_MM]
    rows: dict[float, list[float]] = {}
    for line in small:
        rows.setdefault(round(line.box[1], 1), []).append(float(line.words))
    chain, places = min(rows.items())[1], max(rows.items())[1]
    xs = sorted({0.0, wide} | {hole.x_mm for hole in sheet.holes})
    steps = [round(b - a, 2) for a, b in pairwise(xs) if b - a > 0.02]
    assert len(steps) - len(chain) == sum(step < 1.0 for step in steps)  # no room for a word
    assert all(any(word == pytest.approx(s, abs=0.011) for s in steps) for word in chain)
    assert sum(chain) == pytest.approx(sum(s for s in steps if s >= 1.0), abs=0.05)
    assert all(any(place == pytest.approx(x, abs=0.011) for x in xs) for place in places)
    ys = sorted({0.0, high} | {hole.y_mm for hole in sheet.holes})
    upwards = {f"{b - a:.2f}" for a, b in pairwise(ys) if b - a > 2.5}
    assert upwards <= {line.words for line in small}
