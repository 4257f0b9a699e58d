"""A seeded hand at the window, and every page with the usual edits under a watchdog."""

import random
from collections.abc import Callable

import pytest
from PyQt6.QtWidgets import QFileDialog

from examples import example_vehicle
from extremes import extreme_vehicle
from mild_badger.app.tab_list import TABS
from mild_badger.app.window import Window
from mild_badger.core.kit.catalogue import shipped_kit
from mild_badger.core.vehicle.blank import blank_vehicle
from mild_badger.core.vehicle.demo import DEMOS
from robot import EDITS, Robot, settle, walk

OpenWindow = Callable[..., Window]
STANDSTILL_S = 2.0
"""What a loaded test machine may take; the measured figures are far below (benchmarks/soak.py)."""


@pytest.fixture(autouse=True)
def no_dialogs(monkeypatch: pytest.MonkeyPatch) -> None:
    for name in ("getOpenFileName", "getSaveFileName"):
        monkeypatch.setattr(QFileDialog, name, lambda *_a, **_k: ("", ""))
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_a, **_k: "")


@pytest.mark.qt_log_ignore(".*")
@pytest.mark.parametrize("seed", [1, 2])
def test_whatever_a_hand_does_the_window_lives_on(
    open_window: OpenWindow, answer: Callable[..., None], seed: int
) -> None:
    from PyQt6.QtWidgets import QMessageBox  # noqa: PLC0415 - beside its only use

    answer(QMessageBox.StandardButton.Discard)
    window = open_window(blank_vehicle(shipped_kit("brick-grid")) if seed == 1 else None)
    robot = Robot(window, seed)
    for _ in range(60):
        timed = robot.step()
        assert timed.seconds < 10, timed.what
    robot._close_dialogs()


@pytest.mark.qt_log_ignore(".*")
@pytest.mark.parametrize("demo", DEMOS)
def test_no_page_and_no_edit_holds_the_window_up(open_window: OpenWindow, demo: str) -> None:
    window = open_window(example_vehicle(demo))
    titles = random.Random(demo).sample(list(TABS), 1)
    for title in titles:  # what is loaded when a tab is first wanted is not what is watched here
        window.show_tab(title)
        settle()
    steps = list(walk(window, titles, random.Random(demo).sample(EDITS, 5)))
    slow = [timed for timed in steps if timed.seconds > STANDSTILL_S]
    assert slow == []
    assert window.session.vehicle == example_vehicle(demo)


@pytest.mark.qt_log_ignore(".*")
@pytest.mark.parametrize("seed", [8])
def test_extreme_documents_are_shown_on_every_page(open_window: OpenWindow, seed: int) -> None:
    window = open_window(extreme_vehicle(seed))
    for title in TABS:
        window.show_tab(title)
        settle()
        for bar in window.tab.findChildren(type(window.tab_bar), "pages"):
            for number in range(bar.count()):
                bar.setCurrentIndex(number)
                settle()
        assert not window.tab.grab().isNull()
