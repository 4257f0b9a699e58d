"""A vehicle's box proven by solids: what touches in the states that its shifter reaches."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from mild_badger.core.axle.road_state import Straight, conditions
from mild_badger.core.components.box import (
    BoxComponents,
    function_components,
)
from mild_badger.core.components.describe import describe_component
from mild_badger.core.components.drum_proof import prove_drums
from mild_badger.core.components.equipment import line_findings, line_touching
from mild_badger.core.components.lever_parts import lever_parts
from mild_badger.core.components.lever_proof import prove_lever
from mild_badger.core.components.proof import (
    Overlap,
    SolidProof,
    Step,
    Stroke,
    Turn,
    prove_solids,
)
from mild_badger.core.components.shift_lever_proof import prove_shift_levers
from mild_badger.core.components.vehicle_parts import levers_of, main_components
from mild_badger.core.errors import InputError
from mild_badger.core.figures import in_mm
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.functions.arrange import arrange
from mild_badger.core.layout.reason import why_no_functions, why_no_place
from mild_badger.core.message import Message, say
from mild_badger.core.shift.drum import drum_layout
from mild_badger.core.shift.states import prove
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.sleeves import describe_sleeve
from mild_badger.core.watch import UNWATCHED, Watch
from mild_badger.core.words import listed, word

__all__ = [
    "Collision",
    "collide",
    "collide_functions",
    "collide_lever",
    "collision_data",
    "collision_findings",
    "describe_collision",
    "functions_proven_of",
    "proven_of",
]

FORK_ROOM_MM = 0.4
"""Room between a fork and the gears it passes, both sides together."""


@dataclass(frozen=True)
class Collision:
    """The components that were looked at, and what the proof by solids says of them.

    ``line`` is what of the way to the wheels goes into what, see :func:`line_touching`.
    """

    box: BoxComponents
    proof: SolidProof
    line: tuple[tuple[str, str, float], ...] = ()

    @property
    def clear(self) -> bool:
        """Whether nothing of the box touches and all its teeth have a common phase."""
        return not self.proof.overlaps and not self.box.phases.astray


def proven_of(vehicle: Vehicle) -> tuple[object, ...]:
    """Give what a proof depends on: as long as this is the same, it still holds."""
    return (
        vehicle.box,
        vehicle.real.gears,
        vehicle.layout,
        vehicle.frame,
        vehicle.kit,
        vehicle.making,
        vehicle.shifting,
        vehicle.lever,
        vehicle.functions,
        vehicle.lever_drive,
        vehicle.final_drive,
        vehicle.wheels,
        vehicle.axle,
        vehicle.additional_axles,
        vehicle.running,
    )


def functions_proven_of(vehicle: Vehicle) -> tuple[object, ...]:
    """Give what a proof of the function box depends on."""
    return vehicle.functions, vehicle.frame, vehicle.kit, vehicle.making, vehicle.lever


def collide(vehicle: Vehicle, *, watch: Watch = UNWATCHED) -> Collision:
    """Prove a placed box by solids over every state that its shifter can reach.

    Raises
    ------
    InputError
        The box has no place in space: nothing can be said of what touches.
    SearchStopped
        It was stopped.
    """
    box = main_components(vehicle)
    if box is None:
        raise InputError(why_no_place(vehicle))
    if vehicle.box.lever is not None:
        return Collision(box, prove_lever(vehicle, watch=watch), line_touching(vehicle))
    states = prove(vehicle, conditions(vehicle, Straight(), locked=False)).states
    proof = prove_solids(
        box,
        [state.sleeves for state in states],
        vehicle.lever.fork_travel_mm,
        vehicle.kit.module_mm,
        watch=watch,
    )
    drums = prove_drums(box.components, drum_layout(vehicle), watch=watch)
    levers = prove_shift_levers(
        box.components,
        levers_of(vehicle),
        [state.sleeves for state in states],
        vehicle.lever.fork_travel_mm,
        watch=watch,
    )
    return Collision(box, proof.with_more(drums).with_more(levers), line_touching(vehicle))


def collide_lever(vehicle: Vehicle, *, watch: Watch = UNWATCHED) -> Collision:
    """Prove a lever drive beside the box by solids, over its whole stroke.

    Raises
    ------
    InputError
        There is none.
    SearchStopped
        It was stopped.
    """
    box = lever_parts(vehicle)
    if box is None:
        raise InputError(say("lever.this-vehicle-takes-no-lever-drive-to-prove"))
    return Collision(box, prove_lever(vehicle, watch=watch))


def collide_functions(vehicle: Vehicle, *, watch: Watch = UNWATCHED) -> Collision:
    """Prove a placed function box by solids, in every position of its table.

    Raises
    ------
    InputError
        The function box has no place in space: nothing can be said of what touches.
    SearchStopped
        It was stopped.
    """
    box, table = function_components(vehicle), vehicle.functions
    if box is None or table is None:
        raise InputError(why_no_functions(vehicle))
    arrangement = arrange(vehicle, table)
    states = dict.fromkeys(
        tuple(arrangement.settings(position.name).items()) for position in table.positions
    )
    proof = prove_solids(
        box,
        tuple(states),
        vehicle.lever.fork_travel_mm,
        vehicle.kit.module_mm,
        watch=watch,
    )
    return Collision(box, proof)


def _describe_step(step: Step | Stroke | Turn) -> str:
    if isinstance(step, Turn):
        return say("components.with-the-drum-at", angle=step.angle_deg)
    if isinstance(step, Stroke):
        return say(
            "components.with-the-fulcrum-at-and-the-throws-at",
            fulcrum=in_mm(step.fulcrum_mm, 1),
            angle=step.angle_deg,
        )
    if not step.sleeves:
        return say("components.in-neutral")
    where = listed(
        [
            say("components.towards", sleeve=describe_sleeve(name), face=word(face))
            for name, face in step.sleeves
        ]
    )
    if step.share == 1:
        return where
    return say("components.of-the-way", where=where, percent=100 * step.share)


def collision_findings(vehicle: Vehicle, collision: Collision) -> Iterator[Finding]:
    """Say of every pair that touches what it is, how much, where, and what to change."""
    for overlap in collision.proof.overlaps:
        one, other = collision.box.of(overlap.one), collision.box.of(overlap.other)
        text: str = say(
            "components.penetrate-by",
            depth=in_mm(overlap.depth_mm, 2),
            volume=overlap.volume_mm3,
            step=_describe_step(overlap.step),
        )
        yield Finding(
            Severity.ERROR,
            "parts-touch",
            ("layout", overlap.one, overlap.other),
            say(
                "components.and-touch",
                one=describe_component(vehicle, one),
                other=describe_component(vehicle, other),
            ),
            f"{text} {_remedy({one.kind, other.kind})}",
            overlap.depth_mm,
            0.0,
            "mm",
            _mend(vehicle, {one.kind, other.kind}),
        )
    yield from line_findings(vehicle, collision.line)
    for mesh, miss in collision.box.phases.astray:
        one, other = collision.box.of(mesh.one), collision.box.of(mesh.other)
        yield Finding(
            Severity.ERROR,
            "no-common-phase",
            ("layout", mesh.one, mesh.other),
            say(
                "components.cannot-both-mesh",
                one=describe_component(vehicle, one),
                other=describe_component(vehicle, other),
            ),
            say("components.teeth-miss-their-gaps-by", miss=100 * miss),
        )


def _remedy(kinds: set[str]) -> Message:
    if "fork" in kinds and kinds & {"gear", "wall"}:
        return say("components.take-a-thinner-fork-or-a-longer-sleeve")
    if "rail" in kinds:
        return say("components.let-the-rail-stand-elsewhere-or-shorten-the-travel")
    if kinds <= {"gear", "sleeve"}:
        return say("components.take-another-layer-or-a-longer-shaft-distance")
    return say("components.move-one-of-them-or-take-smaller-parts")


def _mend(vehicle: Vehicle, kinds: set[str]) -> Edit | None:
    """Thin a thin sleeve's fork so that it passes the gears: f < T − 2 r."""
    frame = vehicle.frame
    width = round(frame.thin_mm - 2 * frame.recess_mm - FORK_ROOM_MM, 2)
    if "fork" not in kinds or frame.sleeve != "thin" or not 0 < width < frame.fork_mm:
        return None
    return Edit.one(
        say("components.thin-the-forks", width=in_mm(width)), ("frame", "fork_mm"), width
    )


def describe_collision(collision: Collision) -> str:
    """Say in a sentence what was looked at and what came of it."""
    proof = collision.proof
    return say(
        "components.states-places-and-pairs-looked-at",
        states=proof.states,
        places=proof.places,
        pairs=proof.pairs,
        touching=len(proof.overlaps),
    )


def _overlap_data(overlap: Overlap) -> dict[str, Any]:
    return {
        "one": overlap.one,
        "other": overlap.other,
        "overlap_mm3": overlap.volume_mm3,
        "depth_mm": overlap.depth_mm,
        **_step_data(overlap.step),
    }


def _step_data(step: Step | Stroke | Turn) -> dict[str, Any]:
    if isinstance(step, Turn):
        return {"drum_deg": step.angle_deg}
    if isinstance(step, Stroke):
        return {"fulcrum_mm": step.fulcrum_mm, "angle_deg": step.angle_deg}
    return {"sleeves": dict(step.sleeves), "share_of_travel": step.share}


def collision_data(vehicle: Vehicle, collision: Collision) -> dict[str, Any]:
    """Give what was looked at, and every overlap in mm³, as plain data."""
    return {
        "clear": collision.clear and not collision.line,
        "components": len(collision.box.components),
        "states": collision.proof.states,
        "places": collision.proof.places,
        "pairs": collision.proof.pairs,
        "overlaps": [_overlap_data(overlap) for overlap in collision.proof.overlaps],
        "drive_line": [
            {"one": one, "other": other, "depth_mm": deep} for one, other, deep in collision.line
        ],
        "no_common_phase": [
            {"one": mesh.one, "other": mesh.other, "share_of_pitch": miss}
            for mesh, miss in collision.box.phases.astray
        ],
        "findings": [finding.as_json() for finding in collision_findings(vehicle, collision)],
    }
