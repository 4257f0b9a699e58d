"""Cables from one lever to several functions, over levers with rows of holes. Lengths mm."""

from typing import Annotated, Literal, Self

from pydantic import Field, field_validator, model_validator

from mild_badger.core.ids import CableId, Held
from mild_badger.core.message import say
from mild_badger.core.vehicle.base import DocumentNode, Identified, Length, ShortName, identified

__all__ = ["MAX_HOLES", "MAX_RUNS", "CableRun", "Cables", "HoledLever"]

MAX_HOLES, MAX_RUNS = 12, 6
Holes = Annotated[tuple[Length, ...], Field(min_length=1, max_length=MAX_HOLES)]
Number = Annotated[int, Field(ge=1, le=MAX_HOLES)]
Swing = Annotated[float, Field(gt=0, le=80)]
Share = Annotated[float, Field(ge=0, lt=1)]


class HoledLever(DocumentNode):
    """A lever on a pivot; ``holes_mm`` from there, the cable comes into one and goes on from one.

    It swings ``swing_deg`` either way of its middle.
    """

    holes_mm: Holes = (8.0, 16.0, 24.0, 32.0)
    takes: Number = 2
    gives: Number = 2
    swing_deg: Swing = 50.0

    @model_validator(mode="after")
    def _has_those_holes(self) -> Self:
        for number in (self.takes, self.gives):
            if number > len(self.holes_mm):
                raise ValueError(
                    say(
                        "cables.there-is-no-hole-the-lever-has",
                        number=number,
                        count_of_holes_mm=len(self.holes_mm),
                    )
                )
        return self


class CableRun(Identified):
    """A cable from a hole of the hand lever to what it moves, over levers on its way.

    ``slack_mm`` is taken up before anything moves, ``loss`` goes into the sheath. The end shall
    move ``wanted_mm`` against ``push_n``; "motor speed" ones open the speed controller, whose
    whole way is what is wanted.
    """

    id: Held[CableId] = CableId("")
    name: ShortName
    from_hole: Number = 1
    levers: Annotated[tuple[HoledLever, ...], Field(max_length=2)] = (HoledLever(),)
    slack_mm: Annotated[float, Field(ge=0, le=100)] = 0.3
    loss: Share = 0.15
    wanted_mm: Length = 10.0
    push_n: Annotated[float, Field(ge=0, le=1000)] = 2.0
    works: Literal["something", "motor speed"] = "something"


class Cables(DocumentNode):
    """The hand lever, and the runs that hang on its holes.

    Hand or servo moves ``stroke_mm`` at ``hand_mm`` from the pivot. Where ``apart`` is set, no two
    cables share a hole. Functions are in step while their shares of their ways differ by no more
    than ``step_percent``.
    """

    hand_mm: Length = 40.0
    stroke_mm: Length = 24.0
    holes_mm: Holes = (8.0, 16.0, 24.0, 32.0)
    swing_deg: Swing = 50.0
    apart: bool = True
    step_percent: Annotated[float, Field(gt=0, le=100)] = 10.0
    runs: Annotated[tuple[CableRun, ...], Field(max_length=MAX_RUNS)] = (
        CableRun(id=CableId("flap"), name="flap"),
    )

    @field_validator("runs")
    @classmethod
    def _have_ids(cls, runs: tuple[CableRun, ...]) -> tuple[CableRun, ...]:
        return identified(runs)

    @model_validator(mode="after")
    def _holes_are_there(self) -> Self:
        names = [run.name for run in self.runs]
        for run in self.runs:
            if names.count(run.name) > 1:
                raise ValueError(say("cables.two-cables-are-called", name=run.name))
            if run.from_hole > len(self.holes_mm):
                raise ValueError(
                    say(
                        "cables.there-is-no-hole-the-hand-lever-has",
                        name=run.name,
                        from_hole=run.from_hole,
                        count_of_holes_mm=len(self.holes_mm),
                    )
                )
        return self
