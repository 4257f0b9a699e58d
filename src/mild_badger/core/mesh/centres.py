"""The one centre distance of pairs that stand between the same two shafts."""

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass
from itertools import pairwise
from math import radians

from mild_badger.core.mesh.seats import seats
from mild_badger.core.mesh.shift import ProfileShift, profile_shift
from mild_badger.core.message import say
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.vehicle.kit import Kit

__all__ = [
    "MOST_SUM_APART",
    "TIP_ROOM_TEETH",
    "Centre",
    "centre_of",
    "fits_between",
    "reaches_over",
    "shift_at",
]

MOST_SUM_APART = 1
"""A tooth sum one off can be met by profile shift (domain.md §5)."""
TIP_ROOM_TEETH = 5
"""Tooth sum by which a reverse pair must fall short: four for the tips to touch, one to clear."""


@dataclass(frozen=True)
class Centre:
    """A distance between two parallel shafts.

    ``offset_u`` is its place on the grid where the kit has one; ``tooth_sum`` is the nominal sum
    that belongs to it, the nearest whole one on a grid.
    """

    distance_mm: float
    tooth_sum: int
    offset_u: tuple[int, int] | None = None


def centre_of(kit: Kit, pairs: Iterable[GearPair]) -> Centre | None:
    """Find the distance at which most of some pairs run; pairs with idlers come second.

    On a grid among the whole-unit offsets of each pair, the one that suits most pairs and is
    snuggest for them; elsewhere the tooth sum from which most pairs are no more than one off and
    most bridge over their idlers. None where there is no pair to go by.
    """
    every = list(pairs)
    plain = [pair for pair in every if not pair.idlers]
    if not plain:
        return None
    if kit.any_seat:
        return _commonest(kit, every, plain)
    votes: Counter[tuple[int, int]] = Counter()
    errors: dict[tuple[int, int], float] = {}
    distances: dict[tuple[int, int], float] = {}
    for pair in plain:
        for seat in seats(kit, pair.driver, pair.driven):
            offset = (round(seat.dx_u), round(seat.dy_u))
            votes[offset] += 1
            errors[offset] = errors.get(offset, 0.0) + abs(seat.engagement.seat_error_mm)
            distances[offset] = seat.engagement.centre_distance_mm
    if not votes:
        return None
    best = min(votes, key=lambda offset: (-votes[offset], errors[offset], offset))
    return Centre(distances[best], round(2 * distances[best] / kit.module_mm), best)


def _commonest(kit: Kit, every: list[GearPair], plain: list[GearPair]) -> Centre:
    sums = Counter(pair.driver + pair.driven for pair in plain)
    best: tuple[tuple[int, int, int, int], Centre] | None = None
    for total in sorted({tooth_sum + off for tooth_sum in sums for off in (-1, 0, 1)}):
        centre = Centre(total * kit.module_mm / 2, total)
        near = sum(sums[total + off] for off in (-1, 0, 1))
        bridged = sum(1 for p in every if p.idlers and reaches_over(kit, p, centre))
        key = (near, bridged, sums[total], -total)
        if best is None or key > best[0]:
            best = (key, centre)
    if best is None:
        raise ValueError(say("mesh.no-pair-to-go-by"))
    return best[1]


def fits_between(kit: Kit, pair: GearPair, centre: Centre, *, shifted: bool) -> bool:
    """Tell whether a pair, over its idlers if it has any, stands between shafts that far apart.

    ``shifted`` allows a tooth sum one off, made up for by profile shift, where teeth are cut.
    """
    if pair.idlers:
        return reaches_over(kit, pair, centre)
    if not kit.any_seat:
        return any(
            (round(s.dx_u), round(s.dy_u)) == centre.offset_u
            for s in seats(kit, pair.driver, pair.driven)
        )
    apart = abs(pair.driver + pair.driven - centre.tooth_sum)
    return apart <= (MOST_SUM_APART if shifted else 0)


def reaches_over(kit: Kit, pair: GearPair, centre: Centre) -> bool:
    """Tell whether a pair's idler bridges the distance while driver and driven stay apart."""
    if pair.driver + pair.driven > centre.tooth_sum - TIP_ROOM_TEETH:
        return False
    row = (pair.driver, *pair.idlers, pair.driven)
    if kit.any_seat or centre.offset_u is None:
        reach = sum(a + b for a, b in pairwise(row)) * kit.module_mm / 2
        return reach >= centre.distance_mm - 1e-9
    here = {(0, 0)}
    for a, b in pairwise(row):
        steps = {
            (x * sx, y * sy)
            for seat in seats(kit, a, b)
            for x, y in (
                (round(seat.dx_u), round(seat.dy_u)),
                (round(seat.dy_u), round(seat.dx_u)),
            )
            for sx in (1, -1)
            for sy in (1, -1)
        }
        here = {(x + dx, y + dy) for x, y in here for dx, dy in steps}
    return centre.offset_u in here


def shift_at(kit: Kit, pair: GearPair, centre: Centre) -> ProfileShift | None:
    """Give the profile shift a made pair needs to stand at a distance; None where it needs none."""
    if not kit.any_seat or pair.idlers or pair.driver + pair.driven == centre.tooth_sum:
        return None
    try:
        return profile_shift(
            (pair.driver, pair.driven),
            centre_distance_mm=centre.distance_mm,
            module_mm=kit.module_mm,
            pressure_angle_rad=radians(kit.pressure_angle_deg),
        )
    except ValueError:
        return None
