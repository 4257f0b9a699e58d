"""Templates of what the outputs and cables take: slewing rings, racks, flanges, drilled levers."""

from itertools import pairwise
from math import ceil, pi

from mild_badger.core.errors import InputError
from mild_badger.core.vehicle.crane import Rack, Ring, Spool
from mild_badger.core.vehicle.making import OwnGear
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.bars import EYE_MM, bar, sheet_for
from mild_badger.core.workshop.drawing import Drawing
from mild_badger.core.workshop.gear_template import own_template

__all__ = ["cable_lever", "cable_levers", "crane_pieces", "crane_template"]

RIM_MODULES = 4.0
"""What a slewing ring keeps inside its roots, in modules (common practice, no source)."""
CABLE_MM = 1.5
"""The hole for a cable's nipple (an estimate, no source)."""


def crane_pieces(vehicle: Vehicle) -> tuple[tuple[str, str, int, float], ...]:
    """List key, name, number and thickness of what the outputs take.

    Rings and racks only where gears are made.
    """
    pieces: list[tuple[str, str, int, float]] = []
    made, thin = vehicle.kit.made, vehicle.making.dog_mm
    outputs = vehicle.crane.outputs if vehicle.crane is not None else ()
    for number, output in enumerate(outputs):
        end = output.end
        if isinstance(end, Spool):
            pieces.append((f"outputs {number}", f"flange of {output.name}", 2 * end.ropes, thin))
        elif isinstance(end, Ring) and made is not None:
            pieces.append(
                (f"outputs {number}", f"slewing ring of {output.name}", 1, made.face_width_mm)
            )
        elif isinstance(end, Rack) and made is not None:
            pieces.append((f"outputs {number}", f"rack of {output.name}", 1, made.face_width_mm))
    return tuple(pieces)


def crane_template(vehicle: Vehicle, number: int) -> Drawing:
    """Draw the template of an output.

    Raises
    ------
    InputError
        There is none, or it cannot be made to these figures.
    """
    outputs = vehicle.crane.outputs if vehicle.crane is not None else ()
    if not 0 <= number < len(outputs):
        raise InputError("This vehicle has no such output; see the list of templates.")
    output, kit = outputs[number], vehicle.kit
    end, making = output.end, vehicle.making
    thinning = kit.made.tooth_thinning_mm if kit.made is not None else 0.1
    own = OwnGear(
        module_mm=kit.module_mm, pressure_angle_deg=kit.pressure_angle_deg, thinning_mm=thinning
    )
    match end:
        case Ring():
            hole = max((end.teeth - 2.5 - 2 * RIM_MODULES) * kit.module_mm, kit.shaft_diameter_mm)
            update = {"kind": "ring" if end.internal else "gear", "teeth": end.teeth}
            return own_template(own.model_copy(update=update), making, hole)
        case Rack():
            teeth = max(ceil(end.travel_mm / (pi * kit.module_mm)) + 2, 4)
            update = {"kind": "rack", "teeth": teeth}
            return own_template(own.model_copy(update=update), making, kit.shaft_diameter_mm)
        case Spool():
            sheet, (cx, foot) = sheet_for(
                f"Flange of {output.name}",
                [
                    f"{end.flange_mm:g} mm on a drum of {end.drum_mm:g} mm, "
                    f"{end.width_mm:g} mm apart",
                    f"make {2 * end.ropes}",
                ],
                end.flange_mm,
                end.flange_mm,
            )
            centre = (cx, foot + end.flange_mm / 2)
            sheet.circle("cut", centre, end.flange_mm / 2)
            sheet.circle(
                "cut", centre, vehicle.hole_mm(output.carried.shaft_mm, making.fixed_fit) / 2
            )
            sheet.circle("mark", centre, end.drum_mm / 2)
            return sheet
        case _:
            raise InputError(f"{output.name} takes no template; see the list of templates.")


def cable_levers(vehicle: Vehicle) -> tuple[tuple[str, tuple[float, ...], str], ...]:
    """List the levers with holes: name, holes from the pivot, and which of them are in use."""
    cables = vehicle.cables
    if cables is None:
        return ()
    taken = ", ".join(f"{run.name} in {run.from_hole}" for run in cables.runs)
    reach = tuple(sorted({*cables.holes_mm, cables.hand_mm}))
    levers = [("hand's lever", reach, f"hand at {cables.hand_mm:g} mm; {taken}")]
    for run in cables.runs:
        for number, lever in enumerate(run.levers, start=1):
            levers.append(
                (
                    f"lever {number} of {run.name}",
                    lever.holes_mm,
                    f"in at hole {lever.takes}, out at hole {lever.gives}",
                )
            )
    return tuple(levers)


def cable_lever(vehicle: Vehicle, number: int) -> Drawing:
    """Draw a lever with its row of holes, the pivot at its foot.

    Raises
    ------
    InputError
        There is none, or its holes run into one another.
    """
    levers = cable_levers(vehicle)
    if not 0 <= number < len(levers):
        raise InputError("This vehicle has no such lever; see the list of templates.")
    name, holes, words = levers[number]
    places = (0.0, *sorted(holes))
    for one, other in pairwise(places):
        if other - one < CABLE_MM + EYE_MM / 2:
            raise InputError(
                f"{name}: the holes at {one:g} and {other:g} mm run into one another, "
                f"{CABLE_MM + EYE_MM / 2:g} mm are needed between them."
            )
    pivot = vehicle.hole_mm(vehicle.kit.shaft_diameter_mm, "running") / 2
    one_eye, far = pivot + EYE_MM, CABLE_MM / 2 + EYE_MM
    listed = ", ".join(f"{mm:g}" for mm in holes)
    sheet, (cx, foot) = sheet_for(
        name[:1].upper() + name[1:],
        [f"holes at {listed} mm from the pivot", words],
        2 * one_eye,
        one_eye + max(holes) + far,
    )
    at = foot + one_eye
    sheet.outline("cut", [(cx + x, at + y) for x, y in bar(one_eye, far, max(holes))])
    sheet.circle("cut", (cx, at), pivot)
    for mm in holes:
        sheet.circle("cut", (cx, at + mm), CABLE_MM / 2)
    return sheet
