"""Labels, fields and tables in the house style."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QBrush, QColor, QKeyEvent
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QCheckBox,
    QComboBox,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QStackedWidget,
    QTabBar,
    QTableWidget,
    QTableWidgetItem,
    QWidget,
)

from mild_badger.app.session import Session
from mild_badger.core.changes import Edit, Path
from mild_badger.core.errors import InputError
from mild_badger.core.targets.schools import parse_number

__all__ = [
    "Cell",
    "Choice",
    "Entry",
    "Pages",
    "Table",
    "Tick",
    "button",
    "caption",
    "field_of",
    "fill",
    "page_bar",
    "row_of",
    "scrolled",
]


def caption(text: str = "", role: str = "", *, wrap: bool = False) -> QLabel:
    """Make a label; role is title, head, soft, strong or problem."""
    label = QLabel(text)
    if role:
        label.setProperty("role", role)
    label.setWordWrap(wrap)
    if role == "title":  # a long name is cut off rather than widening the window
        label.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
    label.setTextFormat(Qt.TextFormat.PlainText)
    return label


def button(text: str, action: Callable[[], object], role: str = "") -> QPushButton:
    """Make a push button; role is main or link."""
    made = QPushButton(text)
    made.setAutoDefault(False)  # Enter in a dialog's field sends the field, nothing else
    if role:
        made.setProperty("role", role)
    made.clicked.connect(lambda _checked=False: action())
    return made


class Entry(QLineEdit):
    """A line that sends what was typed when Enter is pressed or the line is left.

    ``commit`` raises InputError, or returns False, for what cannot be used: the line is then
    marked and keeps what was typed. Escape brings back what stands in the document.
    """

    def __init__(
        self, commit: Callable[[str], bool | None], refused: Callable[[str], object], name: str
    ) -> None:
        super().__init__()
        self._commit, self._refused, self._shown = commit, refused, ""
        self.setAccessibleName(name)
        self.editingFinished.connect(self._send)

    def show_value(self, text: str) -> None:
        """Show the document's value, unless the builder is in the middle of typing."""
        typing = self.hasFocus() and self.isModified() and self.text() != self._shown
        unchanged = text == self._shown
        self._shown = text
        if not typing and not (unchanged and self.property("refused")):
            self.setText(text)
            self.setCursorPosition(0)
            self._mark(False)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.setText(self._shown)
            self._mark(False)
            return
        super().keyPressEvent(event)

    def _send(self) -> None:
        if self.text() == self._shown:
            self._mark(False)
            return
        try:
            taken = self._commit(self.text())
        except InputError as error:
            self._refused(str(error))
            taken = False
        self.setModified(False)
        self._mark(taken is False)
        if taken is not False:
            self.setText(self._shown)

    def _mark(self, refused: bool) -> None:
        if bool(self.property("refused")) != refused:
            self.setProperty("refused", refused)
            style = self.style()
            if style is not None:
                style.unpolish(self)
                style.polish(self)


def field_of(
    session: Session, path: Path, name: str, *, width: int = 84, optional: bool = False
) -> Entry:
    """Make a number field for one field of the document; empty is none where it is optional."""

    def commit(text: str) -> bool:
        value = None if optional and not text.strip() else parse_number(text, what=name)
        return session.do(Edit.one(f"Set {name.lower()}", path, value))

    entry = Entry(commit, session.refused.emit, name)
    entry.setFixedWidth(width)
    entry.setAlignment(Qt.AlignmentFlag.AlignRight)
    return entry


class Choice(QComboBox):
    """A choice of values for one field of the document, each with its words."""

    def __init__(self, session: Session, path: Path, name: str, entries: Mapping[str, str]) -> None:
        super().__init__()
        self.setAccessibleName(name)
        for key, words in entries.items():
            self.addItem(words, key)
        self.activated.connect(
            lambda _i: session.do(Edit.one(f"Set {name.lower()}", path, self.currentData()))
        )

    def show_value(self, value: str) -> None:
        """Show the document's value."""
        self.setCurrentIndex(self.findData(value))


class Tick(QCheckBox):
    """A yes or no in the document."""

    def __init__(self, session: Session, path: Path, words: str) -> None:
        super().__init__(words)
        self.setAccessibleName(words.capitalize())
        self.clicked.connect(lambda on: session.do(Edit.one(f"Set {words}", path, bool(on))))

    def show_value(self, value: bool) -> None:
        """Show the document's value."""
        self.setChecked(value)


def fill(box: QComboBox, entries: Sequence[tuple[str, object]]) -> None:
    """Fill a choice anew only where it differs, so that what was chosen stays."""
    if list(entries) != [(box.itemText(n), box.itemData(n)) for n in range(box.count())]:
        box.clear()
        for words, value in entries:
            box.addItem(words, value)


class Pages(QStackedWidget):
    """A stack that asks for no more room than the page in view."""

    def minimumSizeHint(self) -> QSize:
        page = self.currentWidget()
        return super().minimumSizeHint() if page is None else page.minimumSizeHint()


def row_of(*things: QWidget | str) -> QHBoxLayout:
    """Lay words and widgets out in a row, to the left."""
    row = QHBoxLayout()
    row.setSpacing(8)
    for thing in things:
        row.addWidget(caption(thing) if isinstance(thing, str) else thing)
    row.addStretch(1)
    return row


def scrolled(inside: QWidget, width: int) -> QScrollArea:
    """Let a column of fields be scrolled up and down where it is taller than its place."""
    area = QScrollArea()
    area.setWidgetResizable(True)
    area.setFrameShape(QScrollArea.Shape.NoFrame)
    area.setWidget(inside)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setFixedWidth(width)
    return area


def page_bar(titles: Sequence[str]) -> QTabBar:
    """Make the quiet tabs by which a bench turns its pages."""
    bar = QTabBar()
    bar.setObjectName("pages")
    bar.setDrawBase(False)
    bar.setExpanding(False)
    bar.setFocusPolicy(Qt.FocusPolicy.TabFocus)
    for title in titles:
        bar.addTab(title)
    return bar


@dataclass(frozen=True)
class Cell:
    """What one place of a table shows; ``checked`` None is no check box."""

    text: str
    right: bool = False
    editable: bool = False
    bold: bool = False
    color: QColor | None = None
    checked: bool | None = None
    tip: str = ""


class Table(QTableWidget):
    """A plain table: rows selected whole, no grid, headers quiet."""

    def __init__(self, headers: Sequence[str], name: str, parent: QWidget | None = None) -> None:
        super().__init__(0, len(headers), parent)
        self._shown: dict[tuple[int, int], Cell] = {}
        self._stretched, self._fresh = -1, True
        self.setHorizontalHeaderLabels(list(headers))
        self.setAccessibleName(name)
        self.setShowGrid(False)
        self.setWordWrap(False)
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.setTabKeyNavigation(False)
        down, across = self.verticalHeader(), self.horizontalHeader()
        if down is not None and across is not None:
            down.hide()
            down.setDefaultSectionSize(26)
            across.setHighlightSections(False)
            across.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)

    def show_cells(self, rows: Sequence[Sequence[Cell]]) -> None:
        """Show rows of cells; items that are there are filled anew, so an editor stays whole."""
        self.blockSignals(True)
        changed = self.rowCount() != len(rows)
        self.setRowCount(len(rows))
        for number, row in enumerate(rows):
            for column, cell in enumerate(row):
                item = self.item(number, column)
                if item is None:
                    item = QTableWidgetItem()
                    self.setItem(number, column, item)
                elif self._shown.get((number, column)) == cell and _shows(item, cell):
                    continue  # most cells are as they were, and setting one is dear
                _fill(item, cell)
                self._shown[number, column] = cell
                changed = True
        if changed or self._fresh:
            self._fresh = False
            for column in range(self.columnCount()):
                if column != self._stretched:
                    self.resizeColumnToContents(column)
        self.blockSignals(False)
        view = self.viewport()
        if view is not None:
            view.update()

    def text_at(self, row: int, column: int) -> str:
        """Text of one place."""
        item = self.item(row, column)
        return item.text() if item is not None else ""

    def stretch(self, column: int) -> None:
        """Let one column take the room that is left."""
        self._stretched = column
        across = self.horizontalHeader()
        if across is not None:
            across.setSectionResizeMode(column, QHeaderView.ResizeMode.Stretch)

    def header_right(self, *columns: int) -> None:
        """Align the headings of number columns with their numbers."""
        for column in columns:
            item = self.horizontalHeaderItem(column)
            if item is not None:
                item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)


def _shows(item: QTableWidgetItem, cell: Cell) -> bool:
    """Whether what the builder may change in place still stands as it was shown."""
    ticked = item.checkState() is Qt.CheckState.Checked
    return item.text() == cell.text and ticked == bool(cell.checked)


def _fill(item: QTableWidgetItem, cell: Cell) -> None:
    flag = Qt.ItemFlag
    flags = flag.ItemIsSelectable | flag.ItemIsEnabled
    if cell.editable:
        flags |= flag.ItemIsEditable
    if cell.checked is not None:
        flags |= flag.ItemIsUserCheckable
        state = Qt.CheckState.Checked if cell.checked else Qt.CheckState.Unchecked
        item.setCheckState(state)
    item.setFlags(flags)
    item.setText(cell.text)
    across = Qt.AlignmentFlag.AlignRight if cell.right else Qt.AlignmentFlag.AlignLeft
    item.setTextAlignment(across | Qt.AlignmentFlag.AlignVCenter)
    item.setToolTip(cell.tip)
    font = item.font()
    font.setBold(cell.bold)
    item.setFont(font)
    item.setData(Qt.ItemDataRole.ForegroundRole, None if cell.color is None else QBrush(cell.color))
