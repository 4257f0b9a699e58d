"""What the shafts, wheels and trains of a placed box are called, and to which gear they belong."""

from collections.abc import Sequence
from functools import lru_cache

from mild_badger.core.architectures.places import Columns
from mild_badger.core.architectures.registry import architecture_of
from mild_badger.core.driveline.assemble import assemble, letters_of
from mild_badger.core.drivetrain.graph import Body, Coupling
from mild_badger.core.functions.arrange import arrange
from mild_badger.core.functions.letters import function_letters
from mild_badger.core.functions.prove import build_functions
from mild_badger.core.message import say
from mild_badger.core.structure.stack import HUB
from mild_badger.core.structure.train import Placement
from mild_badger.core.vehicle.bodies import is_idler_shaft, selector_shaft, train_of
from mild_badger.core.vehicle.box import Slot, gear_key, second_key
from mild_badger.core.vehicle.cache_key import ThisVehicle
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.sleeves import describe_sleeve

__all__ = [
    "describe_body",
    "describe_shaft",
    "gear_of_body",
    "names_of_placed",
    "shaft_after_gear",
    "shaft_label",
    "shaft_letter",
]


@lru_cache(maxsize=8)
def _titles(this: ThisVehicle) -> tuple[tuple[str, str], ...]:
    """Give the key of every gear's own trains, and what the gear is called."""
    titles: list[tuple[str, str]] = []
    for gear in this.vehicle.real.gears:
        titles.append((gear_key(gear.id), gear.name))
        titles.append((second_key(gear.id), say("layout.second", name=gear.name)))
    return tuple(titles)


def shaft_letter(vehicle: Vehicle, shaft: str) -> str:
    """Give a shaft's letter; "" for what has none."""
    return _letters(ThisVehicle(vehicle)).get(shaft, "")


def names_of_placed(
    vehicle: Vehicle, gear: str, placed: Placement, bodies: Sequence[str]
) -> tuple[str, ...]:
    """Name the shafts of an engaged gear's train, in the order of its placement.

    ``bodies`` are the drivetrain's ids of the placed gears, in their order. A shaft goes by its
    letter, the first and the last also by what they are: A input. A shaft that has no letter of
    its own has no name.
    """
    names = []
    last = len(placed.shafts_u) - 1
    ends = {0: say("layout.input"), last: say("layout.output")}
    for number in range(len(placed.shafts_u)):
        own = [bodies[n] for n, seated in enumerate(placed.gears) if seated.shaft == number]
        under = next((shaft for body in own if (shaft := _shaft_under(vehicle, body))), "")
        shaft = shaft_after_gear(vehicle, gear) if number == last else under
        names.append(f"{shaft_letter(vehicle, shaft)} {ends.get(number, '')}".strip())
    return tuple(names)


def _shaft_under(vehicle: Vehicle, gear: str) -> str | None:
    """Tell on which shaft a gear is fixed; None for one that turns freely."""
    train = assemble(vehicle)
    for equation in train.touching.get(gear, ()):
        if equation.kind is Coupling.FIXED:
            return next(body for body in equation.bodies if body != gear)
    return None


def shaft_after_gear(vehicle: Vehicle, gear: str) -> str:
    """Tell which shaft a gear's train ends on when the gear is engaged."""
    slot, places = vehicle.box.slot(gear), architecture_of(vehicle.box).places(vehicle.box)
    if isinstance(places, Columns) and isinstance(slot, Slot):
        return selector_shaft(slot.column)
    return vehicle.box.output


def describe_shaft(vehicle: Vehicle, shaft: str) -> str:
    """Name a shaft by its letter: shaft A; one that is gone by the gear it was of."""
    letter = shaft_letter(vehicle, shaft)
    if letter:
        return say("layout.shaft", letter=letter)
    for key, title in _titles(ThisVehicle(vehicle)):
        if train_of(shaft) == key:  # placed for a train that the gear no longer has
            return say(
                "layout.gone", title=title, word="idler" if is_idler_shaft(shaft) else "shaft"
            )
    return describe_sleeve(shaft)


@lru_cache(maxsize=8)
def _letters(this: ThisVehicle) -> dict[str, str]:
    vehicle = this.vehicle
    letters = {entry.shaft: entry.letter for entry in letters_of(vehicle)}
    if vehicle.functions is None:
        return letters
    return letters | dict(function_letters(vehicle, arrange(vehicle, vehicle.functions)))


def gear_of_body(vehicle: Vehicle, body: str) -> str | None:
    """Tell to which gear's own train a body belongs, by the gear's id; None where to none."""
    own = train_of(body)
    return next(
        (gear.id for gear in vehicle.real.gears if own in (gear_key(gear.id), second_key(gear.id))),
        None,
    )


@lru_cache(maxsize=8)
def _bodies(this: ThisVehicle) -> dict[str, Body]:
    """Find the bodies of the box, and of the function box beside it."""
    vehicle = this.vehicle
    bodies = {body.id: body for body in assemble(vehicle).bodies}
    if vehicle.functions is None:
        return bodies
    train = build_functions(vehicle.functions, arrange(vehicle, vehicle.functions))
    return {body.id: body for body in train.bodies} | bodies


def shaft_label(vehicle: Vehicle, shaft: str) -> str:
    """Name a shaft in a list of shafts by its letter and what it is: A, input."""
    letter, body = shaft_letter(vehicle, shaft), _bodies(ThisVehicle(vehicle)).get(shaft)
    if not letter or body is None:
        return describe_shaft(vehicle, shaft)
    return f"{letter}, {body.role or body.name}"


def describe_body(vehicle: Vehicle, body: str) -> str:
    """Name a body of the box as the drivetrain does, a shaft by its letter alone: Shaft A.

    A sleeve, or what is gone, is named by itself.
    """
    letter = shaft_letter(vehicle, body)
    if letter:
        return say("layout.shaft-2", letter=letter)
    if body == HUB:
        return say("layout.hub-with-dogs")
    known = _bodies(ThisVehicle(vehicle)).get(body)
    return known.name if known is not None else describe_shaft(vehicle, body)
