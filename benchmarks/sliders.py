"""How long it takes to redraw everything when a slider of the Axle bench is moved.

Run by hand: ``QT_QPA_PLATFORM=offscreen .venv/bin/python benchmarks/sliders.py``. The demo at
1280 × 800; each step sets the slider and lets everything that changed be painted. The last figure
is in solves of one state of the same box, which does not hang on the machine.
"""

import os
import statistics
import time

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6.QtWidgets import QApplication, QSlider

from mild_badger.app.session import Session
from mild_badger.app.settings import Settings
from mild_badger.app.tabs.axle.tab import AxleTab
from mild_badger.app.theme.style import Theme
from mild_badger.app.window import Window
from mild_badger.core.axle.road_state import Straight, Turn, conditions
from mild_badger.core.driveline.assemble import assemble, shifter_state_for
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.vehicle.demo import demo_vehicle

LIMIT_MS = 16.0
STEPS = 60


def one_solve() -> float:
    vehicle = demo_vehicle()
    train, sleeves = assemble(vehicle), shifter_state_for(vehicle, "3")
    road = conditions(vehicle, Straight(), locked=False)
    start = time.perf_counter()
    for _ in range(50):
        solve(train, sleeves, road)
    return (time.perf_counter() - start) / 50


def moved(window: Window, app: QApplication, slider: QSlider) -> list[float]:
    times = []
    span = slider.maximum() - slider.minimum()
    for step in range(STEPS):
        start = time.perf_counter()
        slider.setValue(slider.minimum() + span * (step % 30 + 1) // 32)
        app.processEvents()
        times.append(time.perf_counter() - start)
    return times


def main() -> None:
    app = QApplication([])
    window = Window(Session(demo_vehicle()), Theme(app), Settings())
    window.resize(1280, 800)
    window.show()
    window.show_tab("Axle")
    tab = window.tab
    if not isinstance(tab, AxleTab):
        return
    window.session.engage("3")
    window.session.drive(Turn(900.0, "left"))
    app.processEvents()
    unit = one_solve()
    tab.show_page("lesson")  # its sliders are made when it is first looked at
    app.processEvents()
    for page, name, slider in (
        ("turn", "turn radius", tab.turn_page.slider),
        ("lesson", "lesson, radius of the corner", tab.lesson_page.sliders["radius_mm"]),
        ("steering", "steering rack", tab.steering_page.slider),
    ):
        tab.show_page(page)
        app.processEvents()
        moved(window, app, slider)  # once to warm up
        times = moved(window, app, slider)
        median = statistics.median(times)
        print(
            f"{name}: {1000 * median:.1f} ms median, {1000 * max(times):.1f} worst "
            f"(limit {LIMIT_MS:g} median); {median / unit:.0f} solves of one state",
            flush=True,
        )
    window.worker.finish()
    os._exit(0)


if __name__ == "__main__":
    main()
