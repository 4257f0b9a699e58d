"""What of a built vehicle is set by hand afterwards (common practice, no source)."""

from collections.abc import Iterator

from mild_badger.core.figures import in_mm
from mild_badger.core.message import say
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.made_pieces import standing_parts

__all__ = ["adjusting_points"]

POINTS = (
    (("spacer",), say("workshop.set-end-play")),
    (("fork",), say("workshop.set-forks")),
    (("gate lever", "catch"), say("workshop.set-lever")),
    (("drum",), say("workshop.set-drum")),
    (("detent arm",), say("workshop.set-detent")),
    (("clutch plate",), say("workshop.set-clutch")),
    (("pinion",), say("workshop.set-crown")),
    (("steering rod",), say("workshop.set-toe")),
    (("rack",), say("workshop.set-rack")),
    (("lever arm",), say("workshop.set-lever-drive")),
    (("crank web",), say("workshop.set-crank")),
    (("spool",), say("workshop.set-ropes")),
    (("worm",), say("workshop.set-worm")),
)
"""Kinds of parts, and what is set where one of them is there."""


def adjusting_points(vehicle: Vehicle) -> tuple[str, ...]:
    """List what is set, in the order in which the power comes."""
    kinds = {part.kind for part in standing_parts(vehicle)}
    return tuple(_points(vehicle, {str(kind) for kind in kinds}))


def _points(vehicle: Vehicle, kinds: set[str]) -> Iterator[str]:
    for some, words in POINTS:
        if kinds & set(some):
            yield words
    for run in vehicle.cables.runs if vehicle.cables is not None else ():
        yield say("workshop.set-cable", name=run.name)
    for line in vehicle.hydraulic_lines:
        yield say("workshop.set-line", name=line.name, gap=in_mm(line.gap_mm, 1))
