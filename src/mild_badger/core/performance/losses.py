"""What turns along and costs: idle meshes and bearings; estimates, and their calibration.

Estimates by material and lubrication are common practice without a source; the largest step is
that from dry to waxed wood (domain.md §10). All of them can be typed over.
"""

from dataclasses import dataclass
from math import sqrt
from typing import Literal

from mild_badger.core.axle.road_state import Straight, conditions
from mild_badger.core.driveline.assemble import assemble, shifter_state_for
from mild_badger.core.driveline.efficiency import driven_wheels, loaded_couplings
from mild_badger.core.drivetrain.solve import Solution, solve
from mild_badger.core.errors import InputError
from mild_badger.core.figures import in_n_mm
from mild_badger.core.message import say, say_count
from mild_badger.core.results import GearResult
from mild_badger.core.vehicle.bodies import MOTOR
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.road import Lubrication

__all__ = [
    "DragLine",
    "calibrate",
    "calibrate_readings",
    "calibrate_wheels",
    "drag_at_motor_n_mm",
    "drag_lines",
    "estimated_losses",
]

ESTIMATES: dict[tuple[str, Lubrication], tuple[float, float, float]] = {
    ("brick", "dry"): (0.05, 0.15, 0.10),
    ("brick", "waxed"): (0.045, 0.12, 0.08),
    ("brick", "oiled"): (0.04, 0.10, 0.07),
    ("wood", "dry"): (0.12, 1.2, 0.8),
    ("wood", "waxed"): (0.06, 0.5, 0.4),
    ("wood", "oiled"): (0.07, 0.6, 0.4),
    ("printed", "dry"): (0.05, 0.3, 0.1),
    ("printed", "waxed"): (0.04, 0.25, 0.08),
    ("printed", "oiled"): (0.03, 0.2, 0.06),
}
"""Share lost in a loaded mesh, drag of an idle mesh and of a bearing in N·mm."""


DragKind = Literal["idle mesh", "bearings"]


@dataclass(frozen=True)
class DragLine:
    """One thing that turns along: what it is, its turns per motor turn, its drag at the motor."""

    kind: DragKind
    name: str
    turns: float
    at_motor_n_mm: float


def estimated_losses(vehicle: Vehicle, lubrication: Lubrication) -> Edit:
    """Take the estimates for the kit's material with a lubrication."""
    mesh, idle, bearing = ESTIMATES[vehicle.kit.kind, lubrication]
    return Edit(
        say("performance.estimate-losses", lubrication=lubrication),
        (
            Change(("kit", "mesh_loss"), mesh),
            Change(("losses", "lubrication"), lubrication),
            Change(("losses", "idle_mesh_n_mm"), idle),
            Change(("losses", "bearing_n_mm"), bearing),
            Change(("losses", "drag_factor"), 1.0),
        ),
    )


def drag_lines(vehicle: Vehicle, gear: str) -> tuple[DragLine, ...]:
    """List what drags in a gear straight ahead: idle meshes, and two bearings a shaft.

    A drag torque on a body that turns n times for one of the motor takes |n| times as much there.
    """
    train = assemble(vehicle)
    sleeves = shifter_state_for(vehicle, gear)
    solution = solve(train, sleeves, conditions(vehicle, Straight(), locked=False))
    if solution.locked or (vehicle.box.sleeved and not sleeves):
        return ()
    loaded = loaded_couplings(
        train, sleeves, solution, driven_wheels(vehicle), vehicle.kit.mesh_loss
    )
    losses = vehicle.losses
    lines = []
    for equation in train.equations:
        if not equation.kind.has_teeth or not equation.holds(sleeves) or equation.id in loaded:
            continue
        turns = max(_turns(solution, body) for body in equation.bodies)
        if turns and losses.idle_mesh_n_mm:
            name = " with ".join(train.index[body].name for body in equation.bodies)
            drag = losses.idle_mesh_n_mm * losses.drag_factor * turns
            lines.append(DragLine("idle mesh", say("performance.idle", name=name), turns, drag))
    for body in train.bodies:
        turns = _turns(solution, body.id)
        if body.kind == "shaft" and body.id != MOTOR and turns and losses.bearing_n_mm:
            drag = 2 * losses.bearing_n_mm * losses.drag_factor * turns
            lines.append(
                DragLine("bearings", say("performance.bearings", name=body.name), turns, drag)
            )
    return tuple(sorted(lines, key=lambda line: -line.at_motor_n_mm))


def _turns(solution: Solution, body: str) -> float:
    return abs(float(solution.speeds.get(body) or 0))


def drag_at_motor_n_mm(vehicle: Vehicle, gear: str) -> float:
    """Sum up what drags in a gear, at the shaft that enters the box."""
    return sum(line.at_motor_n_mm for line in drag_lines(vehicle, gear))


def calibrate_wheels(vehicle: Vehicle, gear: GearResult, wheel_rpm: float) -> Edit:
    """Fit the drag to a speed of the wheels in the air, measured in a gear.

    Raises
    ------
    InputError
        As for ``calibrate``; or the gear does not drive.
    """
    if not gear.wheel_turns:
        raise InputError(say("performance.gear-does-not-drive-so-nothing-can-be", name=gear.name))
    return calibrate(vehicle, gear.id, abs(wheel_rpm / float(gear.wheel_turns)))


def calibrate_readings(vehicle: Vehicle) -> tuple[Edit, str]:
    """Fit the drag to every reading that has the input's own speed; give the edit, and its words.

    The readings are taken to be the model's own motor at its voltage with the wheels in the air.
    Least squares over the torques: the motor's line gives what drags at each measured speed, and
    one factor on all estimates comes nearest to them.

    Raises
    ------
    InputError
        No reading in a gear has a speed that the motor can run at.
    """
    motor = vehicle.motor
    pairs = [
        (motor.shaft_torque_n_mm(r.input_rpm), drag_at_motor_n_mm(vehicle, r.position))
        for r in vehicle.trial.readings
        if r.input_rpm is not None
        and r.input_rpm < motor.shaft_no_load_rpm
        and vehicle.gear(r.position) is not None
    ]
    pairs = [(torque, drag) for torque, drag in pairs if drag > 0]
    if not pairs:
        raise InputError(say("performance.no-reading-has-the-inputs-own-speed-in-a"))
    scale = sum(t * d for t, d in pairs) / sum(d * d for _, d in pairs)
    rest = sqrt(sum((t - scale * d) ** 2 for t, d in pairs) / len(pairs))
    factor = round(vehicle.losses.drag_factor * scale, 4)
    count = len(pairs)
    words = say(
        "performance.drag-from-they-scatter-by-about-it",
        factor=factor,
        reading=say_count("count.reading", count),
        rest=in_n_mm(rest, 2),
    )
    return Edit.one(
        say("performance.fit-the-drag-to-the-readings"), ("losses", "drag_factor"), factor
    ), words


def calibrate(vehicle: Vehicle, gear: str, motor_rpm: float) -> Edit:
    """Fit the drag to a speed that was measured with the wheels in the air.

    At that speed the motor gives just what drags, so its line tells the torque.

    Raises
    ------
    InputError
        The speed is not one the motor can run at, or nothing turns along in that gear.
    """
    motor = vehicle.motor
    if not 0 < motor_rpm < motor.shaft_no_load_rpm:
        raise InputError(
            say(
                "performance.rpm-cannot-be-measured-without-any-drag-the",
                motor_rpm=motor_rpm,
                shaft_no_load_rpm=motor.shaft_no_load_rpm,
            )
        )
    now = drag_at_motor_n_mm(vehicle, gear)
    if now <= 0:
        raise InputError(
            say(
                "performance.nothing-drags-in-gear-by-the-estimates-as",
                gear_name=vehicle.gear_name(gear),
            )
        )
    factor = vehicle.losses.drag_factor * motor.shaft_torque_n_mm(motor_rpm) / now
    return Edit.one(
        say("performance.fit-the-drag-to-a-measured-speed"),
        ("losses", "drag_factor"),
        round(factor, 4),
    )
