"""Hold plans against their outputs: every pairing of paper and unit, and random boxes of each kind.

``python scripts/plan_check.py [BOXES]`` takes the demos and the committed boxes in all pairings,
then so many random sets of each row of ``benchmarks/sets.json``, placed anew, by turns in one of
the pairings; it prints what does not hold, and ends with how many did.
"""

import json
import sys
import time
from collections.abc import Iterator
from itertools import cycle, product
from pathlib import Path

ROOT = Path(__file__).parents[1]
sys.path[:0] = [str(ROOT), str(ROOT / "tests")]

from benchmarks.places import SETS, boxed  # noqa: E402

from examples import example_vehicle  # noqa: E402
from mild_badger.core.structure.shaft_box import stack_for  # noqa: E402
from mild_badger.core.vehicle.demo import DEMOS, demo_vehicle  # noqa: E402
from mild_badger.core.vehicle.model import Vehicle  # noqa: E402
from mild_badger.core.vehicle.units import INCH, UnitSettings  # noqa: E402
from plan_outputs import CHECKS, Outputs  # noqa: E402

PAIRINGS = tuple(product(("A4", "Letter"), (UnitSettings(), INCH)))


def in_pairing(vehicle: Vehicle, paper: str, units: UnitSettings) -> Vehicle:
    """Give a vehicle on a paper and in units."""
    making = vehicle.making.model_copy(update={"paper": paper})
    return vehicle.model_copy(update={"making": making, "units": units})


def vehicles(boxes: int) -> Iterator[tuple[str, Vehicle]]:
    """List what is looked at, with what it is called."""
    known = {name: demo_vehicle(name) for name in DEMOS}
    known |= {
        path.name.split(".")[0]: example_vehicle(path.name.split(".")[0])
        for path in sorted((ROOT / "tests" / "vehicles").glob("placed-*.badger.json"))
    }
    for (name, vehicle), (paper, units) in product(known.items(), PAIRINGS):
        yield f"{name} {paper} {units.length}", in_pairing(vehicle, paper, units)
    turns = cycle(PAIRINGS)
    for row in json.loads(SETS.read_text())["boxes"]:
        for number, wanted in enumerate(row["sets"][:boxes]):
            made = boxed(row["demo"], row["architecture"], wanted)
            left = made is not None and made.layout is not None and made.layout.unplaced
            if made is None or stack_for(made) is None or left:
                print(f"{row['title']} {number}: no place")
                continue
            paper, units = next(turns)
            name = f"{row['title']} {number} {paper} {units.length}"
            yield name, in_pairing(made, paper, units)


def main(boxes: int) -> None:
    """Look at all of them."""
    held = tried = 0
    start = time.perf_counter()
    for name, vehicle in vehicles(boxes):
        tried += 1
        wrong: list[str] = []
        try:
            out = Outputs(vehicle)
            for check in CHECKS:
                try:
                    check(name, out)
                except (AssertionError, StopIteration) as error:
                    wrong.append(f"{check.__name__}: {str(error)[:200]!r}")
        except Exception as error:  # noqa: BLE001 - what fails is told, and the next one tried
            wrong.append(repr(error))
        held += not wrong
        for words in wrong:
            print(f"{name}: {words}", flush=True)
    print(f"{held} of {tried} hold, {time.perf_counter() - start:.0f} s")


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 10)
