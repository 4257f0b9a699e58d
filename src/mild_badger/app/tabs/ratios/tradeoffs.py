"""The trade-off chart: worst error against gears or lost power; a point is a set to take."""

from dataclasses import dataclass
from itertools import pairwise

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from mild_badger.app.drawing.marks import pen
from mild_badger.app.shown import Painter, shown
from mild_badger.app.theme.plain_tips import show_tip
from mild_badger.app.theme.style import Theme, text_font
from mild_badger.core.message import say
from mild_badger.core.ratios.lanes import SetMatch
from mild_badger.core.words import signed

__all__ = ["Point", "TradeOffChart"]


@dataclass(frozen=True)
class Point:
    """A set and where it stands: what it spends, in the unit of the chart, and its words."""

    found: SetMatch
    spent: float
    words: str


class TradeOffChart(QWidget):
    """Click a point, or choose it with the arrow keys and press Enter, to take that set."""

    chosen = pyqtSignal(object)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._points: tuple[Point, ...] = ()
        self._unit: str = say("tab-ratios.gears-2")
        self._now: tuple[float, float] | None = None
        self._limit = 3.0
        self._cursor = 0
        self.setMinimumHeight(104)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(say("tab-ratios.trade-offs-worst-error-against-what-is-spent"))
        theme.changed.connect(self.update)

    def show_points(self, points: tuple[Point, ...], unit: str) -> None:
        """Show the sets found, and name what they spend."""
        self._points, self._cursor, self._unit = points, 0, unit
        self.setAccessibleDescription(shown("; ".join(point.words for point in points)))
        self.update()

    def show_now(self, spent: float | None, worst: float | None, limit: float) -> None:
        """Mark the set that is taken, and the limit."""
        self._now = None if worst is None or spent is None else (spent, worst)
        self._limit = limit
        self.update()

    def place_of(self, number: int) -> QPointF:
        """Where a set's point is drawn."""
        point = self._points[number]
        return self._at(point.spent, point.found.worst_error_percent)

    def _at(self, spent: float, worst: float) -> QPointF:
        every = [point.spent for point in self._points]
        if self._now is not None:
            every.append(self._now[0])
        least, most = min(every), max(*every, min(every) + 1)
        top = self._top()
        x = 46 + (self.width() - 66) * (spent - least) / (most - least)
        return QPointF(x, 14 + (self.height() - 40) * (1 - min(worst, top) / top))

    def _top(self) -> float:
        """Greatest error drawn: a few coarse sets shall not press all the others flat."""
        worst = max(point.found.worst_error_percent for point in self._points)
        return min(worst or 1.0, max(3 * self._limit, 6.0))  # all of them may be exact

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        tokens = self._theme.tokens
        painter = Painter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), tokens.paper)
        painter.setPen(pen(tokens.run if self.hasFocus() else tokens.hair))
        painter.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5))
        painter.setFont(text_font("small"))
        painter.setPen(tokens.soft)
        if not self._points:
            hint = say("tab-ratios.worst-error-against-find-the-set-then-click", unit=self._unit)
            flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
            painter.drawText(self.rect().adjusted(16, 4, -16, -4), int(flags), hint)
            return
        foot = self.height() - 8.0
        top = self._top()
        painter.drawText(QPointF(8, 20), f"{signed(top, '.0f')} %")
        painter.drawText(QPointF(8, self.height() - 24.0), "0 %")
        painter.drawText(QPointF(8, foot), self._unit)
        painter.setPen(pen(tokens.hair, 1, dashed=True))
        limit = self._at(self._points[0].spent, self._limit).y()
        painter.drawLine(QPointF(44, limit), QPointF(self.width() - 10.0, limit))
        painter.setPen(pen(tokens.ink, 1.2))
        for one, other in pairwise(range(len(self._points))):
            a, b = self.place_of(one), self.place_of(other)
            corner = QPointF(b.x(), a.y())
            painter.drawLine(a, corner)
            painter.drawLine(corner, b)
        last = -100.0
        for number, point in enumerate(self._points):
            spot = self.place_of(number)
            taken = self._now is not None and self._is_now(point)
            painter.setPen(pen(tokens.run if taken else tokens.ink, 1.6))
            painter.setBrush(tokens.run if taken else tokens.paper)
            painter.drawEllipse(spot, 4.5, 4.5)
            if self.hasFocus() and number == self._cursor:
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.setPen(pen(tokens.run, 1, dashed=True))
                painter.drawEllipse(spot, 9, 9)
            if spot.x() - last > 22:
                last = spot.x()
                painter.setPen(tokens.soft)
                painter.drawText(QPointF(spot.x() - 7, foot), signed(point.spent, ".3g"))
        if self._now is not None and not any(self._is_now(point) for point in self._points):
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(pen(tokens.run, 1.6))
            spot = self._at(*self._now)
            painter.drawRect(QRectF(spot.x() - 4, spot.y() - 4, 8, 8))

    def _is_now(self, point: Point) -> bool:
        return (
            self._now is not None
            and abs(point.spent - self._now[0]) < 0.05
            and abs(point.found.worst_error_percent - self._now[1]) < 1e-6
        )

    def _near(self, here: QPointF) -> int | None:
        for number in range(len(self._points)):
            apart = self.place_of(number) - here
            if apart.x() ** 2 + apart.y() ** 2 < 100:
                return number
        return None

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        number = self._near(event.position()) if event is not None else None
        if event is not None and number is not None:
            words = self._points[number].words
            show_tip(event.globalPosition().toPoint(), words, self)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        number = self._near(event.position()) if event is not None else None
        if number is not None:
            self._cursor = number
            self.chosen.emit(self._points[number].found)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None or not self._points:
            return
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if step is not None:
            self._cursor = min(max(self._cursor + step, 0), len(self._points) - 1)
            self.update()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.chosen.emit(self._points[self._cursor].found)
        else:
            super().keyPressEvent(event)
