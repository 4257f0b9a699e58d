"""How every shaft of a vehicle turns in a gear, straight ahead, for drawings of a layout."""

from fractions import Fraction

from mild_badger.core.drivetrain.assemble import assemble, sleeves_for
from mild_badger.core.drivetrain.graph import Coupling
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.layout.verify import Stack
from mild_badger.core.mesh.seats import Seat, seat_at
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["engaged_bodies", "meshes_in", "shaft_turns"]


def shaft_turns(vehicle: Vehicle, gear: str | None) -> dict[str, Fraction | None]:
    """Give the turns of every body per turn of the motor, signed; None where it is free."""
    solved = solve(assemble(vehicle), sleeves_for(vehicle, gear))
    return dict(solved.speeds)


def engaged_bodies(vehicle: Vehicle, gear: str | None) -> frozenset[str]:
    """Name the gears of the engaged gear's own train."""
    if gear is None:
        return frozenset()
    start = f"gear {gear}/"
    return frozenset(body.id for body in assemble(vehicle).bodies if body.id.startswith(start))


def meshes_in(vehicle: Vehicle, stack: Stack, slab: int) -> tuple[tuple[str, str, Seat], ...]:
    """List the meshes of one slab with their seats: the bodies' names, and how they sit."""
    discs = {disc.body: disc for disc in stack.discs if disc.slab == slab}
    unit = vehicle.kit.grid_unit_mm
    found = []
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
            found.append((one.body, other.body, seat))
    return tuple(found)
