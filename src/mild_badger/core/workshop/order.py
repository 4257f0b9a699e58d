"""In what order units come out of a box, and which come out as one: a shaft with what is on it.

A shaft whose parts can all be drawn out with it goes together before it comes in.
"""

from collections.abc import Iterator
from dataclasses import dataclass

from mild_badger.core.components.component import Component
from mild_badger.core.workshop.units import LooseUnits, outermost
from mild_badger.core.workshop.ways_out import BACK, FRONT, SIDE, way_of

__all__ = ["Outgoing", "order_out"]

Parts = tuple[Component, ...]


@dataclass(frozen=True)
class Outgoing:
    """Units that come out by one way, as one; of several the first is the shaft that carries."""

    units: tuple[str, ...]
    way: int


def order_out(loose: LooseUnits) -> tuple[list[Outgoing], frozenset[str]]:
    """Draw unit after unit out; give them with their ways, and what no way is left for."""
    there = set(loose.members)
    before = {unit for unit, parts in loose.members.items() if _before_the_front(parts)}
    carried = _carried(loose)
    out: list[Outgoing] = []
    while there:
        found = next(_ways_out(loose, carried, there, before), None)
        if found is None:
            break
        there.difference_update(found.units)
        out.append(found)
    return out, frozenset(there)


def _ways_out(
    loose: LooseUnits, carried: dict[str, frozenset[str]], there: set[str], before: set[str]
) -> Iterator[Outgoing]:
    """List what comes out next, what is wanted first: whole shafts before their parts."""
    for way, among in ((FRONT, there & before), (BACK, there), (FRONT, there)):
        whole = [
            (shaft, *sorted(own, key=lambda u: (outermost(loose.members[u]), u)))
            for shaft in among & carried.keys()
            if (own := carried[shaft] & there) and _free_as_one(loose, {shaft} | own, way, there)
        ]
        free: list[tuple[str, ...]] = [(unit,) for unit in among if loose.free(unit, way, there)]
        by_kind: dict[str, list[tuple[str, ...]]] = {}
        for units in free:
            by_kind.setdefault(loose.members[units[0]][0].kind, []).append(units)
        rails, walls = by_kind.get("rail", []), by_kind.get("wall", [])
        # what holds the walls together first; then what a wall bears, then that wall; rails
        # come out together, after the sleeves whose forks they bear
        held = [units for units in free if outermost(loose.members[units[0]])[0] > 0.0]
        forks = by_kind.get("sleeve", []) if rails else []
        borne = [*whole, *by_kind.get("shaft", []), *rails]
        for some in (held, forks, borne, walls, free):
            if some:
                units = max(some, key=lambda units: outermost(loose.members[units[0]]))
                side = way_of(loose.members[units[0]][0]) == SIDE
                yield Outgoing(units, SIDE if side else way)


def _free_as_one(loose: LooseUnits, units: set[str], way: int, there: set[str]) -> bool:
    rest = there - units
    return all(loose.free(unit, way, rest) for unit in units)


def _carried(loose: LooseUnits) -> dict[str, frozenset[str]]:
    """Say for each shaft which units are on it; of what rides on a fork rail too, none."""
    shafts = {
        part.shaft: unit
        for unit, parts in loose.members.items()
        for part in parts
        if part.kind == "shaft"
    }
    on: dict[str, set[str]] = {}
    for unit, parts in loose.members.items():
        carrier = shafts.get(parts[0].shaft)
        if carrier is not None and carrier != unit and parts[0].kind != "bearing":
            on.setdefault(carrier, set()).add(unit)
    return {shaft: frozenset(units) for shaft, units in on.items()}


def _before_the_front(parts: Parts) -> bool:
    """Whether parts stand wholly before the front wall, where they go on at the end."""
    return all(part.to_mm <= 0 for part in parts)
