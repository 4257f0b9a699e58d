"""One train between two points, or from a point to anywhere: every way, ranked.

Idlers are put in where it takes them. On a grid in units, in wood and print in mm.
"""

from dataclasses import dataclass
from fractions import Fraction
from itertools import pairwise, product
from math import hypot

from mild_badger.core.errors import InputError
from mild_badger.core.figures import in_mm
from mild_badger.core.layout.free_routes import STEP_MM, free_ways_between
from mild_badger.core.layout.routes import Bounds, Half, TrainRoute, ways_between
from mild_badger.core.mesh.seats import seat_at
from mild_badger.core.message import say, say_count
from mild_badger.core.ratios.propose import wanted_parity
from mild_badger.core.ratios.train import train_text
from mild_badger.core.structure.train import PlacedGear, PlacedMesh, Placement
from mild_badger.core.vehicle.box import GearPair, Slot, Train
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.edit.slots import set_train
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["WayShown", "apply_way", "ways_anywhere", "ways_to"]

ROOM_U, ROOM_MM = 6, 300.0
"""How far beyond both ends shafts may stand, on a grid and in wood or print."""
ANYWHERE_U = 5
"""How far from the input's shaft an output is looked for anywhere."""
MOST_SHOWN = 60
MOST_A_PLACE = 4


@dataclass(frozen=True)
class WayShown:
    """A way as it is drawn and listed.

    ``gears`` are (teeth, number of the shaft, layer); ``output`` is where the last shaft stands
    from the first, in units of the grid, in mm without one.
    """

    train: Train
    gears: tuple[tuple[int, int, int], ...]
    error_mm: float
    cost: float
    output: tuple[float, float]
    placement: Placement

    @property
    def layers(self) -> int:
        """How many layers it takes."""
        return max(layer for _, _, layer in self.gears)

    def turns(self, start: Fraction) -> tuple[Fraction, ...]:
        """Give every gear's turns, the first one turning ``start`` times."""
        turns = [start]
        for (before, shaft, _), (teeth, other, _) in pairwise(self.gears):
            same = shaft == other
            turns.append(turns[-1] if same else -turns[-1] * Fraction(before, teeth))
        return tuple(turns)

    @property
    def summary(self) -> str:
        """Say what it is made of."""
        x, y = self.output
        return say(
            "layout.to-seat-errors",
            train=train_text(self.train),
            x=x,
            y=y,
            layers=self.layers,
            layer=say_count("noun.layer", self.layers),
            error_mm=in_mm(self.error_mm, 2),
        )


def ways_to(vehicle: Vehicle, gear: str, x: float, y: float) -> tuple[WayShown, ...]:
    """Lay a gear's pairs from the input's shaft at (0, 0) to an output's at a place, best first.

    The direction is kept right by the number of meshes; shafts pass as in a slot box. The place is
    in units on a grid, in mm without one.

    Raises
    ------
    InputError
        The gear has no train of its own, or the place is not on the grid, or the input's own.
    """
    train = _own_train(vehicle, gear)
    if not hypot(x, y):
        raise InputError(say("layout.the-outputs-shaft-cannot-stand-where-the"))
    if vehicle.kit.any_seat:
        return _made(vehicle, gear, train, (x, y))
    half = vehicle.placing.half_units
    step = 1 if half else 2
    end = (round(2 * x), round(2 * y))
    if abs(2 * x - end[0]) + abs(2 * y - end[1]) > 1e-6 or any(c % step for c in end):
        grid = say("layout.half-units") if half else say("layout.whole-units")
        raise InputError(say("layout.u-is-not-on-the-grid-use", x=x, y=y, grid=grid))
    return tuple(_shown(vehicle.kit, way, 2.0) for way in _ways(vehicle, gear, train, end))


def ways_anywhere(vehicle: Vehicle, gear: str) -> tuple[WayShown, ...]:
    """Lay a gear's pairs from the input's shaft to wherever they lead, best first.

    Outputs are looked for above and to the right; what lies elsewhere is the same turned over.

    Raises
    ------
    InputError
        The gear has no train of its own, or the kit no grid: there it leads to any place.
    """
    train = _own_train(vehicle, gear)
    if vehicle.kit.any_seat:
        raise InputError(say("layout.in-wood-and-print-a-train-leads-to-any-place"))
    routes: list[TrainRoute] = []
    for x, y in product(range(ANYWHERE_U + 1), range(ANYWHERE_U + 1)):
        if x <= y and y:
            routes += _ways(vehicle, gear, train, (2 * x, 2 * y))[:MOST_A_PLACE]
    routes.sort(key=lambda way: way.cost)
    return tuple(_shown(vehicle.kit, way, 2.0) for way in routes[:MOST_SHOWN])


def apply_way(vehicle: Vehicle, gear: str, shown: WayShown) -> Edit:
    """Give a gear the train of a way, idlers and all."""
    return set_train(vehicle, gear, shown.train)


def _own_train(vehicle: Vehicle, gear: str) -> Train:
    slot = vehicle.box.slot(gear)
    if not isinstance(slot, Slot) or not slot.train:
        raise InputError(
            say("layout.gear-has-no-train-of-its-own-to-lay", gear_name=vehicle.gear_name(gear))
        )
    return slot.train


def _ways(vehicle: Vehicle, gear: str, train: Train, end: Half) -> tuple[TrainRoute, ...]:
    room = 2 * ROOM_U
    bounds = Bounds(
        min(0, end[0]) - room, max(0, end[0]) + room, min(0, end[1]) - room, max(0, end[1]) + room
    )
    return ways_between(
        vehicle.kit,
        tuple((p.driver, p.driven) for p in train),
        end,
        parity=wanted_parity(vehicle, gear),
        layers=vehicle.placing.layers,
        step=1 if vehicle.placing.half_units else 2,
        bounds=bounds,
        inputs=((0, 0),),
        selectors=(end,),
    )


def _shown(
    kit: Kit, way: TrainRoute, steps_a_unit: float, output: tuple[float, float] | None = None
) -> WayShown:
    points = tuple((x / steps_a_unit, y / steps_a_unit) for x, y in way.points)
    placement = _placement(kit, way.train, points, way.gears)
    end = points[-1] if output is None else output
    return WayShown(way.train, way.gears, way.error_mm, way.cost, end, placement)


def _made(
    vehicle: Vehicle, gear: str, train: Train, end: tuple[float, float]
) -> tuple[WayShown, ...]:
    goal = (round(end[0] / STEP_MM), round(end[1] / STEP_MM))
    room = max(abs(goal[0]), abs(goal[1]), round(ROOM_MM / STEP_MM))
    ways = free_ways_between(
        vehicle.kit,
        tuple((p.driver, p.driven) for p in train),
        goal,
        parity=wanted_parity(vehicle, gear),
        layers=len(train),
        bounds=Bounds(
            min(0, goal[0]) - room,
            max(0, goal[0]) + room,
            min(0, goal[1]) - room,
            max(0, goal[1]) + room,
        ),
    )
    steps = vehicle.kit.grid_unit_mm / STEP_MM
    return tuple(_shown(vehicle.kit, way, steps, end) for way in ways)


def _placement(
    kit: Kit,
    train: tuple[GearPair, ...],
    points: tuple[tuple[float, float], ...],
    row: tuple[tuple[int, int, int], ...],
) -> Placement:
    """Draw a way: its lower left shafts at the origin, layers counted from the input."""
    left, low = min(x for x, _ in points), min(y for _, y in points)
    most = max(layer for _, _, layer in row)
    roles = [
        (role, number)
        for number, pair in enumerate(train)
        for role in ("driver", *("idler" for _ in pair.idlers), "driven")
    ]
    gears = [
        PlacedGear(teeth, shaft, most - layer, role, number)
        for (teeth, shaft, layer), (role, number) in zip(row, roles, strict=True)
    ]
    meshes = []
    for first, (one, other) in enumerate(pairwise(gears)):
        sizes = kit.size(one.teeth), kit.size(other.teeth)
        if one.pair != other.pair or sizes[0] is None or sizes[1] is None:
            continue
        (x, y), (v, w) = points[one.shaft], points[other.shaft]
        offset = sorted((abs(x - v), abs(y - w)), reverse=True)
        seat = seat_at(kit, sizes[0], sizes[1], (offset[0], offset[1]))
        meshes.append(PlacedMesh(first, first + 1, seat))
    shafts = tuple((x - left, y - low) for x, y in points)
    return Placement(shafts, tuple(gears), tuple(meshes))
