"""Steering in space: rack and pinion, rods, arms, kingpins, and the column with its two joints.

Another place of the rack is another pose of the same shapes. The pinion stands upright behind the
rack, in the middle; the column leans back at each of two universal joints, so that it stays clear
of what lies between the axles. Where the steering wheel turns otherwise than the pinion, the gears
between are not drawn. Sizes that nothing gives are estimates, no source.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from math import atan2, cos, hypot, pi, radians, sin, tan

from mild_badger.core.axle.running import running_of
from mild_badger.core.axle.shaft_line import shaft_line
from mild_badger.core.axle.steering import SteerState
from mild_badger.core.components.component import (
    Component,
    ComponentId,
    ComponentKind,
    Joint,
    Outline,
    Point,
    Prism,
)
from mild_badger.core.components.gear_ring import form_of, gear_ring
from mild_badger.core.components.joint_parts import (
    cross_solid,
    hub_mm,
    joint_radius_mm,
    yoke_solid,
)
from mild_badger.core.components.solids import circle, rotated
from mild_badger.core.kit.part_sizes import RUN_MM
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["FrontAxle", "kingpin_mm", "steering_parts"]

UPRIGHT = pi / 2
"""The lean of what stands upright."""
PIN_MM, PIN_HIGH_MM = 2.4, 16.0
BAR_MM, BAR_HIGH_MM = 1.8, 3.0
"""Half the width of rods and arms, and how thick they are."""
BELOW_MM = 3.0
"""How far the steering stays below a joint at the kingpin."""
COLUMN_MM, WHEEL_RIM_MM = 2.0, 2.0
MOST_TEETH = 30
"""Of a rack, to either side of its middle."""
FOOT_MM = 12.0
"""How far above the floor the lower joint stands."""
MIDDLE, UPPER, WHEEL = 0.16, 0.07, 0.1
"""Length of the column's middle and upper shaft and the wheel's radius, to the wheelbase."""


@dataclass(frozen=True)
class FrontAxle:
    """Where a steered axle is in the frame of the components.

    ``ahead`` is +1 where what lies ahead lies farther along the box, ``left`` +1 where the driver's
    left is to the right as seen from the input end. ``ground_mm`` is the road's height; ``joined``
    says whether the wheels are driven through joints at the kingpins.
    """

    x_mm: float
    hub_mm: float
    along_mm: float
    ahead: float
    left: float
    ground_mm: float
    joined: bool

    @property
    def yaw_rad(self) -> float:
        """The yaw of what stands upright: its right is then the driver's left, its up ahead."""
        return -self.ahead * pi / 2

    def at(self, place: Point) -> tuple[float, float]:
        """Give x and the place along the box of what is so far to the right and ahead, mm."""
        return self.x_mm - self.left * place[0], self.along_mm + self.ahead * place[1]


def kingpin_mm(vehicle: Vehicle) -> float:
    """Give how far from the axle's middle the kingpins stand."""
    return vehicle.axle.track_mm / 2 - running_of(vehicle).steering.kingpin_mm


def steering_parts(vehicle: Vehicle, axle: FrontAxle, state: SteerState) -> tuple[Component, ...]:
    """List the steering's parts with the rack at a place.

    Raises
    ------
    InputError
        The pinion's teeth cannot be made.
    """
    return tuple(_Steering(vehicle, axle, state).parts())


class _Steering:
    def __init__(self, vehicle: Vehicle, axle: FrontAxle, state: SteerState) -> None:
        self.vehicle, self.axle, self.state = vehicle, axle, state
        self.steering = running_of(vehicle).steering
        shaft = vehicle.kit.shaft_diameter_mm / 2
        self.joint_mm = joint_radius_mm(shaft)
        # of driven wheels the kingpins leave the middle to the joints, and the rest lies below them
        self.height = axle.hub_mm - (self.joint_mm + BELOW_MM if axle.joined else 0.0)
        self.pitch_mm = vehicle.kit.module_mm * self.steering.pinion_teeth / 2

    def parts(self) -> Iterator[Component]:
        yield from self._kingpins()
        yield from self._rods()
        yield self._rack()
        yield from self._column()

    def _part(
        self,
        name: str,
        kind: ComponentKind,
        solid: tuple[Prism, ...],
        place: Point,
        *,
        height: float | None = None,
        turn: float = 0.0,
        yaw: float = 0.0,
        back: float = 0.0,
        joint: Joint | None = None,
    ) -> Component:
        """Stand a part at a place, upright or leaning ``back``, turned by ``yaw`` from above."""
        x, along = self.axle.at(place)
        return Component(
            ComponentId(name),
            kind,
            solid,
            x,
            self.height if height is None else height,
            along,
            turn_rad=turn,
            across=True,
            lean_rad=UPRIGHT - back,
            yaw_rad=self.axle.yaw_rad + yaw,
            joint=joint,
        )

    def _kingpins(self) -> Iterator[Component]:
        half, pin = kingpin_mm(self.vehicle), circle(PIN_MM, corners=24)
        high = PIN_HIGH_MM / 2
        solid: tuple[Prism, ...] = (Prism((pin,), -high, high),)
        if self.axle.joined:
            near = self.joint_mm + RUN_MM
            solid = (Prism((pin,), -near - high, -near), Prism((pin,), near, near + high))
        for name, x in (("left", -half), ("right", half)):
            height = self.axle.hub_mm
            yield self._part(f"kingpin {name}", "kingpin", solid, (x, 0.0), height=height)

    def _rods(self) -> Iterator[Component]:
        half, t = kingpin_mm(self.vehicle), BAR_HIGH_MM
        for side, x, (arm, rack) in zip(
            ("left", "right"), (-half, half), self.state.joints, strict=True
        ):
            yield self._bar(f"steering rod {side}", "steering rod", rack, arm, t / 2 + RUN_MM)
            yield self._bar(f"steering arm {side}", "steering arm", (x, 0.0), arm, -t / 2)

    def _bar(
        self, name: str, kind: ComponentKind, one: Point, other: Point, low: float
    ) -> Component:
        """Lay a bar with round ends between two points, ``low`` above the steering's height."""
        right, ahead = other[0] - one[0], other[1] - one[1]
        long = hypot(right, ahead)
        plate = ((0.0, -BAR_MM), (long, -BAR_MM), (long, BAR_MM), (0.0, BAR_MM))
        eyes = (circle(BAR_MM, corners=24), circle(BAR_MM, (long, 0.0), 24))
        solid = (Prism((plate, *eyes), low, low + BAR_HIGH_MM),)
        # as drawn it points to the driver's left
        return self._part(name, kind, solid, one, yaw=atan2(ahead, right) - pi)

    def _rack(self) -> Component:
        """Cut the rack's teeth where the pinion reaches, in phase with it as it is drawn."""
        kit, steering = self.vehicle.kit, self.steering
        m, half = kit.module_mm, steering.rack_mm / 2
        slope = tan(radians(kit.pressure_angle_deg))
        pitch, top, root = pi * m, -m, 1.25 * m
        step = 2 * pi / steering.pinion_teeth
        # the pinion has a tooth to its right; the nearest to the rack is so far past it
        past = round(pi / 2 / step) * step - pi / 2
        gap = -self.pitch_mm * past
        reach = min(steering.travel_mm + 2 * pitch, half - BAR_MM, MOST_TEETH * pitch)
        edge: list[Point] = [(-half, 0.0)]
        centre = gap + pitch / 2
        centre -= pitch * int((centre + reach) // pitch)
        while centre + pitch / 2 <= reach:
            if centre - pitch / 2 >= -reach:
                for sign in (-1.0, 1.0):
                    foot = (centre + sign * (pitch / 4 + root * slope), root)
                    tip = (centre + sign * (pitch / 4 + top * slope), top)
                    edge.extend((foot, tip) if sign < 0 else (tip, foot))
            centre += pitch
        if len(edge) > 1:
            edge.insert(1, (edge[1][0], 0.0))
            edge.append((edge[-1][0], 0.0))
        edge.append((half, 0.0))
        back = root + 2 * BAR_MM
        outline: Outline = (*edge, (half, back), (-half, back))
        solid = (Prism((outline,), -BAR_HIGH_MM / 2, BAR_HIGH_MM / 2),)
        place = (self.state.rack_mm, steering.rack_offset_mm)
        return self._part("steering rack", "rack", solid, place)

    def _column(self) -> Iterator[Component]:
        """Lead from the pinion up to the steering wheel."""
        steering, base = self.steering, self.vehicle.axle.wheelbase_mm
        shaft = COLUMN_MM
        hub, rod = hub_mm(shaft), circle(shaft, corners=24)
        turned = self.state.rack_mm / self.pitch_mm
        place = (0.0, steering.rack_offset_mm - self.pitch_mm)
        face = BAR_HIGH_MM / 2 + RUN_MM
        teeth = gear_ring(form_of(self.vehicle.kit, steering.pinion_teeth))
        yield self._part(
            "steering pinion",
            "steering pinion",
            (Prism((teeth,), -face, face),),
            place,
            turn=turned,
        )
        line = shaft_line(self.vehicle)
        foot = self.axle.ground_mm + line.floor_mm + FOOT_MM
        lower = max(foot - self.height, 3 * hub)
        middle, upper = max(MIDDLE * base, 4 * hub), max(UPPER * base, 2 * hub)
        bends = (radians(steering.column_deg), radians(steering.column_second_deg))
        phase = radians(steering.column_phase_deg)
        first, height = place, self.height + lower
        start = yoke_solid(shaft, driven=False)
        yield self._part(
            "steering column lower",
            "steering column",
            (Prism((rod,), face - lower, -hub), *start),
            first,
            height=height,
            turn=turned * steering.wheel_ratio,
        )
        lower_id = ComponentId("steering column lower")
        joint = Joint(lower_id)
        cross = cross_solid(shaft)
        yield self._part(
            "steering joint lower", "joint cross", cross, first, height=height, joint=joint
        )
        # its two forks lie alike, so that the second joint evens out the first
        end = tuple(
            Prism(
                tuple(rotated(outline, pi / 2 + phase) for outline in prism.outlines),
                prism.from_mm + middle,
                prism.to_mm + middle,
            )
            for prism in start
        )
        solid = (*yoke_solid(shaft, driven=True), Prism((rod,), hub, middle - hub), *end)
        yield self._part(
            "steering column middle",
            "steering column",
            solid,
            first,
            height=height,
            back=bends[0],
            joint=joint,
        )
        second = (first[0], first[1] - middle * sin(bends[0]))
        height += middle * cos(bends[0])
        joint = Joint(ComponentId("steering column middle"), pi / 2 + phase, phase)
        yield self._part(
            "steering joint upper", "joint cross", cross, second, height=height, joint=joint
        )
        fork = tuple(
            Prism(
                tuple(rotated(outline, phase - pi / 2) for outline in prism.outlines),
                prism.from_mm,
                prism.to_mm,
            )
            for prism in yoke_solid(shaft, driven=True)
        )
        back = sum(bends)
        yield self._part(
            "steering column upper",
            "steering column",
            (*fork, Prism((rod,), hub, upper)),
            second,
            height=height,
            back=back,
            joint=joint,
        )
        top = (second[0], second[1] - upper * sin(back))
        yield self._part(
            "steering wheel",
            "steering wheel",
            _wheel(WHEEL * base),
            top,
            height=height + upper * cos(back),
            back=back,
            joint=joint,
        )


def _wheel(radius: float) -> tuple[Prism, ...]:
    """Shape a steering wheel: a rim, three spokes, a hub."""
    rim = WHEEL_RIM_MM
    inner = radius - 2 * rim
    ring = Prism((circle(radius),), -rim, rim, (circle(inner),))
    spoke = ((0.0, -rim), (inner + rim, -rim), (inner + rim, rim), (0.0, rim))
    spokes = tuple(rotated(spoke, turn) for turn in (0.0, pi, 1.5 * pi))
    return ring, Prism((*spokes, circle(2 * rim, corners=24)), -rim / 2, rim / 2)
