"""Edit to repaint on every tab, this tree against another one, in one run.

``python -m benchmarks.against OLD`` takes the path of a checkout of an older commit. Both trees are
run in turn by processes of their own, so that a drifting machine slows both alike; printed are the
medians in ms, tab by tab, and their ratio.
"""

import json
import os
import statistics
import subprocess
import sys
from pathlib import Path

DEMOS = ("larkholm-mail-bus", "larkholm-timber-tractor", "larkholm-crane-truck")
ROUNDS = 3
PROGRAM = """
import json, os, statistics, sys, time
from PyQt6.QtWidgets import QApplication
from mild_badger.app.session import Session
from mild_badger.app.settings import Settings
from mild_badger.app.theme.style import Theme
from mild_badger.app.window import Window
from mild_badger.core.vehicle.demo import demo_vehicle
try:
    from mild_badger.core.vehicle.edit.change import Edit
except ImportError:
    from mild_badger.core.changes import Edit
app = QApplication([])
try:
    from mild_badger.app.tab_list import TABS
except ImportError:
    try:
        from mild_badger.app.window import TABS
    except ImportError:
        from mild_badger.app.window import BENCHES as TABS
vehicle = demo_vehicle(sys.argv[1])
window = Window(Session(vehicle), Theme(app), Settings())
window.show()
window.session.engage(vehicle.real.gears[0].name)
found = {}
for title in TABS:
    (getattr(window, "show_tab", None) or window.show_bench)(title)
    app.processEvents()
    times = []
    for step in range(12):
        edit = Edit.one("Try", ("wheels", "diameter_mm"), vehicle.wheels.diameter_mm + 0.01 * step)
        start = time.perf_counter()
        window.session.do(edit)
        app.processEvents()
        times.append(time.perf_counter() - start)
    found[title] = 1000 * statistics.median(times)
window.worker.finish()
print(json.dumps(found), flush=True)
os._exit(0)  # what an older tree leaves behind at its end is not asked
"""


def medians(tree: Path, demo: str) -> dict[str, float]:
    """Run a tree's window and give its medians in ms by tab."""
    env = os.environ | {"PYTHONPATH": str(tree / "src"), "QT_QPA_PLATFORM": "offscreen"}
    done = subprocess.run(
        [sys.executable, "-c", PROGRAM, demo],
        env=env,
        cwd=tree,
        check=True,
        capture_output=True,
        text=True,
    )
    found: dict[str, float] = json.loads(done.stdout.splitlines()[-1])
    return found


def main() -> None:
    """Compare the trees demo by demo."""
    old, new = Path(sys.argv[1]).resolve(), Path(__file__).parents[1]
    for demo in DEMOS:
        rounds = [(medians(old, demo), medians(new, demo)) for _ in range(ROUNDS)]
        ratios = []
        for title in rounds[0][1]:
            before = statistics.median(r[0].get(title, 0.0) for r in rounds)
            after = statistics.median(r[1][title] for r in rounds)
            if before:
                ratios.append(after / before)
                print(f"{demo}, {title}: {before:.0f} -> {after:.0f} ms, {ratios[-1]:.2f}")
        print(f"{demo}: median ratio {statistics.median(ratios):.2f}", flush=True)


if __name__ == "__main__":
    main()
