"""Steps seven to twelve: bevels, planets, ring, the compact one, its limits, uneven sharing."""

from dataclasses import replace
from math import degrees, pi, sin

from mild_badger.core.figures import in_mm, in_n
from mild_badger.core.lesson.axle_scenes import (
    CROWN_MM,
    PLANET,
    RING,
    SIDE_RADIUS_MM,
    SIDE_TEETH,
    SUN,
    bevel_carrier,
    compact,
    planetary,
    pose_bevel,
    pose_compact,
    pose_planetary,
)
from mild_badger.core.lesson.course import (
    WHEEL_MM,
    Figures,
    Slider,
    Step,
    moved_open,
)
from mild_badger.core.lesson.state import Doing, Motion, Setting
from mild_badger.core.lesson.telling import (
    CORNER,
    force_at,
    held_and_turned,
    road_told,
    speeds_told,
)
from mild_badger.core.message import say

__all__ = ["PLANETS", "planetary_clear", "planets_fit"]

SKIP_N = 6.0
"""At what force on a tooth the lesson's planets skip (an example)."""
POOR_OFFSET = 0.25
"""Beyond this share of the crown wheel's diameter a pinion off the middle is poor practice."""
FLOOR_MM = 10.0
"""From the propeller shaft's middle to the floor: half the shaft, and room."""

# 7 to 9


def _figures_bevel(motion: Motion, doing: Doing, setting: Setting) -> Figures:
    return (
        *speeds_told(motion, doing, setting),
        *road_told("both", motion, doing, setting),
        (say("lesson.how-far-wheels-may-differ"), say("lesson.without-end")),
        (say("lesson.unevenness"), say("lesson.none")),
        (say("lesson.force-on-a-tooth"), in_n(force_at(setting, SIDE_RADIUS_MM, 1), 1)),
    )


def _verdict_bevel(motion: Motion, doing: Doing, setting: Setting) -> str:
    if motion.left != motion.right:
        return say("lesson.the-planet-rolls-and-the-mean-is-kept")
    return say("lesson.the-planet-does-not-roll")


def planets_fit(planets: int) -> bool:
    """Whether so many equal planets mesh with two side gears: 2 S / N is whole."""
    return (2 * SIDE_TEETH) % planets == 0


def _skips(setting: Setting) -> bool:
    return force_at(setting, SIDE_RADIUS_MM, setting.planets) > SKIP_N


def _move_planets(motion: Motion, doing: Doing, setting: Setting, seconds: float) -> Motion:
    if doing.turning and not planets_fit(setting.planets):
        return replace(motion, stalled=True)
    return moved_open(replace(motion, stalled=False), doing, setting, seconds)


def _figures_planets(motion: Motion, doing: Doing, setting: Setting) -> Figures:
    force = force_at(setting, SIDE_RADIUS_MM, setting.planets)
    whole = 2 * SIDE_TEETH / setting.planets
    return (
        (say("lesson.planets"), str(setting.planets)),
        (say("lesson.side-teeth-by-planets"), say("lesson.number", value=whole)),
        (say("lesson.force-on-a-tooth"), in_n(force, 1)),
        (say("lesson.teeth-skip-at"), in_n(SKIP_N, 1)),
        (
            say("lesson.sideways-push-on-the-axle"),
            say("lesson.none") if setting.planets > 1 else in_n(2 * force, 1),
        ),
    )


def _verdict_planets(motion: Motion, doing: Doing, setting: Setting) -> str:
    if not planets_fit(setting.planets):
        return say("lesson.so-many-planets-cannot-mesh")
    if _skips(setting):
        return say("lesson.the-teeth-skip")
    return say("lesson.each-planet-carries-a-share", share=100.0 / setting.planets)


def _figures_ring(motion: Motion, doing: Doing, setting: Setting) -> Figures:
    return (
        *speeds_told(motion, doing, setting),
        (say("lesson.ring-wheel-has-turned"), say("lesson.degrees", deg=degrees(motion.carrier))),
        *road_told("both", motion, doing, setting),
        (say("lesson.how-far-wheels-may-differ"), say("lesson.without-end")),
    )


def _verdict_ring(motion: Motion, doing: Doing, setting: Setting) -> str:
    return say("lesson.the-ring-turns-at-the-mean")


# 10 to 12


def _figures_compact(motion: Motion, doing: Doing, setting: Setting) -> Figures:
    share = setting.offset_mm / (2 * CROWN_MM)
    return (
        (say("lesson.pinion-below-the-middle"), in_mm(setting.offset_mm, 0)),
        (say("lesson.share-of-the-crown-wheel"), say("lesson.percent", value=100 * share)),
        (say("lesson.floor-above-the-ground"), in_mm(WHEEL_MM - setting.offset_mm + FLOOR_MM, 0)),
        *speeds_told(motion, doing, setting),
    )


def _verdict_compact(motion: Motion, doing: Doing, setting: Setting) -> str:
    if setting.offset_mm > POOR_OFFSET * 2 * CROWN_MM:
        return say("lesson.the-pinion-is-too-far-off")
    if setting.offset_mm:
        return say("lesson.the-floor-comes-down")
    return say("lesson.the-shaft-sets-the-floor")


def _figures_limits(motion: Motion, doing: Doing, setting: Setting) -> Figures:
    if doing.lifted and not doing.locked:
        push = say("lesson.none")
    else:
        push = say("lesson.both-wheels") if not doing.lifted else say("lesson.the-right-wheel")
    return (
        *speeds_told(motion, doing, setting),
        (say("lesson.the-vehicle-has-gone"), in_mm(motion.way_mm, 0)),
        (say("lesson.what-pushes"), push),
        *road_told("both", motion, doing, setting),
    )


def _verdict_limits(motion: Motion, doing: Doing, setting: Setting) -> str:
    if motion.stalled:
        return say("lesson.a-held-wheel-stalls-the-motor")
    if doing.lifted:
        return (
            say("lesson.locked-the-other-wheel-pulls")
            if doing.locked
            else say("lesson.the-lifted-wheel-takes-all")
        )
    if doing.locked and doing.corner:
        return say("lesson.locked-both-tyres-smear")
    return (
        say("lesson.locked-both-wheels-turn-alike") if doing.locked else say("lesson.lift-a-wheel")
    )


def _move_planetary(motion: Motion, doing: Doing, setting: Setting, seconds: float) -> Motion:
    """Move on by Willis: S sun + R ring = (S + R) carrier."""
    if not doing.turning:
        return motion
    if not planetary_clear(setting.planets):
        return replace(motion, stalled=True)
    by = moved_open(Motion(), Doing(turning=True), setting, seconds).carrier
    sun, ring = by, by
    if doing.held == "left":
        sun, ring = 0.0, by * (SUN + RING) / RING
    elif doing.held == "right":
        sun, ring = by * (SUN + RING) / SUN, 0.0
    return replace(
        motion,
        carrier=motion.carrier + by,
        left=motion.left + sun,
        right=motion.right + ring,
        stalled=False,
    )


def planetary_clear(planets: int) -> bool:
    """Whether neighbouring planets clear: (S + P) sin(π/N) > P + 2, with (S + R)/N whole."""
    fit = (SUN + RING) % planets == 0
    return fit and (planets < 2 or (SUN + PLANET) * sin(pi / planets) > PLANET + 2)


def _figures_planetary(motion: Motion, doing: Doing, setting: Setting) -> Figures:
    whole = (SUN + RING) / setting.planets
    return (
        (say("lesson.sun-has-turned"), say("lesson.degrees", deg=degrees(motion.left))),
        (say("lesson.ring-has-turned"), say("lesson.degrees", deg=degrees(motion.right))),
        (say("lesson.carrier-has-turned"), say("lesson.degrees", deg=degrees(motion.carrier))),
        (say("lesson.torque-to-the-front"), say("lesson.percent", value=100 * SUN / (SUN + RING))),
        (say("lesson.torque-to-the-rear"), say("lesson.percent", value=100 * RING / (SUN + RING))),
        (say("lesson.sun-and-ring-teeth-by-planets"), say("lesson.number", value=whole)),
    )


def _verdict_planetary(motion: Motion, doing: Doing, setting: Setting) -> str:
    if not planetary_clear(setting.planets):
        return say("lesson.neighbouring-planets-collide")
    if motion.left != motion.right:
        return say("lesson.s-sun-and-r-ring-make-the-carrier")
    return say("lesson.torque-is-shared-by-teeth")


PLANETS = (
    Step(
        "rings",
        say("lesson.rings.title"),
        say("lesson.rings.text"),
        say("lesson.rings.question"),
        say("lesson.rings.answer"),
        ("turn", "hold left", "hold right", "corner"),
        lambda setting: bevel_carrier(1, False),
        lambda motion, doing, setting: pose_bevel(1, False, motion),
        moved_open,
        _figures_bevel,
        _verdict_bevel,
        held_and_turned,
        (CORNER,),
        look=(26.0, 24.0),
        drive="both",
    ),
    Step(
        "planets",
        say("lesson.planets.title"),
        say("lesson.planets.text"),
        say("lesson.planets.question"),
        say("lesson.planets.answer"),
        ("turn", "hold left", "hold right"),
        lambda setting: bevel_carrier(setting.planets, False),
        lambda motion, doing, setting: pose_bevel(setting.planets, False, motion),
        _move_planets,
        _figures_planets,
        _verdict_planets,
        lambda motion, doing, setting: not planets_fit(setting.planets),
        (
            Slider("planets", say("lesson.planets"), 1, 5),
            Slider("torque_n_mm", say("lesson.torque"), 50, 1500, 25),
        ),
        Setting(planets=2, torque_n_mm=400.0),
        look=(55.0, 14.0),
    ),
    Step(
        "ring wheel",
        say("lesson.ring-drive.title"),
        say("lesson.ring-drive.text"),
        say("lesson.ring-drive.question"),
        say("lesson.ring-drive.answer"),
        ("turn", "hold left", "hold right", "corner"),
        lambda setting: bevel_carrier(2, True),
        lambda motion, doing, setting: pose_bevel(2, True, motion),
        moved_open,
        _figures_ring,
        _verdict_ring,
        held_and_turned,
        (CORNER,),
        look=(34.0, 28.0),
        drive="both",
    ),
    Step(
        "compact",
        say("lesson.compact.title"),
        say("lesson.compact.text"),
        say("lesson.compact.question"),
        say("lesson.compact.answer"),
        ("turn", "hold left", "hold right"),
        lambda setting: compact(setting.offset_mm, False),
        lambda motion, doing, setting: pose_compact(setting.offset_mm, False, motion, doing),
        moved_open,
        _figures_compact,
        _verdict_compact,
        lambda motion, doing, setting: setting.offset_mm >= 10.0,
        (Slider("offset_mm", say("lesson.pinion-below-the-middle"), 0, 24),),
        look=(38.0, 18.0),
    ),
    Step(
        "limits",
        say("lesson.limits.title"),
        say("lesson.limits.text"),
        say("lesson.limits.question"),
        say("lesson.limits.answer"),
        ("turn", "lift", "lock", "corner"),
        lambda setting: compact(0.0, True),
        lambda motion, doing, setting: pose_compact(0.0, True, motion, doing),
        moved_open,
        _figures_limits,
        _verdict_limits,
        lambda motion, doing, setting: doing.lifted and doing.locked and doing.turning,
        (CORNER,),
        look=(18.0, 18.0),
        drive="both",
    ),
    Step(
        "planetary",
        say("lesson.planetary.title"),
        say("lesson.planetary.text"),
        say("lesson.planetary.question"),
        say("lesson.planetary.answer"),
        ("turn", "hold left", "hold right"),
        lambda setting: planetary(setting.planets),
        lambda motion, doing, setting: pose_planetary(setting.planets, motion),
        _move_planetary,
        _figures_planetary,
        _verdict_planetary,
        held_and_turned,
        (Slider("planets", say("lesson.planets"), 1, 6),),
        Setting(planets=3),
        look=(-52.0, 20.0),
        holds=(say("lesson.hold-the-sun"), say("lesson.hold-the-ring")),
    ),
)
