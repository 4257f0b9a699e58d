"""The box in space in the real window: looked at, turned by hand, run, shifted, cut open."""

import io
from collections.abc import Callable
from itertools import pairwise
from math import pi

import numpy as np
import pytest
from PIL import Image
from PyQt6.QtCore import QPoint, QPointF, Qt
from pytestqt.qtbot import QtBot

from mild_badger.app.scene.part_menu import part_menu
from mild_badger.app.scene.space_view import SpaceView
from mild_badger.app.tabs.layout import space_page
from mild_badger.app.tabs.layout.space_page import SpacePage
from mild_badger.app.tabs.layout.tab import LayoutTab
from mild_badger.app.tabs.shift.tab import ShiftTab
from mild_badger.app.window import Window
from mild_badger.core.axle.road_state import Straight, Turn
from mild_badger.core.scene.motion import gears_with
from mild_badger.core.vehicle.demo import demo_vehicle
from mild_badger.core.vehicle.edit.change import Edit
from telling import tells

LEFT = Qt.MouseButton.LeftButton
FRAMES = 10
OpenWindow = Callable[..., Window]


def opened(qtbot: QtBot, open_window: OpenWindow, gear: str = "1") -> tuple[Window, SpacePage]:
    """The window on the page, its picture made and drawn finely."""
    window = open_window(demo_vehicle("larkholm-timber-tractor"))
    window.session.engage(gear)
    page = page_in(window)
    qtbot.waitUntil(lambda: not page.view.moving and page.view.drawn_finely)
    return window, page


def page_in(window: Window) -> SpacePage:
    window.show_tab("Layout")
    tab = window.tab
    assert isinstance(tab, LayoutTab)
    tab.show_page("space")
    return tab.space_page


def place_of(view: SpaceView, kind: str, *, turning: bool = False) -> QPoint:
    """Somewhere in the picture where a part of a kind is seen, well inside it."""
    for y in range(8, view.height() - 8, 4):
        for x in range(8, view.width() - 8, 4):
            around = [view.part_at(QPointF(x + dx, y + dy)) for dx in (-3, 3) for dy in (-3, 3)]
            part = around[0]
            alone = part is not None and part.kind == kind and all(p is part for p in around)
            if part is not None and alone and (not turning or view.turning(part)):
                return QPoint(x, y)
    raise AssertionError(kind)


def pixels(view: SpaceView) -> np.ndarray:
    image = view.grab().toImage()
    bits = image.constBits()
    assert bits is not None
    return np.frombuffer(bits.asstring(image.sizeInBytes()), dtype=np.uint8)


def test_a_gear_dragged_turns_all_by_the_exact_ratio_and_idle_costs_nothing(
    qtbot: QtBot, open_window: OpenWindow
) -> None:
    view = opened(qtbot, open_window)[1].view
    view.look_from("input")
    qtbot.waitUntil(lambda: view.drawn_finely)
    here = place_of(view, "gear", turning=True)
    part = view.part_at(QPointF(here))
    assert part is not None
    before = pixels(view)
    middle = view.place_of(part)
    arm = QPointF(here) - middle
    there = middle + QPointF(-arm.y(), arm.x())  # a quarter turn clockwise, as the screen has it
    qtbot.mousePress(view, LEFT, pos=here)
    for share in (0.25, 0.5, 0.75, 1.0):
        angle = share * pi / 2
        spot = middle + QPointF(
            arm.x() * np.cos(angle) - arm.y() * np.sin(angle),
            arm.x() * np.sin(angle) + arm.y() * np.cos(angle),
        )
        qtbot.mouseMove(view, spot.toPoint())
    qtbot.mouseRelease(view, LEFT, pos=there.toPoint())
    # its own turns for one of the motor give the motor's for a quarter of its own
    ratio = view.turns_of(part) / (2 * pi)
    assert abs(view.turned) == pytest.approx(abs(0.25 / ratio), rel=0.06)
    qtbot.waitUntil(lambda: view.drawn_finely)
    assert (pixels(view) != before).any()
    assert not view.moving


def test_a_steered_wheel_follows_hand_and_slider(qtbot: QtBot, open_window: OpenWindow) -> None:
    window, page = opened(qtbot, open_window)
    view = page.view
    assert page.steer.isHidden()  # the box alone has none
    page.shows.setCurrentIndex(page.shows.findData("whole"))
    page.shows.activated.emit(page.shows.currentIndex())
    qtbot.waitUntil(lambda: not view.moving and view.drawn_finely)
    assert page.steer.isVisible()
    before = pixels(view)
    page.steer.setValue(page.steer.maximum())
    road = window.session.situation.road
    assert isinstance(road, Turn)
    assert road.towards == "right"
    qtbot.waitUntil(lambda: view.drawn_finely)
    assert (pixels(view) != before).any()
    stage, corners = view.stage, view.corners()
    assert stage is not None
    assert stage.steered is not None
    assert corners is not None
    scene = view.shapes()
    assert scene is not None
    here = place_of(view, "wheel", turning=True)
    number = view.number_at(QPointF(here))
    rows = slice(scene.starts[number], scene.starts[number + 1])
    size = view.width(), view.height()
    seen = view.camera.seen(corners[rows], size)
    taken = int(seen[:, 2].argmax())  # what is nearest to the eye goes with the hand
    step = QPoint(0, 12)
    qtbot.mousePress(view, LEFT, pos=here)
    qtbot.mouseMove(view, here + step)
    qtbot.mouseRelease(view, LEFT, pos=here + step)
    after = view.corners()
    assert after is not None
    gone = view.camera.seen(after[rows], size)[taken] - seen[taken]
    assert gone[1] > 1
    # straight ahead again
    page.steer.setValue(0)
    assert window.session.situation.road == Straight()


def test_the_paper_dragged_goes_round_and_a_part_pressed_is_marked(
    qtbot: QtBot, open_window: OpenWindow
) -> None:
    view = opened(qtbot, open_window)[1].view
    eye = view.camera
    corner = QPoint(6, 6)
    assert view.part_at(QPointF(corner)) is None
    qtbot.mousePress(view, LEFT, pos=corner)
    qtbot.mouseMove(view, corner + QPoint(60, 0))
    qtbot.mouseRelease(view, LEFT, pos=corner + QPoint(60, 0))
    assert view.camera.round_deg != eye.round_deg
    assert view.turned == 0
    qtbot.waitUntil(lambda: view.drawn_finely)
    here = place_of(view, "fork")
    with qtbot.waitSignal(view.chosen) as chosen:
        qtbot.mouseClick(view, LEFT, pos=here)
    part = view.part_at(QPointF(here))
    assert part is not None
    assert chosen.args == [part.key]
    view.setFocus()
    qtbot.keyClick(view, Qt.Key.Key_Home)
    assert view.camera.scale == pytest.approx(eye.scale, rel=0.3)


def test_it_runs_until_it_is_stopped_and_shifts_when_a_gear_is_engaged(
    qtbot: QtBot, open_window: OpenWindow
) -> None:
    window, page = opened(qtbot, open_window)
    view = page.view
    qtbot.mouseClick(page.run, LEFT)
    qtbot.waitUntil(lambda: abs(view.turned) > 0.05)
    assert view.moving
    said = page.run.text()
    window.show_tab("Road")  # left while it runs, it stands, and can be run anew
    assert view.rpm == 0
    assert page_in(window) is page
    assert page.run.text() != said
    qtbot.mouseClick(page.run, LEFT)
    qtbot.waitUntil(lambda: view.moving)
    qtbot.mouseClick(page.run, LEFT)
    qtbot.waitUntil(lambda: not view.moving)
    stood = view.turned
    window.session.engage("3")
    qtbot.waitUntil(lambda: view.moving)
    qtbot.waitUntil(lambda: not view.moving)
    assert view.turned == stood
    sleeve = next(iter(window.session.vehicle.box.engaged("3")))
    assert abs(view.gone_mm(sleeve)) == window.session.vehicle.lever.fork_travel_mm


def test_the_run_is_played_in_space_with_its_trace(qtbot: QtBot, open_window: OpenWindow) -> None:
    window, page = opened(qtbot, open_window, "3")
    qtbot.mouseClick(page.play, LEFT)  # it goes to the page of the run
    tab = window.tab
    assert isinstance(tab, ShiftTab)
    run = tab.play_page
    qtbot.waitUntil(lambda: run.space.drawn_finely)
    spans = [s for s in run.trace.speeds if s.gears]
    assert len({s.gears[0] for s in spans}) >= 3
    for span in spans[:4]:
        middle = (run.trace.x_of(span.from_s) + run.trace.x_of(span.to_s)) / 2
        qtbot.mouseClick(run.trace, LEFT, pos=QPoint(round(middle), 20))
        (gear,) = span.gears
        for sleeve in window.session.vehicle.box.engaged(gear):
            far = window.session.vehicle.lever.fork_travel_mm
            assert abs(run.space.gone_mm(sleeve)) == pytest.approx(far)
    before, turned = pixels(run.space), run.space.turned
    qtbot.mouseClick(run.start, LEFT)
    qtbot.waitUntil(lambda: abs(run.space.turned - turned) > 0.1, timeout=8000)
    qtbot.mouseClick(run.start, LEFT)
    assert not np.array_equal(pixels(run.space), before)


def test_a_part_pressed_is_chosen_in_every_picture_and_has_a_menu(
    qtbot: QtBot, open_window: OpenWindow
) -> None:
    window, page = opened(qtbot, open_window, "2")
    here = place_of(page.view, "sleeve")
    part = page.view.part_at(QPointF(here))
    assert part is not None
    qtbot.mouseClick(page.view, LEFT, pos=here)
    assert window.session.part == part.key
    window.show_page("Shift", "play")
    tab = window.tab
    assert isinstance(tab, ShiftTab)
    qtbot.waitUntil(lambda: tab.play_page.space.drawn_finely)
    assert tab.play_page.space.marked == part.key
    menu = part_menu(window.session, part, page._take_off)
    actions = [action for action in menu.actions() if action.isEnabled() and action.text()]
    engaging = gears_with(window.session.vehicle, part)
    assert len(engaging) >= 1
    actions[0].trigger()
    assert window.session.situation.gear == engaging[0]
    actions[-1].trigger()
    assert page.view.roles()[page.view.parts.index(part)] == "hidden"
    qtbot.mouseClick(page.all_parts, LEFT)
    assert page.view.roles()[page.view.parts.index(part)] != "hidden"


def test_it_is_cut_open_drawn_apart_and_its_walls_come_and_go(
    qtbot: QtBot, open_window: OpenWindow
) -> None:
    page = opened(qtbot, open_window)[1]
    view = page.view
    seen = [pixels(view)]
    page.walls.click()
    qtbot.waitUntil(lambda: view.drawn_finely)
    assert place_of(view, "wall")
    seen.append(pixels(view))
    page.cuts.setCurrentIndex(1)
    page.cuts.activated.emit(1)
    qtbot.waitUntil(lambda: view.drawn_finely)
    seen.append(pixels(view))
    page.apart.setValue(60)
    qtbot.waitUntil(lambda: view.drawn_finely)
    seen.append(pixels(view))
    for one, other in pairwise(seen):
        assert (one != other).any()
    assert not view.moving


def test_a_box_without_a_place_says_so(qtbot: QtBot, open_window: OpenWindow) -> None:
    vehicle = demo_vehicle("larkholm-mail-bus").model_copy(update={"layout": None})
    window = open_window(vehicle)
    page = page_in(window)
    assert page.view.words()
    assert not page.run.isEnabled()


def test_a_second_sleeve_is_stopped_and_the_torque_is_seen_and_filmed(
    qtbot: QtBot, open_window: OpenWindow, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(space_page, "FILM_FRAMES", FRAMES)
    window, page = opened(qtbot, open_window, "1")
    view, vehicle = page.view, window.session.vehicle
    mine = next(iter(vehicle.box.engaged("1")))
    part = next(p for p in view.parts if p.kind == "sleeve" and p.member != mine)
    far = vehicle.lever.fork_travel_mm
    page._push(part.member, "back")
    assert tells(page.words.text(), "scene.the-interlock-stops-it")
    assert 0 < abs(view.gone_mm(part.member)) < far / 2
    qtbot.waitUntil(lambda: not view.moving)
    assert view.gone_mm(part.member) == 0
    assert abs(view.gone_mm(mine)) == far
    page._push(mine, None)  # out of gear by hand, then the other one goes in
    qtbot.waitUntil(lambda: not view.moving)
    page._push(part.member, "back")
    qtbot.waitUntil(lambda: not view.moving)
    assert abs(view.gone_mm(part.member)) == far
    window.session.engage("2")
    qtbot.waitUntil(lambda: view.drawn_finely)
    plain = pixels(view)
    qtbot.mouseClick(page.flow, LEFT, pos=QPoint(8, page.flow.height() // 2))
    qtbot.waitUntil(lambda: view.drawn_finely)
    assert view.flow
    assert not np.array_equal(pixels(view), plain)
    page.bytes_wanted.disconnect()  # no dialog asks where to
    with qtbot.waitSignal(page.bytes_wanted, timeout=30_000) as written:
        qtbot.mouseClick(page.moving, LEFT)
    name, data = written.args
    assert name == "space.gif"
    with Image.open(io.BytesIO(data)) as film:
        assert getattr(film, "n_frames", 1) == FRAMES
        first = np.asarray(film.convert("RGB")).astype(int)
        film.seek(FRAMES // 2)
        assert np.abs(np.asarray(film.convert("RGB")).astype(int) - first).max() > 60


def test_a_locked_box_turns_until_it_binds(qtbot: QtBot, open_window: OpenWindow) -> None:
    window = open_window(demo_vehicle("larkholm-timber-tractor"))
    window.session.do(Edit.one("", ("lever", "plungers"), False))
    window.session.engage("1")
    page = page_in(window)
    view = page.view
    qtbot.waitUntil(lambda: view.drawn_finely)
    mine = next(iter(window.session.vehicle.box.engaged("1")))
    part = next(p for p in view.parts if p.kind == "sleeve" and p.member != mine)
    page._push(part.member, "back")
    assert tells(page.words.text(), "scene.this-state-locks")
    qtbot.waitUntil(lambda: not view.moving)
    assert "fight" in view.roles()
    started = view.turned
    qtbot.mouseClick(page.run, LEFT)
    qtbot.waitUntil(lambda: view.rpm == 0)
    assert tells(page.words.text(), "scene.the-train-binds")
    assert 0 < abs(view.turned - started) < 0.3
