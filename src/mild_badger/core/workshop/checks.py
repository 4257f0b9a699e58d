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

__all__ = ["MeshCheck", "describe_check", "meshes_made", "meshes_of"]


@dataclass(frozen=True)
class MeshCheck:
    """Two gears that mesh from a step on; ``turns`` is the other's for one of the first, signed."""

    one: Component
    other: Component
    turns: Fraction


def meshes_of(vehicle: Vehicle, parts: Sequence[Component]) -> tuple[MeshCheck, ...]:
    """List the meshes among parts, of the driving gear and the driven one."""
    gears = {body: part for part in parts if part.teeth for body in part.bodies}
    made: dict[frozenset[str], MeshCheck] = {}
    for equation in assemble(vehicle).equations:
        if equation.kind is not Coupling.MESH or equation.sleeve or len(equation.terms) != 2:
            continue
        (first, a), (second, b) = equation.terms
        one, other = gears.get(first), gears.get(second)
        if one is not None and other is not None:
            # gears that trains share have several bodies
            made.setdefault(frozenset((one.key, other.key)), MeshCheck(one, other, -a / b))
    return tuple(made.values())


def meshes_made(vehicle: Vehicle, plan: AssemblyPlan, step: Build) -> tuple[MeshCheck, ...]:
    """List the meshes that a step completes, of the driving gear and the driven one."""
    now = frozenset(step.coming)
    there = plan.there_before(step.number) | now
    parts = [part for part in plan.box(step.box) if part.key in there]
    return tuple(
        check
        for check in meshes_of(vehicle, parts)
        if not now.isdisjoint((check.one.key, check.other.key))
    )


def describe_check(vehicle: Vehicle, checks: Sequence[MeshCheck]) -> tuple[str, ...]:
    """Say for each mesh what its gears do when one is turned."""
    sentences = []
    for check in checks:
        one, other = (shaft_letter(vehicle, gear.shaft) for gear in (check.one, check.other))
        teeth, other_teeth = check.one.teeth, check.other.teeth
        turns = signed(abs(float(check.turns)), ".3g")
        sentences.append(
            say(
                "workshop.one-turn-of-turns-the-other-way",
                one=one,
                teeth=teeth,
                other=other,
                other_teeth=other_teeth,
                turns=turns,
            )
            if check.turns < 0
            else say(
                "workshop.one-turn-of-turns-the-same-way",
                one=one,
                teeth=teeth,
                other=other,
                other_teeth=other_teeth,
                turns=turns,
            )
        )
    return tuple(sentences)
