"""A template as it will be cut, fitted into the view, with the sheets of paper it takes."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPolygonF

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.marks import pen
from mild_badger.app.shown import shown, units_in_force
from mild_badger.app.theme.style import Theme, figure_font, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import in_mm, ruler_mm
from mild_badger.core.message import say
from mild_badger.core.publish.tiles import Tiling
from mild_badger.core.templates.drawing import Drawing, Layer
from mild_badger.core.words import word

__all__ = ["TemplateView"]

FOOT_PX = 34


class TemplateView(Canvas):
    """Cut lines strong, engraved ones in blue, marks soft; sheets of paper dashed behind."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-workshop.template"))
        self.setMinimumSize(150, 200)
        self.drawing: Drawing | None = None
        self.laid: Tiling | None = None
        self.trouble = ""

    def show_drawing(
        self, evaluation: Evaluation, drawing: Drawing | None, laid: Tiling | None, trouble: str
    ) -> None:
        """Show a drawing on its sheets, or say why there is none."""
        self.drawing, self.laid, self.trouble = drawing, laid, trouble
        self.show_evaluation(evaluation)

    def words(self) -> str:
        if self.drawing is None:
            return self.trouble
        return "; ".join(label.text for label in self.drawing.labels if label.layer == "mark")

    def color(self, layer: Layer) -> QColor:
        """Colour of a layer's lines on the screen."""
        tokens = self.theme.tokens
        return {"cut": tokens.ink, "engrave": tokens.back, "mark": tokens.soft}[layer]

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        drawing, laid = self.drawing, self.laid
        if drawing is None or laid is None:
            self.say_instead(painter, self.trouble)
            return
        room = QRectF(self.rect()).adjusted(16, 16, -16, -FOOT_PX)
        scale = min(room.width() / drawing.width_mm, room.height() / drawing.height_mm, 12.0)
        corner = room.center() - QPointF(drawing.width_mm, -drawing.height_mm) * scale / 2

        def at(point: tuple[float, float]) -> QPointF:
            return corner + QPointF(point[0], -point[1]) * scale

        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setClipRect(self.rect())
        if laid.sheets > 1:
            painter.setPen(pen(self.theme.tokens.hair, 1, dashed=True))
            for n in range(laid.sheets):
                column, row = n % laid.across, n // laid.across
                low = column * laid.step_mm[0], row * laid.step_mm[1]
                high = low[0] + laid.field_mm[0], low[1] + laid.field_mm[1]
                painter.drawRect(QRectF(at(low), at(high)).normalized())
        for stroke in drawing.strokes:
            painter.setPen(pen(self.color(stroke.layer), 1.4 if stroke.layer == "cut" else 1.0))
            points = QPolygonF([at(point) for point in stroke.points])
            (painter.drawPolygon if stroke.closed else painter.drawPolyline)(points)
        for ring in drawing.rounds:
            painter.setPen(
                pen(
                    self.color(ring.layer),
                    1.4 if ring.layer == "cut" else 1.0,
                    dashed=ring.layer == "mark",
                )
            )
            painter.drawEllipse(at(ring.at), ring.radius_mm * scale, ring.radius_mm * scale)
        for label in drawing.labels:
            font = text_font("small")
            font.setPixelSize(max(round(label.height_mm * scale * 1.2), 6))
            painter.setFont(font)
            painter.setPen(self.color(label.layer))
            painter.save()
            painter.translate(at(label.at))
            if label.upright:
                painter.rotate(-90)
            painter.drawText(QPointF(0, 0), label.text)
            painter.restore()
        self._legend(painter, scale)

    def _legend(self, painter: QPainter, scale: float) -> None:
        """Draw what the lines mean, and a length to compare with."""
        painter.setFont(figure_font("small"))
        x, y = 14.0, self.height() - 12.0
        layers: tuple[Layer, ...] = ("cut", "engrave", "mark")
        for layer in layers:
            painter.setPen(pen(self.color(layer), 2))
            painter.drawLine(QPointF(x, y - 4), QPointF(x + 18, y - 4))
            painter.drawText(QPointF(x + 24, y), word(layer))
            x += 40 + painter.fontMetrics().horizontalAdvance(word(layer))
        right = self.width() - 14.0
        if right - x < 40:
            return  # no room for a ruler that says anything
        length = ruler_mm((right - x - 8) / scale, units_in_force())
        painter.setPen(pen(self.theme.tokens.ink, 1.4))
        painter.drawLine(QPointF(right - length * scale, y), QPointF(right, y))
        for end in (right - length * scale, right):
            painter.drawLine(QPointF(end, y - 4), QPointF(end, y))
        words = shown(in_mm(length))
        long = painter.fontMetrics().horizontalAdvance(words)
        painter.drawText(QPointF(right - length * scale / 2 - long / 2, y - 5), words)
