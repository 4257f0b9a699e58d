"""How far apart the shafts of a function box's trains stand: in mm, or by places on the grid."""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise
from math import hypot, prod

from mild_badger.core.kit.part_sizes import (
    clutch_radius_mm,
    fork_radius_mm,
    spacer_radius_mm,
    tip_mm,
)
from mild_badger.core.mesh.offsets import offsets
from mild_badger.core.mesh.seats import seats
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.vehicle.cache_key import ThisVehicle
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.model import Vehicle

__all__ = [
    "PASSING_MM",
    "SAME_MM",
    "Distance",
    "Reach",
    "can_stand",
    "distance_between",
    "distances_of",
    "passing_gear_mm",
    "passing_mm",
    "reach_of",
]

PASSING_MM = 0.3
"""Room between a gear and the spacers of a shaft that passes it (an estimate, no source)."""
SAME_MM = 0.01
FINE_REACH, FEW_SEATS = 80, 4
"""Beyond so many half units only so many seats of a pair are looked at."""
MOST_ENDS = 50_000
"""So many places of a train's end are listed at most; beyond, its distances alone count."""
Offset = tuple[float, float]


@dataclass(frozen=True)
class Distance:
    """How far a shaft stands from another: ``mm``, and on a grid the places where it may, in mm."""

    mm: float
    places: frozenset[Offset] | None = None


def distance_between(vehicle: Vehicle, one: int, other: int) -> Distance:
    """Give how far apart two gears in mesh stand; no place where none runs on the grid."""
    return _between(vehicle.kit, one, other, 1 if vehicle.placing.half_units else 2)


@lru_cache(maxsize=1024)
def _between(kit: Kit, one: int, other: int, step: int) -> Distance:
    nominal = (one + other) * kit.module_mm / 2
    if kit.any_seat:
        return Distance(nominal)
    half = kit.grid_unit_mm / 2
    if (
        max(nominal, tip_mm(kit, one) + tip_mm(kit, other)) / half > FINE_REACH
    ):  # a grid so fine has very many places; the best ones do
        return Distance(nominal, frozenset(_few(kit, one, other)))
    places = offsets(kit, one, other, step)
    return Distance(nominal, frozenset((o.dx * half, o.dy * half) for o in places))


def _few(kit: Kit, one: int, other: int) -> Iterator[Offset]:
    unit = kit.grid_unit_mm
    for seat in seats(kit, one, other)[:FEW_SEATS]:
        for x, y in ((seat.dx_u, seat.dy_u), (seat.dy_u, seat.dx_u)):
            yield from ((a * x * unit, b * y * unit) for a in (1, -1) for b in (1, -1))


def distances_of(vehicle: Vehicle, train: tuple[GearPair, ...]) -> tuple[Distance, ...]:
    """Give the distances from shaft to shaft of a train, idlers' among them."""
    rows = ((pair.driver, *pair.idlers, pair.driven) for pair in train)
    return tuple(
        distance_between(vehicle, one, other) for row in rows for one, other in pairwise(row)
    )


@dataclass(frozen=True)
class Reach:
    """Where a train's last shaft may stand from its first: places in mm on a grid, else from …to.

    Its other shafts may still be in the way there.
    """

    least_mm: float
    most_mm: float
    places: frozenset[Offset] | None = None

    def meets(self, other: "Reach") -> bool:
        """Whether one place suits both."""
        if self.places is None or other.places is None:
            low = max(self.least_mm, other.least_mm)
            return low <= min(self.most_mm, other.most_mm) + SAME_MM
        return bool(self.places & other.places)


def reach_of(vehicle: Vehicle, train: tuple[GearPair, ...], *, sleeved: bool) -> Reach:
    """Give where a train can end, clear of what it begins with and ends on."""
    return _reach(ThisVehicle(vehicle), train, sleeved)


@lru_cache(maxsize=2048)
def _reach(this: ThisVehicle, train: tuple[GearPair, ...], sleeved: bool) -> Reach:
    vehicle = this.vehicle
    apart = distances_of(vehicle, train)
    if len(apart) == 1:
        return Reach(apart[0].mm, apart[0].mm, apart[0].places)
    ends = [passing_gear_mm(vehicle, teeth) for teeth in (train[0].driver, train[-1].driven)]
    if len(train) == 1:  # both ends of a row of idlers turn in one layer
        ends.append(tip_mm(vehicle.kit, train[0].driver) + tip_mm(vehicle.kit, train[0].driven))
    if sleeved:
        ends.append(passing_mm(vehicle, fork_radius_mm(vehicle)))
    clear = max(ends)
    longest = max(d.mm for d in apart)
    whole = sum(d.mm for d in apart)
    low, high = max(2 * longest - whole, clear), whole
    if any(d.places is None for d in apart):
        return Reach(low, high)
    if prod(len(d.places or ()) for d in apart) > MOST_ENDS:
        return Reach(low, high)
    places: set[Offset] = {(0.0, 0.0)}
    for step in apart:
        places = {(x + a, y + b) for x, y in places for a, b in step.places or ()}
    return Reach(low, high, frozenset(p for p in places if hypot(*p) >= clear))


def passing_mm(vehicle: Vehicle, radius_mm: float) -> float:
    """Give how far from the middle of something round a shaft with spacers passes it at least."""
    return radius_mm + spacer_radius_mm(vehicle) + PASSING_MM


def passing_gear_mm(vehicle: Vehicle, teeth: int) -> float:
    """Give how far from a gear's middle a shaft with spacers passes it at least."""
    return passing_mm(vehicle, tip_mm(vehicle.kit, teeth))


def can_stand(
    vehicle: Vehicle, train: tuple[GearPair, ...], *, sleeved: bool, clutched: bool
) -> bool:
    """Whether every shaft of a train stands clear of what its neighbours carry beside their mesh.

    Beside the first mesh is the sleeve with its fork, beside the last the one-way clutch; beside
    any other the gears of the next pair on either shaft.
    """
    rows = [(pair.driver, *pair.idlers, pair.driven) for pair in train]
    for number, row in enumerate(rows):
        beside: list[float] = []
        if sleeved and not number:
            beside.append(passing_mm(vehicle, fork_radius_mm(vehicle)))
        if number:
            beside.append(passing_gear_mm(vehicle, rows[number - 1][-1]))
        meshes = list(pairwise(row))
        for place, (one, other) in enumerate(meshes):
            least = list(beside) if not place else []
            if place == len(meshes) - 1:
                if number + 1 < len(rows):
                    least.append(passing_gear_mm(vehicle, rows[number + 1][0]))
                elif clutched:
                    least.append(passing_mm(vehicle, clutch_radius_mm(vehicle)))
            apart = distance_between(vehicle, one, other)
            if apart.places is not None and not apart.places:
                return False
            if apart.mm < max(least, default=0.0):
                return False
    return True
