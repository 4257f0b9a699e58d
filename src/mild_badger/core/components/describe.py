"""What components are called, by shaft letter where they have one."""

from mild_badger.core.components.component import Component
from mild_badger.core.layout.names import describe_shaft
from mild_badger.core.message import say
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.sleeves import describe_sleeve
from mild_badger.core.words import word

__all__ = ["describe_component"]


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
