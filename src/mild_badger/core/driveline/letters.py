"""Which shaft of a vehicle has which letter."""

from collections.abc import Container, Iterator
from heapq import heappop, heappush

from mild_badger.core.drivetrain.graph import Coupling, Drivetrain
from mild_badger.core.ids import ShaftId
from mild_badger.core.vehicle.bodies import CLUTCH, MOTOR
from mild_badger.core.vehicle.letters import ShaftLetter, with_letters

__all__ = ["letters_in", "shaft_order"]

NOT_LETTERED = frozenset({MOTOR, CLUTCH})
"""The motor's own shaft and a clutch's driven side, which sit on the input."""
BEYOND_SLEEVE = 1000
"""Farther than any body is from another without a sleeve between them."""


def shaft_order(train: Drivetrain, start: ShaftId) -> tuple[ShaftId, ...]:
    """List the shafts in the order in which the power may meet them, whatever gear is engaged.

    From the box's input on; then what else the motor drives, then what hangs on nothing. Shafts
    that only a sleeve leads to come after those that always turn.
    """
    order: dict[str, None] = {}
    for first in (start, train.source, *train.index):
        if first in train.index and first not in order:
            order |= dict.fromkeys(_reached(train, first, order))
    return tuple(body for body in order if train.index[body].kind == "shaft")


def _reached(train: Drivetrain, first: str, known: Container[str]) -> Iterator[str]:
    """Go from a body to all that are coupled to it, the nearest first, the motor left out."""
    waiting, seen = [(0, 0, first)], {first, *NOT_LETTERED}
    number = 0
    while waiting:
        far, _, body = heappop(waiting)
        if body not in NOT_LETTERED and body not in known:
            yield body
        for equation in train.touching[body]:
            step = BEYOND_SLEEVE if equation.kind is Coupling.DOG else 1
            for other in equation.bodies:
                if other not in seen:
                    seen.add(other)
                    number += 1
                    heappush(waiting, (far + step, number, other))


def letters_in(
    train: Drivetrain, known: tuple[ShaftLetter, ...], start: ShaftId
) -> tuple[ShaftLetter, ...]:
    """Give the letters that are known, and the next ones to shafts that have none."""
    return with_letters(known, shaft_order(train, start))
