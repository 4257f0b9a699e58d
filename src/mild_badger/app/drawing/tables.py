"""Tables in the house style: cells as values, filled anew only where they differ."""

from collections.abc import Sequence
from dataclasses import dataclass

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QBrush, QColor, QIcon
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem, QWidget

from mild_badger.app.shown import shown

__all__ = ["Cell", "Table"]


@dataclass(frozen=True)
class Cell:
    """What one place of a table shows; ``checked`` None is no check box, nor ``icon`` a picture."""

    text: str
    right: bool = False
    editable: bool = False
    bold: bool = False
    color: QColor | None = None
    checked: bool | None = None
    tip: str = ""
    icon: QIcon | None = None

    def __post_init__(self) -> None:
        object.__setattr__(self, "text", shown(self.text))
        object.__setattr__(self, "tip", shown(self.tip))


class Table(QTableWidget):
    """A plain table: rows selected whole, no grid, headers quiet."""

    def __init__(self, headers: Sequence[str], name: str, parent: QWidget | None = None) -> None:
        super().__init__(0, len(headers), parent)
        self._shown: dict[tuple[int, int], Cell] = {}
        self._stretched, self._fresh = -1, True
        self.name_columns(headers)
        self.setAccessibleName(shown(name))
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

    def name_columns(self, headers: Sequence[str]) -> None:
        """Write what stands above the columns."""
        self.setHorizontalHeaderLabels([shown(header) for header in headers])

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
    else:  # the item may have been another row's
        item.setData(Qt.ItemDataRole.CheckStateRole, None)
    item.setFlags(flags)
    item.setText(cell.text)
    item.setIcon(cell.icon or QIcon())
    across = Qt.AlignmentFlag.AlignRight if cell.right else Qt.AlignmentFlag.AlignLeft
    item.setTextAlignment(across | Qt.AlignmentFlag.AlignVCenter)
    item.setToolTip(shown(cell.tip))
    font = item.font()
    font.setBold(cell.bold)
    item.setFont(font)
    item.setData(Qt.ItemDataRole.ForegroundRole, None if cell.color is None else QBrush(cell.color))
