"""A drawing at true scale as PDF, tiled over as many sheets of paper as it takes.

Neighbouring sheets overlap; crosses stand at the same points of the drawing on each of them, and
every sheet carries a ruler of 100 mm, by which a printer that scales is found out.
"""

import io
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from math import ceil

from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A3, A4, LETTER
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from mild_badger.core.figures import METRIC, UnitChoice, write
from mild_badger.core.message import say
from mild_badger.core.palette import PAPER
from mild_badger.core.publish.fonts import register_fonts
from mild_badger.core.templates.drawing import STYLES, Drawing
from mild_badger.core.units import MM_PER_INCH
from mild_badger.version import __version__

__all__ = ["PAPERS", "Tiling", "draw_tiles", "field_of", "sheets_pdf", "tiled_pdf", "tiling"]

PAPERS = {"A4": A4, "A3": A3, "Letter": LETTER}
EDGE_MM = 8.0
"""What most printers leave blank at a sheet's edge (common practice, no source)."""
FOOT_MM = 12.0
RULER_MM = 100.0
RULER_INCHES = 4
CROSS_MM = 4.0


@dataclass(frozen=True)
class Tiling:
    """Sheets across and up; the paper's size, and the drawing's part on a sheet, in mm."""

    across: int
    up: int
    paper_mm: tuple[float, float]
    field_mm: tuple[float, float]
    step_mm: tuple[float, float]

    @property
    def sheets(self) -> int:
        """How many sheets it takes."""
        return self.across * self.up


def field_of(paper: str) -> tuple[float, float]:
    """Give how wide and high a drawing may be on one upright sheet, mm."""
    wide, high = (length / mm for length in PAPERS[paper])
    return _field((wide, high))


def _field(paper_mm: tuple[float, float]) -> tuple[float, float]:
    return paper_mm[0] - 2 * EDGE_MM, paper_mm[1] - 2 * EDGE_MM - FOOT_MM


def tiling(drawing: Drawing, paper: str, overlap_mm: float) -> Tiling:
    """Find how a drawing is laid over sheets, upright or lying, whichever takes fewer."""
    wide, high = (length / mm for length in PAPERS[paper])
    tiles = []
    for size in ((wide, high), (high, wide)):
        field = _field(size)
        step = field[0] - overlap_mm, field[1] - overlap_mm
        across = _count(drawing.width_mm, field[0], step[0])
        up = _count(drawing.height_mm, field[1], step[1])
        tiles.append(Tiling(across, up, size, field, step))
    return min(tiles, key=lambda t: t.sheets)


def _count(length: float, field: float, step: float) -> int:
    return 1 if length <= field else 1 + ceil((length - field) / step - 1e-9)


def draw_tiles(
    canvas: Canvas,
    drawing: Drawing,
    paper: str,
    overlap_mm: float,
    begin: Callable[[], None],
    *,
    units: UnitChoice = METRIC,
) -> None:
    """Draw a drawing's sheets into a document; ``begin`` is called before each."""
    laid = tiling(drawing, paper, overlap_mm)
    for row in range(laid.up):
        for column in range(laid.across):
            begin()
            canvas.setPageSize((laid.paper_mm[0] * mm, laid.paper_mm[1] * mm))
            _sheet(canvas, drawing, laid, (column, row), units)


def tiled_pdf(
    drawing: Drawing,
    paper: str = "A4",
    overlap_mm: float = 10.0,
    *,
    units: UnitChoice = METRIC,
) -> bytes:
    """Write a drawing over sheets of paper at true scale."""
    return sheets_pdf((drawing,), write(drawing.title, units), paper, overlap_mm, units=units)


def sheets_pdf(
    drawings: Sequence[Drawing],
    title: str,
    paper: str = "A4",
    overlap_mm: float = 10.0,
    *,
    units: UnitChoice = METRIC,
) -> bytes:
    """Write drawings one after another, each over as many sheets as it takes, at true scale."""
    register_fonts()
    stream = io.BytesIO()
    canvas = Canvas(stream, pagesize=PAPERS[paper], invariant=1)
    canvas.setTitle(title)
    canvas.setCreator(f"Mild Badger {__version__}")
    begun = False

    def begin() -> None:
        nonlocal begun
        if begun:
            canvas.showPage()
        begun = True

    for drawing in drawings:
        draw_tiles(canvas, drawing, paper, overlap_mm, begin, units=units)
    canvas.showPage()
    canvas.save()
    return stream.getvalue()


def _sheet(
    canvas: Canvas, drawing: Drawing, laid: Tiling, place: tuple[int, int], units: UnitChoice
) -> None:
    column, row = place
    wide, high = laid.field_mm
    origin = column * laid.step_mm[0], row * laid.step_mm[1]
    dx, dy = EDGE_MM - origin[0], EDGE_MM + FOOT_MM - origin[1]
    canvas.saveState()
    edge = canvas.beginPath()
    edge.rect(EDGE_MM * mm, (EDGE_MM + FOOT_MM) * mm, wide * mm, high * mm)
    canvas.clipPath(edge, stroke=0, fill=0)
    canvas.translate(dx * mm, dy * mm)
    window = (*origin, origin[0] + wide, origin[1] + high)
    last = column + 1 == laid.across, row + 1 == laid.up
    shared = tuple(
        0.0 if end else field - step
        for end, field, step in zip(last, laid.field_mm, laid.step_mm, strict=True)
    )
    _draw(canvas, drawing, units, window, shared)
    canvas.restoreState()
    canvas.setStrokeColor(HexColor(PAPER["cross"]))
    canvas.setLineWidth(0.15 * mm)
    for x, y in _crosses(laid, place):
        at = (x + dx) * mm, (y + dy) * mm
        canvas.line(at[0] - CROSS_MM * mm, at[1], at[0] + CROSS_MM * mm, at[1])
        canvas.line(at[0], at[1] - CROSS_MM * mm, at[0], at[1] + CROSS_MM * mm)
    _foot(canvas, drawing, laid, place, units)


def _crosses(laid: Tiling, place: tuple[int, int]) -> list[tuple[float, float]]:
    """Give the crosses on a sheet: in the middle of each overlap, where four strips meet too."""
    across, up = (
        [0.0, *(n * step + (field - step) / 2 for n in range(1, count)), (count - 1) * step + field]
        for count, step, field in zip(
            (laid.across, laid.up), laid.step_mm, laid.field_mm, strict=True
        )
    )
    column, row = place
    return [(x, y) for x in across[column : column + 2] for y in up[row : row + 2]]


def _draw(
    canvas: Canvas,
    drawing: Drawing,
    units: UnitChoice,
    window: tuple[float, float, float, float],
    shared: tuple[float, ...],
) -> None:
    """Draw what a sheet's window shows; ``shared`` is what the next sheets show of it too."""
    left, low, right, high = window
    canvas.setLineWidth(0.1 * mm)
    for stroke in drawing.strokes:
        canvas.setStrokeColor(HexColor(STYLES[stroke.layer][0]))
        path = canvas.beginPath()
        path.moveTo(stroke.points[0][0] * mm, stroke.points[0][1] * mm)
        for x, y in stroke.points[1:]:
            path.lineTo(x * mm, y * mm)
        if stroke.closed:
            path.close()
        canvas.drawPath(path, stroke=1, fill=0)
    for ring in drawing.rounds:
        canvas.setStrokeColor(HexColor(STYLES[ring.layer][0]))
        canvas.circle(ring.at[0] * mm, ring.at[1] * mm, ring.radius_mm * mm, stroke=1, fill=0)
    for label in drawing.labels:
        if not (left <= label.at[0] <= right and low <= label.at[1] <= high):
            continue  # it stands on another sheet
        words, size = write(label.text, units), label.height_mm * mm * 1.2
        long = canvas.stringWidth(words, "Text", size) / mm
        start, end = (label.at[1], high) if label.upright else (label.at[0], right)
        over = start + long - end
        if over > 0.0 and start >= end - shared[label.upright]:
            continue  # the next sheet has room for all of it
        back = max(over, 0.0)
        x, y = label.at[0] - (0.0 if label.upright else back), label.at[1]
        canvas.setFillColor(HexColor(STYLES[label.layer][0]))
        canvas.saveState()
        canvas.translate(x * mm, (y - (back if label.upright else 0.0)) * mm)
        if label.upright:
            canvas.rotate(90)
        canvas.setFont("Text", size)
        canvas.drawString(0, 0, words)
        canvas.restoreState()


def _foot(
    canvas: Canvas, drawing: Drawing, laid: Tiling, place: tuple[int, int], units: UnitChoice
) -> None:
    """Draw the rulers, 100 mm above and 4 in below a line, and say which sheet this is.

    Sheets are counted from the lower left.
    """
    y = EDGE_MM + 3
    canvas.setStrokeColor(HexColor(PAPER["ruler"]))
    canvas.setFillColor(HexColor(PAPER["ruler"]))
    canvas.line(EDGE_MM * mm, y * mm, (EDGE_MM + RULER_MM) * mm, y * mm)
    for tick in range(11):
        x = (EDGE_MM + tick * RULER_MM / 10) * mm
        canvas.line(x, y * mm, x, (y + (3 if tick % 5 == 0 else 1.5)) * mm)
    canvas.line(EDGE_MM * mm, y * mm, (EDGE_MM + RULER_INCHES * MM_PER_INCH) * mm, y * mm)
    for tick in range(2 * RULER_INCHES + 1):
        x = (EDGE_MM + tick * MM_PER_INCH / 2) * mm
        canvas.line(x, y * mm, x, (y - (2 if tick % 2 == 0 else 1)) * mm)
    canvas.setFont("Text", 7)
    words = say("publish.100-mm-above-4-in-below-measure-before-you")
    canvas.drawString(EDGE_MM * mm, (y - 4.8) * mm, words)
    column, row = place
    lines = [write(drawing.title, units)]
    if laid.sheets > 1:
        lines.append(
            say(
                "publish.sheet-of-column-row-from-below-lay-cross-on",
                row=row * laid.across + column + 1,
                sheets=laid.sheets,
                column=column + 1,
                row_2=row + 1,
            )
        )
    room = laid.paper_mm[0] - 2 * EDGE_MM - RULER_MM - 6
    for number, line in enumerate(lines):
        size = 7.0
        while size > 4 and canvas.stringWidth(line, "Text", size) > room * mm:
            size -= 0.25
        canvas.setFont("Text", size)
        canvas.drawRightString((laid.paper_mm[0] - EDGE_MM) * mm, (y - 3.2 * number) * mm, line)
