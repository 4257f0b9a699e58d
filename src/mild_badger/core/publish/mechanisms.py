"""The plan book's chapters on the mechanisms of the tab Machine; each is left out without one."""

from collections.abc import Callable
from math import isinf

from mild_badger.core.drivetrain.lever_motion import motion_of, motion_words, range_of
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.mechanisms.balance.result import balance_figures, balance_words, chart_words
from mild_badger.core.mechanisms.bearings.result import bearing_rows
from mild_badger.core.mechanisms.cables.result import cables_words
from mild_badger.core.mechanisms.cables.travel import run_figures
from mild_badger.core.mechanisms.clutch.result import clutch_words
from mild_badger.core.mechanisms.crane.figures import crane_figures
from mild_badger.core.mechanisms.crane.result import (
    crane_words,
    end_words,
    in_order,
    output_words,
    pace_line,
)
from mild_badger.core.mechanisms.display.engine import top_deg
from mild_badger.core.mechanisms.display.result import display_result
from mild_badger.core.mechanisms.liquid.result import liquid_words
from mild_badger.core.publish.page import LEFT, RIGHT, RUN, Book
from mild_badger.core.ratios.train import train_text
from mild_badger.core.workshop.cautions import caution_of

__all__ = ["DRAWN"]

Draw = Callable[[Book, Evaluation], None]


def _display(book: Book, evaluation: Evaluation) -> None:
    """Write the display engine's figures; nothing where the vehicle has none."""
    vehicle = evaluation.vehicle
    result = display_result(vehicle, evaluation.situation.gear, vehicle.motor.working_rpm)
    if result is None:
        return
    engine = result.engine
    y = book.begin("Display engine")
    y = book.paragraph(LEFT, y, result.words, 8, width=RIGHT - LEFT) + 3
    rows = [
        (
            str(n),
            f"{throw:g}°",
            f"{engine.bank_of(n):+g}°".replace("-", "−"),
            f"{top_deg(engine, n):g}°",
            f"{at:.4g}°",
        )
        for n, throw in enumerate(engine.throws_deg, start=1)
        for at in (result.firing.angles_deg[result.firing.order.index(n)],)
    ]
    y = book.table(
        y,
        (
            ("cylinder", LEFT, "left"),
            ("throw", 60, "right"),
            ("leans", 84, "right"),
            ("top at", 108, "right"),
            ("fires after", 136, "right"),
        ),
        rows,
    )
    pairs = train_text(engine.pairs) or "none, it sits on the shaft"
    sizes = (
        f"Throw {engine.throw_mm:g} mm, rod {engine.rod_mm:g} mm, piston {engine.bore_mm:g} mm, "
        f"pin {engine.pin_mm:g} mm."
    )
    sentence = (
        f"{sizes} Driven from the {engine.drive}; gears: {pairs}. Glue the webs in the jig that is "
        "among the templates: throws a quarter turn out are the usual mistake."
    )
    y = book.paragraph(LEFT, book.room(y, 12) + 2, sentence, 8, width=RIGHT - LEFT)
    for wrong in result.wrong:
        y = book.paragraph(LEFT, book.room(y, 8) + 1, wrong.words, 8, width=RIGHT - LEFT, color=RUN)


def _lever(book: Book, evaluation: Evaluation) -> None:
    """Write the lever drive's figures from stop to stop; nothing where the vehicle has none."""
    drive = evaluation.vehicle.stepless
    if drive is None:
        return
    here = motion_of(drive)
    y = book.begin("Lever drive")
    y = book.paragraph(LEFT, y, motion_words(drive, here), 8, width=RIGHT - LEFT) + 3
    rows = [
        (
            f"{mm:.1f}",
            f"{motion.arms_mm[1] / mm:.3f}",
            f"{motion.stroke_mm:.2f}",
            f"{motion.mean:.4f}",
            f"{motion.trough:.4f}",
            f"{motion.peak:.4f}",
            "jams" if motion.jams else f"{motion.pulsation:.2f}",
        )
        for mm, motion in range_of(drive)
    ]
    y = book.table(
        y,
        (
            ("fulcrum mm", LEFT + 18, "right"),
            ("lever ratio", 58, "right"),
            ("stroke mm", 80, "right"),
            ("mean turns", 102, "right"),
            ("least", 122, "right"),
            ("most", 142, "right"),
            ("pulsation", 164, "right"),
        ),
        rows,
    )
    phases = ", ".join(f"{phase:g}°" for phase in drive.phases)
    sizes = (
        f"Throw {drive.throw_mm:g} mm, lever {drive.lever_mm:g} mm, stops at "
        f"{drive.stop_low_mm:g} and {drive.stop_high_mm:g} mm, ratchet wheel {drive.wheel_mm:g} mm "
        f"with {drive.teeth} teeth; throws at {phases}; gears from the motor: "
        f"{train_text(drive.pairs) or 'none'}. Turns are the ratchet wheel's for one of the throws."
    )
    book.paragraph(LEFT, book.room(y, 12) + 2, sizes, 8, width=RIGHT - LEFT)


def _in_words(book: Book, title: str, *paragraphs: str) -> None:
    """Write a chapter that is words alone."""
    y = book.begin(title)
    for words in paragraphs:
        y = book.paragraph(LEFT, book.room(y, 12), words, 8, width=RIGHT - LEFT) + 2


def _clutch(book: Book, evaluation: Evaluation) -> None:
    """Write the clutch's figures; nothing where the vehicle has none."""
    clutch = evaluation.vehicle.clutch
    if clutch is None:
        return
    sizes = (
        f"{clutch.faces} faces of {clutch.lining}, {clutch.outer_mm:g} mm outside and "
        f"{clutch.inner_mm:g} mm inside; spring {clutch.spring_n:g} N new, "
        f"{clutch.spring_n_per_mm:g} N less for each mm of wear; gap {clutch.gap_mm:g} mm a face; "
        f"lever {clutch.lever_ratio:g} to 1 with {clutch.pedal_mm:g} mm of travel."
    )
    _in_words(book, "Clutch", clutch_words(evaluation.vehicle), sizes)


def _liquid(book: Book, evaluation: Evaluation) -> None:
    """Write the liquid lines' figures and their caution; nothing where the vehicle has none."""
    lines = evaluation.vehicle.liquids
    if not lines:
        return
    paragraphs = []
    for line in lines:
        sizes = (
            f"Master {line.master_mm:g} mm, {line.slaves} slaves of {line.slave_mm:g} mm, "
            f"{'floating calipers' if line.floating else 'one-sided'}; pedal {line.pedal_ratio:g} "
            f"to 1 with {line.pedal_mm:g} mm; pads at {line.radius_mm:g} mm, friction "
            f"{line.pad_mu:g}."
        )
        name = line.name[:1].upper() + line.name[1:]
        paragraphs += [f"{name}: {liquid_words(evaluation.vehicle, line)}", sizes]
    _in_words(book, "Liquid lines", *paragraphs, caution_of("liquid"))


def _cables(book: Book, evaluation: Evaluation) -> None:
    """Write every cable's holes and travels; nothing where the vehicle has none."""
    cables = evaluation.vehicle.cables
    if cables is None:
        return
    y = book.begin("Cables")
    y = book.paragraph(LEFT, y, cables_words(evaluation.vehicle), 8, width=RIGHT - LEFT) + 3
    rows = []
    for run in cables.runs:
        figures = run_figures(cables, run)
        holes = [f"hand {run.from_hole}"]
        holes += [f"{lever.takes} to {lever.gives}" for lever in run.levers]
        rows.append(
            (
                run.name,
                ", ".join(holes),
                f"{figures.travel:.1f}",
                f"{run.wanted_mm:g}",
                f"{run.slack_mm:g}",
            )
        )
    y = book.table(
        y,
        (
            ("cable", LEFT, "left"),
            ("holes", 70, "left"),
            ("moves mm", 132, "right"),
            ("wanted", 152, "right"),
            ("slack", 170, "right"),
        ),
        rows,
    )
    drilled = ", ".join(f"{mm:g}" for mm in cables.holes_mm)
    sentence = (
        f"The hand's lever has holes at {drilled} mm from its pivot and is moved "
        f"{cables.stroke_mm:g} mm at {cables.hand_mm:g} mm."
    )
    for run in cables.runs:
        for number, lever in enumerate(run.levers, start=1):
            holes_at = ", ".join(f"{mm:g}" for mm in lever.holes_mm)
            sentence += f" Lever {number} of {run.name}: {holes_at} mm."
    book.paragraph(LEFT, book.room(y, 12) + 2, sentence, 8, width=RIGHT - LEFT)


def _crane(book: Book, evaluation: Evaluation) -> None:
    """Write every output, its gears and pace, and its bearings; nothing where there is none."""
    vehicle = evaluation.vehicle
    crane = vehicle.crane
    if crane is None:
        return
    figures = in_order(crane_figures(vehicle, evaluation.situation.gear, vehicle.motor.working_rpm))
    y = book.begin("Outputs")
    rows = []
    for line in figures:
        output = line.output
        train = train_text(output.pairs) or "none"
        if output.worm is not None:
            train += f", worm {output.worm.starts}:{output.worm.teeth}"
        torque = "jams" if isinf(line.end_n_mm) else f"{line.end_n_mm:.1f}"
        rows.append(
            (
                output.name,
                crane.called(output.source),
                train,
                end_words(output),
                pace_line(line),
                torque,
            )
        )
    y = book.table(
        y,
        (
            ("output", LEFT, "left"),
            ("from", 48, "left"),
            ("gears", 76, "left"),
            ("moves", 116, "left"),
            ("pace", 150, "left"),
            ("N·mm", RIGHT, "right"),
        ),
        rows,
    )
    y = book.paragraph(
        LEFT, book.room(y, 12) + 2, crane_words(vehicle, figures), 8, width=RIGHT - LEFT
    )
    for line in figures:
        words = output_words(vehicle, figures, line.output.id)
        y = book.paragraph(LEFT, book.room(y, 14) + 1, words, 8, width=RIGHT - LEFT)
    y = book.paragraph(LEFT, book.room(y, 12) + 1, caution_of("lifting"), 8, width=RIGHT - LEFT)
    bears = [
        (
            row.name,
            f"{row.load.load_n:.1f}",
            f"{row.load.rpm:.0f}",
            row.planned or "",
            row.best.kind if row.best else "none",
        )
        for row in bearing_rows(vehicle)
    ]
    if bears:
        book.table(
            book.room(y, 30) + 4,
            (
                ("bearing", LEFT, "left"),
                ("N", 94, "right"),
                ("rpm", 110, "right"),
                ("planned in", 118, "left"),
                ("serves from", 146, "left"),
            ),
            bears,
        )


def _balance(book: Book, evaluation: Evaluation) -> None:
    """Write masses, stand and load chart; nothing where no balance is planned."""
    vehicle = evaluation.vehicle
    balance, figures = vehicle.balance, balance_figures(vehicle)
    if balance is None or figures is None:
        return
    y = book.begin("Balance")
    y = (
        book.paragraph(
            LEFT, y, f"{balance_words(vehicle)} {chart_words(figures)}", 8, width=RIGHT - LEFT
        )
        + 3
    )
    y = book.table(
        y,
        (
            ("mass", LEFT, "left"),
            ("kg", 78, "right"),
            ("on", 84, "left"),
            ("ahead mm", 130, "right"),
            ("left mm", 148, "right"),
            ("high mm", 166, "right"),
            ("", 170, "left"),
        ),
        [
            (
                m.name,
                f"{m.mass_kg:g}",
                m.on,
                f"{m.x_mm:g}",
                f"{m.y_mm:g}",
                f"{m.z_mm:g}",
                "comes off" if m.removable else "",
            )
            for m in balance.masses
        ],
    )
    chart = [
        (f"{mm:.0f}", *("any" if isinf(kg) else f"{kg:.2f}" for kg in (allowed, tips)))
        for mm, allowed, tips in list(
            zip(
                figures.chart.reach_mm, figures.chart.allowed_kg, figures.chart.tips_kg, strict=True
            )
        )[::3]
    ]
    y = book.table(
        book.room(y, 40) + 4,
        (
            ("reach mm", LEFT + 16, "right"),
            ("may lift kg", 60, "right"),
            ("tips at kg", 84, "right"),
        ),
        chart,
    )
    book.paragraph(LEFT, book.room(y, 12) + 2, caution_of("lifting"), 8, width=RIGHT - LEFT)


DRAWN: dict[str, Draw] = {
    "display": _display,
    "clutch": _clutch,
    "liquid": _liquid,
    "lever": _lever,
    "cables": _cables,
    "crane": _crane,
    "balance": _balance,
}
"""What draws a mechanism's chapter, by its key; bearings stand with the outputs."""
