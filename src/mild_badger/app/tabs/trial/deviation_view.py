"""Every reading beside its plan: a point with its error bar about a middle line."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QMouseEvent, QPainter

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.marks import elided, finding_mark, pen
from mild_badger.app.theme.plain_tips import show_tip
from mild_badger.app.theme.style import Theme, figure_font, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.findings.finding import Severity
from mild_badger.core.message import say
from mild_badger.core.trial.compare import Deviation, deviations
from mild_badger.core.words import signed

__all__ = ["DeviationView"]

EMPTY = say("tab-trial.nothing-has-been-read-yet-engage-a-position")
TICK_PX = 40.0
"""How much room the words of one tick take."""
LEFT_PX, RIGHT_PX, TOP_PX, LEAST_STEP_PX, MOST_STEP_PX = 170.0, 112.0, 26.0, 15.0, 30.0


class DeviationView(Canvas):
    """Readings in rows; the scale takes what is off by a little, arrows show what is off by far."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-trial.readings-against-the-plan"))
        self.setMinimumSize(320, 130)
        self.setMouseTracking(True)
        self.rows: tuple[Deviation, ...] = ()

    def show_readings(self, evaluation: Evaluation) -> None:
        """Show the readings of a vehicle."""
        self.rows = deviations(evaluation.vehicle)
        self.show_evaluation(evaluation)

    def words(self) -> str:
        return "; ".join(f"{row.words}: {row.mark}" for row in self.rows) or EMPTY

    def _step(self) -> float:
        room = (self.height() - TOP_PX - 8) / max(len(self.rows), 1)
        return max(LEAST_STEP_PX, min(MOST_STEP_PX, room))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self.rows:
            number = int((event.position().y() - TOP_PX) // self._step())
            words = self.rows[number].words if 0 <= number < len(self.rows) else ""
            show_tip(event.globalPosition().toPoint(), words, self)

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        if not self.rows:
            self.say_instead(painter, EMPTY)
            return
        tokens = self.theme.tokens
        near = [
            abs(row.percent) + (row.spread_percent or 0)
            for row in self.rows
            if row.percent is not None and abs(row.percent) <= 12
        ]
        span = max(2.0, *near) if near else 5.0
        left, right = LEFT_PX, self.width() - RIGHT_PX
        middle = (left + right) / 2
        scale = (right - left) / 2 / span
        step = self._step()
        bottom = TOP_PX + step * len(self.rows)
        painter.setFont(text_font("small"))
        roomy = right - left > 5 * TICK_PX
        for share in (-1.0, -0.5, 0.0, 0.5, 1.0) if roomy else (0.0, 1.0):
            x = middle + share * (right - left) / 2
            painter.setPen(pen(tokens.ink if not share else tokens.hair, 1))
            painter.drawLine(QPointF(x, TOP_PX), QPointF(x, bottom))
            painter.setPen(tokens.soft)
            words = say("tab-trial.planned-2") if not share else f"{signed(share * span, '+.3g')} %"
            painter.drawText(QRectF(x - 40, 4, 80, 18), int(Qt.AlignmentFlag.AlignCenter), words)
        for number, row in enumerate(self.rows):
            self._row(painter, row, TOP_PX + (number + 0.5) * step, (middle, scale, left, right))

    def _row(
        self, painter: QPainter, row: Deviation, y: float, axis: tuple[float, float, float, float]
    ) -> None:
        tokens = self.theme.tokens
        middle, scale, left, right = axis
        color = tokens.soft if row.agrees is None else tokens.good if row.agrees else tokens.bad
        painter.setFont(figure_font("tab"))
        painter.setPen(tokens.ink)
        painter.drawText(QPointF(10, y + 5), row.reading.position)
        painter.setFont(text_font("small"))
        painter.setPen(tokens.soft)
        painter.drawText(QPointF(40, y + 4), elided(row.place, painter.font(), LEFT_PX - 50))
        painter.setPen(color)
        painter.drawText(
            QRectF(right + 22, y - 9, RIGHT_PX - 26, 18),
            int(Qt.AlignmentFlag.AlignVCenter),
            elided(row.mark, painter.font(), RIGHT_PX - 26),
        )
        at = QPointF(right + 12, y)
        if row.agrees is False:
            finding_mark(painter, tokens, Severity.ERROR, at, 6)
        else:
            painter.setPen(pen(color, 1.6))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(at, 4.5, 4.5)
        if row.percent is None:
            return
        x = middle + row.percent * scale
        painter.setPen(pen(color, 1.6))
        painter.setBrush(color)
        if x < left or x > right:
            tip, way = (left, 1) if x < left else (right, -1)
            painter.drawLine(QPointF(tip, y), QPointF(tip + 8 * way, y - 4))
            painter.drawLine(QPointF(tip, y), QPointF(tip + 8 * way, y + 4))
            painter.drawLine(QPointF(tip, y), QPointF(tip + 18 * way, y))
            return
        reach = (row.spread_percent or 0) * scale
        start, end = max(x - reach, left), min(x + reach, right)
        painter.drawLine(QPointF(start, y), QPointF(end, y))
        for edge in (start, end):
            painter.drawLine(QPointF(edge, y - 4), QPointF(edge, y + 4))
        painter.drawEllipse(QPointF(x, y), 3.5, 3.5)
