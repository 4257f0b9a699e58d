"""The drum in space: its axis over the box, its tracks under the followers of the forks' rails.

Each rail carries a follower: an arm that rises from the rail beside its fork, a bar along the box
where its track lies elsewhere, and a pin into the track. Followers come to the drum from below at
angles of their own, so that their arms do not cross; a track is turned by the angle of its
follower. A track lies where its sleeve is; where sleeves are closer than tracks may be, tracks are
spread as the drum's pitch has it. The drum's shaft turns in the outer walls, which reach up to it.
"""

from dataclasses import dataclass, replace
from functools import cache, lru_cache
from itertools import combinations
from math import ceil, cos, hypot, radians, sin

import numpy as np
from numpy.typing import NDArray

from mild_badger.core.kit.part_sizes import arm_mm
from mild_badger.core.shift.drum import Track, drum_layout
from mild_badger.core.structure.forks import Fork
from mild_badger.core.structure.plane import Point, Segment, along, to_segment
from mild_badger.core.structure.rail_arms import ARM_ROOM_MM, arm_span, clear_of, in_the_way
from mild_badger.core.structure.stack import Stack
from mild_badger.core.vehicle.cache_key import Same, ThisVehicle
from mild_badger.core.vehicle.model import Vehicle

__all__ = [
    "DETENT_MM",
    "EYE_MM",
    "DrumPlace",
    "FollowerPlace",
    "PlacedDrum",
    "drum_place",
    "follower_mm",
    "groove_mm",
    "turned_deg",
]

ROOM_MM = 1.0
"""Room between the drum's parts and all else."""
BAR_MM = 2.0
"""Radius of a follower's bar along the box, at least (an estimate, no source)."""
GROOVE_MM, PLAY_MM = 2.5, 0.2
"""How deep a track is, and the room of a follower in it on either side (estimates, no source)."""
WALL_MM = 2.0
"""Least wall between two tracks at full travel, and beyond the last (an estimate, no source)."""
LOW_DEG, HIGH_DEG = 200.0, 340.0
"""Between which angles followers come to a drum, anticlockwise as seen from the input end."""
STAR_SHARE = 0.7
"""Radius of the detent star to the drum's (an estimate, no source)."""
DETENT_MM, EYE_MM = 22.0, 3.0
"""From the detent arm's pivot to its nose, and the radius of its eye (estimates, no source)."""
Round = tuple[float, float, float]
Floats = NDArray[np.float64]
TURN_DEG = 3
"""How far apart the angles are at which tracks are held against one another."""
MOVES = tuple(
    sorted(
        ((aside, up) for aside in range(-5, 6) for up in range(4)),
        key=lambda move: (abs(move[0]) + 1.5 * move[1], move),
    )
)
"""How far aside and up a drum is moved, in units, where followers find no clear way to it."""
SPOTS, MOST_ORDERS = 10, 130
"""So many angles are chosen among, and so many choices tried."""
SAMPLES = 9


@dataclass(frozen=True)
class FollowerPlace:
    """One follower: its track, where its pin meets the drum, where its arm stands.

    ``angle_deg`` is where the pin comes to the drum, anticlockwise from the right; ``pin`` is the
    middle of its bar, ``along_mm`` where its track's neutral line lies along the box; ``arm_mm``
    is from where to where along the box its arm stands in neutral, beside the fork.
    """

    track: Track
    fork: Fork
    angle_deg: float
    pin: Point
    along_mm: float
    arm_mm: tuple[float, float]


@dataclass(frozen=True)
class PlacedDrum:
    """One drum: its axis, radius, from where to where along the box, its followers."""

    number: int
    x_mm: float
    y_mm: float
    radius_mm: float
    from_mm: float
    to_mm: float
    followers: tuple[FollowerPlace, ...]

    @property
    def star_mm(self) -> float:
        """Radius of its detent star."""
        return STAR_SHARE * self.radius_mm

    @property
    def detent_reach_mm(self) -> float:
        """How far star and detent arm reach from its axis."""
        return hypot(DETENT_MM, self.star_mm + EYE_MM) + EYE_MM


@dataclass(frozen=True)
class DrumPlace:
    """All drums of a box; ``missing`` are sleeves whose follower finds no clear way to a drum."""

    drums: tuple[PlacedDrum, ...]
    missing: tuple[str, ...]


def follower_mm(vehicle: Vehicle) -> float:
    """Half of a follower's pin: it fills its track but for the play."""
    return vehicle.shifting.drum.follower_mm / 2 - PLAY_MM


def groove_mm(vehicle: Vehicle) -> tuple[float, float]:
    """Give how deep a track is, and half of how wide it is."""
    return GROOVE_MM, vehicle.shifting.drum.follower_mm / 2


def drum_place(
    vehicle: Vehicle,
    stack: Stack,
    forks: tuple[Fork, ...],
    top_mm: float,
    ties: tuple[Round, ...] = (),
) -> DrumPlace | None:
    """Place the drums of a box over it; None where something else moves the sleeves.

    Parameters
    ----------
    vehicle, stack, forks
        The placed box.
    top_mm
        The height under which everything else of the box stays.
    ties
        Middles and radii of the rods that tie the walls.
    """
    if vehicle.shifting.actuation != "drum" or stack.own is not None or not forks:
        return None
    return _place(ThisVehicle(vehicle), Same(stack), Same(forks), top_mm, ties)


@lru_cache(maxsize=4)
def _place(
    this: ThisVehicle,
    same: Same[Stack],
    same_forks: Same[tuple[Fork, ...]],
    top: float,
    ties: tuple[Round, ...],
) -> DrumPlace:
    vehicle, stack, forks = this.vehicle, same.it, same_forks.it
    numbers = sorted({track.drum for track in drum_layout(vehicle).tracks})
    # of two drums either may stand on the left
    orders = (numbers, numbers[::-1]) if len(numbers) > 1 else (numbers,)
    places = []
    for order in orders:
        place = _in_order(vehicle, stack, forks, order, (top, ties))
        if not place.missing:
            return place
        places.append(place)
    return min(places, key=lambda place: len(place.missing))


def _in_order(
    vehicle: Vehicle,
    stack: Stack,
    forks: tuple[Fork, ...],
    numbers: list[int],
    around: tuple[float, tuple[Round, ...]],
) -> DrumPlace:
    """Place drums from left to right."""
    top, ties = around
    layout = drum_layout(vehicle)
    by_sleeve = {fork.column: fork for fork in forks}
    missing = [track.sleeve for track in layout.tracks if track.sleeve not in by_sleeve]
    drums: list[PlacedDrum] = []
    right: float | None = None
    for number in numbers:
        mine = [t for t in layout.tracks if t.drum == number and t.sleeve in by_sleeve]
        mine.sort(key=lambda track: (by_sleeve[track.sleeve].rail.x_mm, track.sleeve))
        if not mine:
            continue
        rails = [by_sleeve[track.sleeve].rail for track in mine]
        middle = sum(rail.x_mm for rail in rails) / len(rails)
        start = middle if right is None else max(middle, right)
        drum = _drum(vehicle, stack, number, (start, top))
        placed = None
        legs = _legs(vehicle, stack, forks, mine, ties)
        for aside, up in MOVES if legs is not None and _long_enough(vehicle, drum, mine) else ():
            unit = vehicle.kit.grid_unit_mm
            if right is not None and start + aside * unit < right:
                continue
            drum = _drum(vehicle, stack, number, (start + aside * unit, top + up * unit))
            placed = _followers(vehicle, stack, drum, legs or [])
            if placed is not None:
                break
        if placed is None:
            missing += [track.sleeve for track in mine]
        drums.append(replace(drum, followers=placed or ()))
        right = drum.x_mm + 2 * (drum.radius_mm + _out_mm(vehicle)) + 2 * BAR_MM + ROOM_MM
    drums.sort(key=lambda drum: drum.number)
    return DrumPlace(tuple(drums), tuple(missing))


def _out_mm(vehicle: Vehicle) -> float:
    """Give how far from a drum's surface the middles of its followers' bars stand."""
    return max(BAR_MM, follower_mm(vehicle), arm_mm(vehicle) / 2) + ROOM_MM


def _drum(vehicle: Vehicle, stack: Stack, number: int, over: Point) -> PlacedDrum:
    """Stand a drum over a place, as low as its followers let it."""
    x, top = over
    drum, unit = vehicle.shifting.drum, vehicle.kit.grid_unit_mm
    radius = drum.diameter_mm / 2
    y = top + radius + _out_mm(vehicle) + BAR_MM + ROOM_MM
    if not vehicle.kit.any_seat:  # its shaft turns in a hole of a beam
        x, y = round(x / unit) * unit, ceil(y / unit - 1e-9) * unit
    first, last = stack.walls[0], stack.walls[-1]
    start, end = stack.edges_mm[first + 1] + ROOM_MM, stack.edges_mm[last] - ROOM_MM
    return PlacedDrum(number, x, y, radius, start, end, ())


def _tracks_along(
    vehicle: Vehicle, stack: Stack, drum: PlacedDrum, legs: list[tuple[Fork, Track, float]]
) -> list[float] | None:
    """Lay tracks where their sleeves are, a wall between any two; None where the box is short.

    ``legs`` are forks with their tracks and the angles at which their followers come to the drum;
    places are in their order.
    """
    settings = vehicle.shifting.drum
    half = settings.follower_mm / 2 + WALL_MM
    wanted = [stack.middle_mm(fork.slab) for fork, _, _ in legs]
    order = sorted(range(len(legs)), key=lambda n: (wanted[n], n))
    ways = [_ways(track, angle) for _, track, angle in legs]
    early = [drum.from_mm + half - min(way) for way in ways]
    late = [drum.to_mm - half - max(way) for way in ways]
    least = {
        (n, m): settings.follower_mm
        + WALL_MM
        + max(a - b for a, b in zip(ways[n], ways[m], strict=True))
        for i, n in enumerate(order)
        for m in order[i + 1 :]
    }
    for i in reversed(range(len(order))):
        for m in order[i + 1 :]:
            late[order[i]] = min(late[order[i]], late[m] - least[order[i], m])
    places: dict[int, float] = {}
    for n in order:
        at = max([early[n], *(places[m] + least[m, n] for m in places)])
        if at > late[n] + 1e-9:
            return None
        places[n] = min(max(wanted[n], at), late[n])
    return [places[n] for n in range(len(legs))]


def _long_enough(vehicle: Vehicle, drum: PlacedDrum, tracks: list[Track]) -> bool:
    """Whether tracks that need no room for their ways would lie side by side."""
    each = vehicle.shifting.drum.follower_mm + WALL_MM
    return drum.to_mm - drum.from_mm >= len(tracks) * each + WALL_MM


@lru_cache(maxsize=512)
def _ways(track: Track, angle_deg: float) -> list[float]:
    """List how far a track lies from neutral at angles of the drum itself, all the way round."""
    return [track.travel_at((angle_deg - spot) % 360.0) for spot in range(0, 360, TURN_DEG)]


@dataclass(frozen=True)
class _Leg:
    """A track that is to be led to its drum: its fork, where its arm stands, what is in the way.

    ``rounds`` are x, y and radius of that, mm; ``half_mm`` is half the arm's width with its room.
    """

    track: Track
    fork: Fork
    arm_mm: tuple[float, float]
    rounds: Floats
    half_mm: float

    def clear(self, pin: Point) -> bool:
        """Whether a straight arm to a pin is clear of everything that does not move with it."""
        return clear_of(self.rounds, (self.fork.rail.x_mm, self.fork.rail.y_mm), pin, self.half_mm)


def _legs(
    vehicle: Vehicle,
    stack: Stack,
    forks: tuple[Fork, ...],
    tracks: list[Track],
    ties: tuple[Round, ...],
) -> list[_Leg] | None:
    """Give the tracks of a drum with what is in their arms' way; None where an arm has no room."""
    by_sleeve = {fork.column: fork for fork in forks}
    legs = []
    for track in tracks:
        fork = by_sleeve[track.sleeve]
        span = arm_span(vehicle, stack, fork)
        if span is None:
            return None
        rounds = in_the_way(vehicle, stack, forks, fork, (span, ties))
        legs.append(_Leg(track, fork, span, rounds, arm_mm(vehicle) / 2 + ARM_ROOM_MM))
    return legs


def _followers(
    vehicle: Vehicle, stack: Stack, drum: PlacedDrum, legs: list[_Leg]
) -> tuple[FollowerPlace, ...] | None:
    """Lead every rail to a drum, the arms clear of all else and of one another."""
    reach = drum.radius_mm + _out_mm(vehicle)
    known: dict[tuple[int, float], bool] = {}

    def pin_at(angle: float) -> Point:
        turn = radians(angle)
        return drum.x_mm + reach * cos(turn), drum.y_mm + reach * sin(turn)

    def clear(number: int, angle: float) -> bool:
        if (number, angle) not in known:
            known[number, angle] = legs[number].clear(pin_at(angle))
        return known[number, angle]

    for angles in _angles(len(legs)):
        if not all(clear(number, angle) for number, angle in enumerate(angles)):
            continue
        pins = [pin_at(angle) for angle in angles]
        lines = [
            ((leg.fork.rail.x_mm, leg.fork.rail.y_mm), pin)
            for leg, pin in zip(legs, pins, strict=True)
        ]
        if not _apart(vehicle, lines):
            continue
        rows = [(leg.fork, leg.track, angle) for leg, angle in zip(legs, angles, strict=True)]
        places = _tracks_along(vehicle, stack, drum, rows)
        if places is not None:
            return tuple(
                FollowerPlace(leg.track, leg.fork, angle, pin, place, leg.arm_mm)
                for leg, angle, pin, place in zip(legs, angles, pins, places, strict=True)
            )
    return None


@cache
def _angles(count: int) -> tuple[tuple[float, ...], ...]:
    """List angles for so many followers, from left to right, evenly spread ones first."""
    step = (HIGH_DEG - LOW_DEG) / (count + 1)
    even = tuple(LOW_DEG + step * (n + 1) for n in range(count))
    every = combinations([185.0 + 170.0 * n / (SPOTS - 1) for n in range(SPOTS)], count)
    ranked = sorted(every, key=lambda row: sum(abs(a - b) for a, b in zip(row, even, strict=True)))
    return (even, *ranked[:MOST_ORDERS])


def _apart(vehicle: Vehicle, lines: list[Segment]) -> bool:
    """Whether arms keep clear of one another."""
    room = arm_mm(vehicle) + ROOM_MM
    for n, one in enumerate(lines):
        for other in lines[n + 1 :]:
            for k in range(SAMPLES):
                if to_segment(one, along(other, k / (SAMPLES - 1))) < room:
                    return False
                if to_segment(other, along(one, k / (SAMPLES - 1))) < room:
                    return False
    return True


def turned_deg(place: FollowerPlace) -> float:
    """Give by how much a track is turned against one whose follower stands on top, degrees."""
    return place.angle_deg - 90.0
