"""The running gear of a vehicle: as planned, or in usual proportions until it is."""

from mild_badger.core.ids import AxleId
from mild_badger.core.message import say
from mild_badger.core.vehicle.chassis import (
    AxleShape,
    Chassis,
    RunningGear,
    ShaftLine,
    Steering,
    Suspension,
)
from mild_badger.core.vehicle.edit.change import Edit
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
    # A large wheel on a narrow track, and the like, must not build what the model refuses.
    width = _length(0.35 * wheel)
    kingpin = _slack(0.5 * width + 0.25 * unit)
    half = max(track / 2 - kingpin, 0.1 * track)
    arm = _length(0.28 * half)
    return RunningGear(
        shape=AxleShape(housing_mm=_length(crown + 4), arm_mm=_length(0.18 * wheel)),
        chassis=Chassis(
            tyre_width_mm=width,
            front_overhang_mm=_length(0.8 * wheel),
            front_low_mm=_length(0.6 * wheel),
            rear_overhang_mm=_length(0.8 * wheel),
            rear_low_mm=_length(0.6 * wheel),
            belly_mm=_length(0.6 * wheel),
            half_width_mm=_length(0.45 * half),
        ),
        steering=Steering(
            kingpin_mm=kingpin,
            arm_mm=arm,
            arm_angle_deg=14.0,
            rack_mm=_length(1.3 * half),
            rack_offset_mm=-_slack(0.85 * arm),
            travel_mm=_length(0.55 * arm),
            pinion_teeth=min(vehicle.kit.sizes),
            pinion_block_mm=_slack(0.75 * unit),
        ),
        suspension=Suspension(link_mm=_length(0.6 * half)),
        line=ShaftLine(),
    )


def _length(mm: float) -> float:
    """Keep a derived length within what the model takes: above 0, at most 100 m."""
    return min(max(round(mm, 1), 0.1), 100_000.0)


def _slack(mm: float) -> float:
    """Keep a derived distance within what the model takes: 0 to 1 m."""
    return min(max(round(mm, 1), 0.0), 1000.0)


def add_axle(vehicle: Vehicle) -> Edit:
    """Add a driven axle: the front one first, of the first axle's ratio, turning as it does."""
    final, number = vehicle.final_drive, len(vehicle.additional_axles)
    front = number == 0
    other: Side = "right" if final.crown_side == "left" else "left"
    name = say("axle.front-axle") if front else f"axle {number + 2}"
    made = DrivenAxle(
        id=AxleId(vehicle.new_id(name, (axle.id for axle in vehicle.additional_axles))),
        name=name,
        ahead_mm=vehicle.axle.wheelbase_mm if front else -1.3 * vehicle.wheels.diameter_mm * number,
        pinion=final.pinion,
        crown=final.crown,
        crown_side=other if front else final.crown_side,
        pinion_from="rear" if front else "front",
        steered=front,
    )
    return Edit.one(
        say("axle.add-a-driven-axle"), ("additional_axles",), (*vehicle.additional_axles, made)
    )


def plan_running(vehicle: Vehicle) -> Edit:
    """Start planning the running gear from the usual proportions."""
    return Edit.one(say("axle.plan-axle-and-steering"), ("running",), usual_running(vehicle))
