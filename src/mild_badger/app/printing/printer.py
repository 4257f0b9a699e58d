"""Pages of a PDF put on a printer's paper one after another, each as large as it is in the file.

Every page is rendered in a thread of its own and drawn from the paper's corner, so that nothing is
scaled; the window goes on meanwhile.
"""

from collections.abc import Sequence

from PyQt6.QtCore import (
    QMarginsF,
    QObject,
    QRectF,
    QRunnable,
    QSize,
    QSizeF,
    Qt,
    QThreadPool,
    pyqtSignal,
)
from PyQt6.QtGui import QImage, QPageLayout, QPageSize, QPainter
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtPrintSupport import QPrinter

__all__ = ["Printing"]

DPI = 300
POINTS = 72.0


class _Rendering(QRunnable):
    """Renders a page, and tells with the page's number."""

    def __init__(self, told: "Printing", document: QPdfDocument, page: int, size: QSize) -> None:
        super().__init__()
        self._told, self._document, self._page, self._size = told, document, page, size

    def run(self) -> None:
        paper = QImage(self._size, QImage.Format.Format_RGB32)
        paper.fill(Qt.GlobalColor.white)
        painter = QPainter(paper)
        painter.drawImage(0, 0, self._document.render(self._page, self._size))
        painter.end()
        self._told.rendered.emit(self._page, paper)


class Printing(QObject):
    """A run over some pages.

    Signals
    -------
    printed : how many pages have gone to the printer
    ended : whether all have
    rendered : a page's number and its picture
    """

    rendered = pyqtSignal(int, QImage)
    printed = pyqtSignal(int)
    ended = pyqtSignal(bool)

    def __init__(
        self, document: QPdfDocument, pages: Sequence[int], printer: QPrinter, parent: QObject
    ) -> None:
        super().__init__(parent)
        self._document, self._pages, self._printer = document, list(pages), printer
        self._done = 0
        self._painter: QPainter | None = None
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(1)
        self.rendered.connect(self._rendered)

    def start(self) -> None:
        """Begin with the first page."""
        self._printer.setFullPage(True)
        self._next()

    def cancel(self) -> None:
        """Stop after what has gone to the printer."""
        self._pages = self._pages[: self._done]
        self._finish(whole=False)

    def _size(self, page: int) -> QSizeF:
        return self._document.pagePointSize(page)

    def _next(self) -> None:
        if self._done >= len(self._pages):
            self._finish(whole=True)
            return
        page = self._pages[self._done]
        points = self._size(page)
        pixels = QSize(round(points.width() / POINTS * DPI), round(points.height() / POINTS * DPI))
        self._pool.start(_Rendering(self, self._document, page, pixels))

    def _rendered(self, page: int, image: QImage) -> None:
        if self._done >= len(self._pages) or page != self._pages[self._done]:
            return
        points = self._size(page)
        lying = points.width() > points.height()
        upright = QSizeF(min(points.width(), points.height()), max(points.width(), points.height()))
        layout = QPageLayout(
            QPageSize(upright, QPageSize.Unit.Point, "", QPageSize.SizeMatchPolicy.FuzzyMatch),
            QPageLayout.Orientation.Landscape if lying else QPageLayout.Orientation.Portrait,
            QMarginsF(0, 0, 0, 0),
        )
        layout.setMode(QPageLayout.Mode.FullPageMode)
        self._printer.setPageLayout(layout)
        if self._painter is None:
            self._painter = QPainter()
            if not self._painter.begin(self._printer):
                self._painter = None
                self._finish(whole=False)
                return
        else:
            self._printer.newPage()
        one = self._printer.resolution() / POINTS
        # from the paper's own corner, at the size it has in the file
        place = QRectF(0.0, 0.0, points.width() * one, points.height() * one)
        self._painter.drawImage(place, image)
        self._done += 1
        self.printed.emit(self._done)
        self._next()

    def _finish(self, *, whole: bool) -> None:
        if self._painter is not None:
            self._painter.end()
            self._painter = None
        self.ended.emit(whole)
