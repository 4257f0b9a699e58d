"""The log: finding entries again, what is due, and writing it out as Markdown or CSV."""

import datetime
from collections.abc import Iterable
from dataclasses import dataclass
from functools import lru_cache

from mild_badger.core.csv_text import csv_text
from mild_badger.core.driveline.assemble import assemble
from mild_badger.core.errors import InputError
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.ids import VersionId
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.log import STAGES, LogEntry, Milestone, Stage, WearItem
from mild_badger.core.vehicle.model import Vehicle

__all__ = [
    "COLUMNS",
    "Reminder",
    "add_entry",
    "change_entry",
    "due",
    "entries",
    "log_csv",
    "log_findings",
    "log_markdown",
    "logged_parts",
    "part_id",
    "part_name",
    "reach",
    "remove_entry",
    "watch_wear",
    "worn_renewed",
]

COLUMNS = ("date", "version", "part", "changed", "why", "seen", "photo", "ran_hours")
SOON = 0.9
"""From this share of its hours a part is said to be due soon."""


@dataclass(frozen=True)
class Reminder:
    """A part that wears, what it is called, hours since it was last done, whether it is time."""

    item: WearItem
    name: str
    since_hours: float
    now: bool
    soon: bool

    @property
    def summary(self) -> str:
        """Say it."""
        left = self.item.every_hours - self.since_hours
        what = f"{self.item.what} {self.name}"
        if self.now:
            return say(
                "trial.due-of-h-have-run",
                what=what,
                since_hours=self.since_hours,
                every_hours=self.item.every_hours,
            )
        return say("trial.in-h", what=what, left=left)


def entries(
    vehicle: Vehicle, *, text: str = "", part: str = "", version: VersionId | None = None
) -> tuple[tuple[int, LogEntry], ...]:
    """Find entries, newest day first, each with its number in the document.

    ``text`` must be found in what was written, word by word in any order; ``part`` and ``version``
    narrow it, a version of None takes all.
    """
    wanted = text.casefold().split()
    asked = part_id(vehicle, part)
    matching = []
    for number, entry in enumerate(vehicle.log.entries):
        written = " ".join(
            (
                entry.date,
                vehicle.version_name(entry.version),
                part_name(vehicle, entry.part),
                entry.changed,
                entry.why,
                entry.seen,
                entry.photo,
            )
        ).casefold()
        tied = asked in ("", part_id(vehicle, entry.part)) and version in (None, entry.version)
        if tied and all(word in written for word in wanted):
            matching.append((number, entry))
    return tuple(sorted(matching, key=lambda pair: (pair[1].date, pair[0]), reverse=True))


def logged_parts(vehicle: Vehicle) -> tuple[str, ...]:
    """Name what an entry can be tied to: what it was tied to so far, then the parts there are."""
    before = [entry.part for entry in vehicle.log.entries if entry.part]
    before += [item.part for item in vehicle.log.wear]
    names = (part_name(vehicle, part) for part in before)
    return tuple(dict.fromkeys((*names, *(body.name for body in assemble(vehicle).bodies))))


def part_id(vehicle: Vehicle, part: str) -> str:
    """Give the id of the body that is called so; what names no body stays as it was typed."""
    return _ids_by_name(vehicle).get(part, part)


@lru_cache(maxsize=4)
def _ids_by_name(vehicle: Vehicle) -> dict[str, str]:
    """Look the bodies' names up once: a long log asks for each entry, as its search is typed."""
    return {body.name: body.id for body in reversed(assemble(vehicle).bodies)}


def part_name(vehicle: Vehicle, part: str) -> str:
    """Say what a part is called: a body by its id, anything else as it was typed."""
    body = assemble(vehicle).index.get(part)
    return part if body is None else body.name


def add_entry(vehicle: Vehicle, entry: LogEntry) -> Edit:
    """Write an entry.

    Raises
    ------
    InputError
        Nothing is said in it, or its day is none.
    """
    _checked(entry)
    tied = entry.model_copy(update={"part": part_id(vehicle, entry.part)})
    return Edit.one(say("trial.write-in-the-log"), ("log", "entries"), [*vehicle.log.entries, tied])


def change_entry(vehicle: Vehicle, number: int, entry: LogEntry) -> Edit:
    """Write an entry anew.

    Raises
    ------
    InputError
        As for ``add_entry``.
    """
    _checked(entry)
    kept = list(vehicle.log.entries)
    kept[number] = entry.model_copy(update={"part": part_id(vehicle, entry.part)})
    return Edit.one(say("trial.change-the-log"), ("log", "entries"), kept)


def _checked(entry: LogEntry) -> None:
    if not any((entry.changed, entry.why, entry.seen, entry.photo)):
        raise InputError(say("trial.say-what-was-changed-why-or-what-was-seen"))
    parse_day(entry.date)


def parse_day(text: str) -> str:
    """Read a day as year-month-day.

    Raises
    ------
    InputError
        There is no such day.
    """
    try:
        return datetime.date.fromisoformat(text.strip()).isoformat()
    except ValueError:
        raise InputError(
            say("trial.is-no-day-write-it-as-2026-05-17", strip=text.strip())
        ) from None


def remove_entry(vehicle: Vehicle, number: int) -> Edit:
    """Take an entry out."""
    kept = [entry for n, entry in enumerate(vehicle.log.entries) if n != number]
    return Edit.one(say("trial.take-an-entry-out-of-the-log"), ("log", "entries"), kept)


def watch_wear(vehicle: Vehicle, item: WearItem) -> Edit:
    """Have a part watched, from the hours it has now; one of that name is watched anew."""
    part = part_id(vehicle, item.part)
    kept = [w for w in vehicle.log.wear if part_id(vehicle, w.part) != part]
    new = item.model_copy(update={"part": part, "done_at_hours": vehicle.log.hours})
    return Edit.one(
        say("trial.watch", part_name=part_name(vehicle, part)), ("log", "wear"), [*kept, new]
    )


def worn_renewed(vehicle: Vehicle, part: str, *, watched: bool = True) -> Edit:
    """Note that a worn part was done now; ``watched`` False stops watching it."""
    part = part_id(vehicle, part)
    kept = [
        w.model_copy(update={"done_at_hours": vehicle.log.hours})
        if part_id(vehicle, w.part) == part
        else w
        for w in vehicle.log.wear
        if watched or part_id(vehicle, w.part) != part
    ]
    name = part_name(vehicle, part)
    label = say("trial.was-done", name=name) if watched else say("trial.watch-no-longer", name=name)
    return Edit.one(label, ("log", "wear"), kept)


def reach(vehicle: Vehicle, stage: Stage, day: str | None) -> Edit:
    """Note the day a stage was reached; None takes it away.

    Raises
    ------
    InputError
        The day is none.
    """
    kept = {m.stage: m for m in vehicle.log.milestones if m.stage != stage}
    if day is not None:
        kept[stage] = Milestone(stage=stage, date=parse_day(day))
    ordered = [kept[s] for s in STAGES if s in kept]
    return Edit.one(say("trial.stage", stage=stage), ("log", "milestones"), ordered)


def due(vehicle: Vehicle) -> tuple[Reminder, ...]:
    """List the parts that wear, the most urgent first."""
    hours = vehicle.log.hours
    reminders = []
    for item in vehicle.log.wear:
        since = max(hours - item.done_at_hours, 0.0)
        now, soon = since >= item.every_hours, since >= SOON * item.every_hours
        reminders.append(Reminder(item, part_name(vehicle, item.part), since, now, soon))
    return tuple(sorted(reminders, key=lambda d: d.item.every_hours - d.since_hours))


def log_findings(vehicle: Vehicle) -> tuple[Finding, ...]:
    """Remind of what is due."""
    return tuple(
        Finding(
            Severity.NOTE,
            "wear-due",
            ("log",),
            f"{d.item.what.capitalize()} {d.name}",
            say(
                "trial.it-has-run-h-since-it-was-last-done-you",
                since_hours=d.since_hours,
                every_hours=d.item.every_hours,
            ),
            d.since_hours,
            d.item.every_hours,
            "h",
        )
        for d in due(vehicle)
        if d.now
    )


def log_csv(vehicle: Vehicle, chosen: Iterable[LogEntry]) -> str:
    """Write entries as CSV."""
    rows = [
        [
            {
                "version": vehicle.version_name(entry.version),
                "part": part_name(vehicle, entry.part),
            }.get(name, getattr(entry, name))
            for name in COLUMNS
        ]
        for entry in chosen
    ]
    return csv_text(COLUMNS, rows)


def log_markdown(vehicle: Vehicle, chosen: Iterable[LogEntry]) -> str:
    """Write the log as Markdown: milestones, what is due, then the entries."""
    lines = [
        say("trial.log-of", plain=_plain(vehicle.name)),
        "",
        say("trial.h-run-in-all", hours=vehicle.log.hours),
        "",
    ]
    if vehicle.log.milestones:
        lines += ["## Stages", ""]
        for stone in vehicle.log.milestones:
            note = f": {_plain(stone.note)}" if stone.note else ""
            lines.append(f"- {stone.date} {stone.stage}{note}")
        lines.append("")
    waiting = due(vehicle)
    if waiting:
        lines += ["## Wear", "", *(f"- {_plain(d.summary)}" for d in waiting), ""]
    lines += ["## Entries", ""]
    for entry in chosen:
        kept = entry.version and say(
            "trial.version", version_name=vehicle.version_name(entry.version)
        )
        tied = ", ".join(filter(None, (kept, part_name(vehicle, entry.part))))
        lines += [f"### {entry.date}" + (f" ({_plain(tied)})" if tied else ""), ""]
        for name, words in (
            ("Changed", entry.changed),
            ("Why", entry.why),
            ("Seen", entry.seen),
        ):
            if words:
                lines += [f"- {name}: {_plain(words)}"]
        if entry.ran_hours:
            lines.append(say("trial.ran-h", ran_hours=entry.ran_hours))
        if entry.photo:
            lines.append(say("trial.photo", photo=entry.photo))
        lines.append("")
    return "\n".join(lines)


def _plain(text: str) -> str:
    """Keep words on one line, and what Markdown would take for marks as it was written."""
    joined = " ".join(text.split())
    return "".join(f"\\{c}" if c in "\\`*_{}[]<>#|" else c for c in joined)
