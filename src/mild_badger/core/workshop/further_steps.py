"""The whole order of building: the boxes, then motor and clutch, drive line, mechanisms.

What stands beside the boxes has no walls that ask for an order; it goes together from where the
power comes, a few kinds of parts at a time.
"""

from collections.abc import Iterable, Iterator
from dataclasses import replace
from functools import lru_cache

from mild_badger.core.components.chassis_parts import chassis_parts
from mild_badger.core.components.component import Component
from mild_badger.core.components.drive_line import LINE, drive_line_parts
from mild_badger.core.components.equipment import equipment_parts, motor_parts
from mild_badger.core.components.mechanism_parts import mechanism_groups
from mild_badger.core.errors import InputError
from mild_badger.core.message import say
from mild_badger.core.vehicle.assembly import Assembly
from mild_badger.core.vehicle.cache_key import CacheKey, parts_key
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import word
from mild_badger.core.workshop.assembly import MOST_KINDS, AssemblyPlan, Build, assembly_plan
from mild_badger.core.workshop.mistakes import mistakes_for
from mild_badger.core.workshop.step_words import (
    counted,
    part_kind,
    part_name,
    step_sentences,
    step_title,
)
from mild_badger.core.workshop.ways_out import BACK, FRONT, SIDE

__all__ = ["BODIES", "CHASSIS", "MOTORS", "vehicle_steps"]

MOTORS = "motor and clutch"
CHASSIS, BODIES = "frame and steering", "what is carried"
MOST_PARTS = 6
"""In one step of what has no walls."""
ON_AXLES = (
    ("pinion",),
    ("crown", "differential"),
    ("half shaft",),
    ("joint yoke", "joint cross"),
    ("wheel",),
)
"""What of an axle comes after what."""
ON_FRAME = (
    ("frame rail", "floor"),
    ("kingpin", "steering arm", "steering rod"),
    ("steering pinion", "rack"),
    ("steering column", "joint cross", "steering wheel"),
)
"""What of frame and steering comes after what."""
Parts = tuple[Component, ...]


def vehicle_steps(vehicle: Vehicle) -> AssemblyPlan:
    """Give all steps of a vehicle: those of its boxes first; empty where no box has a place."""
    return _steps(parts_key(vehicle.model_copy(update={"assembly": Assembly()})))


@lru_cache(maxsize=4)
def _steps(this: CacheKey) -> AssemblyPlan:
    vehicle = this.vehicle
    plan = assembly_plan(vehicle)
    if not plan.steps:
        return plan
    steps, parts, titles = list(plan.steps), list(plan.parts), dict(plan.titles)
    try:
        groups = list(_groups(vehicle))
    except InputError:  # a gear that cannot be made is told where it is chosen
        groups = []
    for name, title, rows in groups:
        own = [tuple(replace(part, box=name) for part in row) for row in rows]
        titles[name] = title
        for row in own:
            parts += row
            for some in _few(vehicle, row):
                steps.append(_step(vehicle, len(steps) + 1, title, some))
    return replace(plan, steps=tuple(steps), parts=tuple(parts), titles=titles)


def _groups(vehicle: Vehicle) -> Iterator[tuple[str, str, list[Parts]]]:
    """List what stands beside the boxes: its key, what it is called, its parts in rows."""
    if motors := motor_parts(vehicle):
        yield MOTORS, str(word(MOTORS)), [motors]
    line = drive_line_parts(vehicle)
    yield LINE, str(word(LINE)), list(_line_rows(line))
    wheels = [part for part in line if part.kind == "wheel"]
    if chassis := chassis_parts(vehicle, wheels):
        rows = [tuple(part for part in chassis if part.kind in kinds) for kinds in ON_FRAME]
        yield CHASSIS, str(word(CHASSIS)), [row for row in rows if row]
    for group in mechanism_groups(vehicle):
        yield group.id, group.name, [group.parts]
    if bodies := equipment_parts(vehicle):
        yield BODIES, str(word(BODIES)), [bodies]


def _line_rows(parts: Parts) -> Iterator[Parts]:
    """Part the drive line: up to the pinion, then axle by axle, kind by kind."""
    before = [p for p in parts if p.kind in ("coupling", "shaft", "gear")]
    first = {part.shaft: number for number, part in reversed(list(enumerate(before)))}
    # shaft after shaft, and no gear before its own
    yield tuple(sorted(before, key=lambda p: (first[p.shaft], p.kind == "gear")))
    axles: dict[str, list[Component]] = {}
    for part in parts:
        if part not in before:
            axle, slash, _ = part.id.partition("/")
            axles.setdefault(axle if slash else "", []).append(part)
    for own in axles.values():
        for kinds in ON_AXLES:
            if row := tuple(part for part in own if part.kind in kinds):
                yield row


def _few(vehicle: Vehicle, parts: Parts) -> Iterator[Parts]:
    """Cut a row into steps of few parts and kinds, all of which come by one way."""
    taken: list[Component] = []
    for part in parts:
        kinds = {part_name(vehicle, one) for one in (*taken, part)}
        many = len(kinds) > MOST_KINDS or len(taken) >= MOST_PARTS
        if taken and (many or taken[0].across != part.across):
            yield tuple(taken)
            taken = []
        taken.append(part)
    if taken:
        yield tuple(taken)


def _step(vehicle: Vehicle, number: int, title: str, parts: Parts) -> Build:
    kinds: Iterable[str] = dict.fromkeys(map(part_kind, parts))
    box = parts[0].box
    way = SIDE if parts[0].across else FRONT if box == MOTORS else BACK
    return Build(
        number=number,
        key=parts[0].key,
        keys=tuple(part.key for part in parts),
        way=way,
        title=say("workshop.in-a-box-beside", box=title, title=step_title(vehicle, parts)),
        words=step_sentences(vehicle, parts),
        mistakes=tuple(dict.fromkeys(m for kind in kinds for m in mistakes_for(vehicle, kind))),
        counts=tuple(f"{count} × {name}" for name, count in counted(vehicle, parts).items()),
        box=box,
    )
