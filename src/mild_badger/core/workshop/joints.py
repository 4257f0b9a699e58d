"""By what parts hold: as the builder marked it, or as such parts usually do."""

from mild_badger.core.components.component import Component
from mild_badger.core.driveline.assemble import box_output
from mild_badger.core.message import say
from mild_badger.core.vehicle.assembly import JointKind
from mild_badger.core.vehicle.bodies import input_shaft
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["couplings_of", "joint_of"]


def joint_of(vehicle: Vehicle, part: Component) -> JointKind:
    """Say by what a part holds: as the builder marked it, else as such parts usually do."""
    marked = next((j.kind for j in vehicle.assembly.joints if j.key == part.key), None)
    return marked or _usual(vehicle, part)


def _usual(vehicle: Vehicle, part: Component) -> JointKind:
    fixed: JointKind = "glued" if vehicle.making.fixed_fit == "glued" else "pressed"
    match part.kind:
        case "wall":
            return "screwed" if vehicle.kit.any_seat else "pinned"
        case "gear" if part.free or part.member:
            return "slides"
        case "gear":
            return fixed if vehicle.kit.any_seat else "keyed"
        case "fork" | "hub":
            return fixed if vehicle.kit.any_seat else "keyed"
        case "bearing":
            return "pressed"
        case "tie rod":
            return "screwed"
        case _:
            return "slides"


def couplings_of(vehicle: Vehicle) -> dict[str, str]:
    """Name the drive couplings at the box's ends, by the shaft whose moving takes them apart."""
    return {
        input_shaft(): say("workshop.coupling-to-the-motor"),
        box_output(vehicle): say("workshop.coupling-to-the-axles-shaft"),
    }
