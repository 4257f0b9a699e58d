"""The parts a vehicle takes, against the stock of its kit."""

from dataclasses import dataclass
from math import ceil

from mild_badger.core.architectures.registry import architecture_of
from mild_badger.core.components.hardware import hardware, shaft_lengths
from mild_badger.core.figures import in_mm
from mild_badger.core.functions.arrange import arrange, count_functions
from mild_badger.core.mechanisms.registry import MECHANISMS
from mild_badger.core.message import say, say_count
from mild_badger.core.vehicle.bodies import column_shaft, is_driver
from mild_badger.core.vehicle.edit.change import Edit, Path
from mild_badger.core.vehicle.kit import Kit, PartPrice, Stock
from mild_badger.core.vehicle.layout import BoxLayout
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.tally import Tally
from mild_badger.core.words import word

__all__ = [
    "PartLine",
    "describe_cost",
    "noted_price",
    "parts_needed",
    "parts_spare",
    "price_name",
    "set_pack",
    "set_price",
    "stock_path",
]


@dataclass(frozen=True)
class PartLine:
    """One kind of part: how many are needed and where, and how many there are.

    ``stock`` is None for a part that is made as it is needed; ``there`` is False for one that the
    kit neither has nor makes. ``price`` is one part's, None where it is not known. ``users`` are
    the keys of the trains and other things that take it, ``used_by`` what they are called.
    """

    key: tuple[str, int]
    name: str
    needed: int
    stock: Stock
    used_by: tuple[str, ...]
    there: bool = True
    price: float | None = None
    users: tuple[str, ...] = ()
    pack: int = 1
    """So many are sold together."""

    @property
    def made(self) -> bool:
        """Whether the builder makes it as it is needed."""
        return self.there and self.stock is None

    @property
    def cost(self) -> float | None:
        """What all that are needed cost; None where the price is not known."""
        return None if self.price is None else self.price * self.needed

    @property
    def packs(self) -> int:
        """How many packs are to be bought: of what is missing, and of what is not counted all."""
        return ceil((self.needed if self.made else self.short) / self.pack)

    @property
    def to_buy(self) -> float | None:
        """What the packs cost that are to be bought; None without a price."""
        return None if self.price is None else self.price * self.pack * self.packs

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
    architecture_of(vehicle.box).count(tally, vehicle.box, vehicle.kit)
    final = vehicle.final_drive
    tally.train(final.pairs, "final drive", free=None)
    tally.add("shaft", 0, "final drive", 1 if final.pairs else 0)
    tally.add("shaft", 0, "axle", 2)
    for mechanism in MECHANISMS:
        mechanism.count(tally, vehicle)
    tally.add("bevel", final.pinion, "final drive")
    rims = {b.teeth for b in vehicle.kit.bevels if b.role == "differential rim"}
    rim = vehicle.differential.kind == "open" and final.crown in rims
    tally.add("differential rim" if rim else "bevel", final.crown, "final drive")
    _count_axles(tally, vehicle, rim=rim)
    if vehicle.layout is not None:
        _shared_once(tally, vehicle.layout)
    for kind, size, user, count in hardware(vehicle):
        tally.add(kind, size, user, count)
    _count_joints(tally, vehicle)
    if vehicle.functions is not None:
        count_functions(tally, vehicle.functions, arrange(vehicle, vehicle.functions))
    return tuple(_line(vehicle, key, tally) for key in sorted(tally.count, key=_order))


def _count_joints(tally: Tally, vehicle: Vehicle) -> None:
    """Count what marked joints take: one each."""
    for joint in vehicle.assembly.joints:
        made = {"pinned": "pin", "screwed": "screw", "keyed": "key"}.get(joint.kind)
        if made is not None:
            tally.add(made, 0, "box")


def _count_axles(tally: Tally, vehicle: Vehicle, *, rim: bool) -> None:
    """Count planets where the housing does not come whole, further axles, and geared hubs."""
    differential = vehicle.differential
    if differential.kind == "open" and not rim:
        tally.add("bevel", differential.side_teeth, "differential", 2)
        tally.add("bevel", differential.planet_teeth, "differential", differential.planets)
    rims = {b.teeth for b in vehicle.kit.bevels if b.role == "differential rim"}
    for axle in vehicle.additional_axles:
        whole = axle.differential.kind == "open" and axle.crown in rims
        tally.add("bevel", axle.pinion, axle.name)
        tally.add("differential rim" if whole else "bevel", axle.crown, axle.name)
        tally.add("shaft", 0, axle.name, 3)
    running = vehicle.running
    if running is not None and running.shape.hub == "geared":
        wheels = 2 * (1 + len(vehicle.additional_axles))
        tally.add("fixed", running.shape.hub_driver, "hubs", wheels)
        tally.add("fixed", running.shape.hub_driven, "hubs", wheels)


def _shared_once(tally: Tally, layout: BoxLayout) -> None:
    """Take off what several trains of a layout share: gears, and the shafts they stand on."""
    for group in layout.shared:
        tally.add("fixed", group[0].teeth, "shared", 1 - len(group))
        own = group[0].shaft
        # a driver sits on a shaft that another gear has brought already
        if column_shaft(own) is None and not any(is_driver(gear.body) for gear in group):
            tally.add("shaft", 0, "shared", 1 - len(group))


def parts_spare(vehicle: Vehicle) -> tuple[PartLine, ...]:
    """List the kit's parts that the vehicle does not need, so that their stock can be kept too."""
    needed = {line.key for line in parts_needed(vehicle)}
    kit = vehicle.kit
    keys: set[tuple[str, int]] = {(gear.bore, gear.teeth) for gear in kit.gears}
    keys |= {(bevel.role, bevel.teeth) for bevel in kit.bevels}
    keys |= {("sleeve", 0), ("shaft", 0)}
    return tuple(_line(vehicle, key, Tally()) for key in sorted(keys - needed, key=_order))


_KINDS = (
    "fixed",
    "free",
    "bevel",
    "differential rim",
    "summing",
    "one-way clutch",
    "sleeve",
    "shaft",
    "beam",
    "plate",
    "post",
    "spacer",
    "washer",
    "bush",
    "slider",
    "fork",
    "shift drum",
    "star",
    "detent arm",
    "follower",
    "sensor disc",
    "shift arm",
    "gate lever",
    "cradle",
    "lever stand",
    "catch",
    "hub",
    "bracket",
    "bearing",
    "nut",
    "pin",
    "screw",
    "key",
    "lever",
    "rod",
    "ratchet",
    "pawl",
    "eccentric",
    "clutch plate",
    "lining",
    "master",
    "slave",
    "holed lever",
    "cable",
    "worm",
    "worm wheel",
    "slewing ring",
    "rack",
    "lead screw",
    "lead nut",
    "drum",
    "rope",
    "adjuster",
    "coupling half",
    "wood bearing",
    "brick bearing",
    "metal bearing",
)


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
        name = say("workshop.tooth-gear", teeth=teeth) + (
            "" if kind == "fixed" else say("workshop.free-with-dog-faces")
        )
    elif kind in ("bevel", "differential rim"):
        stocks = [b.stock for b in kit.bevels if (b.role, b.teeth) == (kind, teeth)]
        there, stock = bool(stocks), stocks[0] if stocks else 0
        name = (
            say("workshop.tooth-bevel-gear", teeth=teeth)
            if kind == "bevel"
            else say("workshop.differential-housing-tooth-rim", teeth=teeth)
        )
    elif kind == "summing":
        name, there = say("workshop.summing-differential"), False
    elif kind == "bearing":
        bearing = kit.bearings[teeth]
        name, stock = say("workshop.bearing", name=bearing.name), bearing.stock
    elif kind == "bush":
        stock = None  # no kit counts its bushes
        name = say("workshop.bush-of-half-a-unit") if teeth == 1 else say("workshop.bush-of-a-unit")
    elif kind in _MADE_NAMES:
        stock, name = (
            None,
            _MADE_NAMES[kind].format(teeth if kind in _COUNTED else in_mm(teeth / 10)),
        )
    elif kind == "one-way clutch":
        name, stock = word(kind), kit.one_way_stock
    else:
        stock = kit.sleeve_stock if kind == "sleeve" else kit.shaft_stock
        name = say("workshop.dog-sleeve") if kind == "sleeve" else _shaft_name(vehicle)
    price, pack = noted_price(kit, key)
    if kind == "bearing":
        price = kit.bearings[teeth].price
    users = tuple(tally.users.get(key, ()))
    called = tuple(map(vehicle.train_title, users))
    return PartLine(key, name, tally.count[key], stock, called, there, price, users, pack)


def price_name(key: tuple[str, int]) -> str:
    """Give the name by which the kit keeps a part's price."""
    return f"{key[0]} {key[1]}" if key[1] else key[0]


def noted_price(kit: Kit, key: tuple[str, int]) -> tuple[float | None, int]:
    """Give what one part of a kind costs, None where that is not known, and how many a pack has."""
    name = price_name(key)
    return next(((e.price, e.pack) for e in kit.prices if e.part == name), (None, 1))


def set_price(vehicle: Vehicle, part: PartLine, price: float | None) -> Edit:
    """Note what one part costs; None takes the price away. A bearing keeps its own."""
    kind, number = part.key
    label = say("workshop.set-the-price-of-the", name=part.name)
    if kind == "bearing":
        return Edit.one(label, ("kit", "bearings", number, "price"), price)
    return Edit.one(label, ("kit", "prices"), _noted(vehicle, part, price, part.pack))


def set_pack(vehicle: Vehicle, part: PartLine, pack: int) -> Edit:
    """Note how many of a part are sold together."""
    label = say("workshop.set-the-pack-of-the", name=part.name)
    price = None if part.key[0] == "bearing" else part.price  # a bearing keeps its own
    return Edit.one(label, ("kit", "prices"), _noted(vehicle, part, price, pack))


def _noted(vehicle: Vehicle, part: PartLine, price: float | None, pack: int) -> list[PartPrice]:
    """Give the kit's prices with one part's changed; what says nothing is left out."""
    kept = [entry for entry in vehicle.kit.prices if entry.part != price_name(part.key)]
    if price is not None or pack != 1:
        name = price_name(part.key)
        kept.append(PartPrice.model_construct(part=name, price=price, pack=pack))
    return kept


def describe_cost(parts: tuple[PartLine, ...]) -> str:
    """Say what all parts cost and what is to be bought; nothing where no price is known."""
    known = [part for part in parts if part.price is not None and part.needed]
    if not known:
        return ""
    total = sum(part.cost or 0.0 for part in known)
    buy = sum(part.to_buy or 0.0 for part in known)
    rest = sum(1 for part in parts if part.price is None and part.needed)
    without = say("workshop.without-a-price", kind=say_count("count.kind", rest)) if rest else ""
    return say("workshop.all-parts-of-which-to-buy-or-make", total=total, buy=buy, without=without)


_MADE_NAMES = {
    "beam": say("workshop.beam-with-holes-u"),
    "plate": say("workshop.wall-thick"),
    "post": say("workshop.post-or-tie-rod"),
    "spacer": say("workshop.spacer-long"),
    "washer": say("workshop.washer-thick"),
    "slider": say("workshop.sleeve-of-sliding-gears"),
    "fork": word("fork"),
    "shift drum": word("shift drum"),
    "star": word("star"),
    "detent arm": word("detent arm"),
    "follower": word("follower"),
    "sensor disc": word("sensor disc"),
    "shift arm": word("shift arm"),
    "gate lever": word("gate lever"),
    "cradle": word("cradle"),
    "lever stand": word("lever stand"),
    "catch": word("catch"),
    "hub": say("workshop.hub-with-dogs"),
    "bracket": say("workshop.bracket-of-an-idlers-shaft"),
    "nut": say("workshop.nut-or-collar-on-a-tie-rod"),
    "pin": say("workshop.pin-of-a-joint"),
    "screw": say("workshop.screw-of-a-joint"),
    "key": say("workshop.key-of-a-joint"),
    "lever": say("workshop.lever-with-its-slot"),
    "rod": say("workshop.rod-of-the-lever-drive"),
    "ratchet": say("workshop.ratchet-wheel"),
    "pawl": word("pawl"),
    "eccentric": word("eccentric"),
    "clutch plate": say("workshop.plate-of-the-clutch"),
    "lining": say("workshop.ring-of-clutch-lining"),
    "master": say("workshop.master-cylinder-bore"),
    "slave": say("workshop.slave-cylinder-bore"),
    "holed lever": say("workshop.lever-with-a-row-of-holes"),
    "cable": say("workshop.cable-in-its-sheath"),
    "worm": say("workshop.worm-start"),
    "worm wheel": say("workshop.worm-wheel-teeth"),
    "slewing ring": say("workshop.slewing-ring-teeth"),
    "rack": "rack, {}",
    "lead screw": say("workshop.screw-lead"),
    "lead nut": say("workshop.nut-on-a-screw-lead"),
    "drum": say("workshop.drum-of-a-spool"),
    "rope": "rope, {}",
    "adjuster": say("workshop.adjuster-of-a-rope"),
    "coupling half": say("workshop.half-of-a-coupling"),
    "wood bearing": say("workshop.bearing-in-wood"),
    "brick bearing": say("workshop.bearing-in-a-brick"),
    "metal bearing": say("workshop.ball-bearing-bore"),
}
"""What is made or taken as it is needed; lengths are counted in tenths of a millimetre."""

_COUNTED = ("beam", "worm", "worm wheel", "slewing ring")
"""Kinds whose number is a count, not tenths of a millimetre."""


def _shaft_name(vehicle: Vehicle) -> str:
    """Name shafts with the lengths that a layout asks for."""
    lengths = shaft_lengths(vehicle)
    if not lengths:
        return say("workshop.shaft-length-not-planned-yet")
    planned = ", ".join(
        say("workshop.of-u", n=n, length=length) for length, n in sorted(lengths.items())
    )
    return say("workshop.shaft-others-not-planned-yet", planned=planned)


def stock_path(vehicle: Vehicle, part: PartLine) -> Path | None:
    """Find the document's field that holds a part's stock; None if the kit lacks the part."""
    kind, teeth = part.key
    kit = vehicle.kit
    if kind in ("sleeve", "shaft"):
        return ("kit", f"{kind}_stock")
    if kind == "one-way clutch":
        return ("kit", "one_way_stock")
    if kind == "bearing":
        return ("kit", "bearings", teeth, "stock")
    if kind in ("fixed", "free"):
        for number, gear in enumerate(kit.gears):
            if (gear.bore, gear.teeth) == (kind, teeth):
                return ("kit", "gears", number, "stock")
    for number, bevel in enumerate(kit.bevels):
        if (bevel.role, bevel.teeth) == (kind, teeth):
            return ("kit", "bevels", number, "stock")
    return None
