"""Templates of bevel gears, and of wheels of pegs in their place where wood is worked."""

from collections import Counter
from collections.abc import Iterator
from functools import partial
from math import hypot

from mild_badger.core.components.drive_line import BEVEL_FACE
from mild_badger.core.figures import in_mm
from mild_badger.core.message import say
from mild_badger.core.templates.bevel import BevelForm, bevel_drawing, peg_wheel_drawing
from mild_badger.core.templates.drawing import Drawing
from mild_badger.core.templates.template import Template
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["bevel_pairs", "bevel_templates"]

MOST_FACE = 0.3
"""A face's width by the cone distance (J. E. Shigley, Mechanical Engineering Design)."""


def bevel_pairs(vehicle: Vehicle) -> Counter[tuple[int, int]]:
    """Count bevel gears by their own teeth and their mate's: of all axles and differentials.

    Housings that come whole have their own bevels inside.
    """
    counts: Counter[tuple[int, int]] = Counter()
    rims = {b.teeth for b in vehicle.kit.bevels if b.role == "differential rim"}
    final = vehicle.final_drive
    axles = [
        (final.pinion, final.crown, vehicle.differential),
        *((axle.pinion, axle.crown, axle.differential) for axle in vehicle.additional_axles),
    ]
    for pinion, crown, differential in axles:
        counts[pinion, crown] += 1
        counts[crown, pinion] += 1
        if differential.kind == "open" and crown not in rims:
            counts[differential.side_teeth, differential.planet_teeth] += 2
            counts[differential.planet_teeth, differential.side_teeth] += differential.planets
    return counts


def bevel_templates(vehicle: Vehicle) -> Iterator[Template]:
    """List a template for every size of bevel gear that is made; of wood one of pegs beside it."""
    made, kit = vehicle.kit.made, vehicle.kit
    if made is None:
        return
    crowns = {vehicle.final_drive.crown, *(axle.crown for axle in vehicle.additional_axles)}
    driven = {(vehicle.final_drive.pinion, vehicle.final_drive.crown)}
    driven |= {(axle.pinion, axle.crown) for axle in vehicle.additional_axles}
    for (teeth, mate), count in sorted(bevel_pairs(vehicle).items()):
        face = BEVEL_FACE * kit.module_mm
        if not {(teeth, mate), (mate, teeth)} & driven:  # inside a housing they are as they fit
            face = min(face, MOST_FACE * hypot(teeth, mate) * kit.module_mm / 2)
        form = BevelForm(
            teeth, mate, kit.module_mm, face, kit.pressure_angle_deg, made.tooth_thinning_mm
        )
        words = say("workshop.bevel-gear-of-teeth-on", teeth=teeth, mate=mate)
        draw = partial(_bevel, form=form, words=words, count=count)
        yield Template(f"bevel {teeth} {mate}", words, count, face, draw, "turned", flat=True)
        wood = vehicle.making.made_of(kit.kind) in ("plywood", "hardwood")
        if wood and {teeth, mate} == {vehicle.final_drive.pinion, vehicle.final_drive.crown}:
            crown = teeth in crowns
            words = (
                say("workshop.crown-of-pegs", teeth=teeth)
                if crown
                else say("workshop.pinion-of-pegs", teeth=teeth)
            )
            draw = partial(_pegs, form=form, words=words, count=count, crown=crown)
            yield Template(
                f"pegs {teeth} {mate}", words, count, face, draw, "in its place", flat=not crown
            )


def _hole(vehicle: Vehicle) -> tuple[float, str]:
    """Give the bore and what goes through it: bevels are fixed to their shafts."""
    shaft, fit = vehicle.kit.shaft_diameter_mm, vehicle.making.fixed_fit
    note = say("workshop.on-2", fit=fit, shaft_diameter_mm=in_mm(shaft))
    return vehicle.hole_mm(shaft, fit), note


def _bevel(vehicle: Vehicle, *, form: BevelForm, words: str, count: int) -> Drawing:
    hole, note = _hole(vehicle)
    return bevel_drawing(form, words, hole, note, count)


def _pegs(vehicle: Vehicle, *, form: BevelForm, words: str, count: int, crown: bool) -> Drawing:
    hole, note = _hole(vehicle)
    return peg_wheel_drawing(form, words, hole, note, count, crown=crown)
