"""The table as the builder types it: cells in words, and the edits that change it."""

import re

from mild_badger.core.errors import InputError
from mild_badger.core.figures import true_minus
from mild_badger.core.ids import OutputId
from mild_badger.core.message import say
from mild_badger.core.targets.schools import RatioConvention, parse_number
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.functions import (
    MAX_OUTPUTS,
    MAX_POSITIONS,
    OUTPUT_KINDS,
    FunctionBox,
    FunctionOutput,
    FunctionPosition,
    MotorWay,
    OutputKind,
    Want,
)
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import signed

__all__ = [
    "CELL_HELP",
    "add_functions",
    "add_output",
    "add_position",
    "cell_text",
    "drive_text",
    "parse_cell",
    "parse_drive",
    "parse_motor",
    "remove_functions",
    "remove_output",
    "remove_position",
    "rename_output",
    "rename_position",
    "set_cell",
]

CELL_HELP = say("functions.leave-a-cell-empty-for-what-stands-4-turns")
NOTHING = {"", "-", "–", "−", "0", "stands"}
_CELL = re.compile(
    r"(?P<number>[-+−]?[\d.,/:]+)(?:\s+of\s+(?P<of>.+?))?(?:\s+(?P<motor>forwards?|backwards?)"
    r"(?:\s+only)?)?",
    re.IGNORECASE,
)


def cell_text(want: Want | None, box: FunctionBox, school: RatioConvention) -> str:
    """Write what an output does in a position; empty where it stands."""
    if want is None:
        return ""
    if want.of is not None and want.share is not None:
        text: str = say("functions.of", share=want.share, called=box.called(want.of))
    else:
        text = true_minus(signed(school.convert(want.ratio or 1.0), ".4g"))
    return f"{text} {want.motor}" if want.motor != "both" else text


def parse_cell(
    text: str, *, box: FunctionBox, output: OutputId, school: RatioConvention
) -> Want | None:
    """Read a cell of an output's column; None where the output stands.

    Raises
    ------
    InputError
        The words cannot be used.
    """
    cleaned = " ".join(text.split())
    if cleaned.casefold() in NOTHING:
        return None
    match = _CELL.fullmatch(cleaned)
    if match is None:
        raise InputError(
            say(
                "functions.cannot-be-read",
                called=box.called(output),
                cleaned=cleaned[:40],
                cell_help=CELL_HELP,
            )
        )
    name = box.called(output)
    value = parse_number(match["number"], what=name)
    if abs(value) < 0.001 or abs(value) > 1000:
        raise InputError(
            say("functions.is-out-of-range-use-0-001-to-1000", name=name, match=match["number"])
        )
    motor: MotorWay = "both"
    if match["motor"]:
        motor = "forward" if match["motor"].casefold().startswith("forward") else "backward"
    if match["of"]:
        return Want(output=output, of=_called(box, match["of"]), share=value, motor=motor)
    return Want(output=output, ratio=school.convert(value), motor=motor)


def drive_text(output: FunctionOutput) -> str:
    """Write what an output drives: ``shaft``, ``spool 20``, ``screw 4``, ``rack 16`` …."""
    name = OUTPUT_KINDS[output.kind][0].split()[-1]
    return name if output.kind == "rotation" else f"{name} {signed(output.measure, 'g')}"


def parse_drive(text: str, *, output: str) -> tuple[OutputKind, float]:
    """Read what an output drives, with its measure.

    Raises
    ------
    InputError
        There is no such thing, or its measure is missing.
    """
    word, _, rest = " ".join(text.split()).partition(" ")
    for kind, (name, measure) in OUTPUT_KINDS.items():
        if word.casefold() not in (name.split()[-1], kind):
            continue
        if kind == "rotation":
            return kind, 1.0
        if not rest:
            raise InputError(
                say("functions.a-takes-a-number-its", output=output, name=name, measure=measure)
            )
        value = parse_number(rest.removesuffix("mm"), what=output)
        if value <= 0:
            raise InputError(
                say(
                    "functions.must-be-greater-than-zero", output=output, rest=rest, measure=measure
                )
            )
        return kind, value
    raise InputError(
        say(
            "functions.is-not-known-write-shaft-spool-20-diameter",
            output=output,
            strip=text.strip()[:30],
        )
    )


def parse_motor(text: str, *, position: str) -> MotorWay:
    """Read the ways in which the motor runs in a position.

    Raises
    ------
    InputError
        It is none of both ways, forward or backward.
    """
    word = text.strip().casefold()
    if word in ("", "both", "both ways"):
        return "both"
    for way in ("forward", "backward"):
        if word.startswith(way):
            return "forward" if way == "forward" else "backward"
    raise InputError(
        say(
            "functions.write-both-ways-forward-or-backward-not",
            position=position,
            strip=text.strip()[:20],
        )
    )


def add_functions() -> Edit:
    """Put an empty function box into the vehicle."""
    box = FunctionBox(
        outputs=(FunctionOutput(name="output 1"),),
        positions=(FunctionPosition(name="position 1"),),
    )
    return Edit.one(say("functions.start-a-function-box"), ("functions",), box)


def remove_functions() -> Edit:
    """Take the function box out of the vehicle."""
    return Edit.one(say("functions.take-the-function-box-out"), ("functions",), None)


def set_cell(vehicle: Vehicle, position: str, output: OutputId, want: Want | None) -> Edit:
    """Say what an output does in a position."""
    changed = []
    for place in _box(vehicle).positions:
        if place.name == position:
            wants = [w for w in place.wants if w.output != output]
            if want is not None:
                wants.append(want)
            changed.append(place.model_copy(update={"wants": tuple(wants)}))
        else:
            changed.append(place)
    name = _box(vehicle).called(output)
    return Edit.one(
        say("functions.set-in", name=name, position=position), ("functions", "positions"), changed
    )


def add_output(vehicle: Vehicle) -> Edit:
    """Add an output to the table.

    Raises
    ------
    InputError
        There are as many as there can be.
    """
    box = _box(vehicle)
    if len(box.outputs) >= MAX_OUTPUTS:
        raise InputError(
            say("functions.a-function-box-has-at-most-outputs-remove", max_outputs=MAX_OUTPUTS)
        )
    name = _fresh("output", [output.name for output in box.outputs])
    made = vehicle.new_id(name, (output.id for output in box.outputs))
    outputs = (*box.outputs, FunctionOutput(id=OutputId(made), name=name))
    return Edit.one(say("functions.add", name=name), ("functions", "outputs"), outputs)


def add_position(vehicle: Vehicle) -> Edit:
    """Add a position to the table.

    Raises
    ------
    InputError
        There are as many as there can be.
    """
    box = _box(vehicle)
    if len(box.positions) >= MAX_POSITIONS:
        raise InputError(
            say(
                "functions.a-function-box-has-at-most-positions-remove", max_positions=MAX_POSITIONS
            )
        )
    name = _fresh("position", [position.name for position in box.positions])
    positions = (*box.positions, FunctionPosition(name=name))
    return Edit.one(say("functions.add", name=name), ("functions", "positions"), positions)


def remove_output(vehicle: Vehicle, gone: OutputId) -> Edit:
    """Remove an output, and what positions ask of it."""
    box = _box(vehicle)
    positions = [
        p.model_copy(update={"wants": tuple(w for w in p.wants if gone not in (w.output, w.of))})
        for p in box.positions
    ]
    outputs = [output for output in box.outputs if output.id != gone]
    return Edit(
        say("functions.remove", called=box.called(gone)),
        (
            Change(("functions", "positions"), positions),
            Change(("functions", "pins"), tuple(p for p in box.pins if p.output != gone)),
            Change(("functions", "outputs"), outputs),
        ),
    )


def remove_position(vehicle: Vehicle, name: str) -> Edit:
    """Remove a position."""
    positions = [p for p in _box(vehicle).positions if p.name != name]
    return Edit.one(say("functions.remove-2", name=name), ("functions", "positions"), positions)


def rename_output(vehicle: Vehicle, output: OutputId, name: str) -> Edit:
    """Call an output something else; all that concerns it means it by its id.

    Raises
    ------
    InputError
        It is no longer there.
    """
    box = _box(vehicle)
    row = next((n for n, one in enumerate(box.outputs) if one.id == output), None)
    if row is None:
        raise InputError(say("functions.this-output-is-no-longer-there"))
    label = say("functions.rename", called=box.called(output))
    return Edit.one(label, ("functions", "outputs", row, "name"), name)


def rename_position(vehicle: Vehicle, old: str, new: str) -> Edit:
    """Rename a position."""
    positions = [
        p.model_copy(update={"name": new}) if p.name == old else p for p in _box(vehicle).positions
    ]
    return Edit.one(say("functions.rename-2", old=old), ("functions", "positions"), positions)


def _called(box: FunctionBox, name: str) -> OutputId:
    """Find an output by its name, as a builder types it.

    Raises
    ------
    InputError
        None is called so.
    """
    for output in box.outputs:
        if output.name == name:
            return output.id
    known = ", ".join(output.name for output in box.outputs)
    raise InputError(say("functions.there-is-no-output-there-are", name=name, known=known))


def _box(vehicle: Vehicle) -> FunctionBox:
    return vehicle.functions or FunctionBox()


def _fresh(kind: str, taken: list[str]) -> str:
    number = len(taken) + 1
    while f"{kind} {number}" in taken:
        number += 1
    return f"{kind} {number}"
