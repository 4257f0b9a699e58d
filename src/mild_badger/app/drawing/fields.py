"""Fields of the document: each shows what stands there, and sends what is typed."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import KW_ONLY, dataclass
from functools import cached_property

from pydantic import BaseModel
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QFocusEvent, QKeyEvent
from PyQt6.QtWidgets import QCheckBox, QComboBox, QGridLayout, QLineEdit, QWidget

from mild_badger.app.drawing.field_note import hide_note, show_note
from mild_badger.app.drawing.flow import Flow
from mild_badger.app.drawing.tables import Cell
from mild_badger.app.drawing.widgets import caption
from mild_badger.app.session import Session
from mild_badger.app.shown import shown, units_in_force
from mild_badger.core.figures import UnitChoice
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.change import Change, Edit, Path
from mild_badger.core.vehicle.field_texts import FieldText, text_at, text_of
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import capitalized
from mild_badger.text.fields import (
    field_text,
    field_unit,
    parse_field,
    remembered,
    typed_fraction,
)
from mild_badger.text.quantities import number_text

__all__ = [
    "DocumentCheckBox",
    "DocumentChoice",
    "DocumentLineEdit",
    "FieldForm",
    "FieldSpec",
    "field_of",
    "number_cell",
    "tip_of",
]


INCH_WIDTH = 62
"""Room in px for a mixed number such as 10 31/32."""


class DocumentLineEdit(QLineEdit):
    """A line that sends what was typed when Enter is pressed or the line is left.

    ``commit`` raises a BadgerError, or has the session refuse, for what cannot be used. The line
    says so beside itself, keeps what was typed while the keyboard stays in it, and goes back to
    what stands in the document when it is left. Escape goes back at once. ``measure`` writes a
    number of the document in the units that are chosen.
    """

    def __init__(self, session: Session, commit: Callable[[str], object], name: str) -> None:
        super().__init__()
        self._session, self._commit, self._shown = session, commit, ""
        self.measure: Callable[[float], str] | None = None
        self.setAccessibleName(shown(name))
        self.editingFinished.connect(self._send)
        self.textEdited.connect(lambda _text: self._mark(""))
        session.replaced.connect(self.restore)

    def show_value(self, text: str) -> None:
        """Show the document's value, unless the builder is in the middle of typing."""
        if self.measure is not None and text:
            text = self.measure(float(text.replace("−", "-")))
        drafting = self.hasFocus() and self.text() != self._shown
        self._shown = text
        if not drafting and self.text() != text:
            self.setText(text)
            self.setCursorPosition(0)

    def restore(self) -> None:
        """Show what stands in the document, whatever was typed."""
        if self.text() != self._shown:
            self.setText(self._shown)
            self.setCursorPosition(0)
        self._mark("")

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            drafted = self.text() != self._shown
            self.restore()
            if not drafted:
                event.ignore()  # to the window, which then takes the keyboard
            return
        super().keyPressEvent(event)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)  # this sends what was typed
        popup = (Qt.FocusReason.ActiveWindowFocusReason, Qt.FocusReason.PopupFocusReason)
        if event is not None and event.reason() not in popup and self.text() != self._shown:
            self.setText(self._shown)
            self.setCursorPosition(0)
            self._redden(refused=False)

    def _send(self) -> None:
        if self.text() == self._shown:
            self._mark("")
            return
        sentence = self._session.refusal_of(lambda: self._commit(self.text()))
        if sentence:
            self._mark(sentence)
        else:
            self.restore()

    def _mark(self, sentence: str) -> None:
        """Say what is wrong; nothing is wrong where the sentence is empty."""
        if sentence:
            show_note(self, sentence)
        elif self.property("refused"):
            hide_note(self)
        self._redden(refused=bool(sentence))

    def _redden(self, *, refused: bool) -> None:
        if bool(self.property("refused")) != refused:
            self.setProperty("refused", refused)
            style = self.style()
            if style is not None:
                style.unpolish(self)
                style.polish(self)


def tip_of(model: type[BaseModel], field: str) -> str:
    """Say what a field of a record is called and holds; "" for one without a text."""
    text = text_of(model, field)
    return "" if text is None else _tip(text)


def _tip(text: FieldText) -> str:
    return f"{capitalized(text.title)}. {text.description}"


def field_of(
    session: Session, path: Path, name: str, *, width: int = 84, optional: bool = False
) -> DocumentLineEdit:
    """Make a number field for one field of the document; empty is none where it is optional."""

    def commit(text: str) -> bool:
        return session.do(_typed_edit(session.vehicle, path, text, name, optional=optional))

    line = DocumentLineEdit(session, commit, name)
    line.measure = lambda value: _describe_field(session.vehicle, path, value)
    line.setFixedWidth(max(width, INCH_WIDTH) if units_in_force().length == "in" else width)
    line.setAlignment(Qt.AlignmentFlag.AlignRight)
    text = text_at(Vehicle, path)
    if text is not None:
        line.setToolTip(shown(_tip(text)))
    return line


def _typed_edit(
    vehicle: Vehicle, path: Path, text: str, name: str, *, optional: bool, own: str | None = None
) -> Edit:
    """Make the edit of what was typed into a number field, and remember a fraction."""
    value, field = None, str(path[-1])
    if text.strip() or not optional:
        value = parse_field(
            text, field, what=name, kit=vehicle.kit, choice=vehicle.shown_in, own=own
        )
    memory = remembered(vehicle, path, text)
    changes = (Change(path, value), *((memory,) if memory is not None else ()))
    return Edit(say("drawing.set", lower=name.lower()), changes)


def _describe_field(vehicle: Vehicle, path: Path, value: float, own: str | None = None) -> str:
    typed = typed_fraction(vehicle, path)
    return field_text(value, str(path[-1]), vehicle.shown_in, typed=typed, own=own)


def number_cell(value: float, field: str) -> Cell:
    """Show a field's number in a table, as it is typed."""
    return Cell(field_text(value, field, units_in_force()), right=True)


class DocumentChoice(QComboBox):
    """A choice of values for one field of the document, each with its words."""

    def __init__(self, session: Session, path: Path, name: str, entries: Mapping[str, str]) -> None:
        super().__init__()
        self._value: object = None
        self.setAccessibleName(shown(name))
        for key, words in entries.items():
            self.addItem(shown(words), key)

        def send() -> None:
            edit = Edit.one(say("drawing.set", lower=name.lower()), path, self.currentData())
            sentence = session.refusal_of(lambda: session.do(edit))
            if sentence:
                self.setCurrentIndex(self.findData(self._value))
                show_note(self, sentence)

        self.activated.connect(lambda _i: send())

    def show_value(self, value: str) -> None:
        """Show the document's value."""
        self._value = value
        self.setCurrentIndex(self.findData(value))


class DocumentCheckBox(QCheckBox):
    """A yes or no in the document."""

    def __init__(self, session: Session, path: Path, words: str) -> None:
        super().__init__(shown(words))
        self._value = False
        self.setAccessibleName(shown(words.capitalize()))

        def send(on: bool) -> None:
            sentence = session.refusal_of(
                lambda: session.do(Edit.one(say("drawing.set-2", words=words), path, on))
            )
            if sentence:
                self.setChecked(self._value)
                show_note(self, sentence)

        self.clicked.connect(lambda on: send(bool(on)))

    def show_value(self, value: bool) -> None:
        """Show the document's value."""
        self._value = value
        self.setChecked(value)


@dataclass(frozen=True)
class FieldSpec:
    """One field: where it stands in the document, and how it is typed.

    What it is called and what it does comes from the table of fields. ``owner`` is the model that
    has it, where paths begin elsewhere than at the vehicle. ``choices`` makes it a choice of
    values with their words, "" for none; ``optional`` lets it be empty, which means ``empty``.
    """

    path: Path
    _: KW_ONLY
    owner: type[BaseModel] | None = None
    unit: str | None = None
    optional: bool = False
    empty: str = say("drawing.none")
    choices: tuple[tuple[str, str], ...] = ()

    @cached_property
    def text(self) -> FieldText:
        """What the field is called, what it does and its unit."""
        name = str(self.path[-1])
        text = text_of(self.owner, name) if self.owner else text_at(Vehicle, self.path)
        if text is None:
            raise ValueError(f"the table of fields has no {self.path}")
        return text

    @property
    def title(self) -> str:
        """What the field is called, as a label."""
        return capitalized(self.text.title)

    @property
    def tip(self) -> str:
        """What the field is called and what it does."""
        return _tip(self.text)

    def unit_in(self, choice: UnitChoice) -> str:
        """Name what stands behind the field where figures are written in these units."""
        if self.unit is not None:
            return self.unit
        return field_unit(str(self.path[-1]), choice, self.text.unit)


class FieldForm(QWidget):
    """Fields below one another, each with words before and a unit behind.

    ``root`` says where the paths start that may move about in the document.
    """

    def __init__(
        self,
        session: Session,
        fields: Sequence[FieldSpec],
        root: Callable[[], Path] = tuple,
    ) -> None:
        super().__init__()
        self._root = root
        self.session, self.specs = session, tuple(fields)
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(4)
        self.entries: dict[str, DocumentLineEdit | QComboBox] = {}
        self._units = []
        for row, spec in enumerate(self.specs):
            name = str(spec.path[-1])
            made = self._choice(spec) if spec.choices else self._entry(spec)
            made.setAccessibleName(shown(spec.title))
            made.setToolTip(shown(spec.tip))
            self.entries[name] = made
            unit = caption(spec.unit_in(session.vehicle.shown_in), "soft")
            self._units.append(unit)
            title = caption(spec.title, wrap=not spec.choices)
            title.setToolTip(shown(spec.tip))
            if spec.choices:
                line = Flow()
                line.addWidget(title)
                line.addWidget(made, 1)
                grid.addLayout(line, row, 0, 1, 3)
                continue
            grid.addWidget(title, row, 0)
            grid.addWidget(made, row, 1)
            grid.addWidget(unit, row, 2)
        grid.setColumnStretch(0, 1)
        grid.setRowStretch(len(self.specs), 1)

    def _entry(self, spec: FieldSpec) -> DocumentLineEdit:
        def commit(text: str) -> bool:
            path = (*self._root(), *spec.path)
            vehicle = self.session.vehicle
            return self.session.do(
                _typed_edit(
                    vehicle, path, text, spec.title, optional=spec.optional, own=spec.text.unit
                )
            )

        made = DocumentLineEdit(self.session, commit, spec.title)
        made.measure = lambda value: _describe_field(
            self.session.vehicle, (*self._root(), *spec.path), value, spec.text.unit
        )
        made.setFixedWidth(60)
        made.setPlaceholderText(shown(spec.empty if spec.optional else ""))
        return made

    def _choice(self, spec: FieldSpec) -> QComboBox:
        made = QComboBox()
        made.setMinimumWidth(100)
        for value, words in spec.choices:
            made.addItem(shown(words), value)
        made.activated.connect(
            lambda _n: self.session.do(
                Edit.one(
                    say("drawing.set-3", title=spec.text.title),
                    (*self._root(), *spec.path),
                    _plain(made.currentData()),
                )
            )
        )
        return made

    def clear_values(self) -> None:
        """Show nothing, where there is nothing any more."""
        for made in self.entries.values():
            if isinstance(made, QComboBox):
                made.setCurrentIndex(-1)
            else:
                made.show_value("")

    def show_values(self, vehicle: Vehicle, data: Mapping[str, object] | None = None) -> None:
        """Show what stands in the document, or in ``data`` by the last part of the paths."""
        for spec, unit in zip(self.specs, self._units, strict=True):
            name = str(spec.path[-1])
            made = self.entries[name]
            value = data[name] if data is not None else _read(vehicle, (*self._root(), *spec.path))
            if isinstance(made, QComboBox):
                shown = str(value).lower() if isinstance(value, bool) else value
                made.setCurrentIndex(made.findData("" if shown is None else shown))
                continue
            unit.setText(spec.unit_in(vehicle.shown_in))
            made.show_value(number_text(value) if isinstance(value, int | float) else "")


def _plain(value: object) -> object:
    return {"true": True, "false": False, "": None}.get(str(value), value)


def _read(vehicle: Vehicle, path: Path) -> object:
    here: object = vehicle
    for part in path:
        here = here[part] if isinstance(part, int) else getattr(here, part)  # type: ignore[index]
    return here
