"""From the document to the drivetrain graph.

The motor sits on the box's input. A slot box has one sleeve a column, on the column's selector
shaft; the selector shafts are tied by equal gears and the first of them is the box's output.
"""

import itertools

from mild_badger.core.drivetrain.graph import (
    Body,
    Drivetrain,
    Equation,
    bevel_differential,
    bevel_pair,
    dog,
    external_mesh,
    fixed,
)
from mild_badger.core.vehicle.model import FinalDrive, GearPair, Slot, SlotBox, Vehicle

__all__ = [
    "BOX_INPUT",
    "HOUSING",
    "MOTOR",
    "WHEELS",
    "assemble",
    "box_output",
    "gear_body",
    "sleeve_of",
    "sleeves_for",
    "train_bodies",
]

MOTOR = "motor"
BOX_INPUT = "input.1"
HOUSING = "housing"
WHEELS = {"left": "wheel.left", "right": "wheel.right"}
PINION_SHAFT = "pinion shaft"


class _Builder:
    def __init__(self) -> None:
        self.bodies: dict[str, Body] = {}
        self.equations: list[Equation] = []

    def shaft(self, identity: str, name: str) -> str:
        self.bodies.setdefault(identity, Body(identity, name, "shaft"))
        return identity

    def gear(self, identity: str, teeth: int, *, on: str | None, name: str) -> str:
        self.bodies[identity] = Body(identity, name, "gear", teeth)
        if on is not None:
            self.equations.append(fixed(identity, on))
        return identity

    def mesh(self, one: str, other: str) -> None:
        teeth = (self.bodies[one].teeth or 0, self.bodies[other].teeth or 0)
        self.equations.append(external_mesh(one, other, teeth))

    def train(
        self, key: str, pairs: tuple[GearPair, ...], *, start: str, end: str | None, title: str
    ) -> str:
        """Add a train from a shaft; ``end`` None leaves its last gear free. Returns that gear."""
        here = start
        last = ""
        for number, pair in enumerate(pairs):
            finish = number == len(pairs) - 1
            drive = self.gear(
                gear_body(key, number, "driver"), pair.driver, on=here, name=f"{title}, driver"
            )
            for place, teeth in enumerate(pair.idlers):
                carrier = self.shaft(f"{key}/idler shaft {number}.{place}", f"{title}, idler shaft")
                idler = self.gear(
                    gear_body(key, number, f"idler{place}"), teeth, on=carrier,
                    name=f"{title}, idler",
                )  # fmt: skip
                self.mesh(drive, idler)
                drive = idler
            on: str | None
            if finish:
                on = end
            else:
                on = self.shaft(f"{key}/shaft {number + 1}", f"{title}, shaft {number + 1}")
                here = on
            last = self.gear(
                gear_body(key, number, "driven"), pair.driven, on=on, name=f"{title}, driven"
            )
            self.mesh(drive, last)
        return last


def gear_body(key: str, pair: int, role: str) -> str:
    """Name the body of a gear in a train: ``role`` is driver, driven, idler0, idler1 …."""
    return f"{key}/{pair}.{role}"


def train_bodies(key: str, pairs: tuple[GearPair, ...]) -> tuple[str, ...]:
    """Name the gears of a train in the order in which the power meets them."""
    return tuple(
        gear_body(key, number, role)
        for number, pair in enumerate(pairs)
        for role in ("driver", *(f"idler{n}" for n in range(len(pair.idlers))), "driven")
    )


def sleeve_of(column: int) -> str:
    """Name the sleeve of a column."""
    return f"sleeve.{column}"


def box_output(_vehicle: Vehicle) -> str:
    """Name the body that leaves the box."""
    return "selector.1"


def sleeves_for(vehicle: Vehicle, gear: str | None) -> dict[str, str]:
    """Sleeve positions that engage a gear; all in neutral for None or a gear without a slot."""
    slot = vehicle.box.slot(gear) if gear is not None else None
    return {sleeve_of(slot.column): slot.face} if slot else {}


def assemble(vehicle: Vehicle) -> Drivetrain:
    """Build the graph from motor to wheels."""
    builder = _Builder()
    motor = builder.shaft(MOTOR, "Motor shaft")
    output = _slot_box(builder, vehicle.box, motor)
    _final_drive(builder, vehicle.final_drive, output)
    _differential(builder, vehicle)
    return Drivetrain(tuple(builder.bodies.values()), tuple(builder.equations), motor)


def _slot_box(builder: _Builder, box: SlotBox, motor: str) -> str:
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
        _slot(builder, slot, inputs[slot.column], selectors[slot.column - 1])
    return selectors[0]


def _row(builder: _Builder, key: str, teeth: int, shafts: list[str], name: str) -> None:
    gears = [
        builder.gear(f"{key}.{n}", teeth, on=shaft, name=f"{name} {n}")
        for n, shaft in enumerate(shafts, start=1)
    ]
    for one, other in itertools.pairwise(gears):
        builder.mesh(one, other)


def _slot(builder: _Builder, slot: Slot, start: str, selector: str) -> None:
    if not slot.train:
        return
    title = f"Gear {slot.gear}"
    free = builder.train(slot.gear, slot.train, start=start, end=None, title=title)
    builder.equations.append(dog(free, selector, sleeve=sleeve_of(slot.column), position=slot.face))


def _final_drive(builder: _Builder, final: FinalDrive, output: str) -> None:
    shaft = output
    if final.pairs:
        shaft = builder.shaft(PINION_SHAFT, "Pinion shaft")
        builder.train("final drive", final.pairs, start=output, end=shaft, title="Final drive")
    pinion = builder.gear("pinion", final.pinion, on=shaft, name="Bevel pinion")
    housing = builder.bodies[HOUSING] = Body(HOUSING, "Differential housing", "housing")
    crown = builder.gear("crown", final.crown, on=housing.id, name="Crown wheel")
    teeth = (final.pinion, final.crown)
    builder.equations.append(bevel_pair(pinion, crown, teeth, crown_side=final.crown_side))


def _differential(builder: _Builder, vehicle: Vehicle) -> None:
    for side, wheel in WHEELS.items():
        builder.bodies[wheel] = Body(wheel, f"{side.capitalize()} wheel", "wheel")
    if vehicle.differential.kind == "open":
        builder.equations.append(bevel_differential(HOUSING, WHEELS["left"], WHEELS["right"]))
    else:
        builder.equations.extend(fixed(HOUSING, wheel) for wheel in WHEELS.values())
