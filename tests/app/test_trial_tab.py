"""The tab Trial by mouse and keys: readings, the rig, a file, as built, the log."""

from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QFileDialog
from pytestqt.qtbot import QtBot

from examples import example_vehicle
from hands import said, type_cell
from mild_badger.app.drawing.tables import Table
from mild_badger.app.tabs.trial.tab import TrialTab
from mild_badger.app.window import Window
from mild_badger.core.message import say
from telling import tells

OpenWindow = Callable[..., Window]
LEFT = Qt.MouseButton.LeftButton


def tab_of(qtbot: QtBot, window: Window, page: int) -> TrialTab:
    window.show_tab("Trial")
    tab = window.tab
    assert isinstance(tab, TrialTab)
    qtbot.mouseClick(tab.pages, LEFT, pos=tab.pages.tabRect(page).center())
    return tab


def press_row(qtbot: QtBot, table: Table, row: int, x: int = 60) -> None:
    place = table.visualItemRect(table.item(row, 0)).center()
    qtbot.mouseClick(table.viewport(), LEFT, pos=QPoint(x, place.y()))


def test_readings_by_hand_lead_to_the_fault_and_to_the_next_reading(
    qtbot: QtBot, window: Window
) -> None:
    page = tab_of(qtbot, window, 0).list_page
    assert tells(
        page.view.accessibleDescription(), "tab-trial.nothing-has-been-read-yet-engage-a-position"
    )
    assert page.table.text_at(3, 2) == "2.083"
    press_row(qtbot, page.table, 3)
    assert window.session.situation.gear == "3"
    assert page.position.currentText() == "3"

    def note(given: str, taken: str) -> None:
        page.turned_in.setFocus()
        qtbot.keyClicks(page.turned_in, given)
        qtbot.keyClicks(page.turned_out, taken)
        qtbot.mouseClick(page.note, LEFT)

    note("25", "12")
    assert tells(page.verdict.text(), "trial.the-reading-is-as-planned")
    press_row(qtbot, page.table, 4)
    note("25", "twelve")
    assert tells(said(window), "targets.is-not-a-number-type-one-such-as-3-45", strip="'twelve'")
    page.turned_in.clear()
    page.turned_out.clear()
    page.percent.setText("0.5")
    note("25", "22.5")  # 0.9, not 0.72
    assert tells(
        page.verdict.text(),
        "trial.of-readings-not-as-planned",
        count_of_disagreeing="1",
        count_of_used="2",
        word="is",
    )
    assert "+25.00 %" in page.view.accessibleDescription()
    assert page.suspects.rowCount() > 1
    assert tells(page.next.text(), "trial.read-next-in")
    ask = page.diagnosis.next_reading if page.diagnosis else None
    assert ask is not None
    qtbot.mouseClick(page.go, LEFT)
    assert page.place.currentText() == ask.name
    page.grab()
    window.session.undo_stack.undo()
    assert tells(page.verdict.text(), "trial.the-reading-is-as-planned")


def test_a_position_is_ticked_and_a_jam_noted(qtbot: QtBot, window: Window) -> None:
    tab = tab_of(qtbot, window, 0)
    page = tab.list_page
    press_row(qtbot, page.table, 3)
    box = page.table.visualItemRect(page.table.item(2, 0))
    qtbot.mouseClick(page.table.viewport(), LEFT, pos=QPoint(box.left() + 11, box.center().y()))
    assert window.session.vehicle.trial.ticks == ("2",)
    assert tells(
        tab.heading.text(), "tab-trial.trial-of-positions-ticked-readings", ticks="1", count="8"
    )
    qtbot.mouseClick(page.jams, LEFT, pos=QPoint(8, page.jams.height() // 2))
    qtbot.mouseClick(page.note, LEFT)
    assert "jams" in page.view.accessibleDescription()
    assert any(
        tells(page.suspects.text_at(n, 1), "trial.is-fast-on-its-shaft-though-it-should-run")
        for n in range(page.suspects.rowCount())
    )
    qtbot.mouseClick(page.forget, LEFT)
    assert window.session.vehicle.trial.readings == ()
    assert not page.forget.isEnabled()


def test_the_rig_runs_in_its_own_time_and_its_fault_is_found(qtbot: QtBot, window: Window) -> None:
    window.session.engage("3")
    tab = tab_of(qtbot, window, 1)
    page = tab.tacho_page
    assert page.position.currentText() == "3"
    assert page.fault_kind.isVisible()
    page.rpm.setText("3000")
    page.seconds.setText("2")
    qtbot.mouseClick(page.start, LEFT)
    assert page.stop.isEnabled()
    qtbot.waitUntil(lambda: page.stream is None, timeout=8000)
    assert "rpm" in page.view.accessibleDescription()
    assert tells(page.ratio.text(), "trial.the-output-turns-for-one-of-the-input-95")
    assert "0.480" in page.ratio.text()
    assert tells(page.counts.text(), "trial.none-refused")
    # now a swapped pair, all at once
    page.fault_kind.setCurrentIndex(page.fault_kind.findData("swapped pair"))
    page.fault_kind.activated.emit(page.fault_kind.currentIndex())
    words = [page.fault.itemText(n) for n in range(page.fault.count())]
    page.fault.setCurrentIndex(
        next(n for n, w in enumerate(words) if w.startswith("gear 3, pair 2"))
    )
    page.seconds.setText("20")
    qtbot.mouseClick(page.hurry, LEFT)
    qtbot.mouseClick(page.note, LEFT)
    reading = window.session.vehicle.trial.readings[0]
    assert reading.source == "tachometer"
    assert reading.turns == pytest.approx(0.75, rel=1e-3)
    page.grab()
    qtbot.mouseClick(tab.pages, LEFT, pos=tab.pages.tabRect(0).center())
    found = [tab.list_page.suspects.text_at(n, 1) for n in range(tab.list_page.suspects.rowCount())]
    assert any(
        "Gear 3, pair 2" in words and tells(words, "trial.and-driven-changed-over-drives")
        for words in found[:3]
    )


def test_a_file_of_pulses_is_read_and_nonsense_refused(
    qtbot: QtBot, window: Window, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window.session.engage("5")
    page = tab_of(qtbot, window, 1).tacho_page
    page.kind.setCurrentIndex(page.kind.findData("file"))
    page.kind.activated.emit(page.kind.currentIndex())
    assert not page.fault_kind.isVisible()
    qtbot.mouseClick(page.start, LEFT)
    assert tells(said(window), "tab-trial.choose-a-file-or-a-serial-device-first")
    path = tmp_path / "run.csv"
    lines = [f"{n * 33_333},1" for n in range(300)]
    lines += [f"{n * 33_333},2" for n in range(300)]
    lines.sort(key=lambda line: int(line.split(",")[0]))
    lines[7:7] = ["rubbish", "5,1"]
    path.write_text("\n".join(lines))
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_a, **_k: (str(path), ""))
    qtbot.mouseClick(page.choose, LEFT)
    assert page.path_words.text() == "run.csv"
    qtbot.mouseClick(page.start, LEFT)
    qtbot.waitUntil(lambda: page.stream is None, timeout=5000)
    assert tells(page.counts.text(), "trial.of-them-with-a-time-before-the-last")
    assert tells(page.ratio.text(), "trial.the-output-turns-for-one-of-the-input-95")
    assert "1.00000 ±" in page.ratio.text()
    path.unlink()
    qtbot.mouseClick(page.start, LEFT)
    assert tells(said(window), "trial.cannot-be-read")


def test_what_was_measured_asks_to_trim_a_spacer(qtbot: QtBot, open_window: OpenWindow) -> None:
    window = open_window(example_vehicle("larkholm-timber-tractor"))
    page = tab_of(qtbot, window, 2).built_page
    press_row(qtbot, page.table, 3)
    assert tells(page.advice.text(), "trial.of-end-play-as-it-should-be")
    row = next(
        n for n in range(page.parts.rowCount()) if page.parts.text_at(n, 0).startswith("gear")
    )
    type_cell(qtbot, page.parts, row, 2, "9,6")
    assert tells(page.advice.text(), "trial.trim-the-spacer-of-by-to-then-are-left")
    assert tells(page.view.accessibleDescription(), "trial.trim-the-spacer-of-by-to-then-are-left")
    page.grab()
    type_cell(qtbot, page.parts, row, 2, "thick")
    assert tells(said(window), "targets.is-not-a-number-type-one-such-as-3-45")
    assert page.parts.text_at(row, 2) == "9.60"
    page.parts.setCurrentCell(row, 2)
    qtbot.keyClick(page.parts, Qt.Key.Key_Delete)  # nothing measured
    assert tells(page.advice.text(), "trial.of-end-play-as-it-should-be")


def test_the_log_is_written_found_watched_and_written_out(
    qtbot: QtBot, window: Window, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    tab = tab_of(qtbot, window, 3)
    page = tab.log_page
    qtbot.mouseClick(page.write, LEFT)
    assert tells(said(window), "trial.say-what-was-changed-why-or-what-was-seen")
    page.tied.setEditText("Tie gear 1")
    qtbot.keyClicks(page.written["changed"], "filed the hub")
    qtbot.keyClicks(page.ran, "2.5")
    qtbot.mouseClick(page.write, LEFT)
    assert tab.heading.text() == say("tab-trial.log-entries-h-run", count_of_entries="1", hours=2.5)
    assert page.written["changed"].toPlainText() == ""
    page.tied.setEditText("Tie gear 1")
    qtbot.keyClicks(page.every, "2")
    qtbot.mouseClick(page.renewed, LEFT)
    assert tells(said(window), "tab-trial.choose-a-part-in-the-list-of-what-wears")
    watch = page.every.parentWidget()
    assert watch is not None
    page._watch()
    assert tells(page.wear.text_at(0, 0), "trial.in-h", what="look at Tie gear 1", left="2")
    qtbot.keyClicks(page.written["seen"], "noise gone")
    qtbot.keyClicks(page.ran, "2")
    qtbot.mouseClick(page.write, LEFT)
    assert page.wear.text_at(0, 1) == "due"
    titles = [f.title for f in window.session.evaluation.findings if f.code == "wear-due"]
    assert [title.split(" ", 2)[2] for title in titles] == ["Tie gear 1"]
    qtbot.keyClicks(page.search, "HUB")
    assert page.table.rowCount() == 1
    press_row(qtbot, page.table, 0)
    assert "filed the hub" in page.whole.text()
    target = tmp_path / "log.md"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(target), ""))
    page._markdown()
    assert "- Changed: filed the hub" in target.read_text()
    assert "noise gone" not in target.read_text()
    at = page.stages.place(2).toPoint()
    qtbot.mouseClick(page.stages, LEFT, pos=at)
    assert [m.stage for m in window.session.vehicle.log.milestones] == ["parts made"]
    page.grab()
    qtbot.mouseClick(page.stages, LEFT, pos=at)
    assert window.session.vehicle.log.milestones == ()


def test_a_function_box_s_steps_are_ticked_too(qtbot: QtBot, open_window: OpenWindow) -> None:
    window = open_window(example_vehicle("larkholm-street-sweeper"))
    tab = tab_of(qtbot, window, 0)
    page = tab.list_page
    rows = [page.table.text_at(n, 1) for n in range(page.table.rowCount())]
    row = next(n for n, words in enumerate(rows) if words.startswith("Position "))
    page.table.scrollToItem(page.table.item(row, 0))
    box = page.table.visualItemRect(page.table.item(row, 0))
    qtbot.mouseClick(page.table.viewport(), LEFT, pos=QPoint(box.left() + 11, box.center().y()))
    assert len(window.session.vehicle.trial.ticks) == 1
    assert tells(
        tab.heading.text(),
        "tab-trial.trial-of-positions-ticked-readings",
        ticks="1",
        count=str(len(rows)),
    )
    page.grab()
