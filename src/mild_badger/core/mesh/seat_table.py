"""Every seat of every two sizes of a kit, good and bad, as a table to look things up in."""

from dataclasses import dataclass
from math import hypot

from mild_badger.core.mesh.seats import Seat, seat_at
from mild_badger.core.vehicle.kit import Kit

__all__ = ["SeatRow", "seat_table"]

NEAR_MM = 1.5
"""Seat errors up to which an offset is worth listing."""


@dataclass(frozen=True)
class SeatRow:
    """Two sizes at an offset, and how they sit there."""

    first: int
    second: int
    seat: Seat


def seat_table(kit: Kit, first: int | None = None, *, half_units: bool = False) -> list[SeatRow]:
    """List offsets (dx ≥ dy ≥ 0) of pairs near their nominal distance, those that bind or skip too.

    Parameters
    ----------
    kit
        Whose sizes; on a grid.
    first
        One size, or None for all pairs.
    half_units
        Whether shafts may stand between the grid's points.
    """
    if kit.any_seat:
        return []
    steps = 2 if half_units else 1
    rows = []
    for one in kit.sizes if first is None else (first,):
        for other in kit.sizes:
            if first is None and other < one:
                continue
            sizes = kit.size(one), kit.size(other)
            if sizes[0] is None or sizes[1] is None:
                continue
            nominal = (one + other) * kit.module_mm / 2
            reach = int((nominal + NEAR_MM) / kit.grid_unit_mm * steps) + 1
            for x in range(1, reach + 1):
                for y in range(x + 1):
                    # the error is cheap, how the teeth engage is not
                    if abs(hypot(x, y) / steps * kit.grid_unit_mm - nominal) > NEAR_MM + 1e-9:
                        continue
                    seat = seat_at(kit, sizes[0], sizes[1], (x / steps, y / steps))
                    if abs(seat.engagement.seat_error_mm) <= NEAR_MM:
                        rows.append(SeatRow(one, other, seat))
    return rows
