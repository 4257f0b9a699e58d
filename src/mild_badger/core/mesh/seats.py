"""Where a pair of kit gears sits on the grid, and how well.

The verdict follows reference practice: at nominal distance every kit pair is good; away from it
the contact ratio and the play that is left decide, by the kit's limits (handbook practice: a
contact ratio of 1.2 and more runs smoothly, below 1 the teeth let go).
"""

from dataclasses import dataclass
from enum import StrEnum
from functools import cache
from heapq import nsmallest
from math import ceil, hypot, pi, radians, sqrt
from typing import NamedTuple

from mild_badger.core.mesh.involute import Engagement, engagement
from mild_badger.core.vehicle.kit import GearSize, Kit

__all__ = ["NOMINAL_MM", "Seat", "SeatVerdict", "seat_at", "seats", "seats_well"]

NOMINAL_MM = 0.005
"""Within this seat error a pair counts as sitting at its nominal distance."""


class SeatVerdict(StrEnum):
    """How a pair sits: snug and loose still run, a pair that skips or binds does not."""

    GOOD = "good"
    SNUG = "snug"
    LOOSE = "loose"
    SKIPS = "skips"
    BINDS = "binds"

    @property
    def runs(self) -> bool:
        """Whether the pair can be used."""
        return self in (SeatVerdict.GOOD, SeatVerdict.SNUG, SeatVerdict.LOOSE)


@dataclass(frozen=True)
class Seat:
    """A pair at an offset of (dx, dy) grid units; whole ones where the kit sits on a grid."""

    dx_u: float
    dy_u: float
    engagement: Engagement
    play_mm: float
    verdict: SeatVerdict


class _Grid(NamedTuple):
    unit_mm: float
    module_mm: float
    pressure_angle_rad: float
    smooth_contact: float
    least_contact: float
    least_play_mm: float


def _grid_of(kit: Kit) -> _Grid:
    return _Grid(
        kit.grid_unit_mm,
        kit.module_mm,
        radians(kit.pressure_angle_deg),
        kit.smooth_contact,
        kit.least_contact,
        kit.least_play_mm,
    )


def seat_at(kit: Kit, first: GearSize, second: GearSize, offset_u: tuple[float, float]) -> Seat:
    """Judge a pair of gears at an offset; the play is the kit's allowance plus added backlash."""
    return _judge(_grid_of(kit), first, second, offset_u)


def _judge(grid: _Grid, first: GearSize, second: GearSize, offset_u: tuple[float, float]) -> Seat:
    mesh = engagement(
        (first.teeth, second.teeth),
        centre_distance_mm=grid.unit_mm * hypot(*offset_u),
        tip_diameters_mm=(first.tip_diameter_mm, second.tip_diameter_mm),
        module_mm=grid.module_mm,
        pressure_angle_rad=grid.pressure_angle_rad,
    )
    allowance = (first.tooth_thinning_mm + second.tooth_thinning_mm) / 2
    play = allowance + mesh.added_backlash_mm
    if abs(mesh.seat_error_mm) <= NOMINAL_MM:
        verdict = SeatVerdict.GOOD
    elif mesh.seat_error_mm < 0:
        verdict = SeatVerdict.SNUG if play >= grid.least_play_mm else SeatVerdict.BINDS
    elif mesh.contact_ratio < grid.least_contact:
        verdict = SeatVerdict.SKIPS
    else:
        verdict = (
            SeatVerdict.GOOD if mesh.contact_ratio >= grid.smooth_contact else SeatVerdict.LOOSE
        )
    return Seat(*offset_u, mesh, play, verdict)


def seats(kit: Kit, first: int, second: int) -> tuple[Seat, ...]:
    """List every whole-unit offset (dx ≥ dy ≥ 0) at which two sizes run, best first.

    Where the kit sits at any distance, the nominal one is the only entry, laid along x. Sizes that
    the kit does not have seat nowhere.
    """
    one, other = kit.size(first), kit.size(second)
    if one is None or other is None:
        return ()
    if kit.any_seat:
        distance_u = (first + second) * kit.module_mm / 2 / kit.grid_unit_mm
        return (_judge(_grid_of(kit), one, other, (distance_u, 0.0)),)
    return _seats(_grid_of(kit), one, other)


def seats_well(kit: Kit, first: int, second: int) -> bool:
    """Tell whether two sizes can sit together: on whole units, or at any distance."""
    one, other = kit.size(first), kit.size(second)
    if one is None or other is None:
        return False
    if second < first:  # the same either way, and looked for once
        one, other = other, one
    return kit.any_seat or _seat_somewhere(_grid_of(kit), one, other)


NEAR_MODULES = 3
"""Teeth of full depth reach one module: farther than this from the nominal distance none mesh."""
FARTHEST_U = 600
"""Two gears of 400 teeth of module 12 on the usual grid; beyond, nothing is looked for."""
MOST_SEATS = 40
"""On a usual grid two gears have fewer than ten; of a very fine one the nearest are enough."""


@cache
def _seats(grid: _Grid, one: GearSize, other: GearSize) -> tuple[Seat, ...]:
    judged = (_judge(grid, one, other, offset) for offset in _nearest(grid, one, other))
    return tuple(seat for seat in judged if seat.verdict.runs)


@cache
def _seat_somewhere(grid: _Grid, one: GearSize, other: GearSize) -> bool:
    return any(
        _judge(grid, one, other, offset).verdict.runs for offset in _nearest(grid, one, other)
    )


def _nearest(grid: _Grid, one: GearSize, other: GearSize) -> list[tuple[int, int]]:
    """List the offsets (dx ≥ dy ≥ 0) at which teeth can reach each other, nearest first."""
    nominal = (one.teeth + other.teeth) * grid.module_mm / 2
    radius = nominal / grid.unit_mm
    # about π/2 × radius × width offsets lie within a width of the radius, in an eighth of a turn
    width = min(NEAR_MODULES * grid.module_mm / grid.unit_mm, 8 * MOST_SEATS / (pi * radius))
    least, most = max(radius - width, 0.0), min(radius + width, FARTHEST_U)
    offsets = (
        (abs(hypot(dx, dy) * grid.unit_mm - nominal), dx, dy)
        for dx in range(max(ceil(least / sqrt(2)), 1), int(most) + 1)
        for dy in range(
            ceil(sqrt(max(least**2 - dx**2, 0.0))), min(dx, int(sqrt(most**2 - dx**2))) + 1
        )
    )
    return [(dx, dy) for _, dx, dy in nsmallest(MOST_SEATS, offsets)]
