"""How far down the pages of a document go, seen as they are printed."""

import re

import numpy as np
from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QImage, QPainter
from PyQt6.QtPdf import QPdfDocument

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


def half_empty(document: QPdfDocument) -> dict[int, float]:
    """Give the pages whose ink ends above two thirds of the text's height, and where it ends.

    A sheet of templates is as high as what is on it.
    """
    short = {}
    for number in range(document.pageCount()):
        page = QImage(SIZE, QImage.Format.Format_RGB32)
        page.fill(Qt.GlobalColor.white)
        painter = QPainter(page)
        painter.drawImage(0, 0, document.render(number, SIZE))
        painter.end()
        share = ink_ends(page)
        if share < LEAST and not TEMPLATES.search(document.getAllText(number).text()):
            short[number + 1] = round(share, 2)
    return short
