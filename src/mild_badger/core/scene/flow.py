"""The torque's way through a box: from part to part, how much each passes on."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from mild_badger.core.components.component import Component, along_to_z
from mild_badger.core.layout.turning import power_bodies
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["FlowLine", "torque_flow"]

Point3 = tuple[float, float, float]


@dataclass(frozen=True)
class FlowLine:
    """A straight piece of the way, mm in the frame, and the torque there, N·mm."""

    start: Point3
    end: Point3
    torque_n_mm: float


def torque_flow(
    vehicle: Vehicle, gear: str | None, parts: Sequence[Component], torques: Mapping[str, float]
) -> tuple[FlowLine, ...]:
    """Lay the torque's way along the shafts and across every mesh, from input to output.

    Empty in neutral, and where no torque is known.
    """
    by_body = {
        body: part
        for part in parts
        if not part.box and part.kind in ("gear", "sleeve", "shaft")
        for body in part.bodies
    }
    lines: list[FlowLine] = []
    here: Point3 | None = None
    for body in power_bodies(vehicle, gear):
        part = by_body.get(body)
        if part is None or body not in torques:
            continue
        if part.kind == "shaft":
            if here is None:  # it comes in at the shaft's end
                here = part.x_mm, part.y_mm, along_to_z(part.from_mm)
            continue
        middle = (part.from_mm + part.to_mm) / 2
        there = (part.x_mm, part.y_mm, along_to_z(middle))
        if here is not None:
            # along the shaft first, then across to the next one in the mesh
            turn = (here[0], here[1], there[2])
            lines += [
                FlowLine(a, b, torques[body]) for a, b in ((here, turn), (turn, there)) if a != b
            ]
        here = there
    return tuple(lines)
