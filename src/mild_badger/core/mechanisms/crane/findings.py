"""What may be wrong with outputs."""

from collections.abc import Iterator
from math import isinf

from mild_badger.core.driveline.crane import inner_shafts
from mild_badger.core.drivetrain.outputs import travel_per_turn
from mild_badger.core.figures import in_mm, in_n_mm
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.mechanisms.crane.describe import called
from mild_badger.core.mechanisms.crane.edits import keep_step, set_adjusters
from mild_badger.core.mechanisms.crane.ends import rope_layers, rope_settings
from mild_badger.core.mechanisms.crane.figures import (
    OutputFigures,
    actual_share,
    crane_figures,
)
from mild_badger.core.mechanisms.crane.model import (
    MOTOR_SHAFT,
    Crane,
    Plain,
    Rack,
    Screw,
    Spool,
)
from mild_badger.core.mechanisms.crane.outputs import output_index
from mild_badger.core.ratios.propose import trains_are_quick
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["crane_findings"]


ROPES_APART_MM = 1.0
"""Ropes that differ by more let what hangs on them stand askew (common practice, no source)."""


def crane_findings(vehicle: Vehicle) -> Iterator[Finding]:
    """Say what stands, jams, stalls, runs back, or falls out of step; in neutral."""
    crane = vehicle.crane
    if crane is None:
        return
    figures = crane_figures(vehicle, None, vehicle.motor.working_rpm)
    stall = vehicle.motor.shaft_stall_n_mm
    for row in figures:
        yield from _moves(vehicle, row, stall)
        yield from _rope_findings(crane, row)
        yield from _joint_findings(crane, row)
        yield from _share_findings(vehicle, figures, row)
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


def _rope_findings(crane: Crane, row: OutputFigures) -> Iterator[Finding]:
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


def _joint_findings(crane: Crane, row: OutputFigures) -> Iterator[Finding]:
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


def _share_findings(
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
