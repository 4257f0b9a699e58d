"""Mechanisms are gone through by their registry: findings, steps, parts, figures, chapters."""

import io
from collections.abc import Iterator
from datetime import date
from typing import Any, ClassVar

import pytest
from pypdf import PdfReader

from examples import example_vehicle
from mild_badger.core.architectures.registry import blank_box
from mild_badger.core.evaluate import evaluate
from mild_badger.core.findings.catalogue import CATALOGUE
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.kit.catalogue import shipped_kit
from mild_badger.core.mechanisms.base import Mechanism, MechanismStep, PageDescription, RunningState
from mild_badger.core.mechanisms.chapter import Chapter, Sentences, Table
from mild_badger.core.mechanisms.registry import MECHANISMS, mechanism_on
from mild_badger.core.mechanisms.steps import mechanism_steps
from mild_badger.core.publish.book import CHAPTERS
from mild_badger.core.publish.mechanisms import write_chapter
from mild_badger.core.publish.page import Book
from mild_badger.core.publish.report import report
from mild_badger.core.templates.drawing import Drawing
from mild_badger.core.templates.template import Template
from mild_badger.core.vehicle.blank import blank_vehicle
from mild_badger.core.vehicle.demo import DEMOS
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.tally import Tally
from mild_badger.core.workshop.boards import board_plans
from mild_badger.core.workshop.parts import parts_needed
from mild_badger.core.workshop.templates import template_of
from mild_badger.text.pages import PAGES


class Horn(Mechanism):
    """A mechanism that only this test has."""

    key: ClassVar[str] = "horn"
    title: ClassVar[str] = "Horn"
    data_key: ClassVar[str] = "horn"
    page: ClassVar[PageDescription] = PageDescription("horn", 99)

    def findings(self, vehicle: Vehicle) -> Iterator[Finding]:
        code = next(iter(CATALOGUE))
        yield Finding(Severity.NOTE, code, ("wheels",), "The horn is silent", "Blow it.")

    def steps(self, vehicle: Vehicle) -> Iterator[MechanismStep]:
        yield MechanismStep("horn", "", "", "Blow it: it must be heard.")

    def count(self, tally: Tally, vehicle: Vehicle) -> None:
        tally.add("pin", 0, "horn", 2)

    def templates(self, vehicle: Vehicle) -> Iterator[Template]:
        yield Template("horn bell", "bell of the horn", 1, 3.0, _bell)

    def chapter(self, vehicle: Vehicle, gear: str | None) -> Chapter:
        columns = (("note", 0.0, "left"), ("Hz", 40.0, "right"))
        return Chapter("Horn", (Sentences("Two notes."), Table(columns, (("low", "330"),))))

    def data(self, vehicle: Vehicle, drive: RunningState) -> Any:
        return {"loud": drive.rpm > 0}


def _bell(vehicle: Vehicle) -> Drawing:
    sheet = Drawing("Bell", 60, 60)
    sheet.circle("cut", (30, 30), 20)
    return sheet


@pytest.fixture
def horn() -> Iterator[Horn]:
    mechanism = Horn()
    MECHANISMS.append(mechanism)
    mechanism_steps.cache_clear()
    yield mechanism
    MECHANISMS.remove(mechanism)
    mechanism_steps.cache_clear()


def test_a_mechanism_more_is_found_tried_counted_and_reported(horn: Horn) -> None:
    bus = example_vehicle().model_copy(update={"notes": "with a horn"})
    evaluation = evaluate(bus)
    assert "The horn is silent" in [finding.title for finding in evaluation.findings]
    assert "horn" in [step.key for step in mechanism_steps(bus)]
    assert [p.needed for p in parts_needed(bus) if "horn" in p.users] == [2]
    assert report(evaluation)["machine"]["horn"] == {"loud": True}
    assert template_of(bus, "horn bell", kerf=False).rounds[0].radius_mm == 20
    on_boards = [part.want.key for plan in board_plans(bus) for b in plan.boards for part in b]
    assert "horn bell" in on_boards
    book = Book("Bus", date(2026, 5, 17), "")
    write_chapter(book, horn.chapter(bus, None))
    text = " ".join(PdfReader(io.BytesIO(book.close())).pages[0].extract_text().split())
    assert "Two notes. note Hz low 330" in text


def test_keys_stand_once_and_every_drawn_one_has_its_chapter() -> None:
    keys = [mechanism.key for mechanism in MECHANISMS]
    assert len(set(keys)) == len(keys)
    written = [mechanism.key for mechanism in MECHANISMS if mechanism.has_chapter]
    assert [key for key in CHAPTERS if key in keys] == written
    for mechanism in MECHANISMS:
        for name in DEMOS:
            chapter = mechanism.chapter(example_vehicle(name), None)
            assert chapter is None or mechanism.has_chapter


@pytest.mark.parametrize("name", DEMOS)
def test_what_is_not_planned_has_no_steps_parts_or_figures(name: str) -> None:
    bare = example_vehicle(name).model_copy(
        update={
            "clutch": None,
            "hydraulic_lines": (),
            "display_engine": None,
            "lever_drive": None,
            "cables": None,
            "crane": None,
            "balance": None,
            "box": blank_box("none", []),
        }
    )
    tally = Tally()
    for mechanism in MECHANISMS:
        assert list(mechanism.steps(bare)) == []
        mechanism.count(tally, bare)
        if mechanism.key != "bearings":
            assert mechanism.data(bare, RunningState(None, None, 100.0)) is None
    assert not tally.count


@pytest.mark.parametrize("mechanism", [m for m in MECHANISMS if m.page.thing])
def test_what_is_planned_is_added_and_taken_away(mechanism: Mechanism) -> None:
    bus = blank_vehicle(shipped_kit("wood-shop"))
    assert not mechanism.planned(bus)
    edit = mechanism.add(bus)
    assert edit is not None
    more = apply_edit(bus, edit)
    assert mechanism.planned(more)
    assert mechanism_on(mechanism.page.key) is mechanism
    less = apply_edit(more, mechanism.remove(more))
    assert not mechanism.planned(less)
    assert less.model_copy(update={"retired_ids": ()}) == bus


def test_every_page_has_a_place_of_its_own() -> None:
    assert sorted(m.page.place for m in MECHANISMS) == list(range(1, len(MECHANISMS) + 1))
    assert list(PAGES["Machine"]) == [
        m.page.key for m in sorted(MECHANISMS, key=lambda m: m.page.place)
    ]
