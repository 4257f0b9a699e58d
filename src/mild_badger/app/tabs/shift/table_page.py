"""The shift table: from every gear to every gear, how many moves and which."""

from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QVBoxLayout, QWidget

from mild_badger.app.drawing.tables import Cell, Table
from mild_badger.app.drawing.widgets import caption
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.message import say
from mild_badger.core.shift.routes import ShiftRoute, shift_ways
from mild_badger.core.shift.states import StateVerdict
from mild_badger.core.stations import sign_of
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.sleeves import describe_place
from mild_badger.core.words import signed, word

__all__ = ["TablePage"]

STATE_HEADERS = (
    say("tab-shift.sleeves-in"),
    say("tab-shift.result"),
    say("tab-shift.gear-2"),
    say("tab-shift.ratio"),
    say("tab-shift.goes"),
    say("tab-shift.conflict-or-sleeve-in-between"),
)
WAYS = {1: say("tab-shift.forwards"), -1: say("tab-shift.backwards"), 0: "–"}
FEW = 14
"""Columns that fit when they share the width evenly."""


class TablePage(QWidget):
    """A square of shifts, and the one that is chosen in words."""

    def __init__(self) -> None:
        super().__init__()
        self._shifts: tuple[tuple[ShiftRoute, ...], ...] = ()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(8)
        self.table = Table((say("tab-shift.from"),), say("tab-shift.moves-from-gear-to-gear"))
        self.table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectItems)
        self.table.currentCellChanged.connect(lambda *_places: self._say())
        column.addWidget(self.table, 3)
        self.words = caption("", wrap=True)
        self.words.setAccessibleName(say("tab-shift.the-chosen-shift"))
        column.addWidget(self.words)
        self.states = Table(STATE_HEADERS, say("tab-shift.states-that-the-shifter-can-reach"))
        self.states.header_right(3, 4)
        self.states.stretch(5)
        column.addWidget(self.states, 2)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show the shifts of a box."""
        vehicle = evaluation.vehicle
        self._vehicle, self._shifts = vehicle, shift_ways(vehicle)
        names = [vehicle.gear_name(row[0].start or "N") for row in self._shifts]
        engaged = evaluation.situation.gear
        if self.table.columnCount() != len(names) + 1:
            self.table.setColumnCount(len(names) + 1)
        across = self.table.horizontalHeader()
        if across is not None:
            few = len(names) <= FEW
            modes = QHeaderView.ResizeMode
            across.setSectionResizeMode(modes.Stretch if few else modes.ResizeToContents)
        self.table.name_columns(
            [say("tab-shift.from"), *(say("tab-shift.to", name=name) for name in names)]
        )
        self.table.header_right(*range(1, len(names) + 1))
        rows = []
        for name, row in zip(names, self._shifts, strict=True):
            here = row[0].start == engaged
            rows.append(
                (
                    Cell(name, bold=here),
                    *(
                        Cell(
                            _count(shift),
                            right=True,
                            bold=here,
                            tip=f"{_ends(vehicle, shift)}: {shift.words}",
                        )
                        for shift in row
                    ),
                )
            )
        self.table.show_cells(rows)
        self._list(evaluation)
        self._say()

    def _list(self, evaluation: Evaluation) -> None:
        """List what was proven, state by state."""
        self.states.show_cells(
            [
                [
                    Cell(", ".join(describe_place(s, p) for s, p in state.sleeves) or "–"),
                    Cell(word(state.verdict.value), bold=state.verdict is StateVerdict.LOCKS),
                    Cell(", ".join(map(evaluation.vehicle.gear_name, state.gears)) or "–"),
                    Cell(
                        "–" if state.ratio is None else signed(float(state.ratio), ".3f"),
                        right=True,
                    ),
                    Cell(WAYS[sign_of(state.forwards)], right=True),
                    Cell("; ".join(state.fighting) or state.passing),
                ]
                for state in sorted(
                    evaluation.proof.states, key=lambda s: s.verdict is not StateVerdict.LOCKS
                )
            ]
        )

    def _say(self) -> None:
        row, column = self.table.currentRow(), self.table.currentColumn() - 1
        if not (0 <= row < len(self._shifts) and 0 <= column < len(self._shifts)):
            self.words.setText(say("tab-shift.click-a-cell-of-the-table-to-see-what-moves"))
            return
        shift = self._shifts[row][column]
        takes = f", {signed(shift.seconds, '.2f')} s" if shift.seconds else ""
        self.words.setText(f"{_ends(self._vehicle, shift)}: {shift.words}{takes}.")


def _ends(vehicle: Vehicle, way: ShiftRoute) -> str:
    ends = [
        say("tab-shift.gear", gear_name=vehicle.gear_name(g)) if g else say("tab-shift.neutral-2")
        for g in (way.start, way.end)
    ]
    return " to ".join(ends)


def _count(way: ShiftRoute) -> str:
    if way.count is None:
        return say("tab-shift.none")
    if not way.count:
        return "·"
    return f"{way.count} |" if way.one_pull else str(way.count)
