"""The display engine: a crank with pistons that goes along for show, as the document holds it.

Angles in degrees. The crank turns by θ; a cylinder's piston is at its top when its throw points
along its bank: θ = bank − throw.
"""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from mild_badger.core.message import say
from mild_badger.core.vehicle.base import DocumentNode, Length
from mild_badger.core.vehicle.box import Train

__all__ = ["MAX_CYLINDERS", "DisplayDrive", "DisplayEngine", "DisplayLayout"]

MAX_CYLINDERS = 12
DisplayLayout = Literal["inline", "flat", "V"]
DisplayDrive = Literal["motor", "box output"]
Turn = Annotated[float, Field(ge=-360, le=720)]


Cylinder = Annotated[int, Field(ge=1, le=MAX_CYLINDERS)]


class DisplayEngine(DocumentNode):
    """Cylinders, throws and what drives the crank.

    ``throws_deg`` is the angle of each cylinder's crank pin, cylinder 1 first; ``order`` the firing
    order. Cylinders of a V stand on the banks in turn, odd ones on the one side. ``made_deg`` are
    the throws as they were glued, empty while nobody has measured. The crank is driven from
    ``drive`` over ``pairs``; ``throw_mm`` is half the stroke, ``rod_mm`` the rod from eye to eye.
    """

    layout: DisplayLayout = "inline"
    cylinders: Annotated[int, Field(ge=1, le=MAX_CYLINDERS)] = 4
    bank_deg: Annotated[float, Field(ge=0, le=180)] = 90.0
    throws_deg: Annotated[tuple[Turn, ...], Field(max_length=MAX_CYLINDERS)] = (0, 180, 180, 0)
    order: Annotated[tuple[Cylinder, ...], Field(max_length=MAX_CYLINDERS)] = (1, 3, 4, 2)
    made_deg: Annotated[tuple[Turn, ...], Field(max_length=MAX_CYLINDERS)] = ()
    throw_mm: Length = 8.0
    rod_mm: Length = 28.0
    bore_mm: Length = 12.0
    pitch_mm: Length = 16.0
    pin_mm: Length = 3.0
    drive: DisplayDrive = "motor"
    pairs: Train = ()

    @model_validator(mode="after")
    def _every_cylinder_once(self) -> Self:
        if len(self.throws_deg) != self.cylinders:
            raise ValueError(
                say(
                    "display.cylinders-take-throws-are-given",
                    cylinders=self.cylinders,
                    count_of_throws_deg=len(self.throws_deg),
                )
            )
        if sorted(self.order) != list(range(1, self.cylinders + 1)):
            raise ValueError(
                say("display.the-firing-order-must-name-each-of-the", cylinders=self.cylinders)
            )
        if self.made_deg and len(self.made_deg) != self.cylinders:
            raise ValueError(
                say(
                    "display.throws-were-made-are-measured",
                    cylinders=self.cylinders,
                    count_of_made_deg=len(self.made_deg),
                )
            )
        return self

    def bank_of(self, cylinder: int) -> float:
        """Give the angle at which a cylinder leans, cylinder 1 being the first."""
        if self.layout == "inline":
            return 0.0
        half = 90.0 if self.layout == "flat" else self.bank_deg / 2
        return half if cylinder % 2 else -half
