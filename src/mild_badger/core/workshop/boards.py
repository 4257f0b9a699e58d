"""Parts laid out on boards: as many boards as it takes, what is left, and one drawing a board.

Rectangles about the parts are packed by best short side fit over the largest free rectangles
(maximal rectangles, J. Jylänki 2010), larger ones first; parts may be turned by 90°. Lengths mm.
"""

from dataclasses import dataclass
from math import ceil

from mild_badger.core.errors import BadgerError
from mild_badger.core.figures import bare, in_mm, plain
from mild_badger.core.message import say, say_count
from mild_badger.core.templates.drawing import Drawing
from mild_badger.core.templates.kerf import with_kerf
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.templates import drawn, templates_of

__all__ = [
    "BoardPlan",
    "PartBox",
    "PlacedPart",
    "board_drawing",
    "board_key",
    "board_plans",
    "pack_boards",
]

SLACK_MM = 1e-6


@dataclass(frozen=True)
class PartBox:
    """A part to lay out: its key, its words, and the rectangle about it."""

    key: str
    words: str
    wide_mm: float
    high_mm: float


@dataclass(frozen=True)
class PlacedPart:
    """A part on a board: where its lower left corner lies, and whether it is turned by 90°."""

    want: PartBox
    x_mm: float
    y_mm: float
    turned: bool

    @property
    def size_mm(self) -> tuple[float, float]:
        """Width and height as it lies."""
        size = (self.want.wide_mm, self.want.high_mm)
        return (size[1], size[0]) if self.turned else size


@dataclass(frozen=True)
class BoardPlan:
    """All boards of one thickness; ``too_large`` fit on none, ``refused`` cannot be drawn.

    ``offcuts_mm`` is for each board the largest rectangle that stays free.
    """

    thick_mm: float
    board_mm: tuple[float, float]
    boards: tuple[tuple[PlacedPart, ...], ...]
    offcuts_mm: tuple[tuple[float, float], ...]
    too_large: tuple[PartBox, ...]
    refused: tuple[str, ...] = ()

    @property
    def used_share(self) -> float:
        """Share of the boards that parts' rectangles cover."""
        area = self.board_mm[0] * self.board_mm[1] * len(self.boards)
        covered = sum(w.want.wide_mm * w.want.high_mm for board in self.boards for w in board)
        return covered / area if area else 0.0

    @property
    def summary(self) -> str:
        """Say what it takes."""
        count = len(self.boards)
        least = ceil(self.used_share * count - 1e-9)
        sentence: str = say(
            "workshop.thick-of-used",
            thick_mm=in_mm(self.thick_mm),
            board=say_count("count.board", count),
            board_mm=bare(in_mm(self.board_mm[0])),
            board_mm_2=in_mm(self.board_mm[1]),
            used_share=100 * self.used_share,
        )
        if count:
            wide, high = max(self.offcuts_mm, key=lambda size: size[0] * size[1])
            sentence += say("workshop.stay-whole", wide=bare(in_mm(wide, 0)), high=in_mm(high, 0))
            if count > least:
                sentence += say("workshop.would-be-the-least-by-area", least=least)
        if self.too_large:
            sentence += say(
                "workshop.too-large", listed=", ".join(want.words for want in self.too_large)
            )
        return f"{sentence}."


Free = tuple[float, float, float, float]
"""A free rectangle: left, low, width, height."""


def pack_boards(
    wants: list[PartBox], board_mm: tuple[float, float], gap_mm: float
) -> tuple[
    tuple[tuple[PlacedPart, ...], ...], tuple[tuple[float, float], ...], tuple[PartBox, ...]
]:
    """Pack rectangles onto boards with a gap between and around them.

    Returns
    -------
    The boards, for each the largest free rectangle, and what fits on none.
    """
    wide, high = board_mm[0] - 2 * gap_mm, board_mm[1] - 2 * gap_mm
    too_large = tuple(
        w
        for w in wants
        if not (_fits(w.wide_mm, w.high_mm, wide, high) or _fits(w.high_mm, w.wide_mm, wide, high))
    )
    left = sorted(
        (w for w in wants if w not in too_large),
        key=lambda w: (-max(w.wide_mm, w.high_mm), -w.wide_mm * w.high_mm, w.key),
    )
    boards: list[list[PlacedPart]] = []
    frees: list[list[Free]] = []
    for want in left:
        place = _best(want, frees, gap_mm)
        if place is None:
            boards.append([])
            frees.append([(gap_mm, gap_mm, wide + gap_mm, high + gap_mm)])
            place = _best(want, frees, gap_mm)
        if place is None:
            continue
        number, (x, y), turned = place
        laid = PlacedPart(want, x, y, turned)
        boards[number].append(laid)
        w, h = laid.size_mm
        frees[number] = _cut(frees[number], (x, y, w + gap_mm, h + gap_mm))
    offcuts = tuple(
        max(
            ((f[2] - gap_mm, f[3] - gap_mm) for f in free),
            key=lambda s: s[0] * s[1],
            default=(0.0, 0.0),
        )
        for free in frees
    )
    return tuple(tuple(board) for board in boards), offcuts, too_large


def _fits(wide: float, high: float, room_wide: float, room_high: float) -> bool:
    return wide <= room_wide + SLACK_MM and high <= room_high + SLACK_MM


def _best(
    want: PartBox, frees: list[list[Free]], gap: float
) -> tuple[int, tuple[float, float], bool] | None:
    best: tuple[tuple[int, float, float], int, tuple[float, float], bool] | None = None
    for number, free in enumerate(frees):
        for x, y, room_wide, room_high in free:
            for turned in (False, True):
                w, h = (want.high_mm, want.wide_mm) if turned else (want.wide_mm, want.high_mm)
                w, h = w + gap, h + gap  # each keeps its gap to the right and above
                if not _fits(w, h, room_wide, room_high):
                    continue
                rest = sorted((room_wide - w, room_high - h))
                rank = (number, rest[0], rest[1])
                if best is None or rank < best[0]:
                    best = (rank, number, (x, y), turned)
    return None if best is None else best[1:]


def _cut(free: list[Free], taken: Free) -> list[Free]:
    """Take a rectangle away from the free ones; what lies within another one goes."""
    x, y, w, h = taken
    left: list[Free] = []
    for a, b, c, d in free:
        if x >= a + c or x + w <= a or y >= b + d or y + h <= b:
            left.append((a, b, c, d))
            continue
        parts = (
            (a, b, x - a, d),
            (x + w, b, a + c - x - w, d),
            (a, b, c, y - b),
            (a, y + h, c, b + d - y - h),
        )
        left += [part for part in parts if part[2] > SLACK_MM and part[3] > SLACK_MM]
    return [
        one
        for n, one in enumerate(left)
        if not any(
            _within(one, other) and (one != other or n > m)
            for m, other in enumerate(left)
            if m != n
        )
    ]


def _within(one: Free, other: Free) -> bool:
    return (
        one[0] >= other[0] - SLACK_MM
        and one[1] >= other[1] - SLACK_MM
        and one[0] + one[2] <= other[0] + other[2] + SLACK_MM
        and one[1] + one[3] <= other[1] + other[3] + SLACK_MM
    )


def _cut_box(drawing: Drawing) -> tuple[float, float, float, float] | None:
    """Give the rectangle about what is cut."""
    xs = [x for s in drawing.strokes if s.layer == "cut" for x, _ in s.points]
    ys = [y for s in drawing.strokes if s.layer == "cut" for _, y in s.points]
    for ring in drawing.rounds:
        if ring.layer == "cut":
            xs += [ring.at[0] - ring.radius_mm, ring.at[0] + ring.radius_mm]
            ys += [ring.at[1] - ring.radius_mm, ring.at[1] + ring.radius_mm]
    return (min(xs), min(ys), max(xs), max(ys)) if xs else None


def board_plans(vehicle: Vehicle) -> tuple[BoardPlan, ...]:
    """Lay every template that is made out of board onto boards, thickness by thickness.

    The test strip and gears of one's own are left out, and spacers, which are sawn from tube;
    brick kits buy nearly all.
    """
    making = vehicle.making
    by_thickness: dict[float, list[PartBox]] = {}
    refused: dict[float, list[str]] = {}
    for template in templates_of(vehicle):
        if template.kind != "board part":
            continue
        thick = round(template.thick_mm, 3)
        try:
            box = _cut_box(drawn(vehicle, template))
        except BadgerError as error:
            refused.setdefault(thick, []).append(str(error))
            continue
        if box is not None:
            want = PartBox(template.key, template.words, box[2] - box[0], box[3] - box[1])
            by_thickness.setdefault(thick, []).extend([want] * template.count)
    plans = []
    size = (making.board_mm, making.board_high_mm)
    for thick in sorted({*by_thickness, *refused}):
        boards, offcuts, large = pack_boards(by_thickness.get(thick, []), size, making.gap_mm)
        plans.append(BoardPlan(thick, size, boards, offcuts, large, tuple(refused.get(thick, ()))))
    return tuple(plans)


def board_key(plan: BoardPlan, number: int) -> str:
    """Make what a board is asked for by, as templates are; boards count from 0."""
    return f"board {plan.thick_mm:g} {number}"


def board_drawing(vehicle: Vehicle, plan: BoardPlan, number: int) -> Drawing:
    """Draw a board with all parts on it, ready to be cut in one go; kerf allowed for."""
    wide, high = plan.board_mm
    sheet = Drawing(
        say(
            "workshop.board-of",
            number=number + 1,
            count_of_boards=len(plan.boards),
            thick_mm=in_mm(plan.thick_mm),
        ),
        wide,
        high,
    )
    sheet.rectangle("mark", 0, 0, wide, high)
    kerf = vehicle.making.kerf_mm
    templates = {template.key: template for template in templates_of(vehicle)}
    for laid in plan.boards[number]:
        drawing = with_kerf(drawn(vehicle, templates[laid.want.key], kerf=False), kerf)
        box = _cut_box(drawing)
        if box is None:
            continue

        def at(
            point: tuple[float, float],
            laid: PlacedPart = laid,
            box: tuple[float, float, float, float] = box,
        ) -> tuple[float, float]:
            x, y = point[0] - box[0], point[1] - box[1]
            if laid.turned:
                x, y = (box[3] - box[1]) - y, x
            return x + laid.x_mm, y + laid.y_mm

        for stroke in drawing.strokes:
            if stroke.layer == "mark":
                continue
            points = [at(point) for point in stroke.points]
            if stroke.closed:
                sheet.outline(stroke.layer, points)
            else:
                sheet.line(stroke.layer, *points)
        for ring in drawing.rounds:
            if ring.layer != "mark":
                sheet.circle(ring.layer, at(ring.at), ring.radius_mm)
        w, h = laid.size_mm
        sheet.words(
            "mark",
            (laid.x_mm + 1, laid.y_mm + h / 2),
            plain(laid.want.words)[:40],
            height_mm=min(2.4, max(w / 22, 1.0)),
        )
    return sheet
