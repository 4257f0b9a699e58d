"""The handbook in a window of its own: contents on the left, the chapter on the right."""

from PyQt6.QtCore import QPoint, Qt, QTimer, QUrl, pyqtSignal
from PyQt6.QtGui import (
    QDesktopServices,
    QKeySequence,
    QShortcut,
    QTextBlock,
    QTextCursor,
    QTextFragment,
)
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QSplitter,
    QTextBrowser,
    QVBoxLayout,
    QWidget,
)

from mild_badger.app.drawing.widgets import button
from mild_badger.core.message import say
from mild_badger.text.handbook import chapter_text, chapter_title, chapters, folder

__all__ = ["HandbookWindow"]

WIDTH, HEIGHT = 940, 720
PICTURE_PX, DRAWING_PX = 600, 320
"""Width of a picture of a page, and of a term's drawing."""
MARGIN_PX, HEADING_PX, PARAGRAPH_PX = 20, 16, 8
ABOVE_PX = 8
"""What is left above a section that was gone to."""


class HandbookWindow(QWidget):
    """Shows a chapter from one of its sections on.

    Signals
    -------
    lesson_wanted : the key of a lesson that a link leads to
    """

    lesson_wanted = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setWindowTitle(say("help.handbook-mild-badger"))
        self.resize(WIDTH, HEIGHT)
        self.chapter = ""
        self._been: list[tuple[str, str]] = []
        outer = QVBoxLayout(self)
        bar = QHBoxLayout()
        self.back = button(say("help.back"), self.go_back)
        bar.addWidget(self.back)
        bar.addStretch(1)
        outer.addLayout(bar)
        split = QSplitter(Qt.Orientation.Horizontal)
        self.contents = QListWidget()
        self.contents.setAccessibleName(say("help.chapters-of-the-handbook"))
        self.contents.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.contents.setSpacing(2)
        for name in chapters():
            item = QListWidgetItem(chapter_title(name))
            item.setData(Qt.ItemDataRole.UserRole, name)
            self.contents.addItem(item)
        self.contents.itemClicked.connect(
            lambda item: self.open_at(item.data(Qt.ItemDataRole.UserRole))
        )
        self.page = QTextBrowser()
        self.page.setAccessibleName(say("help.chapter"))
        self.page.setOpenLinks(False)
        self.page.setSearchPaths([str(folder())])
        self.page.anchorClicked.connect(self._follow)
        split.addWidget(self.contents)
        split.addWidget(self.page)
        split.setStretchFactor(1, 1)
        split.setSizes([260, WIDTH - 260])
        outer.addWidget(split, 1)
        QShortcut(QKeySequence("Escape"), self, self.close)
        QShortcut(QKeySequence("Alt+Left"), self, self.go_back)

    def open_at(self, chapter: str, heading: str = "") -> None:
        """Show a chapter from a section on; from its beginning where there is no such heading."""
        if self.chapter:
            self._been.append((self.chapter, self.heading_in_view()))
        self._show(chapter, heading)

    def go_back(self) -> None:
        """Go back to where the reader came from."""
        if self._been:
            self._show(*self._been.pop())

    def _show(self, chapter: str, heading: str) -> None:
        text = chapter_text(chapter)
        self.show()
        if chapter != self.chapter:
            self.chapter = chapter
            self.page.setMarkdown(text)
            self._lay_out()
            self.contents.setCurrentRow(chapters().index(chapter))
        self.back.setEnabled(bool(self._been))
        self.raise_()
        self.activateWindow()
        QTimer.singleShot(0, lambda: self._scroll_to(heading))  # once the lines are laid out

    def heading_in_view(self) -> str:
        """Give the heading of the section at the top of the view; "" before the first."""
        block = self.page.cursorForPosition(QPoint(0, 3 * ABOVE_PX)).block()
        while block.isValid():
            if block.blockFormat().headingLevel() == 2:
                return block.text()
            block = block.previous()
        return ""

    def _scroll_to(self, heading: str) -> None:
        bar, document = self.page.verticalScrollBar(), self.page.document()
        layout = document.documentLayout() if document is not None else None
        block = self._block_of(heading)
        if bar is not None and layout is not None:
            top = 0.0 if block is None else layout.blockBoundingRect(block).top()
            bar.setValue(int(top) - ABOVE_PX)

    def _block_of(self, heading: str) -> QTextBlock | None:
        """Find a heading, or the paragraph in bold that explains a term of the glossary."""
        document = self.page.document()
        block = document.begin() if document is not None and heading else QTextBlock()
        while block.isValid():
            text = block.text()
            if (block.blockFormat().headingLevel() and text == heading) or text.startswith(
                f"{heading}. "
            ):
                return block
            block = block.next()
        return None

    def _lay_out(self) -> None:
        """Give paragraphs room and pictures their width; any section can come to the top."""
        document = self.page.document()
        if document is None:
            return
        document.setDocumentMargin(MARGIN_PX)
        block = document.begin()
        while block.isValid():
            form = block.blockFormat()
            form.setTopMargin(HEADING_PX if form.headingLevel() else 0)
            form.setBottomMargin(PARAGRAPH_PX)
            QTextCursor(block).setBlockFormat(form)
            fragments = block.begin()
            while not fragments.atEnd():
                self._fit_picture(fragments.fragment())
                fragments += 1
            block = block.next()
        root = document.rootFrame()
        viewport = self.page.viewport()
        if root is not None and viewport is not None:
            frame = root.frameFormat()
            frame.setBottomMargin(max(viewport.height() - 4 * MARGIN_PX, 0))
            root.setFrameFormat(frame)

    def _fit_picture(self, fragment: QTextFragment) -> None:
        form = fragment.charFormat()
        if form.isImageFormat():
            image = form.toImageFormat()
            drawn = image.name().endswith(".svg")
            image.setWidth(DRAWING_PX if drawn else PICTURE_PX)
            cursor = QTextCursor(self.page.document())
            cursor.setPosition(fragment.position())
            end = fragment.position() + fragment.length()
            cursor.setPosition(end, QTextCursor.MoveMode.KeepAnchor)
            cursor.setCharFormat(image)

    def _follow(self, link: QUrl) -> None:
        name = link.fileName().removesuffix(".md")
        if link.isRelative() and name in chapters():
            self.open_at(name, link.fragment())
        elif link.scheme() == "lesson":
            self.lesson_wanted.emit(link.path())
        elif not link.isRelative():
            QDesktopServices.openUrl(link)
