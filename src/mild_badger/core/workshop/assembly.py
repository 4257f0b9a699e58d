"""The order in which a box goes together, found by taking it apart in thought.

Part after part is drawn straight out along the shafts as long as nothing stands in its way; the
box goes together the other way about, a lever drive and a function box beside it after it. What no
straight way leads out for is a finding.
"""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from functools import lru_cache

from mild_badger.core.components.component import Component
from mild_badger.core.components.describe import describe_part, describe_spacer
from mild_badger.core.components.vehicle_parts import BESIDE, vehicle_boxes
from mild_badger.core.errors import InputError
from mild_badger.core.figures import in_mm
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.kit.part_sizes import bushes_for
from mild_badger.core.layout.findings import layout_findings
from mild_badger.core.message import say, say_count
from mild_badger.core.structure.names import describe_shaft, shaft_letter
from mild_badger.core.structure.spacers import tight_spacers
from mild_badger.core.vehicle.assembly import (
    Assembly,
    Joint,
    JointKind,
    PartState,
    State,
)
from mild_badger.core.vehicle.boxes import SlottedBox
from mild_badger.core.vehicle.cache_key import CacheKey, parts_key
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import capitalized, listed, word
from mild_badger.core.workshop.joints import joint_of
from mild_badger.core.workshop.mistakes import mistakes_for
from mild_badger.core.workshop.units import LooseUnits, outermost, units, usual_loose
from mild_badger.core.workshop.ways_out import BACK, FRONT, SIDE, way_of

__all__ = [
    "AssemblyPlan",
    "Build",
    "assembly_findings",
    "assembly_plan",
    "mark_joint",
    "mark_states",
    "part_kind",
    "part_tag",
    "state_of",
    "step_done",
    "tick_step",
]

FROM = {
    BACK: say("workshop.from-the-output-end"),
    FRONT: say("workshop.from-the-input-end"),
    SIDE: say("workshop.from-the-side"),
}
LAST_STEPS = (
    ("last: coupling", say("workshop.join-the-boxs-output-to-the-shaft-that-goes")),
    ("last: crown", say("workshop.set-the-crown-wheel-on-its-side-of-the")),
    ("last: hand", say("workshop.turn-the-input-by-hand-in-every-position")),
)
MOST_KINDS = 3
"""Of parts in one step."""
Parts = tuple[Component, ...]


@dataclass(frozen=True)
class Build:
    """One step: what comes now, by which way, what to do and what is often done wrong.

    ``keys`` are those of its parts; none for the last steps, which lie outside the box. ``box`` is
    what it belongs to beside the main box, "" for that one.
    """

    number: int
    key: str
    keys: tuple[str, ...]
    way: int
    title: str
    words: str
    mistakes: tuple[str, ...]
    counts: tuple[str, ...]
    box: str = ""


@dataclass(frozen=True)
class AssemblyPlan:
    """All steps in order, every part, and what cannot go in straight; ``trouble`` why none is."""

    steps: tuple[Build, ...]
    parts: Parts
    stuck: tuple[str, ...]
    trouble: str = ""

    def part(self, key: str) -> Component:
        """Find a part."""
        return next(part for part in self.parts if part.key == key)

    def there_before(self, number: int) -> frozenset[str]:
        """Name the parts that are there before a step."""
        return frozenset(k for step in self.steps if step.number < number for k in step.keys)

    def box(self, name: str) -> Parts:
        """List the parts of one box."""
        return tuple(part for part in self.parts if part.box == name)


def part_kind(part: Component) -> str:
    """Give a part's kind, gears that run free apart from those that are fixed."""
    return "free gear" if part.free else part.kind


def part_tag(vehicle: Vehicle, part: Component) -> str:
    """Give the short name that a part bears in a picture: its letter, and its teeth."""
    match part.kind:
        case "gear":
            return f"{shaft_letter(vehicle, part.shaft)} · {part.teeth}"
        case "shaft" | "sleeve" | "spacer" | "hub" | "post" | "sensor disc":
            return shaft_letter(vehicle, part.shaft)
        case "rail":
            return describe_shaft(vehicle, part.shaft)
        case "fork" | "bearing":
            return ""  # their sleeve and their wall are named
        case _:
            return describe_part(vehicle, part)


def assembly_plan(vehicle: Vehicle) -> AssemblyPlan:
    """Find the steps of a vehicle's boxes that have their place; empty where none has."""
    return _plan(parts_key(vehicle.model_copy(update={"assembly": Assembly()}), "equipment"))


def _order(loose: LooseUnits) -> tuple[list[tuple[str, int]], frozenset[str]]:
    """Draw unit after unit out; give them with their ways, and what no way is left for."""
    there = set(loose.members)
    before = {unit for unit, parts in loose.members.items() if _before_the_front(parts)}
    out: list[tuple[str, int]] = []
    while there:
        for way, among in ((FRONT, there & before), (BACK, there), (FRONT, there)):
            free = [unit for unit in among if loose.free(unit, way, there)]
            if free:
                break
        else:
            break
        unit = max(free, key=lambda u: outermost(loose.members[u]))
        there.remove(unit)
        out.append((unit, SIDE if way_of(loose.members[unit][0]) == SIDE else way))
    return out, frozenset(there)


def _before_the_front(parts: Parts) -> bool:
    """Whether parts stand wholly before the front wall, where they go on at the end."""
    return all(part.to_mm <= 0 for part in parts)


@lru_cache(maxsize=4)
def _plan(this: CacheKey) -> AssemblyPlan:
    vehicle = this.vehicle
    try:
        boxes = vehicle_boxes(vehicle)
    except InputError as error:
        return AssemblyPlan((), (), (), str(error))
    steps: list[Build] = []
    stuck: list[str] = []
    for parts in boxes:
        loose = usual_loose(parts)
        out, left = _order(loose)
        steps += _steps(vehicle, loose, list(reversed(out)), sorted(left), len(steps))
        stuck += (p.key for unit in sorted(left) for p in loose.members[unit])
    for key, words in LAST_STEPS if boxes else ():
        steps.append(
            Build(len(steps) + 1, key, (), BACK, words, words, mistakes_for(vehicle, key), ())
        )
    return AssemblyPlan(tuple(steps), tuple(p for own in boxes for p in own), tuple(stuck))


def _steps(
    vehicle: Vehicle, loose: LooseUnits, order: list[tuple[str, int]], stuck: list[str], before: int
) -> Iterator[Build]:
    """Put units of one kind that begin side by side into one step."""
    groups: list[tuple[list[str], int]] = []
    for unit, way in order:
        last = groups[-1] if groups else None
        if last and last[1] == way and _together(loose, last[0][-1], unit):
            last[0].append(unit)
        else:
            groups.append(([unit], way))
    few = [(some, way) for together, way in groups for some in _few_kinds(vehicle, loose, together)]
    for number, (together, way) in enumerate(few, start=before + 1):
        parts = [part for unit in together for part in loose.members[unit]]
        words = _describe_all(vehicle, parts)
        kinds = dict.fromkeys(map(part_kind, parts))
        yield Build(
            number=number,
            key=together[0],
            keys=tuple(part.key for part in parts),
            way=way,
            title=_in_box(parts[0].box, _title(vehicle, parts)),
            words=words
            if way == BACK
            else say("workshop.it-goes-in", words=words, from_=FROM[way]),
            mistakes=tuple(dict.fromkeys(m for kind in kinds for m in mistakes_for(vehicle, kind))),
            counts=tuple(f"{count} × {name}" for name, count in _counted(vehicle, parts).items()),
            box=parts[0].box,
        )
    if stuck:
        parts = [part for unit in stuck for part in loose.members[unit]]
        yield Build(
            before + len(few) + 1,
            f"{parts[0].box}/stuck" if parts[0].box else "stuck",
            tuple(part.key for part in parts),
            BACK,
            _in_box(parts[0].box, say("workshop.these-hold-one-another")),
            say("workshop.no-straight-way-leads-in-for-them-one-by-one"),
            (),
            (),
            parts[0].box,
        )


def _few_kinds(vehicle: Vehicle, loose: LooseUnits, together: list[str]) -> Iterator[list[str]]:
    """Cut a row of units into steps of few kinds of parts; on a shaft they stay in their order."""
    left = together
    while left:
        taken: list[str] = []
        kinds: set[str] = set()
        passed: set[str] = set()
        for unit in left:
            own = {_part_name(vehicle, part) for part in loose.members[unit]}
            shafts = {part.shaft for part in loose.members[unit] if part.shaft}
            fits = len(kinds | own) <= MOST_KINDS and passed.isdisjoint(shafts)
            if fits or not taken:
                taken.append(unit)
                kinds |= own
            else:
                passed |= shafts
        yield taken
        left = [unit for unit in left if unit not in taken]


def _in_box(box: str, title: str) -> str:
    return say("workshop.in-a-box-beside", box=word(BESIDE[box]), title=title) if box else title


def _together(loose: LooseUnits, one: str, other: str) -> bool:
    first, second = loose.members[one][0], loose.members[other][0]
    if first.kind in ("shaft", "rail") and second.kind == first.kind:
        return abs(first.from_mm - second.from_mm) < 0.5
    small = {first.kind, second.kind} <= {"gear", "spacer"}
    same = part_kind(first) == part_kind(second) or (small and first.shaft == second.shaft)
    if first.kind == "tie rod":
        return second.kind == "tie rod"
    if first.kind == "wall" or second.kind == "wall":
        return False
    return same and abs(first.from_mm - second.from_mm) < 12.0


def _counted(vehicle: Vehicle, parts: list[Component]) -> dict[str, int]:
    counts: dict[str, int] = {}
    for part in parts:
        if part.kind == "spacer" and not vehicle.kit.any_seat:
            for size, number in bushes_for(part.length_mm, vehicle.kit.grid_unit_mm):
                counts[BUSHES[size]] = counts.get(BUSHES[size], 0) + number
            continue
        name = _part_name(vehicle, part)
        counts[name] = counts.get(name, 0) + 1
    return counts


def _part_name(vehicle: Vehicle, part: Component) -> str:
    match part.kind:
        case "gear":
            if not part.free:
                return say("workshop.tooth-gear", teeth=part.teeth)
            return say("workshop.free-tooth-gear", teeth=part.teeth)
        case "shaft" | "rail":
            return say(
                "workshop.of",
                kind=word(part.kind),
                length_mm=in_mm(part.length_mm, significant=4),
            )
        case "spacer":
            return describe_spacer(vehicle, part)
        case "tie rod":
            return say("workshop.tie-rod-of", length_mm=in_mm(part.length_mm, significant=4))
        case "bearing":
            return say("workshop.bearing", name=part.name)
        case _:
            return word(part.kind)


BUSHES = {1: say("workshop.bush-of-half-a-unit"), 2: say("workshop.bush-of-a-unit")}
MANY = {
    "shaft": say("workshop.shafts"),
    "rail": say("workshop.fork-rails"),
    "gear": say("workshop.fixed-gears"),
    "free gear": say("workshop.free-gears"),
    "spacer": say("workshop.spacers"),
    "tie rod": say("workshop.tie-rods"),
    "post": say("workshop.posts"),
}


def _title(vehicle: Vehicle, parts: list[Component]) -> str:
    first = parts[0]
    if first.kind == "wall":
        return capitalized(describe_part(vehicle, first))
    if first.kind == "sleeve":
        return (
            say("workshop.sleeves-with-their-forks")
            if len(parts) > 2
            else say("workshop.sleeve-with-its-fork")
        )
    kinds: dict[str, list[Component]] = {}
    for part in parts:
        kinds.setdefault(part_kind(part), []).append(part)
    sentences = []
    for kind, own in kinds.items():
        shafts = dict.fromkeys(part.shaft for part in own if part.shaft)
        where = [describe_shaft(vehicle, shaft) for shaft in shafts]
        if len(own) == 1 and where:
            sentences.append(
                say(
                    "workshop.on",
                    part_name=_part_name(vehicle, own[0]) if own[0].teeth else word(kind),
                    where=where[0],
                )
                if kind != "shaft"
                else where[0]
            )
        elif len(own) == 1:
            sentences.append(word(kind))
        elif kind in MANY and kind in ("shaft", "rail"):
            sentences.append(listed(where))
        elif kind in MANY:
            found = {shaft_letter(vehicle, shaft) for shaft in shafts}
            letters = listed(sorted(found, key=lambda letter: (len(letter), letter)))
            many = f"{len(own)} {MANY[kind]}"
            sentences.append(
                say("workshop.many-on-shafts", many=many, letters=letters) if letters else many
            )
        else:
            sentences.append(_times(own))
    words = ", ".join(sentences)
    return capitalized(words)


def _times(parts: list[Component]) -> str:
    return f"{len(parts)} × {word(parts[0].kind)}"


def _describe_all(vehicle: Vehicle, parts: list[Component]) -> str:
    """Say what to do with the parts of a step, like ones in one sentence."""
    text: dict[str, list[str]] = {}
    for part in parts:
        sentence, where = _describe(vehicle, part)
        text.setdefault(sentence, []).append(where)
    return " ".join(
        sentence.format(", ".join(dict.fromkeys(filter(None, where))))
        for sentence, where in text.items()
    )


PLAIN = {
    "post": say("workshop.post-for"),
    "drum": say("workshop.drum-on"),
    "star": say("workshop.star-on"),
    "ratchet wheel": say("workshop.ratchet-wheel-on"),
    "pawl ring": say("workshop.pawl-ring-on"),
    "eccentric": say("workshop.eccentric-on"),
    "rod": say("workshop.rod-over-its-eccentric"),
    "yoke": say("workshop.yoke-over-its-eccentric"),
    "lever arm": say("workshop.lever-arm-beside-it"),
    "pin": say("workshop.pin-through"),
    "pawl": say("workshop.pawl-on-its-pin"),
    "fulcrum": say("workshop.fulcrum-through-the-slots"),
    "guide": say("workshop.guide-between-the-walls"),
    "follower": say("workshop.follower-on-its-rail"),
    "detent arm": say("workshop.detent-arm-beside-the-star"),
    "tie beam": say("workshop.tie-beam-along-the-walls"),
    "sensor disc": say("workshop.sensor-disc-on"),
    "shift arm": say("workshop.shift-arm-on-its-rail"),
    "lever stand": say("workshop.lever-stand-on-the-wall"),
    "cradle": say("workshop.cradle-into-the-stand"),
    "gate lever": say("workshop.lever-into-its-cradle"),
    "catch rail": say("workshop.catch-rail-through-its-stands"),
    "catch": say("workshop.catch-on-its-rail"),
}
"""What to do with parts of a kind, with a gap for the shaft where one carries them."""


def _describe(vehicle: Vehicle, part: Component) -> tuple[str, str]:
    """Give a sentence with a gap for where, and what goes into the gap."""
    joint = joint_of(vehicle, part)
    on = describe_shaft(vehicle, part.shaft) if part.shaft else ""
    match part_kind(part):
        case "wall":
            over = (
                say("workshop.over-the-shafts")
                if part.from_mm > 0
                else say("workshop.its-input-side-down")
            )
            return say(
                "workshop.the",
                word=say("workshop.put") if part.from_mm > 0 else say("workshop.lay"),
                words=describe_part(vehicle, part),
                over=over,
            ), ""
        case "shaft":
            return say("workshop.stand-in-long", length_mm=in_mm(part.length_mm, significant=4)), on
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
            return say("workshop.tooth-gear-on", teeth=part.teeth, how=how), on
        case "free gear":
            free = say("workshop.runs-free-no-glue-spin-it-with-a-finger")
            return say("workshop.tooth-gear-on-2", teeth=part.teeth, free=free), on
        case "hub":
            return say("workshop.hub-on-half-way", joint=word(joint)), on
        case "sleeve":
            return say("workshop.sleeve-on", on=on, faces=_faces(vehicle, part)), ""
        case "fork":
            return say("workshop.each-fork-into-its-sleeves-groove-and-on-its", joint=joint), ""
        case "bearing":
            return say("workshop.press-in-first", words=describe_part(vehicle, part)), ""
        case "tie rod":
            return say("workshop.through-all-walls-nuts-by-hand"), capitalized(word("tie rod"))
        case "spacer":
            return say("workshop.spacer-on", spacer=capitalized(describe_spacer(vehicle, part))), on
        case kind:
            return PLAIN.get(kind, say("workshop.in-its-place", part=word(kind))), on


def _faces(vehicle: Vehicle, part: Component) -> str:
    """Say which gear each face of a sleeve looks at."""
    box = SlottedBox.of(vehicle.box)
    if box is None or part.box:
        return say("workshop.both-faces-with-their-dogs-outwards")
    faces = {
        slot.face: slot.gear for slot in box.slots if box.sleeve_at(slot.column) == part.member
    }
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
                say(
                    "workshop.no-room-for-spacers-on",
                    shafts=say_count("count.tight-shaft", len(tight)),
                ),
                say(
                    "workshop.teeth-pass-too-near-to-shafts",
                    shafts=listed([shaft_letter(vehicle, name) or name for name in tight]),
                ),
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
    parts = plan.box(plan.part(plan.stuck[0]).box)
    loose = usual_loose(parts)
    there = {units(parts)[key] for key in plan.stuck if key in units(parts)}
    first = sorted(there)[-1]
    hit = sorted(loose.in_way(first, BACK, there))
    names = {part.key: describe_part(vehicle, part) for part in parts}
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
    """Tell whether a step is done: all its parts are fitted."""
    if not step.keys:
        return step.key in vehicle.assembly.ticks
    return all(state_of(vehicle, key) == "fitted" for key in step.keys)


def mark_joint(vehicle: Vehicle, key: str, kind: JointKind | None, note: str = "") -> Edit:
    """Note by what a part or a coupling holds; None takes the usual again."""
    kept = [j for j in vehicle.assembly.joints if j.key != key]
    if kind is not None:
        kept.append(Joint(key=key, kind=kind, note=note))
    return Edit(say("workshop.joint-of", key=key), (Change(("assembly", "joints"), kept),))
