"""The best set for a vehicle in a box of any architecture, as a box that can be taken.

One question for all: the fewest pairs, then gears, then the smallest gears, with every gear within
the tolerance; or the least worst error. Under the vehicle's kit, fit and search settings.
"""

from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import Literal

from mild_badger.core.changes import Change, Edit
from mild_badger.core.mesh.seats import seats_well
from mild_badger.core.ratios.deep import best_deep, build_deep, is_deep, smallest_deep
from mild_badger.core.ratios.final_drive import factor_range
from mild_badger.core.ratios.lanes import GearGoal, Impossible, SetMatch, lanes_of
from mild_badger.core.ratios.match import best_set, smallest_set
from mild_badger.core.ratios.pool import Cost, build_pool, train_cost, unpack
from mild_badger.core.ratios.propose import goals_of, max_tooth_sum, slot_pool, slot_search_rules
from mild_badger.core.ratios.ranges import RangeMatch, match_ranges
from mild_badger.core.ratios.shafts import Direct, ShaftKind, SharedCentreMatch, match_shared_centre
from mild_badger.core.ratios.standings import Shafts, Standing, standings
from mild_badger.core.ratios.stocked import (
    Have,
    Part,
    best_stocked,
    pool_trains,
    smallest_stocked,
    used_by,
)
from mild_badger.core.ratios.summing import Sum, best_sum, smallest_sum
from mild_badger.core.ratios.tradeoffs import Against, trade_offs
from mild_badger.core.ratios.twin import TwinMatch, match_twin
from mild_badger.core.targets.speeds import deviation_percent
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
from mild_badger.core.vehicle.edits import take_box, with_places
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.tally import Tally, count_box
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

Best = Literal["size", "error"]
Kind = Literal[
    "slot", "slot-sum", "layshaft", "layshaft-slide", "two-shaft", "twin-layshaft", "range-splitter"
]

KINDS: dict[Kind, str] = {
    "slot": "slot box",
    "slot-sum": "slot box with summing differentials",
    "layshaft": "layshaft box",
    "layshaft-slide": "layshaft box with sliding gears",
    "two-shaft": "two-shaft box",
    "twin-layshaft": "two parallel layshafts",
    "range-splitter": "range × splitter",
}
"""What can be asked for, and what it is called."""


@dataclass(frozen=True)
class BoxMatch:
    """A set, and the box that holds it.

    ``match`` is what the architecture's own search found, where it says more than the set. The
    set's cost counts every pair of the box once, those that are shared among them.
    """

    kind: Kind
    found: SetMatch
    box: Box
    match: SharedCentreMatch | TwinMatch | RangeMatch | None = None

    def edit(self, vehicle: Vehicle) -> Edit:
        """Make the edit that puts the box in; the crown wheel makes up for its direction."""
        edit = take_box(vehicle, self.box, f"Take the {KINDS[self.kind]}")
        turns_over = isinstance(self.box, TwoShaftBox) != isinstance(vehicle.box, TwoShaftBox)
        if not turns_over:
            return edit
        side = "right" if vehicle.final_drive.crown_side == "left" else "left"
        return replace(edit, changes=(*edit.changes, Change(("final_drive", "crown_side"), side)))


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
    asked = _Asked(
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
            return _slot(asked)
        case "slot-sum":
            return _slot_with_sums(asked)
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


@dataclass(frozen=True)
class _Asked:
    """A vehicle with an empty or present box of the architecture, and what is asked of it."""

    vehicle: Vehicle
    goals: tuple[GearGoal, ...]
    tolerance: Fraction | None
    watch: Watch
    tooth_sum: int | None = None
    any_coupled: bool = False
    alone: bool = False

    @property
    def bounds(self) -> tuple[Fraction, Fraction]:
        return factor_range(self.vehicle)

    def have(self, *, any_bore: bool = False) -> Have | None:
        """Count what may be used, less what else the vehicle takes; None if stock is no limit."""
        if not self.vehicle.search.within_stock:
            return None
        reserved = self._final_drive()
        box = self.vehicle.box
        if isinstance(box, SlotBox) and not self.alone:
            names = [goal.name for goal in self.goals]
            columns = max(slot.column for slot in with_places(list(box.slots), names))
            if columns > 1:
                reserved[box.tie_teeth, "fixed"] += columns
                reserved[box.rail_teeth, "fixed"] += columns if box.feed == "rail" else 0
        return stock_of(self.vehicle.kit, reserved, any_bore=any_bore)

    def lacking(self, box: Box) -> Counter[Part]:
        """Count the gears a box needs beyond what may be used; none if stock is no limit."""
        if not self.vehicle.search.within_stock:
            return Counter()
        tally = Tally()
        count_box(tally, box, self.vehicle.kit)
        used: Counter[Part] = Counter()
        for (kind, teeth), count in tally.count.items():
            if kind in ("fixed", "free"):
                used[teeth, "any" if self.any_coupled else kind] += count
        have = stock_of(self.vehicle.kit, self._final_drive(), any_bore=self.any_coupled)
        short = {part: count - have.get(part, count) for part, count in used.items()}
        return Counter({part: count for part, count in short.items() if count > 0})

    def _final_drive(self) -> Counter[Part]:
        """Count the gears of the final drive, which the box cannot have."""
        reserved: Counter[Part] = Counter()
        for pair in () if self.alone else self.vehicle.final_drive.pairs:
            for teeth in (pair.driver, pair.driven, *pair.idlers):
                reserved[teeth, "fixed"] += 1
        return reserved

    def standings(self) -> tuple[Standing, ...]:
        search, kit = self.vehicle.search, self.vehicle.kit
        box = self.vehicle.box
        sliding = isinstance(box, LayshaftBox | TwoShaftBox) and box.engagement == "slide"
        shafts = Shafts(
            coupled=None if sliding or self.any_coupled else kit.dog_sizes,
            profile_shift=search.profile_shift and kit.any_seat,
            max_tooth_sum=max_tooth_sum(self.vehicle),
        )
        return standings(kit, seated=search.seated, shafts=shafts)


def stock_of(kit: Kit, reserved: Counter[Part] | None = None, *, any_bore: bool = False) -> Have:
    """Give how many gears of each size there are; what is made as needed is left out.

    A free-running gear counts only with dog faces; ``any_bore`` counts both bores as one.
    """
    have: dict[Part, int] = {}
    for teeth in kit.sizes:
        if any_bore:
            owned = kit.owned(teeth)
            if owned is not None:
                have[teeth, "any"] = owned
            continue
        for bore in ("fixed", "free"):
            gear = kit.size(teeth, "fixed" if bore == "fixed" else "free")
            usable = gear is not None and (bore == "fixed" or gear.dog_faces)
            count = gear.stock if gear is not None and usable else 0
            if count is not None:
                have[teeth, bore] = max(count - (reserved or Counter())[teeth, bore], 0)
    return have


def _slot(asked: _Asked) -> BoxMatch | Impossible:
    found = _slot_set(asked)
    if isinstance(found, Impossible):
        return found
    return BoxMatch("slot", found, _slots_filled(asked.vehicle, found, {}))


def _slot_set(asked: _Asked) -> SetMatch | Impossible:
    low, high = asked.bounds
    rules, goals = slot_search_rules(asked.vehicle), asked.goals
    have = asked.have()
    if is_deep(rules) and not have:
        deep = build_deep(rules)
        if asked.tolerance is None:
            return best_deep(deep, goals, low=low, high=high, watch=asked.watch)
        return smallest_deep(
            deep, goals, low=low, high=high, tolerance=asked.tolerance, watch=asked.watch
        )
    pool = slot_pool(asked.vehicle) if not have else build_pool(rules)
    if not have:
        if asked.tolerance is None:
            return best_set(pool, goals, low=low, high=high, watch=asked.watch)
        return smallest_set(pool, goals, low=low, high=high, tolerance=asked.tolerance)
    lanes = lanes_of(pool, goals)
    if isinstance(lanes, Impossible):
        return lanes
    trains, usage = pool_trains(pool, lanes), used_by(free_last=True, any_bore=False)
    if asked.tolerance is None:
        return best_stocked(lanes, trains, usage, have, low=low, high=high, watch=asked.watch)
    return smallest_stocked(
        lanes, trains, usage, have,
        low=low, high=high, tolerance=asked.tolerance, watch=asked.watch,
    )  # fmt: skip


def _slots_filled(
    vehicle: Vehicle, found: SetMatch, sums: dict[str, tuple[Train, Train]]
) -> SlotBox:
    box = vehicle.box if isinstance(vehicle.box, SlotBox) else SlotBox()
    trains: dict[str, tuple[Train, Train]] = {g.goal.name: (g.train, ()) for g in found.gears}
    trains |= sums
    placed = with_places(list(box.slots), list(trains))
    slots = tuple(
        slot.model_copy(update={"train": trains[slot.gear][0], "second": trains[slot.gear][1]})
        if slot.gear in trains
        else slot
        for slot in placed
    )
    return box.model_copy(update={"slots": slots})


def _slot_with_sums(asked: _Asked) -> BoxMatch | Impossible:
    """Give gears that gears alone miss a summing differential, at the factor of the plain set.

    Within a tolerance only those that miss it; for the least error the ones whose error it lowers.
    """
    plain = _slot_set(replace(asked, tolerance=None))
    if isinstance(plain, Impossible):
        return plain
    if asked.tolerance is not None:
        within = _slot_set(asked)
        if isinstance(within, SetMatch):
            return BoxMatch("slot-sum", within, _slots_filled(asked.vehicle, within, {}))
    pool = slot_pool(asked.vehicle)
    gears, sums = [], {}
    cost = plain.cost
    for gear in plain.gears:
        found: Sum | None = None
        error = deviation_percent(gear.error_percent)
        limit = 0.0 if asked.tolerance is None else 100 * float(asked.tolerance)
        if error > limit + 1e-9 and not gear.goal.kept:
            target = gear.goal.target
            if asked.tolerance is not None:
                found = smallest_sum(
                    pool, target, tolerance=float(asked.tolerance),
                    parity=gear.goal.parity, factor=plain.factor,
                )  # fmt: skip
            else:
                found = best_sum(pool, target, parity=gear.goal.parity, factor=plain.factor)
        if found is None or deviation_percent(found.error_percent) >= error - 1e-9:
            gears.append(gear)
            continue
        sums[gear.goal.name] = (found.first, found.second)
        gears.append(
            replace(gear, ratio=found.ratio, error_percent=found.error_percent, train=found.first)
        )
    worst = max(deviation_percent(gear.error_percent) for gear in gears)
    if asked.tolerance is not None and worst > 100 * float(asked.tolerance) + 1e-6:
        return Impossible(
            f"Even with summing differentials the worst error is {worst:.2f} %. Raise the "
            "tolerance to that, or allow more pairs."
        )
    trains = [train for gear in gears for train in (gear.train, *sums.get(gear.goal.name, ())[1:])]
    cost = _cost_of(trains)
    whole = SetMatch(plain.factor, worst, tuple(gears), cost)
    match = BoxMatch("slot-sum", whole, _slots_filled(asked.vehicle, whole, sums))
    if sums and asked.tolerance is None and asked.lacking(match.box):
        return BoxMatch("slot-sum", plain, _slots_filled(asked.vehicle, plain, {}))
    return _kept_within(asked, match)


def _cost_of(trains: list[Train]) -> Cost:
    return unpack(sum(train_cost(train) for train in trains))


def _shared(asked: _Asked, kind: Kind, *, direct: Direct) -> BoxMatch | Impossible:
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
    own = {gear.goal.name: gear.train[-1:] if gear.train else () for gear in found.found.gears}
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
        whole = replace(whole, cost=_cost_of([*own.values(), *extra]))
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


def _twin(asked: _Asked) -> BoxMatch | Impossible:
    low, high = asked.bounds
    found = match_twin(
        asked.standings(),
        asked.vehicle.kit.sizes,
        asked.goals,
        low=low,
        high=high,
        tolerance=asked.tolerance,
        meshes=lambda one, other: _can_mesh(asked.vehicle, one, other),
        watch=asked.watch,
    )
    if isinstance(found, Impossible):
        return found
    slots = []
    used = [0, 0]
    for number, gear in enumerate(found.found.gears):
        layshaft = found.layshaft(number)
        place = used[layshaft]
        used[layshaft] += 1
        slots.append(
            Slot(
                gear=gear.goal.name,
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
    return _kept_within(asked, BoxMatch("twin-layshaft", whole, box, found))


def _can_mesh(vehicle: Vehicle, one: int, other: int) -> bool:
    most = max_tooth_sum(vehicle)
    if most is not None and one + other > most:
        return False
    return not vehicle.search.seated or seats_well(vehicle.kit, one, other)


def _range(asked: _Asked) -> BoxMatch | Impossible:
    low, high = asked.bounds
    found = match_ranges(
        asked.standings(),
        asked.goals,
        low=low,
        high=high,
        tolerance=asked.tolerance,
        watch=asked.watch,
    )
    if isinstance(found, Impossible):
        return found
    slots = tuple(
        RangeSlot(gear=gear.goal.name, splitter=i + 1, range=j + 1)
        for gear, (i, j) in zip(found.found.gears, found.places, strict=True)
    )
    box = RangeBox(
        splitter=tuple((pair,) for pair in found.splitter),
        ranges=tuple((pair,) for pair in found.ranges),
        slots=slots,
    )
    return _kept_within(asked, BoxMatch("range-splitter", found.found, box, found))


def _kept_within(asked: _Asked, match: BoxMatch) -> BoxMatch | Impossible:
    """Give a box that was searched without regard to the stock, if it keeps within it.

    Then it is the best there is within the stock as well.
    """
    lacking = asked.lacking(match.box)
    if not lacking:
        return match
    parts = ", ".join(f"{count} × {teeth}" for (teeth, _), count in sorted(lacking.items()))
    return Impossible(
        f"The best {KINDS[match.kind]} needs more gears than the stock has: {parts} teeth. Others "
        "are not searched for within the stock in this architecture. Add to the stock, leave it "
        "out of the search, or choose another architecture."
    )


def trade_offs_for(
    vehicle: Vehicle,
    *,
    against: Against = "gears",
    stop: Callable[[], bool] = lambda: False,
) -> tuple[SetMatch, ...]:
    """List a slot box's sets of which none spends less and has a smaller worst error.

    Without regard to stock; none for a box of another architecture, whose cost hardly varies.
    """
    if not isinstance(vehicle.box, SlotBox):
        return ()
    low, high = factor_range(vehicle)
    return trade_offs(
        slot_pool(vehicle),
        goals_of(vehicle),
        low=low,
        high=high,
        against=against,
        mesh_loss=vehicle.kit.mesh_loss,
        stop=stop,
    )
