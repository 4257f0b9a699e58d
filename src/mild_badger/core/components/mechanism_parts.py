"""Parts of the mechanisms beside the box in space: a display engine, and the other outputs.

Each group has axes of its own, as the box has them: shafts run along the box, one above another,
so that the power comes down to what it moves at the origin. Simple solids, of the sizes that the
document gives; the rest are estimates, no source.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from math import asin, cos, hypot, radians, sin, sqrt

from mild_badger.core.components.component import (
    Component,
    ComponentId,
    ComponentKind,
    Outline,
    Point,
    Prism,
)
from mild_badger.core.components.gear_ring import form_of, gear_ring
from mild_badger.core.components.phase import MeshOf, Wheel, phases_of
from mild_badger.core.components.solids import circle, rotated, round_hole
from mild_badger.core.driveline.assemble import CRANK, DISPLAY, box_output
from mild_badger.core.driveline.crane import (
    crane_end,
    crane_input,
    crane_key,
    crane_shaft,
    inner_shafts,
)
from mild_badger.core.kit.part_sizes import RUN_MM
from mild_badger.core.mechanisms.crane.model import (
    BOX_OUTPUT,
    MOTOR_SHAFT,
    OWN_INPUT,
    CraneOutput,
    Rack,
    Ring,
    Screw,
    Spool,
    Worm,
)
from mild_badger.core.mechanisms.display.model import DisplayEngine
from mild_badger.core.templates.bars import EYE_MM, bar
from mild_badger.core.vehicle.bodies import MOTOR
from mild_badger.core.vehicle.box import GearPair, Train
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.train_rows import GearRow, train_rows
from mild_badger.core.words import word

__all__ = ["STUB", "CylinderPose", "MechanismGroup", "cylinder_pose", "mechanism_groups"]

BEARING_MM = 4.0
"""How far a bearing reaches round its shaft."""
RIM_MM = 3.0
"""How far a slewing ring, a nut and a rack reach beyond their teeth, in modules or mm."""
FLANGE_MM = 1.5
STUB, STUB_MM = "stub", 4.0
CROWN_SHARE = 0.3
"""How much of a piston's height lies above its rod's eye, of the bore."""
Spot = tuple[float, float, float]
"""To the right, up, and along the box."""


@dataclass(frozen=True)
class MechanismGroup:
    """What stands together, about its own origin, and what it is called."""

    id: str
    name: str
    parts: tuple[Component, ...]


def mechanism_groups(vehicle: Vehicle) -> tuple[MechanismGroup, ...]:
    """List the display engine and every output beside the wheels, each as a group.

    Raises
    ------
    InputError
        A gear cannot be made.
    """
    groups = []
    if vehicle.display_engine is not None:
        name = str(word(DISPLAY))
        parts = _turned(tuple(_Engine(vehicle, vehicle.display_engine, name).parts()))
        groups.append(MechanismGroup(DISPLAY, name, parts))
    for output in vehicle.crane.outputs if vehicle.crane is not None else ():
        parts = _turned(tuple(_Output(vehicle, output).parts()))
        groups.append(MechanismGroup(crane_key(output.id), output.name, parts))
    return tuple(groups)


def _turned(parts: tuple[Component, ...]) -> tuple[Component, ...]:
    """Turn gears so that those that lie side by side and touch at their pitch circles interlock."""
    gears = [part for part in parts if part.kind == "gear"]
    wheels = [Wheel(g.id, g.teeth, *_plane(g), g.shaft) for g in gears]
    reach = {g.id: g.radius_mm for g in gears}
    meshes = [
        MeshOf(a.id, b.id)
        for n, (a, one) in enumerate(zip(gears, wheels, strict=True))
        for b, other in zip(gears[n + 1 :], wheels[n + 1 :], strict=True)
        if a.across == b.across
        and a.shaft != b.shaft
        and a.from_mm < b.to_mm
        and b.from_mm < a.to_mm
        and hypot(one.x_mm - other.x_mm, one.y_mm - other.y_mm) < reach[a.id] + reach[b.id]
    ]
    turns = phases_of(wheels, meshes).turns
    return tuple(
        replace(part, turn_rad=turns[part.id]) if part.id in turns else part for part in parts
    )


def _plane(gear: Component) -> tuple[float, float]:
    return (gear.along_mm if gear.across else gear.x_mm), gear.y_mm


class _Group:
    """Makes parts of one mechanism."""

    def __init__(self, vehicle: Vehicle, name: str) -> None:
        self.vehicle, self.kit, self.name = vehicle, vehicle.kit, name
        self.module, self.gap = vehicle.kit.module_mm, vehicle.frame.gap_mm
        self.shaft_mm = vehicle.kit.shaft_diameter_mm / 2

    def _part(
        self,
        identity: str,
        kind: ComponentKind,
        solid: Sequence[Prism],
        at: Spot = (0.0, 0.0, 0.0),
        *,
        body: str = "",
        teeth: int = 0,
        shaft: str = "",
        across: bool = False,
    ) -> Component:
        return Component(
            ComponentId(identity),
            kind,
            tuple(solid),
            *at,
            bodies=(body,) if body else (),
            teeth=teeth,
            shaft=shaft,
            across=across,
            name=self.name,
        )

    def _rod(
        self,
        shaft: str,
        span: tuple[float, float],
        y: float,
        radius: float,
        *,
        across: bool = False,
    ) -> Component:
        solid = (Prism((circle(radius),), 0.0, span[1] - span[0]),)
        at = (span[0], y, 0.0) if across else (0.0, y, span[0])
        return self._part(shaft, "shaft", solid, at, body=shaft, shaft=shaft, across=across)

    def _width(self, *teeth: int) -> float:
        widths = [s.face_width_mm for z in teeth if (s := self.kit.size(z)) is not None]
        return max(widths, default=self.kit.grid_unit_mm)

    def _gear(
        self, gear: tuple[str, int, str], at: Spot, sizes: tuple[float, float], *, across: bool
    ) -> Component:
        """Make a gear: body, teeth and shaft; ``sizes`` are its width and its bore's radius."""
        body, teeth, shaft = gear
        width, bore = sizes
        outline = gear_ring(form_of(self.kit, teeth))
        solid = (Prism((outline,), 0.0, width, (round_hole(bore + RUN_MM),)),)
        return self._part(
            body, "gear", solid, at, body=body, teeth=teeth, shaft=shaft, across=across
        )

    def _train(
        self,
        key: str,
        pairs: Train,
        ends: tuple[str, str],
        last: tuple[float, float],
        radius: float,
        *,
        across: bool = False,
    ) -> Iterator[Component]:
        """Lay a train whose last gear begins at a place: its height, and how far along its shaft.

        Every pair stands before the one behind it and above; ``radius`` is the last shaft's.
        """
        y, along = last
        rows = list(train_rows(key, pairs, *ends))
        for number, (pair, row) in reversed(list(enumerate(rows))):
            width = self._width(pair.driver, *pair.idlers, pair.driven)
            if number < len(rows) - 1:
                along -= width + 2 * self.gap
            after = row[-1][2]
            for place, (body, teeth, shaft) in reversed(list(enumerate(row))):
                if place < len(row) - 1:
                    y += (teeth + row[place + 1][1]) * self.module / 2
                bore = radius if shaft == ends[1] else self.shaft_mm
                at = (along, y, 0.0) if across else (0.0, y, along)
                yield self._gear((body, teeth, shaft), at, (width, bore), across=across)
                if shaft in (after, ends[1]):
                    continue
                first = shaft == row[0][2]
                before = 2 * self.gap + self._before(rows, number) if first else self.gap
                name = f"{key}/{STUB} of {shaft}" if shaft == ends[0] else shaft
                rod = self._rod(
                    name,
                    (along - before, along + width + self.gap),
                    y,
                    self.shaft_mm,
                    across=across,
                )
                yield replace(rod, bodies=(shaft,), shaft=shaft)

    def _before(self, rows: Sequence[tuple[GearPair, GearRow]], n: int) -> float:
        """How far a shaft reaches on, before a pair: over the gear that drives it, or as a stub."""
        if not n:
            return STUB_MM
        return self._width(*(teeth for _, teeth, _ in rows[n - 1][1])) + self.gap


class _Engine(_Group):
    """A display engine: crank webs and pins, rods, pistons, and the train that takes it along."""

    def __init__(self, vehicle: Vehicle, engine: DisplayEngine, name: str) -> None:
        super().__init__(vehicle, name)
        self.engine = engine
        self.thick = min(vehicle.making.dog_mm, engine.pitch_mm / 4)

    def parts(self) -> Iterator[Component]:
        engine, pitch = self.engine, self.engine.pitch_mm
        for number in range(1, engine.cylinders + 1):
            yield from self._cylinder(number, (number - 0.5) * pitch)
        half = self.thick / 2 + RUN_MM
        webs = [
            ((n + 0.5) * pitch - half, (n + 0.5) * pitch + half) for n in range(engine.cylinders)
        ]
        edges = [
            (a + self.thick, b - self.thick) for (_, a), (b, _) in pairwise(webs)
        ]  # from the web behind one throw to the web before the next
        source = {"motor": MOTOR}.get(engine.drive, box_output(self.vehicle))
        front = webs[0][0] - self.thick
        begin = front - STUB_MM
        if engine.pairs:
            width = self._width(engine.pairs[-1].driver, engine.pairs[-1].driven)
            at = front - self.gap - width
            begin = at - self.gap
            yield from self._train(DISPLAY, engine.pairs, (source, CRANK), (0.0, at), self.shaft_mm)
        journals = [
            (begin, front),
            *edges,
            (webs[-1][1] + self.thick, webs[-1][1] + self.thick + STUB_MM),
        ]
        yield self._part(
            CRANK,
            "crank",
            tuple(Prism((circle(self.shaft_mm),), a, b) for a, b in journals),
            body=CRANK,
            shaft=CRANK,
        )

    def _cylinder(self, number: int, middle: float) -> Iterator[Component]:
        engine, thick = self.engine, self.thick
        throw = radians(engine.throws_deg[number - 1])
        lean = radians(engine.bank_of(number))
        half = thick / 2 + RUN_MM
        web = rotated(
            tuple(bar(self.shaft_mm + EYE_MM, engine.pin_mm / 2 + EYE_MM, engine.throw_mm)), -throw
        )
        pose = cylinder_pose(engine, number)
        pin = pose.pin
        webs = ((-half - thick, -half), (half, half + thick))
        yield self._part(
            f"throw of cylinder {number}",
            "crank web",
            (
                *(Prism((web,), a, b) for a, b in webs),
                Prism((circle(engine.pin_mm / 2, pin),), -half, half),
            ),
            (0.0, 0.0, middle),
            body=CRANK,
            shaft=CRANK,
        )
        eye = engine.pin_mm / 2 + EYE_MM
        rod = rotated(tuple(bar(eye, eye, engine.rod_mm)), pose.rod_rad)
        yield self._part(
            f"rod of cylinder {number}",
            "rod",
            (Prism((rod,), -thick / 2, thick / 2, (round_hole(engine.pin_mm / 2 + RUN_MM),)),),
            (*pin, middle),
        )
        bore, low = engine.bore_mm / 2, -eye
        high = eye + CROWN_SHARE * engine.bore_mm

        def block(bottom: float) -> Outline:
            return rotated(((-bore, bottom), (bore, bottom), (bore, high), (-bore, high)), -lean)

        cheeks = ((-bore, -half), (half, bore)) if bore > half else ()
        yield self._part(
            f"piston of cylinder {number}",
            "piston",
            (
                *(Prism((block(low),), a, b) for a, b in cheeks),
                Prism((block(eye + RUN_MM),), -min(half, bore), min(half, bore)),
            ),
            (*pose.piston, middle),
        )


@dataclass(frozen=True)
class CylinderPose:
    """Where a cylinder's crank pin and piston are about the crank, and how its rod leans, rad."""

    pin: Point
    piston: Point
    rod_rad: float


def cylinder_pose(engine: DisplayEngine, number: int, turned_rad: float = 0.0) -> CylinderPose:
    """Say how a cylinder stands with the crank turned on, anticlockwise from the input end.

    The slider crank solved by its triangle: the rod leads from the pin to the bore's middle line.
    """
    throw = radians(engine.throws_deg[number - 1]) - turned_rad
    lean = radians(engine.bank_of(number))
    aside = engine.throw_mm * sin(throw - lean)
    up = engine.throw_mm * cos(throw - lean) + sqrt(max(engine.rod_mm**2 - aside**2, 0.0))
    turn = asin(max(min(aside / engine.rod_mm, 1.0), -1.0))
    return CylinderPose(
        (engine.throw_mm * sin(throw), engine.throw_mm * cos(throw)),
        (up * sin(lean), up * cos(lean)),
        turn - lean,
    )


class _Output(_Group):
    """One output: its train, its worm, the shaft it sits on in two bearings, and what it moves."""

    def __init__(self, vehicle: Vehicle, output: CraneOutput) -> None:
        super().__init__(vehicle, output.name)
        self.output, self.key = output, crane_key(output.id)
        self.shaft, self.radius = crane_shaft(output.id), output.carried.shaft_mm / 2
        self.taken = [0.0, output.carried.span_mm]

    def parts(self) -> Iterator[Component]:
        output, carried = self.output, self.output.carried
        made = [*self._driven(), *self._end()]
        for name, place in (("bearing at the origin", 0.0), ("bearing opposite", carried.span_mm)):
            half = carried.long_mm / 2
            solid = Prism(
                (circle(self.radius + BEARING_MM),),
                -half,
                half,
                (round_hole(self.radius + RUN_MM),),
            )
            made.append(self._part(f"{self.key}/{name}", "post", (solid,), (0.0, 0.0, place)))
        ends = [
            edge
            for part in made
            if not part.across
            for edge in (part.from_mm, part.to_mm)
            if hypot(part.x_mm, part.y_mm) < 1e-6
        ]
        screw = isinstance(output.end, Screw)
        stop = (
            max(carried.span_mm + carried.long_mm / 2, carried.load_at_mm) if screw else max(ends)
        )
        yield self._rod(self.shaft, (min(ends) - self.gap, stop), 0.0, self.radius)
        yield from made

    def _source(self) -> str:
        known = {
            MOTOR_SHAFT: MOTOR,
            BOX_OUTPUT: box_output(self.vehicle),
            OWN_INPUT: crane_input(self.output.id),
        }
        source = self.output.source
        return known[source] if source in known else crane_shaft(type(self.output.id)(source))

    def _driven(self) -> Iterator[Component]:
        """Make the pairs that drive the shaft, or the worm, and the wheel on the shaft."""
        output, at = self.output, self.output.carried.gear_at_mm
        worm = output.worm
        if worm is not None:
            yield from self._worm(worm, at)
        elif output.pairs:
            width = self._width(output.pairs[-1].driver, output.pairs[-1].driven)
            ends = (self._source(), self.shaft)
            yield from self._train(self.key, output.pairs, ends, (0.0, at - width / 2), self.radius)

    def _worm(self, worm: Worm, at: float) -> Iterator[Component]:
        wheel, thread = worm.teeth * self.module / 2, worm.mean_mm / 2
        width = 0.7 * worm.mean_mm
        yield self._part(
            f"{self.key}/wheel",
            "worm wheel",
            (
                Prism(
                    (circle(wheel + self.module),),
                    -width / 2,
                    width / 2,
                    (round_hole(self.radius + RUN_MM),),
                ),
            ),
            (0.0, 0.0, at),
            body=f"{self.key}/wheel",
            teeth=worm.teeth,
            shaft=self.shaft,
        )
        long, y = 1.5 * worm.mean_mm, wheel + thread
        root = max(thread - 1.25 * self.module, self.module / 2)
        pairs = self.output.pairs
        carrier = inner_shafts(self.output)[-1] if pairs else self._source()
        inside = min(self.shaft_mm, 0.6 * root)
        begin = -long - STUB_MM
        if pairs:
            wide = self._width(pairs[-1].driver, pairs[-1].driven)
            # beside the wheel, which the gears would run into
            begin = -max(long, wheel + self.module) - self.gap - wide
        parts = [
            self._part(
                f"{self.key}/worm",
                "worm",
                (Prism((circle(root),), -long, long, (round_hole(inside + RUN_MM),)),),
                (0.0, y, at),
                body=f"{self.key}/worm",
                shaft=carrier,
                across=True,
            )
        ]
        if pairs:
            ends = (self._source(), carrier)
            train = self._train(self.key, pairs, ends, (y, begin), inside, across=True)
            parts += (replace(part, along_mm=part.along_mm + at) for part in train)
        rod = self._rod(carrier, (begin - self.gap, long + STUB_MM), y, inside, across=True)
        name = carrier if pairs else f"{self.key}/{STUB} of {carrier}"
        parts.append(replace(rod, id=ComponentId(name), along_mm=at))
        yield from parts

    def _end(self) -> Iterator[Component]:
        at = self.output.carried.load_at_mm
        match self.output.end:
            case Ring() as ring:
                yield from self._ring(ring, at)
            case Screw() as screw:
                yield from self._screw(screw)
            case Spool() as spool:
                yield from self._spool(spool, at)
            case Rack() as rack:
                yield from self._rack(rack, at)

    def _pinion(self, teeth: int, at: float) -> Component:
        width = self._width(teeth)
        body = f"{self.key}/pinion"
        own = body if isinstance(self.output.end, Ring) else self.shaft
        spot = (0.0, 0.0, at - width / 2)
        made = self._gear((body, teeth, self.shaft), spot, (width, self.radius), across=False)
        return replace(made, bodies=(own,))

    def _ring(self, ring: Ring, at: float) -> Iterator[Component]:
        """Put a ring below its pinion: teeth outside, or a plain ring that the pinion runs in."""
        yield self._pinion(ring.pinion, at)
        width, body = self._width(ring.pinion), crane_end(self.output)
        module = self.module
        if ring.internal:
            y = -(ring.teeth - ring.pinion) * module / 2
            inner = ring.teeth * module / 2 + 1.25 * module
            solid = Prism((circle(inner + RIM_MM * module),), 0.0, width, (round_hole(inner),))
            yield self._part(
                body,
                "slewing ring",
                (solid,),
                (0.0, y, at - width / 2),
                body=body,
                teeth=ring.teeth,
            )
            return
        y = -(ring.teeth + ring.pinion) * module / 2
        hole = max(ring.teeth * module / 2 - (1.25 + RIM_MM) * module, self.shaft_mm)
        outline = gear_ring(form_of(self.kit, ring.teeth))
        solid = Prism((outline,), 0.0, width, (round_hole(hole),))
        yield self._part(
            body,
            "gear",
            (solid,),
            (0.0, y, at - width / 2),
            body=body,
            teeth=ring.teeth,
            shaft=body,
        )

    def _screw(self, screw: Screw) -> Iterator[Component]:
        carried, radius = self.output.carried, screw.mean_mm / 2
        start = max(carried.span_mm + carried.long_mm / 2, carried.load_at_mm) + RUN_MM
        long = screw.travel_mm + 4 * radius
        for number in range(screw.screws):
            x, tail = 4 * screw.mean_mm * number, f" {number + 1}" if number else ""
            yield self._part(
                f"{self.key}/screw{tail}",
                "screw",
                (Prism((circle(radius),), 0.0, long),),
                (x, 0.0, start),
                body=self.shaft,
            )
            side = radius + RIM_MM
            nut = ((-side, -side), (side, -side), (side, side), (-side, side))
            yield self._part(
                f"{self.key}/nut{tail}",
                "nut",
                (Prism((nut,), -radius, radius, (round_hole(radius + RUN_MM),)),),
                (x, 0.0, start + long / 2),
            )

    def _spool(self, spool: Spool, at: float) -> Iterator[Component]:
        whole = spool.width_mm + 2 * FLANGE_MM
        start = at - spool.ropes * (whole + self.gap) / 2 + self.gap / 2
        bore = (round_hole(self.radius + RUN_MM),)
        for number in range(spool.ropes):
            drum = spool.made_mm[number] if spool.made_mm else spool.drum_mm
            core = max(drum / 2, self.radius + 1.0)
            rim = circle(max(spool.flange_mm / 2, core))
            tail = f" {number + 1}" if number else ""
            yield self._part(
                f"{self.key}/spool{tail}",
                "spool",
                (
                    Prism((rim,), 0.0, FLANGE_MM, bore),
                    Prism((circle(core),), FLANGE_MM, whole - FLANGE_MM, bore),
                    Prism((rim,), whole - FLANGE_MM, whole, bore),
                ),
                (0.0, 0.0, start + number * (whole + self.gap)),
                body=self.shaft,
                shaft=self.shaft,
            )

    def _rack(self, rack: Rack, at: float) -> Iterator[Component]:
        yield self._pinion(rack.pinion, at)
        width, pitch = self._width(rack.pinion), rack.pinion * self.module / 2
        top, half = -pitch - 1.25 * self.module, rack.travel_mm / 2 + pitch
        low = top - RIM_MM * self.module
        bar_ = ((-half, low), (half, low), (half, top), (-half, top))
        solid = Prism((bar_,), 0.0, width)
        yield self._part(f"{self.key}/rack", "rack", (solid,), (0.0, 0.0, at - width / 2))
