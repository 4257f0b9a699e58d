"""Where the shafts of one gear of a vehicle sit, whatever the box's architecture."""

from dataclasses import replace

from mild_badger.core.mesh.centres import centre_of
from mild_badger.core.structure.train import (
    OPEN,
    Course,
    PlacedMesh,
    Placement,
    place_train,
)
from mild_badger.core.vehicle.box import Slot
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["place_gear"]

NOTHING = Placement((), (), ())
BRANCH_GAP_U = 3.0
"""Room in a drawing between the two branches of a summing differential."""


def place_gear(vehicle: Vehicle, gear: str) -> Placement:
    """Place the chain of a gear; both branches side by side where a differential sums them.

    Pairs that stand between the same two shafts keep that distance; a layshaft box's output is in
    line with its input. Empty for a gear without a train, and for the direct drive.
    """
    box = vehicle.box
    pairs = tuple(link.pair for link in box.chain(gear))
    if not pairs:
        return NOTHING
    slot = box.slot(gear)
    if isinstance(slot, Slot) and slot.second:
        return _beside(place_train(vehicle.kit, pairs), place_train(vehicle.kit, slot.second))
    return place_train(vehicle.kit, pairs, _course(vehicle, gear))


def _course(vehicle: Vehicle, gear: str) -> Course:
    groups = vehicle.box.between()
    if not groups:
        return OPEN
    distances = []
    for link in vehicle.box.chain(gear):
        distance = None
        for group in groups:
            if link in group.links:
                centre = centre_of(vehicle.kit, (other.pair for other in group.links))
                distance = None if centre is None else centre.distance_mm
        distances.append(distance)
    return Course(tuple(distances), coaxial=vehicle.box.coaxial)


def _beside(one: Placement, other: Placement) -> Placement:
    if one.problem or other.problem:
        return Placement((), (), (), one.problem or other.problem)
    aside = one.width_u + BRANCH_GAP_U + max(g.teeth for g in one.gears) / 8
    shafts = len(one.shafts_u)
    gears = len(one.gears)
    return Placement(
        shafts_u=(*one.shafts_u, *((x + aside, y) for x, y in other.shafts_u)),
        gears=(*one.gears, *(replace(g, shaft=g.shaft + shafts) for g in other.gears)),
        meshes=(
            *one.meshes,
            *(PlacedMesh(m.first + gears, m.second + gears, m.seat) for m in other.meshes),
        ),
        through=one.through and other.through,
    )
