"""Gate levers and catches as parts: lever, cradle and stand, and each rail's arm with its jaw.

A gate's lever turns on a cross pin in a cradle, and the cradle on a pin of its own in the stand,
which stands on a wall. Where the pivot is below the bars the lever passes round their ends. A catch
slides and tilts on a rail between two stands. Sizes that the vehicle does not give are estimates,
no source.
"""

from collections.abc import Iterator, Sequence
from dataclasses import replace
from itertools import pairwise
from math import asin, cos, sin

from mild_badger.core.components.component import Component, ComponentId, Outline, Point, Prism
from mild_badger.core.components.solids import circle, round_hole, round_pin, strip_outline
from mild_badger.core.kit.part_sizes import RUN_MM, arm_mm
from mild_badger.core.structure.lever_place import (
    BEHIND_MM,
    BODY_MM,
    EYE_MM,
    FLOOR_MM,
    PLAY_MM,
    ROOM_MM,
    LeverPlace,
    ShiftArm,
    lean_rad,
)
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.sleeves import rail_of

__all__ = ["LEVER_KINDS", "cradle_body", "cradle_cheek", "posed", "shift_lever_parts", "with_gear"]

LEVER_KINDS = frozenset({"gate lever", "cradle", "catch"})
"""What leans and slides as the driver moves it."""
FEW, ROUND = 4, 24
"""Corners of a strip's ends and of small circles."""
THICK_MM, STICK_MM, CHEEK_MM = 2.5, 2.5, 3.0
"""How thick a lever is, half its width, and the cradle's cheeks."""
NECK_SHARE = 0.25
"""Half the width of a finger above its tip, as a share of the tip's radius."""
PIN_MM, TRUNNION_MM, KNOB_MM = 1.5, 2.0, 5.0
COLUMN_MM, CROSS_MM = 4.0, 6.0
"""Half the width of a stand's column, and how far it reaches round the cradle's pin."""
PLATE_MM = 4.0
"""How thick the stands of a catch are."""


def shift_lever_parts(vehicle: Vehicle, places: Sequence[LeverPlace]) -> Iterator[Component]:
    """Make the parts of all levers or catches, each standing in neutral."""
    for place in places:
        for arm in place.arms:
            yield _arm(vehicle, place, arm)
        if place.way == "gate":
            yield _lever(vehicle, place)
            yield _cradle(place)
            yield _stand(place)
        else:
            yield _catch(vehicle, place)
            yield _catch_rail(vehicle, place)
            yield from _catch_stands(vehicle, place)


def posed(place: LeverPlace, part: Component, x_mm: float, travel_mm: float) -> Component:
    """Put a lever's or catch's part where it stands with its tip at ``x_mm`` and a travel."""
    tilt, lean = lean_rad(place, x_mm, travel_mm)
    if part.kind == "catch":
        return replace(part, x_mm=x_mm, turn_rad=-tilt if place.hangs else tilt)
    if part.kind == "cradle":
        return replace(part, turn_rad=lean)
    return replace(part, turn_rad=-tilt if place.hangs else tilt, lean_rad=lean)


def with_gear(
    vehicle: Vehicle, places: Sequence[LeverPlace], parts: tuple[Component, ...], gear: str
) -> tuple[Component, ...]:
    """Put levers and catches where a gear has them; what a rail of no such gear moves stays."""
    poses: dict[str, tuple[LeverPlace, float, float]] = {}
    for sleeve, face in vehicle.box.engaged(gear).items():
        place = next((place for place in places if place.rail == rail_of(sleeve)), None)
        arms = place.arms if place is not None else ()
        arm = next((arm for arm in arms if arm.fork.column == sleeve), None)
        if place is not None and arm is not None:
            sign = -1 if face == "front" else 1
            poses[place.rail] = place, arm.x_mm, sign * vehicle.lever.fork_travel_mm
    return tuple(
        posed(poses[part.lever][0], part, *poses[part.lever][1:])
        if part.kind in LEVER_KINDS and part.lever in poses
        else part
        for part in parts
    )


def _arm(vehicle: Vehicle, place: LeverPlace, arm: ShiftArm) -> Component:
    """Make arm, bar and jaw of one piece."""
    rail = arm.fork.rail
    half, eye = place.strip_mm / 2, arm_mm(vehicle) / 2
    hole = round_hole(vehicle.kit.shaft_diameter_mm / 2 + RUN_MM, (rail.x_mm, rail.y_mm))
    strips = [strip_outline(a, b, half, corners=FEW) for a, b in pairwise(arm.line)]
    left, right = arm.x_mm - place.bar_mm / 2, arm.x_mm + place.bar_mm / 2

    def bar(low: float, high: float, start: float, end: float) -> Prism:
        return Prism((((left, low), (right, low), (right, high), (left, high)),), start, end)

    floor, jaw, open_mm = arm.floor_mm + FLOOR_MM, place.jaw_mm, place.tip_mm + PLAY_MM
    start = min(jaw - place.jaw_end_mm, arm.arm_mm[0])
    end = max(jaw + place.jaw_end_mm, arm.arm_mm[1])
    return Component(
        ComponentId(f"shift arm of {arm.fork.column}"),
        "shift arm",
        (
            Prism((circle(eye, (rail.x_mm, rail.y_mm), ROUND), *strips), *arm.arm_mm, (hole,)),
            bar(arm.floor_mm, floor, start, end),
            bar(floor, arm.high_mm, jaw - place.jaw_end_mm, jaw - open_mm),
            bar(floor, arm.high_mm, jaw + open_mm, jaw + place.jaw_end_mm),
        ),
        0.0,
        0.0,
        0.0,
        member=arm.fork.column,
        shaft=rail.name,
    )


def _across(
    name: str, kind: str, place: LeverPlace, solid: tuple[Prism, ...], x_mm: float
) -> Component:
    """Make a part whose flat shape is seen from the side: to the right is towards the input."""
    return Component(
        ComponentId(f"{name} of {place.rail}"),
        kind,  # type: ignore[arg-type]
        solid,
        x_mm,
        place.y_mm,
        place.jaw_mm,
        lever=place.rail,
        across=True,
    )


def _lever(vehicle: Vehicle, place: LeverPlace) -> Component:
    """Make a gate's lever: straight down to its tip, or round the bars' ends and down to it."""
    above, hole = vehicle.lever.arm_above_mm, round_hole(PIN_MM + RUN_MM)
    tip = (0.0, -place.reach_mm if place.hangs else place.reach_mm)
    neck = NECK_SHARE * place.tip_mm
    if place.hangs:
        knob = (0.0, above)
        lines = [((0.0, 0.0), tip, neck), ((0.0, 0.0), knob, STICK_MM)]
    else:
        aside, over = -place.towards * _round_mm(vehicle, place), _over_mm(vehicle, place)
        knob = (0.0, max(above, over + 2 * KNOB_MM))
        lines = [
            (tip, (0.0, over), neck),
            ((0.0, over), (aside, over), STICK_MM),
            ((aside, over), (aside, 0.0), STICK_MM),
            ((aside, 0.0), (0.0, 0.0), STICK_MM),
            ((0.0, over), knob, STICK_MM),
        ]
    outlines = [strip_outline(a, b, half, corners=FEW) for a, b, half in lines]
    outlines += [
        circle(place.tip_mm, tip, ROUND),
        circle(EYE_MM, corners=ROUND),
        circle(KNOB_MM, knob, ROUND),
    ]
    half = _thick_mm(place) / 2
    return _across(
        "gate lever",
        "gate lever",
        place,
        (Prism(tuple(outlines), -half, half, (hole,)),),
        place.x_mm,
    )


def _thick_mm(place: LeverPlace) -> float:
    return min(THICK_MM, place.bar_mm / 2)


def _over_mm(vehicle: Vehicle, place: LeverPlace) -> float:
    """How far over the pivot a lever passes over the jaws, so that it clears them as it leans."""
    travel = vehicle.lever.fork_travel_mm
    lean = asin(travel / place.reach_mm)
    highest = 0.0
    for arm in place.arms:
        upright = place.reach_mm * cos(lean)
        aside = asin((arm.x_mm - place.x_mm) / upright)
        highest = max(highest, (arm.high_mm - place.y_mm) / cos(aside))
    return (highest + ROOM_MM + STICK_MM + place.jaw_end_mm * sin(lean)) / cos(lean)


def _round_mm(vehicle: Vehicle, place: LeverPlace) -> float:
    """How far beyond the jaws' middle a lever passes, so that it clears them as it leans back."""
    lean = asin(vehicle.lever.fork_travel_mm / place.reach_mm)
    back = vehicle.lever.fork_travel_mm * _over_mm(vehicle, place) / place.reach_mm
    return (place.jaw_end_mm + back + STICK_MM + ROOM_MM) / cos(lean)


def _cradle(place: LeverPlace) -> Component:
    """Make body, cheeks and both pins of one piece: the lever's own, and the one in the stand."""
    inside = _thick_mm(place) / 2 + PLAY_MM
    wide = inside + CHEEK_MM
    out = BEHIND_MM  # from the pivot to the body, and the body's thickness behind it
    cheek = _box(inside, wide, EYE_MM), _box(-wide, -inside, EYE_MM)
    wall = place.wall_mm[1] - place.wall_mm[0]

    def span(near: float, far: float) -> tuple[float, float]:
        ends = -place.towards * near, -place.towards * far
        return min(ends), max(ends)

    end = wide - CHEEK_MM / 4  # the pin does not come through
    pins = tuple(
        replace(slice_, outlines=(tuple((x - end, y) for x, y in slice_.outlines[0]),))
        for slice_ in round_pin((2 * end, 0.0), PIN_MM, 0.0)
    )
    return Component(
        ComponentId(f"cradle of {place.rail}"),
        "cradle",
        (
            Prism((_box(-wide, wide, EYE_MM),), *span(out, out + BODY_MM)),
            Prism(cheek, *span(-EYE_MM, out)),
            Prism((circle(TRUNNION_MM),), *span(out + BODY_MM, out + BODY_MM + PLAY_MM + wall)),
            *pins,
        ),
        place.x_mm,
        place.y_mm,
        place.jaw_mm,
        lever=place.rail,
    )


def cradle_body(cradle: Component) -> Prism:
    """Give a cradle's body as it is cut, with the hole for its pin in the stand."""
    return replace(cradle.solid[0], holes=(round_hole(TRUNNION_MM),))


def cradle_cheek(cradle: Component) -> Prism:
    """Give a cradle's cheek as it is cut, seen from its side, with the hole for the cross pin."""
    cheek = cradle.solid[1]
    xs = [x for x, _ in cheek.outlines[0]]
    long, pin = cheek.to_mm - cheek.from_mm, (-cheek.from_mm, 0.0)
    outline: Outline = ((0.0, -EYE_MM), (long, -EYE_MM), (long, EYE_MM), (0.0, EYE_MM))
    return Prism((outline,), 0.0, max(xs) - min(xs), (round_hole(PIN_MM, pin),))


def _box(left: float, right: float, half: float) -> Outline:
    return ((left, -half), (right, -half), (right, half), (left, half))


def _stand(place: LeverPlace) -> Component:
    """Make the stand: a column under the pivot, or a frame over the bars from which it hangs."""
    foot = place.wall_top_mm - place.y_mm
    hole = round_hole(TRUNNION_MM + RUN_MM)
    if place.hangs:
        inside = place.half_width_mm + ROOM_MM
        outside = inside + 2 * COLUMN_MM
        outline: Outline = (
            (-outside, foot),
            (-inside, foot),
            (-inside, -CROSS_MM),
            (inside, -CROSS_MM),
            (inside, foot),
            (outside, foot),
            (outside, CROSS_MM),
            (-outside, CROSS_MM),
        )
    else:
        wide = 2 * COLUMN_MM
        outline = (
            (-wide, foot),
            (wide, foot),
            (wide, 0.0),
            (CROSS_MM, EYE_MM),
            (-CROSS_MM, EYE_MM),
            (-wide, 0.0),
        )
    return Component(
        ComponentId(f"lever stand of {place.rail}"),
        "lever stand",
        (Prism((outline,), 0.0, place.wall_mm[1] - place.wall_mm[0], (hole,)),),
        place.x_mm,
        place.y_mm,
        place.wall_mm[0],
        wall=place.wall,
        lever=place.rail,
    )


def _catch(vehicle: Vehicle, place: LeverPlace) -> Component:
    """Make the catch, over the first of its jaws: a finger, an eye on its rail, a handle."""
    radius = vehicle.kit.shaft_diameter_mm / 2
    tip, knob = (0.0, -place.reach_mm), (0.0, vehicle.lever.arm_above_mm)
    neck = NECK_SHARE * place.tip_mm
    outlines = (
        strip_outline((0.0, 0.0), tip, neck, corners=FEW),
        strip_outline((0.0, 0.0), knob, STICK_MM, corners=FEW),
        circle(place.tip_mm, tip, ROUND),
        circle(radius + EYE_MM, corners=ROUND),
        circle(KNOB_MM, knob, ROUND),
    )
    half = _thick_mm(place) / 2
    solid = (Prism(outlines, -half, half, (round_hole(radius + RUN_MM),)),)
    return _across("catch", "catch", place, solid, place.arms[0].x_mm)


def _stand_at_mm(place: LeverPlace) -> float:
    """How far from the pivot's middle the stands of a catch begin."""
    return place.half_width_mm + THICK_MM + ROOM_MM


def _catch_rail(vehicle: Vehicle, place: LeverPlace) -> Component:
    far = _stand_at_mm(place) + PLATE_MM
    rod = (Prism((circle(vehicle.kit.shaft_diameter_mm / 2),), -far, far),)
    return _across("catch rail", "catch rail", place, rod, place.x_mm)


def _catch_stands(vehicle: Vehicle, place: LeverPlace) -> Iterator[Component]:
    """Make the two plates across the wall that hold a catch's rail."""
    radius, thick = vehicle.kit.shaft_diameter_mm / 2, place.wall_mm[1] - place.wall_mm[0]
    half, foot = thick / 2, place.wall_top_mm - place.y_mm
    wide = max(half, radius + EYE_MM)
    head: Point = (0.0, 0.0)
    post: Outline = ((-half, foot), (half, foot), (half, 0.0), (-half, 0.0))
    hole = round_hole(radius + RUN_MM)
    near = _stand_at_mm(place)
    for side, start in (("left", -near - PLATE_MM), ("right", near)):
        solid = (Prism((post, circle(wide, head)), start, start + PLATE_MM, (hole,)),)
        yield replace(
            _across(f"{side} lever stand", "lever stand", place, solid, place.x_mm),
            wall=place.wall,
        )
