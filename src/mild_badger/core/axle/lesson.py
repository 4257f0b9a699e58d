"""How a differential came about, step by step, each step a small mechanism that can be turned.

Two half-axles lie in one line; on each sits a star of spokes. A bar is carried round between them
at the radius R, along the axle, and pushes a spoke at either end; g is how far a star's plane lies
from the bar's middle, h half the bar's length, s a spoke's length. All in mm and degrees.

Contact is solved from the geometry: the bar moves in the plane that touches its circle, a spoke is
a line through the axle. A spoke turned by φ from the bar's radius meets that plane at R tan φ to
the side, R / cos φ out. So the bar, tilted by ψ about its middle, touches both spokes where
tan ψ = R tan φ / g, and both wheels are turned by the same φ, one ahead and one back. It lets go
where its end is reached, g / cos ψ = h, or where the spoke's is, R / cos φ = s.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace
from math import acos, atan, ceil, cos, degrees, hypot, pi, radians, sin, sqrt, tan

import numpy as np

from mild_badger.core.figures import bare, in_mm, in_n, in_n_mm
from mild_badger.core.message import say
from mild_badger.core.words import signed

__all__ = [
    "STEPS",
    "Lesson",
    "LessonLine",
    "LessonState",
    "contact_distance_mm",
    "let_go_deg",
    "show_step",
    "star_unevenness_percent",
]

TEETH = 12
BACKLASH_MM = 0.15
DASH = "–"


@dataclass(frozen=True)
class Lesson:
    """What the reader sets: how the carrier stands, how far the wheels differ, the mechanism.

    ``turn_deg`` is the carrier's; ``differ_deg`` how far the left wheel is ahead of the right one;
    ``held`` holds the left wheel still. ``radius_mm`` is a turn's, None straight ahead.
    """

    turn_deg: float = 30.0
    differ_deg: float = 0.0
    held: bool = False
    radius_mm: float | None = None
    track_mm: float = 144.0
    bar_mm: float = 15.0
    arm_mm: float = 12.0
    gap_mm: float = 10.0
    spoke_mm: float = 18.0
    arms: int = 4
    planets: int = 2
    torque_n_mm: float = 100.0


@dataclass(frozen=True)
class LessonLine:
    """One line of a picture: what it is of, and its points."""

    kind: str
    points: tuple[tuple[float, float], ...]
    closed: bool = False


@dataclass(frozen=True)
class LessonState:
    """A step as it stands: whether it drives, figures in words, and two pictures.

    ``along`` looks along the axle, ``across`` down on the bar, the axle from left to right.
    """

    title: str
    text: str
    drives: bool
    verdict: str
    figures: tuple[tuple[str, str], ...]
    along: tuple[LessonLine, ...]
    across: tuple[LessonLine, ...]


STEPS = (
    say("axle.one-bar-pushes-both"),
    say("axle.the-bar-on-a-pivot"),
    say("axle.more-spokes"),
    say("axle.a-star-of-arms"),
    "Teeth",
    say("axle.a-second-planet"),
    say("axle.a-ring-brings-the-drive-in"),
    say("axle.made-compact"),
)

TEXTS = (
    say("axle.a-bar-across-the-carrier-pushes-one-spoke-of"),
    say("axle.on-a-pivot-the-bar-may-tilt-one-wheel-can"),
    say("axle.with-more-spokes-the-bar-finds-the-next-one"),
    say("axle.a-second-bar-across-the-first-makes-a-star"),
    say("axle.arms-become-teeth-short-ones-many-of-them"),
    say("axle.one-planet-pushes-on-one-side-only-a-second"),
    say("axle.the-carrier-was-turned-by-hand-so-far-a-ring"),
    say("axle.side-gears-as-small-as-the-planets"),
)


def let_go_deg(lesson: Lesson) -> float:
    """How far a wheel may run ahead of the carrier before the bar swings out of reach."""
    bar = 0.0
    if lesson.bar_mm > lesson.gap_mm:
        bar = degrees(atan(sqrt(lesson.bar_mm**2 - lesson.gap_mm**2) / lesson.arm_mm))
    spoke = 0.0
    if lesson.spoke_mm > lesson.arm_mm:
        spoke = degrees(acos(lesson.arm_mm / lesson.spoke_mm))
    return min(bar, spoke)


def star_unevenness_percent(lesson: Lesson) -> float | None:
    """Range of the speed over its mean while one arm pushes; None where an arm cannot hand over.

    A star of N arms turns by ψ and pushes a spoke by φ with R tan φ = g tan ψ, from −π/N to π/N:
    dφ/dψ = (g/R) cos² φ / cos² ψ.
    """
    if lesson.arms < 3:
        return None
    turn = np.linspace(-pi / lesson.arms, pi / lesson.arms, 181)
    share = lesson.gap_mm / lesson.arm_mm
    wheel = np.arctan(share * np.tan(turn))
    rate = share * np.cos(wheel) ** 2 / np.cos(turn) ** 2
    return 100 * float((rate.max() - rate.min()) / rate.mean())


def show_step(step: int, lesson: Lesson) -> LessonState:
    """Show one of the steps with what the reader has set.

    Parameters
    ----------
    step
        Its number in ``STEPS``, from 0.
    lesson
        What is set.
    """
    makers: tuple[Callable[[Lesson], LessonState], ...] = (
        _one_bar,
        _pivot,
        _spokes,
        _star,
        _teeth,
        _second,
        _ring,
        _compact,
    )
    return makers[step](lesson)


def _ahead(lesson: Lesson) -> float:
    """Angle by which the left wheel runs ahead of the carrier, in degrees."""
    return -lesson.turn_deg if lesson.held else lesson.differ_deg / 2


def _road(lesson: Lesson) -> list[tuple[str, str]]:
    """Figures of the turn that is driven: path difference, what a solid axle slides."""
    if lesson.radius_mm is None:
        return [(say("axle.paths-differ-by"), say("axle.nothing-straight-ahead"))]
    share = 100 * lesson.track_mm / lesson.radius_mm
    return [
        (say("axle.paths-differ-by"), say("axle.of-the-way", share=share)),
        (say("axle.in-a-full-circle"), in_mm(2 * pi * lesson.track_mm, 0)),
    ]


def _one_bar(lesson: Lesson) -> LessonState:
    figures = _road(lesson)
    slide = 0.0 if lesson.radius_mm is None else 50 * lesson.track_mm / lesson.radius_mm
    figures.append((say("axle.each-tyre-slides-2"), f"{signed(slide, '.1f')} %"))
    figures.append((say("axle.force-on-each-spoke"), in_n(_push(lesson, 1), 1)))
    free = not lesson.held and not lesson.differ_deg
    verdict = (
        say("axle.both-wheels-turn-with-the-bar")
        if free
        else (say("axle.the-bar-cannot-give-way-a-held-wheel-stalls"))
    )
    stiff = replace(lesson, differ_deg=0.0, held=False)
    told = (free, verdict, figures)
    return _state(0, stiff, told, spokes=1)


def _pivot(lesson: Lesson) -> LessonState:
    limit, ahead = let_go_deg(lesson), _ahead(lesson)
    drives = abs(ahead) <= limit
    figures: list[tuple[str, str]] = [
        *_road(lesson),
        (say("axle.wheel-ahead-of-the-bar"), f"{signed(ahead, '+.1f')}°"),
        (say("axle.lets-go-at"), f"±{signed(limit, '.1f')}°"),
        (say("axle.bar-tilts-by"), f"{signed(_tilt(lesson, ahead), '.1f')}°" if drives else DASH),
        (say("axle.force-on-each-spoke"), in_n(_push(lesson, 1), 1) if drives else "0 N"),
    ]
    if lesson.radius_mm is not None:
        turn = radians(2 * limit) * lesson.radius_mm / lesson.track_mm
        figures.append(
            (say("axle.which-lasts-for"), say("axle.of-the-wheels-turning", turn=degrees(turn)))
        )
    verdict = (
        say("axle.the-bar-tilts-and-pushes-both-alike-one")
        if drives
        else say("axle.the-bar-has-swung-out-of-reach-nothing-is")
    )
    told = (drives, verdict, figures)
    return _state(1, lesson, told, spokes=1)


def _spokes(lesson: Lesson) -> LessonState:
    limit, spacing = let_go_deg(lesson), 360 / lesson.arms
    ahead = (_ahead(lesson) + spacing / 2) % spacing - spacing / 2
    drives = abs(ahead) <= limit
    lash = max(spacing - 2 * limit, 0.0)
    figures: list[tuple[str, str]] = [
        (say("axle.spokes-on-each-side"), str(lesson.arms)),
        (say("axle.wheel-past-its-spoke"), f"{signed(ahead, '+.1f')}°"),
        (say("axle.lets-go-at"), f"±{signed(limit, '.1f')}°"),
        (say("axle.free-play-to-the-next-spoke"), f"{signed(lash, '.1f')}°" if lash else "none"),
        (say("axle.spokes-for-none"), str(max(ceil(180 / limit), 1)) if limit else DASH),
        (say("axle.force-on-each-spoke"), in_n(_push(lesson, 1), 1) if drives else "0 N"),
    ]
    verdict = (
        say("axle.a-spoke-is-in-reach-and-the-drive-goes-on")
        if drives
        else say("axle.between-two-spokes-the-bar-swings-through")
    )
    told = (drives, verdict, figures)
    return _state(2, lesson, told, spokes=lesson.arms)


def _star(lesson: Lesson) -> LessonState:
    uneven = star_unevenness_percent(lesson)
    limit = let_go_deg(lesson)
    lash = max(360 / lesson.arms - 2 * limit, 0.0)
    figures: list[tuple[str, str]] = [
        ("arms", str(lesson.arms)),
        (say("axle.drive-is-uneven-by"), DASH if uneven is None else f"{signed(uneven, '.1f')} %"),
        (say("axle.free-play"), f"{signed(lash, '.1f')}°" if lash else "none"),
        (say("axle.force-on-an-arm"), in_n(_push(lesson, 1), 1)),
    ]
    verdict = (
        say("axle.two-arms-cannot-hand-over-to-one-another")
        if uneven is None
        else say("axle.arm-after-arm-takes-over-the-more-there-are")
    )
    told = (uneven is not None, verdict, figures)
    return _state(3, lesson, told, spokes=lesson.arms)


def _teeth(lesson: Lesson) -> LessonState:
    lash = degrees(BACKLASH_MM / lesson.arm_mm)
    figures: list[tuple[str, str]] = [
        (say("axle.drive-is-uneven-by"), say("axle.nothing-teeth-are-cut-for-it")),
        (say("axle.free-play"), say("axle.the-teeths-own-play", lash=lash)),
        (say("axle.force-on-a-tooth"), in_n(_push(lesson, 1), 1)),
        (say("axle.planet-turns"), say("axle.on-its-pin", ahead=abs(_ahead(lesson)))),
    ]
    told = (True, say("axle.however-far-the-wheels-differ-a-tooth-is"), figures)
    return _state(4, lesson, told, spokes=TEETH)


def _second(lesson: Lesson) -> LessonState:
    figures: list[tuple[str, str]] = [
        ("planets", str(lesson.planets)),
        (say("axle.force-on-a-tooth"), in_n(_push(lesson, lesson.planets), 1)),
        (say("axle.against-one-planet"), f"{signed(100 / lesson.planets, '.0f')} %"),
        (
            say("axle.push-across-the-axle"),
            "none" if lesson.planets > 1 else say("axle.the-axle-is-pushed-aside"),
        ),
    ]
    told = (True, say("axle.each-planet-carries-its-share"), figures)
    return _state(5, lesson, told, spokes=TEETH, planets=lesson.planets)


def _ring(lesson: Lesson) -> LessonState:
    figures: list[tuple[str, str]] = [
        ("carrier", say("axle.is-the-ring-wheels-own-body")),
        (say("axle.wheels-together"), say("axle.n-left-n-right-2-n-ring")),
        (say("axle.left-wheel"), f"{signed(lesson.turn_deg + _ahead(lesson), '.0f')}°"),
        (say("axle.right-wheel"), f"{signed(lesson.turn_deg - _ahead(lesson), '.0f')}°"),
    ]
    told = (True, say("axle.the-ring-turns-at-the-mean-of-both-wheels"), figures)
    return _state(6, lesson, told, spokes=TEETH, planets=lesson.planets, ring=True)


def _compact(lesson: Lesson) -> LessonState:
    figures: list[tuple[str, str]] = [
        (say("axle.wheels-together"), say("axle.n-left-n-right-2-n-housing")),
        (
            say("axle.torque-left-and-right"),
            say(
                "axle.and",
                torque_n_mm=bare(in_n_mm(lesson.torque_n_mm / 2, 0)),
                torque_n_mm_2=in_n_mm(lesson.torque_n_mm / 2, 0),
            ),
        ),
        (say("axle.force-on-a-tooth"), in_n(_push(lesson, lesson.planets), 1)),
    ]
    told = (True, say("axle.both-wheels-always-get-the-same-torque"), figures)
    return _state(7, lesson, told, spokes=TEETH, planets=lesson.planets, ring=True)


def _push(lesson: Lesson, planets: int) -> float:
    """Force at a spoke: half the torque goes to either side, shared by the planets."""
    return lesson.torque_n_mm / (2 * lesson.arm_mm * planets)


def _tilt(lesson: Lesson, ahead_deg: float) -> float:
    return degrees(atan(lesson.arm_mm * tan(radians(ahead_deg)) / lesson.gap_mm))


def _state(
    step: int,
    lesson: Lesson,
    told: tuple[bool, str, list[tuple[str, str]]],
    *,
    spokes: int,
    planets: int = 1,
    ring: bool = False,
) -> LessonState:
    drives, verdict, figures = told
    along = tuple(_along(lesson, spokes=spokes, planets=planets, ring=ring))
    across = tuple(_across(lesson, drives=drives, spokes=spokes))
    return LessonState(STEPS[step], TEXTS[step], drives, verdict, tuple(figures), along, across)


def _along(lesson: Lesson, *, spokes: int, planets: int, ring: bool) -> list[LessonLine]:
    """Draw the mechanism along the axle: either star, the bars' middles, the ring."""
    turn, ahead = lesson.turn_deg, _ahead(lesson)
    lines = []
    for kind, angle, reach in (
        ("left", turn + ahead, lesson.spoke_mm),
        ("right", turn - ahead, lesson.spoke_mm * 0.93),
    ):
        for number in range(spokes):
            at = radians(90 - angle - 360 * number / spokes)
            lines.append(LessonLine(kind, ((0.0, 0.0), (reach * cos(at), reach * sin(at)))))
    for number in range(planets):
        at = radians(90 - turn - 360 * number / planets)
        middle = (lesson.arm_mm * cos(at), lesson.arm_mm * sin(at))
        lines.append(LessonLine("bar", tuple(_circle(middle, 2.2)), closed=True))
        if not ring:
            lines.append(LessonLine("carrier", ((0.0, 0.0), middle)))
    if ring:
        rim = lesson.spoke_mm + 6
        lines.append(LessonLine("carrier", tuple(_circle((0.0, 0.0), rim)), closed=True))
        lines.append(LessonLine("carrier", tuple(_circle((0.0, 0.0), rim - 3)), closed=True))
        at = radians(90 - turn)
        lines.append(
            LessonLine(
                "carrier",
                (((rim - 3) * cos(at), (rim - 3) * sin(at)), (rim * cos(at), rim * sin(at))),
            )
        )
    return lines


def _circle(middle: tuple[float, float], radius: float) -> list[tuple[float, float]]:
    return [
        (middle[0] + radius * cos(2 * pi * n / 48), middle[1] + radius * sin(2 * pi * n / 48))
        for n in range(48)
    ]


def _across(lesson: Lesson, *, drives: bool, spokes: int) -> list[LessonLine]:
    """Draw the bar from above, in the plane in which it tilts, with the spokes that it meets."""
    spacing = 360 / spokes
    ahead = _ahead(lesson)
    near = (ahead + spacing / 2) % spacing - spacing / 2 if spokes > 1 else ahead
    gap, half = lesson.gap_mm, lesson.bar_mm
    lines = [
        LessonLine("axle", ((-gap - 8, 0.0), (-2.0, 0.0))),
        LessonLine("axle", ((2.0, 0.0), (gap + 8, 0.0))),
    ]
    reach = {-1: near, 1: -near}
    for side, angle in reach.items():
        for number in range(spokes):
            own = angle + (number - spokes // 2) * spacing if spokes > 1 else angle
            if abs(own) < 75:
                aside = lesson.arm_mm * tan(radians(own))
                kind = "left" if side < 0 else "right"
                spot = ((side * gap, aside - 1.2), (side * gap, aside + 1.2))
                lines.append(LessonLine(kind, spot))
    tilt = radians(_tilt(lesson, near)) if drives and abs(near) < 85 else radians(80)
    lines.append(
        LessonLine(
            "bar", ((-half * cos(tilt), half * sin(tilt)), (half * cos(tilt), -half * sin(tilt)))
        )
    )
    lines.append(LessonLine("bar", tuple(_circle((0.0, 0.0), 1.2)), closed=True))
    return lines


def contact_distance_mm(lesson: Lesson, ahead_deg: float) -> float:
    """Give how far along the bar a spoke turned ahead is met, from the bar's middle."""
    return hypot(lesson.gap_mm, lesson.arm_mm * tan(radians(ahead_deg)))
