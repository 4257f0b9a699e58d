"""Checking a placed slot box in true geometry, by formulas of its own.

It shares nothing with the search but the document and the drivetrain graph: seats are judged from
the involute's formulas here, clearances from circles, and what the gears do by the solver.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import combinations
from math import acos, cos, hypot, pi, radians, sqrt, tan

from mild_badger.core.drivetrain.assemble import assemble
from mild_badger.core.drivetrain.graph import Coupling, Drivetrain
from mild_badger.core.findings import Finding, Severity
from mild_badger.core.vehicle.box import SlotBox
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.layout import BoxLayout
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["Disc", "Rod", "Stack", "stack_of", "verify_layout", "verify_stack"]

LEAST_ROOM_MM = 0.15
"""Room that must be left between what passes without touching."""
SLEEVE_RADIUS_MM = 9.0
"""Outer radius of a dog sleeve with its fork's groove (an estimate, no source)."""


@dataclass(frozen=True)
class Disc:
    """A gear or a sleeve: a circle in one slab of the stack; ``body`` is its name in the graph."""

    body: str
    shaft: str
    slab: int
    radius_mm: float
    teeth: int = 0


@dataclass(frozen=True)
class Rod:
    """A shaft from one slab to another, both passed, with the walls that carry it."""

    name: str
    x_mm: float
    y_mm: float
    first: int
    last: int
    walls: tuple[int, ...]


@dataclass(frozen=True)
class Stack:
    """The box as slabs along its shafts, from the input end, and what is in them.

    Slab names in order; ``walls`` are the numbers of those that carry shafts; ``widths_u`` how wide
    each slab is, all one unit but three for the sleeves where none are given.
    """

    slabs: tuple[str, ...]
    walls: tuple[int, ...]
    rods: dict[str, Rod]
    discs: tuple[Disc, ...]
    widths_u: tuple[float, ...] = ()

    def apart_mm(self, one: str, other: str) -> float:
        """Distance between two shafts' axes."""
        a, b = self.rods[one], self.rods[other]
        return hypot(a.x_mm - b.x_mm, a.y_mm - b.y_mm)


def stack_of(vehicle: Vehicle, layout: BoxLayout) -> Stack:
    """Lay the box out along its shafts."""
    count = layout.layers
    slabs = (
        "front outer wall", *(f"front {n}" for n in range(count, 1, -1)), "front inner wall",
        "tie", "front 1", "sleeves", "back 1", "back inner wall",
        *(f"back {n}" for n in range(2, count + 1)), "back outer wall",
    )  # fmt: skip
    number = {name: n for n, name in enumerate(slabs)}
    walls = tuple(n for name, n in number.items() if name.endswith("wall"))
    unit = vehicle.kit.grid_unit_mm
    at_one = {g.shaft for g in layout.gears if g.layer == 1}
    rods = {}
    for shaft in layout.shafts:
        if shaft.name.startswith("input."):
            ends = (number["front outer wall"], number["back outer wall"])
        elif shaft.name.startswith("selector."):
            ends = (number["front inner wall"], number["back inner wall"])
        elif shaft.side == "front":
            inner = "front 1" if shaft.name in at_one else "front inner wall"
            ends = (number["front outer wall"], number[inner])
        else:
            inner = "back 1" if shaft.name in at_one else "back inner wall"
            ends = (number[inner], number["back outer wall"])
        carried = tuple(w for w in walls if ends[0] <= w <= ends[1])
        rods[shaft.name] = Rod(shaft.name, shaft.x_u * unit, shaft.y_u * unit, *ends, carried)
    discs = [
        Disc(g.body, g.shaft, number[f"{g.side} {g.layer}"], _tip(vehicle.kit, g.teeth), g.teeth)
        for g in layout.gears
    ]
    box = vehicle.box
    if isinstance(box, SlotBox):
        for name in rods:
            kind, _, column = name.partition(".")
            if kind == "selector":
                discs.append(Disc(f"sleeve.{column}", name, number["sleeves"], SLEEVE_RADIUS_MM))
                if box.columns > 1:
                    tip = _tip(vehicle.kit, box.tie_teeth)
                    discs.append(
                        Disc(f"tie.{column}", name, number["tie"], tip, box.tie_teeth)
                    )  # fmt: skip
            elif kind == "input" and box.feed == "rail" and box.columns > 1:
                tip = _tip(vehicle.kit, box.rail_teeth)
                discs.append(Disc(f"rail.{column}", name, number["sleeves"], tip, box.rail_teeth))
    return Stack(slabs, walls, rods, tuple(discs))


def _tip(kit: Kit, teeth: int) -> float:
    size = kit.size(teeth)
    return size.tip_diameter_mm / 2 if size else kit.module_mm * (teeth + 2) / 2


def verify_stack(vehicle: Vehicle, stack: Stack) -> tuple[Finding, ...]:
    """List what touches or hangs on one wall in a box whose shafts stand in line."""
    train = assemble(vehicle)
    return (*_clearances(vehicle, train, stack), *_lone(stack))


def verify_layout(vehicle: Vehicle) -> tuple[Finding, ...]:
    """List everything that is wrong with a vehicle's layout; nothing where it has none."""
    layout = vehicle.layout
    if layout is None or not isinstance(vehicle.box, SlotBox):
        return ()
    train = assemble(vehicle)
    stack = stack_of(vehicle, layout)
    return (
        *_out_of_step(train, layout),
        *_on_right_shafts(train, stack),
        *_meshes(vehicle.kit, train, stack),
        *_clearances(vehicle, train, stack),
        *_supports(vehicle, stack),
        *_hull(vehicle, stack),
    )


def _wrong(code: str, where: tuple[str, ...], title: str, text: str) -> Finding:
    return Finding(Severity.ERROR, code, ("layout", *where), title, text)


def _gear_of(body: str) -> tuple[str, ...]:
    key = body.split("/", maxsplit=1)[0]
    return (key.removeprefix("gear "),) if key.startswith("gear ") else ()


def _out_of_step(train: Drivetrain, layout: BoxLayout) -> Iterator[Finding]:
    """Find gears that the box has and the layout has not, or with other teeth."""
    placed = {gear.body: gear for gear in layout.gears}
    left = set(layout.unplaced)
    for body in train.bodies:
        owner = _gear_of(body.id)
        if body.kind != "gear" or not owner or owner[0] in left:
            continue
        gear = placed.pop(body.id, None)
        if gear is None or gear.teeth != body.teeth:
            has = "is not placed" if gear is None else f"was placed with {gear.teeth} teeth"
            yield _wrong(
                "layout-out-of-step", owner, f"Gear {owner[0]} has changed since it was placed",
                f"{body.name}, {body.teeth} teeth, {has}. Place the box again.",
            )  # fmt: skip
    for gear in placed.values():
        owner = _gear_of(gear.body)
        yield _wrong(
            "layout-out-of-step", owner, "The layout has a gear that the box has not",
            f"{gear.body} of {gear.teeth} teeth is no longer in any train. Place the box again.",
        )  # fmt: skip


def _on_right_shafts(train: Drivetrain, stack: Stack) -> Iterator[Finding]:
    """Hold each gear's shaft against the one it is fixed to, or its sleeve couples it to."""
    carrier = {
        e.bodies[0]: e.bodies[1]
        for e in train.equations
        if e.kind in (Coupling.FIXED, Coupling.DOG) and train.index[e.bodies[0]].kind == "gear"
    }
    for disc in stack.discs:
        wanted = carrier.get(disc.body)
        if wanted is not None and wanted != disc.shaft:
            yield _wrong(
                "gear-on-wrong-shaft", _gear_of(disc.body), f"{disc.body} sits on a wrong shaft",
                f"It belongs on {wanted}, and sits on {disc.shaft}.",
            )  # fmt: skip


def _meshing(train: Drivetrain) -> set[frozenset[str]]:
    return {frozenset(e.bodies) for e in train.equations if e.kind is Coupling.MESH}


def _meshes(kit: Kit, train: Drivetrain, stack: Stack) -> Iterator[Finding]:
    """Every mesh of the box is in one slab, at a distance at which its teeth run."""
    found = {disc.body: disc for disc in stack.discs}
    for pair in _meshing(train):
        if not all(body in found for body in pair):
            continue
        one, other = (found[body] for body in sorted(pair))
        owner = _gear_of(one.body)
        words = f"{one.teeth} with {other.teeth}"
        if one.slab != other.slab:
            yield _wrong(
                "mesh-in-two-layers", owner, f"{words}: not in one layer",
                f"{one.body} is in {stack.slabs[one.slab]}, {other.body} in "
                f"{stack.slabs[other.slab]}.",
            )  # fmt: skip
            continue
        apart = stack.apart_mm(one.shaft, other.shaft)
        trouble = _seat_trouble(kit, one.teeth, other.teeth, apart)
        if trouble:
            yield _wrong("bad-seat", owner, f"{words}: {trouble}",
                         f"Their shafts stand {apart:.2f} mm apart; nominal would be "
                         f"{(one.teeth + other.teeth) * kit.module_mm / 2:.2f} mm.")  # fmt: skip


def _seat_trouble(kit: Kit, one: int, other: int, apart: float) -> str:
    """Judge a distance: teeth that bind or let go (ISO 21771: contact ratio, backlash)."""
    module, alpha = kit.module_mm, radians(kit.pressure_angle_deg)
    nominal = (one + other) * module / 2
    cosine = nominal * cos(alpha) / apart if apart else 2.0
    if abs(apart - nominal) < 0.005:
        return ""
    if cosine > 1:
        return "the teeth bind"
    working = acos(cosine)
    thinning = 0.0
    path = -apart * sqrt(1 - cosine**2)
    for teeth in (one, other):
        size = kit.size(teeth)
        tip = size.tip_diameter_mm / 2 if size else module * (teeth + 2) / 2
        thinning += (size.tooth_thinning_mm if size else 0.0) / 2
        base = teeth * module * cos(alpha) / 2
        path += sqrt(max(tip**2 - base**2, 0.0))
    play = thinning + 2 * apart * ((tan(working) - working) - (tan(alpha) - alpha))
    if apart < nominal and play < kit.least_play_mm:
        return "the teeth bind"
    if apart > nominal and path / (pi * module * cos(alpha)) < kit.least_contact:
        return "the teeth let go"
    return ""


def _clearances(vehicle: Vehicle, train: Drivetrain, stack: Stack) -> Iterator[Finding]:
    """Nothing touches what it should not: gears in one slab, shafts that pass, shafts in a row."""
    meshing = _meshing(train)
    radius = vehicle.kit.shaft_diameter_mm / 2
    for one, other in combinations(stack.discs, 2):
        if one.slab != other.slab or frozenset((one.body, other.body)) in meshing:
            continue
        if one.shaft == other.shaft:
            same = one.teeth == other.teeth and one.shaft.startswith("input.")
            if not same:
                yield _clash(one.body, other.body, stack.slabs[one.slab])
            continue
        room = stack.apart_mm(one.shaft, other.shaft) - one.radius_mm - other.radius_mm
        if room < LEAST_ROOM_MM:
            yield _clash(one.body, other.body, stack.slabs[one.slab], room)
    for disc in stack.discs:
        for rod in stack.rods.values():
            if rod.name == disc.shaft or not rod.first <= disc.slab <= rod.last:
                continue
            room = stack.apart_mm(disc.shaft, rod.name) - disc.radius_mm - radius
            if room < LEAST_ROOM_MM:
                yield _clash(disc.body, rod.name, stack.slabs[disc.slab], room)
    for rod, beside in combinations(stack.rods.values(), 2):
        if rod.first <= beside.last and beside.first <= rod.last:
            room = stack.apart_mm(rod.name, beside.name) - 2 * radius
            if room < LEAST_ROOM_MM:
                yield _clash(rod.name, beside.name, "the same place", room)


def _clash(one: str, other: str, where: str, room: float | None = None) -> Finding:
    owners = tuple(dict.fromkeys((*_gear_of(one), *_gear_of(other))))
    by = "" if room is None else f" by {LEAST_ROOM_MM - room:.1f} mm"
    return _wrong(
        "clash", owners, f"{one} and {other} are in each other's way",
        f"In {where} they come too near{by}.",
    )  # fmt: skip


def _hull(vehicle: Vehicle, stack: Stack) -> Iterator[Finding]:
    """Find gears that stand out of the clear width or height."""
    placing, unit = vehicle.placing, vehicle.kit.grid_unit_mm
    inputs = [r.x_mm for r in stack.rods.values() if r.name.startswith("selector.")]
    box = vehicle.box
    if not inputs or not isinstance(box, SlotBox):
        return
    columns = max(box.columns, 1)
    middle = placing.spacing_u * (columns - 1) * unit / 2
    floor = -_tip(vehicle.kit, box.rail_teeth)
    for disc in stack.discs:
        rod = stack.rods[disc.shaft]
        wide = abs(rod.x_mm - middle) + disc.radius_mm - (placing.wide_u or 1e6) * unit / 2
        low = floor - (rod.y_mm - disc.radius_mm) if placing.high_u is not None else 0.0
        high = rod.y_mm + disc.radius_mm - floor - (placing.high_u or 1e6) * unit
        out = max(wide, low, high)
        if disc.teeth and disc.body.startswith("gear ") and out > 0.01:
            yield _wrong(
                "outside-hull", _gear_of(disc.body), f"{disc.body} stands out of the hull",
                f"It reaches {out:.1f} mm beyond the clear width or height.",
            )  # fmt: skip


def _lone(stack: Stack) -> Iterator[Finding]:
    """Every shaft stands in two walls."""
    for rod in stack.rods.values():
        if len(rod.walls) < 2:
            yield _wrong(
                "one-support", _gear_of(rod.name), f"{rod.name} has {len(rod.walls)} support",
                "A shaft needs two walls to stand in.",
            )  # fmt: skip


def _supports(vehicle: Vehicle, stack: Stack) -> Iterator[Finding]:
    """Every shaft stands in two walls, and no two holes of a wall run into one another."""
    yield from _lone(stack)
    unit = vehicle.kit.grid_unit_mm
    for one, other in combinations(stack.rods.values(), 2):
        shared = set(one.walls) & set(other.walls)
        if shared and stack.apart_mm(one.name, other.name) < unit - 0.01:
            wall = stack.slabs[min(shared)]
            yield _wrong(
                "holes-too-near", _gear_of(one.name), f"No two holes so near: {one.name} and "
                f"{other.name}",
                f"In the {wall} they stand {stack.apart_mm(one.name, other.name):.1f} mm apart; "
                f"holes of the grid are {unit:g} mm apart.",
            )  # fmt: skip
