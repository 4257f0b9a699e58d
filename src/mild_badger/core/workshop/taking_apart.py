"""What has to come out to reach one part of a built box, and in which order."""

from dataclasses import dataclass

from mild_badger.core.components.component import Component
from mild_badger.core.components.describe import describe_part
from mild_badger.core.message import say, say_count
from mild_badger.core.vehicle.assembly import JointKind
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.assembly import assembly_plan
from mild_badger.core.workshop.joints import couplings_of, joint_of
from mild_badger.core.workshop.units import LooseUnits, loose, outermost, units
from mild_badger.core.workshop.ways_out import BACK, FRONT

__all__ = ["Removal", "take_apart"]

OUT = {BACK: say("workshop.towards-the-output-end"), FRONT: say("workshop.towards-the-input-end")}
UNDO: dict[JointKind, str] = {
    "screwed": say("workshop.undo-its-screws"),
    "pinned": say("workshop.drive-its-pin-out"),
    "keyed": say("workshop.pull-it-off-its-key"),
    "pressed": say("workshop.press-it-off"),
    "glued": say("workshop.break-its-glue"),
    "slides": "",
}


@dataclass(frozen=True)
class Removal:
    """What has to come out to reach a part, in order; ``held`` names parts that hold one another.

    ``joints`` says for each of the ``order`` what is undone first, "" where it just slides off.
    """

    target: str
    way: int
    order: tuple[str, ...]
    joints: tuple[str, ...]
    held: tuple[str, ...]
    words: str


def take_apart(vehicle: Vehicle, target: str) -> Removal:
    """Find what has to come out to reach a part, in which order, by the way that takes less.

    What is glued on a shaft comes out with it.

    Raises
    ------
    KeyError
        There is no such part.
    """
    plan = assembly_plan(vehicle)
    own = plan.box(plan.part(target).box)
    unit_of = units(own)
    shafts = {part.shaft: part.key for part in own if part.kind in ("shaft", "rail")}
    for part in own:
        carrier = shafts.get(part.shaft)
        if carrier and part.kind in ("gear", "fork") and joint_of(vehicle, part) == "glued":
            old, new = unit_of[part.key], unit_of[carrier]
            unit_of = {key: new if unit == old else unit for key, unit in unit_of.items()}
    parts = loose(own, unit_of)
    wanted = unit_of[target]
    removals = [_removed(parts, wanted, way) for way in (BACK, FRONT)]
    way = (
        BACK
        if (bool(removals[0][1]), len(removals[0][0]))
        <= (bool(removals[1][1]), len(removals[1][0]))
        else FRONT
    )
    taken, held = removals[0] if way == BACK else removals[1]
    order, joints = [], []
    couplings = couplings_of(vehicle)
    for unit in taken:
        members = parts.members[unit]
        undo = [UNDO[joint_of(vehicle, p)] for p in members[:1]]
        for part in members:
            if part.kind == "shaft" and not part.box and part.shaft in couplings:
                undo.append(_coupling(vehicle, part.shaft, couplings[part.shaft]))
        order.append(members[0].key)
        joints.append(", ".join(filter(None, dict.fromkeys(undo))))
    holding = tuple(p.key for unit in sorted(held) for p in parts.members[unit])
    return Removal(
        target,
        way,
        tuple(order),
        tuple(joints),
        holding,
        _describe_removal(vehicle, list(map(plan.part, holding)), len(order), way),
    )


def _coupling(vehicle: Vehicle, shaft: str, words: str) -> str:
    joint = next((j for j in vehicle.assembly.joints if j.key == f"coupling: {shaft}"), None)
    if joint is None:
        return say("workshop.disconnect-the", words=words)
    note = f" ({joint.note})" if joint.note else ""
    return say("workshop.disconnect-the-2", words=words, kind=joint.kind, note=note)


def _removed(parts: LooseUnits, wanted: str, way: int) -> tuple[list[str], set[str]]:
    """Give the units to take out one way, in order, and those that hold one another."""
    everything = set(parts.members)
    need, queue = {wanted}, [wanted]
    while queue:
        for unit in parts.in_way(queue.pop(), way, everything):
            if unit not in need:
                need.add(unit)
                queue.append(unit)
    order: list[str] = []
    there = set(everything)
    left = set(need)
    while left:
        free = [unit for unit in left if parts.free(unit, way, there)]
        if not free:
            break
        first = max(free, key=lambda u: (way * outermost(parts.members[u])[1], u))
        if wanted in free and len(left) == 1:
            first = wanted
        order.append(first)
        there.remove(first)
        left.remove(first)
    return order, left


def _describe_removal(vehicle: Vehicle, held: list[Component], count: int, way: int) -> str:
    words = ""
    if count:
        before = count - 1
        words = (
            say("workshop.it-comes-out-first")
            if not before
            else say(
                "workshop.out-before-it",
                part=say_count("count.part", before),
                comes=say_count("noun.comes", before),
            )
        ) + f", {OUT[way]}."
    if held:
        names = ", ".join(describe_part(vehicle, part) for part in held[:6])
        more = say("workshop.and-more", count_of_held=len(held) - 6) if len(held) > 6 else ""
        words = (
            say(
                "workshop.these-hold-one-another-and-come-out-neither",
                words=words,
                names=names,
                more=more,
            )
        ).strip()
    return words
