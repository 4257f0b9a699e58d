"""Walls of a brick box: rows of beams with holes on the grid, tied to one another.

Lengths and places in grid units.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import combinations_with_replacement, pairwise, permutations
from math import ceil, floor, hypot

from mild_badger.core.kit.part_sizes import spacer_radius_mm
from mild_badger.core.structure.drum_place import PlacedDrum, drum_place
from mild_badger.core.structure.forks import Fork
from mild_badger.core.structure.shaft_lengths import standing_out
from mild_badger.core.structure.stack import Stack
from mild_badger.core.vehicle.cache_key import Same, ThisVehicle
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.model import Vehicle

__all__ = [
    "Beam",
    "Wall",
    "fitting_beam",
    "long_ties",
    "placed_drums",
    "tie_places",
    "top_of",
    "walls_of",
]

MOST_JOINED, MOST_TRIED = 4, 300
LEAST_SPLICE_U = 4
"""Two holes either side of a seam (common practice, no source)."""
FARTHEST_U = 14
"""How far from the wall's own shafts a column for an upright is looked for, in units."""
CLEAR_MM = 0.1
Round = tuple[float, float, float, bool]
"""A round thing on a face: place and radius in mm; whether a beam's hole would let it through."""


@dataclass(frozen=True)
class Beam:
    """A row of holes in a wall: from hole to hole, and the beam to take, None if none reaches.

    ``upright`` ones tie the rows of a wall to one another at its ends: they lie on its ``face``,
    before the rows (−1) or behind them (1); 0 where neither has room. A row on a face is a splice:
    it joins two beams of a row that none of the kit's reaches over.
    """

    along_u: float
    start_u: float
    end_u: float
    length_u: int | None
    upright: bool = False
    face: int = 0

    def outline_mm(self, unit_mm: float) -> tuple[tuple[float, float], ...]:
        """Outline it as seen from the end, half a unit round its first and last holes."""
        a, b = (self.start_u - 0.5) * unit_mm, (self.end_u + 0.5) * unit_mm
        c, d = (self.along_u - 0.5) * unit_mm, (self.along_u + 0.5) * unit_mm
        if self.upright:
            a, b, c, d = c, d, a, b
        return (a, c), (b, c), (b, d), (a, d)

    @property
    def splices(self) -> bool:
        """Whether it joins two beams of a row."""
        return not self.upright and self.face != 0

    @property
    def overhang_u(self) -> float:
        """How many holes stand over beyond what is needed."""
        return 0.0 if self.length_u is None else self.length_u - (self.end_u - self.start_u + 1)


@dataclass(frozen=True)
class Wall:
    """A wall as beams; ``between`` names shafts whose holes are not on the grid's points."""

    name: str
    beams: tuple[Beam, ...]
    between: tuple[str, ...]

    @property
    def loose(self) -> bool:
        """Whether a row has a seam without a splice, or no beams of the kit make one."""
        rows = [beam for beam in self.beams if not beam.upright]
        seams = len([b for b in rows if not b.face]) - len({b.along_u for b in rows})
        unmade = any(beam.length_u is None for beam in self.beams)
        return unmade or seams > len([b for b in rows if b.face])


def fitting_beam(kit: Kit, needed: float) -> int | None:
    """Give the shortest beam that reaches over so many units; None where none does."""
    return next((n for n in sorted(kit.beam_lengths_u) if n >= needed - 1e-9), None)


def walls_of(vehicle: Vehicle, stack: Stack, forks: tuple[Fork, ...] = ()) -> tuple[Wall, ...]:
    """Build every wall of beams with holes on the grid: a row for each height, tied at its ends.

    All rows of a wall reach over its whole width, so that the two uprights hold each of them: on a
    face of the wall, at the nearest column where nothing else stands. A row longer than the kit's
    longest beam is joined of several, with a splice over each seam.
    """
    return _walls(ThisVehicle(vehicle), Same(stack), Same(forks))


@lru_cache(maxsize=4)
def _walls(
    this: ThisVehicle, same: Same[Stack], same_forks: Same[tuple[Fork, ...]]
) -> tuple[Wall, ...]:
    vehicle, stack, forks = this.vehicle, same.it, same_forks.it
    drums = placed_drums(vehicle, stack, forks)
    holes = {wall: _holes(vehicle, stack, forks, drums, wall=wall) for wall in stack.walls}
    frame = _frame_of(vehicle, stack, forks)
    walls = []
    beside: dict[int, list[Beam]] = {}
    for wall in stack.walls:
        places = holes[wall]
        between = tuple(
            name for name, place in places.items() if any(abs(c - round(c)) > 1e-6 for c in place)
        )
        rows = sorted({round(y) for _, y in places.values()})
        across = [x for x, _ in places.values()]
        left, right = floor(min(across, default=0)), ceil(max(across, default=0))
        uprights: list[Beam] = []
        room = _Faces(vehicle, stack, forks, drums, wall=wall, beside=beside)
        if frame is not None:
            left, right = frame.left_u, frame.right_u
            uprights = [frame.upright(vehicle.kit, x, frame.faces[wall, x]) for x in (left, right)]
        elif len(rows) > 1:
            (left, face), (right, other) = (
                room.stand(start, step, rows) for start, step in ((left, -1), (right, 1))
            )
            low, high = rows[0], rows[-1]
            taken = fitting_beam(vehicle.kit, high - low + 1)
            uprights = [
                Beam(x, low, high, taken, upright=True, face=at)
                for x, at in ((left, face), (right, other))
            ]
        laid = (_row(vehicle.kit, y, (left, right), room, uprights) for y in rows)
        beams = [beam for row in laid for beam in row]
        beams += uprights
        walls.append(Wall(stack.slabs[wall], tuple(beams), between))
        for beam in beams:  # a layer of one unit takes one wall's beams only at a place
            if beam.face:
                beside.setdefault(wall + beam.face, []).append(beam)
    return tuple(walls)


@dataclass(frozen=True)
class _Frame:
    """Where the uprights of all walls stand alike, so that ties along the box touch every wall.

    ``faces`` holds for each wall and column the face on which its upright lies.
    """

    left_u: int
    right_u: int
    low_u: int
    high_u: int
    faces: Mapping[tuple[int, int], int]

    def upright(self, kit: Kit, column: int, face: int) -> Beam:
        taken = fitting_beam(kit, self.high_u - self.low_u + 1)
        return Beam(column, self.low_u, self.high_u, taken, upright=True, face=face)


def _holes(
    vehicle: Vehicle,
    stack: Stack,
    forks: tuple[Fork, ...],
    drums: tuple[PlacedDrum, ...],
    *,
    wall: int,
) -> dict[str, tuple[float, float]]:
    """Give where a wall holds shafts and rails, in units, by what they are."""
    unit = vehicle.kit.grid_unit_mm
    rods = [*stack.rods.values(), *(fork.rail for fork in forks)]
    places = {r.name: (r.x_mm / unit, r.y_mm / unit) for r in rods if wall in r.walls}
    for drum in drums if wall in (stack.walls[0], stack.walls[-1]) else ():
        places[f"drum shaft {drum.number + 1}"] = (drum.x_mm / unit, drum.y_mm / unit)
    return places


def _frame_of(vehicle: Vehicle, stack: Stack, forks: tuple[Fork, ...]) -> _Frame | None:
    """Find columns at which every wall has a face free for an upright, ties beside them clear.

    None where there are none within reach, or no second row to be tied.
    """
    return _frame(ThisVehicle(vehicle), Same(stack), Same(forks))


@lru_cache(maxsize=4)
def _frame(
    this: ThisVehicle, same: Same[Stack], same_forks: Same[tuple[Fork, ...]]
) -> _Frame | None:
    vehicle, stack, forks = this.vehicle, same.it, same_forks.it
    drums = placed_drums(vehicle, stack, forks)
    places = [
        place
        for wall in stack.walls
        for place in _holes(vehicle, stack, forks, drums, wall=wall).values()
    ]
    rows = sorted({round(y) for _, y in places})
    if len(rows) < 2 or len(stack.walls) < 2:
        return None
    starts = floor(min(x for x, _ in places)), ceil(max(x for x, _ in places))
    faces: dict[tuple[int, int], int] = {}
    columns = []
    for start, step in zip(starts, (-1, 1), strict=True):
        for n in range(FARTHEST_U):
            column = start + step * n
            standing = _standing(vehicle, stack, forks, drums, (column, rows))
            ties = [(column + step, row) for row in (rows[0], rows[-1])]
            if standing is not None and _ties_clear(vehicle, stack, forks, drums, ties):
                faces |= {(wall, column): face for wall, face in standing.items()}
                columns.append(column)
                break
        else:
            return None
    return _Frame(columns[0], columns[1], rows[0], rows[-1], faces)


def _standing(
    vehicle: Vehicle,
    stack: Stack,
    forks: tuple[Fork, ...],
    drums: tuple[PlacedDrum, ...],
    place: tuple[int, list[int]],
) -> dict[int, int] | None:
    """Choose for every wall the face of its upright in a column; None where one has none free."""
    column, rows = place
    beside: dict[int, list[Beam]] = {}
    chosen: dict[int, int] = {}
    for wall in stack.walls:
        room = _Faces(vehicle, stack, forks, drums, wall=wall, beside=beside)
        outside = {stack.walls[0]: -1, stack.walls[-1]: 1}.get(wall)  # ties end at the outer walls
        face = room.face_at(column, rows, outside)
        if face is None:
            return None
        chosen[wall] = face
        beam = Beam(column, rows[0], rows[-1], None, upright=True, face=face)
        beside.setdefault(wall + face, []).append(beam)
    return chosen


def _ties_clear(
    vehicle: Vehicle,
    stack: Stack,
    forks: tuple[Fork, ...],
    drums: tuple[PlacedDrum, ...],
    ties: Sequence[tuple[int, int]],
) -> bool:
    """Whether beams along the whole box are clear of all that turns or slides in it."""
    unit = vehicle.kit.grid_unit_mm
    rods = [*stack.rods.values(), *(fork.rail for fork in forks)]
    tube = spacer_radius_mm(vehicle)
    rounds = [(rod.x_mm, rod.y_mm, tube) for rod in rods]
    rounds += [
        (stack.rods[d.shaft].x_mm, stack.rods[d.shaft].y_mm, d.radius_mm) for d in stack.discs
    ]
    rounds += [(x, y, 0.0) for fork in forks for x, y in fork.outline]
    rounds += [(drum.x_mm, drum.y_mm, drum.radius_mm) for drum in drums]
    for column, row in ties:
        for x, y, radius in rounds:
            aside = max(abs(x - column * unit) - unit / 2, 0.0)
            above = max(abs(y - row * unit) - unit / 2, 0.0)
            if hypot(aside, above) < radius + CLEAR_MM:
                return False
    return True


def tie_places(
    vehicle: Vehicle, stack: Stack, forks: tuple[Fork, ...]
) -> tuple[tuple[float, float], ...]:
    """Give where the beams that tie the walls lie along the box, in mm: beside all uprights.

    None where the walls have no columns in common.
    """
    frame = _frame_of(vehicle, stack, forks)
    if frame is None:
        return ()
    unit = vehicle.kit.grid_unit_mm
    return tuple(
        (column * unit, row * unit)
        for column in (frame.left_u - 1, frame.right_u + 1)
        for row in (frame.low_u, frame.high_u)
    )


def _row(
    kit: Kit, y: int, ends: tuple[int, int], room: "_Faces", uprights: Sequence[Beam]
) -> tuple[Beam, ...]:
    """Lay one row, joined where no beam reaches; as many seams as have room get a splice."""
    left, right = ends
    long = right - left + 1
    taken, splice = fitting_beam(kit, long), fitting_beam(kit, LEAST_SPLICE_U)
    if taken is not None or splice is None:
        return (Beam(y, left, right, taken),)
    best: tuple[int, tuple[Beam, ...]] | None = None
    for lengths in _joinings(kit, long):
        pieces, splices, start = [], [], left
        for length in lengths:
            pieces.append(Beam(y, start, min(start + length - 1, right), length))
            start += length
        for piece in pieces[:-1]:
            begin = min(max(piece.end_u - splice // 2, left), right - splice + 1)
            face = room.lay(y, begin, splice, uprights)
            if face is not None:
                splices.append(Beam(y, begin, begin + splice - 1, splice, face=face))
        loose = len(pieces) - 1 - len(splices)
        if best is None or loose < best[0]:
            best = (loose, (*pieces, *splices))
        if not loose:
            break
    return (Beam(y, left, right, None),) if best is None else best[1]


@lru_cache(maxsize=256)
def _joinings(kit: Kit, long: int) -> tuple[tuple[int, ...], ...]:
    """List beams that reach so far end to end, in every order, the fewest and shortest first."""
    rows = {
        order
        for count in range(2, MOST_JOINED + 1)
        for row in combinations_with_replacement(sorted(kit.beam_lengths_u), count)
        if long <= sum(row) < long + row[0]
        for order in permutations(row)
        if min(order[0], order[-1]) >= LEAST_SPLICE_U // 2
    }
    return tuple(sorted(rows, key=lambda row: (len(row), sum(row), row))[:MOST_TRIED])


class _Faces:
    """What stands on the two faces of a wall: an upright goes where nothing does."""

    def __init__(
        self,
        vehicle: Vehicle,
        stack: Stack,
        forks: tuple[Fork, ...],
        drums: tuple[PlacedDrum, ...],
        *,
        wall: int,
        beside: Mapping[int, Sequence[Beam]],
    ) -> None:
        self.vehicle, self.unit, self.wall = vehicle, vehicle.kit.grid_unit_mm, wall
        self.beside = beside
        self.laid: dict[tuple[int, float], int | None] = {}
        self.thick = [b - a for a, b in pairwise(stack.edges_mm)]
        outwards = -1 if wall == stack.walls[0] else 1
        self.faces: dict[int, list[Round]] = {}
        for face in (outwards, -outwards):
            if face == outwards and wall in (stack.walls[0], stack.walls[-1]):
                self.faces[face] = list(self._outside(stack, drums, face))
            elif (inside := self._inside(stack, forks, drums, wall + face)) is not None:
                self.faces[face] = inside

    def stand(self, start: int, step: int, rows: list[int]) -> tuple[int, int]:
        """Give the nearest column outwards with a face that is free, and the face."""
        for n in range(FARTHEST_U):
            column = start + step * n
            face = self.face_at(column, rows)
            if face is not None:
                return column, face
        return start, 0

    def face_at(self, column: int, rows: list[int], barred: int | None = None) -> int | None:
        """Give a face on which an upright of so many rows has room in a column; None for none."""
        for face, rounds in self.faces.items():
            if face == barred:
                continue
            tried = Beam(column, rows[0], rows[-1], None, upright=True)
            if self._free(face, tried) and all(self._clear(column, rows, o) for o in rounds):
                return face
        return None

    def lay(self, y: int, first: float, long: int, uprights: Sequence[Beam]) -> int | None:
        """Give a face on which a splice has room over a row; None for neither."""
        place = (y, first)  # rows are cut in many ways that have their seams in common
        if place not in self.laid:
            self.laid[place] = self._face_for(y, first, long, uprights)
        return self.laid[place]

    def _face_for(self, y: int, first: float, long: int, uprights: Sequence[Beam]) -> int | None:
        last = first + long - 1
        for face, rounds in self.faces.items():
            crossed = any(
                beam.face == face and first - 1 < beam.along_u < last + 1 for beam in uprights
            )
            free = not crossed and self._free(face, Beam(y, first, last, long))
            if free and all(self._passes(y, (first, last), one) for one in rounds):
                return face
        return None

    def _free(self, face: int, tried: Beam) -> bool:
        """Whether the beams of the wall on the other side of a thin layer leave it room."""
        slab = self.wall + face
        if not 0 <= slab < len(self.thick) or self.thick[slab] > 2 * self.unit - CLEAR_MM:
            return True
        (a, b), _, (c, d), _ = tried.outline_mm(self.unit)
        return all(
            c <= left or right <= a or d <= low or high <= b
            for (left, low), _, (right, high), _ in (
                beam.outline_mm(self.unit) for beam in self.beside.get(slab, ())
            )
        )

    def _passes(self, y: int, ends: tuple[float, float], one: Round) -> bool:
        """Whether a round thing is clear of a row's splice, or goes through one of its holes."""
        x, up, radius, through = one
        column = round(x / self.unit)
        in_hole = abs(up - y * self.unit) < CLEAR_MM and abs(x - column * self.unit) < CLEAR_MM
        if through and in_hole and ends[0] <= column <= ends[1]:
            return True
        half = self.unit / 2
        aside = max(x - ends[1] * self.unit - half, ends[0] * self.unit - half - x, 0.0)
        above = max(abs(up - y * self.unit) - half, 0.0)
        return hypot(aside, above) >= radius + CLEAR_MM

    def _clear(self, column: int, rows: list[int], one: Round) -> bool:
        x, y, radius, through = one
        if through and abs(x - column * self.unit) < CLEAR_MM:
            return True
        half, clear = self.unit / 2, radius + CLEAR_MM
        beside = max(abs(x - column * self.unit) - half, 0.0)
        above = max(y - rows[-1] * self.unit - half, rows[0] * self.unit - half - y, 0.0)
        return beside**2 + above**2 >= clear**2

    def _outside(self, stack: Stack, drums: tuple[PlacedDrum, ...], face: int) -> Iterator[Round]:
        """List what stands out of the box: stubs with room for a coupling, shafts, the star."""
        stubs = standing_out(self.vehicle, stack)[0 if face < 0 else 1]
        for rod in stack.rods.values():
            if (rod.first == stack.walls[0]) if face < 0 else (rod.last == stack.walls[-1]):
                radius = self.vehicle.kit.shaft_diameter_mm / 2
                on_grid = abs(rod.y_mm / self.unit - round(rod.y_mm / self.unit)) < 1e-6
                if rod.name in stubs:
                    yield rod.x_mm, rod.y_mm, radius + self.unit, False
                else:
                    yield rod.x_mm, rod.y_mm, radius, on_grid
        for drum in drums if face < 0 else ():
            yield drum.x_mm, drum.y_mm, drum.detent_reach_mm, False

    def _inside(
        self, stack: Stack, forks: tuple[Fork, ...], drums: tuple[PlacedDrum, ...], slab: int
    ) -> list[Round] | None:
        """List what stands in the slab beside a wall; None for one that takes no beam."""
        thick = stack.edges_mm[slab + 1] - stack.edges_mm[slab]
        if slab in stack.walls or thick < self.unit - CLEAR_MM:
            return None
        bush = spacer_radius_mm(self.vehicle)
        rods = [*stack.rods.values(), *(fork.rail for fork in forks)]
        rounds = [(r.x_mm, r.y_mm, bush, False) for r in rods if r.first <= slab <= r.last]
        for disc in stack.discs:
            if disc.slab == slab:
                rod = stack.rods[disc.shaft]
                rounds.append((rod.x_mm, rod.y_mm, disc.radius_mm, False))
        for fork in forks:
            if fork.slab == slab:
                rounds += [(x, y, 0.0, False) for x, y in fork.outline]
        start, end = stack.edges_mm[slab], stack.edges_mm[slab + 1]
        for drum in drums:
            if drum.from_mm < end and start < drum.to_mm:
                rounds.append((drum.x_mm, drum.y_mm, drum.radius_mm, False))
        return rounds


def top_of(vehicle: Vehicle, stack: Stack, forks: tuple[Fork, ...]) -> float:
    """Give the height under which gears, forks and beams of a brick box stay, in mm."""
    unit = vehicle.kit.grid_unit_mm
    rods = (*stack.rods.values(), *(fork.rail for fork in forks))
    beams = max((rod.y_mm + unit / 2 for rod in rods), default=0.0)
    gears = max((stack.rods[d.shaft].y_mm + d.radius_mm for d in stack.discs), default=0.0)
    return max(beams, gears)


def placed_drums(vehicle: Vehicle, stack: Stack, forks: tuple[Fork, ...]) -> tuple[PlacedDrum, ...]:
    """Give the drums over a brick box; none where something else moves the sleeves."""
    place = drum_place(vehicle, stack, forks, top_of(vehicle, stack, forks))
    return () if place is None else place.drums


def long_ties(vehicle: Vehicle, stack: Stack) -> tuple[int | None, ...]:
    """Give the beams that tie the walls to one another along the box, one at each of four corners.

    Of several, each with a splice over its seams, where none is long enough; None for each that
    cannot be had.
    """
    if len(stack.walls) < 2:
        return ()
    long = ceil(stack.length_mm / vehicle.kit.grid_unit_mm - 1e-9)
    taken, splice = fitting_beam(vehicle.kit, long), fitting_beam(vehicle.kit, LEAST_SPLICE_U)
    if taken is not None:
        return (taken,) * 4
    joined = _joinings(vehicle.kit, long)
    if not joined or splice is None:
        return (None,) * 4
    return (*joined[0], *(splice for _ in joined[0][1:])) * 4
