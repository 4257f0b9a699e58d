"""The preview before printing: which pages, on which paper, and that nothing is scaled."""

from collections.abc import Iterator

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QModelIndex, QPointF
from PyQt6.QtPdf import QPdfBookmarkModel, QPdfDocument
from PyQt6.QtPdfWidgets import QPdfView
from PyQt6.QtPrintSupport import QPrintDialog, QPrinter
from PyQt6.QtWidgets import QComboBox, QDialog, QHBoxLayout, QProgressBar, QVBoxLayout, QWidget

from mild_badger.app.drawing.widgets import button, caption
from mild_badger.app.printing.printer import Printing
from mild_badger.app.shown import shown
from mild_badger.core.message import say, say_count
from mild_badger.core.publish.tiles import PAPERS

__all__ = ["PrintPreview"]

MM = 25.4 / 72
NEAR_MM = 2.0


class PrintPreview(QDialog):
    """A PDF's pages as they come out, all or chapter by chapter, and the way to the printer."""

    def __init__(self, parent: QWidget, title: str, data: bytes) -> None:
        super().__init__(parent)
        self.setWindowTitle(shown(say("printing.print-what", title=title)))
        self.resize(760, 760)
        self.document = QPdfDocument(self)
        self._buffer = QBuffer(self)
        self._buffer.setData(QByteArray(data))
        self._buffer.open(QIODevice.OpenModeFlag.ReadOnly)
        self.document.load(self._buffer)
        self.job: Printing | None = None
        outer = QVBoxLayout(self)
        head = QHBoxLayout()
        head.addWidget(caption(say("printing.pages")))
        self.choice = QComboBox()
        self.choice.setAccessibleName(shown(say("printing.which-pages")))
        for words, pages in self._parts():
            self.choice.addItem(shown(words), pages)
        self.choice.currentIndexChanged.connect(self._show)
        head.addWidget(self.choice, 1)
        self.go = button(say("printing.print"), self._print, "main")
        self.stop = button(say("printing.stop"), self._stop)
        self.stop.hide()
        head.addWidget(self.go)
        head.addWidget(self.stop)
        outer.addLayout(head)
        self.words = caption("", "soft", wrap=True)
        outer.addWidget(self.words)
        self.view = QPdfView(self)
        self.view.setAccessibleName(shown(say("printing.preview")))
        self.view.setDocument(self.document)
        self.view.setPageMode(QPdfView.PageMode.MultiPage)
        self.view.setZoomMode(QPdfView.ZoomMode.FitToWidth)
        outer.addWidget(self.view, 1)
        self.progress = QProgressBar()
        self.progress.hide()
        outer.addWidget(self.progress)
        self._show()

    def pages(self) -> list[int]:
        """Give the pages that are chosen, from 0."""
        return list(self.choice.currentData() or ())

    def _parts(self) -> Iterator[tuple[str, tuple[int, ...]]]:
        """List all pages, then those of each chapter by the file's own outline."""
        count = self.document.pageCount()
        yield say("printing.all-pages", page=say_count("count.page", count)), tuple(range(count))
        outline = QPdfBookmarkModel(self)
        outline.setDocument(self.document)
        starts: list[tuple[str, int]] = []
        for row in range(outline.rowCount(QModelIndex())):
            index = outline.index(row, 0, QModelIndex())
            title = outline.data(index, int(QPdfBookmarkModel.Role.Title.value))
            page = outline.data(index, int(QPdfBookmarkModel.Role.Page.value))
            starts.append((str(title), int(page)))
        for number, (title, page) in enumerate(starts):
            # a chapter may end on the page on which the next one begins
            last = next((later for _, later in starts[number + 1 :] if later > page), count)
            pages = tuple(range(page, max(last, page + 1)))
            words = say("printing.chapter", title=title, page=say_count("count.page", len(pages)))
            yield words, pages

    def _show(self) -> None:
        pages = self.pages()
        if not pages:
            self.go.setEnabled(False)
            return
        navigator = self.view.pageNavigator()
        if navigator is not None:
            navigator.jump(pages[0], QPointF(), 0)
        papers = dict.fromkeys(self._paper(page) for page in pages)
        self.words.setText(
            shown(
                say(
                    "printing.on-paper-at-true-scale",
                    page=say_count("count.page", len(pages)),
                    papers=", ".join(papers),
                )
            )
        )

    def _paper(self, page: int) -> str:
        """Name the paper of a page, or give its size."""
        points = self.document.pagePointSize(page)
        wide, high = sorted((points.width() * MM, points.height() * MM))
        for name, (w, h) in PAPERS.items():
            if abs(wide - w * MM) < NEAR_MM and abs(high - h * MM) < NEAR_MM:
                return name
        return f"{wide:.0f} × {high:.0f} mm"

    def _print(self) -> None:
        """Ask for the printer, then send page after page; nothing is fitted to the paper."""
        printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        if QPrintDialog(printer, self).exec() != QDialog.DialogCode.Accepted:
            return
        self.send(printer)

    def send(self, printer: QPrinter) -> None:
        """Send the chosen pages to a printer."""
        pages = self.pages()
        self.job = Printing(self.document, pages, printer, self)
        self.progress.setMaximum(len(pages))
        self.progress.setValue(0)
        self.progress.show()
        self.go.hide()
        self.stop.show()
        self.job.printed.connect(self.progress.setValue)
        self.job.ended.connect(self._ended)
        self.job.start()

    def done(self, result: int) -> None:
        self._stop()
        super().done(result)

    def _stop(self) -> None:
        if self.job is not None:
            self.job.cancel()

    def _ended(self, whole: bool) -> None:
        self.go.show()
        self.stop.hide()
        self.progress.hide()
        self.job = None
        self.words.setText(
            shown(say("printing.sent") if whole else say("printing.not-all-was-sent"))
        )
