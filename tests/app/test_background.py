"""Background work in the window, through the real process: the window lives on whatever happens."""

import os
import signal
import subprocess
import time
from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from examples import example_vehicle
from hands import said
from mild_badger.app.tabs.layout.tab import LayoutTab
from mild_badger.app.tabs.ratios.tab import RatiosTab
from mild_badger.app.window import Window
from mild_badger.app.worker import ENDED_FROM_OUTSIDE
from mild_badger.core.kit.catalogue import shipped_kit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.jobs.process import command
from mild_badger.jobs.registry import JOBS, Job
from strategies import vehicle_of
from telling import tells

OpenWindow = Callable[..., Window]
LEFT = Qt.MouseButton.LeftButton


def ratios(window: Window) -> RatiosTab:
    tab = window.tab_of("Ratios")
    assert isinstance(tab, RatiosTab)
    return tab


def searching(qtbot: QtBot, window: Window) -> int:
    """Start a search that lasts, and give the number of its process."""
    window.session.do(Edit.one("long", ("search", "max_pairs"), 3))
    window.session.do(Edit.one("large", ("kit",), shipped_kit("wood-shop")))
    window.find_set()
    qtbot.waitUntil(lambda: window.worker.pid is not None, timeout=5_000)
    pid = window.worker.pid
    assert pid is not None
    assert window.cancel.isVisible()
    return pid


def gone(pid: int) -> bool:
    """Whether a process has ended and was taken note of: no zombie either."""
    return not Path(f"/proc/{pid}").exists()


def test_a_killed_search_is_said_and_the_next_one_is_found(qtbot: QtBot, window: Window) -> None:
    pid = searching(qtbot, window)
    os.kill(pid, signal.SIGKILL)
    qtbot.waitUntil(lambda: said(window) == ENDED_FROM_OUTSIDE, timeout=10_000)
    assert "Searching" not in ratios(window).set_panel.answers.text()
    assert not window.cancel.isVisible()
    qtbot.waitUntil(lambda: gone(pid), timeout=5_000)
    window.session.undo_stack.undo()
    window.session.undo_stack.undo()
    window.find_set()
    panel = ratios(window).set_panel
    qtbot.waitUntil(
        lambda: tells(panel.answers.text(), "tab-ratios.pairs-gears-worst", title="Least error"),
        timeout=60_000,
    )


def test_cancel_ends_the_process_and_leaves_nothing_standing(qtbot: QtBot, window: Window) -> None:
    pid = searching(qtbot, window)
    qtbot.waitUntil(lambda: "Searching" in ratios(window).set_panel.answers.text())
    qtbot.mouseClick(window.cancel, LEFT)
    assert "Searching" not in ratios(window).set_panel.answers.text()
    assert not window.cancel.isVisible()
    qtbot.waitUntil(lambda: gone(pid), timeout=5_000)


def test_a_job_cancelled_before_its_process_has_started_is_not_done(
    qtbot: QtBot, window: Window
) -> None:
    ended: list[object] = []
    window.worker._signals.done.connect(lambda _ticket, result: ended.append(result))
    vehicle = window.session.vehicle
    for _ in range(3):  # each one drops the one before
        window.worker.start(Job("find set", (vehicle,)), ended.append)
    qtbot.mouseClick(window.cancel, LEFT)
    window.worker.wait()
    assert ended == []
    assert window.worker.pid is None


def test_an_edit_meanwhile_is_kept_and_the_answer_does_not_overwrite_it(
    qtbot: QtBot, open_window: OpenWindow
) -> None:
    window = open_window(vehicle_of(4.0, 2.0, 1.0))
    window.find_set()
    window.session.do(Edit.one("other", ("real", "gears", 0, "ratio"), 3.0))
    window.worker.wait()
    qtbot.waitUntil(lambda: not window.worker.running, timeout=30_000)
    assert window.session.vehicle.real.gears[0].ratio == 3.0
    assert "Least error:" not in ratios(window).set_panel.answers.text()  # of other targets


def test_the_window_closed_meanwhile_leaves_no_process(
    qtbot: QtBot, open_window: OpenWindow
) -> None:
    window = open_window(example_vehicle())
    pid = searching(qtbot, window)
    window.session.undo_stack.setClean()
    assert window.close()
    qtbot.waitUntil(lambda: gone(pid), timeout=5_000)


def test_a_process_whose_window_was_killed_ends_by_itself() -> None:
    # A shell stands for the window: it starts the process, which then outlives it.
    line = " ".join(f"'{word}'" for word in command())
    shell = subprocess.run(
        [
            "sh",
            "-c",
            f"sleep 30 2>&1 | {line} >/dev/null 2>&1 & sleep 2; pgrep -f jobs.process -P $$",
        ],
        capture_output=True,
        text=True,
        check=False,
    )
    pids = [int(pid) for pid in shell.stdout.split()]
    deadline = time.monotonic() + 10
    while any(Path(f"/proc/{pid}").exists() for pid in pids) and time.monotonic() < deadline:
        time.sleep(0.1)
    assert pids
    assert all(gone(pid) for pid in pids)


def test_the_limit_of_time_is_kept_and_the_best_so_far_is_shown(
    qtbot: QtBot, open_window: OpenWindow
) -> None:
    window = open_window(example_vehicle())
    window.session.do(Edit.one("limit", ("placing", "seconds"), 1.0))
    window.show_tab("Layout")
    tab = window.tab
    assert isinstance(tab, LayoutTab)
    tab.show_page("whole")
    began = time.monotonic()
    qtbot.mouseClick(tab.whole_page.place, LEFT)
    qtbot.waitUntil(lambda: tab.whole_page.proposal is not None, timeout=30_000)
    qtbot.waitUntil(lambda: not window.worker.running, timeout=30_000)
    assert time.monotonic() - began < 20  # one second of search, the rest is loading
    before = window.session.vehicle
    qtbot.mouseClick(tab.whole_page.take, LEFT)
    accepted = window.session.vehicle.layout
    assert accepted is not None
    tab.whole_page.search()
    qtbot.waitUntil(lambda: tab.whole_page.proposal is not None, timeout=30_000)
    assert not tab.whole_page.drop.isVisible()
    qtbot.mouseClick(tab.whole_page.reject, LEFT)
    assert window.session.vehicle.layout == accepted  # a proposal rejected, the layout stays
    qtbot.mouseClick(tab.whole_page.drop, LEFT)
    assert window.session.vehicle.layout == before.layout


@pytest.mark.parametrize("name", [n for n in JOBS if n not in ("find set", "place box")])
def test_any_job_that_is_killed_is_said(qtbot: QtBot, window: Window, name: str) -> None:
    arguments: dict[str, tuple[object, ...]] = {
        "plan book": (window.session.vehicle, None, (), window.session.school),
        "box model": (window.session.vehicle, "stl"),
        "trains of a gear": (window.session.vehicle, "1"),
    }
    answers: list[object] = []
    job = Job(name, arguments.get(name, (window.session.vehicle,)))
    window._search(job, answers.append, "Working")
    qtbot.waitUntil(lambda: window.worker.pid is not None, timeout=5_000)
    pid = window.worker.pid
    assert pid is not None
    os.kill(pid, signal.SIGKILL)  # it still loads its libraries, so it has not answered
    qtbot.waitUntil(lambda: said(window) == ENDED_FROM_OUTSIDE, timeout=10_000)
    assert answers == []
    assert not window.worker.running
    qtbot.waitUntil(lambda: gone(pid), timeout=5_000)


@pytest.mark.qt_log_ignore("propagateSizeHints")
def test_dialogs_are_freed_when_they_are_closed(qtbot: QtBot, window: Window) -> None:
    def count() -> int:
        QApplication.sendPostedEvents(None, 52)  # DeferredDelete
        QApplication.processEvents()
        return len(QApplication.allWidgets())

    window.edit_kit().accept()
    before = count()
    for _ in range(5):
        window.edit_kit().accept()
    assert count() <= before


def test_trains_of_a_large_kit_come_from_the_background(qtbot: QtBot, window: Window) -> None:
    window.session.do(Edit.one("large", ("kit",), shipped_kit("wood-shop")))
    window.show_tab("Ratios")
    began = time.monotonic()
    window.session.engage("2")
    assert time.monotonic() - began < 2  # the window does not wait
    choice = ratios(window).choice
    assert tells(choice.list_head.text(), "tab-ratios.working-out-this-kits-trains")
    qtbot.waitUntil(lambda: choice.table.rowCount() > 0, timeout=60_000)
    assert not tells(choice.list_head.text(), "tab-ratios.working-out-this-kits-trains")
    assert choice.rungs.rowCount() > 0
