"""The order in which a box goes together, found by taking it apart in thought.

Part after part is drawn straight out along the shafts as long as nothing stands in its way; the
box goes together the other way about. What no straight way leads out for is a finding.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from functools import lru_cache

from mild_badger.core.figures import in_mm
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.layout.findings import layout_findings
from mild_badger.core.layout.names import describe_shaft
from mild_badger.core.message import say, say_count
from mild_badger.core.vehicle.assembly import (
    Assembly,
    Joint,
    JointKind,
    PartState,
    State,
)
from mild_badger.core.vehicle.boxes import SlottedBox
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import capitalized, word
from mild_badger.core.workshop.joints import joint_of
from mild_badger.core.workshop.mistakes import mistakes_for
from mild_badger.core.workshop.pieces import Piece, pieces_of, tight_spacers
from mild_badger.core.workshop.units import LooseUnits, outermost, units, usual_loose
from mild_badger.core.workshop.ways_out import BACK, FRONT

__all__ = [
    "AssemblyPlan",
    "Build",
    "assembly_findings",
    "assembly_plan",
    "mark_joint",
    "mark_states",
    "state_of",
    "step_done",
    "tick_step",
]

FROM = {BACK: say("workshop.from-the-output-end"), FRONT: say("workshop.from-the-input-end")}
LAST_STEPS = (
    ("last: coupling", say("workshop.join-the-boxs-output-to-the-shaft-that-goes")),
    ("last: crown", say("workshop.set-the-crown-wheel-on-its-side-of-the")),
    ("last: hand", say("workshop.turn-the-input-by-hand-in-every-position")),
)


@dataclass(frozen=True)
class Build:
    """One step: what comes now, from which end, what to do and what is often done wrong.

    ``pieces`` are keys; none for the last steps, which lie outside the box.
    """

    number: int
    key: str
    pieces: tuple[str, ...]
    way: int
    title: str
    words: str
    mistakes: tuple[str, ...]
    parts: tuple[str, ...]


@dataclass(frozen=True)
class AssemblyPlan:
    """All steps in order, every part, and what cannot go in straight."""

    steps: tuple[Build, ...]
    pieces: tuple[Piece, ...]
    stuck: tuple[str, ...]

    def piece(self, key: str) -> Piece:
        """Find a part."""
        return next(piece for piece in self.pieces if piece.key == key)

    def there_before(self, number: int) -> frozenset[str]:
        """Name the parts that are there before a step."""
        return frozenset(k for step in self.steps if step.number < number for k in step.pieces)


def assembly_plan(vehicle: Vehicle) -> AssemblyPlan:
    """Find the steps of a box that has its place in space; empty where it has none."""
    return _plan(vehicle.model_copy(update={"assembly": Assembly()}))


@lru_cache(maxsize=4)
def _order(pieces: tuple[Piece, ...]) -> tuple[tuple[tuple[str, int], ...], frozenset[str]]:
    """Draw unit after unit out; give them with their ways, and what no way is left for."""
    loose = usual_loose(pieces)
    there = set(loose.members)
    out: list[tuple[str, int]] = []
    while there:
        way = BACK
        free = [unit for unit in there if loose.free(unit, way, there)]
        if not free:
            way = FRONT
            free = [unit for unit in there if loose.free(unit, way, there)]
        if not free:
            break
        unit = max(free, key=lambda u: outermost(loose.members[u]))
        there.remove(unit)
        out.append((unit, way))
    return tuple(out), frozenset(there)


@lru_cache(maxsize=4)
def _plan(vehicle: Vehicle) -> AssemblyPlan:
    pieces = pieces_of(vehicle)
    if not pieces:
        return AssemblyPlan((), (), ())
    loose = usual_loose(pieces)
    out, there = _order(pieces)
    steps = list(_steps(vehicle, loose, list(reversed(out)), sorted(there)))
    for key, words in LAST_STEPS:
        steps.append(
            Build(len(steps) + 1, key, (), BACK, words, words, mistakes_for(vehicle, key), ())
        )
    stuck = tuple(p.key for unit in sorted(there) for p in loose.members[unit])
    return AssemblyPlan(tuple(steps), pieces, stuck)


def _steps(
    vehicle: Vehicle, loose: LooseUnits, order: list[tuple[str, int]], stuck: list[str]
) -> Iterable[Build]:
    """Put units of one kind that begin side by side into one step."""
    groups: list[tuple[list[str], int]] = []
    for unit, way in order:
        last = groups[-1] if groups else None
        if last and last[1] == way and _together(loose, last[0][-1], unit):
            last[0].append(unit)
        else:
            groups.append(([unit], way))
    for number, (together, way) in enumerate(groups, start=1):
        pieces = [piece for unit in together for piece in loose.members[unit]]
        words = _describe_all(vehicle, pieces)
        kinds = dict.fromkeys(piece.kind for piece in pieces)
        yield Build(
            number=number,
            key=together[0],
            pieces=tuple(piece.key for piece in pieces),
            way=way,
            title=_title(vehicle, pieces),
            words=words
            if way == BACK
            else say("workshop.it-goes-in", words=words, from_=FROM[way]),
            mistakes=tuple(dict.fromkeys(m for kind in kinds for m in mistakes_for(vehicle, kind))),
            parts=tuple(f"{count} × {name}" for name, count in _counted(pieces).items()),
        )
    if stuck:
        keys = tuple(piece.key for unit in stuck for piece in loose.members[unit])
        yield Build(
            len(groups) + 1,
            "stuck",
            keys,
            BACK,
            say("workshop.these-hold-one-another"),
            say("workshop.no-straight-way-leads-in-for-them-one-by-one"),
            (),
            (),
        )


def _together(loose: LooseUnits, one: str, other: str) -> bool:
    first, second = loose.members[one][0], loose.members[other][0]
    if first.kind in ("shaft", "rail") and second.kind == first.kind:
        return abs(first.from_mm - second.from_mm) < 0.5
    small = {first.kind, second.kind} <= {"gear", "free gear", "spacer"}
    same = first.kind == second.kind or (small and first.shaft == second.shaft)
    if first.kind == "tie":
        return second.kind == "tie"
    if first.kind == "wall" or second.kind == "wall":
        return False
    return same and abs(first.from_mm - second.from_mm) < 12.0


def _counted(pieces: list[Piece]) -> dict[str, int]:
    counts: dict[str, int] = {}
    for piece in pieces:
        name = _part_name(piece)
        counts[name] = counts.get(name, 0) + 1
    return counts


def _part_name(piece: Piece) -> str:
    match piece.kind:
        case "gear" | "free gear":
            if piece.kind == "gear":
                return say("workshop.tooth-gear", teeth=piece.teeth)
            return say("workshop.free-tooth-gear", teeth=piece.teeth)
        case "shaft" | "rail":
            return say(
                "workshop.of",
                kind=word(piece.kind),
                length_mm=in_mm(piece.length_mm, significant=4),
            )
        case "spacer":
            return say("workshop.spacer-of", length_mm=in_mm(piece.length_mm, significant=4))
        case "tie":
            return say("workshop.tie-rod-of", length_mm=in_mm(piece.length_mm, significant=4))
        case "bearing":
            return word(piece.name)
        case _:
            return word(piece.kind)


MANY = {
    "shaft": say("workshop.shafts"),
    "rail": say("workshop.fork-rails"),
    "gear": say("workshop.fixed-gears"),
    "free gear": say("workshop.free-gears"),
    "spacer": say("workshop.spacers"),
    "tie": say("workshop.tie-rods"),
    "post": say("workshop.posts"),
}


def _title(vehicle: Vehicle, pieces: list[Piece]) -> str:
    first = pieces[0]
    if first.kind == "wall":
        return capitalized(first.words)
    if first.kind == "sleeve":
        return (
            say("workshop.sleeves-with-their-forks")
            if len(pieces) > 2
            else say("workshop.sleeve-with-its-fork")
        )
    kinds: dict[str, list[Piece]] = {}
    for piece in pieces:
        kinds.setdefault(piece.kind, []).append(piece)
    sentences = []
    for kind, parts in kinds.items():
        where = list(dict.fromkeys(describe_shaft(vehicle, piece.shaft) for piece in parts))
        if len(parts) == 1 and parts[0].shaft:
            sentences.append(
                say(
                    "workshop.on",
                    part_name=_part_name(parts[0]) if parts[0].teeth else word(kind),
                    where=where[0],
                )
                if kind != "shaft"
                else where[0]
            )
        else:
            sentences.append(f"{len(parts)} {MANY[kind]}")
    words = ", ".join(sentences)
    return capitalized(words)


def _describe_all(vehicle: Vehicle, pieces: list[Piece]) -> str:
    """Say what to do with the parts of a step, like ones in one sentence."""
    text: dict[str, list[str]] = {}
    for piece in pieces:
        sentence, where = _describe(vehicle, piece)
        text.setdefault(sentence, []).append(where)
    return " ".join(
        sentence.format(", ".join(dict.fromkeys(filter(None, where))))
        for sentence, where in text.items()
    )


def _describe(vehicle: Vehicle, piece: Piece) -> tuple[str, str]:
    """Give a sentence with a gap for where, and what goes into the gap."""
    joint, on = joint_of(vehicle, piece), describe_shaft(vehicle, piece.shaft)
    match piece.kind:
        case "wall":
            over = (
                say("workshop.over-the-shafts")
                if piece.from_mm
                else say("workshop.its-input-side-down")
            )
            return say(
                "workshop.the",
                word=say("workshop.put") if piece.from_mm else say("workshop.lay"),
                words=piece.words,
                over=over,
            ), ""
        case "shaft":
            return say(
                "workshop.stand-in-long", length_mm=in_mm(piece.length_mm, significant=4)
            ), on
        case "rail":
            return say("workshop.stand-in-rails-must-slide-with-two-fingers"), on
        case "gear":
            how = {
                "glued": say("workshop.fix-with-glue"),
                "pressed": say("workshop.press-on"),
                "pinned": say("workshop.pin"),
                "keyed": say("workshop.turns-with-its-shaft"),
                "screwed": say("workshop.screw-fast"),
                "slides": say("workshop.slides-on-its-shaft-and-turns-with-it"),
            }[joint]
            return say("workshop.tooth-gear-on", teeth=piece.teeth, how=how), on
        case "free gear":
            free = say("workshop.runs-free-no-glue-spin-it-with-a-finger")
            return say("workshop.tooth-gear-on-2", teeth=piece.teeth, free=free), on
        case "hub":
            return say("workshop.hub-on-half-way", joint=word(joint)), on
        case "sleeve":
            return say("workshop.sleeve-on", on=on, faces=_faces(vehicle, piece)), ""
        case "fork":
            return say("workshop.each-fork-into-its-sleeves-groove-and-on-its", joint=joint), ""
        case "bearing":
            return say("workshop.press-in-first", words=piece.words), ""
        case "tie":
            return say("workshop.through-all-walls-nuts-by-hand"), piece.words
        case "spacer":
            return say("workshop.spacer-of-on", length_mm=in_mm(piece.length_mm, significant=4)), on
        case _:
            return say("workshop.post-for"), on


def _faces(vehicle: Vehicle, piece: Piece) -> str:
    """Say which gear each face of a sleeve looks at."""
    box = SlottedBox.of(vehicle.box)
    if box is None:
        return say("workshop.both-faces-with-their-dogs-outwards")
    faces = {slot.face: slot.gear for slot in box.slots if box.sleeve_at(slot.column) == piece.body}
    sentences = [
        say("workshop.its-face-towards-gear", face=face, gear_name=vehicle.gear_name(gear))
        for face, gear in sorted(faces.items(), reverse=True)
    ]
    return ", ".join(sentences) or say("workshop.both-faces-with-their-dogs-outwards")


def assembly_findings(vehicle: Vehicle) -> tuple[Finding, ...]:
    """Say what stands in the way where parts do not go in straight."""
    if any(finding.severity is Severity.ERROR for finding in layout_findings(vehicle)):
        return ()  # what clashes is to be mended first
    plan = assembly_plan(vehicle)
    tight = tight_spacers(vehicle)
    notes = (
        (
            Finding(
                Severity.NOTE,
                "no-room-for-spacer",
                ("layout", *tight),
                say("workshop.there-is-no-room-for-spacers-on")
                + ", ".join(describe_shaft(vehicle, name) for name in tight),
                say("workshop.the-teeth-of-a-neighbouring-gear-pass-too"),
                figure=len(tight),
                limit=0,
                unit="shafts",
            ),
        )
        if tight
        else ()
    )
    if not plan.stuck:
        return notes
    loose = usual_loose(plan.pieces)
    there = {units(plan.pieces)[key] for key in plan.stuck}
    first = sorted(there)[-1]
    hit = sorted(loose.in_way(first, BACK, there))
    names = {piece.key: piece.words for piece in plan.pieces}
    return (
        *notes,
        Finding(
            Severity.WARNING,
            "no-way-in",
            ("layout", first),
            say("workshop.the-cannot-be-slid-in-from-either-end", names=names[first]),
            say(
                "workshop.from-the-output-end-the-way-the-input-end-is",
                listed=", ".join(names[h] for h in hit[:3]),
                blocks=say_count("noun.blocks", len(hit)),
            ),
            figure=len(plan.stuck),
            limit=0,
            unit="parts",
        ),
    )


def state_of(vehicle: Vehicle, key: str) -> State | None:
    """Say how far a part is; None where it is not begun."""
    return next((s.state for s in vehicle.assembly.states if s.key == key), None)


def mark_states(vehicle: Vehicle, keys: Iterable[str], state: State | None) -> Edit:
    """Note how far parts are."""
    wanted = dict.fromkeys(keys)
    kept = [s for s in vehicle.assembly.states if s.key not in wanted]
    if state is not None:
        kept += [PartState(key=key, state=state) for key in wanted]
    return Edit.one(
        say("workshop.mark-as", state=state or say("workshop.not-begun")),
        ("assembly", "states"),
        kept,
    )


def tick_step(vehicle: Vehicle, step: Build, done: bool) -> Edit:
    """Tick a step off: its parts are fitted then, else made."""
    if step.pieces:
        edit = mark_states(vehicle, step.pieces, "fitted" if done else "made")
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
    """Tell whether a step is done: all its parts are fitted."""
    if not step.pieces:
        return step.key in vehicle.assembly.ticks
    return all(state_of(vehicle, key) == "fitted" for key in step.pieces)


def mark_joint(vehicle: Vehicle, key: str, kind: JointKind | None, note: str = "") -> Edit:
    """Note by what a part or a coupling holds; None takes the usual again."""
    kept = [j for j in vehicle.assembly.joints if j.key != key]
    if kind is not None:
        kept.append(Joint(key=key, kind=kind, note=note))
    return Edit(say("workshop.joint-of", key=key), (Change(("assembly", "joints"), kept),))
