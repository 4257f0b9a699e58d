"""From the box to the wheels in space: final drive, bevel gears, differentials, wheels.

Simple solids in the box's axes, behind the box: the final drive's pairs stand one behind another,
each shaft below the one before it; the pinion on the last one meets the crown wheel on the axle,
which lies across. Where the box has no place, its output is taken to stand at the origin. Sizes
that nothing gives are estimates, no source.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import partial
from itertools import pairwise

from mild_badger.core.architectures.lever import LEVER_WHEEL
from mild_badger.core.axle.clearance import hub_rise_mm
from mild_badger.core.axle.running import running_of
from mild_badger.core.components.component import (
    Component,
    ComponentId,
    ComponentKind,
    Joint,
    Outline,
    Prism,
)
from mild_badger.core.components.gear_ring import form_of, gear_ring
from mild_badger.core.components.joint_parts import (
    cross_solid,
    hub_mm,
    joint_radius_mm,
    yoke_solid,
)
from mild_badger.core.components.lever_parts import lever_plan
from mild_badger.core.components.phase import MeshOf, Wheel, phases_of
from mild_badger.core.components.solids import circle, round_hole
from mild_badger.core.components.vehicle_parts import main_components
from mild_badger.core.driveline.assemble import (
    FIRST_AXLE,
    PINION_SHAFT,
    WHEELS,
    axle_body,
    box_output,
)
from mild_badger.core.ids import AxleId
from mild_badger.core.kit.part_sizes import RUN_MM
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.structure.shaft_lengths import output_rod, shaft_cuts, stub_mm
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.shifting import Side
from mild_badger.core.vehicle.train_rows import train_rows

__all__ = ["FREE", "LINE", "drive_line_parts"]

LINE = "drive line"
"""What its parts belong to where they stand beside the boxes."""
COUPLING_MM = 2.0
"""How thick the wall of a coupling is."""
STUB_MM = 12.0
"""How far the stub of a wheel that is not driven reaches inwards."""
FREE = AxleId("free")
CLEAR_MM = 3.0
"""Room between the wheels and the box (an estimate, no source)."""
HOUSING_SHARE = 0.6
"""Radius of a differential's housing to its crown wheel's (an estimate, no source)."""
JOINT_ROOM_MM, HUB_STUB_MM = 1.5, 3.0
"""About a joint in its wheel, and the stub to a geared hub behind it (estimates, no source)."""
SIDES: tuple[tuple[Side, float], ...] = (("left", 1.0), ("right", -1.0))
"""Each side, and which way it lies of the driver's left."""
BEVEL_FACE = 4.0
"""Face width of bevel gears, in modules."""


@dataclass(frozen=True)
class _Exit:
    """Where the box's output ends: the shaft's middle, and how far along the box it reaches."""

    x_mm: float
    y_mm: float
    along_mm: float


def drive_line_parts(vehicle: Vehicle) -> tuple[Component, ...]:
    """List the parts from the box's output to all wheels.

    Raises
    ------
    InputError
        A gear of the final drive cannot be made.
    """
    parts = tuple(_Builder(vehicle).parts())
    gears = [part for part in parts if part.kind == "gear"]
    wheels = [Wheel(g.id, g.teeth, g.x_mm, g.y_mm, g.shaft) for g in gears]
    turns = phases_of(wheels, _meshes(vehicle)).turns
    return tuple(
        replace(part, turn_rad=turns[part.id]) if part.kind == "gear" else part for part in parts
    )


def _meshes(vehicle: Vehicle) -> list[MeshOf]:
    """List the meshes of the final drive's pairs."""
    rows = train_rows("final drive", vehicle.final_drive.pairs, box_output(vehicle), PINION_SHAFT)
    return [MeshOf(one, other) for _, row in rows for (one, _, _), (other, _, _) in pairwise(row)]


def _exit(vehicle: Vehicle) -> _Exit:
    plan = lever_plan(vehicle) if vehicle.box.lever is not None else None
    if plan is not None:
        return _Exit(*plan.centres[LEVER_WHEEL], plan.spans[LEVER_WHEEL][1])
    stack = stack_for(vehicle)
    if stack is None:
        return _Exit(0.0, 0.0, 0.0)
    name = output_rod(vehicle, stack)
    cut = next((cut for cut in shaft_cuts(vehicle, stack) if cut.name == name), None)
    if name is None or cut is None:
        return _Exit(0.0, 0.0, stack.length_mm + stub_mm(vehicle))
    rod = stack.rods[name]
    return _Exit(rod.x_mm, rod.y_mm, cut.start_mm + (cut.length_mm or cut.needed_mm))


def _yoke(axle: AxleId, side: str) -> ComponentId:
    """Name the yoke that drives a steered wheel."""
    return ComponentId(f"{axle_body(axle, 'yoke')} {side}")


def _mirrored(prism: Prism, sign: float) -> Prism:
    """Turn a shape round end for end where its side is the other one."""
    if sign > 0:
        return prism
    return replace(prism, from_mm=-prism.to_mm, to_mm=-prism.from_mm)


class _Builder:
    def __init__(self, vehicle: Vehicle) -> None:
        self.vehicle, self.kit = vehicle, vehicle.kit
        self.shaft_mm = vehicle.kit.shaft_diameter_mm / 2
        self.bore = round_hole(self.shaft_mm + RUN_MM)
        self.start, self.gap = _exit(vehicle), vehicle.frame.gap_mm
        running = running_of(vehicle)
        self.shape, self.chassis, self.line = running.shape, running.chassis, running.line
        # seen from the input end the driver's left is on the right where the box runs rearwards
        self.left = 1.0 if vehicle.shifting.box_faces == "rear" else -1.0
        self.forward = -1.0 if vehicle.shifting.box_faces == "rear" else 1.0

    def parts(self) -> Iterator[Component]:
        x, y, along = self.start.x_mm, self.start.y_mm, self.start.along_mm
        tube = circle(self.shaft_mm + COUPLING_MM)
        long = 2 * stub_mm(self.vehicle)
        yield self._part(
            "coupling of the box output",
            "coupling",
            (Prism((tube,), -long / 2, long / 2, (self.bore,)),),
            (x, y, along),
            body=box_output(self.vehicle),
        )
        along += RUN_MM
        shaft, begins = box_output(self.vehicle), along
        along += long / 2
        pairs = self.vehicle.final_drive.pairs
        rows = train_rows("final drive", pairs, shaft, PINION_SHAFT)
        for number, (pair, row) in enumerate(rows):
            after = row[-1][2]
            width = self._width(pair.driver, pair.driven)
            yield self._shaft(shaft, (x, y), begins, along + width, number)
            ys = [y]
            for (_, one, _), (_, other, _) in pairwise(row):
                ys.append(ys[-1] - (one + other) * self.kit.module_mm / 2)
            for (body, teeth, carrier), at in zip(row, ys, strict=True):
                yield self._gear(body, teeth, carrier, (x, at, along), width)
                if carrier not in (shaft, after):
                    yield self._shaft(
                        carrier, (x, at), along - self.gap, along + width + self.gap, 0
                    )
            shaft, begins, y = after, along - self.gap, ys[-1]
            along += width + 2 * self.gap
        yield from self._driven_axles(shaft, (x, y), begins, along)

    def _driven_axles(
        self, shaft: str, at: tuple[float, float], begins: float, along: float
    ) -> Iterator[Component]:
        """Put the axles on the pinion's line: the first behind the pairs, others ahead of it."""
        final = self.vehicle.final_drive
        y = at[1] + self.line.offset_mm
        first = max(along + self._bevel_mm(final.crown), self._behind_the_box(at[0], y))
        yield self._shaft(shaft, at, begins, first - self._housing_mm(final.crown) - RUN_MM, 1)
        others = [first + self.forward * axle.ahead_mm for axle in self.vehicle.additional_axles]
        free = first + self.forward * self.vehicle.axle.wheelbase_mm
        rolling = all(
            abs(place - free) > self.vehicle.wheels.diameter_mm for place in (first, *others)
        )
        places = [first, *others, free] if rolling else [first, *others]
        front = max(places, key=lambda mm: mm * self.forward)
        yield from self._axle(
            FIRST_AXLE, (final.pinion, final.crown), final.crown_side, (at[0], y, first), at[1]
        )
        for axle, place in zip(self.vehicle.additional_axles, others, strict=True):
            yield from self._axle(
                axle.id,
                (axle.pinion, axle.crown),
                axle.crown_side,
                (at[0], y, place),
                at[1],
                steered=place == front,
            )
        if rolling:
            shaft = axle_body(FREE, "half shaft")
            yield from self._wheels(FREE, (at[0], y, free), shaft, steered=free == front)

    def _behind_the_box(self, x: float, y: float) -> float:
        """Find how far back the first axle stands so that its wheels clear the box."""
        radius, half = self.vehicle.wheels.diameter_mm / 2, self.vehicle.axle.track_mm / 2
        tyre = self.chassis.tyre_width_mm / 2
        spans = [(x + sign * half - tyre, x + sign * half + tyre) for sign in (1, -1)]
        needed = 0.0
        box = main_components(self.vehicle)
        for part in box.components if box is not None else ():
            left, low, right, high = part.reach_mm
            beside = any(left < end and start < right for start, end in spans)
            if beside and low < y + radius and y - radius < high:
                needed = max(needed, part.to_mm + radius + CLEAR_MM)
        return needed

    def _housing_mm(self, crown: int) -> float:
        """Give the radius of a differential's housing: inside the crown, clear of the pinion."""
        whole = self.kit.module_mm * crown / 2
        clear = whole - BEVEL_FACE * self.kit.module_mm - RUN_MM
        return max(min(HOUSING_SHARE * whole, clear), self.shaft_mm + COUPLING_MM)

    def _axle(
        self,
        axle: AxleId,
        teeth: tuple[int, int],
        side: str,
        at: tuple[float, float, float],
        pinion_y: float,
        *,
        steered: bool = False,
    ) -> Iterator[Component]:
        """Make one driven axle; ``at`` is its middle."""
        module = self.kit.module_mm
        face = BEVEL_FACE * module
        pinion, crown = (module * z / 2 for z in teeth)
        x, y, along = at
        yield self._part(
            axle_body(axle, "pinion"),
            "pinion",
            (Prism((circle(pinion),), 0.0, face, (self.bore,)),),
            (x, pinion_y, along - crown),
            body=axle_body(axle, "pinion"),
            teeth=teeth[0],
        )
        sign = self.left if side == "left" else -self.left
        inner, outer = sorted((sign * pinion, sign * (pinion + face)))
        yield self._part(
            axle_body(axle, "crown"),
            "crown",
            (Prism((circle(crown),), inner, outer, (self.bore,)),),
            (x, y, along),
            body=axle_body(axle, "crown"),
            teeth=teeth[1],
            across=True,
        )
        half = max(min(pinion, crown) * 0.9, 2 * self.shaft_mm)
        yield self._part(
            axle_body(axle, "housing"),
            "differential",
            (Prism((circle(self._housing_mm(teeth[1])),), -half, half, (self.bore,)),),
            (x, y, along),
            body=axle_body(axle, "housing"),
            across=True,
        )
        yield from self._wheels(axle, at, axle_body(axle, "half shaft"), steered=steered)

    def _wheels(
        self, axle: AxleId, at: tuple[float, float, float], shaft: str, *, steered: bool
    ) -> Iterator[Component]:
        """Put an axle's wheels on; where they are ``steered``, kingpins are planned too."""
        x, y, along = at
        steered = steered and self.vehicle.running is not None
        joined = steered and axle != FREE
        kingpin = self.vehicle.axle.track_mm / 2 - running_of(self.vehicle).steering.kingpin_mm
        hub = hub_mm(self.shaft_mm)
        rise = hub_rise_mm(self.vehicle, self.shape) if axle != FREE else 0.0
        track, wide = self.vehicle.axle.track_mm, self.chassis.tyre_width_mm
        tyre = circle(self.vehicle.wheels.diameter_mm / 2)
        for side, leftwards in SIDES:
            sign = leftwards * self.left
            knuckle = side if steered else ""
            # a geared hub stands at the wheel's inner face
            outer = track / 2 + wide / 2 if not rise else track / 2 - wide / 2 - RUN_MM
            # what is not driven turns on stubs of its own
            inner = RUN_MM if axle != FREE else max(track / 2 - wide / 2 - STUB_MM, RUN_MM)
            if steered and not joined:
                inner = max(kingpin, RUN_MM)
            body = axle_body(axle, WHEELS[side]) if axle != FREE else ""
            name = f"{shaft} {side}"
            make = partial(self._part, body=body, across=True)
            hole: tuple[Outline, ...] = (self.bore,) if not rise else ()
            rim: tuple[Prism, ...] = (Prism((tyre,), -wide / 2, wide / 2, hole),)
            if joined:
                yield from self._joint(axle, side, sign, (x + sign * kingpin, y, along), body)
                yield make(
                    name,
                    "half shaft",
                    self._rod(sign, inner, max(kingpin - hub, inner + RUN_MM)),
                    (x, y, along),
                )
                yield replace(
                    make(
                        f"{shaft} outer {side}",
                        "half shaft",
                        self._rod(sign, hub, max(outer - kingpin, hub + HUB_STUB_MM)),
                        (x + sign * kingpin, y, along),
                    ),
                    knuckle=knuckle,
                    joint=Joint(_yoke(axle, side)),
                )
                rim = self._hollowed(tyre, wide, sign, rise)
            else:
                yield replace(
                    make(name, "half shaft", self._rod(sign, inner, outer), (x, y, along)),
                    knuckle=knuckle,
                )
            yield replace(
                make(
                    f"{axle_body(axle, 'wheel')} {side}",
                    "wheel",
                    rim,
                    (x + sign * track / 2, y - rise, along),
                ),
                knuckle=knuckle,
                joint=Joint(_yoke(axle, side)) if joined else None,
            )

    def _rod(self, sign: float, start: float, end: float) -> tuple[Prism, ...]:
        """Shape a shaft between two distances to a side."""
        return (_mirrored(Prism((circle(self.shaft_mm),), start, end), sign),)

    def _joint(
        self, axle: AxleId, side: Side, sign: float, at: tuple[float, float, float], body: str
    ) -> Iterator[Component]:
        """Make the joint between a half shaft and its steered wheel."""
        inner, outer = (
            tuple(_mirrored(prism, sign) for prism in yoke_solid(self.shaft_mm, driven=driven))
            for driven in (False, True)
        )
        make = partial(self._part, body=body, across=True)
        name = _yoke(axle, side)
        yield make(name, "joint yoke", inner, at)
        outer_name = f"{axle_body(axle, 'outer yoke')} {side}"
        yield replace(make(outer_name, "joint yoke", outer, at), knuckle=side, joint=Joint(name))
        cross = make(f"{axle_body(axle, 'cross')} {side}", "joint cross", (), at)
        yield replace(cross, solid=cross_solid(self.shaft_mm), joint=Joint(name))

    def _hollowed(self, tyre: Outline, wide: float, sign: float, rise: float) -> tuple[Prism, ...]:
        """Shape a steered driven wheel: a recess at its inner face takes the joint.

        That of a geared hub stands ``rise`` above the wheel's middle, and its gears beside it.
        """
        deep = hub_mm(self.shaft_mm) - running_of(self.vehicle).steering.kingpin_mm
        deep += HUB_STUB_MM + RUN_MM if rise else RUN_MM
        room = rise + joint_radius_mm(self.shaft_mm) + JOINT_ROOM_MM
        recess = round_hole(min(room, self.vehicle.wheels.diameter_mm / 2 - JOINT_ROOM_MM))
        # from the wheel's middle outwards; the outer face is left
        deep = min(max(deep, -wide / 2), wide / 2 - RUN_MM)
        bore: tuple[Outline, ...] = () if rise else (self.bore,)
        solid = (
            Prism((tyre,), -wide / 2, deep, (recess,)),
            Prism((tyre,), deep, wide / 2, bore),
        )
        return tuple(_mirrored(p, sign) for p in solid if p.to_mm > p.from_mm)

    def _bevel_mm(self, crown: int) -> float:
        return self.kit.module_mm * crown / 2 + BEVEL_FACE * self.kit.module_mm

    def _width(self, *teeth: int) -> float:
        widths = [s.face_width_mm for z in teeth if (s := self.kit.size(z)) is not None]
        return max(widths, default=self.kit.grid_unit_mm)

    def _gear(
        self, body: str, teeth: int, shaft: str, at: tuple[float, float, float], width: float
    ) -> Component:
        outline = gear_ring(form_of(self.kit, teeth))
        solid = (Prism((outline,), 0.0, width, (self.bore,)),)
        return self._part(body, "gear", solid, at, body=body, teeth=teeth, shaft=shaft)

    def _shaft(
        self, name: str, at: tuple[float, float], start: float, end: float, number: int
    ) -> Component:
        solid = (Prism((circle(self.shaft_mm),), 0.0, end - start),)
        identity = name if number else f"{name} to the final drive"
        return self._part(identity, "shaft", solid, (*at, start), body=name, shaft=name)

    @staticmethod
    def _part(
        identity: str,
        kind: ComponentKind,
        solid: tuple[Prism, ...],
        at: tuple[float, float, float],
        *,
        body: str = "",
        teeth: int = 0,
        shaft: str = "",
        across: bool = False,
    ) -> Component:
        bodies = (body,) if body else ()
        return Component(
            ComponentId(identity),
            kind,
            solid,
            *at,
            bodies=bodies,
            teeth=teeth,
            shaft=shaft,
            across=across,
        )
