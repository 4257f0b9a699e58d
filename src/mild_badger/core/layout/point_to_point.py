"""One train between two points of the grid: every way, ranked, idlers put in as it takes them."""

from dataclasses import dataclass
from fractions import Fraction
from itertools import pairwise

from mild_badger.core.changes import Edit
from mild_badger.core.errors import InputError
from mild_badger.core.layout.train import PlacedGear, PlacedMesh, Placement
from mild_badger.core.layout.ways import Bounds, Way, ways_between
from mild_badger.core.mesh.seats import seat_at
from mild_badger.core.ratios.propose import wanted_parity
from mild_badger.core.ratios.train import train_text
from mild_badger.core.vehicle.box import Slot
from mild_badger.core.vehicle.edits import set_train
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["WayShown", "take_way", "ways_to"]

ROOM_U = 6


@dataclass(frozen=True)
class WayShown:
    """A way as it is drawn and listed."""

    way: Way
    placement: Placement

    def turns(self, start: Fraction) -> tuple[Fraction, ...]:
        """Give every gear's turns, the first one turning ``start`` times."""
        found = [start]
        for (before, shaft, _), (teeth, other, _) in pairwise(self.way.gears):
            same = shaft == other
            found.append(found[-1] if same else -found[-1] * Fraction(before, teeth))
        return tuple(found)

    @property
    def words(self) -> str:
        """Say what it is made of."""
        layers = max(layer for _, _, layer in self.way.gears)
        return (
            f"{train_text(self.way.train)}, {layers} layer{'s' * (layers != 1)}, seat errors "
            f"{self.way.error_mm:.2f} mm"
        )


def ways_to(vehicle: Vehicle, gear: str, x_u: float, y_u: float) -> tuple[WayShown, ...]:
    """Lay a gear's pairs from the input's shaft at (0, 0) to an output's at a place, best first.

    The direction is kept right by the number of meshes; shafts pass as in a slot box.

    Raises
    ------
    InputError
        The gear has no train, the kit no grid, or the place is not on the grid.
    """
    slot = vehicle.box.slot(gear)
    if not isinstance(slot, Slot) or not slot.train:
        raise InputError(f"Gear {gear} has no train of its own to lay.")
    if vehicle.kit.any_seat:
        raise InputError("In wood and print pairs sit at their own distance; there is no grid.")
    half = vehicle.placing.half_units
    step = 1 if half else 2
    end = (round(2 * x_u), round(2 * y_u))
    if abs(2 * x_u - end[0]) + abs(2 * y_u - end[1]) > 1e-6 or any(c % step for c in end):
        grid = "half units" if half else "whole units"
        raise InputError(f"({x_u:g}, {y_u:g}) u is not on the grid; use {grid}.")
    if end == (0, 0):
        raise InputError("The output's shaft cannot stand where the input's does.")
    room = 2 * ROOM_U
    bounds = Bounds(
        min(0, end[0]) - room, max(0, end[0]) + room, min(0, end[1]) - room, max(0, end[1]) + room
    )
    found = ways_between(
        vehicle.kit, tuple((p.driver, p.driven) for p in slot.train), end,
        parity=wanted_parity(vehicle, gear), layers=vehicle.placing.layers, step=step,
        bounds=bounds, inputs=((0, 0),), selectors=(end,),
    )  # fmt: skip
    return tuple(WayShown(way, _placement(vehicle.kit, way)) for way in found)


def take_way(vehicle: Vehicle, gear: str, shown: WayShown) -> Edit:
    """Give a gear the train of a way, idlers and all."""
    return set_train(vehicle, gear, shown.way.train)


def _placement(kit: Kit, way: Way) -> Placement:
    left, low = min(x for x, _ in way.points), min(y for _, y in way.points)
    most = max(layer for _, _, layer in way.gears)
    gears: list[PlacedGear] = []
    row = iter(way.gears)
    for number, pair in enumerate(way.train):
        for role in ("driver", *("idler" for _ in pair.idlers), "driven"):
            teeth, shaft, layer = next(row)
            gears.append(PlacedGear(teeth, shaft, most - layer, role, number))
    meshes = []
    for first, (one, other) in enumerate(pairwise(gears)):
        sizes = kit.size(one.teeth), kit.size(other.teeth)
        if one.pair != other.pair or sizes[0] is None or sizes[1] is None:
            continue
        (x, y), (v, w) = way.points[one.shaft], way.points[other.shaft]
        offset = sorted((abs(x - v) / 2, abs(y - w) / 2), reverse=True)
        seat = seat_at(kit, sizes[0], sizes[1], (offset[0], offset[1]))
        meshes.append(PlacedMesh(first, first + 1, seat))
    points = tuple(((x - left) / 2, (y - low) / 2) for x, y in way.points)
    return Placement(points, tuple(gears), tuple(meshes))
