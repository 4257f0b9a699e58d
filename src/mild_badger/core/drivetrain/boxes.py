"""From a gearbox of the document to its part of the graph, architecture by architecture.

Columns have one sleeve each. Shafts are named ``input.N`` and ``selector.N`` in a slot box,
``input.1``, ``layshaft.N``, ``middle`` and ``output`` in the others.
"""

import itertools
from collections.abc import Iterable, Mapping

from mild_badger.core.drivetrain.graph import (
    Body,
    Equation,
    bevel_differential,
    dog,
    external_mesh,
    fixed,
    held,
    ratchets,
    sliding_mesh,
)
from mild_badger.core.linkage.lever import lever_efficiency, mean_turns
from mild_badger.core.vehicle.box import (
    LEVER_KEY,
    Box,
    GearPair,
    LayshaftBox,
    LeverBox,
    LeverPlace,
    Link,
    RangeBox,
    Slot,
    SlotBox,
    TwinLayshaftBox,
    TwoShaftBox,
    gear_key,
    second_key,
)
from mild_badger.core.vehicle.lever_drive import LeverDrive
from mild_badger.core.vehicle.train import pair_ids

__all__ = [
    "FULCRUM",
    "LEVER_THROWS",
    "LEVER_WHEEL",
    "Builder",
    "build_box",
    "build_lever",
    "chain_bodies",
    "closed_in",
    "gear_body",
    "idler_shaft",
    "output_of",
    "shaft_after",
    "sleeve_of",
    "sleeves_of",
    "train_bodies",
]

OUTPUT = "output"
FULCRUM = "fulcrum"
"""What slides in a lever box in place of a sleeve; its positions are the gears."""
MIDDLE = "middle"
LEVER_THROWS, LEVER_WHEEL = "lever throws", "lever wheel"


class Builder:
    """Collects the bodies and equations of a graph."""

    def __init__(self, names: Mapping[str, str] | None = None) -> None:
        """Begin with nothing; ``names`` are what gears of the box are called, by id."""
        self.bodies: dict[str, Body] = {}
        self.equations: list[Equation] = []
        self._names = names or {}

    def title(self, gear: str) -> str:
        """Call a gear of the box by its name."""
        return f"Gear {self._names.get(gear, gear)}"

    def shaft(self, identity: str, name: str) -> str:
        """Add a shaft, once."""
        self.bodies.setdefault(identity, Body(identity, name, "shaft"))
        return identity

    def gear(self, identity: str, teeth: int, *, on: str | None, name: str) -> str:
        """Add a gear, fixed on a shaft or free."""
        self.bodies[identity] = Body(identity, name, "gear", teeth)
        if on is not None:
            self.equations.append(fixed(identity, on))
        return identity

    def mesh(self, one: str, other: str) -> None:
        """Put two gears into mesh."""
        teeth = (self.bodies[one].teeth or 0, self.bodies[other].teeth or 0)
        self.equations.append(external_mesh(one, other, teeth))

    def train(
        self,
        key: str,
        pairs: tuple[GearPair, ...],
        *,
        start: str,
        end: str | None,
        title: str,
        slides: tuple[str, str] | None = None,
    ) -> str:
        """Add a train from a shaft; ``end`` None leaves its last gear free. Returns that gear.

        ``slides`` names the slider and its position where the last gear slides into mesh.
        """
        here = start
        last = ""
        for number, (pair, own) in enumerate(zip(pairs, pair_ids(pairs), strict=True)):
            finish = number == len(pairs) - 1
            drive = self.gear(
                gear_body(key, own, "driver"), pair.driver, on=here, name=f"{title}, driver"
            )
            for place, teeth in enumerate(pair.idlers):
                carrier = self.shaft(idler_shaft(key, own, place), f"{title}, idler shaft")
                idler = self.gear(
                    gear_body(key, own, f"idler{place}"),
                    teeth,
                    on=carrier,
                    name=f"{title}, idler",
                )
                self.mesh(drive, idler)
                drive = idler
            on: str | None
            if finish:
                on = end
            else:
                on = self.shaft(shaft_after(key, own), f"{title}, shaft {number + 1}")
                here = on
            last = self.gear(
                gear_body(key, own, "driven"), pair.driven, on=on, name=f"{title}, driven"
            )
            if finish and slides is not None:
                both = (self.bodies[drive].teeth or 0, pair.driven)
                sleeve, position = slides
                self.equations.append(
                    sliding_mesh(drive, last, both, sleeve=sleeve, position=position)
                )
            else:
                self.mesh(drive, last)
        return last


def gear_body(key: str, pair: str, role: str) -> str:
    """Name the body of a gear by its pair's id: ``role`` is driver, driven, idler0, idler1 …."""
    return f"{key}/{pair}.{role}"


def shaft_after(key: str, pair: str) -> str:
    """Name the shaft that a pair drives, where another pair follows."""
    return f"{key}/shaft {int(pair) + 1 if pair.isdigit() else pair}"


def idler_shaft(key: str, pair: str, place: int) -> str:
    """Name the shaft of an idler in a train."""
    return f"{key}/idler shaft {pair}.{place}"


def chain_bodies(chain: Iterable[Link]) -> tuple[str, ...]:
    """Name the gears of a chain of pairs in the order in which the power meets them."""
    return tuple(
        gear_body(link.key, link.id, role)
        for link in chain
        for role in ("driver", *(f"idler{n}" for n in range(len(link.pair.idlers))), "driven")
    )


def train_bodies(key: str, pairs: tuple[GearPair, ...]) -> tuple[str, ...]:
    """Name the gears of one train in the order in which the power meets them."""
    return chain_bodies(Link(key, n, pair) for n, pair in enumerate(pairs))


def sleeve_of(column: int) -> str:
    """Name the sleeve of a column."""
    return f"sleeve.{column}"


def sleeves_of(box: Box, gear: str) -> dict[str, str]:
    """Sleeve positions that engage a gear; none for a gear without a slot."""
    if isinstance(box, RangeBox):
        slot = box.slot(gear)
        if slot is None:
            return {}
        return dict((_range_sleeve("splitter", slot.splitter), _range_sleeve("range", slot.range)))
    if isinstance(box, LeverBox):
        return {}
    place = box.slot(gear)
    return {sleeve_of(place.column): place.face} if place else {}


def closed_in(box: Box, gear: str) -> dict[str, str]:
    """Give what a gear closes in the graph: its sleeves, or where the fulcrum stands."""
    if isinstance(box, LeverBox):
        return {FULCRUM: gear} if box.slot(gear) is not None else {}
    return sleeves_of(box, gear)


def _range_sleeve(kind: str, number: int) -> tuple[str, str]:
    """Which sleeve closes a pair of a small box, and to which side: two pairs share one."""
    return f"{kind} sleeve.{(number + 1) // 2}", "front" if number % 2 else "back"


def output_of(box: Box) -> str:
    """Name the body that leaves the box."""
    return "selector.1" if isinstance(box, SlotBox) else OUTPUT


def build_box(builder: Builder, box: Box, motor: str, motor_turns: int = 1) -> str:
    """Add a box behind the motor; give the body that leaves it.

    ``motor_turns`` is the motor's way, +1 or −1: a lever box's ratchets always turn +.
    """
    if isinstance(box, SlotBox):
        _slot_box(builder, box, motor)
        return output_of(box)
    start = builder.shaft("input.1", "Input shaft")
    builder.equations.append(fixed(motor, start))
    builder.shaft(OUTPUT, "Output shaft")
    match box:
        case LayshaftBox():
            _layshaft(builder, box, start)
        case TwoShaftBox():
            for slot in box.slots:
                _selected(builder, box, slot, start, OUTPUT)
        case TwinLayshaftBox():
            _twin(builder, box, start)
        case RangeBox():
            _ranges(builder, box, start)
        case LeverBox():
            wheel = build_lever(builder, box.drive, start, motor_turns, box.slots)
            builder.equations.append(fixed(wheel, OUTPUT))
    return output_of(box)


def build_lever(
    builder: Builder,
    drive: LeverDrive,
    start: str,
    motor_turns: int,
    places: tuple[LeverPlace, ...] | None = None,
) -> str:
    """Add a lever drive: its throws over pairs, its wheel at the mean ratio of a turn.

    The wheel turns its own way whatever way the throws turn. With ``places`` its fulcrum stands at
    one of them in each gear, else where the drive has it. Returns the wheel.
    """
    throws = builder.shaft(LEVER_THROWS, "Throws of the lever drive")
    if drive.pairs:
        builder.train(LEVER_KEY, drive.pairs, start=start, end=throws, title="Lever drive")
    else:
        builder.equations.append(fixed(start, throws))
    wheel = builder.shaft(LEVER_WHEEL, "Ratchet wheel of the lever drive")
    way = drive.turns * motor_turns * (-1) ** sum(1 + len(pair.idlers) for pair in drive.pairs)
    keeps = lever_efficiency(drive)
    if places is None:
        mean = mean_turns(drive)
        if mean:
            builder.equations.append(ratchets(throws, wheel, way * mean, keeps=keeps))
        else:
            builder.equations.append(held(wheel))
    for place in places or ():
        mean = mean_turns(drive, place.fulcrum_mm)
        if mean:
            builder.equations.append(
                ratchets(
                    throws, wheel, way * mean, keeps=keeps, sleeve=FULCRUM, position=place.gear
                )
            )
    return wheel


def _layshaft(builder: Builder, box: LayshaftBox, start: str) -> None:
    layshaft = builder.shaft("layshaft.1", "Layshaft")
    if box.input_pair:
        builder.train("input pair", box.input_pair, start=start, end=layshaft, title="Input pair")
    for slot in box.slots:
        if slot.direct:
            sleeve = sleeve_of(slot.column)
            builder.equations.append(dog(start, OUTPUT, sleeve=sleeve, position=slot.face))
        else:
            _selected(builder, box, slot, layshaft, OUTPUT)


def _twin(builder: Builder, box: TwinLayshaftBox, start: str) -> None:
    for number, (key, _, train) in enumerate(box.shared()):
        layshaft = builder.shaft(f"layshaft.{number + 1}", f"Layshaft {number + 1}")
        if train:
            builder.train(key, train, start=layshaft, end=OUTPUT, title=key.capitalize())
    for slot in box.slots:
        _selected(builder, box, slot, start, f"layshaft.{box.layshaft(slot.column) + 1}")


def _ranges(builder: Builder, box: RangeBox, start: str) -> None:
    middle = builder.shaft(MIDDLE, "Middle shaft")
    for kind, trains, begin, end in (
        ("splitter", box.splitter, start, middle),
        ("range", box.ranges, middle, OUTPUT),
    ):
        for number, train in enumerate(trains, start=1):
            if train:
                key = f"{kind} {number}"
                free = builder.train(key, train, start=begin, end=None, title=key.capitalize())
                sleeve, position = _range_sleeve(kind, number)
                builder.equations.append(dog(free, end, sleeve=sleeve, position=position))


def _selected(
    builder: Builder,
    box: LayshaftBox | TwoShaftBox | TwinLayshaftBox,
    slot: Slot,
    start: str,
    output: str,
) -> None:
    """Add a gear that a sleeve couples, or one that slides into mesh on its shaft."""
    if box.engagement == "dog" or not slot.train:
        _dogged(builder, slot, start, output)
        return
    builder.train(
        gear_key(slot.gear),
        slot.train,
        start=start,
        end=output,
        title=builder.title(slot.gear),
        slides=(sleeve_of(slot.column), slot.face),
    )


def _dogged(builder: Builder, slot: Slot, start: str, output: str) -> None:
    """Add a gear's train from a shaft to a free gear that its sleeve couples to another shaft."""
    if not slot.train:
        return
    title = builder.title(slot.gear)
    free = builder.train(gear_key(slot.gear), slot.train, start=start, end=None, title=title)
    if slot.second:
        free = _sum(builder, slot, free, start)
    builder.equations.append(dog(free, output, sleeve=sleeve_of(slot.column), position=slot.face))


def _sum(builder: Builder, slot: Slot, one: str, start: str) -> str:
    """Join two trains in a differential; give its housing."""
    title = builder.title(slot.gear)
    other = builder.train(
        second_key(slot.gear), slot.second, start=start, end=None, title=f"{title}, second train"
    )
    housing = f"{gear_key(slot.gear)}/sum"
    name = f"{title}, summing differential"
    builder.bodies[housing] = Body(housing, name, "housing")
    builder.equations.append(bevel_differential(housing, one, other))
    return housing


def _slot_box(builder: Builder, box: SlotBox, motor: str) -> None:
    columns = range(1, max(box.columns, 1) + 1)
    inputs = {}
    for column in columns:
        if box.feed == "rail" or column == 1:
            label = f"Drive rail, shaft {column}" if box.feed == "rail" else "Input shaft"
            inputs[column] = builder.shaft(f"input.{column}", label)
        else:
            inputs[column] = inputs[1]
    builder.equations.append(fixed(motor, inputs[1]))
    if box.feed == "rail" and len(columns) > 1:
        _row(builder, "rail", box.rail_teeth, [inputs[c] for c in columns], "Rail gear")
    selectors = [builder.shaft(f"selector.{c}", f"Selector shaft {c}") for c in columns]
    if len(columns) > 1:
        _row(builder, "tie", box.tie_teeth, selectors, "Tie gear")
    for slot in box.slots:
        _dogged(builder, slot, inputs[slot.column], selectors[slot.column - 1])


def _row(builder: Builder, key: str, teeth: int, shafts: list[str], name: str) -> None:
    gears = [
        builder.gear(f"{key}.{n}", teeth, on=shaft, name=f"{name} {n}")
        for n, shaft in enumerate(shafts, start=1)
    ]
    for one, other in itertools.pairwise(gears):
        builder.mesh(one, other)
