"""Finds words in the window that no message of the catalogue made, by marking all that one made.

``python -m uncatalogued DEMO ...`` in tests/ lays out every page with each message in brackets and
lists the words that stand outside them.
"""

import os
import re
import sys
from collections import defaultdict
from collections.abc import Iterator, Mapping
from pathlib import Path
from typing import Any

from mild_badger.core.message import write_by
from mild_badger.text.catalogue import write_message

FROM, TO = "⟪", "⟫"
WORD = re.compile(r"[A-Za-zÀ-ÿ]{3,}[A-Za-z .,'’()-]*")
Places = dict[str, set[str]]


def marked(code: str, values: Mapping[str, Any], count: float | None = None) -> str:
    """Write a message in brackets."""
    return f"{FROM}{write_message(code, values, count)}{TO}"


def outside(text: str) -> Iterator[str]:
    """Give the words of a text that stand outside all brackets."""
    depth, left = 0, []
    for sign in text:
        depth = max(depth + (sign == FROM) - (sign == TO), 0)
        left.append(sign if not depth and sign != TO else " ")
    plain = re.sub(r"<[^>]*>", " ", "".join(left))
    yield from (match.strip(" .,()-") for match in WORD.findall(plain))


def names_of(data: object) -> set[str]:
    """List the names and notes that a document holds: those are a builder's own."""
    if isinstance(data, dict):
        own = {str(data[key]) for key in ("name", "notes", "date") if data.get(key)}
        return own.union(*(names_of(value) for value in data.values()), set())
    if isinstance(data, list):
        return set().union(*(names_of(value) for value in data))
    return set()


def words_in_view(demo: str) -> Places:
    """Lay out every page of a demo; give the words that no message made, with their pages."""
    from PyQt6.QtCore import Qt  # noqa: PLC0415 - after messages are marked
    from PyQt6.QtGui import QAction  # noqa: PLC0415
    from PyQt6.QtWidgets import (  # noqa: PLC0415
        QAbstractButton,
        QComboBox,
        QLabel,
        QLineEdit,
        QTabBar,
        QTableWidget,
        QWidget,
    )

    from clipped import every_page  # noqa: PLC0415
    from examples import example_vehicle  # noqa: PLC0415
    from mild_badger.app import shown  # noqa: PLC0415
    from mild_badger.app.session import Session  # noqa: PLC0415
    from mild_badger.app.settings import Settings  # noqa: PLC0415
    from mild_badger.app.theme.style import Theme  # noqa: PLC0415
    from mild_badger.app.window import Window  # noqa: PLC0415

    vehicle = example_vehicle(demo)
    own = names_of(vehicle.model_dump(mode="json"))
    seen: Places = defaultdict(set)
    page = "menus"

    def note(*texts: str | None) -> None:
        for text in texts:
            for words in outside(text or ""):
                if words and not any(words in name for name in own):
                    seen[words].add(page)

    draw = shown.Painter.drawText

    def drawn(painter: shown.Painter, *args: object) -> object:
        note(*(arg for arg in args if isinstance(arg, str)))
        return draw(painter, *args)

    shown.Painter.drawText = drawn  # type: ignore[method-assign, assignment]
    from PyQt6.QtWidgets import QApplication  # noqa: PLC0415

    app = QApplication([])
    window = Window(Session(vehicle), Theme(app), Settings(Path(os.devnull)))
    window.session.engage(vehicle.real.gears[0].id)
    window.show()
    window.resize(1280, 800)
    for action in window.findChildren(QAction):
        note(action.text(), action.toolTip())
    for at in every_page(window):
        page = at
        for widget in window.findChildren(QWidget):
            if not widget.isVisible():
                continue
            note(widget.toolTip(), widget.accessibleName(), widget.accessibleDescription())
            match widget:
                case QComboBox():
                    note(*(widget.itemText(n) for n in range(widget.count())))
                case QLabel() | QAbstractButton():
                    note(widget.text())
                case QLineEdit():
                    note(widget.placeholderText())
                case QTabBar():
                    note(*(widget.tabText(n) for n in range(widget.count())))
                case QTableWidget():
                    for role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.ToolTipRole):
                        for column in range(widget.columnCount()):
                            head = widget.horizontalHeaderItem(column)
                            note(None if head is None else str(head.data(role) or ""))
                            for row in range(widget.rowCount()):
                                item = widget.item(row, column)
                                note(None if item is None else str(item.data(role) or ""))
        window.grab()
    shown.Painter.drawText = draw  # type: ignore[method-assign]
    return seen


if __name__ == "__main__":
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    write_by(marked)
    found = {words: at for demo in sys.argv[1:] for words, at in words_in_view(demo).items()}
    for words in sorted(found):
        sys.stdout.write(f"{words} | {', '.join(sorted(found[words])[:3])}\n")
    sys.stdout.flush()
    os._exit(0)  # windows and pictures are left to the system
