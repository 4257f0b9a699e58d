"""Straight bevel gears on shafts at a right angle: the blank's cones, and teeth to wrap round it.

The teeth at the heel are those of a spur gear on the developed back cone, of z / cos δ teeth
(Tredgold's approximation; J. E. Shigley, Mechanical Engineering Design, bevel gears); those at the
toe are smaller as the cone is. Lengths mm, angles rad.
"""

from dataclasses import dataclass
from math import atan, atan2, cos, degrees, pi, sin

from mild_badger.core.errors import InputError
from mild_badger.core.figures import bare, in_mm
from mild_badger.core.message import say
from mild_badger.core.templates.bars import sheet_for
from mild_badger.core.templates.drawing import Drawing
from mild_badger.core.templates.gear_shape import GearForm, tooth_profile

__all__ = ["BevelForm", "bevel_drawing", "blank", "peg_wheel_drawing", "tooth_strip"]

BACK_MM, LEAST_BACK_MM, GAP_MM = 4.0, 1.0, 12.0
PEG_SHARE = 0.4
"""A peg's diameter by the pitch: what is left is the other wheel's peg and play (common practice,
no source)."""
RIM_PEGS = 1.5
"""What stands round a hole for a peg, in diameters of it (an estimate, no source)."""
Point = tuple[float, float]


@dataclass(frozen=True)
class BevelForm:
    """A bevel gear with its mate's teeth; ``face_mm`` is the width along the cone."""

    teeth: int
    mate: int
    module_mm: float
    face_mm: float
    pressure_angle_deg: float = 20.0
    thinning_mm: float = 0.0

    @property
    def cone_rad(self) -> float:
        """The pitch cone's half angle: tan δ = z / z of the mate."""
        return atan2(self.teeth, self.mate)

    @property
    def distance_mm(self) -> float:
        """How far the heel's pitch circle lies from the point where both shafts meet."""
        return self.module_mm * self.teeth / (2 * sin(self.cone_rad))

    @property
    def virtual_teeth(self) -> float:
        """Teeth of the spur gear that the back cone gives when it is laid flat."""
        return self.teeth / cos(self.cone_rad)

    @property
    def toe(self) -> float:
        """What the teeth at the toe measure against those at the heel."""
        return 1.0 - self.face_mm / self.distance_mm

    @property
    def outside_mm(self) -> float:
        """The blank's diameter over the tips at the heel."""
        return self.module_mm * (self.teeth + 2 * cos(self.cone_rad))

    @property
    def tip_rad(self) -> float:
        """The half angle of the cone over the tips."""
        return self.cone_rad + atan(self.module_mm / self.distance_mm)

    @property
    def root_rad(self) -> float:
        """The half angle of the cone through the roots."""
        return self.cone_rad - atan(1.25 * self.module_mm / self.distance_mm)

    @property
    def flat(self) -> GearForm:
        """The spur gear that the heel's teeth are drawn as."""
        return GearForm(
            self.virtual_teeth,
            self.module_mm,
            self.pressure_angle_deg,
            thinning_mm=self.thinning_mm,
        )


def tooth_strip(form: BevelForm, *, toe: bool = False) -> tuple[Point, ...]:
    """Outline the teeth to wrap round the heel's back cone, or the toe's, about the cone's point.

    The strip spans 2π cos δ, so that its ends meet on the cone; it begins and ends in a gap, the
    middle upwards.

    Raises
    ------
    ValueError
        The teeth come to a point.
    """
    flat, scale = form.flat, form.toe if toe else 1.0
    profile = tooth_profile(flat)
    turn = 2 * pi / form.virtual_teeth
    inner = max(flat.root_mm - BACK_MM / 2, flat.root_mm / 2)
    start = pi / 2 + turn * form.teeth / 2
    polar = [(inner, start), (profile[0][0], start)]
    for number in range(form.teeth):
        middle = start - turn * (number + 0.5)
        polar += [(r, middle + half) for r, half in profile]
        polar += [(r, middle - half) for r, half in reversed(profile)]
    end = start - turn * form.teeth
    polar.append((profile[0][0], end))
    steps = max(form.teeth * 2, 24)
    polar += [(inner, end + (start - end) * n / steps) for n in range(steps + 1)]
    return tuple((scale * r * cos(t), scale * r * sin(t)) for r, t in polar)


def blank(form: BevelForm) -> tuple[Point, ...]:
    """Outline half the blank's section: how far from the axis, and how far from the back.

    Raises
    ------
    InputError
        The face is wider than the cone is long.
    """
    if form.toe <= 0:
        raise InputError(
            say(
                "templates.the-face-of-a-bevel-gear-reaches-past-the-cone",
                face=in_mm(form.face_mm),
                distance=in_mm(form.distance_mm, 1),
            )
        )
    m, cone, far = form.module_mm, form.cone_rad, form.distance_mm

    def spot(scale: float, above: float) -> Point:
        """Give a place at the heel, or the toe, so many modules above the pitch cone."""
        out = scale * (far * sin(cone) + above * m * cos(cone))
        return out, scale * (far * cos(cone) - above * m * sin(cone))

    tip, toe = spot(1.0, 1.0), spot(form.toe, 1.0)
    root, inner = spot(1.0, -1.25), spot(form.toe, -1.25)
    back = max(root[1], tip[1]) + max(0.15 * m * form.teeth, LEAST_BACK_MM)
    profile = ((0.0, inner[1]), inner, toe, tip, root, (root[0], back), (0.0, back))
    # heights are told from the back, where the blank stands on the lathe
    return tuple((x, back - y) for x, y in profile)


def bevel_drawing(form: BevelForm, title: str, hole_mm: float, note: str, count: int) -> Drawing:
    """Draw a bevel gear's blank in section, and the strips of teeth for heel and toe.

    Raises
    ------
    InputError
        It cannot be made to these figures.
    """
    half = blank(form)
    try:
        strips = [tooth_strip(form), tooth_strip(form, toe=True)]
    except ValueError as error:
        raise InputError(
            say("templates.teeth-of-a-bevel-gear", title=title, error=error)
        ) from error
    high = max(y for _, y in half)
    boxes = [_box(strip) for strip in strips]
    wide = max(form.outside_mm, *(b[2] - b[0] for b in boxes))
    tall = high + sum(b[3] - b[1] for b in boxes) + 2 * GAP_MM
    lines = [
        say(
            "templates.bevel-with-its-mate",
            teeth=form.teeth,
            mate=form.mate,
            module=in_mm(form.module_mm, 3),
        ),
        say(
            "templates.bevel-cones",
            pitch=degrees(form.cone_rad),
            tip=degrees(form.tip_rad),
            root=degrees(form.root_rad),
            back=90 - degrees(form.cone_rad),
        ),
        say(
            "templates.bevel-sizes",
            outside=in_mm(form.outside_mm, 2),
            high=in_mm(high, 2),
            face=in_mm(form.face_mm, 2),
            hole=in_mm(hole_mm, 2),
            note=note,
        ),
        say("templates.bevel-wrap-the-larger-strip-round-the-heel"),
        say("templates.bevel-make", count=count),
    ]
    sheet, (cx, foot) = sheet_for(title, lines, wide, tall)
    for sign in (1.0, -1.0):
        sheet.line("cut", *((cx + sign * x, foot + y) for x, y in half))
        sheet.line(
            "engrave", (cx + sign * hole_mm / 2, foot), (cx + sign * hole_mm / 2, foot + high)
        )
    sheet.line("mark", (cx, foot), (cx, foot + high + 2.0))
    low = foot + high + GAP_MM
    for strip, box in zip(strips, boxes, strict=True):
        dx, dy = cx - (box[0] + box[2]) / 2, low - box[1]
        sheet.outline("cut", [(x + dx, y + dy) for x, y in strip])
        low += box[3] - box[1] + GAP_MM
    return sheet


def peg_wheel_drawing(
    form: BevelForm, title: str, hole_mm: float, note: str, count: int, *, crown: bool
) -> Drawing:
    """Draw a wheel of pegs in place of a bevel gear, for wood.

    The crown's pegs stand along its axis, in a disc. The pinion's point outwards from the rim of a
    disc as thick as three pegs; a strip with the marks goes round the rim.

    Raises
    ------
    InputError
        The pegs leave no body.
    """
    pitch = pi * form.module_mm
    peg, radius = PEG_SHARE * pitch, form.module_mm * form.teeth / 2
    rim = radius - pitch / 2  # from where the pinion's pegs reach out to a quarter past the circle
    body = radius + RIM_PEGS * peg if crown else rim
    if body - peg <= hole_mm / 2 or 2 * radius * sin(pi / form.teeth) < 1.6 * peg:
        raise InputError(say("templates.pegs-leave-no-body", title=title, teeth=form.teeth))
    lines = [
        say(
            "templates.pegs-on-a-circle",
            teeth=form.teeth,
            peg=in_mm(peg, 1),
            circle=in_mm(2 * radius, 2),
        ),
        say("templates.pegs-reach", reach=in_mm(1.25 * pitch if crown else 0.75 * pitch, 1))
        if crown
        else say(
            "templates.pegs-point-outwards",
            reach=bare(in_mm(0.75 * pitch, 1)),
            thick=in_mm(3 * peg, 1),
        ),
        say("templates.bevel-hole", hole=in_mm(hole_mm, 2), note=note),
        say("templates.bevel-make", count=count),
    ]
    strip = 2 * pi * body
    wide = 2 * body if crown else max(2 * body, strip)
    tall = 2 * body if crown else 2 * body + 3 * peg + GAP_MM
    sheet, (cx, foot) = sheet_for(title, lines, wide, tall)
    at = (cx, foot + body)
    sheet.circle("cut", at, body)
    sheet.circle("cut", at, hole_mm / 2)
    if crown:
        sheet.circle("mark", at, radius)
        for n in range(form.teeth):
            turn = 2 * pi * n / form.teeth
            spot = at[0] + radius * cos(turn), at[1] + radius * sin(turn)
            sheet.circle("cut", spot, peg / 2)
        return sheet
    low = foot + 2 * body + GAP_MM
    left = cx - strip / 2
    sheet.rectangle("cut", left, low, left + strip, low + 3 * peg)
    for n in range(form.teeth):
        x = left + strip * (n + 0.5) / form.teeth
        sheet.circle("engrave", (x, low + 1.5 * peg), peg / 2)
    return sheet


def _box(points: tuple[Point, ...]) -> tuple[float, float, float, float]:
    xs, ys = zip(*points, strict=True)
    return min(xs), min(ys), max(xs), max(ys)
