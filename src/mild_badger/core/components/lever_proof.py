"""A lever drive proven by solids: its whole stroke, its fulcrum at the stops and in every gear."""

from itertools import combinations
from typing import TYPE_CHECKING

from mild_badger.core.components.component import Component
from mild_badger.core.components.lever_parts import lever_parts
from mild_badger.core.components.proof import Overlap, SolidProof, Stroke, allowed_mm, overlap_of
from mild_badger.core.components.solids import solid_of
from mild_badger.core.vehicle.boxes import LeverBox
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.watch import UNWATCHED, Watch

if TYPE_CHECKING:
    from manifold3d import Manifold

__all__ = ["fulcrums_of", "prove_lever"]

ANGLES = 16
"""So many places of the throws are looked at in a turn."""


def fulcrums_of(vehicle: Vehicle) -> tuple[float, ...]:
    """List where the fulcrum of a lever drive stands: at its stops, and in each gear, mm."""
    drive = vehicle.stepless
    if drive is None:
        return ()
    places = {drive.stop_low_mm, drive.stop_high_mm}
    if isinstance(vehicle.box, LeverBox):
        places |= {place.fulcrum_mm for place in vehicle.box.slots}
    else:
        places.add(drive.fulcrum_mm)
    return tuple(sorted(places))


def prove_lever(vehicle: Vehicle, *, watch: Watch = UNWATCHED) -> SolidProof:
    """Intersect all parts of a vehicle's lever drive wherever its throws and its fulcrum stand.

    What stands still to one another is looked at once.

    Raises
    ------
    SearchStopped
        It was stopped.
    """
    poses = [
        Stroke(fulcrum, 360.0 * number / ANGLES)
        for fulcrum in fulcrums_of(vehicle)
        for number in range(ANGLES)
    ]
    worst: dict[tuple[str, str], Overlap] = {}
    known: dict[str, tuple[tuple[float, ...], Manifold]] = {}
    looked: set[tuple[str, str, tuple[float, ...], tuple[float, ...]]] = set()
    count = 0
    for done, pose in enumerate(poses):
        watch.tick(done / len(poses))
        box = lever_parts(vehicle, pose.fulcrum_mm, pose.angle_deg)
        if box is None:
            break
        placed = {part.id: _place(part) for part in box.components}
        for part in box.components:
            if part.id not in known or known[part.id][0] != placed[part.id]:
                known[part.id] = placed[part.id], solid_of(part)
        bounds = {name: tuple(solid.bounding_box()) for name, (_, solid) in known.items()}
        meshing = {frozenset((mesh.one, mesh.other)) for mesh in box.meshes}
        for one, other in combinations(box.components, 2):
            key = (one.id, other.id, placed[one.id], placed[other.id])
            a, b = bounds[one.id], bounds[other.id]
            apart = any(a[n] >= b[n + 3] or b[n] >= a[n + 3] for n in range(3))
            if apart or key in looked:
                continue
            looked.add(key)
            count += 1
            found = overlap_of(known[one.id][1], known[other.id][1])
            meshes = frozenset((one.id, other.id)) in meshing
            if found is None or found[1] <= allowed_mm(vehicle.kit.module_mm, meshing=meshes):
                continue
            old = worst.get((one.id, other.id))
            if old is None or found[0] > old.volume_mm3 + 1e-9:
                worst[one.id, other.id] = Overlap(one.id, other.id, *found, pose)
    ordered = sorted(worst.values(), key=lambda o: (-o.volume_mm3, o.one, o.other))
    return SolidProof(tuple(ordered), len(fulcrums_of(vehicle)), len(poses), count)


def _place(part: Component) -> tuple[float, ...]:
    return part.x_mm, part.y_mm, part.along_mm, part.turn_rad
