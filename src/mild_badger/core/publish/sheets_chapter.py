"""A sheet for each layer of gears and each wall: to scale, named, with places from one corner."""

from collections.abc import Callable, Sequence

from mild_badger.core.components.component import Component
from mild_badger.core.figures import MM, bare, in_mm
from mild_badger.core.labels import Box, LabelAsk, place_labels
from mild_badger.core.layout.reason import why_no_place
from mild_badger.core.message import say
from mild_badger.core.publish.dimensions import dimensioned
from mild_badger.core.publish.figures import scale_to_fit
from mild_badger.core.publish.page import LEFT, RIGHT, SOFT
from mild_badger.core.publish.work import SCALES, Work, describe_scale
from mild_badger.core.structure.names import describe_shaft, shaft_letter
from mild_badger.core.words import capitalized, word
from mild_badger.core.workshop.checks import MeshCheck
from mild_badger.core.workshop.figure import Figure
from mild_badger.core.workshop.sheets import (
    Layer,
    WallSheet,
    datum_mm,
    layers_of,
    wall_sheets,
)
from mild_badger.core.workshop.step_words import part_tag

__all__ = ["layers_chapter", "walls_chapter"]

TAG_PT, TAG_LINE, ROW_MM, STRIP_MM, GAP_MM = 6.5, 0.42, 3.9, 26.0, 6.0
LEAST_MM, ROUND_MM = 70.0, 45.0
"""How high a drawing is at the least, and what a page has for drawing, table and strip."""
ASIDE_MM, CORNER_MM = 0.7, 5.0
"""How far names stand off, and how long the mark of the corner is that all is measured from."""
CROSS_MM, HAIR_MM, DIMENSIONS_MM = 1.2, 0.4, (12.0, 7.0)
"""Half a hole's cross, an edge, and the room that dimensions take beside and above a wall."""
FREE_MM = 1.4
"""How far inside its own line a free gear's second one lies."""
HOLES = {
    "bore": say("publish.hole-of-a-shaft"),
    "rail": say("publish.hole-of-a-fork-rail"),
    "post": say("publish.hole-of-a-tie-rod"),
    "access": say("publish.hole-to-reach-a-shaft"),
}
Parts = Sequence[Component]
Tag = tuple[tuple[float, float], str]


def layers_chapter(work: Work) -> None:
    """Draw every layer of gears of each box."""
    boxes = _boxes(work, say("publish.layers"))
    for box in boxes:
        parts = work.plan.box(box)
        layers = layers_of(work.vehicle, parts)
        for layer in layers:
            title = say("publish.layer-of", number=layer.number, count=len(layers))
            _layer(work, parts, layer, title + _called(work, box))


def walls_chapter(work: Work) -> None:
    """Draw every wall of each box with its holes."""
    for box in _boxes(work, say("publish.walls")):
        parts = work.plan.box(box)
        for sheet in wall_sheets(work.vehicle, parts):
            _wall(work, parts, sheet, _called(work, box))


def _boxes(work: Work, title: str) -> list[str]:
    boxes = list(dict.fromkeys(part.box for part in work.plan.parts))
    if not boxes:
        words = work.plan.trouble or why_no_place(work.vehicle)
        work.book.paragraph(LEFT, work.book.begin(title, share=30), words, 8, width=RIGHT - LEFT)
    return boxes


def _called(work: Work, box: str) -> str:
    return f", {work.plan.titles[box]}" if box else ""


def _layer(work: Work, parts: Parts, layer: Layer, title: str) -> None:
    book, vehicle = work.book, work.vehicle
    y = book.begin(title)
    figure, corner = Figure(title), datum_mm(parts)
    _walls_outline(figure, parts)
    for gear in (*layer.before, *layer.behind):
        figure.circle("hair", (gear.x_mm, gear.y_mm), _pitch(work, gear), dashed=True)
    _corner(figure, corner)
    tags: list[Tag] = []
    for gear in sorted(layer.gears, key=lambda g: -g.teeth):
        _gear(figure, work, gear)
        tags.append(((gear.x_mm, gear.y_mm), part_tag(vehicle, gear)))
    bearing = {gear.shaft for gear in layer.gears}
    for rod in layer.shafts:
        at = rod.x_mm, rod.y_mm
        figure.circle("ink", at, rod.radius_mm, heavy=rod.shaft in bearing)
        if rod.shaft not in bearing:
            tags.append((at, shaft_letter(vehicle, rod.shaft)))
    rows = [_gear_row(work, layer, gear, corner) for gear in layer.gears]
    rows += [
        (
            _short(work, rod),
            "",
            say("publish.passes-through"),
            *_place((rod.x_mm, rod.y_mm), corner),
            "",
        )
        for rod in layer.shafts
        if rod.shaft not in bearing
    ]
    wide = vehicle.kit.shaft_diameter_mm
    y = _drawn(work, figure, tags, y, len(rows), widest_mm=wide)
    y = book.table(
        y + 4,
        (
            (say("publish.shaft"), LEFT, "left"),
            (say("publish.gear"), 46, "right"),
            (say("publish.how"), 51, "left"),
            (say("publish.from-the-left", mm=MM), 94, "right"),
            (say("publish.from-below", mm=MM), 116, "right"),
            (say("publish.meshes-with"), 121, "left"),
        ),
        rows,
        size=7,
        step=ROW_MM,
    )
    _strip(work, parts, (layer.from_mm, layer.to_mm), book.room(y, STRIP_MM) + 3)


def _gear(figure: Figure, work: Work, gear: Component) -> None:
    """Draw a gear's teeth: heavy if it is fixed, double if it is free, dashed if it slides."""
    for outline in gear.solid[0].outlines:
        points = gear.placed(outline)
        figure.line(
            "ink",
            *points,
            points[0],
            heavy=not (gear.free or gear.member),
            dashed=bool(gear.member),
        )
    figure.circle("soft", (gear.x_mm, gear.y_mm), _pitch(work, gear), dashed=True)
    if gear.free:
        root = _pitch(work, gear) - 1.25 * work.vehicle.kit.module_mm
        figure.circle("ink", (gear.x_mm, gear.y_mm), max(root - FREE_MM, gear.radius_mm / 3))


def _pitch(work: Work, gear: Component) -> float:
    return gear.teeth * work.vehicle.kit.module_mm / 2


def _gear_row(
    work: Work, layer: Layer, gear: Component, corner: tuple[float, float]
) -> tuple[str, ...]:
    how = (
        say("publish.slides")
        if gear.member
        else say("publish.runs-free")
        if gear.free
        else say("publish.fixed-to-its-shaft")
    )
    return (
        _short(work, gear),
        str(gear.teeth),
        how,
        *_place((gear.x_mm, gear.y_mm), corner),
        ", ".join(_partner(work, mesh, gear) for mesh in layer.meshes if _of(mesh, gear)),
    )


def _of(mesh: MeshCheck, gear: Component) -> bool:
    return gear.key in (mesh.one.key, mesh.other.key)


def _partner(work: Work, mesh: MeshCheck, gear: Component) -> str:
    other = mesh.other if mesh.one.key == gear.key else mesh.one
    apart = ((other.x_mm - gear.x_mm) ** 2 + (other.y_mm - gear.y_mm) ** 2) ** 0.5
    return say("publish.mesh-at", tag=part_tag(work.vehicle, other), apart=in_mm(apart, 2))


def _short(work: Work, part: Component) -> str:
    return shaft_letter(work.vehicle, part.shaft) or describe_shaft(work.vehicle, part.shaft)


def _place(at: tuple[float, float], corner: tuple[float, float]) -> tuple[str, str]:
    return bare(in_mm(at[0] - corner[0], 2)), bare(in_mm(at[1] - corner[1], 2))


def _corner(figure: Figure, at: tuple[float, float]) -> None:
    """Mark the corner that all is measured from."""
    x, y = at
    figure.line("run", (x + CORNER_MM, y), at, (x, y + CORNER_MM), heavy=True)


def _walls_outline(figure: Figure, parts: Parts) -> None:
    walls = [part.reach_mm for part in parts if part.kind == "wall"]
    if walls:
        left, low = min(w[0] for w in walls), min(w[1] for w in walls)
        right, high = max(w[2] for w in walls), max(w[3] for w in walls)
        corners = ((left, low), (right, low), (right, high), (left, high))
        figure.line("hair", *corners, corners[0])


def _drawn(
    work: Work,
    figure: Figure,
    tags: Sequence[Tag],
    y: float,
    rows: int,
    *,
    widest_mm: float,
    sheet: WallSheet | None = None,
) -> float:
    """Draw a sheet as large as its table leaves room for, with its names; give where it ends.

    Names keep clear of shafts or holes of up to ``widest_mm``, and of the edges of a wall, which is
    dimensioned too.
    """
    book = work.book
    beside, round_mm = DIMENSIONS_MM if sheet is not None else (0.0, 0.0)
    high: float = max(book.high - ROUND_MM - ROW_MM * (rows + 2) - STRIP_MM - GAP_MM, LEAST_MM)
    size = (RIGHT - LEFT - 2 * beside, high - 2 * round_mm)
    scale = scale_to_fit(figure, size)
    scale = next((known for known in SCALES if known <= scale + 1e-9), scale)
    left, low, right, top = figure.box()
    high = min(high, (top - low) * scale + 4 + 2 * round_mm)
    words = say("publish.seen-from-the-input-end-scale", scale=describe_scale(scale))
    book.text(LEFT, y - 1.5, words, 7, color=SOFT)
    book.figure(figure, (LEFT, y), (RIGHT - LEFT, high), scale)
    middle = LEFT + (RIGHT - LEFT) / 2, y + high / 2

    def on_page(at: tuple[float, float]) -> tuple[float, float]:
        return (
            middle[0] + (at[0] - (left + right) / 2) * scale,
            middle[1] - (at[1] - (low + top) / 2) * scale,
        )

    room = Box(LEFT, y, RIGHT, y + high)
    edges: tuple[Box, ...] = ()
    if sheet is not None:
        reach = sheet.wall.reach_mm
        one, other = on_page((reach[0], reach[3])), on_page((reach[2], reach[1]))
        edges = _edges(Box(*one, *other))
        dimensioned(book, sheet, on_page)
    near = widest_mm / 2 * scale + ASIDE_MM
    _tagged(work, tags, on_page, room, edges=edges, near_mm=near)
    return y + high


def _edges(box: Box) -> tuple[Box, ...]:
    """Give what names keep clear of round a wall: its edges and what is beyond them."""
    far = max(DIMENSIONS_MM)
    return (
        Box(box.left - far, box.top - far, box.left + HAIR_MM, box.bottom + far),
        Box(box.right - HAIR_MM, box.top - far, box.right + far, box.bottom + far),
        Box(box.left - far, box.top - far, box.right + far, box.top + HAIR_MM),
        Box(box.left - far, box.bottom - HAIR_MM, box.right + far, box.bottom + far),
    )


def _tagged(
    work: Work,
    tags: Sequence[Tag],
    on_page: Callable[[tuple[float, float]], tuple[float, float]],
    room: Box,
    *,
    edges: Sequence[Box],
    near_mm: float,
) -> None:
    book, line = work.book, TAG_PT * TAG_LINE
    asks = [
        LabelAsk(on_page(at), (book.width_of(words, "Text", TAG_PT) + 0.8, line), near_mm)
        for at, words in tags
    ]
    placed = place_labels(asks, room, edges, line=line)
    for (_, words), ask, label in zip(tags, asks, placed, strict=True):
        if label is not None and words:
            place = label.box.left, label.box.top
            book.tag(place, ask.size, words, TAG_PT, ask.anchor if label.led else None)


def _strip(work: Work, parts: Parts, span: tuple[float, float], y: float) -> None:
    """Show at the foot where in the box one looks: from the side, the input end at the left."""
    y += max(work.book.left(y) - STRIP_MM + 3, 0.0)
    figure = Figure(say("publish.where-in-the-box"))
    for part in parts:
        _, low, _, high = part.reach_mm
        if part.kind == "gear" and not part.across:
            now = span[0] <= (part.from_mm + part.to_mm) / 2 <= span[1]
            box = ((part.from_mm, low), (part.to_mm, low), (part.to_mm, high), (part.from_mm, high))
            figure.polygon("now" if now else "there", *box)
        elif part.kind == "wall":
            start = part.along_mm + part.solid[0].from_mm
            end = part.along_mm + part.solid[0].to_mm
            now = abs(start - span[0]) < 0.01 and abs(end - span[1]) < 0.01
            box = ((start, low), (end, low), (end, high), (start, high))
            figure.polygon("now" if now else "there", *box)
    size = ((RIGHT - LEFT) / 2, STRIP_MM - 6)
    scale = scale_to_fit(figure, size)
    work.book.figure(figure, (LEFT, y), size, scale, from_left=True)
    words = say("publish.behind-the-front", start=in_mm(span[0], 2), end=in_mm(span[1], 2))
    work.book.paragraph(
        LEFT + (RIGHT - LEFT) / 2 + 4, y + 6, words, 7, width=(RIGHT - LEFT) / 2 - 4, color=SOFT
    )


def _wall(work: Work, parts: Parts, sheet: WallSheet, called: str) -> None:
    book = work.book
    title = capitalized(word(sheet.wall.wall)) + called
    y = book.begin(title)
    across, high = sheet.size_mm
    words = say(
        "publish.wall-size", wide=in_mm(across, 2), high=in_mm(high, 2), thick=in_mm(sheet.thick_mm)
    )
    book.text(LEFT, y - 1.5, words, 7, color=SOFT)
    figure, corner = Figure(title), datum_mm(parts)
    for prism in sheet.wall.solid:
        for outline in prism.outlines:
            points = sheet.wall.placed(outline)
            figure.line("soft", *points, points[0])
    _corner(figure, corner)
    tags: list[Tag] = []
    for hole in sheet.holes:
        at = hole.x_mm + corner[0], hole.y_mm + corner[1]
        light = hole.kind in ("post", "access")
        figure.circle(
            "soft" if light else "ink",
            at,
            hole.diameter_mm / 2,
            heavy=not light,
            dashed=hole.kind == "access",
        )
        tags.append((at, _named(work, hole.name)))
        for across, up in ((CROSS_MM, 0.0), (0.0, CROSS_MM)):
            figure.line("soft", (at[0] - across, at[1] - up), (at[0] + across, at[1] + up))
    in_rows = any(hole.row for hole in sheet.holes)
    rows = [
        (
            _named(work, hole.name),
            HOLES[hole.kind],
            bare(in_mm(hole.diameter_mm, 2)),
            bare(in_mm(hole.x_mm, 2)),
            bare(in_mm(hole.y_mm, 2)),
            say("publish.row-and-hole", row=hole.row, number=hole.number) if hole.row else "",
            ""
            if hole.nearest is None
            else say(
                "publish.next-hole",
                name=_named(work, hole.nearest[0]),
                apart=in_mm(hole.nearest[1], 2),
            ),
        )
        for hole in sheet.holes
    ]
    wide = max((hole.diameter_mm for hole in sheet.holes), default=0.0)
    y = _drawn(work, figure, tags, y + 4, len(rows) + 1, widest_mm=wide, sheet=sheet)
    columns = [
        (say("publish.hole"), LEFT, "left"),
        (say("publish.for"), 34, "left"),
        (say("publish.wide", mm=MM), 74, "right"),
        (say("publish.from-the-left", mm=MM), 98, "right"),
        (say("publish.from-below", mm=MM), 122, "right"),
        (say("publish.in-the-beams") if in_rows else "", 127, "left"),
        (say("publish.next-to"), 160, "left"),
    ]
    y = book.table(y + 4, columns, rows, size=7, step=ROW_MM)
    start = sheet.wall.along_mm + sheet.wall.solid[0].from_mm
    end = sheet.wall.along_mm + sheet.wall.solid[0].to_mm
    _strip(work, parts, (start, end), book.room(y, STRIP_MM) + 3)


def _named(work: Work, name: str) -> str:
    """Name what runs in a hole: a shaft's letter, a rail, a post."""
    return shaft_letter(work.vehicle, name) or describe_shaft(work.vehicle, name)
