"""Templates of what a liquid line closes: brake discs, and the cheeks of their calipers.

Sizes that the document does not give are estimates, no source.
"""

from collections.abc import Iterator
from functools import partial

from mild_badger.core.errors import InputError
from mild_badger.core.figures import in_mm
from mild_badger.core.mechanisms.liquid.model import LiquidLine
from mild_badger.core.message import say
from mild_badger.core.templates.bars import EYE_MM, sheet_for
from mild_badger.core.templates.drawing import Drawing
from mild_badger.core.templates.template import Template
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["liquid_templates"]

BEYOND_MM = 2.0
"""How far a disc reaches beyond the pads, and a caliper's bridge stands clear of the disc."""


def liquid_templates(vehicle: Vehicle) -> Iterator[Template]:
    """List for each line of brakes a disc and the two cheeks of a caliper for every slave."""
    thick = vehicle.making.dog_mm
    for number, line in enumerate(vehicle.hydraulic_lines):
        if line.works != "brake":
            continue
        words = say("liquid.brake-disc-of", name=line.name)
        draw = partial(_disc, line=line, words=words)
        yield Template(f"brake {number} disc", words, line.slaves, thick / 2, draw)
        for side, bored in (("inner", True), ("outer", not line.floating)):
            words = (
                say("liquid.inner-cheek-of-the-caliper-of", name=line.name)
                if side == "inner"
                else say("liquid.outer-cheek-of-the-caliper-of", name=line.name)
            )
            draw = partial(_cheek, line=line, words=words, bored=bored)
            yield Template(f"brake {number} {side}", words, line.slaves, thick, draw)


def _disc(vehicle: Vehicle, *, line: LiquidLine, words: str) -> Drawing:
    """Draw a disc that the pads bite at their radius.

    Raises
    ------
    InputError
        The pads would reach the shaft.
    """
    hole = vehicle.hole_mm(vehicle.kit.shaft_diameter_mm, vehicle.making.fixed_fit)
    outer = line.radius_mm + line.slave_mm / 2 + BEYOND_MM
    if line.radius_mm - line.slave_mm / 2 < hole / 2 + EYE_MM:
        raise InputError(
            say(
                "liquid.pads-reach-the-shaft",
                name=line.name,
                radius=in_mm(line.radius_mm),
                least=in_mm(hole / 2 + EYE_MM + line.slave_mm / 2, 1),
            )
        )
    lines = [
        say("liquid.disc-bitten-at", radius=in_mm(line.radius_mm), bore=in_mm(hole, 2)),
        say("liquid.make", count=line.slaves),
    ]
    sheet, (cx, foot) = sheet_for(words, lines, 2 * outer, 2 * outer)
    at = (cx, foot + outer)
    sheet.circle("cut", at, outer)
    sheet.circle("cut", at, hole / 2)
    sheet.circle("mark", at, line.radius_mm)
    return sheet


def _cheek(vehicle: Vehicle, *, line: LiquidLine, words: str, bored: bool) -> Drawing:
    """Draw a cheek: the slave's bore, and above the disc's rim two holes for the bridge's pins."""
    slave, pin = line.slave_mm / 2, vehicle.making.dowel_mm / 2
    half = slave + 2 * EYE_MM
    rise = slave + 2 * BEYOND_MM + pin  # from the slave's middle to the pins, clear of the disc
    high = half + rise + pin + EYE_MM
    lines = [
        say("liquid.slave-of-pins-of", slave=in_mm(2 * slave), pin=in_mm(2 * pin))
        if bored
        else say("liquid.cheek-with-a-pad", slave=in_mm(2 * slave), pin=in_mm(2 * pin)),
        say("liquid.make", count=line.slaves),
    ]
    sheet, (cx, foot) = sheet_for(words, lines, 2 * half, high)
    sheet.rectangle("cut", cx - half, foot, cx + half, foot + high)
    sheet.circle("cut" if bored else "engrave", (cx, foot + half), slave)
    for sign in (1.0, -1.0):
        sheet.circle("cut", (cx + sign * (half - pin - EYE_MM / 2), foot + half + rise), pin)
    return sheet
