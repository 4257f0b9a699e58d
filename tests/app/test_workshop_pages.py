"""The tab Workshop's templates: chosen, changed and saved by mouse and keys."""

from collections.abc import Callable
from pathlib import Path

import ezdxf
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QFileDialog, QLineEdit
from pytestqt.qtbot import QtBot

from examples import example_vehicle
from hands import said, type_over
from mild_badger.app.tabs.workshop.tab import WorkshopTab
from mild_badger.app.tabs.workshop.templates_page import TemplatesPage
from mild_badger.app.window import Window
from mild_badger.core.message import say
from telling import tells

OpenWindow = Callable[..., Window]
LEFT = Qt.MouseButton.LeftButton


def templates(qtbot: QtBot, window: Window) -> TemplatesPage:
    window.show_tab("Workshop")
    tab = window.tab
    assert isinstance(tab, WorkshopTab)
    at = tab.pages.tabRect(1).center()
    qtbot.mouseClick(tab.pages, LEFT, pos=at)
    return tab.templates_page


def choose(qtbot: QtBot, page: TemplatesPage, words: str) -> None:
    row = next(n for n in range(page.table.rowCount()) if page.table.text_at(n, 0) == words)
    page.table.scrollToItem(page.table.item(row, 0))
    place = page.table.visualItemRect(page.table.item(row, 0)).center()
    qtbot.mouseClick(page.table.viewport(), LEFT, pos=QPoint(20, place.y()))


def type_into(qtbot: QtBot, page: TemplatesPage, name: str, text: str) -> None:
    field = next(c.entries[name] for c in (page.own, page.ways, page.bodies) if name in c.entries)
    assert isinstance(field, QLineEdit)
    field.setFocus()
    field.selectAll()
    qtbot.keyClicks(field, text)
    qtbot.keyClick(field, Qt.Key.Key_Return)


def test_a_gear_is_chosen_given_a_cut_and_saved(
    qtbot: QtBot, open_window: OpenWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = open_window(example_vehicle("larkholm-timber-tractor"))
    page = templates(qtbot, window)
    choose(qtbot, page, "27-tooth gear")
    assert (
        say("workshop.gear-of-teeth", teeth="27", bore="f", by="ixed")
        in page.view.accessibleDescription()
    )
    assert "bore 8.00 mm, press on 8" in page.view.accessibleDescription()
    assert say("tab-workshop.no-kerf-is-allowed-for") in page.words.text()
    type_into(qtbot, page, "press_mm", "0.12")
    assert "bore 8.12 mm" in page.view.accessibleDescription()
    type_into(qtbot, page, "kerf_mm", "0.3")
    assert tells(
        page.words.text(),
        "tab-workshop.svg-and-dxf-lines-stand-off-by-for-the-cut",
        kerf_mm="0.15 mm",
    )
    target = tmp_path / "gear.dxf"
    monkeypatch.setattr(
        QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(target), "DXF (*.dxf)")
    )
    qtbot.mouseClick(page.save, LEFT)
    assert tells(said(window), "window.wrote", name="gear.dxf")
    circles = [
        e for e in ezdxf.readfile(target).modelspace().query("CIRCLE") if e.dxf.layer == "cut"
    ]
    assert [2 * c.dxf.radius for c in circles] == [pytest.approx(8.12 - 0.3)]
    # nonsense is refused, and a cut wider than the gaps says what to do
    type_into(qtbot, page, "kerf_mm", "wide")
    assert tells(said(window), "targets.is-not-a-number-type-one-such-as-3-45")
    type_into(qtbot, page, "kerf_mm", "7")
    assert tells(
        page.view.accessibleDescription(),
        "templates.a-hole-or-a-gap-between-teeth-is-narrower",
        kerf_mm="7 mm",
    )
    assert not page.save.isEnabled()
    page.grab()  # the sentence is drawn without trouble
    window.session.undo_stack.undo()
    assert page.save.isEnabled()


def test_walls_are_named_and_a_brick_kit_says_what_comes_ready(
    qtbot: QtBot, open_window: OpenWindow
) -> None:
    window = open_window(example_vehicle("larkholm-timber-tractor"))
    page = templates(qtbot, window)
    choose(qtbot, page, "front wall")
    assert tells(
        page.view.accessibleDescription(),
        "workshop.thick-seen-from-the-input-end",
        name="front wall",
        thick_mm="8 mm",
    )
    assert tells(page.words.text(), "caution.4")
    page.grab()
    window.close()
    brick = templates(qtbot, open_window(example_vehicle()))
    names = [brick.table.text_at(n, 0) for n in range(brick.table.rowCount())]
    assert names == ["fit test strip", "gear of your own, 24 teeth"]
    assert tells(brick.words.text(), "tab-workshop.gears-and-beams-of-this-kit-come-ready")
    assert "Saws" not in brick.words.text()
    assert "fingers" not in brick.words.text()  # nothing runs here
    choose(qtbot, brick, "gear of your own, 24 teeth")
    assert brick.own.isVisible()
    type_into(qtbot, brick, "teeth", "150")
    assert tells(brick.view.accessibleDescription(), "workshop.gear-of-teeth", teeth="150")
    assert tells(
        brick.words.text(), "tab-workshop.on-paper-with-a-ruler-to-check", sheets="4 sheets of A4"
    )
    type_into(qtbot, brick, "shift", "1.4")
    type_into(qtbot, brick, "teeth", "8")
    assert tells(
        brick.view.accessibleDescription(), "templates.teeth-with-a-shift-of-come-to-a-point"
    )


def test_rods_are_cut_anew_when_they_come_shorter(qtbot: QtBot, open_window: OpenWindow) -> None:
    window = open_window(example_vehicle("larkholm-timber-tractor"))
    templates(qtbot, window)
    tab = window.tab
    assert isinstance(tab, WorkshopTab)
    qtbot.mouseClick(tab.pages, LEFT, pos=tab.pages.tabRect(2).center())
    page = tab.cut_page
    told = page.view.accessibleDescription()
    assert tells(
        told, "workshop.of-2", material="shaft rod, 8 mm", rod="2 rods", stock_mm="1000 mm"
    )
    assert "shaft B 169.6" in told
    page.view.grab()
    field = page.fields["rod_mm"]
    field.setFocus()
    field.selectAll()
    qtbot.keyClicks(field, "140")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    told = page.view.accessibleDescription()
    assert tells(told, "workshop.longer-than-a-rod", names="shaft D, shaft B")
    assert "of 140 mm" in told
    page.view.grab()
    qtbot.mouseClick(tab.pages, LEFT, pos=tab.pages.tabRect(0).center())
    window.session.undo_stack.undo()  # nothing to be asked about when it closes
    window.close()
    bus = open_window(example_vehicle())
    bus.show_tab("Workshop")
    other = bus.tab
    assert isinstance(other, WorkshopTab)
    other.show_page("cut")
    assert tells(
        other.cut_page.view.accessibleDescription(),
        "tab-workshop.nothing-is-cut-to-length-here-the-kit-sells",
    )


def test_boards_are_shown_and_saved_with_all_their_parts(
    qtbot: QtBot, open_window: OpenWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = open_window(example_vehicle("larkholm-timber-tractor"))
    window.show_tab("Workshop")
    tab = window.tab
    assert isinstance(tab, WorkshopTab)
    qtbot.mouseClick(tab.pages, LEFT, pos=tab.pages.tabRect(2).center())
    page = tab.cut_page
    shown = [page.shown.itemText(n) for n in range(page.shown.count())]
    assert shown[0] == say("tab-workshop.rods-posts-and-tubes")
    assert page.view.isVisible()
    number = shown.index("board 1 of 9 mm")
    page.shown.setCurrentIndex(number)
    page.shown.activated.emit(number)
    assert page.board.isVisible()
    assert not page.view.isVisible()
    assert tells(
        page.words.text(),
        "workshop.thick-of-used",
        thick_mm="9 mm",
        board="1 board",
        board_mm="600",
        board_mm_2="300 mm",
    )
    page.grab()
    target = tmp_path / "board.dxf"
    monkeypatch.setattr(
        QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(target), "DXF (*.dxf)")
    )
    qtbot.mouseClick(page.save, LEFT)
    assert tells(said(window), "window.wrote", name="board.dxf")
    gears = [
        e for e in ezdxf.readfile(target).modelspace().query("LWPOLYLINE") if e.dxf.layer == "cut"
    ]
    assert len(gears) == 15
    type_over(qtbot, page.fields["board_mm"], "150")
    assert any(
        tells(page.shown.itemText(n), "tab-workshop.board-of", n="2", thick_mm="9 mm")
        for n in range(page.shown.count())
    )


def test_a_ring_of_ones_own_is_glued_of_segments(qtbot: QtBot, open_window: OpenWindow) -> None:
    window = open_window(example_vehicle("larkholm-timber-tractor"))
    page = templates(qtbot, window)
    choose(qtbot, page, "gear of your own, 24 teeth")
    type_into(qtbot, page, "segments", "7")
    choose(qtbot, page, say("workshop.segment-of-it-and-its-board"))
    assert tells(
        page.view.accessibleDescription(),
        "templates.teeth-do-not-share-out-over-segments-whole",
        teeth="24",
        segments="7",
    )
    assert not page.save.isEnabled()
    type_into(qtbot, page, "segments", "6")
    choose(qtbot, page, say("workshop.segment-of-it-and-its-board"))
    assert "mitres 30.00°" in page.words.text()
    assert page.save.isEnabled()
    page.grab()


def test_every_template_and_the_model_are_written_in_the_background(
    qtbot: QtBot, open_window: OpenWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = open_window(example_vehicle("larkholm-timber-tractor"))
    page = templates(qtbot, window)
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_a, **_k: str(tmp_path))
    qtbot.mouseClick(page.save_all, LEFT)
    assert window.progress.isVisible()
    qtbot.waitUntil(lambda: tells(said(window), "window.wrote-files-into"), timeout=60_000)
    names = {path.name for path in tmp_path.iterdir()}
    assert {"template-front-wall.dxf", "template-27-tooth-gear.stl", "board-9mm-1.svg"} <= names
    tab = window.tab
    assert isinstance(tab, WorkshopTab)
    qtbot.mouseClick(tab.pages, LEFT, pos=tab.pages.tabRect(4).center())
    target = tmp_path / "box.glb"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(target), ""))
    qtbot.mouseClick(tab.apart_page.models["glb"], LEFT)
    qtbot.waitUntil(target.exists, timeout=60_000)
    assert target.read_bytes()[:4] == b"glTF"
