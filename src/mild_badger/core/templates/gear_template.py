"""A gear, ring or rack drawn to true scale, ready to be cut out: bore, web, dowels, aids."""

from collections.abc import Callable
from dataclasses import dataclass
from math import atan2, cos, pi, radians, sin

from mild_badger.core.errors import InputError
from mild_badger.core.figures import bare, in_mm, in_module, plain
from mild_badger.core.message import say
from mild_badger.core.templates.drawing import Drawing
from mild_badger.core.templates.gear_shape import (
    GearForm,
    gear_shape,
    rack_shape,
    ring_shape,
    span_mm,
)
from mild_badger.core.vehicle.making import BoreShape, FabricationSettings, OwnGear, Web

__all__ = ["GearCut", "cut_gear", "own_template"]

Point = tuple[float, float]
Outline = tuple[Point, ...]
MARGIN_MM = 6.0
RING_RIM_MODULES = 3.0
HUB_MM = 4.0
"""Least material round a bore before the web is cut (an estimate, no source)."""
LEAST_WEB_MM = 2.5
DOWEL_WALL_MM = 1.5
WORDS_MM = 2.6
ARC_STEP_RAD = radians(4)


@dataclass(frozen=True)
class GearCut:
    """A gear to be cut: its teeth, and the hole for its shaft, whose flats lie ``hole_mm`` apart.

    ``note`` says what goes through the hole.
    """

    title: str
    form: GearForm
    hole_mm: float
    bore: BoreShape = "round"
    note: str = ""


def cut_gear(cut: GearCut, making: FabricationSettings) -> Drawing:
    """Draw a gear with its bore, web and dowel holes; pitch circle and figures beside it.

    Raises
    ------
    InputError
        The teeth cannot be, or the bore leaves no body.
    """
    form = cut.form
    outline = _possible(cut.title, lambda: gear_shape(form))
    reach = _bore_reach(cut, making)
    if reach + HUB_MM / 2 > form.root_mm:
        raise InputError(
            say(
                "templates.a-bore-of-leaves-less-than-below-the-teeth",
                title=cut.title,
                hole_mm=in_mm(cut.hole_mm),
                hub_mm=in_mm(HUB_MM / 2),
                root_mm=in_mm(2 * form.root_mm, 1),
            )
        )
    web = _planned(cut, making)
    figures = [*_figures(cut, making), *_short_of(web, making)]
    sheet, centre = _sheet(cut.title, form.tip_mm, figures)
    sheet.outline("cut", [(centre[0] + x, centre[1] + y) for x, y in outline])
    _bore(sheet, cut, making, centre)
    _cut_web(sheet, web, making, centre)
    sheet.circle("mark", centre, form.pitch_mm)
    _cross(sheet, centre)
    return sheet


def _possible(title: str, shape: Callable[[], Outline]) -> Outline:
    try:
        return shape()
    except ValueError as error:
        raise InputError(
            say("templates.change-the-number-of-teeth-the-profile-shift", title=title, error=error)
        ) from error


def own_template(own: OwnGear, making: FabricationSettings, hole_mm: float) -> Drawing:
    """Draw the gear, ring or rack of one's own figures; errors as ``cut_gear``."""
    title = say(
        "templates.of-teeth",
        capitalize=own.kind.capitalize(),
        teeth=own.teeth,
        module_mm=in_module(own.module_mm),
    )
    form = GearForm(own.teeth, own.module_mm, own.pressure_angle_deg, own.shift, own.thinning_mm)
    if own.kind == "gear":
        return cut_gear(GearCut(title, form, hole_mm, making.bore), making)
    if own.kind == "rack":
        return _rack(title, own)
    tips = form.ring_tip_mm
    toothed = _possible(title, lambda: ring_shape(form))
    rim = form.ring_root_mm + RING_RIM_MODULES * own.module_mm
    sheet, centre = _sheet(
        title,
        rim,
        [
            say(
                "templates.tips-pitch-outside",
                tips=bare(in_mm(2 * tips, 2)),
                pitch_mm=bare(in_mm(2 * form.pitch_mm, 2)),
                rim=in_mm(2 * rim, 2),
            ),
            *([say("templates.tips-cut-back-to-the-base-circle")] if tips == form.base_mm else []),
        ],
    )
    sheet.circle("cut", centre, rim)
    sheet.outline("cut", [_at(centre, point) for point in toothed])
    sheet.circle("mark", centre, form.pitch_mm)
    _cross(sheet, centre)
    return sheet


def _rack(title: str, own: OwnGear) -> Drawing:
    points = _possible(
        title,
        lambda: rack_shape(
            own.module_mm,
            own.teeth,
            pressure_angle_deg=own.pressure_angle_deg,
            thinning_mm=own.thinning_mm,
        ),
    )
    low, high = min(y for _, y in points), max(y for _, y in points)
    long = max(x for x, _ in points)
    foot = MARGIN_MM * 2
    sheet = Drawing(title, long + 2 * MARGIN_MM, high - low + foot + MARGIN_MM)
    origin = (MARGIN_MM, foot - low)
    sheet.outline("cut", [_at(origin, point) for point in points])
    sheet.line("mark", origin, (origin[0] + long, origin[1]))
    sheet.words(
        "mark",
        (MARGIN_MM, 4.0),
        say(
            "templates.pitch",
            title=title,
            pressure_angle_deg=own.pressure_angle_deg,
            pi=in_mm(pi * own.module_mm, 3),
        ),
        height_mm=WORDS_MM,
    )
    return sheet


def _sheet(title: str, radius: float, figures: list[str]) -> tuple[Drawing, Point]:
    lines = [title, *figures]
    foot = MARGIN_MM + 4.0 * len(lines)
    wide = (
        max(2 * radius, max(len(plain(line)) for line in lines) * WORDS_MM * 0.72) + 2 * MARGIN_MM
    )
    sheet = Drawing(title, wide, 2 * radius + foot + MARGIN_MM)
    for number, line in enumerate(lines):
        sheet.words("mark", (MARGIN_MM, foot - 4.0 * (number + 1)), line, height_mm=WORDS_MM)
    return sheet, (wide / 2, foot + radius)


def _figures(cut: GearCut, making: FabricationSettings) -> list[str]:
    form = cut.form
    over = max(round(form.teeth * form.pressure_angle_deg / 180 + 0.5), 2)
    shifted = say("templates.profile-shift", shift=form.shift) if form.shift else ""
    lines = [
        f"{in_module(form.module_mm)}, {form.pressure_angle_deg:g}°{shifted}",
        say(
            "templates.pitch-tip-root",
            pitch_mm=bare(in_mm(2 * form.pitch_mm, 2)),
            tip_mm=bare(in_mm(2 * form.tip_mm, 2)),
            root_mm=in_mm(2 * form.root_mm, 2),
        ),
        say("templates.over-teeth", over=over, span_mm=in_mm(span_mm(form, over), 2)),
        say("templates.bore", hole_mm=in_mm(cut.hole_mm, 2))
        + (f", {cut.note}" if cut.note else "")
        + (
            say("templates.keyway-wide", key_mm=in_mm(making.key_mm)) if cut.bore == "keyed" else ""
        ),
    ]
    if form.undercut:
        lines.append(say("templates.undercut-at-the-teeths-feet-as-drawn"))
    return lines


def _bore_reach(cut: GearCut, making: FabricationSettings) -> float:
    half = cut.hole_mm / 2
    return {"round": half, "square": half * 2**0.5, "keyed": half + making.key_mm / 2}[cut.bore]


def _bore(sheet: Drawing, cut: GearCut, making: FabricationSettings, centre: Point) -> None:
    half = cut.hole_mm / 2
    if cut.bore == "round":
        sheet.circle("cut", centre, half)
    elif cut.bore == "square":
        sheet.rectangle(
            "cut", centre[0] - half, centre[1] - half, centre[0] + half, centre[1] + half
        )
    else:  # a way as deep above the bore as half its width
        side = min(making.key_mm, cut.hole_mm) / 2
        begin = (half**2 - side**2) ** 0.5
        top = half + making.key_mm / 2
        corner = [(side, top), (-side, top), (-side, begin)]
        points = [*corner, *_arc_past(half, side, begin), (side, begin)]
        sheet.outline("cut", [_at(centre, point) for point in points])


def _arc_past(radius: float, side: float, begin: float) -> list[Point]:
    """Give the bore's wall from the keyway's left edge round below to its right edge."""
    start, sweep = atan2(begin, -side), 2 * pi - 2 * atan2(side, begin)
    steps = max(int(sweep / ARC_STEP_RAD), 8)
    turns = [start + sweep * n / steps for n in range(1, steps)]
    return [(radius * cos(turn), radius * sin(turn)) for turn in turns]


@dataclass(frozen=True)
class _Web:
    """What is cut between hub and rim: windows or holes of a radius, dowel holes at their turns."""

    kind: Web
    reach: tuple[float, float]
    hole_mm: float
    spoke_mm: float
    dowels: tuple[float, ...]

    @property
    def middle(self) -> float:
        """Radius on which holes stand."""
        return sum(self.reach) / 2


def _planned(cut: GearCut, making: FabricationSettings) -> _Web:
    """Plan holes or windows and dowel holes, as far as there is room for them."""
    inner = _bore_reach(cut, making) + HUB_MM
    outer = cut.form.root_mm - making.rim_mm
    middle, high, count = (inner + outer) / 2, outer - inner, making.web_count
    between = making.dowel_mm + 2 * DOWEL_WALL_MM if making.dowels else LEAST_WEB_MM
    room = 2 * (pi / count * inner - LEAST_WEB_MM / 2)  # for a spoke where it leaves the hub
    spoke = max(HUB_MM, min(outer * 0.12, room), between if making.dowels else 0.0)
    radius = min(high / 2, middle * sin(pi / count) - between / 2)
    kind: Web = making.web
    if high < LEAST_WEB_MM or (kind == "holes" and radius < LEAST_WEB_MM / 2):
        kind = "solid"
    if kind == "spokes" and spoke > room + 1e-9:
        kind = "solid"
    turns: tuple[float, ...] = ()
    if making.dowels and high >= making.dowel_mm:
        if kind == "solid":
            fits = 2 * middle * sin(pi / making.dowels) >= between if making.dowels > 1 else True
            turns = tuple(2 * pi * n / making.dowels for n in range(making.dowels if fits else 0))
        else:  # between the holes, or on the spokes
            taken = min(making.dowels, count)
            turns = tuple(
                pi / count + 2 * pi * round(n * count / taken) / count for n in range(taken)
            )
    return _Web(kind, (inner, outer), radius, spoke, turns)


def _short_of(web: _Web, making: FabricationSettings) -> list[str]:
    """Say what of the web that was asked for finds no room."""
    lines: list[str] = []
    if web.kind != making.web:
        lines.append(
            say("templates.no-room-for-drawn-solid", web_count=making.web_count, web=making.web)
        )
    if len(web.dowels) < making.dowels:
        lines.append(
            say(
                "templates.room-for-of-dowels",
                count_of_dowels=len(web.dowels),
                dowels=making.dowels,
            )
        )
    return lines


def _cut_web(sheet: Drawing, web: _Web, making: FabricationSettings, centre: Point) -> None:
    count = making.web_count
    if web.kind == "holes":
        for n in range(count):
            sheet.circle("cut", _around(centre, web.middle, 2 * pi * n / count), web.hole_mm)
    elif web.kind == "spokes":
        _windows(sheet, centre, web, count)
    for turn in web.dowels:
        sheet.circle("cut", _around(centre, web.middle, turn), making.dowel_mm / 2)


def _windows(sheet: Drawing, centre: Point, web: _Web, count: int) -> None:
    inner, outer = web.reach
    low, high = (pi / count - web.spoke_mm / (2 * r) for r in web.reach)
    steps = max(int(2 * high / ARC_STEP_RAD), 4)
    for n in range(count):
        turn = 2 * pi * n / count
        arc = [-1 + 2 * k / steps for k in range(steps + 1)]
        points = [_around(centre, outer, turn + a * high) for a in arc]
        points += [_around(centre, inner, turn - a * low) for a in arc]
        sheet.outline("cut", points)


def _around(centre: Point, radius: float, turn: float) -> Point:
    return centre[0] + radius * cos(turn), centre[1] + radius * sin(turn)


def _at(origin: Point, point: Point) -> Point:
    return origin[0] + point[0], origin[1] + point[1]


def _cross(sheet: Drawing, centre: Point) -> None:
    x, y = centre
    sheet.line("engrave", (x - 2, y), (x + 2, y))
    sheet.line("engrave", (x, y - 2), (x, y + 2))
