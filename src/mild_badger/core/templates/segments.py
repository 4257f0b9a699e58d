"""Rings glued up of segments: whole teeth to a segment, mitres, boards, and the glue-up.

A segment's board lies with its length, and so its grain, along the ring; N boards with mitres of
180°/N make a closed ring from which the round one is cut (common joiner's practice, no source).
"""

from dataclasses import dataclass
from math import ceil, cos, pi, sin, tan

from mild_badger.core.errors import InputError
from mild_badger.core.figures import bare, in_m, in_mm
from mild_badger.core.message import say
from mild_badger.core.templates.drawing import Drawing
from mild_badger.core.templates.gear_shape import GearForm, gear_shape, ring_shape
from mild_badger.core.vehicle.making import OwnGear

__all__ = ["SegmentPlan", "glue_up", "segment_counts", "segment_plan", "segment_template"]

MARGIN_MM = 6.0
LEAST, MOST = 3, 48
GLUE_MM = 1.0
"""What a board is left larger on every side (an estimate, no source)."""
RIM_MODULES = 3.0
Point = tuple[float, float]


@dataclass(frozen=True)
class SegmentPlan:
    """How a ring is made of segments.

    ``inner_mm`` and ``outer_mm`` are the finished ring's radii, tips and roots of its teeth
    included; ``board_mm`` the width and the long edge of each board, which is a trapezium with the
    ``short_mm`` edge inwards; ``mitre_deg`` is sawn off each end.
    """

    count: int
    teeth_each: int
    mitre_deg: float
    inner_mm: float
    outer_mm: float
    board_mm: tuple[float, float]
    short_mm: float

    @property
    def summary(self) -> str:
        """Say what to saw."""
        wide, long = self.board_mm
        return say(
            "templates.segments-of-teeth-mitres-each-from-a-board",
            count=self.count,
            teeth_each=self.teeth_each,
            mitre_deg=self.mitre_deg,
            wide=in_mm(wide, 1),
            long=in_mm(long, 1),
            short_mm=in_mm(self.short_mm, 1),
            count_2=in_m(self.count * (long + self.short_mm) / 2 / 1000, 2),
        )


def segment_counts(teeth: int) -> tuple[int, ...]:
    """Give the numbers of segments that have whole teeth each."""
    return tuple(n for n in range(LEAST, min(MOST, teeth) + 1) if teeth % n == 0)


def _form(own: OwnGear) -> GearForm:
    return GearForm(own.teeth, own.module_mm, own.pressure_angle_deg, own.shift, own.thinning_mm)


def _radii(own: OwnGear) -> tuple[float, float]:
    """Inner and outer radius of the finished ring: a rim behind the teeth."""
    form, rim = _form(own), RIM_MODULES * own.module_mm
    if own.kind == "ring":
        return form.ring_tip_mm, form.ring_root_mm + rim
    return max(form.root_mm - rim, own.bore_mm / 2), form.tip_mm


def segment_plan(own: OwnGear) -> SegmentPlan:
    """Plan the boards of a ring of one's own figures.

    Raises
    ------
    InputError
        It is a rack, has no segments, or its teeth do not share out evenly.
    """
    if own.kind == "rack" or own.segments < LEAST:
        raise InputError(say("templates.a-ring-takes-segments-or-more-a-rack-takes", least=LEAST))
    if own.teeth % own.segments:
        fitting = ", ".join(map(str, segment_counts(own.teeth))) or "none"
        raise InputError(
            say(
                "templates.teeth-do-not-share-out-over-segments-whole",
                teeth=own.teeth,
                segments=own.segments,
                fitting=fitting,
            )
        )
    inner, outer = _radii(own)
    half = pi / own.segments
    low = inner * cos(half)  # the joint is where the board reaches least far in
    return SegmentPlan(
        own.segments,
        own.teeth // own.segments,
        180.0 / own.segments,
        inner,
        outer,
        (outer - low + 2 * GLUE_MM, 2 * (outer + GLUE_MM) * tan(half)),
        2 * (low - GLUE_MM) * tan(half),
    )


def _toothed(own: OwnGear) -> tuple[tuple[Point, ...], float]:
    """Outline the teeth so that a gap lies at angle zero, and give the other edge's radius."""
    form = _form(own)
    try:
        shape = ring_shape(form) if own.kind == "ring" else gear_shape(form)
    except ValueError as error:
        raise InputError(
            say(
                "templates.of-teeth-2",
                capitalize=own.kind.capitalize(),
                teeth=own.teeth,
                error=error,
            )
        ) from error
    # an outer gear has a tooth at angle zero, a ring a gap: joints are to lie in the gaps
    turn = pi / own.teeth if own.kind == "gear" else 0.0
    c, s = cos(turn), sin(turn)
    turned = tuple((x * c - y * s, x * s + y * c) for x, y in shape)
    inner, outer = _radii(own)
    return turned, outer if own.kind == "ring" else inner


def segment_template(own: OwnGear) -> Drawing:
    """Draw one segment with its whole teeth, standing on its bisector; its board about it.

    Raises
    ------
    InputError
        As for ``segment_plan``, or the teeth cannot be.
    """
    from shapely.geometry import Point as Spot  # noqa: PLC0415 - loaded when first wanted
    from shapely.geometry import Polygon  # noqa: PLC0415

    plan = segment_plan(own)
    toothed, edge = _toothed(own)
    round_ = Spot(0, 0).buffer(edge, quad_segs=max(32, ceil(edge)))
    ring = (
        round_.difference(Polygon(toothed))
        if own.kind == "ring"
        else Polygon(toothed).difference(round_)
    )
    half = pi / plan.count
    far = 2 * plan.outer_mm
    # a joint lies at angle zero; the segment's middle is turned up
    side = far * sin(half), far * cos(half)
    wedge = Polygon([(0, 0), (-side[0], side[1]), side])
    up = pi / 2 - half
    c, s = cos(up), sin(up)
    points = [
        [(x * c - y * s, x * s + y * c) for x, y in poly]
        for poly in (ring.exterior.coords, *(i.coords for i in ring.interiors))
    ]
    piece = Polygon(points[0], points[1:]).intersection(wedge)
    if piece.geom_type != "Polygon":
        raise InputError(say("templates.the-segment-falls-into-pieces-take-fewer"))
    wide, long = plan.board_mm
    low = plan.outer_mm + GLUE_MM - wide
    foot = MARGIN_MM + 12.0
    sheet = Drawing(
        say("templates.segment-of-a-teeth-in", kind=own.kind, teeth=own.teeth, count=plan.count),
        max(long, 90.0) + 2 * MARGIN_MM,
        wide + foot + MARGIN_MM,
    )
    dx, dy = sheet.width_mm / 2, foot - low
    sheet.outline("cut", [(x + dx, y + dy) for x, y in piece.exterior.coords])
    top = plan.outer_mm + GLUE_MM + dy
    sheet.outline(
        "engrave",
        [
            (dx - long / 2, top),
            (dx + long / 2, top),
            (dx + plan.short_mm / 2, foot),
            (dx - plan.short_mm / 2, foot),
        ],
    )
    sheet.line("mark", (dx - long / 4, top - 2.5), (dx + long / 4, top - 2.5))
    sheet.words("mark", (dx + long / 4 + 1, top - 3.5), "grain", height_mm=2.4)
    for number, line in enumerate(
        (
            sheet.title,
            say(
                "templates.mitre-board-make-and-one-to-try",
                mitre_deg=plan.mitre_deg,
                wide=bare(in_mm(wide, 1)),
                long=in_mm(long, 1),
                count=plan.count,
            ),
        )
    ):
        sheet.words("mark", (MARGIN_MM, 8.0 - 4.0 * number), line, height_mm=2.6)
    return sheet


def glue_up(own: OwnGear) -> Drawing:
    """Draw the whole ring with its joints, the second layer's dashed half a segment on.

    Raises
    ------
    InputError
        As for ``segment_plan``.
    """
    plan = segment_plan(own)
    reach = (plan.outer_mm + GLUE_MM) / cos(pi / plan.count)
    foot = MARGIN_MM + 10.0
    sheet = Drawing(
        say("templates.glue-up-of-segments-teeth", count=plan.count, teeth=own.teeth),
        2 * reach + 2 * MARGIN_MM,
        2 * reach + foot + MARGIN_MM,
    )
    cx, cy = sheet.width_mm / 2, foot + reach
    low = plan.outer_mm + GLUE_MM - plan.board_mm[0]
    inner = low / cos(pi / plan.count)

    def at(radius: float, turn: float) -> Point:
        return cx + radius * cos(turn), cy + radius * sin(turn)

    step = 2 * pi / plan.count
    for radius in (reach, inner):
        sheet.outline("cut", [at(radius, n * step) for n in range(plan.count)])
    for n in range(plan.count):
        sheet.line("engrave", at(inner, n * step), at(reach, n * step))
        second = (n + 0.5) * step
        for share in (0.1, 0.45, 0.8):
            a = inner + share * (reach - inner) * 0.95
            sheet.line("mark", at(a, second), at(a + 0.12 * (reach - inner), second))
    for radius in (plan.inner_mm, plan.outer_mm):
        sheet.circle("mark", (cx, cy), radius)
    sheet.words(
        "mark",
        (MARGIN_MM, 4.0),
        sheet.title + say("templates.short-dashes-joints-of-the-next-layer"),
        height_mm=2.6,
    )
    return sheet
