"""Loads on the bearings of a shaft, and whether a bearing of wood, brick or metal serves.

Friction torque T = μ F d / 2; of rolling bearings with the makers' usual constant coefficient.
"""

from dataclasses import dataclass
from math import pi

from mild_badger.core.figures import in_mm_s
from mild_badger.core.mechanisms.crane.model import BearingKind, Carried
from mild_badger.core.message import say
from mild_badger.core.vehicle.kit import Kit

__all__ = [
    "BEARING_KINDS",
    "BearingLoad",
    "BearingVerdict",
    "bearing_loads",
    "judge_bearing",
    "rubbing_n_mm",
    "usual_bearing",
]


@dataclass(frozen=True)
class _Kind:
    """What a kind of bearing stands: friction, pressure N/mm², rubbing speed mm/s."""

    mu: float
    pressure: float
    rubbing: float
    words: str


BEARING_KINDS: dict[BearingKind, _Kind] = {
    "wood": _Kind(0.25, 0.7, 500.0, say("bearings.hole-in-hard-wood-waxed")),
    "brick": _Kind(0.20, 0.5, 400.0, say("bearings.hole-in-a-moulded-brick")),
    "metal": _Kind(0.0015, 20.0, 20_000.0, say("bearings.ball-bearing")),
}
"""Estimates, no source; the ball bearing's μ is the makers' usual for deep groove ones."""


def rubbing_n_mm(mu: float, load_n: float, across_mm: float) -> float:
    """Give the torque that a bearing takes, or a collar (Shigley, equation 8-6): μ F d / 2."""
    return mu * load_n * across_mm / 2


def usual_bearing(kit: Kit) -> BearingKind:
    """Give what shafts of a kit's material run in; printed ones in ball bearings."""
    usual: dict[str, BearingKind] = {"brick": "brick", "wood": "wood"}
    return usual.get(kit.kind, "metal")


WORTH_PERCENT = 15.0
"""A bearing that takes more of its shaft's torque is worth changing (common practice)."""


@dataclass(frozen=True)
class BearingLoad:
    """One bearing: what bears on it (N), the shaft in it, how fast that turns."""

    place: str
    load_n: float
    shaft_mm: float
    long_mm: float
    rpm: float

    @property
    def pressure(self) -> float:
        """Load by the shaft's shadow, N/mm²."""
        return self.load_n / (self.shaft_mm * self.long_mm)

    @property
    def rubbing(self) -> float:
        """Speed of the shaft's skin, mm/s."""
        return pi * self.shaft_mm * self.rpm / 60

    def friction_n_mm(self, kind: BearingKind) -> float:
        """Give what a kind of bearing takes of the torque."""
        return rubbing_n_mm(BEARING_KINDS[kind].mu, self.load_n, self.shaft_mm)


@dataclass(frozen=True)
class BearingVerdict:
    """Whether a kind serves, what it takes, and why not, in full and in brief; "" where it does."""

    kind: BearingKind
    friction_n_mm: float
    share_percent: float
    why: str
    brief: str = ""

    @property
    def serves(self) -> bool:
        """Whether nothing speaks against it."""
        return not self.why


def bearing_loads(
    carried: Carried, *, load_n: float, gear_n: float, rpm: float
) -> tuple[BearingLoad, BearingLoad]:
    """Give both bearings of a shaft by its moments; both pushes are taken to add (worst case)."""
    span = carried.span_mm
    second = (load_n * carried.load_at_mm / span, gear_n * carried.gear_at_mm / span)
    first = (load_n - second[0], gear_n - second[1])

    def one(place: str, pushes: tuple[float, float]) -> BearingLoad:
        load = abs(pushes[0]) + abs(pushes[1])
        return BearingLoad(place, load, carried.shaft_mm, carried.long_mm, abs(rpm))

    return one(say("bearings.first-bearing"), first), one(say("bearings.second-bearing"), second)


def judge_bearing(load: BearingLoad, kind: BearingKind, torque_n_mm: float) -> BearingVerdict:
    """Hold a bearing against what its kind stands; ``torque_n_mm`` is what the shaft passes on."""
    limit = BEARING_KINDS[kind]
    friction = load.friction_n_mm(kind)
    share = 100 * friction / torque_n_mm if torque_n_mm else 0.0
    why = brief = ""
    if load.pressure > limit.pressure:
        why = say(
            "bearings.n-mm-on-it-it-stands", pressure=load.pressure, pressure_2=limit.pressure
        )
        brief = say("bearings.n-mm", pressure=load.pressure)
    elif load.rubbing > limit.rubbing:
        why = say(
            "bearings.it-rubs-at-are-enough",
            rubbing=in_mm_s(load.rubbing, 0),
            rubbing_2=limit.rubbing,
        )
        brief = in_mm_s(load.rubbing, 0)
    elif share > WORTH_PERCENT:
        why = say(
            "bearings.it-takes-of-the-torque-are-enough", share=share, worth_percent=WORTH_PERCENT
        )
        brief = say("bearings.of-torque", share=share)
    return BearingVerdict(kind, friction, share, why, brief)
