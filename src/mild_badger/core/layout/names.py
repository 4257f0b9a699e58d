"""What the shafts, wheels and trains of a placed box are called, and to which gear they belong."""

from collections.abc import Iterator
from functools import lru_cache

from mild_badger.core.driveline.assemble import assemble
from mild_badger.core.drivetrain.builder import idler_shaft, shaft_after
from mild_badger.core.vehicle.box import gear_key, second_key
from mild_badger.core.vehicle.cache_key import CacheKey, cache_key
from mild_badger.core.vehicle.edit.trains import trains_of
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.train import pair_ids

__all__ = ["body_words", "gear_of_body", "shaft_words"]


def train_titles(vehicle: Vehicle) -> Iterator[tuple[str, str]]:
    """Give the key of every gear's own trains, and what the gear is called."""
    for gear in vehicle.real.gears:
        yield gear_key(gear.id), gear.name
        yield second_key(gear.id), f"{gear.name}, second"


def shaft_words(vehicle: Vehicle, shaft: str) -> str:
    """Name a shaft in few words: input 1, selector 1, 3: shaft 1, 3: idler, R: idler 2."""
    names = tuple((gear.id, gear.name) for gear in vehicle.real.gears)
    known = _shafts(CacheKey((vehicle.box, names), vehicle)).get(shaft)
    if known:
        return known
    for key, title in train_titles(vehicle):
        if shaft.startswith(f"{key}/"):  # placed for a train that the gear no longer has
            return f"{title}: {'idler' if 'idler' in shaft[len(key) :] else 'shaft'}, gone"
    return shaft.replace(".", " ")


@lru_cache(maxsize=8)
def _shafts(key: CacheKey) -> dict[str, str]:
    """Name the shafts of the gears' own trains, counted in the order in which the power meets them.

    Idlers and the shafts between pairs are counted apart; an only idler needs no number.
    """
    vehicle, words = key.vehicle, {}
    trains = trains_of(vehicle)
    for own_key, title in train_titles(vehicle):
        train = trains[own_key][1] if own_key in trains else ()
        ids = pair_ids(train)
        idlers = [
            idler_shaft(own_key, own, place)
            for own, pair in zip(ids, train, strict=True)
            for place in range(len(pair.idlers))
        ]
        for number, shaft in enumerate(idlers, 1):
            words[shaft] = f"{title}: idler {number}" if len(idlers) > 1 else f"{title}: idler"
        for number, own in enumerate(ids[:-1], 1):
            words[shaft_after(own_key, own)] = f"{title}: shaft {number}"
    return words


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
def _bodies(key: CacheKey) -> dict[str, str]:
    return {body.id: body.name for body in assemble(key.vehicle).bodies}


def body_words(vehicle: Vehicle, body: str) -> str:
    """Name a body of the box as the drivetrain does; a sleeve or a thing that is gone by itself."""
    return _bodies(cache_key(vehicle)).get(body) or shaft_words(vehicle, body)
