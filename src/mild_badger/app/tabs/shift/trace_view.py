"""Over the time of a run: which gear is in, and how fast the output turns; press to go there."""

from PyQt6.QtCore import QLineF, QPoint, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.marks import elided, pen
from mild_badger.app.shown import shown
from mild_badger.app.theme.plain_tips import show_tip
from mild_badger.app.theme.style import Theme, text_font
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.message import say
from mild_badger.core.scene.run import OutputSpan
from mild_badger.core.shift.sequence import PlayedRun
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import listed

__all__ = ["TraceView"]

LEFT, RIGHT, TOP, LOW, ROW = 92.0, 14.0, 8.0, 20.0, 19.0
"""Room for words left, to the right, above and for the time below; how high a row of gears is."""
TICKS_S = (0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 60.0)
LEAST_TICK_PX = 56.0


class TraceView(Canvas):
    """Two rows of bars, so that gears in at once are both seen, and the output's speed below.

    Signals
    -------
    sought : the time that was pressed, s
    """

    sought = pyqtSignal(float)

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-shift.trace-of-the-run"))
        self.setFixedHeight(118)
        self.setMouseTracking(True)
        self.time_s = 0.0
        self.run: PlayedRun | None = None
        self.speeds: tuple[OutputSpan, ...] = ()

    def show_run(
        self, evaluation: Evaluation, run: PlayedRun, speeds: tuple[OutputSpan, ...]
    ) -> None:
        """Show a run with the output's speed over it."""
        self.run, self.speeds = run, speeds
        self.show_evaluation(evaluation)

    def show_time(self, time_s: float) -> None:
        """Stand at a time."""
        self.time_s = time_s
        self.update()

    def words(self) -> str:
        run, evaluation = self.run, self.evaluation
        if run is None or evaluation is None:
            return ""
        return listed([evaluation.vehicle.gear_name(span.gear) for span in run.spans()])

    def x_of(self, time_s: float) -> float:
        """Give where a time is drawn."""
        seconds = self.run.seconds if self.run is not None else 0.0
        return LEFT + (self.width() - LEFT - RIGHT) * time_s / max(seconds, 1e-9)

    def span_at(self, x: float) -> OutputSpan | None:
        """Give what is in where the picture is pointed at."""
        return next((s for s in self.speeds if self.x_of(s.from_s) <= x < self.x_of(s.to_s)), None)

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        run = self.run
        if run is None or not run.frames:
            return
        tokens = self.theme.tokens
        vehicle = evaluation.vehicle
        low = self.height() - LOW
        self._times(painter, run.seconds, low)
        font = text_font("small")
        painter.setFont(font)
        painter.setPen(tokens.soft)
        flags = int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        words = (
            (say("tab-shift.engaged-gear"), QRectF(4, TOP, LEFT - 12, 2 * ROW)),
            (self._most_words(), QRectF(4, TOP + 2 * ROW + 6, LEFT - 12, low - TOP - 2 * ROW - 8)),
        )
        for text, room in words:
            painter.drawText(room, flags | int(Qt.TextFlag.TextWordWrap), shown(text))
        order = list(run.sides)
        for span in run.spans():
            row = order.index(span.gear) % 2
            left, right = self.x_of(span.from_s), self.x_of(span.to_s)
            bar = QRectF(left, TOP + row * ROW, max(right - left, 1.0), ROW - 3)
            reverse = _reverse(vehicle, span.gear)
            painter.setPen(pen(tokens.back if reverse else tokens.run, 1.2))
            painter.setBrush(tokens.run_wash if not reverse else tokens.panel)
            painter.drawRect(bar)
            painter.setPen(tokens.ink)
            name = elided(vehicle.gear_name(span.gear), font, bar.width() - 2)
            painter.drawText(bar, int(Qt.AlignmentFlag.AlignCenter), name)
        self._speed(painter, vehicle, QRectF(LEFT, TOP + 2 * ROW + 6, 1, low - TOP - 2 * ROW - 8))
        painter.setPen(pen(tokens.ink, 1.6))
        x = self.x_of(self.time_s)
        painter.drawLine(QLineF(x, TOP - 4, x, low))

    def _most(self) -> float:
        return max((abs(s.rpm) for s in self.speeds if s.rpm is not None), default=0.0)

    def _most_words(self) -> str:
        return say("tab-shift.output-up-to", rpm=self._most())

    def _speed(self, painter: QPainter, vehicle: Vehicle, room: QRectF) -> None:
        """Draw the output's speed as steps; dashed on where it coasts."""
        tokens, most = self.theme.tokens, self._most()
        if not most:
            return
        before: QPointF | None = None
        for span in self.speeds:
            left, right = self.x_of(span.from_s), self.x_of(span.to_s)
            if span.rpm is None:
                if before is not None:
                    painter.setPen(pen(tokens.soft, 1, dashed=True))
                    painter.drawLine(before, QPointF(right, before.y()))
                    before = QPointF(right, before.y())
                continue
            y = room.bottom() - room.height() * abs(span.rpm) / most
            reverse = any(_reverse(vehicle, gear) for gear in span.gears)
            painter.setPen(pen(tokens.back if reverse else tokens.run, 2.2))
            if before is not None:
                painter.drawLine(before, QPointF(left, y))
            before = QPointF(right, y)
            painter.drawLine(QPointF(left, y), before)

    def _times(self, painter: QPainter, seconds: float, low: float) -> None:
        tokens = self.theme.tokens
        wide = self.width() - LEFT - RIGHT
        fits = (s for s in TICKS_S if wide * s / max(seconds, 1e-9) >= LEAST_TICK_PX)
        step = next(fits, TICKS_S[-1])
        painter.setFont(text_font("small"))
        for number in range(int(seconds / step) + 1):
            x = self.x_of(number * step)
            painter.setPen(pen(tokens.hair, 1))
            painter.drawLine(QLineF(x, TOP, x, low))
            painter.setPen(tokens.soft)
            box = QRectF(x - 30, low + 2, 60, LOW - 4)
            words = shown(say("tab-shift.seconds", seconds=number * step))
            painter.drawText(box, int(Qt.AlignmentFlag.AlignCenter), words)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            self._seek(event.position().x())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        if event.buttons() & Qt.MouseButton.LeftButton:
            self._seek(event.position().x())
            return
        self._tell(event.position())

    def _seek(self, x: float) -> None:
        if self.run is not None and self.run.seconds:
            share = (x - LEFT) / max(self.width() - LEFT - RIGHT, 1.0)
            self.sought.emit(min(max(share, 0.0), 1.0) * self.run.seconds)

    def _tell(self, place: QPointF) -> None:
        span, evaluation = self.span_at(place.x()), self.evaluation
        if span is None or evaluation is None:
            show_tip(QPoint(), "", self)
            return
        names = listed([evaluation.vehicle.gear_name(gear) for gear in span.gears])
        seconds = span.to_s - span.from_s
        if span.rpm is None:
            words = say("tab-shift.nothing-in-for", seconds=seconds)
        elif len(span.gears) > 1:
            words = say("tab-shift.both-in-for", gears=names, seconds=seconds, rpm=span.rpm)
        else:
            words = say("tab-shift.gear-in-for", gears=names, seconds=seconds, rpm=span.rpm)
        show_tip(self.mapToGlobal(place.toPoint()), shown(words), self)


def _reverse(vehicle: Vehicle, gear: str) -> bool:
    known = vehicle.gear(gear)
    return known is not None and known.reverse
