"""Readings as the builder types them, and the edits that note, tick and take them away."""

from mild_badger.core.errors import InputError
from mild_badger.core.ids import ReadingId
from mild_badger.core.message import say
from mild_badger.core.targets.schools import parse_number
from mild_badger.core.trial.expected import further_rows, positions
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.trial import Reading

__all__ = ["USUAL_PERCENT", "forget_all", "forget_reading", "note_reading", "tick", "typed_reading"]

USUAL_PERCENT = 2.0
"""What a reading by hand and eye is uncertain by, unless the builder says so (no source)."""


def typed_reading(
    place: tuple[str, str], *, turned_in: str, turned_out: str, percent: str, way: int
) -> Reading:
    """Read what was typed: turns or rpm of the input and of the body, and how sure they are.

    Parameters
    ----------
    place
        Position and body.
    turned_in, turned_out
        Turns counted over the same time, or both speeds in rpm.
    percent
        Half the width of the interval that holds the ratio with 95 %, in % of it; empty takes the
        usual 2 %.
    way
        +1 as the input (a wheel: forwards), −1 against it, 0 nobody looked.

    Raises
    ------
    InputError
        A number that cannot be used.
    """
    position, body = place
    given = parse_number(turned_in, what=say("trial.turns-of-the-input"))
    if given <= 0:
        raise InputError(say("trial.turns-of-the-input-give-how-often-it-was"))
    taken = parse_number(turned_out, what=say("trial.turns-there"))
    if taken < 0:
        raise InputError(say("trial.turns-there-give-how-often-it-turned-its-way"))
    unsure = parse_number(percent, what="Uncertainty") if percent.strip() else USUAL_PERCENT
    if not 0 <= unsure <= 100:
        raise InputError(say("trial.uncertainty-give-0-to-100-of-what-was-read"))
    turns = taken / given
    if turns > 1000:
        raise InputError(say("trial.turns-for-one-of-the-input-are-the-two", turns=turns))
    sign = 0 if not turns or not way else 1 if way > 0 else -1
    return Reading(
        position=position,
        body=body,
        turns=turns,
        spread=turns * unsure / 100,
        way=1 if sign > 0 else -1 if sign else 0,
    )


def note_reading(vehicle: Vehicle, reading: Reading) -> Edit:
    """Note a reading; one of the same place in the same position is read anew."""
    place = (reading.position, reading.body)
    kept = [r for r in vehicle.trial.readings if (r.position, r.body) != place]
    before = (r.id for r in vehicle.trial.readings if (r.position, r.body) == place)
    label = say("trial.note-a-reading-in", gear_name=vehicle.gear_name(reading.position))
    made = vehicle.new_id("reading", (r.id for r in vehicle.trial.readings))
    new = reading.model_copy(update={"id": next(before, ReadingId(made))})
    return Edit.one(label, ("trial", "readings"), [*kept, new])


def forget_reading(vehicle: Vehicle, reading: Reading) -> Edit:
    """Take a reading away."""
    kept = [r for r in vehicle.trial.readings if r.id != reading.id]
    return Edit.one(
        say("trial.forget-a-reading-in", gear_name=vehicle.gear_name(reading.position)),
        ("trial", "readings"),
        kept,
    )


def forget_all(vehicle: Vehicle) -> Edit:
    """Begin the trial anew: no readings, no ticks."""
    fresh = vehicle.trial.model_copy(update={"readings": (), "ticks": ()})
    return Edit.one(say("trial.begin-the-trial-anew"), ("trial",), fresh)


def tick(vehicle: Vehicle, position: str, done: bool) -> Edit:
    """Tick a position off, or take its tick away; ticks of positions that are gone go too."""
    order = (*positions(vehicle), *(step.key for step in further_rows(vehicle)))
    wanted = {*vehicle.trial.ticks, position} if done else {*vehicle.trial.ticks} - {position}
    words = say("trial.tick-off") if done else say("trial.take-the-tick-from")
    return Edit.one(
        f"{words} {vehicle.gear_name(position)}",
        ("trial", "ticks"),
        [p for p in order if p in wanted],
    )
