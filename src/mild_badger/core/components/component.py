"""A part in space: its solid, its pose, what it turns and slides with.

The one frame is right-handed. As seen from the input end, x is to the right, y upwards and z
towards the eye, so that the box lies along −z. Places along the box are told as distances from the
front outer wall's outer face, ``along``, which is −z. Lengths mm; angles rad, anticlockwise as seen
from the input end, which is about +z.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property, lru_cache
from math import cos, hypot, pi, sin
from typing import Literal, NewType

import numpy as np
from numpy.typing import NDArray

from mild_badger.core.vehicle.cache_key import Same

__all__ = [
    "Component",
    "ComponentId",
    "ComponentKind",
    "Joint",
    "Outline",
    "Point",
    "Prism",
    "Travel",
    "along_to_z",
]

ComponentId = NewType("ComponentId", str)
"""What a part is known by: what it does or stands between, never a count of its like."""
ComponentKind = Literal[
    "wall",
    "tie rod",
    "tie beam",
    "shaft",
    "sensor disc",
    "gear",
    "sleeve",
    "hub",
    "fork",
    "rail",
    "spacer",
    "bearing",
    "post",
    "ratchet wheel",
    "pawl ring",
    "eccentric",
    "rod",
    "yoke",
    "lever arm",
    "pin",
    "pawl",
    "shift arm",
    "gate lever",
    "cradle",
    "lever stand",
    "catch",
    "catch rail",
    "fulcrum",
    "guide",
    "drum",
    "star",
    "detent arm",
    "follower",
    "coupling",
    "pinion",
    "crown",
    "differential",
    "half shaft",
    "joint yoke",
    "joint cross",
    "wheel",
    "clutch plate",
    "lining",
    "motor",
    "battery",
    "switch",
    "controller",
    "crank",
    "crank web",
    "piston",
    "slewing ring",
    "screw",
    "nut",
    "spool",
    "rack",
    "worm",
    "worm wheel",
    "frame rail",
    "floor",
    "steering rod",
    "steering arm",
    "kingpin",
    "steering pinion",
    "steering column",
    "steering wheel",
    "other",
]
Point = tuple[float, float]
Outline = tuple[Point, ...]
Travel = Mapping[str, float]
"""How far each shifter member stands from neutral along the box: − towards the input end."""


@dataclass(frozen=True)
class Prism:
    """A flat shape made solid along the box, about its component's own place.

    ``outlines`` are closed lines whose union is meant, ``holes`` what is left out of them.
    ``from_mm`` and ``to_mm`` are measured along the box from the component's ``along_mm``.
    """

    outlines: tuple[Outline, ...]
    from_mm: float
    to_mm: float
    holes: tuple[Outline, ...] = ()


@dataclass(frozen=True)
class Joint:
    """What turns a part through a universal joint.

    ``driver`` is the part before it; the angles say how the two forks lie as the parts are drawn,
    rad, each about its own part's axis from what that has to its right.
    """

    driver: ComponentId
    driver_fork_rad: float = 0.0
    own_fork_rad: float = pi / 2


@dataclass(frozen=True)
class Component:
    """One part.

    ``solid`` is the union of its prisms, turned by ``turn_rad`` about its place. ``bodies`` are
    what the drivetrain calls it, none for what never turns; gears that trains share have several.
    ``member`` is the sleeve that it slides with, "" for none. ``shaft`` carries it, ``wall`` is
    where a bearing sits. ``teeth`` is a gear's count. ``free`` tells of a gear that turns on its
    shaft until a sleeve couples it. A part ``across`` lies with its own length to the right instead
    of along the box, from ``x_mm`` on; ``lean_rad`` turns one as it then lies, as seen from the
    input end, and ``yaw_rad`` then about an upright line, anticlockwise as seen from above. A part
    of a ``knuckle`` is steered with the wheel of that side; one with a ``joint`` is turned by that
    part through a universal joint. ``cuts`` are taken out of its solid. ``box`` is what it belongs
    to beside the main box, "" for that one; ids are the parts' own in each of them. ``lever`` is
    the rail of the gate lever or catch that it is a part of, "" for none. ``name`` is what a
    bearing is bought as, of a mechanism's part what that is called.
    """

    id: ComponentId
    kind: ComponentKind
    solid: tuple[Prism, ...]
    x_mm: float
    y_mm: float
    along_mm: float
    turn_rad: float = 0.0
    bodies: tuple[str, ...] = ()
    member: str = ""
    shaft: str = ""
    wall: str = ""
    teeth: int = 0
    free: bool = False
    across: bool = False
    lean_rad: float = 0.0
    yaw_rad: float = 0.0
    knuckle: Literal["", "left", "right"] = ""
    joint: Joint | None = None
    cuts: tuple[Prism, ...] = ()
    box: str = ""
    name: str = ""
    lever: str = ""

    @property
    def key(self) -> str:
        """What it is known by among the parts of the whole vehicle."""
        return f"{self.box}/{self.id}" if self.box else str(self.id)

    @property
    def length_mm(self) -> float:
        """Its length along the box."""
        return self.to_mm - self.from_mm

    @cached_property
    def radius_mm(self) -> float:
        """How far it reaches from its own place, all about."""
        return max(_outer_mm(Same(o)) for prism in self.solid for o in prism.outlines)

    @cached_property
    def from_mm(self) -> float:
        """Where it begins along the box, in neutral."""
        if self.across:
            return self.along_mm - max(x for p in self.solid for o in p.outlines for x, _ in o)
        return self.along_mm + min(prism.from_mm for prism in self.solid)

    @cached_property
    def to_mm(self) -> float:
        """Where it ends along the box, in neutral."""
        if self.across:
            return self.along_mm - min(x for p in self.solid for o in p.outlines for x, _ in o)
        return self.along_mm + max(prism.to_mm for prism in self.solid)

    @cached_property
    def reach_mm(self) -> tuple[float, float, float, float]:
        """What it covers seen from the input end: left, low, right, high; a gear to its tips."""
        if self.kind == "gear":  # thousands of corners, and as wide whichever way it is turned
            x, y, radius = self.x_mm, self.y_mm, self.radius_mm
            return x - radius, y - radius, x + radius, y + radius
        c, s = cos(self.turn_rad), sin(self.turn_rad)
        sides = [_corners(Same(o)) for p in self.solid for o in p.outlines]
        ups = [x * s + y * c for x, y in sides]
        low = self.y_mm + float(min(up.min() for up in ups))
        high = self.y_mm + float(max(up.max() for up in ups))
        if self.across:
            left = self.x_mm + min(prism.from_mm for prism in self.solid)
            right = self.x_mm + max(prism.to_mm for prism in self.solid)
            return left, low, right, high
        overs = [x * c - y * s for x, y in sides]
        left = self.x_mm + float(min(over.min() for over in overs))
        return left, low, self.x_mm + float(max(over.max() for over in overs)), high

    def placed(self, outline: Outline) -> Outline:
        """Give an outline of its solid where it stands, as seen from the input end."""
        c, s = cos(self.turn_rad), sin(self.turn_rad)
        return tuple((self.x_mm + x * c - y * s, self.y_mm + x * s + y * c) for x, y in outline)

    def moved_mm(self, travel: Travel) -> float:
        """How far it stands along the box from where it is in neutral."""
        if not self.member:
            return 0.0
        return travel.get(f"{self.box}/{self.member}" if self.box else self.member, 0.0)


@lru_cache(maxsize=512)
def _corners(outline: Same[Outline]) -> NDArray[np.float64]:
    """Give an outline's corners, all to the right and all upwards."""
    return np.array(outline.it).T


@lru_cache(maxsize=512)
def _outer_mm(outline: Same[Outline]) -> float:
    return max(hypot(x, y) for x, y in outline.it)


def along_to_z(along_mm: float) -> float:
    """Give the frame's z for a place along the box."""
    return -along_mm
