"""Small painted things that several screens share: finding marks, arrows, fitted text."""

from math import cos, pi, sin

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QFontMetricsF, QPainter, QPen, QPolygonF

from mild_badger.app.shown import shown
from mild_badger.app.theme.tokens import Tokens
from mild_badger.core.findings.finding import Severity

__all__ = [
    "arc_arrow",
    "elided",
    "finding_mark",
    "nice_step",
    "pen",
    "regular_polygon",
    "severity_color",
    "square_grid",
]


def pen(color: QColor, width: float = 1.0, *, dashed: bool = False) -> QPen:
    """Make a pen with round joins."""
    made = QPen(color, width)
    made.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    made.setCapStyle(Qt.PenCapStyle.RoundCap)
    made.setCosmetic(True)
    if dashed:
        made.setDashPattern([4, 3])
    return made


def severity_color(tokens: Tokens, severity: Severity) -> QColor:
    """Colour of a finding; its shape and word say the same."""
    return {
        Severity.ERROR: tokens.bad,
        Severity.WARNING: tokens.warn,
        Severity.NOTE: tokens.soft,
    }[severity]


def regular_polygon(centre: QPointF, radius: float, sides: int, turn: float = 0.0) -> QPolygonF:
    """Points of a regular polygon."""
    return QPolygonF(
        [
            QPointF(
                centre.x() + radius * sin(turn + 2 * pi * k / sides),
                centre.y() - radius * cos(turn + 2 * pi * k / sides),
            )
            for k in range(sides)
        ]
    )


def finding_mark(
    painter: QPainter, tokens: Tokens, severity: Severity, centre: QPointF, radius: float = 7
) -> None:
    """Octagon for an error, triangle for a warning, ring for a note."""
    painter.save()
    color = severity_color(tokens, severity)
    painter.setPen(pen(color, 1.6))
    painter.setBrush(color if severity is not Severity.NOTE else Qt.BrushStyle.NoBrush)
    if severity is Severity.ERROR:
        painter.drawPolygon(regular_polygon(centre, radius, 8, pi / 8))
    elif severity is Severity.WARNING:
        low = QPointF(centre.x(), centre.y() + radius * 0.15)
        painter.drawPolygon(regular_polygon(low, radius, 3))
    else:
        painter.drawEllipse(centre, radius * 0.75, radius * 0.75)
    painter.restore()


def elided(text: str, font: QFont, width: float) -> str:
    """Shorten a text to a width, with dots at its end."""
    return QFontMetricsF(font).elidedText(shown(text), Qt.TextElideMode.ElideRight, width)


def arc_arrow(
    painter: QPainter, centre: QPointF, radius: float, *, clockwise: bool, middle_deg: float = 90
) -> None:
    """Draw an arc with an arrow head around a centre; angles counter-clockwise from the right."""
    half = 38
    rect = QRectF(centre.x() - radius, centre.y() - radius, 2 * radius, 2 * radius)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawArc(rect, int((middle_deg - half) * 16), int(2 * half * 16))
    end = (middle_deg - half if clockwise else middle_deg + half) * pi / 180
    tip = QPointF(centre.x() + radius * cos(end), centre.y() - radius * sin(end))
    along = end - pi / 2 if clockwise else end + pi / 2
    for spread in (2.62, -2.62):
        painter.drawLine(
            tip,
            QPointF(tip.x() + 7 * cos(along + spread), tip.y() - 7 * sin(along + spread)),
        )


def nice_step(top: float) -> float:
    """Distance of grid lines: 1, 2 or 5 times a power of ten, at most six lines."""
    step = 1.0
    while True:
        for factor in (1, 2, 5):
            if step * factor * 6 >= top:
                return step * factor
        step *= 10


def square_grid(
    painter: QPainter, tokens: Tokens, room: QRectF, origin: QPointF, step: float
) -> None:
    """Draw the squares of a sheet, one corner at an origin, all over a room that starts at 0, 0."""
    painter.setPen(pen(tokens.hair, 0.6))
    x = origin.x() % step
    while x < room.width():
        painter.drawLine(QPointF(x, 0), QPointF(x, room.height()))
        x += step
    y = origin.y() % step
    while y < room.height():
        painter.drawLine(QPointF(0, y), QPointF(room.width(), y))
        y += step
