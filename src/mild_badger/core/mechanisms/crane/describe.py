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
from mild_badger.core.message import say, say_count
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import signed

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
            return say("crane.slewing-ring", pinion=end.pinion, teeth=end.teeth, inner=inner)
        case Screw():
            many = say("crane.screws", screws=end.screws) if end.screws > 1 else say("crane.screw")
            return say("crane.lead", many=many, lead_mm=in_mm(end.lead_mm))
        case Spool():
            many = say("crane.ropes", ropes=end.ropes) if end.ropes > 1 else say("crane.rope")
            return say("crane.on", many=many, drum_mm=in_mm(end.drum_mm))
        case Rack():
            return say("crane.rack-on-teeth", pinion=end.pinion)
        case Plain():
            return say("crane.plain-shaft")


def describe_pace(row: OutputFigures) -> str:
    """Say how an output moves, without its name."""
    if row.turns is None:
        return say("crane.stands")
    turns = row.input_turns or 0.0
    seen = float(signed(abs(turns), ".4g"))
    input_words = (
        say_count("noun.motor-turn", seen)
        if row.input == MOTOR_SHAFT
        else say("crane.of-the-separate-input", turn=say_count("noun.turn", seen))
    )
    rate = in_unit(abs(row.rate), row.unit, 1)
    if row.fast > row.slow * 1.001:
        rate = in_a_row((in_unit(v, row.unit, 1) for v in (row.slow, row.fast)), " to ")
    way = say("crane.direction", word=say("crane.same") if turns > 0 else say("crane.opposite"))
    one = (
        say("crane.the-ring") if isinstance(row.output.end, Ring) else say("crane.the-output-shaft")
    )
    sentence: str = say(
        "crane.per-turn-of", turns=abs(turns), input_words=input_words, one=one, way=way, rate=rate
    )
    if row.seconds is not None:
        sentence += say("crane.full-travel-in-s", seconds=row.seconds)
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
        sentences.append(say("crane.the-thread-jams"))
    elif row.input_n_mm is not None:
        sentences.append(
            say(
                "crane.torque-needed-at-the-end-at-the-input-is",
                end_n_mm=in_n_mm(row.end_n_mm, 1),
                input_n_mm=in_n_mm(row.input_n_mm, 2),
                lost_percent=row.lost_percent or 0.0,
            )
        )
    if isinstance(end, Spool):
        layers = rope_layers(end)
        sentences.append(
            say(
                "crane.of-rope-lie-in-mean-diameter-of-the-last",
                rope_length_mm=in_mm(end.rope_length_mm),
                count_of_layers=len(layers),
                layer=say_count("noun.layer", len(layers)),
                middle_mm=in_mm(layers[-1].middle_mm, 1),
                weight_n=in_n(end.weight_n / end.falls / end.ropes, 2),
            )
        )
        if end.ropes > 1:
            ropes = rope_settings(end)
            sentences.append(
                say(
                    "crane.the-ropes-differ-by-up-to-well-adjusted-by",
                    ropes=end.ropes,
                    apart=in_mm(ropes.apart, 2),
                    left=in_mm(ropes.left, 2),
                )
            )
    against = [
        f"{called(figures, other)} {signed(share, '.3g')}"
        for other, share in shares(figures, identity).items()
        if other != identity and share
    ]
    if against:
        sentences.append(say("crane.speed-ratio-to-the-other-outputs", listed=", ".join(against)))
    sentences.append(
        say("crane.held-at-rest-by", holds=row.holds)
        if row.holds
        else say("crane.nothing-holds-the-output-at-rest")
    )
    crane = vehicle.crane
    way = crane.way_to(output.id) if crane is not None else ()
    if not row.holds and any(one.worm is not None for one in way):
        sentences.append(say("crane.the-worm-is-driven-back"))
    if row.loose is not None:
        sentences.append(
            say(
                "crane.the-gears-turn-freely-on-the-shaft-of-at-rpm",
                on=row.loose.on,
                rpm=row.loose.rpm,
                glued=row.loose.glued,
            )
        )
    if output.keys:
        unit = row.unit.removesuffix("/s")
        sentences.append(
            say("crane.the-coupling-can-be-assembled-in-one")
            if output.keys == 1
            else say(
                "crane.the-coupling-can-be-assembled-in-positions",
                keys=output.keys,
                key_off=row.key_off,
                unit=unit,
            )
        )
    actual = actual_share(figures, output)
    if output.keeps is not None and actual is not None:
        sentences.append(
            say(
                "crane.runs-at-target",
                actual=actual,
                called=called(figures, output.keeps),
                share=output.share,
            )
        )
    return " ".join(sentences)


def called(figures: tuple[OutputFigures, ...], identity: str) -> str:
    """Say what an output is called."""
    named = (one.output.name for one in figures if one.output.id == identity)
    return next(named, identity)


def pace_line(row: OutputFigures) -> str:
    """Say an output's speed in a few words, with its sign."""
    if row.turns is None:
        return say("crane.stands")
    sign = "+" if row.rate > 0 else "−"
    if row.fast > row.slow * 1.001:
        ends = in_a_row((in_unit(v, row.unit, 1) for v in (row.slow, row.fast)), " … ")
        return f"{sign} {ends}"
    return f"{sign} {in_unit(abs(row.rate), row.unit, 1)}"


def step_line(row: OutputFigures, figures: tuple[OutputFigures, ...]) -> tuple[str, ...]:
    """Say in short lines how an output stands to its input, and to the one it keeps step with."""
    if row.turns is None:
        return (say("crane.drive-it-or-engage-a-gear"),)
    lines: list[str] = [say("crane.turns-in-for-one", input_turns=abs(row.input_turns or 0.0))]
    if row.seconds is not None:
        lines[0] += f" · {signed(row.seconds, '.0f')} s"
    if row.input_n_mm is not None:
        lines.append(
            say(
                "crane.in-lost",
                input_n_mm=in_n_mm(row.input_n_mm, 2),
                lost_percent=row.lost_percent or 0.0,
            )
        )
    actual = actual_share(figures, row.output)
    if row.output.keeps is not None and actual is not None:
        here, asked = (signed(n, ".3g") for n in (actual, row.output.share))
        lines.append(
            say("crane.of-asked", here=here, called=called(figures, row.output.keeps), asked=asked)
        )
    elif row.holds:
        lines.append(say("crane.held-by", holds=row.holds))
    return tuple(lines)


def describe_line(row: OutputFigures) -> str:
    """Say an output in a line."""
    return f"{row.output.name}, {describe_end(row.output)}: {describe_pace(row)}"


def describe_crane(vehicle: Vehicle, figures: tuple[OutputFigures, ...]) -> str:
    """Say what all outputs ask of the motor at once."""
    asked = [one.input_n_mm for one in figures if one.input == MOTOR_SHAFT and one.input_n_mm]
    if not asked:
        return say("crane.the-motor-drives-no-output-in-this-gear")
    stall = vehicle.motor.shaft_stall_n_mm
    return say(
        "crane.all-outputs-on-the-motor-together-need-of-at",
        asked=bare(in_n_mm(sum(asked), 1)),
        stall=in_n_mm(stall, 0),
    )
