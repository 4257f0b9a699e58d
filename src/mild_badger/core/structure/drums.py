"""The drums of a placed box of any kit, each over what stands highest in it."""

from mild_badger.core.structure.drum_place import DrumPlace, drum_place
from mild_badger.core.structure.forks import Fork
from mild_badger.core.structure.plates import plate_outline, tie_rounds
from mild_badger.core.structure.stack import Stack
from mild_badger.core.structure.walls import top_of
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["drums_of"]


def drums_of(vehicle: Vehicle, stack: Stack, forks: tuple[Fork, ...]) -> DrumPlace | None:
    """Place the drums of a box; None where something else moves the sleeves."""
    if not vehicle.kit.any_seat:
        return drum_place(vehicle, stack, forks, top_of(vehicle, stack, forks))
    outline = plate_outline(vehicle, stack, forks)
    ties = tie_rounds(vehicle, stack, forks)
    return None if outline is None else drum_place(vehicle, stack, forks, outline[3], ties)
