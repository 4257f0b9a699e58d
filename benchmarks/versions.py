"""What kept versions, readings and the log cost an edit: with none, and with as many as fit.

``python -m benchmarks.versions`` prints, for an edit alone and for an edit with its evaluation, the
ratio of the medians with 60 versions, 400 readings and 1,000 log entries to those without, measured
side by side in one run.
"""

import statistics
import time
from collections.abc import Callable

from mild_badger.core.evaluate import evaluate
from mild_badger.core.vehicle.demo import demo_vehicle
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.log import LogEntry
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.trial import Reading
from mild_badger.core.versions import save_version

ROUNDS = 25


def laden(vehicle: Vehicle) -> Vehicle:
    """Give a vehicle all the history that fits beside it."""
    plain = vehicle
    for number in range(60 - len(vehicle.versions)):
        data = save_version(plain, f"kept {number}", "2026-11-01").changes[0].value[-1:]
        vehicle = vehicle.model_copy(update={"versions": (*vehicle.versions, *data)})
    gears = [gear.id for gear in vehicle.real.gears]
    readings = tuple(
        Reading(position=gears[n % len(gears)], body="wheel.left", turns=0.1 + n / 1000)
        for n in range(400)
    )
    entries = tuple(LogEntry(date="2026-11-01", changed=f"entry {n}") for n in range(1000))
    trial = vehicle.trial.model_copy(update={"readings": readings})
    log = vehicle.log.model_copy(update={"entries": entries})
    return vehicle.model_copy(update={"trial": trial, "log": log})


def median_ms(step: Callable[[Vehicle, int], object], vehicle: Vehicle) -> float:
    """Time a step that is new each time."""
    times = []
    for number in range(ROUNDS):
        began = time.perf_counter()
        step(vehicle, number)
        times.append((time.perf_counter() - began) * 1000)
    return statistics.median(times)


def edited(vehicle: Vehicle, number: int) -> Vehicle:
    """Change the wheels, to something else each time."""
    return apply_edit(vehicle, Edit.one("", ("wheels", "diameter_mm"), 40 + number / 100))


def evaluated(vehicle: Vehicle, number: int) -> object:
    """Change the wheels and evaluate."""
    return evaluate(edited(vehicle, 1000 + number))


def main() -> None:
    """Measure both and print the ratios."""
    plain = demo_vehicle().model_copy(update={"versions": ()})
    full = laden(plain)
    for words, step in (("edit alone", edited), ("edit and evaluation", evaluated)):
        pairs = [(median_ms(step, plain), median_ms(step, full)) for _ in range(3)]
        without, with_all = min(p[0] for p in pairs), min(p[1] for p in pairs)
        print(
            f"{words}: {without:.2f} ms without, {with_all:.2f} ms with, "
            f"ratio {with_all / without:.2f}"
        )


if __name__ == "__main__":
    main()
