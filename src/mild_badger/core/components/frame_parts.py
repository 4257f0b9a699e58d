"""The frame of a box as parts: walls, and the rods or beams that tie them."""

from collections.abc import Iterator

from mild_badger.core.components.component import Component, ComponentId, Outline, Prism
from mild_badger.core.components.solids import circle, round_hole
from mild_badger.core.kit.part_sizes import RUN_MM
from mild_badger.core.structure.brackets import tie_names, tie_nuts
from mild_badger.core.structure.forks import Fork
from mild_badger.core.structure.plates import nut_radius_mm, plates_of
from mild_badger.core.structure.shaft_lengths import nut_mm
from mild_badger.core.structure.stack import Stack
from mild_badger.core.structure.walls import placed_drums, tie_places, walls_of
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["tie_parts", "wall_parts"]


def wall_parts(vehicle: Vehicle, stack: Stack, forks: tuple[Fork, ...]) -> Iterator[Component]:
    """Make the walls: plates with their bores, or beams with the holes of what runs in them."""
    shaft_mm = vehicle.kit.shaft_diameter_mm / 2
    spans = {stack.slabs[w]: (stack.edges_mm[w], stack.edges_mm[w + 1]) for w in stack.walls}
    if vehicle.kit.any_seat:
        for plate in plates_of(vehicle, stack, forks):
            left, low, right, high = plate.outline_mm
            outline = ((left, low), (right, low), (right, high), (left, high))
            holes = tuple(
                round_hole(hole.diameter_mm / 2, (hole.x_mm, hole.y_mm)) for hole in plate.holes
            )
            start, end = spans[plate.name]
            plain = (Prism((outline,), 0.0, end - start, holes),)
            yield _wall(plate.name, plain, start)
        return
    unit, hole = vehicle.kit.grid_unit_mm, shaft_mm + RUN_MM
    for wall in walls_of(vehicle, stack, forks):
        number = stack.slabs.index(wall.name)
        rods = [*stack.rods.values(), *(fork.rail for fork in forks)]
        holes = tuple(round_hole(hole, (rod.x_mm, rod.y_mm)) for rod in rods if number in rod.walls)
        if number in (stack.walls[0], stack.walls[-1]):
            drums = placed_drums(vehicle, stack, forks)
            holes += tuple(round_hole(hole, (drum.x_mm, drum.y_mm)) for drum in drums)
        start, end = spans[wall.name]
        faces = ((0, 0.0, end - start), (-1, -unit, 0.0), (1, end - start, end - start + unit))
        solid = tuple(
            Prism(flat, first, last, holes)
            for face, first, last in faces
            if (flat := tuple(b.outline_mm(unit) for b in wall.beams if b.face == face))
        )
        yield _wall(wall.name, solid, start)


def _wall(name: str, solid: tuple[Prism, ...], start: float) -> Component:
    return Component(ComponentId(name), "wall", solid, 0.0, 0.0, start, wall=name)


def _rod_and_nuts(
    vehicle: Vehicle, stack: Stack, spans: tuple[tuple[float, float], ...]
) -> tuple[Prism, ...]:
    """Make a tie rod with its hexagonal nuts."""
    long, end = stack.length_mm, nut_mm(vehicle)
    nut = circle(nut_radius_mm(vehicle), corners=6)
    rod = circle(vehicle.frame.post_mm / 2)
    nuts = (Prism((nut,), start + RUN_MM, end - RUN_MM) for start, end in spans)
    return (Prism((rod,), -end, long + end), *nuts)


def _tie_beams(vehicle: Vehicle, stack: Stack, forks: tuple[Fork, ...]) -> Iterator[Component]:
    """Lay the beams that tie a brick box's walls beside their uprights, at four corners."""
    places = tie_places(vehicle, stack, forks)
    half, long = vehicle.kit.grid_unit_mm / 2, stack.length_mm
    square: Outline = ((-half, -half), (half, -half), (half, half), (-half, half))
    for number, (x, y) in enumerate(places):
        side, high = ("left", "right")[number // 2], ("low", "high")[number % 2]
        name = ComponentId(f"tie beam {high} {side}")
        yield Component(name, "tie beam", (Prism((square,), 0.0, long),), x, y, 0.0)


def tie_parts(vehicle: Vehicle, stack: Stack, forks: tuple[Fork, ...]) -> Iterator[Component]:
    """Make what ties the walls: rods with their nuts, or beams along the whole box."""
    if not vehicle.kit.any_seat:
        yield from _tie_beams(vehicle, stack, forks)
        return
    plates = plates_of(vehicle, stack, forks)
    posts = [hole for hole in plates[0].holes if hole.kind == "post"] if plates else []
    nuts = tie_nuts(vehicle, stack, forks)
    for hole, name in zip(posts, tie_names(posts), strict=True):
        yield Component(
            ComponentId(name),
            "tie rod",
            _rod_and_nuts(vehicle, stack, nuts[hole.name]),
            hole.x_mm,
            hole.y_mm,
            0.0,
        )
