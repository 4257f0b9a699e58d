"""Drawings, templates and sheets of paper, read back by other programs' eyes."""

import re
from io import BytesIO, StringIO
from xml.etree import ElementTree as ET

import ezdxf
import pytest
from pypdf import PdfReader
from shapely.geometry import Polygon

from examples import example_vehicle
from mild_badger.core.errors import InputError
from mild_badger.core.evaluate import evaluate
from mild_badger.core.figures import plain
from mild_badger.core.kit.cautions import cautions_for
from mild_badger.core.publish.drawings import (
    drawing_data,
    drawing_files,
    template_data,
    template_files,
)
from mild_badger.core.publish.sheet import sheet_pdf
from mild_badger.core.publish.tiles import PAPERS, tiled_pdf, tiling
from mild_badger.core.templates.drawing import Drawing
from mild_badger.core.templates.kerf import cut_shapes
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.workshop.boards import board_plans
from mild_badger.core.workshop.detent_strip import detent_strip
from mild_badger.core.workshop.templates import template_of, templates_of
from mild_badger.core.workshop.wrapper import drum_wrapper
from solids import volume_of
from telling import tells

TRACTOR = "larkholm-timber-tractor"
POINT_MM = 25.4 / 72


def test_every_template_of_the_tractor_reads_back_in_every_form() -> None:
    vehicle = example_vehicle(TRACTOR)
    files, refused = template_files(vehicle)
    assert not refused
    listed = templates_of(vehicle)
    boards = sum(len(plan.boards) for plan in board_plans(vehicle))
    # all on paper, each in its forms: plans to work by are no solids
    assert len(files) == 1 + sum(3 if t.flat else 4 for t in listed) + 3 * boards
    keys = {t.key for t in listed}
    assert {"gear 27 fixed", "wall 0", "fork 0", "fit strip", "own"} <= keys
    sawn = [t.thick_mm for t in listed if t.key.startswith("spacer ")]
    assert sawn
    assert min(sawn) >= 1.0  # what is thinner is a washer, which nobody saws
    for template in listed:
        drawing = template_of(vehicle, template.key)
        name = "template-" + plain(template.words).replace(",", "").replace(" ", "-").replace(
            "/", "-"
        )
        root = ET.fromstring(files[f"{name}.svg"].decode())
        assert root.get("width") == f"{drawing.width_mm:.3f}mm"
        document = ezdxf.read(StringIO(files[f"{name}.dxf"].decode()))
        assert not document.audit().errors
        cut = [e for e in document.modelspace() if e.dxf.layer == "cut"]
        assert cut
        for entity in cut:
            if entity.dxftype() == "LWPOLYLINE" and not template.flat:
                assert entity.closed
                assert Polygon([p[:2] for p in entity.get_points()]).is_valid
        for x, y in (p for s in drawing.strokes for p in s.points):
            assert -1e-6 <= x <= drawing.width_mm + 1e-6
            assert -1e-6 <= y <= drawing.height_mm + 1e-6
        if template.flat:
            continue
        solid = files[f"{name}.stl"]
        ((outline, holes),) = cut_shapes(drawing)
        shape = Polygon(outline, holes)
        assert volume_of(solid) == pytest.approx(shape.area * template.thick_mm, rel=1e-4)


def lines_of(page: object) -> list[tuple[float, float, float, float]]:
    """Plain straight lines of a page's content, in mm from its lower left."""
    text = page.get_contents().get_data().decode("latin-1")  # type: ignore[attr-defined]
    found = re.findall(r"n ([\d.]+) ([\d.]+) m ([\d.]+) ([\d.]+) l S", text)
    return [tuple(float(v) * POINT_MM for v in line) for line in found]  # type: ignore[misc]


@pytest.mark.parametrize("paper", PAPERS)
def test_paper_is_tiled_at_true_scale_with_crosses_that_meet(paper: str) -> None:
    drawing = Drawing("Large", 520.0, 430.0)
    drawing.rectangle("cut", 5, 5, 515, 425)
    drawing.words("mark", (10, 10), "ø 520 mm")
    laid = tiling(drawing, paper, 12.0)
    reader = PdfReader(BytesIO(tiled_pdf(drawing, paper, 12.0)))
    assert len(reader.pages) == laid.sheets > 1
    crosses: dict[tuple[float, float], set[int]] = {}
    for number, page in enumerate(reader.pages):
        size = float(page.mediabox.width), float(page.mediabox.height)
        assert sorted(size) == pytest.approx(sorted(PAPERS[paper]), abs=0.01)
        lines = lines_of(page)
        assert any(
            abs(x1 - x0 - 100.0) < 0.01 and abs(y1 - y0) < 1e-6 for x0, y0, x1, y1 in lines
        )  # the ruler
        assert f"sheet {number + 1} of {laid.sheets}" in page.extract_text()
        assert "ø 520 mm" in page.extract_text() or number
        column, row = number % laid.across, number // laid.across
        for x0, y0, x1, y1 in lines:
            if abs(x1 - x0 - 8.0) < 0.01 and abs(y0 - y1) < 1e-6:  # a cross's level stroke
                at = (
                    (x0 + x1) / 2 - 8.0 + column * laid.step_mm[0],
                    y0 - 20.0 + row * laid.step_mm[1],
                )
                crosses.setdefault((round(at[0], 1), round(at[1], 1)), set()).add(number)
    # and it stands in the middle of the overlap, or at the drawing's own edge
    for axis, count in enumerate((laid.across, laid.up)):
        step, field = laid.step_mm[axis], laid.field_mm[axis]
        middles = [n * step + (field - step) / 2 for n in range(1, count)]
        stand = {round(v, 1) for v in (0.0, *middles, (count - 1) * step + field)}
        assert {round(at[axis], 1) for at in crosses} == stand
    # where sheets overlap the same cross stands on each of them
    assert len(crosses) == (laid.across + 1) * (laid.up + 1)
    inner = [pages for pages in crosses.values() if len(pages) > 1]
    assert len(inner) == (laid.across + 1) * (laid.up + 1) - 4
    covered = laid.step_mm[0] * (laid.across - 1) + laid.field_mm[0]
    assert covered >= drawing.width_mm
    small = Drawing("Small", 60.0, 40.0)
    small.rectangle("cut", 4, 6, 55, 38)
    assert tiling(small, paper, 12.0).sheets == 1
    page = PdfReader(BytesIO(tiled_pdf(small, paper, 12.0))).pages[0]
    text = page.get_contents().get_data().decode("latin-1")  # type: ignore[union-attr]
    path = re.search(r"n ([^n]*?) h\s+S", text)
    assert path is not None
    corners = re.findall(r"([\d.]+) ([\d.]+) [ml]", path[1])
    for axis, wanted in enumerate((51.0, 32.0)):
        measured = [float(corner[axis]) * POINT_MM for corner in corners]
        assert max(measured) - min(measured) == pytest.approx(wanted, abs=0.01)


def test_cautions_follow_the_kit_onto_the_sheet() -> None:
    for name, there in ((TRACTOR, True), ("larkholm-mail-bus", False)):
        vehicle = example_vehicle(name)
        text = PdfReader(BytesIO(sheet_pdf(evaluate(vehicle)))).pages[0].extract_text()
        flat = " ".join(text.split())
        assert (tells(flat, "caution.4")) == there
        for caution in cautions_for(vehicle.kit):
            assert caution in flat  # whole, not cut off at the margin
        assert tells(flat, "caution.1")


def test_the_shifters_drawings_are_written_in_every_form() -> None:
    bus = example_vehicle()
    files = drawing_files(bus)
    assert set(files) == {f"detent-strip.{form}" for form in ("svg", "dxf", "stl")}
    strip = detent_strip(bus.lever)
    assert ET.fromstring(files["detent-strip.svg"]).get("width") == f"{strip.width_mm:.3f}mm"
    assert volume_of(files["detent-strip.stl"]) > 0
    drums = apply_edit(bus, Edit.one("", ("shifting", "actuation"), "drum"))
    two = apply_edit(drums, Edit.one("", ("shifting", "drum", "drums"), "odd and even"))
    for vehicle, names in ((drums, ("drum",)), (two, ("drum", "even-drum"))):
        wanted = {f"{name}.{form}" for name in names for form in ("svg", "dxf")}
        assert set(drawing_files(vehicle)) == wanted
    even = drawing_data(two, "even drum", "svg")
    assert even != drawing_data(two, "drum", "svg")
    wrapper = drum_wrapper(drums, 0)
    root = ET.fromstring(drawing_data(drums, "drum", "svg"))
    assert root.get("width") == f"{wrapper.width_mm:.3f}mm"
    assert not ezdxf.read(StringIO(drawing_data(drums, "drum", "dxf").decode())).audit().errors
    pages = PdfReader(BytesIO(drawing_data(drums, "drum", "pdf"))).pages
    assert len(pages) == tiling(wrapper, drums.making.paper, drums.making.overlap_mm).sheets


def test_what_is_not_there_cannot_be_written() -> None:
    tractor = example_vehicle(TRACTOR)
    thick = f"{board_plans(tractor)[0].thick_mm:g}"
    for key, form in (
        ("board 1234 0", "svg"),
        (f"board {thick} 99", "svg"),
        (f"board {thick} 0", "stl"),
        ("fit strip", "stl"),
        ("nothing", "stl"),
    ):
        try:
            data = template_data(tractor, key, form)
        except InputError:
            continue
        assert key == "fit strip"
        assert volume_of(data) > 0
    assert ET.fromstring(template_data(tractor, f"board {thick} 0", "svg")).tag.endswith("svg")
