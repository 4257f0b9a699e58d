"""The load on each bearing of a machine, and whether wood, brick or metal serves there."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import lru_cache
from math import cos, isinf, radians

from mild_badger.core.axle.road_state import Straight, conditions
from mild_badger.core.axle.running import running_of
from mild_badger.core.driveline.assemble import WHEELS, assemble, shifter_state_for
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.figures import in_n_mm
from mild_badger.core.ids import OutputId
from mild_badger.core.layout.shaft_deflection import wall_loads
from mild_badger.core.mechanisms.balance.figures import balance_figures
from mild_badger.core.mechanisms.bearings.loads import (
    BEARING_KINDS,
    BearingLoad,
    BearingVerdict,
    bearing_loads,
    judge_bearing,
)
from mild_badger.core.mechanisms.crane.figures import OutputFigures, crane_figures
from mild_badger.core.mechanisms.crane.model import (
    BearingKind,
    CraneOutput,
    Rack,
    Ring,
    Screw,
    Spool,
)
from mild_badger.core.message import say
from mild_badger.core.structure.names import shaft_label
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.units import GRAVITY_M_S2
from mild_badger.core.vehicle.cache_key import CacheKey, cache_key
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import word

__all__ = ["BearingRow", "bearing_rows"]


@dataclass(frozen=True)
class BearingRow:
    """One bearing: where it is, what bears on it, every kind judged, and the kind that is planned.

    ``planned`` and ``output`` are None where the document holds no choice, as at the wheels.
    """

    carries: str
    load: BearingLoad
    torque_n_mm: float
    judged: tuple[BearingVerdict, ...]
    planned: BearingKind | None
    output: OutputId | None = None

    @property
    def name(self) -> str:
        """Say where it is."""
        return f"{self.carries}, {self.load.place}"

    @property
    def best(self) -> BearingVerdict | None:
        """Give the first kind that serves, wood before brick before metal; None for none."""
        return next((one for one in self.judged if one.serves), None)

    def of(self, kind: BearingKind) -> BearingVerdict:
        """Find a kind's judgement."""
        return next(one for one in self.judged if one.kind == kind)

    @property
    def summary(self) -> str:
        """Say which serve, and why the others do not."""
        return "; ".join(
            say("bearings.kind-serves", kind=word(one.kind), drag=in_n_mm(one.friction_n_mm, 2))
            if one.serves
            else say(
                "bearings.kind-does-not-serve",
                kind=word(one.kind),
                why=one.why,
                drag=in_n_mm(one.friction_n_mm, 2),
            )
            for one in self.judged
        )


def _row(carries: str, load: BearingLoad, torque: float) -> BearingRow:
    judged = tuple(judge_bearing(load, kind, torque) for kind in BEARING_KINDS)
    return BearingRow(carries, load, torque, judged, None)


def _planned(output: CraneOutput, load: BearingLoad, torque: float) -> BearingRow:
    row = _row(output.name, load, torque)
    return replace(row, planned=output.carried.bearing, output=output.id)


def _at_teeth(vehicle: Vehicle, along_n: float) -> float:
    """Give the whole push at teeth that pass a force on along their pitch line: F / cos α, N."""
    return along_n / cos(radians(vehicle.kit.pressure_angle_deg))


def _radial(vehicle: Vehicle, output: CraneOutput) -> float:
    """Give what the end pushes or pulls its shaft aside with, N."""
    end = output.end
    match end:
        case Spool():
            return end.weight_n / end.falls
        case Rack():
            return _at_teeth(vehicle, end.push_n)
        case _:
            return 0.0


def _gear_push(vehicle: Vehicle, output: CraneOutput, torque: float) -> float:
    """Give what the last driven gear pushes its shaft aside with: T / r / cos α, N."""
    module = vehicle.kit.module_mm
    if output.worm is not None:
        teeth = output.worm.teeth
    elif output.pairs:
        teeth = output.pairs[-1].driven
    else:
        return 0.0
    return _at_teeth(vehicle, torque / (module * teeth / 2))


@lru_cache(maxsize=16)
def bearing_rows(vehicle: Vehicle) -> tuple[BearingRow, ...]:
    """List the bearings of every output's shaft, the slewing ring, the box and the wheels."""
    rows: list[BearingRow] = []
    for figures in crane_figures(vehicle, None, vehicle.motor.working_rpm):
        if not isinf(figures.end_n_mm):
            rows += _of_output(vehicle, figures)
    return (*rows, *_box(vehicle), *_wheels(vehicle))


def _box(vehicle: Vehicle) -> tuple[BearingRow, ...]:
    """Give the bearings of the box's own shafts, at the motor's stall; none before it is placed."""
    return _in_walls(
        cache_key(
            vehicle,
            vehicle.kit,
            vehicle.motor,
            vehicle.layout,
            vehicle.frame,
            vehicle.making,
            vehicle.placing,
        )
    )


@lru_cache(maxsize=16)
def _in_walls(question: CacheKey) -> tuple[BearingRow, ...]:
    vehicle = question.vehicle
    stack = stack_for(vehicle)
    kit, rows = vehicle.kit, []
    for wall in wall_loads(vehicle, stack) if stack is not None else ():
        gear = vehicle.gear_name(wall.gear)
        where = say(
            "bearings.in-worst-in-gear", train_title=vehicle.train_title(wall.wall), gear=gear
        )
        load = BearingLoad(
            where,
            wall.load_n,
            kit.shaft_diameter_mm,
            vehicle.frame.wall_mm,
            wall.turns * vehicle.motor.working_rpm,
        )
        rows.append(_row(shaft_label(vehicle, wall.shaft), load, wall.torque_n_mm))
    return tuple(rows)


def _of_output(vehicle: Vehicle, figures: OutputFigures) -> Iterator[BearingRow]:
    output, end, carried = figures.output, figures.output.end, figures.output.carried
    torque, rpm = figures.end_n_mm, abs(figures.end_rpm)
    load = _radial(vehicle, output)
    if isinstance(end, Ring):
        torque *= end.pinion / end.teeth  # at the pinion's shaft
        rpm *= end.teeth / end.pinion
        load = _at_teeth(vehicle, torque / (vehicle.kit.module_mm * end.pinion / 2))
    push = _gear_push(vehicle, output, torque)
    for one in bearing_loads(carried, load_n=load, gear_n=push, rpm=rpm):
        yield _planned(output, one, torque)
    if isinstance(end, Screw):
        each = end.push_n / end.screws
        thrust = BearingLoad(
            say("bearings.thrust-collar"), each, carried.shaft_mm, carried.long_mm, rpm
        )
        yield _planned(output, thrust, torque / end.screws)
    balance = balance_figures(vehicle) if isinstance(end, Ring) else None
    if isinstance(end, Ring) and balance is not None and balance.ring is not None:
        across = end.teeth * vehicle.kit.module_mm
        weight = max(balance.ring.weight_n, balance.ring.presses_n + balance.ring.lifts_n)
        ring = BearingLoad("slewing ring", weight, across, carried.long_mm, abs(figures.end_rpm))
        yield _planned(output, ring, figures.end_n_mm)


def _wheels(vehicle: Vehicle) -> Iterator[BearingRow]:
    """Give the bearing at each wheel: a quarter of the weight, or what bears where it is most."""
    running, balance = running_of(vehicle), balance_figures(vehicle)
    weight = running.chassis.mass_kg * GRAVITY_M_S2 / 4
    if balance is not None:
        weight = max(balance.road.feet_n)
    shaft = vehicle.kit.shaft_diameter_mm
    # the wheel stands half a tyre outside its bearing: taken as bearing the whole load alone
    rpm = _wheel_rpm(cache_key(vehicle, vehicle.kit, vehicle.motor, vehicle.running))
    load = BearingLoad(
        say("bearings.bearing-of-the-one-that-bears-most"), weight, shaft, 2 * shaft, rpm
    )
    pull = weight * vehicle.ground.grip * vehicle.wheels.diameter_mm / 2
    yield _row(word("wheels"), load, pull)


@lru_cache(maxsize=16)
def _wheel_rpm(question: CacheKey) -> float:
    """Give the wheels' speed in the fastest gear, at the motor's working speed."""
    vehicle = question.vehicle
    train, ahead = assemble(vehicle), conditions(vehicle, Straight(), locked=False)
    turns = [
        solution.speed(WHEELS["left"])
        for gear in vehicle.real.gears
        if not (solution := solve(train, shifter_state_for(vehicle, gear.id), ahead)).locked
    ]
    return max((abs(float(t)) for t in turns if t), default=0.0) * vehicle.motor.working_rpm
