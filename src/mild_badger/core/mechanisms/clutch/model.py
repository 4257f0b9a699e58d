"""A friction clutch on the shaft that enters the box, as the document holds it. Lengths mm."""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from mild_badger.core.figures import in_mm
from mild_badger.core.message import say
from mild_badger.core.vehicle.base import DocumentNode, Length

__all__ = ["Clutch", "Lining", "lining_mm"]

LEAST_LINING_MM = 0.5

Lining = Literal["cork", "leather", "felt", "wood", "rubber", "own"]


class Clutch(DocumentNode):
    """Rings of lining between ``outer_mm`` and ``inner_mm`` (diameters), pressed by springs.

    ``spring_n`` presses when the lining is new, and ``spring_n_per_mm`` less for each mm of wear;
    ``wear_mm`` may wear off all faces together. Each of ``faces`` wants ``gap_mm`` to run free.
    ``own_mu`` counts where the lining is one's own; ``limit_mpa`` is what pressure the builder's
    lining stood, None for what handbooks say. The lever multiplies the force by
    ``lever_ratio`` and has ``pedal_mm`` of travel, ``free_mm`` of it play.
    """

    outer_mm: Length = 32.0
    inner_mm: Length = 16.0
    faces: Annotated[int, Field(ge=1, le=40)] = 2
    lining: Lining = "cork"
    own_mu: Annotated[float, Field(gt=0, le=2)] = 0.3
    limit_mpa: Annotated[float, Field(gt=0, le=100)] | None = None
    spring_n: Annotated[float, Field(gt=0, le=100_000)] = 10.0
    spring_n_per_mm: Annotated[float, Field(ge=0, le=10_000)] = 1.0
    wear_mm: Annotated[float, Field(ge=0, le=50)] = 0.5
    gap_mm: Annotated[float, Field(gt=0, le=20)] = 0.3
    lever_ratio: Annotated[float, Field(gt=0, le=100)] = 4.0
    pedal_mm: Length = 12.0
    free_mm: Annotated[float, Field(ge=0, le=100)] = 1.0

    @model_validator(mode="after")
    def _ring(self) -> Self:
        if self.inner_mm == self.outer_mm:
            raise ValueError(
                say("clutch.inside-and-outside-of-the-lining-both", inner_mm=in_mm(self.inner_mm))
            )
        return self


def lining_mm(clutch: Clutch) -> float:
    """Give how thick a new lining is: what may wear off, and no sheet is thinner than half a mm."""
    return max(clutch.wear_mm, LEAST_LINING_MM)
