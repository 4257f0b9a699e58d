"""The vehicle that a new document starts with."""

from mild_badger.core.message import say
from mild_badger.core.units import MM_PER_INCH
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


SIZES_MM = (700.0, 70.0, 140.0, 260.0)
INCH_SIZES_MM = tuple(MM_PER_INCH * inches for inches in (28, 2.75, 5.5, 10.25))
"""Tyre, wheel, track and wheelbase: round in the kit's own measure."""


def blank_vehicle(kit: Kit) -> Vehicle:
    """Make a vehicle of four gears and reverse, with round figures to type over and no trains.

    A kit that goes by diametral pitch is shown in inches.
    """
    bevels = sorted(bevel.teeth for bevel in kit.bevels) or [12, 20]
    inch = kit.diametral_pitch is not None
    tyre, wheel, track, wheelbase = INCH_SIZES_MM if inch else SIZES_MM
    gears = [
        GearTarget(name="1", ratio=4.0),
        GearTarget(name="2", ratio=2.4),
        GearTarget(name="3", ratio=1.5),
        GearTarget(name="4", ratio=1.0),
        GearTarget(name="R", ratio=3.8, reverse=True),
    ]
    vehicle = Vehicle(
        name=say("vehicle.new-vehicle"),
        real=RealVehicle(gears=tuple(gears), final_drive=4.0, tyre_diameter_mm=tyre),
        scale=Scale(denominator=10),
        kit=kit,
        units=INCH if inch else UnitSettings(),
        motor=Motor(no_load_rpm=4000, stall_torque_n_mm=100, working_rpm=3000),
        wheels=Wheels(diameter_mm=wheel),
        box=SlotBox(),
        final_drive=FinalDrive(pinion=bevels[0], crown=bevels[-1]),
        axle=Axle(track_mm=track, wheelbase_mm=wheelbase),
    )
    return apply_edit(vehicle, set_gears(vehicle, gears))
