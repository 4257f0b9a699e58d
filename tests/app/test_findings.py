"""A finding, pressed, leads to where it is seen to."""

from collections.abc import Callable

import pytest
from PyQt6.QtCore import Qt
from pytestqt.qtbot import QtBot

from examples import example_vehicle
from mild_badger.app.tab_list import TABS
from mild_badger.app.tabs.machine.tab import MachineTab
from mild_badger.app.tabs.tab import PagedTab
from mild_badger.app.window import Window
from mild_badger.core.findings.catalogue import CATALOGUE
from mild_badger.core.vehicle.edit.change import Edit

OpenWindow = Callable[..., Window]
LEFT = Qt.MouseButton.LeftButton


def test_every_place_of_the_catalogue_is_there(window: Window) -> None:
    for kind in CATALOGUE.values():
        if not kind.tab:
            continue
        assert kind.tab in TABS, kind.code
        if kind.page:
            tab = window.tab_of(kind.tab)
            assert isinstance(tab, PagedTab)
            assert kind.page in tab.keys, kind.code
            window.show_tab(kind.tab)
            tab.show_thing(kind.page, ())
            assert tab.key == kind.page
            assert tab.page_in_view.isVisible(), kind.code


@pytest.mark.parametrize("key", ["mouse", "keyboard"])
def test_a_pressed_title_goes_to_the_page_and_the_gear(
    qtbot: QtBot, window: Window, key: str
) -> None:
    window.session.do(Edit.one("Strict", ("search", "tolerance_percent"), 0.05))
    window.show_tab("Road")
    card = next(c for c in window.drawer.cards if c.finding.code == "ratio-error")
    if key == "mouse":
        qtbot.mouseClick(card.title, LEFT)
    else:
        card.title.setFocus()
        qtbot.keyClick(card.title, Qt.Key.Key_Space)
    assert window.tab_bar.tabText(window.tab_bar.currentIndex()) == "Ratios"
    assert window.session.situation.gear == card.finding.where[0]
    assert isinstance(window.tab, PagedTab)
    assert window.tab.key == "gear"


def test_it_chooses_the_output_it_speaks_of(qtbot: QtBot, open_window: OpenWindow) -> None:
    window = open_window(example_vehicle("larkholm-crane-truck"))
    number = [o.name for o in window.session.vehicle.crane.outputs].index("legs")  # type: ignore[union-attr]
    path = ("crane", "outputs", number, "input_rpm")
    window.session.do(Edit.one("Drive it from the motor", (*path[:-1], "source"), "motor"))
    cards = [c for c in window.drawer.cards if c.finding.where[:1] == ("crane",)]
    card = next(c for c in cards if len(c.finding.where) > 1)
    qtbot.mouseClick(card.title, LEFT)
    tab = window.tab
    assert isinstance(tab, MachineTab)
    assert tab.key == CATALOGUE[card.finding.code].page
    if tab.key == "crane":
        assert tab.page("crane").selected == card.finding.where[1]
