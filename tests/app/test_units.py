"""The quick switch of units: everything in view follows, and what is typed is read so."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QLineEdit, QTableWidget
from pytestqt.qtbot import QtBot

from examples import example_vehicle
from mild_badger.app.shown import Painter, shown, units_in_force
from mild_badger.app.tab_list import TABS
from mild_badger.app.window import Window
from mild_badger.core.figures import MARK
from mild_badger.core.vehicle.units import INCH, UnitSettings
from mild_badger.files.vehicle_file import open_vehicle, save

OpenWindow = Callable[..., Window]
RATES = {"Spring rate, force lost per mm of wear"}
"""Force by length has no unit of its own to choose."""


def choose(window: Window, words: str) -> None:
    """Take an entry of the units menu, as a press on it does."""
    menus = [window.units, *(a.menu() for a in window.units.actions() if a.menu() is not None)]
    action = next(a for menu in menus if menu for a in menu.actions() if a.text() == words)
    action.trigger()


def field(window: Window, name: str) -> QLineEdit:
    lines = window.findChildren(QLineEdit)
    return next(line for line in lines if line.accessibleName() == name and line.isVisible())


def type_into(qtbot: QtBot, line: QLineEdit, text: str) -> None:
    line.setFocus()
    line.selectAll()
    qtbot.keyClicks(line, text)
    qtbot.keyClick(line, Qt.Key.Key_Return)


def test_inches_are_shown_typed_and_kept_as_fractions(
    qtbot: QtBot, open_window: OpenWindow, tmp_path: Path
) -> None:
    window = open_window(example_vehicle("larkholm-timber-tractor"))
    assert field(window, "Wheel ø, mm").text() == "120"
    choose(window, "Inches, decimals")
    line = field(window, "Wheel ø, in")
    assert line.text() == "4.724"
    assert "inches" in window.units_button.text()
    type_into(qtbot, line, "3/8")  # in an inch field a fraction is no riddle
    assert window.session.vehicle.wheels.diameter_mm == pytest.approx(9.525)
    assert line.text() == "3/8"
    type_into(qtbot, line, "60 mm")
    assert window.session.vehicle.wheels.diameter_mm == 60
    assert window.session.undo_stack.undoText() == "Set wheel ø, in"
    type_into(qtbot, line, "5 5/8")
    file = tmp_path / "t.badger.json"
    save(window.session.vehicle, file)
    again = open_window(open_vehicle(file)[0])
    assert field(again, "Wheel ø, in").text() == "5 5/8"


def test_the_switch_is_one_step_to_undo_and_is_remembered_for_new_ones(
    open_window: OpenWindow,
) -> None:
    window = open_window(example_vehicle("larkholm-timber-tractor"))
    window.show_page("Layout", "stack")
    choose(window, "All inch and pound")
    assert window.session.vehicle.units == INCH
    assert window.tab.page_key == "stack"
    window.session.undo_stack.undo()
    assert window.session.vehicle.units == UnitSettings()
    window.show_tab("Vehicle")
    assert field(window, "Wheel ø, mm").text() == "120"
    window.session.undo_stack.setClean()
    window.files.new("wood-shop")
    assert window.session.vehicle.units == INCH
    assert units_in_force().length == "in"


def test_an_inch_kit_begins_in_inches_and_a_grid_unit_needs_a_grid(
    open_window: OpenWindow,
) -> None:
    window = open_window()
    window.units.refresh()
    assert window.units._actions["length", "u"].isEnabled()
    choose(window, "Grid units")
    wheel = field(window, "Wheel ø, u").text()
    assert float(wheel) == pytest.approx(window.session.vehicle.wheels.diameter_mm / 8)
    window.session.undo_stack.setClean()
    window._settings._data.clear()
    window.files.new("wood-shop-inch")
    assert window.session.vehicle.units == INCH
    window.units.refresh()
    assert not window.units._actions["length", "u"].isEnabled()


@pytest.mark.parametrize("demo", ["larkholm-crane-truck"])
def test_no_page_shows_millimetres_beside_inches(
    demo: str, open_window: OpenWindow, monkeypatch: pytest.MonkeyPatch
) -> None:
    drawn: list[str] = []

    def draw(painter: Painter, *args: Any) -> Any:
        written = [shown(arg) if isinstance(arg, str) else arg for arg in args]
        drawn.extend(arg for arg in written if isinstance(arg, str))
        return super(Painter, painter).drawText(*written)  # type: ignore[arg-type]

    monkeypatch.setattr(Painter, "drawText", draw)
    vehicle = example_vehicle(demo)
    window = open_window(vehicle.model_copy(update={"units": INCH}))
    window.session.engage(vehicle.real.gears[0].id)
    wrong = []
    for tab in TABS:
        window.show_tab(tab)
        keys = getattr(window.tab, "keys", [""])
        for page in keys:
            window.show_page(tab, page)
            drawn.clear()
            window.grab()
            for words in [*texts(window), *drawn]:
                assert MARK not in words
                if words in RATES:
                    continue
                if " mm" in words or "N·mm" in words or "km/h" in words:
                    wrong.append(f"{tab}/{page}: {words[:90]}")
    assert not wrong, "\n".join(dict.fromkeys(wrong))


def texts(window: Window) -> list[str]:
    """All words in view: labels, cells, headings of columns, tips."""
    found = [label.text() for label in window.findChildren(QLabel) if label.isVisible()]
    for table in window.findChildren(QTableWidget):
        if not table.isVisible():
            continue
        for column in range(table.columnCount()):
            head = table.horizontalHeaderItem(column)
            found.append(head.text() if head is not None else "")
            for row in range(table.rowCount()):
                item = table.item(row, column)
                found.append(item.text() if item is not None else "")
    return found
