"""The parts as a builder shops: in groups, with letters, packs, and where each comes from.

What the list of parts counts, and beside it what else stands in space: wheels, steering, motors.
"""

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Literal

from mild_badger.core.components.component import Component
from mild_badger.core.components.equipment import equipment_parts
from mild_badger.core.components.hardware import COUNTED
from mild_badger.core.errors import InputError
from mild_badger.core.figures import in_mm
from mild_badger.core.message import say
from mild_badger.core.structure.names import shaft_letter
from mild_badger.core.vehicle.cache_key import CacheKey, parts_key
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import word
from mild_badger.core.workshop.cutlist import ROUND, taken_mm
from mild_badger.core.workshop.further_steps import vehicle_steps
from mild_badger.core.workshop.made_pieces import standing_parts
from mild_badger.core.workshop.parts import PartLine, noted_price, parts_needed

__all__ = ["GROUPS", "ShopLine", "Source", "group_of", "shopping"]

Group = Literal["gears", "shafts", "frame", "hardware", "made parts", "wheels and steering"]
GROUPS: tuple[Group, ...] = (
    "gears",
    "shafts",
    "frame",
    "hardware",
    "made parts",
    "wheels and steering",
)
Source = Literal["from the kit", "made", "sawn", "bought"]
KIND_GROUPS: dict[str, Group] = {
    **dict.fromkeys(
        ("fixed", "free", "bevel", "differential rim", "summing", "one-way clutch", "worm",
         "worm wheel", "slewing ring", "rack", "ratchet", "sleeve"),
        "gears",
    ),
    **dict.fromkeys(("shaft",), "shafts"),
    **dict.fromkeys(("beam", "plate", "post"), "frame"),
    **dict.fromkeys(
        ("bush", "spacer", "washer", "nut", "pin", "screw", "key", "bearing", "wood bearing",
         "brick bearing", "metal bearing", "cable", "rope", "lead screw", "lead nut", "adjuster",
         "coupling half", "master", "slave"),
        "hardware",
    ),
}  # fmt: skip
SAWN = frozenset({"shaft", "post", "spacer", "pin", "frame rail"})
UNCOUNTED = (
    "coupling",
    "differential",
    "wheel",
    "kingpin",
    "rack",
    "steering arm",
    "steering rod",
    "steering pinion",
    "steering column",
    "steering wheel",
    "joint yoke",
    "joint cross",
    "frame rail",
    "floor",
    "crank",
    "crank web",
    "piston",
    "motor",
    "battery",
    "switch",
    "controller",
    "other",
)
"""Kinds of parts in space that the list of parts does not count, in the order of building."""
BOUGHT = frozenset(
    {"motor", "battery", "switch", "controller", "other", "bearing", "worm", "worm wheel"}
)
"""Kinds that no shop of boards and rods makes."""
KINDS: dict[str, tuple[str, ...]] = {
    "gear": ("fixed", "free"),
    "sleeve": ("sleeve", "slider"),
    "pinion": ("bevel",),
    "crown": ("bevel", "differential rim"),
    "spacer": ("spacer", "washer", "bush"),
}
"""What the list of parts may call a part in space, where it is not its own name."""


@dataclass(frozen=True)
class ShopLine:
    """A line of the list: a kind of part with its count, and how one comes by it.

    ``letters`` are those of the shafts on which it sits, or of the shafts themselves. ``sample`` is
    one of it as it stands in space; None for what is not drawn there. ``keys`` are those of all of
    it in the order of building.
    """

    part: PartLine
    group: Group
    letters: tuple[str, ...]
    source: Source
    sample: Component | None = None
    keys: tuple[str, ...] = ()


def shopping(vehicle: Vehicle) -> tuple[ShopLine, ...]:
    """List everything that a vehicle takes, group by group."""
    return _shopping(parts_key(vehicle, "equipment"))


@lru_cache(maxsize=2)
def _shopping(key: CacheKey) -> tuple[ShopLine, ...]:
    vehicle = key.vehicle
    letters, found = _letters(vehicle), _of_kinds(vehicle)
    lines = [
        ShopLine(
            part,
            group_of(part.key[0]),
            letters.get(part.key, ()),
            _source(vehicle, part),
            next(iter(found.get(part.key, ())), None),
            tuple(one.key for one in found.get(part.key, ())),
        )
        for part in _lines(vehicle)
    ]
    return tuple(sorted(lines, key=lambda line: GROUPS.index(line.group)))


def _lines(vehicle: Vehicle) -> Iterator[PartLine]:
    """List the parts, shafts by their lengths where those are known."""
    by_length = tuple(_shafts(vehicle))
    for part in parts_needed(vehicle):
        if part.key == ("shaft", 0) and by_length:
            yield from by_length
            if part.short:  # of all lengths together there are too few
                yield replace(part, name=say("workshop.shafts-of-all-lengths"))
        else:
            yield part
    yield from _uncounted(vehicle)


def _shafts(vehicle: Vehicle) -> Iterator[PartLine]:
    """Count shafts, rails and axles in space by the length to take."""
    kit = vehicle.kit
    standing = (part for part in standing_parts(vehicle) if part.kind in ROUND)
    for length, count in sorted(Counter(taken_mm(kit, part) for part in standing).items()):
        name = (
            say("workshop.shaft-of-units", length=round(length / kit.grid_unit_mm, 2))
            if kit.shaft_lengths_u
            else say("workshop.shaft-so-long", length=in_mm(length, significant=4))
        )
        key = ("shaft", round(10 * length))
        price, pack = noted_price(kit, key)
        yield PartLine(key, name, count, None, (), price=price, pack=pack)


def group_of(kind: str) -> Group:
    """Give the group in which a kind of the list stands."""
    if kind in KIND_GROUPS:
        return KIND_GROUPS[kind]
    return "wheels and steering" if kind in UNCOUNTED else "made parts"


def _uncounted(vehicle: Vehicle) -> Iterator[PartLine]:
    """Count what stands in space beside what the list of parts counts."""
    try:
        bodies = equipment_parts(vehicle)
    except InputError:
        bodies = ()
    counts: Counter[str] = Counter(part.kind for part in (*standing_parts(vehicle), *bodies))
    for kind in UNCOUNTED:
        if counts[kind]:
            price, pack = noted_price(vehicle.kit, (kind, 0))
            yield PartLine((kind, 0), word(kind), counts[kind], None, (), price=price, pack=pack)


def _source(vehicle: Vehicle, part: PartLine) -> Source:
    kind, kit = part.key[0], vehicle.kit
    if kind in BOUGHT and (part.made or kind == "bearing"):
        return "bought"
    if not part.made:
        return "from the kit"
    if not kit.any_seat:
        made = group_of(kind) == "made parts"
        return "made" if made else "from the kit"
    if group_of(kind) == "hardware" and kind not in SAWN:
        return "bought"
    return "sawn" if kind in SAWN else "made"


def _letters(vehicle: Vehicle) -> dict[tuple[str, int], tuple[str, ...]]:
    """Find on which shafts each kind of the list sits."""
    found: dict[tuple[str, int], dict[str, None]] = {}
    for part in standing_parts(vehicle):
        letter = shaft_letter(vehicle, part.shaft)
        if not letter:
            continue
        for key in _keys(vehicle, part):
            found.setdefault(key, {})[letter] = None
    return {
        key: tuple(sorted(own, key=lambda letter: (len(letter), letter)))
        for key, own in found.items()
    }


def _of_kinds(vehicle: Vehicle) -> dict[tuple[str, int], list[Component]]:
    """Find the parts in space of each kind of the list, in the order of building.

    Bevels are found by their teeth too.
    """
    found: dict[tuple[str, int], list[Component]] = {}
    for part in vehicle_steps(vehicle).parts:
        for key in _keys(vehicle, part):
            found.setdefault(key, []).append(part)
            if part.kind in ("pinion", "crown"):
                found.setdefault((key[0], part.teeth), []).append(part)
            elif part.kind == "wall":
                found.setdefault(("plate", round(10 * part.length_mm)), []).append(part)
            elif part.kind == "tie rod":
                found.setdefault(("post", round(10 * part.length_mm)), []).append(part)
    return found


def _keys(vehicle: Vehicle, part: Component) -> Iterator[tuple[str, int]]:
    match part.kind:
        case "gear":
            yield ("free" if part.free else "fixed"), part.teeth
        case "shaft" | "rail" | "catch rail" | "half shaft":
            yield "shaft", round(10 * taken_mm(vehicle.kit, part))
        case "spacer":
            tenths = round(10 * part.length_mm)
            yield "spacer", tenths
            yield "washer", tenths
        case "post" | "nut" if part.name:
            return  # a mechanism's bearings and nuts are counted by their sizes
        case kind:
            for name in KINDS.get(kind, (COUNTED.get(kind, kind),)):
                yield name, 0
