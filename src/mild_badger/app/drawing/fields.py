"""Lengths, angles and choices of the running gear as a column of fields, in mm or grid units."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from PyQt6.QtWidgets import QComboBox, QGridLayout, QSizePolicy, QWidget

from mild_badger.app.drawing.widgets import Entry, caption
from mild_badger.app.session import Session
from mild_badger.core.changes import Edit, Path
from mild_badger.core.targets.schools import parse_number
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["Ask", "FieldColumn"]


@dataclass(frozen=True)
class Ask:
    """One field: where it stands, its words, its unit; ``length`` ones can be asked in units.

    ``choices`` makes it a choice of values with their words, "" for none; ``optional`` lets it be
    empty.
    """

    path: Path
    words: str
    unit: str = "mm"
    optional: bool = False
    choices: tuple[tuple[str, str], ...] = ()

    @property
    def length(self) -> bool:
        """Whether it is a length."""
        return self.unit == "mm" and not self.choices


class FieldColumn(QWidget):
    """Fields below one another, each with words before and a unit behind.

    ``root`` says where the paths start that may move about in the document.
    """

    def __init__(
        self, session: Session, asks: Sequence[Ask], in_units: Callable[[], bool],
        root: Callable[[], Path] = tuple,
    ) -> None:  # fmt: skip
        super().__init__()
        self._root = root
        self.session, self.asks, self._in_units = session, tuple(asks), in_units
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(4)
        self.entries: dict[str, Entry | QComboBox] = {}
        self._units = []
        for row, ask in enumerate(self.asks):
            name = str(ask.path[-1])
            made = self._choice(ask) if ask.choices else self._entry(ask)
            made.setAccessibleName(ask.words)
            self.entries[name] = made
            unit = caption(ask.unit, "soft")
            self._units.append(unit)
            words = caption(ask.words)
            words.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
            words.setToolTip(ask.words)
            grid.addWidget(words, row, 0)
            grid.addWidget(made, row, 1, 1, 2 if ask.choices else 1)
            if not ask.choices:
                grid.addWidget(unit, row, 2)
        grid.setColumnStretch(0, 1)
        grid.setRowStretch(len(self.asks), 1)

    def _entry(self, ask: Ask) -> Entry:
        def commit(text: str) -> bool:
            value: float | None = None
            if text.strip() or not ask.optional:
                value = parse_number(text, what=ask.words)
                if ask.length and self._in_units():
                    value *= self.session.vehicle.kit.grid_unit_mm
            return self.session.do(
                Edit.one(f"Set {ask.words.lower()}", (*self._root(), *ask.path), value)
            )

        made = Entry(commit, self.session.refused.emit, ask.words)
        made.setFixedWidth(60)
        return made

    def _choice(self, ask: Ask) -> QComboBox:
        made = QComboBox()
        made.setFixedWidth(100)
        for value, words in ask.choices:
            made.addItem(words, value)
        made.activated.connect(
            lambda _n: self.session.do(
                Edit.one(
                    f"Set {ask.words.lower()}",
                    (*self._root(), *ask.path),
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
        unit_mm = vehicle.kit.grid_unit_mm
        for ask, unit in zip(self.asks, self._units, strict=True):
            name = str(ask.path[-1])
            made = self.entries[name]
            value = data[name] if data is not None else _read(vehicle, (*self._root(), *ask.path))
            if isinstance(made, QComboBox):
                shown = str(value).lower() if isinstance(value, bool) else value
                made.setCurrentIndex(made.findData("" if shown is None else shown))
                continue
            in_units = ask.length and self._in_units()
            unit.setText("u" if in_units else ask.unit)
            if isinstance(value, int | float):
                made.show_value(f"{value / unit_mm if in_units else value:.6g}")
            else:
                made.show_value("")


def _plain(value: object) -> object:
    return {"true": True, "false": False, "": None}.get(str(value), value)


def _read(vehicle: Vehicle, path: Path) -> object:
    here: object = vehicle
    for part in path:
        here = here[part] if isinstance(part, int) else getattr(here, part)  # type: ignore[index]
    return here
