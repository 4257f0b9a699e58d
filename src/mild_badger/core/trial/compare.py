"""Readings beside the plan: how far each is off, in per cent, and what to say of it."""

from dataclasses import dataclass

from mild_badger.core.message import say
from mild_badger.core.trial.expected import agrees, describe_reading, expected, places
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.trial import Reading
from mild_badger.core.words import signed

__all__ = ["Deviation", "deviations"]


@dataclass(frozen=True)
class Deviation:
    """A reading against the plan.

    ``percent`` and ``spread_percent`` are None where there is no ratio to compare: it jams, stands,
    hangs free, or the place is no more. ``agrees`` None says that the vehicle has changed.
    """

    reading: Reading
    place: str
    percent: float | None
    spread_percent: float | None
    agrees: bool | None
    mark: str
    words: str


def deviations(vehicle: Vehicle) -> tuple[Deviation, ...]:
    """Set every reading beside the plan, in the order in which they were noted."""
    names = {place.body: place.name for place in places(vehicle)}
    rows = []
    for reading in vehicle.trial.readings:
        fits = agrees(vehicle, reading)
        name = names.get(reading.body, reading.body)
        if fits is None:
            position = vehicle.gear_name(reading.position)
            words = say(
                "trial.the-vehicle-has-no-such-place-any-more", position=position, name=name
            )
            rows.append(
                Deviation(reading, name, None, None, None, say("trial.no-such-place"), words)
            )
            continue
        planned = expected(vehicle, reading.position, reading.body)
        percent = spread = None
        if planned and reading.turns:
            percent = 100 * (reading.turns / abs(float(planned)) - 1)
            spread = 100 * reading.spread / abs(float(planned))
        mark = _mark(reading, fits, percent, free=planned is None)
        rows.append(
            Deviation(
                reading, name, percent, spread, fits, mark, describe_reading(vehicle, reading)
            )
        )
    return tuple(rows)


def _mark(reading: Reading, fits: bool, percent: float | None, *, free: bool) -> str:
    if reading.jams:
        return "jams"
    if not reading.turns:
        return say("trial.stands") if not fits or free else say("trial.stands-as-planned")
    if free:
        return say("trial.should-hang-free")
    sentence = "" if percent is None else f"{signed(round(percent, 2) + 0.0, '+.2f')} %"
    if not fits and percent is not None and abs(percent) < 1:
        return say("trial.wrong-way", sentence=sentence)
    return sentence
