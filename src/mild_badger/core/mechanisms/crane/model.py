"""What a vehicle drives besides its wheels: slewing ring, carriages, spools, legs; as it is held.

Lengths mm, forces N, torques N·mm. Every output hangs on the motor, on the box's output, on an
input of its own, or on the shaft of another output.
"""

from math import pi
from typing import Annotated, Literal, Self

from pydantic import Field, field_validator, model_validator

from mild_badger.core.figures import in_mm
from mild_badger.core.ids import MAX_ID, Held, OutputId
from mild_badger.core.message import say
from mild_badger.core.vehicle.base import (
    DocumentNode,
    Identified,
    Length,
    RefersTo,
    Rpm,
    ShortName,
    Teeth,
    identified,
)
from mild_badger.core.vehicle.box import MAX_PAIRS, Train

__all__ = [
    "BOX_OUTPUT",
    "INPUTS",
    "MAX_CRANE_OUTPUTS",
    "MOTOR_SHAFT",
    "OWN_INPUT",
    "BearingKind",
    "Carried",
    "Crane",
    "CraneEnd",
    "CraneOutput",
    "Plain",
    "Rack",
    "Ring",
    "Screw",
    "Spool",
    "Worm",
]

MAX_CRANE_OUTPUTS = 12
MAX_LAYERS = 60
MOTOR_SHAFT, BOX_OUTPUT, OWN_INPUT = "motor", "box output", "own input"
INPUTS = (MOTOR_SHAFT, BOX_OUTPUT, OWN_INPUT)
BearingKind = Literal["wood", "brick", "metal"]
Force = Annotated[float, Field(ge=0, le=100_000)]
Friction = Annotated[float, Field(ge=0, lt=1)]
Place = Annotated[float, Field(ge=-10_000, le=10_000)]


class Ring(DocumentNode):
    """A slewing ring: the shaft's pinion drives it; ``drag_n_mm`` is what it takes to turn."""

    kind: Literal["ring"] = "ring"
    pinion: Teeth = 12
    teeth: Teeth = 60
    internal: bool = False
    swing_deg: Annotated[float, Field(gt=0, le=3600)] = 360.0
    drag_n_mm: Force = 60.0

    @model_validator(mode="after")
    def _pinion_fits(self) -> Self:
        if self.internal and self.teeth <= self.pinion:
            raise ValueError(
                say(
                    "crane.a-pinion-of-teeth-has-no-room-in-a-ring-of",
                    pinion=self.pinion,
                    teeth=self.teeth,
                )
            )
        return self


class Screw(DocumentNode):
    """A carriage, counterweight or leg on a screw: lead = pitch × starts.

    ``screws`` alike are turned together and share ``push_n``, which the nut moves against.
    """

    kind: Literal["screw"] = "screw"
    pitch_mm: Length = 2.0
    starts: Annotated[int, Field(ge=1, le=8)] = 1
    mean_mm: Length = 7.0
    mu: Friction = 0.15
    travel_mm: Length = 120.0
    push_n: Force = 4.0
    screws: Annotated[int, Field(ge=1, le=8)] = 1

    @property
    def lead_mm(self) -> float:
        """How far the nut goes in a turn."""
        return self.pitch_mm * self.starts


class Spool(DocumentNode):
    """Ropes wound on drums on one shaft, a drum each, laid turn by turn in layers.

    The hook hangs on ``falls`` parts of every rope. ``made_mm`` are the drums as they came out,
    empty for all alike; ``adjust_mm`` is what each rope's adjuster pays out now, within
    ± ``adjust_range_mm``.
    """

    kind: Literal["spool"] = "spool"
    drum_mm: Length = 16.0
    flange_mm: Length = 30.0
    width_mm: Length = 12.0
    rope_mm: Length = 1.0
    rope_length_mm: Length = 1200.0
    ropes: Annotated[int, Field(ge=1, le=4)] = 1
    falls: Annotated[int, Field(ge=1, le=12)] = 1
    weight_n: Force = 3.0
    made_mm: Annotated[tuple[Length, ...], Field(max_length=4)] = ()
    adjust_mm: Annotated[tuple[Place, ...], Field(max_length=4)] = ()
    adjust_range_mm: Force = 5.0

    @model_validator(mode="after")
    def _one_for_each_rope(self) -> Self:
        for name, sizes in (("drums", self.made_mm), ("adjusters", self.adjust_mm)):
            if sizes and len(sizes) != self.ropes:
                raise ValueError(
                    say(
                        "crane.ropes-take-as-many-are-given",
                        ropes=self.ropes,
                        name=name,
                        count_of_sizes=len(sizes),
                    )
                )
        if self.width_mm < self.rope_mm:
            raise ValueError(
                say(
                    "crane.a-drum-wide-takes-no-turn-of-a-rope-of",
                    width_mm=in_mm(self.width_mm),
                    rope_mm=in_mm(self.rope_mm),
                )
            )
        # n layers of t turns hold π t (n D + n² d)
        turns, thin = self.width_mm // self.rope_mm, min((*self.made_mm, self.drum_mm))
        holds = pi * turns * (MAX_LAYERS * thin + MAX_LAYERS**2 * self.rope_mm)
        if holds < self.rope_length_mm:
            raise ValueError(
                say(
                    "crane.of-rope-would-lie-in-more-than-layers-take-a",
                    rope_length_mm=in_mm(self.rope_length_mm),
                    max_layers=MAX_LAYERS,
                )
            )
        return self


class Rack(DocumentNode):
    """A pinion that moves a rack, of the kit's module."""

    kind: Literal["rack"] = "rack"
    pinion: Teeth = 12
    travel_mm: Length = 80.0
    push_n: Force = 4.0


class Plain(DocumentNode):
    """A shaft that drives something by its turning."""

    kind: Literal["rotation"] = "rotation"
    torque_n_mm: Force = 10.0


CraneEnd = Annotated[Ring | Screw | Spool | Rack | Plain, Field(discriminator="kind")]


class Worm(DocumentNode):
    """A worm behind the pairs, and the wheel that it drives."""

    starts: Annotated[int, Field(ge=1, le=6)] = 1
    teeth: Teeth = 24
    mean_mm: Length = 10.0
    mu: Friction = 0.2


class Carried(DocumentNode):
    """How an output's shaft is carried: two bearings ``span_mm`` apart, the first one at 0.

    The load bears at ``load_at_mm``, the driving gear at ``gear_at_mm``; either may stand outside.
    """

    bearing: BearingKind = "brick"
    shaft_mm: Length = 4.8
    long_mm: Length = 8.0
    span_mm: Length = 32.0
    load_at_mm: Place = 16.0
    gear_at_mm: Place = -8.0


class CraneOutput(Identified):
    """One output: what drives it, over which pairs and worm, and what it moves.

    Gears between two pairs turn on a shaft of their own, or run loose on the shaft of the output
    that ``loose_on`` means. ``keys`` dogs of a coupling, so many turns of it look alike, join it
    where the machine comes apart, behind ``coupled_after`` pairs; 0 where it does not. ``keeps``
    is the output of whose speed this one shall have ``share``, signed.
    """

    id: Held[OutputId] = OutputId("")
    name: ShortName
    source: Annotated[str, Field(min_length=1, max_length=MAX_ID), RefersTo("crane output")] = (
        MOTOR_SHAFT
    )
    input_rpm: Rpm = 60.0
    pairs: Train = ()
    worm: Worm | None = None
    loose_on: Annotated[Held[OutputId] | None, RefersTo("crane output")] = None
    keys: Annotated[int, Field(ge=0, le=12)] = 0
    coupled_after: Annotated[int, Field(ge=0, le=MAX_PAIRS)] = 0
    keeps: Annotated[Held[OutputId] | None, RefersTo("crane output")] = None
    share: Annotated[float, Field(ge=-100, le=100)] = 1.0
    carried: Carried = Carried()
    end: CraneEnd = Plain()

    @model_validator(mode="after")
    def _makes_sense(self) -> Self:
        if self.id and self.id in (self.source, self.loose_on, self.keeps):
            raise ValueError(say("crane.cannot-hang-on-itself", name=self.name))
        if self.keeps is not None and not self.share:
            raise ValueError(say("crane.a-share-of-zero-stands-still-give-another", name=self.name))
        return self


class Crane(DocumentNode):
    """All outputs.

    Inputs of their own are turned by hand or by a servo and do not meet the motor.
    """

    outputs: Annotated[tuple[CraneOutput, ...], Field(max_length=MAX_CRANE_OUTPUTS)] = ()

    @field_validator("outputs")
    @classmethod
    def _have_ids(cls, outputs: tuple[CraneOutput, ...]) -> tuple[CraneOutput, ...]:
        if any(output.id in INPUTS for output in outputs):
            raise ValueError(say("crane.an-outputs-id-cannot-be-that-of-an-input"))
        return identified(outputs, INPUTS)

    @model_validator(mode="after")
    def _hang_together(self) -> Self:
        names = [output.name for output in self.outputs]
        for output in self.outputs:
            if names.count(output.name) > 1:
                raise ValueError(say("crane.two-outputs-are-called", name=output.name))
            inputs = (*INPUTS, *(one.id for one in self.outputs))
            for words, named in (
                (say("crane.is-driven-from"), output.source),
                (say("crane.runs-loose-on"), output.loose_on or MOTOR_SHAFT),
                (say("crane.keeps-step-with"), output.keeps or MOTOR_SHAFT),
            ):
                if named not in inputs:
                    raise ValueError(
                        say("crane.which-is-not-there", name=output.name, words=words, named=named)
                    )
            self.way_to(output.id)
        return self

    def output(self, identity: str) -> CraneOutput | None:
        """Find an output by its id; none for that of an input."""
        return next((output for output in self.outputs if output.id == identity), None)

    def called(self, identity: str) -> str:
        """Say what an output is called; an input as it is."""
        output = self.output(identity)
        return output.name if output is not None else identity

    def way_to(self, identity: str) -> tuple[CraneOutput, ...]:
        """List the outputs from an input to one of them, that one last.

        Raises
        ------
        ValueError
            They hang on one another in a ring.
        """
        way: list[CraneOutput] = []
        here = self.output(identity)
        while here is not None:
            if here in way:
                raise ValueError(
                    say(
                        "crane.hangs-on-itself",
                        name=here.name,
                        listed=", ".join(o.name for o in way),
                    )
                )
            way.append(here)
            here = self.output(here.source)
        return tuple(reversed(way))
