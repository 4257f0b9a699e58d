"""What every part of the document has in common, and the bounds its fields share."""

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from typing import Annotated, Literal, TypeVar

from pydantic import BaseModel, ConfigDict, Field

from mild_badger.core.ids import Identity, fresh_ids
from mild_badger.core.message import say

__all__ = [
    "Angle",
    "Count",
    "DocumentNode",
    "Identified",
    "Length",
    "Positive",
    "RefersTo",
    "Rpm",
    "ShortName",
    "Teeth",
    "identified",
]


@dataclass(frozen=True)
class RefersTo:
    """Marks a field that means something else of the document: a gear, an output, a version."""

    what: Literal["gear", "crane output", "function output", "version"]


class DocumentNode(BaseModel):
    """A frozen piece of the document: no unknown fields, no NaN, no infinity."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)


class Identified(DocumentNode):
    """A piece that others mean by its id; only one on its way into a document has none yet."""

    id: Identity = ""

    @property
    def stem(self) -> str:
        """What a new id is made of."""
        return str(getattr(self, "name", type(self).__name__))


One = TypeVar("One", bound=Identified)


def identified(pieces: Sequence[One], taken: Collection[str] = ()) -> tuple[One, ...]:
    """Give an id to the pieces that have none, as older files have them.

    Raises
    ------
    ValueError
        Two pieces have one id.
    """
    given = [piece.id for piece in pieces if piece.id]
    if len(set(given)) < len(given):
        raise ValueError(say("vehicle.two-entries-of-a-list-have-one-id"))
    if len(given) == len(pieces):
        return tuple(pieces)
    stems = (piece.stem for piece in pieces if not piece.id)
    made = iter(fresh_ids(stems, {*taken, *given}))
    return tuple(
        piece if piece.id else piece.model_copy(update={"id": next(made)}) for piece in pieces
    )


Teeth = Annotated[int, Field(ge=4, le=400)]
Count = Annotated[int, Field(ge=0, le=9999)]
Length = Annotated[float, Field(gt=0, le=100_000)]
Rpm = Annotated[float, Field(gt=0, le=200_000)]
Angle = Annotated[float, Field(ge=0, lt=90)]
Positive = Annotated[float, Field(gt=0, le=1_000_000)]
ShortName = Annotated[str, Field(min_length=1, max_length=24, pattern=r"^\S(.*\S)?$")]
