"""How far each part is, and by what joints parts hold, as the document has it."""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from mild_badger.core.message import say
from mild_badger.core.vehicle.base import DocumentNode

__all__ = ["JOINTS", "STATES", "Assembly", "Joint", "JointKind", "PartState", "State"]

State = Literal["drawn", "made", "fitted"]
STATES: tuple[State, ...] = ("drawn", "made", "fitted")
JointKind = Literal["glued", "pressed", "pinned", "keyed", "screwed", "slides"]
JOINTS: tuple[JointKind, ...] = ("glued", "pressed", "pinned", "keyed", "screwed", "slides")
Key = Annotated[str, Field(min_length=1, max_length=120)]


class PartState(DocumentNode):
    """How far one part is; ``shape`` marks the shape it had when that was noted."""

    key: Key
    state: State
    shape: Annotated[str, Field(max_length=40)] = ""


class Joint(DocumentNode):
    """By what one part holds to the one that carries it; a note says, say, how a key must stand."""

    key: Key
    kind: JointKind
    note: Annotated[str, Field(max_length=200)] = ""


class Assembly(DocumentNode):
    """States and joints of parts; a part that is not named is not begun and holds as usual.

    ``ticks`` are steps that have no part of their own to be marked as fitted.
    """

    states: Annotated[tuple[PartState, ...], Field(max_length=5000)] = ()
    joints: Annotated[tuple[Joint, ...], Field(max_length=5000)] = ()
    ticks: Annotated[tuple[Key, ...], Field(max_length=200)] = ()

    @model_validator(mode="after")
    def _keys_stand_once(self) -> Self:
        for marks in (self.states, self.joints):
            keys = [entry.key for entry in marks]
            if len(set(keys)) < len(keys):
                raise ValueError(say("vehicle.one-part-has-two-states-or-two-joints"))
        return self
