"""The kit editor: what there is, how many, what may be used; kept with the vehicle, or as files."""

from collections.abc import Callable
from functools import partial
from pathlib import Path as FilePath

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDialog,
    QGridLayout,
    QHBoxLayout,
    QTableWidgetItem,
    QTabWidget,
    QVBoxLayout,
    QWidget,
)

from mild_badger.app.drawing.widgets import Cell, Entry, Table, button, caption
from mild_badger.app.session import Session
from mild_badger.core.changes import Change, Edit, Path
from mild_badger.core.errors import BadgerError, InputError
from mild_badger.core.kit.catalogue import shipped_kit, shipped_kits
from mild_badger.core.mesh.kit_words import parse_sizes, stock_words, undercut_words
from mild_badger.core.targets.schools import parse_number
from mild_badger.core.vehicle.kit import Bearing, BevelSize, GearSize, Kit, MadeGears, Stock
from mild_badger.files.kit_file import kits_in, load_kit

__all__ = ["KitDialog"]

KINDS = (("bricks on a grid", "brick"), ("wood", "wood"), ("printed or machined", "printed"))
FIELDS: tuple[tuple[str, str, str], ...] = (
    ("Module, mm", "module_mm", "ISO 54 values first: 1, 1.25, 1.5, 2, 2.5, 3, 4"),
    ("Pressure angle, °", "pressure_angle_deg", "20 as a rule"),
    ("Grid or squared paper, mm", "grid_unit_mm", "bricks sit on it, others are drawn on it"),
    ("Shaft ø, mm", "shaft_diameter_mm", ""),
    ("Loss in a mesh, share", "mesh_loss", "an estimate: 0.04 is 4 % of the power"),
    ("Nozzle or cutter, mm", "cutter_mm", "empty: none; limits how fine teeth can be"),
)
MADE: tuple[tuple[str, str, str], ...] = (
    ("Made from, teeth", "least_teeth", "the smallest you would cut (undercut, grain strength)"),
    ("up to, teeth", "most_teeth", "the largest your machine can swing"),
    ("Thickness, mm", "face_width_mm", "plywood or print height: the face width"),
    ("Thinned by, mm", "tooth_thinning_mm", "running allowance on the tooth thickness"),
)


BEVEL = ("teeth", "role", "face_width_mm", "stock")
BEARING = ("name", "kind", "bore_mm", "outer_mm", "width_mm", "price", "stock")


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
        self._session, self._own = session, own_folder
        self.setWindowTitle("Kit")
        self.resize(880, 620)
        self.entries: dict[str, Entry] = {}
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
            ("Duplicate as my own", self.keep_wanted.emit),
            ("Save as a file …", self.save_wanted.emit),
            ("Import a file …", self.import_wanted.emit),
        ):
            foot.addWidget(button(name, do))
        foot.addStretch(1)
        foot.addWidget(button("Close", self.accept))
        outer.addLayout(foot)
        session.changed.connect(self.refresh)
        session.refused.connect(self.complain)
        self.refresh()

    def _head(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.addWidget(caption("Kit"))
        self.entries["name"] = self._entry("Kit name", ("name",), text=True)
        row.addWidget(self.entries["name"], 2)
        self.kind = QComboBox()
        self.kind.setAccessibleName("Kind of kit")
        for words, value in KINDS:
            self.kind.addItem(words, value)
        self.kind.activated.connect(lambda _i: self._set(("kind",), self.kind.currentData()))
        row.addWidget(self.kind)
        row.addSpacing(20)
        row.addWidget(caption("take another:", "soft"))
        self.others = QComboBox()
        self.others.setAccessibleName("Take another kit")
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
        self.made = QCheckBox("Gears are made to any count in a range")
        self.made.clicked.connect(self._make)
        grid.addWidget(self.made, row, 0, 1, 2)
        row += 1
        for name, field, note in MADE:
            row = self._field(grid, row, name, ("made", field), note)
        self.made_dogs = QCheckBox("made gears may have dog faces and run free")
        self.made_dogs.clicked.connect(lambda on: self._set(("made", "dog_faces"), on))
        grid.addWidget(self.made_dogs, row, 0, 1, 2)
        row += 1
        self.barred = Entry(self._bar, self.complain, "Barred sizes")
        self.barred.setPlaceholderText("none, or 11, 13–15")
        grid.addWidget(caption("Barred sizes"), row, 0)
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
        entry.setToolTip(note)
        label = caption(name)
        label.setToolTip(note)
        self.entries[".".join(map(str, path))] = entry
        grid.addWidget(label, row, 0)
        grid.addWidget(entry, row, 1, Qt.AlignmentFlag.AlignRight)
        return row + 1

    def _entry(self, name: str, path: Path, *, text: bool = False) -> Entry:
        def commit(typed: str) -> bool:
            if text:
                return self._set(path, typed.strip())
            if not typed.strip() and path == ("cutter_mm",):
                return self._set(path, None)
            return self._set(path, parse_number(typed, what=name))

        return Entry(commit, self.complain, name)

    def _tabs(self) -> QTabWidget:
        self.tabs = QTabWidget()
        self.gears = self._table(
            ("teeth", "bore", "dogs", "face mm", "tip ø mm", "stock", "barred"), "Gears", 0, 3, 4, 5
        )
        self.bevels = self._table(("teeth", "role", "face mm", "stock"), "Bevels", 0, 2, 3)
        self.bearings = self._table(
            ("name", "kind", "bore mm", "outer mm", "width mm", "price", "stock"),
            "Bearings",
            2,
            3,
            4,
            5,
            6,
        )
        for table, title, add, edited in (
            (self.gears, "Gears", self._add_gear, self._gear_edited),
            (self.bevels, "Bevels", self._add_bevel, partial(self._row_edited, "bevels", BEVEL)),
            (
                self.bearings,
                "Bearings",
                self._add_bearing,
                partial(self._row_edited, "bearings", BEARING),
            ),
        ):
            table.itemChanged.connect(partial(self._guard, edited))
            page = QWidget()
            column = QVBoxLayout(page)
            column.setContentsMargins(0, 6, 0, 0)
            column.addWidget(table, 1)
            row = QHBoxLayout()
            row.addWidget(button(f"Add to {title.lower()}", add))
            row.addWidget(button("Remove", partial(self._remove, title.lower(), table)))
            row.addStretch(1)
            column.addLayout(row)
            self.tabs.addTab(page, title)
        return self.tabs

    def _table(self, headers: tuple[str, ...], name: str, *numbers: int) -> Table:
        table = Table(headers, name)
        table.header_right(*numbers)
        table.stretch(len(headers) - 1)
        table.itemActivated.connect(table.editItem)
        return table

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
            self.entries[field].show_value("" if value is None else f"{value:g}")
        self.made.setChecked(kit.made is not None)
        for _, field, _ in MADE:
            entry = self.entries[f"made.{field}"]
            entry.setEnabled(kit.made is not None)
            entry.show_value("" if kit.made is None else f"{getattr(kit.made, field):g}")
        self.made_dogs.setEnabled(kit.made is not None)
        self.made_dogs.setChecked(kit.made is not None and kit.made.dog_faces)
        self.barred.show_value(", ".join(map(str, kit.barred)))
        self.undercut.setText(undercut_words(kit))
        self._fill(kit)
        self._fill_others()

    def _fill(self, kit: Kit) -> None:
        self.gears.show_cells(
            [
                (
                    Cell(str(g.teeth), right=True, editable=True),
                    Cell(g.bore, editable=True, tip="fixed or free"),
                    Cell("", checked=g.dog_faces),
                    Cell(f"{g.face_width_mm:g}", right=True, editable=True),
                    Cell(f"{g.tip_diameter_mm:g}", right=True, editable=True),
                    Cell(stock_words(g.stock), right=True, editable=True),
                    Cell("", checked=g.teeth in kit.barred),
                )
                for g in kit.gears
            ]
        )
        self.bevels.show_cells(
            [
                (
                    Cell(str(b.teeth), right=True, editable=True),
                    Cell(b.role, editable=True, tip="bevel, or differential rim"),
                    Cell(f"{b.face_width_mm:g}", right=True, editable=True),
                    Cell(stock_words(b.stock), right=True, editable=True),
                )
                for b in kit.bevels
            ]
        )
        self.bearings.show_cells(
            [
                (
                    Cell(b.name, editable=True),
                    Cell(b.kind, editable=True, tip="ball, roller, bush or flanged bush"),
                    Cell(f"{b.bore_mm:g}", right=True, editable=True),
                    Cell(f"{b.outer_mm:g}", right=True, editable=True),
                    Cell(f"{b.width_mm:g}", right=True, editable=True),
                    Cell("" if b.price is None else f"{b.price:g}", right=True, editable=True),
                    Cell(stock_words(b.stock), right=True, editable=True),
                )
                for b in kit.bearings
            ]
        )

    def _fill_others(self) -> None:
        self.others.clear()
        self.others.addItem("choose …", None)
        for name in shipped_kits():
            self.others.addItem(shipped_kit(name).name, name)
        for path in kits_in(self._own):
            self.others.addItem(f"mine: {path.name.removesuffix('.kit.json')}", str(path))

    def _take_other(self) -> None:
        name = self.others.currentData()
        if name is None:
            return
        try:
            kit = load_kit(name)
        except BadgerError as error:
            self.complain(str(error))
            return
        self._session.do(Edit.one(f"Take the kit {kit.name}", ("kit",), kit))

    def _set(self, path: Path, value: object) -> bool:
        self.trouble.setText("")
        return self._session.do(Edit.one("Change the kit", ("kit", *path), value))

    def _make(self, on: bool) -> None:
        made = MadeGears(least_teeth=10, most_teeth=60, face_width_mm=9.0) if on else None
        if not self._set(("made",), made):
            self.refresh()

    def _bar(self, text: str) -> bool:
        return self._set(("barred",), parse_sizes(text))

    def _guard(self, edit: Callable[[QTableWidgetItem], bool], item: QTableWidgetItem) -> None:
        try:
            taken = edit(item)
        except BadgerError as error:
            self.complain(str(error))
            taken = False
        if not taken:
            self.refresh()

    def _gear_edited(self, item: QTableWidgetItem) -> bool:
        kit, row, text = self._session.vehicle.kit, item.row(), item.text().strip()
        ticked = item.checkState() is Qt.CheckState.Checked
        teeth = kit.gears[row].teeth
        if item.column() == 6:
            barred = [z for z in kit.barred if z != teeth] + ([teeth] if ticked else [])
            return self._set(("barred",), sorted(barred))
        if item.column() == 2:
            return self._set(("gears", row, "dog_faces"), ticked)
        if item.column() == 1:
            return self._set(("gears", row, "bore"), text)
        if item.column() == 5:
            return self._set(("gears", row, "stock"), _parse_stock(text))
        field = {0: "teeth", 3: "face_width_mm", 4: "tip_diameter_mm"}[item.column()]
        value = parse_number(text, what=f"{teeth}-tooth gear, {field}")
        changes = [Change(("kit", "gears", row, field), value)]
        if field == "teeth":  # full-depth teeth: the tip follows
            tip = kit.module_mm * (value + 2)
            changes.append(Change(("kit", "gears", row, "tip_diameter_mm"), tip))
        self.trouble.setText("")
        return self._session.do(Edit("Change the kit", tuple(changes)))

    def _row_edited(self, name: str, fields: tuple[str, ...], item: QTableWidgetItem) -> bool:
        """Take one cell of a table whose columns are the fields of its entries."""
        field, text = fields[item.column()], item.text().strip()
        value: object = text
        if field == "stock":
            value = _parse_stock(text)
        elif field == "price" and not text:
            value = None
        elif field not in ("role", "name", "kind"):
            value = parse_number(text, what=f"{name.capitalize()}, {field}")
        return self._set((name, item.row(), field), value)

    def _add_gear(self) -> None:
        kit = self._session.vehicle.kit
        teeth = max((g.teeth for g in kit.gears if g.bore == "fixed"), default=8) + 4
        face = kit.gears[-1].face_width_mm if kit.gears else 8.0
        tip = kit.module_mm * (teeth + 2)
        gear = GearSize(teeth=teeth, bore="fixed", face_width_mm=face, tip_diameter_mm=tip)
        self._set(("gears",), [*kit.gears, gear])

    def _add_bevel(self) -> None:
        kit = self._session.vehicle.kit
        teeth = max((b.teeth for b in kit.bevels if b.role == "bevel"), default=8) + 4
        self._set(("bevels",), [*kit.bevels, BevelSize(teeth=teeth, face_width_mm=6.0)])

    def _add_bearing(self) -> None:
        kit = self._session.vehicle.kit
        bore = kit.shaft_diameter_mm
        name = f"bearing {len(kit.bearings) + 1}"
        made = Bearing(name=name, bore_mm=bore, outer_mm=bore * 2, width_mm=5.0)
        self._set(("bearings",), [*kit.bearings, made])

    def _remove(self, field: str, table: Table) -> None:
        rows = list(getattr(self._session.vehicle.kit, field))
        row = table.currentRow()
        if not 0 <= row < len(rows):
            self.complain("Choose the row to remove in the table first.")
            return
        self._set((field,), rows[:row] + rows[row + 1 :])


def _parse_stock(text: str) -> Stock:
    if text.lower() in ("made", ""):
        return None
    value = parse_number(text, what="Stock")
    if value != int(value):
        raise InputError(f"Stock: {text!r} must be a whole number, or made.")
    return int(value)
