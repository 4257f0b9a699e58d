"""The stack as a developed section: through the shafts in the order of the power, to scale.

The section goes from shaft to shaft, in every mesh along the line of the two centres, and is laid
out flat: shafts in mesh lie at their true distance below one another, a shaft in one line with one
that is drawn already lies on that line. What does not mesh with the shaft before it keeps clear of
all above. Lengths in mm: along the box from the front outer wall's outer face, across from the
first shaft's axis downwards.
"""

from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from math import hypot

from mild_badger.core.driveline.assemble import assemble
from mild_badger.core.drivetrain.graph import Coupling
from mild_badger.core.kit.part_sizes import spacer_radius_mm, tip_mm
from mild_badger.core.structure.forks import forks_of
from mild_badger.core.structure.shaft_lengths import PartKind, ShaftCut, StackPart, shaft_cuts
from mild_badger.core.structure.stack import Stack
from mild_badger.core.vehicle.model import Vehicle

__all__ = [
    "CentreDistance",
    "DevelopedSection",
    "SectionFork",
    "SectionPart",
    "SectionShaft",
    "developed_section",
]

ROOM_MM = 3.0
"""Between what does not mesh."""
ROOT_MODULES = 1.25
"""How deep a gap is under the pitch circle, in modules (ISO 53)."""
SAME_LINE_MM = 0.01
ROUND = frozenset({"gear", "free gear", "sleeve", "hub", "clutch"})


@dataclass(frozen=True)
class SectionShaft:
    """A shaft: where its axis lies, from where to where it reaches, and whether power passes it."""

    name: str
    across_mm: float
    from_mm: float
    to_mm: float
    radius_mm: float
    live: bool


@dataclass(frozen=True)
class SectionPart:
    """What sits on a shaft, cut along its axis.

    ``inner_mm`` is its bore's radius, ``root_mm`` and ``pitch_mm`` a gear's under its teeth and on
    its pitch circle, ``outer_mm`` over all. ``travel_mm`` is how far it slides either way.
    """

    kind: PartKind
    shaft: str
    key: str
    body: str
    teeth: int
    words: str
    slab: int
    from_mm: float
    to_mm: float
    across_mm: float
    inner_mm: float
    root_mm: float
    pitch_mm: float
    outer_mm: float
    travel_mm: float
    live: bool


@dataclass(frozen=True)
class SectionFork:
    """A fork over its sleeve: as thick as it is, as far up as its rail is away."""

    sleeve: str
    shaft: str
    rail: str
    slab: int
    from_mm: float
    to_mm: float
    across_mm: float
    inner_mm: float
    rail_mm: float


@dataclass(frozen=True)
class CentreDistance:
    """Two shafts in mesh that lie below one another, and how far apart they are."""

    one: str
    other: str
    from_mm: float
    to_mm: float


@dataclass(frozen=True)
class DevelopedSection:
    """The whole section: ``top_mm`` and ``low_mm`` are how far it reaches across."""

    shafts: tuple[SectionShaft, ...]
    parts: tuple[SectionPart, ...]
    forks: tuple[SectionFork, ...]
    distances: tuple[CentreDistance, ...]
    walls: tuple[tuple[int, float, float], ...]
    edges_mm: tuple[float, ...]
    top_mm: float
    low_mm: float
    start_mm: float
    end_mm: float


def developed_section(
    vehicle: Vehicle, stack: Stack, path: Sequence[str], *, whole: bool = False
) -> DevelopedSection:
    """Lay a box out flat.

    Parameters
    ----------
    vehicle, stack
        The box where it has its place.
    path
        Bodies that carry power, in their order; those of its shafts come first. Empty where
        nothing is engaged.
    whole
        Draw every shaft, not those of the path alone.
    """
    cuts = {cut.name: cut for cut in shaft_cuts(vehicle, stack)}
    meshes = _meshes(vehicle, stack)
    order = _order(stack, path, meshes, whole=whole or not path)
    live = frozenset(path)
    parts = {name: tuple(_parts(vehicle, stack, cuts[name], live)) for name in order}
    across = _across(stack, order, parts, meshes)
    shafts = tuple(
        SectionShaft(
            name,
            across[name],
            cuts[name].start_mm,
            cuts[name].start_mm + (cuts[name].length_mm or cuts[name].needed_mm),
            vehicle.kit.shaft_diameter_mm / 2,
            name in live or any(part.live for part in parts[name]),
        )
        for name in order
    )
    placed = tuple(_moved(part, across[name]) for name in order for part in parts[name])
    forks = tuple(
        SectionFork(
            fork.column,
            fork.shaft,
            fork.rail.name,
            fork.slab,
            stack.middle_mm(fork.slab) - vehicle.frame.fork_mm / 2,
            stack.middle_mm(fork.slab) + vehicle.frame.fork_mm / 2,
            across[fork.shaft],
            next(p.outer_mm for p in placed if p.kind == "sleeve" and p.shaft == fork.shaft) - 1.5,
            hypot(
                fork.rail.x_mm - stack.rods[fork.shaft].x_mm,
                fork.rail.y_mm - stack.rods[fork.shaft].y_mm,
            ),
        )
        for fork in forks_of(vehicle, stack)
        if fork.shaft in across
        and any(p.kind == "sleeve" and p.shaft == fork.shaft for p in placed)
    )
    distances = tuple(
        CentreDistance(one, other, across[one], across[other])
        for one, other in pairwise(order)
        if frozenset((one, other)) in meshes
        and abs(across[other] - across[one] - stack.apart_mm(one, other)) < SAME_LINE_MM
    )
    reach = [p.across_mm + p.outer_mm for p in placed] or [0.0]
    high = [p.across_mm - p.outer_mm for p in placed] or [0.0]
    high += [fork.across_mm - fork.rail_mm for fork in forks]
    walls = tuple((n, stack.edges_mm[n], stack.edges_mm[n + 1]) for n in stack.walls)
    ends = [stack.length_mm, *(s.to_mm for s in shafts)]
    starts = [0.0, *(s.from_mm for s in shafts)]
    return DevelopedSection(
        shafts,
        placed,
        forks,
        distances,
        walls,
        stack.edges_mm,
        min(high) - ROOM_MM,
        max(reach) + ROOM_MM,
        min(starts),
        max(ends),
    )


def _meshes(vehicle: Vehicle, stack: Stack) -> frozenset[frozenset[str]]:
    """List the pairs of shafts whose gears mesh."""
    train = stack.own.drivetrain if stack.own is not None else assemble(vehicle)
    shaft_of = {disc.body: disc.shaft for disc in stack.discs}
    return frozenset(
        frozenset(shaft_of[body] for body in equation.bodies)
        for equation in train.equations
        if equation.kind is Coupling.MESH and all(body in shaft_of for body in equation.bodies)
    )


def _order(
    stack: Stack, path: Sequence[str], meshes: Collection[frozenset[str]], *, whole: bool
) -> list[str]:
    """Order the shafts: those of the path, then each next one that meshes with one drawn late."""
    shaft_of = {disc.body: disc.shaft for disc in stack.discs}
    named = [body if body in stack.rods else shaft_of.get(body, "") for body in path]
    order = list(dict.fromkeys(name for name in named if name in stack.rods))
    if not whole:
        return order
    left = [name for name in stack.rods if name not in order]
    if not order and left:
        order.append(left.pop(0))
    while left:
        step = next(
            (
                name
                for known in reversed(order)
                for name in left
                if frozenset((known, name)) in meshes
            ),
            left[0],
        )
        left.remove(step)
        order.append(step)
    return order


def _parts(
    vehicle: Vehicle, stack: Stack, cut: ShaftCut, live: Collection[str]
) -> list[SectionPart]:
    """Cut what sits on a shaft along its axis, across counted from that axis."""
    kit, shaft = vehicle.kit, vehicle.kit.shaft_diameter_mm / 2
    made = []
    for part in cut.parts:
        if part.kind in ("end play", "pilot") or (part.kind == "wall" and not part.bearing):
            continue  # nothing that is cut
        middle = part.middle_mm
        slab = next((n for n, edge in enumerate(stack.edges_mm[1:]) if middle <= edge), 0)
        disc = next((d for d in stack.discs if d.shaft == cut.name and d.slab == slab), None)
        root = pitch = outer = shaft
        body, teeth = "", 0
        if part.kind in ROUND and disc is not None:
            body, teeth, outer = disc.body, disc.teeth, disc.radius_mm
            if teeth:
                outer = tip_mm(kit, teeth)
                pitch = teeth * kit.module_mm / 2
                root = pitch - ROOT_MODULES * kit.module_mm
        elif part.kind in ("spacer", "post"):
            outer = spacer_radius_mm(vehicle)
        elif part.kind == "wall":
            bearing = next((b for b in kit.bearings if b.name == part.bearing), None)
            outer = bearing.outer_mm / 2 if bearing is not None else 1.6 * shaft
        from_mm, to_mm = _own_length(vehicle, part)
        travel = vehicle.lever.fork_travel_mm if part.kind == "sleeve" else 0.0
        made.append(
            SectionPart(
                part.kind,
                cut.name,
                part.key,
                body,
                teeth,
                part.words,
                slab,
                from_mm,
                to_mm,
                0.0,
                shaft,
                max(root, shaft),
                pitch,
                outer,
                travel,
                body in live,
            )
        )
    return made


def _own_length(vehicle: Vehicle, part: StackPart) -> tuple[float, float]:
    """Give a sleeve's own length in neutral; what it travels is room of its part."""
    if part.kind != "sleeve":
        return part.from_mm, part.to_mm
    frame = vehicle.frame
    long = min(frame.thin_mm if frame.sleeve == "thin" else frame.grooved_mm, part.length_mm)
    return part.middle_mm - long / 2, part.middle_mm + long / 2


def _across(
    stack: Stack,
    order: Sequence[str],
    parts: dict[str, tuple[SectionPart, ...]],
    meshes: Collection[frozenset[str]],
) -> dict[str, float]:
    """Give how far down each shaft's axis lies."""
    across: dict[str, float] = {}
    for number, name in enumerate(order):
        before = order[number - 1] if number else ""
        line = next((o for o in across if stack.apart_mm(o, name) < SAME_LINE_MM), "")
        places = []
        if line and not _overlapping(parts[line], parts[name]):
            places.append((line, across[line]))
        if before and frozenset((before, name)) in meshes:
            places.append((before, across[before] + stack.apart_mm(before, name)))
        down = max((across[o] + _clear(parts[o], parts[name]) for o in across), default=0.0)
        for beside, place in places:
            others = (o for o in across if o not in (beside, line, before))
            if all(abs(place - across[o]) >= _clear(parts[o], parts[name], 0.0) for o in others):
                down = place
                break
        across[name] = down
    return across


def _overlapping(one: Sequence[SectionPart], other: Sequence[SectionPart]) -> bool:
    return any(
        a.from_mm < b.to_mm and b.from_mm < a.to_mm and a.kind in ROUND and b.kind in ROUND
        for a in one
        for b in other
    )


def _clear(
    one: Sequence[SectionPart], other: Sequence[SectionPart], room_mm: float = ROOM_MM
) -> float:
    """Give how far apart two shafts are laid so that nothing of theirs overlaps."""
    return room_mm + max(
        (
            a.outer_mm + b.outer_mm
            for a in one
            for b in other
            if a.from_mm - a.travel_mm < b.to_mm + b.travel_mm
            and b.from_mm - b.travel_mm < a.to_mm + a.travel_mm
        ),
        default=0.0,
    )


def _moved(part: SectionPart, across_mm: float) -> SectionPart:
    return replace(part, across_mm=across_mm)
