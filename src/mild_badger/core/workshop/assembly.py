"""The order in which a box goes together, found by taking it apart in thought.

Part after part is drawn straight out along the shafts as long as nothing stands in its way; the
box goes together the other way about. What no straight way leads out for is a finding.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from functools import lru_cache

from mild_badger.core.changes import Change, Edit
from mild_badger.core.drivetrain.assemble import box_output
from mild_badger.core.findings import Finding, Severity
from mild_badger.core.layout.faults import layout_faults
from mild_badger.core.layout.names import shaft_words
from mild_badger.core.vehicle.assembly import (
    Assembly,
    Joint,
    JointKind,
    PartState,
    State,
)
from mild_badger.core.vehicle.box import LeverBox, RangeBox
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.mistakes import mistakes_for
from mild_badger.core.workshop.pieces import Piece, pieces_of, tight_spacers
from mild_badger.core.workshop.ways_out import BACK, FRONT, Obstacles, obstacles

__all__ = [
    "AssemblyPlan",
    "Build",
    "Removal",
    "assembly_faults",
    "assembly_plan",
    "couplings_of",
    "joint_of",
    "mark_joint",
    "mark_states",
    "state_of",
    "step_done",
    "take_apart",
    "tick_step",
]

FROM = {BACK: "from the output end", FRONT: "from the input end"}
OUT = {BACK: "towards the output end", FRONT: "towards the input end"}
UNDO: dict[JointKind, str] = {
    "screwed": "undo its screws", "pinned": "drive its pin out", "keyed": "pull it off its key",
    "pressed": "press it off", "glued": "break its glue", "slides": "",
}  # fmt: skip
LAST_STEPS = (
    ("last: coupling", "Join the box's output to the shaft that goes on to the axle."),
    ("last: crown", "Set the crown wheel on its side of the pinion, and the differential in it."),
    ("last: hand", "Turn the input by hand in every position, both ways: nothing may bind."),
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


@dataclass(frozen=True)
class Removal:
    """What has to come out to reach a part, in order; ``held`` names parts that hold one another.

    ``joints`` says for each of the ``order`` what is undone first, "" where it just slides off.
    """

    target: str
    way: int
    order: tuple[str, ...]
    joints: tuple[str, ...]
    held: tuple[str, ...]
    words: str


def joint_of(vehicle: Vehicle, piece: Piece) -> JointKind:
    """Say by what a part holds: as the builder marked it, else as such parts usually do."""
    marked = next((j.kind for j in vehicle.assembly.joints if j.key == piece.key), None)
    return marked or _usual(vehicle, piece)


def _usual(vehicle: Vehicle, piece: Piece) -> JointKind:
    fixed: JointKind = "glued" if vehicle.making.fixed_fit == "glued" else "pressed"
    match piece.kind:
        case "wall":
            return "screwed" if vehicle.kit.any_seat else "pinned"
        case "gear":
            return fixed if vehicle.kit.any_seat else "keyed"
        case "fork":
            return fixed if vehicle.kit.any_seat else "keyed"
        case "bearing":
            return "pressed"
        case "tie":
            return "screwed"
        case _:
            return "slides"


def couplings_of(vehicle: Vehicle) -> dict[str, str]:
    """Name the drive couplings at the box's ends, by the shaft whose moving takes them apart."""
    return {
        "input.1": "coupling to the motor",
        box_output(vehicle): "coupling to the axle's shaft",
    }


def _units(pieces: tuple[Piece, ...]) -> dict[str, str]:
    """Say which unit each part goes in with: a fork lies in its sleeve, a bearing in its wall."""
    sleeves = {piece.body: piece.key for piece in pieces if piece.kind == "sleeve"}
    walls = {piece.key for piece in pieces if piece.kind == "wall"}
    found = {}
    for piece in pieces:
        unit = piece.key
        if piece.kind == "fork":
            unit = sleeves.get(piece.body, unit)
        elif piece.kind == "bearing":
            wall = piece.key.partition(": bearing in ")[2]
            unit = wall if wall in walls else unit
        found[piece.key] = unit
    return found


@dataclass(frozen=True)
class _Loose:
    """Parts as units; ``bars`` names the units in a unit's way, and those that it carries."""

    members: dict[str, tuple[Piece, ...]]
    bars: dict[tuple[str, int], frozenset[str]]

    def free(self, unit: str, way: int, there: set[str]) -> bool:
        """Whether a unit can be drawn out one way with these units there."""
        return self.bars[unit, way].isdisjoint(there)

    def in_way(self, unit: str, way: int, there: set[str]) -> set[str]:
        """Name what has to go first of the units that are there."""
        return set(self.bars[unit, way] & there)


@lru_cache(maxsize=4)
def _usual_loose(pieces: tuple[Piece, ...]) -> _Loose:
    """Keep the parts each by itself; only what was marked as glued asks for more."""
    return _loose(pieces, _units(pieces))


def _loose(pieces: tuple[Piece, ...], unit_of: dict[str, str]) -> _Loose:
    members: dict[str, list[Piece]] = {}
    for piece in pieces:
        members.setdefault(unit_of[piece.key], []).append(piece)
    barred: Obstacles = obstacles(pieces)
    bars: dict[tuple[str, int], set[str]] = {
        (unit, way): {
            unit_of[key] for piece in found for key in barred.barred[piece.key, way]
        } - {unit}
        for unit, found in members.items() for way in (BACK, FRONT)
    }  # fmt: skip
    axles = {p.shaft: unit_of[p.key] for p in pieces if p.kind in ("shaft", "rail")}
    ties = {unit_of[piece.key] for piece in pieces if piece.kind == "tie"}
    for piece in pieces:
        unit, carrier = unit_of[piece.key], axles.get(piece.shaft)
        for way in (BACK, FRONT):
            if carrier is not None and carrier != unit and piece.kind != "bearing":
                bars[carrier, way].add(unit)
            if piece.kind == "wall":  # tie rods hold the walls together
                bars[unit, way] |= ties
    return _Loose(
        {unit: tuple(found) for unit, found in members.items()},
        {key: frozenset(found) for key, found in bars.items()},
    )


def assembly_plan(vehicle: Vehicle) -> AssemblyPlan:
    """Find the steps of a box that has its place in space; empty where it has none."""
    return _plan(vehicle.model_copy(update={"assembly": Assembly()}))


@lru_cache(maxsize=4)
def _order(pieces: tuple[Piece, ...]) -> tuple[tuple[tuple[str, int], ...], frozenset[str]]:
    """Draw unit after unit out; give them with their ways, and what no way is left for."""
    loose = _usual_loose(pieces)
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
        unit = max(free, key=lambda u: _rank(loose.members[u]))
        there.remove(unit)
        out.append((unit, way))
    return tuple(out), frozenset(there)


@lru_cache(maxsize=4)
def _plan(vehicle: Vehicle) -> AssemblyPlan:
    pieces = pieces_of(vehicle)
    if not pieces:
        return AssemblyPlan((), (), ())
    loose = _usual_loose(pieces)
    out, there = _order(pieces)
    steps = list(_steps(vehicle, loose, list(reversed(out)), sorted(there)))
    for key, words in LAST_STEPS:
        steps.append(
            Build(len(steps) + 1, key, (), BACK, words, words, mistakes_for(vehicle, key), ())
        )  # fmt: skip
    stuck = tuple(p.key for unit in sorted(there) for p in loose.members[unit])
    return AssemblyPlan(tuple(steps), pieces, stuck)


def _rank(unit: tuple[Piece, ...]) -> tuple[float, float, str]:
    """Say which unit comes off first: tie rods, then what begins nearest to the output end."""
    first = unit[0]
    start = min(piece.from_mm for piece in unit if piece.kind != "fork")
    return (1.0 if first.kind == "tie" else 0.0, round(start, 2), first.key)


def _steps(
    vehicle: Vehicle, loose: _Loose, order: list[tuple[str, int]], stuck: list[str]
) -> Iterable[Build]:
    """Put units of one kind that begin side by side into one step."""
    groups: list[tuple[list[str], int]] = []
    for unit, way in order:
        last = groups[-1] if groups else None
        if last and last[1] == way and _together(loose, last[0][-1], unit):
            last[0].append(unit)
        else:
            groups.append(([unit], way))
    for number, (units, way) in enumerate(groups, start=1):
        pieces = [piece for unit in units for piece in loose.members[unit]]
        words = _all_words(vehicle, pieces)
        kinds = dict.fromkeys(piece.kind for piece in pieces)
        yield Build(
            number=number,
            key=units[0],
            pieces=tuple(piece.key for piece in pieces),
            way=way,
            title=_title(vehicle, pieces),
            words=words if way == BACK else f"{words} It goes in {FROM[way]}.",
            mistakes=tuple(
                dict.fromkeys(m for kind in kinds for m in mistakes_for(vehicle, kind))
            ),
            parts=tuple(f"{count} × {name}" for name, count in _counted(pieces).items()),
        )  # fmt: skip
    if stuck:
        keys = tuple(piece.key for unit in stuck for piece in loose.members[unit])
        yield Build(
            len(groups) + 1, "stuck", keys, BACK, "These hold one another",
            "No straight way leads in for them one by one; see the findings.", (), (),
        )  # fmt: skip


def _together(loose: _Loose, one: str, other: str) -> bool:
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
    found: dict[str, int] = {}
    for piece in pieces:
        name = _part_name(piece)
        found[name] = found.get(name, 0) + 1
    return found


def _part_name(piece: Piece) -> str:
    match piece.kind:
        case "gear" | "free gear":
            return f"{piece.teeth}-tooth gear" + (", free" if piece.kind == "free gear" else "")
        case "shaft" | "rail":
            return f"{piece.kind} of {piece.length_mm:.4g} mm"
        case "spacer":
            return f"spacer of {piece.length_mm:.4g} mm"
        case "tie":
            return f"tie rod of {piece.length_mm:.4g} mm"
        case "bearing":
            return piece.words.partition(" for ")[0]
        case _:
            return piece.kind


MANY = {
    "shaft": "shafts", "rail": "fork rails", "gear": "fixed gears", "free gear": "free gears",
    "spacer": "spacers", "tie": "tie rods", "post": "posts",
}  # fmt: skip


def _title(vehicle: Vehicle, pieces: list[Piece]) -> str:
    first = pieces[0]
    if first.kind == "wall":
        return first.words.capitalize()
    if first.kind == "sleeve":
        return "Sleeves with their forks" if len(pieces) > 2 else "Sleeve with its fork"
    kinds: dict[str, list[Piece]] = {}
    for piece in pieces:
        kinds.setdefault(piece.kind, []).append(piece)
    said = []
    for kind, found in kinds.items():
        where = list(dict.fromkeys(shaft_words(vehicle, piece.shaft) for piece in found))
        if len(found) == 1 and found[0].shaft:
            said.append(f"{_part_name(found[0]) if found[0].teeth else kind} on {where[0]}"
                        if kind != "shaft" else f"shaft {where[0]}")  # fmt: skip
        else:
            said.append(f"{len(found)} {MANY[kind]}")
    words = ", ".join(said)
    return words[:1].upper() + words[1:]


def _all_words(vehicle: Vehicle, pieces: list[Piece]) -> str:
    """Say what to do with the parts of a step, like ones in one sentence."""
    said: dict[str, list[str]] = {}
    for piece in pieces:
        sentence, where = _words(vehicle, piece)
        said.setdefault(sentence, []).append(where)
    return " ".join(
        sentence.format(", ".join(dict.fromkeys(filter(None, where))))
        for sentence, where in said.items()
    )


def _words(vehicle: Vehicle, piece: Piece) -> tuple[str, str]:
    """Give a sentence with a gap for where, and what goes into the gap."""
    joint, on = joint_of(vehicle, piece), shaft_words(vehicle, piece.shaft)
    match piece.kind:
        case "wall":
            over = " over the shafts" if piece.from_mm else ", its input side down"
            return f"{'Put' if piece.from_mm else 'Lay'} the {piece.words}{over}.", ""
        case "shaft":
            return f"Stand in {{}}: {piece.length_mm:.4g} mm long.", on
        case "rail":
            return "Stand in {}: rails must slide with two fingers.", on
        case "gear":
            how = {
                "glued": "fix with glue", "pressed": "press on", "pinned": "pin",
                "keyed": "turns with its shaft", "screwed": "screw fast",
                "slides": "slides on its shaft and turns with it",
            }[joint]  # fmt: skip
            return f"{piece.teeth}-tooth gear on {{}}: {how}.", on
        case "free gear":
            free = "runs free, no glue; spin it with a finger"
            return f"{piece.teeth}-tooth gear on {{}}: {free}.", on
        case "sleeve":
            return f"Sleeve on {on}: {_faces(vehicle, piece)}.", ""
        case "fork":
            return f"Each fork into its sleeve's groove and on its rail ({joint}).", ""
        case "bearing":
            return f"Press {piece.words} in first.", ""
        case "tie":
            return "{} through all walls, nuts by hand.", piece.words
        case "spacer":
            return f"Spacer of {piece.length_mm:.4g} mm on {{}}.", on
        case _:
            return "Post for {}.", on


def _faces(vehicle: Vehicle, piece: Piece) -> str:
    """Say which gear each face of a sleeve looks at."""
    box = vehicle.box
    if isinstance(box, RangeBox | LeverBox):
        return "both faces with their dogs outwards"
    column = int(piece.body.rpartition(".")[2]) if "." in piece.body else 0
    faces = {slot.face: slot.gear for slot in box.slots if slot.column == column}
    said = [
        f"its {face} face towards gear {vehicle.gear_name(gear)}"
        for face, gear in sorted(faces.items(), reverse=True)
    ]
    return ", ".join(said) or "both faces with their dogs outwards"


def assembly_faults(vehicle: Vehicle) -> tuple[Finding, ...]:
    """Say what stands in the way where parts do not go in straight."""
    if any(finding.severity is Severity.ERROR for finding in layout_faults(vehicle)):
        return ()  # what clashes is to be mended first
    plan = assembly_plan(vehicle)
    tight = tight_spacers(vehicle)
    notes = (
        Finding(
            Severity.NOTE, "no-room-for-spacer", ("layout", *tight),
            f"No spacer goes in on {', '.join(shaft_words(vehicle, name) for name in tight)}",
            "A neighbour's teeth pass too near to the shaft. The gears there must hold on it by "
            "themselves.",
            figure=len(tight), limit=0, unit="shafts",
        ),
    ) if tight else ()  # fmt: skip
    if not plan.stuck:
        return notes
    loose = _usual_loose(plan.pieces)
    there = {_units(plan.pieces)[key] for key in plan.stuck}
    first = sorted(there)[-1]
    hit = sorted(loose.in_way(first, BACK, there))
    names = {piece.key: piece.words for piece in plan.pieces}
    return (
        *notes,
        Finding(
            Severity.WARNING, "no-way-in", ("layout", first),
            f"The {names[first]} has no straight way in",
            f"From the output end {', '.join(names[h] for h in hit[:3])} "
            f"stand{'s' * (len(hit) == 1)} in its way, and from the input end it is barred too. "
            "Put a wall between, or make it in two halves.",
            figure=len(plan.stuck), limit=0, unit="parts",
        ),
    )  # fmt: skip


def state_of(vehicle: Vehicle, key: str) -> State | None:
    """Say how far a part is; None where it is not begun."""
    return next((s.state for s in vehicle.assembly.states if s.key == key), None)


def mark_states(vehicle: Vehicle, keys: Iterable[str], state: State | None) -> Edit:
    """Note how far parts are."""
    wanted = dict.fromkeys(keys)
    kept = [s for s in vehicle.assembly.states if s.key not in wanted]
    if state is not None:
        kept += [PartState(key=key, state=state) for key in wanted]
    return Edit.one(f"Mark as {state or 'not begun'}", ("assembly", "states"), kept)


def tick_step(vehicle: Vehicle, step: Build, done: bool) -> Edit:
    """Tick a step off: its parts are fitted then, else made."""
    if step.pieces:
        edit = mark_states(vehicle, step.pieces, "fitted" if done else "made")
        return Edit(f"{'Tick off' if done else 'Take back'} step {step.number}", edit.changes)
    ticks = [t for t in vehicle.assembly.ticks if t != step.key] + [step.key] * done
    return Edit.one(f"Tick step {step.number}", ("assembly", "ticks"), ticks)


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
    return Edit(f"Joint of {key}", (Change(("assembly", "joints"), kept),))


def take_apart(vehicle: Vehicle, target: str) -> Removal:
    """Find what has to come out to reach a part, in which order, by the way that takes less.

    What is glued on a shaft comes out with it.

    Raises
    ------
    KeyError
        There is no such part.
    """
    pieces = pieces_of(vehicle)
    by_key = {piece.key: piece for piece in pieces}
    unit_of = _units(pieces)
    for piece in pieces:
        if piece.kind in ("gear", "fork") and joint_of(vehicle, piece) == "glued":
            old, new = unit_of[piece.key], unit_of[piece.shaft]
            unit_of = {key: new if unit == old else unit for key, unit in unit_of.items()}
    loose = _loose(pieces, unit_of)
    wanted = unit_of[by_key[target].key]
    found = [_removed(loose, wanted, way) for way in (BACK, FRONT)]
    way = BACK if (bool(found[0][1]), len(found[0][0])) <= (bool(found[1][1]), len(found[1][0])) \
        else FRONT  # fmt: skip
    units, held = found[0] if way == BACK else found[1]
    order, joints = [], []
    couplings = couplings_of(vehicle)
    for unit in units:
        members = loose.members[unit]
        undo = [UNDO[joint_of(vehicle, p)] for p in members[:1]]
        for piece in members:
            if piece.kind == "shaft" and piece.shaft in couplings:
                undo.append(_coupling(vehicle, piece.shaft, couplings[piece.shaft]))
        order.append(members[0].key)
        joints.append(", ".join(filter(None, dict.fromkeys(undo))))
    holding = tuple(p.key for unit in sorted(held) for p in loose.members[unit])
    return Removal(
        target, way, tuple(order), tuple(joints), holding,
        _removal_words(by_key, len(order), way, holding),
    )  # fmt: skip


def _coupling(vehicle: Vehicle, shaft: str, words: str) -> str:
    joint = next((j for j in vehicle.assembly.joints if j.key == f"coupling: {shaft}"), None)
    if joint is None:
        return f"part the {words}"
    note = f" ({joint.note})" if joint.note else ""
    return f"part the {words}, {joint.kind}{note}"


def _removed(loose: _Loose, wanted: str, way: int) -> tuple[list[str], set[str]]:
    """Give the units to take out one way, in order, and those that hold one another."""
    everything = set(loose.members)
    need, queue = {wanted}, [wanted]
    while queue:
        for unit in loose.in_way(queue.pop(), way, everything):
            if unit not in need:
                need.add(unit)
                queue.append(unit)
    order: list[str] = []
    there = set(everything)
    left = set(need)
    while left:
        free = [unit for unit in left if loose.free(unit, way, there)]
        if not free:
            break
        first = max(free, key=lambda u: (way * _rank(loose.members[u])[1], u))
        if wanted in free and len(left) == 1:
            first = wanted
        order.append(first)
        there.remove(first)
        left.remove(first)
    return order, left


def _removal_words(by_key: dict[str, Piece], count: int, way: int, held: tuple[str, ...]) -> str:
    words = ""
    if count:
        before = count - 1
        words = (
            "It comes out first" if not before
            else f"{before} part{'s' * (before > 1)} come{'s' * (before == 1)} out before it"
        ) + f", {OUT[way]}."  # fmt: skip
    if held:
        names = ", ".join(by_key[key].words for key in held[:6])
        more = f" and {len(held) - 6} more" if len(held) > 6 else ""
        words = (
            f"{words} These hold one another and come out neither way: {names}{more}. Mark a glued "
            "gear among them as pinned or keyed, and it can be drawn off."
        ).strip()
    return words
