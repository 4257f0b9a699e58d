"""What a builder's hands do to a window: typing over fields and cells."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QDialog, QLineEdit, QTableWidget
from pytestqt.qtbot import QtBot

from mild_badger.app.drawing.field_note import note_of
from mild_badger.app.kits.editor import KitDialog
from mild_badger.app.tabs.machine.tab import MachineTab
from mild_badger.app.window import Window

__all__ = ["open_machine", "said", "type_cell", "type_over"]


def type_over(qtbot: QtBot, entry: QLineEdit, text: str) -> None:
    """Replace what stands in a field and press Enter."""
    entry.setFocus()
    entry.selectAll()
    qtbot.keyClick(entry, Qt.Key.Key_Delete)
    qtbot.keyClicks(entry, text)
    qtbot.keyClick(entry, Qt.Key.Key_Return)


def type_cell(qtbot: QtBot, table: QTableWidget, row: int, column: int, text: str) -> None:
    """Replace what stands in a cell and press Enter."""
    table.setFocus()  # an editor that is open is left
    table.setCurrentCell(row, column)
    table.editItem(table.item(row, column))
    editor = table.findChildren(QLineEdit)[-1]
    editor.selectAll()
    qtbot.keyClicks(editor, text)
    qtbot.keyClick(editor, Qt.Key.Key_Return)
    QApplication.processEvents()  # the table takes what was typed one turn later


def open_machine(window: Window, page: str) -> MachineTab:
    """Go to a page of the tab Machine by its key."""
    window.show_tab("Machine")
    tab = window.tab
    assert isinstance(tab, MachineTab)
    tab.show_page(page)
    return tab


def said(window: Window | QDialog) -> str:
    """What the program says just now: beside a field, or else about the page."""
    note = note_of(window)
    if note is not None and note.isVisible():
        return note.text()
    if isinstance(window, KitDialog):
        return window.trouble.text()
    return window.notice_text.text() if isinstance(window, Window) else ""
