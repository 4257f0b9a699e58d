"""Printing: what the page in view prints, a preview by chapters, and paper at true scale."""

import io
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from pypdf import PdfReader
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QImage, QPainter
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtPrintSupport import QPrintDialog, QPrinter
from PyQt6.QtWidgets import QDialog
from pytestqt.qtbot import QtBot

from examples import example_vehicle
from mild_badger.app.printing.dialog import PrintPreview
from mild_badger.app.window import Window
from mild_badger.core.publish.book import plan_book
from mild_badger.core.publish.drawings import template_data
from page_ink import half_empty
from strategies import placed_demo
from wordsonly import words_only

OpenWindow = Callable[..., Window]
pytestmark = pytest.mark.qt_log_ignore("propagateSizeHints")
TRACTOR = "larkholm-timber-tractor"
CTRL, LEFT = Qt.KeyboardModifier.ControlModifier, Qt.MouseButton.LeftButton
RULER_MM, DOTS_MM = 100.0, 300 / 25.4


def to_file(monkeypatch: pytest.MonkeyPatch, path: Path) -> None:
    """Let the printer's dialog say yes, and the printer write into a file."""

    def chosen(dialog: QPrintDialog) -> QDialog.DialogCode:
        printer = dialog.printer()
        assert printer is not None
        printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
        printer.setOutputFileName(str(path))
        return QDialog.DialogCode.Accepted

    monkeypatch.setattr(QPrintDialog, "exec", chosen)


def longest_line_mm(path: Path) -> float:
    """Measure the ruler at a sheet's foot: the longest dark row of the lower twentieth."""
    document = QPdfDocument(None)
    document.load(str(path))
    points = document.pagePointSize(0)
    size = (points / 72 * 300).toSize()
    image = QImage(size, QImage.Format.Format_Grayscale8)
    image.fill(Qt.GlobalColor.white)
    painter = QPainter(image)
    painter.drawImage(0, 0, document.render(0, size))
    painter.end()
    bits = image.constBits()
    assert bits is not None
    bits.setsize(image.sizeInBytes())
    pixels = np.frombuffer(bits, np.uint8).reshape(image.height(), image.bytesPerLine())  # type: ignore[call-overload]
    dark = pixels[round(image.height() * 0.93) :, : image.width()] < 110
    longest = 0
    for row in dark:
        steps = np.flatnonzero(np.diff(np.concatenate(([0], row.astype(np.int8), [0]))))
        if len(steps):
            longest = max(longest, int((steps[1::2] - steps[::2]).max()))
    return longest / DOTS_MM


def test_a_template_is_printed_by_its_key_at_true_scale(
    qtbot: QtBot,
    open_window: OpenWindow,
    press: Callable[..., None],
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    window = open_window(example_vehicle(TRACTOR))
    window.show_page("Workshop", "templates")
    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow)
    press(window, Qt.Key.Key_P, CTRL)
    preview = window.preview
    assert preview is not None
    assert preview.isVisible()
    assert preview.document.pageCount() == 1
    assert "A4" in preview.words.text()
    out = tmp_path / "printed.pdf"
    to_file(monkeypatch, out)
    qtbot.mouseClick(preview.go, LEFT)
    qtbot.waitUntil(lambda: preview.job is None, timeout=20_000)
    (page,) = PdfReader(out).pages
    # as large as the sheet, and the ruler on it as long as it says: 4 in below 100 mm
    data = template_data(window.session.vehicle, "gear 10 fixed", "pdf")
    (wanted,) = PdfReader(io.BytesIO(data)).pages
    assert float(page.mediabox.width) == pytest.approx(float(wanted.mediabox.width), abs=1)
    assert longest_line_mm(out) == pytest.approx(101.6, abs=0.4)
    preview.close()


def test_chapters_are_previewed_and_printed_by_themselves(
    qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    with words_only():
        data = plan_book(placed_demo(TRACTOR), chapters=("contents", "shift", "axle", "cautions"))
    preview = PrintPreview(None, "x", data)  # type: ignore[arg-type]
    qtbot.addWidget(preview)
    preview.show()
    count = preview.document.pageCount()
    assert preview.pages() == list(range(count))
    assert preview.choice.count() == 5
    seen = set()
    for number in range(1, 5):
        preview.choice.setCurrentIndex(number)
        seen |= set(preview.pages())
    assert seen == set(range(count))
    preview.choice.setCurrentIndex(2)
    out = tmp_path / "chapter.pdf"
    to_file(monkeypatch, out)
    qtbot.mouseClick(preview.go, LEFT)
    qtbot.waitUntil(lambda: preview.job is None, timeout=20_000)
    assert len(PdfReader(out).pages) == len(preview.pages()) < count


def test_without_a_book_it_is_made_first_and_its_filled_pages_are_previewed(
    qtbot: QtBot, open_window: OpenWindow, press: Callable[..., None]
) -> None:
    window = open_window(example_vehicle("larkholm-sawmill-trolley"))
    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow)
    press(window, Qt.Key.Key_P, CTRL)
    assert window.progress.isVisible()
    qtbot.waitUntil(lambda: window.preview is not None, timeout=60_000)
    preview = window.preview
    assert preview is not None
    assert preview.document.pageCount() > 20
    assert half_empty(preview.document) == {}
    preview.close()
