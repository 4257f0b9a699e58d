"""The program as a whole: started, shown, stopped."""

import os
import subprocess
import sys
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from mild_badger.app.window import Window
from telling import tells


def program(*arguments: str, **environment: str) -> subprocess.CompletedProcess[str]:
    kept = {k: v for k, v in os.environ.items() if k not in ("DISPLAY", "WAYLAND_DISPLAY")}
    kept.pop("QT_QPA_PLATFORM", None)
    return subprocess.run(
        [sys.executable, "-m", "mild_badger", *arguments],
        env={**kept, **environment},
        capture_output=True,
        text=True,
        check=False,
        timeout=120,
    )


def test_the_views_are_drawn_to_files(tmp_path: Path) -> None:
    done = program("--demo", "--shots", str(tmp_path / "shots"), QT_QPA_PLATFORM="offscreen")
    assert (done.returncode, done.stderr) == (0, "")
    names = {path.stem for path in (tmp_path / "shots").iterdir()}
    assert {"vehicle", "ratios", "shift", "layout", "axle", "road", "workshop", "kit"} <= names
    for path in (tmp_path / "shots").iterdir():
        picture = QImage(str(path))
        wanted = (880, 620) if path.stem == "kit" else (1280, 800)
        assert (picture.width(), picture.height()) == wanted
        width, height = wanted
        colors = {picture.pixel(x, y) for x in range(0, width, 7) for y in range(0, height, 7)}
        assert len(colors) > 10


@pytest.mark.parametrize(
    ("arguments", "word"),
    [
        ((), "no display"),
        (("--demo", "--sideways"), "Try mild-badger --help"),
        (("/nowhere/x.badger.json",), "no such file|no display"),
    ],
)
def test_without_a_display_it_says_so(arguments: tuple[str, ...], word: str) -> None:
    done = program(*arguments)
    assert done.returncode == 2
    assert "Traceback" not in done.stderr
    assert any(part in done.stderr for part in word.split("|"))


def test_a_file_that_is_none_is_refused_before_the_window(tmp_path: Path) -> None:
    bad = tmp_path / "x.badger.json"
    bad.write_text("{}")
    done = program(str(bad), QT_QPA_PLATFORM="offscreen")
    assert (
        done.returncode,
        tells(done.stderr, "vehicle.this-is-not-a-vehicle-file-its-format-should"),
    ) == (2, True)


@pytest.mark.xvfb
def test_on_a_real_screen(qtbot: QtBot, window: Window) -> None:
    assert QApplication.platformName() == "xcb"
    central = window.centralWidget()
    assert central is not None
    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow, timeout=30_000)
    central.setFocus()
    qtbot.keyClick(central, Qt.Key.Key_2)
    assert "Box · 2" in window.strip.stations["box"].accessibleName()
    qtbot.mouseClick(window.gears.button_of("6"), Qt.MouseButton.LeftButton)
    assert "Box · 6" in window.strip.stations["box"].accessibleName()
    screen = window.screen()
    assert screen is not None
    seen = screen.grabWindow(window.winId()).toImage()  # what the X server shows
    colors = {seen.pixel(x, y) for x in range(0, 1200, 9) for y in range(0, 700, 9)}
    assert len(colors) > 10


@pytest.mark.xvfb
def test_typing_on_a_real_screen(qtbot: QtBot, window: Window) -> None:
    window.show_tab("Vehicle")
    entry = window.tab_of("Vehicle").fields["wheels", "diameter_mm"]  # type: ignore[attr-defined]
    entry.setFocus()
    entry.selectAll()
    qtbot.keyClicks(entry, "60")
    qtbot.keyClick(entry, Qt.Key.Key_Return)
    assert window.strip.stations["wheels"].accessibleName().startswith("Wheels ø 60")
