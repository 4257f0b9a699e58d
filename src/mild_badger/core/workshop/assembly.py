"""The order in which a box goes together, found by taking it apart in thought.

Part after part is drawn straight out along the shafts as long as nothing stands in its way; the
box goes together the other way about, a lever drive and a function box beside it after it. What no
straight way leads out for is a finding.
"""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property, lru_cache

from mild_badger.core.components.component import Component
from mild_badger.core.components.describe import describe_part
from mild_badger.core.components.vehicle_parts import BESIDE, vehicle_boxes
from mild_badger.core.errors import InputError
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.layout.findings import layout_findings
from mild_badger.core.message import say, say_count
from mild_badger.core.structure.names import describe_shaft, shaft_letter
from mild_badger.core.structure.spacers import tight_spacers
from mild_badger.core.vehicle.assembly import (
    Assembly,
    Joint,
    JointKind,
)
from mild_badger.core.vehicle.cache_key import CacheKey, parts_key
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import capitalized, listed, word
from mild_badger.core.workshop.joints import joint_of
from mild_badger.core.workshop.mistakes import mistakes_for
from mild_badger.core.workshop.order import Outgoing, order_out
from mild_badger.core.workshop.step_words import (
    counted,
    part_kind,
    part_name,
    step_sentences,
    step_title,
)
from mild_badger.core.workshop.units import LooseUnits, units, usual_loose
from mild_badger.core.workshop.ways_out import BACK, FRONT, SIDE

__all__ = [
    "MOST_KINDS",
    "AssemblyPlan",
    "Build",
    "assembly_findings",
    "assembly_plan",
    "mark_joint",
]

FROM = {
    BACK: say("workshop.from-the-output-end"),
    FRONT: say("workshop.from-the-input-end"),
    SIDE: say("workshop.from-the-side"),
}
LAST_STEPS = (("last: hand", say("workshop.turn-the-input-by-hand-in-every-position")),)
MOST_KINDS, MOST_SHAFTS, BESIDE_MM = 3, 3, 12.0
"""Of parts in one step, of shafts with their parts, and how far apart such units begin."""
Parts = tuple[Component, ...]


@dataclass(frozen=True)
class Build:
    """One step: what comes now, by which way, what to do and what is often done wrong.

    ``keys`` are those of its parts; none for the last steps, which lie outside the box. ``box`` is
    what it belongs to beside the main box, "" for that one. What goes together by itself first has
    the key of its shaft for a ``subassembly``; ``brings`` are the keys of all that comes with such
    a shaft, in the step in which it is stood in.
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
    subassembly: str = ""
    brings: tuple[str, ...] = ()

    @property
    def coming(self) -> tuple[str, ...]:
        """Name the parts that move in this step."""
        return self.keys or self.brings


@dataclass(frozen=True)
class AssemblyPlan:
    """All steps in order, every part, and what cannot go in straight; ``trouble`` why none is.

    ``titles`` say what each box beside the main one is called.
    """

    steps: tuple[Build, ...]
    parts: Parts
    stuck: tuple[str, ...]
    trouble: str = ""
    titles: Mapping[str, str] = field(default_factory=dict)

    def part(self, key: str) -> Component:
        """Find a part."""
        return self._by_key[key]

    @cached_property
    def _by_key(self) -> dict[str, Component]:
        return {part.key: part for part in self.parts}

    def there_before(self, number: int) -> frozenset[str]:
        """Name the parts that are there before a step: of its sub-assembly, or in the box."""
        subassembly = next((step.subassembly for step in self.steps if step.number == number), "")
        earlier = (step for step in self.steps if step.number < number)
        if subassembly:
            return frozenset(
                k for step in earlier if step.subassembly == subassembly for k in step.keys
            )
        return frozenset(k for step in earlier if not step.subassembly for k in step.coming)

    def box(self, name: str) -> Parts:
        """List the parts of one box; always the same tuple, by which their ways are kept."""
        return self._boxes.get(name, ())

    @cached_property
    def _boxes(self) -> dict[str, Parts]:
        found: dict[str, list[Component]] = {}
        for part in self.parts:
            found.setdefault(part.box, []).append(part)
        return {name: tuple(parts) for name, parts in found.items()}


def assembly_plan(vehicle: Vehicle) -> AssemblyPlan:
    """Find the steps of a vehicle's boxes that have their place; empty where none has."""
    return _plan(parts_key(vehicle.model_copy(update={"assembly": Assembly()}), "equipment"))


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
        out, left = order_out(loose)
        steps += _steps(vehicle, loose, out[::-1], sorted(left), len(steps))
        stuck += (p.key for unit in sorted(left) for p in loose.members[unit])
    for key, words in LAST_STEPS if boxes else ():
        steps.append(
            Build(len(steps) + 1, key, (), BACK, words, words, mistakes_for(vehicle, key), ())
        )
    parts = tuple(part for own in boxes for part in own)
    titles = {part.box: str(word(BESIDE[part.box])) for part in parts if part.box}
    return AssemblyPlan(tuple(steps), parts, tuple(stuck), titles=titles)


def _steps(
    vehicle: Vehicle, loose: LooseUnits, order: list[Outgoing], stuck: list[str], before: int
) -> Iterator[Build]:
    """Put units of one kind that begin side by side into one step, and shafts with their parts."""
    number = before
    for together in _grouped(vehicle, loose, order):
        units = [unit for out in together for unit in out.units]
        rows = list(_few_kinds(vehicle, loose, units))
        whole = len(together[0].units) > 1
        if not whole or len(rows) == 1:
            for row in rows:
                number += 1
                yield _step(vehicle, number, _parts(loose, row), together[0].way, whole=whole)
            continue
        for row in rows:
            number += 1
            yield _step(vehicle, number, _parts(loose, row), BACK, subassembly=units[0])
        number += 1
        yield _stood_in(vehicle, number, _parts(loose, units), together[0].way)
    if stuck:
        parts = _parts(loose, stuck)
        yield Build(
            number + 1,
            f"{parts[0].box}/stuck" if parts[0].box else "stuck",
            tuple(part.key for part in parts),
            BACK,
            _in_box(parts[0].box, say("workshop.these-hold-one-another")),
            say("workshop.no-straight-way-leads-in-for-them-one-by-one"),
            (),
            (),
            parts[0].box,
        )


def _parts(loose: LooseUnits, units: Iterable[str]) -> list[Component]:
    return [part for unit in units for part in loose.members[unit]]


def _grouped(
    vehicle: Vehicle, loose: LooseUnits, order: list[Outgoing]
) -> Iterator[list[Outgoing]]:
    """Put what comes in alike, one after another, together; whole shafts as long as few kinds."""
    together: list[Outgoing] = []
    for out in order:
        if together:
            last, whole = together[-1], len(out.units) > 1
            same = last.way == out.way and (len(last.units) > 1) == whole
            if whole:
                units = [unit for one in (*together, out) for unit in one.units]
                fits = _kinds(vehicle, loose, units) <= MOST_KINDS and len(together) < MOST_SHAFTS
                beside = fits and abs(_start(loose, last) - _start(loose, out)) < BESIDE_MM
            else:
                beside = _together(loose, last.units[0], out.units[0])
            if not (same and beside):
                yield together
                together = []
        together.append(out)
    if together:
        yield together


def _start(loose: LooseUnits, out: Outgoing) -> float:
    return loose.members[out.units[0]][0].from_mm


def _kinds(vehicle: Vehicle, loose: LooseUnits, units: Iterable[str]) -> int:
    return len({part_name(vehicle, part) for part in _parts(loose, units)})


def _step(
    vehicle: Vehicle,
    number: int,
    parts: Sequence[Component],
    way: int,
    *,
    whole: bool = False,
    subassembly: str = "",
) -> Build:
    """Tell of one step; ``whole`` shafts with their parts go together in it before they come."""
    words = step_sentences(vehicle, parts, subassembly=whole or bool(subassembly))
    title = step_title(vehicle, parts)
    if whole:
        words = say("workshop.sub-assembly-then-in", words=words)
        title = _with_what_is_on(vehicle, parts)
    if subassembly:
        title = say("workshop.sub-assembly", title=title)
    kinds = dict.fromkeys(map(part_kind, parts))
    return Build(
        number=number,
        key=parts[0].key,
        keys=tuple(part.key for part in parts),
        way=way,
        title=_in_box(parts[0].box, title),
        words=words if way == BACK else say("workshop.it-goes-in", words=words, from_=FROM[way]),
        mistakes=tuple(dict.fromkeys(m for kind in kinds for m in mistakes_for(vehicle, kind))),
        counts=tuple(f"{count} × {name}" for name, count in counted(vehicle, parts).items()),
        box=parts[0].box,
        subassembly=subassembly,
    )


def _stood_in(vehicle: Vehicle, number: int, parts: Sequence[Component], way: int) -> Build:
    """Tell how a shaft that went together before comes in."""
    title = _with_what_is_on(vehicle, parts)
    fork = next((part for part in parts if part.kind == "fork"), None)
    words = (
        say(
            "workshop.stand-it-in-forks-over-their-rails",
            shaft=title,
            joint=word(joint_of(vehicle, fork)),
        )
        if fork is not None
        else say("workshop.stand-it-in-with-what-is-on-it", shaft=title)
    )
    return Build(
        number=number,
        key=f"{parts[0].key}/stood in",
        keys=(),
        way=way,
        title=_in_box(parts[0].box, title),
        words=words if way == BACK else say("workshop.it-goes-in", words=words, from_=FROM[way]),
        mistakes=(),
        counts=(),
        box=parts[0].box,
        brings=tuple(part.key for part in parts),
    )


def _with_what_is_on(vehicle: Vehicle, parts: Sequence[Component]) -> str:
    names = [describe_shaft(vehicle, part.shaft) for part in parts if part.kind == "shaft"]
    shafts = capitalized(listed(names))
    if len(names) == 1:
        return say("workshop.with-what-is-on-it", shaft=shafts)
    return say("workshop.each-with-what-is-on-it", shafts=shafts)


def _few_kinds(vehicle: Vehicle, loose: LooseUnits, together: list[str]) -> Iterator[list[str]]:
    """Cut a row of units into steps of few kinds of parts; on a shaft they stay in their order."""
    left = together
    while left:
        taken: list[str] = []
        kinds: set[str] = set()
        passed: set[str] = set()
        for unit in left:
            own = {part_name(vehicle, part) for part in loose.members[unit]}
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
    return same and abs(first.from_mm - second.from_mm) < BESIDE_MM


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


def mark_joint(vehicle: Vehicle, key: str, kind: JointKind | None, note: str = "") -> Edit:
    """Note by what a part or a coupling holds; None takes the usual again."""
    kept = [j for j in vehicle.assembly.joints if j.key != key]
    if kind is not None:
        kept.append(Joint(key=key, kind=kind, note=note))
    return Edit(say("workshop.joint-of", key=key), (Change(("assembly", "joints"), kept),))
