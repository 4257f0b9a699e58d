"""Shorter lessons: steps of gears, directions in a slot box, lever and drum, teeth that skip."""

from dataclasses import replace
from math import cos, degrees, pi, sin

from mild_badger.core.figures import in_mm, in_n, in_n_mm
from mild_badger.core.lesson.course import RATE_RAD_S, Course, Figures, Slider, Step
from mild_badger.core.lesson.gearbox_scenes import (
    BEND_DRAWN,
    FINGER_MM,
    LEVER_MM,
    SKIP_MODULE,
    SKIP_TEETH,
    THROW_MM,
    bending,
    lever_and_drum,
    pairs_in_a_row,
    pose_bending,
    pose_pairs,
    pose_shifter,
    pose_train,
    ratio_of,
    track_mm,
    train,
)
from mild_badger.core.lesson.shapes import ALPHA
from mild_badger.core.lesson.state import Doing, Motion, Setting
from mild_badger.core.message import say

__all__ = ["DIRECTIONS", "SHIFTERS", "SKIPPING", "STEPS", "away_mm", "skip_torque_n_mm"]

# why steps shrink


def _move_pairs(motion: Motion, doing: Doing, setting: Setting, seconds: float) -> Motion:
    if not doing.turning:
        return motion
    by = 2 * RATE_RAD_S * seconds
    return replace(
        motion,
        carrier=motion.carrier + by,
        left=motion.left + by / ratio_of(setting, setting.gear),
    )


def falls_to(setting: Setting, gear: int) -> float | None:
    """Give to which share of its speed the motor falls on shifting up from a gear."""
    return ratio_of(setting, gear + 1) / ratio_of(setting, gear) if gear < 5 else None


def _figures_pairs(motion: Motion, doing: Doing, setting: Setting) -> Figures:
    rows = [
        (
            say("lesson.gear-and-ratio", gear=gear),
            say("lesson.ratio", value=ratio_of(setting, gear)),
        )
        for gear in range(1, 6)
    ]
    for gear in range(1, 5):
        share = falls_to(setting, gear)
        if share is not None:
            rows.append(
                (
                    say("lesson.motor-falls-from-to", gear=gear, next=gear + 1),
                    say("lesson.percent", value=100 * share),
                )
            )
    return tuple(rows)


def _verdict_pairs(motion: Motion, doing: Doing, setting: Setting) -> str:
    share = falls_to(setting, setting.gear)
    if share is None:
        return say("lesson.top-gear-turns-the-output-as-the-input")
    return say("lesson.shifting-up-the-motor-falls-to", share=100 * share)


STEPS = Course(
    "steps",
    say("lesson.steps.title"),
    (
        Step(
            "steps",
            say("lesson.steps.title"),
            say("lesson.steps.text"),
            say("lesson.steps.question"),
            say("lesson.steps.answer"),
            ("turn",),
            lambda setting: pairs_in_a_row(setting.choice, setting.gear),
            lambda motion, doing, setting: pose_pairs(motion, setting),
            _move_pairs,
            _figures_pairs,
            _verdict_pairs,
            lambda motion, doing, setting: setting.choice == 1 and setting.gear >= 4,
            (
                Slider(
                    "choice",
                    say("lesson.steps-of-the-gears"),
                    0,
                    1,
                    named=(say("lesson.alike"), say("lesson.shrinking")),
                ),
                Slider("gear", say("lesson.engaged-gear"), 1, 5),
            ),
            look=(38.0, 26.0),
        ),
    ),
)

# why directions alternate


def _move_train(motion: Motion, doing: Doing, setting: Setting, seconds: float) -> Motion:
    if not doing.turning:
        return motion
    by = RATE_RAD_S * seconds
    sign = -1.0 if setting.gear % 2 == 0 else 1.0
    return replace(motion, carrier=motion.carrier + by, left=motion.left + sign * by)


def _figures_train(motion: Motion, doing: Doing, setting: Setting) -> Figures:
    same = setting.gear % 2 == 1
    return (
        (say("lesson.gears-in-the-row"), str(setting.gear)),
        (say("lesson.meshes"), str(setting.gear - 1)),
        (say("lesson.input-has-turned"), say("lesson.degrees", deg=degrees(motion.carrier))),
        (say("lesson.output-has-turned"), say("lesson.degrees", deg=degrees(motion.left))),
        (
            say("lesson.output-turns"),
            say("lesson.as-the-input") if same else say("lesson.against-the-input"),
        ),
    )


def _verdict_train(motion: Motion, doing: Doing, setting: Setting) -> str:
    if setting.gear % 2:
        return say("lesson.an-even-number-of-meshes-keeps-the-direction")
    return say("lesson.an-odd-number-of-meshes-turns-it-round")


DIRECTIONS = Course(
    "directions",
    say("lesson.directions.title"),
    (
        Step(
            "directions",
            say("lesson.directions.title"),
            say("lesson.directions.text"),
            say("lesson.directions.question"),
            say("lesson.directions.answer"),
            ("turn",),
            lambda setting: train(setting.gear),
            lambda motion, doing, setting: pose_train(motion, setting.gear),
            _move_train,
            _figures_train,
            _verdict_train,
            lambda motion, doing, setting: setting.gear in (3, 5) and motion.carrier != 0.0,
            (Slider("gear", say("lesson.gears-in-the-row"), 2, 5),),
            Setting(gear=2),
            look=(14.0, 18.0),
        ),
    ),
)

# lever and drum


def _move_shifter(motion: Motion, doing: Doing, setting: Setting, seconds: float) -> Motion:
    if not doing.turning:
        return motion
    by = RATE_RAD_S * seconds / 2
    turned = motion.carrier + by
    gone = THROW_MM * sin(turned) if setting.choice == 0 else track_mm(turned)
    return replace(
        motion,
        carrier=turned,
        more=gone,
        left=motion.left + 2 * by,
        right=motion.right - 1.4 * by,
    )


def _knob_mm(motion: Motion) -> float:
    return -motion.more * LEVER_MM / FINGER_MM


def _figures_shifter(motion: Motion, doing: Doing, setting: Setting) -> Figures:
    rows = []
    if setting.choice == 0:
        rows.append((say("lesson.knob-has-gone-forwards"), in_mm(-_knob_mm(motion), 0, sign=True)))
        rows.append((say("lesson.sleeve-has-gone-forwards"), in_mm(-motion.more, 1, sign=True)))
        rows.append(
            (say("lesson.lever-arms"), say("lesson.ratio", value=LEVER_MM / FINGER_MM)),
        )
    else:
        rows.append(
            (say("lesson.drum-has-turned"), say("lesson.degrees", deg=degrees(motion.carrier)))
        )
        rows.append((say("lesson.sleeve-has-gone-forwards"), in_mm(-motion.more, 1, sign=True)))
    return tuple(rows)


def _verdict_shifter(motion: Motion, doing: Doing, setting: Setting) -> str:
    if motion.more > 0.9 * THROW_MM:
        return say("lesson.the-front-gear-is-in")
    if motion.more < -0.9 * THROW_MM:
        return say("lesson.the-back-gear-is-in")
    return say("lesson.the-sleeve-is-on-its-way")


SHIFTERS = Course(
    "shifters",
    say("lesson.shifters.title"),
    (
        Step(
            "shifters",
            say("lesson.shifters.title"),
            say("lesson.shifters.text"),
            say("lesson.shifters.question"),
            say("lesson.shifters.answer"),
            ("turn",),
            lambda setting: lever_and_drum(setting.choice),
            lambda motion, doing, setting: pose_shifter(setting.choice, motion),
            _move_shifter,
            _figures_shifter,
            _verdict_shifter,
            lambda motion, doing, setting: abs(motion.more) > 0.9 * THROW_MM,
            (
                Slider(
                    "choice",
                    say("lesson.shifted-by"),
                    0,
                    1,
                    named=(say("lesson.a-lever"), say("lesson.a-drum")),
                ),
            ),
            look=(58.0, 20.0),
        ),
    ),
)

# why teeth skip

SHAFT_MM, STIFF_N_MM2 = 5.0, 10_000.0
"""The shafts' diameter, and how stiff beech is along its grain (handbooks give 10 to 14 kN/mm²)."""
SKIP_SHARE = 0.8
"""Teeth skip when pushed apart by this share of two modules (common practice, no source)."""


def away_mm(setting: Setting, torque_n_mm: float) -> float:
    """Give by how much two gears are pushed apart, mm: both shafts bend as beams, F l³ / (48 E I).

    The force between teeth is M / (r cos α), of which sin α pushes apart.
    """
    radius = SKIP_TEETH * SKIP_MODULE / 2
    force = torque_n_mm / (radius * cos(ALPHA)) * sin(ALPHA)
    stiff = 48 * STIFF_N_MM2 * pi * SHAFT_MM**4 / 64
    return 2 * force * setting.span_mm**3 / stiff


def skip_torque_n_mm(setting: Setting) -> float:
    """Give the torque at which teeth skip, N·mm."""
    return SKIP_SHARE * 2 * SKIP_MODULE / away_mm(setting, 1.0)


def _skips(setting: Setting) -> bool:
    return setting.torque_n_mm > skip_torque_n_mm(setting)


def _move_bending(motion: Motion, doing: Doing, setting: Setting, seconds: float) -> Motion:
    """Move on; where teeth skip the driven gear falls back tooth by tooth."""
    if not doing.turning:
        return motion
    by = RATE_RAD_S * seconds
    slipping = doing.loaded and _skips(setting)
    pitch = 2 * pi / SKIP_TEETH
    turned = motion.carrier + by
    # pushed out of mesh it stands, and drops back where the next gap comes by
    driven = motion.left if slipping else motion.left + by
    if slipping and int(turned / pitch) == int(motion.carrier / pitch):
        driven = motion.left
    off = (turned - driven) / pitch
    return replace(
        motion,
        carrier=turned,
        left=driven if slipping else turned - round(off) * pitch,
        slipped=slipping,
    )


def _figures_bending(motion: Motion, doing: Doing, setting: Setting) -> Figures:
    torque = setting.torque_n_mm if doing.loaded else 0.0
    away = away_mm(setting, torque)
    force = torque / (SKIP_TEETH * SKIP_MODULE / 2 * cos(ALPHA)) * sin(ALPHA)
    return (
        (say("lesson.torque-on-the-driver"), in_n_mm(torque, 0)),
        (say("lesson.force-that-pushes-apart"), in_n(force, 1)),
        (say("lesson.gears-pushed-apart-by"), in_mm(away, 2)),
        (say("lesson.teeth-skip-from"), in_mm(SKIP_SHARE * 2 * SKIP_MODULE, 1)),
        (say("lesson.that-is-at"), in_n_mm(skip_torque_n_mm(setting), 0)),
        (say("lesson.bending-is-drawn"), say("lesson.times", value=BEND_DRAWN)),
    )


def _verdict_bending(motion: Motion, doing: Doing, setting: Setting) -> str:
    if not doing.loaded:
        return say("lesson.without-a-load-shafts-are-straight")
    if _skips(setting):
        return say("lesson.the-shafts-bend-apart-and-the-teeth-skip")
    return say("lesson.the-shafts-bend-and-the-teeth-hold")


SKIPPING = Course(
    "skipping",
    say("lesson.skipping.title"),
    (
        Step(
            "skipping",
            say("lesson.skipping.title"),
            say("lesson.skipping.text"),
            say("lesson.skipping.question"),
            say("lesson.skipping.answer"),
            ("turn", "load"),
            lambda setting: bending(setting.span_mm),
            lambda motion, doing, setting: pose_bending(
                motion,
                setting,
                min(away_mm(setting, setting.torque_n_mm), 4.0) if doing.loaded else 0.0,
            ),
            _move_bending,
            _figures_bending,
            _verdict_bending,
            lambda motion, doing, setting: doing.loaded and setting.span_mm <= 60.0,
            (
                Slider("torque_n_mm", say("lesson.torque"), 100, 3000, 50),
                Slider("span_mm", say("lesson.from-wall-to-wall"), 30, 120, 5),
            ),
            Setting(torque_n_mm=2000.0, span_mm=110.0),
            look=(40.0, 34.0),
        ),
    ),
)
