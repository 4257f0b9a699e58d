"""Parts in space as they stand: seen from the input end, and from the side."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPainterPath, QPolygonF

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.marks import pen
from mild_badger.app.theme.plain_tips import show_tip
from mild_badger.app.theme.style import Theme, text_font
from mild_badger.core.components.component import Component, Outline
from mild_badger.core.components.describe import describe_component
from mild_badger.core.components.solids import rotated
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.message import say

__all__ = ["PartsView"]

FRAME = ("wall", "tie rod")
"""Drawn as outlines: what they hold is to be seen."""
MARGIN_PX = 18.0


class PartsView(Canvas):
    """What is nearer to the eye covers what is behind; hover for the part's name."""

    def __init__(self, theme: Theme, *, side: bool) -> None:
        super().__init__(theme)
        self.side = side
        self.setAccessibleName(
            say("tab-layout.parts-from-the-side") if side else say("tab-layout.parts-from-the-end")
        )
        self.setMinimumHeight(180)
        self.setMouseTracking(True)
        self.parts: tuple[Component, ...] = ()
        self.empty: str = ""
        self._shapes: list[tuple[QPainterPath, Component]] = []

    def show_parts(self, evaluation: Evaluation, parts: tuple[Component, ...]) -> None:
        """Show parts where they stand."""
        ends = {part.key: (part.from_mm + part.to_mm) / 2 for part in parts}
        self.parts = tuple(
            sorted(parts, key=lambda p: p.reach_mm[2] if self.side else -ends[p.key])
        )
        self.show_evaluation(evaluation)

    def words(self) -> str:
        if self.evaluation is None:
            return ""
        vehicle = self.evaluation.vehicle
        return "; ".join(dict.fromkeys(describe_component(vehicle, part) for part in self.parts))

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        self._shapes = []
        if not self.parts:
            self.say_instead(painter, self.empty)
            return
        paths = [(self._path(part), part) for part in self.parts]
        whole = QRectF()
        for path, _ in paths:
            whole = whole.united(path.boundingRect())
        room = QRectF(self.rect()).adjusted(MARGIN_PX, MARGIN_PX, -MARGIN_PX, -MARGIN_PX - 14)
        scale = min(room.width() / whole.width(), room.height() / whole.height())
        painter.save()
        painter.translate(room.center())
        painter.scale(scale, scale)
        painter.translate(-whole.center())
        held = painter.transform()
        tokens = self.theme.tokens
        for path, part in paths:
            frame = part.kind in FRAME
            fill = QColor(tokens.panel if part.kind == "shaft" else tokens.paper)
            fill.setAlpha(0 if frame else 235)
            line = pen(tokens.soft if frame else tokens.ink, 1.0)
            line.setCosmetic(True)
            painter.setPen(line)
            painter.setBrush(fill)
            painter.drawPath(path)
            if not frame:
                self._shapes.append((held.map(path), part))
        painter.restore()
        painter.setPen(tokens.soft)
        painter.setFont(text_font("small"))
        where = (
            say("tab-layout.seen-from-the-side-to-scale")
            if self.side
            else say("tab-layout.seen-from-the-input-end-to-scale")
        )
        painter.drawText(QPointF(12, self.height() - 9), where)

    def _path(self, part: Component) -> QPainterPath:
        path = QPainterPath()
        for prism in part.solid:
            mine = QPainterPath()
            for outline in prism.outlines:
                mine = mine.united(self._outline(part, outline, prism.from_mm, prism.to_mm))
            for hole in () if self.side != part.across else prism.holes:
                mine = mine.subtracted(self._outline(part, hole, 0.0, 0.0))
            path = mine if path.isEmpty() else path.united(mine)
        return path

    def _outline(self, part: Component, outline: Outline, start: float, end: float) -> QPainterPath:
        """Give an outline where it stands, y downwards; of the side, what it covers."""
        turned = rotated(outline, part.turn_rad)
        path = QPainterPath()
        if self.side != part.across:  # its own length lies in the picture
            low, high = (part.y_mm + f(y for _, y in turned) for f in (min, max))
            left = (part.x_mm if part.across else part.along_mm) + start
            path.addRect(QRectF(left, -high, end - start, high - low))
            return path
        if self.side:
            points = [(part.along_mm - x, part.y_mm + y) for x, y in turned]
        else:
            points = [(part.x_mm + x, part.y_mm + y) for x, y in turned]
        path.addPolygon(QPolygonF([QPointF(x, -y) for x, y in points]))
        path.closeSubpath()
        path.setFillRule(Qt.FillRule.WindingFill)
        return path

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self.evaluation is None:
            return
        for path, part in reversed(self._shapes):
            if path.contains(event.position()):
                words = describe_component(self.evaluation.vehicle, part)
                show_tip(event.globalPosition().toPoint(), words, self)
                return
