"""How many boxes find a place, touch nothing by solids, and hold at stall; and how long.

``python -m benchmarks.places [BOXES]`` takes the sets of ``benchmarks/sets.json`` (made up from a
seed), places each, proves it over every state of its shifter, and says what share came through and
why the rest did not; at most so many of each kind where a number is given.
"""

import json
import sys
import time
from collections import Counter
from dataclasses import dataclass, field
from pathlib import Path
from statistics import median
from typing import Any

from mild_badger.core.architectures.match import match_box
from mild_badger.core.components.collide import collide, collide_functions
from mild_badger.core.components.vehicle_parts import main_components
from mild_badger.core.errors import InputError
from mild_badger.core.evaluate import evaluate
from mild_badger.core.kit.catalogue import shipped_kit
from mild_badger.core.layout.apply_layout import apply_layout
from mild_badger.core.layout.function_box import place_functions, take_places
from mild_badger.core.layout.proposals import propose_layouts
from mild_badger.core.layout.shaft_deflection import separations
from mild_badger.core.mechanisms.lever.model import LeverDrive
from mild_badger.core.ratios.lanes import Impossible
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.vehicle.demo import demo_vehicle
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.functions import FunctionBox
from mild_badger.core.vehicle.model import Vehicle

BRICKS = "larkholm-mail-bus"
SETS = Path(__file__).with_name("sets.json")


@dataclass
class Count:
    """What came of the boxes of one kind."""

    tried: int = 0
    placed: int = 0
    clear: int = 0
    held: int = 0
    place_s: list[float] = field(default_factory=list)
    proof_s: list[float] = field(default_factory=list)
    why: Counter[str] = field(default_factory=Counter)


def boxed(
    demo: str, kind: str, wanted: list[float], seconds: float | None = None
) -> Vehicle | None:
    """Give a vehicle with such ratios and the best set, placed; None where none is found.

    ``seconds`` is how long a place is looked for, None for what is usual.
    """
    vehicle = demo_vehicle(demo)
    if seconds is not None:
        vehicle = apply_edit(vehicle, Edit.one("", ("placing", "seconds"), seconds))
    gears = [{"name": str(n), "ratio": ratio} for n, ratio in enumerate(wanted, 1)]
    real = vehicle.real.model_dump() | {"gears": gears}
    data = vehicle.model_dump() | {"real": real, "box": {"architecture": "none"}, "layout": None}
    vehicle = Vehicle.model_validate(data)
    match = match_box(vehicle, kind, best="error")
    if isinstance(match, Impossible):
        return None
    vehicle = apply_edit(vehicle, match.edit(vehicle))
    return (
        vehicle
        if kind != "slot"
        else apply_edit(vehicle, apply_layout(vehicle, propose_layouts(vehicle)))
    )


def look(count: Count, vehicle: Vehicle) -> None:
    """Place a box, prove it, and count what came of it."""
    for finding in evaluate(vehicle).findings:
        if finding.code == "slider-gap" and finding.mend is not None:
            vehicle = apply_edit(vehicle, finding.mend)
            break
    stack = stack_for(vehicle)
    if stack is None:
        count.why["no place"] += 1
        return
    if vehicle.box.free_trains and vehicle.layout is not None and vehicle.layout.unplaced:
        count.why["trains without a place"] += 1
        return
    count.placed += 1
    start = time.perf_counter()
    collision = collide(vehicle)
    count.proof_s.append(time.perf_counter() - start)
    if collision.clear:
        count.clear += 1
    else:
        worst = collision.proof.overlaps[0] if collision.proof.overlaps else None
        kinds = "no common phase"
        if worst is not None:
            parts = (collision.box.of(worst.one).kind, collision.box.of(worst.other).kind)
            kinds = " and ".join(sorted(parts))
        count.why[f"{kinds} touch"] += 1
    if not any(row.skips for row in separations(vehicle, stack)):
        count.held += 1


def levered(spec: dict[str, Any]) -> Vehicle:
    """Give the trolley with another lever drive."""
    trolley = demo_vehicle("larkholm-sawmill-trolley")
    drive = LeverDrive.model_validate(spec)
    data = trolley.model_dump() | {"box": {"architecture": "lever", "drive": drive.model_dump()}}
    return Vehicle.model_validate(data)


def look_at_lever(count: Count, spec: dict[str, Any]) -> None:
    """Prove a lever drive over its whole stroke."""
    vehicle, start = levered(spec), time.perf_counter()
    count.tried += 1
    count.placed += main_components(vehicle) is not None
    count.place_s.append(time.perf_counter() - start)
    start = time.perf_counter()
    collision = collide(vehicle)
    count.proof_s.append(time.perf_counter() - start)
    count.clear += collision.clear
    for overlap in collision.proof.overlaps[:1]:
        count.why[f"{overlap.one} and {overlap.other} touch"] += 1


def look_at_table(count: Count, spec: dict[str, Any]) -> None:
    """Place a function box and prove it in every position."""
    table = {name: value for name, value in spec.items() if name != "kit"}
    vehicle = demo_vehicle(BRICKS).model_copy(
        update={"kit": shipped_kit(spec["kit"]), "functions": FunctionBox.model_validate(table)}
    )
    count.tried += 1
    start = time.perf_counter()
    try:
        placed = place_functions(vehicle, 20.0)
    except InputError as error:
        count.place_s.append(time.perf_counter() - start)
        count.why[str(error)] += 1
        return
    count.place_s.append(time.perf_counter() - start)
    count.placed += placed.complete
    start = time.perf_counter()
    collision = collide_functions(apply_edit(vehicle, take_places(vehicle, placed)))
    count.proof_s.append(time.perf_counter() - start)
    count.clear += collision.clear
    for overlap in collision.proof.overlaps[:1]:
        count.why[f"{overlap.one} and {overlap.other} touch"] += 1


def tell(title: str, count: Count, *, holds: bool) -> None:
    """Print what came of the boxes of one kind."""
    why = ", ".join(f"{number} {reason}" for reason, number in count.why.most_common())
    held = f", hold at stall {count.held}" if holds else ""
    print(
        f"{title:28} placed {count.placed}/{count.tried}, clear {count.clear}{held}; set and "
        f"place median {median(count.place_s):.1f} s, most {max(count.place_s):.1f} s; proof "
        f"median {median(count.proof_s or [0.0]):.1f} s, most {max(count.proof_s or [0.0]):.1f} s; "
        f"{why or 'nothing else'}",
        flush=True,
    )


def main(most: int) -> None:
    """Try the sets and print what came of them, at most so many of each kind."""
    sets = json.loads(SETS.read_text())
    for row in sets["boxes"]:
        count = Count()
        for wanted in row["sets"][:most]:
            start = time.perf_counter()
            vehicle = boxed(row["demo"], row["architecture"], wanted)
            count.place_s.append(time.perf_counter() - start)
            count.tried += 1
            if vehicle is None:
                count.why["no set of trains"] += 1
                continue
            look(count, vehicle)
        tell(row["title"], count, holds=True)
    for title, look_at, specs in (
        ("lever drives, wood", look_at_lever, sets["levers"]),
        ("function tables", look_at_table, sets["tables"]),
    ):
        count = Count()
        for spec in specs[:most]:
            look_at(count, spec)
        tell(title, count, holds=False)


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 99)
