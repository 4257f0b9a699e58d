"""Boxes of several stages in space: two layshafts, or splitter and range one behind the other.

Nothing is searched but where the shafts stand: each stage has its one distance, on a grid an offset
in whole units. A middle wall between two bays carries the input's end and the output's start, so
their axes are one, or far enough apart for two holes. Idlers stand where two circles cross.
"""

from collections.abc import Iterator
from dataclasses import replace
from itertools import product
from math import hypot

from mild_badger.core.architectures.places import Series, Stage, StagePair
from mild_badger.core.kit.part_sizes import sleeve_radius_mm, sleeve_room_mm, tip_mm
from mild_badger.core.mesh.centres import Centre, centre_of
from mild_badger.core.structure.slabs import SlabBuilder
from mild_badger.core.structure.stack import Disc, Rod, Stack, walls_in
from mild_badger.core.structure.train import crossings
from mild_badger.core.vehicle.bodies import gear_body, idler_shaft, input_shaft
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["series_stack"]

Point = tuple[float, float]
BEND = (1.0, 0.97, 0.93, 0.88, 0.82, 0.75)
"""How far apart two layshafts are tried, as shares of the most there can be."""
NEAR_MM = 0.01
BESIDE_MM = 0.5
"""Room between gears, or a gear and a shaft, that pass one another (common practice)."""


def series_stack(vehicle: Vehicle, places: Series) -> Stack | None:
    """Lay such a box out; None where a stage has no pair yet or the shafts find no place."""
    centres: dict[tuple[str, str], Centre] = {}
    for stage in (stage for bay in places.bays for stage in bay):
        centre = centre_of(vehicle.kit, [pair.link.pair for pair in stage.pairs])
        if centre is None:
            return None
        centres[stage.driving, stage.driven] = centre
    stands = _stand(vehicle, places, centres)
    return None if stands is None else _Builder(vehicle, places, stands).stack()


def _stand(
    vehicle: Vehicle, places: Series, centres: dict[tuple[str, str], Centre]
) -> dict[str, Point] | None:
    """Find where the shafts stand: the input at the origin."""
    output = places.bays[-1][0].driven
    between = [stage.driven for stage in places.bays[0]]
    into = [centres[input_shaft(), shaft] for shaft in between]
    out = [centres[shaft, output] for shaft in between]
    room = _hole_room(vehicle)
    tried = _on_a_grid(vehicle, into, out) if into[0].offset_u else _anywhere(into, out)
    for shafts, end in tried:
        apart = hypot(*end)
        if apart > NEAR_MM and apart < room:
            continue
        if len(shafts) > 1 and not _clear_of_one_another(vehicle, places, shafts):
            continue
        return {input_shaft(): (0.0, 0.0), **dict(zip(between, shafts, strict=True)), output: end}
    return None


def _hole_room(vehicle: Vehicle) -> float:
    """How far apart two holes of a wall must be."""
    if not vehicle.kit.any_seat:
        return vehicle.kit.grid_unit_mm
    return vehicle.hole_mm(vehicle.kit.shaft_diameter_mm, "running") + vehicle.frame.edge_mm


def _clear_of_one_another(vehicle: Vehicle, places: Series, shafts: tuple[Point, ...]) -> bool:
    """Whether the gears of the last bay's stages, which stand side by side, keep apart."""
    tips = [
        max((tip_mm(vehicle.kit, pair.link.pair.driver) for pair in stage.pairs), default=0.0)
        for stage in places.bays[-1]
    ]
    (a, b), (c, d) = shafts
    return hypot(c - a, d - b) > sum(tips) + BESIDE_MM


def _anywhere(into: list[Centre], out: list[Centre]) -> Iterator[tuple[tuple[Point, ...], Point]]:
    """List places in wood and print: layshafts below the input, the output beside or in line."""
    if len(into) == 1:
        down = (0.0, -into[0].distance_mm)
        far = out[0].distance_mm
        for x, y in ((0.0, far), (far, 0.0), (-far, 0.0), (0.0, -far)):
            yield (down,), (down[0] + x, down[1] + y)
        return
    most = min(into[0].distance_mm + into[1].distance_mm, out[0].distance_mm + out[1].distance_mm)
    for share in BEND:
        base = most * share
        start = crossings((0.0, 0.0), into[0].distance_mm, (base, 0.0), into[1].distance_mm)
        ends = crossings((0.0, 0.0), out[0].distance_mm, (base, 0.0), out[1].distance_mm)
        for (x, y), end in product(start[:1], ends):
            yield ((-x, -y), (base - x, -y)), (end[0] - x, end[1] - y)


def _on_a_grid(
    vehicle: Vehicle, into: list[Centre], out: list[Centre]
) -> Iterator[tuple[tuple[Point, ...], Point]]:
    """List places on whole units, input and output in one line first."""
    unit = vehicle.kit.grid_unit_mm

    def around(centre: Centre) -> list[tuple[int, int]]:
        x, y = centre.offset_u or (0, 0)
        ways = ((x, y), (y, x), (-x, y), (x, -y), (-y, x), (y, -x), (-x, -y), (-y, -x))
        return sorted(dict.fromkeys(ways), key=lambda at: (at[1], abs(at[0]), at[0]))

    found = []
    for shafts in product(*map(around, into)):
        ends = [
            {(s[0] + x, s[1] + y) for x, y in around(centre)}
            for s, centre in zip(shafts, out, strict=True)
        ]
        for end in set.intersection(*ends):
            found.append((hypot(*end), shafts, end))
    for _, shafts, end in sorted(found):
        scaled = tuple((x * unit, y * unit) for x, y in shafts)
        yield scaled, (end[0] * unit, end[1] * unit)


class _Builder(SlabBuilder):
    def __init__(self, vehicle: Vehicle, places: Series, stands: dict[str, Point]) -> None:
        super().__init__(vehicle)
        self.places = places
        self.stands = stands
        self.idlers: dict[str, tuple[Stage, GearPair, int]] = {}
        self.starts: dict[str, int] = {}
        """Shafts that start at a wall of their own, behind gears that would run into them."""

    def stack(self) -> Stack:
        self.wall("front wall")
        for number, bay in enumerate(self.places.bays):
            if number:
                self.wall("middle wall")
            fixed: dict[Stage, list[StagePair]] = {}
            for place, stage in enumerate(self._in_order(bay)):
                if place and self._bars(bay, stage):
                    self.wall("inner wall")
                    self.starts[stage.driven] = len(self.slabs) - 1
                sleeves: dict[str, list[StagePair]] = {}
                for pair in stage.pairs:
                    if pair.sleeve is None:
                        fixed.setdefault(stage, []).append(pair)
                    else:
                        sleeves.setdefault(pair.sleeve, []).append(pair)
                for own in sleeves.values():
                    self._column(stage, own)
            self._side_by_side(fixed)
        self.wall("back wall")
        return self._placed()

    def _bars(self, bay: tuple[Stage, ...], late: Stage) -> bool:
        """Whether a gear of the input, for another stage, reaches a layshaft of the same bay."""
        radius = self.kit.shaft_diameter_mm / 2 + BESIDE_MM
        x, y = self.stands[late.driven]
        return any(
            tip_mm(self.kit, pair.link.pair.driver) + radius
            > hypot(x - self.stands[stage.driving][0], y - self.stands[stage.driving][1])
            for stage in bay
            if stage.driven != late.driven and stage.driving == input_shaft()
            for pair in stage.pairs
        )

    def _in_order(self, bay: tuple[Stage, ...]) -> tuple[Stage, ...]:
        """Put a stage first whose gears would run into another's layshaft, which starts later."""
        if len(bay) == 2 and self._bars(bay, bay[0]) and not self._bars(bay, bay[1]):
            return bay[1], bay[0]
        return bay

    def _column(self, stage: Stage, pairs: list[StagePair]) -> None:
        """Lay out what one sleeve couples: a pair before it, the sleeve, a pair behind."""
        faces = {pair.face: pair for pair in pairs}
        sleeve = pairs[0].sleeve
        if (front := faces.get("front")) is not None:
            self._pair(stage, front, self.gears(front.link.key, front.link.pair))
        slab = self.add(sleeve or "", sleeve_room_mm(self.vehicle), "sleeve")
        self.discs.append(Disc(sleeve or "", stage.driven, slab, sleeve_radius_mm(self.vehicle)))
        if (back := faces.get("back")) is not None:
            self._pair(stage, back, self.gears(back.link.key, back.link.pair))

    def _side_by_side(self, fixed: dict[Stage, list[StagePair]]) -> None:
        """Put the constant pairs of several stages into one slab: they may drive one wheel."""
        if not fixed:
            return
        pairs = [pair for own in fixed.values() for pair in own]
        width = self.on_grid(max(self.width_of(pair.link.pair) for pair in pairs))
        slab = self.add(pairs[0].link.key, width, "gears")
        for stage, own in fixed.items():
            for pair in own:
                self._pair(stage, pair, slab)

    def _pair(self, stage: Stage, pair: StagePair, slab: int) -> None:
        key, own, gears = pair.link.key, pair.link.id, pair.link.pair
        self.disc(gear_body(key, own, "driver"), gears.driver, stage.driving, slab)
        self.disc(gear_body(key, own, "driven"), gears.driven, stage.driven, slab)
        if len(gears.idlers) == 1:
            shaft = idler_shaft(key, own, 0)
            self.disc(gear_body(key, own, "idler0"), gears.idlers[0], shaft, slab)
            self.idlers[shaft] = (stage, gears, slab)

    def _placed(self) -> Stack:
        names, kinds = [name for name, _, _ in self.slabs], self.kinds
        walls = walls_in(kinds)
        first, last = walls[0], walls[-1]
        middle = next(n for n, name in enumerate(names) if name == "middle wall")
        output = self.places.bays[-1][0].driven
        rods = {}
        for name, (x, y) in self.stands.items():
            start, end = (middle if name == output else self.starts.get(name, first)), last
            if name == input_shaft():
                end = middle
            rods[name] = Rod(name, x, y, start, end, tuple(w for w in walls if start <= w <= end))
        if hypot(*self.stands[output]) < NEAR_MM:  # in one line: each half way into the wall
            rods[output] = replace(rods[output], first=middle + 1)
        edges, lefts = self.spaced()
        stack = Stack(tuple(names), kinds, walls, rods, tuple(self.discs), edges, lefts)
        for shaft, (stage, pair, slab) in self.idlers.items():
            beside = (n for n in (slab - 1, slab + 1) if kinds[n] in ("sleeve", "wall"))
            post = [slab, *beside]
            module = self.kit.module_mm
            options = crossings(
                self.stands[stage.driving],
                (pair.driver + pair.idlers[0]) * module / 2,
                self.stands[stage.driven],
                (pair.idlers[0] + pair.driven) * module / 2,
            )
            tried = [
                replace(
                    stack,
                    rods={
                        **stack.rods,
                        shaft: Rod(shaft, x, y, min(post), max(post), (min(post), max(post))),
                    },
                )
                for x, y in options
            ]
            if tried:
                hits = [self._touching(one, shaft) for one in tried]
                stack = tried[hits.index(min(hits))]
        known = set(stack.rods)
        return replace(stack, discs=tuple(d for d in stack.discs if d.shaft in known))

    def _touching(self, stack: Stack, name: str) -> int:
        """Count what an idler's gear and shaft run into."""
        rod, own = stack.rods[name], next(d for d in stack.discs if d.shaft == name)
        radius, hits = self.kit.shaft_diameter_mm / 2, 0
        for other in stack.rods.values():
            if other.name != name and other.first <= own.slab <= other.last:
                hits += stack.apart_mm(name, other.name) < own.radius_mm + radius
        for disc in stack.discs:
            if disc.shaft != name and disc.shaft in stack.rods:
                near = stack.apart_mm(name, disc.shaft)
                hits += rod.first <= disc.slab <= rod.last and near < disc.radius_mm + radius
        return hits
