"""The gears that a slot box's trains leave to other things of the vehicle, out of one stock."""

from collections import Counter

from mild_badger.core.architectures.places import Columns
from mild_badger.core.functions.arrange import arrange, count_functions
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.tally import Tally

__all__ = ["other_gears"]


def other_gears(vehicle: Vehicle, places: Columns) -> Counter[tuple[str, int]]:
    """Count the gears of drive row, tie, final drive and functions, by bore and teeth."""
    tally = Tally()
    for gear in places.gears():
        tally.add("fixed", gear.teeth, gear.body)
    tally.train(vehicle.final_drive.pairs, "final drive", free=None)
    if vehicle.functions is not None:
        count_functions(tally, vehicle.functions, arrange(vehicle, vehicle.functions))
    return tally.count
