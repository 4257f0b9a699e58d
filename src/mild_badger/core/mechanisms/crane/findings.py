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
from mild_badger.core.message import say
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
            say("crane.all-outputs-at-once-stall-the-motor"),
            say(
                "crane.all-outputs-need-the-motor-has-at-stall-run",
                asked=in_n_mm(asked, 1),
                stall=in_n_mm(stall, 1),
            ),
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
            say("crane.the-thread-of-jams", name=output.name),
            say(
                "crane.a-lead-of-on-with-cannot-be-turned-against",
                lead_mm=in_mm(output.end.lead_mm),
                mean_mm=in_mm(output.end.mean_mm),
                mu=output.end.mu,
            ),
        )
    elif driven == MOTOR_SHAFT and row.turns is None:
        yield Finding(
            Severity.ERROR,
            "output-stands",
            where,
            say("crane.does-not-turn", name=output.name),
            say("crane.the-motor-cannot-turn-this-output-the-gears"),
        )
    elif driven == MOTOR_SHAFT and row.input_n_mm is not None and row.input_n_mm > stall:
        yield Finding(
            Severity.ERROR,
            "output-stalls",
            where,
            say("crane.stalls-the-motor", name=output.name),
            say(
                "crane.the-output-needs-at-the-motor-which-has-at",
                input_n_mm=in_n_mm(row.input_n_mm, 1),
                stall=in_n_mm(stall, 1),
            ),
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
            say("crane.nothing-holds-the-load-of", name=output.name),
            say("crane.with-the-motor-off-the-load-unwinds-the-rope"),
        )
    elif loaded and not row.holds and isinstance(output.end, Screw):
        yield Finding(
            Severity.WARNING,
            "screw-runs-back",
            where,
            say("crane.the-screw-of-runs-back", name=output.name),
            say(
                "crane.a-lead-of-on-does-not-hold-by-itself-with",
                lead_mm=in_mm(output.end.lead_mm),
                mean_mm=in_mm(output.end.mean_mm),
                mu=output.end.mu,
            ),
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
            say("crane.the-rope-of-climbs-over-the-flange", name=row.output.name),
            say(
                "crane.wound-up-the-rope-reaches-a-diameter-of-the",
                outside=in_mm(outside, 1),
                flange_mm=in_mm(end.flange_mm),
            ),
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
            say("crane.an-adjuster-of-is-too-short", name=row.output.name),
            say(
                "crane.a-rope-wants-its-adjuster-has-either-way",
                reach=in_mm(reach, 1),
                adjust_range_mm=end.adjust_range_mm,
            ),
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
            say("crane.ropes-of-differ", name=row.output.name),
            say(
                "crane.over-the-full-travel-the-ropes-differ-by-so",
                apart=in_mm(ropes.apart, 1),
                left=in_mm(ropes.left, 1),
            ),
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
            say("crane.no-gear-turns-freely-on-that-shaft", name=output.name),
            say(
                "crane.only-gears-between-two-pairs-can-turn-freely",
                called=crane.called(output.loose_on),
            ),
            mend=Edit.one(
                say("crane.use-a-separate-shaft"), ("crane", "outputs", at, "loose_on"), None
            ),
        )
    if output.keys < 2 or isinstance(output.end, Plain) or row.key_off < 1e-9:
        return
    at = output_index(crane, output.id)
    unit = row.unit.removesuffix("/s")
    yield Finding(
        Severity.NOTE,
        "coupling-not-keyed",
        ("crane", output.id),
        say("crane.the-coupling-of-can-be-assembled-in", name=output.name, keys=output.keys),
        say("crane.one-position-further-shifts-the-output-by", key_off=row.key_off, unit=unit),
        row.key_off,
        0.0,
        unit,
        Edit.one(
            say("crane.key-the-coupling-of", name=output.name), ("crane", "outputs", at, "keys"), 1
        ),
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
            say("crane.cannot-keep-pace-with-another-output", name=output.name),
            say("crane.target-but-one-of-the-two-stands-still-or", share=output.share, base=base),
        )
        return
    off = 100 * abs(actual / output.share - 1)
    allowed = vehicle.search.tolerance_percent
    if off > allowed:
        yield Finding(
            Severity.WARNING,
            "out-of-step",
            where,
            say("crane.misses-the-speed-of-another-output", name=output.name),
            say(
                "crane.runs-at-target-the-error-is-the-limit",
                actual=actual,
                base=base,
                share=output.share,
                off=off,
                allowed=allowed,
            ),
            actual,
            output.share,
            "",
            keep_step(vehicle, figures, output) if trains_are_quick(vehicle) else None,
        )
