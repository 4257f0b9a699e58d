"""The tab Shift driven by mouse and keys: actuators, places, the table, the played run."""

from collections.abc import Callable
from pathlib import Path

import ezdxf
import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QApplication, QComboBox, QFileDialog, QPushButton, QWidget
from pytestqt.qtbot import QtBot

from examples import example_vehicle
from hands import said, type_cell, type_over
from mild_badger.app.tabs.shift.function_page import FunctionPage
from mild_badger.app.tabs.shift.tab import ShiftTab
from mild_badger.app.window import Window
from mild_badger.core.architectures.match import match_box
from mild_badger.core.architectures.registry import blank_box
from mild_badger.core.kit.catalogue import shipped_kit
from mild_badger.core.message import say
from mild_badger.core.ratios.lanes import Impossible
from mild_badger.core.vehicle.blank import blank_vehicle
from mild_badger.core.vehicle.box import Slot
from mild_badger.core.vehicle.boxes import BOXES
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.box import apply_box
from mild_badger.core.vehicle.edit.gears import rename_gear
from mild_badger.core.vehicle.edit.slots import move_slot
from telling import tells

OpenWindow = Callable[..., Window]
LEFT = Qt.MouseButton.LeftButton
pytestmark = pytest.mark.qt_log_ignore("propagateSizeHints", "This plugin does not support")


def strip_words(window: Window) -> dict[str, str]:
    return {key: made.accessibleName() for key, made in window.strip.stations.items()}


def shift_tab(window: Window) -> ShiftTab:
    window.show_tab("Shift")
    tab = window.tab
    assert isinstance(tab, ShiftTab)
    return tab


def choose(box: QComboBox, value: str) -> None:
    """Choose an entry as a press on it in the open list does."""
    box.setCurrentIndex(box.findData(value))
    box.activated.emit(box.currentIndex())


def press_tab(qtbot: QtBot, tab: ShiftTab, page: int) -> None:
    qtbot.mouseClick(tab.pages, LEFT, pos=tab.pages.tabRect(page).center())


def press(qtbot: QtBot, button: QWidget) -> None:
    qtbot.mouseClick(button, LEFT)


def places_of(window: Window) -> dict[str, tuple[int, str]]:
    slots = window.session.vehicle.box.slots
    return {s.gear: (s.column, s.face) for s in slots if isinstance(s, Slot)}


def codes(window: Window) -> list[str]:
    """The findings of the drawer, by code."""
    return [card.finding.code for card in window.drawer.cards]


def _told_by(page: FunctionPage, motor: str, code: str, **values: str) -> bool:
    """Whether the picture of the function box tells this, with the motor turning that way."""
    text = page.view.accessibleDescription()
    return tells(text, "tab-shift.motor-3", value=motor) and tells(text, code, **values)


def findings(window: Window) -> list[str]:
    return [card.finding.title for card in window.drawer.cards]


def test_the_shift_table_tells_every_shift_and_the_proof(qtbot: QtBot, window: Window) -> None:
    tab = shift_tab(window)
    assert tells(
        tab.proof.text(),
        "shift.reaches-neutral",
        reaching=say("shift.one-rail-in-at-a-time"),
        drive="7",
    )
    assert tells(tab.proof.text(), "shift.of-the-settings-of-all-sleeves-would-lock", beyond="46")
    at = tab.pages.tabRect(2).center()
    qtbot.mouseClick(tab.pages, LEFT, pos=at)
    table = tab.table_page.table
    assert [table.text_at(2, column) for column in range(4)] == ["2", "1", "2 |", "·"]
    assert tells(
        tab.table_page.words.text(), "tab-shift.click-a-cell-of-the-table-to-see-what-moves"
    )
    cell = table.item(3, 2)
    assert cell is not None
    view = table.viewport()
    qtbot.mouseClick(view, LEFT, pos=table.visualItemRect(cell).center())
    shown = tab.table_page.words.text()
    assert tells(shown, "shift.out-of", name="sleeve 2", start="front")
    assert tells(shown, "shift.into", name="sleeve 1", end="front")
    assert "0.60 s" in shown
    window.session.do(move_slot(window.session.vehicle, "1", 2, "front"))
    shown = tab.table_page.words.text()
    assert tells(shown, "shift.out-of", name="sleeve 1", start="front")
    assert tells(shown, "shift.into", name="sleeve 2", end="front")


def test_the_gate_is_drawn_measured_and_pressed(qtbot: QtBot, window: Window) -> None:
    tab = shift_tab(window)
    qtbot.mouseClick(tab.pages, LEFT, pos=tab.pages.tabRect(1).center())
    page = tab.gate_page
    page.view.grab()
    words = page.view.accessibleDescription()
    assert tells(words, "tab-shift.from-the-drivers-seat")
    assert tells(words, "tab-shift.knob", label="1", knob="forwards")
    assert tells(words, "tab-shift.knob", label="2", knob="to the rear")
    qtbot.mouseClick(page.view, LEFT, pos=page.view.place_of("4").toPoint())
    assert "Box · 4" in strip_words(window)["box"]
    type_over(qtbot, page.fields["arm_below_mm"], "30")
    assert tells(
        page.words.text(),
        "shift.the-knob-travels-into-a-gear-and-from-rail",
        knob_travel_mm="16.0 mm",
    )
    type_over(qtbot, page.fields["detent_flank_deg"], "95")
    assert "95" in said(window)
    assert window.session.vehicle.lever.detent_flank_deg == 45
    page.seen.setCurrentIndex(page.seen.findData("left"))
    page.seen.activated.emit(page.seen.currentIndex())
    assert page.view.accessibleDescription().startswith(say("tab-shift.from-the-left-side"))


def test_slots_are_engaged_and_moved(qtbot: QtBot, window: Window) -> None:
    tab = shift_tab(window)
    diagram = tab.diagram
    middle = diagram.place_of(2, "back").center().toPoint()
    qtbot.mouseClick(diagram, LEFT, pos=middle)
    assert "Box · 4" in strip_words(window)["box"]
    assert tells(
        diagram.accessibleDescription(),
        "tab-shift.column",
        column="4",
        face="front: gear R, 12:(24):40 · 12:20, 3 meshes, output −",
    )
    goal = diagram.place_of(4, "back").center().toPoint()
    qtbot.mousePress(diagram, LEFT, pos=middle)
    qtbot.mouseMove(diagram, (middle + goal) / 2)
    qtbot.mouseMove(diagram, goal)
    qtbot.mouseRelease(diagram, LEFT, pos=goal)
    assert tells(
        diagram.accessibleDescription(), "tab-shift.column", column="4", face="back: gear 4"
    )
    diagram.setFocus()
    qtbot.keyClick(diagram, Qt.Key.Key_Right)
    qtbot.keyClick(diagram, Qt.Key.Key_Left, Qt.KeyboardModifier.AltModifier)
    assert window.session.vehicle.box.slot("4") is not None
    qtbot.keyClick(diagram, Qt.Key.Key_Up)
    qtbot.keyClick(diagram, Qt.Key.Key_Return)
    assert window.session.situation.gear is not None
    tab.feed.setCurrentIndex(1)
    tab.feed.activated.emit(1)
    assert "wrong-direction" in [card.finding.code for card in window.drawer.cards]


def test_a_drum_is_chosen_placed_measured_and_pressed(qtbot: QtBot, window: Window) -> None:
    tab = shift_tab(window)
    choose(tab.actuator, "drum")
    assert tab.pages.tabText(1) == "Drum"
    press(qtbot, tab.places)
    assert tells(
        tab.diagram.accessibleDescription(), "tab-shift.column", column="1", face="back: gear 3"
    )
    press_tab(qtbot, tab, 1)
    page = tab.drum_page
    page.view.grab()
    assert page.view.accessibleDescription().startswith("R at 0°, N at 45°, 1 at 90°")
    qtbot.mouseClick(page.view, LEFT, pos=page.view.place_of("4").toPoint())
    assert "Box · 4" in strip_words(window)["box"]
    assert tells(
        page.words.text(),
        "shift.followers-travel-either-way-the-steepest",
        steepest_deg="41",
        steepest_deg_2="50",
    )
    type_over(qtbot, page.fields["diameter_mm"], "20")
    assert say("shift.a-track-of-the-drum-is-too-steep") in findings(window)
    type_over(qtbot, page.fields["diameter_mm"], "40")
    assert say("shift.a-track-of-the-drum-is-too-steep") not in findings(window)

    type_over(qtbot, page.order, "N, 1, 2, 3, 4, 5, 6")
    assert say("shift.the-drum-has-no-position-for", names="R") in findings(window)
    assert page.view.accessibleDescription().startswith("N at 0°, 1 at 51°")
    type_over(qtbot, page.angles, "0 40 80 120 160 200 250")
    assert "6 at 250°" in page.view.accessibleDescription()
    type_over(qtbot, page.angles, "0 40")
    assert tells(
        said(window),
        "shift.angles-were-typed-for-positions-separate",
        count_of_angles="2",
        count="7",
    )
    type_over(qtbot, page.order, "N, 1, 9")
    assert tells(said(window), "shift.positions-there-is-no-gear-separate-gears-by", word="9")


def test_overlapping_drums_lock_until_their_dogs_are_mended(qtbot: QtBot, window: Window) -> None:
    tab = shift_tab(window)
    choose(tab.actuator, "drum")
    press(qtbot, tab.places)
    press_tab(qtbot, tab, 1)
    page = tab.drum_page
    choose(page.drums, "odd and even")
    type_over(qtbot, page.fields["dog_depth_mm"], "6,5")
    type_over(qtbot, page.fields["overlap_deg"], "5")
    assert "reach-locks" in codes(window)
    assert "5 lock" in tab.proof.text()
    assert tells(
        page.words.text(), "shift.between-gears-both-sleeves-are-engaged-for-s", overlap="5.0"
    )
    choose(page.dogs, "one-way")
    assert "reach-locks" not in codes(window)
    assert tells(
        tab.proof.text(),
        "shift.reaches-neutral",
        drive="12",
        drives="drive",
        neutral="1",
        be="is",
        lock="none",
        word="locks",
    )


def test_the_wrapper_and_the_test_strip_are_written(
    qtbot: QtBot, window: Window, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    tab = shift_tab(window)
    press_tab(qtbot, tab, 1)
    for chosen, kind, made in (
        ("strip.dxf", "DXF (*.dxf)", "strip.dxf"),
        ("strip.svg", "STL (*.stl)", "strip.stl"),  # the kind that was chosen counts
        ("drum", "SVG (*.svg)", "drum.svg"),
    ):
        monkeypatch.setattr(
            QFileDialog, "getSaveFileName", lambda *_a, n=chosen, k=kind: (str(tmp_path / n), k)
        )
        if made.startswith("drum"):
            choose(tab.actuator, "drum")
            press(qtbot, tab.drum_page.save)
        else:
            strip = next(b for b in tab.gate_page.findChildren(QPushButton) if "strip" in b.text())
            press(qtbot, strip)
        assert (tmp_path / made).stat().st_size > 500
        assert f"Wrote {made}" in said(window)
    assert ezdxf.readfile(tmp_path / "strip.dxf").modelspace().query("LWPOLYLINE")
    # the builder felt the notches, and takes the fourth
    choose(tab.actuator, "gate")
    best = tab.gate_page.strip
    best.setCurrentIndex(4)
    best.activated.emit(4)
    assert window.session.vehicle.lever.detent_flank_deg == 40
    assert tab.gate_page.fields["detent_flank_deg"].text() == "40"


def test_a_catch_is_ordered_and_guarded(qtbot: QtBot, window: Window) -> None:
    tab = shift_tab(window)
    choose(tab.actuator, "catch")
    press_tab(qtbot, tab, 1)
    page = tab.catch_page
    page.view.grab()
    qtbot.mouseClick(page.view, LEFT, pos=page.view.place_of("5").toPoint())
    assert "Box · 5" in strip_words(window)["box"]
    type_over(qtbot, page.order, "2, 4, 1, 3")
    assert page.view.accessibleDescription().startswith("rail: sleeve 2 3/4, sleeve 4 R")
    far = page.words.text()
    press(qtbot, page.best)
    assert tells(
        page.words.text(), "shift.the-run-takes-shifts-tilts-and-slides-over-s", column="4 columns"
    )
    assert "slides over 4 columns" not in far
    type_over(qtbot, page.order, "2, 7")
    assert tells(said(window), "shift.columns-there-is-no-column-this-box-has", word="7")
    qtbot.mouseClick(page.past, LEFT, pos=QPoint(8, page.past.height() // 2))
    assert "reach-locks" in codes(window)
    press_tab(qtbot, tab, 2)
    tab.table_page.table.setCurrentCell(1, 3)
    assert tells(
        tab.table_page.words.text(),
        "shift.tilt-from-over-upright-to",
        start="front",
        end="back",
    )


def test_missing_plungers_are_found_and_mended_from_the_drawer(
    qtbot: QtBot, window: Window
) -> None:
    tab = shift_tab(window)
    press_tab(qtbot, tab, 1)
    tick = tab.gate_page.plungers
    qtbot.mouseClick(tick, LEFT, pos=QPoint(8, tick.height() // 2))
    assert tells(tab.gate_page.words.text(), "shift.without-interlock-plungers-two-gears-can-be")
    card = next(c for c in window.drawer.cards if c.finding.code == "reach-locks")
    assert card.mend is not None
    assert "plungers" in card.mend.text()
    press(qtbot, card.mend)
    assert tells(tab.proof.text(), "shift.reaches-neutral", lock="none", word="locks")
    assert tick.isChecked()
    tick.click()
    press_tab(qtbot, tab, 2)
    states = tab.table_page.states
    assert states.rowCount() == 26  # eight sound ones, and 18 pairs of rails
    assert [states.text_at(0, n) for n in (0, 1)] == ["sleeve 1 front, sleeve 2 front", "locks"]
    assert tells(states.text_at(0, 5), "drivetrain.driven", title="Gear 1")
    assert [states.text_at(18, n) for n in (1, 2)] == ["neutral", "–"]
    assert [states.text_at(19, n) for n in range(5)] == [
        "sleeve 1 front",
        "drives",
        "1",
        "6.250",
        "forwards",
    ]


def test_the_run_is_played_and_scrubbed(qtbot: QtBot, window: Window) -> None:
    tab = shift_tab(window)
    press_tab(qtbot, tab, 3)
    page = tab.play_page
    page.view.grab()
    assert tells(page.words.text(), "tab-shift.s-of-s", words="in neutral", state="nothing in")
    page.pace.setCurrentIndex(2)
    press(qtbot, page.start)
    qtbot.waitUntil(lambda: "1 in" in page.words.text(), timeout=5000)
    assert page.start.text() == "Stop"
    press(qtbot, page.start)
    assert page.start.text() == "Play"
    still = page.words.text()
    qtbot.wait(120)
    assert page.words.text() == still
    page.slider.setValue(page.slider.maximum() // 2)  # the top of the run
    assert "6 in" in page.words.text()
    assert page.view.words().endswith(": 6")
    press(qtbot, page.start)
    press_tab(qtbot, tab, 0)
    assert not page.playing  # nothing plays on out of sight


def test_the_box_is_turned_over_from_the_menu(qtbot: QtBot, window: Window) -> None:
    tab = shift_tab(window)
    press_tab(qtbot, tab, 1)
    before = tab.gate_page.view.accessibleDescription()
    assert tells(before, "tab-shift.knob", label="1", knob="forwards")
    menu = tab.turn.menu()
    assert menu is not None
    box, pattern, hand = menu.actions()
    box.trigger()
    assert tells(
        tab.gate_page.view.accessibleDescription(), "tab-shift.knob", label="1", knob="to the rear"
    )
    pattern.trigger()
    assert tells(
        tab.gate_page.view.accessibleDescription(), "tab-shift.knob", label="1", knob="forwards"
    )
    hand.trigger()
    assert window.session.vehicle.final_drive.crown_side == "right"
    assert not [title for title in findings(window) if "wrong" in title]
    for _ in range(3):
        window.session.undo_stack.undo()
    assert tab.gate_page.view.accessibleDescription() == before


def test_gears_of_a_line_diagram_change_places_by_dragging(
    qtbot: QtBot, open_window: OpenWindow
) -> None:
    window = open_window(example_vehicle("larkholm-timber-tractor"))
    tab = shift_tab(window)
    lines = tab.lines
    lines.grab()
    places = places_of(window)
    start = lines.spot_at(*places["1"]).toPoint()
    goal = lines.spot_at(*places["4"]).toPoint()
    qtbot.mousePress(lines, LEFT, pos=start)
    qtbot.mouseMove(lines, (start + goal) / 2)
    qtbot.mouseMove(lines, goal)
    qtbot.mouseRelease(lines, LEFT, pos=goal)
    after = places_of(window)
    assert (after["1"], after["4"]) == (places["4"], places["1"])
    lines.grab()
    qtbot.mouseClick(lines, LEFT, pos=lines.spot_at(*places["4"]).toPoint())
    assert "Box · 1" in strip_words(window)["box"]
    lines.grab()
    second = next(place for name, place in places.items() if name == "2")
    on_output = lines.spot_at(*second).y()
    choose(tab.sleeves_on, "driving")
    lines.grab()
    assert lines.spot_at(*second).y() > on_output  # the layshaft is drawn below
    choose(tab.engaged_by, "slide")
    assert "sliders" in tab.heading.text()
    assert not tab.sleeves_on.isVisible()
    QApplication.processEvents()


def test_a_function_box_is_started_typed_and_proven(qtbot: QtBot, window: Window) -> None:
    tab = shift_tab(window)
    press_tab(qtbot, tab, 5)
    page = tab.function_page
    press(qtbot, next(b for b in page.empty.findChildren(QPushButton)))
    change = page.change.menu()
    assert change is not None
    add_position, add_output, less_position, less_output, out = change.actions()
    add_output.trigger()
    add_position.trigger()
    table, outputs = page.table, page.outputs
    type_cell(qtbot, outputs, 0, 0, "brush")
    type_cell(qtbot, outputs, 1, 0, "carriage")
    type_cell(qtbot, outputs, 1, 1, "spool 20")
    assert outputs.text_at(1, 1) == "spool 20"
    type_cell(qtbot, table, 0, 0, "sweep")
    type_cell(qtbot, table, 0, 2, "4")
    type_cell(qtbot, table, 1, 3, "-6 forward")
    assert table.text_at(1, 3) == "−6 forward"
    item = outputs.item(0, 2)
    assert item is not None
    item.setCheckState(Qt.CheckState.Checked)
    assert tells(page.words.text(), "functions.one-shaft-turns-one-way-whatever-the-motor")
    assert tells(
        page.words.text(), "functions.solved-in-all-positions-and-ways-of-the", count_of_solved="4"
    )
    type_over(qtbot, page.stall, "25")
    functions = window.session.vehicle.functions
    assert functions is not None
    assert functions.stall_n_mm == 25
    table.setCurrentCell(0, 0)
    page.view.grab()
    result = window.session.evaluation.functions
    assert result is not None
    rpm = f"{result.box.motor_rpm / float(result.arrangement.branches[0].ratio):.1f} rpm"
    assert _told_by(page, "+", "functions.turns", way="+", value=rpm)
    press(qtbot, page.motor)
    assert _told_by(page, "−", "functions.turns", way="+", value=rpm)
    table.setCurrentCell(1, 0)
    assert _told_by(page, "−", "functions.stands")
    press(qtbot, page.motor)
    assert _told_by(page, "+", "functions.turns", way="−", value="34.9 mm/s")
    press(qtbot, page.list_button)
    assert page.trials.isVisible()
    assert tells(page.trials.toPlainText(), "functions.without-the-motor-turn-the-input-by-hand-in")

    type_cell(qtbot, table, 0, 2, "very fast")
    assert tells(said(window), "functions.cannot-be-read")
    assert table.text_at(0, 2) == "4"
    type_cell(qtbot, outputs, 1, 1, "spool")
    assert tells(said(window), "functions.a-takes-a-number-its", name="spool")
    type_cell(qtbot, table, 1, 2, "-4")
    assert "function-impossible" in codes(window)
    assert tells(
        page.words.text(), "functions.must-always-turn-one-way-but-position-asks", name="brush"
    )
    table.setCurrentCell(1, 0)
    less_position.trigger()
    outputs.setCurrentCell(1, 0)
    less_output.trigger()
    assert (table.rowCount(), outputs.rowCount()) == (1, 1)
    out.trigger()
    assert page.empty.isVisible()


def test_the_sweeper_opens_with_its_functions_proven(qtbot: QtBot, open_window: OpenWindow) -> None:
    window = open_window(example_vehicle("larkholm-street-sweeper"))
    tab = shift_tab(window)
    press_tab(qtbot, tab, 5)
    assert tab.heading.text() == say(
        "tab-shift.outputs-in-positions", count_of_outputs="4", count_of_positions="4"
    )
    assert tells(
        tab.function_page.words.text(),
        "functions.solved-in-all-positions-and-ways-of-the",
        count_of_solved="8",
    )
    choose(tab.function_page.actuation, "one lever")
    assert tells(
        tab.function_page.words.text(), "functions.position-takes-sleeves-in-at-once-for-one"
    )


def test_the_power_is_followed_in_the_engaged_gear(qtbot: QtBot, window: Window) -> None:
    tab = shift_tab(window)
    press_tab(qtbot, tab, 4)
    page = tab.power_page
    assert tells(page.words.text(), "tab-shift.engage-a-gear-that-drives-to-follow-the")
    window.session.engage("3")
    page.view.grab()
    assert tells(
        page.words.text(),
        "performance.the-motor-gives-w-w-reach-the-wheels-w-are",
        in_w="9.57",
        out_w="7.19",
    )
    assert page.view.accessibleDescription() == page.words.text()
    assert tells(page.table.text_at(0, 1), "performance.teeth", name="Drive row gear 1", teeth="24")
    assert page.table.text_at(page.table.rowCount() - 1, 0) == "differential"
    window.session.engage(None)
    assert page.table.rowCount() == 0


@pytest.mark.parametrize("kind", ["gate", "catch", "drum"])
def test_every_page_draws_every_box_and_an_empty_one(
    qtbot: QtBot, open_window: OpenWindow, kind: str
) -> None:
    window = open_window(blank_vehicle(shipped_kit("brick-grid")))
    tab = shift_tab(window)
    long = "a very long name of a gear"[:24].strip()
    for architecture in (None, *BOXES):
        if architecture is not None:
            gears = [gear.name for gear in window.session.vehicle.real.gears]
            box = blank_box(architecture, gears)
            window.session.do(apply_box(window.session.vehicle, box))
        choose(tab.actuator, kind)
        for page in range(6):
            press_tab(qtbot, tab, page)
            assert tab.pictures.currentWidget() is not None
            tab.grab()
    window.session.open(example_vehicle("larkholm-timber-tractor"), None)
    choose(tab.actuator, kind)
    window.session.do(rename_gear(window.session.vehicle, "3", long))
    window.session.engage(long)
    for page in range(5):
        press_tab(qtbot, tab, page)
        tab.grab()
    press_tab(qtbot, tab, 2)
    assert f"to {long}" in [
        (item.text() if (item := tab.table_page.table.horizontalHeaderItem(n)) else "")
        for n in range(tab.table_page.table.columnCount())
    ]
    assert not said(window)


def test_each_of_two_hands_has_its_own_room(qtbot: QtBot, open_window: OpenWindow) -> None:
    """Splitter and range: in either half one knob, and both travel as the run is played."""
    vehicle = example_vehicle("larkholm-mail-bus")
    match = match_box(vehicle, "range-splitter", best="error")
    assert not isinstance(match, Impossible)
    window = open_window(apply_edit(vehicle, match.edit(vehicle)))
    tab = shift_tab(window)
    tab.show_page("play")
    slider, view = tab.play_page.slider, tab.play_page.view
    wash = window.theme.tokens.run_wash.rgb()
    heights: list[set[int]] = [set(), set()]
    for value in range(slider.minimum(), slider.maximum(), slider.maximum() // 24):
        slider.setValue(value)
        image = view.grab().toImage().convertToFormat(QImage.Format.Format_RGB32)
        bits = image.constBits()
        assert bits is not None
        pixels = np.frombuffer(bytes(bits.asarray(image.sizeInBytes())), np.uint32)
        here = pixels.reshape(image.height(), -1) == wash
        half = image.height() // 2
        for n in (0, 1):
            ys, xs = np.nonzero(here[n * half : (n + 1) * half])
            assert np.ptp(xs) <= 22
            assert np.ptp(ys) <= 22
            heights[n].add(int(min(ys)))
    assert all(max(seen) - min(seen) > 40 for seen in heights)
