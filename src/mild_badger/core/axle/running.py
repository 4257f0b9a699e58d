"""The running gear of a vehicle: as planned, or in usual proportions until it is."""

from mild_badger.core.changes import Edit
from mild_badger.core.vehicle.chassis import (
    AxleShape,
    Chassis,
    RunningGear,
    ShaftLine,
    Steering,
    Suspension,
)
from mild_badger.core.vehicle.model import DrivenAxle, Vehicle
from mild_badger.core.vehicle.shifting import Side

__all__ = ["add_axle", "plan_running", "running_of", "usual_running"]


def running_of(vehicle: Vehicle) -> RunningGear:
    """Give the running gear as planned, or what would be usual."""
    return vehicle.running if vehicle.running is not None else usual_running(vehicle)


def usual_running(vehicle: Vehicle) -> RunningGear:
    """Give a running gear in proportion to track, wheelbase and wheels (invented proportions)."""
    track, wheel = vehicle.axle.track_mm, vehicle.wheels.diameter_mm
    unit = vehicle.kit.grid_unit_mm
    crown = vehicle.kit.module_mm * (vehicle.final_drive.crown + 2)
    width = round(0.35 * wheel, 1)
    kingpin = round(0.5 * width + 0.25 * unit, 1)
    half = track / 2 - kingpin
    arm = round(0.28 * half, 1)
    return RunningGear(
        shape=AxleShape(housing_mm=round(crown + 4, 1), arm_mm=round(0.18 * wheel, 1)),
        chassis=Chassis(
            tyre_width_mm=width,
            front_overhang_mm=round(0.8 * wheel, 1), front_low_mm=round(0.6 * wheel, 1),
            rear_overhang_mm=round(0.8 * wheel, 1), rear_low_mm=round(0.6 * wheel, 1),
            belly_mm=round(0.6 * wheel, 1), half_width_mm=round(0.45 * half, 1),
        ),
        steering=Steering(
            kingpin_mm=kingpin, arm_mm=arm, arm_angle_deg=14.0,
            rack_mm=round(1.3 * half, 1), rack_offset_mm=-round(0.85 * arm, 1),
            travel_mm=round(0.55 * arm, 1), pinion_teeth=min(vehicle.kit.sizes),
            pinion_block_mm=round(0.75 * unit, 1),
        ),
        suspension=Suspension(link_mm=round(0.6 * half, 1)),
        line=ShaftLine(),
    )  # fmt: skip


def add_axle(vehicle: Vehicle) -> Edit:
    """Add a driven axle: the front one first, of the first axle's ratio, turning as it does."""
    final, number = vehicle.final_drive, len(vehicle.more_axles)
    front = number == 0
    other: Side = "right" if final.crown_side == "left" else "left"
    made = DrivenAxle(
        name="front axle" if front else f"axle {number + 2}",
        ahead_mm=vehicle.axle.wheelbase_mm if front else -1.3 * vehicle.wheels.diameter_mm * number,
        pinion=final.pinion,
        crown=final.crown,
        crown_side=other if front else final.crown_side,
        pinion_from="rear" if front else "front",
        steered=front,
    )
    return Edit.one("Add a driven axle", ("more_axles",), (*vehicle.more_axles, made))


def plan_running(vehicle: Vehicle) -> Edit:
    """Start planning the running gear from the usual proportions."""
    return Edit.one("Plan axle and steering", ("running",), usual_running(vehicle))
