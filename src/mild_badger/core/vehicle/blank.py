"""The vehicle that a new document starts with."""

from mild_badger.core.vehicle.boxes import SlotBox
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.gears import set_gears
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.model import (
    Axle,
    FinalDrive,
    GearTarget,
    Motor,
    RealVehicle,
    Scale,
    Vehicle,
    Wheels,
)
from mild_badger.core.vehicle.units import INCH, UnitSettings

__all__ = ["blank_vehicle"]


def blank_vehicle(kit: Kit) -> Vehicle:
    """Make a vehicle of four gears and reverse, with round figures to type over and no trains.

    A kit that goes by diametral pitch is shown in inches.
    """
    bevels = sorted(bevel.teeth for bevel in kit.bevels) or [12, 20]
    gears = [
        GearTarget(name="1", ratio=4.0),
        GearTarget(name="2", ratio=2.4),
        GearTarget(name="3", ratio=1.5),
        GearTarget(name="4", ratio=1.0),
        GearTarget(name="R", ratio=3.8, reverse=True),
    ]
    vehicle = Vehicle(
        name="New vehicle",
        real=RealVehicle(gears=tuple(gears), final_drive=4.0, tyre_diameter_mm=700),
        scale=Scale(denominator=10),
        kit=kit,
        units=UnitSettings() if kit.diametral_pitch is None else INCH,
        motor=Motor(no_load_rpm=4000, stall_torque_n_mm=100, working_rpm=3000),
        wheels=Wheels(diameter_mm=70),
        box=SlotBox(),
        final_drive=FinalDrive(pinion=bevels[0], crown=bevels[-1]),
        axle=Axle(track_mm=140, wheelbase_mm=260),
    )
    return apply_edit(vehicle, set_gears(vehicle, gears))
