"""Checking a placed slot box in true geometry, by formulas of its own.

It shares nothing with the search but the document and the drivetrain graph: seats are judged from
the involute's formulas here, clearances from circles, and what the gears do by the solver.
"""

from collections.abc import Callable, Iterator
from itertools import combinations
from math import acos, cos, hypot, pi, radians, sqrt, tan

from mild_badger.core.architectures.places import Columns
from mild_badger.core.architectures.registry import architecture_of
from mild_badger.core.driveline.assemble import assemble
from mild_badger.core.drivetrain.graph import Coupling, Drivetrain
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.figures import in_mm
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.kit.part_sizes import tip_mm
from mild_badger.core.message import say, say_count
from mild_badger.core.structure.forks import Fork
from mild_badger.core.structure.names import describe_body, describe_shaft, gear_of_body
from mild_badger.core.structure.slot_box import stack_of
from mild_badger.core.structure.stack import Disc, Stack
from mild_badger.core.vehicle.bodies import column_shaft, input_shaft
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.layout import BoxLayout
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.sleeves import describe_sleeve
from mild_badger.core.words import word

__all__ = ["verify_forks", "verify_layout", "verify_stack"]

LEAST_ROOM_MM = 0.15
"""Room that must be left between what passes without touching."""


def verify_stack(vehicle: Vehicle, stack: Stack) -> tuple[Finding, ...]:
    """List what touches or hangs on one wall in a box whose shafts stand in line."""
    train = assemble(vehicle)
    return (
        *_clearances(vehicle, train, stack),
        *_lone(vehicle, stack),
        *_too_large(vehicle, stack),
        *_outline(vehicle, stack),
    )


def verify_forks(vehicle: Vehicle, stack: Stack, forks: tuple[Fork, ...]) -> Iterator[Finding]:
    """List what forks and their rails run into, by their true outlines."""
    if not forks:
        return
    # Loaded when the first box in space is checked, not at every start.
    from shapely.geometry import Point, Polygon  # noqa: PLC0415

    radius = vehicle.kit.shaft_diameter_mm / 2
    shapes = {fork.column: Polygon(fork.outline) for fork in forks}
    for fork in forks:
        own = stack.rods[fork.shaft]
        shape = shapes[fork.column]
        for disc in stack.discs:
            rod = stack.rods[disc.shaft]
            at = Point(rod.x_mm, rod.y_mm)
            in_line = stack.apart_mm(disc.shaft, fork.shaft) < 1e-6
            if disc.slab == fork.slab and not in_line:
                room = shape.distance(at) - disc.radius_mm
                if room < LEAST_ROOM_MM:
                    yield _clash(
                        vehicle,
                        say("layout.the-fork-of", sleeve=describe_sleeve(fork.column)),
                        disc.body,
                        stack.slabs[disc.slab],
                    )
            if fork.rail.first <= disc.slab <= fork.rail.last:
                apart = hypot(rod.x_mm - fork.rail.x_mm, rod.y_mm - fork.rail.y_mm)
                if apart - disc.radius_mm - radius < LEAST_ROOM_MM:
                    yield _clash(vehicle, fork.rail.name, disc.body, stack.slabs[disc.slab])
        rails = (other.rail for other in forks if other.column != fork.column)
        for rod in (*stack.rods.values(), *rails):
            in_line = hypot(rod.x_mm - own.x_mm, rod.y_mm - own.y_mm) < 1e-6
            if rod.first <= fork.slab <= rod.last and not in_line:
                room = shape.distance(Point(rod.x_mm, rod.y_mm)) - radius
                if room < LEAST_ROOM_MM:
                    yield _clash(
                        vehicle,
                        say("layout.the-fork-of", sleeve=describe_sleeve(fork.column)),
                        rod.name,
                        stack.slabs[fork.slab],
                    )
    for one, other in combinations(forks, 2):
        if one.slab == other.slab:
            room = shapes[one.column].distance(shapes[other.column])
            if room < LEAST_ROOM_MM:
                yield _clash(
                    vehicle,
                    say("layout.the-fork-of", sleeve=describe_sleeve(one.column)),
                    say("layout.the-fork-of", sleeve=describe_sleeve(other.column)),
                    stack.slabs[one.slab],
                )


def verify_layout(vehicle: Vehicle) -> tuple[Finding, ...]:
    """List everything that is wrong with a vehicle's layout; nothing where it has none."""
    layout = vehicle.layout
    if layout is None or not vehicle.box.free_trains:
        return ()
    train = assemble(vehicle)
    stack = stack_of(vehicle, layout)
    return (
        *_out_of_step(vehicle, train, layout),
        *_on_right_shafts(vehicle, train, stack),
        *_meshes(vehicle, train, stack),
        *_clearances(vehicle, train, stack),
        *_supports(vehicle, stack),
        *_hull(vehicle, stack),
        *_outline(vehicle, stack),
    )


def _wrong(code: str, where: tuple[str, ...], title: str, text: str) -> Finding:
    return Finding(Severity.ERROR, code, ("layout", *where), title, text)


def _gear_of(vehicle: Vehicle, body: str) -> tuple[str, ...]:
    gear = gear_of_body(vehicle, body)
    return () if gear is None else (gear,)


def _out_of_step(vehicle: Vehicle, train: Drivetrain, layout: BoxLayout) -> Iterator[Finding]:
    """Find gears that the box has and the layout has not, or with other teeth."""
    placed = {gear.body: gear for gear in layout.gears}
    left = set(layout.unplaced)
    for body in train.bodies:
        owner = _gear_of(vehicle, body.id)
        if body.kind != "gear" or not owner or owner[0] in left:
            continue
        gear = placed.pop(body.id, None)
        if gear is None or gear.teeth != body.teeth:
            has = (
                say("layout.is-not-placed")
                if gear is None
                else say("layout.was-placed-with-teeth", teeth=gear.teeth)
            )
            yield _wrong(
                "layout-out-of-step",
                owner,
                say(
                    "layout.gear-has-changed-since-it-was-placed",
                    gear_name=vehicle.gear_name(owner[0]),
                ),
                say("layout.teeth-place-the-box-again", name=body.name, teeth=body.teeth, has=has),
            )
    for gear in placed.values():
        owner = _gear_of(vehicle, gear.body)
        yield _wrong(
            "layout-out-of-step",
            owner,
            say("layout.the-layout-has-a-gear-that-is-not-in-the-box"),
            say(
                "layout.of-teeth-is-no-longer-in-any-train-place-the",
                body=describe_body(vehicle, gear.body),
                teeth=gear.teeth,
            ),
        )


def _shared(train: Drivetrain, stack: Stack) -> dict[str, str]:
    """Find gears that stand for one: same shaft, slab and teeth, and always the same speed.

    Two that are fixed to one shaft have one, whatever it is.
    """
    fixed = {e.bodies[0]: e.bodies[1] for e in train.equations if e.kind is Coupling.FIXED}
    speeds = solve(train, {}).speeds
    groups: dict[tuple[str, int, int], list[Disc]] = {}
    for disc in stack.discs:
        groups.setdefault((disc.shaft, disc.slab, disc.teeth), []).append(disc)
    one_for: dict[str, str] = {}
    for group in groups.values():
        alike = {speeds.get(disc.body) for disc in group}
        carriers = {fixed.get(disc.body) for disc in group}
        keyed = len(carriers) == 1 and None not in carriers
        if len(group) > 1 and (keyed or (len(alike) == 1 and None not in alike)):
            one_for |= {disc.body: group[0].body for disc in group}
    return one_for


def _misplaced(vehicle: Vehicle, body: str, words: str) -> Finding:
    title = say("layout.sits-on-the-wrong-shaft", body=describe_body(vehicle, body))
    return _wrong("gear-on-wrong-shaft", _gear_of(vehicle, body), title, words)


def _on_right_shafts(vehicle: Vehicle, train: Drivetrain, stack: Stack) -> Iterator[Finding]:
    """Hold each gear's shaft against the one it is fixed to, or its sleeve couples it to.

    Two trains may share a shaft that turns at one speed in both, and it has to reach the gear.
    """
    for disc in stack.discs:
        rod = stack.rods[disc.shaft]
        if not rod.first <= disc.slab <= rod.last:
            slab = vehicle.train_title(stack.slabs[disc.slab])
            shaft = describe_shaft(vehicle, disc.shaft)
            words = say("layout.the-shaft-does-not-reach-the-gear", shaft=shaft, slab=slab)
            yield _misplaced(vehicle, disc.body, words)
    speeds = solve(train, {}).speeds
    carrier = {
        e.bodies[0]: e.bodies[1]
        for e in train.equations
        if e.kind in (Coupling.FIXED, Coupling.DOG) and train.index[e.bodies[0]].kind == "gear"
    }
    for disc in stack.discs:
        wanted = carrier.get(disc.body)
        if wanted is None or wanted == disc.shaft:
            continue
        speed = speeds.get(wanted)
        if speed is None or speed != speeds.get(disc.shaft):
            words = say(
                "layout.the-gear-belongs-on-and-sits-on",
                shaft=describe_shaft(vehicle, wanted),
                shaft_2=describe_shaft(vehicle, disc.shaft),
            )
            yield _misplaced(vehicle, disc.body, words)


def _meshing(train: Drivetrain) -> tuple[frozenset[str], ...]:
    """Give the bodies that mesh, in the order of the graph, so that findings keep theirs."""
    pairs = (frozenset(e.bodies) for e in train.equations if e.kind is Coupling.MESH)
    return tuple(dict.fromkeys(pairs))


def _meshes(vehicle: Vehicle, train: Drivetrain, stack: Stack) -> Iterator[Finding]:
    """Every mesh of the box is in one slab, at a distance at which its teeth run."""
    kit = vehicle.kit
    disc_of = {disc.body: disc for disc in stack.discs}
    for pair in _meshing(train):
        if not all(body in disc_of for body in pair):
            continue
        one, other = (disc_of[body] for body in sorted(pair))
        owner = _gear_of(vehicle, one.body)
        words = say("layout.with", teeth=one.teeth, teeth_2=other.teeth)
        if one.slab != other.slab:
            yield _wrong(
                "mesh-in-two-layers",
                owner,
                say("layout.not-in-one-layer", words=words),
                say(
                    "layout.is-in-in",
                    body=describe_body(vehicle, one.body),
                    slabs=stack.slabs[one.slab],
                    body_2=describe_body(vehicle, other.body),
                    slabs_2=stack.slabs[other.slab],
                ),
            )
            continue
        apart = stack.apart_mm(one.shaft, other.shaft)
        trouble = _seat_trouble(kit, one.teeth, other.teeth, apart)
        if trouble:
            nominal = (one.teeth + other.teeth) * kit.module_mm / 2
            yield Finding(
                Severity.ERROR,
                "bad-seat",
                ("layout", *owner),
                f"{words}: {trouble}",
                say(
                    "layout.the-shafts-are-apart-the-nominal-centre",
                    apart=in_mm(apart, 2),
                    nominal=in_mm(nominal, 2),
                ),
                figure=apart,
                limit=nominal,
                unit="mm",
            )


def _seat_trouble(kit: Kit, one: int, other: int, apart: float) -> str:
    """Judge a distance: teeth that bind or let go (ISO 21771: contact ratio, backlash)."""
    module, alpha = kit.module_mm, radians(kit.pressure_angle_deg)
    nominal = (one + other) * module / 2
    cosine = nominal * cos(alpha) / apart if apart else 2.0
    if abs(apart - nominal) < 0.005:
        return ""
    if cosine > 1:
        return say("layout.the-teeth-bind")
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
        return say("layout.the-teeth-bind")
    if apart > nominal and path / (pi * module * cos(alpha)) < kit.least_contact:
        return say("layout.the-teeth-let-go")
    return ""


def _clearances(vehicle: Vehicle, train: Drivetrain, stack: Stack) -> Iterator[Finding]:
    """Nothing touches what it should not: gears in one slab, shafts that pass, shafts in a row."""
    one_for = _shared(train, stack)
    meshing = {frozenset(one_for.get(b, b) for b in pair) for pair in _meshing(train)}
    radius = vehicle.kit.shaft_diameter_mm / 2
    discs = [disc for disc in stack.discs if one_for.get(disc.body, disc.body) == disc.body]
    for one, other in combinations(discs, 2):
        if one.slab != other.slab or frozenset((one.body, other.body)) in meshing:
            continue
        if one.shaft == other.shaft:
            yield _clash(vehicle, one.body, other.body, stack.slabs[one.slab])
            continue
        room = stack.apart_mm(one.shaft, other.shaft) - one.radius_mm - other.radius_mm
        if room < LEAST_ROOM_MM:
            yield _clash(vehicle, one.body, other.body, stack.slabs[one.slab], room)
    for disc in discs:
        for rod in stack.rods.values():
            if rod.name == disc.shaft or not rod.first <= disc.slab <= rod.last:
                continue
            room = stack.apart_mm(disc.shaft, rod.name) - disc.radius_mm - radius
            if room < LEAST_ROOM_MM:
                yield _clash(vehicle, disc.body, rod.name, stack.slabs[disc.slab], room)
    for rod, beside in combinations(stack.rods.values(), 2):
        if rod.first <= beside.last and beside.first <= rod.last:
            room = stack.apart_mm(rod.name, beside.name) - 2 * radius
            if room < LEAST_ROOM_MM:
                yield _clash(vehicle, rod.name, beside.name, say("layout.the-same-place"), room)


def _clash(
    vehicle: Vehicle, one: str, other: str, where: str, room: float | None = None
) -> Finding:
    owners = tuple(dict.fromkeys((*_gear_of(vehicle, one), *_gear_of(vehicle, other))))
    by = "" if room is None else say("layout.by", least_room_mm=in_mm(LEAST_ROOM_MM - room, 1))
    return _wrong(
        "clash",
        owners,
        say(
            "layout.and-collide",
            body=describe_body(vehicle, one),
            body_2=describe_body(vehicle, other),
        ),
        say(
            "layout.in-they-overlap-or-come-too-near", train_title=vehicle.train_title(where), by=by
        ),
    )


def _hull(vehicle: Vehicle, stack: Stack) -> Iterator[Finding]:
    """Find gears that stand out of the clear width or height."""
    placing = vehicle.placing
    places = architecture_of(vehicle.box).places(vehicle.box)
    row = "input" if isinstance(places, Columns) and places.by_row else "selector"
    across = [
        rod.x_mm
        for rod in stack.rods.values()
        if (of_column := column_shaft(rod.name)) is not None and of_column.kind == row
    ]
    if not across or not isinstance(places, Columns):
        return
    middle = (max(across) + min(across)) / 2
    foot = min(rod.y_mm for rod in stack.rods.values() if rod.name == input_shaft())
    floor = foot - tip_mm(vehicle.kit, places.row_teeth)
    over: list[tuple[float, Disc]] = []
    for disc in stack.discs:
        rod = stack.rods[disc.shaft]
        wide = abs(rod.x_mm - middle) + disc.radius_mm - (placing.wide_mm or 1e6) / 2
        low = floor - (rod.y_mm - disc.radius_mm) if placing.high_mm is not None else 0.0
        high = rod.y_mm + disc.radius_mm - floor - (placing.high_mm or 1e6)
        out = max(wide, low, high)
        if disc.teeth and gear_of_body(vehicle, disc.body) and out > 0.01:
            over.append((out, disc))
    yield from _outside(
        vehicle, over, lambda out: say("layout.the-part-reaches-beyond-the-clear-width-or", out=out)
    )


def _outside(
    vehicle: Vehicle, over: list[tuple[float, Disc]], tell: Callable[[str], str]
) -> Iterator[Finding]:
    """Name the part that sticks out farthest, and say how many others do: one finding for all."""
    if not over:
        return
    out, worst = max(over, key=lambda part: part[0])
    words: str = tell(in_mm(out, 1))
    if len(over) > 1:
        words += say("layout.and-more-stick-out", parts=say_count("count.part", len(over) - 1))
    gears = dict.fromkeys(gear for _, disc in over for gear in _gear_of(vehicle, disc.body))
    yield _wrong(
        "outside-hull",
        tuple(gears),
        say("layout.sticks-out-of-the-space-allowed", body=describe_body(vehicle, worst.body)),
        words,
    )


def _too_large(vehicle: Vehicle, stack: Stack) -> Iterator[Finding]:
    """Find what makes a box of shafts wider or higher than it may be."""
    discs = [d for d in stack.discs if d.shaft in stack.rods]
    for most, axis in ((vehicle.placing.wide_mm, "x_mm"), (vehicle.placing.high_mm, "y_mm")):
        if most is None or not discs:
            continue
        places = {disc: getattr(stack.rods[disc.shaft], axis) for disc in discs}
        low = min(places[disc] - disc.radius_mm for disc in discs)
        last = max(discs, key=lambda disc: places[disc] + disc.radius_mm)
        out = places[last] + last.radius_mm - low - most
        if out > 0.01:
            yield from _outside(
                vehicle,
                [(out, last)],
                lambda out: say("layout.the-part-reaches-beyond-the-clear-width-or", out=out),
            )


def _outline(vehicle: Vehicle, stack: Stack) -> Iterator[Finding]:
    """Find gears and sleeves that stand out of the hull's outline."""
    outline = vehicle.placing.outline_mm
    if len(outline) < 3:
        return
    from shapely.geometry import Point, Polygon  # noqa: PLC0415 (as above)

    hull = Polygon(outline)
    over: list[tuple[float, Disc]] = []
    for disc in stack.discs:
        rod = stack.rods[disc.shaft]
        at = Point(rod.x_mm, rod.y_mm)
        inside = hull.exterior.distance(at) * (1 if hull.contains(at) else -1)
        if disc.radius_mm - inside > 0.01:
            over.append((disc.radius_mm - inside, disc))
    yield from _outside(
        vehicle,
        over,
        lambda out: say("layout.the-part-reaches-beyond-the-outline-allowed", radius_mm=out),
    )


def _lone(vehicle: Vehicle, stack: Stack) -> Iterator[Finding]:
    """Every shaft stands in two walls."""
    for rod in stack.rods.values():
        if len(rod.walls) < 2:
            yield _wrong(
                "one-support",
                _gear_of(vehicle, rod.name),
                say(
                    "layout.only-for",
                    wall=say_count("count.wall", len(rod.walls)),
                    shaft=describe_shaft(vehicle, rod.name),
                ),
                say("layout.a-shaft-needs-two-walls-to-stand-in"),
            )


def _supports(vehicle: Vehicle, stack: Stack) -> Iterator[Finding]:
    """Every shaft stands in two walls, and no two holes of a wall run into one another.

    How much wood or plastic is left between two holes is judged with the walls.
    """
    yield from _lone(vehicle, stack)
    if vehicle.kit.any_seat:
        return
    unit = vehicle.kit.grid_unit_mm
    for one, other in combinations(stack.rods.values(), 2):
        shared = set(one.walls) & set(other.walls)
        if shared and stack.apart_mm(one.name, other.name) < unit - 0.01:
            wall = stack.slabs[min(shared)]
            yield _wrong(
                "holes-too-near",
                _gear_of(vehicle, one.name),
                say(
                    "layout.holes-too-near-and",
                    shaft=describe_shaft(vehicle, one.name),
                    shaft_2=describe_shaft(vehicle, other.name),
                ),
                say(
                    "layout.in-the-they-are-apart-holes-of-the-grid-are",
                    wall=word(wall),
                    apart_mm=in_mm(stack.apart_mm(one.name, other.name), 1),
                    unit=in_mm(unit),
                ),
            )
