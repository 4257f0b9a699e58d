"""What components are called, by shaft letter where they have one."""

from typing import Any

from mild_badger.core.components.box import box_components
from mild_badger.core.components.component import Component
from mild_badger.core.layout.names import describe_shaft, shaft_letter
from mild_badger.core.message import say
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.sleeves import describe_sleeve
from mild_badger.core.words import word

__all__ = ["components_data", "describe_component"]


def describe_component(vehicle: Vehicle, part: Component) -> str:
    """Name a part so that it is found: what it is, on which shaft."""
    shaft = describe_shaft(vehicle, part.shaft)
    match part.kind:
        case "gear":
            return say("components.tooth-gear-on", teeth=part.teeth, shaft=shaft)
        case "shaft":
            return shaft
        case "sleeve":
            return describe_sleeve(part.member)
        case "fork":
            return say("components.fork-of", sleeve=describe_sleeve(part.member))
        case "rail":
            return say("components.rail-of", sleeve=describe_sleeve(part.member))
        case "spacer" | "post" | "hub":
            return say("components.on-shaft", kind=word(part.kind), shaft=shaft)
        case "bearing":
            return say("components.bearing-in", shaft=shaft, wall=word(part.wall))
        case _:
            return word(part.id)


def components_data(vehicle: Vehicle) -> list[dict[str, Any]]:
    """Give every part of a placed box as plain data: id, kind, shaft letter, place in mm.

    ``along_mm`` and the ends are measured from the outer face of the front wall.
    """
    box = box_components(vehicle)
    return [
        {
            "id": str(part.id),
            "kind": part.kind,
            "shaft": part.shaft,
            "letter": shaft_letter(vehicle, part.shaft),
            "bodies": list(part.bodies),
            "teeth": part.teeth,
            "member": part.member,
            "x_mm": round(part.x_mm, 4),
            "y_mm": round(part.y_mm, 4),
            "from_mm": round(part.along_mm + min(p.from_mm for p in part.solid), 4),
            "to_mm": round(part.along_mm + max(p.to_mm for p in part.solid), 4),
        }
        for part in (box.components if box is not None else ())
        if part.solid
    ]
