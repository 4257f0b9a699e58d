"""Speed in every gear against motor or engine speed, and the way up through the gears, to draw."""

from dataclasses import dataclass

from mild_badger.core.units import rim_speed_mm_s
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["SawLeg", "SpeedLine", "saw_teeth", "speed_lines"]


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
    top = vehicle.motor.shaft_no_load_rpm
    for gear in vehicle.real.gears:
        turns = wheel_turns.get(gear.id)
        speed = None
        if turns is not None:
            speed = abs(rim_speed_mm_s(rpm=top * turns, diameter_mm=vehicle.wheels.diameter_mm))
        exact_turns = 1 / (gear.ratio * vehicle.real.final_drive)
        wanted = rim_speed_mm_s(rpm=top * exact_turns, diameter_mm=vehicle.wheels.diameter_mm)
        lines.append(
            SpeedLine(
                gear=gear.id,
                reverse=gear.reverse,
                motor_rpm=top,
                wanted_m_s=wanted / 1000,
                model_m_s=None if speed is None else speed / 1000,
            )
        )
    return tuple(lines)


@dataclass(frozen=True)
class SawLeg:
    """One gear's stretch on the way up: km/h, and engine speed in % of the shift speed."""

    gear: str
    from_km_h: float
    to_km_h: float
    from_percent: float


def saw_teeth(top_km_h: dict[str, float]) -> tuple[SawLeg, ...]:
    """Go up through the gears, each from where the one before reached the shift speed.

    Parameters
    ----------
    top_km_h
        Road speed at the shift speed in each forward gear, in the order of the gears.

    Returns
    -------
    tuple of SawLeg
        Each ends at 100 %. A gear that is no faster than the one before has a leg that goes back,
        from more than 100 %.
    """
    legs = []
    speed = 0.0
    for gear, top in top_km_h.items():
        legs.append(SawLeg(gear, speed, top, 100 * speed / top if top else 0.0))
        speed = top
    return tuple(legs)
