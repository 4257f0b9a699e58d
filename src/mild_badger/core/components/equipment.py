"""Motor, clutch, battery, switch and controller in space: where they stand, if they find room.

A motor stands before the input's stub, in line with it, several side by side, a clutch between.
What has no place of its own stands beside the box where it is clear: to the right, to the left,
above, below, behind.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import get_args

import numpy as np

from mild_badger.core.components.component import (
    Component,
    ComponentId,
    ComponentKind,
    Outline,
    Prism,
)
from mild_badger.core.components.describe import describe_component
from mild_badger.core.components.drive_line import drive_line_parts
from mild_badger.core.components.lever_parts import lever_plan
from mild_badger.core.components.mechanism_parts import MechanismGroup, mechanism_groups
from mild_badger.core.components.solids import circle, round_hole, solid_of
from mild_badger.core.components.vehicle_parts import vehicle_boxes, vehicle_components
from mild_badger.core.errors import InputError
from mild_badger.core.figures import in_mm
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.ids import EquipmentId
from mild_badger.core.kit.part_sizes import RUN_MM
from mild_badger.core.mechanisms.clutch.model import Clutch, lining_mm
from mild_badger.core.message import say
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.structure.shaft_lengths import shaft_cuts
from mild_badger.core.vehicle.bodies import CLUTCH, MOTOR, input_shaft
from mild_badger.core.vehicle.cache_key import CacheKey, parts_key
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.equipment import (
    Equipment,
    EquipmentKind,
    EquipmentPlace,
    EquipmentShape,
)
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import word

__all__ = [
    "WholeVehicle",
    "add_equipment",
    "equipment_findings",
    "equipment_parts",
    "line_findings",
    "line_touching",
    "motor_parts",
    "parse_shape",
    "place_equipment",
    "whole_vehicle",
]

ROOM_MM = 2.0
"""Room kept about a body."""
STEP_MM = 4.0
FARTHEST = 60
"""So many steps outwards are tried for a body without a place."""
COUPLING_MM = 1.0
"""Between a motor and the end of the input's stub."""
USUAL: dict[EquipmentKind, tuple[float, float, float]] = {
    "battery": (55.0, 30.0, 70.0),
    "switch": (14.0, 12.0, 22.0),
    "controller": (35.0, 14.0, 45.0),
    "other": (20.0, 20.0, 20.0),
}
"""Sizes that a new body begins with (an estimate, no source)."""
PLATE_MM, CAGE_MM = 3.0, 2.0
"""How thick a clutch's plates are, and how far the motor's reach out to their cage (estimates)."""
MESHING = ({"pinion", "crown"},)
"""Kinds that mesh and are drawn as plain discs."""
LEAST_MM3 = 0.5
"""Parts that share less than this only touch."""
Block = tuple[float, float, float, float, float, float]
"""Left, low, from; right, high, to."""


@dataclass(frozen=True)
class WholeVehicle:
    """All parts, what touches, and the names of what was given no place and found none."""

    components: tuple[Component, ...]
    touching: tuple[tuple[str, str, float], ...]
    homeless: tuple[str, ...]


def add_equipment(vehicle: Vehicle, kind: EquipmentKind) -> Edit:
    """Add a body of a kind, in its usual size, without a place of its own."""
    taken = {item.name for item in vehicle.equipment}
    name, number = str(word(kind)), 1
    while name in taken:
        number += 1
        name = f"{word(kind)} {number}"
    wide, high, long = USUAL[kind]
    made = Equipment(
        id=EquipmentId(vehicle.new_id(kind, (item.id for item in vehicle.equipment))),
        name=name,
        kind=kind,
        wide_mm=wide,
        high_mm=high,
        long_mm=long,
    )
    return Edit.one(
        say("components.add-body", name=name), ("equipment",), (*vehicle.equipment, made)
    )


def place_equipment(vehicle: Vehicle, row: int, place: EquipmentPlace | None) -> Edit:
    """Put a body at a place, or let the program look for one."""
    item = vehicle.equipment[row]
    words = say("components.place-body", name=item.name)
    return Edit.one(words, ("equipment", row, "place"), place)


def parse_shape(text: str) -> EquipmentShape:
    """Read a shape as it is called.

    Raises
    ------
    InputError
        There is no such shape.
    """
    shapes = {str(word(shape)): shape for shape in get_args(EquipmentShape)}
    shape: EquipmentShape | None = shapes.get(" ".join(text.split()).casefold())
    if shape is None:
        raise InputError(say("components.a-shape-is-one-of", listed=", ".join(shapes)))
    return shape


def whole_vehicle(vehicle: Vehicle, gear: str | None = None) -> WholeVehicle:
    """List the parts of the boxes, the drive line, motors and all bodies.

    A lever drive's fulcrum stands as a gear has it.

    Raises
    ------
    InputError
        A gear cannot be made.
    """
    return _whole(parts_key(vehicle), gear if vehicle.box.lever is not None else None)


@lru_cache(maxsize=4)
def _whole(key: CacheKey, gear: str | None) -> WholeVehicle:
    vehicle = key.vehicle
    line = drive_line_parts(vehicle)
    boxes = _clear_of_line(vehicle_boxes(vehicle, gear), line)
    motors = motor_parts(vehicle)
    parts: list[Component] = [*boxes, *line, *motors]
    blocks = [(part.key, _block(part)) for part in parts]
    homeless: list[str] = []
    bodies: list[Component] = []
    free = [item for item in vehicle.equipment if item.place is None]
    held = (item for item in vehicle.equipment if item.place is not None)
    items: tuple[Equipment | MechanismGroup, ...] = (*held, *mechanism_groups(vehicle), *free)
    for item in items:
        if isinstance(item, MechanismGroup):
            moved = _group_placed(item, blocks, len(boxes))
            parts += moved
            blocks += ((part.key, _block(part)) for part in moved)
            if not moved:
                homeless.append(item.name)
            continue
        body = _body(item)
        if item.place is None:
            found = _find_room(body, blocks, len(boxes))
            if found is None:
                homeless.append(item.name)
                continue
            body = found
        blocks.append((body.key, _block(body)))
        bodies.append(body)
    touching = [
        *_touching(bodies, parts),
        *(pair for n, body in enumerate(bodies) for pair in _touching([body], bodies[:n])),
        *_touching(motors, [*boxes, *line]),
    ]
    return WholeVehicle((*parts, *bodies), tuple(touching), tuple(homeless))


def equipment_parts(vehicle: Vehicle) -> tuple[Component, ...]:
    """List the bodies that the builder added, where they stand; those without room are left out.

    Raises
    ------
    InputError
        A gear cannot be made.
    """
    if not vehicle.equipment:
        return ()
    own = {f"equipment {item.id}" for item in vehicle.equipment}
    return tuple(part for part in whole_vehicle(vehicle).components if part.key in own)


def _clear_of_line(
    boxes: Sequence[tuple[Component, ...]], line: Sequence[Component]
) -> tuple[Component, ...]:
    """Stand boxes beside the main one where they are clear of the way to the wheels.

    One that is so where it stands stays there, as does one for which no room is found.
    """
    parts: list[Component] = []
    blocks = [(part.key, _block(part)) for part in line]
    for own in boxes:
        moved = own
        if own[0].box and any(_touching(own, line)):
            around = [(part.key, _block(part)) for part in parts]
            group = MechanismGroup(own[0].box, own[0].box, own)
            moved = _group_placed(group, [*around, *blocks], len(around)) or own
        parts += moved
    return tuple(parts)


def _group_placed(
    group: MechanismGroup, blocks: Sequence[tuple[str, Block]], boxes: int
) -> tuple[Component, ...]:
    """Stand a mechanism where there is room for the block round it; nothing where there is none."""
    edges = np.array([_block(part) for part in group.parts])
    low, high = edges[:, :3].min(axis=0), edges[:, 3:].max(axis=0)
    (x, y, z), (w, h, d) = (low + high) / 2, (high - low) / 2
    outline: Outline = ((-w, -h), (w, -h), (w, h), (-w, h))
    whole = Component(ComponentId(group.id), "other", (Prism((outline,), -d, d),), x, y, z)
    found = _find_room(whole, blocks, boxes)
    if found is None:
        return ()
    by = (found.x_mm - x, found.y_mm - y, found.along_mm - z)
    return tuple(
        replace(
            part, x_mm=part.x_mm + by[0], y_mm=part.y_mm + by[1], along_mm=part.along_mm + by[2]
        )
        for part in group.parts
    )


def line_touching(vehicle: Vehicle) -> tuple[tuple[str, str, float], ...]:
    """Find what of the way to the wheels goes into a box or into another part of it, how deep.

    Raises
    ------
    InputError
        A gear cannot be made.
    """
    line = drive_line_parts(vehicle)
    return (
        *_touching(line, _clear_of_line(vehicle_boxes(vehicle), line)),
        *(pair for n, part in enumerate(line) for pair in _touching([part], line[n + 1 :])),
    )


def _touching(
    ones: Sequence[Component], others: Sequence[Component]
) -> Iterator[tuple[str, str, float]]:
    """Find which parts go into which others, by their solids, and how deep their blocks do."""
    if not ones or not others:
        return
    blocks = np.array([_block(other) for other in others])
    for one in ones:
        own = np.array(_block(one))
        deep = (np.minimum(own[3:], blocks[:, 3:]) - np.maximum(own[:3], blocks[:, :3])).min(axis=1)
        for number in np.flatnonzero(deep > 0).tolist():
            other = others[number]
            if {one.kind, other.kind} not in MESHING:
                both = solid_of(one) ^ solid_of(other)
                if both.volume() > LEAST_MM3:
                    yield one.key, other.key, float(deep[number])


def motor_parts(vehicle: Vehicle) -> tuple[Component, ...]:
    """List the motors before the input's stub, and the clutch's plates between."""
    return *_motors(vehicle), *_clutch(vehicle)


def _motors(vehicle: Vehicle) -> Iterator[Component]:
    """Stand the motors before the input's stub, side by side where there are several."""
    motor = vehicle.motor
    if motor.diameter_mm is None or motor.length_mm is None:
        return
    x, y, along = _input_end(vehicle)
    start = along - COUPLING_MM - clutch_mm(vehicle) - motor.length_mm
    solid = (Prism((circle(motor.diameter_mm / 2),), 0.0, motor.length_mm),)
    for number in range(motor.count):
        name = "motor" if not number else f"motor {number + 1}"
        aside = x + number * (motor.diameter_mm + ROOM_MM)
        yield Component(ComponentId(name), "motor", solid, aside, y, start)


def clutch_mm(vehicle: Vehicle) -> float:
    """Give how long the clutch is, engaged and its linings new; 0 for none."""
    if vehicle.clutch is None:
        return 0.0
    return sum(thick for _, _, thick in _discs(vehicle.clutch))


def _discs(clutch: Clutch) -> Iterator[tuple[ComponentKind, int, float]]:
    """List plates and linings from the motor on: kind, number of its like, thickness."""
    for number in range(clutch.faces + 1):
        yield "clutch plate", number, PLATE_MM
        if number < clutch.faces:
            yield "lining", number, lining_mm(clutch)


def _clutch(vehicle: Vehicle) -> Iterator[Component]:
    """Stand the clutch's plates before the input's stub; every other one turns with the motor."""
    clutch = vehicle.clutch
    if clutch is None:
        return
    x, y, along = _input_end(vehicle)
    start = along - COUPLING_MM - clutch_mm(vehicle)
    outer, inner = sorted((clutch.outer_mm, clutch.inner_mm), reverse=True)
    carried = round_hole(vehicle.kit.shaft_diameter_mm / 2 + RUN_MM)
    for kind, number, thick in _discs(clutch):
        driving = kind == "clutch plate" and number % 2 == 0
        radius = outer / 2 + (CAGE_MM if driving else 0.0)
        hole = round_hole(inner / 2) if driving or kind == "lining" else carried
        yield Component(
            ComponentId(f"{kind} {number + 1} of the clutch"),
            kind,
            (Prism((circle(radius),), 0.0, thick, (hole,)),),
            x,
            y,
            start,
            bodies=(MOTOR if driving else CLUTCH,),
        )
        start += thick


def _input_end(vehicle: Vehicle) -> tuple[float, float, float]:
    plan = lever_plan(vehicle) if vehicle.box.lever is not None else None
    if plan is not None:
        name = input_shaft() if input_shaft() in plan.spans else next(iter(plan.spans))
        return (*plan.centres[name], plan.spans[name][0])
    stack = stack_for(vehicle)
    if stack is None or input_shaft() not in stack.rods:
        return 0.0, 0.0, 0.0
    rod = stack.rods[input_shaft()]
    cut = next(cut for cut in shaft_cuts(vehicle, stack) if cut.name == input_shaft())
    return rod.x_mm, rod.y_mm, cut.start_mm


def _body(item: Equipment) -> Component:
    """Shape a body, where it stands or about the origin."""
    at = item.place or EquipmentPlace(x_mm=0.0, y_mm=0.0, along_mm=0.0)
    identity = ComponentId(f"equipment {item.id}")
    across = item.shape == "cylinder across"
    if item.shape == "box":
        w, h = item.wide_mm / 2, item.high_mm / 2
        outline: Outline = ((-w, -h), (w, -h), (w, h), (-w, h))
        half = item.long_mm / 2
    elif across:
        outline, half = circle(item.high_mm / 2), item.wide_mm / 2
    else:
        outline, half = circle(item.wide_mm / 2), item.long_mm / 2
    solid = (Prism((outline,), -half, half),)
    return Component(identity, item.kind, solid, at.x_mm, at.y_mm, at.along_mm, across=across)


def _block(part: Component) -> Block:
    left, low, right, high = part.reach_mm
    return left, low, part.from_mm, right, high, part.to_mm


def _overlap(one: Block, other: Block) -> float:
    """Give how deep two blocks go into one another, 0 where they are apart."""
    depths = (min(one[n + 3], other[n + 3]) - max(one[n], other[n]) for n in range(3))
    return max(min(depths), 0.0)


def _find_room(
    body: Component, blocks: Sequence[tuple[str, Block]], boxes: int
) -> Component | None:
    """Look for a place beside the boxes, the first blocks, where a body is clear of everything."""
    around = [block for _, block in blocks[: boxes or None]]
    if not around:
        return body
    low = [min(block[n] for block in around) for n in range(3)]
    high = [max(block[n + 3] for block in around) for n in range(3)]
    own = _block(body)
    half = [(own[n + 3] - own[n]) / 2 for n in range(3)]
    middle = [(a + b) / 2 for a, b in zip(low, high, strict=True)]
    sides = ((0, 1), (0, -1), (1, 1), (1, -1), (2, 1))
    for step in range(FARTHEST):
        for axis, sign in sides:
            at = list(middle)
            edge = high[axis] if sign > 0 else low[axis]
            at[axis] = edge + sign * (half[axis] + ROOM_MM + step * STEP_MM)
            room = [h + ROOM_MM for h in half]
            near = (
                *(a - r for a, r in zip(at, room, strict=True)),
                *(a + r for a, r in zip(at, room, strict=True)),
            )
            if all(_overlap(near, block) <= 0 for _, block in blocks):  # type: ignore[arg-type]
                return replace(body, x_mm=at[0], y_mm=at[1], along_mm=at[2])
    return None


def _called(vehicle: Vehicle, whole: WholeVehicle, identity: str) -> str:
    part = next(part for part in whole.components if part.key == identity)
    return describe_component(vehicle, part)


def line_findings(
    vehicle: Vehicle, touching: Sequence[tuple[str, str, float]]
) -> Iterator[Finding]:
    """Say what of the way to the wheels goes into what, see :func:`line_touching`."""
    parts = {p.key: p for p in (*vehicle_components(vehicle), *drive_line_parts(vehicle))}
    for one, other, deep in touching:
        yield Finding(
            Severity.WARNING,
            "body-touches",
            ("layout", one, other),
            say("components.body-stands-in", name=describe_component(vehicle, parts[one])),
            say(
                "components.line-goes-into-part-by",
                other=describe_component(vehicle, parts[other]),
                deep=in_mm(deep, 1),
            ),
            deep,
            0.0,
            "mm",
        )


def equipment_findings(vehicle: Vehicle) -> Iterator[Finding]:
    """Find bodies that stand in something, and those for which no room was found."""
    if not vehicle.equipment and vehicle.motor.diameter_mm is None:
        return
    try:
        whole = whole_vehicle(vehicle)
    except InputError as error:
        yield Finding(
            Severity.WARNING,
            "bodies-not-tried",
            ("layout",),
            say("components.room-for-the-bodies-is-not-known"),
            say("components.a-gear-of-the-box-cannot-be-made", reason=str(error)),
        )
        return
    names = {f"equipment {item.id}": item.name for item in vehicle.equipment}
    seen = set()
    for one, other, deep in sorted(whole.touching, key=lambda t: -t[2]):
        if one in seen:
            continue
        seen.add(one)
        yield Finding(
            Severity.WARNING,
            "body-touches",
            ("layout", one, other),
            say("components.body-stands-in", name=names.get(one) or _called(vehicle, whole, one)),
            say(
                "components.body-goes-into-part-by",
                other=names.get(other) or _called(vehicle, whole, other),
                deep=in_mm(deep, 1),
            ),
            deep,
            0.0,
            "mm",
        )
    for name in whole.homeless:
        yield Finding(
            Severity.WARNING,
            "body-without-room",
            ("layout", name),
            say("components.no-room-was-found-for", name=name),
            say("components.give-it-a-place-or-a-smaller-size"),
        )
