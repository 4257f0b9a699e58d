"""The quick switch of units: what lengths, masses, forces, torques and speeds are shown in."""

from collections.abc import Callable

from PyQt6.QtCore import QPoint
from PyQt6.QtGui import QAction, QActionGroup
from PyQt6.QtWidgets import QMenu, QPushButton, QWidget

from mild_badger.app.session import Session
from mild_badger.app.settings import Settings
from mild_badger.app.shown import shown
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.units import INCH, UnitSettings

__all__ = ["UnitsMenu"]

LENGTHS: dict[str, str] = {
    "mm": say("window.millimetres"),
    "in": say("window.inches-decimals"),
    "in/16": say("window.inches-fractions-to-1-16"),
    "in/32": say("window.inches-fractions-to-1-32"),
    "in/64": say("window.inches-fractions-to-1-64"),
    "u": say("window.grid-units"),
}
OTHERS: dict[str, tuple[str, dict[str, str]]] = {
    "mass": (say("window.mass"), {key: key for key in ("kg", "g", "lb", "oz")}),
    "force": (say("window.force"), {key: key for key in ("N", "kgf", "lbf")}),
    "torque": (
        say("window.torque"),
        {key: key for key in ("N·mm", "N·cm", "N·m", "kg·cm", "in·lb", "oz·in")},
    ),
    "speed": (
        say("window.speed"),
        {"": say("window.as-usual-for-each-figure")}
        | {key: key for key in ("mm/s", "cm/s", "m/s", "km/h", "mph")},
    ),
    "dxf": (say("window.dxf-files"), {"mm": say("window.in-mm"), "in": say("window.in-inches")}),
}


class UnitsMenu(QMenu):
    """A menu with one choice of length unit, and a menu for each other kind.

    Two entries set all at once: metric, and inch with pounds.
    """

    def __init__(self, session: Session, settings: Settings, parent: QWidget) -> None:
        super().__init__(shown(say("window.units")), parent)
        self._session, self._settings = session, settings
        self._actions: dict[tuple[str, str], QAction] = {}
        self._choices(self, "length", LENGTHS)
        self.addSeparator()
        for field, (title, entries) in OTHERS.items():
            menu = self.addMenu(shown(title))
            if menu is not None:
                self._choices(menu, field, entries)
        self.addSeparator()
        self._set_all(say("window.all-metric"), UnitSettings())
        self._set_all(say("window.all-inch-and-pound"), INCH)
        self.aboutToShow.connect(self.refresh)

    def _choices(self, menu: QMenu, field: str, entries: dict[str, str]) -> None:
        group = QActionGroup(menu)
        for key, words in entries.items():
            action = QAction(shown(words), menu)
            action.setCheckable(True)
            action.triggered.connect(self._taker(field, key))
            group.addAction(action)
            menu.addAction(action)
            self._actions[field, key] = action

    def _taker(self, field: str, key: str) -> Callable[[bool], None]:
        def take(_on: bool) -> None:
            units = self._session.vehicle.units
            self._use(units.model_copy(update={field: key}))

        return take

    def _set_all(self, words: str, units: UnitSettings) -> None:
        action = QAction(shown(words), self)
        action.triggered.connect(lambda _on: self._use(units))
        self.addAction(action)

    def _use(self, units: UnitSettings) -> None:
        """Show this vehicle in other units, and new ones too."""
        if self._session.do(Edit.one(say("window.change-the-units"), ("units",), units)):
            self._settings.units = units

    def refresh(self) -> None:
        """Tick what is chosen; grid units need a grid."""
        vehicle = self._session.vehicle
        for (field, key), action in self._actions.items():
            action.setChecked(getattr(vehicle.units, field) == key)
        self._actions["length", "u"].setEnabled(vehicle.grid_mm is not None)

    def words(self) -> str:
        """Say which unit of length is chosen."""
        units = self._session.vehicle.units
        names = {"mm": "mm", "in": "inches", "u": "grid units"}
        return say(
            "window.units-2",
            length=names.get(units.length) or say("window.inches-to-1", length=units.length[2:]),
        )

    def open_above(self, button: QPushButton) -> None:
        """Open over a button of the status line."""
        self.refresh()
        corner = button.mapToGlobal(QPoint(0, 0))
        self.popup(corner - QPoint(0, self.sizeHint().height()))
