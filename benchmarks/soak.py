"""Use and misuse for as long as wanted: damaged files, extreme documents, random hands, kills.

``python -m benchmarks.soak files 20000`` (or documents, actions, kills, walk). Exit code 1 where
anything but a sentence came out, something took over 10 s, or memory grew. Not a timed test: the
longest standstill of the window is printed, to be quoted with the machine.
"""

import argparse
import collections
import json
import os
import signal
import subprocess
import sys
import tempfile
import time
import traceback
import warnings
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[1] / "tests"))
os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

HANG_S = 10.0
KILLED = """
import itertools, pathlib, sys
from mild_badger.files.writer import write_file
path = pathlib.Path(sys.argv[1])
print("ready", flush=True)
for number in itertools.count():
    write_file(path, (f"{number:08d}" * 40_000).encode(), backup=True)
"""


class Tally:
    """Counts what went wrong, each place once in full."""

    def __init__(self) -> None:
        self.bad: collections.Counter[str] = collections.Counter()

    def take(self, what: str, error: BaseException) -> None:
        """Note a fault."""
        place = traceback.extract_tb(error.__traceback__)[-1]
        key = f"{type(error).__name__} at {Path(place.filename).name}:{place.lineno}"
        if not self.bad[key]:
            print(f"{what}: {key}: {str(error)[:200]!r}", flush=True)
        self.bad[key] += 1


def files(count: int, seed: int, tally: Tally) -> None:
    """Read damaged files of every kind."""
    from mutations import KINDS, read_mutated

    with tempfile.TemporaryDirectory() as folder:
        for number in range(count):
            kind = list(KINDS)[number % len(KINDS)]
            began = time.monotonic()
            try:
                read_mutated(kind, seed + number, Path(folder))
            except Exception as error:  # noqa: BLE001 - that is what is looked for
                tally.take(f"{kind} {seed + number}", error)
            if time.monotonic() - began > HANG_S:
                tally.bad[f"hang: {kind} {seed + number}"] += 1


def documents(count: int, seed: int, tally: Tally) -> None:
    """Evaluate, check and export extreme documents."""
    from extremes import extreme_vehicle
    from mild_badger.core.evaluate import evaluate
    from mild_badger.core.publish.report import report
    from mild_badger.core.publish.sheet import sheet_pdf
    from mild_badger.core.publish.tables import gears_csv, parts_csv

    for number in range(seed, seed + count):
        try:
            evaluation = evaluate(extreme_vehicle(number))
            json.dumps(report(evaluation))
            gears_csv(evaluation)
            parts_csv(evaluation)
            sheet_pdf(evaluation)
        except Exception as error:  # noqa: BLE001 - that is what is looked for
            tally.take(f"document {number}", error)


def kills(count: int, seed: int, tally: Tally) -> None:
    """Kill saves at any moment; file and backup are always there and whole."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "bus.badger.json"
        backup = path.with_name(path.name + ".bak")
        for number in range(count):
            writer = subprocess.Popen(
                [sys.executable, "-c", KILLED, str(path)], stdout=subprocess.PIPE
            )
            assert writer.stdout is not None
            writer.stdout.readline()
            if number == 0:
                time.sleep(0.2)
            time.sleep(((seed + number) * 7919 % 1000) / 20_000)
            writer.send_signal(signal.SIGKILL)
            writer.wait()
            writer.stdout.close()
            for file in (path, backup):
                data = file.read_bytes()
                if len(data) != 320_000 or data != data[:8] * 40_000:
                    tally.bad[f"torn: {file.name}"] += 1
        left = len(list(Path(folder).iterdir()))
        print(f"files in the folder at the end: {left} (the last killed save's scratch among them)")


def _window() -> tuple[object, object]:
    from PyQt6.QtWidgets import QApplication

    from mild_badger.app.preload import preload
    from mild_badger.app.session import Session
    from mild_badger.app.settings import Settings
    from mild_badger.app.theme.style import Theme
    from mild_badger.app.window import Window
    from mild_badger.core.vehicle.demo import demo_vehicle
    from robot import no_file_dialogs

    home = tempfile.mkdtemp()
    for name in ("XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_DATA_HOME", "HOME"):
        os.environ[name] = home
    app = QApplication(sys.argv[:1])
    preload().join()  # as the program does while the first tab is looked at
    no_file_dialogs()
    window = Window(Session(demo_vehicle()), Theme(app), Settings())
    window.show()
    return app, window


def actions(count: int, seed: int, tally: Tally) -> None:
    """Let a seeded hand loose on the window."""
    from robot import Robot

    app, window = _window()
    sys.excepthook = lambda _kind, error, _trace: tally.take("window", error)
    robot = Robot(window, seed)  # type: ignore[arg-type]
    longest: list[tuple[float, str]] = []
    memory = {}
    for number in range(1, count + 1):
        try:
            timed = robot.step()
        except Exception as error:  # noqa: BLE001 - that is what is looked for
            tally.take(f"action {number} {robot.what}", error)
            continue
        longest = sorted([*longest, (timed.seconds, timed.what)], reverse=True)[:12]
        if timed.seconds > HANG_S:
            tally.bad[f"hang: {timed.what}"] += 1
        if number in (500, 5000, count):
            memory[number] = _resident_mb()
            print(
                f"{number} actions: {memory[number]} MB, {sum(tally.bad.values())} wrong",
                flush=True,
            )
    for seconds, what in longest:
        print(f"  {seconds:6.3f} s  {what}")
    print("memory, MB after actions:", memory)
    if 500 in memory and 5000 in memory and memory[5000] > 1.5 * memory[500]:
        tally.bad["memory grew"] += 1
    window.session.undo_stack.setClean()  # type: ignore[attr-defined]
    window.close()  # type: ignore[attr-defined]
    del app


def walking(count: int, _seed: int, tally: Tally) -> None:
    """Go through all pages of the demos with the typical edits; ``count`` demos."""
    from mild_badger.core.vehicle.demo import DEMOS, demo_vehicle
    from robot import walk

    app, window = _window()
    sys.excepthook = lambda _kind, error, _trace: tally.take("window", error)
    rows = []
    for demo in list(DEMOS)[_seed - 1 :][:count]:
        window.session.open(demo_vehicle(demo), None)  # type: ignore[attr-defined]
        for timed in walk(window):  # type: ignore[arg-type]
            rows.append((timed.seconds, f"{demo}: {timed.what}"))
            if timed.seconds > HANG_S:
                tally.bad[f"hang: {timed.what}"] += 1
    rows.sort(reverse=True)
    over = [row for row in rows if row[0] > 0.3]
    print(f"{len(rows)} steps, {len(over)} over 0.3 s, median {rows[len(rows) // 2][0]:.3f} s")
    for seconds, what in rows[:40]:
        print(f"  {seconds:6.3f} s  {what}")
    window.session.undo_stack.setClean()  # type: ignore[attr-defined]
    window.close()  # type: ignore[attr-defined]
    del app


def _resident_mb() -> float:
    pages = int(Path("/proc/self/statm").read_text().split()[1])
    return round(pages * os.sysconf("SC_PAGE_SIZE") / 1e6, 1)


PARTS = {
    "files": files,
    "documents": documents,
    "kills": kills,
    "actions": actions,
    "walk": walking,
}


def main() -> int:
    """Run one part and say what came of it."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("part", choices=PARTS)
    parser.add_argument("count", type=int)
    parser.add_argument("--seed", type=int, default=1)
    options = parser.parse_args()
    warnings.simplefilter("error")
    tally, began = Tally(), time.monotonic()
    PARTS[options.part](options.count, options.seed, tally)
    wrong = sum(tally.bad.values())
    print(f"{options.part}: {options.count} in {time.monotonic() - began:.0f} s, {wrong} wrong")
    for key, number in tally.bad.most_common(20):
        print(f"  {number} x {key}")
    return int(bool(wrong))


if __name__ == "__main__":
    sys.exit(main())
