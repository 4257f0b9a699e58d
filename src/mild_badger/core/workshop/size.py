"""How large and heavy what is built becomes, of how many parts, and how much it asks of a builder.

The mass is that of the parts' own shapes, all solid and of the kit's material; motors and batteries
are not in it. Densities: PLA 1.24, ABS 1.05, acrylic 1.19 (data sheets), plywood of birch 0.68,
beech 0.70 (Wood Handbook, FPL); all from memory.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from mild_badger.core.components.component import Component, Outline
from mild_badger.core.components.drive_line import LINE
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.assembly import AssemblyPlan
from mild_badger.core.workshop.further_steps import BODIES, CHASSIS, MOTORS

__all__ = ["BuiltSize", "Skill", "built_size", "extent_mm", "mass_kg"]

Skill = Literal["a first box", "some boxes built", "many boxes built"]
DENSITY = {"plywood": 0.68, "hardwood": 0.70, "acrylic": 1.19, "print": 1.24, "brick": 1.05}
"""In g/cm³, by what parts are made of."""
FIRST_PARTS, SOME_PARTS = 65, 160
"""Up to so many parts it is for those who begin, or have begun (an estimate)."""
NO_MASS = frozenset({"motor", "battery", "switch", "controller", "other"})


@dataclass(frozen=True)
class BuiltSize:
    """Length, width and height of the box and of everything, mm; mass, kg; parts and steps."""

    box_mm: tuple[float, float, float]
    whole_mm: tuple[float, float, float]
    mass_kg: float
    parts: int
    steps: int
    skill: Skill


def built_size(vehicle: Vehicle, plan: AssemblyPlan) -> BuiltSize | None:
    """Measure what a plan puts together; None where it has no parts."""
    if not plan.parts:
        return None
    steps = sum(bool(step.keys) for step in plan.steps)
    skill: Skill = "many boxes built"
    if len(plan.parts) <= FIRST_PARTS:
        skill = "a first box"
    elif len(plan.parts) <= SOME_PARTS:
        skill = "some boxes built"
    # mechanisms stand about axes of their own: their places beside the box are the builder's
    own = [part for part in plan.parts if part.box in IN_FRAME]
    return BuiltSize(
        extent_mm(plan.box("")),
        extent_mm(own),
        mass_kg(vehicle, plan.parts),
        len(plan.parts),
        steps,
        skill,
    )


IN_FRAME = frozenset({"", MOTORS, LINE, CHASSIS, BODIES})
"""The box, and groups of the assembly that stand in its frame."""


def extent_mm(parts: Sequence[Component]) -> tuple[float, float, float]:
    """Give how long, wide and high parts are together."""
    reaches = [part.reach_mm for part in parts]
    along = max(p.to_mm for p in parts) - min(p.from_mm for p in parts)
    wide = max(reach[2] for reach in reaches) - min(reach[0] for reach in reaches)
    high = max(reach[3] for reach in reaches) - min(reach[1] for reach in reaches)
    return along, wide, high


def mass_kg(vehicle: Vehicle, parts: Sequence[Component]) -> float:
    """Estimate what parts weigh."""
    kit = vehicle.kit
    material = vehicle.making.made_of(kit.kind) if kit.any_seat else "brick"
    mm3 = sum(_mm3(part) for part in parts if part.kind not in NO_MASS)
    return mm3 / 1000 * DENSITY[material] / 1000


def _mm3(part: Component) -> float:
    """Give a part's volume: of each prism its outlines less its holes, by its length."""
    return sum(
        max(sum(map(_area, prism.outlines)) - sum(map(_area, prism.holes)), 0.0)
        * (prism.to_mm - prism.from_mm)
        for prism in part.solid
    )


def _area(ring: Outline) -> float:
    pairs = zip(ring, (*ring[1:], ring[0]), strict=True)
    return abs(sum(x0 * y1 - x1 * y0 for (x0, y0), (x1, y1) in pairs)) / 2
