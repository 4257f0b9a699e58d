"""A drum as parts: the drum with its cut tracks, its shaft, the detent's star and arm, followers.

The drum stands as it does in neutral; turned on, its tracks push the followers, each with its
rail, fork and sleeve. The star sits on the drum's shaft before the front wall, a notch for every
position; a sprung arm on the wall lies in the notch on top.
"""

from collections.abc import Iterator
from math import cos, degrees, floor, radians, sin

from mild_badger.core.components.component import (
    Component,
    ComponentId,
    Outline,
    Point,
    Prism,
)
from mild_badger.core.components.solids import circle, round_hole, round_pin, strip_outline
from mild_badger.core.kit.part_sizes import RUN_MM, arm_mm
from mild_badger.core.shift.drum import drum_layout
from mild_badger.core.structure.drum_place import (
    BAR_MM,
    DETENT_MM,
    EYE_MM,
    DrumPlace,
    FollowerPlace,
    PlacedDrum,
    follower_mm,
    groove_mm,
)
from mild_badger.core.structure.stack import Stack
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["drum_parts", "neutral_deg"]

SECTOR_DEG = 4.0
"""How wide the pieces are of which a track is cut."""
STAR_MM, NOTCH_MM = 5.0, 2.5
"""How thick the star is, how deep its notches (estimates, no source)."""


def neutral_deg(vehicle: Vehicle) -> float:
    """Give the drum's angle in neutral; of its first position where it has no neutral."""
    positions = drum_layout(vehicle).positions
    neutral = [p.angle_deg for p in positions if p.gear is None]
    return neutral[0] if neutral else (positions[0].angle_deg if positions else 0.0)


def drum_parts(vehicle: Vehicle, stack: Stack, place: DrumPlace) -> Iterator[Component]:
    """Make the parts of all placed drums."""
    for drum in place.drums:
        name = "drum" if len(place.drums) < 2 else ("odd drum", "even drum")[drum.number]
        yield _drum(vehicle, drum, name)
        yield _shaft(vehicle, stack, drum, name)
        yield from _detent(vehicle, drum, name)
        for follower in drum.followers:
            yield _follower(vehicle, drum, follower)


def _drum(vehicle: Vehicle, drum: PlacedDrum, name: str) -> Component:
    bore = round_hole(vehicle.kit.shaft_diameter_mm / 2 + RUN_MM)
    body = Prism((circle(drum.radius_mm, corners=180),), drum.from_mm, drum.to_mm, (bore,))
    return Component(
        ComponentId(name),
        "drum",
        (body,),
        drum.x_mm,
        drum.y_mm,
        0.0,
        turn_rad=radians(neutral_deg(vehicle)),
        bodies=(),
        shaft=f"{name} shaft",
        cuts=tuple(cut for follower in drum.followers for cut in _track(vehicle, drum, follower)),
    )


def _track(vehicle: Vehicle, drum: PlacedDrum, place: FollowerPlace) -> Iterator[Prism]:
    """Cut a track in sectors of the drum: with the drum at φ its place at θ − φ is under θ.

    It is as wide everywhere as the round follower sweeps, at the track's own bottom.
    """
    from shapely.geometry import LineString, box  # noqa: PLC0415 - when there is a drum

    deep, half = groove_mm(vehicle)
    inner, outer = drum.radius_mm - deep, drum.radius_mm + 1.0
    per_deg = radians(1.0) * inner
    course = [(angle * per_deg, y) for angle, y in place.track.points]
    swept = LineString(course).buffer(half)
    for number in range(floor(360 / SECTOR_DEG)):
        start, end = number * SECTOR_DEG, (number + 1) * SECTOR_DEG
        low, high = place.angle_deg - end, place.angle_deg - start
        ways: list[float] = []
        for turn in (-360.0, 0.0, 360.0):
            strip = box((low + turn) * per_deg, -1e4, (high + turn) * per_deg, 1e4)
            part = swept.intersection(strip)
            if not part.is_empty:
                ways += [part.bounds[1], part.bounds[3]]
        if not ways:
            continue
        ring: Outline = tuple(
            (radius * cos(radians(turn)), radius * sin(radians(turn)))
            for radius, turn in (
                (inner, start),
                (outer, start - 0.2),
                (outer / cos(radians(SECTOR_DEG / 2)), (start + end) / 2),
                (outer, end + 0.2),
                (inner, end),
                (inner, (start + end) / 2),
            )
        )
        yield Prism((ring,), place.along_mm + min(ways), place.along_mm + max(ways))


def _shaft(vehicle: Vehicle, stack: Stack, drum: PlacedDrum, name: str) -> Component:
    """Reach through both outer walls, and before the front one through the star."""
    start = -(STAR_MM + 2 * RUN_MM + vehicle.kit.shaft_diameter_mm / 2)
    rod = circle(vehicle.kit.shaft_diameter_mm / 2)
    return Component(
        ComponentId(f"{name} shaft"),
        "shaft",
        (Prism((rod,), start, stack.length_mm),),
        drum.x_mm,
        drum.y_mm,
        0.0,
        shaft=f"{name} shaft",
    )


def _detent(vehicle: Vehicle, drum: PlacedDrum, name: str) -> Iterator[Component]:
    radius = drum.star_mm
    bore = round_hole(vehicle.kit.shaft_diameter_mm / 2 + RUN_MM)
    yield Component(
        ComponentId(f"star of {name}"),
        "star",
        (Prism((_star(vehicle, radius),), -STAR_MM - RUN_MM, -RUN_MM, (bore,)),),
        drum.x_mm,
        drum.y_mm,
        0.0,
        turn_rad=radians(neutral_deg(vehicle)),
        shaft=f"{name} shaft",
    )
    nose: Point = (0.0, radius - NOTCH_MM + 0.4)
    pivot: Point = (-DETENT_MM, radius + EYE_MM)
    eye = circle(EYE_MM, pivot)
    arm: Outline = (
        (pivot[0], pivot[1] - EYE_MM * 0.8),
        (-EYE_MM, radius + EYE_MM * 0.4),
        nose,
        (EYE_MM, radius + EYE_MM * 0.4),
        (EYE_MM, radius + 2 * EYE_MM),
        (pivot[0], pivot[1] + EYE_MM * 0.8),
    )
    hole = round_hole(EYE_MM / 2, pivot)
    yield Component(
        ComponentId(f"detent arm of {name}"),
        "detent arm",
        (Prism((eye, arm), -STAR_MM - RUN_MM, -RUN_MM, (hole,)),),
        drum.x_mm,
        drum.y_mm,
        0.0,
    )


def _star(vehicle: Vehicle, radius: float) -> Outline:
    """Outline the star: a notch comes on top in every position, the drum turned by its angle."""
    angles = sorted((90.0 - p.angle_deg) % 360.0 for p in drum_layout(vehicle).positions)
    half = degrees(NOTCH_MM / radius)
    points: list[Point] = []
    for turn in range(0, 360, 2):
        near = min((abs((turn - a + 180) % 360 - 180) for a in angles), default=360.0)
        if near > half:
            points.append((float(turn), radius))
    for angle in angles:
        points += [(angle - half, radius), (angle, radius - NOTCH_MM), (angle + half, radius)]
    points.sort(key=lambda p: p[0] % 360.0)
    return tuple((r * cos(radians(a)), r * sin(radians(a))) for a, r in points)


def _follower(vehicle: Vehicle, drum: PlacedDrum, place: FollowerPlace) -> Component:
    """Make arm, bar and pin of one piece, about the pin's bar."""
    rail, pin = place.fork.rail, follower_mm(vehicle)
    x, y = place.pin
    start, end = place.arm_mm
    dx, dy = rail.x_mm - x, rail.y_mm - y
    turn = radians(place.angle_deg)
    towards = (-cos(turn), -sin(turn))
    deep, _ = groove_mm(vehicle)
    out = ((x - drum.x_mm) ** 2 + (y - drum.y_mm) ** 2) ** 0.5
    long = out - drum.radius_mm + deep - 0.3
    hole = round_hole(vehicle.kit.shaft_diameter_mm / 2 + RUN_MM, (dx, dy))
    arm = strip_outline((0.0, 0.0), (dx, dy), arm_mm(vehicle) / 2)
    tip = (towards[0] * long, towards[1] * long)
    spike = tuple(round_pin(tip, pin, place.along_mm))
    low = min(start, place.along_mm - pin)
    high = max(end, place.along_mm + pin)
    bar = circle(max(BAR_MM, pin))
    return Component(
        ComponentId(f"follower of {place.fork.column}"),
        "follower",
        (
            Prism((arm,), start, end, (hole,)),
            Prism((bar,), low, high),
            *spike,
        ),
        x,
        y,
        0.0,
        member=place.fork.column,
        shaft=rail.name,
    )
