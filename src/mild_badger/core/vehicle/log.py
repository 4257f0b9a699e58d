"""The builder's log: dated entries, parts that wear, milestones of the build."""

from typing import Annotated, Literal

from pydantic import Field

from mild_badger.core.ids import MAX_ID, VersionId
from mild_badger.core.vehicle.base import DocumentNode, RefersTo

__all__ = ["STAGES", "Log", "LogEntry", "Milestone", "Stage", "WearItem"]

Stage = Literal[
    "planned",
    "drawn",
    "parts made",
    "box together",
    "box tried",
    "in the chassis",
    "driven",
    "finished",
]
STAGES: tuple[Stage, ...] = (
    "planned",
    "drawn",
    "parts made",
    "box together",
    "box tried",
    "in the chassis",
    "driven",
    "finished",
)
Day = Annotated[str, Field(pattern=r"^\d{4}-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])$")]
Words = Annotated[str, Field(max_length=4000)]
Hours = Annotated[float, Field(ge=0, le=100_000)]


class LogEntry(DocumentNode):
    """What was changed on a day, why, and what was seen; ``version`` and ``part`` it belongs to.

    ``ran_hours`` is how long the model ran since the entry before; ``photo`` a path on disk.
    """

    date: Day
    version: Annotated[VersionId, Field(max_length=MAX_ID), RefersTo("version")] = VersionId("")
    part: Annotated[str, Field(max_length=120)] = ""
    changed: Words = ""
    why: Words = ""
    seen: Words = ""
    photo: Annotated[str, Field(max_length=1000)] = ""
    ran_hours: Hours = 0.0


class WearItem(DocumentNode):
    """Something to look at or renew after so many hours; ``done_at_hours`` is when it last was."""

    part: Annotated[str, Field(min_length=1, max_length=120)]
    every_hours: Annotated[float, Field(gt=0, le=100_000)]
    what: Annotated[str, Field(max_length=200)] = "renew"
    done_at_hours: Hours = 0.0


class Milestone(DocumentNode):
    """A stage of the build, and the day on which it was reached."""

    stage: Stage
    date: Day
    note: Annotated[str, Field(max_length=400)] = ""


class Log(DocumentNode):
    """Entries in the order in which they were written, wear, milestones."""

    entries: Annotated[tuple[LogEntry, ...], Field(max_length=5000)] = ()
    wear: Annotated[tuple[WearItem, ...], Field(max_length=200)] = ()
    milestones: Annotated[tuple[Milestone, ...], Field(max_length=40)] = ()

    @property
    def hours(self) -> float:
        """How long the model has run, all entries together."""
        return sum(entry.ran_hours for entry in self.entries)
