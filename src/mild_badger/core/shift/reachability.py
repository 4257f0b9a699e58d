"""What the shifter can bring the sleeves to, gears and neutrals and all that lies between."""

from dataclasses import dataclass
from itertools import combinations, product

from mild_badger.core.message import say
from mild_badger.core.shift.drum import drum_layout
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["Shifter", "Stop", "reach"]

Shifter = tuple[tuple[str, tuple[str, ...]], ...]
"""The sleeves that one shifter moves, each with the positions in which it couples something."""


@dataclass(frozen=True)
class Stop:
    """One setting of the sleeves; ``passing`` says where it is only passed through.

    ``one_way`` holds where the dogs are ones that drive one way.
    """

    sleeves: tuple[tuple[str, str], ...]
    passing: str = ""
    one_way: bool = False


def reach(vehicle: Vehicle, groups: tuple[Shifter, ...]) -> tuple[Stop, ...]:
    """List every setting that the vehicle's gate, catch or drum can bring the sleeves to."""
    if vehicle.shifting.actuation == "drum":
        return _drum(vehicle)
    held = _guarded(vehicle)
    singles = [
        [(), *(((sleeve, place),) for sleeve, places in group for place in places)]
        for group in groups
    ]
    stops = [Stop(tuple(s for part in chosen for s in part)) for chosen in product(*singles)]
    if not held:
        sentence = (
            say("shift.a-rail-that-creeps-in-beside-another")
            if vehicle.shifting.actuation == "gate"
            else say("shift.the-catch-slides-on-with-a-sleeve-left-in")
        )
        for group in groups:
            for (one, places), (other, those) in combinations(group, 2):
                stops += [Stop(((one, a), (other, b)), sentence) for a, b in product(places, those)]
    return tuple(stops)


def _guarded(vehicle: Vehicle) -> bool:
    """Whether the shifter's shape keeps it to one sleeve at a time."""
    if vehicle.shifting.actuation == "gate":
        return vehicle.lever.plungers
    return vehicle.shifting.catch.past_neutral


def _drum(vehicle: Vehicle) -> tuple[Stop, ...]:
    layout = drum_layout(vehicle)
    one_way = vehicle.shifting.drum.dogs == "one-way"
    stops = {Stop(p.sleeves): None for p in layout.positions}
    for change in layout.changes:
        names = [vehicle.gear_name(p.gear or "N") for p in (change.start, change.end)]
        between = say("shift.between-and", names=names[0], names_2=names[1])
        overlaps = change.overlap_deg is not None and change.overlap_deg > 0
        sleeves = tuple((change.both if overlaps else change.staying).items())
        stop = Stop(sleeves, between, one_way and overlaps)
        known = {frozenset(s.sleeves) for s in stops}
        if stop.one_way or frozenset(sleeves) not in known:
            stops[stop] = None
    return tuple(stops)
