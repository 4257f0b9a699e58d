"""Paper on which some points can be taken hold of and dropped elsewhere."""

from collections.abc import Iterator
from math import hypot

from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QMouseEvent, QPainter

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.marks import pen
from mild_badger.app.theme.style import Theme

__all__ = ["HandlePaper"]

HOLD_PX = 12.0


class HandlePaper(Canvas):
    """A drawing gives its ``handles`` and is told where one was ``dropped``."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setMouseTracking(True)
        self._held: tuple[str, QPointF] | None = None

    def handles(self) -> Iterator[tuple[str, QPointF]]:
        """Give what can be dragged, and where it is drawn, in the widget's pixels."""
        raise NotImplementedError

    def dropped(self, name: str, here: QPointF) -> None:
        """Take note of where a handle was dropped."""
        raise NotImplementedError

    def draw_held(self, painter: QPainter) -> None:
        """Draw the handle that is being dragged."""
        if self._held is not None:
            painter.setPen(pen(self.theme.tokens.run, 2.2))
            painter.setBrush(self.theme.tokens.paper)
            painter.drawEllipse(self._held[1], 6, 6)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        for name, spot in self.handles():
            apart = event.position() - spot
            if hypot(apart.x(), apart.y()) < HOLD_PX:
                self._held = (name, event.position())
                return

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._held is not None:
            self._held = (self._held[0], event.position())
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        held, self._held = self._held, None
        self.update()
        if event is not None and held is not None and self.evaluation is not None:
            self.dropped(held[0], event.position())
