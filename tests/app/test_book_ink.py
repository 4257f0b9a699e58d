"""How far down the pages of the plan book go, seen as they are printed.

The sawmill trolley's are looked at where its book is previewed.
"""

import pytest
from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, Qt
from PyQt6.QtGui import QImage, QPainter
from PyQt6.QtPdf import QPdfDocument
from pytestqt.qtbot import QtBot

from mild_badger.core.publish.book import plan_book
from mild_badger.core.vehicle.demo import demo_vehicle
from page_ink import SIZE, half_empty, ink_ends


@pytest.mark.parametrize(
    "name",
    [
        "larkholm-timber-tractor",
        "larkholm-mail-bus",
        "larkholm-street-sweeper",
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
    assert half_empty(document) == {}


def test_a_page_that_is_half_empty_is_seen() -> None:
    page = QImage(SIZE, QImage.Format.Format_RGB32)
    page.fill(Qt.GlobalColor.white)
    assert ink_ends(page) == 0.0
    painter = QPainter(page)
    painter.fillRect(20, 60, 100, 100, Qt.GlobalColor.black)
    painter.end()
    assert 0.3 < ink_ends(page) < 0.5
