"""The pages of the tab Ratios, the limits and the kit editor, driven as a builder would."""

from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QFileDialog
from pytestqt.qtbot import QtBot

from examples import example_vehicle
from hands import said, type_cell, type_over
from mild_badger.app.kits.editor import KitDialog, _added_bearing, _added_gear
from mild_badger.app.tabs.ratios.limits import LimitsDialog
from mild_badger.app.tabs.ratios.tab import RatiosTab
from mild_badger.app.tabs.shift.tab import ShiftTab
from mild_badger.app.tabs.vehicle.tab import VehicleTab
from mild_badger.app.window import Window
from mild_badger.core.figures import plain
from mild_badger.core.kit.catalogue import shipped_kit
from mild_badger.core.message import say
from mild_badger.core.vehicle.blank import blank_vehicle
from mild_badger.core.vehicle.demo import demo_vehicle
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import SearchSettings
from mild_badger.files.kit_file import load_kit
from strategies import vehicle_of
from telling import tells

LEFT = Qt.MouseButton.LeftButton
OpenWindow = Callable[..., Window]

# the offscreen platform says so of every dialog and menu
pytestmark = pytest.mark.qt_log_ignore("propagateSizeHints", "This plugin does not support")


def ratios(window: Window, page: str) -> RatiosTab:
    window.show_tab("Ratios")
    tab = window.tab
    assert isinstance(tab, RatiosTab)
    tab.show_page(page)
    return tab


def choose(combo: object, data: object) -> None:
    """Choose an entry as a press on it would."""
    combo.setCurrentIndex(combo.findData(data))  # type: ignore[attr-defined]
    combo.activated.emit(combo.currentIndex())  # type: ignore[attr-defined]


def most_gears(window: Window) -> int | None:
    return window.session.vehicle.search.max_gears


def words_of(tab: RatiosTab, gear: str) -> str:
    table = tab.box_page.table
    row = next(r for r in range(table.rowCount()) if table.text_at(r, 0) == gear)
    return " ".join(table.text_at(row, c) for c in range(table.columnCount()))


def architecture(window: Window) -> str:
    return window.session.vehicle.box.architecture


def test_a_box_that_exists_is_typed_in(qtbot: QtBot, open_window: OpenWindow) -> None:
    vehicle = vehicle_of(4.0, 2.0, 1.0, reverse=4.5)
    window = open_window(vehicle.model_copy(update={"kit": shipped_kit("wood-shop")}))
    tab = ratios(window, "box")
    page = tab.box_page
    choose(page.architecture, "layshaft")
    assert not tells(
        page.view.accessibleDescription(), "drawing.no-pairs-yet-type-the-counted-teeth-below-or"
    )
    type_cell(qtbot, page.shared, 0, 1, "18:36")
    type_cell(qtbot, page.table, 0, 1, "18:36")
    assert "4.000" in words_of(tab, "1")
    assert "forwards +" in words_of(tab, "1")
    type_cell(qtbot, page.table, 1, 1, "27:27")
    assert "2.000" in words_of(tab, "1")  # the step to second, and second itself
    type_cell(qtbot, page.table, 3, 1, "13:(20):27")
    assert "backwards" in words_of(tab, "R")
    mark = page.table.item(2, 3)
    assert mark is not None
    mark.setCheckState(Qt.CheckState.Checked)
    assert "direct" in words_of(tab, "3")
    assert "gear 2: 27:27, serves 2" in page.view.accessibleDescription()
    type_cell(qtbot, page.table, 1, 1, "27:33")
    assert say("gears.gear-a-pair-does-not-fit-between-its-shafts", name="2") in [
        card.finding.title for card in window.drawer.cards
    ]
    type_cell(qtbot, page.table, 1, 1, "27;x")
    assert tells(said(window), "ratios.is-no-pair-of-tooth-counts-write-driver")
    type_cell(qtbot, page.table, 1, 4, "second floor")
    assert tells(said(window), "tab-ratios.place-of-gear-is-none-type-a-column-and-a")
    type_cell(qtbot, page.table, 1, 4, "3 back")
    assert "3 back" in words_of(tab, "2")
    choose(page.engagement, "slide")
    assert "slide" in str(window.session.vehicle.box.model_dump())


def test_a_range_box_is_typed_in(qtbot: QtBot, open_window: OpenWindow) -> None:
    vehicle = vehicle_of(4.0, 3.0, 2.0, 1.5)
    window = open_window(vehicle.model_copy(update={"kit": shipped_kit("wood-shop")}))
    tab = ratios(window, "box")
    page = tab.box_page
    choose(page.architecture, "range-splitter")
    for row, teeth in enumerate(("20:40", "24:36", "20:40", "30:30")):
        type_cell(qtbot, page.shared, row, 1, teeth)
    qtbot.mouseClick(page.more["ranges"], LEFT)
    assert page.shared.rowCount() == 6
    for row, (splitter, range_) in enumerate((("1", "1"), ("2", "1"), ("1", "2"), ("2", "2"))):
        type_cell(qtbot, page.table, row, 1, splitter)
        type_cell(qtbot, page.table, row, 2, range_)
    assert [window.gears.button_of(g).words().split(",")[0] for g in "1234"] == [
        "Gear 1: 4.000",
        "Gear 2: 3.000",
        "Gear 3: 2.000",
        "Gear 4: 1.500",
    ]
    type_cell(qtbot, page.table, 0, 1, "7")
    assert tells(said(window), "vehicle.gear-asks-for-splitter-and-range-there-are", splitter="7")
    assert page.table.text_at(0, 1) == "1"


def test_a_gear_of_a_range_box_keeps_its_pairs(qtbot: QtBot, open_window: OpenWindow) -> None:
    vehicle = vehicle_of(4.1, 3.02, 2.1, 1.6)
    window = open_window(vehicle.model_copy(update={"kit": shipped_kit("wood-shop")}))
    page = ratios(window, "box").box_page
    choose(page.architecture, "range-splitter")
    for row, teeth in enumerate(("20:40", "24:36", "20:40", "30:30")):
        type_cell(qtbot, page.shared, row, 1, teeth)
    for row, (splitter, range_) in enumerate((("1", "1"), ("2", "1"), ("1", "2"), ("2", "2"))):
        type_cell(qtbot, page.table, row, 1, splitter)
        type_cell(qtbot, page.table, row, 2, range_)
    tab = ratios(window, "gear")
    window.gears.button_of("2").click()
    assert tab.choice.keep.isEnabled()
    qtbot.mouseClick(tab.choice.keep, LEFT)
    before = window.session.vehicle.box.chain("2")
    qtbot.mouseClick(tab.set_panel.find_set, LEFT)
    qtbot.waitUntil(tab.set_panel.take_error.isEnabled, timeout=30_000)
    qtbot.mouseClick(tab.set_panel.take_error, LEFT)
    after = window.session.vehicle.box
    assert [link.pair for link in after.chain("2")] == [link.pair for link in before]
    assert "Gear 2: 3.000" in window.gears.button_of("2").words()


def test_a_second_train_is_summed(qtbot: QtBot, window: Window) -> None:
    tab = ratios(window, "box")
    page = tab.box_page
    type_cell(qtbot, page.table, 4, 2, "20:(16):16")
    # half of 1 and 5/4 turns out is 9/8: 0.889 turns in
    assert "0.889" in words_of(tab, "5")
    window.session.engage("5")
    tab.show_page("gear")
    assert tab.facts.text().startswith(
        say("tab-ratios.half-of-and-in-turns-out", ratio="8/9", words="1", train_fractions="4/5")
    )


def test_the_change_gear_is_marked_and_swapped(qtbot: QtBot, window: Window) -> None:
    tab = ratios(window, "box")
    page = tab.box_page
    assert page.sizes.rowCount() == 0
    place = next(
        n
        for n in range(page.place.count())
        if tells(
            page.place.itemText(n),
            "gear-alternatives.teeth-of",
            train_title="final drive",
            driver="8",
            driver_2="8",
        )
    )
    page.place.setCurrentIndex(place)
    page.place.activated.emit(place)
    rows = [page.sizes.text_at(r, 0) for r in range(page.sizes.rowCount())]
    assert "8" in rows
    now, other = rows.index("8"), next(r for r in range(len(rows)) if rows[r] != "8")
    assert page.sizes.text_at(now, 6) == say("tab-ratios.as-now")
    assert page.sizes.isColumnHidden(5)
    before = window.session.evaluation.gear("6")
    page.sizes.selectRow(other)
    page.sizes.itemActivated.emit(page.sizes.item(other, 0))
    after = window.session.evaluation.gear("6")
    assert before is not None
    assert after is not None
    assert before.speed_mm_s is not None
    assert after.speed_mm_s is not None
    assert after.speed_mm_s / before.speed_mm_s == pytest.approx(int(rows[other]) / 8)
    choose(page.place, None)
    assert window.session.vehicle.change_gear is None


def test_architectures_are_compared_and_taken(qtbot: QtBot, open_window: OpenWindow) -> None:
    vehicle = vehicle_of(3.0, 2.0, 1.4, 1.0)
    kit = shipped_kit("wood-shop")
    assert kit.made is not None
    small = kit.model_copy(update={"made": kit.made.model_copy(update={"most_teeth": 40})})
    window = open_window(vehicle.model_copy(update={"kit": small}))
    window.compare()
    tab = window.tab
    assert isinstance(tab, RatiosTab)
    page = tab.compare_page
    assert tab.facts.text() == "Comparing …"
    qtbot.waitUntil(lambda: page.table.rowCount() == 8, timeout=60_000)
    assert tells(
        tab.facts.text(),
        "tab-ratios.of-keep-every-gear-within-length-is-an",
        count_of__offers="8",
        limit="3",
    )
    titles = [page.table.text_at(row, 0) for row in range(8)]
    page.table.selectRow(titles.index("range × splitter"))
    assert tells(page.order.text(), "tab-ratios.shift-order-splitter-range-marks-a-speed")
    page.table.selectRow(titles.index("two-shaft box"))
    assert page.detail.rowCount() == 4
    worst = page.table.text_at(titles.index("two-shaft box"), 2)
    qtbot.mouseClick(page.take, LEFT)
    assert architecture(window) == "two-shaft"
    assert f"{window.session.evaluation.worst_error_percent:.2f}" == worst
    assert not [c for c in window.drawer.cards if c.finding.severity.value == "error"]
    assert page.table.text_at(0, 0) == say("vehicle.slot-box")  # the comparison still stands
    page.table.selectRow(titles.index("lever drive"))
    assert page.detail.text_at(0, 4).startswith("fulcrum ")
    qtbot.mouseClick(page.take, LEFT)
    assert architecture(window) == "lever"
    window.session.do(Edit.one("x", ("real", "gears", 0, "ratio"), 3.3))
    assert page.table.rowCount() == 0  # it was an answer to another question


def test_a_comparison_is_cancelled(qtbot: QtBot, open_window: OpenWindow) -> None:
    vehicle = example_vehicle("larkholm-timber-tractor")
    window = open_window(vehicle)
    window.compare()
    qtbot.waitUntil(lambda: "Comparing" in window.progress_words.text(), timeout=10_000)
    qtbot.waitUntil(lambda: window.progress.value() > 0, timeout=60_000)
    qtbot.mouseClick(window.cancel, LEFT)
    window.worker.wait()
    tab = window.tab
    assert isinstance(tab, RatiosTab)
    assert tab.compare_page.table.rowCount() == 0
    assert tells(tab.facts.text(), "tab-ratios.runs-every-architecture-on-these-targets-the")


def test_what_binds_is_said_and_the_way_out(qtbot: QtBot, open_window: OpenWindow) -> None:
    window = open_window(
        vehicle_of(2.4, 1.1).model_copy(
            update={"search": SearchSettings(max_pairs=1, tolerance_percent=2.0)}
        )
    )
    tab = ratios(window, "gear")
    qtbot.mouseClick(tab.set_panel.find_set, LEFT)
    qtbot.waitUntil(
        lambda: tells(tab.set_panel.answers.text(), "tab-ratios.nothing-fits-you-could"),
        timeout=30_000,
    )
    assert tells(tab.set_panel.answers.text(), "tab-ratios.nothing-fits-you-could")
    qtbot.mouseClick(tab.set_panel.limits, LEFT)
    dialog = tab.set_panel.findChild(LimitsDialog)
    assert dialog is not None
    type_over(qtbot, dialog.numbers["max_gears"], "6")
    qtbot.mouseClick(dialog.checks["within_stock"], LEFT, pos=QPoint(8, 8))
    assert most_gears(window) == 6
    assert window.session.vehicle.search.within_stock
    assert tab.set_panel.limits.text() == "Limits (2) …"
    assert not tells(tab.set_panel.answers.text(), "tab-ratios.nothing-fits-you-could")
    type_over(qtbot, dialog.numbers["max_gears"], "many")
    assert tells(said(dialog), "targets.is-not-a-number-type-one-such-as-3-45")
    type_over(qtbot, dialog.numbers["max_gears"], "")
    assert most_gears(window) is None
    dialog.close()


def test_the_chart_turns_to_lost_power(qtbot: QtBot, window: Window) -> None:
    tab = ratios(window, "gear")
    qtbot.mouseClick(tab.set_panel.find_set, LEFT)
    chart = tab.set_panel.chart
    qtbot.waitUntil(lambda: "gears" in chart.accessibleDescription(), timeout=30_000)
    choose(tab.set_panel.against, "loss")
    assert tells(chart.accessibleDescription(), "driveline.about-of-the-power-passes-drag-left-out")
    words = chart.accessibleDescription().split("; ")[0]
    qtbot.mouseClick(chart, LEFT, pos=chart.place_of(0).toPoint())
    worst = window.session.evaluation.worst_error_percent
    assert f"worst {worst:.2f} %" in words


def test_a_large_kit_s_trains_come_when_they_are_ready(
    qtbot: QtBot, open_window: OpenWindow
) -> None:
    kit = shipped_kit("printed")
    window = open_window(example_vehicle().model_copy(update={"kit": kit}))
    window.session.engage("3")
    tab = ratios(window, "gear")
    qtbot.waitUntil(lambda: tab.choice.table.rowCount() > 0, timeout=60_000)
    assert tells(tab.choice.list_head.text(), "tab-ratios.trains-within-turning", limit="3")
    assert say("ratios.final-drive-needs-a-gear-that-is-not-in-the") in [
        card.finding.title for card in window.drawer.cards
    ]


@pytest.fixture
def kit_dialog(window: Window) -> Iterator[KitDialog]:
    """The kit editor on the demo vehicle."""
    dialog = window.edit_kit()
    yield dialog
    dialog.close()


def test_the_kits_changes_are_undone_in_its_own_window(
    qtbot: QtBot, window: Window, kit_dialog: KitDialog
) -> None:
    kit_dialog.activateWindow()
    qtbot.waitUntil(kit_dialog.isActiveWindow)
    table = kit_dialog.gears
    before = table.text_at(0, 5)
    type_cell(qtbot, table, 0, 5, "3")
    assert table.text_at(0, 5) == "3"
    qtbot.keyClick(table, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert table.text_at(0, 5) == before
    qtbot.keyClick(
        table, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier
    )
    assert table.text_at(0, 5) == "3"
    assert window.session.vehicle.kit.gears[0].stock == 3


def test_the_kit_is_edited(qtbot: QtBot, window: Window, kit_dialog: KitDialog) -> None:
    type_cell(qtbot, kit_dialog.gears, 0, 5, "3")
    assert window.session.vehicle.kit.gears[0].stock == 3
    barred = kit_dialog.gears.item(0, 6)
    assert barred is not None
    barred.setCheckState(Qt.CheckState.Checked)
    assert window.session.vehicle.kit.barred == (8,)
    assert kit_dialog.barred.text() == "8"
    assert any(card.finding.code == "barred" for card in window.drawer.cards)
    type_over(qtbot, kit_dialog.barred, "none of them")
    assert tells(said(kit_dialog), "mesh.sizes-is-no-tooth-count-type-11-13-15")
    type_over(qtbot, kit_dialog.barred, "")
    type_cell(qtbot, kit_dialog.gears, 0, 0, "9")
    assert window.session.vehicle.kit.gears[0].tip_diameter_mm == 11
    type_cell(qtbot, kit_dialog.gears, 0, 1, "square")
    assert tells(said(kit_dialog), "kits.of-the", title="Bore", gear="9-tooth gear")
    assert kit_dialog.gears.text_at(0, 1) == "fixed"
    qtbot.mouseClick(kit_dialog.made, LEFT, pos=QPoint(8, 8))
    assert window.session.vehicle.kit.made is not None
    type_over(qtbot, kit_dialog.entries["made.most_teeth"], "5")
    assert "made-range" in [f.code for f in window.session.evaluation.findings]
    kit_dialog._add(_added_bearing)
    last = len(kit_dialog.bearings.records) - 1
    type_cell(qtbot, kit_dialog.bearings, last, 1, "roller")
    type_cell(qtbot, kit_dialog.bearings, last, 5, "1,25")
    made = window.session.vehicle.kit.bearings[last]
    assert (made.takes_thrust, made.price) == (False, 1.25)
    type_cell(qtbot, kit_dialog.bearings, last, 1, "magic")
    assert kit_dialog.bearings.text_at(last, 1) == "roller"
    window.session.undo_stack.undo()
    window.session.undo_stack.undo()
    window.session.undo_stack.undo()
    kit_dialog._add(_added_gear)
    assert len(kit_dialog.gears.records) == 11
    kit_dialog.gears.selectRow(10)
    kit_dialog._remove("gears", kit_dialog.gears)
    assert len(kit_dialog.gears.records) == 10
    window.session.undo_stack.undo()
    assert len(kit_dialog.gears.records) == 11


def test_kits_are_kept_saved_and_imported(
    qtbot: QtBot,
    window: Window,
    kit_dialog: KitDialog,
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    kit_dialog.keep_wanted.emit()
    assert window.session.vehicle.kit.name == "Brick grid 2"
    names = [kit_dialog.others.itemText(n) for n in range(kit_dialog.others.count())]
    assert "mine: Brick grid 2" in names
    choose(kit_dialog.others, "wood-shop")
    assert window.session.vehicle.kit.kind == "wood"
    assert "10 to 16" in kit_dialog.undercut.text()
    assert tells(window.kit_words.text(), "window.kit-2", made="Wood shop, gears cut as needed")
    mine = next(n for n, text in enumerate(names) if text.startswith("mine"))
    kit_dialog.others.setCurrentIndex(mine)
    kit_dialog.others.activated.emit(mine)
    assert window.session.vehicle.kit.name == "Brick grid 2"
    file = tmp_path / "bench.kit.json"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a: (str(file), ""))
    kit_dialog.save_wanted.emit()
    assert load_kit(str(file)) == window.session.vehicle.kit
    file.write_text(file.read_text().replace('"module_mm": 1.0', '"module_mm": "one"'))
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_a: (str(file), ""))
    kit_dialog.import_wanted.emit()
    assert "bench.kit.json: Module" in said(kit_dialog)
    assert not window.files.save_kit_to(tmp_path / "missing" / "x.kit.json")
    assert tells(said(kit_dialog), "files.cannot-write")
    file.write_text("{")
    kit_dialog.import_wanted.emit()
    assert "line 1" in said(kit_dialog)
    assert window.session.vehicle.kit.name == "Brick grid 2"


def test_other_boxes_are_drawn_as_lines_and_engaged(qtbot: QtBot, open_window: OpenWindow) -> None:
    window = open_window(example_vehicle("larkholm-timber-tractor"))
    window.show_tab("Shift")
    tab = window.tab
    assert isinstance(tab, ShiftTab)
    assert tells(
        tab.heading.text(), "tab-shift.speeds-on", count_of_slots="6", engaged="3 sleeves, neutral"
    )
    assert tells(
        tab.lines.accessibleDescription(),
        "drawing.serves",
        train_title="input pair",
        value="12:27",
        gears="1, 2, 3, 4, R",
    )
    tab.lines.grab()
    qtbot.mouseClick(tab.lines, LEFT, pos=tab.lines.spot_of("3").toPoint())
    assert window.session.situation.gear == "3"
    assert tells(tab.heading.text(), "tab-shift.gear-in", name="3")


def test_the_saw_tooth_follows_the_shift_speed(qtbot: QtBot, window: Window) -> None:
    tab = window.tab
    assert isinstance(tab, VehicleTab)
    tab.pictures.setCurrentIndex(1)
    assert tab.saw.isVisible()
    assert tells(
        plain(tab.saw.words()),
        "tab-ratios.gear-4",
        name="6",
        shown="real",
        value="from 78 % to 104.0 km/h",
    )
    type_over(qtbot, tab.fields["real", "shift_rpm"], "1450")
    assert tells(
        plain(tab.saw.words()),
        "tab-ratios.gear-4",
        name="6",
        shown="real",
        value="from 78 % to 52.0 km/h",
    )
    type_over(qtbot, tab.fields["real", "shift_rpm"], "9000")
    assert "shift-speed" in [f.code for f in window.session.evaluation.findings]
    type_over(qtbot, tab.fields["real", "shift_rpm"], "")
    assert window.session.vehicle.real.shift_rpm is None
    assert not tab.saw.grab().isNull()


def test_errors_follow_the_way_ratios_are_written(qtbot: QtBot, window: Window) -> None:
    """Column and table of the box: the sign turns over with the ratios."""
    window.show_page("Ratios", "box")
    gear = next(g for g in window.session.evaluation.gears if (g.error_percent or 0) > 1)
    percent = gear.error_percent or 0.0
    table = ratios(window, "box").box_page.table

    def cells() -> set[str]:
        return {table.text_at(row, n) for row in range(7) for n in range(table.columnCount())}

    assert f"error {percent:+.1f} %" in window.gears.button_of(gear.id).words()
    assert f"{percent:+.2f}" in cells()
    qtbot.keyClick(window, Qt.Key.Key_T, Qt.KeyboardModifier.ControlModifier)
    other = f"{100 * (1 / (1 + percent / 100) - 1):+.2f}".replace("-", "−")
    assert f"error {other[:4]}" in window.gears.button_of(gear.id).words()
    assert other in cells()


def test_a_set_without_any_error_is_drawn(qtbot: QtBot, open_window: OpenWindow) -> None:
    """A new vehicle's first set in wood may be exact in every gear."""
    kit = shipped_kit("wood-shop")
    made = kit.made.model_copy(update={"most_teeth": 40}) if kit.made else None
    window = open_window(blank_vehicle(kit.model_copy(update={"made": made})))
    tab = ratios(window, "gear")
    qtbot.mouseClick(tab.set_panel.find_set, LEFT)
    qtbot.waitUntil(lambda: bool(tab.set_panel.chart._points), timeout=60_000)
    assert {p.found.worst_error_percent for p in tab.set_panel.chart._points} == {0.0}
    assert not tab.set_panel.chart.grab().isNull()


def test_the_way_of_the_power_is_seen_in_space(qtbot: QtBot, open_window: OpenWindow) -> None:
    window = open_window(demo_vehicle("larkholm-timber-tractor"))
    window.session.engage("2")
    window.show_tab("Ratios")
    tab = window.tab
    assert isinstance(tab, RatiosTab)
    tab.in_space.click()
    qtbot.waitUntil(lambda: tab.space.drawn_finely)
    second = set(tab.space.parts)
    assert {"gear", "shaft", "sleeve"} <= {part.kind for part in second}
    assert set(tab.space.roles()) == {"run"}
    window.session.engage("R")
    qtbot.waitUntil(lambda: tab.space.drawn_finely)
    assert set(tab.space.parts) != second
    assert set(tab.space.roles()) == {"back"}
    window.session.engage(None)
    assert tab.space.parts == ()
    assert tab.space.words() == say("tab-ratios.engage-a-gear-to-see-its-train")
    tab.in_space.click()
    assert tab.view.isVisible()
