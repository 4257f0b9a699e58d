"""Units that go in or come out as one, and what stands in the way of each."""

from dataclasses import dataclass
from functools import lru_cache

from mild_badger.core.components.component import Component
from mild_badger.core.vehicle.cache_key import Same
from mild_badger.core.workshop.ways_out import (
    BACK,
    FROM_THE_SIDE,
    FRONT,
    SIDE,
    Obstacles,
    obstacles,
    way_of,
)

__all__ = ["LooseUnits", "loose", "outermost", "units", "usual_loose"]

Parts = tuple[Component, ...]


def units(parts: Parts) -> dict[str, str]:
    """Say which unit each part goes in with.

    A fork lies in its sleeve, its shift arm beside it until the rail goes through both; a bearing
    sits in its wall, a gate lever on the cradle's pin.
    """
    sleeves = {part.member: part.key for part in parts if part.kind == "sleeve"}
    walls = {part.wall: part.key for part in parts if part.kind == "wall"}
    cradles = {part.lever: part.key for part in parts if part.kind == "cradle"}
    unit_of = {}
    for part in parts:
        unit = part.key
        if part.kind in ("fork", "shift arm"):
            unit = sleeves.get(part.member, unit)
        elif part.kind == "gate lever":
            unit = cradles.get(part.lever, unit)
        elif part.kind == "bearing":
            unit = walls.get(part.wall, unit)
        unit_of[part.key] = unit
    return unit_of


@dataclass(frozen=True)
class LooseUnits:
    """Parts as units; ``bars`` names the units in a unit's way, and those that it carries."""

    members: dict[str, Parts]
    bars: dict[tuple[str, int], frozenset[str]]

    def free(self, unit: str, way: int, there: set[str]) -> bool:
        """Whether a unit can be drawn out one way with these units there."""
        return self.bars[unit, way].isdisjoint(there)

    def in_way(self, unit: str, way: int, there: set[str]) -> set[str]:
        """Name what has to go first of the units that are there."""
        return set(self.bars[unit, way] & there)


def usual_loose(parts: Parts) -> LooseUnits:
    """Keep the parts each by itself; only what was marked as glued asks for more."""
    return _usual(Same(parts))


@lru_cache(maxsize=4)
def _usual(same: Same[Parts]) -> LooseUnits:
    return loose(same.it, units(same.it))


def loose(parts: Parts, unit_of: dict[str, str]) -> LooseUnits:
    """Find what bars the way of each unit, towards either end."""
    members: dict[str, list[Component]] = {}
    for part in parts:
        members.setdefault(unit_of[part.key], []).append(part)
    barred: Obstacles = obstacles(parts)
    bars: dict[tuple[str, int], set[str]] = {
        (unit, way): {unit_of[key] for part in own for key in barred.barred[part.key, way]} - {unit}
        for unit, own in members.items()
        for way in (BACK, FRONT)
    }
    axles = {p.shaft: unit_of[p.key] for p in parts if p.kind in ("shaft", "rail")}
    ties = {unit_of[part.key] for part in parts if part.kind == "tie rod"}
    for part in parts:
        unit, carrier = unit_of[part.key], axles.get(part.shaft)
        for way in (BACK, FRONT):
            if carrier is not None and carrier != unit and part.kind != "bearing":
                bars[carrier, way].add(unit)
            if part.kind == "wall":  # tie rods hold the walls together
                bars[unit, way] |= ties
    return LooseUnits(
        {unit: tuple(own) for unit, own in members.items()},
        {key: frozenset(others) for key, others in bars.items()},
    )


def outermost(unit: Parts) -> tuple[float, float, str]:
    """Say which unit comes off first: from the side, tie rods, then the nearest to the output."""
    first = unit[0]
    # a stub stands out of the box, and begins with its wall all the same
    own = (part.from_mm for part in unit if part.kind not in ("fork", "shift arm"))
    start = max(min(own), 0.0)
    if way_of(first) == SIDE:
        turn = 2.0 + FROM_THE_SIDE.index(first.kind)
    else:
        turn = 1.0 if first.kind == "tie rod" else 0.0
    return (turn, round(start, 2), first.key)
