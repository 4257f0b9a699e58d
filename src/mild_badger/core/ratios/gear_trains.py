"""The trains that one gear could have and the fractions behind its ratio, found in one go."""

from dataclasses import dataclass

from mild_badger.core.ratios.ladder import Rung
from mild_badger.core.ratios.propose import ladder_for_gear, pairs_for_gear, trains_for_gear
from mild_badger.core.ratios.single import Candidate
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.watch import UNWATCHED, Watch

__all__ = ["GearTrains", "gear_trains"]


@dataclass(frozen=True)
class GearTrains:
    """Trains, nearest first, and the rungs from the decimal to pairs."""

    trains: tuple[Candidate, ...] = ()
    rungs: tuple[Rung, ...] = ()


def gear_trains(vehicle: Vehicle, gear: str, *, watch: Watch = UNWATCHED) -> GearTrains:
    """Find what one gear could be made of: trains of a slot box, else pairs at the box's distance.

    In a lever or range box gears have no trains of their own.
    """
    watch.tick(0.0)
    free = vehicle.box.free_trains
    trains = (trains_for_gear if free else pairs_for_gear)(vehicle, gear)
    watch.tick(0.6)
    return GearTrains(trains, ladder_for_gear(vehicle, gear))
