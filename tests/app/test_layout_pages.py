"""The tab Layout driven by mouse and keys: the whole box, its layers, shafts by hand, seats."""

from collections.abc import Callable
from pathlib import Path
from xml.etree import ElementTree as ET

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QImage, QWheelEvent
from PyQt6.QtWidgets import QApplication, QFileDialog, QWidget
from pytestqt.qtbot import QtBot

from core.layout.test_free_routes import slotted
from examples import example_vehicle
from hands import said, type_over
from mild_badger.app.tabs.layout.end_view import EndView
from mild_badger.app.tabs.layout.tab import LayoutTab
from mild_badger.app.tabs.layout.whole_page import WholePage
from mild_badger.app.window import Window
from mild_badger.core.layout.turning import engaged_bodies
from mild_badger.core.message import say
from mild_badger.core.ratios.train import train_text
from mild_badger.core.structure.developed import SectionPart
from mild_badger.core.structure.names import gear_of_body
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.vehicle.box import Slot
from mild_badger.core.vehicle.edit.change import Edit
from strategies import placed_demo
from telling import tells

OpenWindow = Callable[..., Window]
LEFT = Qt.MouseButton.LeftButton
pytestmark = pytest.mark.qt_log_ignore("propagateSizeHints", "This plugin does not support")


def layout_tab(qtbot: QtBot, window: Window, page: int) -> LayoutTab:
    window.show_tab("Layout")
    tab = window.tab
    assert isinstance(tab, LayoutTab)
    qtbot.mouseClick(tab.pages, LEFT, pos=tab.pages.tabRect(page).center())
    return tab


def press(qtbot: QtBot, button: QWidget) -> None:
    qtbot.mouseClick(button, LEFT)


def by_hand(page: WholePage, start: str) -> None:
    """Choose from the menu of what is done by hand."""
    menu = page.by_hand.menu()
    assert menu is not None
    next(action for action in menu.actions() if action.text().startswith(start)).trigger()


def findings(window: Window) -> list[str]:
    return [card.finding.code for card in window.drawer.cards]


def standing_window(qtbot: QtBot, open_window: OpenWindow) -> tuple[Window, LayoutTab]:
    """The sweeper with its box in space, on the page Whole box."""
    window = open_window(placed_demo("larkholm-street-sweeper"))
    return window, layout_tab(qtbot, window, 1)


def placed_window(qtbot: QtBot, open_window: OpenWindow) -> tuple[Window, LayoutTab]:
    """Place the sweeper's box as a builder does, and take it."""
    window = open_window(example_vehicle("larkholm-street-sweeper"))
    tab = layout_tab(qtbot, window, 1)
    page = tab.whole_page
    type_over(qtbot, page.fields["seconds"], "3,5")
    press(qtbot, page.place)
    qtbot.waitUntil(
        lambda: tells(
            page.words.text(),
            "layout.slots-placed-with-gears-selector-shafts-up",
            word="All",
            total="5",
        ),
        timeout=20_000,
    )
    window.worker.wait()
    assert tells(
        page.words.text(),
        "layout.slots-placed-with-gears-selector-shafts-up",
        word="Proposed:",
        value="A",
        total="ll 5",
    )
    press(qtbot, page.take)
    return window, tab


def test_the_whole_box_is_placed_taken_and_looked_through(
    qtbot: QtBot, open_window: OpenWindow
) -> None:
    window, tab = placed_window(qtbot, open_window)
    page = tab.whole_page
    window.resize(1100, 700)
    assert window.width() == 1100  # a small screen has room for it
    assert tab.minimumSizeHint().width() <= tab.width()
    assert tells(page.words.text(), "tab-layout.checked-every-mesh-seats-nothing-touches")
    assert not {"clash", "bad-seat", "layout-out-of-step"} & set(findings(window))
    page.end.grab()
    assert page.end.accessibleDescription().startswith("front 1: ")
    page.side.grab()
    qtbot.mouseClick(page.side, LEFT, pos=page.side.place_of("back 1").toPoint())
    assert page.slabs.currentText() == "back 1"
    assert page.end.accessibleDescription().startswith("back 1: ")
    # a gear is pressed beside its shaft's own dot: it is engaged everywhere
    stack = page.end.stack
    assert stack is not None
    number = stack.slabs.index("back 1")
    # where the search has put the shafts differs with the time that it had
    disc, place = next(
        (disc, place)
        for disc in stack.discs
        if disc.slab == number and disc.body.endswith(".driven")
        for x, y in ((0, 14), (14, 0), (0, -14), (-14, 0), (10, 10), (-10, 10))
        for place in [page.end.place_of(disc.shaft).toPoint() + QPoint(x, y)]
        if page.end._rod_near(QPointF(place)) is None
        and page.end._disc_near(QPointF(place)) is disc
    )
    qtbot.mouseClick(page.end, LEFT, pos=place)
    gear = disc.body.split("/")[0].removeprefix("gear ")
    assert f"Box · {gear}" in window.strip.stations["box"].accessibleName()
    window.session.undo_stack.undo()
    assert tells(
        page.words.text(), "tab-layout.no-layout-yet-press-place-the-box-and-the"
    ) or tells(page.words.text(), "tab-layout.placing-chooses-among-trains-near-the-wanted")


def test_a_shaft_is_dragged_and_its_findings_are_live(
    qtbot: QtBot, open_window: OpenWindow
) -> None:
    window, tab = standing_window(qtbot, open_window)
    page = tab.whole_page
    layout = window.session.vehicle.layout
    assert layout is not None
    shaft = next(s for s in layout.shafts if "/" in s.name)
    page.end.grab()
    start = page.end.place_of(shaft.name).toPoint()
    way = round(page.end.place_of("input.2").x() - page.end.place_of("input.1").x()) // 3
    goal = start + QPoint(2 * way, 0)
    qtbot.mousePress(page.end, LEFT, pos=start)
    qtbot.mouseMove(page.end, (start + goal) / 2)
    qtbot.mouseMove(page.end, goal)
    page.end.grab()
    qtbot.mouseRelease(page.end, LEFT, pos=goal)
    moved = window.session.vehicle.layout
    assert moved is not None
    there = moved.shaft(shaft.name)
    assert there is not None
    unit = window.session.vehicle.kit.grid_unit_mm
    step = 2 * unit if way > 0 else -2 * unit  # the box may lie mirrored
    assert (there.x_mm, there.y_mm) == (shaft.x_mm + step, shaft.y_mm)
    assert "bad-seat" in findings(window)
    assert tells(page.words.text(), "tab-layout.thing-wrong-see-the-findings", value="s are")
    window.session.undo_stack.undo()
    assert "bad-seat" not in findings(window)
    window.session.engage("1")
    by_hand(page, "Slide")
    assert window.session.undo_stack.undoText().startswith("Slide gear 1")
    press(qtbot, page.drop)
    assert window.session.vehicle.layout is None


def test_what_has_no_place_is_told_and_other_boxes_stand_by_themselves(
    qtbot: QtBot, window: Window, open_window: OpenWindow
) -> None:
    tab = layout_tab(qtbot, window, 1)
    page = tab.whole_page
    type_over(qtbot, page.fields["layers"], "1")
    type_over(qtbot, page.fields["seconds"], "0.5")
    press(qtbot, page.place)
    window.worker.wait()
    qtbot.waitUntil(lambda: tells(page.words.text(), "layout.no-place-for"), timeout=20_000)
    assert page.helped.isVisible()
    type_over(qtbot, page.fields["layers"], "3")  # another question: the proposal is gone
    assert page.proposal is None
    other = open_window(example_vehicle("larkholm-timber-tractor"))
    tab = layout_tab(qtbot, other, 1)
    page = tab.whole_page
    assert not page.place.isVisible()  # its shafts stand where they must
    assert tells(page.words.text(), "tab-layout.checked-every-mesh-seats-nothing-touches")
    assert tells(page.words.text(), "tab-layout.on-how-it-holds")
    other.session.engage("R")
    page.side.grab()
    qtbot.mouseClick(page.side, LEFT, pos=page.side.place_of("gear R").toPoint())
    assert page.end.accessibleDescription().startswith("gear R: ")
    assert tells(page.end.accessibleDescription(), "drivetrain.idler", title="Gear R")


def test_seats_are_looked_up_and_drawn(qtbot: QtBot, window: Window) -> None:
    tab = layout_tab(qtbot, window, 4)
    page = tab.seats_page
    table = page.table
    rows = [[table.text_at(r, c) for c in range(7)] for r in range(table.rowCount())]
    assert ["16 : 28", "2 × 2", "22.63", "+0.63", "1.00", "0.67", "loose"] in rows
    assert ["40 : 40", "5 × 0", "40.00", "+0.00", "1.71", "0.15", "good"] in rows
    assert ["40 : 40", "4 × 3", "40.00", "+0.00", "1.71", "0.15", "good"] in rows
    page.sizes.setCurrentIndex(1)
    page.sizes.activated.emit(1)
    assert {table.text_at(r, 0).split(" ")[0] for r in range(table.rowCount())} == {"8"}
    whole = table.rowCount()
    qtbot.mouseClick(page.half, LEFT, pos=QPoint(8, page.half.height() // 2))
    assert table.rowCount() > whole
    table.setCurrentCell(0, 0)
    page.view.grab()
    assert tells(page.view.accessibleDescription(), "tab-layout.with-at-u", first="8", second="8")


def test_the_stack_lists_lengths_and_weak_meshes(qtbot: QtBot, open_window: OpenWindow) -> None:
    window = open_window(example_vehicle("larkholm-street-sweeper"))
    tab = layout_tab(qtbot, window, 2)
    page = tab.stack_page
    assert tells(page.words.text(), "tab-layout.place-the-box-first-on-the-page-whole-box")
    window, tab = standing_window(qtbot, open_window)
    qtbot.mouseClick(tab.pages, LEFT, pos=tab.pages.tabRect(2).center())
    page = tab.stack_page
    assert page.shafts.text_at(0, 0) == "A, drive row 1"
    assert [page.shafts.text_at(0, n) for n in (1, 2, 3)] == ["14.9 u", "16 u", "1.1 u"]
    assert tells(page.shafts.text_at(0, 4), "tab-layout.at", words="front outer wall")
    assert "Shafts: " in page.words.text()
    assert tells(page.words.text(), "components.shafts-and-beams")
    assert say("layout.over-the-outer-walls", length_mm="112.0 mm") in page.words.text()
    before = page.meshes.text_at(0, 4)
    type_over(qtbot, page.stiffness, "210000")
    assert float(page.meshes.text_at(0, 4)) < float(before)
    assert "skips-at-stall" not in findings(window)


def test_seat_limits_are_the_kits_and_can_be_changed(qtbot: QtBot, window: Window) -> None:
    tab = layout_tab(qtbot, window, 4)
    page = tab.seats_page

    def verdict(pair: str, offset: str) -> str:
        return next(
            page.table.text_at(r, 6)
            for r in range(page.table.rowCount())
            if (page.table.text_at(r, 0), page.table.text_at(r, 1)) == (pair, offset)
        )

    assert verdict("16 : 28", "2 × 2") == "loose"  # a contact ratio of 1.0012 (reference)
    type_over(qtbot, page.limits["least_contact"], "1.05")
    assert verdict("16 : 28", "2 × 2") == "skips"
    assert verdict("12 : 24", "2 × 1") == "snug"
    type_over(qtbot, page.limits["least_play_mm"], "0.1")
    assert verdict("12 : 24", "2 × 1") == "binds"


def test_both_views_are_saved_as_svg_and_png(
    qtbot: QtBot, open_window: OpenWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window, tab = standing_window(qtbot, open_window)
    page = tab.whole_page
    for chosen, kind, form in (("a.svg", "SVG (*.svg)", "svg"), ("b", "PNG (*.png)", "png")):
        answer = (str(tmp_path / chosen), kind)
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, said=answer: said)
        press(qtbot, page.save)
        stem = chosen.split(".")[0]
        assert f"Wrote {stem}-end.{form}" in said(window)
        for name in ("end", "stack"):
            assert (tmp_path / f"{stem}-{name}.{form}").stat().st_size > 2000
    root = ET.fromstring((tmp_path / "a-end.svg").read_text())
    assert root.tag.endswith("svg")
    shapes = [e for e in root.iter() if e.tag.endswith(("path", "polyline", "polygon"))]
    assert len(shapes) > 10
    image = QImage(str(tmp_path / "b-end.png"))
    assert image.width() == 2 * page.end.width()
    nowhere = (str(tmp_path / "no" / "c.svg"), "SVG (*.svg)")
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a: nowhere)
    press(qtbot, page.save)
    assert tells(said(window), "files.cannot-write")


def test_a_train_is_laid_between_two_points(qtbot: QtBot, window: Window) -> None:
    tab = layout_tab(qtbot, window, 0)
    press(qtbot, tab.find_ways)
    assert tells(said(window), "tab-layout.engage-a-gear-first-its-train-is-laid")
    window.session.engage("1")
    type_over(qtbot, tab.out_x, "1")
    type_over(qtbot, tab.out_y, "4")
    assert tab.ways.rowCount() > 3
    assert tab.facts.text().startswith(f"Way 1 of {tab.ways.rowCount()}")
    tab.ways.setCurrentCell(2, 0)
    assert tells(tab.facts.text(), "tab-layout.way-of", row="3")
    train = tab.ways.text_at(2, 0)
    assert "driven" in tab.view.words()
    press(qtbot, tab.take)
    slot = window.session.vehicle.box.slot("1")
    assert isinstance(slot, Slot)
    assert train_text(slot.train) == train
    type_over(qtbot, tab.out_x, "0.3")
    assert tells(said(window), "layout.u-is-not-on-the-grid-use")


def test_the_hull_is_drawn_and_an_idler_put_in_by_hand(
    qtbot: QtBot, open_window: OpenWindow
) -> None:
    window, tab = standing_window(qtbot, open_window)
    page = tab.whole_page

    def outline() -> int:
        return len(window.session.vehicle.placing.outline_mm)

    by_hand(page, "Draw the outline")
    assert tells(page.words.text(), "tab-layout.click-the-corners-of-the-space-allowed-one")
    left, top = page.end.rect().topLeft().x() + 20, page.end.rect().topLeft().y() + 20
    for corner in (QPoint(left, top), QPoint(left + 60, top), QPoint(left, top + 60)):
        qtbot.mouseClick(page.end, LEFT, pos=corner)
    page.end.grab()
    qtbot.keyClick(page.end, Qt.Key.Key_Return)
    assert outline() == 3
    assert "outside-hull" in findings(window)  # nothing lies in so small a corner
    by_hand(page, "Remove the outline")
    assert "outside-hull" not in findings(window)
    by_hand(page, "Draw the outline")
    qtbot.mouseClick(page.end, LEFT, pos=QPoint(left, top))
    qtbot.keyClick(page.end, Qt.Key.Key_Escape)
    assert not page.end.outlining
    assert outline() == 0
    by_hand(page, "Put an idler")  # nothing is engaged
    assert "Engage a gear" in said(window)
    layout = window.session.vehicle.layout
    assert layout is not None
    first = next(g for g in layout.gears if g.body.startswith("gear 1/"))
    window.session.engage("1")
    page.slabs.setCurrentText(f"{first.side} {first.layer}")
    page.slabs.activated.emit(page.slabs.currentIndex())
    by_hand(page, "Put an idler")
    after = window.session.vehicle.layout
    assert after is not None
    assert len(after.gears) == len(layout.gears) + 1
    by_hand(page, "Remove the idler")
    assert window.session.vehicle.layout is not None
    assert len(window.session.vehicle.layout.gears) == len(layout.gears)


def test_proposals_are_ranked_and_one_is_chosen(qtbot: QtBot, open_window: OpenWindow) -> None:
    window = open_window(example_vehicle("larkholm-street-sweeper"))
    page = layout_tab(qtbot, window, 1).whole_page
    type_over(qtbot, page.fields["seconds"], "3")
    press(qtbot, page.place)
    window.worker.wait()
    qtbot.waitUntil(lambda: page.ranked.count() > 1, timeout=20_000)
    best = page.words.text()
    page.ranked.setCurrentIndex(1)
    page.ranked.activated.emit(1)
    assert page.words.text() != best
    second = page.proposal
    assert second is not None
    press(qtbot, page.take)
    layout = window.session.vehicle.layout
    assert layout is not None
    selector = layout.shaft("selector.1")
    assert selector is not None
    unit = window.session.vehicle.kit.grid_unit_mm
    # the box lies mirrored, as the lever has its first rail on the right
    there = (-second.shift_u * unit, second.height_u * unit)
    assert (selector.x_mm, selector.y_mm) == there


def test_walls_are_drawn_and_bearings_chosen(qtbot: QtBot, open_window: OpenWindow) -> None:
    window = open_window(example_vehicle("larkholm-timber-tractor"))
    page = layout_tab(qtbot, window, 3).frame_page
    assert page.made.isVisible()
    page.view.grab()
    assert page.view.accessibleDescription().startswith("front wall, ")
    assert tells(
        page.view.accessibleDescription(), "tab-layout.at-2", kinds="bore", shaft="for shaft A"
    )
    assert tells(
        page.words.text(), "layout.seats-all-plain-holes-a-ball-bearing-carries", count_of_seats="7"
    )
    page.seats.setCurrentCell(2, 0)  # the output in the back wall
    names = [page.choice.itemText(n) for n in range(page.choice.count())]
    assert names[0] == say("tab-layout.plain-hole")
    assert "608, 0.80" in names
    page.choice.setCurrentIndex(names.index("608, 0.80"))
    page.choice.activated.emit(page.choice.currentIndex())
    assert [page.seats.text_at(2, n) for n in (0, 2, 3, 4)] == [
        "D, output",
        "608",
        "all loads",
        "0.80",
    ]
    press(qtbot, page.cheapest)
    assert (
        say(
            "layout.of-seats-have-a-bearing-in-all",
            count_of_chosen="7",
            count_of_seats="7",
            cost=4.1,
        )
        in page.words.text()
    )
    page.walls.setCurrentText("back wall")
    page.walls.activated.emit(2)
    assert "back wall, " in page.view.accessibleDescription()
    assert "⌀ 22 mm" in page.view.accessibleDescription()
    type_over(qtbot, page.fields["wall_mm"], "6")
    assert "bearing-misfit" in findings(window)
    # a brick box has no walls until it is placed, and then they are of beams
    window, tab = standing_window(qtbot, open_window)
    qtbot.mouseClick(tab.pages, LEFT, pos=tab.pages.tabRect(3).center())
    page = tab.frame_page
    page.view.grab()
    assert not page.made.isVisible()
    assert page.view.accessibleDescription().startswith("front outer wall: row of ")
    press(qtbot, page.cheapest)
    assert tells(said(window), "layout.no-bearing-of-fits-a-shaft-of-in-these-walls")


def test_sleeves_can_be_thin_and_the_stack_is_held_to_its_length(
    qtbot: QtBot, open_window: OpenWindow
) -> None:
    window = open_window(example_vehicle("larkholm-timber-tractor"))
    tab = layout_tab(qtbot, window, 2)
    page = tab.stack_page
    assert say("layout.over-the-outer-walls", length_mm="169.6 mm") in page.words.text()
    assert tells(page.words.text(), "layout.thin-sleeves-would-save", saved="18.0 mm")
    page.sleeve.setCurrentIndex(1)
    page.sleeve.activated.emit(1)
    assert say("layout.over-the-outer-walls", length_mm="151.6 mm") in page.words.text()
    type_over(qtbot, page.fields["max_stack_mm"], "130")
    assert "stack-too-long" in findings(window)
    window.resize(1100, 700)
    assert tab.minimumSizeHint().width() <= tab.width()


def test_a_taken_layout_is_proven_by_solids_and_a_thick_fork_is_found(
    qtbot: QtBot, open_window: OpenWindow
) -> None:
    window = open_window(example_vehicle("larkholm-timber-tractor"))
    tab = layout_tab(qtbot, window, 5)
    page = tab.proof_page
    assert tells(page.words.text(), "tab-layout.not-proven-yet-press-prove-by-solids")
    press(qtbot, page.prove_now)
    qtbot.waitUntil(lambda: tells(page.words.text(), "tab-layout.nothing-touches"), timeout=20_000)
    assert page.table.rowCount() == 0
    assert page.mend.isHidden()
    frame = window.session.vehicle.frame
    window.session.do(Edit.one("Thin sleeves", ("frame", "sleeve"), "thin"))
    assert tells(page.words.text(), "tab-layout.the-box-has-changed-since-prove-it-again")
    press(qtbot, page.prove_now)
    qtbot.waitUntil(lambda: page.table.rowCount() > 0, timeout=20_000)
    titles = [page.table.text_at(row, 0) for row in range(page.table.rowCount())]
    row = next(n for n, title in enumerate(titles) if "fork" in title and "gear" in title)
    assert page.table.text_at(row, 1) == "0.50"
    page.table.setCurrentCell(row, 0)
    assert not page.mend.isHidden()
    press(qtbot, page.mend)
    assert window.session.vehicle.frame.fork_mm < frame.fork_mm


def test_without_a_place_the_proof_claims_nothing(qtbot: QtBot, open_window: OpenWindow) -> None:
    tab = layout_tab(qtbot, open_window(example_vehicle()), 5)
    page = tab.proof_page
    assert tells(page.words.text(), "components.the-box-has-no-place-in-space-yet-place-it")
    assert not page.prove_now.isEnabled()


def test_a_wooden_slot_box_is_placed_with_its_output_held(
    qtbot: QtBot, open_window: OpenWindow
) -> None:
    window = open_window(slotted("wood-shop", seconds=3.0, near_percent=4.0))
    page = layout_tab(qtbot, window, 1).whole_page
    assert not page.apart.isVisible()  # columns stand as far apart as their rows' gears do
    assert page.rows["rail_teeth"].text() == "24"
    assert page.space_unit.text() == "mm"
    type_over(qtbot, page.spaces["high_mm"], "30 cm")
    assert page.spaces["high_mm"].text() == "300"
    page.holds.setCurrentIndex(1)
    page.holds.activated.emit(1)
    type_over(qtbot, page.point, "0, 52")
    assert page.point.text() == "0, 52"
    press(qtbot, page.place)
    qtbot.waitUntil(page.take.isVisible, timeout=30_000)
    qtbot.waitUntil(lambda: tells(page.words.text(), "layout.all"), timeout=30_000)
    assert tells(
        page.words.text(), "layout.slots-placed-with-gears-selector-shafts-up", height="52 mm"
    )
    press(qtbot, page.take)
    assert "pin-missed" not in findings(window)
    assert "clash" not in findings(window)
    type_over(qtbot, page.point, "")
    assert window.session.vehicle.placing.pins == ()


def test_a_limit_set_on_a_placed_box_is_met_by_a_new_proposal(
    qtbot: QtBot, open_window: OpenWindow
) -> None:
    window, tab = standing_window(qtbot, open_window)
    page = tab.whole_page
    assert page.proposal is None
    type_over(qtbot, page.spaces["wide_mm"], "10")
    assert findings(window).count("outside-hull") == 1  # one for all that stick out
    qtbot.waitUntil(page.take.isVisible, timeout=30_000)
    assert window.session.vehicle.layout is not None  # it stays until another one is taken
    press(qtbot, page.take)
    assert "outside-hull" not in findings(window)


def test_a_place_found_for_a_vehicle_that_changed_is_not_dropped_in_silence(
    qtbot: QtBot, open_window: OpenWindow
) -> None:
    window = open_window(example_vehicle("larkholm-street-sweeper"))
    page = layout_tab(qtbot, window, 1).whole_page
    type_over(qtbot, page.fields["seconds"], "1,5")
    press(qtbot, page.place)
    window.session.do(Edit.one("rename", ("name",), "Another name"))  # bears on no place
    qtbot.waitUntil(page.take.isVisible, timeout=20_000)
    window.worker.wait()
    press(qtbot, page.place)
    window.session.do(Edit.one("wider", ("frame", "fork_mm"), 2.5))
    window.worker.wait()
    qtbot.waitUntil(lambda: bool(said(window)), timeout=20_000)
    assert page.proposal is None
    assert tells(said(window), "tab-layout.the-vehicle-changed-while-it-was-placed")


def wheel(view: QWidget, place: QPointF, by: int) -> None:
    """Turn the mouse's wheel over a place."""
    none, plain = Qt.MouseButton.NoButton, Qt.KeyboardModifier.NoModifier
    phase = Qt.ScrollPhase.NoScrollPhase
    turned = QWheelEvent(place, place, QPoint(), QPoint(0, by), none, plain, phase, False)
    QApplication.sendEvent(view, turned)


def test_the_section_is_to_scale_magnified_and_pressed(
    qtbot: QtBot, open_window: OpenWindow
) -> None:
    window = open_window(example_vehicle("larkholm-timber-tractor"))
    window.session.engage("2")
    page = layout_tab(qtbot, window, 2).stack_page
    view = page.view
    view.grab()
    section = view.section
    assert section is not None
    live = next(p for p in section.parts if p.live and p.teeth)

    def middle(part: SectionPart) -> tuple[float, float]:
        above = part.across_mm - (part.inner_mm + part.outer_mm) / 2
        return (part.from_mm + part.to_mm) / 2, above

    (a, b) = middle(live)
    far = (p for p in section.parts if p.teeth and abs(middle(p)[0] - a) > 8)
    other = next(p for p in far if abs(middle(p)[1] - b) > 8)
    (c, d) = middle(other)
    # along and across are drawn to one scale
    one, two = view.place_of_part(live.key), view.place_of_part(other.key)
    assert (two.y() - one.y()) / (d - b) == pytest.approx((two.x() - one.x()) / (c - a), rel=1e-6)
    # the wheel magnifies about its place, Home shows all again
    wheel(view, one, 240)
    assert view.place_of_part(live.key).x() == pytest.approx(one.x(), abs=1e-6)
    assert view.place_of_part(other.key) != two
    view.setFocus()
    qtbot.keyClick(view, Qt.Key.Key_Home)
    assert view.place_of_part(other.key) == two
    idle = next(
        p for p in section.parts if p.teeth and gear_of_body(window.session.vehicle, p.body) == "3"
    )
    view.grab()
    qtbot.mouseClick(view, LEFT, pos=view.place_of_part(idle.key).toPoint())
    assert window.session.situation.gear == "3"
    assert window.session.part == idle.key
    assert view.marked == idle.key
    few = len(view.section.shafts) if view.section is not None else 0
    page.whole.click()
    assert view.section is not None
    assert len(view.section.shafts) > few


@pytest.mark.parametrize("size", [(380, 360), (1100, 800)])
@pytest.mark.parametrize("name", ["larkholm-mail-bus", "larkholm-street-sweeper"])
def test_no_label_of_the_end_view_overlaps_another(
    qtbot: QtBot, open_window: OpenWindow, name: str, size: tuple[int, int]
) -> None:
    vehicle = placed_demo(name)
    window = open_window(vehicle)
    window.session.engage(vehicle.real.gears[1].id)
    view = EndView(window.theme)
    qtbot.addWidget(view)
    view.resize(*size)
    stack = stack_for(vehicle)
    assert stack is not None
    written = 0
    for number in sorted({disc.slab for disc in stack.discs}):
        view.show_box(window.session.evaluation, vehicle, stack.slabs[number])
        view.grab()
        boxes = view.label_boxes
        own = [disc for disc in stack.discs if disc.slab == number]
        assert len(boxes) >= len(own)  # every gear has its label
        for n, box in enumerate(boxes):
            assert view.rect().contains(box.toAlignedRect())
            assert not any(box.intersects(other) for other in boxes[:n])
        written += len(boxes)
    assert written > 40
    view.show_layers(True)
    view.grab()
    for n, box in enumerate(view.label_boxes):
        assert not any(box.intersects(other) for other in view.label_boxes[:n])


def test_the_layer_of_the_engaged_gear_comes_into_view(
    qtbot: QtBot, open_window: OpenWindow
) -> None:
    window = open_window(placed_demo("larkholm-mail-bus"))
    page = layout_tab(qtbot, window, 1).whole_page
    seen = set()
    for gear in window.session.vehicle.real.gears[:4]:
        window.session.engage(gear.id)
        stack = stack_for(window.session.vehicle)
        assert stack is not None
        number = stack.slabs.index(page.slabs.currentData())
        engaged = engaged_bodies(window.session.vehicle, gear.id)
        assert any(d.slab == number and d.teeth and d.body in engaged for d in stack.discs)
        seen.add(number)
    assert len(seen) > 1
    # all layers side by side: one that is pressed is looked at alone
    page.layers.click()
    page.end.grab()
    room, slab = page.end._cells[0]
    qtbot.mouseClick(page.end, LEFT, pos=room.center().toPoint())
    assert page.slabs.currentData() == slab
    assert not page.end.all_layers
    assert page.side.isVisible()
