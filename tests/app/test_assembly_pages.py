"""Assembly and take-apart in the window: steps ticked, parts chosen, joints marked."""

from collections.abc import Callable

import pytest
from PyQt6.QtCore import QPoint, Qt
from pytestqt.qtbot import QtBot

from examples import example_vehicle
from mild_badger.app.tabs.workshop.tab import WorkshopTab
from mild_badger.app.window import Window
from mild_badger.core.message import say
from mild_badger.core.words import word
from telling import tells

OpenWindow = Callable[..., Window]
LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def tab(qtbot: QtBot, open_window: OpenWindow) -> WorkshopTab:
    window = open_window(example_vehicle("larkholm-timber-tractor"))
    window.show_tab("Workshop")
    made = window.tab
    assert isinstance(made, WorkshopTab)
    return made


def turn_to(qtbot: QtBot, tab: WorkshopTab, page: int) -> None:
    qtbot.mouseClick(tab.pages, LEFT, pos=tab.pages.tabRect(page).center())


def test_steps_are_gone_through_and_ticked(qtbot: QtBot, tab: WorkshopTab) -> None:
    turn_to(qtbot, tab, 3)
    page = tab.assembly_page
    assert tab.heading.text() == say(
        "tab-workshop.assembly-of-steps-done", done="0", count_of_steps="30"
    )
    laid = {"word": say("workshop.lay"), "words": word("front wall")}
    assert tells(page.words.text(), "workshop.the", **laid)
    for _ in range(3):
        qtbot.mouseClick(page.after, LEFT)
    assert (
        say("components.tooth-gear-on", teeth="12", shaft="shaft A: press on") in page.words.text()
    )
    assert tells(page.mistakes.text(), "workshop.driver-and-driven-changed-over-they-fit-the")
    assert tells(page.view.accessibleDescription(), "kits.tooth-gear", teeth="12")
    page.grab()
    box = page.table.visualItemRect(page.table.item(3, 0))
    qtbot.mouseClick(page.table.viewport(), LEFT, pos=QPoint(box.left() + 11, box.center().y()))
    assert tab.heading.text() == say(
        "tab-workshop.assembly-of-steps-done", done="1", count_of_steps="30"
    )
    turn_to(qtbot, tab, 4)
    assert tab.heading.text() == say(
        "tab-workshop.parts-made-of-them-fitted", count_of_states="56", made="6", count="6"
    )


def test_a_part_is_chosen_and_what_comes_out_first_is_told(qtbot: QtBot, tab: WorkshopTab) -> None:
    turn_to(qtbot, tab, 4)
    page = tab.apart_page
    rows = [page.table.text_at(n, 0) for n in range(page.table.rowCount())]
    row = rows.index("19-tooth gear on shaft B")
    page.table.scrollToItem(page.table.item(row, 0))
    place = page.table.visualItemRect(page.table.item(row, 0)).center()
    qtbot.mouseClick(page.table.viewport(), LEFT, pos=QPoint(30, place.y()))
    assert tells(page.words.text(), "workshop.towards-the-output-end")
    last = page.order.rowCount() - 1
    assert page.order.text_at(last, 1) == say(
        "components.tooth-gear-on", teeth="19", shaft="shaft B"
    )
    assert page.order.text_at(last, 2) == say("workshop.press-it-off")
    page.joint.setCurrentIndex(page.joint.findData("pinned"))
    page.joint.activated.emit(page.joint.currentIndex())
    assert page.table.text_at(row, 2) == "pinned"
    assert page.order.text_at(last, 2) == say("workshop.drive-its-pin-out")
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
    window.show_tab("Workshop")
    tab = window.tab
    assert isinstance(tab, WorkshopTab)
    code = "components.the-box-has-no-place-in-space-yet-place-it"
    for page, shown in ((3, tab.assembly_page.view), (4, tab.apart_page.view)):
        turn_to(qtbot, tab, page)
        assert tells(shown.accessibleDescription(), code)
        shown.grab()
