"""The best set for a vehicle in a box of any architecture, as a box that can be taken.

One question for all: the fewest pairs, then gears, then the smallest gears, with every gear within
the tolerance; or the least worst error. Under the vehicle's kit, fit and search settings.
"""

from collections.abc import Callable
from dataclasses import replace

from mild_badger.core.architectures.registry import architecture_of, search_of
from mild_badger.core.errors import DocumentError
from mild_badger.core.message import say
from mild_badger.core.ratios.box_question import Best, BoxMatch, BoxQuestion, Kind
from mild_badger.core.ratios.deep import is_deep
from mild_badger.core.ratios.final_drive import factor_range
from mild_badger.core.ratios.lanes import GearGoal, Impossible, SetMatch
from mild_badger.core.ratios.pool import build_pool
from mild_badger.core.ratios.propose import goals_of, slot_pool, slot_search_rules
from mild_badger.core.ratios.stocked import used_by
from mild_badger.core.ratios.tradeoffs import Against, Stock, trade_offs
from mild_badger.core.units import exact
from mild_badger.core.vehicle.box import BoxBase
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.watch import UNWATCHED, Watch

__all__ = ["kind_of", "match_box", "trade_offs_for"]


def kind_of(box: BoxBase) -> Kind:
    """Name the kind of search that suits a box as it stands.

    Raises
    ------
    DocumentError
        No set can be looked for: it has no trains to choose.
    """
    search = architecture_of(box).search_for(box)
    if search is None:
        raise DocumentError(
            say("architectures.a-has-no-set-of-trains-to-look-for", title=box.title)
        )
    return search.kind


def match_box(
    vehicle: Vehicle,
    kind: Kind,
    *,
    best: Best,
    goals: tuple[GearGoal, ...] | None = None,
    tooth_sum: int | None = None,
    any_coupled: bool = False,
    spare_final_drive: bool = False,
    watch: Watch = UNWATCHED,
) -> BoxMatch | Impossible:
    """Find the best set of an architecture for a vehicle's targets.

    Kept trains are kept where the vehicle's box is of that architecture; settings that bind are
    the fit, pair limit, gears in a train, stock, barred sizes, seats on the grid, greatest centre
    distance and the directions of the slots.

    Parameters
    ----------
    vehicle, kind, best
        For whom, what kind of box, and which of the two questions.
    goals
        Stand for the vehicle's own where given.
    tooth_sum
        Where given, the only one a layshaft or two-shaft box may have.
    any_coupled
        Whether a sleeve may couple gears of any size, whatever the kit has with dog faces.
    spare_final_drive
        Whether the stock is the box's alone: no gear of it goes into rail, tie or final drive.

    Raises
    ------
    InputError
        There is no such kind.
    """
    architecture, search = search_of(kind)
    if vehicle.box.architecture != architecture.key:
        vehicle = vehicle.model_copy(update={"box": architecture.model()})
    tolerance = exact(vehicle.search.tolerance_percent) / 100
    matched = search.find(
        BoxQuestion(
            vehicle,
            goals_of(vehicle) if goals is None else goals,
            tolerance if best == "size" else None,
            watch,
            tooth_sum=tooth_sum,
            any_coupled=any_coupled,
            alone=spare_final_drive,
        )
    )
    return matched if isinstance(matched, Impossible) else replace(matched, title=search.title)


def trade_offs_for(
    vehicle: Vehicle,
    *,
    against: Against = "gears",
    stop: Callable[[], bool] = lambda: False,
) -> tuple[SetMatch, ...]:
    """List a box's sets of which none spends less and has a smaller worst error.

    Within the stock where that is a limit; none for a box whose gears have no free trains, as its
    cost hardly varies, or where a gear keeps a differential.
    """
    goals = goals_of(vehicle)
    if not vehicle.box.free_trains or any(goal.second for goal in goals):
        return ()
    low, high = factor_range(vehicle)
    have = BoxQuestion(vehicle, goals, None, UNWATCHED).have()
    rules = slot_search_rules(vehicle)
    limited = bool(have) and not is_deep(rules)
    usage = used_by(free="driven", any_bore=False)
    return trade_offs(
        build_pool(rules) if limited else slot_pool(vehicle),
        goals,
        within=Stock(have, usage) if have and limited else None,
        low=low,
        high=high,
        against=against,
        mesh_loss=vehicle.kit.mesh_loss,
        stop=stop,
    )
