"""What is wrong with a field or a cell, said beside it: above the page, so that nothing moves."""

from PyQt6.QtCore import QRect, Qt
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtWidgets import QLabel, QWidget

from mild_badger.core.message import say

__all__ = ["FieldNote", "hide_note", "note_of", "show_note"]

WIDEST = 320
GAP = 3
INSIDE = 12
"""Room for padding and border, left and right, and both together above and below."""


class FieldNote(QLabel):
    """The one note of a window; pressing it takes it away."""

    def __init__(self, window: QWidget) -> None:
        super().__init__(window)
        self.setObjectName("fieldNote")
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setWordWrap(True)
        self.setAccessibleName(say("drawing.what-cannot-be-used"))
        self.hide()

    def show_message(self, sentence: str, beside: QRect) -> None:
        """Say a sentence below a place of the window, or above it where there is no room."""
        self.setText(sentence)
        room = self.parentWidget()
        if room is None:
            return
        self.ensurePolished()  # the padding counts
        metrics = self.fontMetrics()
        width = min(WIDEST, metrics.horizontalAdvance(sentence) + 2 * INSIDE)
        lines = metrics.boundingRect(
            QRect(0, 0, width - 2 * INSIDE, 10_000), int(Qt.TextFlag.TextWordWrap), sentence
        )
        self.setFixedSize(width, lines.height() + INSIDE)
        x = max(4, min(beside.left(), room.width() - self.width() - 4))
        y = beside.bottom() + GAP
        if y + self.height() > room.height():
            y = max(4, beside.top() - GAP - self.height())
        self.move(x, y)
        self.show()
        self.raise_()

    def mousePressEvent(self, _event: QMouseEvent | None) -> None:
        self.hide()


def note_of(widget: QWidget) -> FieldNote | None:
    """Find the note of a widget's window, if it has said anything so far."""
    window = widget.window()
    options = Qt.FindChildOption.FindDirectChildrenOnly
    return None if window is None else window.findChild(FieldNote, options=options)


def show_note(widget: QWidget, sentence: str, place: QRect | None = None) -> None:
    """Say a sentence beside a widget, or beside a place inside it."""
    window = widget.window()
    if window is None:
        return
    note = note_of(widget) or FieldNote(window)
    area = widget.rect() if place is None else place
    note.show_message(sentence, QRect(widget.mapTo(window, area.topLeft()), area.size()))


def hide_note(widget: QWidget) -> None:
    """Take the note of a widget's window away."""
    note = note_of(widget)
    if note is not None:
        note.hide()
