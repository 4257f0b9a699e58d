"""A stepless drive: crank or yoke, a lever whose fulcrum slides, ratchets; as it is held.

Lengths mm. The lever runs from its input pin to its output pin, the fulcrum between them.
"""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from mild_badger.core.figures import in_mm
from mild_badger.core.message import say
from mild_badger.core.vehicle.base import DocumentNode, Length
from mild_badger.core.vehicle.train import Train

__all__ = ["MAX_RATCHETS", "LeverDrive"]

MAX_RATCHETS = 6
Lost = Annotated[float, Field(ge=0, le=20)]


class LeverDrive(DocumentNode):
    """What moves, and how far.

    ``throw_mm`` is half the stroke of the ``yoke`` or ``crank``, ``rod_mm`` the crank's rod. The
    fulcrum stands ``fulcrum_mm`` from the input pin, between its stops. Every one of ``ratchets``
    has a throw, a lever and a pawl of its own, at ``phases_deg``, empty for even spacing;
    ``two_sided`` ones drive on both strokes. Pawls push at ``wheel_mm`` from the middle of a wheel
    of ``teeth``. ``pin_lost_mm`` is lost in the joint at the throw, ``pawl_lost_mm`` at the pawl;
    each of three joints takes ``loss`` of the work. Ratchets turn the wheel ``turns`` as seen along
    the box, whatever way the motor turns. ``pin_mm`` is the pins' diameter. The throws
    are driven by the motor over ``pairs``.
    """

    motion: Literal["yoke", "crank"] = "yoke"
    throw_mm: Length = 10.0
    rod_mm: Length = 60.0
    lever_mm: Length = 90.0
    stop_low_mm: Length = 25.0
    stop_high_mm: Length = 65.0
    fulcrum_mm: Length = 45.0
    ratchets: Annotated[int, Field(ge=1, le=MAX_RATCHETS)] = 3
    phases_deg: Annotated[
        tuple[Annotated[float, Field(ge=-360, le=720)], ...], Field(max_length=MAX_RATCHETS)
    ] = ()
    two_sided: bool = False
    turns: Literal[1, -1] = 1
    wheel_mm: Length = 34.0
    teeth: Annotated[int, Field(ge=6, le=2000)] = 144
    pin_lost_mm: Lost = 0.1
    pawl_lost_mm: Lost = 0.1
    loss: Annotated[float, Field(ge=0, le=0.9)] = 0.05
    pin_mm: Length = 3.0
    pairs: Train = ()

    @model_validator(mode="after")
    def _on_the_lever(self) -> Self:
        if max(self.stop_low_mm, self.fulcrum_mm, self.stop_high_mm) >= self.lever_mm:
            raise ValueError(
                say(
                    "lever.fulcrum-and-stops-at-and-must-stand-on-the",
                    fulcrum_mm=self.fulcrum_mm,
                    stop_low_mm=self.stop_low_mm,
                    stop_high_mm=in_mm(self.stop_high_mm),
                    lever_mm=in_mm(self.lever_mm),
                )
            )
        if self.phases_deg and len(self.phases_deg) != self.ratchets:
            raise ValueError(
                say(
                    "lever.ratchets-take-as-many-phases-are-given",
                    ratchets=self.ratchets,
                    count_of_phases_deg=len(self.phases_deg),
                )
            )
        return self

    @property
    def phases(self) -> tuple[float, ...]:
        """The phases that count, in degrees: as given, else evenly spaced over ``span_deg``."""
        even = tuple(self.span_deg * n / self.ratchets for n in range(self.ratchets))
        return self.phases_deg or even

    @property
    def pawls(self) -> int:
        """How many pawls there are: one for each stroke that drives."""
        return self.ratchets * (2 if self.two_sided else 1)

    @property
    def wheels(self) -> int:
        """How many ratchet wheels sit side by side on the output: one for each pawl."""
        return self.pawls

    @property
    def pawl_mm(self) -> float:
        """A pawl's length from its pin to its nose: long enough to stay along the rim."""
        return max(1.5 * self.wheel_mm, 8 * self.pin_mm)

    @property
    def span_deg(self) -> float:
        """The angle over which phases repeat; half a turn later a two-sided one drives again."""
        return 180.0 if self.two_sided else 360.0
