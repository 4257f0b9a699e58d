"""What would help where not every slot finds a place: each single limit relaxed, one after another.

All tries together keep to the time that a placement may take.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from time import monotonic

from mild_badger.core.layout.place_box import place_box
from mild_badger.core.message import say
from mild_badger.core.vehicle.boxes import SlotBox
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.watch import UNWATCHED, Watch

__all__ = ["Reliefs", "reliefs"]

MORE_TEETH, MOST_TEETH = 6, 60
"""By how much the gears of drive row and tie grow in wood and print, and how far at most."""
MOST_SPACING_U, MOST_LAYERS, MOST_PERCENT = 8, 6, 20.0
LEAST_S = 0.2


@dataclass(frozen=True)
class Reliefs:
    """The limits of which one alone, relaxed, lets every slot be placed.

    ``unsure`` are those for which the time ran out before that could be told.
    """

    helps: tuple[str, ...]
    unsure: tuple[str, ...] = ()


def reliefs(vehicle: Vehicle, *, watch: Watch = UNWATCHED) -> Reliefs:
    """Say which single limit, relaxed, lets every slot be placed, within the placing's seconds.

    Raises
    ------
    DocumentError
        The box cannot be placed as a whole, or no slot has a train.
    SearchStopped
        The watch asked for it.
    """
    tries = [(words, other) for words, other in _relaxed(vehicle) if other != vehicle]
    until = monotonic() + vehicle.placing.seconds
    helps, unsure = [], []
    for number, (words, other) in enumerate(tries):
        share = (until - monotonic()) / (len(tries) - number)
        placing = other.placing.model_copy(update={"seconds": max(share, LEAST_S)})
        placed = place_box(other.model_copy(update={"placing": placing}), watch=watch, enough=True)
        if placed.complete:
            helps.append(words)
        elif not placed.finished:
            unsure.append(words)
    return Reliefs(tuple(helps), tuple(unsure))


def _relaxed(vehicle: Vehicle) -> Iterator[tuple[str, Vehicle]]:
    """Give the vehicle with one limit after another relaxed, and how that is called."""
    placing, search, box = vehicle.placing, vehicle.search, vehicle.box
    if not vehicle.kit.any_seat:
        spacing = min(placing.spacing_u + 1, MOST_SPACING_U)
        words = say("layout.columns-u-apart", spacing_u=spacing)
        yield words, _placing(vehicle, spacing_u=spacing)
    elif isinstance(box, SlotBox):
        teeth = min(max(box.rail_teeth, box.tie_teeth) + MORE_TEETH, MOST_TEETH)
        if vehicle.kit.size(teeth) is not None:
            larger = box.model_copy(update={"rail_teeth": teeth, "tie_teeth": teeth})
            words = say("layout.drive-row-and-tie-of-teeth", teeth=teeth)
            yield words, vehicle.model_copy(update={"box": larger})
    layers = min(placing.layers + 1, MOST_LAYERS)
    yield say("layout.layers-a-side", layers=layers), _placing(vehicle, layers=layers)
    if not vehicle.kit.any_seat:
        yield say("layout.half-units"), _placing(vehicle, half_units=True)
    near = min(2 * placing.near_percent, MOST_PERCENT)
    yield say("layout.ratios-within", near_percent=near), _placing(vehicle, near_percent=near)
    free = _placing(vehicle, wide_mm=None, high_mm=None, outline_mm=())
    yield say("layout.no-limit-of-width-height-and-outline"), free
    bought = search.model_copy(update={"within_stock": False})
    yield say("layout.parts-beyond-the-stock"), vehicle.model_copy(update={"search": bought})


def _placing(vehicle: Vehicle, **changes: object) -> Vehicle:
    return vehicle.model_copy(update={"placing": vehicle.placing.model_copy(update=changes)})
