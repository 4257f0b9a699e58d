"""Everything the builder is told when the set is looked for, found in one go."""

from dataclasses import dataclass

from mild_badger.core.architectures.match import kind_of, match_box, trade_offs_for
from mild_badger.core.architectures.relax import WayOut, ways_out
from mild_badger.core.driveline.efficiency import mean_efficiency
from mild_badger.core.ratios.box_question import BoxMatch
from mild_badger.core.ratios.lanes import Impossible, SetMatch
from mild_badger.core.ratios.propose import apply_set
from mild_badger.core.ratios.tradeoffs import Against
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.watch import UNWATCHED, Watch

__all__ = ["SetAnswer", "find_set"]


@dataclass(frozen=True)
class SetAnswer:
    """The smallest set and the most exact one, the trade-offs, and ways out if nothing fits.

    ``efficiencies`` are those of the box with each set of the fronts, the mean over its gears.
    """

    smallest: BoxMatch | Impossible
    nearest: BoxMatch | Impossible
    fronts: dict[Against, tuple[SetMatch, ...]]
    efficiencies: dict[Against, tuple[float, ...]]
    ways: tuple[WayOut, ...]


def find_set(vehicle: Vehicle, *, watch: Watch = UNWATCHED) -> SetAnswer:
    """Look for a vehicle's set in a box of its own architecture."""
    kind = kind_of(vehicle.box)
    smallest = match_box(vehicle, kind, best="size", watch=watch.part(0.0, 0.3))
    nearest = match_box(vehicle, kind, best="error", watch=watch.part(0.3, 0.5))
    watch.tick(0.5)
    ways: tuple[WayOut, ...] = ()
    if isinstance(smallest, Impossible):
        ways = ways_out(vehicle, kind, watch=watch)
    fronts: dict[Against, tuple[SetMatch, ...]] = {}
    against: Against
    for against in ("gears", "loss"):
        fronts[against] = trade_offs_for(vehicle, against=against, stop=watch.stop)
        watch.tick(0.75 if against == "gears" else 1.0)
    efficiencies: dict[Against, tuple[float, ...]] = {
        against: tuple(_efficiency(vehicle, match) for match in front)
        for against, front in fronts.items()
    }
    return SetAnswer(smallest, nearest, fronts, efficiencies, ways)


def _efficiency(vehicle: Vehicle, match: SetMatch) -> float:
    return mean_efficiency(apply_edit(vehicle, apply_set(vehicle, match))) or 0.0
