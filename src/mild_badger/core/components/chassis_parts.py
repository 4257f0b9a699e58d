"""Frame, floor and steering in space, where they are planned: simple shapes, to scale.

Two rails as far apart as the chassis is wide, the floor at its height above the propeller shaft,
the steering of the front axle with its wheels straight. They lie in the components' frame about
the wheels of the drive line.
"""

from collections.abc import Iterator, Sequence

from mild_badger.core.axle.clearance import hub_rise_mm
from mild_badger.core.axle.running import running_of
from mild_badger.core.axle.shaft_line import shaft_line
from mild_badger.core.axle.steering import steer_at
from mild_badger.core.components.component import (
    Component,
    ComponentId,
    ComponentKind,
    Outline,
    Prism,
)
from mild_badger.core.components.steering_parts import FrontAxle, steering_parts
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["chassis_parts", "front_axle"]

RAIL_MM, RAIL_HIGH_MM = 5.0, 12.0
"""How thick and high a rail of the frame is drawn (an estimate, no source)."""


def chassis_parts(vehicle: Vehicle, wheels: Sequence[Component]) -> tuple[Component, ...]:
    """List the parts about an axle's wheels; none where no running gear is planned.

    ``wheels`` are those of the vehicle, in the frame of the components.
    """
    if vehicle.running is None or not wheels:
        return ()
    return tuple(_Chassis(vehicle, wheels).parts())


def front_axle(vehicle: Vehicle, wheels: Sequence[Component]) -> FrontAxle | None:
    """Say where the steered axle is; None where no running gear, or but one axle, is planned."""
    if vehicle.running is None or not wheels:
        return None
    return _Chassis(vehicle, wheels).axle()


class _Chassis:
    """Where the wheels are, and what lies between them."""

    def __init__(self, vehicle: Vehicle, wheels: Sequence[Component]) -> None:
        self.vehicle, self.running, self.wheels = vehicle, running_of(vehicle), wheels
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

    def axle(self) -> FrontAxle | None:
        """Say where the steered axle is; None where there is but one axle."""
        if self.front_mm == self.rear_mm:
            return None
        joined = any(wheel.joint is not None for wheel in self.wheels)
        hub = max(wheel.y_mm for wheel in self.wheels if wheel.along_mm == self.front_mm)
        if joined:  # the half shafts lie above geared hubs
            hub += hub_rise_mm(self.vehicle, self.running.shape)
        return FrontAxle(self.x, hub, self.front_mm, self.ahead, -self.ahead, self.ground, joined)

    def _steering(self) -> Iterator[Component]:
        axle, state = self.axle(), steer_at(self.vehicle, 0.0)
        if axle is not None and state is not None:
            yield from steering_parts(self.vehicle, axle, state)

    def _part(self, name: str, kind: ComponentKind, solid: tuple[Prism, ...]) -> Component:
        return Component(ComponentId(name), kind, solid, self.x, 0.0, 0.0)


def _plate(left: float, low: float, right: float, high: float) -> Outline:
    return (left, low), (right, low), (right, high), (left, high)
