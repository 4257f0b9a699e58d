"""What stands around the box: the way to the wheels, motor, battery, switch and controller."""

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QVBoxLayout, QWidget

from mild_badger.app.drawing.fields import field_of, tip_of
from mild_badger.app.drawing.records import Column, RecordTable
from mild_badger.app.drawing.tables import Cell
from mild_badger.app.drawing.widgets import button, caption, row_of
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.tabs.layout.parts_view import PartsView
from mild_badger.app.theme.style import Theme
from mild_badger.core.components.component import Component
from mild_badger.core.components.equipment import (
    add_equipment,
    parse_shape,
    place_equipment,
    whole_vehicle,
)
from mild_badger.core.errors import InputError
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.layout.reason import why_no_place
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.equipment import (
    EQUIPMENT_KINDS,
    Equipment,
    EquipmentKind,
    EquipmentPlace,
)
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import word
from mild_badger.jobs.registry import Job
from mild_badger.text.fields import lengths_text, parse_lengths
from mild_badger.text.quantities import number_text

__all__ = ["AroundPage"]


def _lengths(text: str, what: str, vehicle: Vehicle) -> tuple[float, float, float]:
    """Read three lengths."""
    lengths = parse_lengths(text.replace("×", ","), what=what, vehicle=vehicle)
    if len(lengths) != 3:
        raise InputError(say("tab-layout.write-three-lengths", what=what))
    return lengths[0], lengths[1], lengths[2]


def _typed_name(_vehicle: Vehicle, row: int, text: str) -> Edit:
    return Edit.one(say("tab-layout.rename-body", name=text), ("equipment", row, "name"), text)


def _typed_kind(vehicle: Vehicle, row: int, text: str) -> Edit:
    kinds = {str(word(kind)): kind for kind in EQUIPMENT_KINDS}
    kind = kinds.get(text.casefold())
    if kind is None:
        raise InputError(say("tab-layout.a-body-is-one-of", listed=", ".join(kinds)))
    name = vehicle.equipment[row].name
    return Edit.one(say("tab-layout.change-body", name=name), ("equipment", row, "kind"), kind)


def _typed_shape(vehicle: Vehicle, row: int, text: str) -> Edit:
    name = vehicle.equipment[row].name
    path = ("equipment", row, "shape")
    return Edit.one(say("tab-layout.change-body", name=name), path, parse_shape(text))


def _typed_size(vehicle: Vehicle, row: int, text: str) -> Edit:
    name = vehicle.equipment[row].name
    lengths = _lengths(text, name, vehicle)
    fields = ("wide_mm", "high_mm", "long_mm")
    return Edit(
        say("tab-layout.change-body", name=name),
        tuple(
            Change(("equipment", row, field), mm) for field, mm in zip(fields, lengths, strict=True)
        ),
    )


def _typed_place(vehicle: Vehicle, row: int, text: str) -> Edit:
    place = None
    if text.strip():
        x, y, along = _lengths(text, vehicle.equipment[row].name, vehicle)
        place = EquipmentPlace(x_mm=x, y_mm=y, along_mm=along)
    return place_equipment(vehicle, row, place)


def _added(vehicle: Vehicle) -> tuple[Edit, int]:
    return add_equipment(vehicle, "other"), len(vehicle.equipment)


class AroundPage(QWidget):
    """The whole vehicle seen from the input end and from the side; below, what must find room.

    Signals
    -------
    search_wanted : a job for the process, what to do with its result, and its words
    bytes_wanted : the name and the bytes of a file to be written
    """

    search_wanted = pyqtSignal(object, object, str)
    bytes_wanted = pyqtSignal(str, bytes)

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session = session
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.end, self.side = PartsView(theme, side=False), PartsView(theme, side=True)
        views = QHBoxLayout()
        views.setSpacing(10)
        views.addWidget(self.end, 2)
        views.addWidget(self.side, 3)
        column.addLayout(views, 3)
        self.diameter = field_of(
            session,
            ("motor", "diameter_mm"),
            say("tab-layout.diameter-of-the-motor"),
            width=56,
            optional=True,
        )
        self.length = field_of(
            session,
            ("motor", "length_mm"),
            say("tab-layout.length-of-the-motor"),
            width=56,
            optional=True,
        )
        self.add = QPushButton(shown(say("tab-layout.add-a-body")))
        menu = QMenu(self.add)
        for kind in EQUIPMENT_KINDS:
            action = menu.addAction(shown(word(kind)))
            if action is not None:
                action.triggered.connect(lambda _on=False, kind=kind: self._add(kind))
        self.add.setMenu(menu)
        self.less = button(say("tab-layout.remove-body"), self._less)
        self.model = button(say("tab-layout.save-all-as-a-3d-file"), self._save)
        column.addLayout(
            row_of(
                caption(say("tab-layout.motor-diameter")),
                self.diameter,
                caption(say("tab-layout.motor-length")),
                self.length,
                self.add,
                self.less,
                self.model,
            )
        )
        title = say("tab-layout.bodies-to-find-room-for")
        self.table = RecordTable(session, self._columns(), title, add=_added)
        self.table.stretch(4)
        self.table.setMinimumHeight(84)
        column.addWidget(self.table, 1)

    def _columns(self) -> tuple[Column[Equipment], ...]:
        def size(item: Equipment) -> Cell:
            lengths = (item.wide_mm, item.high_mm, item.long_mm)
            return Cell(lengths_text(lengths, self.session.vehicle))

        def place(item: Equipment) -> Cell:
            if item.place is None:
                return Cell(say("tab-layout.found-by-the-program"))
            at = (item.place.x_mm, item.place.y_mm, item.place.along_mm)
            return Cell(lengths_text(at, self.session.vehicle))

        return (
            Column(
                say("tab-layout.body"),
                lambda item: Cell(item.name),
                _typed_name,
                tip=tip_of(Equipment, "name"),
            ),
            Column(
                say("tab-layout.kind"),
                lambda item: Cell(word(item.kind)),
                _typed_kind,
                tip=tip_of(Equipment, "kind"),
            ),
            Column(
                say("tab-layout.shape"),
                lambda item: Cell(word(item.shape)),
                _typed_shape,
                tip=tip_of(Equipment, "shape"),
            ),
            Column(
                say("tab-layout.wide-high-long"),
                size,
                _typed_size,
                tip=say("tab-layout.size-to-the-right-upwards-along"),
            ),
            Column(
                say("tab-layout.middle-at"),
                place,
                _typed_place,
                may_be_empty=True,
                tip=say("tab-layout.place-to-the-right-upwards-along"),
            ),
        )

    def _add(self, kind: EquipmentKind) -> None:
        self.session.do(add_equipment(self.session.vehicle, kind))

    def _less(self) -> None:
        items, row = self.session.vehicle.equipment, self.table.chosen()
        if row is None:
            self.session.refuse(say("tab-layout.choose-a-body-in-the-table"))
            return
        left = (*items[:row], *items[row + 1 :])
        words = say("tab-layout.remove-the-body", name=items[row].name)
        self.session.do(Edit.one(words, ("equipment",), left))

    def _save(self) -> None:
        """Write everything as one 3D file, in the background."""
        job = Job("vehicle model", (self.session.vehicle, "glb", self.session.situation.gear))
        self.search_wanted.emit(
            job,
            lambda data: self.bytes_wanted.emit("vehicle.glb", data),
            say("tab-layout.making-the-model"),
        )

    def refresh(self, evaluation: Evaluation) -> None:
        """Show a vehicle with all that stands around its box."""
        vehicle = evaluation.vehicle
        for field, value in (
            (self.diameter, vehicle.motor.diameter_mm),
            (self.length, vehicle.motor.length_mm),
        ):
            field.show_value("" if value is None else number_text(value))
        self.table.show_records(vehicle.equipment)
        self.less.setEnabled(bool(vehicle.equipment))
        parts: tuple[Component, ...] = ()
        empty = why_no_place(vehicle)
        try:
            parts = whole_vehicle(vehicle, evaluation.situation.gear).components
        except InputError as error:
            empty = str(error)
        for view in (self.end, self.side):
            view.empty = empty
            view.show_parts(evaluation, parts)
