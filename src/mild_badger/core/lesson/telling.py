"""What several steps of the lesson tell and try: turns of wheels, paths, force, a corner."""

from math import degrees, pi

from mild_badger.core.figures import in_mm
from mild_badger.core.lesson.course import (
    Figures,
    Slider,
)
from mild_badger.core.lesson.state import Doing, Motion, Setting
from mild_badger.core.lesson.tyres import slips
from mild_badger.core.message import say

__all__ = [
    "CORNER",
    "cornered",
    "force_at",
    "held_and_turned",
    "road_told",
    "speeds_told",
    "stalled",
]

CORNER = Slider("radius_mm", say("lesson.radius-of-the-corner"), 150, 900, 10)


def speeds_told(motion: Motion, doing: Doing, setting: Setting) -> Figures:
    """Tell how the wheels turn for a turn of the carrier."""
    if not motion.carrier:
        return ()
    return (
        (say("lesson.left-wheel-has-turned"), say("lesson.degrees", deg=degrees(motion.left))),
        (say("lesson.right-wheel-has-turned"), say("lesson.degrees", deg=degrees(motion.right))),
    )


def road_told(drive: str, motion: Motion, doing: Doing, setting: Setting) -> Figures:
    """Tell how far the wheels' paths differ round a corner, and how tyres slide; none elsewhere."""
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


def force_at(setting: Setting, arm_mm: float, points: int) -> float:
    """Give the force at each of so many points: half of the torque goes to either side."""
    return setting.torque_n_mm / (2 * arm_mm * points)


def held_and_turned(motion: Motion, doing: Doing, setting: Setting) -> bool:
    """Whether a held wheel made the other turn otherwise."""
    return bool(doing.held) and motion.left != motion.right


def stalled(motion: Motion, doing: Doing, setting: Setting) -> bool:
    """Whether it got stuck."""
    return motion.stalled


def cornered(motion: Motion, doing: Doing, setting: Setting) -> bool:
    """Whether a stretch of corner was driven."""
    return doing.corner and motion.way_mm > setting.track_mm
