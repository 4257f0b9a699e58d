"""The letters of a function box's shafts, which go on after those of the box."""

from collections.abc import Mapping
from functools import lru_cache

from mild_badger.core.driveline.assemble import letters_of
from mild_badger.core.driveline.letters import shaft_order
from mild_badger.core.functions.arrange import Arrangement, arrange
from mild_badger.core.functions.prove import INPUT, MOTOR, build_functions
from mild_badger.core.ids import ShaftId
from mild_badger.core.vehicle.functions import FunctionBox
from mild_badger.core.vehicle.letters import ShaftLetter, with_letters
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["function_letters", "with_function_letters"]


def _shaft(body: str) -> ShaftId:
    """Give the id under which a function box's shaft is known in the vehicle."""
    return f"functions/{body}"


@lru_cache(maxsize=16)
def _shafts(box: FunctionBox, arrangement: Arrangement) -> tuple[str, ...]:
    """List the shafts in the order of the power; what runs free on another one is none.

    The motor's own shaft has no letter, as in the box.
    """
    free = {f"{branch.key}/{part}" for branch in arrangement.branches for part in ("head", "tail")}
    order = shaft_order(build_functions(box, arrangement), INPUT)
    return tuple(body for body in order if body != MOTOR and body not in free)


def _letters(vehicle: Vehicle, shafts: tuple[str, ...]) -> tuple[ShaftLetter, ...]:
    return with_letters(letters_of(vehicle), map(_shaft, shafts))


def function_letters(vehicle: Vehicle, arrangement: Arrangement) -> Mapping[str, str]:
    """Give the letter of every shaft of a function box by its body; none where there is no box."""
    if vehicle.functions is None:
        return {}
    shafts = _shafts(vehicle.functions, arrangement)
    of = {entry.shaft: entry.letter for entry in _letters(vehicle, shafts)}
    return {body: of[_shaft(body)] for body in shafts if _shaft(body) in of}


def with_function_letters(vehicle: Vehicle) -> Vehicle:
    """Write the letters of new shafts into the document; the same vehicle where there is none."""
    if vehicle.functions is None:
        return vehicle
    shafts = _shafts(vehicle.functions, arrange(vehicle, vehicle.functions))
    now = _letters(vehicle, shafts)
    if now == vehicle.shaft_letters:
        return vehicle
    return vehicle.model_copy(update={"shaft_letters": now})
