"""A drawing at true scale: lines and words on layers, in mm, written as SVG or DXF.

The origin is the lower left corner, y upwards, as on a DXF sheet. Layers say what a machine does
with a line: ``cut`` through, ``engrave`` a line, ``mark`` words and aids.
"""

from collections.abc import Iterable
from dataclasses import dataclass, field
from html import escape
from io import StringIO
from typing import Literal

from mild_badger.core.figures import METRIC, UnitChoice, write
from mild_badger.core.palette import CUTTER
from mild_badger.core.units import MM_PER_INCH

__all__ = ["STYLES", "Drawing", "Label", "Layer", "Round", "Stroke", "to_dxf", "to_svg"]

Layer = Literal["cut", "engrave", "mark"]
Point = tuple[float, float]

STYLES: dict[Layer, tuple[str, int]] = {
    "cut": (CUTTER["cut"], 1),
    "engrave": (CUTTER["engrave"], 5),
    "mark": (CUTTER["mark"], 7),
}
"""Colour in SVG and AutoCAD colour index in DXF; layers are told apart by name as well."""


@dataclass(frozen=True)
class Stroke:
    """A line through points, closed or open."""

    layer: Layer
    points: tuple[Point, ...]
    closed: bool = False


@dataclass(frozen=True)
class Round:
    """A full circle."""

    layer: Layer
    at: Point
    radius_mm: float


@dataclass(frozen=True)
class Label:
    """Words from a point to the right, or turned by 90° upwards."""

    layer: Layer
    at: Point
    text: str
    height_mm: float = 3.0
    upright: bool = False


@dataclass
class Drawing:
    """A sheet that is filled line by line."""

    title: str
    width_mm: float
    height_mm: float
    strokes: list[Stroke] = field(default_factory=list)
    rounds: list[Round] = field(default_factory=list)
    labels: list[Label] = field(default_factory=list)

    def line(self, layer: Layer, *points: Point) -> None:
        """Draw an open line."""
        self.strokes.append(Stroke(layer, points))

    def outline(self, layer: Layer, points: Iterable[Point]) -> None:
        """Draw a closed line; its last point need not be its first."""
        corners = tuple(points)
        if len(corners) > 1 and corners[0] == corners[-1]:
            corners = corners[:-1]
        self.strokes.append(Stroke(layer, corners, closed=True))

    def rectangle(self, layer: Layer, left: float, low: float, right: float, high: float) -> None:
        """Draw a rectangle."""
        self.outline(layer, ((left, low), (right, low), (right, high), (left, high)))

    def circle(self, layer: Layer, at: Point, radius_mm: float) -> None:
        """Draw a circle."""
        self.rounds.append(Round(layer, at, radius_mm))

    def words(
        self, layer: Layer, at: Point, text: str, *, height_mm: float = 3.0, upright: bool = False
    ) -> None:
        """Write words."""
        self.labels.append(Label(layer, at, text, height_mm, upright))


def to_svg(drawing: Drawing, units: UnitChoice = METRIC) -> str:
    """Write a drawing as SVG whose user unit is the millimetre; its words name other units."""
    wide, high = drawing.width_mm, drawing.height_mm
    out = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:.3f}mm" height="{high:.3f}mm" '
        f'viewBox="0 0 {wide:.3f} {high:.3f}">',
        f"<title>{escape(write(drawing.title, units))}</title>",
    ]
    for layer, (color, _) in STYLES.items():
        out.append(f'<g id="{layer}" fill="none" stroke="{color}" stroke-width="0.1">')
        for stroke in drawing.strokes:
            if stroke.layer == layer:
                points = " ".join(f"{x:.4f},{high - y:.4f}" for x, y in stroke.points)
                out.append(f'<{"polygon" if stroke.closed else "polyline"} points="{points}"/>')
        for ring in drawing.rounds:
            if ring.layer == layer:
                out.append(
                    f'<circle cx="{ring.at[0]:.4f}" cy="{high - ring.at[1]:.4f}" '
                    f'r="{ring.radius_mm:.4f}"/>'
                )
        for label in drawing.labels:
            if label.layer == layer:
                x, y = label.at[0], high - label.at[1]
                turn = f' transform="rotate(-90 {x:.3f} {y:.3f})"' if label.upright else ""
                out.append(
                    f'<text x="{x:.3f}" y="{y:.3f}" font-size="{label.height_mm:.2f}" '
                    f'font-family="sans-serif" stroke="none" fill="{color}"{turn}>'
                    f"{escape(write(label.text, units))}</text>"
                )
        out.append("</g>")
    out.append("</svg>\n")
    return "\n".join(out)


def to_dxf(drawing: Drawing, shown_in: UnitChoice = METRIC, *, inches: bool = False) -> str:
    """Write a drawing as DXF R2010 on layers ``cut``, ``engrave`` and ``mark``.

    Its header says mm, or inches where those are asked for ($INSUNITS 4 and 1, $MEASUREMENT 1 and
    0, DXF reference).
    """
    # Loaded when the first drawing is written, not at every start.
    import ezdxf  # noqa: PLC0415
    from ezdxf import units  # noqa: PLC0415

    document = ezdxf.new("R2010", units=units.IN if inches else units.MM)
    document.header["$MEASUREMENT"] = 0 if inches else 1
    one = 1 / MM_PER_INCH if inches else 1.0
    for layer, (_, color) in STYLES.items():
        document.layers.add(layer, color=color)
    space = document.modelspace()
    for stroke in drawing.strokes:
        points = [(x * one, y * one) for x, y in stroke.points]
        space.add_lwpolyline(points, close=stroke.closed, dxfattribs={"layer": stroke.layer})
    for ring in drawing.rounds:
        at = (ring.at[0] * one, ring.at[1] * one)
        space.add_circle(at, ring.radius_mm * one, dxfattribs={"layer": ring.layer})
    for label in drawing.labels:
        space.add_text(
            write(label.text, shown_in),
            height=label.height_mm * one,
            rotation=90 if label.upright else 0,
            dxfattribs={"layer": label.layer, "insert": (label.at[0] * one, label.at[1] * one)},
        )
    stream = StringIO()
    document.write(stream)
    return stream.getvalue()
