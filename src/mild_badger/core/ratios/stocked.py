"""Sets that keep within what the builder owns, exactly.

A set that was found without regard to stock and keeps within it is the best there is. Otherwise
every train of a ratio counts, not just its cheapest: at each factor worth looking at the trains in
reach are shared out so that no size is used more often than there are gears of it.
"""

from collections import Counter
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from fractions import Fraction
from itertools import permutations, product
from math import log

import numpy as np

from mild_badger.core.message import say
from mild_badger.core.ratios.fewest import cheapest_spots, smallest_lanes
from mild_badger.core.ratios.lanes import (
    CandidateList,
    Impossible,
    SetMatch,
    recentred,
    set_of,
)
from mild_badger.core.ratios.least import best_lanes
from mild_badger.core.ratios.pool import IMPOSSIBLE, RatioTable, train_cost, unpack
from mild_badger.core.vehicle.train import GearPair, Role
from mild_badger.core.watch import UNWATCHED, Watch

__all__ = [
    "Have",
    "Part",
    "TrainsAt",
    "Usage",
    "best_stocked",
    "every_train",
    "pool_trains",
    "smallest_stocked",
    "used_by",
]

Part = tuple[int, str]
"""A size and its bore: fixed, free, or any where bores are not told apart."""
Have = Mapping[Part, int]
"""How many there are of each part; a part that is not named can be had at will."""
Usage = Callable[[tuple[GearPair, ...]], Counter[Part]]
TrainsAt = Callable[[int, int], list[tuple[GearPair, ...]]]
"""Gives every train of a lane (by number) at a position."""

_HAIR = Fraction(1_000_000_001, 1_000_000_000)
_WORST = Fraction(1_000_000)
_HALVINGS = 24


def used_by(*, free: Role | None, any_bore: bool) -> Usage:
    """Make the function that counts the parts of a train.

    ``free`` is its free-running gear: the last driven one or the first driver, None for none;
    ``any_bore``: bores are not told apart.
    """

    def count(train: tuple[GearPair, ...]) -> Counter[Part]:
        used: Counter[Part] = Counter()
        for number, pair in enumerate(train):
            runs = {
                "driver": free == "driver" and number == 0,
                "driven": free == "driven" and number == len(train) - 1,
            }
            for teeth in pair.idlers:
                used[teeth, "any" if any_bore else "fixed"] += 1
            for teeth, role in ((pair.driver, "driver"), (pair.driven, "driven")):
                used[teeth, "any" if any_bore else "free" if runs[role] else "fixed"] += 1
        return used

    return count


def pool_trains(pool: RatioTable, lanes: tuple[CandidateList, ...]) -> TrainsAt:
    """Give the function that lists every train of a pool's lanes, with as few idlers as can be."""
    usable = {goal.parity: pool.usable(goal.parity) for goal in (lane.goal for lane in lanes)}
    known: dict[tuple[int, int], list[tuple[GearPair, ...]]] = {}

    def trains(number: int, position: int) -> list[tuple[GearPair, ...]]:
        goal = lanes[number].goal
        if goal.kept:
            return [goal.kept]
        index = int(usable[goal.parity][position])
        if (goal.parity, index) not in known:
            known[goal.parity, index] = every_train(pool, index, goal.parity)
        return known[goal.parity, index]

    return trains


def every_train(pool: RatioTable, index: int, parity: int) -> list[tuple[GearPair, ...]]:
    """List every train of a pool's ratio with a mesh parity, with as few idlers as can be."""
    trains: dict[tuple[GearPair, ...], None] = {}
    for choice in pool.choices_of(index):
        if pool.choice_cost[parity, choice] >= IMPOSSIBLE:
            continue
        drivers, driven = pool.sides(int(choice))
        options = []
        for order in sorted(set(permutations(driven))):
            for kinds in product((0, 1), repeat=len(drivers)):
                if (len(drivers) + sum(kinds)) % 2 != parity:
                    continue
                joins = [
                    pool.rules.joins(a, b, kind)
                    for a, b, kind in zip(drivers, order, kinds, strict=True)
                ]
                for between in product(*joins):
                    pairs = tuple(
                        GearPair(driver=a, driven=b, idlers=idlers)
                        for a, b, idlers in zip(drivers, order, between, strict=True)
                    )
                    options.append((sum(len(p.idlers) for p in pairs), pairs))
        fewest = min((count for count, _ in options), default=0)
        for count, pairs in options:
            if count == fewest:
                for train in _endings(pairs, pool.rules.last_driven):
                    trains.setdefault(train)
    return list(trains)


def _endings(
    pairs: tuple[GearPair, ...], allowed: tuple[int, ...] | None
) -> list[tuple[GearPair, ...]]:
    """Order pairs with the largest reduction first, each one last that may be."""
    ordered = sorted(pairs, key=lambda pair: -pair.driven / pair.driver)
    made = []
    for number, pair in enumerate(ordered):
        if allowed is None or pair.driven in allowed:
            rest = ordered[:number] + ordered[number + 1 :]
            made.append((*rest, pair))
    return made if allowed is not None else made[-1:]


@dataclass(frozen=True)
class _Option:
    position: int
    cost: int
    used: tuple[tuple[Part, int], ...]
    train: tuple[GearPair, ...]


class _Shop:
    """What there is, and every lane's options, made once each."""

    def __init__(
        self,
        lanes: tuple[CandidateList, ...],
        trains: TrainsAt,
        usage: Usage,
        have: Have,
        *,
        price: Callable[[tuple[GearPair, ...]], int],
    ) -> None:
        self.lanes, self._trains, self._usage, self.have = lanes, trains, usage, have
        self._price = price
        self._known: dict[tuple[int, int], list[_Option]] = {}

    def options(self, number: int, position: int) -> list[_Option]:
        key = (number, position)
        if key not in self._known:
            made = []
            for train in self._trains(number, position):
                used = self._usage(train)
                if all(self.have.get(part, count) >= count for part, count in used.items()):
                    made.append(_Option(position, self._price(train), tuple(used.items()), train))
            self._known[key] = made
        return self._known[key]

    def fits(self, matched: SetMatch) -> bool:
        """Whether a set keeps within what there is."""
        used: Counter[Part] = Counter()
        for gear in matched.gears:
            used += self._usage(gear.train)
        return all(self.have.get(part, count) >= count for part, count in used.items())

    def share(self, within: list[range], bound: int | None) -> tuple[int, list[_Option]] | None:
        """Give every lane one option at the least cost, no part used more often than it is there.

        None where that cannot be done, or not for less than the bound.
        """
        rows = [
            [option for place in window for option in self.options(number, place)]
            for number, window in enumerate(within)
        ]
        if not all(rows):
            return None
        return _shared_out(rows, self.have, bound)


def _shared_out(
    rows: list[list[_Option]], have: Have, bound: int | None
) -> tuple[int, list[_Option]] | None:
    demand: Counter[Part] = Counter()
    for row in rows:
        most: Counter[Part] = Counter()
        for option in row:
            most |= Counter(dict(option.used))
        demand += most
    scarce = sorted(part for part, count in demand.items() if have.get(part, count) < count)
    reduced = [_undominated(row, scarce) for row in rows]
    order = sorted(range(len(rows)), key=lambda n: len(reduced[n]))
    least = [min(cost for cost, _, _ in reduced[n]) for n in order]
    rest = [sum(least[place:]) for place in range(len(least) + 1)]
    ceiling = [bound if bound is not None else 1 << 62]
    best: list[list[_Option]] = []
    failed: dict[tuple[int, tuple[int, ...]], int] = {}

    def give(place: int, left: tuple[int, ...], paid: int, taken: list[_Option]) -> None:
        if paid + rest[place] >= ceiling[0]:
            return
        if place == len(order):
            ceiling[0] = paid
            best[:] = [list(taken)]
            return
        if failed.get((place, left), 1 << 62) <= paid:
            return
        failed[place, left] = paid
        for cost, used, option in reduced[order[place]]:
            after = tuple(a - b for a, b in zip(left, used, strict=True))
            if min(after, default=0) >= 0:
                give(place + 1, after, paid + cost, [*taken, option])

    give(0, tuple(have[part] for part in scarce), 0, [])
    if not best:
        return None
    taken = {order[place]: option for place, option in enumerate(best[0])}
    return ceiling[0], [taken[number] for number in range(len(rows))]


def _undominated(
    row: list[_Option], scarce: list[Part]
) -> list[tuple[int, tuple[int, ...], _Option]]:
    """Keep an option where none is both cheaper and easier on what is scarce; cheapest first."""
    kept: list[tuple[int, tuple[int, ...], _Option]] = []
    for option in sorted(row, key=lambda o: o.cost):
        counts = dict(option.used)
        used = tuple(counts.get(part, 0) for part in scarce)
        if not any(all(a <= b for a, b in zip(other, used, strict=True)) for _, other, _ in kept):
            kept.append((option.cost, used, option))
    return kept


def smallest_stocked(
    lanes: tuple[CandidateList, ...],
    trains: TrainsAt,
    usage: Usage,
    have: Have,
    *,
    low: Fraction,
    high: Fraction,
    tolerance: Fraction,
    price: Callable[[tuple[GearPair, ...]], int] = train_cost,
    watch: Watch = UNWATCHED,
) -> SetMatch | Impossible:
    """Find the smallest set within a tolerance and within what there is.

    Parameters
    ----------
    lanes, trains
        Every gear's ratios, and every train of a ratio.
    usage, have
        What a train uses, and how many there are.
    low, high, tolerance
        As for the smallest set without regard to stock.
    price
        What a train costs, packed, as the lanes have it.
    """
    plain = smallest_lanes(lanes, low=low, high=high, tolerance=tolerance)
    shop = _Shop(lanes, trains, usage, have, price=price)
    if isinstance(plain, Impossible) or shop.fits(plain):
        return plain
    matched = _stocked(shop, low=low, high=high, tolerance=tolerance, watch=watch)
    if matched is None:
        return Impossible(
            say(
                "ratios.no-set-keeps-every-gear-within-and-within",
                tolerance=100 * float(tolerance),
                gears=plain.cost.gears,
            )
        )
    return matched


def best_stocked(
    lanes: tuple[CandidateList, ...],
    trains: TrainsAt,
    usage: Usage,
    have: Have,
    *,
    low: Fraction,
    high: Fraction,
    price: Callable[[tuple[GearPair, ...]], int] = train_cost,
    watch: Watch = UNWATCHED,
) -> SetMatch | Impossible:
    """Find the set with the least worst error within what there is, to a billionth.

    See smallest_stocked for the parameters.
    """
    plain = best_lanes(lanes, low=low, high=high)
    shop = _Shop(lanes, trains, usage, have, price=price)
    if shop.fits(plain):
        return plain

    def within(tolerance: Fraction) -> SetMatch | None:
        return _stocked(shop, low=low, high=high, tolerance=tolerance, watch=watch, first=True)

    least = Fraction(plain.worst_error_percent) / 100
    matched = within(least * _HAIR + Fraction(1, 10**12))
    if matched is not None:
        return matched
    most = max(4 * least, Fraction(1, 50))
    while (matched := within(most)) is None:
        if most >= _WORST:
            return Impossible(say("ratios.no-set-keeps-within-the-stock-however-far"))
        least, most = most, min(2 * most, _WORST)
    for step in range(_HALVINGS):
        watch.tick(step / _HALVINGS, matched)
        worst = Fraction(matched.worst_error_percent) / 100
        if worst - least < worst / 10**6:
            break
        better = within((least + worst) / 2)
        if better is None:
            least = (least + worst) / 2
        else:
            matched = better
    while (better := within(Fraction(matched.worst_error_percent) / 100 / _HAIR)) is not None:
        matched = better
    return matched


def _stocked(
    shop: _Shop,
    *,
    low: Fraction,
    high: Fraction,
    tolerance: Fraction,
    watch: Watch,
    first: bool = False,
) -> SetMatch | None:
    """Go through the factors at which something comes into reach, cheapest bound first."""
    lanes, grow = shop.lanes, 1 + tolerance
    best: tuple[int, Fraction, list[_Option], Fraction] | None = None
    seen: set[tuple[tuple[int, int], ...]] = set()
    for total, spots in cheapest_spots(lanes, low=low, high=high, grow=grow):
        if best is not None and total > best[0]:
            break
        watch.tick(0.0)
        windows = [_reach(lane, spots, grow) for lane in lanes]
        key = tuple((w.start, w.stop) for w in windows)
        if key in seen or not all(windows):
            continue
        seen.add(key)
        shared = shop.share(windows, None if best is None else best[0] + 1)
        if shared is None:
            continue
        cost, options = shared
        square, middle = recentred(lanes, [o.position for o in options], low, high)
        if best is None or (cost, square) < best[:2]:
            best = (cost, square, options, middle)
        if first:
            break
    if best is None:
        return None
    gears = [
        (lane.goal, lane.ratio(o.position), o.train) for lane, o in zip(lanes, best[2], strict=True)
    ]
    return set_of(gears, best[3], best[1], unpack(best[0]))


def _reach(lane: CandidateList, k: Fraction, grow: Fraction) -> range:
    """Positions within the tolerance of a factor, decided exactly."""
    reach = log(grow) + 1e-9
    first = int(np.searchsorted(lane.log_x, log(k) - reach))
    last = int(np.searchsorted(lane.log_x, log(k) + reach, side="right"))
    while first < last and lane.x(first) * grow < k:
        first += 1
    while first < last and lane.x(last - 1) > k * grow:
        last -= 1
    return range(first, last)
