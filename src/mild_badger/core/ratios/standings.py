"""Pairs that can stand between the same two shafts, for every distance the shafts may have.

With made gears a distance belongs to a tooth sum; on a grid to a whole-unit offset, where a pair
counts if it runs there. A *standing* is one such distance with all its pairs.
"""

from dataclasses import dataclass, field
from functools import lru_cache
from itertools import product
from math import log

import numpy as np
from numpy.typing import NDArray

from mild_badger.core.mesh.centres import (
    MOST_SUM_APART,
    TIP_ROOM_TEETH,
    Centre,
    reaches_over,
)
from mild_badger.core.mesh.seats import seats
from mild_badger.core.ratios.lanes import CandidateList, GearGoal
from mild_badger.core.ratios.pool import Floats, Ints, pack
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.train import GearPair, Role

__all__ = ["CentreOption", "Pairs", "Shafts", "standings", "standings_of_sizes"]


@dataclass(frozen=True)
class Shafts:
    """What the pairs between two shafts obey.

    Parameters
    ----------
    coupled
        Sizes that a sleeve may couple, so that the gear it couples must be one; None for any.
    couples
        Which gear of a pair that is; None where gears slide and none runs free.
    profile_shift
        Whether a tooth sum one off may be made up for by profile shift.
    max_tooth_sum
        Greatest tooth sum, which is a greatest centre distance; None for no limit.
    """

    coupled: tuple[int, ...] | None = None
    couples: Role | None = "driven"
    profile_shift: bool = False
    max_tooth_sum: int | None = None


@dataclass(frozen=True)
class Pairs:
    """Pairs of one standing, ascending by ratio, the one with the fewest teeth for each ratio.

    ``idler`` is 0 where there is none.
    """

    driver: Ints
    driven: Ints
    idler: Ints
    log_ratio: Floats
    cost: Ints

    @classmethod
    def of(cls, driver: Ints, driven: Ints, idler: Ints) -> "Pairs":
        """Sort pairs and keep one a ratio."""
        teeth = driver + driven + idler
        order = np.lexsort((teeth, driven / driver))
        ratio = (driven / driver)[order]  # quotients of equal small fractions are equal floats
        keep = order[np.flatnonzero(np.diff(ratio, prepend=-1.0))]
        a, b, z = driver[keep], driven[keep], idler[keep]
        cost = pack(1, 2, 0) + teeth[keep] + np.where(z > 0, pack(0, 1, 0), 0)
        return cls(a, b, z, np.log(b / a), cost)

    def __len__(self) -> int:
        return len(self.driver)

    def pair(self, place: int) -> GearPair:
        """Give a pair."""
        z = int(self.idler[place])
        return GearPair(
            driver=int(self.driver[place]),
            driven=int(self.driven[place]),
            idlers=(z,) if z else (),
        )

    def every(self) -> tuple[GearPair, ...]:
        """Give all pairs."""
        return tuple(self.pair(n) for n in range(len(self)))

    def lane(
        self,
        goal: GearGoal,
        before: tuple[GearPair, ...] = (),
        after: tuple[GearPair, ...] = (),
        *,
        direct: bool = False,
    ) -> CandidateList | None:
        """Give one gear's options with pairs before and after; the direct drive too if it may be.

        None where there is no option.
        """
        top, bottom = self.driven.copy(), self.driver.copy()
        for pair in (*before, *after):
            top, bottom = top * pair.driven, bottom * pair.driver
        cost, source = self.cost, np.arange(len(self.cost))
        if direct:
            other = top != bottom  # a pair that gives 1 : 1 as well is never cheaper
            place = int(np.count_nonzero(top[other] < bottom[other]))
            top, bottom = (np.insert(side[other], place, 1) for side in (top, bottom))
            cost = np.insert(cost[other], place, 0)
            source = np.insert(source[other], place, -1)
        if goal.kept:
            places = enumerate(source.tolist())
            same = [n for n, place in places if place >= 0 and self.pair(place) == goal.kept[-1]]
            keep = np.array(same, dtype=np.intp)
            top, bottom, cost, source = (x[keep] for x in (top, bottom, cost, source))
        if not len(top):
            return None
        common = np.gcd(top, bottom)
        return CandidateList(
            goal=goal,
            numerator=top // common,
            denominator=bottom // common,
            log_x=np.log(top / bottom) - log(goal.target),
            cost=cost,
            train=_PairAt(self, source, before, after),
        )


@dataclass(frozen=True)
class _PairAt:
    """Makes a lane's trains; source −1 is the direct drive."""

    pairs: Pairs
    source: NDArray[np.intp]
    before: tuple[GearPair, ...]
    after: tuple[GearPair, ...]

    def __call__(self, position: int) -> tuple[GearPair, ...]:
        place = int(self.source[position])
        return () if place < 0 else (*self.before, self.pairs.pair(place), *self.after)


@dataclass(frozen=True)
class _AtSum:
    """Whether a pair stands at the distance of a tooth sum."""

    sizes: tuple[int, ...]
    total: int
    apart: int

    def __call__(self, pair: GearPair) -> bool:
        own = pair.driver + pair.driven
        if not pair.idlers:
            return abs(own - self.total) <= self.apart
        return own <= self.total - TIP_ROOM_TEETH and own + 2 * pair.idlers[0] >= self.total


@dataclass(frozen=True)
class _AtOffset:
    """Whether a pair stands at a whole-unit offset of a kit's grid."""

    kit: Kit
    centre: Centre
    plain: frozenset[tuple[int, int, int]]

    @property
    def sizes(self) -> tuple[int, ...]:
        return self.kit.sizes

    def __call__(self, pair: GearPair) -> bool:
        if not pair.idlers:
            return (pair.driver, pair.driven, 0) in self.plain
        return reaches_over(self.kit, pair, self.centre)


@dataclass(frozen=True, eq=False)
class CentreOption:
    """A distance between two shafts, with the pairs that stand there.

    ``ahead`` are plain pairs of which a sleeve may couple a gear; ``fixed`` plain pairs of any
    sizes, as for a pair in constant mesh; ``back`` reach over one idler and turn the other way.
    ``shafts`` is what all obey, ``rows`` the drivers, driven gears and idlers of all of ``ahead``
    and ``back``, those of one ratio among them.
    """

    tooth_sum: int
    distance_mm: float
    ahead: Pairs
    fixed: Pairs
    back: Pairs
    stands: _AtSum | _AtOffset = field(repr=False)
    shafts: Shafts
    rows: tuple[Ints, Ints] = field(repr=False)

    def with_driven(self, teeth: int) -> tuple[Pairs, Pairs]:
        """Give ``ahead`` and ``back`` of the pairs with one driven gear alone."""
        ahead, back = (Pairs.of(*side[:, side[1] == teeth]) for side in self.rows)
        return ahead, back

    def alike(self, pair: GearPair, *, coupled: bool) -> tuple[GearPair, ...]:
        """List every pair that stands here with a pair's ratio and as many idlers.

        ``Pairs`` hold one a ratio; what the stock allows may be another. With ``coupled`` a
        sleeve must be able to couple its gear.
        """
        alike = []
        sizes = self.stands.sizes
        for driver in sizes:
            driven, rest = divmod(driver * pair.driven, pair.driver)
            if rest or driven not in sizes:
                continue
            sleeved = driver if self.shafts.couples == "driver" else driven
            if coupled and self.shafts.coupled is not None and sleeved not in self.shafts.coupled:
                continue
            for idlers in product(sizes, repeat=len(pair.idlers)):
                other = GearPair(driver=driver, driven=driven, idlers=idlers)
                if self.stands(other):
                    alike.append(other)
        return tuple(alike)


def standings_of_sizes(
    sizes: tuple[int, ...], *, module_mm: float = 1.0, shafts: Shafts | None = None
) -> tuple[CentreOption, ...]:
    """List the standings of gears that sit at any distance, by tooth sum, ascending."""
    return _by_sums(tuple(sorted(set(sizes))), module_mm, shafts or Shafts())


def standings(
    kit: Kit, *, seated: bool = True, shafts: Shafts | None = None
) -> tuple[CentreOption, ...]:
    """List a kit's standings: by whole-unit offset on a grid, else by tooth sum, ascending.

    Without ``seated`` the grid is left out of account.
    """
    wanted = shafts or Shafts()
    if kit.any_seat or not seated:
        return _by_sums(kit.sizes, kit.module_mm, wanted)
    return _by_offsets(kit, wanted)


@lru_cache(maxsize=8)
def _by_sums(sizes: tuple[int, ...], module_mm: float, shafts: Shafts) -> tuple[CentreOption, ...]:
    every = np.array(sizes, dtype=np.int64)
    a, b = (side.reshape(-1) for side in np.meshgrid(every, every, indexing="ij"))
    apart = MOST_SUM_APART if shafts.profile_shift else 0
    made = []
    for total in np.unique(a + b).tolist():
        if shafts.max_tooth_sum is not None and total > shafts.max_tooth_sum:
            break
        stands = np.abs(a + b - total) <= apart
        plain = np.stack([a[stands], b[stands], np.zeros_like(a[stands])])
        wanted = np.maximum(total - a - b + 1, 0) // 2  # least idler that bridges the rest
        place = np.searchsorted(every, wanted)
        bridged = (a + b <= total - TIP_ROOM_TEETH) & (place < len(every))
        back = np.stack([a[bridged], b[bridged], every[place[bridged]]])
        rule = _AtSum(sizes, total, apart)
        made.append(_standing(rule, total * module_mm / 2, plain, back, shafts))
    return tuple(made)


@lru_cache(maxsize=8)
def _by_offsets(kit: Kit, shafts: Shafts) -> tuple[CentreOption, ...]:
    by_offset: dict[tuple[int, int], list[tuple[int, int, int]]] = {}
    distance: dict[tuple[int, int], float] = {}
    for a, b in product(kit.sizes, repeat=2):
        for seat in seats(kit, a, b):
            offset = (round(seat.dx_u), round(seat.dy_u))
            by_offset.setdefault(offset, []).append((a, b, 0))
            distance[offset] = seat.engagement.centre_distance_mm
    made = []
    for offset in sorted(by_offset, key=lambda o: (distance[o], o)):
        total = round(2 * distance[offset] / kit.module_mm)
        if shafts.max_tooth_sum is not None and total > shafts.max_tooth_sum:
            continue
        centre = Centre(distance[offset], total, offset)
        back = [
            (a, b, z)
            for a, b in product(kit.sizes, repeat=2)
            if (z := _bridge(kit, a, b, centre)) is not None
        ]
        plain = np.array(by_offset[offset], dtype=np.int64).T
        reverse = np.array(back, dtype=np.int64).reshape(-1, 3).T
        rule = _AtOffset(kit, centre, frozenset(by_offset[offset]))
        made.append(_standing(rule, distance[offset], plain, reverse, shafts))
    return tuple(made)


def _bridge(kit: Kit, a: int, b: int, centre: Centre) -> int | None:
    """Smallest idler over which a pair reaches between shafts of the grid; None if none does."""
    for z in kit.sizes:
        if reaches_over(kit, GearPair(driver=a, driven=b, idlers=(z,)), centre):
            return z
    return None


def _standing(
    rule: _AtSum | _AtOffset,
    distance_mm: float,
    plain: Ints,
    back: Ints,
    shafts: Shafts,
) -> CentreOption:
    total = rule.total if isinstance(rule, _AtSum) else rule.centre.tooth_sum
    if shafts.coupled is None:
        ahead, reverse = plain, back
    else:
        row = 0 if shafts.couples == "driver" else 1
        ahead, reverse = (rows[:, np.isin(rows[row], shafts.coupled)] for rows in (plain, back))
    of, rows = Pairs.of, (ahead, reverse)
    return CentreOption(
        total, distance_mm, of(*ahead), of(*plain), of(*reverse), rule, shafts, rows
    )
