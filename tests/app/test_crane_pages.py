"""Outputs, balance and bearings on the tab Machine, by mouse and keys, with the crane truck."""

from collections.abc import Callable

from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtWidgets import QComboBox
from pytestqt.qtbot import QtBot

from examples import example_vehicle
from hands import open_machine, said, type_cell, type_over
from mild_badger.app.drawing.fields import DocumentLineEdit
from mild_badger.app.window import Window
from mild_badger.core.ids import OutputId
from mild_badger.core.mechanisms.clutch.edits import add_clutch
from mild_badger.core.message import say
from mild_badger.core.vehicle.model import Vehicle
from telling import tells

LEFT = Qt.MouseButton.LeftButton
Open = Callable[[Vehicle], Window]


def choose(box: QComboBox, words: str) -> None:
    box.setCurrentIndex(box.findText(words))
    box.activated.emit(box.currentIndex())


def names(window: Window) -> list[str]:
    crane = window.session.vehicle.crane
    return [output.name for output in crane.outputs] if crane is not None else []


def codes(window: Window) -> set[str]:
    return {finding.code for finding in window.session.evaluation.findings}


def test_outputs_are_planned_from_nothing(qtbot: QtBot, window: Window) -> None:
    page = open_machine(window, "crane").page("crane")
    page.grab()
    assert "Press “Add " in page.view.accessibleDescription()
    qtbot.mouseClick(page.plan, LEFT)
    assert tells(
        page.words.text(),
        "crane.per-turn-of",
        turns="120",
        input_words="motor turns",
        one="the ring",
        way="opposite direction",
    )
    choose(page.more, "spool")
    assert page.selected == "spool"
    assert "load-runs-back" in codes(window)
    assert tells(page.words.text(), "crane.nothing-holds-the-output-at-rest")
    qtbot.mouseClick(page.worm, LEFT, pos=QPoint(8, page.worm.height() // 2))
    assert "load-runs-back" not in codes(window)
    assert tells(page.words.text(), "crane.held-at-rest-by", holds="its worm")
    type_over(qtbot, page.pairs, "8:24")
    assert tells(page.words.text(), "crane.per-turn-of", turns="72", input_words="motor turns")
    type_over(qtbot, page.pairs, "8:x")
    assert "8:x" in said(window)
    qtbot.keyClick(page.pairs, Qt.Key.Key_Escape)
    choose(page.source, "a separate input")
    assert tells(page.words.text(), "crane.of-the-separate-input", turn="72 turns")
    teeth = page.own[1].entries["teeth"]
    assert isinstance(teeth, DocumentLineEdit)
    type_over(qtbot, teeth, "12")
    assert tells(page.words.text(), "crane.of-the-separate-input", turn="36 turns")
    type_over(qtbot, page.name, "hoist")
    assert names(window) == ["slewing", "hoist"]
    type_over(qtbot, page.name, "slewing")
    assert tells(said(window), "crane.two-outputs-are-called", name="slewing")
    qtbot.keyClick(page.name, Qt.Key.Key_Escape)
    choose(page.kind, "screw")
    assert tells(page.view.accessibleDescription(), "crane.lead", many="screw", lead_mm="2 mm")
    page.grab()
    qtbot.mouseClick(page.away, LEFT)
    assert page.selected == "slewing"
    qtbot.mouseClick(page.drop, LEFT)
    assert names(window) == []
    assert page.words.text() == ""


def test_the_crane_truck_keeps_step_and_its_ropes_are_set(qtbot: QtBot, open_window: Open) -> None:
    window = open_window(example_vehicle("larkholm-crane-truck"))
    page = open_machine(window, "crane").page("crane")
    page.view.grab()
    qtbot.mousePress(page.view, LEFT, pos=page.view.row_at(OutputId("counterweight")).toPoint())
    assert page.selected == "counterweight"
    assert (
        say("crane.runs-at-target", actual=0.5, called="carriage", share=0.5) in page.words.text()
    )
    share = page.own[-1].entries["share"]
    assert isinstance(share, DocumentLineEdit)
    type_over(qtbot, share, "0.25")
    assert "out-of-step" in codes(window)
    qtbot.mouseClick(page.step, LEFT)
    assert tells(
        page.words.text(), "crane.runs-at-target", actual="0.25", called="carriage", share="0.25"
    )
    assert "out-of-step" not in codes(window)
    qtbot.mousePress(page.view, LEFT, pos=page.view.row_at(OutputId("carriage")).toPoint())
    assert tells(page.words.text(), "crane.glued-to-it-by-mistake-the-drive-locks")
    choose(page.loose, "a shaft of their own")
    assert "loose" not in page.words.text()
    qtbot.mousePress(page.view, LEFT, pos=page.view.row_at(OutputId("hoist")).toPoint())
    assert "ropes-out-of-step" in codes(window)
    qtbot.mouseClick(page.ropes, LEFT)
    assert tells(
        page.words.text(), "crane.the-ropes-differ-by-up-to-well-adjusted-by", apart="1.52 mm"
    )
    assert page.adjust.text() != ""
    type_over(qtbot, page.adjust, "0, 0")
    assert tells(said(window), "crane.ropes-take-as-many-are-given", ropes="4", name="adjusters")
    window.session.undo_stack.undo()
    assert tells(
        page.words.text(), "crane.the-ropes-differ-by-up-to-well-adjusted-by", apart="3.03 mm"
    )


def test_the_tab_opens_where_something_is_planned(open_window: Open) -> None:
    window = open_window(example_vehicle("larkholm-crane-truck"))
    window.show_tab("Machine")
    assert window.tab.heading.text() == "Outputs"
    page = open_machine(window, "balance").page("balance")
    assert not page.fields.entries["weight_share"].isEnabled()  # it is the outputs' own
    window.show_tab("Road")
    window.show_tab("Machine")
    assert window.tab.heading.text() == "Balance"


def test_the_rear_winch_turns_only_with_a_gear_in(qtbot: QtBot, open_window: Open) -> None:
    window = open_window(example_vehicle("larkholm-crane-truck"))
    page = open_machine(window, "crane").page("crane")
    page.view.grab()
    qtbot.mousePress(page.view, LEFT, pos=page.view.row_at(OutputId("rear-winch")).toPoint())
    assert "rear winch: stands." in page.words.text()
    window.session.engage("2")
    assert tells(
        page.words.text(),
        "crane.direction",
        word="50.91 motor turns per turn of the output shaft, same",
    )
    window.session.engage("R")
    assert tells(page.words.text(), "crane.direction", word="opposite")
    window.session.do(add_clutch(window.session.vehicle))
    window.session.release(True)
    assert "rear winch: stands." in page.words.text()
    window.session.release(False)
    assert tells(page.words.text(), "crane.direction", word="opposite")


def test_the_boom_is_dragged_round_until_it_tips(qtbot: QtBot, open_window: Open) -> None:
    window = open_window(example_vehicle("larkholm-crane-truck"))
    page = open_machine(window, "balance").page("balance")
    page.view.grab()
    before = window.session.vehicle.balance
    grip = page.view.carriage_at().toPoint()
    qtbot.mousePress(page.view, LEFT, pos=grip)
    centre = QPointF(page.view._zero).toPoint()
    qtbot.mouseMove(page.view, QPoint(centre.x(), centre.y() - 900))
    assert page.view.held is not None
    assert tells(page.view.words(), "tab-machine.what-tips-it")
    assert window.session.vehicle.balance == before  # not before it is let go
    page.view.grab()
    qtbot.mouseRelease(page.view, LEFT, pos=QPoint(centre.x(), centre.y() - 900))
    balance = window.session.vehicle.balance
    assert balance is not None
    assert (balance.slew_deg, balance.reach_mm) == (90.0, 250.0)
    load = page.fields.entries["load_kg"]
    assert isinstance(load, DocumentLineEdit)
    type_over(qtbot, load, "6")
    assert "tips" in codes(window)
    assert tells(page.words.text(), "balance.the-machine-tips-over-the-edge")
    page.view.grab()


def test_masses_are_typed_and_refused(qtbot: QtBot, open_window: Open) -> None:
    window = open_window(example_vehicle("larkholm-crane-truck"))
    page = open_machine(window, "balance").page("balance")
    window.grab()
    type_cell(qtbot, page.table, 0, 1, "2.5")
    assert window.session.vehicle.balance is not None
    assert window.session.vehicle.balance.masses[0].mass_kg == 2.5
    assert "mass-differs" in codes(window)
    type_cell(qtbot, page.table, 2, 2, "roof")
    assert tells(said(window), "balance.a-mass-is-on-the-is-none-of-them", strip="'roof'")
    assert page.table.text_at(2, 2) == "turntable"
    type_cell(qtbot, page.table, 3, 1, "heavy")
    assert "heavy" in said(window)
    qtbot.mouseClick(page.more, LEFT)
    assert len(page.table.records) == 7
    item = page.table.item(6, 6)
    assert item is not None
    item.setCheckState(Qt.CheckState.Checked)
    assert window.session.vehicle.balance.masses[-1].removable
    page.table.setCurrentCell(6, 0)
    qtbot.mouseClick(page.less, LEFT)
    assert page.table.rowCount() == 7  # six masses, and the line for one more
    choose(page.outputs["carriage"], "slewing")
    assert "weight-share" in codes(window)
    qtbot.mouseClick(page.drop, LEFT)
    page.grab()
    assert "Press “Add " in page.view.accessibleDescription()
    qtbot.mouseClick(page.plan, LEFT)
    assert tells(page.words.text(), "balance.a-counterweight-of-keeps-the-machine-stable")


def test_a_bearing_is_taken_by_a_press(qtbot: QtBot, open_window: Open) -> None:
    window = open_window(example_vehicle("larkholm-crane-truck"))
    page = open_machine(window, "bearings").page("bearings")
    page.view.grab()
    assert "slewing, slewing ring: wood does not" in page.view.accessibleDescription()
    number = next(
        n
        for n, row in enumerate(page.view.rows)
        if tells(row.name, "driveline.slewing-ring", title="slewing")
    )
    qtbot.mousePress(page.view, LEFT, pos=page.view.place_of(number, "wood").toPoint())
    crane = window.session.vehicle.crane
    assert crane is not None
    assert crane.outputs[0].carried.bearing == "wood"
    assert "bearing" in codes(window)
    page.view.grab()
    window.session.undo_stack.undo()
    assert "bearing" not in codes(window)


def test_a_flap_is_hung_into_better_holes(qtbot: QtBot, window: Window) -> None:
    page = open_machine(window, "cables").page("cables")
    page.grab()
    assert "Press “Add " in page.view.accessibleDescription()
    qtbot.mouseClick(page.plan, LEFT)
    assert tells(
        page.words.text(),
        "cables.wanted-it-starts-at-of-the-stroke-and-takes",
        name="flap",
        ways="9.6 → 9.3 mm",
        wanted_mm="9 mm",
        off="+3.3 %",
    )
    assert page.own is not None
    wanted = page.own.entries["wanted_mm"]
    assert isinstance(wanted, DocumentLineEdit)
    type_over(qtbot, wanted, "28")
    assert "cable-travel" in codes(window)
    first = page.table.text_at(0, 0)
    page.table.setCurrentCell(0, 0)
    qtbot.mouseClick(page.take, LEFT)
    assert page.table.text_at(0, 0) == first
    assert "cable-travel" not in codes(window)
    assert tells(
        page.words.text(),
        "cables.wanted-it-starts-at-of-the-stroke-and-takes",
        wanted_mm="28 mm",
        off="−0.4 %",
    )
    page.slider.setValue(40)
    page.view.grab()
    qtbot.mousePress(page.view, LEFT, pos=page.view.row_at(1).toPoint())
    assert page.lines["name"].text() == "motor speed"
    type_over(qtbot, page.lines["hand"], "10, 20")
    assert tells(said(window), "cables.there-is-no-hole-the-hand-lever-has", from_hole="3")
    qtbot.keyClick(page.lines["hand"], Qt.Key.Key_Escape)
    type_over(qtbot, page.lines["first"], "8, 12, 16, 24")
    choose(page.count, "two levers")
    assert page.lines["second"].isEnabled()
    qtbot.mouseClick(page.best, LEFT)
    assert "hole-shared" not in codes(window)
    choose(page.count, "no lever")
    assert not page.lines["first"].isEnabled()
    qtbot.mouseClick(page.more, LEFT)
    assert page.lines["name"].text() == "cable 1"
    qtbot.mouseClick(page.less, LEFT)
    qtbot.mouseClick(page.drop, LEFT)
    assert window.session.vehicle.cables is None


def test_an_output_runs_in_space_until_its_nut_is_at_the_end(
    qtbot: QtBot, open_window: Open
) -> None:
    window = open_window(example_vehicle("larkholm-crane-truck"))
    page = open_machine(window, "crane").page("crane")
    pictures = page.pictures
    assert pictures.running.run.isHidden()
    qtbot.mouseClick(pictures.in_space, LEFT, pos=QPoint(8, pictures.in_space.height() // 2))
    page.choose_thing(("carriage",))
    view = pictures.view
    qtbot.waitUntil(lambda: view.drawn_finely)
    nut = next(part for part in view.parts if part.kind == "nut")
    rows = view.shapes()
    number = view.parts.index(nut)
    assert rows is not None
    first = view.corners()
    assert first is not None
    view.binds = None if view.binds is None else (view.binds[0] / 50, view.binds[1] / 50)
    pictures.running.speed.setValue(pictures.running.speed.maximum())
    with qtbot.waitSignal(view.bound, timeout=8000):
        qtbot.mouseClick(pictures.running.run, LEFT)
    assert tells(pictures.words.text(), "tab-machine.at-the-end-of-its-travel")
    assert not view.rpm
    last = view.corners()
    assert last is not None
    moved = (last - first)[rows.starts[number]]
    assert abs(moved[2]) > 0.3
    assert abs(moved[:2]).max() < 1e-9
    # flat again: the page's own picture
    qtbot.mouseClick(pictures.in_space, LEFT, pos=QPoint(8, pictures.in_space.height() // 2))
    assert page.view.isVisible()
    assert view.isHidden()
