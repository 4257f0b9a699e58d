"""Templates of what outputs take: slewing rings, racks, flanges of rope drums."""

from collections.abc import Iterator
from functools import partial
from math import ceil, pi

from mild_badger.core.errors import InputError
from mild_badger.core.figures import in_mm
from mild_badger.core.mechanisms.crane.model import CraneOutput, Rack, Ring, Spool
from mild_badger.core.message import say
from mild_badger.core.templates.bars import sheet_for
from mild_badger.core.templates.drawing import Drawing
from mild_badger.core.templates.gear_template import own_template
from mild_badger.core.templates.segments import (
    glue_up,
    segment_counts,
    segment_plan,
    segment_template,
)
from mild_badger.core.templates.template import Template
from mild_badger.core.vehicle.making import OwnGear
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["crane_templates"]

RIM_MODULES = 4.0
"""What a slewing ring keeps inside its roots, in modules (common practice, no source)."""
LEAST_SEGMENTS = 6
"""Of fewer the boards are as wide as they are long."""


def crane_templates(vehicle: Vehicle) -> Iterator[Template]:
    """List what the outputs take; rings and racks only where gears are made."""
    made, thin = vehicle.kit.made, vehicle.making.dog_mm
    outputs = vehicle.crane.outputs if vehicle.crane is not None else ()
    for number, output in enumerate(outputs):
        end, key, draw = output.end, f"outputs {number}", partial(_drawn, output=output)
        if isinstance(end, Spool):
            yield Template(key, say("crane.flange-of", name=output.name), 2 * end.ropes, thin, draw)
        elif isinstance(end, Ring) and made is not None:
            yield Template(
                key, say("crane.slewing-ring-of", name=output.name), 1, made.face_width_mm, draw
            )
            yield from _in_segments(vehicle, output, end, key)
        elif isinstance(end, Rack) and made is not None:
            yield Template(key, say("crane.rack-of", name=output.name), 1, made.face_width_mm, draw)


def _in_segments(vehicle: Vehicle, output: CraneOutput, ring: Ring, key: str) -> Iterator[Template]:
    """List a ring's segment and how they are glued up, where its teeth share out evenly."""
    counts = [count for count in segment_counts(ring.teeth) if count >= LEAST_SEGMENTS]
    if not counts or vehicle.kit.made is None:
        return
    own, thick = _own(vehicle, ring, counts[0]), vehicle.kit.made.face_width_mm
    plan = segment_plan(own).summary
    words = say("crane.segment-of-the-slewing-ring-of", name=output.name)
    yield Template(
        f"{key} segment",
        words,
        own.segments + 1,
        thick,
        lambda _: segment_template(own),
        "in its place",
        note=lambda _: plan,
    )
    words = say("crane.glue-up-of-the-slewing-ring-of", name=output.name)
    yield Template(
        f"{key} glue-up", words, 1, thick, lambda _: glue_up(own), "in its place", flat=True
    )


def _own(vehicle: Vehicle, ring: Ring | None = None, segments: int = 0) -> OwnGear:
    """Give the figures of a gear of the kit's teeth; those of a ring where there is one."""
    kit = vehicle.kit
    thinning = kit.made.tooth_thinning_mm if kit.made is not None else 0.1
    own = OwnGear(
        module_mm=kit.module_mm, pressure_angle_deg=kit.pressure_angle_deg, thinning_mm=thinning
    )
    if ring is None:
        return own
    kind = "ring" if ring.internal else "gear"
    return own.model_copy(
        update={
            "kind": kind,
            "teeth": ring.teeth,
            "segments": segments,
            "bore_mm": kit.shaft_diameter_mm,
        }
    )


def _drawn(vehicle: Vehicle, *, output: CraneOutput) -> Drawing:
    kit = vehicle.kit
    end, making = output.end, vehicle.making
    match end:
        case Ring():
            hole = max((end.teeth - 2.5 - 2 * RIM_MODULES) * kit.module_mm, kit.shaft_diameter_mm)
            return own_template(_own(vehicle, end), making, hole)
        case Rack():
            teeth = max(ceil(end.travel_mm / (pi * kit.module_mm)) + 2, 4)
            update = {"kind": "rack", "teeth": teeth}
            return own_template(
                _own(vehicle).model_copy(update=update), making, kit.shaft_diameter_mm
            )
        case Spool():
            sheet, (cx, foot) = sheet_for(
                say("crane.flange-of-2", name=output.name),
                [
                    say(
                        "crane.on-a-drum-of-apart",
                        flange_mm=in_mm(end.flange_mm),
                        drum_mm=in_mm(end.drum_mm),
                        width_mm=in_mm(end.width_mm),
                    ),
                    say("crane.make", ropes=2 * end.ropes),
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
            raise InputError(
                say("crane.takes-no-template-see-the-list-of-templates", name=output.name)
            )
