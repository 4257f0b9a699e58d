"""Saying in words how outputs work out."""

from math import isinf

from mild_badger.core.figures import bare, in_a_row, in_mm, in_n, in_n_mm, in_unit
from mild_badger.core.ids import OutputId
from mild_badger.core.mechanisms.crane.ends import rope_layers, rope_settings
from mild_badger.core.mechanisms.crane.figures import OutputFigures, actual_share, shares
from mild_badger.core.mechanisms.crane.model import (
    MOTOR_SHAFT,
    CraneOutput,
    Plain,
    Rack,
    Ring,
    Screw,
    Spool,
)
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import plural, signed

__all__ = [
    "called",
    "describe_crane",
    "describe_end",
    "describe_line",
    "describe_output",
    "describe_pace",
    "pace_line",
    "step_line",
]


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
