"""The parts a vehicle takes, against the stock of its kit."""

from collections import Counter
from dataclasses import dataclass

from mild_badger.core.changes import Path
from mild_badger.core.vehicle.box import (
    Box,
    GearPair,
    RangeBox,
    SlotBox,
    TwinLayshaftBox,
)
from mild_badger.core.vehicle.kit import Kit, Stock
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["PartLine", "parts_needed", "parts_spare", "stock_path"]


@dataclass(frozen=True)
class PartLine:
    """One kind of part: how many are needed and where, and how many there are.

    ``stock`` is None for a part that is made as it is needed; ``there`` is False for one that the
    kit neither has nor makes.
    """

    key: tuple[str, int]
    name: str
    needed: int
    stock: Stock
    used_by: tuple[str, ...]
    there: bool = True

    @property
    def made(self) -> bool:
        """Whether the builder makes it as it is needed."""
        return self.there and self.stock is None

    @property
    def short(self) -> int:
        """How many are missing."""
        return 0 if self.made else max(self.needed - (self.stock or 0), 0)


class _Tally:
    def __init__(self) -> None:
        self.count: Counter[tuple[str, int]] = Counter()
        self.users: dict[tuple[str, int], dict[str, None]] = {}

    def add(self, kind: str, teeth: int, user: str, number: int = 1) -> None:
        if number:
            self.count[kind, teeth] += number
            self.users.setdefault((kind, teeth), {})[user] = None

    def train(self, pairs: tuple[GearPair, ...], user: str, *, free_end: bool) -> None:
        for number, pair in enumerate(pairs):
            last = free_end and number == len(pairs) - 1
            self.add("fixed", pair.driver, user)
            self.add("free" if last else "fixed", pair.driven, user)
            for idler in pair.idlers:
                self.add("fixed", idler, user)
            self.add("shaft", 0, user, len(pair.idlers) + (number < len(pairs) - 1))


def parts_needed(vehicle: Vehicle) -> tuple[PartLine, ...]:
    """Count every part of the vehicle and hold it against the stock.

    The gear that a sleeve couples is the free-running one with dog faces, unless gears slide; an
    idler sits fixed on a shaft of its own.
    """
    tally = _Tally()
    _count_box(tally, vehicle.box, vehicle.kit)
    final = vehicle.final_drive
    tally.train(final.pairs, "final drive", free_end=False)
    tally.add("shaft", 0, "final drive", 1 if final.pairs else 0)
    tally.add("shaft", 0, "axle", 2)
    tally.add("bevel", final.pinion, "final drive")
    rims = {b.teeth for b in vehicle.kit.bevels if b.role == "differential rim"}
    rim = vehicle.differential.kind == "open" and final.crown in rims
    tally.add("differential rim" if rim else "bevel", final.crown, "final drive")
    return tuple(_line(vehicle, key, tally) for key in sorted(tally.count, key=_order))


def _count_box(tally: _Tally, box: Box, kit: Kit) -> None:
    if isinstance(box, SlotBox):
        columns = max(box.columns, 1)
        if columns > 1:
            if box.feed == "rail":
                tally.add("fixed", box.rail_teeth, "drive rail", columns)
            tally.add("fixed", box.tie_teeth, "selector tie", columns)
        tally.add("shaft", 0, "input", columns if box.feed == "rail" else 1)
        tally.add("shaft", 0, "selector", columns)
    else:
        shafts = {"layshaft": 3, "two-shaft": 2, "twin-layshaft": 4, "range-splitter": 3}
        tally.add("shaft", 0, "box", shafts[box.architecture])
    if isinstance(box, RangeBox):
        for shared in box.shared():
            tally.train(shared.train, shared.key, free_end=True)
        tally.add("sleeve", 0, "box", box.sleeves)
        return
    sliding = not isinstance(box, SlotBox) and box.engagement == "slide"
    used = {slot.column for slot in box.slots if slot.train or slot.direct}
    if not sliding:
        tally.add("sleeve", 0, "selector" if isinstance(box, SlotBox) else "box", len(used))
    rims = [bevel.teeth for bevel in kit.bevels if bevel.role == "differential rim"]
    for shared in box.shared():
        _count_shared(tally, box, shared.key, shared.train)
    for slot in box.slots:
        user = f"gear {slot.gear}"
        for train in (slot.train, slot.second):
            tally.train(train, user, free_end=not sliding and not slot.second)
        kind, teeth = ("differential rim", min(rims)) if rims else ("summing", 0)
        tally.add(kind, teeth, user, 1 if slot.second else 0)
        tally.add("shaft", 0, user, 2 if slot.second else 0)


def _count_shared(tally: _Tally, box: Box, key: str, train: tuple[GearPair, ...]) -> None:
    """Count a shared train; both layshafts of a twin box drive one output wheel."""
    if isinstance(box, TwinLayshaftBox) and key != "output pair 1" and box.output_pairs[0]:
        for pair in train:
            tally.add("fixed", pair.driver, key)
        return
    tally.train(train, key, free_end=False)


def parts_spare(vehicle: Vehicle) -> tuple[PartLine, ...]:
    """List the kit's parts that the vehicle does not need, so that their stock can be kept too."""
    needed = {line.key for line in parts_needed(vehicle)}
    kit = vehicle.kit
    keys: set[tuple[str, int]] = {(gear.bore, gear.teeth) for gear in kit.gears}
    keys |= {(bevel.role, bevel.teeth) for bevel in kit.bevels}
    keys |= {("sleeve", 0), ("shaft", 0)}
    return tuple(_line(vehicle, key, _Tally()) for key in sorted(keys - needed, key=_order))


_KINDS = ("fixed", "free", "bevel", "differential rim", "summing", "sleeve", "shaft")


def _order(key: tuple[str, int]) -> tuple[int, int]:
    return _KINDS.index(key[0]), key[1]


def _line(vehicle: Vehicle, key: tuple[str, int], tally: _Tally) -> PartLine:
    kind, teeth = key
    kit = vehicle.kit
    stock: Stock = 0
    there = True
    if kind in ("fixed", "free"):
        gear = kit.size(teeth, "fixed" if kind == "fixed" else "free")
        there = gear is not None and (kind == "fixed" or gear.dog_faces)
        stock = gear.stock if gear is not None and there else 0
        name = f"{teeth}-tooth gear" + ("" if kind == "fixed" else ", free, with dog faces")
    elif kind in ("bevel", "differential rim"):
        found = [b.stock for b in kit.bevels if (b.role, b.teeth) == (kind, teeth)]
        there, stock = bool(found), found[0] if found else 0
        name = (
            f"{teeth}-tooth bevel gear"
            if kind == "bevel"
            else f"differential housing, {teeth}-tooth rim"
        )
    elif kind == "summing":
        name, there = "summing differential", False
    else:
        stock = kit.sleeve_stock if kind == "sleeve" else kit.shaft_stock
        name = "dog sleeve" if kind == "sleeve" else "shaft (length not planned yet)"
    return PartLine(key, name, tally.count[key], stock, tuple(tally.users.get(key, ())), there)


def stock_path(vehicle: Vehicle, part: PartLine) -> Path | None:
    """Find the document's field that holds a part's stock; None if the kit lacks the part."""
    kind, teeth = part.key
    kit = vehicle.kit
    if kind in ("sleeve", "shaft"):
        return ("kit", f"{kind}_stock")
    if kind in ("fixed", "free"):
        for number, gear in enumerate(kit.gears):
            if (gear.bore, gear.teeth) == (kind, teeth):
                return ("kit", "gears", number, "stock")
    for number, bevel in enumerate(kit.bevels):
        if (bevel.role, bevel.teeth) == (kind, teeth):
            return ("kit", "bevels", number, "stock")
    return None
