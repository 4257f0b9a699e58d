"""The tab Road driven by mouse and keys: pull, losses, motors, test drive, versions."""

from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFileDialog, QWidget
from pytestqt.qtbot import QtBot

from examples import example_vehicle
from hands import said, type_cell, type_over
from mild_badger.app.drawing.fields import DocumentLineEdit
from mild_badger.app.tabs.road.tab import RoadTab
from mild_badger.app.window import Window
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.change import Edit
from telling import tells

OpenWindow = Callable[..., Window]
LEFT = Qt.MouseButton.LeftButton
pytestmark = pytest.mark.qt_log_ignore("propagateSizeHints", "This plugin does not support")


def road_tab(qtbot: QtBot, window: Window, page: int) -> RoadTab:
    window.show_tab("Road")
    tab = window.tab
    assert isinstance(tab, RoadTab)
    qtbot.mouseClick(tab.pages, LEFT, pos=tab.pages.tabRect(page).center())
    return tab


def press(qtbot: QtBot, button: QWidget) -> None:
    qtbot.mouseClick(button, LEFT)


def test_hills_follow_mass_and_grip(qtbot: QtBot, window: Window) -> None:
    page = road_tab(qtbot, window, 1).pull_page
    assert page.table.rowCount() == 7
    assert page.table.text_at(0, 9) == say("performance.the-tyres-grip")
    assert page.table.text_at(0, 8) == "39"  # 0.7 × 0.6 of the weight, less 3 % rolling
    page.view.grab()
    entry = page.fields.entries["grip"]
    assert isinstance(entry, DocumentLineEdit)
    type_over(qtbot, entry, "2")
    mass = page.fields.entries["mass_kg"]
    assert isinstance(mass, DocumentLineEdit)
    type_over(qtbot, mass, "9")
    assert page.table.text_at(5, 9) == say("tab-machine.the-motor")
    assert float(page.table.text_at(5, 8)) < 39
    assert "gear 6: " in page.view.accessibleDescription()


def test_losses_are_estimated_and_fitted(qtbot: QtBot, window: Window) -> None:
    page = road_tab(qtbot, window, 2).losses_page
    assert page.view.accessibleDescription() == ""
    page.view.grab()
    window.session.engage("4")
    assert page.view.accessibleDescription().startswith("idle meshes: ")
    page.view.grab()
    assert page.lines.rowCount() > 5
    page.kind.setCurrentText("oiled")
    press(qtbot, page.estimate)
    assert window.session.vehicle.losses.lubrication == "oiled"
    assert window.session.vehicle.kit.mesh_loss == 0.04
    type_over(qtbot, page.measured, "400")
    press(qtbot, page.fit)
    factor = window.session.vehicle.losses.drag_factor
    assert factor != 1
    type_over(qtbot, page.measured, "90000")
    press(qtbot, page.fit)
    assert tells(said(window), "performance.rpm-cannot-be-measured-without-any-drag-the")
    assert window.session.vehicle.losses.drag_factor == factor


def test_motors_are_listed_tried_and_used(qtbot: QtBot, window: Window) -> None:
    tab = road_tab(qtbot, window, 3)
    page = tab.motors_page
    press(qtbot, page.ship)
    assert page.table.rowCount() == 6
    assert page.table.text_at(0, 3) == "engage a gear"
    window.session.engage("4")
    assert {page.table.text_at(row, 3) for row in range(6)} == {"yes", "no"}
    type_over(qtbot, page.speed, "0.05")
    assert {page.table.text_at(row, 3) for row in range(6)} == {"yes"}
    type_over(qtbot, page.speed, "fast")
    assert "fast" in page.words.text()  # said there, over what was tried last
    assert {page.table.text_at(row, 3) for row in range(6)} == {"yes"}
    type_over(qtbot, page.speed, "0.05")
    assert "fast" not in page.words.text()
    type_cell(qtbot, page.table, 0, 2, "55")
    assert window.session.vehicle.motors[0].stall_torque_n_mm == 55
    type_cell(qtbot, page.table, 0, 2, "none")
    assert page.table.text_at(0, 2) == "55"
    page.table.setCurrentCell(2, 0)
    press(qtbot, page.use)
    assert window.session.vehicle.motor.name == "Vale large"
    assert tells(
        tab.facts.text(),
        "tab-road.at-the-boxs-input-rpm-without-load-at",
        shaft_stall_n_mm="320 N·mm",
    )
    limit = page.fields.entries["limit_a"]
    assert isinstance(limit, DocumentLineEdit)
    type_over(qtbot, limit, "1.875")  # half of the way from 0.15 to 3.6 A
    assert tells(
        tab.facts.text(),
        "tab-road.at-the-boxs-input-rpm-without-load-at",
        shaft_stall_n_mm="160 N·mm",
    )
    press(qtbot, page.add)
    page.table.setCurrentCell(6, 0)
    press(qtbot, page.remove)
    assert page.table.rowCount() == 6
    assert tells(page.words.text(), "tab-road.now-the-weakest-place-is")


def test_a_course_is_driven_replayed_and_written(
    qtbot: QtBot, window: Window, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    page = road_tab(qtbot, window, 4).drive_page
    assert page.now.text() == "Not driven yet"
    press(qtbot, page.save)
    assert tells(said(window), "tab-road.drive-first-then-there-is-something-to-write")
    press(qtbot, page.start)
    qtbot.waitUntil(lambda: len(page.view.rows) > 20, timeout=5000)
    before = next(row.gear for row in reversed(page.view.rows) if row.gear != "–")
    press(qtbot, page.up)  # from now on by hand
    assert not page.by_rpm.isChecked()
    qtbot.waitUntil(lambda: page.view.rows[-1].gear not in ("–", before), timeout=8000)
    assert int(page.view.rows[-1].gear) > int(before)
    window.session.engage("5")  # as the key 5 does
    qtbot.waitUntil(lambda: page.view.rows[-1].gear == "5", timeout=8000)
    press(qtbot, page.start)
    held = len(page.view.rows)
    qtbot.wait(120)
    assert len(page.view.rows) == held  # it stands still
    press(qtbot, page.whole)
    assert page.view.rows[-1].distance_m >= 15
    page.view.grab()
    page.replay.setValue(0)
    assert page.now.text().startswith("0.01 s, 0.00 m")
    target = tmp_path / "drive.csv"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(target), ""))
    press(qtbot, page.save)
    assert target.read_text().startswith("time_s,distance_m,speed_m_s")
    assert len(target.read_text().splitlines()) == len(page.view.rows) + 1
    type_cell(qtbot, page.course, 1, 2, "30")
    assert window.session.vehicle.course[1].value == 30
    assert page.view.rows == []  # another course is another drive
    type_cell(qtbot, page.course, 0, 0, "turn")
    assert window.session.vehicle.course[0].kind == "turn"
    type_cell(qtbot, page.course, 0, 0, "jump")
    assert page.course.text_at(0, 0) == "turn"
    press(qtbot, page.add)
    page.course.setCurrentCell(5, 0)
    press(qtbot, page.remove)
    assert len(window.session.vehicle.course) == 5
    press(qtbot, page.start)
    window.show_tab("Ratios")  # out of view it halts
    assert not page._timer.isActive()


def test_versions_are_kept_and_set_side_by_side(qtbot: QtBot, window: Window) -> None:
    page = road_tab(qtbot, window, 5).versions_page
    assert tells(page.words.text(), "tab-road.nothing-is-kept-yet-give-this-state-a-name")
    press(qtbot, page.keep)
    assert "needs a name" in said(window)
    type_over(qtbot, page.name, "as built")
    type_over(qtbot, page.note, "before the larger wheels")
    press(qtbot, page.keep)
    assert page.kept.text_at(0, 2) == "before the larger wheels"
    window.show_tab("Vehicle")
    window.session.do(Edit.one("Larger wheels", ("wheels", "diameter_mm"), 81.6))
    road_tab(qtbot, window, 5)
    rows = {
        page.figures.text_at(r, 0): [page.figures.text_at(r, c) for c in (1, 2, 3)]
        for r in range(page.figures.rowCount())
    }
    assert rows["ground clearance"] == ["15 mm", "21.8 mm", "+45.3 %"]
    assert rows["ratio, gear 1"][2] == ""
    assert page.tree.text_at(0, 0) == "wheels › diameter mm"
    page.kept.setCurrentCell(0, 0)
    press(qtbot, page.back)
    assert window.session.vehicle.wheels.diameter_mm == 68
    press(qtbot, page.drop)
    assert window.session.vehicle.versions == ()
    window.session.undo_stack.undo()
    assert len(window.session.vehicle.versions) == 1


def test_every_page_fits_a_small_screen(qtbot: QtBot, open_window: OpenWindow) -> None:
    window = open_window(example_vehicle("larkholm-street-sweeper"))
    tab = road_tab(qtbot, window, 1)
    window.resize(1100, 700)
    for key in tab.keys:
        tab.show_page(key)
        least = tab.minimumSizeHint()
        assert (least.width() <= 676, least.height() <= 484) == (True, True), key
    tab.show_page("pull")
    assert tab.pull_page.plan.isVisible()
    press(qtbot, tab.pull_page.plan)
    assert window.session.vehicle.running is not None
