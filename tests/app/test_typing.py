"""Typing that lands: tables type as a spreadsheet does, fields show what is in the document."""

from collections.abc import Callable
from typing import Any

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QAbstractItemView, QApplication, QComboBox, QLineEdit, QWidget
from pytestqt.qtbot import QtBot

from examples import example_vehicle
from hands import said, type_over
from mild_badger.app.drawing.field_note import note_of
from mild_badger.app.drawing.records import RecordTable
from mild_badger.app.tab_list import TABS
from mild_badger.app.tabs.vehicle.tab import VehicleTab
from mild_badger.app.tabs.workshop.tab import WorkshopTab
from mild_badger.app.window import Window
from mild_badger.core.kit.catalogue import shipped_kit
from mild_badger.core.vehicle.blank import blank_vehicle
from mild_badger.core.vehicle.demo import DEMOS
from mild_badger.core.vehicle.edit.change import Edit
from telling import tells

OpenWindow = Callable[..., Window]
Key = Qt.Key
CONTROL = Qt.KeyboardModifier.ControlModifier
FIRST = next(iter(DEMOS))


def table_of(window: Window) -> RecordTable[Any]:
    tab = window.tab_of("Vehicle")
    assert isinstance(tab, VehicleTab)
    return tab.table


def keys(qtbot: QtBot, text: str) -> None:
    """Press keys wherever the keyboard is; return and tab are theirs."""
    named = {
        "\r": Key.Key_Return,
        "\t": Key.Key_Tab,
        "\x1b": Key.Key_Escape,
        "\x7f": Key.Key_Delete,
    }
    for letter in text:
        now = QApplication.focusWidget()
        assert now is not None, repr(letter)
        if letter in named:
            qtbot.keyClick(now, named[letter])
        else:
            qtbot.keyClicks(now, letter)


def ratios(window: Window) -> list[float]:
    return [gear.ratio for gear in window.session.vehicle.real.gears]


def keys_act(window: Window) -> bool:
    return window.gears.keys_act


def start_at(window: Window, row: int, column: int) -> RecordTable[Any]:
    table = table_of(window)
    window.show_tab("Vehicle")
    window.activateWindow()
    QApplication.processEvents()
    table.setFocus()
    table.setCurrentCell(row, column)
    return table


def test_a_ratio_typed_on_a_cell_is_the_ratio(qtbot: QtBot, window: Window) -> None:
    before = window.session.situation.gear
    start_at(window, 2, 1)
    keys(qtbot, "2.45\r")
    assert ratios(window)[2] == 2.45
    assert window.session.situation.gear == before  # no key engaged a gear
    assert (table_of(window).currentRow(), table_of(window).currentColumn()) == (3, 1)
    keys(qtbot, "r1\r")  # no gear R either: that is a text, and none that can be read
    assert window.session.situation.gear == before
    assert tells(said(window), "targets.is-not-a-number-type-one-such-as-3-45")


def test_eight_ratios_typed_down_the_column_of_a_new_vehicle(
    qtbot: QtBot, open_window: OpenWindow
) -> None:
    window = open_window(blank_vehicle(shipped_kit("brick-grid")))
    had = len(window.session.vehicle.real.gears)
    start_at(window, 0, 1)
    wanted = (11.5, 8.1, 5.9, 4.25, 3.02, 2.2, 1.55, 1.0)
    keys(qtbot, "".join(f"{ratio:g}\r" for ratio in wanted))
    gears = window.session.vehicle.real.gears
    assert had < len(wanted)
    assert [g.ratio for g in gears if not g.reverse] == list(wanted)
    keys(qtbot, "-10.5\r")
    last = window.session.vehicle.real.gears[-2:]
    assert [(g.ratio, g.reverse) for g in last] == [(10.5, True), (gears[-1].ratio, True)]
    assert len(window.session.vehicle.real.gears) == 10


def test_tab_moves_along_what_can_be_changed_and_escape_restores(
    qtbot: QtBot, window: Window
) -> None:
    table = start_at(window, 0, 0)
    keys(qtbot, "first\t")
    assert window.session.vehicle.real.gears[0].name == "first"
    assert table.currentColumn() == 1
    keys(qtbot, "5\t\t")  # the reverse mark, then the speed; the step cannot be typed
    assert table.currentColumn() == 4
    before = ratios(window)
    keys(qtbot, "99\x1b")
    assert ratios(window) == before
    assert keys_act(window) is False
    keys(qtbot, "\x1b")
    assert keys_act(window)
    qtbot.keyClick(window.centralWidget(), Key.Key_3)
    assert window.session.situation.gear == "3"


def test_f2_changes_in_place(qtbot: QtBot, window: Window) -> None:
    table = start_at(window, 1, 1)
    shown = table.text_at(1, 1)
    qtbot.keyClick(table, Key.Key_F2)
    keys(qtbot, "\r")
    assert table.text_at(1, 1) == shown
    assert not window.session.modified
    table.setCurrentCell(1, 1)
    qtbot.keyClick(table, Key.Key_F2)
    editor = QApplication.focusWidget()
    assert isinstance(editor, QLineEdit)
    editor.setCursorPosition(len(editor.text()))
    keys(qtbot, "5\r")
    assert f"{ratios(window)[1]:.4f}" == f"{shown}5"


def test_a_refused_value_is_said_at_the_cell_and_the_document_stays(
    qtbot: QtBot, window: Window
) -> None:
    table = start_at(window, 1, 1)
    shown, before = table.text_at(1, 1), window.session.vehicle
    keys(qtbot, "nonsense\r")
    note = note_of(window)
    assert note is not None
    assert note.isVisible()
    assert not window.notice.isVisible()  # nothing pushes the page about
    editor = QApplication.focusWidget()
    assert isinstance(editor, QLineEdit)
    assert editor.text() == "nonsense"  # to be mended
    keys(qtbot, "\x1b")
    assert not note.isVisible()
    assert window.session.vehicle == before
    assert table.text_at(1, 1) == shown


def clip() -> str:
    clipboard = QGuiApplication.clipboard()
    assert clipboard is not None
    return clipboard.text()


def put(text: str) -> None:
    clipboard = QGuiApplication.clipboard()
    assert clipboard is not None
    clipboard.setText(text)


def test_a_whole_table_goes_to_a_spreadsheet_and_back(qtbot: QtBot, window: Window) -> None:
    table = start_at(window, 0, 0)
    table.selectAll()
    qtbot.keyClick(table, Key.Key_C, CONTROL)
    rows = [line.split("\t") for line in clip().splitlines()]
    assert [row[0] for row in rows] == [g.name for g in window.session.vehicle.real.gears]
    assert rows[-1][2] == "yes"
    qtbot.keyClick(table, Key.Key_V, CONTROL)
    assert not window.session.modified  # the same
    rows[0][1], rows[1][0] = "7.25", "second"
    put("\n".join("\t".join(row) for row in rows) + "\n")
    table.setCurrentCell(0, 0)
    qtbot.keyClick(table, Key.Key_V, CONTROL)
    gears = window.session.vehicle.real.gears
    assert (gears[0].ratio, gears[1].name) == (7.25, "second")
    window.session.undo_stack.undo()  # one step
    assert window.session.vehicle == example_vehicle()


def test_a_block_is_pasted_whole_or_not_at_all(qtbot: QtBot, window: Window) -> None:
    table = start_at(window, 0, 1)
    put("7.1\n5.2\nbad\n")
    qtbot.keyClick(table, Key.Key_V, CONTROL)
    assert window.session.vehicle == example_vehicle()
    assert tells(said(window), "drawing.row", row="3", title="ratio")
    put("9\n8\n7\n6\n5\n4\n-3.3\n2\n")  # one row more than there are
    qtbot.keyClick(table, Key.Key_V, CONTROL)
    gears = window.session.vehicle.real.gears
    assert [g.ratio for g in gears if g.reverse] == [3.3]
    assert sorted(ratios(window)) == [2, 3.3, 4, 5, 6, 7, 8, 9]


def test_delete_empties_where_empty_is_allowed(qtbot: QtBot, window: Window) -> None:
    window.show_tab("Workshop")
    tab = window.tab
    assert isinstance(tab, WorkshopTab)
    tab.show_page("parts")
    table = tab.parts_page.table
    table.setFocus()
    table.setCurrentCell(0, 3)
    keys(qtbot, "1.25\r")
    assert table.text_at(0, 3) == "1.25"
    table.setCurrentCell(0, 3)
    keys(qtbot, "\x7f")
    assert table.text_at(0, 3) == ""
    start = start_at(window, 0, 1)
    window.show_tab("Vehicle")
    start.setFocus()
    keys(qtbot, "\x7f")
    assert tells(said(window), "vehicle.cannot-be-empty")


def test_gears_are_moved_up_and_down_the_list(qtbot: QtBot, window: Window) -> None:
    table = start_at(window, 2, 1)
    qtbot.keyClick(table, Key.Key_Up, Qt.KeyboardModifier.AltModifier)
    assert [g.name for g in window.session.vehicle.real.gears][:3] == ["1", "3", "2"]
    assert table.currentRow() == 1
    qtbot.keyClick(table, Key.Key_Down, Qt.KeyboardModifier.AltModifier)
    assert window.session.vehicle.real.gears == example_vehicle().real.gears


def typed_into(window: Window) -> list[QWidget]:
    kinds = (QAbstractItemView, QLineEdit, QComboBox)
    return [
        w
        for kind in kinds
        for w in window.tab.findChildren(kind)
        if w.isVisible() and w.isEnabled() and w.focusPolicy() & Qt.FocusPolicy.TabFocus
    ]


@pytest.mark.parametrize("title", list(TABS))
def test_no_key_engages_a_gear_from_anything_that_takes_text(
    qtbot: QtBot, open_window: OpenWindow, title: str
) -> None:
    window = open_window(example_vehicle("larkholm-crane-truck" if title == "Machine" else FIRST))
    window.show_tab(title)
    widgets = typed_into(window)
    assert widgets
    for widget in widgets:
        if not widget.isVisible():
            continue
        widget.setFocus()
        if QApplication.focusWidget() is not widget:
            continue
        assert window.gears.keys_act is False
        for key in (Key.Key_2, Key.Key_R, Key.Key_Plus):
            qtbot.keyClick(widget, key)
        assert window.session.situation.gear is None, widget.accessibleName()
        for _ in range(3):
            now = QApplication.focusWidget()
            if now is not None:
                qtbot.keyClick(now, Key.Key_Escape)
        popup = QApplication.activePopupWidget()
        if popup is not None:
            popup.close()


def test_a_field_goes_back_to_the_document_when_it_is_left(qtbot: QtBot, window: Window) -> None:
    tab = window.tab_of("Vehicle")
    assert isinstance(tab, VehicleTab)
    scale, wheel = tab.fields["scale", "denominator"], tab.fields["wheels", "diameter_mm"]
    type_over(qtbot, scale, "many")
    assert scale.text() == "many"
    wheel.setFocus()
    assert scale.text() == "13"
    assert tells(
        said(window), "targets.is-not-a-number-type-one-such-as-3-45"
    )  # it is still said which value was not taken
    type_over(qtbot, wheel, "64")
    assert said(window) == ""
    scale.setFocus()
    scale.end(False)
    qtbot.keyClicks(scale, "7")
    wheel.setFocus()  # leaving sends, as Enter does
    assert window.session.vehicle.scale.denominator == 137


@pytest.mark.parametrize("how", ["new", "undo", "open"])
def test_new_open_and_undo_clear_every_draft_and_message(
    qtbot: QtBot, window: Window, how: str
) -> None:
    tab = window.tab_of("Vehicle")
    assert isinstance(tab, VehicleTab)
    window.session.do(Edit.one("x", ("scale", "denominator"), 12))
    scale = tab.fields["scale", "denominator"]
    type_over(qtbot, scale, "many")
    window.complain("Something about this page.")
    if how == "undo":
        window.session.undo_stack.undo()
    else:
        window.session.undo_stack.setClean()
        window.files.new() if how == "new" else window.files.open_demo(list(DEMOS)[1])
    assert scale.text() == f"{window.session.vehicle.scale.denominator:g}"
    assert scale.property("refused") is False
    note = note_of(window)
    assert note is not None
    assert not note.isVisible()
    assert not window.notice.isVisible()


def test_messages_do_not_move_the_page_and_go_with_it(qtbot: QtBot, window: Window) -> None:
    window.show_tab("Vehicle")
    before = window.stack.geometry()
    window.complain("A sentence of some length about this page. " * 4)
    QApplication.processEvents()
    assert window.stack.geometry() == before
    assert window.notice.isVisible()
    window.show_tab("Ratios")
    assert not window.notice.isVisible()
    window.complain("Another.")
    window.session.do(Edit.one("x", ("name",), "Other"))
    assert not window.notice.isVisible()


def field_called(window: Window, name: str) -> QLineEdit:
    """A line of the tab in view by what it is called."""
    lines = window.findChildren(QLineEdit)
    return next(line for line in lines if line.accessibleName() == name and line.isVisible())


def test_a_length_is_typed_in_any_unit_and_a_bare_fraction_is_asked_about(
    qtbot: QtBot, window: Window
) -> None:
    window.show_tab("Vehicle")
    line = field_called(window, "Wheel ø, mm")
    for text, mm in (("3 1/2 in", 88.9), ("6 cm", 60.0), ('2"', 50.8), ("7.5 u", 60.0)):
        type_over(qtbot, line, text)
        assert window.session.vehicle.wheels.diameter_mm == pytest.approx(mm)
    before = window.session.vehicle
    type_over(qtbot, line, "3/8")
    assert window.session.vehicle == before
    note = note_of(window)
    assert note is not None
    assert "3/8 in" in note.text()
