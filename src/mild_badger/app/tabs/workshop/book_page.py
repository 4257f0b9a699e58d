"""The plan book: its chapters, and the PDF itself as the preview."""

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, Qt, pyqtSignal
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QStackedWidget, QVBoxLayout, QWidget

from mild_badger.app.drawing.widgets import Paragraph, button, caption, row_of, scrolled
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.theme.style import Theme
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.message import say, say_count
from mild_badger.core.publish.book import CHAPTERS
from mild_badger.jobs.registry import Job

__all__ = ["BookPage"]

LIST_PX = 240
EMPTY = say("tab-workshop.tick-the-chapters-you-want-and-press-make")
OTHERWISE = say("tab-workshop.the-vehicle-has-changed-since-make-the-book")


class BookPage(QWidget):
    """Chapters to tick left, the book right.

    Signals
    -------
    search_wanted : a job to run in the background, what to do with its result, its words
    save_wanted : the name and the bytes of a file to be written
    """

    search_wanted = pyqtSignal(object, object, str)
    save_wanted = pyqtSignal(str, bytes)

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        # The PDF viewer is loaded with this page, not at every start.
        from PyQt6.QtPdfWidgets import QPdfView  # noqa: PLC0415

        self.session = session
        self.data = b""
        self._of: object = None
        self._buffer: QBuffer | None = None
        outer = QHBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(12)
        left = QVBoxLayout()
        left.setSpacing(4)
        self.ticks: dict[str, QCheckBox] = {}
        chapters = QWidget()
        column = QVBoxLayout(chapters)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        for key, chapter in CHAPTERS.items():
            tick = QCheckBox(shown(chapter.words))
            tick.setChecked(True)
            self.ticks[key] = tick
            column.addWidget(tick)
        column.addStretch(1)
        left.addWidget(scrolled(chapters, LIST_PX), 1)
        left.addLayout(
            row_of(
                button(say("tab-workshop.all"), lambda: self._tick_all(True)),
                button(say("tab-workshop.none"), lambda: self._tick_all(False)),
            )
        )
        self.make = button(say("tab-workshop.make-the-book"), self.start, "main")
        self.save = button(say("tab-workshop.save-pdf"), self._save)
        left.addSpacing(8)
        left.addLayout(row_of(self.make, self.save))
        self.words = caption("", "soft", wrap=True)
        long = Paragraph(self.words)
        long.setFixedWidth(220)
        left.addWidget(long)
        outer.addLayout(left)
        self.document = QPdfDocument(self)
        self.view = QPdfView(self)
        self.view.setAccessibleName(say("tab-workshop.the-plan-book"))
        self.view.setDocument(self.document)
        self.view.setPageMode(QPdfView.PageMode.MultiPage)
        self.view.setZoomMode(QPdfView.ZoomMode.FitToWidth)
        self.empty = caption(EMPTY, "soft", wrap=True)
        self.empty.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.shown = QStackedWidget()
        self.shown.addWidget(self.empty)
        self.shown.addWidget(self.view)
        outer.addWidget(self.shown, 1)

    def refresh(self, evaluation: Evaluation) -> None:
        """Say whether the book that is shown is still that of the vehicle."""
        self.save.setEnabled(bool(self.data))
        self.shown.setCurrentIndex(int(bool(self.data)))
        if not self.data:
            gear = evaluation.engaged
            self.words.setText(
                say("tab-workshop.the-gear-that-is-engaged-is-drawn-on-the")
                + (
                    f": {gear.name}."
                    if gear
                    else say("tab-workshop.in-neutral-the-first-that-drives")
                )
            )
        elif self._of != evaluation.vehicle:
            self.words.setText(f"{self._pages()} {OTHERWISE}")
        else:
            self.words.setText(self._pages())

    def start(self) -> None:
        """Make the book in the background; progress and cancel stand in the status line."""
        chapters = tuple(key for key, tick in self.ticks.items() if tick.isChecked())
        if not chapters:
            self.session.refused.emit(
                say("tab-workshop.tick-at-least-one-chapter-of-the-plan-book")
            )
            return
        vehicle = self.session.vehicle
        gear = self.session.situation.gear
        job = Job("plan book", (vehicle, gear, chapters, self.session.school))
        self.search_wanted.emit(
            job, lambda data: self.show_book(data, vehicle), say("tab-workshop.making-the-book")
        )

    def show_book(self, data: bytes, vehicle: object) -> None:
        """Show a book that was made of a vehicle."""
        self.data, self._of = data, vehicle
        self.document.close()
        buffer = QBuffer(self)
        buffer.setData(QByteArray(data))
        buffer.open(QIODevice.OpenModeFlag.ReadOnly)
        self.document.load(buffer)
        if self._buffer is not None:
            self._buffer.deleteLater()
        self._buffer = buffer
        self.refresh(self.session.evaluation)

    def printed(self) -> tuple[str, bytes] | None:
        """Give the book that is shown, where it is still the vehicle's."""
        if not self.data or self._of != self.session.vehicle:
            return None
        return say("tab-workshop.plan-book"), self.data

    def heading(self) -> str:
        """Say what is shown."""
        return say("tab-workshop.plan-book")

    def _pages(self) -> str:
        count = self.document.pageCount()
        return say(
            "tab-workshop.mb",
            page=say_count("count.page", count),
            count_of_data=len(self.data) / 1000000.0,
        )

    def _tick_all(self, on: bool) -> None:
        for tick in self.ticks.values():
            tick.setChecked(on)

    def _save(self) -> None:
        self.save_wanted.emit("plan-book.pdf", self.data)
