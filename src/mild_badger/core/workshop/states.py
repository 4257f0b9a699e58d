"""How far parts are, and which that were made are superseded: what is drawn now is another.

A part that is marked bears a mark of the shape that it has then. It is superseded once the plan
draws it otherwise, or not at all; the revision that asks for another is the first kept version that
draws it as it is drawn now.
"""

from collections.abc import Collection, Iterable, Iterator, Mapping
from dataclasses import dataclass
from functools import lru_cache
from hashlib import sha256

import numpy as np

from mild_badger.core.components.component import Component, Outline
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.message import say, say_count
from mild_badger.core.vehicle.assembly import Assembly, PartState, State
from mild_badger.core.vehicle.cache_key import CacheKey, Same, parts_key
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import listed
from mild_badger.core.workshop.assembly import Build, assembly_plan
from mild_badger.core.workshop.further_steps import vehicle_steps

__all__ = [
    "Progress",
    "Superseded",
    "describe_progress",
    "mark_states",
    "part_marks",
    "progress_of",
    "state_findings",
    "state_of",
    "step_done",
    "superseded",
    "tick_step",
]

STEP_MM, OFF = 0.1, 0.137
"""Shapes are told apart by so much; the shift keeps figures off the middle between two steps."""
LONG = 12
MADE: tuple[State, ...] = ("made", "fitted")


@dataclass(frozen=True)
class Superseded:
    """A part that is to be made anew, or, if it is ``gone``, no longer needed.

    ``revision`` is the version that asks for it, "" if that is not kept yet.
    """

    gone: bool
    revision: str


@dataclass(frozen=True)
class Progress:
    """How many of some parts are begun, made, fitted, to be made anew; and who asks for that."""

    drawn: int = 0
    made: int = 0
    fitted: int = 0
    remake: int = 0
    revisions: tuple[str, ...] = ()


def part_marks(vehicle: Vehicle, keys: Iterable[str]) -> Mapping[str, str]:
    """Give a mark of the shape of each of some parts, by their keys; those not drawn have none."""
    bare = vehicle.model_copy(update={"assembly": Assembly()})
    return _marks(parts_key(bare), frozenset(keys))


@lru_cache(maxsize=4)
def _marks(this: CacheKey, keys: frozenset[str]) -> Mapping[str, str]:
    # a box's parts are at hand; what is round it is asked for only where it counts
    parts = {part.key: part for part in assembly_plan(this.vehicle).parts}
    if not keys <= parts.keys():
        parts = {part.key: part for part in vehicle_steps(this.vehicle).parts}
    return {key: _mark(parts[key]) for key in keys if key in parts}


def _mark(part: Component) -> str:
    """Tell a part's shape, wherever and however turned it stands, in a few letters."""
    start = min((prism.from_mm for prism in part.solid), default=0.0)
    told = sha256(f"{part.kind} {part.teeth} {part.free}".encode())
    for prism in part.solid:
        told.update(_steps(((prism.from_mm - start, prism.to_mm - start),)))
        for ring in (*prism.outlines, *prism.holes):
            told.update(_steps(ring))
            told.update(b"|")
    return told.hexdigest()[:LONG]


def _steps(points: Outline) -> bytes:
    return np.round(np.asarray(points) / STEP_MM + OFF).astype("<i4").tobytes()


def state_of(vehicle: Vehicle, key: str) -> State | None:
    """Say how far a part is; None where it is not begun."""
    return next((s.state for s in vehicle.assembly.states if s.key == key), None)


def mark_states(vehicle: Vehicle, keys: Iterable[str], state: State | None) -> Edit:
    """Note how far parts are, by the shapes that they have now."""
    wanted = dict.fromkeys(keys)
    kept = [s for s in vehicle.assembly.states if s.key not in wanted]
    if state is not None:
        marks = part_marks(vehicle, wanted)
        kept += [PartState(key=key, state=state, shape=marks.get(key, "")) for key in wanted]
    return Edit.one(
        say("workshop.mark-as", state=state or say("workshop.not-begun")),
        ("assembly", "states"),
        kept,
    )


def tick_step(vehicle: Vehicle, step: Build, done: bool) -> Edit:
    """Tick a step off: its parts are fitted then, else made."""
    if step.keys:
        edit = mark_states(vehicle, step.keys, "fitted" if done else "made")
        return Edit(
            say(
                "workshop.step",
                value=say("workshop.tick-off") if done else say("workshop.take-back"),
                number=step.number,
            ),
            edit.changes,
        )
    ticks = [t for t in vehicle.assembly.ticks if t != step.key] + [step.key] * done
    return Edit.one(say("workshop.tick-step", number=step.number), ("assembly", "ticks"), ticks)


def step_done(vehicle: Vehicle, step: Build) -> bool:
    """Tell whether a step is done: all its parts are fitted, as they are drawn now."""
    if not step.keys:
        return step.key in vehicle.assembly.ticks
    again = superseded(vehicle)
    return all(state_of(vehicle, key) == "fitted" and key not in again for key in step.keys)


def superseded(vehicle: Vehicle) -> Mapping[str, Superseded]:
    """List the parts, by their keys, that were made otherwise than they are drawn now."""
    return _superseded(Same(vehicle))


@lru_cache(maxsize=2)
def _superseded(same: Same[Vehicle]) -> Mapping[str, Superseded]:
    vehicle = same.it
    made = [s for s in vehicle.assembly.states if s.state in MADE and s.shape]
    if not made:
        return {}
    marks = part_marks(vehicle, [s.key for s in made])
    if not assembly_plan(vehicle).parts:  # a box without a place says nothing of its parts
        return {}
    return {
        s.key: Superseded(s.key not in marks, _revision(vehicle, s.key, marks.get(s.key, "")))
        for s in made
        if marks.get(s.key) != s.shape
    }


def _revision(vehicle: Vehicle, key: str, mark: str) -> str:
    """Find the first of the last versions that all draw a part by this mark."""
    found = ""
    for version in reversed(vehicle.versions):
        if version.shapes.get(key) != mark:
            break
        found = version.name
    return found


def progress_of(vehicle: Vehicle, keys: Collection[str]) -> Progress:
    """Count how far parts are; those that are superseded are not made."""
    again = superseded(vehicle)
    counts = [s.state for s in vehicle.assembly.states if s.key in keys and s.key not in again]
    remade = [again[key] for key in keys if key in again]
    revisions = dict.fromkeys(one.revision for one in remade)
    return Progress(
        counts.count("drawn"),
        counts.count("made"),
        counts.count("fitted"),
        len(remade),
        tuple(filter(None, revisions)),
    )


def describe_progress(progress: Progress) -> str:
    """Say how far some parts are; nothing where none is begun."""
    told = [
        words
        for count, words in (
            (progress.fitted, say("workshop.count-fitted", count=progress.fitted)),
            (progress.made, say("workshop.count-made", count=progress.made)),
            (progress.drawn, say("workshop.count-drawn", count=progress.drawn)),
            (progress.remake, say("workshop.count-to-remake", count=progress.remake)),
        )
        if count
    ]
    words = ", ".join(told)
    if progress.revisions:
        by = ", ".join(progress.revisions)
        return say("workshop.remade-for-a-revision", words=words, revisions=by)
    return words


def state_findings(vehicle: Vehicle) -> Iterator[Finding]:
    """Say which parts are to be made anew, and which are no longer needed."""
    found = superseded(vehicle)
    for gone, code in ((False, "superseded"), (True, "no-longer-needed")):
        own = {key: one for key, one in found.items() if one.gone == gone}
        if not own:
            continue
        revisions = listed(
            list(dict.fromkeys(one.revision for one in own.values() if one.revision))
        )
        count = say_count("count.made-part", len(own))
        yield Finding(
            Severity.NOTE if gone else Severity.WARNING,
            code,
            ("assembly", *list(own)[:6]),
            say("workshop.no-longer-needed", parts=count)
            if gone
            else say("workshop.superseded", parts=count),
            say("workshop.asked-for-by", revisions=revisions)
            if revisions
            else say("workshop.asked-for-by-what-is-not-kept-as-a-version"),
            figure=len(own),
            limit=0,
            unit="parts",
        )
