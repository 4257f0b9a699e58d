"""A vehicle's driven axle seen from above, with the lines that the tyres leave."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPolygonF, QTransform

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.marks import pen
from mild_badger.app.shown import shown
from mild_badger.app.theme.style import Theme, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.lesson.state import Setting
from mild_badger.core.lesson.tyres import TyreLines
from mild_badger.core.message import say

__all__ = ["TyreView"]

BODY = (0.62, 1.9)
"""The vehicle's body by the track: how wide and how long."""
STRAIGHT_MM = 900.0


class TyreView(Canvas):
    """The road from above, the way ahead upwards; dark bars are smears."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("lesson.tyre-lines-from-above"))
        self.setMinimumHeight(120)
        self.lines: TyreLines | None = None
        self.setting = Setting()
        self.corner = False

    def show_lines(
        self, evaluation: Evaluation, lines: TyreLines, setting: Setting, *, corner: bool
    ) -> None:
        """Show where the axle is and what lies behind."""
        self.lines, self.setting, self.corner = lines, setting, corner
        self.show_evaluation(evaluation)

    def words(self) -> str:
        if self.lines is None:
            return ""
        return say("lesson.each-tyre-slides-by", percent=100 * abs(self.lines.slip[0]))

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        lines, setting = self.lines, self.setting
        if lines is None:
            return
        tokens, track = self.theme.tokens, setting.track_mm
        room = QRectF(self.rect()).adjusted(8, 8, -8, -24)
        if self.corner:  # the whole circle
            reach = 2 * (setting.radius_mm + 0.9 * track)
            scale = min(room.width(), room.height()) / reach
            middle = QPointF(-setting.radius_mm, 0.0)
        else:
            scale = min(room.height() / STRAIGHT_MM, room.width() / (2.4 * track))
            middle = QPointF(0.0, lines.at[1] - 0.2 * STRAIGHT_MM)

        def at(x: float, y: float) -> QPointF:
            return room.center() + QPointF((x - middle.x()) * scale, -(y - middle.y()) * scale)

        painter.save()
        painter.setClipRect(room)
        for mark in lines.marks:
            smeared = pen(tokens.bad, max(0.1 * track * scale, 3.0))
            clean = pen(tokens.soft, max(0.07 * track * scale, 1.6))
            for line in (smeared, clean):
                line.setCapStyle(Qt.PenCapStyle.FlatCap)
            painter.setPen(smeared if mark.smeared else clean)
            painter.drawPolyline(QPolygonF([at(x, y) for x, y in mark.points]))
        self._vehicle(painter, at(*lines.at), lines.heading, track * scale)
        painter.restore()
        painter.setFont(text_font("small"))
        painter.setPen(tokens.soft)
        words = shown(self.words() if self.corner else say("lesson.the-tyres-from-above"))
        painter.drawText(QPointF(10, self.height() - 9), words)

    def _vehicle(self, painter: QPainter, at: QPointF, heading: float, track: float) -> None:
        """Draw the body and four wheels, the driven axle where the lines end."""
        tokens = self.theme.tokens
        turn = QTransform()
        turn.translate(at.x(), at.y())
        turn.rotateRadians(heading)
        painter.setTransform(turn, combine=True)
        wide, long = BODY[0] * track, BODY[1] * track
        painter.setPen(pen(tokens.ink, 1.4))
        painter.setBrush(tokens.panel)
        painter.drawRoundedRect(QRectF(-wide / 2, -0.75 * long, wide, long), 3, 3)
        painter.setBrush(tokens.ink)
        for x in (-track / 2, track / 2):
            for y in (0.0, -0.55 * long):
                painter.drawRect(
                    QRectF(x - 0.06 * track, y - 0.15 * track, 0.12 * track, 0.3 * track)
                )
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.resetTransform()
