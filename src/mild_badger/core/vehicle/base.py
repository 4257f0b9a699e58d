"""What every part of the document has in common, and the bounds its fields share."""

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

__all__ = [
    "Angle",
    "Count",
    "DocumentNode",
    "Length",
    "Positive",
    "RefersTo",
    "Rpm",
    "ShortName",
    "Teeth",
]


@dataclass(frozen=True)
class RefersTo:
    """Marks a field that means something else of the document: a gear, an output, a version."""

    what: Literal["gear", "crane output", "function output", "version"]


class DocumentNode(BaseModel):
    """A frozen piece of the document: no unknown fields, no NaN, no infinity."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)


Teeth = Annotated[int, Field(ge=4, le=400)]
Count = Annotated[int, Field(ge=0, le=9999)]
Length = Annotated[float, Field(gt=0, le=100_000)]
Rpm = Annotated[float, Field(gt=0, le=200_000)]
Angle = Annotated[float, Field(ge=0, lt=90)]
Positive = Annotated[float, Field(gt=0, le=1_000_000)]
ShortName = Annotated[str, Field(min_length=1, max_length=24, pattern=r"^\S(.*\S)?$")]
