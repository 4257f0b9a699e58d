"""The plan is whole, by its outputs alone: the book, the list of parts, templates and 3D file."""

import csv
import io
import json
import re
import struct
from collections import Counter
from datetime import date
from typing import Any

import pytest
from pypdf import PdfReader

from examples import example_vehicle
from mild_badger.core.architectures.match import match_box
from mild_badger.core.components.model import vehicle_model
from mild_badger.core.evaluate import evaluate
from mild_badger.core.publish.book import plan_book
from mild_badger.core.publish.tables import parts_csv
from mild_badger.core.ratios.lanes import Impossible
from mild_badger.core.vehicle.demo import demo_vehicle
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.model import Vehicle
from pdf_words import lines_of
from wordsonly import words_only

TRACTOR, BUS = "larkholm-timber-tractor", "larkholm-mail-bus"
BOXES = [
    TRACTOR,
    BUS,
    "larkholm-sawmill-trolley",
    "larkholm-street-sweeper",
    "larkholm-timber-tractor twin-layshaft",
    "larkholm-mail-bus range-splitter",
    "larkholm-timber-tractor two-shaft",
]
TAKE = re.compile(r"Take (.+?)\.(?: |$)")
COUNTED = re.compile(r"(\d+) × (.+?)(?=, \d+ ×|$)")
CALLED = {
    "wall": (" wall",),
    "dog sleeve": ("dog ring of a sleeve",),
    "bracket": ("bracket of", "post on"),
}
"""What templates call what the list of parts calls otherwise."""
STEP = re.compile(r"^(\d+)\. ")


def vehicle_named(name: str) -> Vehicle:
    demo, _, kind = name.partition(" ")
    if not kind:
        return demo_vehicle(demo)
    vehicle = example_vehicle(demo)
    found = match_box(vehicle, kind, best="error")
    assert not isinstance(found, Impossible)
    return apply_edit(vehicle, found.edit(vehicle))


class Outputs:
    """What a builder has in hand: nothing else is asked."""

    def __init__(self, vehicle: Vehicle) -> None:
        with words_only():
            pdf = plan_book(vehicle, day=date(2026, 5, 17))
        self.pages = [
            [line.words for line in lines_of(p)] for p in PdfReader(io.BytesIO(pdf)).pages
        ]
        self.parts = list(csv.DictReader(io.StringIO(parts_csv(evaluate(vehicle)))))
        glb = vehicle_model(vehicle, "glb")
        (long,) = struct.unpack_from("<I", glb, 12)
        tree = json.loads(glb[20 : 20 + long])
        self.nodes: list[dict[str, Any]] = [n["extras"] for n in tree["nodes"] if "extras" in n]

    def chapter(self, first: str, *ends: str) -> list[str]:
        """Give the lines from a heading on up to the next."""
        lines = [line for page in self.pages[2:] for line in page]
        start = next(n for n, line in enumerate(lines) if line == first)
        stop = next((n for n, line in enumerate(lines[start:], start) if line in ends), len(lines))
        return lines[start:stop]

    def taken(self) -> tuple[list[int], Counter[str]]:
        """Give the steps' numbers, and count what they take."""
        lines = self.chapter("Assembly", "Assembly, finished")
        numbers = [int(found[1]) for line in lines if (found := STEP.match(line))]
        counts: Counter[str] = Counter()
        for sentence in TAKE.findall(" ".join(lines)):
            for number, name in COUNTED.findall(sentence):
                counts[name] += int(number)
        return numbers, counts

    def needed(self, part: str) -> int:
        return sum(int(row["needed"]) for row in self.parts if row["part"] == part)


def every_part_of_the_3d_file_comes_in_one_step_by_its_name(name: str, out: Outputs) -> None:
    numbers, taken = out.taken()
    assert numbers == list(range(1, len(numbers) + 1))
    kinds = Counter(node["kind"] for node in out.nodes)
    teeth = Counter(
        f"{node['teeth']}-tooth gear" + (", free" if node.get("free") else "")
        for node in out.nodes
        if node["kind"] == "gear"
    )
    assert {k: v for k, v in taken.items() if "-tooth gear" in k} == teeth
    shafts = sum(v for k, v in taken.items() if k.startswith("shaft of"))
    assert shafts == kinds["shaft"]
    # what is named by its length or its bushes is counted above, or goes by another name
    named = {"gear", "shaft", "rail", "spacer", "tie rod", "bearing", "catch rail"}
    for kind, count in kinds.items():
        if kind not in named:
            assert (kind, taken[kind]) == (kind, count)


def the_list_of_parts_has_as_many_as_the_3d_file(name: str, out: Outputs) -> None:
    # on a one-way clutch a gear runs free too, but is bought as one that is fixed
    gears = Counter(node["teeth"] for node in out.nodes if node["kind"] == "gear")
    listed: Counter[int] = Counter()
    for row in out.parts:
        if found := re.match(r"(\d+)-tooth gear(, free|$)", row["part"]):
            listed[int(found[1])] += int(row["needed"])
    assert listed == gears
    kinds = Counter(node["kind"] for node in out.nodes)
    shafts = sum(int(r["needed"]) for r in out.parts if r["part"].startswith("shaft, "))
    assert shafts == sum(kinds[k] for k in ("shaft", "rail", "catch rail", "half shaft"))
    for kind in ("fork", "shift arm", "gate lever", "cradle", "wheel", "steering arm", "coupling"):
        assert (kind, out.needed(kind)) == (kind, kinds[kind])
    assert out.needed("dog sleeve") == kinds["sleeve"]


def what_is_made_has_a_template_and_what_is_sawn_its_length(name: str, out: Outputs) -> None:
    words = (
        "\n".join(out.chapter("Templates")) + "\n" + "\n".join(out.chapter("Cut list", "Assembly"))
    )
    made = [row for row in out.parts if row["source"] == "made"]
    for row in made:
        part = row["part"]
        if "sawmill" in name and part == "ratchet wheel":
            continue  # finer than can be cut, which the book says
        if found := re.fullmatch(r"(\d+)-tooth bevel gear", part):
            assert f"bevel gear, {found[1]} teeth on" in words
        elif told := next((v for k, v in CALLED.items() if part.startswith(k)), ()):
            assert any(name in words for name in told), part
        else:
            assert part.partition(" with ")[0].partition(" of ")[0] in words, part
    sheets = {int(n) for n in re.findall(r"^T(\d+)$", words, re.MULTILINE)}
    drawn = {int(n) for n in re.findall(r"^T(\d+) ·", words, re.MULTILINE)}
    assert sheets >= drawn >= {n for n in sheets if n <= max(drawn, default=0)}
    sawn = [row for row in out.parts if row["source"] == "sawn" and row["group"] == "shafts"]
    for row in sawn:
        length = row["part"].removeprefix("shaft, ")
        assert words.count(f"\n{length}\n") >= 1, length


def every_letter_of_the_3d_file_has_its_shaft_sheet(name: str, out: Outputs) -> None:
    letters = {
        node["letter"] for node in out.nodes if node["kind"] == "shaft" and node.get("letter")
    }
    lines = {line for page in out.pages for line in page}
    text = " ".join(lines)
    for letter in letters:
        assert f"Shaft {letter}" in lines or f"haft {letter}" in text


@pytest.mark.parametrize("name", BOXES)
def test_a_plan_is_whole_by_what_a_builder_has_in_hand(name: str) -> None:
    out = Outputs(vehicle_named(name))
    for check in CHECKS:
        check(name, out)


CHECKS = (
    every_part_of_the_3d_file_comes_in_one_step_by_its_name,
    the_list_of_parts_has_as_many_as_the_3d_file,
    what_is_made_has_a_template_and_what_is_sawn_its_length,
    every_letter_of_the_3d_file_has_its_shaft_sheet,
)
