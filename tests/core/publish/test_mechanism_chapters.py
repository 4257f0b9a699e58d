"""The plan book's chapters on mechanisms: their figures, worked out by hand here."""

import io
from datetime import date
from math import pi

import pytest
from pypdf import PdfReader

from examples import example_vehicle
from mild_badger.core.mechanisms.clutch.edits import add_clutch
from mild_badger.core.mechanisms.display.edits import add_engine
from mild_badger.core.mechanisms.liquid.edits import add_line
from mild_badger.core.mechanisms.registry import MECHANISMS
from mild_badger.core.message import say
from mild_badger.core.publish.book import CHAPTERS, plan_book
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from telling import tells

BUS = example_vehicle()


def text_of(vehicle: Vehicle, chapter: str) -> str:
    data = plan_book(vehicle, chapters=(chapter,), day=date(2026, 5, 17))
    pages = PdfReader(io.BytesIO(data)).pages
    return " ".join(" ".join(page.extract_text() for page in pages).split())


def test_the_display_engine_is_told_cylinder_by_cylinder() -> None:
    vehicle = apply_edit(BUS, add_engine(BUS))
    vehicle = apply_edit(vehicle, Edit.one("x", ("display_engine", "made_deg"), [0, 180, 90, 0]))
    text = text_of(vehicle, "display")
    # four in line, 1-3-4-2: the tops at 0 and 180°, fired 0, 540, 180, 360° on
    assert "1 0° +0° 0° 0°" in text
    assert "3 180° +0° 180° 180°" in text
    assert tells(
        text,
        "display.throw-stands-at-instead-of-out-cylinder",
        number="3",
        glued="90",
        meant="180",
        off_2="90",
    )
    assert tells(text, "display.throw-rod-piston-pin-driven-from-the-gears")


def test_the_clutch_holds_what_uniform_wear_gives() -> None:
    vehicle = apply_edit(BUS, add_clutch(BUS))
    clutch = vehicle.clutch
    assert clutch is not None
    text = text_of(vehicle, "clutch")
    # T = n μ W (ro + ri) / 2
    torque = clutch.faces * 0.35 * clutch.spring_n * (clutch.outer_mm + clutch.inner_mm) / 4
    assert f"run-in {torque:.0f} N·mm" in text
    assert f"Spring force {clutch.spring_n:g} N new" in text


def test_every_liquid_line_is_told_with_the_caution() -> None:
    vehicle = apply_edit(BUS, add_clutch(BUS))
    for _ in range(2):
        edit = add_line(vehicle)
        assert edit is not None
        vehicle = apply_edit(vehicle, edit)
    text = text_of(vehicle, "liquid")
    told = "liquid.at-the-pedal-are-n-mm-bar-in-the-line-and-at"
    assert tells(text, told, hand_n="5 N", pressure=f"{10 / (25 * pi):.3f}")
    assert "Brakes: 5 N" in text
    assert "Clutch: 5 N" in text
    assert text.count("Master bore 10 mm") == 2
    assert tells(text, "caution.6")


@pytest.mark.parametrize("chapter", [m.key for m in MECHANISMS if m.has_chapter])
def test_what_is_not_planned_has_no_chapter(chapter: str) -> None:
    assert chapter in CHAPTERS
    assert say("publish.the-chosen-chapters-have-nothing-to-show-for") in text_of(BUS, chapter)
