"""Ratios filled in between two ends, and ratios from wanted top speeds."""

from math import pi

from mild_badger.core.errors import InputError
from mild_badger.core.figures import in_km_h
from mild_badger.core.message import say
from mild_badger.core.vehicle.box import MAX_GEARS
from mild_badger.core.vehicle.model import RealVehicle

__all__ = ["MOST_PROGRESSION", "fill_ratios", "ratio_for_speed"]

MOST_PROGRESSION = 1.5


def fill_ratios(
    first: float, last: float, count: int, *, progression: float = 1.0
) -> tuple[float, ...]:
    """Fill in the ratios of ``count`` gears from the first to the last.

    Geometric with ``progression`` 1: every step alike. With more, each step is that much greater
    than the next one up, so that steps shrink towards the top:
    i_n = i_z · φ1^(z−n) · φ2^((z−n)(z−n−1)/2), φ2 the progression, 1.0 to 1.2 as a rule
    (Naunheimer et al., *Automotive Transmissions*, from memory). Rounded to four decimals.

    Raises
    ------
    InputError
        Too few or too many gears, ends that are not positive or not falling, or a progression
        with which the steps would not all be greater than one.
    """
    if not 2 <= count <= MAX_GEARS:
        raise InputError(
            say("targets.number-of-gears-must-be-2-to", count=count, max_gears=MAX_GEARS)
        )
    if not 0.01 <= last < first <= 1000:
        raise InputError(
            say("targets.the-first-ratio-must-be-greater-than-the", first=first, last=last)
        )
    if not 1 <= progression <= MOST_PROGRESSION:
        raise InputError(
            say(
                "targets.progression-must-be-1-all-steps-alike-to",
                progression=progression,
                most_progression=MOST_PROGRESSION,
            )
        )
    top = count - 1
    smallest = (first / last / progression ** (top * (top - 1) / 2)) ** (1 / top)
    if smallest <= 1:
        raise InputError(
            say(
                "targets.progression-with-the-steps-at-the-top-would",
                progression=progression,
                smallest=smallest,
            )
        )
    return tuple(
        round(last * smallest**left * progression ** (left * (left - 1) / 2), 4)
        for left in range(top, -1, -1)
    )


def ratio_for_speed(real: RealVehicle, speed_km_h: float) -> float:
    """Give the ratio whose road speed at the limit is a wanted top speed.

    Raises
    ------
    InputError
        A speed that no ratio from 0.01 to 1000 gives.
    """
    if not speed_km_h > 0:
        raise InputError(
            say("targets.top-speed-must-be-greater-than-zero", speed_km_h=in_km_h(speed_km_h))
        )
    rim_mm_s = pi * real.tyre_diameter_mm * real.limit_rpm / 60
    ratio = rim_mm_s / (speed_km_h / 0.0036) / real.final_drive
    if not 0.01 <= ratio <= 1000:
        raise InputError(
            say(
                "targets.top-speed-would-need-a-ratio-of-it-must-be-0",
                speed_km_h=in_km_h(speed_km_h),
                ratio=ratio,
            )
        )
    return ratio
