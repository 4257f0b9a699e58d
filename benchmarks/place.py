"""Placing whole slot boxes: invented ones of 4 to 10 speeds, and the mail bus.

Run by hand: ``.venv/bin/python benchmarks/place.py``. For each size eleven boxes with seeded
ratios; printed are how many were placed whole, and the median time to the first complete placement,
in seconds and in solves of one state of the same box (a figure that does not hang on the machine).
Every placement is checked by the checker that shares no code with the search, forks included.
"""

import contextlib
import random
import statistics
import time

from mild_badger.core.architectures.match import match_box
from mild_badger.core.axle.road_state import Straight, conditions
from mild_badger.core.driveline.assemble import assemble, shifter_state_for
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.findings.finding import Severity
from mild_badger.core.kit.catalogue import shipped_kit
from mild_badger.core.layout.apply_layout import apply_layout
from mild_badger.core.layout.findings import layout_findings
from mild_badger.core.layout.place_box import Placed, place_box
from mild_badger.core.ratios.box_question import BoxMatch
from mild_badger.core.vehicle.blank import blank_vehicle
from mild_badger.core.vehicle.demo import demo_vehicle
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.box import apply_box
from mild_badger.core.vehicle.edit.gears import set_gears
from mild_badger.core.vehicle.model import GearTarget, Vehicle
from mild_badger.core.watch import SearchStopped, Watch

SEEDS = range(11)
SECONDS = 20.0


def box_of(speeds: int, seed: int) -> Vehicle | None:
    """Make a vehicle of invented ratios, reverse among its speeds, and its smallest set."""
    rng = random.Random(1000 * speeds + seed)
    ratios = [rng.uniform(4.0, 6.5)]
    for _ in range(speeds - 2):
        ratios.append(ratios[-1] / rng.uniform(1.25, 1.7))
    gears = [GearTarget(name=str(n + 1), ratio=r) for n, r in enumerate(ratios)]
    gears.append(GearTarget(name="R", ratio=ratios[0] * rng.uniform(0.85, 1.05), reverse=True))
    blank = blank_vehicle(shipped_kit("brick-grid"))
    vehicle = apply_edit(blank, set_gears(blank, gears))
    vehicle = vehicle.model_copy(
        update={"search": vehicle.search.model_copy(update={"fit": "spacing"})}
    )
    found = match_box(vehicle, "slot", best="size")
    if not isinstance(found, BoxMatch):
        return None
    return apply_edit(vehicle, apply_box(vehicle, found.box))


def placed_in(vehicle: Vehicle, **placing: object) -> tuple[float, Placed]:
    """Place a vehicle until the first complete placement, or to the end; it, and the time."""
    wanted = vehicle.placing.model_copy(update={"seconds": SECONDS, **placing})
    vehicle = vehicle.model_copy(update={"placing": wanted})
    best: list[Placed] = []

    def report(_share: float, found: object) -> None:
        if isinstance(found, Placed):
            best[:] = [found]

    start = time.perf_counter()
    with contextlib.suppress(SearchStopped):
        best[:] = [place_box(vehicle, watch=Watch(lambda: bool(best and best[0].complete), report))]
    took = time.perf_counter() - start
    for finding in layout_findings(apply_edit(vehicle, apply_layout(vehicle, best[0]))):
        if finding.severity is Severity.ERROR:
            print(f"  {finding.title}")
    return took, best[0]


def one_solve(vehicle: Vehicle) -> float:
    train = assemble(vehicle)
    road = conditions(vehicle, Straight(), locked=False)
    sleeves = shifter_state_for(vehicle, "1")
    start = time.perf_counter()
    for _ in range(50):
        solve(train, sleeves, road)
    return (time.perf_counter() - start) / 50


def line(name: str, vehicles: list[Vehicle], **placing: object) -> None:
    times, left = [], []
    for vehicle in vehicles:
        took, placed = placed_in(vehicle, **placing)
        times.append(took)
        left.append(len(placed.unplaced))
    median = statistics.median(times)
    print(
        f"{name}: {left.count(0)} of {len(vehicles)} placed whole, {sum(left)} slots left out; "
        f"{median:.1f} s median ({median / one_solve(vehicles[0]):,.0f} solves of one state)",
        flush=True,
    )


def main() -> None:
    line("mail bus, 7 speeds", [demo_vehicle()])
    for speeds in (4, 6, 8, 10):
        made = [v for seed in SEEDS if (v := box_of(speeds, seed)) is not None]
        line(f"{speeds} speeds", made)
    line("mail bus, columns 2 u apart", [demo_vehicle()], spacing_u=2)


if __name__ == "__main__":
    main()
