"""From the box to the wheels in space: final drive, bevel gears, differentials, wheels.

Simple solids in the box's axes, behind the box: the final drive's pairs stand one behind another,
each shaft below the one before it; the pinion on the last one meets the crown wheel on the axle,
which lies across. Where the box has no place, its output is taken to stand at the origin. Sizes
that nothing gives are estimates, no source.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from itertools import pairwise

from mild_badger.core.architectures.lever import LEVER_WHEEL
from mild_badger.core.axle.clearance import hub_rise_mm
from mild_badger.core.axle.running import running_of
from mild_badger.core.components.component import (
    Component,
    ComponentId,
    ComponentKind,
    Outline,
    Prism,
)
from mild_badger.core.components.gear_ring import form_of, gear_ring
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
from mild_badger.core.vehicle.train_rows import train_rows

__all__ = ["FREE", "drive_line_parts"]

COUPLING_MM = 2.0
"""How thick the wall of a coupling is."""
STUB_MM = 12.0
"""How far the stub of a wheel that is not driven reaches inwards."""
FREE = AxleId("free")
CLEAR_MM = 3.0
"""Room between the wheels and the box (an estimate, no source)."""
HOUSING_SHARE = 0.6
"""Radius of a differential's housing to its crown wheel's (an estimate, no source)."""
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
        yield from self._axle(
            FIRST_AXLE, (final.pinion, final.crown), final.crown_side, (at[0], y, first), at[1]
        )
        places = [first]
        for axle in self.vehicle.additional_axles:
            place = first + self.forward * axle.ahead_mm
            yield from self._axle(
                axle.id, (axle.pinion, axle.crown), axle.crown_side, (at[0], y, place), at[1]
            )
            places.append(place)
        other = first + self.forward * self.vehicle.axle.wheelbase_mm
        if all(abs(place - other) > self.vehicle.wheels.diameter_mm for place in places):
            yield from self._wheels(FREE, (at[0], y, other), axle_body(FREE, "half shaft"))

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
        yield from self._wheels(axle, at, axle_body(axle, "half shaft"))

    def _wheels(
        self, axle: AxleId, at: tuple[float, float, float], shaft: str
    ) -> Iterator[Component]:
        x, y, along = at
        rise = hub_rise_mm(self.vehicle, self.shape) if axle != FREE else 0.0
        track, wide = self.vehicle.axle.track_mm, self.chassis.tyre_width_mm
        rod, tyre = circle(self.shaft_mm), circle(self.vehicle.wheels.diameter_mm / 2)
        for side, sign in (("left", self.left), ("right", -self.left)):
            # what is not driven turns on stubs of its own
            inner = RUN_MM if axle != FREE else max(track / 2 - wide / 2 - STUB_MM, RUN_MM)
            # a geared hub stands at the wheel's inner face
            outer = track / 2 + wide / 2 if not rise else track / 2 - wide / 2 - RUN_MM
            ends = sorted((sign * inner, sign * outer))
            body = axle_body(axle, WHEELS[side]) if axle != FREE else ""
            yield self._part(
                f"{shaft} {side}",
                "half shaft",
                (Prism((rod,), ends[0], ends[1]),),
                (x, y, along),
                body=body,
                across=True,
            )
            middle = x + sign * track / 2
            hole: tuple[Outline, ...] = (self.bore,) if not rise else ()
            yield self._part(
                f"{axle_body(axle, 'wheel')} {side}",
                "wheel",
                (Prism((tyre,), -wide / 2, wide / 2, hole),),
                (middle, y - rise, along),
                body=body,
                across=True,
            )

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
