"""What to take in place of a gear that is short, so that every ratio stays what it is."""

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction
from itertools import product

from mild_badger.core.errors import BadgerError
from mild_badger.core.message import say
from mild_badger.core.ratios.train import train_text
from mild_badger.core.vehicle.box import GearPair, chain_ratio
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.edit.trains import set_shared, train_at
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.parts import PartLine, parts_needed

__all__ = ["Substitute", "substitutes"]

MOST = 6
LONGEST = 2
"""Trains of more pairs than this are left alone: there are too many ways to split them."""


@dataclass(frozen=True)
class Substitute:
    """Another train of the same ratio and direction, with what it leaves short."""

    train: str
    before: str
    after: str
    short: int
    edit: Edit
    words: str


def substitutes(vehicle: Vehicle, part: PartLine) -> tuple[Substitute, ...]:
    """Find trains that need one of a short gear less and keep their ratio; the best first.

    Trains between shafts that others share keep their tooth sum. Empty for parts that are no
    gears, for such as are made, and where nothing does.
    """
    kind, teeth = part.key
    if kind not in ("fixed", "free") or not part.short:
        return ()
    now = _short(vehicle)
    ranked: list[tuple[tuple[int, int, int], Substitute]] = []
    for key in _trains(vehicle):
        train = train_at(vehicle, key)
        if not 0 < len(train) <= LONGEST or all(teeth not in _sizes(p) for p in train):
            continue
        for other in _alike(vehicle, key, train):
            edit = set_shared(vehicle, key, other)
            try:
                after = apply_edit(vehicle, edit)
            except BadgerError:
                continue
            left = _short(after)
            if left >= now:
                continue
            changed = sum(a != b for a, b in zip(train, other, strict=True))
            size = sum(z for pair in other for z in _sizes(pair))
            words: str = say(
                "workshop.for-the-same-ratio",
                key=key,
                other=train_text(other),
                train=train_text(train),
            )
            if left:
                words += say("workshop.still-short", left=left)
            label = say("workshop.take-for", other=train_text(other), train=train_text(train))
            ranked.append(
                (
                    (left, changed, size),
                    Substitute(
                        key,
                        train_text(train),
                        train_text(other),
                        left,
                        Edit(label, edit.changes),
                        words,
                    ),
                )
            )
    ranked.sort(key=lambda pair: pair[0])
    return tuple(substitute for _, substitute in ranked[:MOST])


def _trains(vehicle: Vehicle) -> tuple[str, ...]:
    box = vehicle.box
    own = box.own_keys()
    also = ("final drive", "display engine", "lever drive")
    return (*own, *(shared.key for shared in box.shared()), *also)


def _sizes(pair: GearPair) -> tuple[int, ...]:
    return (pair.driver, *pair.idlers, pair.driven)


def _short(vehicle: Vehicle) -> int:
    return sum(line.short for line in parts_needed(vehicle))


def _alike(
    vehicle: Vehicle, key: str, train: tuple[GearPair, ...]
) -> Iterator[tuple[GearPair, ...]]:
    """Give every other train of as many pairs with the same exact ratio; idlers stay."""
    wanted: Fraction = chain_ratio(train)
    sizes = [z for z in vehicle.kit.sizes if vehicle.kit.size(z) is not None]
    sums = None
    if any(link.key == key for group in vehicle.box.between() for link in group.links):
        sums = [pair.driver + pair.driven for pair in train]
    pairs: dict[Fraction, list[tuple[int, int]]] = {}
    for driver, driven in product(sizes, repeat=2):
        pairs.setdefault(Fraction(driven, driver), []).append((driver, driven))
    options = (
        [(ratio,) for ratio in pairs if ratio == wanted]
        if len(train) == 1
        else [(ratio, wanted / ratio) for ratio in pairs if wanted / ratio in pairs]
    )
    for ratios in options:
        for chosen in product(*(pairs[ratio] for ratio in ratios)):
            other = tuple(
                GearPair(driver=a, driven=b, idlers=pair.idlers)
                for (a, b), pair in zip(chosen, train, strict=True)
            )
            if other != train and (sums is None or [p.driver + p.driven for p in other] == sums):
                yield other
