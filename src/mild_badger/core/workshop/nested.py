"""Templates several to a sheet of paper, one thickness after another, the fit-test strip first.

Each keeps what is written about it, as its caption; alike ones, and each other's mirror image, are
drawn once. What is larger than a sheet keeps sheets of its own. Lengths mm.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from math import atan2, cos, hypot, sin

from mild_badger.core.errors import BadgerError
from mild_badger.core.figures import in_mm, plain, write
from mild_badger.core.message import say
from mild_badger.core.templates.drawing import Drawing, Label
from mild_badger.core.templates.template import Template
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import word
from mild_badger.core.workshop.boards import PartBox, PlacedPart, pack_boards
from mild_badger.core.workshop.templates import drawn, templates_of

__all__ = ["NestedSheet", "PaperTemplate", "alike", "nested_sheets", "paper_templates"]

CAPTION_MM, LINE_MM, LETTER = 2.2, 3.4, 0.68
"""How high a caption's letters are, from line to line, and how wide a letter is by its height."""
GAP_MM, HEAD_MM, GRAIN_MM, LEAST_WIDE_MM = 4.0, 8.0, 12.0, 44.0
SAME_MM, MOST_NAMED = 0.02, 5
MOST_CORNERS = 240
"""Outlines of more corners, gears, are never held against each other."""
ORDER = ("trial piece", "board part", "turned", "in its place")
Point = tuple[float, float]
Bounds = tuple[float, float, float, float]


@dataclass(frozen=True)
class PaperTemplate:
    """A template with its drawing; ``also`` names those that are made by it too."""

    template: Template
    drawing: Drawing
    count: int
    also: tuple[str, ...] = ()


@dataclass(frozen=True)
class NestedSheet:
    """A sheet of paper: its drawing, and which templates it bears."""

    drawing: Drawing
    keys: tuple[str, ...]


def paper_templates(vehicle: Vehicle) -> tuple[tuple[PaperTemplate, ...], tuple[str, ...]]:
    """List what is drawn on paper: no tubes, which the cut list has, no gear of one's own.

    The test strip only where something is cut out.

    Returns
    -------
    The templates, alike ones as one, and why others cannot be drawn.
    """
    found: list[PaperTemplate] = []
    refused = []
    for template in templates_of(vehicle):
        if template.kind in ("tube", "own gear"):
            continue
        try:
            drawing = drawn(vehicle, template, kerf=False)
        except BadgerError as error:
            refused.append(str(error))
            continue
        found.append(PaperTemplate(template, drawing, template.count))
    cut = any(one.template.kind != "trial piece" for one in found)
    kept: list[PaperTemplate] = []
    for one in sorted(found, key=_rank):
        if one.template.kind == "trial piece" and not cut:
            continue
        same = next((n for n, other in enumerate(kept) if _one_piece(one, other)), None)
        if same is None:
            kept.append(one)
        else:
            other = kept[same]
            kept[same] = replace(
                other,
                count=other.count + one.count,
                also=tuple(dict.fromkeys((*other.also, one.template.words))),
            )
    return tuple(kept), tuple(refused)


def _rank(one: PaperTemplate) -> tuple[int, float]:
    kind = ORDER.index(one.template.kind)
    return kind, _rank_of(one)[1]


def _rank_of(one: PaperTemplate) -> tuple[str, float]:
    """Give what is laid together: its kind, and of boards the thickness."""
    kind = one.template.kind
    return kind, _thick(one) if kind == "board part" else 0.0


def _one_piece(one: PaperTemplate, other: PaperTemplate) -> bool:
    """Whether one template makes the other's piece too."""
    return (
        one.template.kind == other.template.kind == "board part"
        and abs(one.template.thick_mm - other.template.thick_mm) < SAME_MM
        and alike(one.drawing, other.drawing)
    )


def alike(one: Drawing, other: Drawing) -> bool:
    """Whether two drawings are cut to the same piece, turned or turned over."""
    mine, yours = _rings(one), _rings(other)
    if _radii(one) != _radii(other):
        return False
    if len(mine) != len(yours) or sum(map(len, mine)) != sum(map(len, yours)):
        return False
    if not mine or sum(map(len, mine)) > MOST_CORNERS:
        return False
    a, b = _centred(mine), _centred(yours)
    far_a = max(hypot(x, y) for ring in a for x, y in ring)
    far_b = max(hypot(x, y) for ring in b for x, y in ring)
    if abs(far_a - far_b) > SAME_MM:
        return False
    if far_a < SAME_MM:  # round about one middle
        return True
    start = next(p for ring in a for p in ring if hypot(*p) > far_a - SAME_MM)
    for flip in (1.0, -1.0):
        turned = [[(flip * x, y) for x, y in ring] for ring in b]
        for ring in turned:
            for x, y in ring:
                if hypot(x, y) <= far_a - SAME_MM:
                    continue
                turn = atan2(start[1], start[0]) - atan2(y, x)
                if _covered(a, turned, turn):
                    return True
    return False


def _rings(drawing: Drawing) -> list[list[Point]]:
    """Give the cut outlines; a circle as its centre."""
    rings = [list(s.points) for s in drawing.strokes if s.layer == "cut"]
    return rings + [[ring.at] for ring in drawing.rounds if ring.layer == "cut"]


def _radii(drawing: Drawing) -> list[float]:
    return sorted(round(r.radius_mm, 2) for r in drawing.rounds if r.layer == "cut")


def _centred(rings: Sequence[Sequence[Point]]) -> list[list[Point]]:
    corners = [p for ring in rings for p in ring]
    cx = sum(x for x, _ in corners) / len(corners)
    cy = sum(y for _, y in corners) / len(corners)
    return [[(x - cx, y - cy) for x, y in ring] for ring in rings]


def _covered(a: list[list[Point]], b: list[list[Point]], turn: float) -> bool:
    """Whether every corner of the second, turned, lies on one of the first."""
    c, s = cos(turn), sin(turn)
    left = [p for ring in a for p in ring]
    for ring in b:
        for x, y in ring:
            place = x * c - y * s, x * s + y * c
            near = min(left, key=lambda p: hypot(p[0] - place[0], p[1] - place[1]))
            if hypot(near[0] - place[0], near[1] - place[1]) > 2 * SAME_MM:
                return False
    return True


def nested_sheets(
    vehicle: Vehicle, templates: Sequence[PaperTemplate], field_mm: tuple[float, float]
) -> tuple[tuple[NestedSheet, ...], tuple[PaperTemplate, ...]]:
    """Lay templates on sheets whose field is so wide and high.

    Returns
    -------
    The sheets, and the templates that are larger than one.
    """
    groups: dict[tuple[str, float], list[PaperTemplate]] = {}
    for one in templates:
        groups.setdefault(_rank_of(one), []).append(one)
    rows = list(groups.items())
    if len(rows) > 1 and rows[0][0][0] == "trial piece":
        rows[1] = rows[1][0], [*rows[0][1], *rows[1][1]]
        del rows[0]
    sheets: list[NestedSheet] = []
    large: list[PaperTemplate] = []
    for together in _sharing(vehicle, [own for _, own in rows], field_mm):
        made, left = _laid(vehicle, together, field_mm, len(sheets))
        sheets += made
        large += left
    return tuple(sheets), tuple(large)


def _sharing(
    vehicle: Vehicle, groups: Sequence[list[PaperTemplate]], field_mm: tuple[float, float]
) -> Iterator[list[PaperTemplate]]:
    """Put thicknesses that follow one another on one sheet where all of both has room there."""
    together: list[PaperTemplate] = []
    for own in groups:
        both = [*together, *own]
        kinds = {one.template.kind for one in both} - {"trial piece"}
        if together and (len(kinds) > 1 or len(_packed(vehicle, both, field_mm)[0]) > 1):
            yield together
            both = own
        together = both
    if together:
        yield together


def _packed(
    vehicle: Vehicle, own: Sequence[PaperTemplate], field_mm: tuple[float, float]
) -> tuple[tuple[tuple[PlacedPart, ...], ...], set[str]]:
    """Lay templates on sheets; beside them, which are larger than one."""
    blocks = [(one.template.key, _block(vehicle, one)) for one in own]
    wants = [PartBox(key, "", block.width_mm, block.height_mm) for key, block in blocks]
    room = field_mm[0] + 2 * GAP_MM, field_mm[1] - HEAD_MM + 2 * GAP_MM
    pages, _, large = pack_boards(wants, room, GAP_MM)
    return pages, {want.key for want in large}


def _laid(
    vehicle: Vehicle, own: Sequence[PaperTemplate], field_mm: tuple[float, float], before: int
) -> tuple[list[NestedSheet], list[PaperTemplate]]:
    """Lay templates that go together on as many sheets as it takes."""
    blocks = {one.template.key: _block(vehicle, one) for one in own}
    pages, too_large = _packed(vehicle, own, field_mm)
    trial = {one.template.key for one in own if one.template.kind == "trial piece"}
    sheets = []
    for number, page in enumerate(
        sorted(pages, key=lambda page: not trial & {laid.want.key for laid in page}),
        start=before + 1,
    ):
        there = {laid.want.key for laid in page}
        title = _title(vehicle, [one for one in own if one.template.key in there], number)
        sheet = Drawing(title, *field_mm)
        sheet.words("mark", (0.0, field_mm[1] - 5.0), title, height_mm=3.2)
        for laid in page:
            _put(sheet, blocks[laid.want.key], laid)
        sheets.append(NestedSheet(sheet, tuple(laid.want.key for laid in page)))
    return sheets, [one for one in own if one.template.key in too_large]


def _title(vehicle: Vehicle, there: list[PaperTemplate], number: int) -> str:
    kinds = [one.template.kind for one in there if one.template.kind != "trial piece"]
    what = say("workshop.turned-parts") if "turned" in kinds else say("workshop.instead")
    if not kinds or "board part" in kinds:
        thicks = sorted({_thick(one) for one in there})
        listed = (
            ", ".join(in_mm(thick, 2) for thick in thicks)
            if len(thicks) <= MOST_NAMED
            else say(
                "workshop.from-thin-to-thick", thin=in_mm(thicks[0], 2), thick=in_mm(thicks[-1], 2)
            )
        )
        what = say("workshop.material-so-thick", material=_made_of(vehicle), thick=listed)
    return say("workshop.templates-sheet", what=what, number=number)


def _made_of(vehicle: Vehicle) -> str:
    if not vehicle.kit.any_seat:  # what a brick kit lacks is cut from what there is
        return say("workshop.thin-board")
    material = vehicle.making.made_of(vehicle.kit.kind)
    return say("workshop.printed-material") if material == "print" else word(material)


def _thick(one: PaperTemplate) -> float:
    return round(one.template.thick_mm, 2)


def _block(vehicle: Vehicle, one: PaperTemplate) -> Drawing:
    """Give a template without its sheet: the piece, and below it the words in lines."""
    drawing = one.drawing
    left, low, right, high = _bounds(drawing)
    wide = max(right - left, LEAST_WIDE_MM)
    lines = [
        line
        for words in _caption(vehicle, one, (left, low, right, high))
        for line in _wrapped(write(words, vehicle.shown_in), wide)
    ]
    foot = LINE_MM * len(lines) + 1.0
    grain = _grained(vehicle, one)
    foot += 3.0 if grain else 0.0
    block = Drawing(drawing.title, wide, high - low + foot)
    dx, dy = (wide - (right - left)) / 2 - left, foot - low
    for stroke in drawing.strokes:
        if _inside(stroke.points, (left, low, right, high)):
            block.strokes.append(
                replace(stroke, points=tuple((x + dx, y + dy) for x, y in stroke.points))
            )
    for ring in drawing.rounds:
        block.rounds.append(replace(ring, at=(ring.at[0] + dx, ring.at[1] + dy)))
    for label in drawing.labels:
        if _inside((label.at,), (left, low, right, high)):
            block.labels.append(replace(label, at=(label.at[0] + dx, label.at[1] + dy)))
    for number, line in enumerate(lines):
        block.words("mark", (0.0, foot - LINE_MM * (number + 1)), line, height_mm=CAPTION_MM)
    if grain:
        y, words = 1.0, say("workshop.grain")
        block.line("mark", (0.0, y), (GRAIN_MM, y))
        for end, way in ((0.0, 1.0), (GRAIN_MM, -1.0)):
            block.line("mark", (end + 2 * way, y + 0.8), (end, y), (end + 2 * way, y - 0.8))
        block.words("mark", (GRAIN_MM + 1.5, y - 0.8), words, height_mm=CAPTION_MM)
    return block


def _grained(vehicle: Vehicle, one: PaperTemplate) -> bool:
    wood = vehicle.making.made_of(vehicle.kit.kind) in ("plywood", "hardwood")
    return wood and vehicle.kit.any_seat and one.template.kind == "board part"


def _caption(vehicle: Vehicle, one: PaperTemplate, bounds: Bounds) -> Iterator[str]:
    """Give the lines below a piece: how many, what it is, what its drawing says, who shares it."""
    template = one.template
    yield say("workshop.so-many-of", count=one.count, words=template.words)
    if template.kind == "board part":
        yield say("workshop.layer-thick", thick=in_mm(template.thick_mm, 2))
    if one.also:
        yield say("workshop.turned-over-it-is-also", listed=", ".join(one.also))
    said = {plain(template.words).casefold(), plain(one.drawing.title).casefold()}
    outside = [label for label in one.drawing.labels if not _inside((label.at,), bounds)]
    for label in sorted(outside, key=lambda label: -label.at[1]):
        code = getattr(label.text, "code", "")
        told = code.endswith(("make", "layer-thick"))  # in the caption already
        if plain(label.text).casefold() not in said and not told:
            yield label.text
    toothed = any(len(s.points) > MOST_CORNERS for s in one.drawing.strokes if s.layer == "cut")
    if toothed and _grained(vehicle, one):
        yield say("workshop.teeth-across-the-grain-tear-out")


def _wrapped(words: str, wide_mm: float) -> Iterator[str]:
    """Part a sentence into lines that are no wider than so much."""
    most = max(int(wide_mm / (CAPTION_MM * LETTER)), 12)
    line = ""
    for one in words.split(" "):
        if line and len(f"{line} {one}") > most:
            yield line
            line = "  " + one
        else:
            line = f"{line} {one}" if line else one
    yield line


def _bounds(drawing: Drawing) -> Bounds:
    """Give the rectangle about what is cut or engraved."""
    xs = [x for s in drawing.strokes if s.layer != "mark" for x, _ in s.points]
    ys = [y for s in drawing.strokes if s.layer != "mark" for _, y in s.points]
    for ring in drawing.rounds:
        if ring.layer != "mark":
            xs += [ring.at[0] - ring.radius_mm, ring.at[0] + ring.radius_mm]
            ys += [ring.at[1] - ring.radius_mm, ring.at[1] + ring.radius_mm]
    return min(xs), min(ys), max(xs), max(ys)


def _inside(points: Sequence[Point], bounds: Bounds) -> bool:
    left, low, right, high = bounds
    near = 3.0
    return all(
        left - near <= x <= right + near and low - 1e-6 <= y <= high + near for x, y in points
    )


def _put(sheet: Drawing, block: Drawing, laid: PlacedPart) -> None:
    """Draw a block on a sheet, turned by 90° where it is laid so."""
    # boards are filled from below, paper is read from above
    x0 = laid.x_mm - GAP_MM
    y0 = sheet.height_mm - HEAD_MM - (laid.y_mm - GAP_MM) - laid.size_mm[1]

    def at(point: Point) -> Point:
        x, y = point
        return (x0 + block.height_mm - y, y0 + x) if laid.turned else (x0 + x, y0 + y)

    for stroke in block.strokes:
        sheet.strokes.append(replace(stroke, points=tuple(map(at, stroke.points))))
    for ring in block.rounds:
        sheet.rounds.append(replace(ring, at=at(ring.at)))
    for label in block.labels:
        # words that stand upright already would stand on their heads: they lie along
        upright = laid.turned != label.upright
        sheet.labels.append(
            Label(label.layer, at(label.at), label.text, label.height_mm, upright=upright)
        )
