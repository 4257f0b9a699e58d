"""How every part moves: turned by the motor at the drivetrain's exact ratios, slid by the shifter.

Angles in rad, anticlockwise as seen from the input end; the drivetrain counts turns positive as the
motor turns forwards, which is clockwise from there.
"""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from math import pi, radians

import numpy as np

from mild_badger.core.axle.road_state import Road, Straight, conditions
from mild_badger.core.components.component import Component
from mild_badger.core.components.drum_parts import neutral_deg
from mild_badger.core.components.model import travel_in
from mild_badger.core.components.shift_lever_parts import LEVER_KINDS, posed
from mild_badger.core.driveline.assemble import assemble, shifter_state_for
from mild_badger.core.drivetrain.graph import Coupling, same_speed
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.ids import GearId
from mild_badger.core.layout.turning import engaged_bodies
from mild_badger.core.scene.mesh import Floats
from mild_badger.core.shift.drum import Track, drum_layout
from mild_badger.core.structure.lever_place import LeverPlace
from mild_badger.core.vehicle.bodies import MOTOR
from mild_badger.core.vehicle.model import Vehicle

__all__ = [
    "STRAIGHT",
    "Shift",
    "alongs_of",
    "between",
    "drum_turns",
    "gears_with",
    "roles_of",
    "shift_by",
    "shift_to",
    "shifted",
    "turns_of",
]

ON_AXLES = frozenset({"crown", "differential", "half shaft", "joint yoke", "joint cross", "wheel"})
"""Kinds that turn about an axle across the box."""
STILL_MM = 1e-6
STRAIGHT = Straight()


def turns_of(
    vehicle: Vehicle,
    parts: Sequence[Component],
    gear: str | None,
    road: Road = STRAIGHT,
    *,
    locked: bool = False,
    sleeves: Mapping[str, str] | None = None,
    driving: str = "",
) -> Floats:
    """Give by how much each part turns for one turn of the motor on a road, rad.

    ``sleeves`` are where those stand if it is not as the gear has them. 0 for what stands. What is
    free stands too: nothing says how it turns. Of parts that lie across the box those of an axle
    turn about it, forwards where the drivetrain counts positive. ``driving`` is a body that turns
    as the motor does besides, the own input of an output.
    """
    wheels = conditions(vehicle, road, locked=locked)
    if driving:
        wheels = (*wheels, same_speed(driving, MOTOR, kind=Coupling.ROAD))
    state = shifter_state_for(vehicle, gear) if sleeves is None else dict(sleeves)
    turns = solve(assemble(vehicle), state, wheels).speeds
    # an axle's part is drawn with the input end at its right: forwards it turns clockwise there
    # where the input is in front
    ahead = -1.0 if vehicle.shifting.box_faces == "rear" else 1.0
    made = np.zeros(len(parts))
    for number, part in enumerate(parts):
        if part.box:
            continue
        known = (turns.get(body) for body in part.bodies)
        turn = next((turn for turn in known if turn is not None), None)
        if turn is not None:
            on_axle = part.across and part.kind in ON_AXLES
            made[number] = (ahead if on_axle else -1.0) * 2 * pi * float(turn)
    return made


def roles_of(
    vehicle: Vehicle,
    parts: Sequence[Component],
    gear: str | None,
    carrying: Collection[str] = frozenset(),
) -> list[str]:
    """Say how each part is drawn in a gear: "run" or "back" on its path, else "idle".

    On the path are the bodies that are ``carrying`` power, and the sleeves that are in with their
    forks and arms. Where no power is known, the engaged gear's own train and the shafts that carry
    two of its parts.
    """
    if gear is None:
        return ["idle"] * len(parts)
    known = vehicle.gear(gear)
    run = "back" if known is not None and known.reverse else "run"
    engaged = frozenset(carrying) or engaged_bodies(vehicle, gear)
    sleeves = dict(shifter_state_for(vehicle, gear))
    own = [
        not part.box
        and (not engaged.isdisjoint(part.bodies) or (part.member in sleeves and bool(part.member)))
        for part in parts
    ]
    carried: dict[str, int] = {}
    for part, on in zip(parts, own, strict=True):
        if on and part.kind in ("gear", "sleeve"):
            carried[part.shaft] = carried.get(part.shaft, 0) + 1
    return [
        run
        if on
        or (
            not carrying
            and part.kind == "shaft"
            and not part.box
            and carried.get(part.shaft, 0) >= 2
        )
        else "idle"
        for part, on in zip(parts, own, strict=True)
    ]


def gears_with(vehicle: Vehicle, part: Component) -> tuple[GearId, ...]:
    """List the gears of the main box in whose trains a part is, or whose sleeve moves it."""
    if part.box:
        return ()
    ready = (gear.id for gear in vehicle.real.gears if vehicle.box.ready(gear.id))
    if part.kind == "gear":
        return tuple(g for g in ready if not engaged_bodies(vehicle, g).isdisjoint(part.bodies))
    return tuple(g for g in ready if part.member and part.member in vehicle.box.engaged(g))


@dataclass(frozen=True)
class Shift:
    """Where the shifter stands: how far each sleeve is from neutral, mm, and each lever's tip.

    ``tips`` holds for each rail where the tip stands across the box, mm. With a drum ``drum_deg``
    is how far it has turned, and ``tracks`` say how far each sleeve has gone there.
    """

    travel: Mapping[str, float]
    tips: Mapping[str, float]
    drum_deg: float | None = None
    tracks: tuple[Track, ...] = ()


def shift_to(vehicle: Vehicle, gear: str | None, levers: Sequence[LeverPlace]) -> Shift:
    """Say where the shifter stands with a gear in; in neutral for None."""
    if sleeved_by_drum(vehicle):
        return _drum_at(vehicle, gear)
    return shift_by(travel_in(vehicle, gear), levers)


def shift_by(travel: Mapping[str, float], levers: Sequence[LeverPlace]) -> Shift:
    """Say where levers stand with sleeves moved by hand, mm each from neutral."""
    tips = {place.rail: place.x_mm for place in levers}
    for place in levers:
        if place.way == "catch":
            tips[place.rail] = place.arms[0].x_mm
        for arm in place.arms:
            if arm.fork.column in travel:
                tips[place.rail] = arm.x_mm
    return Shift(travel, tips)


def sleeved_by_drum(vehicle: Vehicle) -> bool:
    """Whether a drum moves the box's sleeves."""
    return vehicle.shifting.actuation == "drum" and bool(drum_layout(vehicle).positions)


def _drum_at(vehicle: Vehicle, gear: str | None) -> Shift:
    """Turn the drum to a gear's position; to neutral, or its first position, for None."""
    layout = drum_layout(vehicle)
    angle = next((p.angle_deg for p in layout.positions if p.gear == gear), None)
    return _turned_to(neutral_deg(vehicle) if angle is None else angle, layout.tracks)


def _turned_to(angle_deg: float, tracks: tuple[Track, ...]) -> Shift:
    gone = {track.sleeve: track.travel_at(angle_deg) for track in tracks}
    return Shift({s: by for s, by in gone.items() if abs(by) > STILL_MM}, {}, angle_deg, tracks)


def drum_turns(parts: Sequence[Component], shift: Shift) -> Floats:
    """Give by how much drums and their stars stand turned from how they are drawn, rad."""
    made = np.zeros(len(parts))
    if shift.drum_deg is not None:
        for number, part in enumerate(parts):
            if part.kind in ("drum", "star") and not part.box:
                made[number] = radians(shift.drum_deg) - part.turn_rad
    return made


def between(one: Shift, other: Shift, share: float) -> Shift:
    """Give a place on the way: out of one gear, across in neutral, into the other.

    Sleeves that both have stay; a third of the way each is taken by going out, across and in. A
    drum turns through all that lies between, and its tracks move the sleeves.
    """
    if one.drum_deg is not None and other.drum_deg is not None:
        angle = one.drum_deg + (other.drum_deg - one.drum_deg) * share
        return _turned_to(angle, other.tracks)
    out, across, into = (min(max(3 * share - n, 0.0), 1.0) for n in range(3))
    travel: dict[str, float] = {}
    for sleeve in {**one.travel, **other.travel}:
        start, end = one.travel.get(sleeve, 0.0), other.travel.get(sleeve, 0.0)
        gone = start if start == end else start * (1 - out) + end * into
        if gone:
            travel[sleeve] = gone
    tips = {
        rail: start + (other.tips.get(rail, start) - start) * across
        for rail, start in one.tips.items()
    }
    return Shift(travel, tips)


def shifted(
    parts: Sequence[Component], shift: Shift, levers: Sequence[LeverPlace]
) -> tuple[Component, ...]:
    """Pose levers and catches where the shifter has them; all else stays as it is."""
    places = {place.rail: place for place in levers}
    made = []
    for part in parts:
        place = places.get(part.lever) if part.kind in LEVER_KINDS and not part.box else None
        if place is None:
            made.append(part)
            continue
        gone = (shift.travel.get(arm.fork.column, 0.0) for arm in place.arms)
        travel = next((by for by in gone if by), 0.0)
        made.append(posed(place, part, shift.tips[place.rail], travel))
    return tuple(made)


def alongs_of(parts: Sequence[Component], shift: Shift) -> Floats:
    """Give how far each part has slid along the box, mm."""
    return np.array([part.moved_mm(shift.travel) for part in parts])
