"""The plan book, read back by pypdf: what is on its pages, its scale, and how it can be stopped."""

import errno
import io
import os
import re
from datetime import date
from pathlib import Path
from typing import Any

import pytest
from pypdf import PdfReader
from pypdf.generic import ContentStream

from examples import example_vehicle
from mild_badger.core.components.vehicle_parts import vehicle_components
from mild_badger.core.errors import FileAccessError, InputError
from mild_badger.core.evaluate import evaluate
from mild_badger.core.mechanisms.cables.edits import add_cables
from mild_badger.core.mechanisms.lever.model import LeverDrive
from mild_badger.core.message import say
from mild_badger.core.performance.pull import pulls
from mild_badger.core.publish.book import CHAPTERS, plan_book
from mild_badger.core.publish.glossary import glossary, terms_in
from mild_badger.core.publish.page import Page
from mild_badger.core.structure.names import shaft_letter
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.structure.shaft_lengths import shaft_cuts
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.watch import SearchStopped, Watch
from mild_badger.core.words import signed
from mild_badger.core.workshop.checks import meshes_of
from mild_badger.core.workshop.sheets import layers_of
from mild_badger.files.writer import write_file
from pdf_words import cut_off, overlapping
from strategies import placed_demo
from telling import refuses, tells
from wordsonly import words_only

MM = 72 / 25.4
TRACTOR, BUS = "larkholm-timber-tractor", "larkholm-mail-bus"
DAY = date(2026, 5, 17)
SHEET = re.compile(r"^T(\d+)$", re.MULTILINE)


def pages_of(name: str) -> tuple[str, ...]:
    with words_only():
        data = plan_book(placed_demo(name), gear="3", day=DAY)
    return tuple(page.extract_text() for page in PdfReader(io.BytesIO(data)).pages)


def test_words_over_others_and_beyond_the_edge_are_seen() -> None:
    page = Page("x")
    page.text(20, 20, "over", 12)
    page.text(24, 21, "others", 12)
    page.text(200, 60, "beyond the edge", 12)
    (read,) = PdfReader(io.BytesIO(page.finish())).pages
    assert overlapping(read) == [("over", "others")]
    assert cut_off(read) == ["beyond the edge"]


def figures_on(pages: tuple[str, ...]) -> None:
    """Figures on the pages are those of the tractor."""
    stack = page_with(pages, "Shafts")
    assert say("layout.over-the-outer-walls", length_mm="169.6 mm") in stack
    first = pages.index(page_with(pages, "Axle sheet"))
    axle = "".join(pages[first : first + 2])
    assert "5.4 : 1" in axle
    assert tells(axle, "publish.crown-on-the-of-the-pinion-seen-by-the", crown_side="right")
    shift = page_with(pages, "Shift pattern")
    assert re.search(r"−4\.950", shift)
    assert say("publish.from-the-drivers-seat") in shift
    parts = page_with(pages, "Parts")
    assert tells(parts, "kits.tooth-gear", teeth="27")


@pytest.mark.parametrize("name", [TRACTOR, BUS])
def test_the_book_has_every_chapter_with_name_version_and_day(name: str) -> None:
    pages = pages_of(name)
    text = "\n".join(pages)
    for heading in (
        "Shift pattern",
        "Layer 1 of",
        "Layer 2 of",
        "Front",
        "View from the side",
        "Section",
        "Shafts",
        "Axle sheet",
        "Parts",
        "Cut list",
        "Assembly",
        "Trial",
        "Cautions",
        "Templates",
    ):
        assert any(page.startswith(heading) or f"\n{heading}\n" in page for page in pages), heading
    assert example_vehicle(name).name in pages[0]
    assert tells(pages[0], "publish.the-way-of-the-power-in-gear", name="3")
    assert tells(pages[0], "publish.not-kept-as-a-version-yet")
    assert "wanted" in pages[0]
    assert "got" in pages[0]
    assert tells(text, "publish.often-done-wrong")
    assert tells(text, "caution.5")  # cautions defer to makers and to local rules
    assert [int(page.split()[-1]) for page in pages[:4] if page.split()[-1].isdigit()]
    if name == TRACTOR:
        figures_on(pages)


def page_with(pages: tuple[str, ...], heading: str) -> str:
    """Give the page on which a heading stands, alone in its line; the contents list it too."""
    found = (page for page in pages if heading in page.split("\n"))
    return next(page for page in found if not page.startswith("Contents"))


def placed_circles(page: object) -> list[tuple[float, float, float]]:
    """The circles on a page: middle from the left and from below, and radius, mm."""
    found = []
    corners: list[tuple[float, float]] = []
    for operands, operator in ContentStream(page.get_contents(), page.pdf).operations:  # type: ignore[attr-defined]
        if operator == b"m":
            corners = [(float(operands[0]), float(operands[1]))]
        elif operator == b"c":
            corners.append((float(operands[4]), float(operands[5])))
        elif operator in (b"S", b"s", b"B", b"b", b"n"):
            if len(corners) == 5:
                xs, ys = [x / MM for x, _ in corners], [y / MM for _, y in corners]
                middle = (max(xs) + min(xs)) / 2, (max(ys) + min(ys)) / 2
                found.append((*middle, (max(xs) - min(xs)) / 2))
            corners = []
    return found


def test_layers_are_to_the_scale_they_say() -> None:
    """Pitch circles of module 2.5 measured on the pages: z · m / 2 at true size."""
    vehicle = placed_demo(TRACTOR)
    data = plan_book(vehicle, chapters=("layers",), day=DAY)
    pages = PdfReader(io.BytesIO(data)).pages
    for page in pages:
        assert say("publish.true-size") in page.extract_text()
    radii = [radius for page in pages for _, _, radius in placed_circles(page)]
    for slot in vehicle.box.slots:
        for link in vehicle.box.chain(slot.gear):
            for teeth in (link.pair.driver, link.pair.driven):
                pitch = teeth * vehicle.kit.module_mm / 2
                assert min(abs(radius - pitch) for radius in radii) < 0.05, teeth


@pytest.mark.parametrize("name", [TRACTOR, BUS])
def test_walls_show_each_hole_where_the_parts_have_their_shafts(name: str) -> None:
    """Read off the pages: circles at true size, and the table, against the parts in space."""
    vehicle = placed_demo(name)
    data = plan_book(vehicle, chapters=("walls",), day=DAY)
    pages = PdfReader(io.BytesIO(data)).pages
    parts = vehicle_components(vehicle)
    walls = sorted((p for p in parts if p.kind == "wall"), key=lambda p: p.from_mm)
    assert len(pages) == len(walls)
    left, low = (min(wall.reach_mm[n] for wall in walls) for n in (0, 1))
    for page, wall in zip(pages, walls, strict=True):
        text = page.extract_text()
        middle = wall.along_mm + (wall.solid[0].from_mm + wall.solid[0].to_mm) / 2
        rods = [p for p in parts if p.kind == "shaft" and p.from_mm < middle < p.to_mm]
        assert rods
        holes = placed_circles(page)
        first = rods[0]
        for rod in rods:
            assert re.search(rf"(^|\n){shaft_letter(vehicle, rod.shaft)}\n", text), rod.shaft
            for place in (rod.x_mm - left, rod.y_mm - low):
                assert f"{place:.2f}" in text
            # as far from the first one on the paper as in the box
            off = rod.x_mm - first.x_mm, rod.y_mm - first.y_mm
            assert any(
                abs(b[0] - a[0] - off[0]) < 0.1 and abs(b[1] - a[1] - off[1]) < 0.1
                for a in holes
                for b in holes
            ), rod.shaft


@pytest.mark.parametrize("name", [TRACTOR, BUS])
def test_each_shaft_has_all_that_sits_on_it_in_order_from_its_own_end(name: str) -> None:
    vehicle = placed_demo(name)
    with words_only():
        data = plan_book(vehicle, chapters=("stack",), day=DAY)
    text = "\n".join(page.extract_text() for page in PdfReader(io.BytesIO(data)).pages)
    stack = stack_for(vehicle)
    assert stack is not None
    cuts = {shaft_letter(vehicle, cut.name): cut for cut in shaft_cuts(vehicle, stack)}
    letters = re.findall(r"^Shaft ([A-Z]+)$", text, re.MULTILINE)
    assert letters == sorted(cuts, key=lambda letter: (len(letter), letter))
    parts = {part.key: part for part in vehicle_components(vehicle)}
    for letter, block in zip(
        letters, re.split(r"^Shaft [A-Z]+$", text, flags=re.MULTILINE)[1:], strict=True
    ):
        cut = cuts[letter]
        places = [signed(part.from_mm - cut.start_mm, ".2f") for part in cut.parts]
        at = 0
        for place in places:  # one after another
            at = block.index(place, at) + 1
        for part in cut.parts:  # and as the parts stand in space
            if part.kind in ("gear", "free gear") and part.key in parts:
                own = parts[part.key]  # with its dogs it may reach farther
                assert own.from_mm - 0.2 <= part.from_mm < part.to_mm <= own.to_mm + 0.2


@pytest.mark.parametrize("name", [TRACTOR, BUS])
def test_every_gear_of_the_box_stands_in_one_layer_with_all_its_meshes(name: str) -> None:
    vehicle = placed_demo(name)
    parts = vehicle_components(vehicle)
    layers = layers_of(vehicle, parts)
    keys = [gear.key for layer in layers for gear in layer.gears]
    assert sorted(keys) == sorted(part.key for part in parts if part.kind == "gear")
    assert [layer.from_mm for layer in layers] == sorted(layer.from_mm for layer in layers)
    for mesh in meshes_of(vehicle, parts):
        where = [layer for layer in layers if mesh in layer.meshes]
        assert len(where) == 1  # both of its gears lie in the same layer
        one, other = mesh.one, mesh.other
        apart = ((one.x_mm - other.x_mm) ** 2 + (one.y_mm - other.y_mm) ** 2) ** 0.5
        both = (one.teeth + other.teeth) * vehicle.kit.module_mm / 2
        assert apart == pytest.approx(both, abs=0.7)  # a brick grid's seats are not exact


def test_templates_in_the_book_keep_their_ruler_at_true_length() -> None:
    data = plan_book(placed_demo(TRACTOR), chapters=("templates",), day=DAY)
    reader = PdfReader(io.BytesIO(data))
    listed = [page for page in reader.pages if SHEET.search(page.extract_text())]
    sheets = reader.pages[len(listed) :]
    last = max(int(number) for page in listed for number in SHEET.findall(page.extract_text()))
    assert len(sheets) == last > 5
    for number, page in enumerate(sheets, 1):
        assert f"T{number} ·" in page.extract_text()
        lines = []
        start: tuple[float, float] | None = None
        for operands, operator in ContentStream(page.get_contents(), reader).operations:
            if operator == b"m":
                start = (float(operands[0]), float(operands[1]))
            elif operator == b"l" and start is not None:
                lines.append(abs(float(operands[0]) - start[0]) / MM)
        assert any(abs(length - 100) < 0.05 for length in lines)


def test_the_axle_sheet_promises_no_more_pull_than_every_limit_allows() -> None:
    vehicle = placed_demo(BUS)
    data = plan_book(vehicle, chapters=("axle",), day=DAY)
    text = "\n".join(page.extract_text() for page in PdfReader(io.BytesIO(data)).pages)
    first = pulls(vehicle, evaluate(vehicle).gears)[0]
    assert first.usable.kind == "grip"
    assert first.usable.force_n < first.force_n
    assert signed(first.usable.force_n, ".1f") in text
    assert signed(first.force_n, ".1f") not in text


def test_single_chapters_are_single_sheets_and_unknown_ones_are_refused() -> None:
    for key, count in (("axle", 2), ("shift", 1), ("parts", 2)):
        reader = PdfReader(io.BytesIO(plan_book(placed_demo(TRACTOR), chapters=(key,), day=DAY)))
        assert len(reader.pages) == count
    with refuses(InputError, "publish.the-plan-book-has-no-chapter-it-has", key="poems"):
        plan_book(placed_demo(TRACTOR), chapters=("poems",))


def test_the_lever_drive_has_its_page_with_the_lever_ratio_at_each_place() -> None:
    """The lever ratio is (90 - a) / a with a lever of 90 mm: 2.6 and 0.385 at the stops."""
    vehicle = placed_demo(TRACTOR).model_copy(update={"lever_drive": LeverDrive()})
    (page,) = PdfReader(io.BytesIO(plan_book(vehicle, chapters=("lever",), day=DAY))).pages
    text = page.extract_text()
    assert "25.0\n2.600\n52.00" in text
    assert "65.0\n0.385\n7.69" in text
    assert "throws at 0°, 120°, 240°" in text


def test_the_crane_truck_has_its_outputs_balance_and_trial_steps() -> None:
    """Turns by hand: worm 1:24 behind 12:36 and before 15:75 make 360; lead 2 mm at 1900/3 rpm."""
    truck = example_vehicle("larkholm-crane-truck")
    data = plan_book(truck, chapters=("crane", "balance", "trial", "parts"), day=DAY)
    text = " ".join(page.extract_text() for page in PdfReader(io.BytesIO(data)).pages)
    text = " ".join(text.split())
    assert tells(text, "crane.per-turn-of", turns="360", input_words="motor turns", one="the ring")
    assert "+ 21.1 mm/s" in text
    assert tells(text, "crane.serves-from")
    assert tells(text, "balance.allowed", kg="kg")
    assert "yard ballast 0.3 turntable" in text
    assert tells(text, "caution.7")
    assert tells(
        text,
        "crane.per-turn-of",
        turns="89.6",
        input_words="motor turns",
        one=say("crane.the-output-shaft"),
    )
    assert tells(text, "balance.put-the-boom-at-and-hands-clear-and-hang-on")
    assert tells(text, "performance.teeth", name="slewing ring", teeth="75")


def test_the_cables_have_their_page() -> None:
    bus = example_vehicle(BUS)
    planned = apply_edit(bus, add_cables())
    data = plan_book(planned, chapters=("cables", "trial"), day=DAY)
    text = " ".join("".join(p.extract_text() for p in PdfReader(io.BytesIO(data)).pages).split())
    assert "flap hand lever 2, 2 to 2 9.3 9.0 0.3" in text
    assert "holes 8, 16, 24, 32 mm" in text
    assert tells(
        text, "cables.move-the-hand-lever-through-the-end-moves", starts="0.8 mm"
    )  # 0.3 mm of slack at hole 2 are 0.75 at the hand


def test_the_book_tells_how_far_it_is_and_stops_when_asked() -> None:
    shares: list[float] = []
    watch = Watch(report=lambda share, _b: shares.append(share))
    with words_only():
        plan_book(placed_demo(TRACTOR), day=DAY, watch=watch)
    assert shares == sorted(shares)
    assert shares[-1] == pytest.approx(1.0)
    assert len(shares) > len(CHAPTERS) + 20
    with pytest.raises(SearchStopped):
        plan_book(placed_demo(TRACTOR), watch=Watch(stop=lambda: len(shares) > 0))


def test_a_box_without_a_place_and_a_very_long_name_make_a_book_too() -> None:
    bare = example_vehicle("larkholm-street-sweeper").model_copy(
        update={"layout": None, "name": "Larkholm " * 22}
    )
    text = "\n".join(
        page.extract_text() for page in PdfReader(io.BytesIO(plan_book(bare, day=DAY))).pages
    )
    flat = " ".join(text.split())
    assert flat.count(say("components.the-box-has-no-place-in-space-yet-place-it")) >= 3
    assert "Larkholm" in text


def test_a_full_disk_leaves_the_old_file_whole_and_says_so(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    target = tmp_path / "plan-book.pdf"
    target.write_bytes(b"the old book")

    def full(_file: int) -> None:
        raise OSError(errno.ENOSPC, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    with refuses(FileAccessError, "files.the-disk-is-full-free-some-space-or-save"):
        write_file(target, plan_book(placed_demo(TRACTOR), chapters=("axle",), day=DAY))
    assert target.read_bytes() == b"the old book"
    assert [path.name for path in target.parent.iterdir()] == ["plan-book.pdf"]


def test_the_last_words_explain_the_terms_that_the_book_used() -> None:
    bus = example_vehicle("larkholm-mail-bus")
    pages = PdfReader(io.BytesIO(plan_book(bus, chapters=("cover", "axle", "words")))).pages
    text = " ".join(" ".join(page.extract_text() for page in pages).split())
    used, listed = text.split(say("publish.words-of-the-trade"), 1)
    for term in ("Differential", "Crown wheel", "Pinion"):
        assert term.lower() in used.lower()
        assert glossary()[term] in listed
    assert glossary()["Kerf"] not in listed
    every = PdfReader(io.BytesIO(plan_book(bus, chapters=("words",)))).pages
    text = " ".join(" ".join(page.extract_text() for page in every).split())
    assert all(meaning in text for meaning in glossary().values())
    assert tells(text, "publish.the-saws-path")  # from the drawing


def test_terms_are_found_whole_and_the_longer_one_first() -> None:
    assert terms_in(["The crown wheels of the axle"]) == ("Axle", "Crown wheel")
    assert terms_in(["axles"]) == ("Axle",)
    assert terms_in(["relaxed"]) == ()


def test_the_contents_lead_to_every_chapter_and_tell_its_page() -> None:
    vehicle = placed_demo(TRACTOR)
    keys = ("cover", "contents", "shift", "walls", "clutch", "parts", "cautions")
    reader: Any = PdfReader(io.BytesIO(plan_book(vehicle, chapters=keys, day=DAY)))
    page = reader.pages[1]
    text = page.extract_text()
    assert text.startswith(say("publish.contents"))
    # the tractor has no clutch: its chapter says nothing and is not listed
    listed = [key for key in keys if key not in ("contents", "clutch")]
    outline = {str(e["/Title"]): reader.get_destination_page_number(e) for e in reader.outline}
    assert set(outline) == {CHAPTERS[key].words for key in (*listed, "contents")}
    at = {one.indirect_reference.idnum: n for n, one in enumerate(reader.pages)}
    notes = [note.get_object() for note in page["/Annots"]]
    links = [at[note["/Dest"][0].idnum] for note in notes if note["/Subtype"] == "/Link"]
    assert links == [outline[CHAPTERS[key].words] for key in listed]
    assert links == sorted(links)
    for key in listed:
        assert CHAPTERS[key].words in text
        place = outline[CHAPTERS[key].words]
        # the numbers are those at the foot of the pages; the cover is the first
        assert key == "cover" or str(place + 1) in reader.pages[place].extract_text().split("\n")
    forms = page["/Resources"]["/XObject"]
    operations = ContentStream(page.get_contents(), reader).operations
    assert {operands[0] for operands, operator in operations if operator == b"Do"} == set(forms)
    numbers = b"".join(form.get_object().get_data() for form in forms.values()).decode("latin-1")
    for place in links:
        assert f"({place + 1})" in numbers
