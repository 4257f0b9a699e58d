"""Finds words that are cut off or lie over one another in a window, by measuring.

``python -m clipped DEMO`` in tests/ lays out every page in the made-up language and lists what it
finds (``MILD_BADGER_LANGUAGE=pseudo`` puts it on).
"""

import os
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QRect
from PyQt6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QComboBox,
    QLabel,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QStyle,
    QStyleOptionComboBox,
    QTabBar,
    QWidget,
)

if TYPE_CHECKING:
    from mild_badger.app.window import Window

__all__ = ["SIZES", "every_page", "faults", "painted_cut"]

SIZES = ((1280, 800), (1100, 700))
SLACK_PX = 1
OVER_PX = 3
"""Widgets may touch by their frames."""


def every_page(window: "Window") -> Iterator[str]:
    """Bring every page into view, one after another; give its name."""
    from mild_badger.app.tab_list import TABS  # noqa: PLC0415 - after the language is chosen

    app = QApplication.instance()
    for tab in TABS:
        window.show_tab(tab)
        for page in getattr(window.tab, "keys", [""]):
            window.show_page(tab, page)
            for _ in range(3):
                if app is not None:
                    app.processEvents()
            yield f"{tab}/{page}" if page else tab


def faults(window: QWidget) -> list[str]:
    """List what of the words in view is cut off or lies over something."""
    seen = [w for w in window.findChildren(QWidget) if w.isVisible() and w.width() > 0]
    found = [f"cut: {_words(w)!r}" for w in seen if _cut(w)]
    return found + [f"over: {_words(a)!r} and {_words(b)!r}" for a, b in _over(seen)]


@contextmanager
def painted_cut() -> Iterator[list[str]]:
    """Note every painted text that had to be cut off with an ellipsis, as long as this lasts.

    Words on a template are left out: the sheet has room for them, its picture may not.
    """
    from mild_badger.app.shown import Painter  # noqa: PLC0415 - after the language is chosen
    from mild_badger.app.tabs.workshop.template_view import TemplateView  # noqa: PLC0415

    cut: list[str] = []
    fitted = Painter._fitted

    def noted(painter: Painter, args: list[object]) -> list[object]:
        before = str(args[-1])
        after = fitted(painter, args)
        if str(after[-1]) != before and not isinstance(painter.device(), TemplateView):
            cut.append(before)
        return after

    Painter._fitted = noted  # type: ignore[method-assign, assignment]
    try:
        yield cut
    finally:
        Painter._fitted = fitted  # type: ignore[method-assign]


def _words(widget: QWidget) -> str:
    if isinstance(widget, QComboBox):
        return widget.currentText()
    if isinstance(widget, QLabel | QAbstractButton):
        return widget.text()[:70]
    if isinstance(widget, QTabBar):
        return " ".join(widget.tabText(n) for n in range(widget.count()))
    return widget.accessibleName() or type(widget).__name__


def _cut(widget: QWidget) -> bool:
    if isinstance(widget, QLabel) and widget.text():
        return _label_cut(widget)
    if isinstance(widget, QComboBox):
        needed = widget.fontMetrics().horizontalAdvance(widget.currentText())
        return needed > _room_in(widget) + SLACK_PX
    if isinstance(widget, QTabBar):
        return widget.tabRect(widget.count() - 1).right() > widget.width() + SLACK_PX
    if isinstance(widget, QAbstractButton) and widget.text():
        return widget.minimumSizeHint().width() > widget.width() + SLACK_PX
    return False


def _room_in(choice: QComboBox) -> int:
    """Tell how wide a choice's words may be: its arrow takes the rest."""
    option, style = QStyleOptionComboBox(), choice.style()
    choice.initStyleOption(option)
    if style is None:
        return choice.width()
    part = QStyle.SubControl.SC_ComboBoxEditField
    return style.subControlRect(QStyle.ComplexControl.CC_ComboBox, option, part, choice).width()


def _label_cut(label: QLabel) -> bool:
    room = label.contentsRect()
    if label.sizePolicy().horizontalPolicy() is QSizePolicy.Policy.Ignored:
        return False  # a name that is cut off on purpose
    if label.wordWrap():
        longest = max(label.text().split(), key=len, default="")
        too_wide = label.fontMetrics().horizontalAdvance(longest) > room.width() + SLACK_PX
        return too_wide or label.heightForWidth(label.width()) > label.height() + SLACK_PX
    lines = label.text().split("\n")
    metrics = label.fontMetrics()
    wide = max(metrics.horizontalAdvance(line) for line in lines)
    return wide > room.width() + SLACK_PX or len(lines) * metrics.height() > room.height() + OVER_PX


def _over(seen: list[QWidget]) -> Iterator[tuple[QWidget, QWidget]]:
    kinds = (QLabel, QPushButton, QComboBox)
    placed: dict[int, list[tuple[QWidget, QRect]]] = {}
    for widget in seen:
        parent = widget.parentWidget()
        if isinstance(widget, kinds) and parent is not None and not _floats(widget):
            placed.setdefault(id(parent), []).append((widget, widget.geometry()))
    for row in placed.values():
        for number, (one, at) in enumerate(row):
            for other, there in row[number + 1 :]:
                lap = at.intersected(there)
                if min(lap.width(), lap.height()) > OVER_PX:
                    yield one, other


def _floats(widget: QWidget) -> bool:
    """Whether a widget lies over others on purpose: notes, or what scrolls."""
    return bool(widget.property("note")) or isinstance(widget.parentWidget(), QScrollArea)


def main(demo: str) -> int:
    """Measure every page of a demo at each size; print what is wrong."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    os.environ["MILD_BADGER_LANGUAGE"] = "pseudo"
    from examples import example_vehicle  # noqa: PLC0415
    from mild_badger.app.session import Session  # noqa: PLC0415 - after the language is chosen
    from mild_badger.app.settings import Settings  # noqa: PLC0415
    from mild_badger.app.theme.style import Theme  # noqa: PLC0415
    from mild_badger.app.window import Window  # noqa: PLC0415

    app = QApplication([])
    vehicle = example_vehicle(demo)
    window = Window(Session(vehicle), Theme(app), Settings(Path(os.devnull)))
    window.session.engage(vehicle.real.gears[0].id)
    window.show()
    wrong = 0
    for size in SIZES:
        window.resize(*size)
        for page in every_page(window):
            with painted_cut() as cut:
                window.grab()
            for fault in [*faults(window), *(f"painted: {words!r}" for words in cut)]:
                wrong += 1
                print(f"{size[0]}×{size[1]} {page}: {fault}")  # noqa: T201 - a command's output
            if len(sys.argv) > 2:
                window.grab().save(f"{sys.argv[2]}-{size[0]}-{page.replace('/', '-')}.png")
    window.close()
    window.deleteLater()
    app.processEvents()
    return int(bool(wrong))


if __name__ == "__main__":
    sys.exit(main(sys.argv[1]))
