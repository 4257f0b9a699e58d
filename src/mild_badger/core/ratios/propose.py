"""What a vehicle's gears want of their trains, and single trains asked on its behalf.

Under its box's rules, its fit, its search settings. Results are trains to be taken by an edit;
nothing is changed here.
"""

from collections.abc import Hashable, Sequence
from dataclasses import replace
from math import sqrt

from mild_badger.core.mesh.centres import centre_of
from mild_badger.core.ratios.deep import build_deep, deep_candidates, is_deep
from mild_badger.core.ratios.final_drive import factor_square
from mild_badger.core.ratios.ladder import Rung, ladder
from mild_badger.core.ratios.lanes import GearGoal, SetMatch
from mild_badger.core.ratios.pool import (
    EVEN,
    ODD,
    Cost,
    RatioTable,
    build_pool,
    choice_count,
)
from mild_badger.core.ratios.rules import Rules, any_rules, grid_idlers, slot_rules
from mild_badger.core.ratios.single import Candidate, best_train, ranked_trains
from mild_badger.core.ratios.standings import Shafts, standings
from mild_badger.core.targets.speeds import deviation_percent, signed_error_percent
from mild_badger.core.units import exact
from mild_badger.core.vehicle.box import GearPair, Slot, Train, chain_ratio
from mild_badger.core.vehicle.boxes import (
    Box,
)
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.edit.slots import set_trains, with_places
from mild_badger.core.vehicle.model import Vehicle

__all__ = [
    "apply_set",
    "goals_of",
    "joined",
    "kept_trains",
    "ladder_for_gear",
    "max_tooth_sum",
    "pairs_for_gear",
    "search_places",
    "short_pool",
    "slot_pool",
    "slot_search_rules",
    "trains_are_quick",
    "trains_for_gear",
    "trains_key",
    "wanted_parity",
]

QUICK = 50_000
"""Choices up to which a pool is built in passing, with every train; above, in the background."""
FEW_SIZES = 20
SPREAD = 10


def wanted_parity(vehicle: Vehicle, gear: str) -> int:
    """Mesh parity with which a gear's chain of pairs drives the right way.

    One pair turns a two-shaft box's output over, and the final drive turns it back. A drive row
    alternates as the selector shafts do, so forward trains have an even number of meshes
    everywhere; a single input shaft does not, so columns alternate (domain.md §5).
    """
    target = vehicle.gear(gear)
    parity = ODD if target is not None and target.reverse else EVEN
    return 1 - parity if vehicle.box.flips(gear) else parity


def goals_of(vehicle: Vehicle) -> tuple[GearGoal, ...]:
    """Say what the box wants of each gear, those without a slot where they would go.

    In boxes other than the slot box odd parity just marks reverse.
    """
    box = vehicle.box
    placed = vehicle
    if box.free_trains:
        gears = [gear.id for gear in vehicle.real.gears]
        slots = tuple(with_places([s for s in box.slots if isinstance(s, Slot)], gears))
        placed = vehicle.model_copy(update={"box": box.model_copy(update={"slots": slots})})
    goals = []
    for gear in vehicle.real.gears:
        kept, second = kept_trains(placed.box, gear.id)
        parity = ODD if gear.reverse else EVEN
        if box.free_trains:
            parity = wanted_parity(placed, gear.id)
        goals.append(GearGoal(gear.id, exact(gear.ratio), parity, kept, second, gear.name))
    return tuple(goals)


def kept_trains(box: Box, gear: str) -> tuple[Train, Train]:
    """Give the train that a gear keeps, and the other branch of its differential; empty if none.

    In a range × splitter box that is its splitter and its range pair; else its own pairs alone. A
    lever drive's gear is a place of the fulcrum, which no train can keep.
    """
    slot = box.slot(gear)
    if slot is None or not slot.kept or box.lever is not None:
        return (), ()
    if isinstance(slot, Slot):
        return slot.train, slot.second
    return tuple(link.pair for link in box.chain(gear)) if box.ready(gear) else (), ()


def search_places(vehicle: Vehicle) -> tuple[object, ...]:
    """Give what of the box bears on a search, to tell a stale answer from a fresh one."""
    box = vehicle.box
    return (
        box.architecture,
        box.alternates,
        *((s.gear, isinstance(s, Slot) and s.column, kept_trains(box, s.gear)) for s in box.slots),
    )


def slot_search_rules(vehicle: Vehicle) -> Rules:
    """Give the rules of a slot box's trains under the vehicle's search settings."""
    search, kit = vehicle.search, vehicle.kit
    sums, gears = max_tooth_sum(vehicle), search.max_gears
    if search.seated or kit.any_seat:
        return slot_rules(kit, search.max_pairs, max_tooth_sum=sums, max_gears=gears)
    free = any_rules(kit.sizes, search.max_pairs, max_tooth_sum=sums, max_gears=gears)
    return replace(free, last_driven=kit.dog_sizes)


def max_tooth_sum(vehicle: Vehicle) -> int | None:
    """Give the greatest tooth sum that the greatest centre distance allows; None for no limit."""
    most = vehicle.search.max_centre_mm
    return None if most is None else int(2 * exact(most) / exact(vehicle.kit.module_mm))


def slot_pool(vehicle: Vehicle) -> RatioTable:
    """Build, or find again, the pool of a slot box's trains; the short ones of a very large kit.

    Where sizes abound each ratio is held with its cheapest train only.
    """
    rules = slot_search_rules(vehicle)
    if is_deep(rules):
        return build_deep(rules).shallow
    return build_pool(rules, cheapest_only=_abounds(rules))


def short_pool(vehicle: Vehicle) -> RatioTable:
    """Build, or find again, a pool for a single train by the way, which nobody shall wait for.

    Trains have two pairs at most where three make many choices; of a kit of very many sizes some
    are taken, evenly spread, for then enough trains come near any ratio.
    """
    rules = slot_search_rules(vehicle)
    if choice_count(rules) <= QUICK:
        return slot_pool(vehicle)
    pairs = min(rules.max_pairs, 2)
    search = vehicle.search.model_copy(update={"max_pairs": pairs})
    kept = {*_spread(vehicle.kit.sizes), *_spread(vehicle.kit.dog_sizes)}
    left = [size for size in vehicle.kit.sizes if size not in kept]
    kit = vehicle.kit.model_copy(update={"barred": (*vehicle.kit.barred, *left)})
    few = vehicle.model_copy(update={"kit": kit, "search": search})
    return build_pool(slot_search_rules(few))


def _spread(sizes: Sequence[int]) -> Sequence[int]:
    """Take some of the sizes, evenly spread, both ends among them."""
    count = min(len(sizes), SPREAD)
    return [sizes[round(n * (len(sizes) - 1) / max(count - 1, 1))] for n in range(count)]


def trains_are_quick(vehicle: Vehicle) -> bool:
    """Tell whether the trains of single gears are found at once: the kit has few sizes.

    On a grid many sizes make many ways to bridge two that do not seat.
    """
    kit = vehicle.kit
    if not kit.any_seat and len(kit.sizes) > FEW_SIZES:
        return False
    rules = slot_search_rules(vehicle)
    return choice_count(rules) <= QUICK and not is_deep(rules)


def trains_key(vehicle: Vehicle, gear: str) -> Hashable:
    """Give the parts of the document that the trains of one gear depend on."""
    return (
        gear,
        vehicle.real,
        vehicle.search,
        vehicle.kit,
        vehicle.box,
        vehicle.final_drive,
        vehicle.motor,
        vehicle.running,
    )


def _abounds(rules: Rules) -> bool:
    return rules.any_meshes and choice_count(rules) > QUICK


def apply_set(vehicle: Vehicle, matched: SetMatch) -> Edit:
    """Make the edit that gives every gear its train from a set."""
    return set_trains(vehicle, {gear.goal.gear: gear.train for gear in matched.gears})


def trains_for_gear(vehicle: Vehicle, gear: str, *, limit: int = 60) -> tuple[Candidate, ...]:
    """Rank the trains that one gear could have under the slot box's rules.

    Within the tolerance, or at least the nearest there is.
    """
    target = vehicle.gear(gear)
    if target is None:
        return ()
    pool = slot_pool(vehicle)
    parity = wanted_parity(vehicle, gear)
    factor = sqrt(factor_square(vehicle))
    ranked = ranked_trains(
        pool,
        target.ratio,
        parity=parity,
        tolerance_percent=vehicle.search.tolerance_percent,
        factor=factor,
        limit=limit,
    )
    rules = slot_search_rules(vehicle)
    if is_deep(rules):
        longer = deep_candidates(
            build_deep(rules),
            target.ratio,
            parity=parity,
            tolerance_percent=vehicle.search.tolerance_percent,
            factor=factor,
        )
        ranked = (*ranked[: max(limit - len(longer), 0)], *longer)
    if ranked:
        return ranked
    nearest = best_train(pool, target.ratio * factor, parity=parity)
    if nearest is None:
        return ()
    error = signed_error_percent(float(nearest.ratio), target.ratio, factor)
    reach = deviation_percent(error) * 1.2 + 0.1
    return ranked_trains(
        pool,
        target.ratio,
        parity=parity,
        tolerance_percent=reach,
        factor=factor,
        by="error",
        limit=5,
    )


def pairs_for_gear(
    vehicle: Vehicle, gear: str, *, limit: int = 30, driven: int | None = None
) -> tuple[Candidate, ...]:
    """Rank the own pairs a gear could have between its box's shafts, the nearest first.

    At the distance at which the box's other pairs stand; none in a slot box, where trains are free,
    in a range × splitter box, where pairs are shared, and while no pair gives the distance. With
    ``driven`` only pairs with that driven gear.
    """
    box, target = vehicle.box, vehicle.gear(gear)
    ways = box.ways(gear)
    if ways is None or target is None:
        return ()
    centre = centre_of(vehicle.kit, (link.pair for link in ways.group.links))
    if centre is None:
        return ()
    search, kit = vehicle.search, vehicle.kit
    shafts = Shafts(
        coupled=None if box.slides else kit.dog_sizes,
        couples=box.couples(gear),
        profile_shift=search.profile_shift and kit.any_seat,
    )
    standing = next(
        (
            s
            for s in standings(kit, seated=search.seated, shafts=shafts)
            if abs(s.distance_mm - centre.distance_mm) < 1e-6
        ),
        None,
    )
    if standing is None:
        return ()
    factor = sqrt(factor_square(vehicle))
    pairs = []
    ahead, back = (
        (standing.ahead, standing.back) if driven is None else standing.with_driven(driven)
    )
    for pair in (back if target.reverse else ahead).every():
        ratio = chain_ratio((*ways.before, pair, *ways.after))
        error = signed_error_percent(float(ratio), target.ratio, factor)
        teeth = pair.driver + pair.driven + sum(pair.idlers)
        cost = Cost(1, 2 + len(pair.idlers), teeth)
        pairs.append(Candidate(ratio=ratio, error_percent=error, train=(pair,), cost=cost))
    pairs.sort(key=lambda c: (deviation_percent(c.error_percent), c.cost))
    return tuple(pairs[:limit])


def ladder_for_gear(vehicle: Vehicle, gear: str) -> tuple[Rung, ...]:
    """Climb the fraction ladder of one gear under the slot box's rules; empty without a target."""
    target = vehicle.gear(gear)
    if target is None:
        return ()
    pool = slot_pool(vehicle)
    factor = sqrt(factor_square(vehicle))
    return ladder(pool, target.ratio, factor=factor, parity=wanted_parity(vehicle, gear))


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
