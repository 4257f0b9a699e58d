"""The cylinders of a liquid line to scale: how far each piston goes, and how far it should."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.marks import pen
from mild_badger.app.theme.style import Theme, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import in_mm, in_n
from mild_badger.core.mechanisms.liquid.describe import describe_liquid
from mild_badger.core.mechanisms.liquid.model import LiquidLine
from mild_badger.core.mechanisms.liquid.needs import needed_mm
from mild_badger.core.mechanisms.liquid.pressure import LiquidFigures, liquid_figures
from mild_badger.core.message import say

__all__ = ["LiquidView"]

EMPTY = say("tab-machine.this-model-has-no-liquid-line-press-add")
MOST_SHOWN = 3
"""Slaves are all alike: of more than so many the rest are only said."""
CENTRE = int(Qt.AlignmentFlag.AlignCenter)


class LiquidView(Canvas):
    """The pedal is down: filled is the liquid moved, the line across is where it should come to."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-machine.liquid-line"))
        self.setMinimumSize(320, 210)

        self.selected = 0

    def show_line(self, evaluation: Evaluation, number: int) -> None:
        """Show one of a vehicle's lines."""
        self.selected = number
        self.show_evaluation(evaluation)

    def line(self) -> LiquidLine | None:
        """Give the line in view; None where there is none."""
        lines = self.evaluation.vehicle.hydraulic_lines if self.evaluation is not None else ()
        return lines[self.selected] if self.selected < len(lines) else None

    def words(self) -> str:
        line = self.line()
        if line is None or self.evaluation is None:
            return EMPTY
        return describe_liquid(self.evaluation.vehicle, line)

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        line = self.line()
        if line is None:
            self.say_instead(painter, EMPTY)
            return
        figures, needed = liquid_figures(line), needed_mm(evaluation.vehicle, line)
        reach = max(figures.master_stroke, figures.travel, needed, 1e-6)
        shown = min(line.slaves, MOST_SHOWN)
        across = line.master_mm + shown * line.slave_mm
        room = self.width() - 110 - 40 * shown
        scale = min(room / across, (self.height() - 150) / reach, 14.0)
        self._master(painter, line, figures, scale)
        self._slaves(painter, line, figures, needed, scale)

    def _cylinder(self, painter: QPainter, box: QRectF, filled: float) -> None:
        """Draw a bore from its foot up, with so much liquid in it."""
        tokens = self.theme.tokens
        painter.fillRect(
            QRectF(box.left(), box.bottom() - filled, box.width(), filled), tokens.run_wash
        )
        painter.setPen(pen(tokens.ink, 1.6))
        for x in (box.left(), box.right()):
            painter.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom()))
        painter.drawLine(box.bottomLeft(), box.bottomRight())
        painter.fillRect(
            QRectF(box.left() + 1, box.bottom() - filled - 8, box.width() - 2, 8), tokens.ink
        )

    def _foot(self) -> float:
        return self.height() - 78.0

    def _master(
        self, painter: QPainter, line: LiquidLine, figures: LiquidFigures, scale: float
    ) -> None:
        tokens, foot = self.theme.tokens, self._foot()
        wide, stroke = line.master_mm * scale, figures.master_stroke * scale
        box = QRectF(50, foot - stroke - 16, wide, stroke + 16)
        self._cylinder(painter, box, 2)
        x = box.center().x()
        painter.setPen(pen(tokens.run, 2))
        top = foot - stroke - 58
        painter.drawLine(QPointF(x, top), QPointF(x, foot - 12))
        for way in (-5, 5):
            painter.drawLine(QPointF(x, foot - 12), QPointF(x + way, foot - 22))
        painter.setFont(text_font("small"))
        painter.drawText(QRectF(x - 70, top - 18, 140, 16), CENTRE, in_n(figures.master_n, 1))
        painter.setPen(tokens.ink)
        painter.drawText(QRectF(x - 70, foot + 26, 140, 16), CENTRE, say("tab-machine.master"))
        painter.setPen(tokens.soft)
        painter.drawText(
            QRectF(x - 70, foot + 42, 140, 16), CENTRE, in_mm(figures.master_stroke, 1)
        )
        painter.setPen(pen(tokens.run, 3))
        painter.drawLine(QPointF(x, foot), QPointF(x, foot + 18))

    def _slaves(
        self,
        painter: QPainter,
        line: LiquidLine,
        figures: LiquidFigures,
        needed: float,
        scale: float,
    ) -> None:
        tokens, foot = self.theme.tokens, self._foot()
        wide = line.slave_mm * scale
        start = 64 + line.master_mm * scale
        shown = min(line.slaves, MOST_SHOWN)
        step = (self.width() - start - 20) / shown
        enough = figures.travel >= needed
        names = [say("tab-machine.slave", n=n + 1) for n in range(shown)]
        if line.slaves > shown:
            names[-1] = say("tab-machine.more-alike", slaves=line.slaves - shown + 1)
        painter.setPen(pen(tokens.run, 3))
        last = start + (shown - 0.5) * step
        painter.drawLine(
            QPointF(50 + line.master_mm * scale / 2, foot + 18), QPointF(last, foot + 18)
        )
        for number in range(shown):
            x = start + (number + 0.5) * step
            painter.setPen(pen(tokens.run, 3))
            painter.drawLine(QPointF(x, foot), QPointF(x, foot + 18))
            high = max(figures.travel, needed) * scale + 20
            self._cylinder(
                painter, QRectF(x - wide / 2, foot - high, wide, high), figures.travel * scale
            )
            y = foot - needed * scale
            painter.setPen(pen(tokens.good if enough else tokens.bad, 2, dashed=True))
            painter.drawLine(QPointF(x - wide / 2 - 8, y), QPointF(x + wide / 2 + 8, y))
            painter.setFont(text_font("small"))
            painter.setPen(tokens.ink)
            painter.drawText(
                QRectF(x - step / 2, foot - high - 22, step, 16),
                CENTRE,
                in_n(figures.slave_n, 1),
            )
            painter.drawText(QRectF(x - step / 2, foot + 26, step, 16), CENTRE, names[number])
            painter.setPen(tokens.good if enough else tokens.bad)
            painter.drawText(
                QRectF(x - step / 2, foot + 42, step, 16), CENTRE, in_mm(figures.travel, 2)
            )
        painter.setPen(tokens.soft)
        painter.drawText(
            QRectF(0, self.height() - 20, self.width(), 16),
            CENTRE,
            say("tab-machine.bores-and-travels-to-scale-dashed-the-that", needed=in_mm(needed, 2)),
        )
