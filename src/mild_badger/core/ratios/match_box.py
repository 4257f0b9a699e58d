"""The best set for a vehicle in a box of any architecture, as a box that can be taken.

One question for all: the fewest pairs, then gears, then the smallest gears, with every gear within
the tolerance; or the least worst error. Under the vehicle's kit, fit and search settings.
"""

from collections.abc import Callable
from dataclasses import replace

from mild_badger.core.ratios.box_question import (
    KINDS,
    Best,
    BoxMatch,
    BoxQuestion,
    Kind,
    cost_of,
    stock_of,
)
from mild_badger.core.ratios.deep import is_deep
from mild_badger.core.ratios.final_drive import factor_range
from mild_badger.core.ratios.lanes import GearGoal, Impossible, SetMatch
from mild_badger.core.ratios.match_slots import match_slots, match_slots_and_sums
from mild_badger.core.ratios.pool import build_pool
from mild_badger.core.ratios.propose import goals_of, slot_pool, slot_search_rules
from mild_badger.core.ratios.ranges import match_ranges
from mild_badger.core.ratios.shafts import Direct, ShaftKind, match_shared_centre
from mild_badger.core.ratios.stocked import used_by
from mild_badger.core.ratios.tradeoffs import Against, Stock, trade_offs
from mild_badger.core.ratios.twin import match_twin
from mild_badger.core.units import exact
from mild_badger.core.vehicle.box import (
    Box,
    LayshaftBox,
    RangeBox,
    RangeSlot,
    Slot,
    SlotBox,
    Train,
    TwinLayshaftBox,
    TwoShaftBox,
)
from mild_badger.core.vehicle.edit.slots import with_places
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.watch import UNWATCHED, Watch

__all__ = [
    "KINDS",
    "Best",
    "BoxMatch",
    "Kind",
    "kind_of",
    "match_box",
    "stock_of",
    "trade_offs_for",
]


def kind_of(box: Box) -> Kind:
    """Name the kind of search that suits a box as it stands."""
    if isinstance(box, SlotBox):
        return "slot-sum" if any(slot.second for slot in box.slots) else "slot"
    if isinstance(box, LayshaftBox):
        return "layshaft-slide" if box.engagement == "slide" else "layshaft"
    if isinstance(box, TwoShaftBox):
        return "two-shaft"
    return "twin-layshaft" if isinstance(box, TwinLayshaftBox) else "range-splitter"


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
    """
    architecture = "slot" if kind == "slot-sum" else kind.removesuffix("-slide")
    if vehicle.box.architecture != architecture:
        vehicle = vehicle.model_copy(update={"box": _EMPTY[architecture]()})
    tolerance = exact(vehicle.search.tolerance_percent) / 100
    wanted = goals_of(vehicle) if goals is None else goals
    asked = BoxQuestion(
        vehicle,
        wanted,
        tolerance if best == "size" else None,
        watch,
        tooth_sum=tooth_sum,
        any_coupled=any_coupled,
        alone=spare_final_drive,
    )
    match kind:
        case "slot":
            return match_slots(asked)
        case "slot-sum":
            return match_slots_and_sums(asked)
        case "layshaft":
            return _shared(asked, kind, direct="may")
        case "layshaft-slide":
            return _shared(asked, kind, direct="must")
        case "two-shaft":
            return _shared(asked, kind, direct="no")
        case "twin-layshaft":
            return _twin(asked)
        case _:
            return _range(asked)


_EMPTY: dict[str, Callable[[], Box]] = {
    "slot": SlotBox,
    "layshaft": LayshaftBox,
    "two-shaft": TwoShaftBox,
    "twin-layshaft": TwinLayshaftBox,
    "range-splitter": RangeBox,
}


def _shared(asked: BoxQuestion, kind: Kind, *, direct: Direct) -> BoxMatch | Impossible:
    low, high = asked.bounds
    shafts: ShaftKind = "two-shaft" if kind == "two-shaft" else "layshaft"
    found = match_shared_centre(
        shafts,
        asked.standings(),
        asked.goals,
        low=low,
        high=high,
        tolerance=asked.tolerance,
        tooth_sum=asked.tooth_sum,
        direct=direct,
        have=asked.have(any_bore=asked.any_coupled),
        watch=asked.watch,
    )
    if isinstance(found, Impossible):
        return found
    own = {gear.goal.gear: gear.train[-1:] if gear.train else () for gear in found.found.gears}
    slots = _places(asked.vehicle, own, slide=kind == "layshaft-slide")
    box: Box
    if kind == "two-shaft":
        box = TwoShaftBox(slots=slots)
    else:
        box = LayshaftBox(
            input_pair=(found.input_pair,) if found.input_pair else (),
            slots=slots,
            engagement="slide" if kind == "layshaft-slide" else "dog",
        )
    whole = found.found
    if found.input_pair is not None:
        extra = [(found.input_pair,)]
        whole = replace(whole, cost=cost_of([*own.values(), *extra]))
    return BoxMatch(kind, whole, box, found)


def _places(vehicle: Vehicle, own: dict[str, Train], *, slide: bool) -> tuple[Slot, ...]:
    """Give every gear its place, present places first; an empty train is the direct drive.

    A slider that couples directly is a gear the other way, so the direct gear shares its column.
    """
    present = [s for s in vehicle.box.slots if isinstance(s, Slot) and s.gear in own]
    names = list(own)
    direct = [name for name in names if not own[name]]
    if slide and direct and not present:
        beside = [name for name in names if name not in direct][-1:]
        names = [*beside, *direct, *(n for n in names if n not in (*beside, *direct))]
    placed = with_places(present, names)
    return tuple(
        Slot(
            gear=slot.gear,
            column=slot.column,
            face=slot.face,
            train=own[slot.gear],
            direct=not own[slot.gear],
            kept=slot.kept,
        )
        for slot in placed
    )


def _twin(asked: BoxQuestion) -> BoxMatch | Impossible:
    low, high = asked.bounds
    found = match_twin(
        asked.standings(),
        asked.vehicle.kit.sizes,
        asked.goals,
        low=low,
        high=high,
        tolerance=asked.tolerance,
        meshes=asked.can_mesh,
        have=asked.have(any_bore=asked.any_coupled),
        watch=asked.watch,
    )
    if isinstance(found, Impossible):
        return found
    slots = []
    used = [0, 0]
    for number, gear in enumerate(found.found.gears):
        layshaft = found.layshafts[number]
        place = used[layshaft]
        used[layshaft] += 1
        slots.append(
            Slot(
                gear=gear.goal.gear,
                column=2 * (place // 2) + 1 + layshaft,
                face="back" if place % 2 else "front",
                train=gear.train[:1],
                kept=bool(gear.goal.kept),
            )
        )
    box = TwinLayshaftBox(
        output_pairs=tuple((pair,) for pair in found.output_pairs), slots=tuple(slots)
    )
    cost = found.found.cost
    counted = replace(cost, pairs=cost.pairs + 2, gears=cost.gears + 3)
    whole = replace(found.found, cost=counted)
    return BoxMatch("twin-layshaft", whole, box, found, proven=found.proven)


def _range(asked: BoxQuestion) -> BoxMatch | Impossible:
    low, high = asked.bounds
    found = match_ranges(
        asked.standings(),
        asked.goals,
        low=low,
        high=high,
        tolerance=asked.tolerance,
        have=asked.have(any_bore=asked.any_coupled),
        watch=asked.watch,
    )
    if isinstance(found, Impossible):
        return found
    slots = tuple(
        RangeSlot(gear=gear.goal.gear, splitter=i + 1, range=j + 1, kept=bool(gear.goal.kept))
        for gear, (i, j) in zip(found.found.gears, found.places, strict=True)
    )
    box = RangeBox(
        splitter=tuple((pair,) for pair in found.splitter),
        ranges=tuple((pair,) for pair in found.ranges),
        slots=slots,
    )
    return BoxMatch("range-splitter", found.found, box, found, proven=found.proven)


def trade_offs_for(
    vehicle: Vehicle,
    *,
    against: Against = "gears",
    stop: Callable[[], bool] = lambda: False,
) -> tuple[SetMatch, ...]:
    """List a slot box's sets of which none spends less and has a smaller worst error.

    Within the stock where that is a limit; none for a box of another architecture, whose cost
    hardly varies, or where a gear keeps a differential.
    """
    goals = goals_of(vehicle)
    if not isinstance(vehicle.box, SlotBox) or any(goal.second for goal in goals):
        return ()
    low, high = factor_range(vehicle)
    have = BoxQuestion(vehicle, goals, None, UNWATCHED).have()
    rules = slot_search_rules(vehicle)
    limited = bool(have) and not is_deep(rules)
    usage = used_by(free_last=True, any_bore=False)
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
