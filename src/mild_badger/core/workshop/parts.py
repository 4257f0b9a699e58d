"""The parts a vehicle takes, against the stock of its kit."""

from dataclasses import dataclass

from mild_badger.core.changes import Path
from mild_badger.core.vehicle.kit import Stock
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.tally import Tally, count_box

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


def parts_needed(vehicle: Vehicle) -> tuple[PartLine, ...]:
    """Count every part of the vehicle and hold it against the stock.

    The gear that a sleeve couples is the free-running one with dog faces, unless gears slide; an
    idler sits fixed on a shaft of its own.
    """
    tally = Tally()
    count_box(tally, vehicle.box, vehicle.kit)
    final = vehicle.final_drive
    tally.train(final.pairs, "final drive", free_end=False)
    tally.add("shaft", 0, "final drive", 1 if final.pairs else 0)
    tally.add("shaft", 0, "axle", 2)
    tally.add("bevel", final.pinion, "final drive")
    rims = {b.teeth for b in vehicle.kit.bevels if b.role == "differential rim"}
    rim = vehicle.differential.kind == "open" and final.crown in rims
    tally.add("differential rim" if rim else "bevel", final.crown, "final drive")
    return tuple(_line(vehicle, key, tally) for key in sorted(tally.count, key=_order))


def parts_spare(vehicle: Vehicle) -> tuple[PartLine, ...]:
    """List the kit's parts that the vehicle does not need, so that their stock can be kept too."""
    needed = {line.key for line in parts_needed(vehicle)}
    kit = vehicle.kit
    keys: set[tuple[str, int]] = {(gear.bore, gear.teeth) for gear in kit.gears}
    keys |= {(bevel.role, bevel.teeth) for bevel in kit.bevels}
    keys |= {("sleeve", 0), ("shaft", 0)}
    return tuple(_line(vehicle, key, Tally()) for key in sorted(keys - needed, key=_order))


_KINDS = ("fixed", "free", "bevel", "differential rim", "summing", "sleeve", "shaft")


def _order(key: tuple[str, int]) -> tuple[int, int]:
    return _KINDS.index(key[0]), key[1]


def _line(vehicle: Vehicle, key: tuple[str, int], tally: Tally) -> PartLine:
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
