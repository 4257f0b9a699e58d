"""A small drawing of lines, circles and words, for a file of its own and for a page of the book."""

from collections.abc import Sequence
from dataclasses import dataclass
from html import escape
from math import cos, hypot, radians, sin

from reportlab.lib.colors import HexColor
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from mild_badger.core.palette import PAPER
from mild_badger.core.templates.gear_shape import GearForm, gear_shape

__all__ = ["HIGH", "INK", "RUN", "SMALL", "SOFT", "WIDE", "Point", "Sketch"]

Point = tuple[float, float]
WIDE, HIGH = 320.0, 180.0
INK, SOFT, RUN = PAPER["ink"], PAPER["soft"], PAPER["run"]
SMALL = 12
DASHES = (5, 4)


@dataclass(frozen=True)
class _Stroke:
    points: tuple[Point, ...]
    closed: bool
    color: str
    width: float
    fill: str
    dashed: bool


@dataclass(frozen=True)
class _Circle:
    at: Point
    radius: float
    color: str
    width: float
    fill: str
    dashed: bool


@dataclass(frozen=True)
class _Words:
    at: Point
    text: str
    color: str
    middle: bool


class Sketch:
    """Lines and words in px, the origin left below, y upwards."""

    def __init__(self) -> None:
        self._parts: list[_Stroke | _Circle | _Words] = []

    def line(
        self, *points: Point, color: str = INK, width: float = 1.4, dashed: bool = False
    ) -> None:
        """Draw a line through points."""
        self._parts.append(_Stroke(points, False, color, width, "none", dashed))

    def shape(
        self, points: Sequence[Point], *, color: str = INK, fill: str = "none", width: float = 1.4
    ) -> None:
        """Draw a closed shape."""
        self._parts.append(_Stroke(tuple(points), True, color, width, fill, False))

    def circle(
        self,
        at: Point,
        radius: float,
        *,
        color: str = INK,
        width: float = 1.4,
        fill: str = "none",
        dashed: bool = False,
    ) -> None:
        """Draw a circle."""
        self._parts.append(_Circle(at, radius, color, width, fill, dashed))

    def words(self, at: Point, text: str, *, color: str = INK, middle: bool = True) -> None:
        """Write words, in the middle of a point or from it on."""
        self._parts.append(_Words(at, text, color, middle))

    def arrow(self, start: Point, end: Point, *, both: bool = False, color: str = RUN) -> None:
        """Draw an arrow, or a dimension with a head at either end."""
        self.line(start, end, color=color, width=1.6)
        long = hypot(end[0] - start[0], end[1] - start[1]) or 1.0
        x, y = (end[0] - start[0]) / long, (end[1] - start[1]) / long
        for tip, way in ((end, 1), (start, -1))[: 1 + both]:
            back = tip[0] - 8 * x * way, tip[1] - 8 * y * way
            self.shape(
                (
                    tip,
                    (back[0] - 3.5 * y, back[1] + 3.5 * x),
                    (back[0] + 3.5 * y, back[1] - 3.5 * x),
                ),
                color=color,
                fill=color,
            )

    def gear(self, at: Point, form: GearForm, turned_deg: float = 0.0, color: str = INK) -> None:
        """Draw a gear by its true outline, a px for each mm."""
        turn = radians(turned_deg)
        corners = [
            (
                at[0] + x * cos(turn) - y * sin(turn),
                at[1] + x * sin(turn) + y * cos(turn),
            )
            for x, y in gear_shape(form)
        ]
        self.shape(corners, color=color)

    def svg(self) -> str:
        """Give the file."""
        inside = "\n".join(map(_as_svg, self._parts))
        return (
            f'<svg xmlns="http://www.w3.org/2000/svg" width="{WIDE:.0f}" height="{HIGH:.0f}" '
            f'viewBox="0 0 {WIDE:.0f} {HIGH:.0f}">\n<rect width="{WIDE:.0f}" height="{HIGH:.0f}" '
            f'fill="white"/>\n{inside}\n</svg>\n'
        )

    def draw_on(self, canvas: Canvas, left_mm: float, foot_mm: float, width_mm: float) -> None:
        """Draw on a page, ``width_mm`` wide, its lower left corner measured from the page's."""
        canvas.saveState()
        canvas.translate(left_mm * mm, foot_mm * mm)
        canvas.scale(width_mm * mm / WIDE, width_mm * mm / WIDE)
        for part in self._parts:
            if isinstance(part, _Words):
                canvas.setFont("Text", SMALL)
                canvas.setFillColor(HexColor(part.color))
                write = canvas.drawCentredString if part.middle else canvas.drawString
                write(*part.at, part.text)
                continue
            filled = part.fill != "none"
            canvas.setStrokeColor(HexColor(part.color))
            canvas.setLineWidth(part.width)
            canvas.setDash(*(DASHES if part.dashed else ()))
            if filled:
                canvas.setFillColor(HexColor(part.fill))
            if isinstance(part, _Circle):
                canvas.circle(*part.at, part.radius, fill=int(filled))
                continue
            path = canvas.beginPath()
            path.moveTo(*part.points[0])
            for point in part.points[1:]:
                path.lineTo(*point)
            if part.closed:
                path.close()
            canvas.drawPath(path, fill=int(filled))
        canvas.restoreState()


def _as_svg(part: _Stroke | _Circle | _Words) -> str:
    if isinstance(part, _Words):
        anchor = "middle" if part.middle else "start"
        return (
            f'<text x="{part.at[0]:.1f}" y="{HIGH - part.at[1]:.1f}" '
            f'font-family="B612, sans-serif" font-size="{SMALL}" fill="{part.color}" '
            f'text-anchor="{anchor}">{escape(part.text)}</text>'
        )
    dash = f' stroke-dasharray="{DASHES[0]} {DASHES[1]}"' if part.dashed else ""
    style = f'fill="{part.fill}" stroke="{part.color}" stroke-width="{part.width}"{dash}'
    if isinstance(part, _Circle):
        x, y = part.at[0], HIGH - part.at[1]
        return f'<circle cx="{x:.1f}" cy="{y:.1f}" r="{part.radius:.1f}" {style}/>'
    at = " ".join(f"{x:.1f},{HIGH - y:.1f}" for x, y in part.points)
    return f'<{"polygon" if part.closed else "polyline"} points="{at}" {style}/>'
