"""The shift sequence as it is played: where hand, forks and sleeves are at every instant.

Frames stand where something begins or ends to move; between two of them everything goes evenly.
Which gears are in follows at every instant from where the sleeves stand, so that drums whose
sleeves overlap show both.
"""

from bisect import bisect_left
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from itertools import pairwise

from mild_badger.core.message import say
from mild_badger.core.shift.catch import catch_sleeves
from mild_badger.core.shift.drum import SIDES, DrumLayout, drum_layout, drum_order
from mild_badger.core.shift.moves import Move, shift_between
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.sleeves import column_of, rail_of

__all__ = ["PlayedRun", "ShiftFrame", "Span", "hand_rows", "play", "usual_run"]

NEAR = 1e-9


@dataclass(frozen=True)
class ShiftFrame:
    """One instant.

    ``sleeves`` are each sleeve's place, −1 front, 0 neutral, +1 back; ``hands`` say for every
    shifter where it stands: a lever's finger or a catch as (rail or column counted from 0, throw
    −1 to +1), a drum as (angle in degrees, 0). ``gears`` are those whose sleeves are in.
    """

    time_s: float
    sleeves: dict[str, float]
    hands: dict[str, tuple[float, float]]
    gears: tuple[str, ...]
    words: str


@dataclass(frozen=True)
class Span:
    """For how long a gear is in, s."""

    gear: str
    from_s: float
    to_s: float


@dataclass(frozen=True)
class PlayedRun:
    """A run of shifts.

    ``sides`` tell for every gear where its sleeves have to be, −1 front, +1 back; one is in while
    it stands less than ``depth`` short of its end, as a share of its travel.
    """

    frames: tuple[ShiftFrame, ...]
    sides: Mapping[str, Mapping[str, int]]
    depth: float

    @property
    def seconds(self) -> float:
        """How long it takes."""
        return self.frames[-1].time_s if self.frames else 0.0

    def gears_in(self, sleeves: Mapping[str, float]) -> tuple[str, ...]:
        """List the gears whose sleeves are all in."""
        least = 1 - self.depth + NEAR * (self.depth > 2 * NEAR)
        return tuple(
            gear
            for gear, sides in self.sides.items()
            if all(side * sleeves.get(sleeve, 0.0) > least for sleeve, side in sides.items())
        )

    def at(self, time_s: float) -> ShiftFrame:
        """Give the instant at a time; before the first and after the last it stands still."""
        times = [frame.time_s for frame in self.frames]
        later = bisect_left(times, time_s)
        if later == 0 or later == len(times):
            return self.frames[min(later, len(times) - 1)]
        one, other = self.frames[later - 1], self.frames[later]
        way = other.time_s - one.time_s
        if way <= NEAR or time_s == other.time_s:
            return other
        share = (time_s - one.time_s) / way
        sleeves = {s: _mix(x, other.sleeves[s], share) for s, x in one.sleeves.items()}
        hands = {
            k: (_mix(a, other.hands[k][0], share), _mix(b, other.hands[k][1], share))
            for k, (a, b) in one.hands.items()
        }
        return ShiftFrame(time_s, sleeves, hands, self.gears_in(sleeves), other.words)

    def spans(self) -> tuple[Span, ...]:
        """List for how long each gear is in, exactly, in the order in which they come in."""
        made: list[Span] = []
        for gear in self.sides:
            for start, end in self._times_in(gear):
                if made and made[-1].gear == gear and start - made[-1].to_s <= NEAR:
                    made[-1] = Span(gear, made[-1].from_s, end)
                else:
                    made.append(Span(gear, start, end))
        return tuple(sorted(made, key=lambda span: (span.from_s, span.to_s)))

    def _times_in(self, gear: str) -> Iterator[tuple[float, float]]:
        """Give for each step between two frames from when to when a gear is in."""
        least = 1 - self.depth
        for one, other in pairwise(self.frames):
            low, high = 0.0, 1.0
            for sleeve, side in self.sides[gear].items():
                a, b = side * one.sleeves.get(sleeve, 0.0), side * other.sleeves.get(sleeve, 0.0)
                if max(a, b) < least:
                    low, high = 1.0, 0.0
                elif a < least <= b:
                    low = max(low, (least - a) / (b - a))
                elif b < least <= a:
                    high = min(high, (a - least) / (a - b))
            if high > low:
                way = other.time_s - one.time_s
                yield one.time_s + low * way, one.time_s + high * way


def usual_run(vehicle: Vehicle) -> tuple[str | None, ...]:
    """Give the run N 1 … n … 1 N; on a drum in the order of its positions."""
    if vehicle.shifting.actuation == "drum":
        order = drum_order(vehicle)
        start = order.index(None) if None in order else 0
        up = order[start:]
    else:
        ready = [g for g in vehicle.real.gears if vehicle.box.ready(g.id)]
        up = (None, *(g.id for g in ready if not g.reverse))
    return (*up, *reversed(up[:-1]))


def play(vehicle: Vehicle, run: tuple[str | None, ...]) -> PlayedRun:
    """Play a run from gear to gear; None is neutral.

    A drum passes every position between two gears of the run; a lever and a catch move one sleeve
    after another, and hold still for a step at each gear.
    """
    sides = {
        gear.id: {s: SIDES[face] for s, face in vehicle.box.engaged(gear.id).items()}
        for gear in vehicle.real.gears
        if vehicle.box.ready(gear.id)
    }
    drum = vehicle.shifting.actuation == "drum"
    travel = vehicle.lever.fork_travel_mm
    depth = min(vehicle.shifting.drum.dog_depth_mm, travel) / travel if drum else NEAR
    played = PlayedRun((), sides, depth)
    if not run:
        return played
    frames = (_drum if drum else _hand)(vehicle, run)
    return PlayedRun(
        tuple(
            ShiftFrame(f.time_s, f.sleeves, f.hands, played.gears_in(f.sleeves), f.words)
            for f in frames
        ),
        sides,
        depth,
    )


def hand_rows(vehicle: Vehicle) -> dict[str, tuple[str, ...]]:
    """List the sleeves that each lever or catch goes over, in the order of its own places."""
    rows = catch_sleeves(vehicle)
    if vehicle.shifting.actuation == "catch":
        return rows
    return {kind: tuple(sorted(row, key=column_of)) for kind, row in rows.items()}


def _mix(one: float, other: float, share: float) -> float:
    return one + share * (other - one)


def _name(vehicle: Vehicle, gear: str | None) -> str:
    return say("shift.gear", gear_name=vehicle.gear_name(gear)) if gear else say("shift.neutral")


def _hand(vehicle: Vehicle, run: tuple[str | None, ...]) -> tuple[ShiftFrame, ...]:
    """Play a lever's or a catch's run."""
    rows = hand_rows(vehicle)
    catch = vehicle.shifting.actuation == "catch"
    across_s = vehicle.shifting.catch.slide_s if catch else vehicle.lever.step_s
    throw_s = vehicle.shifting.catch.tilt_s if catch else vehicle.lever.step_s
    sleeves = {s: 0.0 for row in rows.values() for s in row}
    hands = dict.fromkeys(rows, (0.0, 0.0))
    first = vehicle.box.engaged(run[0]) if run[0] else {}
    for sleeve, face in first.items():
        kind = rail_of(sleeve)
        sleeves[sleeve] = float(SIDES[face])
        hands[kind] = (float(rows[kind].index(sleeve)), float(SIDES[face]))
    time = 0.0
    words = say("shift.in", name=_name(vehicle, run[0]))
    frames = [ShiftFrame(time, dict(sleeves), dict(hands), (), words)]

    def step(seconds: float, words: str) -> None:
        nonlocal time
        time += seconds
        frames.append(ShiftFrame(time, dict(sleeves), dict(hands), (), words))

    for one, other in pairwise(run):
        moves: tuple[Move, ...] = shift_between(vehicle.box, one, other).moves
        for move in moves:
            kind = rail_of(move.sleeve)
            rail = float(rows[kind].index(move.sleeve))
            if hands[kind][0] != rail:
                columns = abs(hands[kind][0] - rail)
                hands[kind] = (rail, 0.0)
                sentence = (
                    say("shift.slide-to-column", rail=int(rail) + 1)
                    if catch
                    else say("shift.over-to-rail", rail=rail + 1)
                )
                step(across_s * columns, sentence)
            place = float(SIDES[move.end]) if move.end else 0.0
            sleeves[move.sleeve] = place
            hands[kind] = (rail, place)
            step(throw_s, move.summary)
        step(max(throw_s, 0.4), say("shift.in", name=_name(vehicle, other)))
    return tuple(frames)


def _drum(vehicle: Vehicle, run: tuple[str | None, ...]) -> tuple[ShiftFrame, ...]:
    layout = drum_layout(vehicle)
    where = {p.gear: p.angle_deg for p in layout.positions}
    angle = where.get(run[0], layout.positions[0].angle_deg if layout.positions else 0.0)
    time = 0.0
    frames = [_turned(vehicle, layout, time, angle, say("shift.in", name=_name(vehicle, run[0])))]
    corners = sorted({a for track in layout.tracks for a, _ in track.points})
    for one, other in pairwise(run):
        if one not in where or other not in where:
            continue
        goal = where[other]
        between = [a for a in corners if min(angle, goal) < a < max(angle, goal)]
        for corner in (*sorted(between, reverse=goal < angle), goal):
            time += abs(corner - angle) / (6 * vehicle.shifting.drum.rpm)
            angle = corner
            words = (
                say("shift.to-2", name=_name(vehicle, one), name_2=_name(vehicle, other))
                if corner != goal
                else say("shift.in", name=_name(vehicle, other))
            )
            frames.append(_turned(vehicle, layout, time, angle, words))
        time += 0.4
        frames.append(
            _turned(vehicle, layout, time, angle, say("shift.in", name=_name(vehicle, other)))
        )
    return tuple(frames)


def _turned(
    vehicle: Vehicle, layout: DrumLayout, time: float, angle: float, words: str
) -> ShiftFrame:
    travel = vehicle.lever.fork_travel_mm
    sleeves = {t.sleeve: t.travel_at(angle) / travel for t in layout.tracks}
    return ShiftFrame(time, sleeves, {"drum": (angle, 0.0)}, (), words)
