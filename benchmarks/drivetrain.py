"""The solver of speeds against a plain null space, and all states of a box, side by side.

Run by hand: ``.venv/bin/python benchmarks/drivetrain.py``. Both sides get the same graph in the
same state; sympy's null space is exact as ours is. Figures to quote are the ratios, and whether the
limits that were asked for hold.
"""

import time
from collections.abc import Callable

from sympy import Matrix, Rational

from mild_badger.core.axle.road_state import Straight, conditions
from mild_badger.core.driveline.assemble import assemble, shifter_state_for
from mild_badger.core.drivetrain.graph import Drivetrain, Equation
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.kit.catalogue import shipped_kit
from mild_badger.core.ratios.train import parse_train
from mild_badger.core.shift.states import prove
from mild_badger.core.vehicle.blank import blank_vehicle
from mild_badger.core.vehicle.box import Slot
from mild_badger.core.vehicle.boxes import SlotBox
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.gears import set_gears
from mild_badger.core.vehicle.model import GearTarget, Vehicle

SLEEVES = 16
STATE_LIMIT_MS, ALL_LIMIT_S = 5.0, 2.0


def vehicle_of(gears: int, columns: int) -> Vehicle:
    """Make a slot box with so many gears spread over so many columns, each of another ratio."""
    blank = blank_vehicle(shipped_kit("brick-grid"))
    targets = [GearTarget(name=str(n), ratio=6.0 - 0.2 * n) for n in range(1, gears + 1)]
    vehicle = apply_edit(blank, set_gears(blank, targets))
    slots = tuple(
        Slot(
            gear=str(n + 1),
            column=n % columns + 1,
            face="back" if n >= columns else "front",
            train=parse_train(f"{8 + n}:(16):{40 + n}"),
        )
        for n in range(gears)
    )
    return vehicle.model_copy(update={"box": SlotBox(slots=slots)})


def best_of(work: Callable[[], object], runs: int) -> float:
    times = []
    for _ in range(runs):
        start = time.perf_counter()
        work()
        times.append(time.perf_counter() - start)
    return min(times)


def null_space(train: Drivetrain, sleeves: dict[str, str], road: tuple[Equation, ...]) -> Matrix:
    names = list(train.index)
    held = [e for e in (*train.equations, *road) if e.holds(sleeves)]
    rows = []
    for equation in held:
        terms = dict(equation.terms)
        row = [terms.get(name, 0) for name in names]
        rows.append([Rational(int(c.numerator), int(c.denominator)) if c else 0 for c in row])
    return Matrix(rows).nullspace()


def main() -> None:
    small = vehicle_of(9, 5)
    train = assemble(small)
    road = conditions(small, Straight(), locked=False)
    sleeves = shifter_state_for(small, "5")
    ours = best_of(lambda: solve(train, sleeves, road), 20)
    plain = best_of(lambda: null_space(train, sleeves, road), 1)
    print(
        f"one state of {len(train.bodies)} bodies: sympy's null space / ours = "
        f"{plain / ours:,.0f}; {1000 * ours:.2f} ms (limit {STATE_LIMIT_MS:g})"
    )
    large = vehicle_of(24, SLEEVES)
    road = conditions(large, Straight(), locked=False)
    proof = prove(large, road)
    whole = best_of(lambda: prove(large, road), 3)
    graph = assemble(large)
    one = best_of(lambda: solve(graph, {}, road), 10)
    print(
        f"{SLEEVES} sleeves, {len(graph.bodies)} bodies: {len(proof.states)} states reached of "
        f"{proof.settings:,} settings, {proof.locking:,} of which lock; solving every setting / "
        f"the proof = {proof.settings * one / whole:,.0f}; {whole:.2f} s (limit {ALL_LIMIT_S:g})"
    )


if __name__ == "__main__":
    main()
