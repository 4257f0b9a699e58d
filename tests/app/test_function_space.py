"""The page Function box of the tab Layout: placed and proven with the mouse, outputs held."""

from collections.abc import Callable

import pytest
from PyQt6.QtCore import Qt
from pytestqt.qtbot import QtBot

from examples import example_vehicle
from hands import type_over
from mild_badger.app.tabs.layout.function_page import FunctionBoxPage
from mild_badger.app.tabs.layout.tab import LayoutTab
from mild_badger.app.window import Window
from mild_badger.core.layout.function_box import function_stack
from telling import tells

OpenWindow = Callable[..., Window]
LEFT = Qt.MouseButton.LeftButton
pytestmark = pytest.mark.qt_log_ignore("propagateSizeHints", "This plugin does not support")


def function_page(qtbot: QtBot, window: Window) -> FunctionBoxPage:
    window.show_tab("Layout")
    tab = window.tab
    assert isinstance(tab, LayoutTab)
    place = tab.keys.index("functions")
    qtbot.mouseClick(tab.pages, LEFT, pos=tab.pages.tabRect(place).center())
    return tab.functions_page


def test_the_function_box_is_placed_proven_and_held(qtbot: QtBot, open_window: OpenWindow) -> None:
    window = open_window(example_vehicle("larkholm-street-sweeper"))
    page = function_page(qtbot, window)
    session = window.session
    assert function_stack(session.vehicle) is None
    assert not page.prove_now.isEnabled()
    qtbot.mouseClick(page.place, LEFT)
    qtbot.waitUntil(lambda: tells(page.words.text(), "tab-layout.nothing-touches"), timeout=40_000)
    stack = function_stack(session.vehicle)
    assert stack is not None
    assert page.slabs.count() == len(stack.slabs)
    # the motor's way turns the arrows about
    page.positions.setCurrentIndex(0)
    page.positions.activated.emit(0)
    ahead = dict(page.end._turns)
    qtbot.mouseClick(page.motor, LEFT)
    turned = dict(page.end._turns)
    assert ahead["feed.input"] == -(turned["feed.input"] or 0)
    # a side view press looks at that layer
    sleeve = next(
        slab for slab, kind in zip(stack.slabs, stack.kinds, strict=True) if kind == "sleeve"
    )
    qtbot.mouseClick(page.side, LEFT, pos=page.side.place_of(sleeve).toPoint())
    assert page.slabs.currentData() == sleeve
    # an output held elsewhere asks for new places
    rod = stack.rods[f"output {page.holds.currentData()}"]
    unit = session.vehicle.kit.grid_unit_mm
    x, y = rod.x_mm / unit, rod.y_mm / unit
    type_over(qtbot, page.point, f"{-x:g}, {-y:g}")
    assert session.vehicle.functions is not None
    (pin,) = session.vehicle.functions.pins
    assert (pin.x_mm, pin.y_mm) == (-rod.x_mm, -rod.y_mm)
    qtbot.mouseClick(page.place, LEFT)
    qtbot.waitUntil(
        lambda: (
            (new := function_stack(session.vehicle)) is not None
            and new.rods[rod.name].x_mm == -rod.x_mm
        ),
        timeout=40_000,
    )
    window.worker.wait()


def test_a_place_that_is_none_is_refused(qtbot: QtBot, open_window: OpenWindow) -> None:
    window = open_window(example_vehicle("larkholm-street-sweeper"))
    page = function_page(qtbot, window)
    before = window.session.vehicle
    type_over(qtbot, page.point, "3 apples")
    assert window.session.vehicle is before


def test_without_a_function_box_the_page_says_what_to_do(
    qtbot: QtBot, open_window: OpenWindow
) -> None:
    window = open_window(example_vehicle("larkholm-mail-bus"))
    page = function_page(qtbot, window)
    assert not page.place.isEnabled()
    assert tells(page.end.empty, "layout.this-vehicle-has-no-function-box-to-place")
