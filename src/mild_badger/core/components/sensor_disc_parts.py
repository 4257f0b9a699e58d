"""The tachometer's discs as parts, with their slots."""

from collections.abc import Iterator

from mild_badger.core.components.component import Component, ComponentId, Prism
from mild_badger.core.components.solids import circle, round_hole, slot_outlines
from mild_badger.core.kit.part_sizes import RUN_MM
from mild_badger.core.structure.forks import Fork
from mild_badger.core.structure.sensor_discs import DISC_MM, disc_places
from mild_badger.core.structure.stack import Stack
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["sensor_disc_parts"]


def sensor_disc_parts(
    vehicle: Vehicle, stack: Stack, forks: tuple[Fork, ...]
) -> Iterator[Component]:
    """Make the discs that have room; each turns with its shaft."""
    shaft_mm = vehicle.kit.shaft_diameter_mm / 2
    bore = round_hole(shaft_mm + RUN_MM)
    for place in disc_places(vehicle, stack, forks):
        radius = place.radius_mm
        if radius is None:
            continue
        rod = stack.rods[place.shaft]
        holes = (bore, *slot_outlines(shaft_mm, radius, place.slots))
        yield Component(
            ComponentId(f"sensor disc of {place.shaft}"),
            "sensor disc",
            (Prism((circle(radius),), 0.0, DISC_MM, holes),),
            rod.x_mm,
            rod.y_mm,
            place.along_mm,
            bodies=(place.shaft,),
            shaft=place.shaft,
        )
