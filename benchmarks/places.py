"""How many seeded boxes find a place, touch nothing by solids, and hold at stall; and how long.

``python -m benchmarks.places [BOXES]`` finds sets for made-up ratios, places each box, proves it
over every state of its shifter, and says what share came through and why the rest did not.
"""

import random
import sys
import time
from collections import Counter
from dataclasses import dataclass, field
from statistics import median

from mild_badger.core.architectures.match import match_box
from mild_badger.core.components.collide import collide
from mild_badger.core.evaluate import evaluate
from mild_badger.core.layout.apply_layout import apply_layout
from mild_badger.core.layout.proposals import propose_layouts
from mild_badger.core.layout.shaft_box import stack_for
from mild_badger.core.layout.shaft_deflection import separations
from mild_badger.core.ratios.lanes import Impossible
from mild_badger.core.vehicle.demo import demo_vehicle
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.model import Vehicle

SEED = 20261129
BRICKS, WOOD = "larkholm-mail-bus", "larkholm-timber-tractor"
KINDS: tuple[tuple[str, str, str, int], ...] = (
    ("slot, bricks, 4 speeds", BRICKS, "slot", 4),
    ("slot, bricks, 6 speeds", BRICKS, "slot", 6),
    ("slot, bricks, 8 speeds", BRICKS, "slot", 8),
    ("slot, wood, 4 speeds", WOOD, "slot", 4),
    ("slot, wood, 6 speeds", WOOD, "slot", 6),
    ("layshaft, wood", WOOD, "layshaft", 5),
    ("layshaft sliding, wood", WOOD, "layshaft-slide", 5),
    ("two-shaft, wood", WOOD, "two-shaft", 4),
    ("twin layshaft, wood", WOOD, "twin-layshaft", 6),
    ("range x splitter, wood", WOOD, "range-splitter", 6),
)


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


def ratios(pick: random.Random, speeds: int) -> list[float]:
    """Make up ratios that fall from a first to a top one by uneven steps."""
    top, first = pick.uniform(0.9, 1.2), pick.uniform(3.0, 5.5)
    steps = [pick.uniform(0.8, 1.25) for _ in range(speeds - 1)]
    whole = sum(steps)
    shares = [sum(steps[:n]) / whole for n in range(speeds)]
    return [round(first * (top / first) ** share, 3) for share in shares]


def boxed(demo: str, kind: str, wanted: list[float]) -> Vehicle | None:
    """Give a vehicle with such ratios and the best set; None where none is found."""
    vehicle = demo_vehicle(demo)
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


def main(boxes: int) -> None:
    """Try so many boxes of each kind and print what came of them."""
    for title, demo, kind, speeds in KINDS:
        pick, count = random.Random(f"{SEED} {title}"), Count()
        for _ in range(boxes):
            start = time.perf_counter()
            vehicle = boxed(demo, kind, ratios(pick, speeds))
            count.place_s.append(time.perf_counter() - start)
            count.tried += 1
            if vehicle is None:
                count.why["no set of trains"] += 1
                continue
            look(count, vehicle)
        why = ", ".join(f"{number} {reason}" for reason, number in count.why.most_common())
        print(
            f"{title:28} placed {count.placed}/{count.tried}, clear {count.clear}, "
            f"hold at stall {count.held}; set and place {median(count.place_s):.1f} s, "
            f"proof {median(count.proof_s or [0.0]):.1f} s; {why or 'nothing else'}",
            flush=True,
        )


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 5)
