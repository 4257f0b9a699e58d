"""What a vehicle pulls in each gear: speeds, force at the wheels, the steepest hill and its limit.

Forces in N, speeds in m/s, grades in per cent. The motor's line less what drags, through the gear
with its losses: F = (T − T_drag) i η / r. A hill of angle θ asks for m g (sin θ + c cos θ).
"""

from dataclasses import dataclass
from math import asin, atan, hypot, pi, tan
from typing import Literal

from mild_badger.core.axle.running import running_of
from mild_badger.core.axle.strength import planet_limit_n, planet_loads
from mild_badger.core.layout.shaft_deflection import tooth_skip_torque_n_mm
from mild_badger.core.message import say
from mild_badger.core.performance.losses import drag_at_motor_n_mm
from mild_badger.core.ratios.final_drive import hub_ratio
from mild_badger.core.results import GearResult, GearState
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.targets.speeds import full_size_speed_mm_s
from mild_badger.core.units import GRAVITY_M_S2, km_per_hour
from mild_badger.core.vehicle.model import Motor, Scale, Vehicle

__all__ = [
    "AllowedPull",
    "MotorTrial",
    "Pull",
    "equilibrium_rpm",
    "motor_trials",
    "pulls",
    "weakest_place",
]

STEEPEST = 999.0
HillLimit = Literal["motor", "grip", "skips"]


@dataclass(frozen=True)
class AllowedPull:
    """What one limit alone would allow at the wheels, N, and what it is."""

    kind: HillLimit
    force_n: float
    words: str


@dataclass(frozen=True)
class Pull:
    """One gear. ``overall`` is motor turns for one of the wheels.

    ``efficiency`` is the share of the power that arrives.

    ``free_m_s`` is the speed with the wheels in the air, ``road_m_s`` on level ground; ``force_n``
    the pull at standstill; ``hill_percent`` the steepest hill, ``limit_kind`` and
    ``limit`` what limits it: motor, grip or a part that skips, at ``skip_n_mm`` of the motor's
    torque. ``allowed`` is what each limit alone would allow; the least is the usable pull.
    Full-size speeds follow both schools.
    """

    gear: str
    overall: float
    efficiency: float
    drag_n_mm: float
    free_m_s: float
    road_m_s: float
    torque_n_mm: float
    force_n: float
    hill_percent: float
    limit_kind: HillLimit
    limit: str
    skip_n_mm: float | None
    geometric_km_h: float
    froude_km_h: float
    real_km_h: float
    allowed: tuple[AllowedPull, ...] = ()

    @property
    def usable(self) -> AllowedPull:
        """The usable pull: what the strictest limit allows."""
        return min(self.allowed, key=lambda one: one.force_n)


def equilibrium_rpm(motor: Motor, load_n_mm: float) -> float:
    """Give the speed at which a motor's line meets a load; 0 where it stalls.

    The line is straight, and flat where the current is limited: past that flat part the straight
    one counts.
    """
    stall = motor.shaft_stall_n_mm
    if load_n_mm >= stall:
        return 0.0
    full = motor.stall_torque_n_mm * motor.supply_v * motor.throttle / motor.rated_v
    line = full * motor.count * motor.reduction
    return motor.shaft_no_load_rpm * (1 - max(load_n_mm, 0.0) / line)


def pulls(vehicle: Vehicle, gears: tuple[GearResult, ...]) -> tuple[Pull, ...]:
    """Work out every gear that drives."""
    skips = _skips(vehicle, gears)
    rows = []
    for gear in gears:
        if gear.state is GearState.DRIVES and gear.wheel_turns and gear.efficiency:
            rows.append(_pull(vehicle, gear, skips.get(gear.id)))
    return tuple(rows)


def _pull(vehicle: Vehicle, gear: GearResult, skip: tuple[float, str] | None) -> Pull:
    radius = vehicle.wheels.diameter_mm / 2
    overall = 1 / abs(float(gear.wheel_turns or 1))
    drag = drag_at_motor_n_mm(vehicle, gear.id)
    chassis, ground = running_of(vehicle).chassis, vehicle.ground
    weight = chassis.mass_kg * GRAVITY_M_S2
    rolling = ground.rolling * weight * radius / (overall * gear.efficiency)

    def speed(load: float) -> float:
        return 2 * pi * radius * equilibrium_rpm(vehicle.motor, load) / overall / 60_000

    def force(torque: float) -> float:
        return max(torque - drag, 0.0) * overall * gear.efficiency / radius

    stall = vehicle.motor.shaft_stall_n_mm
    limits: list[tuple[float, HillLimit, str]] = [
        (_grade(force(stall) / weight, ground.rolling), "motor", say("performance.the-motor"))
    ]
    grip = ground.grip * chassis.driven_share
    slipping = max(100 * (grip - ground.rolling), 0.0)
    limits.append((slipping, "grip", say("performance.the-tyres-grip")))
    if skip is not None:
        limits.append(
            (
                _grade(force(skip[0]) / weight, ground.rolling),
                "skips",
                say("performance.skips", skip=skip[1]),
            )
        )
    hill, limit_kind, limit = min(limits)
    allowed = [
        AllowedPull("motor", force(stall), say("performance.the-motor")),
        AllowedPull("grip", max(grip, 0.0) * weight, say("performance.the-tyres-grip")),
    ]
    if skip is not None:
        words = say("performance.skips", skip=skip[1])
        allowed.append(AllowedPull("skips", force(skip[0]), words))
    road = speed(drag + rolling)
    real = gear.real_limit_mm_s
    return Pull(
        gear.id,
        overall,
        gear.efficiency,
        drag,
        speed(drag),
        road,
        stall * overall * gear.efficiency,
        force(stall),
        hill,
        limit_kind,
        limit,
        None if skip is None else skip[0],
        _scaled(vehicle, road, "geometric"),
        _scaled(vehicle, road, "froude"),
        km_per_hour(real),
        tuple(allowed),
    )


def _scaled(vehicle: Vehicle, speed_m_s: float, school: str) -> float:
    scale = Scale.model_validate({**vehicle.scale.model_dump(), "speed_school": school})
    return km_per_hour(full_size_speed_mm_s(1000 * speed_m_s, scale))


def _grade(share: float, rolling: float) -> float:
    """Give the grade in % that a pull of so much of the weight climbs.

    sin θ + c cos θ = f, so θ = asin(f / √(1 + c²)) − atan c; beyond upright there is no figure.
    """
    whole = hypot(1.0, rolling)
    if share >= whole:
        return STEEPEST
    angle = asin(share / whole) - atan(rolling)
    return min(max(100 * tan(angle), 0.0), STEEPEST)


def _skips(vehicle: Vehicle, gears: tuple[GearResult, ...]) -> dict[str, tuple[float, str]]:
    """Find, per gear, the motor's torque at which something lets go first, and what."""
    least: dict[str, tuple[float, str]] = {}
    stack = stack_for(vehicle)
    if stack is not None:
        least |= tooth_skip_torque_n_mm(vehicle, stack)
    limit, _ = planet_limit_n(vehicle)
    if limit is not None and vehicle.differential.tooth_limit_n is not None:
        hubs = 1 / float(hub_ratio(vehicle))  # the planets sit before geared hubs
        overall = {g.id: hubs / abs(float(g.wheel_turns)) for g in gears if g.wheel_turns}
        for load in planet_loads(vehicle, overall):
            if not load.force_n:
                continue
            torque = vehicle.motor.shaft_stall_n_mm * limit / load.force_n
            if load.gear not in least or torque < least[load.gear][0]:
                least[load.gear] = (torque, say("performance.the-differential"))
    return least


@dataclass(frozen=True)
class MotorTrial:
    """A motor of the list on this box in one gear at a speed of the vehicle.

    ``turns`` tells whether it does; ``spare_percent`` what torque is left; ``weakest`` is what lets
    go first at its stall, empty where everything holds.
    """

    motor: Motor
    needed_n_mm: float
    given_n_mm: float
    top_m_s: float
    turns: bool
    spare_percent: float
    weakest: str


def motor_trials(
    vehicle: Vehicle, gears: tuple[GearResult, ...], gear: str, speed_m_s: float
) -> tuple[MotorTrial, ...]:
    """Try every motor of the vehicle's list in a gear, at a speed on level ground."""
    chosen = next((g for g in gears if g.id == gear), None)
    if chosen is None or not chosen.wheel_turns:
        return ()
    trials = []
    for motor in vehicle.motors:
        tried = vehicle.model_copy(update={"motor": motor})
        pull = next(p for p in pulls(tried, (chosen,)))
        radius = vehicle.wheels.diameter_mm / 2
        rpm = 60_000 * speed_m_s / (2 * pi * radius) * pull.overall
        weight = running_of(vehicle).chassis.mass_kg * GRAVITY_M_S2
        rolling = vehicle.ground.rolling * weight * radius / (pull.overall * pull.efficiency)
        needed = pull.drag_n_mm + rolling
        given = motor.shaft_torque_n_mm(rpm)
        skip = pull.skip_n_mm
        weak = skip is not None and skip < motor.shaft_stall_n_mm
        trials.append(
            MotorTrial(
                motor,
                needed,
                given,
                pull.road_m_s,
                given >= needed,
                100 * (given / needed - 1) if needed else STEEPEST,
                weakest_place(tried, (chosen,)) if weak else "",
            )
        )
    return tuple(trials)


def weakest_place(vehicle: Vehicle, gears: tuple[GearResult, ...]) -> str:
    """Name what lets go first of all gears, and at what share of the motor's stall."""
    skips = _skips(vehicle, gears)
    known = {gear.id for gear in gears}
    rows = [(torque, gear, what) for gear, (torque, what) in skips.items() if gear in known]
    if not rows or not vehicle.motor.shaft_stall_n_mm:
        return ""
    torque, gear, what = min(rows)
    share = 100 * torque / vehicle.motor.shaft_stall_n_mm
    return say(
        "performance.in-gear-at-of-the-stall-torque",
        what=what,
        gear_name=vehicle.gear_name(gear),
        share=share,
    )
