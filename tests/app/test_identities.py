"""No id of a gear is shown anywhere: every page, with ids that cannot be taken for names."""

from collections.abc import Callable, Iterator
from typing import Any

import pytest
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QComboBox, QTableWidget, QWidget

from marked import MARK, marked
from mild_badger.app.tab_list import TABS
from mild_badger.app.tabs.tab import PagedTab
from mild_badger.app.window import Window
from mild_badger.core.vehicle.edit.change import Edit
from strategies import placed_demo

OpenWindow = Callable[..., Window]


def texts(window: QWidget) -> Iterator[str]:
    """Give every text that the window's parts hold, tooltips and descriptions too."""
    for part in window.findChildren(QWidget):
        yield from (part.toolTip(), part.accessibleName(), part.accessibleDescription())
        for held in ("text", "title", "toPlainText"):
            read = getattr(part, held, None)
            if callable(read):
                try:
                    yield str(read())
                except TypeError:
                    continue
        if isinstance(part, QComboBox):
            yield from (part.itemText(n) for n in range(part.count()))
        if isinstance(part, QTableWidget):
            for row in range(part.rowCount()):
                for column in range(part.columnCount()):
                    item = part.item(row, column)
                    if item is not None:
                        yield from (item.text(), item.toolTip())
            heads = (part.horizontalHeaderItem(n) for n in range(part.columnCount()))
            yield from (head.text() for head in heads if head is not None)


@pytest.mark.qt_log_ignore(".*")
@pytest.mark.parametrize("name", ["larkholm-mail-bus", "larkholm-crane-truck"])
def test_no_page_shows_an_id(
    open_window: OpenWindow, monkeypatch: pytest.MonkeyPatch, name: str
) -> None:
    painted: set[str] = set()
    paint = QPainter.drawText

    def drawn(painter: QPainter, *arguments: Any) -> Any:
        painted.update(a for a in arguments if isinstance(a, str) and MARK in a)
        return paint(painter, *arguments)

    monkeypatch.setattr(QPainter, "drawText", drawn)
    vehicle = marked(placed_demo(name))
    window = open_window(vehicle)
    window.session.engage(vehicle.real.gears[1].id)
    for title in TABS:
        window.show_tab(title)
        tab = window.tab
        for kind in ("gate", "catch", "drum") if title == "Shift" else ("",):
            if kind:
                window.session.do(Edit.one("Try", ("shifting", "actuation"), kind))
            for key in tab.keys if isinstance(tab, PagedTab) else ("",):
                if isinstance(tab, PagedTab):
                    tab.show_page(key)
                window.grab()
                if key == "play":
                    slider = tab.play_page.slider  # type: ignore[attr-defined]
                    for value in range(0, slider.maximum() + 1, max(slider.maximum() // 6, 1)):
                        slider.setValue(value)
                        assert [text for text in texts(tab) if MARK in text] == []
        shown = [text for text in texts(window) if MARK in text]
        assert (title, shown) == (title, [])
    assert painted == set()
