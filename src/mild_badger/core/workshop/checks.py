"""What to try after a step of the assembly: which teeth mesh now, how far and which way they turn.

What a sleeve, a slider or a clutch joins is left out: it holds in one position only.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from mild_badger.core.components.component import Component
from mild_badger.core.driveline.assemble import assemble
from mild_badger.core.drivetrain.graph import Coupling
from mild_badger.core.message import say
from mild_badger.core.structure.names import shaft_letter
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import signed
from mild_badger.core.workshop.assembly import AssemblyPlan, Build

__all__ = ["MeshCheck", "describe_check", "meshes_made"]


@dataclass(frozen=True)
class MeshCheck:
    """Two gears that mesh from a step on; ``turns`` is the other's for one of the first, signed."""

    one: Component
    other: Component
    turns: Fraction


def meshes_made(vehicle: Vehicle, plan: AssemblyPlan, step: Build) -> tuple[MeshCheck, ...]:
    """List the meshes that a step completes, of the driving gear and the driven one."""
    there = plan.there_before(step.number) | frozenset(step.keys)
    now = frozenset(step.keys)
    gears = {
        body: part
        for part in plan.box(step.box)
        if part.key in there and part.teeth
        for body in part.bodies
    }
    made: dict[frozenset[str], MeshCheck] = {}
    for equation in assemble(vehicle).equations:
        if equation.kind is not Coupling.MESH or equation.sleeve or len(equation.terms) != 2:
            continue
        (first, a), (second, b) = equation.terms
        one, other = gears.get(first), gears.get(second)
        if one is None or other is None or {one.key, other.key}.isdisjoint(now):
            continue
        # gears that trains share have several bodies
        made.setdefault(frozenset((one.key, other.key)), MeshCheck(one, other, -a / b))
    return tuple(made.values())


def describe_check(vehicle: Vehicle, checks: Sequence[MeshCheck]) -> tuple[str, ...]:
    """Say for each mesh what its gears do when one is turned."""
    sentences = []
    for check in checks:
        values = {
            "one": shaft_letter(vehicle, check.one.shaft),
            "teeth": check.one.teeth,
            "other": shaft_letter(vehicle, check.other.shaft),
            "other_teeth": check.other.teeth,
            "turns": signed(abs(float(check.turns)), ".3g"),
        }
        sentences.append(
            say("workshop.one-turn-of-turns-the-other-way", **values)
            if check.turns < 0
            else say("workshop.one-turn-of-turns-the-same-way", **values)
        )
    return tuple(sentences)
