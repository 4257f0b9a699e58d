"""The chapter on the outputs of a crane, and on their bearings."""

from math import isinf

from mild_badger.core.figures import N_MM, NEWTON, bare, in_n, in_n_mm
from mild_badger.core.kit.cautions import caution_of
from mild_badger.core.mechanisms.bearings.rows import bearing_rows
from mild_badger.core.mechanisms.chapter import Chapter, Sentences, Table
from mild_badger.core.mechanisms.crane.describe import (
    describe_crane,
    describe_end,
    describe_output,
    pace_line,
)
from mild_badger.core.mechanisms.crane.figures import OutputFigures, crane_figures
from mild_badger.core.mechanisms.crane.model import Crane
from mild_badger.core.mechanisms.crane.outputs import in_order
from mild_badger.core.message import say
from mild_badger.core.ratios.train import train_text
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import signed

__all__ = ["crane_chapter"]


def crane_chapter(vehicle: Vehicle, gear: str | None) -> Chapter | None:
    """Write every output, its gears and pace, and its bearings; None where there is none."""
    crane = vehicle.crane
    if crane is None:
        return None
    figures = in_order(crane_figures(vehicle, gear, vehicle.motor.working_rpm))
    columns = (
        (say("crane.output"), 0.0, "left"),
        ("from", 34.0, "left"),
        ("gears", 62.0, "left"),
        ("end", 102.0, "left"),
        ("speed", 136.0, "left"),
        (say("crane.torque", n_mm=N_MM), 182.0, "right"),
    )
    each = (describe_output(vehicle, figures, line.output.id) for line in figures)
    bearings = tuple(
        (
            row.name,
            bare(in_n(row.load.load_n, 1)),
            signed(row.load.rpm, ".0f"),
            row.planned or "",
            row.best.kind if row.best else "none",
        )
        for row in bearing_rows(vehicle)
    )
    bearing_columns = (
        ("bearing", 0.0, "left"),
        (say("crane.load", newton=NEWTON), 80.0, "right"),
        ("rpm", 96.0, "right"),
        (say("crane.planned"), 104.0, "left"),
        (say("crane.serves-from"), 132.0, "left"),
    )
    return Chapter(
        say("crane.outputs"),
        (
            Table(columns, tuple(_row(crane, line) for line in figures)),
            Sentences(describe_crane(vehicle, figures)),
            *map(Sentences, each),
            Sentences(caution_of("lifting")),
            *((Table(bearing_columns, bearings),) if bearings else ()),
        ),
    )


def _row(crane: Crane, line: OutputFigures) -> tuple[str, ...]:
    output = line.output
    train = train_text(output.pairs) or "none"
    if output.worm is not None:
        train += say("crane.worm", starts=output.worm.starts, teeth=output.worm.teeth)
    torque = "jams" if isinf(line.end_n_mm) else bare(in_n_mm(line.end_n_mm, 1))
    return (
        output.name,
        crane.called(output.source),
        train,
        describe_end(output),
        pace_line(line),
        torque,
    )
