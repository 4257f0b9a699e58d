"""The cut list: which pieces are sawn from which rod, and what is left over.

Lengths mm. A saw takes its width between two pieces, and after the last one unless it ends with the
rod. As few rods as can be: first-fit decreasing, and where that does not meet the lower bound an
integer programme (SciPy's HiGHS) over how many of each length come from each rod.
"""

from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from math import ceil, hypot

import numpy as np

from mild_badger.core.components.component import Component, Prism
from mild_badger.core.components.describe import describe_part
from mild_badger.core.figures import in_mm
from mild_badger.core.kit.part_sizes import is_washer
from mild_badger.core.message import say, say_count
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import word
from mild_badger.core.workshop.made_pieces import layer_rods, round_mm, standing_parts
from mild_badger.core.workshop.parts import parts_needed

__all__ = ["ROUND", "CutPiece", "CutPlan", "CutStock", "cut_plans", "long_mm", "pack", "taken_mm"]

SECONDS = 2.0
ROUND = frozenset({"shaft", "rail", "catch rail", "half shaft"})
"""Kinds that are sawn from round rod as they are."""
SLACK_MM = 1e-6


@dataclass(frozen=True)
class CutPiece:
    """A piece to be sawn: its words and its length."""

    words: str
    length_mm: float


@dataclass(frozen=True)
class CutStock:
    """One rod: its pieces from its left end, and what is left of it at the right."""

    pieces: tuple[CutPiece, ...]
    offcut_mm: float


@dataclass(frozen=True)
class CutPlan:
    """All rods of one kind; ``too_long`` fit on none; ``fewest`` whether no fewer would do."""

    material: str
    stock_mm: float
    saw_mm: float
    rods: tuple[CutStock, ...]
    too_long: tuple[CutPiece, ...]
    fewest: bool

    @property
    def listed(self) -> tuple[tuple[CutPiece, int], ...]:
        """Pieces that are alike, with their count, the longest first."""
        counts = Counter(piece for rod in self.rods for piece in rod.pieces)
        counts.update(self.too_long)
        return tuple(sorted(counts.items(), key=lambda item: (-item[0].length_mm, item[0].words)))

    @property
    def summary(self) -> str:
        """Say what it takes and what is left."""
        count = len(self.rods)
        sentence: str = say(
            "workshop.of-2",
            material=self.material,
            rod=say_count("count.rod", count),
            stock_mm=in_mm(self.stock_mm),
        )
        if count:
            longest = max(rod.offcut_mm for rod in self.rods)
            sentence += say("workshop.longest-offcut", longest=in_mm(longest, 0))
            sentence += (
                say("workshop.no-fewer-will-do")
                if self.fewest
                else say("workshop.perhaps-one-fewer-would-do")
            )
        if self.too_long:
            names = ", ".join(piece.words for piece in self.too_long)
            sentence += say("workshop.longer-than-a-rod", names=names)
        return sentence + "."


def pack(material: str, pieces: tuple[CutPiece, ...], *, stock_mm: float, saw_mm: float) -> CutPlan:
    """Lay pieces on as few rods as can be, the fullest rod first."""
    too_long = tuple(p for p in pieces if p.length_mm > stock_mm + SLACK_MM)
    rest = sorted((p for p in pieces if p not in too_long), key=lambda p: (-p.length_mm, p.words))
    # a piece and the cut after it; the last cut may fall beyond the rod's end
    room = stock_mm + saw_mm
    least = ceil(sum(p.length_mm + saw_mm for p in rest) / room - 1e-9)
    rods = _first_fit(rest, room, saw_mm)
    fewest = len(rods) <= least
    if not fewest:
        better = _fewest(rest, room, saw_mm, most=len(rods) - 1, least=least)
        fewest = better is not None
        rods = better or rods
    sawn = [
        CutStock(tuple(rod), max(stock_mm - sum(p.length_mm + saw_mm for p in rod), 0.0))
        for rod in rods
    ]
    sawn.sort(key=lambda rod: rod.offcut_mm)
    return CutPlan(material, stock_mm, saw_mm, tuple(sawn), too_long, fewest)


def _first_fit(pieces: list[CutPiece], room: float, saw: float) -> list[list[CutPiece]]:
    rods: list[list[CutPiece]] = []
    left: list[float] = []
    for piece in pieces:
        takes = piece.length_mm + saw
        here = next((n for n, free in enumerate(left) if free >= takes - SLACK_MM), None)
        if here is None:
            rods.append([])
            left.append(room)
            here = len(rods) - 1
        rods[here].append(piece)
        left[here] -= takes
    return rods


def _fewest(
    pieces: list[CutPiece], room: float, saw: float, *, most: int, least: int
) -> list[list[CutPiece]] | None:
    """Find fewer rods; the pieces on ``most + 1`` where none is proven to be enough, else None."""
    # The solver is loaded when the quick way leaves a doubt, not at every start.
    from scipy.optimize import Bounds, LinearConstraint, milp  # noqa: PLC0415

    counts = Counter(p.length_mm for p in pieces)
    lengths = sorted(counts, reverse=True)
    for rods in range(least, most + 1):
        kinds = len(lengths)
        # how many of each length on each rod, rod after rod
        takes = np.kron(np.eye(rods), np.array(lengths) + saw)
        made = np.tile(np.eye(kinds), (1, rods))
        wanted = np.array([counts[length] for length in lengths], dtype=float)
        solution = milp(
            np.zeros(rods * kinds),
            constraints=[
                LinearConstraint(takes, -np.inf, room + SLACK_MM),
                LinearConstraint(made, wanted, wanted),
            ],
            integrality=np.ones(rods * kinds),
            bounds=Bounds(0, np.tile(wanted, rods)),
            options={"time_limit": SECONDS},
        )
        if solution.status == 0:
            return _dealt(pieces, np.round(solution.x).astype(int).reshape(rods, kinds), lengths)
        if solution.status != 2:  # neither found nor proven to be none
            return None
    return _first_fit(pieces, room, saw)


def _dealt(
    pieces: list[CutPiece], counts: np.ndarray, lengths: list[float]
) -> list[list[CutPiece]]:
    left = {length: [p for p in pieces if p.length_mm == length] for length in lengths}
    rods = []
    for row in counts:
        rod: list[CutPiece] = []
        for length, count in zip(lengths, row, strict=True):
            rod += [left[length].pop() for _ in range(count)]
        rods.append(rod)
    return [rod for rod in rods if rod]


def cut_plans(vehicle: Vehicle) -> tuple[CutPlan, ...]:
    """Lay out what is cut to length: shafts and rails, axles, posts, spacers, dowels, strips.

    Every piece is as long as the part in space. Empty for a box that has no place in space yet,
    and without shafts where the kit sells them in lengths.
    """
    parts = standing_parts(vehicle)
    if not parts:
        return ()
    making = vehicle.making
    groups: dict[str, list[CutPiece]] = {}
    for rod, piece in _sawn(vehicle, parts):
        groups.setdefault(rod, []).append(piece)
    return tuple(
        pack(name, tuple(pieces), stock_mm=making.rod_mm, saw_mm=making.saw_mm)
        for name, pieces in groups.items()
    )


def _sawn(vehicle: Vehicle, parts: Sequence[Component]) -> Iterator[tuple[str, CutPiece]]:
    """Give each piece with the rod that it comes from."""
    kit, making = vehicle.kit, vehicle.making

    def rod_of(part: Component) -> str:
        wide = 2 * max(round_mm(o) or 0.0 for prism in part.solid for o in prism.outlines)
        return say("workshop.shaft-rod", shaft_mm=in_mm(round(wide, 2)))

    for part in parts if not kit.shaft_lengths_u else ():
        if part.kind in ROUND and all(map(_round, part.solid)):
            yield rod_of(part), _piece(describe_part(vehicle, part), taken_mm(kit, part))
    for part, long, wide in layer_rods(vehicle):
        rod = say("workshop.shaft-rod", shaft_mm=in_mm(round(wide, 2)))
        yield rod, _piece(describe_part(vehicle, part), long)
    if not kit.any_seat:
        return
    gears = sum(p.needed for p in parts_needed(vehicle) if p.made and p.key[0] in ("fixed", "free"))
    if making.dowels and kit.made is not None:
        rod = say("workshop.dowel-rod", dowel_mm=in_mm(making.dowel_mm))
        for _ in range(making.dowels * gears):
            yield rod, _piece(word("dowel"), kit.made.face_width_mm)
    for part in parts:
        if part.kind == "tie rod":
            rod = say("workshop.post-rod", post_mm=in_mm(vehicle.frame.post_mm))
            yield rod, _piece(word("post"), part.length_mm)
        elif part.kind == "spacer" and not is_washer(part.length_mm):
            yield say("workshop.spacer-tube"), _piece(word("spacer"), part.length_mm)
        elif part.kind in ("pin", "guide", "fulcrum"):
            pin = 2 * max(hypot(x, y) for o in part.solid[0].outlines for x, y in o)
            rod = say("workshop.pin-rod", pin_mm=in_mm(pin, significant=3))
            yield rod, _piece(word(part.kind), part.length_mm)
        elif part.kind == "frame rail":
            left, low, right, high = part.reach_mm
            rod = say(
                "workshop.strip",
                wide=in_mm(round(right - left, 2)),
                high=in_mm(round(high - low, 2)),
            )
            yield rod, _piece(describe_part(vehicle, part), part.length_mm)


def _piece(words: str, length_mm: float) -> CutPiece:
    return CutPiece(words, round(length_mm, 1))


def _round(prism: Prism) -> bool:
    """Whether a prism is a plain round rod."""
    return len(prism.outlines) == 1 and not prism.holes and round_mm(prism.outlines[0]) is not None


def long_mm(part: Component) -> float:
    """Give how long a part is along its own line, whichever way it lies."""
    return max(p.to_mm for p in part.solid) - min(p.from_mm for p in part.solid)


def taken_mm(kit: Kit, part: Component) -> float:
    """Give the length to take for a shaft: its own to a tenth, or the next that is sold."""
    long, unit = long_mm(part), kit.grid_unit_mm
    sold = (n * unit for n in sorted(kit.shaft_lengths_u) if n * unit >= long - 1e-3)
    return round(next(sold, long), 1)
