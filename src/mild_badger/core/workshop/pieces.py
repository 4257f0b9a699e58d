"""Every part of a box in space: its shape seen along the shafts, and from where to where it lies.

Lengths mm: x to the right and y upwards as seen from the input end, z along the box from there.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import lru_cache
from math import cos, pi, sin
from typing import Literal

from mild_badger.core.figures import in_mm
from mild_badger.core.kit.part_sizes import (
    RUN_MM,
    TUBE_MM,
    arm_mm,
    fork_radius_mm,
    sleeve_radius_mm,
    spacer_radius_mm,
    tip_mm,
)
from mild_badger.core.layout.brackets import SEAT_MM, brackets_of
from mild_badger.core.layout.forks import Fork, forks_of
from mild_badger.core.layout.names import describe_shaft
from mild_badger.core.layout.plates import Plate, plates_of
from mild_badger.core.layout.shaft_box import stack_for
from mild_badger.core.layout.shaft_lengths import ShaftCut, StackPart, nut_mm, part_key, shaft_cuts
from mild_badger.core.layout.spacers import spacer_room_mm
from mild_badger.core.layout.stack import Rod, Stack
from mild_badger.core.layout.walls import walls_of
from mild_badger.core.message import say
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.sleeves import fork_id
from mild_badger.core.words import word

__all__ = ["Piece", "PieceKind", "circle_points", "pieces_of", "tight_spacers"]

PieceKind = Literal[
    "wall",
    "post",
    "tie",
    "shaft",
    "gear",
    "free gear",
    "sleeve",
    "spacer",
    "hub",
    "bearing",
    "fork",
    "rail",
]
Point = tuple[float, float]
Holes = tuple[tuple[Point, float], ...]
CORNERS = 48


@dataclass(frozen=True)
class Piece:
    """One part.

    A round one has ``at`` and ``radius_mm``; others have ``outlines``, each a closed line, the
    union of which is the part. ``holes`` go right through, as place and radius. ``shaft`` is the
    shaft that carries it, ``body`` its name in the drivetrain, ``teeth`` a gear's, ``wall`` the
    one that a bearing sits in, ``name`` what it is wherever it sits.
    """

    key: str
    kind: PieceKind
    words: str
    from_mm: float
    to_mm: float
    at: Point = (0.0, 0.0)
    radius_mm: float = 0.0
    outlines: tuple[tuple[Point, ...], ...] = ()
    holes: Holes = ()
    shaft: str = ""
    body: str = ""
    teeth: int = 0
    wall: str = ""
    name: str = ""

    @property
    def length_mm(self) -> float:
        """Length along the box."""
        return self.to_mm - self.from_mm


def circle_points(at: Point, radius: float, corners: int = CORNERS) -> tuple[Point, ...]:
    """Give a circle as a closed line of corners on it."""
    turns = (2 * pi * n / corners for n in range(corners))
    return tuple((at[0] + radius * cos(t), at[1] + radius * sin(t)) for t in turns)


def pieces_of(vehicle: Vehicle) -> tuple[Piece, ...]:
    """List every part of the box in space; empty where it has no place yet."""
    # what was tried, written or ticked does not bear on where parts are
    return _pieces(
        vehicle.model_copy(
            update={name: type(getattr(vehicle, name))() for name in ("trial", "log", "assembly")}
            | {"versions": ()}
        )
    )


@lru_cache(maxsize=4)
def _pieces(vehicle: Vehicle) -> tuple[Piece, ...]:
    stack = stack_for(vehicle)
    if stack is None:
        return ()
    forks = forks_of(vehicle, stack)
    cuts = shaft_cuts(vehicle, stack)
    return (
        *_walls(vehicle, stack, forks),
        *(piece for cut in cuts for piece in _on_shaft(vehicle, stack, cut)),
        *_shifters(vehicle, stack, forks),
        *_ties(vehicle, stack, forks),
    )


def _walls(vehicle: Vehicle, stack: Stack, forks: tuple[Fork, ...]) -> Iterator[Piece]:
    spans = {stack.slabs[w]: (stack.edges_mm[w], stack.edges_mm[w + 1]) for w in stack.walls}
    if vehicle.kit.any_seat:
        for plate in plates_of(vehicle, stack, forks):
            left, low, right, high = plate.outline_mm
            yield Piece(
                plate.name,
                "wall",
                word(plate.name),
                *spans[plate.name],
                outlines=(((left, low), (right, low), (right, high), (left, high)),),
                holes=tuple(((h.x_mm, h.y_mm), h.diameter_mm / 2) for h in plate.holes),
            )
        return
    unit, hole = vehicle.kit.grid_unit_mm, vehicle.kit.shaft_diameter_mm / 2 + RUN_MM
    for wall in walls_of(vehicle, stack, forks):
        number = stack.slabs.index(wall.name)
        rods = [*stack.rods.values(), *(fork.rail for fork in forks)]
        yield Piece(
            wall.name,
            "wall",
            word(wall.name),
            *spans[wall.name],
            outlines=tuple(beam.outline_mm(unit) for beam in wall.beams),
            holes=tuple(((r.x_mm, r.y_mm), hole) for r in rods if number in r.walls),
        )


def _on_shaft(vehicle: Vehicle, stack: Stack, cut: ShaftCut) -> Iterator[Piece]:
    rod = stack.rods[cut.name]
    at, radius = (rod.x_mm, rod.y_mm), vehicle.kit.shaft_diameter_mm / 2
    length = cut.length_mm if cut.length_mm is not None else cut.needed_mm
    name = describe_shaft(vehicle, cut.name)
    yield Piece(
        cut.name,
        "shaft",
        name,
        cut.start_mm,
        cut.start_mm + length,
        at,
        radius,
        shaft=cut.name,
        body=cut.name,
    )
    bore = ((at, radius + RUN_MM),)
    counts: dict[str, int] = {}
    for part in cut.parts:
        key = part_key(cut.name, part, counts)
        if part.kind == "wall":
            yield from _bearing(vehicle, cut.name, part, at)
            continue
        if part.kind in ("end play", "pilot"):
            continue
        made = _part(vehicle, part, key, (rod, radius, bore))
        if part.kind == "post":
            made = _bracket(vehicle, stack, made, part)
        if made.kind == "spacer":
            room = spacer_room_mm(stack, rod, part)
            if room < radius + TUBE_MM:
                continue  # see tight_spacers
            made = replace(made, radius_mm=min(made.radius_mm, room))
        yield made


def _bracket(vehicle: Vehicle, stack: Stack, post: Piece, part: StackPart) -> Piece:
    """Give the post of an idler's shaft the outline of its bracket, where it has one."""
    slab = stack.slabs.index(part.wall)
    for bracket in brackets_of(vehicle, stack, forks_of(vehicle, stack)):
        if (bracket.shaft, bracket.slab) == (post.shaft, slab):
            tie = (bracket.tie.x_mm, bracket.tie.y_mm)
            bores = (*post.holes, (tie, vehicle.frame.post_mm / 2 + RUN_MM))
            return replace(post, outlines=(bracket.outline,), holes=bores)
    return post


def tight_spacers(vehicle: Vehicle) -> tuple[str, ...]:
    """Name the shafts that have a gap where not even a thin tube goes in as a spacer."""
    stack = stack_for(vehicle)
    if stack is None:
        return ()
    least = vehicle.kit.shaft_diameter_mm / 2 + TUBE_MM
    return tuple(
        dict.fromkeys(
            cut.name
            for cut in shaft_cuts(vehicle, stack)
            for part in cut.parts
            if part.kind == "spacer" and spacer_room_mm(stack, stack.rods[cut.name], part) < least
        )
    )


def _part(
    vehicle: Vehicle,
    part: StackPart,
    key: str,
    on: tuple[Rod, float, tuple[tuple[Point, float], ...]],
) -> Piece:
    rod, shaft_radius, bore = on
    at, name = (rod.x_mm, rod.y_mm), describe_shaft(vehicle, rod.name)
    start, end, radius, teeth = part.from_mm, part.to_mm, spacer_radius_mm(vehicle), 0
    words: str = say(
        "workshop.spacer-of-on-2", length_mm=in_mm(part.length_mm, significant=4), name=name
    )
    kind: PieceKind = "spacer"
    match part.kind:
        case "gear" | "free gear":
            kind, teeth = part.kind, part.teeth
            radius = tip_mm(vehicle.kit, teeth)
            words = say("workshop.tooth-gear-on-3", teeth=teeth, name=name)
            if kind == "free gear":
                words = say("workshop.that-runs-free", gear=words)
        case "sleeve":
            kind, radius = "sleeve", sleeve_radius_mm(vehicle)
            frame = vehicle.frame
            long = frame.thin_mm if frame.sleeve == "thin" else frame.grooved_mm
            start, end = part.middle_mm - long / 2, part.middle_mm + long / 2
            words = say("workshop.sleeve-on-2", name=name)
        case "hub":
            kind, radius = "hub", sleeve_radius_mm(vehicle)
            words = say("workshop.hub-with-dogs-on", name=name)
        case "post":
            kind, radius = "post", shaft_radius + SEAT_MM
            words = say("workshop.post-for-2", name=name)
    return Piece(
        key,
        kind,
        words,
        start,
        end,
        at,
        radius,
        holes=bore,
        shaft=rod.name,
        body=part.body,
        teeth=teeth,
    )


def _bearing(vehicle: Vehicle, shaft: str, part: StackPart, at: Point) -> Iterator[Piece]:
    wall = part.wall
    bearing = next((b for b in vehicle.kit.bearings if b.name == part.bearing), None)
    if bearing is not None:
        hole = vehicle.kit.shaft_diameter_mm / 2 + RUN_MM
        middle = part.middle_mm
        half = min(bearing.width_mm, part.length_mm) / 2
        yield Piece(
            f"{shaft}: bearing in {wall}",
            "bearing",
            say(
                "workshop.bearing-for-in-the",
                name=bearing.name,
                shaft=describe_shaft(vehicle, shaft),
                wall=wall,
            ),
            middle - half,
            middle + half,
            at,
            bearing.outer_mm / 2,
            holes=((at, hole),),
            shaft=shaft,
            wall=wall,
            name=say("workshop.bearing", name=bearing.name),
        )


def _shifters(vehicle: Vehicle, stack: Stack, forks: tuple[Fork, ...]) -> Iterator[Piece]:
    radius = vehicle.kit.shaft_diameter_mm / 2
    for fork in forks:
        rail, name = fork.rail, describe_shaft(vehicle, fork.column)
        at = (rail.x_mm, rail.y_mm)
        yield Piece(
            rail.name,
            "rail",
            say("workshop.fork-rail-of", name=name),
            stack.edges_mm[rail.first],
            stack.edges_mm[rail.last + 1],
            at,
            radius,
            shaft=rail.name,
        )
        middle, half = stack.middle_mm(fork.slab), vehicle.frame.fork_mm / 2
        # the half ring lies in the sleeve's groove: from above only what stands out counts
        yield Piece(
            fork_id(fork.column),
            "fork",
            say("workshop.fork-of-2", name=name),
            middle - half,
            middle + half,
            at,
            max(arm_mm(vehicle), fork_radius_mm(vehicle)),
            outlines=(fork.outline,),
            holes=((at, radius + RUN_MM),),
            shaft=rail.name,
            body=fork.column,
        )


def _ties(vehicle: Vehicle, stack: Stack, forks: tuple[Fork, ...]) -> Iterator[Piece]:
    if not vehicle.kit.any_seat:
        return  # a brick box is tied from outside, beam by beam
    plates: tuple[Plate, ...] = plates_of(vehicle, stack, forks)
    posts = [hole for hole in plates[0].holes if hole.kind == "post"] if plates else []
    for hole in posts:
        yield Piece(
            hole.name,
            "tie",
            say("workshop.tie-rod", name=hole.name),
            -nut_mm(vehicle),
            stack.length_mm + nut_mm(vehicle),
            (hole.x_mm, hole.y_mm),
            vehicle.frame.post_mm / 2,
        )
