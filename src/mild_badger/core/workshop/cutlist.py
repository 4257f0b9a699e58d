"""The cut list: which pieces are sawn from which rod, and what is left over.

Lengths mm. A saw takes its width between two pieces, and after the last one unless it ends with the
rod. As few rods as can be: first-fit decreasing, and where that does not meet the lower bound an
integer programme (SciPy's HiGHS) over how many of each length come from each rod.
"""

from collections import Counter
from dataclasses import dataclass
from math import ceil

import numpy as np

from mild_badger.core.figures import in_mm
from mild_badger.core.layout.findings import frame_parts
from mild_badger.core.layout.forks import forks_of
from mild_badger.core.layout.names import describe_shaft
from mild_badger.core.layout.shaft_box import stack_for
from mild_badger.core.layout.shaft_lengths import shaft_cuts
from mild_badger.core.message import say, say_count
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import word
from mild_badger.core.workshop.parts import parts_needed

__all__ = ["CutPiece", "CutPlan", "CutStock", "cut_plans", "pack"]

SECONDS = 2.0
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
    """Lay out what is cut to length: shafts with forks' rails and axles, posts, spacers, dowels.

    Half-shafts reach from the middle of their axle to the middle of the wheel.

    Empty for a box that has no place in space yet, and for shafts that the kit sells in lengths.
    """
    stack = stack_for(vehicle)
    if stack is None:
        return ()
    kit, making = vehicle.kit, vehicle.making
    groups: dict[str, list[CutPiece]] = {}
    if not kit.shaft_lengths_u:
        shafts = groups.setdefault(
            say("workshop.shaft-rod", shaft_mm=in_mm(kit.shaft_diameter_mm)), []
        )
        shafts += [
            CutPiece(describe_shaft(vehicle, cut.name), round(cut.needed_mm, 1))
            for cut in shaft_cuts(vehicle, stack)
        ]
        edges = stack.edges_mm
        shafts += [
            CutPiece(
                describe_shaft(vehicle, fork.rail.name),
                round(edges[fork.rail.last + 1] - edges[fork.rail.first], 1),
            )
            for fork in forks_of(vehicle, stack)
        ]
        axles = 1 + len(vehicle.additional_axles)
        shafts += (
            [CutPiece(say("workshop.half-shaft"), round(vehicle.axle.track_mm / 2, 1))] * 2 * axles
        )
    if kit.any_seat:
        gears = sum(
            p.needed for p in parts_needed(vehicle) if p.made and p.key[0] in ("fixed", "free")
        )
        if making.dowels and kit.made is not None:
            dowel = CutPiece(word("dowel"), round(kit.made.face_width_mm, 1))
            rod = say("workshop.dowel-rod", dowel_mm=in_mm(making.dowel_mm))
            groups[rod] = [dowel] * making.dowels * gears
        kinds = {
            "post": say("workshop.post-rod", post_mm=in_mm(vehicle.frame.post_mm)),
            "spacer": say("workshop.spacer-tube"),
        }
        for kind, tenths, count in frame_parts(vehicle).counts:
            if kind in kinds:
                pieces = groups.setdefault(kinds[kind], [])
                pieces += [CutPiece(word(kind), tenths / 10)] * count
    return tuple(
        pack(name, tuple(pieces), stock_mm=making.rod_mm, saw_mm=making.saw_mm)
        for name, pieces in groups.items()
        if pieces
    )
