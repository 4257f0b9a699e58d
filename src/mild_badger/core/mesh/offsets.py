"""Every place on whole or half units at which two gears run in mesh."""

from dataclasses import dataclass
from functools import lru_cache

from mild_badger.core.mesh.seats import seat_at
from mild_badger.core.vehicle.kit import Kit

__all__ = ["Offset", "offsets"]


@dataclass(frozen=True)
class Offset:
    """One seat of two sizes: where the second stands from the first, and the seat error in mm."""

    dx: int
    dy: int
    error_mm: float


@lru_cache(maxsize=4096)
def offsets(kit: Kit, one: int, other: int, step: int) -> tuple[Offset, ...]:
    """List every seat of two sizes on whole units (step 2) or half ones (step 1), best first."""
    first, second = kit.size(one), kit.size(other)
    if first is None or second is None:
        return ()
    unit = kit.grid_unit_mm / 2
    reach = int((first.tip_diameter_mm + second.tip_diameter_mm) / 2 / unit) + 1
    places = []
    for dx in range(0, reach + 1, step):
        for dy in range(0, reach + 1, step):
            if not dx and not dy:
                continue
            seat = seat_at(kit, first, second, (dx / 2, dy / 2))
            if seat.verdict.runs:
                error = abs(seat.engagement.seat_error_mm)
                places += [
                    Offset(a, b, error) for a, b in {(dx, dy), (-dx, dy), (dx, -dy), (-dx, -dy)}
                ]
    return tuple(sorted(places, key=lambda o: (round(o.error_mm, 6), o.dx, o.dy)))
