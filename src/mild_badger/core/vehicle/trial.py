"""What was measured on the bench, as the document holds it.

Speeds of a reading are turns of a body for one turn of the shaft that enters the box.
"""

from typing import Annotated, Literal, Self

from pydantic import Field, field_validator, model_validator

from mild_badger.core.ids import Held, ReadingId
from mild_badger.core.message import say
from mild_badger.core.vehicle.base import (
    DocumentNode,
    Identified,
    RefersTo,
    Rpm,
    ShortName,
    identified,
)

__all__ = ["NEUTRAL", "Measured", "Reading", "Slots", "Trial"]

NEUTRAL = "N"
"""The position in which no sleeve is in."""
Tick = Annotated[str, Field(min_length=1, max_length=80)]
Slots = Annotated[int, Field(ge=1, le=400)]


class Reading(Identified):
    """One look at a body in one position.

    ``turns`` is how often the body turned for one turn of the input, 0 where it stood; ``spread``
    half the width of the interval that holds it with 95 %. ``way`` is as seen, 0 where nobody
    looked: +1 as the input turns (a wheel: forwards), −1 against it (backwards). ``jams`` says
    that the input would not turn. ``input_rpm`` is the input's own speed and ``uneven`` the share
    by which the ratio wandered, where they were measured.
    """

    id: Held[ReadingId] = ReadingId("")
    position: Annotated[ShortName, RefersTo("gear")]
    body: Annotated[str, Field(min_length=1, max_length=80)]
    turns: Annotated[float, Field(ge=0, le=1000)] = 0.0
    spread: Annotated[float, Field(ge=0, le=1000)] = 0.0
    way: Literal[1, 0, -1] = 0
    jams: bool = False
    source: Literal["typed", "tachometer"] = "typed"
    input_rpm: Rpm | None = None
    uneven: Annotated[float, Field(ge=0, le=1000)] | None = None

    @model_validator(mode="after")
    def _says_one_thing(self) -> Self:
        if self.jams and self.turns:
            raise ValueError(say("vehicle.a-reading-cannot-both-jam-and-turn"))
        if self.way and not self.turns:
            raise ValueError(say("vehicle.what-stands-turns-neither-way"))
        return self


class Measured(DocumentNode):
    """A length measured on what was built: the shaft, spacer or gap it belongs to, in mm."""

    key: Annotated[str, Field(min_length=1, max_length=120)]
    mm: Annotated[float, Field(gt=0, le=10_000)]


class Trial(DocumentNode):
    """Ticks and readings of the trial, slots of the two discs, and what was measured as built."""

    ticks: Annotated[tuple[Tick, ...], Field(max_length=80)] = ()
    readings: Annotated[tuple[Reading, ...], Field(max_length=400)] = ()
    slots_in: Slots = 6
    slots_out: Slots = 6
    measured: Annotated[tuple[Measured, ...], Field(max_length=400)] = ()

    @field_validator("readings")
    @classmethod
    def _have_ids(cls, readings: tuple[Reading, ...]) -> tuple[Reading, ...]:
        return identified(readings)

    @model_validator(mode="after")
    def _lengths_stand_once(self) -> Self:
        keys = [m.key for m in self.measured]
        if len(set(keys)) < len(keys):
            raise ValueError(say("vehicle.two-measured-lengths-belong-to-one-part"))
        return self
