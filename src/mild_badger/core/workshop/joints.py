"""By what parts hold: as the builder marked it, or as such parts usually do."""

from mild_badger.core.driveline.assemble import assemble, box_output
from mild_badger.core.drivetrain.graph import Coupling
from mild_badger.core.message import say
from mild_badger.core.vehicle.assembly import JointKind
from mild_badger.core.vehicle.bodies import input_shaft
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.pieces import Piece

__all__ = ["couplings_of", "joint_of", "slides_into_mesh"]


def joint_of(vehicle: Vehicle, piece: Piece) -> JointKind:
    """Say by what a part holds: as the builder marked it, else as such parts usually do."""
    marked = next((j.kind for j in vehicle.assembly.joints if j.key == piece.key), None)
    return marked or _usual(vehicle, piece)


def _usual(vehicle: Vehicle, piece: Piece) -> JointKind:
    fixed: JointKind = "glued" if vehicle.making.fixed_fit == "glued" else "pressed"
    match piece.kind:
        case "wall":
            return "screwed" if vehicle.kit.any_seat else "pinned"
        case "gear" if slides_into_mesh(vehicle, piece.body):
            return "slides"
        case "gear":
            return fixed if vehicle.kit.any_seat else "keyed"
        case "fork" | "hub":
            return fixed if vehicle.kit.any_seat else "keyed"
        case "bearing":
            return "pressed"
        case "tie":
            return "screwed"
        case _:
            return "slides"


def slides_into_mesh(vehicle: Vehicle, body: str) -> bool:
    """Whether a gear is moved into mesh on its shaft, and so must not be fixed to it."""
    return any(
        equation.kind is Coupling.MESH and equation.sleeve and body in equation.bodies[1:]
        for equation in assemble(vehicle).touching.get(body, ())
    )


def couplings_of(vehicle: Vehicle) -> dict[str, str]:
    """Name the drive couplings at the box's ends, by the shaft whose moving takes them apart."""
    return {
        input_shaft(): say("workshop.coupling-to-the-motor"),
        box_output(vehicle): say("workshop.coupling-to-the-axles-shaft"),
    }
