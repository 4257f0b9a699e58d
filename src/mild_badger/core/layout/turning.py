"""How every shaft of a vehicle turns in a gear, straight ahead, for drawings of a layout."""

from collections import deque
from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction
from math import atan2

from mild_badger.core.driveline.assemble import assemble, box_output, shifter_state_for
from mild_badger.core.drivetrain.graph import Coupling
from mild_badger.core.drivetrain.one_way import OneWaySolution, solve_one_way
from mild_badger.core.drivetrain.path import power_path
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.functions.arrange import arrange
from mild_badger.core.functions.prove import build_functions, output_body
from mild_badger.core.mesh.outline import meshing_turn
from mild_badger.core.mesh.seats import Seat, seat_at
from mild_badger.core.structure.stack import Stack
from mild_badger.core.vehicle.bodies import train_of
from mild_badger.core.vehicle.box import gear_key
from mild_badger.core.vehicle.model import Vehicle

__all__ = [
    "SeenBox",
    "engaged_bodies",
    "engaged_layer",
    "meshes_in",
    "phases_in",
    "power_bodies",
    "seen_box",
    "seen_functions",
    "shaft_rpm",
    "shaft_turns",
]


def shaft_turns(vehicle: Vehicle, gear: str | None) -> dict[str, Fraction | None]:
    """Give the turns of every body per turn of the motor, signed; None where it is free."""
    solved = solve(assemble(vehicle), shifter_state_for(vehicle, gear))
    return dict(solved.speeds)


def shaft_rpm(vehicle: Vehicle, gear: str | None, motor_rpm: float | None) -> dict[str, float]:
    """Give the speed of every body that turns in a gear, signed; at the working speed for None."""
    rpm = vehicle.motor.working_rpm if motor_rpm is None else motor_rpm
    return {
        body: float(turns) * rpm * vehicle.motor.turns
        for body, turns in shaft_turns(vehicle, gear).items()
        if turns is not None
    }


@dataclass(frozen=True)
class SeenBox:
    """A placed box as it runs, for drawings.

    ``turns`` of every body for one of the motor, signed, None where it is free; ``rpm`` of what
    turns; ``engaged`` are the gears that carry power.
    """

    stack: Stack
    turns: Mapping[str, Fraction | None]
    rpm: Mapping[str, float]
    engaged: frozenset[str]


def seen_box(vehicle: Vehicle, stack: Stack, gear: str | None, rpm: float | None) -> SeenBox:
    """Give a vehicle's box as it runs in a gear; at the motor's working speed for rpm None."""
    turns, speeds = shaft_turns(vehicle, gear), shaft_rpm(vehicle, gear, rpm)
    return SeenBox(stack, turns, speeds, engaged_bodies(vehicle, gear))


def seen_functions(vehicle: Vehicle, stack: Stack, position: str, direction: int) -> SeenBox:
    """Give a function box as it runs in a position, its motor turning forwards (+1) or backwards.

    The gears of a train carry where its output turns.
    """
    box = vehicle.functions
    if box is None:
        return SeenBox(stack, {}, {}, frozenset())
    arrangement = arrange(vehicle, box)
    train = build_functions(box, arrangement)
    sleeves = arrangement.settings(position)
    solved = solve_one_way(train, sleeves, direction=direction)
    turns = {body.id: solved.speed(body.id) for body in train.bodies}
    rpm = {body: float(t) * box.motor_rpm for body, t in turns.items() if t is not None}
    live = {
        branch.key
        for branch in arrangement.branches
        if position in branch.positions and turns.get(output_body(branch.output))
    }
    engaged = frozenset(body.id for body in train.bodies if train_of(body.id) in live)
    if any(branch.key in live and branch.feed == "one-way" for branch in arrangement.branches):
        engaged |= _carrying(solved)
    return SeenBox(stack, turns, rpm, engaged)


def _carrying(solved: OneWaySolution) -> frozenset[str]:
    """Name the gears over which the one-way shaft is driven, straight or over the other."""
    if "clutch counter" in solved.carrying:
        over = {"one-way/counter", "one-way/wheel counter"}
        return frozenset({"reversing/input", "reversing/counter", *over})
    return frozenset({"one-way/input", "one-way/wheel input"})


def engaged_bodies(vehicle: Vehicle, gear: str | None) -> frozenset[str]:
    """Name the gears of the engaged gear's own train."""
    if gear is None:
        return frozenset()
    own = gear_key(gear)
    return frozenset(body.id for body in assemble(vehicle).bodies if train_of(body.id) == own)


def engaged_layer(vehicle: Vehicle, stack: Stack, gear: str | None) -> str:
    """Name the layer in which the engaged gear's own train begins; "" where none is engaged."""
    engaged = engaged_bodies(vehicle, gear)
    own = (disc.slab for disc in stack.discs if disc.teeth and disc.body in engaged)
    first = min(own, default=None)
    return "" if first is None else stack.slabs[first]


def power_bodies(vehicle: Vehicle, gear: str | None) -> tuple[str, ...]:
    """Name the box's bodies that carry power in a gear, from its input to its output, in order."""
    if gear is None:
        return ()
    train, state = assemble(vehicle), shifter_state_for(vehicle, gear)
    path = power_path(train, state, train.source, box_output(vehicle))
    return () if path is None else path.bodies


def meshes_in(vehicle: Vehicle, stack: Stack, slab: int) -> tuple[tuple[str, str, Seat], ...]:
    """List the meshes of one slab with their seats: the bodies' names, and how they sit."""
    discs = {disc.body: disc for disc in stack.discs if disc.slab == slab}
    unit = vehicle.kit.grid_unit_mm
    meshes = []
    train = assemble(vehicle) if stack.own is None else stack.own.drivetrain
    for equation in train.equations:
        if equation.kind is not Coupling.MESH:
            continue
        one, other = (discs.get(body) for body in equation.bodies)
        if one is None or other is None:
            continue
        sizes = vehicle.kit.size(one.teeth), vehicle.kit.size(other.teeth)
        if sizes[0] is None or sizes[1] is None:
            continue
        offset = (stack.apart_mm(one.shaft, other.shaft) / unit, 0.0)
        if offset[0] > 0:
            seat = seat_at(vehicle.kit, sizes[0], sizes[1], offset)
            meshes.append((one.body, other.body, seat))
    return tuple(meshes)


def phases_in(
    stack: Stack, slab: int, meshes: tuple[tuple[str, str, Seat], ...]
) -> dict[str, float]:
    """Turn the gears of a slab so that they mesh tooth in gap, in radians; y upwards."""
    discs = {disc.body: disc for disc in stack.discs if disc.slab == slab and disc.teeth}
    beside: dict[str, list[str]] = {}
    for one, other, _ in meshes:
        beside.setdefault(one, []).append(other)
        beside.setdefault(other, []).append(one)
    turns: dict[str, float] = {}
    for start in discs:
        if start in turns:
            continue
        turns[start] = 0.0
        queue = deque([start])
        while queue:
            here = queue.popleft()
            rod = stack.rods[discs[here].shaft]
            for there in beside.get(here, ()):
                if there not in turns:
                    next_rod = stack.rods[discs[there].shaft]
                    towards = atan2(next_rod.y_mm - rod.y_mm, next_rod.x_mm - rod.x_mm)
                    teeth = (discs[here].teeth, discs[there].teeth)
                    turns[there] = meshing_turn(teeth, turns[here], towards)
                    queue.append(there)
    return turns
