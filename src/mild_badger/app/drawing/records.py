"""A table of records that types like a spreadsheet; its columns are described once."""

import csv
import io
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Generic, TypeVar

from PyQt6.QtCore import QEvent, QModelIndex, QObject, Qt
from PyQt6.QtGui import QGuiApplication, QKeyEvent, QKeySequence, QPalette
from PyQt6.QtWidgets import (
    QAbstractItemDelegate,
    QAbstractItemView,
    QLineEdit,
    QStyledItemDelegate,
    QTableWidgetItem,
    QWidget,
)

from mild_badger.app.drawing.field_note import hide_note, show_note
from mild_badger.app.drawing.tables import Cell, Table
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.core.errors import InputError
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["Added", "Column", "RecordTable", "Typed"]

R = TypeVar("R")

Typed = Callable[[Vehicle, int, str], Edit]
"""Makes the edit for a text typed in a row, of the vehicle as it then stands."""
Ticked = Callable[[Vehicle, int, bool], Edit]
Added = Callable[[Vehicle], tuple[Edit, int]]
"""Makes the edit that adds a record, and says in which row it will stand."""
NEW = say("drawing.new")
"""What stands in the line where a record more can be typed."""
YES = {"yes", "x", "1", "true"}
_Hint = QAbstractItemDelegate.EndEditHint


def _always(_record: object) -> bool:
    return True


@dataclass(frozen=True)
class Column(Generic[R]):
    """One column of a table of records.

    Parameters
    ----------
    title
        What stands above it.
    cell
        How a record's value is written; whether it can be typed over is decided here.
    typed
        How a text typed there is read: the edit it leads to; None where nothing can be typed. It
        raises a BadgerError for what cannot be read.
    ticked
        The edit a check box leads to; None where there is none.
    open
        Whether this record's value can be changed.
    may_be_empty
        Whether Delete empties it: ``typed`` then gets an empty text.
    tip
        What the column holds, in a sentence.
    """

    title: str
    cell: Callable[[R], Cell]
    typed: Typed | None = None
    ticked: Ticked | None = None
    open: Callable[[R], bool] = _always
    may_be_empty: bool = False
    tip: str = ""


class RecordTable(Table, Generic[R]):
    """Shows records, one a row, and sends what is typed, ticked, pasted and deleted.

    A character begins typing over a cell, F2 changes it, Enter and Tab move on, Escape restores;
    Delete empties, Ctrl+C, Ctrl+X and Ctrl+V take and put blocks as tab-separated text. Whatever
    is pasted is one step to undo, and all of it or nothing. ``add`` makes a record more: there is
    a blank line, in the row that ``add_at`` gives (the last as a rule), where typing begins a new
    record, and blocks may be longer than the table.
    """

    def __init__(
        self,
        session: Session,
        columns: Sequence[Column[R]],
        name: str,
        *,
        add: Added | None = None,
        add_at: Callable[[Sequence[R]], int] = len,
    ) -> None:
        super().__init__([column.title for column in columns], name)
        self._session, self._columns = session, tuple(columns)
        self._add, self._add_at = add, add_at
        self._blank = 0
        self.records: tuple[R, ...] = ()
        self._explain()
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectItems)
        self.setSelectionMode(QAbstractItemView.SelectionMode.ContiguousSelection)
        trigger = QAbstractItemView.EditTrigger
        self.setEditTriggers(trigger.DoubleClicked | trigger.EditKeyPressed | trigger.AnyKeyPressed)
        self.setItemDelegate(_CellDelegate(self))
        self.itemChanged.connect(self._tick)
        self.itemSelectionChanged.connect(lambda: hide_note(self))
        session.replaced.connect(self.drop_draft)

    def set_columns(self, columns: Sequence[Column[R]]) -> None:
        """Give the table other columns, which the next records fill."""
        self._columns = tuple(columns)
        self.drop_draft()
        if self.columnCount() != len(columns):
            self.setColumnCount(len(columns))
        self.name_columns([column.title for column in columns])
        self._explain()

    def _explain(self) -> None:
        for number, column in enumerate(self._columns):
            head = self.horizontalHeaderItem(number)
            if head is not None:
                head.setToolTip(shown(column.tip))

    def show_records(self, records: Sequence[R]) -> None:
        """Show records, and the line for a new one where there is one."""
        self.records = tuple(records)
        rows = [[self._cell(column, record) for column in self._columns] for record in records]
        self._blank = len(records)
        if self._add is not None:
            self._blank = self._add_at(self.records)
            soft = self.palette().color(QPalette.ColorRole.PlaceholderText)
            blank = Cell("", editable=True, tip=say("drawing.type-here-to-add-one"))
            new = replace(blank, text=NEW, color=soft)
            rows.insert(
                self._blank,
                [
                    Cell("") if c.typed is None else new if n == 0 else blank
                    for n, c in enumerate(self._columns)
                ],
            )
        self.show_cells(rows)

    def record_number(self, row: int) -> int | None:
        """Which record stands in a row; None for the blank line and outside the table."""
        number = row - (self._add is not None and row > self._blank)
        return number if 0 <= number < len(self.records) and not self._is_blank(row) else None

    def chosen(self) -> int | None:
        """Which record the chosen cell belongs to; None where there is none."""
        return self.record_number(self.currentRow())

    def choose(self, number: int) -> None:
        """Choose a record by its number."""
        row = number + (self._add is not None and number >= self._blank)
        self.setCurrentCell(row, max(self.currentColumn(), 0))

    def _is_blank(self, row: int) -> bool:
        return self._add is not None and row == self._blank

    def drop_draft(self) -> None:
        """Close an open editor without sending what was typed."""
        editor = self._editor()
        if editor is not None:
            super().closeEditor(editor, _Hint.RevertModelCache)
        hide_note(self)

    def send(self, row: int, column: int, text: str) -> bool:
        """Send a text typed into a cell; False where it was refused, which is said beside it."""
        typed = self._columns[column].typed if column < len(self._columns) else None
        if typed is None or text == self.text_at(row, column):
            return True
        number = self.record_number(row)
        target = _Target(number or 0)
        makers: list[Callable[[Vehicle], Edit]] = []
        if number is None:
            if self._add is None or not text.strip():
                return True
            makers.append(target.added(self._add))
        makers.append(lambda vehicle: typed(vehicle, target.row, text.strip()))
        return self._do(
            say("drawing.change", title=self._columns[column].title), makers, row, column
        )

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        key, shift = event.key(), bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        if event.matches(QKeySequence.StandardKey.Copy):
            self.copy()
        elif event.matches(QKeySequence.StandardKey.Cut):
            self.copy()
            self.clear_cells()
        elif event.matches(QKeySequence.StandardKey.Paste):
            self.paste()
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and not event.modifiers():
            self.clear_cells()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._down(-1 if shift else 1)
        elif key in (Qt.Key.Key_Tab, Qt.Key.Key_Backtab) and self._along(
            -1 if key == Qt.Key.Key_Backtab or shift else 1
        ):
            pass
        elif key == Qt.Key.Key_Escape:
            hide_note(self)
            event.ignore()  # to the window, which then takes the keyboard
        else:
            super().keyPressEvent(event)

    def event(self, event: QEvent | None) -> bool:
        """Take Tab while there is a cell to go to; afterwards it leaves the table."""
        if isinstance(event, QKeyEvent) and event.type() is QEvent.Type.KeyPress:
            key = event.key()
            back = key == Qt.Key.Key_Backtab
            if key in (Qt.Key.Key_Tab, Qt.Key.Key_Backtab) and self._along(-1 if back else 1):
                return True
        return super().event(event)

    def edit_done(self, hint: _Hint) -> None:
        """Move on after a cell was typed over: down after Enter, along after Tab."""
        if hint is _Hint.EditNextItem:
            self._along(1)
        elif hint is _Hint.EditPreviousItem:
            self._along(-1)
        elif hint is _Hint.SubmitModelCache:
            self._down(1)

    def copy(self) -> None:
        """Put the chosen block on the clipboard as tab-separated text."""
        rows, columns = self._block()
        text = io.StringIO()
        writer = csv.writer(text, dialect="excel-tab", lineterminator="\n")
        for row in rows:
            if self.record_number(row) is not None:
                writer.writerow([self._copied(row, column) for column in columns])
        clipboard = QGuiApplication.clipboard()
        if clipboard is not None and text.getvalue():
            clipboard.setText(text.getvalue())

    def paste(self) -> None:
        """Put a block of tab-separated text over the cells from the chosen one on."""
        clipboard = QGuiApplication.clipboard()
        text = "" if clipboard is None else clipboard.text()
        try:
            block = list(csv.reader(io.StringIO(text, newline=""), dialect="excel-tab"))
        except csv.Error:
            block = []
        block = [line for line in block if line]
        rows, columns = self._block()
        if not block or not rows or not columns:
            return
        if len(block) == 1 and len(block[0]) == 1:  # one value fills the whole block
            block = [[block[0][0]] * len(columns) for _ in rows]
        visible = self._visible()
        columns = visible[visible.index(columns[0]) :]
        self._put(rows[0], [list(zip(columns, line, strict=False)) for line in block])

    def clear_cells(self) -> None:
        """Empty the chosen cells where empty is allowed."""
        rows, columns = self._block()
        lines = []
        for row in rows:
            lines.append(
                [
                    (c, "")
                    for c in columns
                    if self._columns[c].may_be_empty and self.record_number(row) is not None
                ]
            )
        if rows and any(lines):
            self._put(rows[0], lines)
        elif rows and columns:
            title = self._columns[columns[0]].title
            self._say(rows[0], columns[0], say("drawing.the-column-cannot-be-empty", title=title))

    def _put(self, first: int, lines: Sequence[Sequence[tuple[int, str]]]) -> None:
        """Send a block of texts from a row on; a cell that stays as it is is not sent."""
        makers: list[Callable[[Vehicle], Edit]] = []
        left = self._visible()[0] if self._visible() else 0
        rows = [row for row in range(first, self.rowCount()) if not self._is_blank(row)]
        if self._add is None and len(lines) > len(rows):
            self._say(
                first,
                left,
                say(
                    "drawing.the-block-has-rows-more-than-this-table",
                    count_of_lines=len(lines) - len(rows),
                ),
            )
            return
        for number, line in enumerate(lines):
            # From the blank line on, and beyond the table, every line is a record more.
            fresh = self._is_blank(first) or number >= len(rows)
            record = None if fresh else self.record_number(rows[number])
            target = _Target(record or 0)
            if record is None and self._add is not None:
                makers.append(target.added(self._add))
            for column, text in line:
                made = self._maker(target, record, column, text)
                if made is not None:
                    makers.append(made)
        if makers:
            self._do(say("drawing.change-a-block-of-cells"), makers, first, left)

    def _maker(
        self, target: "_Target", record: int | None, number: int, text: str
    ) -> Callable[[Vehicle], Edit] | None:
        """Make what a pasted text does; None where it changes nothing."""
        column = self._columns[number]
        if record is not None and not column.open(self.records[record]):
            return None
        if record is not None and text == self._shown_of(record, number):
            return None
        ticked, typed = column.ticked, column.typed
        if ticked is not None:
            on = text.strip().lower() in YES
            return lambda vehicle: ticked(vehicle, target.row, on)
        if typed is None or (record is None and not text.strip()):
            return None

        def make(vehicle: Vehicle) -> Edit:
            try:
                return typed(vehicle, target.row, text.strip())
            except InputError as error:
                raise InputError(
                    say("drawing.row", row=target.row + 1, title=column.title, error=error)
                ) from error

        return make

    def _do(
        self, label: str, makers: Sequence[Callable[[Vehicle], Edit]], row: int, column: int
    ) -> bool:
        hide_note(self)
        sentence = self._session.refusal_of(lambda: self._session.do_each(label, makers))
        if sentence:
            self._say(row, column, sentence)
        return not sentence

    def _say(self, row: int, column: int, sentence: str) -> None:
        item, view = self.item(row, column), self.viewport()
        if item is not None and view is not None:
            show_note(view, sentence, self.visualItemRect(item))

    def _tick(self, item: QTableWidgetItem) -> None:
        row, number = item.row(), item.column()
        ticked = self._columns[number].ticked if number < len(self._columns) else None
        record = self.record_number(row)
        if ticked is None or record is None:
            return
        on = item.checkState() is Qt.CheckState.Checked
        if on != self._cell(self._columns[number], self.records[record]).checked and not self._do(
            say("drawing.change", title=self._columns[number].title),
            [lambda vehicle: ticked(vehicle, record, on)],
            row,
            number,
        ):
            self.show_records(self.records)

    def _cell(self, column: Column[R], record: R) -> Cell:
        editable = column.typed is not None and column.open(record)
        return replace(column.cell(record), editable=editable)

    def _copied(self, row: int, column: int) -> str:
        record = self.record_number(row)
        return "" if record is None else self._shown_of(record, column)

    def _shown_of(self, record: int, column: int) -> str:
        """Give what stands in a record's cell, as text."""
        cell = self._columns[column].cell(self.records[record])
        if self._columns[column].ticked is not None:
            return "yes" if cell.checked else ""
        return cell.text

    def _visible(self) -> list[int]:
        return [c for c in range(len(self._columns)) if not self.isColumnHidden(c)]

    def _block(self) -> tuple[list[int], list[int]]:
        """Rows and columns of the chosen block; the current cell where nothing is chosen."""
        ranges = self.selectedRanges()
        if not ranges:
            row, column = self.currentRow(), self.currentColumn()
            return ([row], [column]) if row >= 0 and column >= 0 else ([], [])
        chosen = ranges[0]
        return (
            list(range(chosen.topRow(), chosen.bottomRow() + 1)),
            [c for c in self._visible() if chosen.leftColumn() <= c <= chosen.rightColumn()],
        )

    def _down(self, step: int) -> None:
        row = self.currentRow() + step
        if 0 <= row < self.rowCount():
            self.setCurrentCell(row, self.currentColumn())

    def _along(self, step: int) -> bool:
        """Go to the next cell that can be changed; False where there is none."""
        row, column = self.currentRow(), self.currentColumn()
        cells = [
            (r, c) for r in range(self.rowCount()) for c in self._visible() if self._open(r, c)
        ]
        later = [
            cell for cell in cells if (cell > (row, column) if step > 0 else cell < (row, column))
        ]
        if not later:
            return False
        self.setCurrentCell(*(later[0] if step > 0 else later[-1]))
        return True

    def _open(self, row: int, column: int) -> bool:
        item = self.item(row, column)
        flags = Qt.ItemFlag.ItemIsEditable | Qt.ItemFlag.ItemIsUserCheckable
        return item is not None and bool(item.flags() & flags)

    def _editor(self) -> QWidget | None:
        view = self.viewport()
        return None if view is None else view.findChild(QLineEdit)


class _Target:
    """The row a text goes to: one that is there, or that of a record that is added first."""

    def __init__(self, row: int) -> None:
        self.row = row

    def added(self, add: Added) -> Callable[[Vehicle], Edit]:
        """Give what adds the record and takes note of its row."""

        def make(vehicle: Vehicle) -> Edit:
            edit, self.row = add(vehicle)
            return edit

        return make


class _CellDelegate(QStyledItemDelegate):
    """Reads keys in a cell's editor at once, so that fast typing goes to the next cell."""

    def __init__(self, table: RecordTable[R]) -> None:
        super().__init__(table)
        self._table = table
        self._sent = False

    def setModelData(self, editor: QWidget | None, _model: object, index: QModelIndex) -> None:
        if isinstance(editor, QLineEdit) and not self._sent:
            self._table.send(index.row(), index.column(), editor.text())

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if isinstance(watched, QLineEdit) and isinstance(event, QKeyEvent):
            if event.type() is QEvent.Type.KeyPress:
                return self._key(watched, event) or super().eventFilter(watched, event)
            if event.type() is QEvent.Type.ShortcutOverride:
                event.accept()
        return super().eventFilter(watched, event)

    def _key(self, editor: QLineEdit, event: QKeyEvent) -> bool:
        hints = {
            Qt.Key.Key_Return: _Hint.SubmitModelCache,
            Qt.Key.Key_Enter: _Hint.SubmitModelCache,
            Qt.Key.Key_Tab: _Hint.EditNextItem,
            Qt.Key.Key_Backtab: _Hint.EditPreviousItem,
        }
        key = Qt.Key(event.key())
        if key == Qt.Key.Key_Escape:
            hide_note(self._table)
            self._close(editor)
            return True
        hint = hints.get(key)
        if hint is None:
            return False
        index = self._table.indexAt(editor.geometry().center())
        if self._table.send(index.row(), index.column(), editor.text()):
            self._close(editor)
            self._table.edit_done(hint)
        return True

    def _close(self, editor: QLineEdit) -> None:
        """Close the editor; that takes the keyboard from it, which must not send once more."""
        self._sent = True
        self.closeEditor.emit(editor, _Hint.RevertModelCache)
        self._table.setFocus()
        self._sent = False
