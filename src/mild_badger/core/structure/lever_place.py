"""The gate lever and the catch in space: over the box, each rail led to them by an arm and a bar.

A bar lies along the box over everything else, with a jaw for the lever's finger; in neutral all
jaws stand side by side, and the finger goes from one to the next. The tip of a lever on a pivot
moves on a ball about it, so each bar lies where the tip comes to it; a catch slides on a rail
across the box, and its bars are level. Arms rise beside their forks, go across over the box at
heights of their own, and so never cross. The lever stands before the wall that is nearest to its
forks, a second one behind.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from itertools import combinations, pairwise
from math import asin, ceil, hypot, sqrt
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from mild_badger.core.kit.part_sizes import arm_mm, spacer_radius_mm
from mild_badger.core.shift.catch import catch_sleeves
from mild_badger.core.shift.gate import gates
from mild_badger.core.structure.brackets import posts_of
from mild_badger.core.structure.forks import Fork
from mild_badger.core.structure.mirror import first_at_right
from mild_badger.core.structure.plane import Point, Segment, along, to_segment
from mild_badger.core.structure.plates import nut_spans, plate_outline, tie_rounds
from mild_badger.core.structure.rail_arms import ARM_ROOM_MM, arm_span, clear_of, in_the_way
from mild_badger.core.structure.stack import Stack
from mild_badger.core.structure.walls import tie_places, top_of, walls_of
from mild_badger.core.vehicle.cache_key import Same, ThisVehicle
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.sleeves import rail_of

__all__ = [
    "BEHIND_MM",
    "BODY_MM",
    "EYE_MM",
    "FLOOR_MM",
    "JAW_WALL_MM",
    "PLAY_MM",
    "ROOM_MM",
    "LeverPlace",
    "ShiftArm",
    "lean_rad",
    "lever_places",
    "rows_of",
    "short_levers",
]

ROOM_MM, PLAY_MM, SLACK_MM = 1.0, 0.3, 0.8
"""Room beside what moves, the finger's play in a jaw, and under it (estimates, no source)."""
FLOOR_MM, JAW_WALL_MM = 3.0, 3.0
"""How thick a bar is, and the walls of its jaw along the box (estimates, no source)."""
EYE_MM, BODY_MM, BEHIND_MM = 3.2, 4.0, 5.0
"""Radius of a lever's eye; the cradle's body, how thick and how far behind (estimates)."""
MOST_LEAN = 0.895
"""How far a lever leans at most, as the sine of the angle."""
OVER_CRADLE_MM = 9.0
"""How much longer a finger is than it leans, so that its bars clear the cradle (an estimate)."""
CATCH_LEAN = 0.7
"""How far a catch tilts into a gear, as the sine of the angle (an estimate, no source)."""
WIDEST_BAR_MM, THIN_BAR_MM = 8.0, 2.0
ASIDE = tuple(sorted(range(-14, 15), key=lambda step: (abs(step), step)))
"""Where an arm is tried to rise, and a lever to stand, in steps of half a bar's pitch."""
MOST_RISES, MOST_TRIES, MOST_STANDS = 7, 12, 11
SAMPLES = 9
SPAN_STEP_MM, THIN_SHARE = 2.0, 0.8
Lines = tuple[tuple[Point, ...], ...]
Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Leg:
    """A fork to be led to the lever: where its arm stands along the box, and how it may rise."""

    fork: Fork
    span_mm: tuple[float, float]
    rises: tuple[Segment, ...]


@dataclass(frozen=True)
class ShiftArm:
    """One rail's arm and bar.

    ``line`` is the arm's middle from its rail to its bar, seen from the input end, ``arm_mm`` from
    where to where it stands along the box; the finger's tip meets the jaw at ``x_mm``, ``y_mm``;
    ``floor_mm`` is the bar's lower side, ``high_mm`` the top of the jaw's walls.
    """

    fork: Fork
    line: tuple[Point, ...]
    arm_mm: tuple[float, float]
    x_mm: float
    y_mm: float
    floor_mm: float
    high_mm: float


@dataclass(frozen=True)
class LeverPlace:
    """A gate lever or a catch: its pivot, its finger, and the arms that it moves.

    ``towards`` is −1 where its jaws stand off their wall towards the input end, +1 the other way;
    ``jaw_mm`` is where they stand along the box; ``reach_mm`` from pivot to tip, the tip below the
    pivot where ``hangs``. ``tip_mm`` is the tip's radius, ``bar_mm`` how wide bars are, and
    ``strip_mm`` arms.
    """

    rail: str
    way: Literal["gate", "catch"]
    wall: str
    wall_mm: tuple[float, float]
    wall_top_mm: float
    towards: int
    jaw_mm: float
    x_mm: float
    y_mm: float
    reach_mm: float
    hangs: bool
    tip_mm: float
    bar_mm: float
    strip_mm: float
    arms: tuple[ShiftArm, ...]

    @property
    def jaw_end_mm(self) -> float:
        """How far a jaw reaches from its middle along the box."""
        return self.tip_mm + PLAY_MM + JAW_WALL_MM

    @property
    def half_width_mm(self) -> float:
        """How far the bars reach to either side of the pivot."""
        return max(abs(arm.x_mm - self.x_mm) for arm in self.arms) + self.bar_mm / 2


def lean_rad(place: LeverPlace, x_mm: float, travel_mm: float) -> tuple[float, float]:
    """Say how a lever leans with its tip at ``x_mm`` and a travel: along the box, and across it.

    Along it is positive towards the output end, across it anticlockwise as seen from the input end.
    A catch slides across instead.
    """
    along_box = asin(travel_mm / place.reach_mm)
    if place.way == "catch":
        return along_box, 0.0
    off = (x_mm - place.x_mm) / sqrt(place.reach_mm**2 - travel_mm**2)
    return along_box, asin(off) if place.hangs else -asin(off)


def lever_places(vehicle: Vehicle, stack: Stack, forks: tuple[Fork, ...]) -> tuple[LeverPlace, ...]:
    """Place the levers, or catches, of a box; none where a drum moves the sleeves.

    One of which not all arms find a way, or whose finger is too short, is left out.
    """
    if vehicle.shifting.actuation == "drum" or stack.own is not None or not forks:
        return ()
    return _places(ThisVehicle(vehicle), Same(stack), Same(forks))


def short_levers(vehicle: Vehicle) -> float | None:
    """Give the least length from pivot to finger where a gate's lever is too short for its rails.

    None where it is long enough.
    """
    if vehicle.shifting.actuation != "gate":
        return None
    lever = vehicle.lever
    widest = max((len(gate.neutral) - 1 for gate in gates(vehicle)), default=0)
    far = lever.rail_pitch_mm * widest / 2
    least = hypot(far, lever.fork_travel_mm) / MOST_LEAN
    if lever.pivot == "below":  # the bars pass over the cradle
        near = lever.rail_pitch_mm * (widest % 2) / 2
        least = max(least, hypot(near, lever.fork_travel_mm) + OVER_CRADLE_MM)
    return ceil(10 * least) / 10 if least > lever.arm_below_mm + 1e-9 else None


def rows_of(vehicle: Vehicle) -> dict[str, tuple[str, ...]]:
    """List the sleeves of each lever or catch, from left to right as seen from the input end."""
    if vehicle.shifting.actuation == "catch":
        return catch_sleeves(vehicle)
    rows: dict[str, tuple[str, ...]] = {}
    for gate in gates(vehicle):
        sleeves = {place.rail: place.sleeve for place in gate.places}
        order = tuple(sleeves[rail] for rail in sorted(sleeves))
        rows[rail_of(order[0])] = order[::-1] if first_at_right(vehicle) else order
    return rows


@lru_cache(maxsize=4)
def _places(
    this: ThisVehicle, same: Same[Stack], same_forks: Same[tuple[Fork, ...]]
) -> tuple[LeverPlace, ...]:
    vehicle, stack, forks = this.vehicle, same.it, same_forks.it
    if short_levers(vehicle) is not None:
        return ()
    room = _Room(vehicle, stack, forks)
    made = []
    rows = rows_of(vehicle)
    for number, (name, sleeves) in enumerate(rows.items()):
        behind = number > 0 and number == len(rows) - 1
        orders = [sleeves, sleeves[::-1]] if vehicle.shifting.actuation == "catch" else [sleeves]
        found = (room.placed(name, order, behind=behind) for order in orders)
        place = next((place for place in found if place is not None), None)
        if place is not None:
            made.append(place)
    return tuple(made)


class _Room:
    """What stands in the way of arms, bars and levers of a placed box."""

    def __init__(self, vehicle: Vehicle, stack: Stack, forks: tuple[Fork, ...]) -> None:
        self.vehicle, self.stack, self.forks = vehicle, stack, forks
        self.by_sleeve = {fork.column: fork for fork in forks}
        made = vehicle.kit.any_seat
        outline = plate_outline(vehicle, stack, forks) if made else None
        self.top = outline[3] if outline is not None else top_of(vehicle, stack, forks)
        self.ties = tie_rounds(vehicle, stack, forks) if made else ()
        self.nuts = nut_spans(vehicle, stack) if made else ()
        self.walls = {} if made else {w.name: w for w in walls_of(vehicle, stack, forks)}
        catch = vehicle.shifting.actuation == "catch"
        lever = vehicle.lever
        self.travel = lever.fork_travel_mm
        self.pitch = vehicle.shifting.catch.column_pitch_mm if catch else lever.rail_pitch_mm
        self.bar = min(max(self.pitch - ROOM_MM, THIN_BAR_MM), WIDEST_BAR_MM)
        self.strip = min(arm_mm(vehicle), self.bar)
        self.tip = max(min(self.pitch / 2 - ROOM_MM, 3.0), 1.0)
        self.step = self.strip + ROOM_MM
        self.base = self.top + ROOM_MM + self.strip / 2
        self.way: Literal["gate", "catch"] = "catch" if catch else "gate"
        self.hangs = catch or lever.pivot == "between"
        self.reach = max(lever.arm_below_mm, self.travel / CATCH_LEAN if catch else 0.0)

    def wall_top(self, number: int) -> float:
        """Give the height of a wall's upper edge."""
        wall, unit = self.walls.get(self.stack.slabs[number]), self.vehicle.kit.grid_unit_mm
        if wall is None:
            return self.top
        rows = [beam.along_u for beam in wall.beams if not beam.upright and not beam.face]
        return (max(rows, default=0.0) + 0.5) * unit

    def placed(self, name: str, sleeves: tuple[str, ...], *, behind: bool) -> LeverPlace | None:
        """Place one lever with all its arms; None where they find no way."""
        rows = [self.by_sleeve.get(sleeve) for sleeve in sleeves]
        own = [fork for fork in rows if fork is not None]
        if not own or len(own) < len(sleeves):
            return None
        legs = [leg for fork in own if (leg := self._leg(fork)) is not None]
        if len(legs) < len(own):
            return None
        slabs = [fork.slab for fork in own]
        walls = self.stack.walls
        after = [wall for wall in walls if wall > max(slabs)]
        before = [wall for wall in walls if wall < min(slabs)]
        if not before or not after:
            return None
        wall = after[0] if behind else before[-1]
        middle = sum(fork.rail.x_mm for fork in own) / len(own)
        for aside in ASIDE[:MOST_STANDS]:
            at = middle + aside * self.pitch / 2
            lines = self._lines(legs, at)
            if lines is not None:
                return self._made(name, wall, at, legs, lines, behind=behind)
        return None

    def _in_the_way(self, fork: Fork, span: tuple[float, float]) -> Floats:
        """List all round things that an arm passes as it slides."""
        stack, vehicle = self.stack, self.vehicle
        start, end = span[0] - self.travel, span[1] + self.travel
        nuts = any(low < end and start < high for low, high in self.nuts)
        rod = vehicle.frame.post_mm / 2
        ties = tuple((x, y, nut if nuts else rod) for x, y, nut in self.ties)
        rows = [in_the_way(vehicle, stack, self.forks, fork, (span, ties))]
        tube = spacer_radius_mm(vehicle)
        for shaft in stack.rods.values():
            if stack.edges_mm[shaft.first] < end and start < stack.edges_mm[shaft.last + 1]:
                rows.append(np.array([(shaft.x_mm, shaft.y_mm, tube)]))
        for post in posts_of(vehicle, stack, self.forks):
            if post.span_mm[0] < end and start < post.span_mm[1]:
                rows.append(np.array([(x, y, 0.0) for x, y in post.outline]))
        unit = vehicle.kit.grid_unit_mm
        beams = () if vehicle.kit.any_seat else tie_places(vehicle, stack, self.forks)
        if beams:
            rows.append(np.array([(x, y, 0.71 * unit) for x, y in beams]))
        for number in stack.walls:
            wall = self.walls.get(stack.slabs[number])
            for beam in wall.beams if wall is not None else ():
                edge = stack.edges_mm[number + (beam.face > 0)]
                low, high = (edge, edge + unit) if beam.face > 0 else (edge - unit, edge)
                if beam.face and low < end and start < high:
                    spots = np.arange(beam.start_u, beam.end_u + 0.25, 0.5) * unit
                    level = np.full_like(spots, beam.along_u * unit)
                    x, y = (level, spots) if beam.upright else (spots, level)
                    far = np.full_like(spots, 0.71 * unit)
                    rows.append(np.column_stack((x, y, far)))
        return np.vstack(rows)

    def _leg(self, fork: Fork) -> Leg | None:
        """Find where along its rail an arm rises clear of everything; None where it does nowhere.

        Beside the fork if it can be, else as near to it as it can.
        """
        for span in self._spans(fork):
            way = self._in_the_way(fork, span)
            start = fork.rail.x_mm, fork.rail.y_mm
            top = self.base + self.step * len(self.forks)
            if not clear_of(way, start, start, arm_mm(self.vehicle) / 2 + ARM_ROOM_MM):
                continue
            tried = (start[0] + aside * self.pitch / 2 for aside in ASIDE)
            half = self.strip / 2 + ARM_ROOM_MM
            rises = [(start, (x, top)) for x in tried if clear_of(way, start, (x, top), half)]
            if rises:
                return Leg(fork, span, tuple(rises[:MOST_RISES]))
        return None

    def _spans(self, fork: Fork) -> Iterator[tuple[float, float]]:
        """List from where to where along the box a fork's arm may stand."""
        beside = arm_span(self.vehicle, self.stack, fork)
        thick, middle = self.vehicle.frame.fork_mm, self.stack.middle_mm(fork.slab)
        if beside is not None and beside[1] - beside[0] > THIN_SHARE * thick:
            yield beside
        room = self.travel + PLAY_MM
        first = self.stack.edges_mm[fork.rail.first + 1] + room
        last = self.stack.edges_mm[fork.rail.last] - room - thick
        count = int((last - first) / SPAN_STEP_MM)
        starts = [first + SPAN_STEP_MM * n for n in range(count + 1)] if last >= first else []
        for start in sorted(starts, key=lambda at: abs(at + thick / 2 - middle)):
            if abs(start + thick / 2 - middle) >= thick + PLAY_MM:  # the fork itself stands there
                yield start, start + thick
        if beside is not None:
            yield beside

    def _lines(self, legs: list[Leg], middle: float) -> Lines | None:
        """Lead every rail over the box to its bar, from left to right; None where none goes."""
        count = len(legs)
        ends = [middle + self.pitch * (n - (count - 1) / 2) for n in range(count)]
        for tries, chosen in enumerate(self._side_by_side(legs, ()), 1):
            lines = self._over(chosen, ends)
            if self._all_apart(legs, lines):
                return lines
            if tries >= MOST_TRIES:
                return None
        return None

    def _side_by_side(
        self, legs: list[Leg], chosen: tuple[Segment, ...]
    ) -> Iterator[tuple[Segment, ...]]:
        """List choices of rising arms that keep clear of one another."""
        number = len(chosen)
        if number == len(legs):
            yield chosen
            return
        for rise in legs[number].rises:
            if all(
                not self._pass(legs[n].span_mm, legs[number].span_mm) or self._apart(other, rise)
                for n, other in enumerate(chosen)
            ):
                yield from self._side_by_side(legs, (*chosen, rise))

    def _over(self, rises: tuple[Segment, ...], ends: list[float]) -> Lines:
        """Lay arms across over the box: those that go the same way one over the other."""
        sides = [x - end for (_, (x, _)), end in zip(rises, ends, strict=True)]
        rights = [n for n, side in enumerate(sides) if side < 0]
        lefts = [n for n, side in enumerate(sides) if side > 0]
        level = dict.fromkeys(range(len(rises)), 0)
        level |= {n: rank for rank, n in enumerate(reversed(rights))}
        level |= {n: rank for rank, n in enumerate(lefts)}
        lines = []
        for n, (start, (x, top)) in enumerate(rises):
            high = self.base + self.step * level[n]
            # the arm turns where it comes to that height on its way up
            share = (high - start[1]) / (top - start[1])
            turn = start[0] + share * (x - start[0])
            lines.append((start, (turn, high), (ends[n], high)))
        return tuple(lines)

    def _all_apart(self, legs: list[Leg], lines: Lines) -> bool:
        """Whether arms that come to the same place along the box keep clear of one another."""
        top = max(line[-1][1] for line in lines) + self.step
        whole = [(*line, (line[-1][0], top)) for line in lines]
        return all(
            not self._pass(legs[n].span_mm, legs[m].span_mm)
            or all(self._apart(a, b) for a in pairwise(whole[n]) for b in pairwise(whole[m]))
            for n, m in combinations(range(len(legs)), 2)
        )

    def _pass(self, one: tuple[float, float], other: tuple[float, float]) -> bool:
        """Whether two arms come to the same place along the box as they slide."""
        return one[0] - 2 * self.travel < other[1] and other[0] - 2 * self.travel < one[1]

    def _apart(self, one: Segment, other: Segment) -> bool:
        """Whether two stretches of arms keep clear of one another."""
        room = self.strip + ROOM_MM / 2
        shares = [k / (SAMPLES - 1) for k in range(SAMPLES)]
        return all(
            to_segment(one, along(other, share)) >= room
            and to_segment(other, along(one, share)) >= room
            for share in shares
        )

    def _lower(self, off: float, last: float, *, level: bool) -> float:
        """How much lower than over a bar's middle the tip is where it comes over the bar's edges.

        ``off`` is the bar's, ``last`` the outermost bar's distance from the pivot.
        """
        if level:
            return 0.0
        near, far = max(abs(off) - self.bar / 2, 0.0), min(abs(off) + self.bar / 2, last)
        here, edge = (sqrt(self.reach**2 - x**2) for x in (off, near if self.hangs else far))
        return max(edge - here if self.hangs else here - edge, 0.0)

    def _made(
        self,
        name: str,
        wall: int,
        middle: float,
        legs: list[Leg],
        lines: Lines,
        *,
        behind: bool,
    ) -> LeverPlace:
        stack, reach = self.stack, self.reach
        ends = [line[-1][0] for line in lines]
        level = self.way == "catch"
        # how far the tip comes to its jaw from the pivot, in neutral and with a gear in
        still = [reach if level else sqrt(reach**2 - (x - middle) ** 2) for x in ends]
        drops = [high - sqrt(high**2 - self.travel**2) for high in still]
        most = max(line[1][1] for line in lines) + self.strip / 2 + ROOM_MM
        # from the tip down to the bar's lower side: room for it as it comes, goes, and shifts
        under = [
            self.tip + FLOOR_MM + SLACK_MM + self._lower(x - middle, ends[-1] - middle, level=level)
            for x in ends
        ]
        if not self.hangs:
            under = [low + drop for low, drop in zip(under, drops, strict=True)]
        if self.hangs:
            y = most + max(high + low for high, low in zip(still, under, strict=True))
        else:
            y = most + max(low - high for high, low in zip(still, under, strict=True))
            y = max(y, self.top + EYE_MM + self.travel + 2 * ROOM_MM)
        towards = 1 if behind else -1
        face = stack.edges_mm[wall + 1] if behind else stack.edges_mm[wall]
        span = (stack.edges_mm[wall], stack.edges_mm[wall + 1])
        off = BEHIND_MM + BODY_MM + PLAY_MM
        jaw = (span[0] + span[1]) / 2 if level else face + towards * off
        arms = []
        for leg, line, x, high, low, drop in zip(
            legs, lines, ends, still, under, drops, strict=True
        ):
            at = y - high if self.hangs else y + high
            floor = at - low
            line_up = (*line, (x, floor + FLOOR_MM / 2))
            above = ROOM_MM + drop if self.hangs else 0.0  # the tip lifts, or sinks
            arms.append(ShiftArm(leg.fork, line_up, leg.span_mm, x, at, floor, at + above))
        return LeverPlace(
            name,
            self.way,
            stack.slabs[wall],
            span,
            self.wall_top(wall),
            towards,
            jaw,
            middle,
            y,
            reach,
            self.hangs,
            self.tip,
            self.bar,
            self.strip,
            tuple(arms),
        )
