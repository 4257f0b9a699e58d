"""What a result depends on, so that it is found again while other fields are typed."""

from dataclasses import dataclass, field
from typing import Generic, TypeVar

from mild_badger.core.vehicle.model import Vehicle

__all__ = ["CacheKey", "Same", "ThisVehicle", "cache_key", "parts_key"]

T = TypeVar("T")


@dataclass(frozen=True)
class CacheKey:
    """A vehicle of which only ``what`` counts, for functions that remember their results."""

    what: tuple[object, ...]
    vehicle: Vehicle = field(compare=False)


class ThisVehicle:
    """A vehicle known by being the very same object: for what is asked of one many times over.

    Making a key of what determines a result takes longer than to look up a shaft's letter.
    """

    __slots__ = ("vehicle",)

    def __init__(self, vehicle: Vehicle) -> None:
        self.vehicle = vehicle

    def __hash__(self) -> int:
        return id(self.vehicle)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, ThisVehicle) and other.vehicle is self.vehicle


class Same(Generic[T]):
    """A value known by being the very same object, whether it could be hashed or not."""

    __slots__ = ("it",)

    def __init__(self, it: T) -> None:
        self.it = it

    def __hash__(self) -> int:
        return id(self.it)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Same) and other.it is self.it


RECORDS = frozenset({"name", "notes", "trial", "log", "assembly", "versions"})
"""Fields of the document that no part in space depends on."""


def parts_key(vehicle: Vehicle, *without: str) -> CacheKey:
    """Key parts in space by the very fields of the document, but for records and ``without``.

    Fields are known by being the same object, as an edit leaves those that it does not change.
    """
    names = (n for n in Vehicle.model_fields if n not in RECORDS and n not in without)
    slots = vehicle.trial.slots_in, vehicle.trial.slots_out  # of the sensor discs
    return CacheKey((*slots, *(Same(getattr(vehicle, name)) for name in names)), vehicle)


def cache_key(vehicle: Vehicle, *more: object) -> CacheKey:
    """Key a result by what the drivetrain and ``more`` determine, whatever else is in the document.

    Gears are in it with their names, as bodies bear them.
    """
    running = vehicle.running.shape if vehicle.running is not None else None
    return CacheKey(
        (
            vehicle.box,
            vehicle.kit.module_mm,
            vehicle.motor.turns,
            vehicle.clutch,
            vehicle.lever_drive,
            vehicle.display_engine,
            vehicle.final_drive,
            vehicle.differential,
            vehicle.additional_axles,
            vehicle.crane,
            running,
            vehicle.shaft_letters,
            tuple((gear.id, gear.name) for gear in vehicle.real.gears),
            *more,
        ),
        vehicle,
    )
