"""Small drawings that say more than a term's sentence, made of the program's own shapes, as SVG.

Gears are true involutes (`templates.gear_shape`); the rest is drawn to be read, not to scale.
``scripts/term-pictures`` writes them beside the handbook.
"""

from collections.abc import Callable, Sequence
from functools import partial
from html import escape
from math import cos, hypot, pi, radians, sin

from mild_badger.core.message import say
from mild_badger.core.palette import LIGHT, PAPER
from mild_badger.core.templates.gear_shape import GearForm, gear_shape

__all__ = ["TERM_PICTURES", "term_picture"]

Point = tuple[float, float]
WIDE, HIGH = 320.0, 180.0
INK, SOFT, RUN = PAPER["ink"], PAPER["soft"], PAPER["run"]
PART = LIGHT["panel"]
SMALL = 12


class _Sketch:
    """Lines and words in px, the origin left below, y upwards."""

    def __init__(self) -> None:
        self._parts: list[str] = []

    def line(
        self, *points: Point, color: str = INK, width: float = 1.4, dashed: bool = False
    ) -> None:
        """Draw a line through points."""
        self._stroke("polyline", points, color, width, dashed=dashed)

    def shape(
        self, points: Sequence[Point], *, color: str = INK, fill: str = "none", width: float = 1.4
    ) -> None:
        """Draw a closed shape."""
        self._stroke("polygon", points, color, width, fill=fill)

    def _stroke(
        self,
        kind: str,
        points: Sequence[Point],
        color: str,
        width: float,
        fill: str = "none",
        *,
        dashed: bool = False,
    ) -> None:
        at = " ".join(f"{x:.1f},{HIGH - y:.1f}" for x, y in points)
        dash = ' stroke-dasharray="5 4"' if dashed else ""
        self._parts.append(
            f'<{kind} points="{at}" fill="{fill}" stroke="{color}" stroke-width="{width}"{dash}/>'
        )

    def circle(
        self,
        at: Point,
        radius: float,
        *,
        color: str = INK,
        width: float = 1.4,
        fill: str = "none",
        dashed: bool = False,
    ) -> None:
        """Draw a circle."""
        dash = ' stroke-dasharray="5 4"' if dashed else ""
        self._parts.append(
            f'<circle cx="{at[0]:.1f}" cy="{HIGH - at[1]:.1f}" r="{radius:.1f}" fill="{fill}" '
            f'stroke="{color}" stroke-width="{width}"{dash}/>'
        )

    def words(self, at: Point, text: str, *, color: str = INK, middle: bool = True) -> None:
        """Write words, in the middle of a point or from it on."""
        anchor = "middle" if middle else "start"
        self._parts.append(
            f'<text x="{at[0]:.1f}" y="{HIGH - at[1]:.1f}" font-family="B612, sans-serif" '
            f'font-size="{SMALL}" fill="{color}" text-anchor="{anchor}">{escape(text)}</text>'
        )

    def arrow(self, start: Point, end: Point, *, both: bool = False, color: str = RUN) -> None:
        """Draw an arrow, or a dimension with a head at either end."""
        self.line(start, end, color=color, width=1.6)
        long = hypot(end[0] - start[0], end[1] - start[1]) or 1.0
        x, y = (end[0] - start[0]) / long, (end[1] - start[1]) / long
        for tip, way in ((end, 1), (start, -1))[: 1 + both]:
            back = tip[0] - 8 * x * way, tip[1] - 8 * y * way
            self.shape(
                (
                    tip,
                    (back[0] - 3.5 * y, back[1] + 3.5 * x),
                    (back[0] + 3.5 * y, back[1] - 3.5 * x),
                ),
                color=color,
                fill=color,
            )

    def gear(self, at: Point, form: GearForm, turned_deg: float = 0.0, color: str = INK) -> None:
        """Draw a gear by its true outline, a px for each mm."""
        turn = radians(turned_deg)
        corners = [
            (
                at[0] + x * cos(turn) - y * sin(turn),
                at[1] + x * sin(turn) + y * cos(turn),
            )
            for x, y in gear_shape(form)
        ]
        self.shape(corners, color=color)

    def svg(self) -> str:
        """Give the file."""
        inside = "\n".join(self._parts)
        return (
            f'<svg xmlns="http://www.w3.org/2000/svg" width="{WIDE:.0f}" height="{HIGH:.0f}" '
            f'viewBox="0 0 {WIDE:.0f} {HIGH:.0f}">\n<rect width="{WIDE:.0f}" height="{HIGH:.0f}" '
            f'fill="white"/>\n{inside}\n</svg>\n'
        )


def _module(sketch: _Sketch) -> None:
    form, at = GearForm(12, 11.0), (96.0, 90.0)
    sketch.gear(at, form)
    sketch.circle(at, form.pitch_mm, color=SOFT, dashed=True)
    sketch.arrow((at[0] - form.pitch_mm, at[1]), (at[0] + form.pitch_mm, at[1]), both=True)
    sketch.words((at[0], at[1] + 6), say("publish.pitch-diameter"), color=RUN)
    sketch.words((190, 104), say("publish.module-pitch"), middle=False)
    sketch.words((190, 86), say("publish.diameter-teeth"), middle=False)


def _tip(sketch: _Sketch) -> None:
    form, at = GearForm(12, 10.0), (96.0, 90.0)
    sketch.gear(at, form)
    sketch.circle(at, form.tip_mm, color=SOFT, dashed=True)
    sketch.arrow((at[0] - form.tip_mm, at[1]), (at[0] + form.tip_mm, at[1]), both=True)
    sketch.words((at[0], at[1] + 6), say("publish.tip-diameter"), color=RUN)
    sketch.words((182, 104), say("publish.teeth-2-module"), middle=False)
    sketch.words((182, 86), say("publish.for-full-depth-teeth"), color=SOFT, middle=False)


def _pair(sketch: _Sketch, *, thin: float = 0.0) -> tuple[Point, Point]:
    one, other = GearForm(12, 7.0, thinning_mm=thin), GearForm(20, 7.0, thinning_mm=thin)
    first = (80.0, 90.0)
    second = (first[0] + one.pitch_mm + other.pitch_mm, 90.0)
    sketch.gear(first, one)
    sketch.gear(second, other, 180 + 180 / 20)
    return first, second


def _centre_distance(sketch: _Sketch) -> None:
    first, second = _pair(sketch)
    for at in (first, second):
        sketch.circle(at, 3, fill=INK)
    sketch.arrow(first, second, both=True)
    sketch.words(((first[0] + second[0]) / 2 + 22, 96), say("publish.centre-distance"), color=RUN)


def _backlash(sketch: _Sketch) -> None:
    one, other = GearForm(12, 34.0, thinning_mm=3.2), GearForm(20, 34.0, thinning_mm=3.2)
    meeting = (160.0, 90.0)
    sketch.gear((meeting[0] - one.pitch_mm, 90.0), one)
    sketch.gear((meeting[0] + other.pitch_mm, 90.0), other, 180 + 180 / 20)
    sketch.arrow((meeting[0] + 44, 150), (meeting[0] + 4, 119))
    sketch.words((meeting[0] + 50, 154), "backlash", color=RUN, middle=False)


def _idler(sketch: _Sketch) -> None:
    forms, x = (GearForm(12, 5.6), GearForm(14, 5.6), GearForm(16, 5.6)), 54.0
    names = ("driver", "idler", "driven")
    turned = (0.0, 180 + 180 / 14, 0.0)
    for number, (form, name) in enumerate(zip(forms, names, strict=True)):
        if number:
            x += forms[number - 1].pitch_mm + form.pitch_mm
        sketch.gear((x, 98), form, turned[number], RUN if number == 1 else INK)
        sketch.circle((x, 98), 3, fill=INK)
        sketch.words((x, 20), name, color=RUN if number == 1 else INK)
        way = 1 if number != 1 else -1
        sketch.arrow((x - 12 * way, 116), (x + 12 * way, 116), color=SOFT)


def _undercut(sketch: _Sketch) -> None:
    for x, teeth, words in ((84.0, 8, say("publish.8-teeth-undercut")), (236.0, 20, "20 teeth")):
        form = GearForm(teeth, 60 / (teeth / 2 + 1))
        sketch.gear((x, 102), form, 90, RUN if teeth < 17 else INK)
        sketch.words((x, 18), words, color=RUN if teeth < 17 else INK)


def _kerf(sketch: _Sketch) -> None:
    sketch.shape(((30, 40), (148, 40), (148, 140), (30, 140)), fill=PART)
    sketch.shape(((166, 40), (284, 40), (284, 140), (166, 140)), fill=PART)
    sketch.line((157, 30), (157, 150), color=SOFT, dashed=True)
    sketch.arrow((148, 154), (166, 154), both=True)
    sketch.words((157, 162), "kerf", color=RUN)
    sketch.words((89, 84), "part")
    sketch.words((225, 84), "part")
    sketch.words((157, 16), say("publish.the-saws-path"), color=SOFT)


def _sleeve(sketch: _Sketch) -> None:
    sketch.line((16, 90), (304, 90), color=SOFT)
    for x, name in ((64.0, "free gear"), (220.0, "free gear")):
        sketch.shape(((x, 34), (x + 32, 34), (x + 32, 146), (x, 146)))
        sketch.words((x + 16, 18), name)
    for x, y in ((96.0, 62.0), (96.0, 106.0), (212.0, 62.0), (212.0, 106.0)):
        sketch.shape(((x, y), (x + 8, y), (x + 8, y + 14), (x, y + 14)))
    sketch.shape(((134, 58), (182, 58), (182, 122), (134, 122)), color=RUN, width=2)
    for x, y in ((126.0, 76.0), (126.0, 92.0), (182.0, 76.0), (182.0, 92.0)):
        sketch.shape(((x, y), (x + 8, y), (x + 8, y + 12), (x, y + 12)), color=RUN)
    sketch.arrow((136, 140), (180, 140), both=True)
    sketch.words((158, 148), "sleeve", color=RUN)


def _detent(sketch: _Sketch) -> None:
    notches = [(20.0, 60.0)]
    for x in (90.0, 160.0, 230.0):
        notches += [(x - 16, 60), (x, 42), (x + 16, 60)]
    notches += [(300, 60), (300, 26), (20, 26)]
    sketch.shape(notches, fill=PART)
    sketch.circle((160, 59), 12, color=RUN, width=2)
    spring = [(160.0 + (8 if n % 2 else -8), 72.0 + 7 * n) for n in range(10)]
    sketch.line(*spring, color=RUN)
    sketch.words((196, 100), "spring", color=RUN, middle=False)
    sketch.words((160, 10), say("publish.rail-with-notches"))


def _layshaft(sketch: _Sketch) -> None:
    sketch.line((20, 120), (120, 120), width=3)
    sketch.line((136, 120), (300, 120), width=3)
    sketch.line((60, 52), (260, 52), width=3, color=RUN)
    for x, top, low in ((90.0, 26.0, 42.0), (190.0, 34.0, 34.0), (240.0, 44.0, 24.0)):
        sketch.shape(
            ((x - 6, 120 - top), (x + 6, 120 - top), (x + 6, 120 + top), (x - 6, 120 + top))
        )
        sketch.shape(
            ((x - 6, 52 - low), (x + 6, 52 - low), (x + 6, 52 + low), (x - 6, 52 + low)), color=RUN
        )
    sketch.words((40, 128), "input")
    sketch.words((284, 128), "output")
    sketch.words((284, 44), "layshaft", color=RUN)


def _planetary(sketch: _Sketch) -> None:
    at = (104.0, 90.0)
    sun, planet = GearForm(14, 3.6), GearForm(14, 3.6)
    reach = sun.pitch_mm + planet.pitch_mm
    sketch.gear(at, sun)
    for number in range(3):
        turn = 90 + 120 * number
        spot = at[0] + reach * cos(radians(turn)), at[1] + reach * sin(radians(turn))
        # a tooth of the sun meets a gap of the planet
        phase = turn + 180 + 180 / 14 + (turn % (360 / 14))
        sketch.gear(spot, planet, phase, RUN)
    sketch.circle(at, reach + planet.pitch_mm + 7, width=6, color=SOFT)
    for y, words, color in ((120, "sun", INK), (96, "planets", RUN), (72, "ring", SOFT)):
        sketch.words((214, y), words, color=color, middle=False)


def _angles(sketch: _Sketch, *, crest: bool) -> None:
    wheels = (86.0, 222.0)
    for x in wheels:
        sketch.circle((x, 62), 26)
    sketch.shape(((40, 66), (280, 66), (280, 112), (240, 140), (40, 140)), color=SOFT)
    sketch.line((16, 36), (304, 36), color=SOFT)
    if crest:
        top = (154.0, 64.0)
        sketch.line((wheels[0] + 12, 38), top, (wheels[1] - 12, 38), color=RUN, width=2)
        sketch.words((154, 16), say("publish.breakover-angle"), color=RUN)
    else:
        sketch.line((wheels[1] + 20, 40), (304, 82), color=RUN, width=2)
        sketch.words((262, 16), say("publish.approach-angle"), color=RUN)


def _track(sketch: _Sketch) -> None:
    for x in (60.0, 236.0):
        for y in (36.0, 124.0):
            sketch.shape(((x - 20, y - 9), (x + 20, y - 9), (x + 20, y + 9), (x - 20, y + 9)))
        sketch.line((x, 45), (x, 115), color=SOFT)
    sketch.line((60, 80), (236, 80), color=SOFT)
    sketch.arrow((280, 36), (280, 124), both=True)
    sketch.words((300, 84), "track", color=RUN)
    sketch.arrow((60, 158), (236, 158), both=True)
    sketch.words((148, 164), "wheelbase", color=RUN)


def _ratchet(sketch: _Sketch) -> None:
    at, corners = (110.0, 84.0), []
    for number in range(12):
        turn = 2 * pi * number / 12
        corners.append((at[0] + 66 * cos(turn), at[1] + 66 * sin(turn)))
        corners.append((at[0] + 50 * cos(turn + 0.04), at[1] + 50 * sin(turn + 0.04)))
    sketch.shape(corners)
    sketch.circle(at, 6)
    sketch.line((182, 120), (172, 92), (240, 128), color=RUN, width=3)
    sketch.circle((240, 128), 5, color=RUN)
    sketch.words((250, 136), "pawl", color=RUN, middle=False)
    sketch.words((110, 6), say("publish.ratchet-wheel"))


def _pressure(sketch: _Sketch) -> None:
    one, other = GearForm(14, 22.0), GearForm(18, 22.0)
    meeting = (160.0, 90.0)
    sketch.gear((meeting[0] - one.pitch_mm, 90.0), one)
    sketch.gear((meeting[0] + other.pitch_mm, 90.0), other, 180 + 180 / 18)
    sketch.line((meeting[0], 20), (meeting[0], 166), color=SOFT, dashed=True)
    lean = radians(20)
    sketch.line(
        (meeting[0] - 76 * sin(lean), meeting[1] - 76 * cos(lean)),
        (meeting[0] + 76 * sin(lean), meeting[1] + 76 * cos(lean)),
        color=RUN,
        width=2,
    )
    sketch.words((meeting[0] + 40, 164), say("publish.pressure-angle-20"), color=RUN, middle=False)


TERM_PICTURES: dict[str, Callable[[_Sketch], None]] = {
    "Approach angle": partial(_angles, crest=False),
    "Backlash": _backlash,
    "Breakover angle": partial(_angles, crest=True),
    "Centre distance": _centre_distance,
    "Detent": _detent,
    "Idler": _idler,
    "Kerf": _kerf,
    "Layshaft": _layshaft,
    "Module": _module,
    "Planetary gear": _planetary,
    "Pressure angle": _pressure,
    "Ratchet": _ratchet,
    "Sleeve": _sleeve,
    "Tip diameter": _tip,
    "Undercut": _undercut,
    "Wheelbase": _track,
}
"""How each term that has a picture is drawn, by the term of the glossary."""


def term_picture(term: str) -> str:
    """Draw a term of the glossary, as SVG.

    Raises
    ------
    KeyError
        The term has no picture.
    """
    sketch = _Sketch()
    TERM_PICTURES[term](sketch)
    return sketch.svg()
