"""Every ratio that a kit's trains can reach, each with its cheapest train.

Ratios are exact: numerators and denominators are integers in lowest terms. A *choice* is which
sizes drive and which are driven; a *train* is a choice arranged into pairs with its idlers.
"""

from collections import OrderedDict
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property
from itertools import combinations_with_replacement, permutations, product
from math import comb, log

import numpy as np
from numpy.typing import NDArray

from mild_badger.core.errors import InputError
from mild_badger.core.message import say
from mild_badger.core.ratios.rules import IdlerCost, Rules
from mild_badger.core.ratios.train import gear_count
from mild_badger.core.vehicle.box import GearPair

__all__ = [
    "EVEN",
    "IMPOSSIBLE",
    "MOST_CHOICES",
    "ODD",
    "Cost",
    "Floats",
    "Ints",
    "RatioTable",
    "build_pool",
    "choice_count",
    "make_pool",
    "pack",
    "pool_at_hand",
    "train_cost",
    "unpack",
]

EVEN, ODD = 0, 1
"""Parity of a train's meshes: an even number keeps the direction, an odd one turns it over."""

IMPOSSIBLE = np.int64(1) << 62
_PAIR = np.int64(1) << 48
_GEAR = np.int64(1) << 32
_BARRED = np.int64(1) << 40
MOST_CHOICES = 12_000_000
"""Choices held at once: about half a gigabyte while a pool is built."""

Ints = NDArray[np.int64]
Floats = NDArray[np.float64]


@dataclass(frozen=True, order=True)
class Cost:
    """What a train or a set takes, compared in this order."""

    pairs: int
    gears: int
    teeth: int


def pack(pairs: int, gears: int, teeth: int) -> int:
    """Pack a cost into one integer that compares, and adds up, as the cost does."""
    return int(pairs * _PAIR + gears * _GEAR + teeth)


def train_cost(train: tuple[GearPair, ...]) -> int:
    """Pack what a given train costs."""
    teeth = sum(pair.driver + pair.driven + sum(pair.idlers) for pair in train)
    return pack(len(train), gear_count(train), teeth)


def unpack(packed: int) -> Cost:
    """Open a cost packed into one integer, or a sum of such."""
    return Cost(int(packed) >> 48, (int(packed) >> 32) & 0xFFFF, int(packed) & 0xFFFFFFFF)


@dataclass(frozen=True)
class RatioTable:
    """All choices, and the distinct ratios they give.

    Attributes
    ----------
    groups : for each number of pairs, (groups, pairs) tooth counts of one side of a train
    choice_pairs : (choices,) number of pairs
    choice_groups : (2, choices) which groups drive and are driven
    choice_cost : (2, choices) packed cost for either mesh parity, ``IMPOSSIBLE`` where barred
    choice_ratio : (choices,) index into the distinct ratios
    numerator, denominator, log_ratio : (ratios,) ascending
    ratio_cost : (2, ratios) least packed cost
    ratio_choice : (2, ratios) the choice that has it
    """

    rules: Rules
    groups: tuple[Ints, ...]
    choice_pairs: NDArray[np.int8]
    choice_groups: NDArray[np.int32]
    choice_cost: Ints
    choice_ratio: NDArray[np.int32]
    numerator: Ints
    denominator: Ints
    log_ratio: Floats
    ratio_cost: Ints
    ratio_choice: Ints

    def ratio(self, index: int) -> Fraction:
        """Give a distinct ratio as an exact fraction."""
        return Fraction(int(self.numerator[index]), int(self.denominator[index]))

    def find(self, ratio: Fraction) -> int | None:
        """Find the index of an exact ratio, None if no train gives it."""
        near = int(np.searchsorted(self.log_ratio, log(ratio) - 1e-12))
        for index in range(near, min(near + 3, len(self.log_ratio))):
            if self.ratio(index) == ratio:
                return index
        return None

    def usable(self, parity: int) -> NDArray[np.intp]:
        """Give the indices of the distinct ratios that some train of this parity reaches."""
        return np.flatnonzero(self.ratio_cost[parity] < IMPOSSIBLE)

    @cached_property
    def _by_ratio(self) -> tuple[Ints, Ints]:
        order = np.argsort(self.choice_ratio, kind="stable")
        return order, np.searchsorted(self.choice_ratio[order], np.arange(len(self.log_ratio) + 1))

    def choices_of(self, index: int) -> Ints:
        """List the choices that give a distinct ratio."""
        order, starts = self._by_ratio
        return order[starts[index] : starts[index + 1]]

    def smallest(self, choices: NDArray[np.intp]) -> Ints:
        """Give the fewest teeth that a gear of each choice's pairs has."""
        least = [group.min(axis=1) for group in self.groups]
        drivers, driven = self.choice_groups[:, choices]
        fewest = np.zeros(len(choices), dtype=np.int64)
        for pairs, own in enumerate(least, start=1):
            mine = self.choice_pairs[choices] == pairs
            fewest[mine] = np.minimum(own[drivers[mine]], own[driven[mine]])
        return fewest

    def sides(self, choice: int) -> tuple[list[int], list[int]]:
        """Give the sizes that drive and the sizes that are driven in a choice."""
        groups = self.groups[self.choice_pairs[choice] - 1]
        drivers, driven = ([int(z) for z in groups[side]] for side in self.choice_groups[:, choice])
        return drivers, driven

    def train(self, choice: int, parity: int) -> tuple[GearPair, ...]:
        """Arrange a choice into its cheapest train with that mesh parity.

        The last pair's driven gear obeys the rules; the other pairs come with the largest
        reduction first.
        """
        drivers, driven = self.sides(choice)
        _, pairs = min(
            arrangement
            for order in permutations(driven)
            if (arrangement := self._join(drivers, order, parity)) is not None
        )
        allowed = self.rules.last_driven
        ordered = sorted(pairs, key=lambda pair: -pair[1] / pair[0])
        for pair in reversed(ordered):
            if allowed is None or pair[1] in allowed:
                ordered.remove(pair)
                ordered.append(pair)
                break
        return tuple(GearPair(driver=a, driven=b, idlers=between) for a, b, between in ordered)

    def _join(
        self, drivers: list[int], driven: tuple[int, ...], parity: int
    ) -> tuple[tuple[int, int], list[tuple[int, int, tuple[int, ...]]]] | None:
        """Find the fewest idlers that join these pairs with the parity wanted."""
        wanted = (parity - len(drivers)) % 2
        best = None
        for kinds in product((0, 1), repeat=len(drivers)):
            if sum(kinds) % 2 != wanted:
                continue
            costs: list[IdlerCost | None] = [
                self.rules.idlers.cost(a, b, kind)
                for a, b, kind in zip(drivers, driven, kinds, strict=True)
            ]
            known = [cost for cost in costs if cost is not None]
            if len(known) < len(costs):
                continue
            total = (sum(c[0] for c in known), sum(c[1] for c in known))
            pairs = [(a, b, c[2]) for a, b, c in zip(drivers, driven, known, strict=True)]
            if best is None or (total, pairs) < best:
                best = (total, pairs)
        return best


def choice_count(rules: Rules) -> int:
    """How many choices the longest trains of a pool make, before equal products are merged."""
    return comb(len(rules.sizes) + rules.max_pairs - 1, rules.max_pairs) ** 2


_KEPT: OrderedDict[tuple[Rules, bool], RatioTable] = OrderedDict()
_MOST_KEPT = 6


def pool_at_hand(rules: Rules, *, cheapest_only: bool = False) -> bool:
    """Tell whether a pool has been built already, so that asking it is quick."""
    return (rules, cheapest_only) in _KEPT


def build_pool(rules: Rules, *, cheapest_only: bool = False) -> RatioTable:
    """Build a pool, or give the one that was built before; see make_pool."""
    key = (rules, cheapest_only)
    if key not in _KEPT:
        made = make_pool(rules, cheapest_only=cheapest_only)
        while len(_KEPT) >= _MOST_KEPT:
            _KEPT.popitem(last=False)
        _KEPT[key] = made
    return _KEPT[key]


def make_pool(rules: Rules, *, cheapest_only: bool = False) -> RatioTable:
    """Build the pool of every choice of up to ``rules.max_pairs`` pairs.

    With ``cheapest_only`` sides with the same product are represented by the one with the fewest
    teeth, which keeps every ratio and its least cost, but not every train; only for rules under
    which any sizes mesh.

    Raises
    ------
    InputError
        So many sizes and pairs that their products would not fit into memory.
    """
    blocks = [
        _block(rules, pairs, cheapest_only=cheapest_only) for pairs in range(1, rules.max_pairs + 1)
    ]
    cost = np.concatenate([block.cost for block in blocks], axis=1)
    top = np.concatenate([block.products[block.right] for block in blocks])
    bottom = np.concatenate([block.products[block.left] for block in blocks])
    sides = [np.stack([block.left, block.right]) for block in blocks]
    counts = [np.full(len(block.left), n, dtype=np.int8) for n, block in enumerate(blocks, 1)]
    groups = tuple(block.groups for block in blocks)
    del blocks  # the greatest of what is held; its memory is wanted below
    order, firsts, choice_ratio = _grouped(top, bottom)
    common = np.gcd(top[order[firsts]], bottom[order[firsts]])
    numerator, denominator = (side[order[firsts]] // common for side in (top, bottom))
    del top, bottom
    ratio_cost = np.full((2, len(numerator)), IMPOSSIBLE)
    ratio_choice = np.zeros((2, len(numerator)), dtype=np.int64)
    for parity in (EVEN, ODD):
        paid = cost[parity][order]
        ratio_cost[parity] = np.minimum.reduceat(paid, firsts)
        least = np.flatnonzero(paid == ratio_cost[parity][choice_ratio[order]])
        owners = choice_ratio[order[least]]
        ratio_choice[parity] = order[least[np.flatnonzero(np.diff(owners, prepend=-1))]]
    return RatioTable(
        rules=rules,
        groups=groups,
        choice_pairs=np.concatenate(counts),
        choice_groups=np.concatenate(sides, axis=1),
        choice_cost=cost,
        choice_ratio=choice_ratio,
        numerator=numerator,
        denominator=denominator,
        log_ratio=np.log(numerator / denominator),
        ratio_cost=ratio_cost,
        ratio_choice=ratio_choice,
    )


def _grouped(
    top: Ints, bottom: Ints
) -> tuple[NDArray[np.intp], NDArray[np.intp], NDArray[np.int32]]:
    """Order fractions ascending; give the order, where each distinct one starts, and its number.

    Distinct quotients of integers below 2^25 differ by more than double precision rounds, and
    equal ones round alike, so there the floats decide exactly; else the lowest terms do.
    """
    value = top / bottom
    if int(top.max(initial=1)) * int(bottom.max(initial=1)) < 1 << 50:
        order = np.argsort(value, kind="stable")
        new = np.diff(value[order], prepend=-1.0) != 0
    else:
        common = np.gcd(top, bottom)
        order = np.lexsort((top // common, value))
        new = (np.diff((top // common)[order], prepend=-1) != 0) | (
            np.diff((bottom // common)[order], prepend=-1) != 0
        )
    number = np.empty(len(order), dtype=np.int32)
    number[order] = np.cumsum(new) - 1
    return order, np.flatnonzero(new), number


def _join_costs(rules: Rules) -> Ints:
    """(2, sizes, sizes): idlers between two sizes, as idlers × gear unit + teeth."""
    n = len(rules.sizes)
    table = np.full((2, n, n), _BARRED, dtype=np.int64)
    for parity, i, j in product((0, 1), range(n), range(n)):
        entry = rules.idlers.entries[parity][i][j]
        if entry is not None:
            table[parity, i, j] = entry[0] * (1 << 20) + entry[1]
    return table


@dataclass(frozen=True)
class _Block:
    """Choices of one number of pairs: left drives, right is driven, by group."""

    groups: Ints
    products: Ints
    left: NDArray[np.int32]
    right: NDArray[np.int32]
    cost: Ints


def _block(rules: Rules, pairs: int, *, cheapest_only: bool) -> _Block:
    sizes = np.array(rules.sizes, dtype=np.int64)
    groups = np.array(list(combinations_with_replacement(range(len(sizes)), pairs)))
    products = sizes[groups].prod(axis=1)
    if cheapest_only:
        order = np.lexsort((sizes[groups].sum(axis=1), products))
        keep = order[np.flatnonzero(np.diff(products[order], prepend=-1))]
        groups, products = groups[keep], products[keep]
    if len(groups) ** 2 > MOST_CHOICES:
        raise InputError(
            say(
                "ratios.pairs-of-sizes-make-choices-more-than-the",
                pairs=pairs,
                count_of_sizes=len(sizes),
                count_of_groups=len(groups) ** 2,
                most_choices=MOST_CHOICES,
            )
        )
    left = np.repeat(np.arange(len(groups), dtype=np.int32), len(groups))
    right = np.tile(np.arange(len(groups), dtype=np.int32), len(groups))
    if rules.last_driven is not None:
        ends_well = np.any(np.isin(sizes[groups], rules.last_driven), axis=1).reshape(-1)
        allowed = ends_well[right]
        left, right = left[allowed], right[allowed]
    if cheapest_only:
        fewest = np.array([[0], [(1 << 20) + rules.sizes[0]]])
    else:
        fewest = _fewest_idlers(_join_costs(rules), groups, left, right)
    if pairs % 2:  # an odd number of pairs turns over by itself
        fewest = fewest[::-1]
    side_teeth = sizes[groups].sum(axis=1)
    cost = np.empty((2, len(left)), dtype=np.int64)
    for parity, idlers in enumerate(fewest):
        row = cost[parity]
        np.add(side_teeth[left], side_teeth[right], out=row)
        np.add(row, idlers & ((1 << 20) - 1), out=row)
        np.add(row, pairs * _PAIR + (2 * pairs + (idlers >> 20)) * _GEAR, out=row)
        row[np.broadcast_to(idlers >= _BARRED, row.shape)] = IMPOSSIBLE
        if rules.max_gears is not None:
            row[(row >> 32) & 0xFFFF > rules.max_gears] = IMPOSSIBLE
    return _Block(sizes[groups], products, left, right, cost)


def _fewest_idlers(
    joins: Ints, groups: Ints, left: NDArray[np.int32], right: NDArray[np.int32]
) -> Ints:
    """(2, choices): idlers for an even and an odd number of them, over every pairing."""
    a, b = groups[left], groups[right]
    fewest = np.full((2, len(left)), _BARRED, dtype=np.int64)
    for order in permutations(range(groups.shape[1])):
        even = np.zeros(len(left), dtype=np.int64)
        odd = np.full(len(left), _BARRED, dtype=np.int64)
        for position, other in enumerate(order):
            direct = joins[0, a[:, position], b[:, other]]
            over = joins[1, a[:, position], b[:, other]]
            even, odd = (
                np.minimum(even + direct, odd + over),
                np.minimum(even + over, odd + direct),
            )
        fewest = np.minimum(fewest, np.stack([even, odd]))
    return fewest
