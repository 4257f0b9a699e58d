"""What the shafts, wheels and trains of a placed box are called, and to which gear they belong."""

from collections.abc import Iterator
from functools import lru_cache

from mild_badger.core.drivetrain.assemble import assemble
from mild_badger.core.drivetrain.boxes import idler_shaft
from mild_badger.core.vehicle.box import gear_key, second_key
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["body_words", "gear_of_body", "shaft_words"]


def train_titles(vehicle: Vehicle) -> Iterator[tuple[str, str]]:
    """Give the key of every gear's own trains, and what the gear is called."""
    for gear in vehicle.real.gears:
        yield gear_key(gear.id), gear.name
        yield second_key(gear.id), f"{gear.name}, second"


def shaft_words(vehicle: Vehicle, shaft: str) -> str:
    """Name a shaft in few words: input 1, selector 1, 3: idler 1."""
    for key, title in train_titles(vehicle):
        if shaft.startswith(f"{key}/"):
            rest = shaft[len(key) + 1 :]
            first = shaft == idler_shaft(key, "0", 0)  # mostly the only one
            return f"{title}: {'idler' if first else rest.replace('idler shaft', 'idler')}"
    return shaft.replace(".", " ")


def gear_of_body(vehicle: Vehicle, body: str) -> str | None:
    """Tell to which gear's own train a body belongs, by the gear's id; None where to none."""
    return next(
        (
            gear.id
            for gear in vehicle.real.gears
            if body.startswith((f"{gear_key(gear.id)}/", f"{second_key(gear.id)}/"))
        ),
        None,
    )


@lru_cache(maxsize=8)
def _bodies(vehicle: Vehicle) -> dict[str, str]:
    return {body.id: body.name for body in assemble(vehicle).bodies}


def body_words(vehicle: Vehicle, body: str) -> str:
    """Name a body of the box as the drivetrain does; a sleeve or a thing that is gone by itself."""
    return _bodies(vehicle).get(body) or shaft_words(vehicle, body)
