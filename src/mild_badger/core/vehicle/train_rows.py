"""A train pair by pair: the gears in mesh order, with the shaft that each sits on."""

from collections.abc import Iterator, Sequence

from mild_badger.core.vehicle.bodies import gear_body, idler_shaft, shaft_after
from mild_badger.core.vehicle.train import GearPair, pair_ids

__all__ = ["GearRow", "train_rows"]

GearRow = tuple[tuple[str, int, str], ...]
"""Body, teeth and shaft of each gear of a pair: driver, idlers, driven."""


def train_rows(
    key: str, train: Sequence[GearPair], start: str, end: str
) -> Iterator[tuple[GearPair, GearRow]]:
    """List a train's pairs from the shaft that feeds it on to the shaft where it ends.

    ``key`` is the train's own, which the ids of its bodies begin with.
    """
    here = start
    for number, (pair, own) in enumerate(zip(train, pair_ids(train), strict=True)):
        after = end if number == len(train) - 1 else shaft_after(key, own)
        idlers = (
            (gear_body(key, own, f"idler{n}"), teeth, idler_shaft(key, own, n))
            for n, teeth in enumerate(pair.idlers)
        )
        yield (
            pair,
            (
                (gear_body(key, own, "driver"), pair.driver, here),
                *idlers,
                (gear_body(key, own, "driven"), pair.driven, after),
            ),
        )
        here = after
