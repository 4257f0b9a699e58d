"""Speed in every gear against motor or engine speed, got and wanted, as lines to draw."""

from dataclasses import dataclass

from mild_badger.core.units import rim_speed_mm_s
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["SpeedLine", "speed_lines"]


@dataclass(frozen=True)
class SpeedLine:
    """One gear's line through the origin, at the motor's no-load speed.

    ``wanted_m_s`` is the model's speed with exactly the real ratios and final drive;
    ``model_m_s`` is None for a gear that does not drive.
    """

    gear: str
    reverse: bool
    motor_rpm: float
    wanted_m_s: float
    model_m_s: float | None


def speed_lines(vehicle: Vehicle, wheel_turns: dict[str, float | None]) -> tuple[SpeedLine, ...]:
    """Give the end point of every gear's line.

    ``wheel_turns`` holds, per gear, the turns of the wheels for one of the motor, signed.
    """
    lines = []
    top = vehicle.motor.no_load_rpm
    for gear in vehicle.real.gears:
        turns = wheel_turns.get(gear.name)
        speed = None
        if turns is not None:
            speed = abs(rim_speed_mm_s(rpm=top * turns, diameter_mm=vehicle.wheels.diameter_mm))
        exact_turns = 1 / (gear.ratio * vehicle.real.final_drive)
        wanted = rim_speed_mm_s(rpm=top * exact_turns, diameter_mm=vehicle.wheels.diameter_mm)
        lines.append(
            SpeedLine(
                gear=gear.name,
                reverse=gear.reverse,
                motor_rpm=top,
                wanted_m_s=wanted / 1000,
                model_m_s=None if speed is None else speed / 1000,
            )
        )
    return tuple(lines)
