"""The tab Axle driven by mouse and keys: axles, lesson, steering, clearance, shaft line."""

from collections.abc import Callable
from dataclasses import replace

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt, QUrl
from PyQt6.QtWidgets import QComboBox, QWidget
from pytestqt.qtbot import QtBot

from examples import example_vehicle
from hands import said, type_cell, type_over
from mild_badger.app.drawing.fields import DocumentLineEdit, FieldForm
from mild_badger.app.tabs.axle.tab import AxleTab
from mild_badger.app.window import Window
from mild_badger.core.lesson.catalogue import COURSES
from mild_badger.core.message import say
from telling import tells

OpenWindow = Callable[..., Window]
LEFT = Qt.MouseButton.LeftButton
pytestmark = pytest.mark.qt_log_ignore("propagateSizeHints", "This plugin does not support")


def axle_tab(qtbot: QtBot, window: Window, page: int) -> AxleTab:
    window.show_tab("Axle")
    tab = window.tab
    assert isinstance(tab, AxleTab)
    qtbot.mouseClick(tab.pages, LEFT, pos=tab.pages.tabRect(page).center())
    return tab


def press(qtbot: QtBot, button: QWidget) -> None:
    qtbot.mouseClick(button, LEFT)


def set_field(qtbot: QtBot, fields: FieldForm, name: str, text: str) -> None:
    entry = fields.entries[name]
    assert isinstance(entry, DocumentLineEdit)
    type_over(qtbot, entry, text)


def choose(fields: FieldForm, name: str, value: str) -> None:
    box = fields.entries[name]
    assert isinstance(box, QComboBox)
    box.setCurrentIndex(box.findData(value))
    box.activated.emit(box.currentIndex())


def findings(window: Window) -> list[str]:
    return [card.finding.code for card in window.drawer.cards]


def test_a_turn_is_asked_by_its_steering_angle(qtbot: QtBot, window: Window) -> None:
    page = axle_tab(qtbot, window, 0).turn_page
    window.session.engage("3")
    press(qtbot, page.roads["turn left"])
    type_over(qtbot, page.steer, "30")
    assert float(page.radius.text()) == pytest.approx(320 / 0.57735, abs=1)  # L / tan δ
    assert page.axles.text_at(0, 1) == "+0.0 / +0.0 %"
    assert float(page.axles.text_at(0, 2)) > 0  # the planets spin
    assert page.torque.text() == say("axle.both-wheels-get-the-same-torque")
    type_over(qtbot, page.steer, "95")
    assert tells(said(window), "axle.steering-angle-does-not-steer-choose-more")
    press(qtbot, page.roads["lift left"])
    assert tells(page.torque.text(), "axle.the-wheel-spins-and-takes-no-torque-so-the")


def test_axles_are_added_turned_round_and_mended(qtbot: QtBot, window: Window) -> None:
    tab = axle_tab(qtbot, window, 1)
    page = tab.drive_page
    window.session.engage("2")
    press(qtbot, page.add)
    assert "front axle: forwards" in page.view.accessibleDescription()
    page.view.grab()
    type_cell(qtbot, page.axles, 0, 4, "left")
    assert "axle-direction" in findings(window)
    assert "front axle: backwards" in page.view.accessibleDescription()
    type_cell(qtbot, page.axles, 0, 4, "sideways")
    assert page.axles.text_at(0, 4) == "left"
    window.session.undo_stack.undo()
    assert "axle-direction" not in findings(window)
    page.axles.setCurrentCell(0, 0)
    press(qtbot, page.remove)
    assert window.session.vehicle.additional_axles == ()
    shares = page.loads.text_at(0, 3)
    set_field(qtbot, page.fields, "planets", "1")
    assert float(page.loads.text_at(0, 3).rstrip(" %")) == pytest.approx(
        3 * float(shares.rstrip(" %")), abs=3
    )
    assert "differential-clicks" in findings(window)
    choose(page.fields, "kind", "locked")
    assert page.loads.rowCount() == 0
    assert tells(page.words.text(), "axle.this-axle-has-no-planet-gears")


def test_the_lesson_is_turned_held_and_answered(qtbot: QtBot, window: Window) -> None:
    tab = axle_tab(qtbot, window, 2)
    page = tab.lesson_page

    def figure(name: str) -> str:
        rows = range(page.figures.rowCount())
        return next(page.figures.text_at(r, 1) for r in rows if page.figures.text_at(r, 0) == name)

    assert page.answer.text() == say("lesson.try-it")
    assert page.verdict.text() == say("lesson.both-wheels-push-alike")
    qtbot.mouseClick(page.acts["corner"], Qt.MouseButton.LeftButton)
    # 144 mm of track by twice 240 mm of radius
    assert figure(say("lesson.each-tyre-slides")) == "30 %"
    assert page.verdict.text() == say("lesson.both-tyres-smear")
    qtbot.mouseClick(page.acts["turn"], Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: page.view.motion.carrier > 0.2)
    before = page.view.motion.carrier
    qtbot.mouseClick(page.acts["turn"], Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: not page.view.moving)
    assert page.view.motion.carrier >= before
    stood = page.view.motion
    qtbot.wait(100)
    assert page.view.motion == stood
    # by hand: the star of the fifth step is stuck until the gap is as wide as the arm is long
    qtbot.mouseClick(page.steps.button(4), Qt.MouseButton.LeftButton)
    assert page.view.motion.carrier == 0
    page.acts["hold left"].setChecked(True)
    drive = next(n for n, role in enumerate(page.view.roles()) if role == "run")
    for by in range(12):
        page.view.turn_by_hand(drive, QPointF(100, 100), QPointF(100 - 4 * (by + 1), 100))
    assert page.view.motion.left == 0
    page.view.motion = replace(page.view.motion, stalled=False)
    page.sliders["gap_mm"].setFocus()
    for _ in range(2):
        qtbot.keyClick(page.sliders["gap_mm"], Qt.Key.Key_Right)
    assert page.view.setting.gap_mm == 12.0
    assert page.verdict.text() == say("lesson.arm-after-arm-takes-over")
    qtbot.mouseClick(page.acts["turn"], Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: page.answer.text() != say("lesson.try-it"))
    assert page.view.motion.right == pytest.approx(2 * page.view.motion.carrier)


def test_every_lesson_is_reached_and_drawn(qtbot: QtBot, window: Window) -> None:
    for course in COURSES:
        window.show_tab("Vehicle")
        window.teach(course.key)
        tab = window.tab
        assert isinstance(tab, AxleTab)
        page = tab.lesson_page
        assert page.course.key == course.key
        for number, step in enumerate(course.steps):
            page.show_step(number)
            page.view.grab()
            assert page.view.accessibleDescription() == step.title
            assert page.acts["turn"].isVisibleTo(page)
            assert page.tyres.isVisibleTo(page) == (step.drive is not None)
    window.guide.read("axle", "How it works")
    handbook = window.guide.handbook
    assert handbook is not None
    handbook.page.anchorClicked.emit(QUrl("lesson:skipping"))
    assert page.course.key == "skipping"


def test_steering_is_moved_dragged_and_improved(qtbot: QtBot, window: Window) -> None:
    tab = axle_tab(qtbot, window, 3)
    page = tab.steering_page
    assert tells(
        tab.facts.text(),
        "tab-axle.lock-stopped-by-the-outer-wheel-is-off-by-at",
        lock_deg="42.3",
        stop=say("axle.the-racks-end"),
    )
    page.slider.setValue(100)
    page.view.grab()
    assert page.view.accessibleDescription().startswith("left 42.3°")
    page.slider.setValue(0)
    set_field(qtbot, page.fields, "arm_angle_deg", "0")
    worse = tab.facts.text()
    press(qtbot, page.improve)
    assert tab.facts.text() != worse
    assert window.session.undo_stack.undoText() == say("axle.improve-the-steering-arms")
    page.view.grab()
    start = page.view.joint("arm").toPoint()
    qtbot.mousePress(page.view, LEFT, pos=start)
    qtbot.mouseMove(page.view, start + QPoint(0, 12))
    qtbot.mouseRelease(page.view, LEFT, pos=start + QPoint(0, 12))
    assert window.session.undo_stack.undoText() == say("tab-axle.move-the-arms-end")
    set_field(qtbot, page.fields, "arm_mm", "2,5 u")
    running = window.session.vehicle.running
    assert running is not None
    assert running.steering.arm_mm == 20
    set_field(qtbot, page.fields, "rod_mm", "0.1")
    assert "steering-stuck" in findings(window)
    page.view.grab()
    assert tells(tab.facts.text(), "axle.the-tie-rods-do-not-reach-no-place-of-the")
    press(qtbot, page.improve)
    assert tells(said(window), "axle.mend-that-first")


def test_clearance_is_seen_before_and_after_and_dragged(
    qtbot: QtBot, open_window: OpenWindow
) -> None:
    window = open_window(example_vehicle("larkholm-street-sweeper"))
    tab = axle_tab(qtbot, window, 4)
    page = tab.room_page
    assert not page.fields.isEnabled()
    press(qtbot, page.plan)  # from the usual proportions
    assert page.fields.isEnabled()
    assert tells(tab.facts.text(), "axle.final-drive-gear")
    choose(page.fields, "hub", "raised")
    set_field(qtbot, page.fields, "rise_mm", "8")
    assert page.lows.text_at(0, 0) == say("axle.final-drive-gear")
    assert page.lows.text_at(0, 1) == "7.0 mm"
    assert page.lows.text_at(0, 2) == "15.0 mm"
    page.view.grab()
    spots = dict(page.view.handles())
    start = spots["wheelbase_mm"].toPoint()
    was = window.session.vehicle.axle.wheelbase_mm
    qtbot.mousePress(page.view, LEFT, pos=start)
    qtbot.mouseMove(page.view, start + QPoint(30, 0))
    qtbot.mouseRelease(page.view, LEFT, pos=start + QPoint(30, 0))
    assert window.session.vehicle.axle.wheelbase_mm > was
    set_field(qtbot, page.fields, "rate_n_mm", "0.2")
    assert page.travel.rowCount() == 9
    assert "springs-soft" in findings(window)
    window.resize(1100, 700)
    for key in tab.keys:
        tab.show_page(key)
        assert tab.minimumSizeHint().width() <= 688, key  # what a small screen leaves it


def test_the_shaft_line_is_chosen_and_its_pinion_dragged(qtbot: QtBot, window: Window) -> None:
    tab = axle_tab(qtbot, window, 5)
    page = tab.line_page
    assert tells(tab.facts.text(), "tab-axle.a-tunnel-high", tunnel_mm="3.4 mm")
    names = [page.choices.text_at(row, 0) for row in range(page.choices.rowCount())]
    page.choices.setCurrentCell(names.index("drop gears 8:8"), 0)
    press(qtbot, page.take)
    assert tells(
        tab.facts.text(), "tab-axle.the-shaft-lies-up-the-floor-at-takes-the", tunnel="no tunnel"
    )
    page.view.grab()
    start = page.view.pinion().toPoint()
    qtbot.mousePress(page.view, LEFT, pos=start)
    qtbot.mouseRelease(page.view, LEFT, pos=start + QPoint(0, 14))
    running = window.session.vehicle.running
    assert running is not None
    assert running.line.offset_mm > 0
    set_field(qtbot, page.fields, "drop_driver", "")
    assert "drop-gears" in [f.code for f in window.session.evaluation.findings]
