"""Diagnosis of an eight-speed box: how long one takes, and how often the true fault is found.

Run by hand: ``.venv/bin/python -m benchmarks.diagnosis``. An invented slot box of seven speeds and
reverse is built by the stand-in rig with seeded random faults; every position is read once through
the tachometer's pulses. Printed are the time of a first diagnosis (nothing solved before), in
seconds and in solves of one state of the same box side by side, and where the true fault ranks.
"""

import random
import statistics
import time

from benchmarks.place import box_of
from mild_badger.core.axle.road_state import Straight, conditions
from mild_badger.core.driveline.assemble import assemble, shifter_state_for
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.trial import diagnosis
from mild_badger.core.trial.expected import places, positions
from mild_badger.core.trial.record_reading import take_reading
from mild_badger.core.trial.rig import RigFault, RigRun, faults_of, pulses
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.trial import Reading

FAULTS = 24


def one_solve(vehicle: Vehicle) -> float:
    train = assemble(vehicle)
    ahead = conditions(vehicle, Straight(), locked=False)
    sleeves = shifter_state_for(vehicle, vehicle.real.gears[0].name)
    begin = time.perf_counter()
    for _ in range(200):
        solve(train, sleeves, ahead)
    return (time.perf_counter() - begin) / 200


def read(vehicle: Vehicle, position: str, fault: RigFault, seed: int) -> Reading | None:
    body = places(vehicle)[0].body
    lines = list(pulses(vehicle, RigRun(position, body, fault, seconds=60, rpm=600, seed=seed)))
    if len(lines) == 1:
        return Reading(position=position, body=body, jams=True)
    return take_reading(lines, position, body, slots_in=6, slots_out=6)[0]


def main() -> None:
    vehicle = next(v for seed in range(20) if (v := box_of(8, seed)) is not None)
    rng = random.Random(3)
    faults = [f for f in faults_of(vehicle) if f.train != "final drive"]
    times, solves = [], []
    for number in range(FAULTS):
        fault = rng.choice(faults)
        readings = [
            read(vehicle, p, fault, 100 * number + n) for n, p in enumerate(positions(vehicle))
        ]
        kept = [r for r in readings if r is not None]
        diagnosis._case.cache_clear()
        solves.append(one_solve(vehicle))
        begin = time.perf_counter()
        found = diagnosis.diagnose(vehicle, kept)
        times.append(time.perf_counter() - begin)
        first = found.candidates[0].words if found.candidates else found.words
        print(f"{times[-1]:.2f} s  {fault.describe(vehicle):<60} {len(found.candidates)}: {first}")
    ratio = statistics.median(t / s for t, s in zip(times, solves, strict=True))
    print(
        f"first diagnosis of {len(vehicle.real.gears)} speeds: median "
        f"{statistics.median(times):.2f} s, worst {max(times):.2f} s "
        f"= {ratio:.0f} solves of one state"
    )


if __name__ == "__main__":
    main()
