"""The tab Machine: a display engine planned, arranged, geared, and a glued crank looked over."""

from collections.abc import Callable

from PyQt6.QtCore import QPoint, Qt
from pytestqt.qtbot import QtBot

from examples import example_vehicle
from hands import open_machine, said, type_cell, type_over
from mild_badger.app.drawing.fields import DocumentLineEdit
from mild_badger.app.tabs.ratios.tab import RatiosTab
from mild_badger.app.window import Window
from mild_badger.core.figures import plain
from mild_badger.core.mechanisms.lever.model import LeverDrive
from mild_badger.core.message import say
from mild_badger.core.vehicle.boxes import LeverBox
from mild_badger.core.vehicle.model import Vehicle
from telling import tells

LEFT = Qt.MouseButton.LeftButton


def test_a_crank_is_planned_geared_and_its_wrong_throw_named(qtbot: QtBot, window: Window) -> None:
    window.session.engage("3")
    page = open_machine(window, "engine").page("engine")
    assert "Press “Add " in page.view.accessibleDescription()
    page.grab()
    qtbot.mouseClick(page.plan, LEFT)
    assert tells(page.words.text(), "display.the-order-fires-every", intervals_deg="180")
    assert tells(page.words.text(), "tab-machine.the-crank-turns-rpm", rpm="3200")
    type_over(qtbot, page.lines["pairs"], "8:40 · 8:24")
    assert tells(
        page.words.text(), "tab-machine.the-crank-turns-rpm", rpm="213", way="as the motor"
    )
    page.presets.setCurrentIndex(page.presets.findData("V8, cross-plane"))
    page.presets.activated.emit(page.presets.currentIndex())
    assert tells(
        page.words.text(),
        "display.the-order-fires-every",
        named="1-8-4-3-6-5-7-2",
        intervals_deg="90",
    )
    page.turning.slider.setValue(130)
    page.grab()
    type_over(qtbot, page.lines["order"], "1-2-3")
    assert tells(said(window), "display.the-firing-order-must-name-each-of-the-2", cylinders="8")
    qtbot.keyClick(page.lines["order"], Qt.Key.Key_Escape)
    type_over(qtbot, page.lines["throws"], "0, 180, 180, 0")
    type_over(qtbot, page.lines["made"], "10, 190, 100, 10")
    assert tells(
        page.words.text(),
        "display.throw-stands-at-instead-of-out-cylinder",
        number="3",
        glued="90",
        meant="180",
        off_2="90",
    )
    assert any(f.code == "wrong-throw" for f in window.session.evaluation.findings)
    page.grab()
    before = page.view.angle
    qtbot.mouseClick(page.turning.run, LEFT)
    qtbot.waitUntil(lambda: page.view.angle != before, timeout=3000)
    qtbot.mouseClick(page.turning.run, LEFT)
    assert page.turning.run.text() == "Turn"
    qtbot.mouseClick(page.drop, LEFT)
    assert window.session.vehicle.display_engine is None
    assert page.words.text() == ""


def test_a_lever_drive_is_planned_and_its_fulcrum_dragged(qtbot: QtBot, window: Window) -> None:
    page = open_machine(window, "lever").page("lever")
    page.grab()
    assert "Press “Add " in page.view.accessibleDescription()
    qtbot.mouseClick(page.plan, LEFT)
    assert tells(
        page.words.text(), "drivetrain.the-wheel-turns-for-one-of-the-throws-to", mean="0.2292"
    )
    assert tells(
        page.words.text(),
        "drivetrain.with-1-to-even-ratchets-the-torque-peaks-at",
        enough="3",
        word="are",
    )
    page.view.grab()
    grip = page.view.fulcrum_at().toPoint() + QPoint(0, 10)
    qtbot.mousePress(page.view, LEFT, pos=grip)
    qtbot.mouseMove(page.view, grip + QPoint(900, 0))
    assert tells(
        page.view.words(),
        "drivetrain.the-wheel-turns-for-one-of-the-throws-to",
        mean="0.0833",
        low="0.0833",
    )
    assert window.session.vehicle.lever_drive == LeverDrive()  # not before it is let go
    page.view.grab()
    qtbot.mouseRelease(page.view, LEFT, pos=grip + QPoint(900, 0))
    drive = window.session.vehicle.lever_drive
    assert drive is not None
    assert drive.fulcrum_mm == 65.0
    assert tells(
        page.words.text(), "drivetrain.the-wheel-turns-for-one-of-the-throws-to", mean="0.0833"
    )
    ratchets, low = page.fields.entries["ratchets"], page.fields.entries["stop_low_mm"]
    assert isinstance(ratchets, DocumentLineEdit)
    assert isinstance(low, DocumentLineEdit)
    type_over(qtbot, ratchets, "2")
    type_over(qtbot, page.phases, "0, 90")
    assert any(f.code == "uneven-phases" for f in window.session.evaluation.findings)
    type_over(qtbot, page.phases, "0, 90, 180")
    assert tells(
        said(window),
        "lever.ratchets-take-as-many-phases-are-given",
        ratchets="2",
        count_of_phases_deg="3",
    )
    qtbot.keyClick(page.phases, Qt.Key.Key_Escape)
    type_over(qtbot, page.pairs, "8:40")
    assert window.session.vehicle.lever_drive is not None
    assert window.session.vehicle.lever_drive.pairs[0].driven == 40
    type_over(qtbot, low, "5")
    found = next(f for f in window.session.evaluation.findings if f.code == "lever-jams")
    assert tells(plain(found.text), "lever.the-drive-runs-with-the-fulcrum-beyond", jammed="8.0 mm")
    before = page.view.angle
    qtbot.mouseClick(page.turning.run, LEFT)
    qtbot.waitUntil(lambda: page.view.angle != before, timeout=3000)
    qtbot.mouseClick(page.turning.run, LEFT)
    qtbot.mouseClick(page.drop, LEFT)
    assert page.words.text() == ""
    assert "Press “Add " in page.view.accessibleDescription()


def test_a_clutch_is_planned_and_its_weak_spring_named(qtbot: QtBot, window: Window) -> None:
    page = open_machine(window, "clutch").page("clutch")
    page.grab()
    assert "Press “Add " in page.view.accessibleDescription()
    qtbot.mouseClick(page.plan, LEFT)
    assert tells(
        page.words.text(),
        "clutch.torque-capacity-run-in-new-worn-by-motor",
        stall="120 N·mm",
        margin="1.54",
    )
    page.grab()
    spring, inner = page.fields.entries["spring_n"], page.fields.entries["inner_mm"]
    assert isinstance(spring, DocumentLineEdit)
    assert isinstance(inner, DocumentLineEdit)
    type_over(qtbot, spring, "2")
    assert any(
        f.title == say("clutch.the-clutch-slips") for f in window.session.evaluation.findings
    )
    page.grab()
    type_over(qtbot, inner, "50")
    assert "clutch-ring" in [f.code for f in window.session.evaluation.findings]
    window.session.undo_stack.undo()
    strip = window.strip.stations
    window.session.engage("3")
    assert "Clutch, closed" in strip["clutch"].accessibleName()
    assert "m/s" in strip["wheels"].accessibleName()
    qtbot.mouseClick(page.pedal, LEFT, pos=QPoint(8, page.pedal.height() // 2))
    assert "Clutch, released" in strip["clutch"].accessibleName()
    assert tells(strip["wheels"].accessibleName(), "gear_column.not-driven")
    window.grab()
    qtbot.mouseClick(page.pedal, LEFT, pos=QPoint(8, page.pedal.height() // 2))
    assert "m/s" in strip["wheels"].accessibleName()
    qtbot.mouseClick(page.watch, LEFT)
    assert [w.part for w in window.session.vehicle.log.wear] == ["clutch lining"]
    qtbot.mouseClick(page.drop, LEFT)
    assert page.words.text() == ""
    assert not strip["clutch"].isVisible()
    assert "Press “Add " in page.view.accessibleDescription()


def test_a_liquid_line_is_planned_and_says_what_runs_out(qtbot: QtBot, window: Window) -> None:
    page = open_machine(window, "liquid").page("liquid")
    page.grab()
    assert "Press “Add " in page.view.accessibleDescription()
    qtbot.mouseClick(page.plan, LEFT)
    assert tells(
        page.words.text(),
        "liquid.at-the-pedal-are-n-mm-bar-in-the-line-and-at",
        hand_n="5 N",
        pressure="0.127",
        pressure_2="1.27",
    )
    page.grab()
    lost = page.fields.entries["lost_mm3"]
    assert isinstance(lost, DocumentLineEdit)
    type_over(qtbot, lost, "900")
    assert any(f.code == "line-runs-out" for f in window.session.evaluation.findings)
    page.grab()
    type_over(qtbot, lost, "lots")
    assert tells(said(window), "targets.is-not-a-number-type-one-such-as-3-45")
    qtbot.keyClick(lost, Qt.Key.Key_Escape)
    qtbot.mouseClick(page.more, LEFT)
    assert page.lines.currentText() == "line 1"
    type_over(qtbot, lost, "0")
    assert [line.lost_mm3 for line in window.session.vehicle.hydraulic_lines] == [900, 0]
    type_over(qtbot, page.name, "brakes")
    assert tells(said(window), "vehicle.two-liquid-lines-share-a-name")
    type_over(qtbot, page.name, "rear brakes")
    page.lines.activated.emit(0)
    assert lost.text() == "900"
    qtbot.mouseClick(page.drop, LEFT)
    assert [line.name for line in window.session.vehicle.hydraulic_lines] == ["rear brakes"]
    qtbot.mouseClick(page.drop, LEFT)
    assert page.words.text() == ""
    assert lost.text() == ""  # nothing of what was taken away stands there any more


def test_the_sawmill_trolley_is_set_by_its_fulcrum(
    qtbot: QtBot, open_window: Callable[[Vehicle], Window]
) -> None:
    window = open_window(example_vehicle("larkholm-sawmill-trolley"))
    window.session.engage("2")
    page = open_machine(window, "lever").page("lever")
    page.view.grab()
    assert page.place.isVisible()
    grip = page.view.fulcrum_at().toPoint() + QPoint(0, 10)
    qtbot.mousePress(page.view, LEFT, pos=grip)
    qtbot.mouseMove(page.view, grip + QPoint(900, 0))
    page.view.grab()
    qtbot.mouseRelease(page.view, LEFT, pos=grip + QPoint(900, 0))
    gear = window.session.evaluation.gear("2")
    assert gear is not None
    assert gear.ratio is not None
    assert float(gear.ratio) > 17  # at its stop, the slowest there is
    assert any(f.code == "ratio-error" for f in window.session.evaluation.findings)
    qtbot.mouseClick(page.place, LEFT)
    assert not window.session.evaluation.findings
    qtbot.mouseClick(page.drop, LEFT)
    assert tells(said(window), "lever.this-lever-drive-is-the-vehicles-box-lay-out")
    throw = page.fields.entries["throw_mm"]
    assert isinstance(throw, DocumentLineEdit)
    type_over(qtbot, throw, "9")
    box = window.session.vehicle.box
    assert isinstance(box, LeverBox)
    assert box.drive.throw_mm == 9.0
    window.show_tab("Ratios")
    ratios = window.tab
    assert isinstance(ratios, RatiosTab)
    ratios.show_page("box")
    table = ratios.box_page.table
    type_cell(qtbot, table, 1, 1, "50")
    assert table.text_at(1, 1) == "50"
    type_cell(qtbot, table, 1, 1, "5")
    assert "fulcrum-stops" in [f.code for f in window.session.evaluation.findings]
    type_cell(qtbot, table, 1, 1, "500")
    assert tells(
        said(window), "vehicle.gear-the-fulcrum-at-is-beyond-the-end-of-the", fulcrum_mm="500 mm"
    )
    window.session.undo_stack.undo()
    window.show_tab("Shift")
    for key in ("sleeves", "actuator", "table", "play"):
        window.tab.show_page(key)  # type: ignore[attr-defined]
        window.grab()
    words = window.tab.no_sleeves.text()  # type: ignore[attr-defined]
    assert tells(words, "tab-shift.a-lever-drive-has-no-sleeves-and-nothing-to")
