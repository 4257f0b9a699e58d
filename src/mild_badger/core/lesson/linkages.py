"""Steps one to six of the differential: rigid axle, one wheel driven, beam, bar, star, racks."""

from dataclasses import replace
from functools import partial
from math import degrees, pi

from mild_badger.core.figures import in_mm, in_n
from mild_badger.core.lesson.axle_scenes import (
    BEAM_X_MM,
    bar_carrier,
    fair_beam,
    pinion_and_racks,
    pose_bar,
    pose_beam,
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
    Figures,
    Slider,
    Step,
    moved_open,
    moved_rigid,
)
from mild_badger.core.lesson.state import Doing, Motion, Setting
from mild_badger.core.lesson.telling import (
    CORNER,
    cornered,
    force_at,
    held_and_turned,
    road_told,
    speeds_told,
    stalled,
)
from mild_badger.core.message import say

__all__ = ["LINKAGES"]

SLIDE_MM_S, TRAVEL_MM, STEEPEST = 26.0, 60.0, 0.65
"""How fast sledges go and how far; half a beam's length by its reach at its steepest."""

# 1, 2


def _figures_rigid(motion: Motion, doing: Doing, setting: Setting) -> Figures:
    return (
        *road_told("solid", motion, doing, setting),
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
        *speeds_told(motion, doing, setting),
        (say("lesson.one-may-run-ahead-by"), say("lesson.degrees-either-way", deg=degrees(limit))),
        (
            say("lesson.bar-tilts-by"),
            say("lesson.degrees", deg=degrees(bar_tilt_rad(setting, ahead)))
            if not motion.slipped
            else say("lesson.slipped-off"),
        ),
        (
            say("lesson.force-on-each-arm"),
            in_n(0.0 if motion.slipped else force_at(setting, setting.arm_mm, 1), 1),
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
        *speeds_told(motion, doing, setting),
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
    rows.append((say("lesson.force-on-each-arm"), in_n(force_at(setting, setting.arm_mm, 1), 1)))
    return tuple(rows)


def _verdict_star(motion: Motion, doing: Doing, setting: Setting) -> str:
    if not star_turns(setting):
        if motion.stalled:
            return say("lesson.arms-have-met-the-star-is-stuck")
        return say("lesson.neighbouring-arms-overlap")
    if free_play_deg(setting) > 0.05:
        return say("lesson.arm-after-arm-takes-over-with-play")
    return say("lesson.arm-after-arm-takes-over")


LINKAGES = (
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
        cornered,
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
        stalled,
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
        held_and_turned,
        look=(64.0, 46.0),
    ),
)
