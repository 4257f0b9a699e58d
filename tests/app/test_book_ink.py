"""How far down the pages of the plan book go, seen as they are printed."""

import re

import numpy as np
import pytest
from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QSize, Qt
from PyQt6.QtGui import QImage, QPainter
from PyQt6.QtPdf import QPdfDocument
from pytestqt.qtbot import QtBot

from mild_badger.core.publish.book import plan_book
from mild_badger.core.vehicle.demo import demo_vehicle

HIGH, HEAD, FOOT = 297.0, 22.0, 16.0
"""A page, what its head takes and what its foot takes, mm."""
INK, LEAST = 200, 2 / 3 - 0.01
SIZE = QSize(248, 351)
TEMPLATES = re.compile(r"T\d+ ·")


def ink_ends(image: QImage) -> float:
    """Give the share of the text's height that ink reaches down to."""
    grey = image.convertToFormat(QImage.Format.Format_Grayscale8)
    bits = grey.constBits()
    assert bits is not None
    bits.setsize(grey.sizeInBytes())
    flat = np.frombuffer(bits, np.uint8)  # type: ignore[call-overload]
    rows = flat.reshape(grey.height(), grey.bytesPerLine())
    start, end = (round(at / HIGH * grey.height()) for at in (HEAD, HIGH - FOOT))
    inked = np.flatnonzero((rows[start:end, : grey.width()] < INK).any(axis=1))
    return float(inked.max() + 1) / (end - start) if len(inked) else 0.0


@pytest.mark.parametrize(
    "name",
    [
        "larkholm-timber-tractor",
        "larkholm-mail-bus",
        "larkholm-street-sweeper",
        "larkholm-sawmill-trolley",
        "larkholm-crane-truck",
    ],
)
def test_pages_are_filled_to_two_thirds_or_shared(qtbot: QtBot, name: str) -> None:
    del qtbot
    document, buffer = QPdfDocument(None), QBuffer()
    buffer.setData(QByteArray(plan_book(demo_vehicle(name))))
    buffer.open(QIODevice.OpenModeFlag.ReadOnly)
    document.load(buffer)
    assert document.pageCount() > 20
    short = {}
    for number in range(document.pageCount()):
        words = document.getAllText(number).text()
        page = QImage(SIZE, QImage.Format.Format_RGB32)
        page.fill(Qt.GlobalColor.white)
        painter = QPainter(page)
        painter.drawImage(0, 0, document.render(number, SIZE))
        painter.end()
        share = ink_ends(page)
        # a sheet of templates is as high as what is on it
        if share < LEAST and not TEMPLATES.search(words):
            short[number + 1] = round(share, 2)
    assert short == {}


def test_a_page_that_is_half_empty_is_seen() -> None:
    page = QImage(SIZE, QImage.Format.Format_RGB32)
    page.fill(Qt.GlobalColor.white)
    assert ink_ends(page) == 0.0
    painter = QPainter(page)
    painter.fillRect(20, 60, 100, 100, Qt.GlobalColor.black)
    painter.end()
    assert 0.3 < ink_ends(page) < 0.5
