"""Tooltips show words as they are: a name with angle brackets is a name, not markup."""

from html import escape

from PyQt6.QtCore import QEvent, QObject, QPoint, Qt
from PyQt6.QtGui import QHelpEvent
from PyQt6.QtWidgets import QAbstractItemView, QToolTip, QWidget

__all__ = ["PlainTips", "show_tip"]


def show_tip(at: QPoint, text: str, widget: QWidget) -> None:
    """Show a tooltip at a place of the screen; an empty text takes it away."""
    QToolTip.showText(at, _plain(text), widget)


def _plain(text: str) -> str:
    """Keep Qt from reading markup out of a text that looks like some."""
    if "<" not in text:
        return text
    return f'<p style="white-space: pre-wrap">{escape(text)}</p>'


class PlainTips(QObject):
    """An event filter for the whole program: it shows the tips that Qt would take for markup."""

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if not isinstance(event, QHelpEvent) or event.type() is not QEvent.Type.ToolTip:
            return False
        if not isinstance(watched, QWidget):
            return False
        text = _tip_of(watched, event.pos())
        if "<" not in text:
            return False
        show_tip(event.globalPos(), text, watched)
        return True


def _tip_of(widget: QWidget, at: QPoint) -> str:
    view = widget.parent()
    if isinstance(view, QAbstractItemView) and widget is view.viewport():
        tip = view.indexAt(at).data(Qt.ItemDataRole.ToolTipRole)
        return str(tip) if tip else ""
    return widget.toolTip()
