"""Message boxes that show words as they are: no name is ever taken for markup."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QMessageBox, QWidget

from mild_badger.app.shown import shown

__all__ = ["ask", "message_box", "tell"]

_Button = QMessageBox.StandardButton


def message_box(parent: QWidget, title: str, text: str) -> QMessageBox:
    """Make a box of plain text; who runs it frees it afterwards."""
    box = QMessageBox(parent)
    box.setWindowTitle(shown(title))
    box.setTextFormat(Qt.TextFormat.PlainText)
    box.setText(text)
    return box


def tell(parent: QWidget, title: str, text: str) -> None:
    """Show a text beside the work."""
    box = message_box(parent, title, text)
    box.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    box.open()


def ask(parent: QWidget, title: str, text: str, buttons: _Button) -> _Button:
    """Ask a question and give the button that was pressed."""
    box = message_box(parent, title, text)
    box.setStandardButtons(buttons)
    answer = _Button(box.exec())
    box.deleteLater()
    return answer
