"""Small drawings that say more than a term's sentence, made of the program's own shapes, as SVG.

Gears are true involutes (`templates.gear_shape`); the rest is drawn to be read, not to scale.
``scripts/term-pictures`` writes them beside the handbook.
"""

from collections.abc import Callable
from functools import partial
from math import cos, pi, radians, sin

from mild_badger.core.message import say
from mild_badger.core.palette import LIGHT
from mild_badger.core.publish.sketch import INK, RUN, SOFT, Point, Sketch
from mild_badger.core.templates.gear_shape import GearForm

__all__ = ["TERM_PICTURES", "sketch_of", "term_picture"]

PART = LIGHT["panel"]


def _module(sketch: Sketch) -> None:
    form, at = GearForm(12, 11.0), (96.0, 90.0)
    sketch.gear(at, form)
    sketch.circle(at, form.pitch_mm, color=SOFT, dashed=True)
    sketch.arrow((at[0] - form.pitch_mm, at[1]), (at[0] + form.pitch_mm, at[1]), both=True)
    sketch.words((at[0], at[1] + 6), say("publish.pitch-diameter"), color=RUN)
    sketch.words((190, 104), say("publish.module-pitch"), middle=False)
    sketch.words((190, 86), say("publish.diameter-teeth"), middle=False)


def _tip(sketch: Sketch) -> None:
    form, at = GearForm(12, 10.0), (96.0, 90.0)
    sketch.gear(at, form)
    sketch.circle(at, form.tip_mm, color=SOFT, dashed=True)
    sketch.arrow((at[0] - form.tip_mm, at[1]), (at[0] + form.tip_mm, at[1]), both=True)
    sketch.words((at[0], at[1] + 6), say("publish.tip-diameter"), color=RUN)
    sketch.words((182, 104), say("publish.teeth-2-module"), middle=False)
    sketch.words((182, 86), say("publish.for-full-depth-teeth"), color=SOFT, middle=False)


def _pair(sketch: Sketch, *, thin: float = 0.0) -> tuple[Point, Point]:
    one, other = GearForm(12, 7.0, thinning_mm=thin), GearForm(20, 7.0, thinning_mm=thin)
    first = (80.0, 90.0)
    second = (first[0] + one.pitch_mm + other.pitch_mm, 90.0)
    sketch.gear(first, one)
    sketch.gear(second, other, 180 + 180 / 20)
    return first, second


def _centre_distance(sketch: Sketch) -> None:
    first, second = _pair(sketch)
    for at in (first, second):
        sketch.circle(at, 3, fill=INK)
    sketch.arrow(first, second, both=True)
    sketch.words(((first[0] + second[0]) / 2 + 22, 96), say("publish.centre-distance"), color=RUN)


def _backlash(sketch: Sketch) -> None:
    one, other = GearForm(12, 34.0, thinning_mm=3.2), GearForm(20, 34.0, thinning_mm=3.2)
    meeting = (160.0, 90.0)
    sketch.gear((meeting[0] - one.pitch_mm, 90.0), one)
    sketch.gear((meeting[0] + other.pitch_mm, 90.0), other, 180 + 180 / 20)
    sketch.arrow((meeting[0] + 44, 150), (meeting[0] + 4, 119))
    sketch.words((meeting[0] + 50, 154), "backlash", color=RUN, middle=False)


def _idler(sketch: Sketch) -> None:
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


def _undercut(sketch: Sketch) -> None:
    for x, teeth, words in ((84.0, 8, say("publish.8-teeth-undercut")), (236.0, 20, "20 teeth")):
        form = GearForm(teeth, 60 / (teeth / 2 + 1))
        sketch.gear((x, 102), form, 90, RUN if teeth < 17 else INK)
        sketch.words((x, 18), words, color=RUN if teeth < 17 else INK)


def _kerf(sketch: Sketch) -> None:
    sketch.shape(((30, 40), (148, 40), (148, 140), (30, 140)), fill=PART)
    sketch.shape(((166, 40), (284, 40), (284, 140), (166, 140)), fill=PART)
    sketch.line((157, 30), (157, 150), color=SOFT, dashed=True)
    sketch.arrow((148, 154), (166, 154), both=True)
    sketch.words((157, 162), "kerf", color=RUN)
    sketch.words((89, 84), "part")
    sketch.words((225, 84), "part")
    sketch.words((157, 16), say("publish.the-saws-path"), color=SOFT)


def _sleeve(sketch: Sketch) -> None:
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
    sketch.words((158, 148), say("publish.sleeve"), color=RUN)


def _detent(sketch: Sketch) -> None:
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


def _layshaft(sketch: Sketch) -> None:
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
    sketch.words((40, 128), say("publish.input"))
    sketch.words((284, 128), say("publish.output"))
    sketch.words((284, 44), say("publish.layshaft"), color=RUN)


def _planetary(sketch: Sketch) -> None:
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


def _angles(sketch: Sketch, *, crest: bool) -> None:
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


def _track(sketch: Sketch) -> None:
    for x in (60.0, 236.0):
        for y in (36.0, 124.0):
            sketch.shape(((x - 20, y - 9), (x + 20, y - 9), (x + 20, y + 9), (x - 20, y + 9)))
        sketch.line((x, 45), (x, 115), color=SOFT)
    sketch.line((60, 80), (236, 80), color=SOFT)
    sketch.arrow((280, 36), (280, 124), both=True)
    sketch.words((300, 84), "track", color=RUN)
    sketch.arrow((60, 158), (236, 158), both=True)
    sketch.words((148, 164), "wheelbase", color=RUN)


def _ratchet(sketch: Sketch) -> None:
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


def _pressure(sketch: Sketch) -> None:
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


TERM_PICTURES: dict[str, Callable[[Sketch], None]] = {
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
    return sketch_of(term).svg()


def sketch_of(term: str) -> Sketch:
    """Draw a term of the glossary.

    Raises
    ------
    KeyError
        The term has no picture.
    """
    sketch = Sketch()
    TERM_PICTURES[term](sketch)
    return sketch
