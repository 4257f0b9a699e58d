"""Simple placement: the shafts of one train on whole units of the grid.

Each mesh of the train takes one of the offsets at which its two sizes run (core.mesh.seats);
a depth-first search over the offsets keeps shafts and gears of one layer clear of one another and
looks for the snuggest, then the most compact arrangement.
"""

from dataclasses import dataclass
from functools import lru_cache
from math import hypot

from mild_badger.core.mesh.seats import Seat, seats
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.model import GearPair

__all__ = ["PlacedGear", "PlacedMesh", "Placement", "place_train"]

RUNNING_CLEARANCE_MM = 0.2
MOST_STEPS = 60_000
"""Offsets tried before the best arrangement so far is taken."""


@dataclass(frozen=True)
class PlacedGear:
    """A gear on its shaft; layers count from the input side."""

    teeth: int
    shaft: int
    layer: int
    role: str
    pair: int


@dataclass(frozen=True)
class PlacedMesh:
    """Two gears in mesh, by their place in ``Placement.gears``, and how they sit."""

    first: int
    second: int
    seat: Seat


@dataclass(frozen=True)
class Placement:
    """Shafts in grid units (x right, y up, seen from the input end), gears and meshes.

    ``through`` tells whether the input's and the output's shafts can pass every layer of the
    train; where not, they must end at their own gears. ``problem`` says in a sentence why no
    arrangement was found; the rest is then empty.
    """

    shafts_u: tuple[tuple[int, int], ...]
    gears: tuple[PlacedGear, ...]
    meshes: tuple[PlacedMesh, ...]
    problem: str = ""
    through: bool = True

    @property
    def width_u(self) -> int:
        """Extent across, between shaft centres."""
        return max((x for x, _ in self.shafts_u), default=0)

    @property
    def height_u(self) -> int:
        """Extent up, between shaft centres."""
        return max((y for _, y in self.shafts_u), default=0)


def place_train(kit: Kit, train: tuple[GearPair, ...]) -> Placement:
    """Place one train; its first shaft is the input's, its last the output's.

    Arrangements in which the shafts of input and output pass every layer come first; the other
    shafts reach only as far as their gears.
    """
    sizes = sorted({z for p in train for z in (p.driver, p.driven, *p.idlers)})
    shapes = tuple((z, gear.tip_diameter_mm) for z in sizes if (gear := kit.size(z)))
    if len(shapes) < len(sizes):
        missing = [str(z) for z in sizes if kit.size(z) is None]
        return Placement((), (), (), f"The kit has no gear of {', '.join(missing)} teeth.")
    gears, links = _chain(train)
    options = tuple(seats(kit, gears[a].teeth, gears[b].teeth) for a, b in links)
    for (a, b), found in zip(links, options, strict=True):
        if not found:
            return Placement(
                (), (), (),
                f"{gears[a].teeth} with {gears[b].teeth} never seats on whole units; "
                "an idler can join them.",
            )  # fmt: skip
    shape = (shapes, kit.grid_unit_mm, kit.shaft_diameter_mm)
    for through in (True, False):
        placed = _search(gears, links, options, shape, through)
        if placed is not None:
            return placed
    return Placement(
        (), (), (),
        "No arrangement on whole units keeps this train's gears clear of one another; "
        "another train of the same ratio, or an idler, may.",
    )  # fmt: skip


def _chain(
    train: tuple[GearPair, ...],
) -> tuple[tuple[PlacedGear, ...], tuple[tuple[int, int], ...]]:
    gears: list[PlacedGear] = []
    links: list[tuple[int, int]] = []
    shaft = 0
    for layer, pair in enumerate(train):
        gears.append(PlacedGear(pair.driver, shaft, layer, "driver", layer))
        for teeth, role in [*((z, "idler") for z in pair.idlers), (pair.driven, "driven")]:
            shaft += 1
            gears.append(PlacedGear(teeth, shaft, layer, role, layer))
            links.append((len(gears) - 2, len(gears) - 1))
    return tuple(gears), tuple(links)


@lru_cache(maxsize=512)
def _search(
    gears: tuple[PlacedGear, ...],
    links: tuple[tuple[int, int], ...],
    options: tuple[tuple[Seat, ...], ...],
    shape: tuple[tuple[tuple[int, float], ...], float, float],
    through: bool,
) -> Placement | None:
    shapes, unit_mm, shaft_mm = shape
    tip = dict(shapes)
    on_shaft: dict[int, list[PlacedGear]] = {}
    for gear in gears:
        on_shaft.setdefault(gear.shaft, []).append(gear)
    count = len(on_shaft)
    layers = {
        shaft: set(range(gears[-1].layer + 1))
        if through and shaft in (0, count - 1)
        else {gear.layer for gear in own}
        for shaft, own in on_shaft.items()
    }
    best: tuple[tuple[float, ...], tuple[tuple[int, int], ...], tuple[Seat, ...]] | None = None
    steps = 0

    def clear(positions: list[tuple[int, int]], x: int, y: int) -> bool:
        new = len(positions)
        for old, (ox, oy) in enumerate(positions):
            distance = hypot(x - ox, y - oy) * unit_mm
            if distance == 0:
                return False
            pairs = ((on_shaft[new], old), (on_shaft[old], new))
            for own, other in pairs:
                for gear in own:
                    if gear.layer in layers[other] and (
                        distance < tip[gear.teeth] / 2 + shaft_mm / 2 + RUNNING_CLEARANCE_MM
                    ):
                        return False
            if old == new - 1:
                continue  # neighbours in the chain mesh
            for one in on_shaft[new]:
                for two in on_shaft[old]:
                    reach = (tip[one.teeth] + tip[two.teeth]) / 2 + RUNNING_CLEARANCE_MM
                    if one.layer == two.layer and distance < reach:
                        return False
        return True

    def extend(positions: list[tuple[int, int]], taken: list[Seat], error: float) -> None:
        nonlocal best, steps
        if best is not None and error > best[0][0]:
            return
        if len(positions) == count:
            xs, ys = [p[0] for p in positions], [p[1] for p in positions]
            wide, high = max(xs) - min(xs), max(ys) - min(ys)
            key = (error, float((wide + 1) * (high + 1)), float(wide + high), float(high))
            if best is None or key < best[0]:
                shifted = tuple((x - min(xs), y - min(ys)) for x, y in positions)
                best = (key, shifted, tuple(taken))
            return
        px, py = positions[-1]
        for seat in options[len(positions) - 1]:
            loss = round(error + abs(seat.engagement.seat_error_mm), 9)
            for dx, dy in _turned(seat.dx_u, seat.dy_u):
                if len(positions) == 1 and (dx < 0 or dy < 0):
                    continue  # mirror images
                steps += 1
                if steps > MOST_STEPS:
                    return
                if clear(positions, px + dx, py + dy):
                    extend([*positions, (px + dx, py + dy)], [*taken, seat], loss)

    extend([(0, 0)], [], 0.0)
    if best is None:
        return None
    meshes = tuple(PlacedMesh(a, b, seat) for (a, b), seat in zip(links, best[2], strict=True))
    return Placement(best[1], gears, meshes, through=through)


def _turned(dx: int, dy: int) -> tuple[tuple[int, int], ...]:
    """Every way to lay an offset on the grid."""
    ways = {(a * s, b * t) for a, b in ((dx, dy), (dy, dx)) for s in (1, -1) for t in (1, -1)}
    return tuple(sorted(ways, reverse=True))
