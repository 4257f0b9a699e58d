"""The slot box as a diagram: columns, sleeves, slots with their meshes and directions."""

from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

from mild_badger.core.architectures.places import Columns
from mild_badger.core.architectures.registry import architecture_of
from mild_badger.core.driveline.assemble import box_output
from mild_badger.core.drivetrain.solve import Solution
from mild_badger.core.ratios.train import mesh_count
from mild_badger.core.vehicle.box import Slot
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["SlotColumn", "SlotView", "slot_columns"]


@dataclass(frozen=True)
class SlotView:
    """One slot as it is drawn.

    ``output_speed`` is the box's output per turn of the motor in that gear, None where the gear
    has no train or the box locks.
    """

    slot: Slot
    reverse: bool
    meshes: int
    output_speed: Fraction | None

    @property
    def direction(self) -> Literal[1, 0, -1]:
        """Sign of the box's output as the motor turns plus; 0 while unknown."""
        if not self.output_speed:
            return 0
        return 1 if self.output_speed > 0 else -1


@dataclass(frozen=True)
class SlotColumn:
    """A column of the slot box.

    ``input_sign`` and ``selector_sign`` are the directions in which its input shaft and its
    selector shaft turn while the box drives plus.
    """

    number: int
    sleeve: str
    input_sign: int
    selector_sign: int
    front: SlotView | None
    back: SlotView | None


def slot_columns(vehicle: Vehicle, solutions: dict[str, Solution]) -> tuple[SlotColumn, ...]:
    """Arrange a slot box's slots into columns, each slot with what the solver says of its gear.

    None for a box of another architecture.
    """
    places = architecture_of(vehicle.box).places(vehicle.box)
    if not isinstance(places, Columns):
        return ()
    views = {}
    for slot in vehicle.box.slots:
        if not isinstance(slot, Slot):
            continue
        target = vehicle.gear(slot.gear)
        solution = solutions.get(slot.gear)
        speed = solution.speed(box_output(vehicle)) if solution and slot.train else None
        views[slot.column, slot.face] = SlotView(
            slot=slot,
            reverse=target is not None and target.reverse,
            meshes=mesh_count((*slot.train, *slot.second)),
            output_speed=speed,
        )
    neutral = next(iter(solutions.values()), None)
    columns = []
    for number in range(1, places.count + 1):
        name = places.input_of(number)
        turning = neutral.speed(name) if neutral else None
        columns.append(
            SlotColumn(
                number=number,
                sleeve=vehicle.box.sleeve_at(number),
                input_sign=-1 if turning is not None and turning < 0 else 1,
                selector_sign=-1 if number % 2 == 0 else 1,
                front=views.get((number, "front")),
                back=views.get((number, "back")),
            )
        )
    return tuple(columns)
