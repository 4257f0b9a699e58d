"""The gate: where the knob goes for each gear, how far, and with what force.

The finger moves with the knob where the lever's pivot is below both, and against it where the
pivot is between them. Every sleeve has a rail of its own.
"""

from dataclasses import dataclass
from math import atan, degrees, isfinite, radians, tan
from typing import Literal

from mild_badger.core.figures import in_mm, in_n
from mild_badger.core.message import say, say_count
from mild_badger.core.vehicle.box import Face
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.shifting import Lever, Side
from mild_badger.core.vehicle.sleeves import column_of, rail_of, rail_title

__all__ = [
    "DetentForce",
    "Gate",
    "GatePlace",
    "describe_gate",
    "detent_force",
    "forward_face",
    "gates",
    "left_rail",
]

TOO_LOOSE_N, TOO_STIFF_N = 0.3, 8.0
"""Forces at the knob between which a model's lever feels right (common practice, no source)."""


@dataclass(frozen=True)
class GatePlace:
    """A gear's place as the gate is drawn: x to the right, y upwards, neutral in the middle.

    In mm of the knob's travel; ``rail`` counts from 0, ``knob`` is where the knob goes. ``gears``
    are the ids of those that it engages, ``label`` what they are called.
    """

    gears: tuple[str, ...]
    label: str
    reverse: bool
    sleeve: str
    rail: int
    knob: Literal["forward", "rear"]
    x_mm: float
    y_mm: float


@dataclass(frozen=True)
class Gate:
    """One lever's gate.

    ``along`` is the direction of the rails on the drawing, "vertical" seen from the seat;
    ``neutral`` holds for every rail where its neutral lies.
    """

    name: str
    places: tuple[GatePlace, ...]
    along: Literal["vertical", "horizontal"]
    neutral: tuple[tuple[float, float], ...]
    knob_travel_mm: float
    knob_across_mm: float

    @property
    def plungers(self) -> int:
        """Interlock plungers: one between each two rails keeps all but one rail in neutral."""
        return max(len(self.neutral) - 1, 0)


@dataclass(frozen=True)
class DetentForce:
    """Force to leave a notch, along the rail and at the knob; None where it locks itself.

    ``steepest_deg`` is the flank angle from which the notch is self-locking.
    """

    fork_n: float | None
    knob_n: float | None
    steepest_deg: float

    @property
    def feel(self) -> Literal["locks", "too stiff", "too loose", "good"]:
        """Judge the force at the knob."""
        if self.knob_n is None:
            return "locks"
        if self.knob_n > TOO_STIFF_N:
            return "too stiff"
        return "too loose" if self.knob_n < TOO_LOOSE_N else "good"


def gates(vehicle: Vehicle) -> tuple[Gate, ...]:
    """Lay out the gate, or the two of a range × splitter box, as seen from where the lever says."""
    lever = vehicle.lever
    held: dict[str, list[tuple[str, str, str]]] = {}
    for gear in vehicle.real.gears:
        if vehicle.box.ready(gear.id):
            for sleeve, face in vehicle.box.engaged(gear.id).items():
                held.setdefault(rail_of(sleeve), []).append((gear.id, sleeve, face))
    return tuple(_gate(vehicle, lever, kind, places) for kind, places in held.items())


def forward_face(vehicle: Vehicle) -> Face:
    """Tell which face of a sleeve the knob engages when it is pushed forwards.

    Front is the box's input end, wherever that lies in the vehicle.
    """
    ahead: Face = "front" if vehicle.shifting.box_faces == "rear" else "back"
    behind: Face = "back" if ahead == "front" else "front"
    return ahead if vehicle.lever.pivot == "below" else behind


def left_rail(vehicle: Vehicle) -> Side:
    """Tell on which side the first rail must lie for the knob to go left to it."""
    return "left" if vehicle.lever.pivot == "below" else "right"


def _gate(vehicle: Vehicle, lever: Lever, kind: str, held: list[tuple[str, str, str]]) -> Gate:
    gain = lever.arm_above_mm / lever.arm_below_mm
    travel, across = lever.fork_travel_mm * gain, lever.rail_pitch_mm * gain
    sleeves = sorted({sleeve for _, sleeve, _ in held}, key=column_of)
    shared: dict[tuple[str, str], list[str]] = {}
    for gear, sleeve, face in held:
        shared.setdefault((sleeve, face), []).append(gear)
    # across the rails the finger moves with or against the knob as it does along them
    side = (1 if lever.first_rail == "left" else -1) * (1 if lever.pivot == "below" else -1)
    right = {
        sleeve: side * across * (rail - (len(sleeves) - 1) / 2)
        for rail, sleeve in enumerate(sleeves)
    }
    places = []
    for (sleeve, face), gears in shared.items():
        knob: Literal["forward", "rear"] = "forward" if face == forward_face(vehicle) else "rear"
        ahead = travel if knob == "forward" else -travel
        x, y = _seen(lever.seen_from, right[sleeve], ahead)
        places.append(
            GatePlace(
                gears=tuple(gears),
                label=vehicle.gear_names(gears),
                reverse=all((g := vehicle.gear(name)) is not None and g.reverse for name in gears),
                sleeve=sleeve,
                rail=sleeves.index(sleeve),
                knob=knob,
                x_mm=x,
                y_mm=y,
            )
        )
    return Gate(
        name=rail_title(kind, "gate"),
        places=tuple(places),
        along="vertical" if lever.seen_from == "seat" else "horizontal",
        neutral=tuple(_seen(lever.seen_from, right[sleeve], 0.0) for sleeve in sleeves),
        knob_travel_mm=travel,
        knob_across_mm=across,
    )


def _seen(seen_from: str, right: float, ahead: float) -> tuple[float, float]:
    """Turn the knob's place (right, ahead) to the drawing's x and y, as an onlooker sees it.

    From the left side the front lies on the left and what is to the right is farther off, drawn
    higher; from the right side it is the other way round.
    """
    if seen_from == "left":
        return -ahead, right
    if seen_from == "right":
        return ahead, -right
    return right, ahead


def detent_force(lever: Lever) -> DetentForce:
    """Work out the force to leave a notch: F = F_spring (tan θ + μ) / (1 − μ tan θ).

    θ is the flank's angle from the rail's axis; where μ tan θ ≥ 1 the notch locks itself
    (domain.md §6). At the knob it is smaller by the arms.
    """
    slope, friction = tan(radians(lever.detent_flank_deg)), lever.detent_friction
    steepest = 90.0 if friction == 0 else degrees(atan(1 / friction))
    if friction * slope >= 1 or not isfinite(slope):
        return DetentForce(None, None, steepest)
    fork = lever.detent_spring_n * (slope + friction) / (1 - friction * slope)
    return DetentForce(fork, fork * lever.arm_below_mm / lever.arm_above_mm, steepest)


def describe_gate(vehicle: Vehicle) -> str:
    """Say how far the knob goes, what guards the gate, and how it feels."""
    lines = gates(vehicle)
    if not lines:
        return ""
    lever, gate = vehicle.lever, lines[0]
    parts = [
        say(
            "shift.the-knob-travels-into-a-gear-and-from-rail",
            knob_travel_mm=in_mm(gate.knob_travel_mm, 1),
            knob_across_mm=in_mm(gate.knob_across_mm, 1),
            word=say("shift.with") if lever.pivot == "below" else say("shift.against"),
        )
    ]
    plungers = sum(g.plungers for g in lines)
    if plungers and not lever.plungers:
        parts.append(say("shift.without-interlock-plungers-two-gears-can-be"))
    elif plungers:
        parts.append(
            say(
                "shift.between-the-rails-all-but-one-in-neutral",
                interlock_plunger=say_count("count.interlock-plunger", plungers),
                keeps=say_count("noun.keeps", plungers),
            )
        )
    turned = [place for g in lines for place in g.places if place.reverse]
    if turned:
        parts.append(
            {
                "none": say("shift.nothing-guards-reverse"),
                "lift": say("shift.reverse-is-behind-a-lift"),
                "side spring": say("shift.reverse-is-behind-a-side-spring"),
            }[lever.reverse_guard]
        )
    force = detent_force(lever)
    if force.fork_n is None or force.knob_n is None:
        parts.append(
            say(
                "shift.the-detent-angle-is-too-steep-to-be-pushed-2",
                steepest_deg=force.steepest_deg,
            )
        )
    else:
        feel = {"good": say("shift.which-suits-a-model")}.get(force.feel, force.feel)
        parts.append(
            say(
                "shift.notches-are-apart-and-deep-pushing-out-of-a",
                fork_travel_mm=in_mm(lever.fork_travel_mm),
                detent_depth_mm=in_mm(lever.detent_depth_mm),
                fork_n=in_n(force.fork_n, 1),
                knob_n=in_n(force.knob_n, 1),
                feel=feel,
            )
        )
    return " ".join(parts)
