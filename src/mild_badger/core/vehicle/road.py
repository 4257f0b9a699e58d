"""Losses, grip, the course of a test drive and kept versions, as the document holds them."""

from typing import Annotated, Any, Literal, Self

from pydantic import Field, model_validator

from mild_badger.core.ids import Held, VersionId
from mild_badger.core.message import say
from mild_badger.core.vehicle.base import DocumentNode, Identified, ShortName

__all__ = ["Ground", "Losses", "Lubrication", "Segment", "Version"]

Lubrication = Literal["dry", "waxed", "oiled"]
Drag = Annotated[float, Field(ge=0, le=10_000)]


class Losses(DocumentNode):
    """What turns along without carrying: estimates, all of them to be changed.

    ``idle_mesh_n_mm`` is the drag of a mesh that carries nothing, on its faster gear;
    ``bearing_n_mm`` that of a bearing, two a shaft; ``drag_factor`` is what a measured speed made
    of both. ``lubrication`` says what the figures were estimated for.
    """

    lubrication: Lubrication = "dry"
    idle_mesh_n_mm: Drag = 0.15
    bearing_n_mm: Drag = 0.1
    drag_factor: Annotated[float, Field(ge=0, le=1000)] = 1.0


class Ground(DocumentNode):
    """The ground: rolling resistance as a share of the weight, and the tyres' grip."""

    rolling: Annotated[float, Field(ge=0, le=1)] = 0.03
    grip: Annotated[float, Field(gt=0, le=3)] = 0.7


class Segment(DocumentNode):
    """A stretch of a course.

    ``value`` is the grade in % of a hill, the radius in m of a turn, the factor on the rolling
    resistance of rough ground; nothing for flat ones.
    """

    kind: Literal["flat", "hill", "turn", "rough"]
    length_m: Annotated[float, Field(gt=0, le=10_000)]
    value: Annotated[float, Field(ge=-200, le=1000)] = 0.0

    @model_validator(mode="after")
    def _can_be_driven(self) -> Self:
        if self.kind == "turn" and self.value <= 0:
            raise ValueError(say("vehicle.a-turn-of-the-course-needs-a-radius-in-m"))
        if self.kind == "rough" and self.value < 0:
            raise ValueError(say("vehicle.rough-ground-has-a-factor-of-0-or-more-on"))
        return self


class Version(Identified):
    """A named state of the vehicle, kept in its file; ``data`` is that vehicle without versions.

    ``shapes`` marks how it draws the parts that were begun, by their keys.
    """

    id: Held[VersionId] = VersionId("")
    name: ShortName
    date: Annotated[str, Field(pattern=r"^\d{4}-\d{2}-\d{2}$")]
    note: Annotated[str, Field(max_length=2000)] = ""
    data: dict[str, Any]
    shapes: dict[str, str] = Field(default_factory=dict)

    def __hash__(self) -> int:
        """Hash by what tells versions apart; their data is a tree."""
        return hash((self.id, self.name, self.date, self.note))
