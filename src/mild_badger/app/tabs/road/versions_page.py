"""Versions kept in the file, and any two of them side by side."""

from datetime import date

from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from mild_badger.app.drawing.tables import Cell, Table
from mild_badger.app.drawing.widgets import button, caption, row_of
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.theme.style import Theme
from mild_badger.core.errors import BadgerError
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import in_unit
from mild_badger.core.message import say, say_count
from mild_badger.core.versions import (
    ComparedFigure,
    compare_figures,
    differences,
    remove_version,
    restore_version,
    save_version,
    version_vehicle,
)
from mild_badger.core.words import signed

__all__ = ["VersionsPage"]

NOW = say("tab-road.as-it-stands")


class VersionsPage(QWidget):
    """What is kept above, the comparison below."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session, self.theme = session, theme
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(6)
        self.name, self.note = QLineEdit(), QLineEdit()
        self.name.setAccessibleName(say("tab-road.name-of-the-version"))
        self.name.setFixedWidth(130)
        self.note.setAccessibleName(say("tab-road.note-on-the-version"))
        self.name.setPlaceholderText(say("tab-road.name"))
        self.note.setPlaceholderText(say("tab-road.what-was-changed-and-why"))
        self.keep = button(say("tab-road.keep-this-version"), self._keep, "main")
        line = QHBoxLayout()
        for thing in (self.name, self.note, self.keep):
            line.addWidget(thing, 1 if thing is self.note else 0)
        outer.addLayout(line)
        self.kept = Table(
            (say("tab-road.version"), say("tab-road.date"), say("tab-road.note")),
            say("tab-road.versions-kept"),
        )
        self.kept.stretch(2)
        self.kept.setMaximumHeight(130)
        outer.addWidget(self.kept)
        self.one, self.other = QComboBox(), QComboBox()
        for box, name in (
            (self.one, say("tab-road.first-version")),
            (self.other, say("tab-road.second-version")),
        ):
            box.setAccessibleName(shown(name))
            box.setMinimumWidth(130)
            box.activated.connect(lambda _n: self._compare())
        self.back = button(say("tab-road.return-to-this-version"), self._take)
        self.drop = button(say("tab-road.delete-version"), self._drop)
        outer.addLayout(
            row_of(
                say("tab-road.compare"),
                self.one,
                say("tab-road.with"),
                self.other,
                self.back,
                self.drop,
            )
        )
        tables = QHBoxLayout()
        tables.setSpacing(10)
        self.figures = Table(
            (
                say("tab-road.figure"),
                say("tab-road.first"),
                say("tab-road.second"),
                say("tab-road.change"),
            ),
            say("tab-road.two-versions-in-figures"),
        )
        self.figures.header_right(1, 2, 3)
        self.figures.stretch(0)
        tables.addWidget(self.figures, 1)
        self.tree = Table(
            (say("tab-road.where-they-differ"), say("tab-road.first"), say("tab-road.second")),
            say("tab-road.where-they-differ-2"),
        )
        self.tree.stretch(0)
        tables.addWidget(self.tree, 1)
        outer.addLayout(tables, 1)
        self.words = caption("", "soft", wrap=True)
        outer.addWidget(self.words)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show the versions that are kept, and compare the two that are chosen."""
        versions = evaluation.vehicle.versions
        self.kept.show_cells(
            [[Cell(v.name), Cell(v.date), Cell(v.note, tip=v.note)] for v in versions]
        )
        names = [NOW, *(version.name for version in versions)]
        for box, usual in ((self.one, len(names) - 1), (self.other, 0)):
            if list(map(shown, names)) != [box.itemText(n) for n in range(box.count())]:
                box.clear()
                box.addItems(list(map(shown, names)))
                box.setCurrentIndex(usual)
        self._compare()

    def facts(self) -> str:
        """Say what versions are for."""
        return say("tab-road.a-version-is-kept-whole-in-the-vehicles-file")

    def _compare(self) -> None:
        vehicle = self.session.vehicle
        chosen = [
            None if box.currentText() == NOW else box.currentText()
            for box in (self.one, self.other)
        ]
        try:
            one, other = (version_vehicle(vehicle, name) for name in chosen)
        except BadgerError as error:
            self.words.setText(str(error))
            return
        figures = compare_figures(one, other)
        self.figures.show_cells([self._cells(figure) for figure in figures])
        apart = differences(one, other)
        self.tree.show_cells(
            [[Cell(d.where, tip=d.where), Cell(d.before), Cell(d.after)] for d in apart]
        )
        self.words.setText(
            say("tab-road.they-differ-in", place=say_count("count.place", len(apart)))
            if apart
            else say("tab-road.they-do-not-differ")
            if vehicle.versions
            else say("tab-road.nothing-is-kept-yet-give-this-state-a-name")
        )

    def _cells(self, figure: ComparedFigure) -> list[Cell]:
        change = figure.change_percent
        words = "" if change is None else f"{signed(change, '+.1f')} %"
        changed = figure.before != figure.after
        return [
            Cell(figure.name, bold=changed),
            *(
                Cell(
                    "–" if value is None else in_unit(value, figure.unit, significant=4),
                    right=True,
                    bold=changed,
                )
                for value in (figure.before, figure.after)
            ),
            Cell(words if changed else "", right=True, bold=changed),
        ]

    def _keep(self) -> None:
        today = date.today().isoformat()  # the builder's own day
        try:
            done = self.session.do(
                save_version(self.session.vehicle, self.name.text(), today, self.note.text())
            )
        except BadgerError as error:
            self.session.refused.emit(str(error))
            return
        if done:
            self.name.clear()
            self.note.clear()

    def _chosen(self) -> str | None:
        row, versions = self.kept.currentRow(), self.session.vehicle.versions
        if 0 <= row < len(versions):
            return versions[row].name
        self.session.refused.emit(say("tab-road.choose-a-version-in-the-list-first"))
        return None

    def _take(self) -> None:
        name = self._chosen()
        if name is None:
            return
        try:
            self.session.do(restore_version(self.session.vehicle, name))
        except BadgerError as error:
            self.session.refused.emit(str(error))

    def _drop(self) -> None:
        name = self._chosen()
        if name is not None:
            self.session.do(remove_version(self.session.vehicle, name))
