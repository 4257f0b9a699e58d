"""The window driven by mouse and keys: what the builder sees is what is asserted."""

from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QApplication, QFileDialog
from pyqtgraph import PlotCurveItem
from pytestqt.qtbot import QtBot

from examples import example_vehicle
from hands import said, type_cell, type_over
from mild_badger.app.tab_list import TABS
from mild_badger.app.tabs.axle.tab import AxleTab
from mild_badger.app.tabs.layout.tab import LayoutTab
from mild_badger.app.tabs.ratios.tab import RatiosTab
from mild_badger.app.tabs.road.tab import RoadTab
from mild_badger.app.tabs.shift.tab import PAGES as SHIFT_PAGES
from mild_badger.app.tabs.shift.tab import ShiftTab
from mild_badger.app.tabs.vehicle.fill import FillDialog
from mild_badger.app.tabs.vehicle.tab import VehicleTab
from mild_badger.app.tabs.workshop.tab import WorkshopTab
from mild_badger.app.theme.tokens import DARK, LIGHT, Tokens, contrast
from mild_badger.app.window import Window
from mild_badger.core.kit.catalogue import shipped_kit
from mild_badger.core.message import say
from mild_badger.core.vehicle.blank import blank_vehicle
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.edit.gears import add_gear, new_gear, rename_gear
from strategies import slots_of
from telling import tells

LEFT = Qt.MouseButton.LeftButton
Press = Callable[..., None]


def strip_words(window: Window) -> dict[str, str]:
    return {key: made.accessibleName() for key, made in window.strip.stations.items()}


def vehicle_tab(window: Window) -> VehicleTab:
    tab = window.tab_of("Vehicle")
    assert isinstance(tab, VehicleTab)
    return tab


def ratios_tab(window: Window) -> RatiosTab:
    window.show_tab("Ratios")
    tab = window.tab
    assert isinstance(tab, RatiosTab)
    return tab


def test_typing_a_target_shows_the_ratio_everywhere(qtbot: QtBot, window: Window) -> None:
    type_cell(qtbot, vehicle_tab(window).table, 2, 1, "2,25")
    assert "wants 2.250" in window.gears.button_of("3").words()
    assert "error −7.4 %" in window.gears.button_of("3").words()
    assert say("gears.ratio-of-gear-is-too", name="3", error=7.4, way="low") in [
        card.finding.title for card in window.drawer.cards
    ]
    assert window.windowTitle().startswith("Larkholm Vale mail bus *")


def test_ratios_in_the_other_school(qtbot: QtBot, window: Window, press: Press) -> None:
    qtbot.mouseClick(window.school_button, LEFT)
    table = vehicle_tab(window).table
    item = table.item(4, 1)
    assert item is not None
    assert item.text() == "1.000"
    type_cell(qtbot, table, 0, 1, "0.25")
    assert "wants 0.250" in window.gears.button_of("1").words()
    press(window, Qt.Key.Key_T, Qt.KeyboardModifier.ControlModifier)
    assert "wants 4.000" in window.gears.button_of("1").words()


def test_engaging_by_key_mouse_and_shift(qtbot: QtBot, window: Window, press: Press) -> None:
    press(window, Qt.Key.Key_3)
    assert "Box · 3, 1 536 rpm" in strip_words(window)["box"]
    assert "0.87 m/s, 41 km/h at 1:13, forwards +" in strip_words(window)["wheels"]
    press(window, Qt.Key.Key_R)
    assert "backwards −" in strip_words(window)["wheels"]
    assert window.gears.button_of("R").isChecked()
    press(window, Qt.Key.Key_0)
    assert tells(strip_words(window)["wheels"], "gear_column.not-driven")
    press(window, Qt.Key.Key_Plus)
    assert "Box · 1" in strip_words(window)["box"]
    press(window, Qt.Key.Key_Minus)
    assert "Box · N" in strip_words(window)["box"]
    qtbot.mouseClick(window.gears.button_of("5"), LEFT)
    assert "Box · 5" in strip_words(window)["box"]
    press(window, Qt.Key.Key_9)
    assert tells(
        said(window), "window.this-vehicle-has-forward-gears-not", count_of_forwards="6", number="9"
    )


def test_digits_go_into_a_field_not_into_the_box(qtbot: QtBot, window: Window) -> None:
    entry = vehicle_tab(window).fields["wheels", "diameter_mm"]
    type_over(qtbot, entry, "72")
    assert window.session.vehicle.wheels.diameter_mm == 72
    assert window.session.situation.gear is None


def test_a_bad_number_is_marked_and_kept_for_mending(qtbot: QtBot, window: Window) -> None:
    entry = vehicle_tab(window).fields["scale", "denominator"]
    type_over(qtbot, entry, "thirteen")
    assert tells(said(window), "targets.is-not-a-number-type-one-such-as-3-45", strip="'thirteen'")
    assert entry.text() == "thirteen"
    assert entry.property("refused") is True
    type_over(qtbot, entry, "0.5")
    assert tells(
        said(window),
        "vehicle.cannot-be-used",
        shown_value="of the scale: 0.5",
        remedy="type 1 or more",
    )
    qtbot.keyClick(entry, Qt.Key.Key_Escape)
    assert (entry.text(), entry.property("refused")) == ("13", False)
    assert window.session.vehicle == example_vehicle()
    type_cell(qtbot, vehicle_tab(window).table, 0, 1, "-3")
    assert window.session.vehicle.real.gears[0].reverse  # as pasting has it
    shown = vehicle_tab(window).table.text_at(1, 1)
    type_cell(qtbot, vehicle_tab(window).table, 1, 1, "0")
    assert tells(said(window), "targets.must-be-greater-than-zero-direction-is-set")
    assert vehicle_tab(window).table.text_at(1, 1) == shown


def test_undo_and_redo(qtbot: QtBot, window: Window, press: Press) -> None:
    entry = vehicle_tab(window).fields["scale", "denominator"]
    type_over(qtbot, entry, "10")
    assert "at 1:10" not in strip_words(window)["wheels"]
    press(window, Qt.Key.Key_3)
    assert "at 1:10" in strip_words(window)["wheels"]
    control = Qt.KeyboardModifier.ControlModifier
    press(window, Qt.Key.Key_Z, control)
    assert "at 1:13" in strip_words(window)["wheels"]
    assert entry.text() == "13"
    assert not window.windowTitle().startswith("Larkholm Vale mail bus *")
    press(window, Qt.Key.Key_Z, control | Qt.KeyboardModifier.ShiftModifier)
    assert entry.text() == "10"


def test_notes_typed_in_a_row_are_undone_as_one(qtbot: QtBot, window: Window, press: Press) -> None:
    notes = vehicle_tab(window).notes
    before = notes.toPlainText()
    notes.setFocus()
    qtbot.keyClicks(notes, "abc")
    assert window.session.vehicle.notes == "abc" + before
    press(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert notes.toPlainText() == before


def test_gears_are_added_renamed_turned_and_removed(qtbot: QtBot, window: Window) -> None:
    tab = vehicle_tab(window)
    tab._add()
    assert say("gear_column.no-train-yet") in window.gears.button_of("7").words()
    assert [g.name for g in window.session.vehicle.real.gears][-2:] == ["7", "R"]
    row = len(window.session.vehicle.real.gears) - 2
    type_cell(qtbot, tab.table, row, 0, "crawl")
    assert tells(window.gears.button_of("7").words(), "gear_column.gear", name="crawl")
    mark = tab.table.item(row, 2)
    assert mark is not None
    mark.setCheckState(Qt.CheckState.Checked)
    gear = window.session.vehicle.gear_called("crawl")
    assert gear is not None
    assert gear.reverse
    tab.table.choose(row)
    tab.table.setFocus()
    qtbot.keyClick(tab.table, Qt.Key.Key_Delete)
    assert tells(said(window), "vehicle.cannot-be-empty")
    qtbot.keyClick(tab.table, Qt.Key.Key_Delete, Qt.KeyboardModifier.ControlModifier)
    assert window.session.vehicle.gear_called("crawl") is None
    type_cell(qtbot, tab.table, 0, 0, "2")
    assert tells(said(window), "vehicle.two-gears-are-called", name="2")


def test_from_targets_to_a_set(qtbot: QtBot, open_window: Callable[..., Window]) -> None:
    window = open_window(blank_vehicle(shipped_kit("brick-grid")))
    tab = ratios_tab(window)
    qtbot.mouseClick(tab.set_panel.find_set, LEFT)
    qtbot.waitUntil(lambda: "Fewest:" in tab.set_panel.answers.text(), timeout=30_000)
    assert tells(tab.set_panel.answers.text(), "tab-ratios.pairs-gears-worst", title="Least error")
    qtbot.mouseClick(tab.set_panel.take_size, LEFT)
    assert all(slot.train for slot in slots_of(window.session.vehicle))
    assert "error" in window.gears.button_of("4").words()
    qtbot.mouseClick(window.gears.button_of("1"), LEFT)
    assert tab.heading.text().startswith("Gear 1: 4.000")
    assert tells(
        tab.view.words(),
        "drawing.teeth-shaft-at-u-layer-turns-per-turn-of-the",
        role="driver",
        shaft="1",
    )


def test_a_cancelled_search_changes_nothing(qtbot: QtBot, window: Window) -> None:
    tab = ratios_tab(window)
    tab.search()
    assert window.cancel.isVisible()
    qtbot.mouseClick(window.cancel, LEFT)
    window.worker.wait()
    assert "Fewest:" not in tab.set_panel.answers.text()
    assert not window.cancel.isVisible()


def test_answers_to_an_older_question_never_appear(qtbot: QtBot, window: Window) -> None:
    tab = ratios_tab(window)
    tab.search()
    window.session.do(Edit.one("x", ("real", "gears", 0, "ratio"), 5.0))
    window.worker.wait()
    assert "Fewest:" not in tab.set_panel.answers.text()


def test_another_train_is_taken_or_typed(qtbot: QtBot, window: Window, press: Press) -> None:
    press(window, Qt.Key.Key_3)
    tab = ratios_tab(window)
    assert tells(
        tab.facts.text(),
        "tab-ratios.mesh-gears",
        words="25/12 = 5/3 × 5/4",
        exact="−0.79 %",
        number="Two",
        meshes="meshes",
        count="four",
    )
    tab.choice.table.selectRow(2)
    chosen = tab.choice.table.item(2, 0)
    assert chosen is not None
    words = chosen.text()
    qtbot.mouseClick(tab.choice.take, LEFT)
    assert tab.choice.counted.text() == words
    type_over(qtbot, tab.choice.counted, "12:20")
    assert say("gears.gear-turns-the-wrong-way", name="3") in [
        card.finding.title for card in window.drawer.cards
    ]
    card = next(c for c in window.drawer.cards if c.finding.code == "wrong-direction")
    assert card.mend is not None
    qtbot.mouseClick(card.mend, LEFT)
    assert "wrong-direction" not in [c.finding.code for c in window.drawer.cards]
    type_over(qtbot, tab.choice.counted, "12:20:8:9")
    assert tells(said(window), "ratios.is-no-pair-of-tooth-counts-write-driver")


def test_the_crown_wheel_on_the_wrong_side_is_found_and_mended(
    qtbot: QtBot, window: Window
) -> None:
    window.session.do(Edit.one("x", ("final_drive", "crown_side"), "right"))
    card = window.drawer.cards[0]
    assert card.finding.title == say("gears.crown-wheel-on-the-wrong-side")
    assert tells(
        card.finding.text,
        "gears.with-the-crown-wheel-on-the-the-vehicle-has",
        ahead="1",
        count_of_driving="6",
    )
    assert tells(strip_words(window)["final drive"], "strip.has-a-finding", value="error")
    assert card.mend is not None
    qtbot.mouseClick(card.mend, LEFT)
    assert tells(strip_words(window)["final drive"], "stations.1-crown-on-the", crown_side="left")


def test_the_layout_shows_seats(qtbot: QtBot, window: Window, press: Press) -> None:
    window.show_tab("Layout")
    tab = window.tab_of("Layout")
    assert isinstance(tab, LayoutTab)
    assert "Engage a gear" in tab.view.words()
    press(window, Qt.Key.Key_3)
    rows = [
        [tab.meshes.item(row, column).text() for column in range(5)]  # type: ignore[union-attr]
        for row in range(2)
    ]
    assert rows == [
        ["12 : 20", "2 × 0", "+0.00", "1.49", "good"],
        ["16 : 20", "2 × 1", "−0.11", "1.64", "snug"],
    ]
    tab.view.grab()
    shaft = tab.view.rect().center()
    seen = {tab.view.words_at(p.toPointF()) for p in _around(shaft)}
    assert any(
        tells(words, "drawing.with-seat-contact-ratio-play", contact_ratio="1.49") for words in seen
    )
    assert any(
        tells(
            words, "drawing.teeth-shaft-at-u-layer-turns-per-turn-of-the", teeth="20", role="driven"
        )
        for words in seen
    )


def _around(centre: QPoint) -> list[QPoint]:
    return [centre + QPoint(x, y) for x in range(-150, 151, 6) for y in range(-150, 151, 6)]


def test_turns_holds_and_the_lock(qtbot: QtBot, window: Window, press: Press) -> None:
    press(window, Qt.Key.Key_5)
    window.show_tab("Axle")
    tab = window.tab_of("Axle")
    assert isinstance(tab, AxleTab)

    def shares() -> list[str]:
        return [tab.turn_page.table.text_at(row, 1) for row in range(2)]

    assert shares() == ["1.0000", "1.0000"]
    qtbot.mouseClick(tab.turn_page.roads["turn right"], LEFT)
    type_over(qtbot, tab.turn_page.radius, "720")
    assert shares() == ["1.1000", "0.9000"]
    tab.turn_page.slider.setFocus()
    qtbot.keyClick(tab.turn_page.slider, Qt.Key.Key_Left)
    assert shares() != ["1.1000", "0.9000"]
    qtbot.keyClick(
        tab.turn_page.slider, Qt.Key.Key_Home
    )  # as tight as the slider goes: one wheel pivots
    assert shares() == ["2.0000", "0.0000"]
    qtbot.keyClick(tab.turn_page.slider, Qt.Key.Key_End)
    tab.turn_page.lock.click()
    assert shares() == ["1.0000", "1.0000"]
    assert "tyres-slide" in [card.finding.code for card in window.drawer.cards]
    qtbot.mouseClick(tab.turn_page.roads["hold left"], LEFT)
    assert shares() == ["stalls", "stalls"]
    tab.turn_page.lock.click()
    assert shares() == ["0.0000", "2.0000"]
    assert tells(strip_words(window)["differential"], "evaluate.wheel-held", side="left")
    type_over(qtbot, tab.turn_page.radius, "-4")
    assert tells(said(window), "tab-axle.turn-radius")


def test_the_road_chart_and_table(window: Window, press: Press) -> None:
    window.show_tab("Road")
    tab = window.tab_of("Road")
    assert isinstance(tab, RoadTab)
    curves = [
        item for item in tab.speed_page.chart.getPlotItem().items if isinstance(item, PlotCurveItem)
    ]
    assert len(curves) == 14  # wanted and got
    assert curves[11].getData()[1][-1] == pytest.approx(2.967, abs=1e-3)  # sixth at 4200 rpm, m/s
    press(window, Qt.Key.Key_6)
    assert tab.heading.text() == say(
        "tab-road.gear-like-at-full-size", name="6", speed_mm_s="2.26 m/s", km_per_hour="106 km/h"
    )
    width = curves[11].opts["pen"].widthF()
    window.session.do(Edit.one("Larger wheels", ("wheels", "diameter_mm"), 80.0))
    assert curves[11].getData()[1][-1] == pytest.approx(2.967 * 80 / 68, abs=1e-3)
    press(window, Qt.Key.Key_1)
    assert curves[11].opts["pen"].widthF() < width  # sixth is no longer drawn heavy


def test_stock_is_edited_and_the_sheet_follows(qtbot: QtBot, window: Window) -> None:
    window.show_tab("Workshop")
    tab = window.tab_of("Workshop")
    assert isinstance(tab, WorkshopTab)
    assert tells(tab.heading.text(), "tab-workshop.parts", total="64", missing="all in stock")
    type_cell(qtbot, tab.parts_page.table, 1, 2, "4")
    assert tells(tab.heading.text(), "tab-workshop.parts", total="64", missing="1 kind short")
    assert "2 short: 12-tooth gear" in [card.finding.title for card in window.drawer.cards]
    qtbot.waitUntil(lambda: "2 short" in tab.parts_page.preview.page_text(), timeout=30_000)
    type_cell(qtbot, tab.parts_page.table, 1, 2, "minus one")
    assert tells(said(window), "targets.is-not-a-number-type-one-such-as-3-45")


def test_every_tab_is_reached_by_key_and_strip(qtbot: QtBot, window: Window, press: Press) -> None:
    for title, (_, number) in TABS.items():
        press(window, Qt.Key(Qt.Key.Key_0 + number), Qt.KeyboardModifier.ControlModifier)
        assert window.tab.title == title
        assert window.tab.isVisible()
    qtbot.mouseClick(window.strip.stations["differential"], LEFT)
    assert window.tab.title == "Axle"
    window.strip.stations["box"].setFocus()
    qtbot.keyClick(window.strip.stations["box"], Qt.Key.Key_Space)
    assert window.tab.title == "Ratios"


def test_the_dark_sheet(window: Window, press: Press) -> None:
    press(window, Qt.Key.Key_D, Qt.KeyboardModifier.ControlModifier)
    corner = QImage(window.grab().toImage()).pixelColor(5, window.height() - 40)
    assert corner.lightness() < 80
    press(window, Qt.Key.Key_D, Qt.KeyboardModifier.ControlModifier)


@pytest.mark.parametrize("tokens", [LIGHT, DARK])
def test_text_can_be_read(tokens: Tokens) -> None:
    # WCAG 2.1 AA: 4.5 : 1 for text
    grounds = (tokens.sheet, tokens.panel, tokens.paper)
    for color in (tokens.ink, tokens.soft, tokens.run, tokens.back, tokens.warn, tokens.bad):
        for ground in grounds:
            assert contrast(color, ground) >= 4.5
    assert contrast(LIGHT.ink.fromString("#777777"), LIGHT.ink.fromString("#ffffff")) == (
        pytest.approx(4.48, abs=0.01)
    )  # the well-known grey that just fails


def test_many_gears_and_long_names_stay_in_their_places(
    open_window: Callable[..., Window],
) -> None:
    bus = example_vehicle()
    for _ in range(6):
        bus = apply_edit(bus, add_gear(bus, new_gear(bus)))
    bus = apply_edit(bus, rename_gear(bus, "2", "second with a long name"))
    bus = apply_edit(bus, Edit.one("x", ("name",), "A bus of many words " * 9))
    window = open_window(bus)
    for title in TABS:
        window.show_tab(title)
        assert window.width() == 1280
        assert not window.grab().isNull()
    assert len(window.gears.buttons) == 14


def test_the_window_fits_a_small_screen(window: Window) -> None:
    window.resize(1100, 700)
    shift = [("shifting", "actuation", kind) for kind in ("gate", "catch", "drum")]
    for title, page, kind in (
        *((title, "", None) for title in TABS),
        *(("Shift", page, kind) for page in SHIFT_PAGES for kind in shift),
    ):
        window.show_tab(title)
        if kind is not None:
            window.session.do(Edit.one("", kind[:2], kind[2]))
            assert isinstance(window.tab, ShiftTab)
            window.tab.show_page(page)
        QApplication.processEvents()
        assert (window.width(), window.height()) == (1100, 700)
        least, given = window.tab.minimumSizeHint(), window.tab.size()
        assert least.width() <= given.width()
        assert least.height() <= given.height()


def test_a_top_speed_is_typed_and_gives_the_ratio(qtbot: QtBot, window: Window) -> None:
    tab = vehicle_tab(window)
    type_cell(qtbot, tab.table, 5, 4, "90")
    # π · 0.92 m · 2900/60 / 25 m/s / 6.2 = 0.9013
    assert tab.table.text_at(5, 1) == "0.901"
    assert tab.table.text_at(5, 4) == "90.0"
    type_cell(qtbot, tab.table, 5, 4, "0")
    assert tells(said(window), "targets.top-speed-must-be-greater-than-zero")
    assert tab.table.text_at(5, 4) == "90.0"


def test_a_column_is_pasted_and_taken_back(
    qtbot: QtBot, window: Window, press: Press, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    tab = vehicle_tab(window)
    clipboard = QApplication.clipboard()
    assert clipboard is not None
    clipboard.setText("4,5\n2,5\n1,4\n1,0\n-4,1\n")
    tab.paste()
    assert [row.words().split(",")[0] for row in window.gears.buttons] == [
        "Gear R: −5.556",
        "Neutral",
        "Gear 1: 6.250",
        "Gear 2: 3.333",
        "Gear 3: 2.083",
        "Gear 4: 1.389",
    ]
    assert "wants 4.500" in window.gears.button_of("1").words()
    clipboard.setText("4,5\nnonsense\n")
    tab.paste()
    assert "Line 2" in said(window)
    press(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert len(window.gears.buttons) == 8
    file = tmp_path / "targets.csv"
    assert window.files.export_to("targets", file)
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_a: (str(file), ""))
    before = [(g.name, g.ratio, g.reverse) for g in window.session.vehicle.real.gears]
    clipboard.setText("3\n2\n1\n")
    tab.paste()
    tab.targets_wanted.emit()
    real = window.session.vehicle.real
    assert [(g.name, g.ratio, g.reverse) for g in real.gears] == before
    file.write_bytes(b"\xff\xfe")
    tab.targets_wanted.emit()
    assert tells(said(window), "files.is-not-utf-8-text-save-it-from-the")


@pytest.mark.qt_log_ignore("propagateSizeHints")  # the offscreen platform has no size hints
def test_ratios_are_filled_in_between_two_ends(qtbot: QtBot, window: Window) -> None:
    dialog = FillDialog(window.session, window)
    qtbot.addWidget(dialog)
    dialog.show()
    for entry, text in ((dialog.first, "8"), (dialog.last, "1"), (dialog.progression, "1")):
        entry.selectAll()
        qtbot.keyClicks(entry, text)
    dialog.count.setValue(4)
    assert dialog.preview.text() == "8.000, 4.000, 2.000, 1.000"
    dialog.progression.setText("9")
    assert "Progression" in dialog.preview.text()
    assert dialog.ok is not None
    assert not dialog.ok.isEnabled()
    dialog.progression.setText("1")
    qtbot.mouseClick(dialog.ok, LEFT)
    assert [g.ratio for g in window.session.vehicle.real.gears] == [8, 4, 2, 1, 5.4]


def test_the_ladder_shows_the_way_to_the_pairs(window: Window, press: Press) -> None:
    press(window, Qt.Key.Key_3)
    tab = ratios_tab(window)
    rows = [
        [tab.choice.rungs.text_at(row, column) for column in range(3)]
        for row in range(tab.choice.rungs.rowCount())
    ]
    assert rows[0] == ["2", "−4.76", "8:(28):16"]
    assert rows[-2] == ["21/10", "+0.00", say("tab-ratios.not-from-this-kit")]
    assert rows[-1] == ["25/12", "−0.79", "12:20 · 16:20, taken"]
    assert tab.choice.ladder_head.text() == say("tab-ratios.from-to-pairs", wanted="2.100")


def test_a_point_of_the_trade_offs_is_taken(qtbot: QtBot, window: Window, press: Press) -> None:
    tab = ratios_tab(window)
    qtbot.mouseClick(tab.set_panel.find_set, LEFT)
    qtbot.waitUntil(lambda: "gears" in tab.set_panel.chart.accessibleDescription(), timeout=30_000)
    points = tab.set_panel.chart.accessibleDescription().split("; ")
    code = "tab-ratios.gears-pairs-worst"
    passing = "driveline.about-of-the-power-passes-drag-left-out"
    assert len(points) == 2
    assert tells(points[0], code, gears="25", pairs="10", worst_error_percent="5.00")
    assert tells(points[1], code, gears="27", pairs="12", worst_error_percent="2.88")
    assert all(tells(point, passing, share="83") for point in points)
    qtbot.mouseClick(tab.set_panel.chart, LEFT, pos=tab.set_panel.chart.place_of(0).toPoint())
    assert "worst 5.0 %" in tab.set_panel.present.text()
    assert any("gear" in card.finding.title.lower() for card in window.drawer.cards)
    tab.set_panel.chart.setFocus()
    qtbot.keyClick(tab.set_panel.chart, Qt.Key.Key_Right)
    qtbot.keyClick(tab.set_panel.chart, Qt.Key.Key_Return)
    assert "worst 2.9 %" in tab.set_panel.present.text()
    press(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert "worst 5.0 %" in tab.set_panel.present.text()


def test_a_kept_train_is_left_alone(qtbot: QtBot, window: Window, press: Press) -> None:
    press(window, Qt.Key.Key_3)
    tab = ratios_tab(window)
    type_over(qtbot, tab.choice.counted, "8:24 · 28:20")
    assert tab.choice.keep.isEnabled()
    qtbot.mouseClick(tab.choice.keep, LEFT, pos=QPoint(8, tab.choice.keep.height() // 2))
    assert tab.choice.keep.isChecked()
    qtbot.mouseClick(tab.set_panel.find_set, LEFT)
    qtbot.waitUntil(
        lambda: tells(
            tab.set_panel.answers.text(), "tab-ratios.pairs-gears-worst", title="Least error"
        ),
        timeout=30_000,
    )
    qtbot.mouseClick(tab.set_panel.take_error, LEFT)
    assert tab.choice.counted.text() == "8:24 · 28:20"
    press(window, Qt.Key.Key_0)
    assert not tab.choice.keep.isEnabled()


@pytest.mark.qt_log_ignore("This plugin does not support")  # said by the offscreen platform
def test_a_pressed_gear_offers_other_sizes(qtbot: QtBot, window: Window, press: Press) -> None:
    press(window, Qt.Key.Key_3)
    tab = ratios_tab(window)
    tab.view.grab()
    spot = next(
        p for p in _around(tab.view.rect().center()) if tab.view.gears_at(p.toPointF()) == [0]
    )
    qtbot.mouseClick(tab.view, LEFT, pos=spot)
    words = [action.text() for action in tab.choice.sizes_menu.actions()]
    assert words[0] == "12 teeth: 2.083, −0.8 %, 0.87 m/s" + say("tab-ratios.as-now-2")
    assert words[1] == "16 teeth: 1.562, −25.6 %, 1.16 m/s"
    tab.choice.sizes_menu.actions()[1].trigger()
    tab.choice.sizes_menu.close()
    assert tab.choice.counted.text() == "16:20 · 16:20"
    press(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert tab.choice.counted.text() == "12:20 · 16:20"
    press(window, Qt.Key.Key_5)  # 16 over an idler of 16 to 16
    tab.view.grab()
    tab.choice.offer_sizes(1, QPoint(0, 0))
    assert "idler" in said(window)
