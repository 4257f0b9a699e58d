"""From every gear to every gear with the actuator at hand: how many moves, which, how long."""

from dataclasses import dataclass

from mild_badger.core.message import say, say_count
from mild_badger.core.shift.catch import catch_shift
from mild_badger.core.shift.drum import drum_layout
from mild_badger.core.shift.moves import shift_between
from mild_badger.core.shift.sequence import play
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["ShiftRoute", "shift_ways", "way_between"]


@dataclass(frozen=True)
class ShiftRoute:
    """One shift; None is neutral.

    ``count`` is the moves of a lever or a catch, or the steps of a drum, None where the drum has
    no position for one of them; ``one_pull`` marks a lever's or catch's straight pull through
    neutral.
    """

    start: str | None
    end: str | None
    count: int | None
    words: str
    seconds: float
    one_pull: bool = False


def way_between(vehicle: Vehicle, start: str | None, end: str | None) -> ShiftRoute:
    """Say how a gear is changed for another."""
    if vehicle.shifting.actuation == "drum":
        return _turned(vehicle, start, end)
    frames = play(vehicle, (start, end)).frames
    seconds = frames[-2].time_s if len(frames) > 1 else 0.0
    shift = shift_between(vehicle.box, start, end)
    if vehicle.shifting.actuation == "catch":
        moves = catch_shift(vehicle, start, end)
        words = moves.words
        if moves.slides:
            words += say(
                "shift.tilts-along",
                tilts=moves.tilts,
                column=say_count("count.column", moves.slides),
            )
        return ShiftRoute(start, end, moves.moves, words, moves.seconds, shift.one_pull)
    return ShiftRoute(start, end, len(shift.moves), shift.summary, seconds, shift.one_pull)


def shift_ways(vehicle: Vehicle) -> tuple[tuple[ShiftRoute, ...], ...]:
    """Give the way from every gear to every gear, neutral first; rows are where they start."""
    ready = (g.id for g in vehicle.real.gears if vehicle.box.ready(g.id))
    every = (None, *ready)
    return tuple(tuple(way_between(vehicle, a, b) for b in every) for a in every)


def _turned(vehicle: Vehicle, start: str | None, end: str | None) -> ShiftRoute:
    positions = drum_layout(vehicle).positions
    place = {position.gear: n for n, position in enumerate(positions)}
    if start not in place or end not in place:
        missing = start if start not in place else end
        name = (
            say("shift.gear", gear_name=vehicle.gear_name(missing))
            if missing
            else say("shift.neutral")
        )
        sentence = say("shift.the-drum-has-no-position-for-2", name=name)
        return ShiftRoute(start, end, None, sentence, 0.0)
    steps = place[end] - place[start]
    if not steps:
        return ShiftRoute(start, end, 0, say("shift.nothing-moves"), 0.0)
    angle = positions[place[end]].angle_deg - positions[place[start]].angle_deg
    passed = positions[min(place[start], place[end]) + 1 : max(place[start], place[end])]
    names = [
        vehicle.gear_name(position.gear or "N")
        for position in (passed if steps > 0 else passed[::-1])
    ]
    through = say("shift.through", listed=", ".join(names)) if names else ""
    words = say(
        "shift.turn-the-drum-by",
        word="on" if steps > 0 else "back",
        angle=abs(angle),
        through=through,
    )
    seconds = abs(angle) / (6 * vehicle.shifting.drum.rpm)
    return ShiftRoute(start, end, abs(steps), words, seconds)
