"""Assembly and take-apart in the window: steps ticked, parts chosen, joints marked."""

from collections.abc import Callable

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from pytestqt.qtbot import QtBot

from examples import example_vehicle
from mild_badger.app.tabs.workshop.tab import WorkshopTab
from mild_badger.app.window import Window
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.change import Edit
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
        "tab-workshop.assembly-of-steps-done", done="0", count_of_steps="41"
    )
    laid = {"word": say("workshop.lay"), "words": word("front wall")}
    assert tells(page.words.text(), "workshop.the", **laid)
    qtbot.mouseClick(page.after, LEFT)
    assert (
        say("components.tooth-gear-on", teeth="12", shaft="shaft A: press on") in page.words.text()
    )
    assert tells(page.mistakes.text(), "workshop.driver-and-driven-changed-over-they-fit-the")
    assert tells(page.view.accessibleDescription(), "kits.tooth-gear", teeth="12")
    page.grab()
    box = page.table.visualItemRect(page.table.item(1, 0))
    qtbot.mouseClick(page.table.viewport(), LEFT, pos=QPoint(box.left() + 11, box.center().y()))
    assert tab.heading.text() == say(
        "tab-workshop.assembly-of-steps-done", done="1", count_of_steps="41"
    )
    turn_to(qtbot, tab, 4)
    assert tab.heading.text() == say(
        "tab-workshop.parts-made-of-them-fitted", count_of_states="56", made="4", count="4"
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


def test_parts_come_in_along_their_way_step_after_step(qtbot: QtBot, tab: WorkshopTab) -> None:
    turn_to(qtbot, tab, 3)
    page = tab.assembly_page
    qtbot.waitUntil(lambda: page.view.shapes() is not None)
    page.table.setCurrentCell(4, 1)
    step = page.step
    assert step is not None
    roles = dict(zip([p.key for p in page.plan.parts], page.view.roles(), strict=True))
    assert {key for key, role in roles.items() if role == "run"} == set(step.keys)
    assert {k for k, r in roles.items() if r == "idle"} == page.plan.there_before(step.number)
    assert page.view.off == 1.0
    qtbot.mouseClick(page.play, LEFT)
    qtbot.waitUntil(lambda: page.table.currentRow() == 5, timeout=8000)
    qtbot.mouseClick(page.play, LEFT)  # stopped: it stays at that step
    qtbot.wait(300)
    assert page.table.currentRow() == 5
    # all that comes is seen while it is held off, once the eye has gone round to it
    qtbot.mouseClick(page.before, LEFT)
    qtbot.mouseClick(page.after, LEFT)
    assert page.view.off == 1.0
    qtbot.waitUntil(lambda: page.view.drawn_finely and not page.view.moving, timeout=8000)
    spots = [
        page.view.part_at(QPointF(x, y))
        for x in range(0, page.view.width(), 4)
        for y in range(0, page.view.height(), 4)
    ]
    step = page.step
    assert step is not None
    assert {part.key for part in spots if part is not None} >= set(step.keys)


def test_a_part_chosen_in_the_picture_is_chosen_in_the_list_and_taken_out(
    qtbot: QtBot, tab: WorkshopTab
) -> None:
    turn_to(qtbot, tab, 4)
    page = tab.apart_page
    qtbot.waitUntil(lambda: page.view.drawn_finely)
    part = next(p for p in page.plan.parts if p.kind == "gear" and p.teeth == 19)
    tab.session.choose(part.key)
    assert page.part == part
    assert page.view.marked == part.key
    assert page.removal is not None
    order = list(page.removal.order)
    assert len(order) > 1
    first = order[0]
    qtbot.mouseClick(page.play, LEFT)
    qtbot.waitUntil(
        lambda: page.view.there is not None and first not in page.view.there, timeout=8000
    )
    assert page.view.there is not None
    assert part.key in page.view.there
    qtbot.mouseClick(page.play, LEFT)  # stopped: all is there again, drawn apart
    assert page.view.there is None


def test_without_a_place_both_pages_say_what_to_do(qtbot: QtBot, window: Window) -> None:
    window.show_tab("Workshop")
    tab = window.tab
    assert isinstance(tab, WorkshopTab)
    code = "components.the-box-has-no-place-in-space-yet-place-it"
    for page, shown in ((3, tab.assembly_page.view), (4, tab.apart_page.view)):
        turn_to(qtbot, tab, page)
        assert tells(shown.accessibleDescription(), code)
        shown.grab()


def test_a_part_made_and_then_drawn_otherwise_is_to_be_made_anew(
    qtbot: QtBot, tab: WorkshopTab
) -> None:
    page, session = tab.apart_page, tab.session
    turn_to(qtbot, tab, 4)
    rows = [page.table.text_at(n, 0) for n in range(page.table.rowCount())]
    row = rows.index(word("back wall"))
    page.table.setCurrentCell(row, 0)
    page.state.setCurrentIndex(page.state.findData("made"))
    page.state.activated.emit(page.state.currentIndex())
    assert page.table.text_at(row, 1) == word("made")
    session.do(Edit.one("thicker", ("frame", "wall_mm"), 9.0))
    assert page.table.text_at(row, 1) == say("tab-workshop.to-remake")
    assert tells(tab.heading.text(), "tab-workshop.parts-made-of-them-fitted", made="0", count="0")
    turn_to(qtbot, tab, 0)
    parts = tab.parts_page.table
    names = [parts.text_at(n, 0) for n in range(parts.rowCount())]
    wall = next(n for n, name in enumerate(names) if "wall, 9" in name)
    assert parts.text_at(wall, 6) == say("workshop.count-to-remake", count=1)
    item = parts.item(wall, 0)
    assert item is not None
    assert not item.icon().isNull()  # its small picture
    session.undo_stack.undo()
    assert parts.text_at(wall, 6) == say("workshop.count-made", count=1)
