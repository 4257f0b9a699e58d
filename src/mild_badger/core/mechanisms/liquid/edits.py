"""Edits of liquid lines."""

from mild_badger.core.ids import LineId
from mild_badger.core.mechanisms.liquid.model import MAX_LINES, LiquidLine
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["add_line", "remove_line"]


def add_line(vehicle: Vehicle) -> Edit | None:
    """Plan a line more: brakes first, then the clutch; None where there are as many as may be."""
    lines = vehicle.hydraulic_lines
    if len(lines) >= MAX_LINES:
        return None
    names = {line.name for line in lines}
    for_clutch = vehicle.clutch is not None and all(line.works != "clutch" for line in lines)
    made = LiquidLine()
    if lines and for_clutch:
        made = LiquidLine(name="clutch", works="clutch", slaves=1)
    name = next(
        n
        for n in (made.name, *(say("liquid.line", k=k) for k in range(1, MAX_LINES + 2)))
        if n not in names
    )
    identity = vehicle.new_id(name, (line.id for line in lines))
    made = made.model_copy(update={"id": LineId(identity), "name": name})
    return Edit.one(say("liquid.plan-a-liquid-line"), ("hydraulic_lines",), [*lines, made])


def remove_line(vehicle: Vehicle, number: int) -> Edit:
    """Take a line away."""
    kept = [line for n, line in enumerate(vehicle.hydraulic_lines) if n != number]
    return Edit.one(say("liquid.take-the-liquid-line-away"), ("hydraulic_lines",), kept)
