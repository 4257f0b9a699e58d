"""From the document to the drivetrain graph.

The motor sits on the box's input. A slot box has one sleeve a column, on the column's selector
shaft; the selector shafts are tied by equal gears and the first of them is the box's output.
"""

from mild_badger.core.drivetrain.boxes import Builder, build_box, output_of, sleeves_of
from mild_badger.core.drivetrain.graph import (
    Body,
    Drivetrain,
    bevel_differential,
    bevel_pair,
    fixed,
)
from mild_badger.core.vehicle.model import FinalDrive, Vehicle

__all__ = [
    "BOX_INPUT",
    "HOUSING",
    "MOTOR",
    "WHEELS",
    "assemble",
    "box_output",
    "sleeves_for",
]

MOTOR = "motor"
BOX_INPUT = "input.1"
HOUSING = "housing"
WHEELS = {"left": "wheel.left", "right": "wheel.right"}
PINION_SHAFT = "pinion shaft"


def box_output(vehicle: Vehicle) -> str:
    """Name the body that leaves the box."""
    return output_of(vehicle.box)


def sleeves_for(vehicle: Vehicle, gear: str | None) -> dict[str, str]:
    """Sleeve positions that engage a gear; all in neutral for None or a gear without a slot."""
    return {} if gear is None else sleeves_of(vehicle.box, gear)


def assemble(vehicle: Vehicle) -> Drivetrain:
    """Build the graph from motor to wheels."""
    builder = Builder()
    motor = builder.shaft(MOTOR, "Motor shaft")
    output = build_box(builder, vehicle.box, motor)
    _final_drive(builder, vehicle.final_drive, output)
    _differential(builder, vehicle)
    return Drivetrain(tuple(builder.bodies.values()), tuple(builder.equations), motor)


def _final_drive(builder: Builder, final: FinalDrive, output: str) -> None:
    shaft = output
    if final.pairs:
        shaft = builder.shaft(PINION_SHAFT, "Pinion shaft")
        builder.train("final drive", final.pairs, start=output, end=shaft, title="Final drive")
    pinion = builder.gear("pinion", final.pinion, on=shaft, name="Bevel pinion")
    housing = builder.bodies[HOUSING] = Body(HOUSING, "Differential housing", "housing")
    crown = builder.gear("crown", final.crown, on=housing.id, name="Crown wheel")
    teeth = (final.pinion, final.crown)
    builder.equations.append(bevel_pair(pinion, crown, teeth, crown_side=final.crown_side))


def _differential(builder: Builder, vehicle: Vehicle) -> None:
    for side, wheel in WHEELS.items():
        builder.bodies[wheel] = Body(wheel, f"{side.capitalize()} wheel", "wheel")
    if vehicle.differential.kind == "open":
        builder.equations.append(bevel_differential(HOUSING, WHEELS["left"], WHEELS["right"]))
    else:
        builder.equations.extend(fixed(HOUSING, wheel) for wheel in WHEELS.values())
