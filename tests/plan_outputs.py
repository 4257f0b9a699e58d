"""What a builder has in hand of a plan, and what must hold of it: by these outputs alone.

The book, the list of parts, the templates and the 3D file; nothing else of the program is asked.
"""

import csv
import io
import json
import re
import struct
from collections import Counter
from datetime import date
from itertools import pairwise
from math import hypot
from typing import Any

from pypdf import PdfReader

from mild_badger.core.components.model import vehicle_model
from mild_badger.core.evaluate import evaluate
from mild_badger.core.publish.book import plan_book
from mild_badger.core.publish.tables import parts_csv
from mild_badger.core.vehicle.model import Vehicle
from pdf_shapes import circles_of
from pdf_words import cut_off, lines_of, overlapping_of
from wordsonly import words_only

__all__ = ["CHECKS", "Outputs"]

TAKE = re.compile(r"Take (.+?)\.(?: |$)")
COUNTED = re.compile(r"(\d+) × (.+?)(?=, \d+ ×|$)")
CALLED = {
    "wall": (" wall",),
    "sleeve of sliding gears": ("sleeve 1",),
    "slewing ring": ("segment of the slewing ring",),
    "dog sleeve": ("dog ring of a sleeve",),
    "bracket": ("bracket of", "post on"),
}
"""What templates call what the list of parts calls otherwise."""
MM, NEAR_MM = 1000.0, 0.1
SEEN = "Seen from the input end, "
TEMPLATES = re.compile(r"T\d+ ·")
STEP = re.compile(r"^(\d+)\. ")


class Outputs:
    """What a builder has in hand: nothing else is asked."""

    def __init__(self, vehicle: Vehicle) -> None:
        with words_only():
            pdf = plan_book(vehicle, day=date(2026, 5, 17))
        self.paper = vehicle.making.paper
        self.sheets = sheets = PdfReader(io.BytesIO(pdf)).pages
        self.lines = [lines_of(p) for p in sheets]
        self.pages = [[line.words for line in lines] for lines in self.lines]
        self.circles = [list(circles_of(p)) for p in sheets]
        self.parts = list(csv.DictReader(io.StringIO(parts_csv(evaluate(vehicle)))))
        glb = vehicle_model(vehicle, "glb")
        (long,) = struct.unpack_from("<I", glb, 12)
        tree = json.loads(glb[20 : 20 + long])
        self.nodes: list[dict[str, Any]] = [n["extras"] for n in tree["nodes"] if "extras" in n]
        self.middles: dict[str, set[tuple[float, float]]] = {}
        for node in tree["nodes"]:
            extras = node.get("extras", {})
            if extras.get("kind") == "shaft" and extras.get("letter"):
                (primitive,) = tree["meshes"][node["mesh"]]["primitives"]
                held = tree["accessors"][primitive["attributes"]["POSITION"]]
                x, y = ((held["min"][n] + held["max"][n]) / 2 * MM for n in (0, 1))
                self.middles.setdefault(extras["letter"], set()).add((x, y))

    def chapter(self, first: str, *ends: str) -> list[str]:
        """Give the lines from a heading on up to the next."""
        lines = [line for page in self.pages[2:] for line in page]
        start = next(n for n, line in enumerate(lines) if line == first)
        stop = next((n for n, line in enumerate(lines[start:], start) if line in ends), len(lines))
        return lines[start:stop]

    def taken(self) -> tuple[list[int], Counter[str]]:
        """Give the steps' numbers, and count what they take."""
        lines = self.chapter("Assembly", "Assembly, finished")
        numbers: list[int] = []
        for line in lines:
            # a sentence may break before a gear's number, too: steps count on one by one
            if (found := STEP.match(line)) and int(found[1]) == len(numbers) + 1:
                numbers.append(int(found[1]))
        counts: Counter[str] = Counter()
        takes = TAKE.findall(" ".join(lines))
        assert len(numbers) >= len(takes)  # none is without its number
        for sentence in takes:
            for number, name in COUNTED.findall(sentence):
                counts[name] += int(number)
        return numbers, counts

    def needed(self, part: str) -> int:
        return sum(int(row["needed"]) for row in self.parts if row["part"] == part)


ROD = re.compile(r"(half )?shaft of |rail of ")


def every_part_of_the_3d_file_comes_in_one_step_by_its_name(name: str, out: Outputs) -> None:
    numbers, taken = out.taken()
    assert numbers
    kinds = Counter(node["kind"] for node in out.nodes)
    teeth = Counter(
        f"{node['teeth']}-tooth gear" + (", free" if node.get("free") else "")
        for node in out.nodes
        if node["kind"] == "gear"
    )
    assert {k: v for k, v in taken.items() if "-tooth gear" in k} == teeth
    shafts = sum(v for k, v in taken.items() if k.startswith("shaft of"))
    assert shafts == kinds["shaft"]
    halves = sum(v for k, v in taken.items() if k.startswith("half shaft of"))
    assert halves == kinds["half shaft"]
    # what is named by its length or its bushes is counted above, or goes by another name
    named = {"gear", "shaft", "rail", "spacer", "tie rod", "bearing", "catch rail", "half shaft"}
    for kind, count in kinds.items():
        if kind not in named:
            assert (kind, taken[kind]) == (kind, count)


def the_list_of_parts_has_as_many_as_the_3d_file(name: str, out: Outputs) -> None:
    # on a one-way clutch a gear runs free too, but is bought as one that is fixed
    gears = Counter(
        node["teeth"]
        for node in out.nodes
        if node["kind"] == "gear" and not node["id"].endswith("/ring")  # listed as such
    )
    listed: Counter[int] = Counter()
    for row in out.parts:
        if found := re.match(r"(\d+)-tooth gear(, free|$)", row["part"]):
            listed[int(found[1])] += int(row["needed"])
    assert listed == gears
    kinds = Counter(node["kind"] for node in out.nodes)
    shafts = sum(int(r["needed"]) for r in out.parts if r["part"].startswith("shaft, "))
    assert shafts == sum(kinds[k] for k in ("shaft", "rail", "catch rail", "half shaft"))
    _, taken = out.taken()
    cut: Counter[str] = Counter()
    for rod, count in taken.items():
        if ROD.match(rod):
            cut[rod.partition(" of ")[2]] += count
    bought: Counter[str] = Counter()
    for row in out.parts:
        if row["part"].startswith("shaft, "):
            bought[row["part"].partition(", ")[2]] += int(row["needed"])
    if not kinds["catch rail"]:  # that one is named without its length
        if all(length.endswith(" u") for length in bought):
            assert sorted(cut.values()) == sorted(bought.values())
        else:
            assert cut == bought
    for kind in ("fork", "shift arm", "gate lever", "cradle", "wheel", "steering arm", "coupling"):
        assert (kind, out.needed(kind)) == (kind, kinds[kind])
    assert out.needed("dog sleeve") + out.needed("sleeve of sliding gears") == kinds["sleeve"]


def what_is_made_has_a_template_and_what_is_sawn_its_length(name: str, out: Outputs) -> None:
    drawn_on = [page for page in out.pages if any(map(TEMPLATES.match, page))]
    drawn_there = (line for page in drawn_on for line in page)
    words = "\n".join((*out.chapter("Cut list", "Assembly"), *drawn_there))
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


def letters_are_drawn_on_their_page_or_it_says_where(name: str, out: Outputs) -> None:
    starts = ("Shaft A", "Layer 1 of ")  # a lever drive has its shafts in its layers
    found = (
        number
        for start in starts
        for number, lines in enumerate(out.pages, 1)
        if any(line.startswith(start) for line in lines) and "hole" not in lines and number > 2
    )
    sheets = next(found)
    for lines in out.pages:
        if any("Mild Badger" in line for line in lines):
            assert f"Shafts by letter: from page {sheets}" in lines


def places_of_walls_are_those_of_the_3d_file(name: str, out: Outputs) -> None:
    compared = 0
    for lines, circles in zip(out.pages, out.circles, strict=True):
        seen = next((line for line in lines if line.startswith(SEEN)), None)
        letters = {line for line in lines if line in out.middles and len(out.middles[line]) == 1}
        if seen is None or "hole" not in lines or not letters:
            continue
        stated = re.search(r"(\d+) : (\d+)", seen)
        scale = float(stated[1]) / float(stated[2]) if stated else 1.0
        wanted = [next(iter(out.middles[letter])) for letter in sorted(letters)]
        places = [(circle.x, circle.y) for circle in circles]
        x0, y0 = wanted[0]
        # one way to lay the 3D file's shafts on the page puts each on a hole
        assert any(
            all(
                min(hypot((x - x0) * scale + a - u, (y - y0) * scale + b - v) for u, v in places)
                < NEAR_MM
                for x, y in wanted
            )
            for a, b in places
        ), lines[0]
        compared += len(letters)
    assert compared >= 2


def no_words_lie_over_others_are_cut_or_leave_the_page(name: str, out: Outputs) -> None:
    size = {"A4": [595, 842], "Letter": [612, 792]}[out.paper]
    for number, (page, lines) in enumerate(zip(out.sheets, out.pages, strict=True), 1):
        found = sorted(round(float(v)) for v in (page.mediabox.width, page.mediabox.height))
        assert (number, found) == (number, size)
        assert (number, bool(lines)) == (number, True)
        placed = out.lines[number - 1]
        assert (number, overlapping_of(placed)) == (number, [])
        assert (number, cut_off(page, placed)) == (number, [])
        assert (number, [line for line in lines if line.endswith("...")]) == (number, [])


def no_heading_stands_alone_before_its_page(name: str, out: Outputs) -> None:
    for page, after in pairwise(out.pages):
        heading = after[0].removesuffix(CONTINUED)
        if after[0].endswith(CONTINUED) and heading in page:
            told = page[page.index(heading) + 1 :]
            assert [line for line in told if "Mild Badger" not in line and len(line) > 3], heading


CONTINUED = ", continued"
CHECKS = (
    every_part_of_the_3d_file_comes_in_one_step_by_its_name,
    the_list_of_parts_has_as_many_as_the_3d_file,
    what_is_made_has_a_template_and_what_is_sawn_its_length,
    every_letter_of_the_3d_file_has_its_shaft_sheet,
    letters_are_drawn_on_their_page_or_it_says_where,
    places_of_walls_are_those_of_the_3d_file,
    no_words_lie_over_others_are_cut_or_leave_the_page,
    no_heading_stands_alone_before_its_page,
)
