"""A small chart beside a mechanism: a curve, named levels, and where one stands on it."""

from dataclasses import dataclass, field
from typing import Literal

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPolygonF

from mild_badger.app.drawing.marks import pen
from mild_badger.app.theme.style import text_font
from mild_badger.app.theme.tokens import Tokens
from mild_badger.core.figures import in_mm

__all__ = ["Chart", "Curve", "draw_chart"]

Curve = list[tuple[float, float]]


@dataclass(frozen=True)
class Chart:
    """A curve, where one stands on it, its words, and the levels that are named beside it.

    ``unit`` is that of the axis, mm or °. ``more`` is a second curve, drawn dashed;
    ``dot`` a value where one stands.
    """

    title: str
    unit: Literal["mm", "°"]
    curve: Curve
    at: float
    levels: list[tuple[float, str]]
    more: Curve = field(default_factory=list)
    dot: float | None = None


def draw_chart(painter: QPainter, tokens: Tokens, room: QRectF, chart: Chart) -> None:
    """Draw a curve above its axis, with levels named right and a line where one stands."""
    curve, unit = chart.curve, chart.unit
    box = room.adjusted(20, 24, -86, -24)
    low, high = curve[0][0], curve[-1][0]
    values = [value for _, value in (*curve, *chart.more)] + [chart.dot or 0.0]
    top = max(values, default=0.0) * 1.08 or 1.0
    span = high - low or 1.0

    def spot(x: float, value: float) -> QPointF:
        return QPointF(
            box.left() + box.width() * (x - low) / span, box.bottom() - box.height() * value / top
        )

    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setFont(text_font("small"))
    painter.setPen(tokens.soft)
    painter.drawText(QRectF(box.left(), room.top() + 4, room.width() - 24, 16), 0, chart.title)
    for x in (low, high):
        words = in_mm(x, 0) if unit == "mm" else f"{round(x / 90) * 90}°"
        painter.drawText(
            QRectF(spot(x, 0).x() - 40, box.bottom() + 4, 80, 15),
            int(Qt.AlignmentFlag.AlignCenter),
            words,
        )
    painter.setPen(pen(tokens.hair, 1.2))
    painter.drawLine(box.bottomLeft(), box.bottomRight())
    for value, words in chart.levels:
        painter.setPen(pen(tokens.hair, 1, dashed=True))
        painter.drawLine(spot(low, value), spot(high, value))
        painter.setPen(tokens.ink)
        painter.drawText(
            QRectF(box.right() + 6, spot(low, value).y() - 8, 80, 16),
            int(Qt.AlignmentFlag.AlignVCenter),
            words,
        )
    if chart.more:
        painter.setPen(pen(tokens.soft, 1.2, dashed=True))
        painter.drawPolyline(QPolygonF([spot(x, value) for x, value in chart.more]))
    painter.setPen(pen(tokens.run, 1.8))
    painter.drawPolyline(QPolygonF([spot(x, value) for x, value in curve]))
    painter.setPen(pen(tokens.ink, 1.2))
    painter.drawLine(spot(chart.at, 0), spot(chart.at, top))
    if chart.dot is not None:
        painter.setBrush(tokens.ink)
        painter.drawEllipse(spot(chart.at, chart.dot), 4, 4)
        painter.setBrush(Qt.BrushStyle.NoBrush)
