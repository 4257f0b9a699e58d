"""The searches of ``match`` and ``single`` asked on behalf of a vehicle.

Under its slot box's rules, its fit, its final drive. Results are trains to be taken by an edit;
nothing is changed here.
"""

from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction
from math import sqrt
from typing import Literal

from mild_badger.core.changes import Change, Edit
from mild_badger.core.ratios.ladder import Rung, ladder
from mild_badger.core.ratios.lanes import GearGoal, Impossible, SetMatch
from mild_badger.core.ratios.match import best_set, smallest_set
from mild_badger.core.ratios.pool import EVEN, ODD, Pool, build_pool
from mild_badger.core.ratios.rules import Rules, grid_idlers, slot_rules
from mild_badger.core.ratios.single import Candidate, best_train, ranked_trains
from mild_badger.core.ratios.tradeoffs import trade_offs
from mild_badger.core.ratios.train import gear_count, mesh_count, train_ratio
from mild_badger.core.targets.speeds import signed_error_percent
from mild_badger.core.units import exact
from mild_badger.core.vehicle.box import GearPair, Slot, SlotBox, TwoShaftBox, gear_ratio
from mild_badger.core.vehicle.edits import free_place, set_trains, with_places
from mild_badger.core.vehicle.model import FinalDrive, Side, Vehicle

__all__ = [
    "FinalDriveOffer",
    "factor_square",
    "final_drive_offer",
    "final_drive_ratio",
    "goals_of",
    "joined",
    "ladder_for_gear",
    "match_vehicle",
    "search_places",
    "take_set",
    "trade_offs_for",
    "trains_for_gear",
    "wanted_final_drive",
    "wanted_parity",
]


def wanted_parity(vehicle: Vehicle, gear: str) -> int:
    """Mesh parity with which a gear's chain of pairs drives the right way.

    One pair turns a two-shaft box's output over, and the final drive turns it back. A drive rail
    alternates as the selector shafts do, so forward trains have an even number of meshes
    everywhere; a single input shaft does not, so columns alternate (domain.md §5).
    """
    target = vehicle.gear(gear)
    parity = ODD if target is not None and target.reverse else EVEN
    box = vehicle.box
    if isinstance(box, TwoShaftBox):
        return 1 - parity
    if isinstance(box, SlotBox):
        slot = box.slot(gear)
        column = slot.column if slot else free_place(box.slots)[0]
        if box.feed == "shaft" and column % 2 == 0:
            return 1 - parity
    return parity


def match_vehicle(vehicle: Vehicle, *, best: Literal["size", "error"]) -> SetMatch | Impossible:
    """Find the set with the fewest pairs within the tolerance, or with the least worst error.

    Under the settings' fit, pair limit and tolerance, and the slot box's rules.
    """
    search = vehicle.search
    goals, pool = goals_of(vehicle), _pool(vehicle)
    low, high = _factor_range(vehicle)
    if best == "error":
        return best_set(pool, goals, low=low, high=high)
    tolerance = exact(search.tolerance_percent) / 100
    return smallest_set(pool, goals, low=low, high=high, tolerance=tolerance)


def trade_offs_for(
    vehicle: Vehicle, *, stop: Callable[[], bool] = lambda: False
) -> tuple[SetMatch, ...]:
    """List the sets of which none has both fewer gears and a smaller worst error."""
    low, high = _factor_range(vehicle)
    return trade_offs(_pool(vehicle), goals_of(vehicle), low=low, high=high, stop=stop)


def goals_of(vehicle: Vehicle) -> tuple[GearGoal, ...]:
    """Say what the box wants of each gear, those without a slot where they would go.

    In boxes other than the slot box odd parity just marks reverse.
    """
    box = vehicle.box
    placed = vehicle
    if isinstance(box, SlotBox):
        names = [gear.name for gear in vehicle.real.gears]
        slots = tuple(with_places(list(box.slots), names))
        placed = vehicle.model_copy(update={"box": box.model_copy(update={"slots": slots})})
    goals = []
    for gear in vehicle.real.gears:
        slot = placed.box.slot(gear.name)
        kept = slot.train if isinstance(slot, Slot) and slot.kept and not slot.second else ()
        parity = ODD if gear.reverse else EVEN
        if isinstance(box, SlotBox):
            parity = wanted_parity(placed, gear.name)
        goals.append(GearGoal(gear.name, exact(gear.ratio), parity, kept))
    return tuple(goals)


def search_places(vehicle: Vehicle) -> tuple[object, ...]:
    """Give what of the box bears on a search, to tell a stale answer from a fresh one."""
    box = vehicle.box
    feed = box.feed if isinstance(box, SlotBox) else ""
    slots = (slot for slot in box.slots if isinstance(slot, Slot))
    return (box.architecture, feed, *((s.gear, s.column, s.train if s.kept else ()) for s in slots))


def _pool(vehicle: Vehicle) -> Pool:
    return build_pool(slot_rules(vehicle.kit, vehicle.search.max_pairs))


def take_set(vehicle: Vehicle, found: SetMatch) -> Edit:
    """Make the edit that gives every gear its train from a set."""
    return set_trains(vehicle, {gear.goal.name: gear.train for gear in found.gears})


def trains_for_gear(vehicle: Vehicle, gear: str, *, limit: int = 60) -> tuple[Candidate, ...]:
    """Rank the trains that one gear could have under the slot box's rules.

    Within the tolerance, or at least the nearest there is.
    """
    target = vehicle.gear(gear)
    if target is None:
        return ()
    pool = _pool(vehicle)
    parity = wanted_parity(vehicle, gear)
    factor = sqrt(factor_square(vehicle))
    found = ranked_trains(
        pool,
        target.ratio,
        parity=parity,
        tolerance_percent=vehicle.search.tolerance_percent,
        factor=factor,
        limit=limit,
    )
    if found:
        return found
    nearest = best_train(pool, target.ratio * factor, parity=parity)
    if nearest is None:
        return ()
    reach = abs(signed_error_percent(float(nearest.ratio), target.ratio, factor)) * 1.2 + 0.1
    return ranked_trains(
        pool,
        target.ratio,
        parity=parity,
        tolerance_percent=reach,
        factor=factor,
        by="error",
        limit=5,
    )


def ladder_for_gear(vehicle: Vehicle, gear: str) -> tuple[Rung, ...]:
    """Climb the fraction ladder of one gear under the slot box's rules; empty without a target."""
    target = vehicle.gear(gear)
    if target is None:
        return ()
    pool = _pool(vehicle)
    factor = sqrt(factor_square(vehicle))
    return ladder(pool, target.ratio, factor=factor, parity=wanted_parity(vehicle, gear))


def factor_square(vehicle: Vehicle) -> Fraction:
    """Square of the factor k by which the box as it stands departs from its targets.

    1 in the absolute fit; otherwise the middle of the trains' x = ratio/target, kept in the range.
    """
    xs = []
    for target in vehicle.real.gears:
        ratio = gear_ratio(vehicle.box, target.name)
        if ratio is not None:
            xs.append(ratio / exact(target.ratio))
    low, high = _factor_range(vehicle)
    if not xs:
        xs = [Fraction(1)]
    return min(max(min(xs) * max(xs), low * low), high * high)


def wanted_final_drive(vehicle: Vehicle) -> float:
    """Give the final drive that keeps the real vehicle's overall ratios: the real one over k."""
    return vehicle.real.final_drive / sqrt(factor_square(vehicle))


def final_drive_ratio(final: FinalDrive) -> Fraction:
    """Ratio of a final drive, turns in per turn out, positive."""
    return train_ratio(final.pairs) * Fraction(final.crown, final.pinion)


@dataclass(frozen=True)
class FinalDriveOffer:
    """A final drive that comes near what is wanted."""

    final_drive: FinalDrive
    ratio: Fraction
    error_percent: float

    def edit(self) -> Edit:
        """Make the edit that takes it."""
        return Edit("Take the final drive", (Change(("final_drive",), self.final_drive),))


def final_drive_offer(vehicle: Vehicle) -> FinalDriveOffer | None:
    """Find spur pairs and a bevel pair of the kit for the final drive that is wanted.

    The fewest gears within the tolerance, otherwise the least error. The crown wheel's side makes
    up for the direction, so no idler is spent on it. None when the kit has no bevel gears.
    """
    kit = vehicle.kit
    wanted = wanted_final_drive(vehicle)
    pinions = [b.teeth for b in kit.bevels if b.role == "bevel"]
    rims = [b.teeth for b in kit.bevels if b.role == "differential rim"]
    crowns = rims if vehicle.differential.kind == "open" and rims else pinions
    pool = build_pool(Rules(kit.sizes, 2, None, grid_idlers(kit)))
    offers = []
    for pinion in pinions:
        for crown in crowns:
            bevel = Fraction(crown, pinion)
            for train in ((), *_trains_near(pool, wanted / float(bevel), vehicle)):
                ratio = train_ratio(train) * bevel
                offers.append((ratio, train, pinion, crown))
    if not offers:
        return None

    def rank(offer: tuple[Fraction, tuple[GearPair, ...], int, int]) -> tuple[float, ...]:
        error = abs(signed_error_percent(float(offer[0]), wanted))
        inside = error <= vehicle.search.tolerance_percent
        return (0.0, gear_count(offer[1]), error) if inside else (1.0, error, 0.0)

    ratio, train, pinion, crown = min(offers, key=rank)
    keeps = (-1) ** mesh_count(train) * vehicle.motor.turns > 0
    side: Side = "left" if keeps else "right"
    return FinalDriveOffer(
        FinalDrive(pairs=train, pinion=pinion, crown=crown, crown_side=side),
        ratio,
        signed_error_percent(float(ratio), wanted),
    )


def joined(
    vehicle: Vehicle, train: tuple[GearPair, ...], parity: int
) -> tuple[GearPair, ...] | None:
    """Give a train the fewest idlers that seat every pair and make the mesh parity right.

    None when a size is not the kit's, or no idler can do it.
    """
    sizes = set(vehicle.kit.sizes)
    if not train or any(p.driver not in sizes or p.driven not in sizes for p in train):
        return None
    table = grid_idlers(vehicle.kit)
    ways: dict[int, tuple[int, int, tuple[GearPair, ...]]] = {0: (0, 0, ())}
    for pair in train:
        longer: dict[int, tuple[int, int, tuple[GearPair, ...]]] = {}
        for kind in (EVEN, ODD):
            cost = table.cost(pair.driver, pair.driven, kind)
            if cost is None:
                continue
            seated = GearPair(driver=pair.driver, driven=pair.driven, idlers=cost[2])
            for before, (count, teeth, pairs) in ways.items():
                meshes = (before + 1 + kind) % 2
                way = (count + cost[0], teeth + cost[1], (*pairs, seated))
                if meshes not in longer or way[:2] < longer[meshes][:2]:
                    longer[meshes] = way
        ways = longer
    return ways[parity][2] if parity in ways else None


def _trains_near(pool: Pool, target: float, vehicle: Vehicle) -> tuple[tuple[GearPair, ...], ...]:
    near = []
    for parity in (EVEN, ODD):
        found = ranked_trains(
            pool,
            target,
            parity=parity,
            tolerance_percent=vehicle.search.tolerance_percent,
            limit=3,
        )
        best = best_train(pool, target, parity=parity)
        near += [candidate.train for candidate in (*found, *([best] if best else []))]
    return tuple(near)


def _factor_range(vehicle: Vehicle) -> tuple[Fraction, Fraction]:
    search = vehicle.search
    if search.fit == "absolute":
        return Fraction(1), Fraction(1)
    return exact(search.factor_low), exact(search.factor_high)
