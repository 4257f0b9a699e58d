"""What a lesson is: steps, each with a mechanism, what may be done, figures and a question."""

from collections.abc import Callable
from dataclasses import dataclass, field, replace

import numpy as np

from mild_badger.core.lesson.state import (
    Act,
    Doing,
    Knob,
    Mechanism,
    Motion,
    Pose,
    Setting,
)
from mild_badger.core.lesson.tyres import Drive
from mild_badger.core.message import say
from mild_badger.core.scene.mesh import Floats

__all__ = [
    "Course",
    "Figures",
    "Slider",
    "Step",
    "moved_open",
    "moved_rigid",
    "poses",
    "rotation",
    "still",
]

Figures = tuple[tuple[str, str], ...]
RATE_RAD_S = 2.0
"""How fast a carrier is turned (about 19 turns a minute, by hand)."""
WHEEL_MM = 28.0
"""Radius of the lessons' road wheels."""


@dataclass(frozen=True)
class Slider:
    """A slider: what it sets, its words, from where to where by which steps.

    ``named`` are the words of its values, by whole numbers from 0; none where they are figures.
    """

    knob: Knob
    words: str
    low: float
    high: float
    step: float = 1.0
    named: tuple[str, ...] = ()


@dataclass(frozen=True)
class Step:
    """One step of a lesson.

    ``build`` gives the same object for settings of one shape. ``look`` is from where it is seen,
    degrees round and up; ``starts`` what sliders stand at.
    ``tried`` says whether what the question asks has been tried. ``drive`` is how the axle is
    driven, where tyres leave lines; None where nothing stands on a road. ``holds`` name what is
    held at the left and at the right.
    """

    key: str
    title: str
    text: str
    question: str
    answer: str
    acts: tuple[Act, ...]
    build: Callable[[Setting], Mechanism]
    pose: Callable[[Motion, Doing, Setting], Pose]
    move: Callable[[Motion, Doing, Setting, float], Motion]
    figures: Callable[[Motion, Doing, Setting], Figures]
    verdict: Callable[[Motion, Doing, Setting], str]
    tried: Callable[[Motion, Doing, Setting], bool]
    sliders: tuple[Slider, ...] = ()
    starts: Setting = field(default_factory=Setting)
    look: tuple[float, float] = (32.0, 24.0)
    drive: Drive | None = None
    holds: tuple[str, str] = (say("lesson.hold-left"), say("lesson.hold-right"))


@dataclass(frozen=True)
class Course:
    """A lesson: its key, its title, its steps."""

    key: str
    title: str
    steps: tuple[Step, ...]


def rotation(axis: str, angle: float) -> Floats:
    """Give the turn about an axis by an angle, rad, as a matrix (3, 3)."""
    c, s = np.cos(angle), np.sin(angle)
    match axis:
        case "x":
            return np.array(((1.0, 0.0, 0.0), (0.0, c, -s), (0.0, s, c)))
        case "y":
            return np.array(((c, 0.0, s), (0.0, 1.0, 0.0), (-s, 0.0, c)))
        case _:
            return np.array(((c, -s, 0.0), (s, c, 0.0), (0.0, 0.0, 1.0)))


def still() -> Floats:
    """Give the turn that is none."""
    return np.eye(3)


def poses(*each: tuple[Floats, tuple[float, float, float]]) -> Pose:
    """Gather how bodies are turned and where they stand."""
    return np.array([turn for turn, _ in each]), np.array([place for _, place in each])


def moved_open(motion: Motion, doing: Doing, setting: Setting, seconds: float) -> Motion:
    """Move an open differential on: left + right = 2 carrier, and what the road or hand says."""
    if not doing.turning:
        return motion
    by = RATE_RAD_S * seconds
    left, right = by, by
    if doing.locked:
        if doing.held:
            return replace(motion, stalled=True)
    elif doing.held == "left":
        left, right = 0.0, 2 * by
    elif doing.held == "right" or doing.lifted:
        left, right = 2 * by, 0.0
    elif doing.corner:
        share = setting.track_mm / (2 * setting.radius_mm)
        left, right = by * (1 - share), by * (1 + share)
    rolls = not doing.held and not (doing.lifted and not doing.locked)
    return replace(
        motion,
        carrier=motion.carrier + by,
        left=motion.left + left,
        right=motion.right + right,
        way_mm=motion.way_mm + (WHEEL_MM * by if rolls else 0.0),
        stalled=False,
    )


def moved_rigid(motion: Motion, doing: Doing, setting: Setting, seconds: float) -> Motion:
    """Move a rigid axle on: both wheels alike, and a held one stalls it."""
    return moved_open(motion, replace(doing, locked=True), setting, seconds)
