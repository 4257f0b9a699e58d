"""What a vehicle's boxes take beside gears and sleeves, counted off their parts in space."""

from collections import Counter
from collections.abc import Iterator
from functools import lru_cache

from mild_badger.core.components.component import Component
from mild_badger.core.components.vehicle_parts import BESIDE, FUNCTIONS, vehicle_boxes
from mild_badger.core.errors import InputError
from mild_badger.core.figures import in_mm
from mild_badger.core.kit.part_sizes import bushes_for, is_washer
from mild_badger.core.layout.function_box import function_stack
from mild_badger.core.message import say
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.structure.walls import fitting_beam, long_ties
from mild_badger.core.vehicle.cache_key import CacheKey, parts_key
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["COUNTED", "boxes_in_space", "describe_frame", "hardware", "shaft_lengths"]

COUNTED = {
    "fork": "fork",
    "hub": "hub",
    "drum": "shift drum",
    "star": "star",
    "detent arm": "detent arm",
    "follower": "follower",
    "sensor disc": "sensor disc",
    "shift arm": "shift arm",
    "gate lever": "gate lever",
    "cradle": "cradle",
    "lever stand": "lever stand",
    "catch": "catch",
    "post": "bracket",
    "guide": "pin",
}
"""Kinds of parts that are counted one by one, by what the list of parts calls them."""
Count = tuple[str, int, str, int]


def boxes_in_space(vehicle: Vehicle) -> tuple[tuple[Component, ...], ...]:
    """List the parts of the boxes, see :func:`vehicle_boxes`; none where a gear cannot be made."""
    return _boxes(parts_key(vehicle, "equipment"))


@lru_cache(maxsize=4)
def _boxes(key: CacheKey) -> tuple[tuple[Component, ...], ...]:
    try:
        return vehicle_boxes(key.vehicle)
    except InputError:
        return ()


def hardware(vehicle: Vehicle) -> tuple[Count, ...]:
    """Count walls, tie rods, nuts, spacers, bearings, forks, rails and the parts of drums.

    Each is a kind with a size, what takes it, and how many: a beam's size is in units of the grid,
    a bush's in half units, a bearing's its place in the kit's list; others' are lengths or
    thicknesses in tenths of a millimetre, 0 where the kind has one size.
    """
    counts: Counter[tuple[str, int, str]] = Counter()
    for parts in boxes_in_space(vehicle):
        for part in parts:
            if part.kind == "sleeve" and vehicle.box.slides and not part.box:
                counts["slider", 0, "box"] += 1
            for kind, size, user, number in _taken(vehicle.kit, part):
                counts[kind, size, user] += number
    for stack, user in ((stack_for(vehicle), "walls"), (function_stack(vehicle), "functions")):
        if stack is not None and not vehicle.kit.any_seat:
            counts.update(("beam", n, user) for n in long_ties(vehicle, stack) if n is not None)
    return tuple((*key, number) for key, number in counts.items() if number)


def _taken(kit: Kit, part: Component) -> Iterator[Count]:
    beside = "functions" if part.box == FUNCTIONS else BESIDE.get(part.box, "")
    walls, own = beside or "walls", beside or "box"
    tenths = round(10 * part.length_mm)
    match part.kind:
        case "wall" if not kit.any_seat:
            for length in _beams(kit, part):
                yield "beam", length, walls, 1
        case "wall":
            yield "plate", tenths, walls, 1
        case "tie rod":
            yield "post", tenths, walls, 1
            yield "nut", 0, beside or "tie rods", len(part.solid) - 1
        case "spacer" if not kit.any_seat:
            for halves, number in bushes_for(part.length_mm, kit.grid_unit_mm):
                yield "bush", halves, own, number
        case "spacer" if tenths:
            yield "washer" if is_washer(part.length_mm) else "spacer", tenths, own, 1
        case "rail":
            yield "shaft", 0, beside or "fork rails", 1
        case "catch rail":
            yield "shaft", 0, beside or "catch", 1
        case "shaft" if not part.bodies:
            yield "shaft", 0, beside or "shift drum", 1
        case "bearing":
            names = [bearing.name for bearing in kit.bearings]
            yield "bearing", names.index(part.name), beside or part.wall, 1
        case kind if kind in COUNTED:
            yield COUNTED[kind], 0, own, 1


def _beams(kit: Kit, part: Component) -> Iterator[int]:
    """Give the beams to take for a wall's rows and uprights, in units; those that none reaches."""
    unit = kit.grid_unit_mm
    for prism in part.solid:
        for outline in prism.outlines:
            xs, ys = zip(*outline, strict=True)
            long = max(max(xs) - min(xs), max(ys) - min(ys), prism.to_mm - prism.from_mm)
            taken = fitting_beam(kit, long / unit)
            if taken is not None:
                yield taken


def shaft_lengths(vehicle: Vehicle) -> Counter[float]:
    """Count shafts and rails of the boxes by the length to take, in units of the kit.

    Those that no shaft of the kit is long enough for are left out.
    """
    unit, lengths = vehicle.kit.grid_unit_mm, sorted(vehicle.kit.shaft_lengths_u)
    counts: Counter[float] = Counter()
    for parts in boxes_in_space(vehicle):
        for part in parts:
            if part.kind in ("shaft", "rail", "catch rail"):
                needed = _long_mm(part) / unit
                taken = next((float(n) for n in lengths if n >= needed - 1e-6), None)
                if taken is not None or not lengths:
                    counts[needed if taken is None else taken] += 1
    return counts


def _long_mm(part: Component) -> float:
    if not part.across:
        return part.length_mm
    return max(p.to_mm for p in part.solid) - min(p.from_mm for p in part.solid)


def describe_frame(vehicle: Vehicle) -> str:
    """Say what shafts and beams the boxes in space take."""
    shafts = shaft_lengths(vehicle)
    if not shafts:
        return ""
    unit = vehicle.kit.grid_unit_mm
    if vehicle.kit.any_seat:
        cut = ", ".join(
            say("components.of-length", n=n, length=in_mm(length * unit, 1))
            for length, n in sorted(shafts.items())
        )
        return say("components.shafts", cut=cut)
    cut = ", ".join(
        say("components.of-units", n=n, length=length) for length, n in sorted(shafts.items())
    )
    beams: Counter[int] = Counter()
    for kind, size, _, number in hardware(vehicle):
        beams[size] += number if kind == "beam" else 0
    held = ", ".join(
        say("components.of-units", n=n, length=length) for length, n in sorted(beams.items()) if n
    )
    return say("components.shafts-and-beams", cut=cut, held=held)
