"""A crane's outputs in words, what is wrong with them, and their edits."""

from collections.abc import Iterator
from math import isinf

from mild_badger.core.driveline.crane import inner_shafts
from mild_badger.core.drivetrain.outputs import travel_per_turn
from mild_badger.core.figures import bare, in_a_row, in_mm, in_n, in_n_mm, in_unit
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.ids import OutputId
from mild_badger.core.mechanisms.crane.ends import rope_layers, rope_settings
from mild_badger.core.mechanisms.crane.figures import (
    OutputFigures,
    actual_share,
    crane_figures,
    shares,
)
from mild_badger.core.mechanisms.crane.model import (
    INPUTS,
    MAX_CRANE_OUTPUTS,
    MOTOR_SHAFT,
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
from mild_badger.core.ratios.propose import short_pool, trains_are_quick
from mild_badger.core.ratios.single import best_train
from mild_badger.core.ratios.train import mesh_count, train_ratio, train_text
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.references import repointed
from mild_badger.core.words import plural, signed

__all__ = [
    "ENDS",
    "add_crane",
    "add_output",
    "called",
    "crane_faults",
    "describe_crane",
    "describe_end",
    "describe_line",
    "describe_output",
    "describe_pace",
    "drawn_mm",
    "free_name",
    "in_order",
    "keep_step",
    "output_index",
    "pace_line",
    "remove_crane",
    "remove_output",
    "rename_output",
    "set_adjusters",
    "set_end",
    "set_worm",
    "step_line",
]

ENDS: dict[str, tuple[str, type[CraneEnd]]] = {
    "ring": ("slewing ring", Ring),
    "screw": ("screw", Screw),
    "spool": ("spool", Spool),
    "rack": ("rack", Rack),
    "rotation": ("plain shaft", Plain),
}
"""What an output may end in: what it is called, and its part of the document."""

ROPES_APART_MM = 1.0
"""Ropes that differ by more let what hangs on them stand askew (common practice, no source)."""


def add_crane() -> Edit:
    """Plan a crane: a slewing ring on the motor."""
    first = CraneOutput(name="slewing", end=Ring(), worm=Worm())
    return Edit.one("Plan outputs", ("crane",), Crane(outputs=(first,)))


def remove_crane() -> Edit:
    """Take all outputs away."""
    return Edit.one("Take the outputs away", ("crane",), None)


def free_name(crane: Crane, wanted: str) -> str:
    """Give a name that no output bears yet."""
    names = {output.name for output in crane.outputs}
    free, number = wanted, 2
    while free in names:
        free, number = f"{wanted} {number}", number + 1
    return free


def output_index(crane: Crane, identity: OutputId) -> int:
    """Give the place of an output in the document.

    Raises
    ------
    KeyError
        There is none of that id.
    """
    for number, output in enumerate(crane.outputs):
        if output.id == identity:
            return number
    raise KeyError(identity)


def add_output(vehicle: Vehicle, kind: str) -> Edit | None:
    """Add an output on the motor; None where there are as many as there may be."""
    crane = vehicle.crane or Crane()
    if len(crane.outputs) >= MAX_CRANE_OUTPUTS:
        return None
    words, end = ENDS[kind]
    name = free_name(crane, words)
    identity = vehicle.new_id(name, (*INPUTS, *(output.id for output in crane.outputs)))
    made = CraneOutput(id=OutputId(identity), name=name, end=end())
    return Edit.one(f"Add a {words}", ("crane", "outputs"), [*crane.outputs, made])


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
    return Edit(f"Take {crane.called(identity)} away", _with_crane(without, changes))


def rename_output(crane: Crane, identity: OutputId, to: str) -> Edit:
    """Call an output otherwise; all that concerns it means it by its id."""
    path = ("crane", "outputs", output_index(crane, identity), "name")
    return Edit.one(f"Call {crane.called(identity)} {to}", path, to)


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
        f"End {crane.called(identity)} in a {words}", ("crane", "outputs", at, "end"), end()
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
        f"Set the ropes of {crane.called(identity)}",
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
    return Edit(f"Drive {output.name} over {train_text(best.train)}", tuple(changes))


def describe_end(output: CraneOutput) -> str:
    """Say what an output ends in."""
    end = output.end
    match end:
        case Ring():
            inner = ", inside" if end.internal else ""
            return f"slewing ring {end.pinion}:{end.teeth}{inner}"
        case Screw():
            many = f"{end.screws} screws" if end.screws > 1 else "screw"
            return f"{many}, lead {in_mm(end.lead_mm)}"
        case Spool():
            many = f"{end.ropes} ropes" if end.ropes > 1 else "rope"
            return f"{many} on {in_mm(end.drum_mm)}"
        case Rack():
            return f"rack on {end.pinion} teeth"
        case Plain():
            return "plain shaft"


def describe_pace(row: OutputFigures) -> str:
    """Say how an output moves, without its name."""
    if row.turns is None:
        return "stands"
    turns = row.input_turns or 0.0
    seen = float(f"{abs(turns):.4g}")
    input_words = (
        plural("motor turn", seen)
        if row.input == MOTOR_SHAFT
        else f"{plural('turn', seen)} of the separate input"
    )
    rate = in_unit(abs(row.rate), row.unit, 1)
    if row.fast > row.slow * 1.001:
        rate = in_a_row((in_unit(v, row.unit, 1) for v in (row.slow, row.fast)), " to ")
    way = f"{'same' if turns > 0 else 'opposite'} direction"
    one = "the ring" if isinstance(row.output.end, Ring) else "the output shaft"
    sentence = f"{abs(turns):.4g} {input_words} per turn of {one}, {way}; {rate}"
    if row.seconds is not None:
        sentence += f", full travel in {row.seconds:.0f} s"
    return sentence


def describe_output(
    vehicle: Vehicle, figures: tuple[OutputFigures, ...], identity: OutputId
) -> str:
    """Say everything of one output."""
    row = next((one for one in figures if one.output.id == identity), None)
    if row is None:
        return ""
    output, end = row.output, row.output.end
    sentences = [f"{output.name}: {describe_pace(row)}."]
    if isinf(row.end_n_mm):
        sentences.append("The thread jams.")
    elif row.input_n_mm is not None:
        sentences.append(
            f"Torque needed {in_n_mm(row.end_n_mm, 1)} at the end, {in_n_mm(row.input_n_mm, 2)} "
            "at the "
            f"input; {row.lost_percent or 0.0:.0f} % is lost in gears and worms."
        )
    if isinstance(end, Spool):
        layers = rope_layers(end)
        sentences.append(
            f"{in_mm(end.rope_length_mm)} of rope lie in {len(layers)} "
            f"{plural('layer', len(layers))}; mean diameter of the last "
            f"{in_mm(layers[-1].middle_mm, 1)}. Each rope carries "
            f"{in_n(end.weight_n / end.falls / end.ropes, 2)}."
        )
        if end.ropes > 1:
            ropes = rope_settings(end)
            sentences.append(
                f"The {end.ropes} ropes differ by up to {in_mm(ropes.apart, 2)}; well adjusted by "
                f"{in_mm(ropes.left, 2)} either way."
            )
    against = [
        f"{called(figures, other)} {share:.3g}"
        for other, share in shares(figures, identity).items()
        if other != identity and share
    ]
    if against:
        sentences.append(
            f"Speed ratio to the other outputs: {', '.join(against)}.".replace(" -", " −")
        )
    sentences.append(
        f"Held at rest by {row.holds}." if row.holds else "Nothing holds the output at rest."
    )
    if row.loose is not None:
        sentences.append(
            f"The gears turn freely on the shaft of {row.loose.on}, at {row.loose.rpm:.0f} rpm "
            f"against that shaft; {row.loose.glued}."
        )
    if output.keys:
        unit = row.unit.removesuffix("/s")
        sentences.append(
            "The coupling can be assembled in one position only."
            if output.keys == 1
            else f"The coupling can be assembled in {output.keys} positions; each shifts the "
            "output by "
            f"{row.key_off:.2f} {unit}."
        )
    actual = actual_share(figures, output)
    if output.keeps is not None and actual is not None:
        sentences.append(
            f"Runs at {actual:.4g} × {called(figures, output.keeps)}; target {output.share:g} ×."
        )
    return " ".join(sentences)


def in_order(figures: tuple[OutputFigures, ...]) -> tuple[OutputFigures, ...]:
    """Put every output behind the one that it hangs on."""
    ordered: list[OutputFigures] = []

    def add(source: str) -> None:
        for one in figures:
            if one.output.source == source:
                ordered.append(one)
                add(one.output.id)

    names = {one.output.id for one in figures}
    for source in dict.fromkeys(one.output.source for one in figures):
        if source not in names:
            add(source)
    return tuple(ordered)


def called(figures: tuple[OutputFigures, ...], identity: str) -> str:
    """Say what an output is called."""
    named = (one.output.name for one in figures if one.output.id == identity)
    return next(named, identity)


def pace_line(row: OutputFigures) -> str:
    """Say an output's speed in a few words, with its sign."""
    if row.turns is None:
        return "stands"
    sign = "+" if row.rate > 0 else "−"
    if row.fast > row.slow * 1.001:
        ends = in_a_row((in_unit(v, row.unit, 1) for v in (row.slow, row.fast)), " … ")
        return f"{sign} {ends}"
    return f"{sign} {in_unit(abs(row.rate), row.unit, 1)}"


def step_line(row: OutputFigures, figures: tuple[OutputFigures, ...]) -> tuple[str, ...]:
    """Say in short lines how an output stands to its input, and to the one it keeps step with."""
    if row.turns is None:
        return ("drive it, or engage a gear",)
    lines = [f"{abs(row.input_turns or 0.0):.4g} turns in for one"]
    if row.seconds is not None:
        lines[0] += f" · {row.seconds:.0f} s"
    if row.input_n_mm is not None:
        lines.append(f"{in_n_mm(row.input_n_mm, 2)} in, {row.lost_percent or 0.0:.0f} % lost")
    actual = actual_share(figures, row.output)
    if row.output.keeps is not None and actual is not None:
        here, asked = (signed(n, ".3g") for n in (actual, row.output.share))
        lines.append(f"{here} of {called(figures, row.output.keeps)}, {asked} asked")
    elif row.holds:
        lines.append(f"held by {row.holds}")
    return tuple(lines)


def describe_line(row: OutputFigures) -> str:
    """Say an output in a line."""
    return f"{row.output.name}, {describe_end(row.output)}: {describe_pace(row)}"


def drawn_mm(output: CraneOutput, module_mm: float) -> tuple[float, float]:
    """Give how long a train is laid out in a line, gear touching gear, and how high; mm."""
    sizes = [(p.driver, *p.idlers, p.driven) for p in output.pairs]
    if not sizes:
        return 0.0, 0.0
    reach = sum(sum(row) - (row[0] + row[-1]) / 2 for row in sizes)
    whole = reach + (sizes[0][0] + sizes[-1][-1]) / 2
    return whole * module_mm, max(max(row) for row in sizes) * module_mm


def describe_crane(vehicle: Vehicle, figures: tuple[OutputFigures, ...]) -> str:
    """Say what all outputs ask of the motor at once."""
    asked = [one.input_n_mm for one in figures if one.input == MOTOR_SHAFT and one.input_n_mm]
    if not asked:
        return "The motor drives no output in this gear."
    stall = vehicle.motor.shaft_stall_n_mm
    return (
        f"All outputs on the motor together need {bare(in_n_mm(sum(asked), 1))} of "
        f"{in_n_mm(stall, 0)} at stall."
    )


def crane_faults(vehicle: Vehicle) -> Iterator[Finding]:
    """Say what stands, jams, stalls, runs back, or falls out of step; in neutral."""
    crane = vehicle.crane
    if crane is None:
        return
    figures = crane_figures(vehicle, None, vehicle.motor.working_rpm)
    stall = vehicle.motor.shaft_stall_n_mm
    for row in figures:
        yield from _moves(vehicle, row, stall)
        yield from _rope_faults(crane, row)
        yield from _joint_faults(crane, row)
        yield from _share_faults(vehicle, figures, row)
    asked = sum(one.input_n_mm or 0.0 for one in figures if one.input == MOTOR_SHAFT)
    if asked > stall and all((one.input_n_mm or 0.0) <= stall for one in figures):
        yield Finding(
            Severity.WARNING,
            "outputs-stall",
            ("crane",),
            "All outputs at once stall the motor",
            f"All outputs need {in_n_mm(asked, 1)}, the motor has {in_n_mm(stall, 1)} at stall: "
            "run "
            "fewer at a time or gear them down.",
            asked,
            stall,
            "N·mm",
        )


def _moves(vehicle: Vehicle, row: OutputFigures, stall: float) -> Iterator[Finding]:
    output, where = row.output, ("crane", row.output.id)
    driven = vehicle.crane is not None and vehicle.crane.way_to(output.id)[0].source
    if isinf(row.end_n_mm):
        assert isinstance(output.end, Screw)  # nothing else can jam
        yield Finding(
            Severity.ERROR,
            "thread-jams",
            where,
            f"The thread of {output.name} jams",
            f"A lead of {in_mm(output.end.lead_mm)} on {in_mm(output.end.mean_mm)} with μ = "
            f"{output.end.mu:g} cannot be turned against its load: take a smaller lead.",
        )
    elif driven == MOTOR_SHAFT and row.turns is None:
        yield Finding(
            Severity.ERROR,
            "output-stands",
            where,
            f"{output.name} does not turn",
            "The motor cannot turn this output: the gears lock, or nothing joins them to the "
            "motor.",
        )
    elif driven == MOTOR_SHAFT and row.input_n_mm is not None and row.input_n_mm > stall:
        yield Finding(
            Severity.ERROR,
            "output-stalls",
            where,
            f"{output.name} stalls the motor",
            f"The output needs {in_n_mm(row.input_n_mm, 1)} at the motor, which has "
            f"{in_n_mm(stall, 1)} "
            "at stall. Gear it down or lighten the load.",
            row.input_n_mm,
            stall,
            "N·mm",
        )
    loaded = isinstance(output.end, Spool | Screw | Rack) and row.end_n_mm > 0
    if loaded and not row.holds and isinstance(output.end, Spool):
        yield Finding(
            Severity.WARNING,
            "load-runs-back",
            where,
            f"Nothing holds the load of {output.name}",
            "With the motor off the load unwinds the rope. Put a worm of small lead before the "
            "spool, or a ratchet or brake on its shaft.",
        )
    elif loaded and not row.holds and isinstance(output.end, Screw):
        yield Finding(
            Severity.WARNING,
            "screw-runs-back",
            where,
            f"The screw of {output.name} runs back",
            f"A lead of {in_mm(output.end.lead_mm)} on {in_mm(output.end.mean_mm)} does not hold "
            "by "
            f"itself with μ = {output.end.mu:g}: legs sink and carriages roll. Take a smaller "
            "lead or put a worm before it.",
            output.end.lead_mm,
            travel_per_turn("spool", output.end.mean_mm)[0] * output.end.mu,
            "mm",
        )


def _rope_faults(crane: Crane, row: OutputFigures) -> Iterator[Finding]:
    end, where = row.output.end, ("crane", row.output.id)
    if not isinstance(end, Spool):
        return
    outside = rope_layers(end)[-1].middle_mm + end.rope_mm
    if outside > end.flange_mm:
        yield Finding(
            Severity.ERROR,
            "rope-over-flange",
            where,
            f"The rope of {row.output.name} climbs over the flange",
            f"Wound up, the rope reaches a diameter of {in_mm(outside, 1)}; the flanges have "
            f"{in_mm(end.flange_mm)}. Use a wider drum, a thinner rope or a shorter one.",
            outside,
            end.flange_mm,
            "mm",
        )
    if end.ropes == 1:
        return
    ropes = rope_settings(end)
    reach = max(abs(mm) for mm in (*ropes.best, *end.adjust_mm))
    if reach > end.adjust_range_mm:
        yield Finding(
            Severity.ERROR,
            "adjuster-short",
            where,
            f"An adjuster of {row.output.name} is too short",
            f"A rope wants {in_mm(reach, 1)}, its adjuster has {end.adjust_range_mm:g} either way. "
            "Turn the drums to one size.",
            reach,
            end.adjust_range_mm,
            "mm",
        )
    elif ropes.apart > ROPES_APART_MM:
        better = 2 * ropes.left < ropes.apart - 0.01
        yield Finding(
            Severity.WARNING,
            "ropes-out-of-step",
            where,
            f"Ropes of {row.output.name} differ",
            f"Over the full travel the ropes differ by {in_mm(ropes.apart, 1)}, so that what "
            "hangs on "
            f"them stands askew; adjusted at best {in_mm(ropes.left, 1)} either way.",
            ropes.apart,
            ROPES_APART_MM,
            "mm",
            set_adjusters(crane, row.output.id) if better else None,
        )


def _joint_faults(crane: Crane, row: OutputFigures) -> Iterator[Finding]:
    output = row.output
    if output.loose_on is not None and not inner_shafts(output):
        at = output_index(crane, output.id)
        yield Finding(
            Severity.NOTE,
            "nothing-loose",
            ("crane", output.id),
            f"{output.name}: no gear turns freely on that shaft",
            f"Only gears between two pairs can turn freely on the shaft of "
            f"{crane.called(output.loose_on)}; this output has none there.",
            mend=Edit.one("Use a separate shaft", ("crane", "outputs", at, "loose_on"), None),
        )
    if output.keys < 2 or isinstance(output.end, Plain) or row.key_off < 1e-9:
        return
    at = output_index(crane, output.id)
    unit = row.unit.removesuffix("/s")
    yield Finding(
        Severity.NOTE,
        "coupling-not-keyed",
        ("crane", output.id),
        f"The coupling of {output.name} can be assembled in {output.keys} positions",
        f"One position further shifts the output by {row.key_off:.2f} {unit}. With a single key "
        "there is only one position.",
        row.key_off,
        0.0,
        unit,
        Edit.one(f"Key the coupling of {output.name}", ("crane", "outputs", at, "keys"), 1),
    )


def _share_faults(
    vehicle: Vehicle, figures: tuple[OutputFigures, ...], row: OutputFigures
) -> Iterator[Finding]:
    output = row.output
    if output.keeps is None:
        return
    actual, where = actual_share(figures, output), ("crane", output.id)
    base = called(figures, output.keeps)
    if actual is None:
        yield Finding(
            Severity.WARNING,
            "no-share",
            where,
            f"{output.name} cannot keep pace with another output",
            f"Target {output.share:g} × {base}, but one of the two stands still, or one turns "
            "and the other slides.",
        )
        return
    off = 100 * abs(actual / output.share - 1)
    allowed = vehicle.search.tolerance_percent
    if off > allowed:
        yield Finding(
            Severity.WARNING,
            "out-of-step",
            where,
            f"{output.name} misses the speed of another output",
            f"Runs at {actual:.4g} × {base}; target {output.share:g} ×. The error is {off:.1f} %, "
            f"the limit {allowed:g} %.",
            actual,
            output.share,
            "",
            keep_step(vehicle, figures, output) if trains_are_quick(vehicle) else None,
        )
