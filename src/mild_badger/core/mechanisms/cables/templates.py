"""Templates of the levers that cables pull: a row of holes from the pivot."""

from collections.abc import Iterator
from functools import partial
from itertools import pairwise

from mild_badger.core.errors import InputError
from mild_badger.core.figures import bare, in_a_row, in_mm
from mild_badger.core.message import say
from mild_badger.core.templates.bars import EYE_MM, bar, sheet_for
from mild_badger.core.templates.drawing import Drawing
from mild_badger.core.templates.template import Template
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import capitalized

__all__ = ["cable_templates"]

CABLE_MM = 1.5
"""The hole for a cable's nipple (an estimate, no source)."""
Lever = tuple[str, tuple[float, ...], str]
"""Name, holes from the pivot in mm, and which of them are in use."""


def cable_templates(vehicle: Vehicle) -> Iterator[Template]:
    """List the levers with holes, the hand's first."""
    for number, lever in enumerate(_levers(vehicle)):
        draw = partial(_drawn, lever=lever)
        yield Template(f"cables {number}", lever[0], 1, vehicle.making.dog_mm, draw)


def _levers(vehicle: Vehicle) -> tuple[Lever, ...]:
    cables = vehicle.cables
    if cables is None:
        return ()
    taken = ", ".join(
        say("cables.in", name=run.name, from_hole=run.from_hole) for run in cables.runs
    )
    reach = tuple(sorted({*cables.holes_mm, cables.hand_mm}))
    levers = [
        (
            say("cables.hand-lever-2"),
            reach,
            say("cables.hand-at", hand_mm=in_mm(cables.hand_mm), taken=taken),
        )
    ]
    for run in cables.runs:
        for number, lever in enumerate(run.levers, start=1):
            levers.append(
                (
                    say("cables.lever-of", number=number, name=run.name),
                    lever.holes_mm,
                    say("cables.in-at-hole-out-at-hole", takes=lever.takes, gives=lever.gives),
                )
            )
    return tuple(levers)


def _drawn(vehicle: Vehicle, *, lever: Lever) -> Drawing:
    """Draw a lever with its row of holes, the pivot at its foot.

    Raises
    ------
    InputError
        Its holes run into one another.
    """
    name, holes, words = lever
    places = (0.0, *sorted(holes))
    for one, other in pairwise(places):
        if other - one < CABLE_MM + EYE_MM / 2:
            raise InputError(
                say(
                    "cables.the-holes-at-and-run-into-one-another-are",
                    name=name,
                    one=bare(in_mm(one)),
                    other=in_mm(other),
                    cable_mm=in_mm(CABLE_MM + EYE_MM / 2),
                )
            )
    pivot = vehicle.hole_mm(vehicle.kit.shaft_diameter_mm, "running") / 2
    one_eye, far = pivot + EYE_MM, CABLE_MM / 2 + EYE_MM
    listed = in_a_row(in_mm(mm) for mm in holes)
    sheet, (cx, foot) = sheet_for(
        capitalized(name),
        [say("cables.holes-at-from-the-pivot", listed=listed), words],
        2 * one_eye,
        one_eye + max(holes) + far,
    )
    at = foot + one_eye
    sheet.outline("cut", [(cx + x, at + y) for x, y in bar(one_eye, far, max(holes))])
    sheet.circle("cut", (cx, at), pivot)
    for mm in holes:
        sheet.circle("cut", (cx, at + mm), CABLE_MM / 2)
    return sheet
