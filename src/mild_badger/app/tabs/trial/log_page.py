"""The log: entries to find and to write, what wears, and the stages of the build."""

from collections.abc import Callable
from datetime import date
from functools import partial
from typing import Any

from PyQt6.QtCore import QPointF, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter
from PyQt6.QtWidgets import (
    QComboBox,
    QFileDialog,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QPlainTextEdit,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.flow import Flow
from mild_badger.app.drawing.marks import pen
from mild_badger.app.drawing.tables import Cell, Table
from mild_badger.app.drawing.widgets import button, caption, fill, row_of, scrolled
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.theme.style import Theme, text_font
from mild_badger.core.errors import BadgerError
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.message import say
from mild_badger.core.targets.schools import parse_number
from mild_badger.core.trial.log import (
    add_entry,
    change_entry,
    due,
    entries,
    log_csv,
    log_markdown,
    logged_parts,
    parse_day,
    part_id,
    part_name,
    reach,
    remove_entry,
    watch_wear,
    worn_renewed,
)
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.log import STAGES, LogEntry, Stage, WearItem
from mild_badger.core.words import signed, word

__all__ = ["LogPage"]

WORDS = (
    ("changed", say("tab-trial.what-was-changed")),
    ("why", say("tab-trial.why")),
    ("seen", say("tab-trial.what-was-seen")),
)
ALL, CURRENT = say("tab-trial.all-versions"), say("tab-trial.as-it-stands")


class StageView(Canvas):
    """The stages of the build along a line; pressing one notes today, or takes it back.

    Signals
    -------
    pressed : a stage
    """

    pressed = pyqtSignal(str)

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.setAccessibleName(say("tab-trial.stages-of-the-build"))
        self.setFixedHeight(58)

    def words(self) -> str:
        if self.evaluation is None:
            return ""
        days = {m.stage: m.date for m in self.evaluation.vehicle.log.milestones}
        return "; ".join(f"{word(stage)}: {days.get(stage) or word('not yet')}" for stage in STAGES)

    def place(self, number: int) -> QPointF:
        """Where a stage is drawn."""
        step = (self.width() - 100) / (len(STAGES) - 1)
        return QPointF(50 + number * step, 17)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        for number, stage in enumerate(STAGES):
            if abs(event.position().x() - self.place(number).x()) < 42:
                self.pressed.emit(stage)
                return

    def draw(self, painter: QPainter, evaluation: Evaluation) -> None:
        tokens = self.theme.tokens
        days = {m.stage: m.date for m in evaluation.vehicle.log.milestones}
        painter.setPen(pen(tokens.hair, 2))
        painter.drawLine(self.place(0), self.place(len(STAGES) - 1))
        painter.setFont(text_font("small"))
        for number, stage in enumerate(STAGES):
            at, day = self.place(number), days.get(stage)
            painter.setPen(pen(tokens.run if day else tokens.soft, 1.6))
            painter.setBrush(tokens.run if day else tokens.paper)
            painter.drawEllipse(at, 6, 6)
            for words, y, color in (
                (word(stage), 37, tokens.ink if day else tokens.soft),
                (day or "", 51, tokens.soft),
            ):
                width = painter.fontMetrics().horizontalAdvance(words)
                painter.setPen(color)
                painter.drawText(QPointF(at.x() - width / 2, y), words)


class LogPage(QWidget):
    """Stages on top, entries left, writing and wear right.

    Signals
    -------
    save_wanted : the name and the text of a file to be written
    """

    save_wanted = pyqtSignal(str, str)

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session = session
        self._found: tuple[tuple[int, LogEntry], ...] = ()
        self._changing: int | None = None
        self._waiting: tuple[str, ...] = ()
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(6)
        self.stages = StageView(theme)
        self.stages.pressed.connect(self._stage)
        outer.addWidget(self.stages)
        row = QHBoxLayout()
        row.setSpacing(12)
        left = QVBoxLayout()
        left.setSpacing(6)
        self.search, self.part, self.version = QLineEdit(), QComboBox(), QComboBox()
        self.search.setPlaceholderText(say("tab-trial.words-to-find"))
        self.search.setAccessibleName(say("tab-trial.words-to-find-in-the-log"))
        self.search.textChanged.connect(lambda _t: self._list())
        for box, name in (
            (self.part, say("tab-trial.part-to-find")),
            (self.version, say("tab-trial.version-to-find")),
        ):
            box.setAccessibleName(shown(name))
            box.setMaximumWidth(150)
            box.activated.connect(lambda _n: self._list())
        bar = Flow()
        for thing in (self.search, self.part, self.version):
            bar.addWidget(thing, 1 if thing is self.search else 0)
        left.addLayout(bar)
        self.table = Table(
            (
                say("tab-trial.date"),
                say("tab-trial.part"),
                say("tab-trial.what"),
                say("tab-trial.ran-h"),
                say("tab-trial.version-2"),
            ),
            say("tab-trial.log"),
        )
        self.table.header_right(3)
        self.table.stretch(2)
        self.table.currentCellChanged.connect(lambda number, *_: self._read(number))
        left.addWidget(self.table, 1)
        self.whole = caption("", wrap=True)
        left.addWidget(self.whole)
        self.change = button(say("tab-trial.change"), self._change)
        self.remove = button(say("tab-trial.delete-entry"), self._remove)
        left.addLayout(
            row_of(
                self.change,
                self.remove,
                button(say("tab-trial.markdown"), self._markdown),
                button(say("tab-trial.csv"), self._csv),
            )
        )
        row.addLayout(left, 1)
        row.addWidget(self._writing())
        outer.addLayout(row, 1)

    def _writing(self) -> QScrollArea:
        side = QWidget()
        side.setMinimumHeight(520)
        column = QVBoxLayout(side)
        column.setContentsMargins(0, 0, 8, 0)
        column.setSpacing(4)
        grid = QGridLayout()
        grid.setVerticalSpacing(4)
        self.day, self.ran, self.photo = QLineEdit(), QLineEdit(), QLineEdit()
        self.tied, self.at = QComboBox(), QComboBox()
        self.tied.setEditable(True)
        self.photo.setPlaceholderText(say("tab-trial.path-of-a-picture"))
        self.ran.setPlaceholderText("0")
        for number, (words, widget) in enumerate(
            (
                (say("tab-trial.day"), self.day),
                (say("tab-trial.part-2"), self.tied),
                (say("tab-trial.version"), self.at),
                (say("tab-trial.ran-hours"), self.ran),
                (say("tab-trial.photo-2"), self.photo),
            )
        ):
            widget.setAccessibleName(shown(words))
            grid.addWidget(caption(words), number, 0)
            grid.addWidget(widget, number, 1)
        choose = button(say("tab-trial.pick"), self._choose_photo)
        choose.setAccessibleName(say("tab-trial.choose-a-picture"))
        grid.addWidget(choose, 4, 2)
        grid.setColumnStretch(1, 1)
        column.addLayout(grid)
        self.written: dict[str, QPlainTextEdit] = {}
        for name, words in WORDS:
            text = QPlainTextEdit()
            text.setAccessibleName(shown(words))
            text.setPlaceholderText(shown(words.lower()))
            text.setTabChangesFocus(True)
            text.setFixedHeight(48)
            self.written[name] = text
            column.addWidget(text)
        self.write = button(say("tab-trial.save-entry"), self._write, "main")
        self.leave = button(say("tab-trial.discard-changes"), self._blank)
        column.addLayout(row_of(self.write, self.leave))
        column.addSpacing(6)
        self.wear = Table((say("tab-trial.what-wears"), "", ""), say("tab-trial.what-wears-2"))
        self.wear.stretch(0)
        column.addWidget(self.wear, 1)
        self.every = QLineEdit()
        self.every.setFixedWidth(50)
        self.every.setAccessibleName(say("tab-trial.hours-after-which-to-be-reminded"))
        column.addLayout(
            row_of(
                say("tab-trial.remind-me-of-this-part-every"),
                self.every,
                caption("h", "soft"),
                button(say("tab-trial.watch"), self._watch),
            )
        )
        self.renewed = button(
            say("tab-trial.maintenance-done-now"), partial(self._renewed, watched=True)
        )
        self.unwatch = button(
            say("tab-trial.stop-watching-this-part"), partial(self._renewed, watched=False)
        )
        column.addLayout(row_of(self.renewed, self.unwatch))
        return scrolled(side, 340)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show the log of a vehicle."""
        vehicle = evaluation.vehicle
        self.stages.show_evaluation(evaluation)
        kept = [(version.name, version.id) for version in vehicle.versions]
        tied = dict.fromkeys(part_id(vehicle, e.part) for e in vehicle.log.entries if e.part)
        named = ((part_name(vehicle, part), part) for part in tied)
        fill(self.part, [(say("tab-trial.all-parts"), ""), *named])
        fill(self.version, [(ALL, ALL), (CURRENT, ""), *kept])
        fill(self.at, [(CURRENT, ""), *kept])
        fill(self.tied, [("", ""), *((part, part) for part in logged_parts(vehicle))])
        if not self.day.text():
            self.day.setText(date.today().isoformat())  # the builder's own day
        waiting = due(vehicle)
        self.wear.show_cells(
            [
                [
                    Cell(d.summary, bold=d.now, tip=d.summary),
                    Cell(say("tab-trial.due") if d.now else "soon" if d.soon else ""),
                    Cell(""),
                ]
                for d in waiting
            ]
        )
        self._waiting = tuple(d.item.part for d in waiting)
        self._list()

    def heading(self) -> str:
        """Say what the log holds."""
        log = self.session.vehicle.log
        return say(
            "tab-trial.log-entries-h-run", count_of_entries=len(log.entries), hours=log.hours
        )

    def _list(self) -> None:
        chosen = self.version.currentData()
        self._found = entries(
            self.session.vehicle,
            text=self.search.text(),
            part=self.part.currentData() or "",
            version=None if chosen in (ALL, None) else chosen,
        )
        rows = []
        for _, entry in self._found:
            words = " · ".join(filter(None, (entry.changed, entry.seen, entry.why)))
            rows.append(
                [
                    Cell(entry.date),
                    Cell(part := part_name(self.session.vehicle, entry.part), tip=part),
                    Cell(" ".join(words.split()) or entry.photo, tip=words),
                    Cell(signed(entry.ran_hours, "g") if entry.ran_hours else "", right=True),
                    Cell(self.session.vehicle.version_name(entry.version)),
                ]
            )
        self.table.show_cells(rows)
        self._read(self.table.currentRow())

    def _read(self, row: int) -> None:
        known = 0 <= row < len(self._found)
        for thing in (self.change, self.remove):
            thing.setEnabled(known)
        if not known:
            self.whole.setText(
                ""
                if self._found
                else say("tab-trial.nothing-is-written-yet")
                if not self.session.vehicle.log.entries
                else say("tab-trial.no-entry-has-all-these-words")
            )
            return
        entry = self._found[row][1]
        sentences = [
            f"{words}: {getattr(entry, name)}" for name, words in WORDS if getattr(entry, name)
        ]
        sentences += [say("tab-trial.photo", photo=entry.photo)] if entry.photo else []
        self.whole.setText("\n".join(sentences))

    def _entry(self) -> LogEntry:
        hours = (
            parse_number(self.ran.text(), what=say("tab-trial.ran-hours"))
            if self.ran.text().strip()
            else 0.0
        )
        data: dict[str, Any] = {
            "date": parse_day(self.day.text()),
            "part": self.tied.currentText().strip()[:120],
            "version": self.at.currentData() or "",
            "ran_hours": hours,
            "photo": self.photo.text().strip(),
        }
        data |= {name: text.toPlainText().strip() for name, text in self.written.items()}
        return LogEntry.model_construct(None, **data)  # the document says what is wrong with it

    def _write(self) -> None:
        vehicle = self.session.vehicle
        try:
            entry = self._entry()
            edit = (
                add_entry(vehicle, entry)
                if self._changing is None
                else change_entry(vehicle, self._changing, entry)
            )
        except BadgerError as error:
            self.session.refused.emit(str(error))
            return
        if self.session.do(edit):
            self._blank()

    def _blank(self) -> None:
        self._changing = None
        self.write.setText(say("tab-trial.save-entry"))
        for text in self.written.values():
            text.clear()
        for line in (self.ran, self.photo):
            line.clear()
        self.day.setText(date.today().isoformat())
        self.tied.setCurrentIndex(0)

    def _change(self) -> None:
        row = self.table.currentRow()
        if not 0 <= row < len(self._found):
            return
        number, entry = self._found[row]
        self._changing = number
        self.write.setText(say("tab-trial.save-changes"))
        self.day.setText(entry.date)
        self.tied.setCurrentText(part_name(self.session.vehicle, entry.part))
        self.at.setCurrentIndex(max(self.at.findData(entry.version), 0))
        self.ran.setText(signed(entry.ran_hours, "g") if entry.ran_hours else "")
        self.photo.setText(entry.photo)
        for name, text in self.written.items():
            text.setPlainText(shown(getattr(entry, name)))

    def _remove(self) -> None:
        row = self.table.currentRow()
        if 0 <= row < len(self._found):
            self._blank()
            self.session.do(remove_entry(self.session.vehicle, self._found[row][0]))

    def _choose_photo(self) -> None:
        name, _ = QFileDialog.getOpenFileName(
            self,
            say("tab-trial.choose-a-picture"),
            "",
            say("tab-trial.pictures-png-jpg-jpeg-webp-all-files"),
        )
        if name:
            self.photo.setText(name)

    def _stage(self, stage: Stage) -> None:
        known = {m.stage for m in self.session.vehicle.log.milestones}
        day = None if stage in known else date.today().isoformat()
        self._do(lambda: reach(self.session.vehicle, stage, day))

    def _watch(self) -> None:
        part = self.tied.currentText().strip()
        if not part:
            self.session.refused.emit(say("tab-trial.choose-or-type-above-which-part-is-to-be"))
            return

        def edit() -> Edit:
            hours = parse_number(self.every.text(), what=say("tab-trial.hours"))
            item = WearItem.model_construct(
                part=part[:120], every_hours=hours, what=say("tab-trial.look-at"), done_at_hours=0.0
            )
            return watch_wear(self.session.vehicle, item)

        self._do(edit)

    def _renewed(self, *, watched: bool) -> None:
        row = self.wear.currentRow()
        if 0 <= row < len(self._waiting):
            part = self._waiting[row]
            self._do(lambda: worn_renewed(self.session.vehicle, part, watched=watched))
        else:
            self.session.refused.emit(say("tab-trial.choose-a-part-in-the-list-of-what-wears"))

    def _do(self, make: Callable[[], Edit]) -> None:
        try:
            self.session.do(make())
        except BadgerError as error:
            self.session.refused.emit(str(error))

    def _markdown(self) -> None:
        text = log_markdown(self.session.vehicle, (entry for _, entry in self._found))
        self.save_wanted.emit("log.md", text)

    def _csv(self) -> None:
        chosen = (entry for _, entry in self._found)
        self.save_wanted.emit("log.csv", log_csv(self.session.vehicle, chosen))

    def facts(self) -> str:
        """Say what the log keeps."""
        return say("tab-trial.what-was-changed-why-and-what-was-seen-kept")
