"""The kit editor: what there is, how many, what may be used; kept with the vehicle, or as files."""

from collections.abc import Callable
from functools import partial
from pathlib import Path as FilePath
from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeySequence, QShortcut
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDialog,
    QGridLayout,
    QHBoxLayout,
    QTabWidget,
    QVBoxLayout,
    QWidget,
)

from mild_badger.app.drawing.fields import DocumentLineEdit, number_cell, tip_of
from mild_badger.app.drawing.records import Added, Column, RecordTable
from mild_badger.app.drawing.tables import Cell
from mild_badger.app.drawing.widgets import button, caption
from mild_badger.app.session import Session
from mild_badger.app.shown import shown, units_in_force
from mild_badger.core.errors import BadgerError, InputError
from mild_badger.core.figures import MM
from mild_badger.core.kit.catalogue import shipped_kit, shipped_kits
from mild_badger.core.mesh.describe import describe_stock, describe_undercut, parse_sizes
from mild_badger.core.message import say
from mild_badger.core.targets.schools import parse_number
from mild_badger.core.vehicle.edit.change import Change, Edit, Path
from mild_badger.core.vehicle.kit import Bearing, BevelSize, GearSize, Kit, MadeGears, Stock
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import signed
from mild_badger.files.kit_file import kits_in, load_kit
from mild_badger.text.fields import field_text, parse_field, parse_pitch
from mild_badger.text.quantities import number_text

__all__ = ["KitDialog"]

KINDS = (
    (say("kits.bricks-on-a-grid"), "brick"),
    (say("kits.wood"), "wood"),
    (say("kits.printed-or-machined"), "printed"),
)
FIELDS: tuple[tuple[str, str, str], ...] = (
    (
        say("kits.module-or-diametral-pitch", mm=MM),
        "module_mm",
        say("kits.iso-54-values-first-1-1-25-1-5-2-2-5-3-4-or"),
    ),
    (say("kits.pressure-angle"), "pressure_angle_deg", say("kits.20-as-a-rule")),
    (
        say("kits.grid-or-squared-paper", mm=MM),
        "grid_unit_mm",
        say("kits.bricks-sit-on-it-others-are-drawn-on-it"),
    ),
    (say("kits.shaft", mm=MM), "shaft_diameter_mm", ""),
    (say("kits.loss-in-a-mesh-share"), "mesh_loss", say("kits.an-estimate-0-04-is-4-of-the-power")),
    (
        say("kits.nozzle-or-cutter", mm=MM),
        "cutter_mm",
        say("kits.empty-none-limits-how-fine-teeth-can-be"),
    ),
)
MADE: tuple[tuple[str, str, str], ...] = (
    (
        say("kits.smallest-made-gear-teeth"),
        "least_teeth",
        say("kits.the-smallest-you-would-cut-undercut-grain"),
    ),
    (
        say("kits.largest-made-gear-teeth"),
        "most_teeth",
        say("kits.the-largest-your-machine-can-swing"),
    ),
    (
        say("kits.face-width", mm=MM),
        "face_width_mm",
        say("kits.plywood-or-print-height-the-face-width"),
    ),
    (
        say("kits.tooth-thinning-backlash", mm=MM),
        "tooth_thinning_mm",
        say("kits.running-allowance-on-the-tooth-thickness"),
    ),
)


class KitDialog(QDialog):
    """Every change takes effect at once and is a step to undo.

    Signals
    -------
    save_wanted : the kit is to be written to a file
    import_wanted : a kit is to be read from a file
    keep_wanted : the kit is to be kept among the builder's own
    """

    save_wanted = pyqtSignal()
    import_wanted = pyqtSignal()
    keep_wanted = pyqtSignal()

    def __init__(self, session: Session, own_folder: FilePath, parent: QWidget) -> None:
        super().__init__(parent)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self._session, self._own = session, own_folder
        self.setWindowTitle(say("kits.kit"))
        self.resize(880, 620)
        self.entries: dict[str, DocumentLineEdit] = {}
        outer = QVBoxLayout(self)
        outer.addLayout(self._head())
        middle = QHBoxLayout()
        middle.setSpacing(20)
        middle.addWidget(self._left())
        middle.addWidget(self._tabs(), 1)
        outer.addLayout(middle, 1)
        self.trouble = caption("", "problem", wrap=True)
        outer.addWidget(self.trouble)
        foot = QHBoxLayout()
        for name, do in (
            (say("kits.duplicate-as-my-own"), self.keep_wanted.emit),
            (say("kits.save-as-a-file"), self.save_wanted.emit),
            (say("kits.import-a-file"), self.import_wanted.emit),
        ):
            foot.addWidget(button(name, do))
        foot.addStretch(1)
        foot.addWidget(button(say("kits.close"), self.accept))
        outer.addLayout(foot)
        session.changed.connect(self.refresh)
        session.refused.connect(self._refused)
        stack = session.undo_stack
        for keys, step in (("Ctrl+Z", stack.undo), ("Ctrl+Shift+Z", stack.redo)):
            QShortcut(QKeySequence(keys), self, step)  # the window's own do not reach a dialog
        self.refresh()

    def _head(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.addWidget(caption(say("kits.kit")))
        self.entries["name"] = self._entry(say("kits.kit-name"), ("name",), text=True)
        row.addWidget(self.entries["name"], 2)
        self.kind = QComboBox()
        self.kind.setAccessibleName(say("kits.kind-of-kit"))
        for words, value in KINDS:
            self.kind.addItem(shown(words), value)
        self.kind.activated.connect(lambda _i: self._set(("kind",), self.kind.currentData()))
        row.addWidget(self.kind)
        row.addSpacing(20)
        row.addWidget(caption(say("kits.use-another"), "soft"))
        self.others = QComboBox()
        self.others.setAccessibleName(say("kits.use-another-kit"))
        self.others.activated.connect(lambda _i: self._take_other())
        row.addWidget(self.others, 1)
        return row

    def _left(self) -> QWidget:
        panel = QWidget()
        grid = QGridLayout(panel)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setVerticalSpacing(5)
        row = 0
        for name, field, note in FIELDS:
            row = self._field(grid, row, name, (field,), note)
        self.made = QCheckBox(shown(say("kits.gears-are-made-to-any-count-in-a-range")))
        self.made.clicked.connect(self._make)
        grid.addWidget(self.made, row, 0, 1, 2)
        row += 1
        for name, field, note in MADE:
            row = self._field(grid, row, name, ("made", field), note)
        self.made_dogs = QCheckBox(shown(say("kits.made-gears-may-have-dog-faces-and-run-free")))
        self.made_dogs.clicked.connect(lambda on: self._set(("made", "dog_faces"), on))
        grid.addWidget(self.made_dogs, row, 0, 1, 2)
        row += 1
        self.barred = DocumentLineEdit(self._session, self._bar, say("kits.sizes-not-used"))
        self.barred.setPlaceholderText(say("kits.none-or-11-13-15"))
        grid.addWidget(caption(say("kits.sizes-not-used")), row, 0)
        grid.addWidget(self.barred, row, 1)
        row += 1
        self.undercut = caption("", "soft", wrap=True)
        self.undercut.setMaximumWidth(330)
        grid.addWidget(self.undercut, row, 0, 1, 2)
        grid.setRowStretch(row + 1, 1)
        panel.setFixedWidth(336)
        return panel

    def _field(self, grid: QGridLayout, row: int, name: str, path: Path, note: str) -> int:
        entry = self._entry(name, path)
        entry.setFixedWidth(84)
        entry.setToolTip(shown(note))
        label = caption(name)
        label.setToolTip(shown(note))
        self.entries[".".join(map(str, path))] = entry
        grid.addWidget(label, row, 0)
        grid.addWidget(entry, row, 1, Qt.AlignmentFlag.AlignRight)
        return row + 1

    def _entry(self, name: str, path: Path, *, text: bool = False) -> DocumentLineEdit:
        def commit(typed: str) -> bool:
            if text:
                return self._set(path, typed.strip())
            if not typed.strip() and path == ("cutter_mm",):
                return self._set(path, None)
            vehicle, field = self._session.vehicle, str(path[-1])
            value = parse_field(typed, field, what=name, kit=vehicle.kit, choice=vehicle.shown_in)
            if path != ("module_mm",):
                return self._set(path, value)
            pitch = Change(("kit", "diametral_pitch"), parse_pitch(typed, what=name))
            change = Change(("kit", *path), value)
            return self._session.do(Edit(say("kits.change-the-kit"), (change, pitch)))

        line = DocumentLineEdit(self._session, commit, name)
        if not text:
            line.measure = partial(self._words, path)
        return line

    def _words(self, path: Path, value: float) -> str:
        """Write a figure of the kit: in the units chosen, teeth by their pitch where that is so."""
        pitch = self._session.vehicle.kit.diametral_pitch
        if path == ("module_mm",) and pitch is not None:
            return say("kits.dp", number_text=number_text(pitch))
        return field_text(value, str(path[-1]), units_in_force())

    def _tabs(self) -> QTabWidget:
        self.tabs = QTabWidget()
        self.gears = RecordTable(self._session, GEARS, say("kits.gears"), add=_added_gear)
        self.gears.header_right(0, 3, 4, 5)
        self.bevels = RecordTable(self._session, BEVELS, say("kits.bevels"), add=_added_bevel)
        self.bevels.header_right(0, 2, 3)
        self.bearings = RecordTable(
            self._session, BEARINGS, say("kits.bearings"), add=_added_bearing
        )
        self.bearings.header_right(2, 3, 4, 5, 6)
        tables: tuple[tuple[RecordTable[Any], str, Added], ...] = (
            (self.gears, "Gears", _added_gear),
            (self.bevels, "Bevels", _added_bevel),
            (self.bearings, "Bearings", _added_bearing),
        )
        for table, title, add in tables:
            table.stretch(table.columnCount() - 1)
            page = QWidget()
            column = QVBoxLayout(page)
            column.setContentsMargins(0, 6, 0, 0)
            column.addWidget(table, 1)
            row = QHBoxLayout()
            row.addWidget(button(say("kits.add-to", lower=title.lower()), partial(self._add, add)))
            row.addWidget(button(say("kits.remove"), partial(self._remove, title.lower(), table)))
            row.addStretch(1)
            column.addLayout(row)
            self.tabs.addTab(page, shown(title))
        return self.tabs

    def _refused(self, sentence: str) -> None:
        self.refresh()
        self.complain(sentence)

    def complain(self, sentence: str) -> None:
        """Say what could not be used, in the dialog itself."""
        self.trouble.setText(sentence)

    def refresh(self) -> None:
        """Show the kit."""
        kit = self._session.vehicle.kit
        self.entries["name"].show_value(kit.name)
        self.kind.setCurrentIndex(self.kind.findData(kit.kind))
        for _, field, _ in FIELDS:
            value = getattr(kit, field)
            self.entries[field].show_value("" if value is None else number_text(value))
        self.made.setChecked(kit.made is not None)
        for _, field, _ in MADE:
            entry = self.entries[f"made.{field}"]
            entry.setEnabled(kit.made is not None)
            entry.show_value("" if kit.made is None else number_text(getattr(kit.made, field)))
        self.made_dogs.setEnabled(kit.made is not None)
        self.made_dogs.setChecked(kit.made is not None and kit.made.dog_faces)
        self.barred.show_value(", ".join(map(str, kit.barred)))
        self.undercut.setText(describe_undercut(kit))
        self._fill(kit)
        self._fill_others()

    def _fill(self, kit: Kit) -> None:
        self.gears.show_records([(gear, kit) for gear in kit.gears])
        self.bevels.show_records(kit.bevels)
        self.bearings.show_records(kit.bearings)

    def _fill_others(self) -> None:
        self.others.clear()
        self.others.addItem(shown(say("kits.choose")), None)
        for name in shipped_kits():
            self.others.addItem(shown(shipped_kit(name).name), name)
        for path in kits_in(self._own):
            self.others.addItem(
                shown(say("kits.mine", removesuffix=path.name.removesuffix(".kit.json"))), str(path)
            )

    def _take_other(self) -> None:
        name = self.others.currentData()
        if name is None:
            return
        try:
            kit = load_kit(name)
        except BadgerError as error:
            self.complain(str(error))
            return
        self._session.do(Edit.one(say("kits.use-the-kit", name=kit.name), ("kit",), kit))

    def _set(self, path: Path, value: object) -> bool:
        self.trouble.setText("")
        return self._session.do(Edit.one(say("kits.change-the-kit"), ("kit", *path), value))

    def _make(self, on: bool) -> None:
        made = MadeGears(least_teeth=10, most_teeth=60, face_width_mm=9.0) if on else None
        if not self._set(("made",), made):
            self.refresh()

    def _bar(self, text: str) -> bool:
        return self._set(("barred",), parse_sizes(text))

    def _add(self, add: Added) -> None:
        self._session.do(add(self._session.vehicle)[0])

    def _remove(self, field: str, table: RecordTable[Any]) -> None:
        rows = list(getattr(self._session.vehicle.kit, field))
        row = table.chosen()
        if row is None:
            self.complain(say("kits.choose-the-row-to-remove-in-the-table-first"))
            return
        self._set((field,), rows[:row] + rows[row + 1 :])


def _stock(what: str, text: str) -> Stock:
    if text.lower() in ("made", ""):
        return None
    value = parse_number(text, what=what)
    if value != int(value):
        raise InputError(say("kits.must-be-a-whole-number-or-made", what=what, text=text))
    return int(value)


def _describe_gear(vehicle: Vehicle, row: int) -> str:
    return say("kits.tooth-gear", teeth=vehicle.kit.gears[row].teeth)


def _change(path: Path, value: object) -> Edit:
    return Edit.one(say("kits.change-the-kit"), ("kit", *path), value)


def _typed_gear(field: str, title: str, vehicle: Vehicle, row: int, text: str) -> Edit:
    what = say("kits.of-the", title=title, gear=_describe_gear(vehicle, row))
    path = ("gears", row, field)
    if field == "bore":
        return _change(path, text)
    if field == "stock":
        return _change(path, _stock(what, text))
    value = parse_field(text, field, what=what, kit=vehicle.kit, choice=vehicle.shown_in)
    changes = [Change(("kit", *path), value)]
    if field == "teeth":  # full-depth teeth: the tip follows
        tip = vehicle.kit.module_mm * (value + 2)
        changes.append(Change(("kit", "gears", row, "tip_diameter_mm"), tip))
    return Edit(say("kits.change-the-kit"), tuple(changes))


def _ticked_dogs(_vehicle: Vehicle, row: int, on: bool) -> Edit:
    return _change(("gears", row, "dog_faces"), on)


def _ticked_barred(vehicle: Vehicle, row: int, on: bool) -> Edit:
    kit = vehicle.kit
    teeth = kit.gears[row].teeth
    barred = [z for z in kit.barred if z != teeth] + ([teeth] if on else [])
    return _change(("barred",), sorted(barred))


_Gear = tuple[GearSize, Kit]
GEARS: tuple[Column[_Gear], ...] = (
    Column(
        say("kits.teeth"),
        lambda g: Cell(str(g[0].teeth), right=True),
        partial(_typed_gear, "teeth", say("kits.teeth-2")),
        tip=tip_of(GearSize, "teeth"),
    ),
    Column(
        say("kits.bore"),
        lambda g: Cell(g[0].bore, tip=say("kits.fixed-or-free")),
        partial(_typed_gear, "bore", "Bore"),
        tip=tip_of(GearSize, "bore"),
    ),
    Column(
        say("kits.dogs"),
        lambda g: Cell("", checked=g[0].dog_faces),
        ticked=_ticked_dogs,
        tip=tip_of(GearSize, "dog_faces"),
    ),
    Column(
        say("kits.face", mm=MM),
        lambda g: number_cell(g[0].face_width_mm, "face_width_mm"),
        partial(_typed_gear, "face_width_mm", say("kits.face-width-2")),
        tip=tip_of(GearSize, "face_width_mm"),
    ),
    Column(
        say("kits.tip", mm=MM),
        lambda g: number_cell(g[0].tip_diameter_mm, "tip_diameter_mm"),
        partial(_typed_gear, "tip_diameter_mm", "Tip diameter"),
        tip=tip_of(GearSize, "tip_diameter_mm"),
    ),
    Column(
        say("kits.stock"),
        lambda g: Cell(describe_stock(g[0].stock), right=True),
        partial(_typed_gear, "stock", "Stock"),
        may_be_empty=True,
        tip=tip_of(GearSize, "stock"),
    ),
    Column(
        say("kits.not-used"),
        lambda g: Cell("", checked=g[0].teeth in g[1].barred),
        ticked=_ticked_barred,
        tip=say("kits.sizes-that-the-search-leaves-out"),
    ),
)


def _typed_row(  # noqa: PLR0917 - the first three are bound, as a column calls it
    name: str, field: str, title: str, vehicle: Vehicle, row: int, text: str
) -> Edit:
    entry = getattr(vehicle.kit, name)[row]
    owner = say("kits.the-tooth-bevel", teeth=entry.teeth) if name == "bevels" else entry.name
    what = say("kits.of", title=title, owner=owner)
    value: object = text
    if field == "stock":
        value = _stock(what, text)
    elif field == "price" and not text:
        value = None
    elif field not in ("role", "name", "kind"):
        value = parse_field(text, field, what=what, kit=vehicle.kit, choice=vehicle.shown_in)
    return _change((name, row, field), value)


def _bevel(
    title: str, field: str, words: str, cell: Callable[[BevelSize], Cell]
) -> Column[BevelSize]:
    return Column(
        title,
        cell,
        partial(_typed_row, "bevels", field, words),
        may_be_empty=field == "stock",
        tip=tip_of(BevelSize, field),
    )


def _bearing(
    title: str, field: str, words: str, cell: Callable[[Bearing], Cell]
) -> Column[Bearing]:
    return Column(
        title,
        cell,
        partial(_typed_row, "bearings", field, words),
        may_be_empty=field in ("stock", "price"),
        tip=tip_of(Bearing, field),
    )


BEVELS = (
    _bevel(
        "teeth", say("kits.teeth"), say("kits.teeth-2"), lambda b: Cell(str(b.teeth), right=True)
    ),
    _bevel(
        "role",
        "role",
        say("kits.role"),
        lambda b: Cell(b.role, tip=say("kits.bevel-or-differential-rim")),
    ),
    _bevel(
        say("kits.face", mm=MM),
        "face_width_mm",
        say("kits.face-width-2"),
        lambda b: number_cell(b.face_width_mm, "face_width_mm"),
    ),
    _bevel(
        "stock", "stock", say("kits.stock-2"), lambda b: Cell(describe_stock(b.stock), right=True)
    ),
)
BEARINGS = (
    _bearing("name", "name", say("kits.name"), lambda b: Cell(b.name)),
    _bearing(
        "kind",
        "kind",
        say("kits.kind"),
        lambda b: Cell(b.kind, tip=say("kits.ball-roller-bush-or-flanged-bush")),
    ),
    _bearing(
        say("kits.bore-2", mm=MM),
        "bore_mm",
        say("kits.bore-3"),
        lambda b: number_cell(b.bore_mm, "bore_mm"),
    ),
    _bearing(
        say("kits.outer", mm=MM),
        "outer_mm",
        say("kits.outer-diameter"),
        lambda b: number_cell(b.outer_mm, "outer_mm"),
    ),
    _bearing(
        say("kits.width", mm=MM),
        "width_mm",
        say("kits.width-2"),
        lambda b: number_cell(b.width_mm, "width_mm"),
    ),
    _bearing(
        "price",
        "price",
        say("kits.price"),
        lambda b: Cell("" if b.price is None else signed(b.price, "g"), right=True),
    ),
    _bearing(
        "stock", "stock", say("kits.stock-2"), lambda b: Cell(describe_stock(b.stock), right=True)
    ),
)


def _added_gear(vehicle: Vehicle) -> tuple[Edit, int]:
    kit = vehicle.kit
    teeth = max((g.teeth for g in kit.gears if g.bore == "fixed"), default=8) + 4
    face = kit.gears[-1].face_width_mm if kit.gears else 8.0
    tip = kit.module_mm * (teeth + 2)
    gear = GearSize(teeth=teeth, bore="fixed", face_width_mm=face, tip_diameter_mm=tip)
    return _change(("gears",), [*kit.gears, gear]), len(kit.gears)


def _added_bevel(vehicle: Vehicle) -> tuple[Edit, int]:
    kit = vehicle.kit
    teeth = max((b.teeth for b in kit.bevels if b.role == "bevel"), default=8) + 4
    made = BevelSize(teeth=teeth, face_width_mm=6.0)
    return _change(("bevels",), [*kit.bevels, made]), len(kit.bevels)


def _added_bearing(vehicle: Vehicle) -> tuple[Edit, int]:
    kit = vehicle.kit
    bore = kit.shaft_diameter_mm
    names = {bearing.name for bearing in kit.bearings}
    number = next(n for n in range(1, len(names) + 2) if f"bearing {n}" not in names)
    made = Bearing(
        name=say("kits.bearing", number=number), bore_mm=bore, outer_mm=bore * 2, width_mm=5.0
    )
    return _change(("bearings",), [*kit.bearings, made]), len(kit.bearings)
