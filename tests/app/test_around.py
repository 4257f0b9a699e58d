"""The page Around of the tab Layout: motor and bodies typed, the whole vehicle seen and written."""

from collections.abc import Callable
from pathlib import Path

import pytest
import trimesh
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFileDialog
from pytestqt.qtbot import QtBot

from examples import example_vehicle
from hands import type_over
from mild_badger.app.tabs.layout.around_page import AroundPage
from mild_badger.app.tabs.layout.tab import LayoutTab
from mild_badger.app.window import Window
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.equipment import EquipmentPlace

OpenWindow = Callable[..., Window]
LEFT = Qt.MouseButton.LeftButton
pytestmark = pytest.mark.qt_log_ignore("propagateSizeHints", "This plugin does not support")


def around_page(qtbot: QtBot, window: Window) -> AroundPage:
    window.show_tab("Layout")
    tab = window.tab
    assert isinstance(tab, LayoutTab)
    place = tab.keys.index("around")
    qtbot.mouseClick(tab.pages, LEFT, pos=tab.pages.tabRect(place).center())
    return tab.around_page


def choose(page: AroundPage, number: int) -> None:
    menu = page.add.menu()
    assert menu is not None
    menu.actions()[number].trigger()


def test_bodies_are_added_typed_and_removed(qtbot: QtBot, open_window: OpenWindow) -> None:
    window = open_window(example_vehicle("larkholm-timber-tractor"))
    page, session = around_page(qtbot, window), window.session
    assert any(part.kind == "wheel" for part in page.end.parts)
    assert not any(part.kind == "motor" for part in page.end.parts)
    type_over(qtbot, page.diameter, "24")
    type_over(qtbot, page.length, "4 cm")
    assert (session.vehicle.motor.diameter_mm, session.vehicle.motor.length_mm) == (24.0, 40.0)
    assert any(part.kind == "motor" for part in page.side.parts)
    choose(page, 0)
    assert [item.kind for item in session.vehicle.equipment] == ["battery"]
    assert page.table.send(0, 3, "60, 2 cm, 1 in")
    item = session.vehicle.equipment[0]
    assert (item.wide_mm, item.high_mm, item.long_mm) == (60.0, 20.0, 25.4)
    assert page.table.send(0, 4, "0, 0, 40")
    place = session.vehicle.equipment[0].place
    assert place == EquipmentPlace(x_mm=0.0, y_mm=0.0, along_mm=40.0)
    assert "body-touches" in [card.finding.code for card in window.drawer.cards]
    assert not page.table.send(0, 3, "60, 20")  # three lengths are wanted
    assert not page.table.send(0, 2, "ball")
    assert page.table.send(0, 2, "cylinder along")
    assert session.vehicle.equipment[0].shape == "cylinder along"
    page.table.setCurrentCell(0, 0)
    qtbot.mouseClick(page.less, LEFT)
    assert not session.vehicle.equipment
    assert page.table.send(0, 0, "smoke machine")  # typing in the blank line adds one
    assert [(body.name, body.kind) for body in session.vehicle.equipment] == [
        ("smoke machine", "other")
    ]


def test_the_whole_vehicle_is_saved(
    qtbot: QtBot, open_window: OpenWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = open_window(example_vehicle("larkholm-sawmill-trolley"))
    page = around_page(qtbot, window)
    out = tmp_path / "vehicle.glb"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(out), ""))
    qtbot.mouseClick(page.model, LEFT)
    qtbot.waitUntil(out.exists, timeout=40_000)
    window.worker.wait()
    names = set(trimesh.load(out).graph.nodes_geometry)
    assert {"lever arm 1", "wheel left", "fulcrum"} <= names


def test_a_lever_drive_turns_on_the_page_proof(qtbot: QtBot, open_window: OpenWindow) -> None:
    window = open_window(example_vehicle("larkholm-sawmill-trolley"))
    window.show_tab("Layout")
    tab = window.tab
    assert isinstance(tab, LayoutTab)
    place = tab.keys.index("proof")
    qtbot.mouseClick(tab.pages, LEFT, pos=tab.pages.tabRect(place).center())
    page = tab.proof_page
    assert page.levers.isVisible()
    assert not page.side.isVisible()
    before = {str(part.id): part.turn_rad for part in page.end_parts.parts}
    page.throws.setValue(90)
    after = {str(part.id): part.turn_rad for part in page.end_parts.parts}
    assert before["lever arm 1"] != after["lever arm 1"]
    assert page.prove_now.isEnabled()


def test_teeth_that_come_to_a_point_are_told_in_place_of_the_picture(
    qtbot: QtBot, open_window: OpenWindow
) -> None:
    """At 35° no such tooth can be cut: the window goes on, and says so where parts would be."""
    window = open_window(example_vehicle("larkholm-sawmill-trolley"))
    page, session = around_page(qtbot, window), window.session
    choose(page, 0)
    assert page.end.parts
    kit = session.vehicle.kit.model_copy(update={"pressure_angle_deg": 35.0})
    assert session.do(Edit.one("steep", ("kit",), kit))
    assert not page.end.parts
    assert "17" in page.end.empty
    assert "bodies-not-tried" in [card.finding.code for card in window.drawer.cards]
    tab = window.tab
    assert isinstance(tab, LayoutTab)
    tab.show_page("proof")
    assert not tab.proof_page.end_parts.parts
    assert tab.proof_page.end_parts.empty == page.end.empty
    session.undo_stack.undo()
    assert tab.proof_page.end_parts.parts
