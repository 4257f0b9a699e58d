"""A picture of core's shapes on the screen, as large as its place allows."""

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QIcon, QPainter, QPixmap, QPolygonF

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.marks import pen
from mild_badger.app.shown import shown
from mild_badger.app.theme.style import Theme, text_font
from mild_badger.app.theme.tokens import Tokens
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.workshop.figure import Figure, Mark, Role

__all__ = ["FigureView", "figure_icon"]

EDGE_PX = 18.0


class FigureView(Canvas):
    """A figure in the middle of its paper; ``empty`` is said where there is none."""

    def __init__(self, theme: Theme, name: str, empty: str = "") -> None:
        super().__init__(theme)
        self.setAccessibleName(shown(name))
        self.setMinimumSize(280, 200)
        self.figure: Figure | None = None
        self.empty = empty

    def show_figure(self, evaluation: Evaluation, figure: Figure | None) -> None:
        """Show a figure."""
        self.figure = figure
        self.show_evaluation(evaluation)

    def words(self) -> str:
        return self.figure.said if self.figure is not None else self.empty

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        figure = self.figure
        if figure is None or not figure.marks:
            self.say_instead(painter, self.empty)
            return
        left, low, right, high = figure.box()
        room = QRectF(self.rect()).adjusted(EDGE_PX, EDGE_PX, -EDGE_PX, -EDGE_PX)
        scale = min(room.width() / max(right - left, 1), room.height() / max(high - low, 1), 8.0)
        dx = room.center().x() - (left + right) / 2 * scale
        dy = room.center().y() + (low + high) / 2 * scale

        def at(x: float, y: float) -> QPointF:
            return QPointF(dx + x * scale, dy - y * scale)

        for mark in figure.marks:
            _mark(painter, self.theme.tokens, mark, [at(*p) for p in mark.points], scale)
        painter.setFont(text_font("small"))
        for words in figure.words:
            painter.setPen(_line(self.theme.tokens, words.role))
            place = at(*words.at)
            wide = painter.fontMetrics().horizontalAdvance(words.text)
            shift = {"left": 0.0, "centre": wide / 2, "right": float(wide)}[words.align]
            painter.drawText(QPointF(place.x() - shift, place.y()), words.text)


def figure_icon(figure: Figure, tokens: Tokens, size: QSize, ratio: float) -> QIcon:
    """Draw a figure as a small picture, as large as it has room."""
    image = QPixmap(size * ratio)
    image.setDevicePixelRatio(ratio)
    image.fill(Qt.GlobalColor.transparent)
    left, low, right, high = figure.box()
    room = size - QSize(2, 2)
    scale = min(room.width() / max(right - left, 1e-6), room.height() / max(high - low, 1e-6))
    x, y = size.width() / 2, size.height() / 2
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    for mark in figure.marks:
        points = [
            QPointF(x + (a - (left + right) / 2) * scale, y - (b - (low + high) / 2) * scale)
            for a, b in mark.points
        ]
        _mark(painter, tokens, mark, points, scale)
    painter.end()
    return QIcon(image)


def _mark(
    painter: QPainter, tokens: Tokens, mark: Mark, points: list[QPointF], scale: float
) -> None:
    fill = _fill(tokens, mark.role)
    width = 1.8 if mark.heavy else 1.3 if mark.role == "now" else 0.8
    line = pen(_line(tokens, mark.role), width, dashed=mark.dashed)
    painter.setPen(Qt.PenStyle.NoPen if mark.bare else line)
    painter.setBrush(fill if fill is not None else QColor(0, 0, 0, 0))
    if mark.radius:
        painter.drawEllipse(points[0], mark.radius * scale, mark.radius * scale)
    elif mark.closed:
        painter.drawPolygon(QPolygonF(points))
    else:
        painter.drawPolyline(QPolygonF(points))


def _line(tokens: Tokens, role: Role) -> QColor:
    return {
        "there": tokens.soft,
        "now": tokens.run,
        "lower": tokens.soft,
        "ink": tokens.ink,
        "soft": tokens.soft,
        "hair": tokens.hair,
        "run": tokens.run,
        "back": tokens.back,
    }[role]


def _fill(tokens: Tokens, role: Role) -> QColor | None:
    return {
        "there": tokens.panel,
        "now": _mixed(tokens.paper, tokens.run),
        "lower": tokens.hair,
    }.get(role)


def _mixed(ground: QColor, color: QColor) -> QColor:
    """Lay a quarter of a colour over a ground."""
    return QColor(
        *(
            (3 * a + b) // 4
            for a, b in zip(
                (ground.red(), ground.green(), ground.blue()),
                (color.red(), color.green(), color.blue()),
                strict=True,
            )
        )
    )
