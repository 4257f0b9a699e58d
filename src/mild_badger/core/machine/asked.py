"""What a figure depends on, so that it is found again while other fields are typed."""

from dataclasses import dataclass, field

from mild_badger.core.vehicle.model import Vehicle

__all__ = ["Asked", "asked"]


@dataclass(frozen=True)
class Asked:
    """A vehicle of which only ``what`` counts, for functions that remember their results."""

    what: tuple[object, ...]
    vehicle: Vehicle = field(compare=False)


def asked(vehicle: Vehicle, *more: object) -> Asked:
    """Ask what the drivetrain and ``more`` determine, whatever else stands in the document."""
    return Asked(
        (vehicle.kit, vehicle.box, vehicle.motor, vehicle.clutch, vehicle.lever_drive,
         vehicle.final_drive, vehicle.differential, vehicle.more_axles, vehicle.crane,
         tuple((gear.id, gear.name) for gear in vehicle.real.gears), *more),
        vehicle,
    )  # fmt: skip
