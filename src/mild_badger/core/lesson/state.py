"""What a learner does and sets, and how far a lesson's mechanism has moved.

Angles in rad, forwards positive; lengths mm, forces N, torques N·mm.
"""

from dataclasses import dataclass, field
from typing import Literal

from mild_badger.core.scene.mesh import Floats, Mesh

__all__ = ["Act", "Body", "Doing", "Knob", "Label", "Mechanism", "Motion", "Pose", "Setting"]

Act = Literal["turn", "hold left", "hold right", "corner", "lift", "lock", "load"]
"""What a learner may do: hold and lift concern wheels, load is the hand on the output."""
Knob = Literal[
    "arms",
    "gap_mm",
    "bar_mm",
    "planets",
    "torque_n_mm",
    "radius_mm",
    "offset_mm",
    "choice",
    "gear",
    "span_mm",
]
Pose = tuple[Floats, Floats]
"""How bodies are turned (n, 3, 3) and where they stand (n, 3), mm."""


@dataclass(frozen=True)
class Doing:
    """What the learner does now; ``held`` is the side that is held still."""

    turning: bool = False
    held: Literal["", "left", "right"] = ""
    corner: bool = False
    lifted: bool = False
    locked: bool = False
    loaded: bool = False


@dataclass(frozen=True)
class Setting:
    """What sliders set.

    ``arms`` of a star and of each side; ``gap_mm`` from the star's middle to either side's plane;
    ``arm_mm`` from the axle to the bar; ``bar_mm`` half a bar's length, ``spoke_mm`` a side arm's;
    ``radius_mm`` of a corner; ``offset_mm`` by which the pinion lies below the axle; ``choice`` is
    which of several the lesson shows, ``gear`` which is engaged; ``span_mm`` is from wall to wall.
    """

    arms: int = 4
    gap_mm: float = 10.0
    arm_mm: float = 12.0
    bar_mm: float = 15.0
    spoke_mm: float = 18.0
    planets: int = 1
    torque_n_mm: float = 200.0
    radius_mm: float = 240.0
    track_mm: float = 144.0
    offset_mm: float = 0.0
    choice: int = 0
    gear: int = 1
    span_mm: float = 100.0


@dataclass(frozen=True)
class Motion:
    """How far all has moved.

    ``carrier``, ``left`` and ``right`` are turns, of a mechanism that slides mm; ``more`` is
    whatever else a lesson moves. ``slipped`` tells that nothing is driven any more, ``stalled``
    that it cannot turn now. ``way_mm`` is how far the middle of the axle has gone.
    """

    carrier: float = 0.0
    left: float = 0.0
    right: float = 0.0
    more: float = 0.0
    slipped: bool = False
    stalled: bool = False
    way_mm: float = 0.0


@dataclass(frozen=True, eq=False)
class Body:
    """One moving shape: how it is drawn, and whether a drag on it turns the mechanism."""

    id: str
    mesh: Mesh
    role: str = "idle"
    driven: bool = False


@dataclass(frozen=True)
class Label:
    """Words at a place of the picture, mm in the frame."""

    words: str
    at: tuple[float, float, float]


@dataclass(frozen=True, eq=False)
class Mechanism:
    """Bodies in an order, and words that name them."""

    bodies: tuple[Body, ...]
    labels: tuple[Label, ...] = field(default=())
