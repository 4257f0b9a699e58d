"""The plan book in the window: chapters ticked, made in the background, cancelled, saved."""

from collections.abc import Callable
from pathlib import Path

import pytest
from pypdf import PdfReader
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QFileDialog
from pytestqt.qtbot import QtBot

from examples import example_vehicle
from hands import said
from mild_badger.app.tabs.workshop.book_page import BookPage
from mild_badger.app.tabs.workshop.tab import WorkshopTab
from mild_badger.app.window import Window
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.change import Edit
from telling import tells

OpenWindow = Callable[..., Window]
LEFT = Qt.MouseButton.LeftButton


def book(qtbot: QtBot, window: Window) -> BookPage:
    window.show_tab("Workshop")
    tab = window.tab
    assert isinstance(tab, WorkshopTab)
    qtbot.mouseClick(tab.pages, LEFT, pos=tab.pages.tabRect(5).center())
    return tab.book_page


def test_chapters_are_made_shown_and_saved(
    qtbot: QtBot, open_window: OpenWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = open_window(example_vehicle("larkholm-timber-tractor"))
    page = book(qtbot, window)
    assert not page.save.isEnabled()
    for key, tick in page.ticks.items():
        if key not in ("axle", "trial"):
            qtbot.mouseClick(tick, LEFT, pos=QPoint(8, tick.height() // 2))
    qtbot.mouseClick(page.make, LEFT)
    qtbot.waitUntil(lambda: bool(page.data), timeout=20_000)
    assert page.document.pageCount() == 4
    assert page.document.getAllText(0).text().startswith("Axle sheet")
    assert page.words.text().startswith("4 pages")
    target = tmp_path / "book.pdf"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(target), ""))
    qtbot.mouseClick(page.save, LEFT)
    assert len(PdfReader(target).pages) == 4
    assert tells(said(window), "window.wrote", name="book.pdf")
    window.session.do(Edit.one("turn slower", ("motor", "working_rpm"), 500.0))
    assert tells(page.words.text(), "tab-workshop.the-vehicle-has-changed-since-make-the-book")
    # a read-only place is said, and what is there stays
    target.chmod(0o400)
    locked = tmp_path / "nowhere" / "book.pdf"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(locked), ""))
    qtbot.mouseClick(page.save, LEFT)
    assert tells(said(window), "files.cannot-write")


def test_making_can_be_cancelled_and_nothing_ticked_is_said(
    qtbot: QtBot, open_window: OpenWindow
) -> None:
    window = open_window(example_vehicle("larkholm-timber-tractor"))
    page = book(qtbot, window)
    qtbot.mouseClick(page.make, LEFT)
    assert window.progress.isVisible()
    assert window.progress_words.text().startswith(say("tab-workshop.making-the-book"))
    qtbot.mouseClick(window.cancel, LEFT)
    assert not window.progress.isVisible()
    assert page.data == b""
    page._tick_all(False)
    qtbot.mouseClick(page.make, LEFT)
    assert tells(said(window), "tab-workshop.tick-at-least-one-chapter-of-the-plan-book")
