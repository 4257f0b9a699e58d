"""Edits of outputs."""

from mild_badger.core.ids import OutputId
from mild_badger.core.mechanisms.bearings.loads import usual_bearing
from mild_badger.core.mechanisms.crane.ends import rope_settings
from mild_badger.core.mechanisms.crane.figures import OutputFigures, actual_share
from mild_badger.core.mechanisms.crane.model import (
    INPUTS,
    MAX_CRANE_OUTPUTS,
    Carried,
    Crane,
    CraneEnd,
    CraneOutput,
    Plain,
    Rack,
    Ring,
    Screw,
    Spool,
    Worm,
)
from mild_badger.core.mechanisms.crane.outputs import output_index
from mild_badger.core.message import say
from mild_badger.core.ratios.propose import short_pool
from mild_badger.core.ratios.single import best_train
from mild_badger.core.ratios.train import mesh_count, train_ratio, train_text
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.references import repointed

__all__ = [
    "ENDS",
    "add_crane",
    "add_output",
    "free_name",
    "keep_step",
    "remove_crane",
    "remove_output",
    "rename_output",
    "set_adjusters",
    "set_end",
    "set_worm",
]


ENDS: dict[str, tuple[str, type[CraneEnd]]] = {
    "ring": (say("crane.slewing-ring-2"), Ring),
    "screw": (say("crane.screw"), Screw),
    "spool": (say("crane.spool"), Spool),
    "rack": (say("crane.rack"), Rack),
    "rotation": (say("crane.plain-shaft"), Plain),
}
"""What an output may end in: what it is called, and its part of the document."""


def add_crane(vehicle: Vehicle) -> Edit:
    """Plan a crane: a slewing ring on the motor."""
    carried = _usually_carried(vehicle.kit)
    first = CraneOutput(name="slewing", end=Ring(), worm=Worm(), carried=carried)
    return Edit.one(say("crane.plan-outputs"), ("crane",), Crane(outputs=(first,)))


def _usually_carried(kit: Kit) -> Carried:
    return Carried(bearing=usual_bearing(kit), shaft_mm=kit.shaft_diameter_mm)


def remove_crane() -> Edit:
    """Take all outputs away."""
    return Edit.one(say("crane.take-the-outputs-away"), ("crane",), None)


def free_name(crane: Crane, wanted: str) -> str:
    """Give a name that no output bears yet."""
    names = {output.name for output in crane.outputs}
    free, number = wanted, 2
    while free in names:
        free, number = f"{wanted} {number}", number + 1
    return free


def add_output(vehicle: Vehicle, kind: str) -> Edit | None:
    """Add an output on the motor; None where there are as many as there may be."""
    crane = vehicle.crane or Crane()
    if len(crane.outputs) >= MAX_CRANE_OUTPUTS:
        return None
    words, end = ENDS[kind]
    name = free_name(crane, words)
    identity = vehicle.new_id(name, (*INPUTS, *(output.id for output in crane.outputs)))
    carried = _usually_carried(vehicle.kit)
    made = CraneOutput(id=OutputId(identity), name=name, end=end(), carried=carried)
    return Edit.one(say("crane.add-a", words=words), ("crane", "outputs"), [*crane.outputs, made])


def remove_output(vehicle: Vehicle, identity: OutputId) -> Edit:
    """Take an output away; what hung on it then hangs on what drove it, the rest lets go of it."""
    crane = vehicle.crane or Crane()
    gone = crane.output(identity)
    outputs = tuple(
        output.model_copy(update={"source": gone.source, "input_rpm": gone.input_rpm})
        if gone is not None and output.source == identity
        else output
        for output in crane.outputs
        if output.id != identity
    )
    without = vehicle.model_copy(update={"crane": crane.model_copy(update={"outputs": outputs})})
    changes = repointed(without, "crane output", lambda value: None if value == identity else value)
    return Edit(
        say("crane.take-away", called=crane.called(identity)), _with_crane(without, changes)
    )


def rename_output(crane: Crane, identity: OutputId, to: str) -> Edit:
    """Call an output otherwise; all that concerns it means it by its id."""
    path = ("crane", "outputs", output_index(crane, identity), "name")
    return Edit.one(say("crane.call", called=crane.called(identity), to=to), path, to)


def _with_crane(vehicle: Vehicle, changes: list[Change]) -> tuple[Change, ...]:
    """Add the crane itself where no reference of its own changed."""
    if any(change.path == ("crane",) for change in changes):
        return tuple(changes)
    return (Change(("crane",), vehicle.crane), *changes)


def set_end(crane: Crane, identity: OutputId, kind: str) -> Edit:
    """Let an output end in something else."""
    words, end = ENDS[kind]
    at = output_index(crane, identity)
    return Edit.one(
        say("crane.end-in-a", called=crane.called(identity), words=words),
        ("crane", "outputs", at, "end"),
        end(),
    )


def set_worm(crane: Crane, identity: OutputId, *, worm: bool) -> Edit:
    """Put a worm before an output's shaft, or take it out."""
    at, name = output_index(crane, identity), crane.called(identity)
    label = f"{'Put a worm before' if worm else 'Take the worm out of'} {name}"
    return Edit.one(label, ("crane", "outputs", at, "worm"), Worm() if worm else None)


def set_adjusters(crane: Crane, identity: OutputId) -> Edit:
    """Set every rope's adjuster so that the difference is shared between both ends of the way."""
    at = output_index(crane, identity)
    end = crane.outputs[at].end
    best = rope_settings(end).best if isinstance(end, Spool) else ()
    return Edit.one(
        say("crane.set-the-ropes-of", called=crane.called(identity)),
        ("crane", "outputs", at, "end", "adjust_mm"),
        [round(mm, 2) for mm in best],
    )


def keep_step(
    vehicle: Vehicle, figures: tuple[OutputFigures, ...], output: CraneOutput
) -> Edit | None:
    """Give the train of this output whose share comes nearest; None where none is better."""
    actual, crane = actual_share(figures, output), vehicle.crane
    if actual is None or crane is None or output.keeps is None:
        return None
    off = actual / output.share
    meshes = mesh_count(output.pairs) + (off < 0)
    wanted = float(train_ratio(output.pairs)) * abs(off)
    best = best_train(short_pool(vehicle), wanted, parity=meshes % 2)
    if best is None or abs(best.error_percent) >= abs(100 * (off - 1)):
        return None
    at = output_index(crane, output.id)
    changes = [Change(("crane", "outputs", at, "pairs"), [p.model_dump() for p in best.train])]
    if output.coupled_after > len(best.train):
        changes.append(Change(("crane", "outputs", at, "coupled_after"), len(best.train)))
    return Edit(
        say("crane.drive-over", name=output.name, train=train_text(best.train)), tuple(changes)
    )
