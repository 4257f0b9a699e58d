"""A sheet of paper to draw an evaluation on."""

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from mild_badger.app.drawing.marks import pen
from mild_badger.app.shown import Painter, shown
from mild_badger.app.theme.style import Theme, text_font
from mild_badger.core.evaluate import Evaluation

__all__ = ["Canvas"]


class Canvas(QWidget):
    """Paper with a hairline frame; each drawing fills in ``draw``."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.evaluation: Evaluation | None = None
        theme.changed.connect(self.update)

    def show_evaluation(self, evaluation: Evaluation) -> None:
        """Show an evaluation."""
        self.evaluation = evaluation
        self.setAccessibleDescription(shown(self.words()))
        self.update()

    def words(self) -> str:
        """Say in words what is drawn."""
        return ""

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        """Draw the evaluation."""
        raise NotImplementedError

    def say_instead(self, painter: QPainter, words: str) -> None:
        """Write in the middle what there is to say where nothing can be drawn."""
        painter.setFont(text_font("lead"))
        painter.setPen(self.theme.tokens.soft)
        flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
        painter.drawText(self.rect().adjusted(24, 8, -24, -8), int(flags), words)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = Painter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), self.theme.tokens.paper)
        if self.evaluation is not None:
            self.draw(painter, self.evaluation)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(pen(self.theme.tokens.hair))
        painter.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5))
