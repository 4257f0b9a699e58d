"""How far parts are, and which that were made are superseded: what is drawn now is another.

A part that is marked bears a mark of the shape that it has then. It is superseded once the plan
draws it otherwise, or not at all; the revision that asks for another is the first kept version that
draws it as it is drawn now.
"""

from collections.abc import Collection, Iterable, Iterator, Mapping
from dataclasses import dataclass
from functools import lru_cache
from hashlib import sha256

from mild_badger.core.components.component import Component, Outline
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.message import say, say_count
from mild_badger.core.vehicle.assembly import Assembly, PartState, State
from mild_badger.core.vehicle.cache_key import CacheKey, Same, parts_key
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import listed
from mild_badger.core.workshop.assembly import Build
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

    key: str
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


def part_marks(vehicle: Vehicle) -> Mapping[str, str]:
    """Give a mark of the shape of each part of a vehicle, by its key."""
    return _marks(parts_key(vehicle.model_copy(update={"assembly": Assembly()})))


@lru_cache(maxsize=4)
def _marks(key: CacheKey) -> Mapping[str, str]:
    return {part.key: _mark(part) for part in vehicle_steps(key.vehicle).parts}


def _mark(part: Component) -> str:
    """Tell a part's shape, wherever and however turned it stands, in a few letters."""
    start = min((prism.from_mm for prism in part.solid), default=0.0)
    told = [part.kind, str(part.teeth), str(part.free)]
    for prism in part.solid:
        told.append(f"{_step(prism.from_mm - start)} {_step(prism.to_mm - start)}")
        told += [_ring(ring) for ring in (*prism.outlines, *prism.holes)]
    return sha256("|".join(told).encode()).hexdigest()[:LONG]


def _ring(ring: Outline) -> str:
    return " ".join(f"{_step(x)},{_step(y)}" for x, y in ring)


def _step(value: float) -> int:
    return round(value / STEP_MM + OFF)


def state_of(vehicle: Vehicle, key: str) -> State | None:
    """Say how far a part is; None where it is not begun."""
    return next((s.state for s in vehicle.assembly.states if s.key == key), None)


def mark_states(vehicle: Vehicle, keys: Iterable[str], state: State | None) -> Edit:
    """Note how far parts are, by the shapes that they have now."""
    wanted = dict.fromkeys(keys)
    kept = [s for s in vehicle.assembly.states if s.key not in wanted]
    if state is not None:
        marks = part_marks(vehicle)
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
    again = {one.key for one in superseded(vehicle)}
    return all(state_of(vehicle, key) == "fitted" and key not in again for key in step.keys)


def superseded(vehicle: Vehicle) -> tuple[Superseded, ...]:
    """List the parts that were made otherwise than they are drawn now."""
    return _superseded(Same(vehicle))


@lru_cache(maxsize=2)
def _superseded(same: Same[Vehicle]) -> tuple[Superseded, ...]:
    vehicle = same.it
    made = [s for s in vehicle.assembly.states if s.state in MADE and s.shape]
    if not made:
        return ()
    marks = part_marks(vehicle)
    if not marks:  # a box that has lost its place says nothing of its parts
        return ()
    return tuple(
        Superseded(s.key, s.key not in marks, _revision(vehicle, s.key, marks.get(s.key, "")))
        for s in made
        if marks.get(s.key) != s.shape
    )


def _revision(vehicle: Vehicle, key: str, mark: str) -> str:
    """Find the first of the last versions that all draw a part by this mark."""
    found = ""
    for version in reversed(vehicle.versions):
        if version.shapes.get(key) != mark:
            break
        found = version.name
    return found


def progress_of(
    vehicle: Vehicle, keys: Collection[str], remade: Mapping[str, Superseded]
) -> Progress:
    """Count how far parts are; those to be ``remade`` by their keys are not made."""
    states = {s.key: s.state for s in vehicle.assembly.states if s.key in keys}
    again = [remade[key] for key in keys if key in remade]
    counts = [state for key, state in states.items() if key not in remade]
    revisions = dict.fromkeys(one.revision for one in again)
    return Progress(
        counts.count("drawn"),
        counts.count("made"),
        counts.count("fitted"),
        len(again),
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
        own = [one for one in found if one.gone == gone]
        if not own:
            continue
        revisions = listed(list(dict.fromkeys(one.revision for one in own if one.revision)))
        count = say_count("count.made-part", len(own))
        yield Finding(
            Severity.NOTE if gone else Severity.WARNING,
            code,
            ("assembly", *(one.key for one in own[:6])),
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
