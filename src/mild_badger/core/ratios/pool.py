"""Every ratio that a kit's trains can reach, each with its cheapest train.

Ratios are exact: numerators and denominators are integers in lowest terms. A *choice* is which
sizes drive and which are driven; a *train* is a choice arranged into pairs with its idlers.
"""

from dataclasses import dataclass
from fractions import Fraction
from functools import cache
from itertools import combinations_with_replacement, permutations, product
from math import log

import numpy as np
from numpy.typing import NDArray

from mild_badger.core.ratios.rules import IdlerCost, Rules
from mild_badger.core.vehicle.model import GearPair

__all__ = ["EVEN", "ODD", "Cost", "Pool", "build_pool", "unpack"]

EVEN, ODD = 0, 1
"""Parity of a train's meshes: an even number keeps the direction, an odd one turns it over."""

IMPOSSIBLE = np.int64(1) << 62
_PAIR = np.int64(1) << 48
_GEAR = np.int64(1) << 32
_BARRED = np.int64(1) << 40

Ints = NDArray[np.int64]
Floats = NDArray[np.float64]


@dataclass(frozen=True, order=True)
class Cost:
    """What a train or a set takes, compared in this order."""

    pairs: int
    gears: int
    teeth: int


def unpack(packed: int) -> Cost:
    """Open a cost packed into one integer, or a sum of such."""
    return Cost(int(packed) >> 48, (int(packed) >> 32) & 0xFFFF, int(packed) & 0xFFFFFFFF)


@dataclass(frozen=True)
class Pool:
    """All choices, and the distinct ratios they give.

    Attributes
    ----------
    drivers, driven : (choices, max_pairs) tooth counts, zero where a train is shorter
    choice_cost : (2, choices) packed cost for either mesh parity, ``IMPOSSIBLE`` where barred
    choice_ratio : (choices,) index into the distinct ratios
    numerator, denominator, log_ratio : (ratios,) ascending
    ratio_cost : (2, ratios) least packed cost
    ratio_choice : (2, ratios) the choice that has it
    """

    rules: Rules
    drivers: Ints
    driven: Ints
    choice_cost: Ints
    choice_ratio: Ints
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

    def train(self, choice: int, parity: int) -> tuple[GearPair, ...]:
        """Arrange a choice into its cheapest train with that mesh parity.

        The last pair's driven gear obeys the rules; the other pairs come with the largest
        reduction first.
        """
        drivers = [int(z) for z in self.drivers[choice] if z]
        driven = [int(z) for z in self.driven[choice] if z]
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


@cache
def build_pool(rules: Rules) -> Pool:
    """Build the pool of every choice of up to ``rules.max_pairs`` pairs; kept once built."""
    sizes = np.array(rules.sizes, dtype=np.int64)
    joins = _join_costs(rules)
    blocks = [_choices(rules, sizes, joins, pairs) for pairs in range(1, rules.max_pairs + 1)]
    drivers = np.concatenate([block[0] for block in blocks])
    driven = np.concatenate([block[1] for block in blocks])
    cost = np.concatenate([block[2] for block in blocks], axis=1)
    top = np.where(driven, driven, 1).prod(axis=1)
    bottom = np.where(drivers, drivers, 1).prod(axis=1)
    common = np.gcd(top, bottom)
    top, bottom = top // common, bottom // common
    pairs, inverse = np.unique(np.stack([top, bottom], axis=1), axis=0, return_inverse=True)
    inverse = inverse.reshape(-1)
    order = np.argsort(pairs[:, 0] / pairs[:, 1], kind="stable")
    rank = np.empty_like(order)
    rank[order] = np.arange(len(order))
    choice_ratio = rank[inverse].astype(np.int64)
    numerator, denominator = pairs[order, 0], pairs[order, 1]
    ratio_cost = np.full((2, len(order)), IMPOSSIBLE)
    ratio_choice = np.zeros((2, len(order)), dtype=np.int64)
    for parity in (EVEN, ODD):
        by_cost = np.lexsort((cost[parity], choice_ratio))
        firsts = by_cost[np.unique(choice_ratio[by_cost], return_index=True)[1]]
        ratio_choice[parity] = firsts
        ratio_cost[parity] = cost[parity][firsts]
    return Pool(
        rules=rules,
        drivers=drivers,
        driven=driven,
        choice_cost=cost,
        choice_ratio=choice_ratio,
        numerator=numerator,
        denominator=denominator,
        log_ratio=np.log(numerator / denominator),
        ratio_cost=ratio_cost,
        ratio_choice=ratio_choice,
    )


def _join_costs(rules: Rules) -> Ints:
    """(2, sizes, sizes): idlers between two sizes, as idlers × gear unit + teeth."""
    n = len(rules.sizes)
    table = np.full((2, n, n), _BARRED, dtype=np.int64)
    for parity, i, j in product((0, 1), range(n), range(n)):
        entry = rules.idlers.entries[parity][i][j]
        if entry is not None:
            table[parity, i, j] = entry[0] * (1 << 20) + entry[1]
    return table


def _choices(rules: Rules, sizes: Ints, joins: Ints, pairs: int) -> tuple[Ints, Ints, Ints]:
    """All choices of exactly this many pairs, with their costs for both parities."""
    groups = np.array(list(combinations_with_replacement(range(len(sizes)), pairs)))
    left = np.repeat(np.arange(len(groups)), len(groups))
    right = np.tile(np.arange(len(groups)), len(groups))
    a, b = groups[left], groups[right]
    if rules.last_driven is not None:
        keep = np.isin(sizes[b], rules.last_driven).any(axis=1)
        a, b = a[keep], b[keep]
    fewest = np.full((2, len(a)), _BARRED, dtype=np.int64)
    for order in permutations(range(pairs)):
        even = np.zeros(len(a), dtype=np.int64)
        odd = np.full(len(a), _BARRED, dtype=np.int64)
        for position, other in enumerate(order):
            direct = joins[0, a[:, position], b[:, other]]
            over = joins[1, a[:, position], b[:, other]]
            even, odd = (
                np.minimum(even + direct, odd + over),
                np.minimum(even + over, odd + direct),
            )
        fewest = np.minimum(fewest, np.stack([even, odd]))
    if pairs % 2:  # an odd number of pairs turns over by itself
        fewest = fewest[::-1]
    idlers, idler_teeth = fewest >> 20, fewest & ((1 << 20) - 1)
    teeth = sizes[a].sum(axis=1) + sizes[b].sum(axis=1) + idler_teeth
    cost = pairs * _PAIR + (2 * pairs + idlers) * _GEAR + teeth
    cost = np.where(fewest >= _BARRED, IMPOSSIBLE, cost)
    pad = ((0, 0), (0, rules.max_pairs - pairs))
    return np.pad(sizes[a], pad), np.pad(sizes[b], pad), cost
