"""Pictures on paper: a figure's shapes drawn into a box of a PDF's page, to a scale or to fit."""

from collections.abc import Sequence

from reportlab.lib.colors import HexColor
from reportlab.lib.units import mm
from reportlab.pdfbase.pdfmetrics import stringWidth
from reportlab.pdfgen.canvas import Canvas
from reportlab.pdfgen.pathobject import PDFPathObject

from mild_badger.core.figures import METRIC, UnitChoice, write
from mild_badger.core.palette import PAPER
from mild_badger.core.workshop.figure import Figure, Mark, Words

__all__ = ["draw_figure", "scale_to_fit"]

INK, SOFT, HAIR, RUN, BACK = (
    HexColor(PAPER[name]) for name in ("ink", "soft", "hair", "run", "back")
)
LINES = {
    "there": SOFT,
    "now": RUN,
    "lower": SOFT,
    "ink": INK,
    "soft": SOFT,
    "hair": HAIR,
    "run": RUN,
    "back": BACK,
}
FILLS = {name: HexColor(PAPER[name]) for name in ("there", "now", "lower")}
BEZIER = 0.5522847498
"""Length of a control arm by the radius, for a quarter of a circle."""
LETTERS = (0.15, 0.7)
"""How far letters reach below and above their line, by their size."""
Box = tuple[float, float, float, float]
Bounds = tuple[float, float, float, float]
Place = tuple[float, float, float]
"""To the right and up, mm, and the scale."""


def scale_to_fit(figure: Figure, size_mm: tuple[float, float], *, most: float = 1.0) -> float:
    """Give the largest scale at which a figure goes into a box of paper, never above ``most``."""
    left, low, right, high = figure.box()
    return min(most, size_mm[0] / max(right - left, 1e-6), size_mm[1] / max(high - low, 1e-6))


def draw_figure(
    canvas: Canvas,
    figure: Figure,
    box_mm: Box,
    scale: float,
    *,
    from_left: bool = False,
    units: UnitChoice = METRIC,
) -> None:
    """Draw a figure in a box of the page: left, top from the page's lower edge, width, height.

    It stands in the middle of the box unless it is to begin at its left. Words that would lie over
    others, or the smaller of both, are left out.
    """
    left, top, width, height = box_mm
    a, b, c, d = figure.box()
    dx = left - a * scale if from_left else left + width / 2 - (a + c) / 2 * scale
    dy = top - height / 2 - (b + d) / 2 * scale
    canvas.saveState()
    for mark in figure.marks:
        _mark(canvas, mark, (dx, dy, scale))
    for words in _clear(figure.words, (dx, dy, scale), units):
        canvas.setFillColor(LINES[words.role])
        canvas.setFont("Text", words.size)
        at = (words.at[0] * scale + dx) * mm, (words.at[1] * scale + dy) * mm
        draw = {
            "left": canvas.drawString,
            "right": canvas.drawRightString,
            "centre": canvas.drawCentredString,
        }[words.align]
        draw(*at, write(words.text, units))
    canvas.restoreState()


def _clear(words: Sequence[Words], place: Place, units: UnitChoice) -> list[Words]:
    """Leave out words that lie over others: the larger ones stay, and of alike ones the first."""
    dx, dy, scale = place
    taken: list[Bounds] = []
    kept = []
    for one in sorted(words, key=lambda w: -w.size):
        wide = stringWidth(write(one.text, units), "Text", one.size) / mm
        x, y = one.at[0] * scale + dx, one.at[1] * scale + dy
        left = x - {"left": 0.0, "centre": wide / 2, "right": wide}[one.align]
        high = one.size / mm
        own = (left, y - LETTERS[0] * high, left + wide, y + LETTERS[1] * high)
        if not any(_meet(own, other) for other in taken):
            taken.append(own)
            kept.append(one)
    return kept


def _meet(one: Bounds, other: Bounds) -> bool:
    return one[0] < other[2] and other[0] < one[2] and one[1] < other[3] and other[1] < one[3]


def _mark(canvas: Canvas, mark: Mark, place: tuple[float, float, float]) -> None:
    dx, dy, scale = place
    fill = FILLS.get(mark.role)
    canvas.setStrokeColor(LINES[mark.role])
    canvas.setLineWidth((0.35 if mark.heavy or mark.role == "now" else 0.15) * mm)
    canvas.setDash([1.2 * mm, 0.8 * mm] if mark.dashed else [])
    if fill is not None:
        canvas.setFillColor(fill)
    points = [((x * scale + dx) * mm, (y * scale + dy) * mm) for x, y in mark.points]
    code = (
        _circle(points[0], mark.radius * scale * mm)
        if mark.radius
        else [f"{x:.2f} {y:.2f} {'l' if n else 'm'}" for n, (x, y) in enumerate(points)]
    )
    if mark.closed:
        code.append("h")
    # written out here: the library's own number formatting takes ten times as long
    path = PDFPathObject(code=code)
    filled = int(fill is not None and mark.closed)
    canvas.drawPath(path, stroke=int(not mark.bare), fill=filled)


def _circle(at: tuple[float, float], radius: float) -> list[str]:
    """Write a circle as four Bézier curves."""
    x, y = at
    k = BEZIER * radius
    corners = (
        (radius, k, k, radius, 0, radius),
        (-k, radius, -radius, k, -radius, 0),
        (-radius, -k, -k, -radius, 0, -radius),
        (k, -radius, radius, -k, radius, 0),
    )
    code = [f"{x + radius:.2f} {y:.2f} m"]
    code += [
        f"{x + a:.2f} {y + b:.2f} {x + c:.2f} {y + d:.2f} {x + e:.2f} {y + f:.2f} c"
        for a, b, c, d, e, f in corners
    ]
    return code
