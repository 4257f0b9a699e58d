"""How every shaft of a vehicle turns in a gear, straight ahead, for drawings of a layout."""

from collections import deque
from fractions import Fraction
from math import atan2

from mild_badger.core.driveline.assemble import assemble, shifter_state_for
from mild_badger.core.drivetrain.graph import Coupling
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.layout.stack import Stack
from mild_badger.core.mesh.outline import meshing_turn
from mild_badger.core.mesh.seats import Seat, seat_at
from mild_badger.core.vehicle.bodies import train_of
from mild_badger.core.vehicle.box import gear_key
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["engaged_bodies", "meshes_in", "phases_in", "shaft_rpm", "shaft_turns"]


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


def engaged_bodies(vehicle: Vehicle, gear: str | None) -> frozenset[str]:
    """Name the gears of the engaged gear's own train."""
    if gear is None:
        return frozenset()
    own = gear_key(gear)
    return frozenset(body.id for body in assemble(vehicle).bodies if train_of(body.id) == own)


def meshes_in(vehicle: Vehicle, stack: Stack, slab: int) -> tuple[tuple[str, str, Seat], ...]:
    """List the meshes of one slab with their seats: the bodies' names, and how they sit."""
    discs = {disc.body: disc for disc in stack.discs if disc.slab == slab}
    unit = vehicle.kit.grid_unit_mm
    meshes = []
    for equation in assemble(vehicle).equations:
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
