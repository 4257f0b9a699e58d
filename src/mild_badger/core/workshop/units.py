"""Units that go in or come out as one, and what stands in the way of each."""

from dataclasses import dataclass
from functools import lru_cache

from mild_badger.core.workshop.pieces import Piece
from mild_badger.core.workshop.ways_out import BACK, FRONT, Obstacles, obstacles

__all__ = ["LooseUnits", "loose", "outermost", "units", "usual_loose"]


def units(pieces: tuple[Piece, ...]) -> dict[str, str]:
    """Say which unit each part goes in with: a fork lies in its sleeve, a bearing in its wall."""
    sleeves = {piece.body: piece.key for piece in pieces if piece.kind == "sleeve"}
    walls = {piece.key for piece in pieces if piece.kind == "wall"}
    members_of = {}
    for piece in pieces:
        unit = piece.key
        if piece.kind == "fork":
            unit = sleeves.get(piece.body, unit)
        elif piece.kind == "bearing":
            unit = piece.wall if piece.wall in walls else unit
        members_of[piece.key] = unit
    return members_of


@dataclass(frozen=True)
class LooseUnits:
    """Parts as units; ``bars`` names the units in a unit's way, and those that it carries."""

    members: dict[str, tuple[Piece, ...]]
    bars: dict[tuple[str, int], frozenset[str]]

    def free(self, unit: str, way: int, there: set[str]) -> bool:
        """Whether a unit can be drawn out one way with these units there."""
        return self.bars[unit, way].isdisjoint(there)

    def in_way(self, unit: str, way: int, there: set[str]) -> set[str]:
        """Name what has to go first of the units that are there."""
        return set(self.bars[unit, way] & there)


@lru_cache(maxsize=4)
def usual_loose(pieces: tuple[Piece, ...]) -> LooseUnits:
    """Keep the parts each by itself; only what was marked as glued asks for more."""
    return loose(pieces, units(pieces))


def loose(pieces: tuple[Piece, ...], unit_of: dict[str, str]) -> LooseUnits:
    """Find what bars the way of each unit, towards either end."""
    members: dict[str, list[Piece]] = {}
    for piece in pieces:
        members.setdefault(unit_of[piece.key], []).append(piece)
    barred: Obstacles = obstacles(pieces)
    bars: dict[tuple[str, int], set[str]] = {
        (unit, way): {unit_of[key] for piece in bodies for key in barred.barred[piece.key, way]}
        - {unit}
        for unit, bodies in members.items()
        for way in (BACK, FRONT)
    }
    axles = {p.shaft: unit_of[p.key] for p in pieces if p.kind in ("shaft", "rail")}
    ties = {unit_of[piece.key] for piece in pieces if piece.kind == "tie"}
    for piece in pieces:
        unit, carrier = unit_of[piece.key], axles.get(piece.shaft)
        for way in (BACK, FRONT):
            if carrier is not None and carrier != unit and piece.kind != "bearing":
                bars[carrier, way].add(unit)
            if piece.kind == "wall":  # tie rods hold the walls together
                bars[unit, way] |= ties
    return LooseUnits(
        {unit: tuple(bodies) for unit, bodies in members.items()},
        {key: frozenset(bodies) for key, bodies in bars.items()},
    )


def outermost(unit: tuple[Piece, ...]) -> tuple[float, float, str]:
    """Say which unit comes off first: tie rods, then what begins nearest to the output end."""
    first = unit[0]
    # a stub stands out of the box, and begins with its wall all the same
    start = max(min(piece.from_mm for piece in unit if piece.kind != "fork"), 0.0)
    return (1.0 if first.kind == "tie" else 0.0, round(start, 2), first.key)
