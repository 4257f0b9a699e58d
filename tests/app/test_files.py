"""Saving, opening, closing, and coming back after a crash."""

import os
import signal
import subprocess
import sys
import time
from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import QEvent, QPoint, Qt, QTimer
from PyQt6.QtGui import QHelpEvent, QTextDocument
from PyQt6.QtWidgets import (
    QApplication,
    QFileDialog,
    QLabel,
    QMessageBox,
    QPushButton,
    QToolTip,
    QWidget,
)
from pytestqt.qtbot import QtBot

from hands import said
from mild_badger.app.settings import Settings, recovery_folder
from mild_badger.app.window import Window
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.files.vehicle_file import load
from telling import tells

LEFT = Qt.MouseButton.LeftButton
RENAME = Edit.one("Rename the vehicle", ("name",), "Hill bus")
Answer = Callable[[QMessageBox.StandardButton], None]


def test_save_reopen_and_recent(
    window: Window, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, answer: Answer
) -> None:
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a: (str(tmp_path / "hill"), ""))
    window.session.do(RENAME)
    assert window.files.save()
    path = tmp_path / "hill.badger.json"
    assert load(path).name == "Hill bus"
    assert window.saved_words.text() == "hill.badger.json · saved"
    window.session.do(Edit.one("x", ("name",), "Valley bus"))
    answer(QMessageBox.StandardButton.Discard)
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_a: (str(path), ""))
    window.files.open_with_dialog()
    assert window.session.vehicle.name == "Hill bus"
    assert Settings().recent == [path]
    window.recent_menu.aboutToShow.emit()
    assert [action.text() for action in window.recent_menu.actions()] == [str(path)]
    window.files.new()
    assert window.session.vehicle.name == say("vehicle.new-vehicle")
    assert window.session.path is None


def test_a_bad_file_leaves_the_document_alone(window: Window, tmp_path: Path) -> None:
    window.session.do(RENAME)
    bad = tmp_path / "bad.badger.json"
    bad.write_text('{"format": "mild-badger vehicle", "version": 1, "vehicle": {')
    assert not window.files.open(bad)
    assert tells(said(window), "json-text.the-file-is-not-complete-json-at-line-column")
    assert window.session.vehicle.name == "Hill bus"
    assert window.session.modified
    assert window.session.undo_stack.canUndo()


def test_a_failed_save_keeps_everything(window: Window, tmp_path: Path) -> None:
    window.session.do(RENAME)
    assert not window.files.save_to(tmp_path / "missing" / "x.badger.json")
    assert tells(said(window), "files.cannot-write")
    assert window.session.modified


@pytest.mark.parametrize("kind", ["pdf", "gears", "parts"])
def test_exports(
    window: Window, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, kind: str
) -> None:
    target = tmp_path / f"out.{kind}"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a: (str(target), ""))
    window.files.export_with_dialog(kind)
    assert target.stat().st_size > 100
    assert said(window) == f"Wrote out.{kind}."


def test_closing_asks_first(window: Window, answer: Answer) -> None:
    window.session.do(RENAME)
    answer(QMessageBox.StandardButton.Cancel)
    assert not window.close()
    assert window.isVisible()
    answer(QMessageBox.StandardButton.Discard)
    assert window.close()
    assert list(recovery_folder().glob("*")) == []


def test_a_saved_document_leaves_no_copy_behind(window: Window, tmp_path: Path) -> None:
    window.session.do(RENAME)
    window.files.keep_copy()
    assert len(list(recovery_folder().glob("*"))) == 1
    window.files.save_to(tmp_path / "x.badger.json")
    assert list(recovery_folder().glob("*")) == []
    window.session.do(Edit.one("x", ("name",), "Again"))
    window.session.undo_stack.undo()
    assert not window.session.modified
    assert list(recovery_folder().glob("*")) == []


CRASH = """
import os, sys
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication
from mild_badger.app.session import Session
from mild_badger.app.settings import Settings
from mild_badger.app.theme.style import Theme
from mild_badger.app.window import Window
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.demo import demo_vehicle
app = QApplication([])
window = Window(Session(demo_vehicle()), Theme(app), Settings())
window.show()
window.session.do(Edit.one("Rename", ("name",), "Bus that was never saved"))
app.exec()
"""


def test_killed_in_the_middle_of_work_and_recovered(
    qtbot: QtBot, open_window: Callable[..., Window], tmp_path: Path
) -> None:
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
    program = subprocess.Popen([sys.executable, "-c", CRASH], env=environment)
    deadline = time.monotonic() + 60
    while not list(recovery_folder().glob("*.recovery.json")):
        assert time.monotonic() < deadline
        assert program.poll() is None
        time.sleep(0.05)
    program.send_signal(signal.SIGKILL)
    program.wait()
    window = open_window()
    window.offer_recovery()
    assert tells(
        said(window),
        "window.the-program-ended-before-of-was-saved",
        name="'Bus that was never saved'",
    )
    offers = [
        made
        for made in window.notice.findChildren(QPushButton)
        if made.text() == say("window.recover-it")
    ]
    qtbot.mouseClick(offers[-1], LEFT)
    assert window.session.vehicle.name == "Bus that was never saved"
    assert window.session.modified
    assert window.windowTitle().startswith("Bus that was never saved *")
    assert window.files.save_to(tmp_path / "saved.badger.json")
    assert list(recovery_folder().glob("*")) == []
    window.notice.hide()
    window.offer_recovery()
    assert not window.notice.isVisible()


def test_a_full_disk_for_the_copy_is_said(window: Window, monkeypatch: pytest.MonkeyPatch) -> None:
    recovery_folder().parent.mkdir(parents=True, exist_ok=True)
    recovery_folder().write_text("in the way")
    window.session.do(RENAME)
    window.files.keep_copy()
    assert tells(said(window), "window.no-recovery-copy-could-be-kept")


def press_in_box(words: str) -> None:
    """Press a button of the message box that is about to open, once it is there."""

    def look() -> None:
        box = QApplication.activeModalWidget()
        if not isinstance(box, QMessageBox):
            QTimer.singleShot(20, look)
            return
        (button,) = [b for b in box.buttons() if b.text().replace("&", "").startswith(words)]
        button.click()

    QTimer.singleShot(20, look)


@pytest.mark.qt_log_ignore("propagateSizeHints")
def test_two_windows_on_one_file_do_not_overwrite_one_another(
    open_window: Callable[..., Window], tmp_path: Path
) -> None:
    path = tmp_path / "bus.badger.json"
    first, second = open_window(), open_window()
    assert first.files.save_to(path)
    assert second.files.open(path)
    first.session.do(RENAME)
    assert first.files.save()
    second.session.do(Edit.one("x", ("name",), "Valley bus"))
    press_in_box("Cancel")
    assert not second.files.save()
    assert load(path).name == "Hill bus"  # nothing was lost on either side
    assert second.session.modified
    assert second.session.vehicle.name == "Valley bus"
    press_in_box("Overwrite")
    assert second.files.save()
    assert load(path).name == "Valley bus"
    assert load(path.with_name(path.name + ".bak")).name == "Hill bus"
    first.session.do(Edit.one("x", ("name",), "Dropped"))
    press_in_box("Reload")
    assert not first.files.save()
    assert first.session.vehicle.name == "Valley bus"
    assert not first.session.modified
    first.session.do(RENAME)
    assert first.files.save()  # after reloading it is the newest again


@pytest.mark.qt_log_ignore(r"raise\(\)")
def test_a_name_is_never_taken_for_markup(
    window: Window, answer: Answer, monkeypatch: pytest.MonkeyPatch
) -> None:
    name = '<img src="x.png"><b>bold</b>'
    window.session.do(Edit.one("x", ("name",), name))
    shown: list[tuple[str, Qt.TextFormat]] = []

    def execute(box: QMessageBox) -> int:
        shown.append((box.text(), box.textFormat()))
        return QMessageBox.StandardButton.Cancel.value

    monkeypatch.setattr(QMessageBox, "exec", execute)
    assert not window.files.may_leave()
    ((text, form),) = shown
    assert name in text
    assert form is Qt.TextFormat.PlainText
    for label in window.findChildren(QLabel):
        assert not label.text() or label.textFormat() is Qt.TextFormat.PlainText, label.text()
    tip = ask_for_tip(window.drawer)
    assert tip == ""
    window.drawer.setToolTip(name)
    assert name in plain_text(ask_for_tip(window.drawer))


def ask_for_tip(widget: QWidget) -> str:
    """Rest the mouse on a widget and give what the program shows."""
    QToolTip.hideText()
    at = QPoint(5, 5)
    event = QHelpEvent(QEvent.Type.ToolTip, at, widget.mapToGlobal(at))
    QApplication.sendEvent(widget, event)
    return QToolTip.text()


def plain_text(rich: str) -> str:
    """What Qt would draw of a tooltip's text."""
    document = QTextDocument()
    document.setHtml(rich)
    return document.toPlainText()
