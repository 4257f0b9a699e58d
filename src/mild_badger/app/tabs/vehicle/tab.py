"""The tab Vehicle: what the model is to behave like, and what it is built from."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QGuiApplication, QResizeEvent
from PyQt6.QtWidgets import (
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QMenu,
    QPlainTextEdit,
    QStackedWidget,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from mild_badger.app.drawing.fields import DocumentLineEdit, field_of
from mild_badger.app.drawing.flow import Flow
from mild_badger.app.drawing.records import Column, RecordTable
from mild_badger.app.drawing.tables import Cell
from mild_badger.app.drawing.widgets import button, caption, page_bar, scrolled
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.tabs.tab import Tab
from mild_badger.app.tabs.vehicle.fill import FillDialog
from mild_badger.app.tabs.vehicle.ladder import SpeedLadder
from mild_badger.app.tabs.vehicle.saw import SawTooth
from mild_badger.app.theme.style import Theme
from mild_badger.core.errors import BadgerError
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import KM_H, MM, N_MM, bare, in_km_h, in_mm
from mild_badger.core.message import say
from mild_badger.core.ratios.final_drive import final_drive_offer
from mild_badger.core.ratios.train import parse_train, train_text
from mild_badger.core.targets.fill import ratio_for_speed
from mild_badger.core.targets.schools import (
    format_ratio,
    parse_signed_ratio,
)
from mild_badger.core.targets.table import read_targets
from mild_badger.core.units import km_per_hour
from mild_badger.core.vehicle.edit.change import Edit, Path
from mild_badger.core.vehicle.edit.gears import (
    add_gear,
    move_gear,
    new_gear,
    place_of_new,
    remove_gear,
    rename_gear,
    set_gears,
    set_ratio,
)
from mild_badger.core.vehicle.model import GearTarget, Vehicle
from mild_badger.core.words import signed
from mild_badger.text.fields import parse_speed
from mild_badger.text.quantities import number_text

__all__ = ["VehicleTab"]

TITLES: dict[str, str] = {
    "real": say("tab-vehicle.real-vehicle"),
    "motor": say("tab-vehicle.motor"),
    "model": say("tab-vehicle.model"),
    "final": say("tab-vehicle.final-drive"),
}
"""The groups of fields, two below one another."""

FIELDS: dict[str, tuple[tuple[str, Path], ...]] = {
    "real": (
        (say("tab-vehicle.final-drive"), ("real", "final_drive")),
        (say("tab-vehicle.tyre", mm=MM), ("real", "tyre_diameter_mm")),
        (say("tab-vehicle.idle-rpm"), ("real", "idle_rpm")),
        (say("tab-vehicle.peak-rpm"), ("real", "peak_rpm")),
        (say("tab-vehicle.limit-rpm"), ("real", "limit_rpm")),
        (say("tab-vehicle.shifts-at-rpm"), ("real", "shift_rpm")),
    ),
    "model": (
        (say("tab-vehicle.scale-1"), ("scale", "denominator")),
        (say("tab-vehicle.wheel", mm=MM), ("wheels", "diameter_mm")),
        (say("tab-vehicle.track", mm=MM), ("axle", "track_mm")),
        (say("tab-vehicle.wheelbase", mm=MM), ("axle", "wheelbase_mm")),
    ),
    "motor": (
        (say("tab-vehicle.no-load-rpm"), ("motor", "no_load_rpm")),
        (say("tab-vehicle.stall", n_mm=N_MM), ("motor", "stall_torque_n_mm")),
        (say("tab-vehicle.working-rpm"), ("motor", "working_rpm")),
    ),
}

SHIFT: Path = ("real", "shift_rpm")

CHOICES: tuple[tuple[str, str, Path, tuple[tuple[str, object], ...]], ...] = (
    (
        "model",
        say("tab-vehicle.scale-speed"),
        ("scale", "speed_school"),
        ((say("tab-vehicle.geometric"), "geometric"), (say("tab-vehicle.froude"), "froude")),
    ),
    (
        "motor",
        say("tab-vehicle.turns"),
        ("motor", "turns"),
        ((say("tab-vehicle.clockwise"), 1), (say("tab-vehicle.anticlockwise"), -1)),
    ),
    (
        "final",
        say("tab-vehicle.crown-wheel"),
        ("final_drive", "crown_side"),
        ((say("tab-vehicle.on-the-left"), "left"), (say("tab-vehicle.on-the-right"), "right")),
    ),
    (
        "final",
        say("tab-vehicle.differential"),
        ("differential", "kind"),
        (
            (say("tab-vehicle.open-bevel"), "open"),
            (say("tab-vehicle.planetary"), "planetary"),
            (say("tab-vehicle.solid-axle"), "locked"),
            (say("tab-vehicle.one-wheel"), "none"),
        ),
    ),
)


GEAR_KEYS = {
    "Move the chosen gear up": "Alt+Up",
    "Move the chosen gear down": "Alt+Down",
    "Remove the chosen gear": "Ctrl+Del",
}
"""Keys of what the menu beside the table does to the chosen gear."""


@dataclass(frozen=True)
class _TargetRow:
    """One line of the wanted ratios; the speed in km/h."""

    gear: GearTarget
    step: str
    speed: float


def _added(vehicle: Vehicle) -> tuple[Edit, int]:
    gear = new_gear(vehicle)
    return add_gear(vehicle, gear), place_of_new(vehicle, reverse=gear.reverse)


def _blank_line(rows: Sequence[_TargetRow]) -> int:
    """Tell where a new forward gear is typed: below the last one, above reverse."""
    return next((n for n in range(len(rows), 0, -1) if not rows[n - 1].gear.reverse), 0)


NARROW_PX, ROOMY_PX, SCROLL_PX = 390, 424, 12
"""Width of the vehicle's data in a small window and in a larger one; room for a scroll bar."""


class VehicleTab(Tab):
    """Targets with their speeds on the left, the vehicle's data on the right."""

    title = "Vehicle"

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.fields: dict[Path, DocumentLineEdit] = {}
        self.choices: dict[Path, QComboBox] = {}
        outer = QHBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(16)
        outer.addLayout(self._left(), 1)
        self._data = self._right()
        self._data_area = scrolled(self._data, NARROW_PX + SCROLL_PX)
        outer.addWidget(self._data_area)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        wide = ROOMY_PX if self.width() > 2 * NARROW_PX else NARROW_PX
        self._data.setFixedWidth(wide)
        self._data_area.setFixedWidth(wide + SCROLL_PX)

    def _left(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(8)
        self.name = DocumentLineEdit(
            self.session,
            lambda text: self.session.do(
                Edit.one(say("tab-vehicle.rename-the-vehicle"), ("name",), text.strip())
            ),
            say("tab-vehicle.vehicle-name"),
        )
        top = QHBoxLayout()
        top.setSpacing(10)
        top.addWidget(self.name, 1)
        self.pictures = page_bar((say("tab-vehicle.speeds"), say("tab-vehicle.saw-tooth")))
        top.addWidget(self.pictures)
        column.addLayout(top)
        self.ladder = SpeedLadder(self.theme)
        self.saw = SawTooth(self.theme)
        both = QStackedWidget()
        both.addWidget(self.ladder)
        both.addWidget(self.saw)
        self.pictures.currentChanged.connect(both.setCurrentIndex)
        column.addWidget(both, 3)
        self.table = RecordTable(
            self.session,
            self._columns(),
            say("tab-vehicle.wanted-ratios"),
            add=_added,
            add_at=_blank_line,
        )
        self.table.header_right(1, 3, 4)
        self.table.stretch(0)
        head = QHBoxLayout()
        head.addWidget(caption(say("tab-vehicle.wanted-ratios"), "head"))
        head.addStretch(1)
        head.addWidget(button(say("tab-vehicle.add"), self._add))
        head.addWidget(self._more())
        column.addLayout(head)
        column.addWidget(self.table, 4)
        self.summary = caption("", "soft", wrap=True)
        column.addWidget(self.summary)
        return column

    def _right(self) -> QWidget:
        panel = QWidget()
        outer = QVBoxLayout(panel)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(8)
        halves = QHBoxLayout()
        halves.setSpacing(14)
        for groups in (("real", "motor"), ("model", "final")):
            halves.addLayout(self._half(groups), 1)
        outer.addLayout(halves)
        outer.addWidget(caption(say("tab-vehicle.notes"), "head"))
        self.notes = _Notes(self._take_notes)
        self.notes.setMinimumHeight(56)
        outer.addWidget(self.notes, 1)
        return panel

    def _half(self, groups: tuple[str, ...]) -> QGridLayout:
        grid = QGridLayout()
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(6)
        grid.setVerticalSpacing(4)
        row = 0
        for group in groups:
            grid.addWidget(caption(TITLES[group], "head"), row, 0, 1, 2)
            row += 1
            for name, path in FIELDS.get(group, ()):
                row = self._field(grid, row, name, path)
            if group == "final":
                row = self._final_drive(grid, row)
            for of, name, path, options in CHOICES:
                if of == group:
                    row = self._choice(grid, row, name, path, options)
            grid.setRowMinimumHeight(row, 6)
            row += 1
        grid.setRowStretch(row, 1)
        grid.setColumnStretch(0, 1)
        return grid

    def _field(self, grid: QGridLayout, row: int, name: str, path: Path) -> int:
        entry = field_of(self.session, path, name, width=62, optional=path == SHIFT)
        if path == SHIFT:
            entry.setPlaceholderText(say("tab-vehicle.limit"))
        grid.addWidget(caption(name, wrap=True), row, 0)
        grid.addWidget(entry, row, 1, Qt.AlignmentFlag.AlignRight)
        self.fields[path] = entry
        return row + 1

    def _choice(
        self,
        grid: QGridLayout,
        row: int,
        name: str,
        path: Path,
        options: tuple[tuple[str, object], ...],
    ) -> int:
        box = QComboBox()
        box.setAccessibleName(shown(name))
        for text, value in options:
            box.addItem(shown(text), value)
        box.setMinimumWidth(106)
        box.activated.connect(
            lambda _index: self.session.do(
                Edit.one(say("tab-vehicle.set", lower=name.lower()), path, box.currentData())
            )
        )
        line = Flow()
        line.addWidget(caption(name))
        line.addWidget(box, 1)
        grid.addLayout(line, row, 0, 1, 2)
        self.choices[path] = box
        return row + 1

    def _final_drive(self, grid: QGridLayout, row: int) -> int:
        def take_pairs(text: str) -> bool:
            pairs = parse_train(text)
            return self.session.do(
                Edit.one(say("tab-vehicle.set-final-drive-pairs"), ("final_drive", "pairs"), pairs)
            )

        self.pairs = DocumentLineEdit(self.session, take_pairs, say("tab-vehicle.spur-pairs"))
        self.pairs.setPlaceholderText(say("tab-vehicle.none-or-8-24"))
        self.pairs.setFixedWidth(94)
        grid.addWidget(caption(say("tab-vehicle.spur-pairs")), row, 0)
        grid.addWidget(self.pairs, row, 1)
        for name, key in (
            (say("tab-vehicle.pinion-teeth"), "pinion"),
            (say("tab-vehicle.crown-teeth"), "crown"),
        ):
            row = self._field(grid, row + 1, name, ("final_drive", key)) - 1
        self.final_words = caption("", "soft", wrap=True)
        grid.addWidget(self.final_words, row + 1, 0, 1, 2)
        self.take_final = button(say("tab-vehicle.find-the-best"), self._take_final)
        grid.addWidget(self.take_final, row + 2, 0, 1, 2)
        return row + 3

    def refresh(self, evaluation: Evaluation) -> None:
        """Show an evaluation."""
        vehicle, school = evaluation.vehicle, self.session.school
        self.name.show_value(vehicle.name)
        self.notes.show_value(vehicle.notes)
        for path, entry in self.fields.items():
            value = _value(vehicle, path)
            entry.show_value(number_text(value) if isinstance(value, int | float) else "")
        for path, box in self.choices.items():
            box.setCurrentIndex(box.findData(_value(vehicle, path)))
        self.pairs.show_value(train_text(vehicle.final_drive.pairs))
        self.final_words.setText(
            say(
                "tab-vehicle.1-wanted",
                final_ratio=float(evaluation.final_ratio),
                final_wanted=evaluation.final_wanted,
                final_error_percent=evaluation.final_error_percent,
            )
        )
        self.ladder.show_evaluation(evaluation)
        self.saw.show_evaluation(evaluation)
        self._fill(evaluation)
        steps = evaluation.steps
        uneven = say("tab-vehicle.steps-to", steps=min(steps), steps_2=max(steps)) if steps else ""
        self.summary.setText(
            say(
                "tab-vehicle.ratios-are-at-the-limit-spread-at-this-scale",
                value=school.value,
                km_h=KM_H,
                spread=evaluation.spread,
                uneven=uneven,
                scaled_wheel_mm=in_mm(evaluation.scaled_wheel_mm, 1),
                diameter_mm=in_mm(vehicle.wheels.diameter_mm),
            )
        )

    def _columns(self) -> tuple[Column[_TargetRow], ...]:
        back = self.theme.tokens.back

        def name(row: _TargetRow) -> Cell:
            return Cell(row.gear.name, color=back if row.gear.reverse else None)

        def typed_name(vehicle: Vehicle, row: int, text: str) -> Edit:
            return rename_gear(vehicle, vehicle.real.gears[row].id, text)

        def ratio(row: _TargetRow) -> Cell:
            return Cell(format_ratio(row.gear.ratio, self.session.school), right=True)

        def typed_ratio(vehicle: Vehicle, row: int, text: str) -> Edit:
            what = say("tab-vehicle.gear", name=vehicle.real.gears[row].name)
            value, negative = parse_signed_ratio(text, self.session.school, what=what)
            return set_ratio(vehicle, row, value, reverse=negative)

        def typed_speed(vehicle: Vehicle, row: int, text: str) -> Edit:
            what = say("tab-vehicle.top-speed-of", name=vehicle.real.gears[row].name)
            speed = parse_speed(text, what=what, vehicle=vehicle)
            value = round(ratio_for_speed(vehicle.real, speed), 4)
            return set_ratio(vehicle, row, value, reverse=False)

        def ticked(vehicle: Vehicle, row: int, on: bool) -> Edit:
            name = vehicle.real.gears[row].name
            return Edit.one(
                say("tab-vehicle.set-the-direction-of", name=name),
                ("real", "gears", row, "reverse"),
                on,
            )

        return (
            Column(
                say("tab-vehicle.gear-2"),
                name,
                typed_name,
                tip=say("tab-vehicle.what-the-gear-is-called-r-for-reverse"),
            ),
            Column(
                say("tab-vehicle.ratio"),
                ratio,
                typed_ratio,
                tip=say("tab-vehicle.ratio-of-the-real-gear-29-14-25-18-may-be"),
            ),
            Column(
                say("tab-vehicle.reverse"),
                lambda row: Cell("", checked=row.gear.reverse),
                ticked=ticked,
                tip=say("tab-vehicle.whether-the-gear-drives-backwards"),
            ),
            Column(
                say("tab-vehicle.step"),
                lambda row: Cell(row.step, right=True),
                tip=say("tab-vehicle.ratio-divided-by-that-of-the-next-gear"),
            ),
            Column(
                KM_H,
                lambda row: Cell(bare(in_km_h(row.speed, 1)), right=True),
                typed_speed,
                tip=say("tab-vehicle.speed-of-the-real-vehicle-at-its-engine"),
            ),
        )

    def _fill(self, evaluation: Evaluation) -> None:
        steps = iter(evaluation.steps)
        rows = []
        for gear in evaluation.vehicle.real.gears:
            result = evaluation.gear(gear.id)
            step = None if gear.reverse else next(steps, None)
            speed = km_per_hour(result.real_limit_mm_s) if result else 0.0
            rows.append(_TargetRow(gear, "" if step is None else signed(step, ".3f"), speed))
        self.table.show_records(rows)

    def _add(self) -> None:
        try:
            self.session.do(add_gear(self.session.vehicle, new_gear(self.session.vehicle)))
        except BadgerError as error:
            self.session.refused.emit(str(error))

    def _move(self, by: int) -> None:
        row = self.table.chosen()
        edit = None if row is None else move_gear(self.session.vehicle, row, by)
        if edit is not None and row is not None and self.session.do(edit):
            self.table.choose(row + by)

    def _remove(self) -> None:
        gears = self.session.vehicle.real.gears
        row = self.table.chosen()
        if row is None:
            self.session.refused.emit(
                say("tab-vehicle.choose-the-gear-to-remove-in-the-table-first")
            )
        elif len(gears) == 1:
            self.session.refused.emit(
                say("tab-vehicle.a-vehicle-has-at-least-one-gear-change-this")
            )
        else:
            self.session.do(remove_gear(self.session.vehicle, gears[row].id))

    def _more(self) -> QToolButton:
        """Offer what changes the list: one gear out, or all of it at once."""
        self.more = QToolButton()
        self.more.setText(shown(say("tab-vehicle.edit")))
        self.more.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(self.more)
        for words, do in (
            (say("tab-vehicle.move-the-chosen-gear-up"), partial(self._move, -1)),
            (say("tab-vehicle.move-the-chosen-gear-down"), partial(self._move, 1)),
            (say("tab-vehicle.remove-the-chosen-gear"), self._remove),
            (say("tab-vehicle.fill-in-between-two-ratios"), self.fill),
            (say("tab-vehicle.paste-a-column"), self.paste),
            (say("tab-vehicle.import-csv"), self.targets_wanted.emit),
            (say("tab-vehicle.export-csv"), lambda: self.export_wanted.emit("targets")),
        ):
            made = menu.addAction(shown(words))
            if made is not None:
                made.triggered.connect(lambda _checked=False, do=do: do())
                if words in GEAR_KEYS:
                    made.setShortcut(GEAR_KEYS[words])
                    made.setShortcutContext(Qt.ShortcutContext.WidgetShortcut)
                    self.table.addAction(made)
        self.more.setMenu(menu)
        return self.more

    def paste(self) -> None:
        """Replace the targets by what a spreadsheet has put on the clipboard."""
        clipboard = QGuiApplication.clipboard()
        self.take_targets(clipboard.text() if clipboard is not None else "")

    def take_targets(self, text: str) -> None:
        """Replace the targets by a table's text."""
        try:
            gears = read_targets(text, self.session.school)
            self.session.do(set_gears(self.session.vehicle, gears))
        except BadgerError as error:
            self.session.refused.emit(str(error))

    def fill(self) -> None:
        """Open the dialog that fills ratios in between two ends."""
        dialog = FillDialog(self.session, self)
        dialog.open()

    def _take_final(self) -> None:
        offer = final_drive_offer(self.session.vehicle)
        if offer is None:
            self.session.refused.emit(
                say("tab-vehicle.the-kit-has-no-bevel-gears-so-it-can-make-no")
            )
        else:
            self.session.do(offer.edit())

    def _take_notes(self, text: str) -> None:
        self.session.do(
            Edit.one(say("tab-vehicle.edit-the-notes"), ("notes",), text), merge="notes"
        )


class _Notes(QPlainTextEdit):
    """Notes go into the document as they are typed, undone as one."""

    def __init__(self, commit: Callable[[str], None]) -> None:
        super().__init__()
        self._filling = False
        self.setAccessibleName(say("tab-vehicle.notes"))
        self.setTabChangesFocus(True)
        self.setMinimumHeight(40)
        self.textChanged.connect(lambda: None if self._filling else commit(self.toPlainText()))

    def sizeHint(self) -> QSize:
        return QSize(200, 56)  # it takes what is left, and asks for little

    def show_value(self, text: str) -> None:
        if text != self.toPlainText():
            self._filling = True
            self.setPlainText(text)
            self._filling = False


def _value(vehicle: object, path: Path) -> object:
    here = vehicle
    for step in path:
        here = getattr(here, str(step))
    return here
