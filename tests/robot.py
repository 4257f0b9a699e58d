"""A seeded hand at the window: it turns pages, types, presses, drags, takes back, and times it."""

import random
import time
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Any

from PyQt6.QtCore import QEvent, QPoint, Qt, QTimer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractItemView,
    QApplication,
    QComboBox,
    QDialog,
    QFileDialog,
    QLineEdit,
    QMessageBox,
    QTabBar,
    QTableWidget,
    QWidget,
)

from mild_badger.app.tab_list import TABS
from mild_badger.app.window import Window
from mild_badger.core.kit.catalogue import shipped_kit, shipped_kits
from mild_badger.core.vehicle.demo import DEMOS
from mild_badger.core.vehicle.edit.change import Change, Edit

__all__ = ["EDITS", "Robot", "Timed", "no_file_dialogs", "pages_of", "settle", "walk"]

Key = Qt.Key
HAND: Any = QTest
"""Its stubs ask for an object that its functions do not take."""
NO_MODIFIER = Qt.KeyboardModifier.NoModifier
NO_KEYS = (
    Key.Key_Return,
    Key.Key_Tab,
    Key.Key_Escape,
    Key.Key_Delete,
    Key.Key_Backspace,
    Key.Key_Up,
    Key.Key_Down,
    Key.Key_Left,
    Key.Key_Right,
    Key.Key_Space,
    Key.Key_F2,
    Key.Key_PageDown,
    Key.Key_Home,
    Key.Key_End,
)
TEXTS = (
    "2.45",
    "-3",
    "7,200",
    "abc",
    "",
    "12:20",
    "8:(24):12",
    "1e9",
    "<b>x</b>",
    "0",
    "front",
    "2 back",
    "99999999",
    "3/8",
    "a" * 300,
    "=1+1",
)
SHUNNED = ("Quit", "Save", "CSV", "PDF", "Import", "Export", "Open", "Write", "STL", "glTF")
"""Buttons that ask for a file; the dialogs are answered with nothing, but they cost time."""

Typical = tuple[str, tuple[tuple[tuple[str | int, ...], object], ...]]
EDITS: tuple[Typical, ...] = (
    ("ratio", ((("real", "gears", 0, "ratio"), 4.4),)),
    ("wheel", ((("wheels", "diameter_mm"), 60.0),)),
    ("three pairs", ((("search", "max_pairs"), 3),)),
    ("wood", ((("kit", "kind"), "wood"),)),
    ("brick", ((("kit", "kind"), "brick"),)),
    ("module", ((("kit", "module_mm"), 1.5),)),
    ("spacing", ((("search", "fit"), "spacing"),)),
    ("planetary", ((("differential", "kind"), "planetary"),)),
    ("motor", ((("motor", "stall_torque_n_mm"), 90.0),)),
    ("drum", ((("shifting", "actuation"), "drum"),)),
    ("track", ((("axle", "track_mm"), 150.0),)),
)
"""Edits that a builder makes every day, and the ones that used to take long."""


@dataclass(frozen=True)
class Timed:
    """What was done, and for how long the window did nothing else."""

    what: str
    seconds: float


def no_file_dialogs() -> None:
    """Answer every file dialog with nothing, and every question with *discard* or *no*."""
    QFileDialog.getOpenFileName = staticmethod(lambda *_a, **_k: ("", ""))  # type: ignore[method-assign]
    QFileDialog.getSaveFileName = staticmethod(lambda *_a, **_k: ("", ""))  # type: ignore[method-assign]
    QFileDialog.getExistingDirectory = staticmethod(lambda *_a, **_k: "")  # type: ignore[method-assign]
    discard = QMessageBox.StandardButton.Discard.value
    QMessageBox.exec = lambda _box: discard  # type: ignore[method-assign, assignment]


def settle() -> None:
    """Let the window take in what has happened, and free what was closed."""
    QApplication.processEvents()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)


def pages_of(window: Window) -> list[QTabBar]:
    """List the bars by which the tab in view turns its pages."""
    return [bar for bar in window.tab.findChildren(QTabBar, "pages") if bar.isVisible()]


def _timed(what: str, do: object) -> Timed:
    began = time.perf_counter()
    assert callable(do)
    do()
    settle()
    return Timed(what, time.perf_counter() - began)


def walk(
    window: Window, titles: Sequence[str] = tuple(TABS), edits: Sequence[Typical] = EDITS
) -> Iterator[Timed]:
    """Go to every page of the tabs; on each make the typical edits and take them back."""
    for title in titles:
        yield _timed(f"{title}", lambda title=title: window.show_tab(title))
        bars = pages_of(window)
        for number in range(max((bar.count() for bar in bars), default=1)):
            name = f"{title} {number}"
            if bars:
                yield _timed(name, lambda n=number, bar=bars[0]: bar.setCurrentIndex(n))
            for gear in window.session.vehicle.real.gears[:2]:
                yield _timed(
                    f"{name}, gear {gear.name}", lambda gear=gear: window.session.engage(gear.name)
                )
            for words, changes in edits:
                edit = Edit(words, tuple(Change(path, value) for path, value in changes))
                before = window.session.undo_stack.index()
                yield _timed(f"{name}, {words}", lambda edit=edit: window.session.do(edit))
                if window.session.undo_stack.index() > before:
                    yield _timed(f"{name}, {words} undone", window.session.undo_stack.undo)


def _close_popup() -> None:
    popup = QApplication.activePopupWidget()
    if popup is not None:
        popup.close()


class Robot:
    """Does one thing after another, drawn by its seed."""

    def __init__(self, window: Window, seed: int) -> None:
        self.window, self.chance = window, random.Random(seed)
        self.what = ""
        self._closer = QTimer(window)  # a menu that opens keeps the keyboard until it is closed
        self._closer.timeout.connect(_close_popup)
        self._closer.start(50)

    def step(self) -> Timed:
        """Do one thing."""
        chance = self.chance
        acts = (
            (self._page, 3),
            (self._tab, 2),
            (self._type, 8),
            (self._press, 5),
            (self._keys, 5),
            (self._mouse, 4),
            (self._undo, 2),
            (self._choose, 3),
            (self._gear, 2),
            (self._document, 0.25),
            (self._kit, 0.3),
            (self._close_dialogs, 1),
        )
        act = chance.choices([a for a, _ in acts], [w for _, w in acts])[0]
        self.what = act.__name__
        timed = _timed(self.what, act)
        return Timed(f"{self.window.tab.title}: {self.what}", timed.seconds)

    def _tab(self) -> None:
        self.window.show_tab(self.chance.choice(list(TABS)))

    def _page(self) -> None:
        for bar in pages_of(self.window):
            bar.setCurrentIndex(self.chance.randrange(bar.count()))

    def _some(self, kind: type[QWidget]) -> QWidget | None:
        root = QApplication.activeModalWidget() or self.window
        found = [w for w in root.findChildren(kind) if w.isVisible() and w.isEnabled()]
        return self.chance.choice(found) if found else None

    def _type(self) -> None:
        widget = self._some(self.chance.choice((QLineEdit, QTableWidget)))
        if widget is None:
            return
        widget.setFocus()
        if isinstance(widget, QTableWidget) and widget.rowCount() and widget.columnCount():
            widget.setCurrentCell(
                self.chance.randrange(widget.rowCount()),
                self.chance.randrange(widget.columnCount()),
            )
        elif isinstance(widget, QLineEdit):
            widget.selectAll()
        self.what = f"type into {widget.accessibleName()}"
        HAND.keyClicks(QApplication.focusWidget() or widget, self.chance.choice(TEXTS))
        end = self.chance.choice((Key.Key_Return, Key.Key_Tab, Key.Key_Escape))
        HAND.keyClick(QApplication.focusWidget() or widget, end)

    def _press(self) -> None:
        widget = self._some(QAbstractButton)
        if isinstance(widget, QAbstractButton):
            self.what = f"press {widget.text()[:30]}"
            if not any(word in widget.text() for word in SHUNNED) and widget.text():
                HAND.mouseClick(widget, Qt.MouseButton.LeftButton)

    def _keys(self) -> None:
        for _ in range(self.chance.randint(1, 4)):
            focus = QApplication.focusWidget() or self.window.centralWidget()
            HAND.keyClick(focus, self.chance.choice(NO_KEYS))

    def _mouse(self) -> None:
        widget = self._some(QWidget)
        if widget is None or isinstance(widget, QAbstractButton | QComboBox):
            return
        self.what = f"mouse on {type(widget).__name__}"

        def spot() -> QPoint:
            return QPoint(
                self.chance.randrange(max(widget.width(), 1)),
                self.chance.randrange(max(widget.height(), 1)),
            )

        left = Qt.MouseButton.LeftButton
        HAND.mousePress(widget, left, NO_MODIFIER, spot())
        HAND.mouseMove(widget, spot())
        HAND.mouseRelease(widget, left, NO_MODIFIER, spot())

    def _undo(self) -> None:
        stack = self.window.session.undo_stack
        stack.undo() if self.chance.random() < 0.7 else stack.redo()

    def _choose(self) -> None:
        box = self._some(QComboBox)
        if isinstance(box, QComboBox) and box.count():
            self.what = f"choose in {box.accessibleName()}"
            number = self.chance.randrange(box.count())
            box.setCurrentIndex(number)
            box.activated.emit(number)

    def _gear(self) -> None:
        names = [None, *(gear.name for gear in self.window.session.vehicle.real.gears)]
        self.window.session.engage(self.chance.choice(names))

    def _document(self) -> None:
        files = self.window.files
        files.new() if self.chance.random() < 0.3 else files.open_demo(
            self.chance.choice(list(DEMOS))
        )

    def _kit(self) -> None:
        if QApplication.activeModalWidget() is None:
            self.window.edit_kit()
            kit = shipped_kit(self.chance.choice(shipped_kits()))
            self.window.session.do(Edit.one("kit", ("kit",), kit))

    def _close_dialogs(self) -> None:
        for widget in QApplication.topLevelWidgets():
            if isinstance(widget, QDialog) and widget.isVisible():
                widget.close()
        popup = QApplication.activePopupWidget()
        if popup is not None:
            popup.close()
        for view in self.window.findChildren(QAbstractItemView):
            view.clearFocus()
