"""How a differential works, in twelve steps (domain: a fair share that goes round for ever)."""

from dataclasses import replace
from functools import partial
from math import degrees, pi, sin, tan

from mild_badger.core.figures import in_mm, in_n
from mild_badger.core.lesson.axle_scenes import (
    BEAM_X_MM,
    CROWN_MM,
    PLANET,
    RING,
    SIDE_RADIUS_MM,
    SIDE_TEETH,
    SUN,
    bar_carrier,
    bevel_carrier,
    compact,
    fair_beam,
    pinion_and_racks,
    planetary,
    pose_bar,
    pose_beam,
    pose_bevel,
    pose_compact,
    pose_planetary,
    pose_racks,
    pose_rigid,
    pose_star,
    rigid_axle,
    star_carrier,
)
from mild_badger.core.lesson.contact import (
    bar_tilt_rad,
    free_play_deg,
    let_go_rad,
    overlap_rad,
    star_turns,
    star_unevenness,
)
from mild_badger.core.lesson.course import (
    WHEEL_MM,
    Course,
    Figures,
    Slider,
    Step,
    moved_open,
    moved_rigid,
)
from mild_badger.core.lesson.state import Doing, Motion, Setting
from mild_badger.core.lesson.tyres import slips
from mild_badger.core.message import say

__all__ = ["DIFFERENTIAL", "SKIP_N", "planetary_clear", "planets_clear", "planets_fit"]

SKIP_N = 6.0
"""At what force on a tooth the lesson's planets skip (an example)."""
SLIDE_MM_S, TRAVEL_MM, STEEPEST = 26.0, 60.0, 0.65
"""How fast sledges go and how far; half a beam's length by its reach at its steepest."""
PLANET_MM = 12.0
POOR_OFFSET = 0.25
"""Beyond this share of the crown wheel's diameter a pinion off the middle is poor practice."""
FLOOR_MM = 10.0
"""From the propeller shaft's middle to the floor: half the shaft, and room."""


def _turned(doing: Doing, motion: Motion) -> bool:
    return doing.turning or motion.carrier != 0.0


def _speeds(motion: Motion, doing: Doing, setting: Setting) -> Figures:
    """Tell how the wheels turn for a turn of the carrier."""
    if not motion.carrier:
        return ()
    return (
        (say("lesson.left-wheel-has-turned"), say("lesson.degrees", deg=degrees(motion.left))),
        (say("lesson.right-wheel-has-turned"), say("lesson.degrees", deg=degrees(motion.right))),
    )


def _road(drive: str, motion: Motion, doing: Doing, setting: Setting) -> Figures:
    if not doing.corner:
        return ()
    rows = [
        (say("lesson.paths-differ-over-a-circle"), in_mm(2 * pi * setting.track_mm, 0)),
    ]
    rigid = drive == "solid" or doing.locked
    slip = abs(slips("solid" if rigid else "both", doing, setting)[0])
    none = say("lesson.none")
    rows.append(
        (say("lesson.each-tyre-slides"), say("lesson.percent", value=100 * slip) if slip else none)
    )
    return tuple(rows)


def _force(setting: Setting, arm_mm: float, points: int) -> float:
    """Give the force at each of so many points: half of the torque goes to either side."""
    return setting.torque_n_mm / (2 * arm_mm * points)


# 1, 2


def _figures_rigid(motion: Motion, doing: Doing, setting: Setting) -> Figures:
    return (
        *_road("solid", motion, doing, setting),
        (say("lesson.wheels-that-push"), "2"),
        (say("lesson.how-far-wheels-may-differ"), say("lesson.not-at-all")),
    )


def _verdict_rigid(motion: Motion, doing: Doing, setting: Setting) -> str:
    if motion.stalled:
        return say("lesson.a-held-wheel-stalls-the-motor")
    if doing.corner:
        return say("lesson.both-tyres-smear")
    return say("lesson.both-wheels-push-alike")


def _move_one(motion: Motion, doing: Doing, setting: Setting, seconds: float) -> Motion:
    """Move on with the left wheel driven: the right one rolls as the road has it."""
    if not doing.turning:
        return motion
    if doing.held == "left":
        return replace(motion, stalled=True)
    moved = moved_open(Motion(), replace(doing, held="", lifted=False), setting, seconds)
    by = moved.carrier
    # the driven wheel turns with the motor; a corner lets the other run by R + t/2 to R - t/2
    left = by
    right = by * moved.right / moved.left if moved.left else by
    if doing.held == "right":
        right = 0.0
    return replace(
        motion,
        carrier=motion.carrier + by,
        left=motion.left + left,
        right=motion.right + right,
        way_mm=motion.way_mm + (0.0 if doing.held else WHEEL_MM * (left + right) / 2),
        stalled=False,
    )


def _figures_one(motion: Motion, doing: Doing, setting: Setting) -> Figures:
    rows: list[tuple[str, str]] = []
    if doing.corner:
        rows.append((say("lesson.paths-differ-over-a-circle"), in_mm(2 * pi * setting.track_mm, 0)))
        rows.append((say("lesson.each-tyre-slides"), say("lesson.none")))
    rows.append((say("lesson.wheels-that-push"), "1"))
    rows.append((say("lesson.grip-used"), say("lesson.half-of-it")))
    return tuple(rows)


def _verdict_one(motion: Motion, doing: Doing, setting: Setting) -> str:
    if motion.stalled:
        return say("lesson.a-held-wheel-stalls-the-motor")
    if doing.held == "right":
        return say("lesson.the-free-wheel-does-nothing")
    return (
        say("lesson.no-smear-and-half-the-push") if doing.corner else say("lesson.one-wheel-pushes")
    )


# 3 and 6: on straight rails


def _move_straight(
    most_mm: float | None, motion: Motion, doing: Doing, setting: Setting, seconds: float
) -> Motion:
    """Move sledges on; a held one stays, and the other goes twice as far until that runs out."""
    if not doing.turning:
        return motion
    by = SLIDE_MM_S * seconds
    left, right = by, by
    if doing.held == "left":
        left, right = 0.0, 2 * by
    elif doing.held == "right":
        left, right = 2 * by, 0.0
    apart = motion.left + left - motion.carrier - by
    if most_mm is not None and abs(apart) > most_mm:
        return replace(motion, stalled=True)
    if max(motion.left + left, motion.right + right) > TRAVEL_MM:
        return replace(motion, slipped=True)
    return replace(
        motion,
        carrier=motion.carrier + by,
        left=motion.left + left,
        right=motion.right + right,
        stalled=False,
    )


MOST_APART_MM = BEAM_X_MM * STEEPEST


def _figures_beam(motion: Motion, doing: Doing, setting: Setting) -> Figures:
    return (
        (say("lesson.left-load-has-gone"), in_mm(motion.left, 0)),
        (say("lesson.right-load-has-gone"), in_mm(motion.right, 0)),
        (say("lesson.middle-has-gone"), in_mm(motion.carrier, 0)),
        (say("lesson.pull-on-each-load"), say("lesson.half-of-the-pull")),
        (say("lesson.one-may-run-ahead-by"), in_mm(2 * MOST_APART_MM, 0)),
    )


def _verdict_beam(motion: Motion, doing: Doing, setting: Setting) -> str:
    if motion.stalled:
        return say("lesson.the-beam-is-at-its-end")
    if motion.slipped:
        return say("lesson.the-rails-end-here")
    if motion.left != motion.right:
        return say("lesson.the-middle-goes-at-the-mean")
    return say("lesson.both-ends-pull-alike")


def _figures_racks(motion: Motion, doing: Doing, setting: Setting) -> Figures:
    return (
        (say("lesson.left-rack-has-gone"), in_mm(motion.left, 0)),
        (say("lesson.right-rack-has-gone"), in_mm(motion.right, 0)),
        (say("lesson.pinion-has-gone"), in_mm(motion.carrier, 0)),
        (say("lesson.one-may-run-ahead-by"), say("lesson.as-long-as-the-racks-are")),
        (say("lesson.unevenness"), say("lesson.none")),
    )


def _verdict_racks(motion: Motion, doing: Doing, setting: Setting) -> str:
    if motion.slipped:
        return say("lesson.the-rails-end-here")
    if motion.left != motion.right:
        return say("lesson.the-other-rack-goes-twice-as-far")
    return say("lesson.the-pinion-does-not-turn")


# 4: the bar


def _move_bar(motion: Motion, doing: Doing, setting: Setting, seconds: float) -> Motion:
    if not doing.turning:
        return motion
    if motion.slipped:
        by = moved_open(Motion(), Doing(turning=True), setting, seconds).carrier
        return replace(motion, carrier=motion.carrier + by)
    moved = moved_open(motion, doing, setting, seconds)
    if abs(moved.carrier - moved.left) > let_go_rad(setting):
        return replace(motion, slipped=True)
    return moved


def _figures_bar(motion: Motion, doing: Doing, setting: Setting) -> Figures:
    ahead, limit = motion.carrier - motion.left, let_go_rad(setting)
    turns = let_go_rad(setting) * 2 * setting.radius_mm / setting.track_mm
    return (
        *_speeds(motion, doing, setting),
        (say("lesson.one-may-run-ahead-by"), say("lesson.degrees-either-way", deg=degrees(limit))),
        (
            say("lesson.bar-tilts-by"),
            say("lesson.degrees", deg=degrees(bar_tilt_rad(setting, ahead)))
            if not motion.slipped
            else say("lesson.slipped-off"),
        ),
        (
            say("lesson.force-on-each-arm"),
            in_n(0.0 if motion.slipped else _force(setting, setting.arm_mm, 1), 1),
        ),
        (say("lesson.a-corner-lasts-for"), say("lesson.degrees", deg=degrees(turns))),
    )


def _verdict_bar(motion: Motion, doing: Doing, setting: Setting) -> str:
    if motion.slipped:
        return say("lesson.the-bar-has-slipped-off")
    if motion.left != motion.right:
        return say("lesson.the-bar-tilts-and-still-pushes-both")
    return say("lesson.the-bar-pushes-both-arms")


# 5: the star


def _move_star(motion: Motion, doing: Doing, setting: Setting, seconds: float) -> Motion:
    moved = moved_open(motion, doing, setting, seconds)
    if star_turns(setting) or moved.left == moved.right or not doing.turning:
        return moved
    # the star cannot turn: until arms meet one side may still fall back a little
    room = max(pi / setting.arms - overlap_rad(setting) / 2, 0.0)
    if abs(moved.carrier - moved.left) > min(room, pi / setting.arms) - 0.02:
        return replace(motion, stalled=True)
    return moved


def _figures_star(motion: Motion, doing: Doing, setting: Setting) -> Figures:
    overlap, uneven = degrees(overlap_rad(setting)), star_unevenness(setting)
    rows = [
        *_speeds(motion, doing, setting),
        (
            say("lesson.how-far-wheels-may-differ"),
            say("lesson.without-end") if star_turns(setting) else say("lesson.to-the-next-arm"),
        ),
    ]
    if not star_turns(setting):
        rows.append((say("lesson.arms-overlap-by"), say("lesson.degrees-fine", deg=overlap)))
    else:
        play = free_play_deg(setting)
        rows.append(
            (
                say("lesson.free-play"),
                say("lesson.degrees-fine", deg=play) if play > 0.05 else say("lesson.none"),
            )
        )
        rows.append(
            (
                say("lesson.unevenness-of-the-star"),
                say("lesson.none")
                if uneven is None or uneven < 1e-6
                else say("lesson.percent", value=100 * uneven),
            )
        )
    rows.append((say("lesson.force-on-each-arm"), in_n(_force(setting, setting.arm_mm, 1), 1)))
    return tuple(rows)


def _verdict_star(motion: Motion, doing: Doing, setting: Setting) -> str:
    if not star_turns(setting):
        if motion.stalled:
            return say("lesson.arms-have-met-the-star-is-stuck")
        return say("lesson.neighbouring-arms-overlap")
    if free_play_deg(setting) > 0.05:
        return say("lesson.arm-after-arm-takes-over-with-play")
    return say("lesson.arm-after-arm-takes-over")


# 7 to 9


def _figures_bevel(motion: Motion, doing: Doing, setting: Setting) -> Figures:
    return (
        *_speeds(motion, doing, setting),
        *_road("both", motion, doing, setting),
        (say("lesson.how-far-wheels-may-differ"), say("lesson.without-end")),
        (say("lesson.unevenness"), say("lesson.none")),
        (say("lesson.force-on-a-tooth"), in_n(_force(setting, SIDE_RADIUS_MM, 1), 1)),
    )


def _verdict_bevel(motion: Motion, doing: Doing, setting: Setting) -> str:
    if motion.left != motion.right:
        return say("lesson.the-planet-rolls-and-the-mean-is-kept")
    return say("lesson.the-planet-does-not-roll")


def planets_fit(planets: int) -> bool:
    """Whether so many equal planets mesh with two side gears: 2 S / N is whole."""
    return (2 * SIDE_TEETH) % planets == 0


def planets_clear(planets: int) -> bool:
    """Whether neighbours among so many planets clear each other at their outer ends."""
    if planets < 3:
        return True
    return SIDE_RADIUS_MM * tan(pi / planets) > PLANET_MM + 3.0


def _skips(setting: Setting) -> bool:
    return _force(setting, SIDE_RADIUS_MM, setting.planets) > SKIP_N


def _move_planets(motion: Motion, doing: Doing, setting: Setting, seconds: float) -> Motion:
    if doing.turning and not planets_fit(setting.planets):
        return replace(motion, stalled=True)
    return moved_open(replace(motion, stalled=False), doing, setting, seconds)


def _figures_planets(motion: Motion, doing: Doing, setting: Setting) -> Figures:
    force = _force(setting, SIDE_RADIUS_MM, setting.planets)
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
        *_speeds(motion, doing, setting),
        (say("lesson.ring-wheel-has-turned"), say("lesson.degrees", deg=degrees(motion.carrier))),
        *_road("both", motion, doing, setting),
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
        *_speeds(motion, doing, setting),
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
        *_speeds(motion, doing, setting),
        (say("lesson.the-vehicle-has-gone"), in_mm(motion.way_mm, 0)),
        (say("lesson.what-pushes"), push),
        *_road("both", motion, doing, setting),
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


def _held_and_turned(motion: Motion, doing: Doing, setting: Setting) -> bool:
    return bool(doing.held) and motion.left != motion.right


def _stalled(motion: Motion, doing: Doing, setting: Setting) -> bool:
    return motion.stalled


def _cornered(motion: Motion, doing: Doing, setting: Setting) -> bool:
    return doing.corner and motion.way_mm > setting.track_mm


CORNER = Slider("radius_mm", say("lesson.radius-of-the-corner"), 150, 900, 10)

DIFFERENTIAL = Course(
    "differential",
    say("lesson.how-a-differential-works"),
    (
        Step(
            "solid",
            say("lesson.solid.title"),
            say("lesson.solid.text"),
            say("lesson.solid.question"),
            say("lesson.solid.answer"),
            ("turn", "hold left", "hold right", "corner"),
            lambda setting: rigid_axle(False),
            lambda motion, doing, setting: pose_rigid(False, motion),
            moved_rigid,
            _figures_rigid,
            _verdict_rigid,
            _cornered,
            (CORNER,),
            look=(28.0, 26.0),
            drive="solid",
        ),
        Step(
            "one",
            say("lesson.one.title"),
            say("lesson.one.text"),
            say("lesson.one.question"),
            say("lesson.one.answer"),
            ("turn", "hold left", "hold right", "corner"),
            lambda setting: rigid_axle(True),
            lambda motion, doing, setting: pose_rigid(True, motion),
            _move_one,
            _figures_one,
            _verdict_one,
            lambda motion, doing, setting: doing.held == "right" and motion.left > motion.right,
            (CORNER,),
            look=(40.0, 20.0),
            drive="one",
        ),
        Step(
            "beam",
            say("lesson.fair.title"),
            say("lesson.fair.text"),
            say("lesson.fair.question"),
            say("lesson.fair.answer"),
            ("turn", "hold left", "hold right"),
            lambda setting: fair_beam(),
            lambda motion, doing, setting: pose_beam(motion),
            partial(_move_straight, MOST_APART_MM),
            _figures_beam,
            _verdict_beam,
            _stalled,
            look=(64.0, 40.0),
        ),
        Step(
            "bar",
            say("lesson.bar.title"),
            say("lesson.bar.text"),
            say("lesson.bar.question"),
            say("lesson.bar.answer"),
            ("turn", "hold left", "hold right", "corner"),
            bar_carrier,
            lambda motion, doing, setting: pose_bar(motion, setting),
            _move_bar,
            _figures_bar,
            _verdict_bar,
            lambda motion, doing, setting: motion.slipped,
            (Slider("bar_mm", say("lesson.half-the-bars-length"), 11, 30),),
            look=(24.0, 30.0),
        ),
        Step(
            "star",
            say("lesson.star.title"),
            say("lesson.star.text"),
            say("lesson.star.question"),
            say("lesson.star.answer"),
            ("turn", "hold left", "hold right"),
            star_carrier,
            lambda motion, doing, setting: pose_star(motion, setting),
            _move_star,
            _figures_star,
            _verdict_star,
            lambda motion, doing, setting: star_turns(setting) and motion.left != motion.right,
            (
                Slider("arms", say("lesson.arms-of-each-star"), 3, 10),
                Slider("gap_mm", say("lesson.from-the-stars-middle-to-a-side"), 8, 16),
            ),
            look=(20.0, 38.0),
        ),
        Step(
            "racks",
            say("lesson.racks.title"),
            say("lesson.racks.text"),
            say("lesson.racks.question"),
            say("lesson.racks.answer"),
            ("turn", "hold left", "hold right"),
            lambda setting: pinion_and_racks(),
            lambda motion, doing, setting: pose_racks(motion),
            partial(_move_straight, None),
            _figures_racks,
            _verdict_racks,
            _held_and_turned,
            look=(64.0, 46.0),
        ),
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
            _held_and_turned,
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
            _held_and_turned,
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
            _held_and_turned,
            (Slider("planets", say("lesson.planets"), 1, 6),),
            Setting(planets=3),
            look=(-52.0, 20.0),
            holds=(say("lesson.hold-the-sun"), say("lesson.hold-the-ring")),
        ),
    ),
)
