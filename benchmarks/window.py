"""The window's speed: an edit on every screen, and starting against a bare window.

Run by hand: ``QT_QPA_PLATFORM=offscreen .venv/bin/python benchmarks/window.py``.
"""

import os
import statistics
import subprocess
import sys
import time

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

BARE = """
import sys, pyqtgraph
from PyQt6.QtWidgets import QApplication, QMainWindow
app = QApplication([])
window = QMainWindow()
window.setCentralWidget(pyqtgraph.PlotWidget())
window.resize(1280, 800)
window.show()
app.processEvents()
"""
OURS = """
from PyQt6.QtWidgets import QApplication
from mild_badger.app.session import Session
from mild_badger.app.settings import Settings
from mild_badger.app.theme.style import Theme
from mild_badger.app.window import Window
from mild_badger.core.vehicle.demo import demo_vehicle
app = QApplication([])
window = Window(Session(demo_vehicle()), Theme(app), Settings())
window.show()
app.processEvents()
"""


def seconds_of(program: str) -> float:
    start = time.perf_counter()
    subprocess.run([sys.executable, "-c", program], check=True)
    return time.perf_counter() - start


def starting() -> None:
    bare, ours = [], []
    for _ in range(7):  # in turn, so that a drifting machine slows both
        bare.append(seconds_of(BARE))
        ours.append(seconds_of(OURS))
    ratio = statistics.median(b / a for a, b in zip(bare, ours, strict=True))
    print(f"window up / bare PyQt6 + pyqtgraph window = {ratio:.2f} (limit 2.5)")


def editing() -> None:
    from PyQt6.QtWidgets import QApplication  # noqa: PLC0415 - after the platform is set

    from mild_badger.app.session import Session  # noqa: PLC0415
    from mild_badger.app.settings import Settings  # noqa: PLC0415
    from mild_badger.app.tab_list import TABS  # noqa: PLC0415
    from mild_badger.app.theme.style import Theme  # noqa: PLC0415
    from mild_badger.app.window import Window  # noqa: PLC0415
    from mild_badger.core.vehicle.demo import demo_vehicle  # noqa: PLC0415
    from mild_badger.core.vehicle.edit.change import Edit  # noqa: PLC0415

    app = QApplication([])
    window = Window(Session(demo_vehicle()), Theme(app), Settings())
    window.show()
    window.session.engage("3")
    for title in TABS:
        window.show_tab(title)
        app.processEvents()
        for what, path, base in (
            ("a target", ("real", "gears", 2, "ratio"), 2.1),
            ("the wheels", ("wheels", "diameter_mm"), 68.0),
        ):
            times = []
            for step in range(31):
                edit = Edit.one("Try", path, base + 0.01 * step)
                start = time.perf_counter()
                window.session.do(edit)
                app.processEvents()
                times.append(time.perf_counter() - start)
            middle = 1000 * statistics.median(times)
            print(f"edit {what} to repaint, {title}: median {middle:.0f} ms (limit 50)")


def searching() -> None:
    """Edit while a long comparison runs."""
    from PyQt6.QtWidgets import QApplication  # noqa: PLC0415

    from mild_badger.app.session import Session  # noqa: PLC0415
    from mild_badger.app.settings import Settings  # noqa: PLC0415
    from mild_badger.app.theme.style import Theme  # noqa: PLC0415
    from mild_badger.app.window import Window  # noqa: PLC0415
    from mild_badger.core.vehicle.demo import demo_vehicle  # noqa: PLC0415
    from mild_badger.core.vehicle.edit.change import Edit  # noqa: PLC0415

    app = QApplication.instance() or QApplication([])
    if not isinstance(app, QApplication):
        return
    window = Window(Session(demo_vehicle("larkholm-timber-tractor")), Theme(app), Settings())
    window.show()
    window.compare()
    window.show_tab("Vehicle")
    app.processEvents()
    times = []
    for step in range(61):
        edit = Edit.one("Try", ("wheels", "diameter_mm"), 120.0 + 0.01 * step)
        start = time.perf_counter()
        window.session.do(edit)
        app.processEvents()
        times.append(time.perf_counter() - start)
        time.sleep(0.03)
    busy = window.cancel.isVisible()
    window.worker.finish()
    middle, worst = 1000 * statistics.median(times), 1000 * max(times)
    print(
        f"edit to repaint while a comparison runs ({'still running' if busy else 'ended'}): median "
        f"{middle:.0f} ms, worst of 61 {worst:.0f} ms (limit 50)"
    )


if __name__ == "__main__":
    starting()
    editing()
    searching()
