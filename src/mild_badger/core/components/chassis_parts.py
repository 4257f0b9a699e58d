"""Frame, floor and steering in space, where they are planned: simple shapes, to scale.

Two rails as far apart as the chassis is wide, the floor at its height above the propeller shaft,
rack, rods, arms and kingpins of a steered front axle with its wheels straight. They lie in the
components' frame about the wheels of the drive line.
"""

from collections.abc import Iterator, Sequence
from math import ceil, hypot

from mild_badger.core.axle.running import running_of
from mild_badger.core.axle.shaft_line import shaft_line
from mild_badger.core.axle.steering import steer_at
from mild_badger.core.components.component import (
    Component,
    ComponentId,
    ComponentKind,
    Outline,
    Point,
    Prism,
)
from mild_badger.core.components.solids import circle
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["chassis_parts"]

RAIL_MM, RAIL_HIGH_MM = 5.0, 12.0
"""How thick and high a rail of the frame is drawn (an estimate, no source)."""
ROD_MM, PIN_MM, PIN_HIGH_MM = 1.8, 2.4, 16.0
"""Radius of steering rods and kingpins, and how high these are (estimates, no source)."""
SLICE_MM = 2.5


def chassis_parts(vehicle: Vehicle, wheels: Sequence[Component]) -> tuple[Component, ...]:
    """List the parts about an axle's wheels; none where no running gear is planned.

    ``wheels`` are those of the vehicle, in the frame of the components.
    """
    if vehicle.running is None or not wheels:
        return ()
    return tuple(_Chassis(vehicle, wheels).parts())


class _Chassis:
    """Where the wheels are, and what lies between them."""

    def __init__(self, vehicle: Vehicle, wheels: Sequence[Component]) -> None:
        self.vehicle, self.running = vehicle, running_of(vehicle)
        # ahead is towards the input end where the box's input is in front
        self.ahead = -1.0 if vehicle.shifting.box_faces == "rear" else 1.0
        alongs = sorted({wheel.along_mm for wheel in wheels}, key=lambda mm: mm * self.ahead)
        self.rear_mm, self.front_mm = alongs[0], alongs[-1]
        self.x = sum(wheel.x_mm for wheel in wheels) / len(wheels)
        self.hub = min(wheel.y_mm for wheel in wheels)
        self.ground = self.hub - vehicle.wheels.diameter_mm / 2

    def parts(self) -> Iterator[Component]:
        yield from self._frame()
        yield self._floor()
        if self.front_mm != self.rear_mm:
            yield from self._steering()

    def _span(self) -> tuple[float, float]:
        chassis = self.running.chassis
        one = self.front_mm + self.ahead * chassis.front_overhang_mm
        other = self.rear_mm - self.ahead * chassis.rear_overhang_mm
        return min(one, other), max(one, other)

    def _frame(self) -> Iterator[Component]:
        chassis = self.running.chassis
        start, end = self._span()
        low = self.ground + chassis.belly_mm
        for name, sign in (("left", -1.0), ("right", 1.0)):
            x = sign * (chassis.half_width_mm - RAIL_MM / 2)
            plate = _plate(x - RAIL_MM / 2, low, x + RAIL_MM / 2, low + RAIL_HIGH_MM)
            yield self._part(f"frame rail {name}", "frame rail", (Prism((plate,), start, end),))

    def _floor(self) -> Component:
        line, thick = shaft_line(self.vehicle), self.running.line.floor_thick_mm
        half = self.running.chassis.half_width_mm
        top = self.ground + line.floor_mm
        start, end = sorted((self.front_mm, self.rear_mm))
        plate = _plate(-half, top - max(thick, 0.5), half, top)
        return self._part("floor", "floor", (Prism((plate,), start, end),))

    def _steering(self) -> Iterator[Component]:
        steering, state = self.running.steering, steer_at(self.vehicle, 0.0)
        if state is None:
            return
        (left_arm, left_rack), (right_arm, right_rack) = state.joints
        half = self.vehicle.axle.track_mm / 2 - steering.kingpin_mm
        rods: tuple[tuple[str, ComponentKind, Point, Point], ...] = (
            ("steering rack", "rack", left_rack, right_rack),
            ("steering rod left", "steering rod", left_rack, left_arm),
            ("steering rod right", "steering rod", right_rack, right_arm),
            ("steering arm left", "steering arm", (-half, 0.0), left_arm),
            ("steering arm right", "steering arm", (half, 0.0), right_arm),
        )
        for name, kind, one, other in rods:
            yield self._rod(name, kind, one, other)
        for name, x in (("left", -half), ("right", half)):
            pin = _plate(
                x - PIN_MM, self.hub - PIN_HIGH_MM / 2, x + PIN_MM, self.hub + PIN_HIGH_MM / 2
            )
            along = self.front_mm
            solid = (Prism((pin,), along - PIN_MM, along + PIN_MM),)
            yield self._part(f"kingpin {name}", "kingpin", solid)

    def _rod(self, name: str, kind: ComponentKind, one: Point, other: Point) -> Component:
        """Make a rod in the plane of the steering of short slices, each where the rod then is.

        Points are to the right and ahead of the axle's middle.
        """
        (x0, a0), (x1, a1) = one, other
        steep = abs(a1 - a0) >= abs(x1 - x0)
        count = max(ceil(hypot(x1 - x0, a1 - a0) / SLICE_MM), 1)
        prisms = []
        for number in range(count):
            start, end = number / count, (number + 1) / count
            middle = (start + end) / 2
            if steep:  # slices along the box
                x = x0 + (x1 - x0) * middle
                ends = sorted(
                    self.front_mm + self.ahead * (a0 + (a1 - a0) * s) for s in (start, end)
                )
                outline: Outline = circle(ROD_MM, (x, self.hub), 12)
            else:  # slices of it across the box, square in section
                xs = sorted(x0 + (x1 - x0) * s for s in (start, end))
                along = self.front_mm + self.ahead * (a0 + (a1 - a0) * middle)
                outline = _plate(xs[0] - 0.05, self.hub - ROD_MM, xs[1] + 0.05, self.hub + ROD_MM)
                ends = [along - ROD_MM, along + ROD_MM]
            prisms.append(Prism((outline,), ends[0] - 0.05, ends[1] + 0.05))
        return self._part(name, kind, tuple(prisms))

    def _part(self, name: str, kind: ComponentKind, solid: tuple[Prism, ...]) -> Component:
        return Component(ComponentId(name), kind, solid, self.x, 0.0, 0.0)


def _plate(left: float, low: float, right: float, high: float) -> Outline:
    return (left, low), (right, low), (right, high), (left, high)
