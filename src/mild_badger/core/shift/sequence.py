"""The shift sequence as it is played: where hand, forks and sleeves are at every instant.

Frames stand where something begins or ends to move; between two of them everything goes evenly.
"""

from dataclasses import dataclass
from itertools import pairwise

from mild_badger.core.message import say
from mild_badger.core.shift.catch import catch_sleeves
from mild_badger.core.shift.drum import SIDES, DrumLayout, drum_layout, drum_order
from mild_badger.core.shift.moves import Move, shift_between
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.sleeves import column_of, rail_of

__all__ = ["ShiftFrame", "frame_at", "play", "usual_run"]

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


def play(vehicle: Vehicle, run: tuple[str | None, ...]) -> tuple[ShiftFrame, ...]:
    """List the frames of a run from gear to gear; None is neutral.

    A drum passes every position between two gears of the run; a lever and a catch move one sleeve
    after another, and hold still for a step at each gear.
    """
    if len(run) < 1:
        return ()
    if vehicle.shifting.actuation == "drum":
        return _drum(vehicle, run)
    return _hand(vehicle, run)


def frame_at(frames: tuple[ShiftFrame, ...], time_s: float) -> ShiftFrame:
    """Interpolate the instant at a time; before the first and after the last it stands still."""
    if time_s <= frames[0].time_s:
        return frames[0]
    for one, other in pairwise(frames):
        if time_s <= other.time_s:
            way = other.time_s - one.time_s
            if way <= NEAR or time_s == other.time_s:
                return other
            share = (time_s - one.time_s) / way
            return ShiftFrame(
                time_s,
                {s: _mix(x, other.sleeves[s], share) for s, x in one.sleeves.items()},
                {
                    k: (_mix(a, other.hands[k][0], share), _mix(b, other.hands[k][1], share))
                    for k, (a, b) in one.hands.items()
                },
                one.gears if one.gears == other.gears else (),
                other.words,
            )
    return frames[-1]


def _mix(one: float, other: float, share: float) -> float:
    return one + share * (other - one)


def _name(vehicle: Vehicle, gear: str | None) -> str:
    return say("shift.gear", gear_name=vehicle.gear_name(gear)) if gear else say("shift.neutral")


def _hand(vehicle: Vehicle, run: tuple[str | None, ...]) -> tuple[ShiftFrame, ...]:
    """Play a lever's or a catch's run."""
    rows = catch_sleeves(vehicle)
    catch = vehicle.shifting.actuation == "catch"
    if not catch:
        rows = {kind: tuple(sorted(row, key=_number)) for kind, row in rows.items()}
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
    frames = [_frame(vehicle, time, sleeves, hands, say("shift.in", name=_name(vehicle, run[0])))]

    def step(seconds: float, words: str) -> None:
        nonlocal time
        time += seconds
        frames.append(_frame(vehicle, time, sleeves, hands, words))

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
    depth = min(vehicle.shifting.drum.dog_depth_mm, travel) / travel
    return _frame(vehicle, time, sleeves, {"drum": (angle, 0.0)}, words, depth=depth)


def _frame(
    vehicle: Vehicle,
    time: float,
    sleeves: dict[str, float],
    hands: dict[str, tuple[float, float]],
    words: str,
    *,
    depth: float = NEAR,
) -> ShiftFrame:
    """Make a frame; a sleeve is in while it stands no more than its dogs' depth short."""
    gears = tuple(
        gear.id
        for gear in vehicle.real.gears
        if vehicle.box.ready(gear.id)
        and all(
            SIDES[face] * sleeves.get(sleeve, 0.0) > 1 - depth + NEAR * (depth > 2 * NEAR)
            for sleeve, face in vehicle.box.engaged(gear.id).items()
        )
    )
    return ShiftFrame(time, dict(sleeves), dict(hands), gears, words)


def _number(sleeve: str) -> int:
    return column_of(sleeve)
