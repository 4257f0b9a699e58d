"""The drum: positions round it, the track of every fork unrolled, slopes and overlaps.

Angles in degrees round the drum; travels in mm along its axis, minus to the front. A drum may
stand for two that turn together, one with the forks of the odd gears, one with those of the even.
"""

from dataclasses import dataclass
from itertools import pairwise
from math import atan2, degrees, pi

from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.shifting import Drum
from mild_badger.core.vehicle.sleeves import column_of, rail_of

__all__ = ["DrumLayout", "DrumTransition", "Position", "Track", "drum_layout", "drum_order"]

SIDES = {"front": -1, "back": 1}
LEAST_RAMP = 0.02
"""Share of the way between two positions below which a ramp is none."""


@dataclass(frozen=True)
class Position:
    """Where a gear, or neutral, stands on the drum, and what its sleeves do there."""

    gear: str | None
    angle_deg: float
    sleeves: tuple[tuple[str, str], ...]


@dataclass(frozen=True)
class Track:
    """One fork's track: corners as (angle, travel), straight between them.

    ``axial_mm`` is its neutral line from the drum's end, ``steepest_deg`` its steepest slope
    against the circumference.
    """

    sleeve: str
    drum: int
    axial_mm: float
    points: tuple[tuple[float, float], ...]
    steepest_deg: float

    def travel_at(self, angle_deg: float) -> float:
        """Travel of the fork with the drum at an angle, mm."""
        if angle_deg <= self.points[0][0]:
            return self.points[0][1]
        for (a, x), (b, y) in pairwise(self.points):
            if angle_deg <= b:
                return x + (y - x) * (angle_deg - a) / (b - a) if b > a else y
        return self.points[-1][1]


@dataclass(frozen=True)
class DrumTransition:
    """From one position to the next.

    ``overlap_deg`` is the turn during which the sleeve that leaves and the one that enters are both
    in, negative where both are out, None where nothing is handed over; ``asked`` whether it is what
    the builder asked for. ``enters_deg`` and ``leaves_deg`` are the angles at which the dogs of the
    one come in and those of the other go out.
    """

    start: Position
    end: Position
    overlap_deg: float | None
    asked: bool
    seconds: float
    overlap_seconds: float
    enters_deg: float = 0.0
    leaves_deg: float = 0.0

    @property
    def both(self) -> dict[str, str]:
        """Sleeves that are in where both positions' are, but for one that goes across."""
        one, other = dict(self.start.sleeves), dict(self.end.sleeves)
        crossing = {s for s in one if s in other and one[s] != other[s]}
        return {s: p for s, p in (one | other).items() if s not in crossing}

    @property
    def staying(self) -> dict[str, str]:
        """Sleeves that stay in all the while."""
        other = dict(self.end.sleeves)
        return {s: p for s, p in self.start.sleeves if other.get(s) == p}


@dataclass(frozen=True)
class DrumLayout:
    """All that is to be cut.

    ``missed`` are gears that have a train and no position; ``mixed`` sleeves that would need both
    drums; ``closest_mm`` the least wall between two tracks, negative where they run into one
    another, None for single tracks.
    """

    positions: tuple[Position, ...]
    tracks: tuple[Track, ...]
    changes: tuple[DrumTransition, ...]
    around_mm: float
    lengths_mm: tuple[float, ...]
    missed: tuple[str, ...]
    mixed: tuple[str, ...]
    closest_mm: float | None

    @property
    def steepest_deg(self) -> float:
        """Steepest slope of any track."""
        return max((track.steepest_deg for track in self.tracks), default=0.0)

    def along_mm(self, angle_deg: float) -> float:
        """Length along the circumference for an angle."""
        return self.around_mm * angle_deg / 360


def drum_order(vehicle: Vehicle) -> tuple[str | None, ...]:
    """Give the order of positions: the builder's, or reverse, neutral, then the gears rising."""
    ready = [gear for gear in vehicle.real.gears if vehicle.box.ready(gear.id)]
    if vehicle.shifting.drum.order:
        names = {gear.id for gear in ready}
        return tuple(g for g in vehicle.shifting.drum.order if g is None or g in names)
    back = [gear.id for gear in ready if gear.reverse]
    return (*back, None, *(gear.id for gear in ready if not gear.reverse))


def drum_layout(vehicle: Vehicle) -> DrumLayout:
    """Lay out the drum, or the two of them, for the gears that have a train."""
    drum, travel = vehicle.shifting.drum, vehicle.lever.fork_travel_mm
    order = drum_order(vehicle)
    angles = _angles(drum, len(order))
    positions = tuple(
        Position(gear, angle, tuple(vehicle.box.engaged(gear).items()) if gear else ())
        for gear, angle in zip(order, angles, strict=True)
    )
    sleeves = sorted({s for p in positions for s, _ in p.sleeves}, key=_number)
    drums, mixed = _drums(vehicle, sleeves, positions)
    around = pi * drum.diameter_mm
    row = [0, 0]
    tracks = []
    for sleeve in sleeves:
        which = drums[sleeve]
        points = _points(drum, positions, sleeve, travel)
        slope = max(
            (
                degrees(atan2(abs(y - x), around * (b - a) / 360))
                for (a, x), (b, y) in pairwise(points)
                if y != x
            ),
            default=0.0,
        )
        tracks.append(Track(sleeve, which, drum.track_pitch_mm * (row[which] + 0.5), points, slope))
        row[which] += 1
    changes = tuple(_change(drum, one, other, travel) for one, other in pairwise(positions))
    return DrumLayout(
        positions=positions,
        tracks=tuple(tracks),
        changes=changes,
        around_mm=around,
        lengths_mm=tuple(drum.track_pitch_mm * count for count in row if count),
        missed=tuple(
            gear.id
            for gear in vehicle.real.gears
            if vehicle.box.ready(gear.id) and gear.id not in order
        ),
        mixed=mixed,
        closest_mm=_closest(tracks, drum),
    )


def _number(sleeve: str) -> tuple[bool, int]:
    return rail_of(sleeve) == "range sleeve", column_of(sleeve)


def _angles(drum: Drum, count: int) -> tuple[float, ...]:
    if len(drum.angles_deg) == count:
        return drum.angles_deg
    return tuple(360 * n / max(count, 1) for n in range(count))


def _drums(
    vehicle: Vehicle, sleeves: list[str], positions: tuple[Position, ...]
) -> tuple[dict[str, int], tuple[str, ...]]:
    """Which drum carries each sleeve's track, and the sleeves that would need both."""
    if vehicle.shifting.drum.drums == "one":
        return dict.fromkeys(sleeves, 0), ()
    forward = [gear.id for gear in vehicle.real.gears if not gear.reverse]
    asked: dict[str, set[int]] = {sleeve: set() for sleeve in sleeves}
    for position in positions:
        if position.gear in forward:
            for sleeve, _ in position.sleeves:
                asked[sleeve].add(forward.index(position.gear) % 2)
    mixed = tuple(sleeve for sleeve in sleeves if len(asked[sleeve]) > 1)
    return {sleeve: min(asked[sleeve], default=1) for sleeve in sleeves}, mixed


def _side(position: Position, sleeve: str) -> int:
    return SIDES.get(dict(position.sleeves).get(sleeve, ""), 0)


def _ramp(drum: Drum, way: float, travel: float) -> float:
    """Width of a ramp, in degrees, that gives the asked overlap.

    The sleeve that leaves starts at once and is out of its dogs after w·d/T, the one that enters
    ends last and is in w·d/T before; with both ramps w wide over a way of A the overlap is
    2·w·d/T − A, for dogs of depth d and a travel of T.
    """
    depth = min(drum.dog_depth_mm, travel)
    wanted = (way + drum.overlap_deg) * travel / (2 * depth)
    return min(max(wanted, LEAST_RAMP * way), way)


def _handed_over(one: Position, other: Position, sleeve: str) -> bool:
    """Whether a sleeve's leaving or entering goes with another one's in the same small box."""
    kind = rail_of(sleeve)
    moving = {
        s
        for s in {**dict(one.sleeves), **dict(other.sleeves)}
        if rail_of(s) == kind and _side(one, s) != _side(other, s)
    }
    return len(moving) > 1


def _points(
    drum: Drum, positions: tuple[Position, ...], sleeve: str, travel: float
) -> tuple[tuple[float, float], ...]:
    half = drum.dwell_deg / 2
    first = positions[0]
    points = [(first.angle_deg - half, _side(first, sleeve) * travel)]
    for one, other in pairwise(positions):
        here, there = _side(one, sleeve), _side(other, sleeve)
        start, end = one.angle_deg + half, other.angle_deg - half
        if end <= start:  # the dwells meet: a step without a way
            start = end = (one.angle_deg + other.angle_deg) / 2
        way = end - start
        if here != there:
            if not (here and there) and _handed_over(one, other, sleeve):
                width = _ramp(drum, way, travel)
                start, end = (start, start + width) if here else (end - width, end)
            points += [(start, here * travel), (end, there * travel)]
    last = positions[-1]
    points.append((last.angle_deg + half, _side(last, sleeve) * travel))
    return tuple(points)


def _change(drum: Drum, one: Position, other: Position, travel: float) -> DrumTransition:
    way = max(other.angle_deg - one.angle_deg - drum.dwell_deg, 0.0)
    seconds = (other.angle_deg - one.angle_deg) / (6 * drum.rpm)
    leaving = [s for s, _ in one.sleeves if not _side(other, s)]
    entering = [s for s, _ in other.sleeves if not _side(one, s)]
    pairs = [(a, b) for a in leaving for b in entering if rail_of(a) == rail_of(b)]
    if not pairs:
        return DrumTransition(one, other, None, True, seconds, 0.0)
    depth = min(drum.dog_depth_mm, travel)
    engaged = _ramp(drum, way, travel) * depth / travel
    overlap = 2 * engaged - way
    half = drum.dwell_deg / 2
    return DrumTransition(
        one,
        other,
        overlap,
        abs(overlap - drum.overlap_deg) < 1e-6,
        seconds,
        max(overlap, 0.0) / (6 * drum.rpm),
        enters_deg=other.angle_deg - half - engaged,
        leaves_deg=one.angle_deg + half + engaged,
    )


def _closest(tracks: list[Track], drum: Drum) -> float | None:
    """Least wall between neighbouring tracks of a drum; straight pieces, so corners decide."""
    least = None
    for one, other in (
        (a, b)
        for a in tracks
        for b in tracks
        if a.drum == b.drum
        and b.axial_mm > a.axial_mm
        and b.axial_mm - a.axial_mm < 1.5 * drum.track_pitch_mm
    ):
        for angle in sorted({a for a, _ in (*one.points, *other.points)}):
            apart = other.axial_mm + other.travel_at(angle) - one.axial_mm - one.travel_at(angle)
            wall = apart - drum.follower_mm
            least = wall if least is None else min(least, wall)
    return least
