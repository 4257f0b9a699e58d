"""Every cable from the hand lever over its levers to its end, to scale."""

from math import cos, radians, sin

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.marks import elided, pen
from mild_badger.app.theme.style import Theme, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import bare, in_mm
from mild_badger.core.mechanisms.cables.describe import describe_cables
from mild_badger.core.mechanisms.cables.model import CableRun, Cables
from mild_badger.core.mechanisms.cables.travel import RunFigures, leans_deg, run_figures
from mild_badger.core.message import say

__all__ = ["CablesView"]

EMPTY = say("tab-machine.this-model-has-no-cables-press-add-cables-to")
ROW_PX, PAD_PX, END_PX = 118.0, 12.0, 150.0
LEFT = int(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
Arm = tuple[tuple[float, ...], tuple[int, ...], float]
"""A lever's holes, the numbers of those in use, and how far it has swung from its middle, °."""


class CablesView(Canvas):
    """A line a cable: filled holes are in use, the bar is the end's travel, dashed what is wanted.

    Signals
    -------
    chosen : the number of the cable that was pressed
    """

    chosen = pyqtSignal(int)

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-machine.cables"))
        self.selected, self.share = 0, 1.0

    def show_cables(self, evaluation: Evaluation, selected: int) -> None:
        """Show a vehicle's cables, one of them chosen."""
        self.selected = selected
        cables = evaluation.vehicle.cables
        count = len(cables.runs) if cables is not None else 1
        self.setMinimumHeight(int(max(count * ROW_PX + 8, 150)))
        self.show_evaluation(evaluation)

    def throw(self, share: float) -> None:
        """Throw the hand lever over by a share of its stroke."""
        self.share = share
        self.update()

    def words(self) -> str:
        return (describe_cables(self.evaluation.vehicle) if self.evaluation else "") or EMPTY

    def row_at(self, number: int) -> QPointF:
        """Give where a cable's line is."""
        return QPointF(30, 4 + (number + 0.5) * ROW_PX)

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        cables = evaluation.vehicle.cables
        if cables is None or not cables.runs:
            self.say_instead(painter, EMPTY)
            return
        longest = max(
            (
                cables.hand_mm,
                *cables.holes_mm,
                *(mm for run in cables.runs for lever in run.levers for mm in lever.holes_mm),
            )
        )
        scale = (ROW_PX - 40) / longest
        for number, run in enumerate(cables.runs):
            box = QRectF(4, 4 + number * ROW_PX, self.width() - 8, ROW_PX)
            self._row(painter, cables, run, box, scale, chosen=number == self.selected)

    def _row(
        self,
        painter: QPainter,
        cables: Cables,
        run: CableRun,
        box: QRectF,
        scale: float,
        *,
        chosen: bool,
    ) -> None:
        tokens = self.theme.tokens
        if chosen:
            painter.fillRect(box, tokens.run_wash)
            painter.fillRect(QRectF(box.left(), box.top(), 3, box.height()), tokens.run)
        painter.setPen(pen(tokens.hair))
        painter.drawLine(box.bottomLeft(), box.bottomRight())
        whole, now = run_figures(cables, run), run_figures(cables, run, self.share)
        leans = leans_deg(cables, run, self.share)
        arms: list[Arm] = [(cables.holes_mm, (run.from_hole,), leans[0])]
        for number, lever in enumerate(run.levers, start=1):
            arms.append((lever.holes_mm, (lever.takes, lever.gives), leans[number]))
        step = (box.width() - END_PX - 60) / len(arms)
        foot = box.bottom() - 12
        last: QPointF | None = None
        for number, (holes, used, swing) in enumerate(arms):
            pivot = QPointF(box.left() + 48 + step * number, foot)
            turn = radians(swing)

            def at(mm: float, pivot: QPointF = pivot, turn: float = turn) -> QPointF:
                return QPointF(
                    pivot.x() + scale * mm * sin(turn), pivot.y() - scale * mm * cos(turn)
                )

            if last is not None:
                painter.setPen(pen(tokens.run, 1.6))
                painter.drawLine(last, at(holes[used[0] - 1]))
            painter.setPen(pen(tokens.ink, 3.0))
            painter.drawLine(pivot, at(max((*holes, cables.hand_mm) if number == 0 else holes)))
            painter.setPen(pen(tokens.ink, 1.2))
            for place, mm in enumerate(holes, start=1):
                painter.setBrush(tokens.run if place in used else tokens.paper)
                painter.drawEllipse(at(mm), 3.6, 3.6)
            painter.setBrush(tokens.paper)
            painter.drawRect(QRectF(pivot.x() - 4, pivot.y() - 4, 8, 8))
            last = at(holes[used[-1] - 1])
        if last is not None:
            painter.setPen(pen(tokens.run, 1.6))
            painter.drawLine(last, QPointF(box.right() - END_PX + 12, box.top() + 44))
        self._end(painter, (whole, now), box, scale)

    def _end(
        self, painter: QPainter, figures: tuple[RunFigures, RunFigures], box: QRectF, scale: float
    ) -> None:
        """Draw the end's travel as a bar to scale, and what is wanted of it."""
        whole, now = figures
        tokens, run = self.theme.tokens, whole.run
        left, y = box.right() - END_PX + 12, box.top() + 44
        room = END_PX - 24
        fit = min(scale, room / max(whole.travel, run.wanted_mm, 1e-6))
        painter.fillRect(QRectF(left, y - 5, now.travel * fit, 10), tokens.run)
        painter.setPen(pen(tokens.soft, 1.0))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(QRectF(left, y - 5, whole.travel * fit, 10))
        painter.setPen(pen(tokens.ink, 1.6, dashed=True))
        wanted = left + run.wanted_mm * fit
        painter.drawLine(QPointF(wanted, y - 12), QPointF(wanted, y + 12))
        bold, small = text_font(bold=True), text_font("small")
        painter.setFont(bold)
        painter.setPen(tokens.ink)
        painter.drawText(QRectF(left, box.top() + 6, room, 18), LEFT, elided(run.name, bold, room))
        painter.setFont(small)
        painter.setPen(tokens.bad if whole.jams else tokens.soft)
        lines = (
            (say("tab-machine.jams", jams=whole.jams),)
            if whole.jams
            else (
                say(
                    "tab-machine.of",
                    travel=bare(in_mm(now.travel, 1)),
                    travel_2=in_mm(whole.travel, 1),
                ),
                say(
                    "tab-machine.wanted", wanted_mm=run.wanted_mm, error_percent=whole.error_percent
                ),
            )
        )
        for number, words in enumerate(lines):
            painter.drawText(
                QRectF(left, y + 14 + 16 * number, room, 16), LEFT, elided(words, small, room)
            )

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        cables = self.evaluation.vehicle.cables if self.evaluation is not None else None
        if event is None or cables is None:
            return
        number = int((event.position().y() - 4) // ROW_PX)
        if 0 <= number < len(cables.runs):
            self.chosen.emit(number)
