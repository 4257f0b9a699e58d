"""A function box along its shafts: layers, gears, sleeves and clutches, before its shafts stand.

Every train has layers of its own beside its sleeve, so that gears of two trains never meet; behind
every sleeve with its trains stands a wall, so that no shaft is far from what carries it. The input
comes in at the front, outputs leave at the back.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from itertools import combinations, pairwise

from mild_badger.core.functions.arrange import Arrangement, Branch
from mild_badger.core.functions.distances import (
    PASSING_MM,
    Distance,
    distance_between,
)
from mild_badger.core.functions.prove import COUNTER, INPUT, ONE_WAY, build_functions, output_body
from mild_badger.core.functions.rectifier import Rectifier
from mild_badger.core.kit.part_sizes import (
    clutch_radius_mm,
    fork_radius_mm,
    sleeve_radius_mm,
    sleeve_room_mm,
    spacer_radius_mm,
)
from mild_badger.core.layout.routes import clearance_mm
from mild_badger.core.message import say
from mild_badger.core.structure.slabs import SlabBuilder
from mild_badger.core.structure.stack import ClutchFit, Disc, OwnTrain, SlabKind, walls_in
from mild_badger.core.vehicle.bodies import INNER_WALL
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.vehicle.functions import FunctionBox
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.train_rows import train_rows

__all__ = ["CLUTCH_MM", "FunctionPlan", "Meshing", "plan_functions"]

CLUTCH_MM = 6.0
"""How wide a one-way clutch is in wood and print, a unit on a grid (an estimate, no source)."""


@dataclass(frozen=True)
class Meshing:
    """Two shafts whose gears mesh in a slab, and how far apart they stand."""

    one: str
    other: str
    slab: int
    teeth: tuple[int, int]
    apart: Distance


@dataclass(frozen=True)
class FunctionPlan:
    """Slabs with their kinds and widths, what is in them, which shafts reach from where to where.

    ``apart_mm`` is how far apart two shafts stand at least that do not mesh.
    """

    slabs: tuple[str, ...]
    kinds: tuple[SlabKind, ...]
    edges_mm: tuple[float, ...]
    lefts_mm: tuple[float, ...]
    discs: tuple[Disc, ...]
    spans: Mapping[str, tuple[int, int]]
    meshes: tuple[Meshing, ...]
    own: OwnTrain
    apart_mm: Mapping[frozenset[str], float] = field(default_factory=dict)


def plan_functions(vehicle: Vehicle, box: FunctionBox, arrangement: Arrangement) -> FunctionPlan:
    """Put an arrangement's trains side by side along the shafts; it has at least one branch."""
    return _Planner(vehicle, box, arrangement).plan()


class _Planner(SlabBuilder):
    def __init__(self, vehicle: Vehicle, box: FunctionBox, arrangement: Arrangement) -> None:
        super().__init__(vehicle)
        self.box, self.arrangement = box, arrangement
        self.meshes: list[Meshing] = []
        self.rides: dict[str, str] = {}
        self.clutches: dict[str, ClutchFit] = {}
        self.groups = 0

    def plan(self) -> FunctionPlan:
        self.wall("front wall")
        self._fed_by("input")
        if self.arrangement.rectifier is not None:  # the input ends there, the one-way shaft begins
            self._rectifier(self.arrangement.rectifier)
            self._inner_wall()
            self._fed_by("one-way")
        self.slabs[-1] = ("back wall", self.wall_mm, "wall")
        edges, lefts = self.spaced()
        drivetrain = build_functions(self.box, self.arrangement)
        outputs = frozenset(output_body(b.output) for b in self.arrangement.branches)
        own = OwnTrain(drivetrain, self.rides, frozenset({INPUT}), outputs, self.clutches)
        spans = self._spans(outputs)
        return FunctionPlan(
            tuple(name for name, _, _ in self.slabs),
            self.kinds,
            edges,
            lefts,
            tuple(self.discs),
            spans,
            tuple(self.meshes),
            own,
            dict(self._least(self._as_taken(spans, edges))),
        )

    def _fed_by(self, feed: str) -> None:
        """Add the trains of a feed: those that are always in, then those of each sleeve."""
        own = [branch for branch in self.arrangement.branches if branch.feed == feed]
        for branch in own:
            if branch.sleeve is None:
                self._pairs(branch, outwards=True)
                self._inner_wall()
        for sleeve in dict.fromkeys(branch.sleeve for branch in own if branch.sleeve):
            self._sleeve(sleeve, [branch for branch in own if branch.sleeve == sleeve])
            self._inner_wall()

    def _inner_wall(self) -> None:
        self.groups += 1
        self.wall(f"{INNER_WALL} {self.groups}")

    def _mesh(self, row: tuple[tuple[str, int, str], ...], slab: int) -> None:
        """Put gears that mesh in a row into a slab: body, teeth and shaft of each."""
        for body, teeth, shaft in row:
            self.disc(body, teeth, shaft, slab)
        for (_, one, here), (_, other, there) in pairwise(row):
            apart = distance_between(self.vehicle, one, other)
            self.meshes.append(Meshing(here, there, slab, (one, other), apart))

    def _rectifier(self, gears: Rectifier) -> None:
        one = GearPair(driver=gears.reversing, driven=gears.counter)
        self._mesh(
            (
                ("reversing/input", gears.reversing, INPUT),
                ("reversing/counter", gears.counter, COUNTER),
            ),
            self.gears(say("functions.layer-reversing"), one),
        )
        for way, (name, carrier, driver, driven) in enumerate(
            (
                ("input", INPUT, gears.direct, gears.direct),
                ("counter", COUNTER, gears.counter, gears.reversing),
            ),
            start=1,
        ):
            gear = f"one-way/{name}"
            row = (gear, driver, carrier), (f"one-way/wheel {name}", driven, ONE_WAY)
            pair = GearPair(driver=driver, driven=driven)
            self._mesh(row, self.gears(say("functions.layer-one-way", way=way), pair))
            self.rides[gear] = gear
            slab = self.add(
                say("functions.layer-one-way-clutch", way=way), self._clutch_mm(), "clutch"
            )
            self._clutch(f"clutch {name}", carrier, slab, ClutchFit(gear, behind=True, faces=1))

    def _clutch_mm(self) -> float:
        return CLUTCH_MM if self.kit.any_seat else self.kit.grid_unit_mm

    def _clutch(self, name: str, shaft: str, slab: int, fit: ClutchFit) -> None:
        self.discs.append(Disc(name, shaft, slab, clutch_radius_mm(self.vehicle)))
        self.clutches[name] = fit

    def _sleeve(self, sleeve: str, branches: list[Branch]) -> None:
        sides = {branch.face: branch for branch in branches}
        if "front" in sides:
            self._pairs(sides["front"], outwards=False)
        feed = _feed(branches[0])
        slab = self.add(sleeve, sleeve_room_mm(self.vehicle), "sleeve")
        self.discs.append(Disc(sleeve, feed, slab, sleeve_radius_mm(self.vehicle)))
        if "back" in sides:
            self._pairs(sides["back"], outwards=True)

    def _pairs(self, branch: Branch, *, outwards: bool) -> None:
        """Add a branch's layers, the one at its sleeve first or last, and its clutch beyond."""
        end = output_body(branch.output)
        rows = list(train_rows(branch.key, branch.train, _feed(branch), end))
        if branch.sleeve is not None:
            self.rides[rows[0][1][0][0]] = f"{branch.key}/head"
        if branch.sense:
            self.rides[rows[-1][1][-1][0]] = f"{branch.key}/tail"
        slab = None
        if branch.sense and not outwards:
            slab = self.add(self._layer(branch, 0), self._clutch_mm(), "clutch")
        for number, (pair, row) in enumerate(rows if outwards else rows[::-1], start=1):
            place = number if outwards else len(rows) + 1 - number
            self._mesh(row, self.gears(self._layer(branch, place), pair))
        if branch.sense and outwards:
            slab = self.add(self._layer(branch, 0), self._clutch_mm(), "clutch")
        if slab is not None and branch.sense:
            # the ring on the gear drives the wheel: its steep faces look back at what pushes them
            fit = ClutchFit(rows[-1][1][-1][0], behind=outwards, faces=-branch.sense)
            self._clutch(f"clutch {branch.key}", end, slab, fit)

    @staticmethod
    def _layer(branch: Branch, pair: int) -> str:
        """Name a layer by its output and train; pair 0 is the one-way clutch."""
        _, _, number = branch.key.rpartition(" ")
        if not pair:
            return say("functions.layer-clutch-of", name=branch.name, train=number)
        return say("functions.layer-of", name=branch.name, train=number, pair=pair)

    def _spans(self, outputs: frozenset[str]) -> dict[str, tuple[int, int]]:
        """From which wall to which wall every shaft reaches."""
        walls = walls_in(self.kinds)
        spans = {}
        for shaft in dict.fromkeys(disc.shaft for disc in self.discs):
            own = [disc.slab for disc in self.discs if disc.shaft == shaft]
            first = max(w for w in walls if w < min(own))
            last = min(w for w in walls if w > max(own))
            first = walls[0] if shaft == INPUT else first
            spans[shaft] = (first, walls[-1] if shaft in outputs else last)
        return spans

    def _as_taken(
        self, spans: Mapping[str, tuple[int, int]], edges: tuple[float, ...]
    ) -> dict[str, tuple[int, int]]:
        """Let shafts reach as far as the lengths that they are had in: what is over is behind."""
        lengths = sorted(n * self.kit.grid_unit_mm for n in self.kit.shaft_lengths_u)
        taken = {}
        for shaft, (first, last) in spans.items():
            needed = edges[last + 1] - edges[first]
            end = edges[first] + next((n for n in lengths if n >= needed - 1e-6), needed)
            passed = (slab for slab in range(last, len(self.slabs)) if edges[slab] < end - 1e-6)
            taken[shaft] = (first, max(passed))
        return taken

    def _least(
        self, spans: Mapping[str, tuple[int, int]]
    ) -> Iterator[tuple[frozenset[str], float]]:
        """Say how far apart any two shafts must stand for all that is on them to be clear."""
        room, tube = clearance_mm(self.kit), spacer_radius_mm(self.vehicle)
        holes = (
            self.vehicle.hole_mm(self.kit.shaft_diameter_mm, "running") + self.vehicle.frame.edge_mm
            if self.kit.any_seat
            else self.kit.grid_unit_mm
        )
        reach: dict[str, dict[int, float]] = {shaft: {} for shaft in spans}
        for disc in self.discs:
            forked = self.kinds[disc.slab] == "sleeve"
            reach[disc.shaft][disc.slab] = (
                fork_radius_mm(self.vehicle) if forked else disc.radius_mm
            )
        meshing = {(frozenset((m.one, m.other)), m.slab) for m in self.meshes}
        for one, other in combinations(spans, 2):
            pair = frozenset((one, other))
            first = max(spans[one][0], spans[other][0])
            last = min(spans[one][1], spans[other][1])
            least = 0.0
            for slab in range(first, last + 1):
                a, b = reach[one].get(slab), reach[other].get(slab)
                if (pair, slab) in meshing:
                    continue
                if a is not None and b is not None:
                    least = max(least, a + b + room)
                elif a is not None or b is not None:
                    least = max(least, (a or b or 0.0) + tube + PASSING_MM)
                else:
                    least = max(least, holes, 2 * tube)
            if least:
                yield pair, least


def _feed(branch: Branch) -> str:
    return ONE_WAY if branch.feed == "one-way" else INPUT
