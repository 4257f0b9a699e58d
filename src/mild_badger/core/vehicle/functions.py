"""A function box as the document holds it: positions × outputs, what runs where, and which way.

Ratios are turns of the motor per turn of the output, signed: minus turns against the motor.
"""

from typing import Annotated, Literal, Self

from pydantic import Field, field_validator, model_validator

from mild_badger.core.ids import Held, OutputId
from mild_badger.core.message import say
from mild_badger.core.vehicle.base import (
    DocumentNode,
    Identified,
    Positive,
    RefersTo,
    Rpm,
    ShortName,
    identified,
)

__all__ = [
    "MAX_OUTPUTS",
    "MAX_POSITIONS",
    "MAX_VARIANTS",
    "OUTPUT_KINDS",
    "FunctionBox",
    "FunctionOutput",
    "FunctionPin",
    "FunctionPlace",
    "FunctionPosition",
    "MotorWay",
    "OutputKind",
    "Want",
]

MAX_OUTPUTS = 10
MAX_POSITIONS = 16
MAX_VARIANTS = 128

OutputKind = Literal["rotation", "spool", "screw", "rack", "ring"]
MotorWay = Literal["both", "forward", "backward"]
SignedRatio = Annotated[float, Field(ge=-1000, le=1000)]

OUTPUT_KINDS: dict[OutputKind, tuple[str, str]] = {
    "rotation": (say("vehicle.shaft"), ""),
    "spool": ("spool", say("vehicle.diameter-to-the-ropes-middle-mm")),
    "screw": ("screw", "lead, mm"),
    "rack": ("rack", "pinion's pitch diameter, mm"),
    "ring": (say("vehicle.slewing-ring"), say("vehicle.turns-in-per-turn-of-the-ring")),
}
"""What an output may be, what it is called, and what its measure means."""


class FunctionOutput(Identified):
    """Something that is driven.

    ``measure`` belongs to the kind: a spool's or a pinion's diameter, a screw's lead, a ring's
    ratio. ``one_way`` outputs turn one way whatever way the motor turns.
    """

    id: Held[OutputId] = OutputId("")
    name: ShortName
    kind: OutputKind = "rotation"
    measure: Positive = 1.0
    one_way: bool = False


class Want(DocumentNode):
    """What one output shall do in one position; an output that is not named stands still.

    Either a ratio, or a share of another output's speed, signed, at their ends: rope, nut or
    ring. ``motor`` is the way of the motor in which it runs; for the other way it stands.
    """

    output: Annotated[Held[OutputId], RefersTo("function output")]
    ratio: SignedRatio | None = None
    of: Annotated[Held[OutputId] | None, RefersTo("function output")] = None
    share: SignedRatio | None = None
    motor: MotorWay = "both"

    @model_validator(mode="after")
    def _one_or_the_other(self) -> Self:
        given = self.ratio if self.of is None else self.share
        if given is None or abs(given) < 0.001 or (self.of is None) != (self.share is None):
            raise ValueError(
                say("vehicle.give-a-ratio-other-than-zero-or-a-share-of", output=self.output)
            )
        if self.of == self.output:
            raise ValueError(
                say("vehicle.its-speed-cannot-be-a-share-of-its-own", output=self.output)
            )
        return self


class FunctionPosition(DocumentNode):
    """One position of the shifter, the ways in which the motor runs there, and what it drives."""

    name: Annotated[str, Field(min_length=1, max_length=40, pattern=r"^\S(.*\S)?$")]
    motor: MotorWay = "both"
    wants: Annotated[tuple[Want, ...], Field(max_length=MAX_OUTPUTS)] = ()

    def want(self, output: OutputId) -> Want | None:
        """Find what an output shall do here."""
        return next((want for want in self.wants if want.output == output), None)

    @model_validator(mode="after")
    def _outputs_once(self) -> Self:
        names = [want.output for want in self.wants]
        for name in names:
            if names.count(name) > 1:
                raise ValueError(
                    say("vehicle.position-asks-twice-for", name=self.name, name_2=name)
                )
        return self


Place = Annotated[float, Field(ge=-5000, le=5000)]
"""A place in mm from the input's shaft: x to the right, y upwards, seen from the input end."""


class FunctionPlace(DocumentNode):
    """Where a shaft of a function box stands, by the name of its body, from its input's shaft."""

    shaft: Annotated[str, Field(min_length=1, max_length=120)]
    x_mm: Place
    y_mm: Place


class FunctionPin(DocumentNode):
    """Where the builder holds an output's shaft, from the input's shaft."""

    output: Annotated[Held[OutputId], RefersTo("function output")]
    x_mm: Place
    y_mm: Place


class FunctionBox(DocumentNode):
    """The table, what moves its sleeves, the motor that drives it, and where its shafts stand.

    ``stall_n_mm`` is the motor's torque at standstill on the box's input, None for not known.
    A "drum" may move several sleeves at once; with "one lever" one sleeve is in at a time.
    ``places`` hold for the trains they were found for; ``pins`` are outputs held at a point.
    ``variant`` is which choice of trains is taken, 0 the least one; others are taken where the
    shafts of the least find no place.
    """

    outputs: Annotated[tuple[FunctionOutput, ...], Field(max_length=MAX_OUTPUTS)] = ()
    positions: Annotated[tuple[FunctionPosition, ...], Field(max_length=MAX_POSITIONS)] = ()
    actuation: Literal["drum", "one lever"] = "drum"
    motor_rpm: Rpm = 200.0
    stall_n_mm: Positive | None = None
    tolerance_percent: Annotated[float, Field(gt=0, le=100)] = 5.0
    places: Annotated[tuple[FunctionPlace, ...], Field(max_length=200)] = ()
    variant: Annotated[int, Field(ge=0, lt=MAX_VARIANTS)] = 0
    pins: Annotated[tuple[FunctionPin, ...], Field(max_length=MAX_OUTPUTS)] = ()

    def output(self, identity: OutputId) -> FunctionOutput | None:
        """Find an output by its id."""
        return next((output for output in self.outputs if output.id == identity), None)

    def called(self, identity: OutputId) -> str:
        """Say what an output is called."""
        output = self.output(identity)
        return output.name if output is not None else identity

    @field_validator("outputs")
    @classmethod
    def _have_ids(cls, outputs: tuple[FunctionOutput, ...]) -> tuple[FunctionOutput, ...]:
        return identified(outputs)

    @model_validator(mode="after")
    def _names_fit(self) -> Self:
        outputs = [output.name for output in self.outputs]
        positions = [position.name for position in self.positions]
        for kind, names in (("outputs", outputs), ("positions", positions)):
            for name in names:
                if names.count(name) > 1:
                    raise ValueError(say("vehicle.two-are-called", kind=kind, name=name))
        known = {output.id for output in self.outputs}
        held = [pin.output for pin in self.pins]
        for output in held:
            if output not in known:
                raise ValueError(say("vehicle.there-is-no-output-to-hold", output=output))
            if held.count(output) > 1:
                raise ValueError(
                    say("vehicle.an-output-is-held-at-two-points", called=self.called(output))
                )
        for position in self.positions:
            for want in position.wants:
                for asked in (want.output, want.of):
                    if asked is not None and asked not in known:
                        raise ValueError(
                            say(
                                "vehicle.position-there-is-no-output",
                                name=position.name,
                                asked=asked,
                            )
                        )
        return self
