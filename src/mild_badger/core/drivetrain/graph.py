"""The drivetrain as a graph: rotating bodies, and the linear equations that couple their speeds.

Every body turns about an oriented axis; its speed is signed about that axis by the right-hand
rule. Vehicle axes after ISO 8855: x forward, y left, z up; the box's axis runs from its input to
its output, an axle's axis to the left, so that a wheel with positive speed rolls forwards.
"""

from dataclasses import dataclass, field, replace
from enum import StrEnum
from fractions import Fraction
from typing import Literal

from mild_badger.core.errors import GraphError
from mild_badger.core.message import say

__all__ = [
    "Body",
    "Coupling",
    "Drivetrain",
    "Equation",
    "OneWay",
    "belt",
    "bevel_differential",
    "bevel_pair",
    "clutch",
    "dog",
    "external_mesh",
    "fixed",
    "held",
    "internal_mesh",
    "planet",
    "planetary",
    "rack_mesh",
    "ratchets",
    "same_speed",
    "sliding_mesh",
    "slipping",
    "speed_ratio",
    "worm_pair",
]


@dataclass(frozen=True)
class Body:
    """Something that turns as one, or a rack that slides.

    ``teeth`` is None for shafts, housings and wheels. A rack's speed counts teeth, π·m mm each, so
    that it stays exact. ``role`` says what a lettered shaft is, where that is wanted by itself.
    """

    id: str
    name: str
    kind: Literal["shaft", "gear", "housing", "wheel", "rack"]
    teeth: int | None = None
    role: str = ""


class Coupling(StrEnum):
    """What joins bodies; a mesh is where teeth carry the power and lose some of it."""

    FIXED = "fixed"
    MESH = "mesh"
    BEVEL = "bevel"
    DOG = "dog"
    DIFFERENTIAL = "differential"
    WORM = "worm"
    BELT = "belt"
    RACK = "rack"
    CLUTCH = "clutch"
    ONE_WAY = "one-way clutch"
    ROAD = "road"
    LOCK = "lock"

    @property
    def has_teeth(self) -> bool:
        """Whether power loses its share here."""
        return self in (
            Coupling.MESH,
            Coupling.BEVEL,
            Coupling.WORM,
            Coupling.BELT,
            Coupling.RACK,
        )


@dataclass(frozen=True)
class Equation:
    """A coupling: Σ coefficient × speed = 0.

    A dog, a sliding gear's mesh or a clutch has the sleeve, slider or lever and the position in
    which it is closed; others always hold.
    ``back_drivable`` is False for a self-locking worm, whose wheel cannot turn it.
    ``efficiency`` is the share of the power that passes it where that is its own, as a worm's is.
    ``meshes`` are those
    that a differential's power passes from one of its two ends to the other with the third body,
    the carrier, held; the carrier stands last in ``terms``.
    """

    id: str
    kind: Coupling
    terms: tuple[tuple[str, Fraction], ...]
    sleeve: str | None = None
    position: str | None = None
    back_drivable: bool = True
    efficiency: float | None = None
    meshes: int = 1
    step: tuple[int, int] = field(init=False, repr=False, compare=False, default=(0, 1))
    """For two bodies: n_second = step[0] / step[1] × n_first, in lowest terms."""
    bodies: tuple[str, ...] = field(init=False, repr=False, compare=False, default=())
    """The bodies it couples."""
    floats: tuple[tuple[str, float], ...] = field(init=False, repr=False, compare=False, default=())
    """Its terms in floating point, for torques."""

    def __post_init__(self) -> None:
        if len(self.terms) == 2:
            ratio = -self.terms[0][1] / self.terms[1][1]
            object.__setattr__(self, "step", (ratio.numerator, ratio.denominator))
        object.__setattr__(self, "bodies", tuple(body for body, _ in self.terms))
        object.__setattr__(self, "floats", tuple((body, float(c)) for body, c in self.terms))

    def holds(self, sleeves: dict[str, str]) -> bool:
        """Whether it is in force with the sleeves in these positions."""
        return self.sleeve is None or sleeves.get(self.sleeve) == self.position


@dataclass(frozen=True)
class OneWay:
    """A one-way clutch: the driven body may run ahead of the driver in the sense, never behind.

    ``sense`` is +1 or −1 about the axis that both share: sense × (n_driven − n_driver) ≥ 0.
    """

    id: str
    driver: str
    driven: str
    sense: Literal[1, -1] = 1

    @property
    def closed(self) -> Equation:
        """The coupling while it carries."""
        terms = ((self.driver, Fraction(1)), (self.driven, Fraction(-1)))
        return Equation(self.id, Coupling.ONE_WAY, terms)


@dataclass(frozen=True)
class Drivetrain:
    """Bodies and equations, and which body is the motor's.

    ``one_ways`` are the one-way clutches, which hold or not as the speeds have it. ``index`` finds
    a body by its id, ``touching`` the equations that couple it.

    Raises
    ------
    GraphError
        Two bodies share an id, or an equation names a body that is not there.
    """

    bodies: tuple[Body, ...]
    equations: tuple[Equation, ...]
    source: str
    one_ways: tuple[OneWay, ...] = ()
    index: dict[str, Body] = field(init=False, repr=False, compare=False)
    touching: dict[str, tuple[Equation, ...]] = field(init=False, repr=False, compare=False)

    def __post_init__(self) -> None:
        index = {body.id: body for body in self.bodies}
        if len(index) < len(self.bodies):
            raise GraphError(say("drivetrain.two-bodies-of-the-drivetrain-share-a-name"))
        touching: dict[str, list[Equation]] = {body.id: [] for body in self.bodies}
        for equation in self.equations:
            for body in equation.bodies:
                if body not in index:
                    raise GraphError(
                        say("drivetrain.couples-which-is-not-there-2", id=equation.id, body=body)
                    )
                touching[body].append(equation)
        for clutch in self.one_ways:
            for body in (clutch.driver, clutch.driven):
                if body not in index:
                    raise GraphError(
                        say("drivetrain.couples-which-is-not-there-2", id=clutch.id, body=body)
                    )
        if self.source not in index:
            raise GraphError(
                say("drivetrain.the-motor-drives-which-is-not-there-2", source=self.source)
            )
        object.__setattr__(self, "index", index)
        object.__setattr__(
            self, "touching", {b: tuple(equations) for b, equations in touching.items()}
        )


def fixed(one: str, other: str) -> Equation:
    """Join a gear and its shaft, or two shafts: n_a = n_b."""
    return Equation(f"{one}={other}", Coupling.FIXED, ((one, Fraction(1)), (other, Fraction(-1))))


def external_mesh(one: str, other: str, teeth: tuple[int, int]) -> Equation:
    """Mesh two gears on parallel axes: z_a n_a + z_b n_b = 0."""
    terms = ((one, Fraction(teeth[0])), (other, Fraction(teeth[1])))
    return Equation(f"{one}~{other}", Coupling.MESH, terms)


def sliding_mesh(
    one: str, slider: str, teeth: tuple[int, int], *, sleeve: str, position: str
) -> Equation:
    """Mesh a gear with one that slides into it, while the slider is in a position."""
    terms = ((one, Fraction(teeth[0])), (slider, Fraction(teeth[1])))
    return Equation(f"{sleeve}:{position}", Coupling.MESH, terms, sleeve, position)


def internal_mesh(one: str, ring: str, teeth: tuple[int, int]) -> Equation:
    """Mesh a gear with an internal ring on a parallel axis: z_a n_a − z_b n_b = 0."""
    terms = ((one, Fraction(teeth[0])), (ring, Fraction(-teeth[1])))
    return Equation(f"{one}⊂{ring}", Coupling.MESH, terms)


def belt(one: str, other: str, teeth: tuple[int, int]) -> Equation:
    """Join two wheels by a toothed belt or a chain: both turn alike, z_a n_a − z_b n_b = 0."""
    terms = ((one, Fraction(teeth[0])), (other, Fraction(-teeth[1])))
    return Equation(f"{one}∞{other}", Coupling.BELT, terms)


def rack_mesh(pinion: str, rack: str, teeth: int, *, sign: Literal[1, -1] = 1) -> Equation:
    """Mesh a pinion with a rack: v_rack = sign × z × n_pinion, in teeth.

    ``sign`` follows from the side on which the rack lies, as its way and the axis are oriented; a
    tooth is π·m mm long.
    """
    terms = ((pinion, Fraction(-sign * teeth)), (rack, Fraction(1)))
    return Equation(f"{pinion}_{rack}", Coupling.RACK, terms)


def worm_pair(
    worm: str,
    wheel: str,
    *,
    starts: int,
    teeth: int,
    sign: Literal[1, -1],
    back_drivable: bool,
    efficiency: float | None = None,
) -> Equation:
    """Mesh a worm with its wheel: n_wheel = sign × starts / teeth × n_worm.

    ``sign`` follows from the worm's hand and the side on which it sits, as the two axes are
    oriented; ``back_drivable`` from the lead angle against the friction: tan γ > μ / cos α_n
    (common practice, no source), else the worm is self-locking. ``efficiency`` is its own, else a
    worm loses what every mesh loses.
    """
    terms = ((worm, Fraction(-sign * starts)), (wheel, Fraction(teeth)))
    return Equation(
        f"{worm}§{wheel}", Coupling.WORM, terms, back_drivable=back_drivable, efficiency=efficiency
    )


def planetary(sun: str, ring: str, carrier: str, teeth: tuple[int, int]) -> Equation:
    """Couple a planetary set: z_s n_s + z_r n_r = (z_s + z_r) n_c (Willis)."""
    sun_teeth, ring_teeth = teeth
    terms = (
        (sun, Fraction(sun_teeth)),
        (ring, Fraction(ring_teeth)),
        (carrier, Fraction(-sun_teeth - ring_teeth)),
    )
    return Equation(f"planetary:{carrier}", Coupling.DIFFERENTIAL, terms, meshes=2)


def planet(sun: str, wheel: str, carrier: str, teeth: tuple[int, int]) -> Equation:
    """Couple a planet that a carrier takes round with its sun: z_s (n_s − n_c) + z_p (n_p − n_c).

    The sum is zero; the planet's speed is absolute.
    """
    sun_teeth, planet_teeth = teeth
    terms = (
        (sun, Fraction(sun_teeth)),
        (wheel, Fraction(planet_teeth)),
        (carrier, Fraction(-sun_teeth - planet_teeth)),
    )
    return Equation(f"planet:{wheel}", Coupling.DIFFERENTIAL, terms)


def clutch(one: str, other: str, *, lever: str) -> Equation:
    """Couple two bodies by a friction clutch while its lever is "closed"."""
    terms = ((one, Fraction(1)), (other, Fraction(-1)))
    return Equation(f"{lever}:closed", Coupling.CLUTCH, terms, lever, "closed")


def slipping(closed: Equation) -> Equation:
    """Give a clutch as it slips: it passes torque while its bodies turn as they like.

    To be handed to ``power_flow``; for the speeds a clutch that slips is open.
    """
    return replace(closed, id=f"{closed.id}, slipping", sleeve=None, position=None)


def bevel_pair(
    pinion: str, crown: str, teeth: tuple[int, int], *, crown_side: Literal["left", "right"]
) -> Equation:
    """Mesh a bevel pinion with a crown wheel on the axle.

    With the crown on the left of a pinion whose axis points from the box to the axle, the rim
    speeds at the point of contact agree for n_crown z_crown = + n_pinion z_pinion, whichever way
    the box faces; on the right the sign turns over (ω × r at the contact point, axes as above).
    """
    sign = -1 if crown_side == "left" else 1
    terms = ((pinion, Fraction(sign * teeth[0])), (crown, Fraction(teeth[1])))
    return Equation(f"{pinion}<{crown}", Coupling.BEVEL, terms)


def dog(free: str, shaft: str, *, sleeve: str, position: str) -> Equation:
    """Couple a free gear to its shaft while the sleeve is in a position."""
    terms = ((free, Fraction(1)), (shaft, Fraction(-1)))
    return Equation(f"{sleeve}:{position}", Coupling.DOG, terms, sleeve, position)


def bevel_differential(housing: str, left: str, right: str) -> Equation:
    """Couple two half-shafts and the housing: n_left + n_right = 2 n_housing (Willis, S = R)."""
    terms = ((left, Fraction(1)), (right, Fraction(1)), (housing, Fraction(-2)))
    return Equation(f"differential:{housing}", Coupling.DIFFERENTIAL, terms, meshes=2)


def same_speed(one: str, other: str, *, kind: Coupling) -> Equation:
    """Make two bodies turn alike, as a lock does, or the road on the straight."""
    return speed_ratio(one, other, Fraction(1), Fraction(1), kind=kind)


def speed_ratio(
    one: str, other: str, share_one: Fraction, share_other: Fraction, *, kind: Coupling
) -> Equation:
    """Make n_one : n_other = share_one : share_other; a body whose share is zero stands still."""
    every = ((one, share_other), (other, -share_one))
    terms = tuple((body, coefficient) for body, coefficient in every if coefficient)
    return Equation(f"{kind}:{one}:{other}", kind, terms)


def ratchets(
    throws: str,
    wheel: str,
    mean: Fraction,
    *,
    efficiency: float,
    sleeve: str | None = None,
    position: str | None = None,
) -> Equation:
    """Drive a wheel by ratchets at the mean of a turn: n_wheel = mean × n_throws.

    ``efficiency`` is what the joints leave of the work; ``sleeve`` and ``position`` are the
    fulcrum's.
    """
    terms = ((throws, -mean), (wheel, Fraction(1)))
    name = f"{throws}↻{wheel}" if position is None else f"{sleeve}:{position}"
    return Equation(name, Coupling.ONE_WAY, terms, sleeve, position, efficiency=efficiency)


def held(body: str) -> Equation:
    """Hold a body still."""
    return Equation(f"held:{body}", Coupling.ROAD, ((body, Fraction(1)),))
