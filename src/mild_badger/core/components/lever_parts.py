"""A lever drive in space: throws, rods or yokes, levers, pawls, wheels, fulcrum and frame.

Seen from the input end the levers' input pins stand at x = 0 in the middle of their stroke at
y = 0, and the levers lie along x; the throws turn below, the wheel beyond the levers' other end.
Each ratchet has layers of its own along the box: its throw, its lever, its pawl with its wheel. The
gears to the throws stand in front, a wall behind each pair.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import pairwise
from math import atan2, cos, hypot, pi, radians, sin

from mild_badger.core.architectures.lever import LEVER_THROWS, LEVER_WHEEL
from mild_badger.core.components.box import BoxComponents
from mild_badger.core.components.component import (
    Component,
    ComponentId,
    ComponentKind,
    Outline,
    Point,
    Prism,
)
from mild_badger.core.components.gear_ring import form_of, gear_ring
from mild_badger.core.components.phase import MeshOf, Phases, Wheel, phases_of
from mild_badger.core.components.solids import circle, round_hole
from mild_badger.core.drivetrain.lever_motion import stroke_mm
from mild_badger.core.kit.part_sizes import RUN_MM, spacer_radius_mm
from mild_badger.core.mechanisms.lever.model import LeverDrive
from mild_badger.core.mechanisms.lever.shapes import LeverShapes, lever_shapes
from mild_badger.core.structure.plates import nut_high_mm, nut_radius_mm
from mild_badger.core.structure.shaft_lengths import stub_mm
from mild_badger.core.vehicle.bodies import (
    INNER_WALL,
    input_shaft,
)
from mild_badger.core.vehicle.boxes import FULCRUM, LEVER_KEY
from mild_badger.core.vehicle.cache_key import ThisVehicle
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.train_rows import train_rows

__all__ = ["LeverPlan", "lever_parts", "lever_plan"]

ANGLES = 24
"""So many angles of the throws say how much room the moving parts take."""
EDGE_MM = 2.0
"""Room between moving parts and tie rods."""


@dataclass(frozen=True)
class LeverPlan:
    """What stands the same in every pose: shapes, layers along the box, frame.

    ``layers`` are where each ratchet's throw, lever and pawls begin; ``thick_mm`` is how thick
    their parts are. ``walls`` are from where to where along the box, the lever's own two last;
    ``centres`` where shafts stand, ``spans`` from where to where they reach; ``room`` is the
    rectangle that all that stands between the walls needs: left, low, right, high.
    """

    drive: LeverDrive
    shapes: LeverShapes
    thick_mm: float
    layers: tuple[tuple[float, ...], ...]
    walls: tuple[tuple[float, float], ...]
    centres: dict[str, Point]
    spans: dict[str, tuple[float, float]]
    gears: tuple[Component, ...]
    meshes: tuple[MeshOf, ...]
    phases: Phases
    room: tuple[float, float, float, float] = (0.0, 0.0, 0.0, 0.0)

    @property
    def bay(self) -> tuple[float, float]:
        """From where to where along the box the levers' parts stand."""
        return self.walls[-2][1], self.walls[-1][0]


def lever_plan(vehicle: Vehicle) -> LeverPlan | None:
    """Lay a vehicle's lever drive out along its shafts; None where it has none.

    Raises
    ------
    InputError
        A gear to its throws cannot be made.
    """
    return _plan(ThisVehicle(vehicle))


@lru_cache(maxsize=4)
def _plan(this: ThisVehicle) -> LeverPlan | None:
    drive = this.vehicle.stepless
    if drive is None:
        return None
    plan = _Planner(this.vehicle, drive).plan()
    return replace(plan, room=_room(this.vehicle, plan))


def lever_parts(
    vehicle: Vehicle, fulcrum_mm: float | None = None, angle_deg: float = 0.0
) -> BoxComponents | None:
    """List every part of a lever drive, posed; None where a vehicle has none.

    Parameters
    ----------
    vehicle
        Whose it is.
    fulcrum_mm
        Where the fulcrum stands from the levers' input pins; where the drive has it for None.
    angle_deg
        How far the throws have turned.

    Raises
    ------
    InputError
        A gear to its throws cannot be made.
    """
    plan = lever_plan(vehicle)
    if plan is None:
        return None
    at = plan.drive.fulcrum_mm if fulcrum_mm is None else fulcrum_mm
    moving = tuple(_moving(vehicle, plan, at, angle_deg))
    return BoxComponents(
        (*_frame(vehicle, plan, at), *plan.gears, *moving), plan.meshes, plan.phases
    )


class _Planner:
    def __init__(self, vehicle: Vehicle, drive: LeverDrive) -> None:
        self.vehicle, self.drive, self.kit = vehicle, drive, vehicle.kit
        self.thick = vehicle.making.dog_mm
        hole = vehicle.hole_mm(drive.pin_mm, "running")
        self.shapes = lever_shapes(drive, vehicle.kit.shaft_diameter_mm, hole)
        self.play, self.gap = vehicle.frame.end_play_mm, vehicle.frame.gap_mm
        self.along = 0.0
        self.walls: list[tuple[float, float]] = []
        self.centres: dict[str, Point] = {LEVER_THROWS: (0.0, -self.shapes.reach_mm)}
        # the pawls push up on the side towards the levers, and so the wheel turns clockwise
        up = drive.turns * drive.pawl_mm
        self.centres[LEVER_WHEEL] = (drive.lever_mm + drive.wheel_mm, up)
        self.spans: dict[str, tuple[float, float]] = {}

    def plan(self) -> LeverPlan:
        self._wall()
        rows = self._rows()
        gears = [gear for number, row in enumerate(rows) for gear in self._pair(number, row)]
        layers = []
        for _ in range(self.drive.ratchets):
            kinds = 4 if self.drive.two_sided else 3
            starts = []
            for _ in range(kinds):
                self.along += self.gap
                starts.append(self.along)
                self.along += self.thick
            layers.append(tuple(starts))
        self.along += self.gap + self.play
        self._wall()
        start, end = self.walls[-2][0], self.walls[-1][1]
        stub = stub_mm(self.vehicle)
        front = start if rows else start - stub
        self.spans[LEVER_THROWS] = (front, end)
        self.spans[LEVER_WHEEL] = (start, end + stub)
        meshes = tuple(
            MeshOf(ComponentId(a), ComponentId(b))
            for row in rows
            for (a, _, _), (b, _, _) in pairwise(row)
        )
        wheels = [Wheel(g.id, g.teeth, g.x_mm, g.y_mm, g.shaft) for g in gears]
        phases = phases_of(wheels, meshes)
        turned = tuple(replace(gear, turn_rad=phases.turns[gear.id]) for gear in gears)
        return LeverPlan(
            self.drive,
            self.shapes,
            self.thick,
            tuple(layers),
            tuple(self.walls),
            self.centres,
            self.spans,
            turned,
            meshes,
            phases,
        )

    def _wall(self) -> None:
        thick = self.vehicle.frame.wall_mm
        self.walls.append((self.along, self.along + thick))
        self.along += thick

    def _rows(self) -> list[tuple[tuple[str, int, str], ...]]:
        """List the pairs to the throws with body, teeth and shaft of each gear in mesh order."""
        train = train_rows(LEVER_KEY, self.drive.pairs, input_shaft(), LEVER_THROWS)
        rows = [row for _, row in train]
        x, y = self.centres[LEVER_THROWS]  # the shafts stand in a row to the left of the throws
        for row in reversed(rows):
            for (_, two, _), (_, one, shaft) in pairwise(row[::-1]):
                x -= (one + two) * self.kit.module_mm / 2
                self.centres[shaft] = (x, y)
        return rows

    def _pair(self, number: int, row: tuple[tuple[str, int, str], ...]) -> Iterator[Component]:
        """Put a pair into a bay of its own, the wall behind it included."""
        sizes = [s.face_width_mm for _, z, _ in row if (s := self.kit.size(z))]
        width = max(sizes, default=self.kit.grid_unit_mm)
        start = self.walls[-1][0]
        self.along += self.gap
        for body, teeth, shaft in row:
            outline = gear_ring(form_of(self.kit, teeth))
            hole = round_hole(self.kit.shaft_diameter_mm / 2 + RUN_MM)
            x, y = self.centres[shaft]
            yield Component(
                ComponentId(body),
                "gear",
                (Prism((outline,), 0.0, width, (hole,)),),
                x,
                y,
                self.along,
                bodies=(body,),
                shaft=shaft,
                teeth=teeth,
            )
        self.along += width + self.gap + self.play
        self._wall()
        end = self.walls[-1][1]
        for _, _, shaft in row:
            first = self.spans.get(shaft, (start, end))[0]
            out = stub_mm(self.vehicle) if shaft == input_shaft() and not number else 0.0
            self.spans[shaft] = (first - out, end)


def _moving(vehicle: Vehicle, plan: LeverPlan, fulcrum: float, angle: float) -> Iterator[Component]:
    """Pose what moves: for each ratchet its eccentric, rod or yoke, lever, pins, pawls, wheels."""
    drive, shapes, thick = plan.drive, plan.shapes, plan.thick_mm
    shaft = round_hole(vehicle.kit.shaft_diameter_mm / 2 + RUN_MM)
    pin = circle(drive.pin_mm / 2)
    hole = round_hole(vehicle.hole_mm(drive.pin_mm, "running") / 2)
    down = plan.centres[LEVER_THROWS]
    wheel = plan.centres[LEVER_WHEEL]
    for number, (phase, layers) in enumerate(zip(drive.phases, plan.layers, strict=True), start=1):
        turn = radians(angle + phase)
        s = stroke_mm(drive, angle + phase)
        throw = (down[0] + drive.throw_mm * sin(turn), down[1] + drive.throw_mm * cos(turn))

        def part(
            kind: ComponentKind,
            solid: tuple[Prism, ...],
            at: Point,
            along: float,
            turned: float = 0.0,
            *,
            number: int = number,
            name: str = "",
            body: str = "",
        ) -> Component:
            identity = ComponentId(f"{name or kind} {number}")
            bodies = (body,) if body else ()
            return Component(
                identity, kind, solid, *at, along, turn_rad=turned, bodies=bodies, shaft=body
            )

        eccentric = tuple((x, y + drive.throw_mm) for x, y in shapes.eccentric)
        yield part(
            "eccentric",
            (Prism((eccentric,), 0.0, thick, (shaft,)),),
            down,
            layers[0],
            -turn,
            body=LEVER_THROWS,
        )
        eye = tuple((x, y + shapes.reach_mm) for x, y in hole)
        rod = (Prism(shapes.rod, 0.0, thick, (shapes.window, eye)),)
        if drive.motion == "yoke":
            yield part("yoke", rod, (down[0], down[1] + s), layers[0])
        else:
            lean = atan2(throw[0], s - throw[1])  # from the eccentric's middle to the lever's pin
            yield part("rod", rod, throw, layers[0], lean)
        tilt = atan2(-s, fulcrum)
        far = (drive.lever_mm * cos(tilt), s + drive.lever_mm * sin(tilt))
        other = tuple((x + drive.lever_mm, y) for x, y in hole)
        lever = (Prism((shapes.lever,), 0.0, thick, (hole, other, shapes.slot)),)
        yield part("lever arm", lever, (0.0, s), layers[1], tilt)
        last = layers[-1] + thick
        yield part(
            "pin",
            (Prism((pin,), 0.0, layers[1] + thick - layers[0]),),
            (0.0, s),
            layers[0],
            name="input pin",
        )
        yield part(
            "pin", (Prism((pin,), 0.0, last - layers[1]),), far, layers[1], name="output pin"
        )
        for layer, shape, nose, name in (
            (layers[2], shapes.pawl, shapes.nose, "pawl"),
            *(((layers[3], shapes.hook, shapes.hook_nose, "hook"),) if drive.two_sided else ()),
        ):
            up = drive.turns
            flat = shape if up > 0 else tuple((x, -y) for x, y in shape)
            at_nose = (nose[0], up * nose[1])
            right = name == "hook"
            turned = _onto_rim(far, at_nose, wheel, drive.wheel_mm, right=right)
            pawl = (Prism((flat,), 0.0, thick, (hole,)),)
            yield part("pawl", pawl, far, layer, turned, name=name)
            saw = shapes.wheel if up > 0 else tuple((x, -y) for x, y in shapes.wheel)
            yield part(
                "ratchet wheel",
                (Prism((saw,), 0.0, thick, (shaft,)),),
                wheel,
                layer,
                name=f"ratchet wheel of {name}",
                body=LEVER_WHEEL,
            )


def _onto_rim(pin: Point, nose: Point, wheel: Point, radius: float, *, right: bool) -> float:
    """Turn a pawl about its pin until its nose lies on the wheel's rim, on one side of it."""
    long = hypot(*nose)
    dx, dy = wheel[0] - pin[0], wheel[1] - pin[1]
    apart = hypot(dx, dy)
    share = (apart**2 + long**2 - radius**2) / (2 * apart * long)
    share = min(max(share, -1.0), 1.0)
    towards, own = atan2(dy, dx), atan2(nose[1], nose[0])
    opening = abs(_acos(share))
    sides = (towards + opening, towards - opening)
    ends = [(long * cos(turn), turn) for turn in sides]
    turn = max(ends)[1] if right else min(ends)[1]
    return turn - own


def _acos(share: float) -> float:
    return atan2(max(1 - share * share, 0.0) ** 0.5, share)


def _frame(vehicle: Vehicle, plan: LeverPlan, fulcrum: float) -> Iterator[Component]:
    """Make shafts, fulcrum, guides, walls, spacers and tie rods."""
    frame, drive = vehicle.frame, plan.drive
    shaft_r = vehicle.kit.shaft_diameter_mm / 2
    running = vehicle.hole_mm(vehicle.kit.shaft_diameter_mm, "running") / 2
    pin_hole = vehicle.hole_mm(drive.pin_mm, "running") / 2
    left, low, right, high = plan.room
    reach = frame.post_mm / 2 + EDGE_MM
    ties = {
        f"tie rod {level} {side}": (x, y)
        for side, x in (("left", left - reach), ("right", right + reach))
        for level, y in (("low", low - reach), ("high", high + reach))
    }
    over = max(nut_radius_mm(vehicle), frame.post_mm / 2 + frame.edge_mm)
    plate = (
        (left - reach - over, low - reach - over),
        (right + reach + over, low - reach - over),
        (right + reach + over, high + reach + over),
        (left - reach - over, high + reach + over),
    )
    for number, (start, end) in enumerate(plan.walls):
        holes: list[Outline] = [
            round_hole(running, plan.centres[name])
            for name, (first, last) in plan.spans.items()
            if first < end and start < last
        ]
        tie_hole = vehicle.hole_mm(frame.post_mm, "running") / 2
        holes += [round_hole(tie_hole, at) for at in ties.values()]
        if number >= len(plan.walls) - 2:
            wide = max(drive.stop_high_mm - drive.stop_low_mm, 0.0)
            holes.append(_slot(drive.stop_low_mm, wide, pin_hole))
            holes += [round_hole(pin_hole, at) for at in plan.shapes.guides]
        behind = number == len(plan.walls) - 1
        title = "back wall" if behind else f"{INNER_WALL} {number}" if number else "front wall"
        solid = (Prism((plate,), 0.0, end - start, tuple(holes)),)
        yield Component(ComponentId(title), "wall", solid, 0.0, 0.0, start, wall=title)
    for shaft, (start, end) in plan.spans.items():
        yield Component(
            ComponentId(shaft),
            "shaft",
            (Prism((circle(shaft_r),), 0.0, end - start),),
            *plan.centres[shaft],
            start,
            bodies=(shaft,),
            shaft=shaft,
        )
    start, end = plan.walls[-2][0], plan.walls[-1][1]
    pin = circle(drive.pin_mm / 2)
    nut = circle(drive.pin_mm)
    out = drive.pin_mm
    clamp = vehicle.frame.gap_mm if len(plan.walls) > 2 else out
    yield Component(
        ComponentId(FULCRUM),
        "fulcrum",
        (
            Prism((pin,), -clamp, end - start + out),
            Prism((nut,), end - start + RUN_MM, end - start + out),
            *((Prism((nut,), -out, -RUN_MM),) if len(plan.walls) == 2 else ()),
        ),
        fulcrum,
        0.0,
        start,
    )
    for side, at in zip(("left", "right"), plan.shapes.guides, strict=False):
        yield Component(
            ComponentId(f"guide {side}"), "guide", (Prism((pin,), 0.0, end - start),), *at, start
        )
    yield from _spacers(vehicle, plan)
    high_nut, long = nut_high_mm(vehicle), plan.walls[-1][1]
    for name, at in ties.items():
        rod = circle(frame.post_mm / 2)
        hexagon = circle(nut_radius_mm(vehicle), corners=6)
        spans: list[tuple[float, float]] = []
        for first, last in plan.walls:
            spans += [(first - high_nut, first), (last, last + high_nut)]
        free = [span for span in spans if all(span[1] <= a or b <= span[0] for a, b in plan.walls)]
        nuts = tuple(Prism((hexagon,), a + RUN_MM, b - RUN_MM) for a, b in free)
        yield Component(
            ComponentId(name),
            "tie rod",
            (Prism((rod,), -frame.post_mm, long + frame.post_mm), *nuts),
            *at,
            0.0,
        )


def _slot(start: float, wide: float, half: float) -> Outline:
    """Make a slot along x with round ends."""
    turns = [pi / 2 + pi * step / 24 for step in range(25)]
    ends = [(start + half * cos(t), half * sin(t)) for t in turns]
    ends += [(start + wide - half * cos(t), -half * sin(t)) for t in turns]
    return tuple(ends)


def _spacers(vehicle: Vehicle, plan: LeverPlan) -> Iterator[Component]:
    """Put tubes between the eccentrics on their shaft, and between the ratchet wheels on theirs."""
    bore = round_hole(vehicle.kit.shaft_diameter_mm / 2 + RUN_MM)
    tube = circle(spacer_radius_mm(vehicle))
    start, end = plan.bay
    play = vehicle.frame.end_play_mm
    for shaft, taken in (
        (LEVER_THROWS, [layers[0] for layers in plan.layers]),
        (LEVER_WHEEL, [at for layers in plan.layers for at in layers[2:]]),
    ):
        edges = [start, *(edge for at in taken for edge in (at, at + plan.thick_mm)), end - play]
        for number, (a, b) in enumerate(zip(edges[::2], edges[1::2], strict=True)):
            names = ("wall", *(f"ratchet {n}" for n in range(1, len(taken) + 1)), "wall")
            if b - a > vehicle.frame.gap_mm + RUN_MM:
                yield Component(
                    ComponentId(
                        f"spacer of {shaft} between {names[number]} and {names[number + 1]}"
                    ),
                    "spacer",
                    (Prism((tube,), 0.0, b - a, (bore,)),),
                    *plan.centres[shaft],
                    a,
                    shaft=shaft,
                )


def _room(vehicle: Vehicle, plan: LeverPlan) -> tuple[float, float, float, float]:
    """Find the rectangle that everything between the walls needs, over a turn at either stop."""
    boxes: list[tuple[float, float, float, float]] = []
    for fulcrum in (plan.drive.stop_low_mm, plan.drive.stop_high_mm):
        for number in range(ANGLES):
            for part in _moving(vehicle, plan, fulcrum, 360.0 * number / ANGLES):
                boxes.append(part.reach_mm)
    boxes += [gear.reach_mm for gear in plan.gears]
    far = spacer_radius_mm(vehicle)
    boxes += [(x - far, y - far, x + far, y + far) for x, y in plan.centres.values()]
    lows, highs = zip(*((b[:2], b[2:]) for b in boxes), strict=True)
    return (
        min(x for x, _ in lows),
        min(y for _, y in lows),
        max(x for x, _ in highs),
        max(y for _, y in highs),
    )
