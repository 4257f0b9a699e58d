"""Tooltips: words as they are, and the glossary's word and picture for the term they are about.

A name with angle brackets is a name, not markup. What a tip is about is read off the label, the
heading of a table's column or the field's own name; where the glossary has that term, the tip has
its meaning too, and the drawing that shows it.
"""

from html import escape

from PyQt6.QtCore import QEvent, QObject, QPoint, Qt
from PyQt6.QtGui import QHelpEvent
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractItemView,
    QHeaderView,
    QLabel,
    QToolTip,
    QWidget,
)

from mild_badger.core.publish.glossary import glossary, term_in
from mild_badger.text.handbook import picture_of

__all__ = ["PlainTips", "show_tip"]

LONGEST_LABEL = 60
"""Letters; a longer text is a sentence of its own and needs no word explained under the mouse."""


def show_tip(at: QPoint, text: str, widget: QWidget) -> None:
    """Show a tooltip at a place of the screen; an empty text takes it away."""
    QToolTip.showText(at, _plain(text), widget)


def _plain(text: str) -> str:
    """Keep Qt from reading markup out of a text that looks like some."""
    return _paragraph(text) if "<" in text else text


def _paragraph(text: str) -> str:
    return f'<p style="white-space: pre-wrap">{escape(text)}</p>'


def with_term(tip: str, label: str) -> str:
    """Add what the glossary says of the term in a label, with its drawing, as rich text.

    A label without such a term leaves the tip as it is.
    """
    term = term_in(label) if len(label) <= LONGEST_LABEL else ""
    if not term:
        return _plain(tip)
    rich = _paragraph(tip) if tip else ""
    rich += f"<p><b>{escape(term)}.</b> {escape(glossary()[term])}</p>"
    picture = picture_of(term)
    return rich + (f'<p><img src="{escape(str(picture))}"></p>' if picture else "")


class PlainTips(QObject):
    """An event filter for the whole program: it shows the tips that Qt would show otherwise."""

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if not isinstance(event, QHelpEvent) or event.type() is not QEvent.Type.ToolTip:
            return False
        if not isinstance(watched, QWidget):
            return False
        tip, label = _tip_of(watched, event.pos())
        rich = with_term(tip, label)
        if rich == tip:
            return False
        QToolTip.showText(event.globalPos(), rich, watched)
        return True


def _tip_of(widget: QWidget, at: QPoint) -> tuple[str, str]:
    """Give the tip under the mouse, and the label that it belongs to."""
    view = widget.parent()
    role = Qt.ItemDataRole
    if isinstance(view, QHeaderView) and widget is view.viewport():
        model, section = view.model(), view.logicalIndexAt(at)
        if model is None or section < 0:
            return "", ""
        tip, title = (
            model.headerData(section, view.orientation(), part)
            for part in (role.ToolTipRole, role.DisplayRole)
        )
        return str(tip or ""), str(title or "")
    if isinstance(view, QAbstractItemView) and widget is view.viewport():
        tip = view.indexAt(at).data(role.ToolTipRole)
        return str(tip or ""), ""
    if isinstance(widget, QLabel | QAbstractButton):
        return widget.toolTip(), widget.text().replace("&", "")
    return widget.toolTip(), widget.accessibleName()
