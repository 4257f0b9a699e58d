"""Templates of parts that no other list draws, off their solids: plates, layers, turned parts.

A part whose prisms are all round about one line is turned, and drawn from the side. Another is
sawn from board and glued up, each layer drawn once. Parts that are alike, or each other's mirror
image end for end, are drawn once with their count.
"""

from collections.abc import Iterator, Sequence
from functools import lru_cache, partial
from itertools import combinations
from math import hypot

from mild_badger.core.components.chassis_parts import chassis_parts
from mild_badger.core.components.component import Component, Outline, Prism
from mild_badger.core.components.describe import describe_component
from mild_badger.core.components.drive_line import drive_line_parts
from mild_badger.core.components.equipment import motor_parts
from mild_badger.core.components.hardware import boxes_in_space
from mild_badger.core.components.mechanism_parts import mechanism_groups
from mild_badger.core.errors import InputError
from mild_badger.core.figures import in_mm
from mild_badger.core.message import say
from mild_badger.core.structure.brackets import brackets_of
from mild_badger.core.structure.forks import forks_of
from mild_badger.core.structure.shaft_box import stack_for
from mild_badger.core.templates.bars import sheet_for
from mild_badger.core.templates.drawing import Drawing
from mild_badger.core.templates.template import Template
from mild_badger.core.vehicle.cache_key import CacheKey, parts_key
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["layer_rods", "made_pieces", "round_mm", "shape_of", "standing_parts", "turned"]

GENERAL = frozenset({"clutch plate", "star", "detent arm", "drum", "follower"})
"""Kinds that are made whatever the kit is."""
WHERE_MADE = frozenset(
    {
        "coupling",
        "differential",
        "wheel",
        "kingpin",
        "rack",
        "steering arm",
        "steering rod",
        "steering pinion",
        "steering column",
        "steering wheel",
        "joint yoke",
        "joint cross",
        "floor",
        "crank",
        "piston",
        "spool",
    }
)
"""Kinds that are made where gears are, beside those."""
ROUND_CORNERS, ROUND_MM, DISC_MM = 16, 0.02, 12.0
"""From how many corners on a ring is a circle, how true it is; thin discs are sawn from board."""
Shape = tuple[tuple[float, ...], ...]


def standing_parts(vehicle: Vehicle) -> tuple[Component, ...]:
    """List all parts of a vehicle but what was bought to be carried; none that cannot be made."""
    return _standing(parts_key(vehicle, "equipment"))


@lru_cache(maxsize=4)
def _standing(key: CacheKey) -> tuple[Component, ...]:
    vehicle = key.vehicle
    boxes = [part for parts in boxes_in_space(vehicle) for part in parts]
    if not boxes:
        return ()
    try:
        line = drive_line_parts(vehicle)
        groups = [part for group in mechanism_groups(vehicle) for part in group.parts]
        chassis = chassis_parts(vehicle, [part for part in line if part.kind == "wheel"])
        return (*boxes, *motor_parts(vehicle), *line, *chassis, *groups)
    except InputError:  # a gear that cannot be made is told where it is chosen
        return tuple(boxes)


def made_pieces(vehicle: Vehicle) -> Iterator[Template]:
    """List the pieces, those of a kind one after another."""
    kinds = GENERAL | WHERE_MADE if vehicle.kit.made is not None else GENERAL
    found: dict[tuple[str, Shape], list[Component]] = {}
    for part in standing_parts(vehicle):
        if part.kind in kinds or _beside(vehicle, part):
            found.setdefault((part.kind, shape_of(part)), []).append(part)
    for alike in found.values():
        yield from _templates(vehicle, alike)


def _beside(vehicle: Vehicle, part: Component) -> bool:
    """Whether a part is of a box whose walls, forks and brackets no other list draws."""
    if part.name:  # a mechanism's bearings are bought
        return False
    if part.kind == "sleeve":  # between sliding gears; those with dogs are drawn ring by ring
        return vehicle.box.slides and not part.box
    if part.kind == "post":
        return bool(part.box) or not _brackets(vehicle)
    if part.kind == "wall":
        return vehicle.kit.any_seat and (bool(part.box) or vehicle.box.lever is not None)
    return bool(part.box) and part.kind in ("fork", "hub")


def _brackets(vehicle: Vehicle) -> bool:
    """Whether the main box's brackets are drawn off its stack."""
    stack = stack_for(vehicle)
    return stack is not None and bool(brackets_of(vehicle, stack, forks_of(vehicle, stack)))


def _templates(vehicle: Vehicle, alike: list[Component]) -> Iterator[Template]:
    """Give a turned part's one template, and each layer's of another."""
    part, count = alike[0], len(alike)
    words = describe_component(vehicle, part)
    names = dict.fromkeys(describe_component(vehicle, other) for other in alike[1:])
    also = tuple(name for name in names if name != words)
    key = f"piece {part.key}"
    if turned(part) and not _disc(part):
        long = max(p.to_mm for p in part.solid) - min(p.from_mm for p in part.solid)
        draw = partial(_from_the_side, part=part, words=words, also=also, count=count)
        yield Template(key, words, count, long, draw, "turned", flat=True)
        return
    layers = _layers(part)
    for number, (layer, times) in enumerate(layers, start=1):
        called = words
        if len(layers) > 1:
            called = say("workshop.layer-of-a-part", part=words, number=number, most=len(layers))
        name = key if len(layers) == 1 else f"{key} layer {number}"
        many = count * times
        draw = partial(_flat, layer=layer, words=called, also=also, count=many)
        yield Template(name, called, many, _thick(layer), draw, flat=_apart(layer))


def layer_rods(vehicle: Vehicle) -> Iterator[tuple[Component, float, float]]:
    """List the rods in parts that are glued up of layers: of what part, how long and wide, mm."""
    if vehicle.kit.made is None:
        return
    for part in standing_parts(vehicle):
        if part.kind in WHERE_MADE and not turned(part):
            for prism in part.solid:
                if _rod(prism):
                    yield part, _thick(prism), 2 * (round_mm(prism.outlines[0]) or 0.0)


def turned(part: Component) -> bool:
    """Whether all of a part is round about one line along it."""
    return all(
        round_mm(ring) is not None
        for prism in part.solid
        for ring in (*prism.outlines, *prism.holes)
    )


def _disc(part: Component) -> bool:
    """Whether a round part is cut from board instead."""
    return len(part.solid) == 1 and _thick(part.solid[0]) <= DISC_MM


def round_mm(ring: Outline) -> float | None:
    """Give a circle's radius about the part's own line; None for another shape."""
    if len(ring) < ROUND_CORNERS:
        return None
    radii = [hypot(x, y) for x, y in ring]
    return max(radii) if max(radii) - min(radii) < ROUND_MM else None


def shape_of(part: Component) -> Shape:
    """Tell parts of one shape, or turned round end for end, from others by rounded corners."""
    ways = []
    for sign in (1.0, -1.0):
        ends = [sorted((sign * p.from_mm, sign * p.to_mm)) for p in part.solid]
        start = min(a for a, _ in ends)
        rows = []
        for prism, (a, b) in zip(part.solid, ends, strict=True):
            rings = sorted(_ring(ring, sign) for ring in (*prism.outlines, *prism.holes))
            corners = (value for ring in rings for value in ring)
            rows.append((round(a - start, 2), round(b - start, 2), *corners))
        ways.append(tuple(sorted(rows)))
    return min(ways)


def _ring(ring: Outline, sign: float) -> tuple[float, ...]:
    radius = round_mm(ring)
    if radius is not None:
        return (round(radius, 2),)
    corners = [(round(sign * x, 2) + 0.0, round(y, 2) + 0.0) for x, y in ring]
    return tuple(value for corner in sorted(corners) for value in corner)


def _thick(layer: Prism) -> float:
    return layer.to_mm - layer.from_mm


def _layers(part: Component) -> list[tuple[Prism, int]]:
    """List the layers of a part that differ, and how often each is there; rods are none."""
    layers: dict[Shape, tuple[Prism, int]] = {}
    for prism in part.solid:
        if _rod(prism):
            continue
        flat = _lying(prism)
        rings = tuple(_ring(ring, 1.0) for ring in (*flat.outlines, *flat.holes))
        shape = (*rings, (round(_thick(flat), 2),))
        layers[shape] = (flat, layers[shape][1] + 1 if shape in layers else 1)
    return list(layers.values())


def _lying(prism: Prism) -> Prism:
    """Turn a plain block so that its thinnest side is its thickness."""
    if len(prism.outlines) != 1 or len(prism.outlines[0]) != 4 or prism.holes:
        return prism
    xs, ys = zip(*prism.outlines[0], strict=True)
    sizes = sorted((max(xs) - min(xs), max(ys) - min(ys), _thick(prism)))
    square = len({round(x, 3) for x in xs}) == 2 and len({round(y, 3) for y in ys}) == 2
    if not square or sizes[0] == _thick(prism):
        return prism
    thick, high, wide = sizes
    return Prism((((0.0, 0.0), (wide, 0.0), (wide, high), (0.0, high)),), 0.0, thick)


def _said(also: tuple[str, ...], count: int) -> list[str]:
    lines: list[str] = [say("workshop.piece-make", count=count)]
    if also:
        lines.append(say("workshop.piece-alike", listed=", ".join(also)))
    return lines


def _from_the_side(
    vehicle: Vehicle, *, part: Component, words: str, also: tuple[str, ...], count: int
) -> Drawing:
    """Draw a turned part from the side, its bore thin, every length and width beside it."""
    del vehicle
    lines = _said(also, count)
    start = min(p.from_mm for p in part.solid)
    long = max(p.to_mm for p in part.solid) - start
    radii = [max(r for o in p.outlines if (r := round_mm(o)) is not None) for p in part.solid]
    for prism, radius in zip(part.solid, radii, strict=True):
        size = say(
            "workshop.turned-from-to",
            start=in_mm(prism.from_mm - start, 2),
            end=in_mm(prism.to_mm - start, 2),
            wide=in_mm(2 * radius, 2),
        )
        bores = [r for hole in prism.holes if (r := round_mm(hole)) is not None]
        if bores:
            size = say("workshop.turned-with-bore", size=size, bore=in_mm(2 * min(bores), 2))
        lines.append(size)
    most = max(radii)
    sheet, (cx, foot) = sheet_for(words, lines, long, 2 * most)
    left, middle = cx - long / 2, foot + most
    for prism, radius in zip(part.solid, radii, strict=True):
        a, b = left + prism.from_mm - start, left + prism.to_mm - start
        sheet.rectangle("cut", a, middle - radius, b, middle + radius)
        for hole in prism.holes:
            bore = round_mm(hole)
            if bore is not None:
                for sign in (1.0, -1.0):
                    sheet.line("engrave", (a, middle + sign * bore), (b, middle + sign * bore))
    sheet.line("mark", (left - 2.0, middle), (left + long + 2.0, middle))
    return sheet


def _flat(
    vehicle: Vehicle, *, layer: Prism, words: str, also: tuple[str, ...], count: int
) -> Drawing:
    """Draw a layer as it is cut."""
    del vehicle
    rings = _joined(layer)
    left, low, right, high = _bounds(rings)
    lines = [say("workshop.layer-thick", thick=in_mm(_thick(layer), 2)), *_said(also, count)]
    sheet, (cx, foot) = sheet_for(words, lines, right - left, high - low)
    at = cx - (left + right) / 2, foot - low
    for ring in rings:
        radius = round_mm(ring)
        if radius is not None:
            sheet.circle("cut", at, radius)
        else:
            sheet.outline("cut", [(at[0] + x, at[1] + y) for x, y in ring])
    return sheet


def _apart(layer: Prism) -> bool:
    """Whether a layer is several pieces that stand clear of one another."""
    boxes = [_bounds((outline,)) for outline in layer.outlines]
    return any(
        one[2] < other[0] or other[2] < one[0] or one[3] < other[1] or other[3] < one[1]
        for one, other in combinations(boxes, 2)
    )


def _rod(layer: Prism) -> bool:
    """Whether a layer is a pin or a shaft rather than a board."""
    radius = round_mm(layer.outlines[0]) if len(layer.outlines) == 1 else None
    return radius is not None and _thick(layer) > 2.5 * radius


def _joined(layer: Prism) -> tuple[Outline, ...]:
    """Give the outlines of a layer as they are cut: what overlaps is one."""
    if len(layer.outlines) == 1:
        return (*layer.outlines, *layer.holes)
    from shapely import union_all  # noqa: PLC0415 - when a template is drawn
    from shapely.geometry import Polygon  # noqa: PLC0415

    whole = union_all([Polygon(o).buffer(1e-6) for o in layer.outlines])
    if layer.holes:
        whole = whole.difference(union_all([Polygon(hole) for hole in layer.holes]))
    parts = whole.simplify(1e-5)
    polygons = parts.geoms if parts.geom_type == "MultiPolygon" else [parts]
    rings = [ring for one in polygons for ring in (one.exterior, *one.interiors)]
    return tuple(tuple((float(x), float(y)) for x, y in ring.coords[:-1]) for ring in rings)


def _bounds(rings: Sequence[Outline]) -> tuple[float, float, float, float]:
    xs = [x for ring in rings for x, _ in ring]
    ys = [y for ring in rings for _, y in ring]
    return min(xs), min(ys), max(xs), max(ys)
