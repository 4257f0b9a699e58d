"""The gears that make one shaft turn one way, whatever way the input turns.

The input drives the one-way shaft by an equal pair, and over a counter-shaft by a second way whose
ratio is one too; a one-way clutch in either lets it carry forwards only. The two ways stand in
layers of their own, since three equal gears round one point would all mesh with one another.
"""

from dataclasses import dataclass
from functools import lru_cache
from itertools import product

from mild_badger.core.functions.distances import (
    SAME_MM,
    Distance,
    distance_between,
    passing_gear_mm,
    passing_mm,
)
from mild_badger.core.kit.part_sizes import clutch_radius_mm
from mild_badger.core.mesh.shift import undercut_limit
from mild_badger.core.vehicle.cache_key import ThisVehicle
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["Rectifier", "rectifier_for"]

LEAST_TEETH = 12
MOST_SIZES = 14
"""So many of the smallest sizes are tried for each of its gears."""


@dataclass(frozen=True)
class Rectifier:
    """Teeth: of the equal pair; of the reversing gear on the input; of both on the counter-shaft.

    The counter-shaft's second gear drives a wheel as large as the reversing gear on the input.
    """

    direct: int
    reversing: int
    counter: int

    @property
    def gears(self) -> tuple[int, ...]:
        """The teeth of all its gears."""
        wheels = (self.direct, self.direct, self.reversing, self.reversing)
        return (*wheels, self.counter, self.counter)


def rectifier_for(vehicle: Vehicle) -> Rectifier | None:
    """Find the gears with the fewest teeth whose three shafts can stand; None where a kit has none.

    Made gears are not undercut where sizes allow.
    """
    return _found(ThisVehicle(vehicle))


@lru_cache(maxsize=8)
def _found(this: ThisVehicle) -> Rectifier | None:
    vehicle = this.vehicle
    kit = vehicle.kit
    sound = undercut_limit(kit.pressure_angle_deg) if kit.any_seat else LEAST_TEETH
    for least in (max(sound, LEAST_TEETH), LEAST_TEETH):
        sizes = [teeth for teeth in sorted(kit.sizes) if teeth >= least][:MOST_SIZES]
        every = sorted(product(sizes, repeat=3), key=lambda z: (sum(z), z))
        for direct, reversing, counter in every:
            found = Rectifier(direct, reversing, counter)
            if _stands(vehicle, found):
                return found
    return None


def _stands(vehicle: Vehicle, gears: Rectifier) -> bool:
    """Whether the three shafts can stand, each clear of the gears that it passes."""
    base = distance_between(vehicle, gears.direct, gears.direct)
    leg = distance_between(vehicle, gears.reversing, gears.counter)
    clutch = passing_mm(vehicle, clutch_radius_mm(vehicle))
    across = max(clutch, *(passing_gear_mm(vehicle, z) for z in (gears.direct, gears.reversing)))
    along = max(clutch, *(passing_gear_mm(vehicle, z) for z in (gears.direct, gears.counter)))
    return leg.mm >= along and base.mm >= across and _close(base, leg)


def _close(base: Distance, leg: Distance) -> bool:
    """Whether a point lies a leg from both ends of the base."""
    if base.places is None or leg.places is None:
        return base.mm < 2 * leg.mm - SAME_MM
    return any((x - a, y - b) in leg.places for x, y in base.places for a, b in leg.places)
