"""The clutch in section, to scale across, and bars of what it holds against the motor."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.marks import pen
from mild_badger.app.theme.style import Theme, figure_font, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import bare, in_mm, in_n, in_n_mm
from mild_badger.core.mechanisms.clutch.describe import describe_clutch
from mild_badger.core.mechanisms.clutch.grip import ClutchFigures, clutch_figures
from mild_badger.core.mechanisms.clutch.model import Clutch
from mild_badger.core.message import say

__all__ = ["ClutchView"]

EMPTY = say("tab-machine.this-model-has-no-clutch-press-add-clutch-to")
PLATE, RING = 10.0, 5.0
"""Thickness of plates and linings on the screen; only heights are to scale."""


class ClutchView(Canvas):
    """Plates and linings as cut through the middle; below, capacity against stall torque."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-machine.clutch"))
        self.setMinimumSize(320, 280)

    def words(self) -> str:
        return (describe_clutch(self.evaluation.vehicle) if self.evaluation else "") or EMPTY

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        clutch = evaluation.vehicle.clutch
        if clutch is None:
            self.say_instead(painter, EMPTY)
            return
        figures = clutch_figures(clutch)
        bars = 150.0
        self._section(painter, clutch, QRectF(0, 0, self.width(), self.height() - bars))
        room = QRectF(0, self.height() - bars, self.width(), bars)
        self._bars(painter, figures, evaluation.vehicle.motor.shaft_stall_n_mm, room)

    def _section(self, painter: QPainter, clutch: Clutch, room: QRectF) -> None:
        """Cut the clutch through: the motor's plates from outside, the box's from inside."""
        tokens = self.theme.tokens
        scale = (room.height() - 56) / clutch.outer_mm
        y, outer, inner = (
            room.center().y(),
            clutch.outer_mm * scale / 2,
            clutch.inner_mm * scale / 2,
        )
        wide = min(1.0, (room.width() - 290) / ((clutch.faces + 1) * (PLATE + RING)))
        plate, ring = PLATE * wide, RING * wide
        length = (clutch.faces + 1) * plate + clutch.faces * ring
        left = room.center().x() - length / 2
        painter.setPen(pen(tokens.ink, 3))
        painter.drawLine(QPointF(left - 60, y), QPointF(left, y))
        painter.drawLine(QPointF(left + length, y), QPointF(left + length + 60, y))
        x = left
        for number in range(clutch.faces + 1):
            own = number % 2 == 0
            for sign in (-1, 1):
                rim = y - sign * (outer + 6 * own)
                foot = y
                block = QRectF(QPointF(x, rim), QPointF(x + plate, foot)).normalized()
                painter.fillRect(block, tokens.ink if own else tokens.soft)
                if number < clutch.faces:
                    lining = QRectF(
                        QPointF(x + plate, y - sign * outer),
                        QPointF(x + plate + ring, y - sign * inner),
                    )
                    painter.fillRect(lining.normalized(), tokens.run)
            x += plate + ring
        painter.setPen(pen(tokens.run, 2))
        tip = QPointF(left - 4, y - (outer + inner) / 2)
        painter.drawLine(tip - QPointF(44, 0), tip)
        for way in (-5, 5):
            painter.drawLine(tip, tip + QPointF(-9, way))
        painter.setFont(text_font("small"))
        painter.drawText(
            QRectF(tip.x() - 178, tip.y() - 9, 130, 18),
            int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter),
            say("tab-machine.spring", spring_n=in_n(clutch.spring_n)),
        )
        painter.setPen(tokens.soft)
        for words, at, flag in (
            (say("tab-machine.motor"), left - 64, Qt.AlignmentFlag.AlignRight),
            (say("tab-machine.box"), left + length + 64, Qt.AlignmentFlag.AlignLeft),
        ):
            rect = QRectF(at - 80 if flag == Qt.AlignmentFlag.AlignRight else at, y - 9, 80, 18)
            painter.drawText(rect, int(flag | Qt.AlignmentFlag.AlignVCenter), words)
        painter.drawText(
            QRectF(room.left(), room.bottom() - 22, room.width(), 16),
            int(Qt.AlignmentFlag.AlignCenter),
            say(
                "tab-machine.and-heights-to-scale-linings-coloured",
                outer_mm=bare(in_mm(clutch.outer_mm)),
                inner_mm=in_mm(clutch.inner_mm),
            ),
        )

    def _bars(self, painter: QPainter, figures: ClutchFigures, stall: float, room: QRectF) -> None:
        """Draw what it holds as bars, the motor's stall torque as a line through them."""
        tokens = self.theme.tokens
        rows = (
            (say("tab-machine.new-and-stiff"), figures.pressure),
            (say("tab-machine.run-in"), figures.wear),
            ("worn", figures.worn),
        )
        left, right = room.left() + 120, room.right() - 110
        top = max(figures.pressure, stall, 1e-9) * 1.05
        x = left + (right - left) * stall / top
        for number, (words, torque) in enumerate(rows):
            y = room.top() + 22 + number * 32
            bar = QRectF(left, y, max((right - left) * torque / top, 1.0), 16)
            painter.fillRect(bar, tokens.good if torque >= stall else tokens.bad)
            painter.setFont(text_font("small"))
            painter.setPen(tokens.ink)
            painter.drawText(
                QRectF(left - 112, y - 1, 104, 18),
                int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter),
                words,
            )
            painter.setFont(figure_font("tab"))
            painter.drawText(
                QRectF(max(bar.right(), x) + 8, y - 1, 110, 18),
                int(Qt.AlignmentFlag.AlignVCenter),
                in_n_mm(torque, 0),
            )
        painter.setPen(pen(tokens.ink, 1.6))
        painter.drawLine(QPointF(x, room.top() + 14), QPointF(x, room.top() + 112))
        painter.setFont(text_font("small"))
        painter.drawText(
            QRectF(x - 90, room.top() + 116, 180, 16),
            int(Qt.AlignmentFlag.AlignCenter),
            say("tab-machine.the-motor-stalls-at", stall=in_n_mm(stall, 0)),
        )
