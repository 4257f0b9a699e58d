"""A line to type words into, and below it everything that has them; Enter goes there or does it."""

from collections.abc import Iterable

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QDialog, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from mild_badger.app.drawing.widgets import caption
from mild_badger.app.help.index import Go
from mild_badger.core.message import say
from mild_badger.text.search import Entry, EntryKind, matching

__all__ = ["SearchDialog"]

KINDS: dict[EntryKind, str] = {
    "gear": "engage",
    "page": "page",
    "command": "command",
    "field": "field",
    "term": "glossary",
    "section": "handbook",
}


class SearchDialog(QDialog):
    """Finds gears, pages, commands, fields, terms and sections by any of their words."""

    def __init__(self, parent: QWidget, entries: Iterable[Entry[Go]]) -> None:
        super().__init__(parent)
        self.setWindowTitle(say("help.search"))
        self.resize(560, 420)
        self._entries = list(entries)
        self._hits: list[Entry[Go]] = []
        outer = QVBoxLayout(self)
        self.line = QLineEdit()
        self.line.setAccessibleName(say("help.words-to-search-for"))
        self.line.setPlaceholderText(say("help.a-page-field-gear-command-or-term"))
        self.line.textChanged.connect(self._search)
        outer.addWidget(self.line)
        self.hits = QListWidget()
        self.hits.setAccessibleName(say("help.what-was-found"))
        self.hits.itemActivated.connect(lambda _item: self._go())
        outer.addWidget(self.hits, 1)
        self.about = caption("", "soft", wrap=True)
        self.hits.currentRowChanged.connect(self._describe)
        outer.addWidget(self.about)
        self._search("")

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Up):
            step = 1 if event.key() == Qt.Key.Key_Down else -1
            row = min(max(self.hits.currentRow() + step, 0), self.hits.count() - 1)
            self.hits.setCurrentRow(row)
            return
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._go()
            return
        super().keyPressEvent(event)

    def _search(self, typed: str) -> None:
        self._hits = matching(self._entries, typed)
        self.hits.clear()
        for entry in self._hits:
            self.hits.addItem(QListWidgetItem(f"{entry.title}   ·   {KINDS[entry.kind]}"))
        self.hits.setCurrentRow(0 if self._hits else -1)
        if not self._hits:
            self.about.setText(
                say("help.nothing-has-all-these-words")
                if typed.strip()
                else say("help.type-a-word-or-two")
            )

    def _describe(self, row: int) -> None:
        if 0 <= row < len(self._hits):
            entry = self._hits[row]
            first = entry.text.strip().split("\n")[0] if entry.kind in ("field", "term") else ""
            self.about.setText(first)

    def _go(self) -> None:
        row = self.hits.currentRow()
        if 0 <= row < len(self._hits):
            target = self._hits[row].target
            self.accept()
            target()
