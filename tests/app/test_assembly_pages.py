"""Assembly and take-apart in the window: steps ticked, parts chosen, joints marked."""

from collections.abc import Callable

import pytest
from PyQt6.QtCore import QPoint, Qt
from pytestqt.qtbot import QtBot

from mild_badger.app.benches.workshop.bench import WorkshopBench
from mild_badger.app.window import Window
from mild_badger.core.vehicle.demo import demo_vehicle

OpenWindow = Callable[..., Window]
LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def bench(qtbot: QtBot, open_window: OpenWindow) -> WorkshopBench:
    window = open_window(demo_vehicle("larkholm-timber-tractor"))
    window.show_bench("Workshop")
    made = window.bench
    assert isinstance(made, WorkshopBench)
    return made


def turn_to(qtbot: QtBot, bench: WorkshopBench, page: int) -> None:
    qtbot.mouseClick(bench.pages, LEFT, pos=bench.pages.tabRect(page).center())


def test_steps_are_gone_through_and_ticked(qtbot: QtBot, bench: WorkshopBench) -> None:
    turn_to(qtbot, bench, 3)
    page = bench.assembly_page
    assert bench.heading.text() == "Assembly: 0 of 34 steps done"
    assert page.words.text().startswith("1. Lay the front wall")
    for _ in range(3):
        qtbot.mouseClick(page.after, LEFT)
    assert "12-tooth gear on input 1: press on" in page.words.text()
    assert "Driver and driven changed over" in page.mistakes.text()
    assert "12-tooth gear" in page.view.accessibleDescription()
    page.grab()
    box = page.table.visualItemRect(page.table.item(3, 0))
    qtbot.mouseClick(page.table.viewport(), LEFT, pos=QPoint(box.left() + 11, box.center().y()))
    assert bench.heading.text() == "Assembly: 1 of 34 steps done"
    turn_to(qtbot, bench, 4)
    assert bench.heading.text() == "47 parts: 2 made, 2 of them fitted"


def test_a_part_is_chosen_and_what_comes_out_first_is_told(
    qtbot: QtBot, bench: WorkshopBench
) -> None:
    turn_to(qtbot, bench, 4)
    page = bench.apart_page
    rows = [page.table.text_at(n, 0) for n in range(page.table.rowCount())]
    row = rows.index("19-tooth gear on layshaft 1")
    page.table.scrollToItem(page.table.item(row, 0))
    place = page.table.visualItemRect(page.table.item(row, 0)).center()
    qtbot.mouseClick(page.table.viewport(), LEFT, pos=QPoint(30, place.y()))
    assert "come out before it, towards the output end" in page.words.text()
    last = page.order.rowCount() - 1
    assert page.order.text_at(last, 1) == "19-tooth gear on layshaft 1"
    assert page.order.text_at(last, 2) == "press it off"
    page.joint.setCurrentIndex(page.joint.findData("pinned"))
    page.joint.activated.emit(page.joint.currentIndex())
    assert page.table.text_at(row, 2) == "pinned"
    assert page.order.text_at(last, 2) == "drive its pin out"
    page.state.setCurrentIndex(page.state.findData("made"))
    page.state.activated.emit(page.state.currentIndex())
    assert page.table.text_at(row, 1) == "made"
    page.spread.setValue(35)
    page.grab()
    # the coupling has a joint too, and no state
    page.table.setCurrentCell(page.table.rowCount() - 1, 0)
    assert not page.state.isEnabled()
    page.joint.setCurrentIndex(page.joint.findData("keyed"))
    page.joint.activated.emit(page.joint.currentIndex())
    assert page.table.text_at(page.table.rowCount() - 1, 2) == "keyed"


def test_without_a_place_both_pages_say_what_to_do(qtbot: QtBot, window: Window) -> None:
    window.show_bench("Workshop")
    bench = window.bench
    assert isinstance(bench, WorkshopBench)
    for page, shown in ((3, bench.assembly_page.view), (4, bench.apart_page.view)):
        turn_to(qtbot, bench, page)
        assert "Place it on the bench Layout" in shown.accessibleDescription()
        shown.grab()
