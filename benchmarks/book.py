"""The whole plan book of the placed mail bus: time, against solves of one drivetrain state.

Run by hand: ``.venv/bin/python benchmarks/book.py``. Printed are the median of five books, each
made from nothing, in seconds and in solves of one state of the same bus side by side (a figure that
does not hang on the machine); the same for the assembly chapter alone, which is most of it.
"""

import statistics
import time

from mild_badger.core.axle.road_state import Straight, conditions
from mild_badger.core.components import box
from mild_badger.core.driveline.assemble import assemble, shifter_state_for
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.layout.apply_layout import apply_layout
from mild_badger.core.layout.place_box import place_box
from mild_badger.core.publish.book import plan_book
from mild_badger.core.vehicle.demo import demo_vehicle
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop import assembly, further_steps, units, ways_out


def one_solve(vehicle: Vehicle) -> float:
    train = assemble(vehicle)
    ahead = conditions(vehicle, Straight(), locked=False)
    begin = time.perf_counter()
    for _ in range(300):
        solve(train, shifter_state_for(vehicle, "3"), ahead)
    return (time.perf_counter() - begin) / 300


def main() -> None:
    vehicle = demo_vehicle()
    vehicle = apply_edit(vehicle, apply_layout(vehicle, place_box(vehicle)))
    for name, chapters in (("whole book", ()), ("assembly", ("assembly",))):
        times, ratios, size = [], [], 0
        for _ in range(5):
            solved = one_solve(vehicle)
            for cached in (
                assembly._plan,
                further_steps._steps,
                units._usual,
                ways_out._obstacles,
                box._components,
            ):
                cached.cache_clear()
            begin = time.perf_counter()
            size = len(plan_book(vehicle, gear="3", chapters=chapters))
            times.append(time.perf_counter() - begin)
            ratios.append(times[-1] / solved)
        print(
            f"{name}: {statistics.median(times):.2f} s, {size / 1e6:.1f} MB "
            f"= {statistics.median(ratios):.0f} solves of one state"
        )


if __name__ == "__main__":
    main()
