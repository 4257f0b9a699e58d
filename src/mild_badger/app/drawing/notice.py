"""What the program has to say about the page in view: it lies over the page and moves nothing."""

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QEvent, QObject
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QWidget

from mild_badger.app.drawing.widgets import button, caption

__all__ = ["Notice"]

MARGIN = 8


class Notice(QFrame):
    """A sentence with its buttons at the foot of a page; ``over`` is what it lies on."""

    def __init__(self, over: QWidget) -> None:
        super().__init__(over)
        self.setObjectName("notice")
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(12, 6, 12, 6)
        self.text = caption("", wrap=True)
        self._row.addWidget(self.text, 1)
        self._buttons: list[QPushButton] = []
        over.installEventFilter(self)
        self.hide()

    def show_message(
        self, sentence: str, role: str, choices: Sequence[tuple[str, Callable[[], object]]]
    ) -> None:
        """Say a sentence; role is problem, strong or nothing."""
        for old in self._buttons:
            self._row.removeWidget(old)
            old.deleteLater()
        self._buttons = []
        self.text.setText(sentence)
        self.text.setProperty("role", role)
        style = self.style()
        if style is not None:
            style.unpolish(self.text)
            style.polish(self.text)
        for name, do in choices:
            made = button(name, do, "link")
            self._row.addWidget(made)
            self._buttons.append(made)
        self.show()
        self._settle()
        self.raise_()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() is QEvent.Type.Resize and self.isVisible():
            self._settle()
        return super().eventFilter(watched, event)

    def _settle(self) -> None:
        """Lie at the foot of what it lies on, as tall as the sentence takes."""
        over = self.parentWidget()
        if over is not None:
            width = over.width() - 2 * MARGIN
            height = self._row.totalHeightForWidth(width)
            self.setGeometry(MARGIN, over.height() - height - MARGIN, width, height)
